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

// MarkOf is what a device keeps on which somebody signed in.
func (d *Desk) MarkOf(ctx context.Context, person int64) (string, error) {
	house, err := d.barn.Store.Barn(ctx)
	return auth.DeviceToken(house.Secret, person), err
}

// Marked says whether a device's mark is of who goes by a name.
func (d *Desk) Marked(ctx context.Context, mark, signIn string) bool {
	house, err := d.barn.Store.Barn(ctx)
	if err != nil {
		return false
	}
	id, ok := auth.DeviceOf(house.Secret, mark)
	if !ok {
		return false
	}
	p, err := d.barn.Store.PersonBySignIn(ctx, strings.TrimSpace(signIn))
	return err == nil && p.ID == id
}

// FirstRun makes the barn and its pitmaster.
type FirstRun struct {
	Barn     string `json:"barn" binding:"required,max=60"`
	TimeZone string `json:"time_zone" binding:"required,max=60"`
	Name     string `json:"name" binding:"required,max=60"`
	SignIn   string `json:"sign_in" binding:"required,max=60"`
	Password string `json:"password" binding:"required,max=200"`
}

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
	p, err := d.barn.Store.PersonBySignIn(ctx, strings.TrimSpace(in.SignIn))
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return p, err
	}
	if err != nil || p.PasswordHash == "" {
		p.PasswordHash = d.nobody() // of the same cost: how long it takes tells nothing of who there is
	}
	if matches := auth.Matches(in.Password, p.PasswordHash); err != nil || !matches {
		return p, barn.RefuseAs(barn.NotSignedIn, "Wrong name or password.", "Check both. Who forgot theirs asks a pitmaster for a link.")
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
	hash, err := d.hashed(ctx, in.Password, in.Barn, in.Name, in.SignIn)
	if err != nil {
		return p, err
	}
	p = store.Person{Name: strings.TrimSpace(in.Name), Role: store.Pitmaster, SignIn: strings.TrimSpace(in.SignIn), PasswordHash: hash}
	if p.Name == "" || p.SignIn == "" {
		return p, fault.New("name", "nothing is written", "say what you are called, and the name you sign in by")
	}
	id, err := d.barn.Store.FirstRun(ctx, store.Barn{Name: strings.TrimSpace(in.Barn), TimeZone: in.TimeZone}, p)
	if errors.Is(err, store.ErrConflict) {
		err = taken
	}
	if err != nil {
		return p, err
	}
	return d.barn.Store.Person(ctx, id)
}

// CheckZone refuses what is no place of a time zone.
func CheckZone(name string) error {
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		return fault.New("time_zone", "\""+name+"\" is not a time zone", "give a place like Europe/Oslo or America/New_York")
	}
	return nil
}

// hashed checks a new password of somebody and hashes it.
func (d *Desk) hashed(ctx context.Context, password string, names ...string) (string, error) {
	if b, err := d.barn.Store.Barn(ctx); err == nil {
		names = append(names, b.Name)
	}
	if err := auth.CheckPassword(password, names...); err != nil {
		return "", err
	}
	return auth.Hash(password, d.cost)
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

// Person and the like are who works here, as requests are answered for.
type (
	Person  = store.Person
	Barn    = store.Barn
	Trust   = store.Trust
	Passkey = store.Passkey
)

// Pitmaster may do all; the rest is what he trusts others with.
const (
	Pitmaster = store.Pitmaster
	Arms      = store.TrustArms
	Pits      = store.TrustPits
	Pantry    = store.TrustPantry
)

// Session is what a session keeps of who it is: the person, and of which time of theirs it is.
type Session struct {
	Person int64
	Era    int64
}

// Begin is the session of somebody who comes in now.
func Begin(p Person) Session { return Session{p.ID, era(p)} }

// era changes whenever somebody is signed out everywhere.
func era(p Person) int64 {
	if p.SignedOutAt == nil {
		return 0
	}
	return p.SignedOutAt.UnixMicro()
}

// Of is whose a session is; ErrNotFound where it has ended.
func (d *Desk) Of(ctx context.Context, in Session) (Person, error) {
	if in.Person == 0 {
		return Person{}, store.ErrNotFound
	}
	p, err := d.barn.Store.Person(ctx, in.Person)
	if err == nil && (p.LeftAt != nil || era(p) != in.Era) {
		return Person{}, store.ErrNotFound
	}
	return p, err
}

// Here reads the barn, nil before its first run, and whose a session is, nil for nobody's.
func (d *Desk) Here(ctx context.Context, in Session) (*Barn, *Person, error) {
	house, err := d.barn.Store.Barn(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil, nil
	}
	if err != nil {
		return nil, nil, err
	}
	p, err := d.Of(ctx, in)
	if errors.Is(err, store.ErrNotFound) {
		return &house, nil, nil
	}
	return &house, &p, err
}

// SignedIn is whose a session is, or refuses.
func (d *Desk) SignedIn(ctx context.Context, in Session) (Person, error) {
	p, err := d.Of(ctx, in)
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
