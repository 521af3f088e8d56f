package table

import (
	"context"
	"crypto/sha256"
	"crypto/subtle"
	"errors"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// Caller is a phone at the table: the key it keeps, what it calls itself, where it comes from,
// and who is signed in on it, if anybody.
type Caller struct {
	Key     string
	Agent   string
	Address string
	Person  *store.Person
}

// KeyHash is what of a phone's key is kept.
func KeyHash(key string) []byte {
	sum := sha256.Sum256([]byte(key))
	return sum[:]
}

var notYours = barn.RefuseAs(barn.NotYours, "This plate is open on another phone.",
	"Ask the pitmaster to free it, if you changed phones.")

// Open opens a taster's page on the phone that asks, if it is on no other, and keeps where
// from. A carver opens no plate that they know the key of, but their own.
func Open(ctx context.Context, b *barn.Barn, t store.Taster, c Caller) (TasteView, error) {
	if err := mayOpen(ctx, b.Store, t, c); err != nil {
		return TasteView{}, err
	}
	phone, err := b.Store.PhoneOf(ctx, t.ID)
	if errors.Is(err, store.ErrNotFound) {
		err = b.Store.BindPhone(ctx, t.ID, store.Phone{KeyHash: KeyHash(c.Key), Agent: c.Agent, Address: c.Address})
		if errors.Is(err, store.ErrConflict) { // another was quicker
			phone, err = b.Store.PhoneOf(ctx, t.ID)
		} else if err == nil {
			return Plate(ctx, b, t)
		}
	}
	if err != nil {
		return TasteView{}, err
	}
	if !isPhone(phone, c) {
		return TasteView{}, notYours
	}
	return Plate(ctx, b, t)
}

func mayOpen(ctx context.Context, s *store.Store, t store.Taster, c Caller) error {
	if c.Person == nil || t.PersonID != nil && *t.PersonID == c.Person.ID {
		return nil
	}
	carves, err := s.CarvesFor(ctx, c.Person.ID, t.ID)
	if err == nil && carves {
		err = barn.RefuseAs(barn.NotYours, "You carve for "+t.Name+", so this plate is not yours to open.", "Let "+t.Name+" open it on their own phone.")
	}
	return err
}

// PhoneOf is the phone of a taster, if it is the one that asks.
func PhoneOf(ctx context.Context, b *barn.Barn, t store.Taster, c Caller) (id int64, err error) {
	if err := mayOpen(ctx, b.Store, t, c); err != nil {
		return 0, err
	}
	phone, err := b.Store.PhoneOf(ctx, t.ID)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return 0, barn.RefuseAs(barn.NotYours, "This plate is open on no phone.", "Open its page from the start: scan the code on the place card.")
	case err == nil && !isPhone(phone, c):
		return 0, notYours
	}
	return phone.ID, err
}

func freePhone(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	err := a.Store.FreePhone(ctx, a.Who.ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrNotFound) {
		return barn.Refuse("This page is open on no phone.", "Hand its link out.")
	}
	return err
}

// The letters of a door's code: none that is taken for another.
const doorLetters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"

const doorLength = 6

func openDoor(ctx context.Context, a *barn.Act, in *barn.ByID) error {
	code, err := auth.Letters(doorLetters, doorLength)
	if err != nil {
		return err
	}
	err = a.Store.OpenDoor(ctx, a.Who.ID, in.ID, code)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("Guests are let in already.", "Load the page again to see the code.")
	}
	return err
}

func shutDoor(ctx context.Context, a *barn.Act, in *barn.ByID) error {
	return a.Store.ShutDoor(ctx, in.ID)
}

// GuestDoor is a row of the record.
type GuestDoor = store.GuestDoor

// Doorway is what a guest reads before they sit down.
type Doorway struct {
	Product   string   `json:"product"`
	Allergens []string `json:"allergens"`
	Known     string   `json:"known"` // the name of a guest who is known again
}

// JoinInput seats a guest who came by a code.
type JoinInput struct {
	Code     string `json:"code" binding:"required,max=12"`
	Name     string `json:"name" binding:"required,max=40"`
	Stranger bool   `json:"stranger"` // not the one of the crew who has that name
	Consent  bool   `json:"consent"`  // read what is in it, and wants to taste
	Remember bool   `json:"remember"` // wishes to be known again on this phone
}

// Joined is where a guest goes on.
type Joined struct {
	Path string `json:"path"`
}

// Door finds the open door of a code, however it was typed; ok is false for a code that
// opens none. Whoever tries many of them is to be slowed down.
func Door(ctx context.Context, b *barn.Barn, code string) (d store.GuestDoor, ok bool, err error) {
	code = strings.ToUpper(strings.Join(strings.FieldsFunc(code, func(r rune) bool { return r == ' ' || r == '-' }), ""))
	d, err = b.Store.DoorBy(ctx, code)
	if errors.Is(err, store.ErrNotFound) {
		return d, false, barn.RefuseAs(barn.NotThere, "No table has this code.", "Check the six letters on the card, or ask who seats you.")
	}
	return d, true, err
}

// Welcome is what a guest reads at an open door.
func Welcome(ctx context.Context, b *barn.Barn, d store.GuestDoor, guestKey string) (w Doorway, err error) {
	t, err := b.Store.Trial(ctx, d.TrialID)
	if err != nil {
		return w, err
	}
	w = Doorway{Product: t.Ask.Product, Allergens: t.Ask.Allergens}
	g, err := b.Store.GuestBy(ctx, KeyHash(guestKey))
	if errors.Is(err, store.ErrNotFound) {
		return w, nil
	}
	w.Known = g.Name
	return w, err
}

// Join seats a guest and opens their page on the phone that asks.
func Join(ctx context.Context, b *barn.Barn, d store.GuestDoor, in JoinInput, c Caller, guestKey string) (out Joined, err error) {
	if !in.Consent {
		return out, fault.New("consent", "it is not said that you want to taste", "read what may be in it, and tick that you want to taste")
	}
	change := barn.Change{TrialID: d.TrialID, Kind: barn.Design}
	err = barn.Within(ctx, b.Store, change, func(s *store.Store, _ barn.State) error {
		t := store.NewTaster{TrialID: d.TrialID, Name: strings.TrimSpace(in.Name)}
		if c.Person != nil { // signed in: they are who they are
			t.PersonID, t.Name = &c.Person.ID, c.Person.Name
		} else if in.Remember {
			if t.GuestID, err = guest(ctx, s, t.Name, guestKey); err != nil {
				return err
			}
		}
		id, err := sitDown(ctx, s, d.OpenedBy, t, in.Stranger)
		if err != nil {
			return err
		}
		if err := s.BindPhone(ctx, id, store.Phone{KeyHash: KeyHash(c.Key), Agent: c.Agent, Address: c.Address}); err != nil {
			return err
		}
		if err := s.Consent(ctx, id); err != nil {
			return err
		}
		house, err := s.Barn(ctx)
		out.Path = trials.TastePath(house.Secret, id)
		return err
	})
	return out, err
}

// guest finds or keeps a guest who wishes to be known again.
func guest(ctx context.Context, s *store.Store, name, key string) (*int64, error) {
	g, err := s.GuestBy(ctx, KeyHash(key))
	if errors.Is(err, store.ErrNotFound) {
		g.ID, err = s.AddGuest(ctx, name, KeyHash(key))
	}
	return &g.ID, err
}

func isPhone(p store.Phone, c Caller) bool {
	return subtle.ConstantTimeCompare(p.KeyHash, KeyHash(c.Key)) == 1
}
