package people

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// How long a link waits: for somebody who is asked to come, and for who forgot the password.
const (
	toCome  = 72 * time.Hour
	toReset = 2 * time.Hour
)

// Entry is a link by which somebody sets a password. It is shown once.
type Entry struct {
	Person store.Person `json:"person"`
	Token  string       `json:"token"` // of the page /enter, after the #
	Link   string       `json:"link"`
	Code   string       `json:"code"` // the link as a picture, in base64
	EndsAt time.Time    `json:"ends_at"`
}

// MakeLink makes a link for somebody who never came, left, or forgot the password; one made
// before ends. Who left is of the crew again.
func MakeLink(ctx context.Context, a *barn.Act, in *barn.ByID) (Entry, error) {
	p, err := a.Store.Person(ctx, in.ID)
	if err != nil {
		return Entry{}, err
	}
	if p.LeftAt != nil {
		if err := a.Store.ReturnToCrew(ctx, a.Who.ID, p.ID); err != nil {
			return Entry{}, err
		}
		p.LeftAt, p.CameAt = nil, nil
	}
	return makeLink(ctx, a.Store, a.Now(), &a.Who.ID, p)
}

// LinkFor makes a link for somebody by the name they are called or sign in by: for the keeper
// of the machine.
func (d *Desk) LinkFor(ctx context.Context, name string) (e Entry, err error) {
	p, err := d.named(ctx, name)
	if err != nil {
		return e, err
	}
	err = d.barn.Store.InTx(ctx, func(tx *store.Store) error {
		e, err = makeLink(ctx, tx, d.barn.Now(), nil, p)
		return err
	})
	return e, err
}

func makeLink(ctx context.Context, s *store.Store, now time.Time, who *int64, p store.Person) (Entry, error) {
	ends := now.Add(toReset)
	if p.CameAt == nil {
		ends = now.Add(toCome)
	}
	token := rand.Text()
	if err := s.MakeEntryLink(ctx, who, p.ID, token, ends); err != nil {
		return Entry{}, err
	}
	made, err := s.Person(ctx, p.ID)
	return Entry{Person: made, Token: token, EndsAt: ends}, err
}

// Entering is who a link is for.
type Entering struct {
	Barn   string    `json:"barn"`
	Name   string    `json:"name"`
	SignIn string    `json:"sign_in"`
	New    bool      `json:"new"` // they come for the first time, and choose their sign-in name
	EndsAt time.Time `json:"ends_at"`
}

// EntryToken is what a link carries.
type EntryToken struct {
	Token string `json:"token" binding:"required,max=64"`
}

// EnterInput is what somebody who comes by a link chooses.
type EnterInput struct {
	Token    string `json:"token" binding:"required,max=64"`
	SignIn   string `json:"sign_in" binding:"max=60"` // of who comes for the first time
	Password string `json:"password" binding:"required,max=200"`
}

func ofLink(ctx context.Context, s *store.Store, token string, now time.Time) (store.EntryLink, store.Person, error) {
	link, err := s.EntryLinkBy(ctx, token, now)
	if errors.Is(err, store.ErrNotFound) {
		err = barn.RefuseAs(barn.NotThere, "This link is used up, or it has ended.", "Ask a pitmaster for a new one.")
	}
	if err != nil {
		return link, store.Person{}, err
	}
	p, err := s.Person(ctx, link.PersonID)
	return link, p, err
}

// LookAt says who a link is for.
func (d *Desk) LookAt(ctx context.Context, token string) (out Entering, err error) {
	house, err := d.barn.Store.Barn(ctx)
	if err != nil {
		return out, err
	}
	err = d.barn.Store.InTx(ctx, func(tx *store.Store) error {
		link, p, err := ofLink(ctx, tx, token, d.barn.Now())
		out = Entering{house.Name, p.Name, p.SignIn, p.CameAt == nil, link.EndsAt}
		return err
	})
	return out, err
}

// Enter uses a link: its person comes in with the name and password they chose.
func (d *Desk) Enter(ctx context.Context, in EnterInput) (p store.Person, err error) {
	err = d.barn.Store.InTx(ctx, func(tx *store.Store) error {
		link, who, err := ofLink(ctx, tx, in.Token, d.barn.Now())
		if err != nil {
			return err
		}
		name := who.SignIn
		if who.CameAt == nil {
			name = strings.TrimSpace(in.SignIn)
		}
		if name == "" {
			return fault.New("sign_in", "nothing is written", "choose the name you will sign in by")
		}
		hash, err := d.hashed(ctx, in.Password, who.Name, name)
		if err != nil {
			return err
		}
		err = tx.EnterBy(ctx, link, name, hash)
		if errors.Is(err, store.ErrConflict) {
			err = fault.New("sign_in", "somebody signs in by that name", "choose another one")
		}
		if err != nil {
			return err
		}
		p, err = tx.Person(ctx, who.ID)
		return err
	})
	return p, err
}

// named finds somebody by the name they sign in by, or are called.
func (d *Desk) named(ctx context.Context, name string) (store.Person, error) {
	all, err := d.barn.Store.Crew(ctx)
	if err != nil {
		return store.Person{}, err
	}
	for _, p := range all {
		if p.SignIn != "" && strings.EqualFold(p.SignIn, name) || strings.EqualFold(p.Name, name) {
			return p, nil
		}
	}
	return store.Person{}, fault.New("sign_in", "nobody of the crew goes by "+name, "whitebarn user lists who does")
}

// SetPassword gives somebody a new password, by the name they sign in by or are called: for
// the keeper of the machine.
func (d *Desk) SetPassword(ctx context.Context, name, password string) error {
	p, err := d.named(ctx, name)
	if err != nil {
		return err
	}
	if p.SignIn == "" {
		return barn.Refuse(p.Name+" never came, and has no name to sign in by.", "Make a link: whitebarn user link \""+p.Name+"\"")
	}
	hash, err := d.hashed(ctx, password, p.Name, p.SignIn)
	if err != nil {
		return err
	}
	return d.barn.Store.SetPassword(ctx, nil, p.ID, hash)
}
