// Package people keeps who works in the barn, and what the barn is.
package people

import (
	"context"
	"errors"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"

	"whitebarn/core/fault"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// SignIn is a name and a password.
type SignIn struct {
	SignIn   string `json:"sign_in" binding:"required,max=60"`
	Password string `json:"password" binding:"required,max=200"`
}

// FirstRun makes the barn and its pitmaster.
type FirstRun struct {
	Barn     string `json:"barn" binding:"required,max=60"`
	TimeZone string `json:"time_zone" binding:"required,max=60"`
	Name     string `json:"name" binding:"required,max=60"`
	SignIn   string `json:"sign_in" binding:"required,max=60"`
	Password string `json:"password" binding:"required,max=200"`
}

// NewPerson is an account to be made.
type NewPerson struct {
	Name     string     `json:"name" binding:"required,max=60"`
	Role     store.Role `json:"role" binding:"oneof=pitmaster crew"`
	SignIn   string     `json:"sign_in" binding:"required,max=60"`
	Password string     `json:"password" binding:"required,max=200"`
}

const leastPassword = 10

// Desk lets people in.
type Desk struct {
	barn   *barn.Barn
	cost   auth.Cost
	nobody func() string // the hash of a password that nobody has
}

// New returns the desk of a barn that hashes passwords at a cost.
func New(b *barn.Barn, c auth.Cost) *Desk {
	return &Desk{b, c, sync.OnceValue(func() string {
		hash, _ := auth.Hash("", c) // without one nobody is found out either
		return hash
	})}
}

// SignIn finds who goes by a name and a password.
func (d *Desk) SignIn(ctx context.Context, in SignIn) (store.Person, error) {
	p, err := d.barn.Store.PersonBySignIn(ctx, in.SignIn)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return p, err
	}
	if err != nil {
		p.PasswordHash = d.nobody() // of the same cost: how long it takes tells nothing of who there is
	}
	if matches := auth.Matches(in.Password, p.PasswordHash); err != nil || !matches {
		return p, barn.RefuseAs(barn.NotSignedIn, "Wrong name or password.", "Check both; a pitmaster can make a new account.")
	}
	return p, nil
}

// FirstRun makes the barn and its pitmaster.
func (d *Desk) FirstRun(ctx context.Context, in FirstRun) (store.Person, error) {
	var p store.Person
	taken := barn.Refuse("This barn has its pitmaster already.", "Sign in instead.")
	if err := CheckZone(in.TimeZone); err != nil {
		return p, err
	}
	// Before the password is hashed, which is dear: this door is open to all.
	if _, err := d.barn.Store.Barn(ctx); !errors.Is(err, store.ErrNotFound) {
		if err == nil {
			err = taken
		}
		return p, err
	}
	p, err := d.account(NewPerson{Name: in.Name, Role: store.Pitmaster, SignIn: in.SignIn, Password: in.Password})
	if err != nil {
		return p, err
	}
	p.ID, err = d.barn.Store.FirstRun(ctx, store.Barn{Name: strings.TrimSpace(in.Barn), TimeZone: in.TimeZone}, p)
	if errors.Is(err, store.ErrConflict) {
		err = taken
	}
	return p, err
}

// Add makes an account.
func (d *Desk) Add(ctx context.Context, in NewPerson) (store.Person, error) {
	p, err := d.account(in)
	if err != nil {
		return p, err
	}
	p.ID, err = d.barn.Store.AddPerson(ctx, p)
	if errors.Is(err, store.ErrConflict) {
		return p, fault.New("sign_in", "that name or sign-in is taken", "add a letter of the family name")
	}
	return p, err
}

// CheckZone refuses what is no place of a time zone.
func CheckZone(name string) error {
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		return fault.New("time_zone", "\""+name+"\" is not a time zone", "give a place like Europe/Oslo or America/New_York")
	}
	return nil
}

// account checks and hashes the password of a new account.
func (d *Desk) account(n NewPerson) (store.Person, error) {
	if len([]rune(n.Password)) < leastPassword {
		return store.Person{}, fault.New("password", "the password is too short", "use 10 letters or more; three words do well")
	}
	hash, err := auth.Hash(n.Password, d.cost)
	return store.Person{Name: strings.TrimSpace(n.Name), Role: n.Role, SignIn: strings.TrimSpace(n.SignIn), PasswordHash: hash}, err
}

// SetBarn says what the barn is.
func SetBarn(ctx context.Context, a *barn.Act, in *barn.Of[store.Barn]) (barn.None, error) {
	b := in.Body
	if strings.TrimSpace(b.Name) == "" {
		return barn.None{}, fault.New("name", "nothing is written", "give the barn a name")
	}
	if err := CheckZone(b.TimeZone); err != nil {
		return barn.None{}, err
	}
	if b.ElevationM < -430 || b.ElevationM > 5500 {
		return barn.None{}, fault.New("elevation_m", "nobody smokes meat at that height", "give metres above the sea, -430 to 5500")
	}
	return barn.None{}, a.Store.SetBarn(ctx, a.Who.ID, b)
}

// Person and Role are who works here, as requests are answered for.
type (
	Person = store.Person
	Barn   = store.Barn
)

// Pitmaster may do all.
const Pitmaster = store.Pitmaster

// List lists who works here.
func List(ctx context.Context, b *barn.Barn) ([]store.Person, error) { return b.Store.People(ctx) }

// Here reads the barn, nil before its first run, and who of its people has a number, nil
// if nobody has.
func (d *Desk) Here(ctx context.Context, id int64) (*store.Barn, *store.Person, error) {
	house, err := d.barn.Store.Barn(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil, nil
	}
	if err != nil || id == 0 {
		return &house, nil, err
	}
	p, err := d.barn.Store.Person(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		return &house, nil, nil
	}
	return &house, &p, err
}

// SignedIn is the person with a number, or refuses.
func (d *Desk) SignedIn(ctx context.Context, id int64) (store.Person, error) {
	p, err := d.barn.Store.Person(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		err = barn.RefuseAs(barn.NotSignedIn, "You are not signed in.", "Sign in and do it again; what you typed is still there.")
	}
	return p, err
}

// Sessions keeps who is signed in, beside the record; stop ends its upkeep.
func (d *Desk) Sessions() (rows scs.Store, stop func()) {
	s := d.barn.Store.Sessions()
	return s, s.StopCleanup
}

// SetPassword gives somebody a new password, by their sign-in name.
func (d *Desk) SetPassword(ctx context.Context, signIn, password string) error {
	p, err := d.barn.Store.PersonBySignIn(ctx, signIn)
	if errors.Is(err, store.ErrNotFound) {
		return fault.New("sign_in", "nobody signs in as "+signIn, "whitebarn user lists who does")
	}
	if err != nil {
		return err
	}
	with, err := d.account(NewPerson{Name: p.Name, Role: p.Role, SignIn: p.SignIn, Password: password})
	if err != nil {
		return err
	}
	return d.barn.Store.SetPassword(ctx, p.ID, with.PasswordHash)
}
