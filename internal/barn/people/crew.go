package people

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Member is somebody who is or was of the crew.
type Member struct {
	store.Person
	LinkUntil *time.Time `json:"link_until"` // of a link that waits for them; the pitmaster's to know
}

// Members lists who is and was of the crew. How others sign in is the pitmaster's to know.
func Members(ctx context.Context, b *barn.Barn, who store.Person) ([]Member, error) {
	all, err := b.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	links := map[int64]time.Time{}
	if who.Role == store.Pitmaster {
		if links, err = b.Store.OpenLinks(ctx, b.Now()); err != nil {
			return nil, err
		}
	}
	out := make([]Member, len(all))
	for i, p := range all {
		p.Units = store.OwnUnits{}
		if who.Role != store.Pitmaster && who.ID != p.ID {
			p.SignIn = ""
		}
		out[i] = Member{Person: p}
		if until, open := links[p.ID]; open {
			out[i].LinkUntil = &until
		}
	}
	return out, nil
}

// Place is what somebody is called, and what they may do.
type Place struct {
	Name   string        `json:"name" binding:"required,max=60"`
	Role   store.Role    `json:"role" binding:"oneof=pitmaster crew"`
	Trusts []store.Trust `json:"trusts" binding:"max=3,dive,oneof=arms pits pantry"` // of the crew; a pitmaster may do all
}

func (in Place) person() (store.Person, error) {
	p := store.Person{Name: strings.TrimSpace(in.Name), Role: in.Role, Trusts: []store.Trust{}}
	if p.Name == "" {
		return p, fault.New("name", "nothing is written", "say what they are called")
	}
	if in.Role == store.Crew {
		p.Trusts = slices.Compact(slices.Sorted(slices.Values(in.Trusts)))
	}
	return p, nil
}

func nameTaken(err error) error {
	if errors.Is(err, store.ErrConflict) {
		return fault.New("name", "somebody is called that already", "add a letter of the family name; who left comes back by their old name")
	}
	return err
}

// Invite has somebody be of the crew; they come by a link.
func Invite(ctx context.Context, a *barn.Act, in *barn.Of[Place]) (Entry, error) {
	p, err := in.Body.person()
	if err != nil {
		return Entry{}, err
	}
	if p.ID, err = a.Store.AddPerson(ctx, p); err != nil {
		return Entry{}, nameTaken(err)
	}
	return makeLink(ctx, a.Store, a.Now(), &a.Who.ID, p)
}

// SetPlace changes what somebody is called and may do.
func SetPlace(ctx context.Context, a *barn.Act, in *barn.With[Place]) (barn.None, error) {
	next, err := in.Body.person()
	if err != nil {
		return barn.None{}, err
	}
	next.ID = in.ID
	was, err := a.Store.Person(ctx, in.ID)
	if err != nil {
		return barn.None{}, err
	}
	if was.Role == store.Pitmaster && next.Role != store.Pitmaster {
		if err := notTheLast(ctx, a, was); err != nil {
			return barn.None{}, err
		}
	}
	return barn.None{}, nameTaken(a.Store.SetPerson(ctx, a.Who.ID, next))
}

// notTheLast refuses to leave the barn without a pitmaster.
func notTheLast(ctx context.Context, a *barn.Act, p store.Person) error {
	n, err := a.Store.Pitmasters(ctx)
	if err == nil && p.Role == store.Pitmaster && p.CameAt != nil && n < 2 {
		err = barn.Refuse(p.Name+" is the only pitmaster.", "Make somebody else one first, and have them sign in.")
	}
	return err
}

// Leave is why somebody leaves.
type Leave struct {
	Why string `json:"why" binding:"max=200"`
}

// Go ends what somebody may do: sessions, links, passkeys and scripts' tokens with it. Their
// name stays under all they did.
func Go(ctx context.Context, a *barn.Act, in *barn.With[Leave]) (barn.None, error) {
	p, err := a.Store.Person(ctx, in.ID)
	if err != nil {
		return barn.None{}, err
	}
	if p.LeftAt != nil {
		return barn.None{}, barn.Refuse(p.Name+" left before.", "They come back by a link.")
	}
	if err := notTheLast(ctx, a, p); err != nil {
		return barn.None{}, err
	}
	return barn.None{}, a.Store.LeaveCrew(ctx, a.Who.ID, in.ID, strings.TrimSpace(in.Body.Why))
}

// SignOutAll ends somebody's sessions on all devices.
func SignOutAll(ctx context.Context, a *barn.Act, in *barn.ByID) (barn.None, error) {
	if _, err := a.Store.Person(ctx, in.ID); err != nil {
		return barn.None{}, err
	}
	return barn.None{}, a.Store.SignOutAll(ctx, a.Who.ID, in.ID)
}

// Guests lists who wished to be known again at the table.
func Guests(ctx context.Context, b *barn.Barn) ([]store.KnownGuest, error) {
	return b.Store.KnownGuests(ctx)
}

// Forget lets a guest be known no longer. What they scored stays, under the name of that day.
func Forget(ctx context.Context, a *barn.Act, in *barn.ByID) (barn.None, error) {
	return barn.None{}, a.Store.ForgetGuest(ctx, in.ID)
}
