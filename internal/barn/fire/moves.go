package fire

import (
	"context"
	"fmt"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// CookerInput is a pit that is taken for a cook beside those that were planned, as the oven
// that finishes it.
type CookerInput struct {
	PitID    int64  `json:"pit_id"`
	SetPoint string `json:"set_point"`
}

func beginRun(ctx context.Context, a *barn.Act, in *barn.With[CookerInput]) error {
	var wrong fault.List
	set, err := units.ParseTemperature(in.Body.SetPoint)
	wrong.Take("set_point", err)
	pits, err := a.Store.Pits(ctx)
	if err != nil {
		return err
	}
	known := false
	for _, p := range pits {
		known = known || p.ID == in.Body.PitID
	}
	if !known {
		wrong.Add("pit_id", "there is no such pit", "choose one of the list")
	}
	if err := wrong.Err(); err != nil {
		return err
	}
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	for _, r := range runs {
		if r.CookID == in.ID && r.PitID == in.Body.PitID {
			return nil // it is there already
		}
	}
	return a.Store.BeginRun(ctx, in.ID, store.PitRun{PitID: in.Body.PitID, SetPointC: set.C,
		SetPointTyped: strings.TrimSpace(in.Body.SetPoint)})
}

// checkMove refuses a move to a pit that is not of the cook.
func checkMove(ctx context.Context, a *barn.Act, cookID int64, d logbook.Detail) error {
	if d.RunID == 0 {
		return nil
	}
	return fault.In("detail", renamed(checkRuns(ctx, a, cookID, []int64{d.RunID})))
}

// renamed lets an error of the pits stand at the field of a move.
func renamed(err error) error {
	if err == nil {
		return nil
	}
	return fault.New("run_id", "that pit is not in this cook", "take it for this cook first")
}

// held finds the run of the holder that a cut is put into: the one planned for it, else
// the first of that holder.
func held(ctx context.Context, a *barn.Act, cookID, cutID int64, placed []store.Placement, d logbook.Detail) (logbook.Detail, error) {
	d.HolderRunID = 0
	if d.HolderID == 0 {
		return d, nil
	}
	runs, err := a.Store.HolderRuns(ctx, a.TrialID)
	if err != nil {
		return d, err
	}
	for _, p := range placed {
		for _, r := range runs {
			if p.CutID == cutID && p.HolderRunID != nil && *p.HolderRunID == r.ID && r.CookID == cookID && r.HolderID == d.HolderID {
				d.HolderRunID = r.ID
				return d, nil
			}
		}
	}
	if d.HolderRunID, err = a.Store.HolderRunFor(ctx, cookID, d.HolderID); err == store.ErrNotFound {
		return d, fault.New("detail.holder_id", fmt.Sprintf("there is no holder %d", d.HolderID), "choose one of the list")
	}
	return d, err
}

// placedAgain is what a corrected move or hold says of where the cut is.
func placedAgain(ctx context.Context, a *barn.Act, e store.Event, d logbook.Detail) (logbook.Detail, error) {
	if d.RunID == 0 && d.HolderID == 0 {
		d.HolderRunID = 0
		return d, nil
	}
	placed, err := a.Store.Placements(ctx, a.TrialID)
	if err != nil {
		return d, err
	}
	cookID := int64(0)
	for _, p := range placed {
		if p.CutID == *e.CutID && p.PitRunID != nil {
			cookID = p.CookID
		}
	}
	if err := checkMove(ctx, a, cookID, d); err != nil {
		return d, err
	}
	return held(ctx, a, cookID, *e.CutID, placed, d)
}
