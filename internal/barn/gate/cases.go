package gate

import (
	"context"
	"errors"
	"slices"
	"strings"

	"whitebarn/core/gate"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// What is changed at the gate.
var (
	SetMeat    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "said what meat it is"}, setMeat)
	SetReason  = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "gave a reason", ByHand: true}, setReason)
	UndoReason = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "took a reason back", ByHand: true}, undoReason)
	SignChange = barn.Writes(barn.Door{Of: barn.PendingChange, Kind: barn.Record, What: "signed a change", ByHand: true}, signChange)
)

// MeatInput says what meat a trial is of; Why is needed where it gets looser, or the
// words of the product say otherwise.
type MeatInput struct {
	store.TrialMeat
	Why string `json:"why" binding:"max=200"`
}

// LinesInput are the barn's own lines of safety.
type LinesInput struct {
	Lines safety.Lines `json:"lines"`
	Why   string       `json:"why" binding:"required,max=200,reason"`
}

// CutsInput names cuts of a trial.
type CutsInput struct {
	Cuts []int64 `json:"cuts" binding:"required,min=1,max=200"`
}

// ReasonInput is a pitmaster's reason to serve cuts all the same.
type ReasonInput struct {
	CutsInput
	Why string `json:"why" binding:"required,max=200,reason"`
}

// SignInput signs a change that waits, or refuses it.
type SignInput struct {
	Yes bool `json:"yes"`
}

func setMeat(ctx context.Context, a *barn.Act, in *barn.With[MeatInput]) error {
	return New(a.Store, a.Now).SetMeat(ctx, a.Who, in.ID, in.Body.TrialMeat, in.Body.Why)
}

func setReason(ctx context.Context, a *barn.Act, in *barn.With[ReasonInput]) error {
	v, err := New(a.Store, a.Now).Of(ctx, a.TrialID)
	if err != nil {
		return err
	}
	cuts := slices.Compact(slices.Sorted(slices.Values(in.Body.Cuts)))
	for _, id := range cuts {
		i := slices.IndexFunc(v.Cuts, func(c CutGate) bool { return c.CutID == id })
		if i < 0 {
			return store.ErrNotFound
		}
		for _, stop := range v.Cuts[i].Stops {
			if stop.Hard && stop.Opens != gate.ByReason && stop.Opens != gate.ByWaiting {
				return barn.Refuse("No reason opens the table to this cut: "+stop.Words, stop.Remedy+" Source: "+v.Cuts[i].Minimum.Source)
			}
		}
	}
	return a.Store.SetGateReason(ctx, a.Who.ID, strings.TrimSpace(in.Body.Why), cuts...)
}

func undoReason(ctx context.Context, a *barn.Act, in *barn.With[CutsInput]) error {
	t, err := reader.One(ctx, a.Store, a.TrialID)
	if err != nil {
		return err
	}
	for _, id := range in.Body.Cuts {
		if _, ok := t.Cut(id); !ok {
			return store.ErrNotFound
		}
	}
	err = a.Store.UndoGateReason(ctx, a.Who.ID, in.Body.Cuts...)
	if errors.Is(err, store.ErrNotFound) {
		return barn.Refuse("No reason was given for it within the last ten minutes.", "Void what was served with it, if it must not be eaten.")
	}
	if err != nil {
		return err
	}
	return New(a.Store, a.Now).after(ctx, a.TrialID)
}

func signChange(ctx context.Context, a *barn.Act, in *barn.With[SignInput]) error {
	_, err := New(a.Store, a.Now).Sign(ctx, a.Who, in.ID, in.Body.Yes)
	return err
}

// SetBarnLines sets the barn's own lines.
func SetBarnLines(ctx context.Context, a *barn.Act, in *barn.Of[LinesInput]) (store.BarnLines, error) {
	if err := New(a.Store, a.Now).SetLines(ctx, a.Who, in.Body.Lines, strings.TrimSpace(in.Body.Why)); err != nil {
		return store.BarnLines{}, err
	}
	return New(a.Store, a.Now).Lines(ctx)
}
