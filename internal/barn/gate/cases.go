package gate

import (
	"context"
	"strings"

	"whitebarn/core/gate"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// What is changed at the gate.
var (
	SetMeat    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "said what meat it is"}, setMeat)
	SetReason  = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Design, What: "gave a reason", ByHand: true}, setReason)
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

// SignInput signs a change that waits, or refuses it.
type SignInput struct {
	Yes bool `json:"yes"`
}

func setMeat(ctx context.Context, a *barn.Act, in *barn.With[MeatInput]) error {
	return New(a.Store, a.Now).SetMeat(ctx, a.Who, in.ID, in.Body.TrialMeat, in.Body.Why)
}

func setReason(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	v, err := New(a.Store, a.Now).Of(ctx, a.TrialID)
	if err != nil {
		return err
	}
	for _, cut := range v.Cuts {
		if cut.CutID != in.ID {
			continue
		}
		for _, stop := range cut.Stops {
			if stop.Hard && stop.Opens != gate.ByReason && stop.Opens != gate.ByWaiting {
				return barn.Refuse("No reason opens the table to this cut: "+stop.Words, stop.Remedy+" Source: "+cut.Minimum.Source)
			}
		}
	}
	return a.Store.SetGateReason(ctx, a.Who.ID, in.ID, strings.TrimSpace(in.Body.Why))
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
