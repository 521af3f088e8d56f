package fire

import (
	"context"
	"errors"
	"slices"

	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// recall fills what nobody said of a file with how the last one of its logger was read, and
// returns what its columns measured then.
func recall(ctx context.Context, s *store.Store, in *LogUpload) (store.LogSource, bool, error) {
	was, err := s.LogSource(ctx, loggerOf(in.Body, in.File))
	if errors.Is(err, store.ErrNotFound) {
		return store.LogSource{}, false, nil
	}
	if err != nil {
		return was, false, err
	}
	o := &in.Body
	for _, f := range []struct {
		said *string
		was  string
	}{{&o.Zone, was.Zone}, {&o.Scale, was.Scale}, {&o.DateOrder, was.DateOrder}, {&o.Shape, was.Shape}, {&o.Elapsed, was.Elapsed}} {
		if *f.said == "" {
			*f.said = f.was
		}
	}
	return was, true, nil
}

// remember keeps, with the logger, what was said of its file and what its columns measured, by
// names: cuts and runs of the next cook have other numbers.
func remember(ctx context.Context, a *barn.Act, in *LogUpload, targets map[string]store.Target) error {
	cuts, err := a.Store.Cuts(ctx, a.TrialID)
	if err != nil {
		return err
	}
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	holders, err := a.Store.Holders(ctx)
	if err != nil {
		return err
	}
	o := in.Body
	kept := store.LogSource{Zone: o.Zone, Scale: o.Scale, DateOrder: o.DateOrder, Shape: o.Shape, Elapsed: o.Elapsed, Targets: map[string]store.SourceTarget{}}
	for column, t := range targets {
		name := ""
		switch {
		case t.CutID != nil:
			i := slices.IndexFunc(cuts, func(c store.Cut) bool { return c.ID == *t.CutID })
			name = cuts[i].Name // checkTargets found it
		case t.PitRunID != nil:
			i := slices.IndexFunc(runs, func(r store.PitRun) bool { return r.ID == *t.PitRunID })
			name = runs[i].Pit
		case t.HolderID != nil:
			i := slices.IndexFunc(holders, func(h store.Holder) bool { return h.ID == *t.HolderID })
			name = holders[i].Name
		}
		kept.Targets[column] = store.SourceTarget{Name: name, Point: t.Point, Place: t.Place}
	}
	return a.Store.KeepLogSource(ctx, a.Who.ID, loggerOf(in.Body, in.File), kept)
}
