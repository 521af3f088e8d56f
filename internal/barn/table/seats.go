package table

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"unicode"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// SeatInput is somebody to be seated: of the crew by number, or a guest by name. A name that
// is that of somebody of the crew needs to be said to be a stranger's.
type SeatInput struct {
	Name     string `json:"name" binding:"max=40"`
	PersonID *int64 `json:"person_id"`
	Stranger bool   `json:"stranger"`
}

func addTaster(ctx context.Context, a *barn.Act, in *barn.With[SeatInput]) error {
	t := store.NewTaster{TrialID: in.ID, Name: strings.TrimSpace(in.Body.Name), PersonID: in.Body.PersonID}
	if t.PersonID != nil {
		p, err := a.Store.Person(ctx, *t.PersonID)
		if err != nil || p.LeftAt != nil {
			return fault.New("person_id", fmt.Sprintf("person %d is not of the crew", *t.PersonID), "choose somebody of the crew, or type a guest's name")
		}
		t.Name = p.Name
	}
	_, err := sitDown(ctx, a.Store, a.Who.ID, t, in.Body.Stranger)
	return err
}

// sitDown gives somebody a place at the table. It is the one place that does.
func sitDown(ctx context.Context, s *store.Store, who int64, t store.NewTaster, stranger bool) (id int64, err error) {
	if t.Name == "" {
		return 0, fault.New("name", "nobody is named", "type what they are called at the table")
	}
	if t.PersonID == nil && !stranger {
		people, err := s.Crew(ctx)
		if err != nil {
			return 0, err
		}
		for _, p := range people {
			if firstName(p.Name) == firstName(t.Name) {
				return 0, fault.New("stranger", fmt.Sprintf("%q may be %s of the crew", t.Name, p.Name), "seat "+p.Name+" of the crew, or say that it is somebody else")
			}
		}
	}
	id, err = s.AddTaster(ctx, who, t)
	if errors.Is(err, store.ErrConflict) {
		return 0, fault.New("name", fmt.Sprintf("%q sits at the table already", t.Name), "add a letter of the family name")
	}
	return id, err
}

// firstName is the first word of a name as it is heard: letters alone, small.
func firstName(name string) string {
	words := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) })
	if len(words) == 0 {
		return ""
	}
	return words[0]
}

func voidTaster(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	err := a.Store.VoidTaster(ctx, a.Who.ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("This taster has a plate already.", "Let them leave the flight instead: what they sealed stays.")
	}
	return err
}

// Taster is a row of the record.
type Taster = store.Taster

// Links are the ways onto the table that somebody may hand out.
type Links struct {
	Tasters []TasterLink `json:"tasters"`
	Door    string       `json:"door"` // the code by which guests seat themselves; empty is shut
}

// TasterLink is the path of a taster's own page.
type TasterLink struct {
	TasterID int64  `json:"taster_id"`
	Path     string `json:"path"`
}

// LinksOf are the links of a trial that somebody may see: their own, and of the others the
// pitmaster's until each is open on its taster's phone.
func LinksOf(ctx context.Context, b *barn.Barn, who store.Person, trialID int64) (out Links, err error) {
	if _, err := b.Store.Trial(ctx, trialID); err != nil {
		return out, err
	}
	house, err := b.Store.Barn(ctx)
	if err != nil {
		return out, err
	}
	tasters, err := b.Store.Tasters(ctx, trialID)
	if err != nil {
		return out, err
	}
	out.Tasters = []TasterLink{}
	for _, t := range tasters {
		if mayHand(who, t) {
			out.Tasters = append(out.Tasters, TasterLink{t.ID, trials.TastePath(house.Secret, t.ID)})
		}
	}
	door, err := b.Store.DoorOf(ctx, trialID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return out, err
	}
	out.Door = door.Code
	return out, nil
}

// mayHand says who may see a taster's link: the taster themselves, and the pitmaster until
// it is open on a phone.
func mayHand(who store.Person, t store.Taster) bool {
	return t.PersonID != nil && *t.PersonID == who.ID || who.Role == store.Pitmaster && !t.Bound
}

// TasterPath is the path of a taster's own page, for whoever may hand it out.
func TasterPath(ctx context.Context, b *barn.Barn, who store.Person, id int64) (string, error) {
	t, err := b.Store.Taster(ctx, id)
	if err != nil {
		return "", err
	}
	if !mayHand(who, t) {
		return "", barn.RefuseAs(barn.NotYours, "This page is its taster's alone.", "The pitmaster can free it for another phone.")
	}
	house, err := b.Store.Barn(ctx)
	return trials.TastePath(house.Secret, t.ID), err
}

// DoorPath is the path of the page on which guests seat themselves.
func DoorPath(ctx context.Context, b *barn.Barn, trialID int64) (string, error) {
	d, err := b.Store.DoorOf(ctx, trialID)
	if errors.Is(err, store.ErrNotFound) {
		return "", barn.RefuseAs(barn.NotThere, "No guests are let in.", "Let them in on the Table first.")
	}
	return "/join/" + d.Code, err
}
