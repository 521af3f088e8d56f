package barn

import (
	"context"
	"reflect"
	"strings"
	"time"

	"whitebarn/internal/store"
)

// Barn is what the use cases work on.
type Barn struct {
	Store *store.Store
	Now   func() time.Time
	// Judge reads the verdict of a trial anew after its record changed; nil does not.
	Judge func(ctx context.Context, trialID int64) error
}

// Act is a change of a trial's record while it is made.
type Act struct {
	Store   *store.Store // within the transaction
	Now     func() time.Time
	Who     store.Person
	TrialID int64
	State   State
}

// None is the input or the result of a use case that has none.
type None struct{}

// Subject is what the number of an input counts.
type Subject string

// The subjects of changes.
const (
	Trial         Subject = "trial"
	Cut           Subject = "cut"
	Cook          Subject = "cook"
	Weighing      Subject = "weighing"
	WeighedOut    Subject = "weigh out"
	Event         Subject = "event"
	Press         Subject = "press"
	Import        Subject = "import"
	Taster        Subject = "taster"
	Flight        Subject = "flight"
	Accepted      Subject = "accepted finding"
	PendingChange Subject = "pending change"
)

// Door is where a change of a trial's record comes in: what its input names, what it
// touches, and what a verdict calls it.
type Door struct {
	Of       Subject
	Kind     Kind
	What     string
	Corrects bool // something that was recorded before
	Lays     bool // it can bring a cut onto a pit run
	ByHand   bool // a person's own word, which no script gives
}

// Case is a use case that changes a trial's record. Make checks and writes; what it
// returns an error after is as if it had never been.
type Case[In, Out any] struct {
	Door
	Make func(context.Context, *Act, *In) (Out, error)
}

// Do finds the trial that an input is about, takes the guard, and makes the change, in
// one transaction.
func (c Case[In, Out]) Do(ctx context.Context, b *Barn, who store.Person, in *In) (trialID int64, out Out, err error) {
	if trialID, err = trialOf(ctx, b.Store, c.Of, in); err != nil {
		return 0, out, err
	}
	change := Change{TrialID: trialID, Kind: c.Kind, Who: who, What: c.What, Why: whyOf(in), Corrects: c.Corrects, Lays: c.Lays}
	judged := false
	trialID, out, err = once(ctx, b.Store, who, trialID, func(s *store.Store) (out Out, err error) {
		err = Within(ctx, s, change, func(tx *store.Store, state State) error {
			judged = state.RevealedAt != nil
			out, err = c.Make(ctx, &Act{Store: tx, Now: b.Now, Who: who, TrialID: trialID, State: state}, in)
			return err
		})
		return out, err
	})
	if err == nil && judged && (c.Kind == Record || c.Kind == Undo) && b.Judge != nil {
		err = b.Judge(ctx, trialID)
	}
	return trialID, out, err
}

// Writes is the case of a function that has no result.
func Writes[In any](d Door, f func(context.Context, *Act, *In) error) Case[In, None] {
	return Case[In, None]{d, func(ctx context.Context, a *Act, in *In) (None, error) { return None{}, f(ctx, a, in) }}
}

// Gives is the case of a function that has one.
func Gives[In, Out any](d Door, f func(context.Context, *Act, *In) (Out, error)) Case[In, Out] {
	return Case[In, Out]{d, f}
}

// Own makes a change of what is the barn's own and no trial's, in one transaction.
func Own[In, Out any](ctx context.Context, b *Barn, who store.Person, in *In, f func(context.Context, *Act, *In) (Out, error)) (out Out, err error) {
	_, out, err = once(ctx, b.Store, who, 0, func(s *store.Store) (out Out, err error) {
		err = s.InTx(ctx, func(tx *store.Store) error {
			out, err = f(ctx, &Act{Store: tx, Now: b.Now, Who: who}, in)
			return err
		})
		return out, err
	})
	return out, err
}

// trialOf finds the trial that an input is about.
func trialOf(ctx context.Context, s *store.Store, of Subject, in any) (int64, error) {
	switch v := in.(type) {
	case interface{ number() int64 }:
		if of == Trial {
			return v.number(), nil
		}
		return s.TrialOf(ctx, string(of), v.number())
	case interface{ press() string }:
		return s.TrialOfPress(ctx, v.press())
	}
	return 0, store.ErrNotFound
}

// ByID is an input that names what it is about by its number.
type ByID struct {
	ID int64 `uri:"id" binding:"min=1"`
}

// ByPress is an input that names a press.
type ByPress struct {
	Press string `uri:"press" binding:"uuid"`
}

func (b ByID) number() int64    { return b.ID }
func (p ByPress) press() string { return p.Press }

// OfPress is an input about a press.
type OfPress[Body any] struct {
	ByPress
	Body Body
}

// Of is an input that is a body alone.
type Of[Body any] struct{ Body Body }

// With is an input about something numbered.
type With[Body any] struct {
	ByID
	Body Body
}

// Why is the reason of a change that needs one.
type Why struct {
	Why string `json:"why" binding:"required,max=200,reason"`
}

// NamedInput is something that has just a name.
type NamedInput struct {
	Name string `json:"name" binding:"required,max=40"`
}

// File is an upload.
type File struct {
	Name string
	Data []byte
}

// whyOf is the reason that an input gives: the field Why of its body, if it has one.
func whyOf(in any) string {
	body := reflect.ValueOf(in).Elem().FieldByName("Body")
	if !body.IsValid() || body.Kind() != reflect.Struct {
		return ""
	}
	why := body.FieldByName("Why")
	if !why.IsValid() || why.Kind() != reflect.String {
		return ""
	}
	return strings.TrimSpace(why.String())
}
