package barn

import (
	"context"
	"strings"
	"time"

	"whitebarn/core/safety"
	"whitebarn/internal/store"
)

// Kind is what a change of a trial's record touches.
type Kind string

// The kinds of change, and when each may still be made.
const (
	// Design is what the verdict compares: the ask, cuts, arms, plans, seats, flights,
	// ballots. It is shut once the codes are open.
	Design Kind = "design"
	// Layout is which cut goes into which arm and place: drawing, moving, dividing, taking
	// out. It is shut like the design; once a cut is on the fire it needs the pitmaster and
	// a reason, which the verdict names.
	Layout Kind = "layout"
	// Record is what was seen and done: readings, weighings, notes, photos, and corrections.
	// It is taken at any time; after the reveal a correction needs a reason, and all of it
	// makes the verdict anew and is named there.
	Record Kind = "record"
	// Undo takes back what was done within ten minutes; what it may take back it asks for
	// itself.
	Undo Kind = "undo"
)

// Change is a change that somebody asks for.
type Change struct {
	TrialID  int64
	Kind     Kind
	Who      store.Person
	What     string // in a few words, for the verdict
	Why      string
	Corrects bool // something that was recorded before
	Lays     bool // it can bring a cut onto a pit run
	Beside   bool // it may be made while others of its kind are, as ballots of different tasters
}

// State is how far a trial is, as far as it decides what may still change.
type State struct {
	RevealedAt *time.Time
	Looked     bool // the codes of one of its cooks are open
	Lit        bool // a cut is, or was, on the fire
}

// Within makes a change of a trial's record: the trial is locked, the guard asked, and
// all is written, in one transaction. Changes of one trial follow each other, but for those
// that may stand beside others of their kind.
func Within(ctx context.Context, s *store.Store, c Change, write func(*store.Store, State) error) error {
	return s.InTx(ctx, func(tx *store.Store) error {
		revealed, looked, lit, err := tx.LockTrial(ctx, c.TrialID, c.Beside)
		if err != nil {
			return err
		}
		state := State{revealed, looked, lit}
		if err := state.May(c); err != nil {
			return err
		}
		if !c.Lays {
			err = write(tx, state)
		} else {
			err = keepingLevels(ctx, tx, c.TrialID, func() error { return write(tx, state) })
		}
		if err != nil {
			return err
		}
		switch {
		case c.Kind == Undo: // the record of changes has it
			return nil
		case state.RevealedAt != nil:
			return tx.NoteChange(ctx, c.Who.ID, c.TrialID, store.AfterReveal, c.What, c.Why)
		case c.Kind == Layout && state.Lit:
			return tx.NoteChange(ctx, c.Who.ID, c.TrialID, store.UnderFire, c.What, c.Why)
		}
		return nil
	})
}

// May refuses what cannot change any more. It is the one place that says so.
func (s State) May(c Change) error {
	switch {
	case c.Kind == Undo:
		return nil
	case s.RevealedAt != nil && c.Kind != Record:
		return Refuse("The codes are open, so this is shut.", "What was judged stays as it was judged. Follow on from it with a new question.")
	case c.Corrects:
		return s.MayCorrect(c.Why)
	case c.Kind == Layout && s.Lit:
		return s.MayMove(c.Who, c.Why)
	}
	return nil
}

// MayCorrect refuses to correct what was judged without a reason.
func (s State) MayCorrect(why string) error {
	if s.RevealedAt == nil || safety.CheckReason(why) == nil {
		return nil
	}
	return Refuse("The codes are open: a correction needs a reason.", "Say why in words, three letters or more. The verdict is read anew and names it.")
}

// MayMove refuses to move cuts between arms and places under the fire but by the
// pitmaster with a reason.
func (s State) MayMove(who store.Person, why string) error {
	switch {
	case !s.Lit:
		return nil
	case who.Role != store.Pitmaster:
		return Refuse("A cut is on the fire: what goes into which arm stays.", "Only the pitmaster can change it now, with a reason that the verdict names.")
	case safety.CheckReason(strings.TrimSpace(why)) != nil:
		return Refuse("A cut is on the fire: what goes into which arm stays.", "Say why it must change, in words of three letters or more. The verdict will name it.")
	}
	return nil
}
