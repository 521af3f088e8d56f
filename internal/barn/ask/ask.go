package ask

import (
	"context"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// NewInput is the ask of a trial to be made, and the version of a card that it starts from; 0
// is none.
type NewInput struct {
	Card int64 `form:"card"`
	Body trial.Ask
}

// Create makes a trial of an ask.
func Create(ctx context.Context, a *barn.Act, in *NewInput) (int64, error) {
	ask, err := check(ctx, a.Store, in.Body)
	if err != nil {
		return 0, err
	}
	ask.MeatConfirmed = ask.Meat().Said() && len(ask.Otherwise()) == 0
	return a.Store.CreateTrial(ctx, a.Who.ID, ask)
}

// SetInput is an ask, and the version it was made from; nil is whatever there is.
type SetInput struct {
	barn.ByID
	Version *int64 `form:"version"`
	Body    trial.Ask
}

// Set keeps an ask.
var Set = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "changed the ask"}, set)

// set keeps an ask over the version it was made from; over another it is refused, so
// that nobody's words go unseen.
func set(ctx context.Context, a *barn.Act, in *SetInput) error {
	if a.State.Looked {
		return barn.Refuse("The codes of a cook are open, so what is asked stays.", "Follow on from this trial with a new question.")
	}
	kept, err := a.Store.Trial(ctx, in.ID)
	if err != nil {
		return err
	}
	if in.Version != nil && *in.Version != kept.AskVersion {
		return barn.Refuse("Somebody kept another ask meanwhile.", "Look at theirs, then keep one of the two.")
	}
	ask, err := check(ctx, a.Store, in.Body)
	if err != nil {
		return err
	}
	if ask.Kind != kept.Ask.Kind {
		return fault.New("kind", "a trial stays what it is of", "ask a new question of the other kind")
	}
	if err := armsMayGo(ctx, a, ask); err != nil {
		return err
	}
	if err := gate.New(a.Store, a.Now).CheckAsk(ctx, in.ID, ask); err != nil {
		return err
	}
	return a.Store.SetAsk(ctx, a.Who.ID, in.ID, ask)
}

// check reads what was asked by the barn's catalogue, and refuses what cannot be
// recorded.
func check(ctx context.Context, s *store.Store, in trial.Ask) (trial.Ask, error) {
	in.WrittenUp = false // what is asked now is no page of a notebook
	ask, err := s.Resolve(ctx, in.Tidy())
	if err != nil {
		return ask, err
	}
	return ask, ask.Check()
}

// armsMayGo refuses to take an arm out whose cuts are on the table.
func armsMayGo(ctx context.Context, a *barn.Act, ask trial.Ask) error {
	served, err := a.Store.ServedCuts(ctx, a.TrialID)
	if err != nil {
		return err
	}
	cuts, err := a.Store.Cuts(ctx, a.TrialID)
	if err != nil {
		return err
	}
	kept := ask.ArmPlaces()
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	for _, r := range runs {
		if r.ArmID == nil {
			continue
		}
		if _, ok := kept[*r.ArmID]; !ok {
			return barn.Refuse("A burn of that set-up is planned, so it stays.", "Take its burns out of Plan first.")
		}
	}
	for _, cut := range cuts {
		if cut.ArmID == nil || !slices.Contains(served, cut.ID) {
			continue
		}
		if _, ok := kept[*cut.ArmID]; !ok {
			return barn.Refuse(cut.Name+" of that arm is on the table, so the arm stays.", "Take its flight back first, while nothing of it is sealed.")
		}
	}
	return nil
}
