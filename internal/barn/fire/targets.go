package fire

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// suggestions says what each column most likely measures: what it did in this
// cook before, else in the last file of its logger, else the cut or pit whose name it carries,
// else the pit at whose set point it lies.
func suggestions(ctx context.Context, s *store.Store, trialID, cookID int64, logger string,
	before map[string]store.SourceTarget, columns []logbook.Column) ([]store.Target, error) {
	last, err := s.LastTargets(ctx, cookID, logger)
	if err != nil {
		return nil, err
	}
	pits, err := s.Pits(ctx)
	if err != nil {
		return nil, err
	}
	holders, err := s.Holders(ctx)
	if err != nil {
		return nil, err
	}
	cuts, err := s.Cuts(ctx, trialID)
	if err != nil {
		return nil, err
	}
	runs, err := s.PitRuns(ctx, trialID)
	if err != nil {
		return nil, err
	}
	runs = slices.DeleteFunc(runs, func(r store.PitRun) bool { return r.CookID != cookID })
	var names []string
	var targets []store.Target
	for _, cut := range cuts {
		names, targets = append(names, cut.Name), append(targets, store.Target{CutID: &cut.ID})
	}
	points := map[string]store.Target{} // as the columns were put in these pits before
	for _, r := range runs {
		names, targets = append(names, r.Pit), append(targets, store.Target{PitRunID: &r.ID})
		if i := slices.IndexFunc(pits, func(p store.Pit) bool { return p.ID == r.PitID }); i >= 0 {
			for column, point := range pits[i].Points {
				points[column] = store.Target{PitRunID: &r.ID, Point: point}
			}
		}
	}
	for _, h := range holders {
		names, targets = append(names, h.Name), append(targets, store.Target{HolderID: &h.ID})
	}
	suggest := func(column string) store.Target {
		if t, ok := last[column]; ok {
			return t
		}
		if t, ok := points[column]; ok {
			return t
		}
		if was, ok := before[column]; ok {
			if i := slices.Index(names, was.Name); i >= 0 {
				t := targets[i]
				t.Point, t.Place = was.Point, was.Place
				return t
			}
		}
		if i := logbook.SuggestTarget(column, names); i >= 0 {
			return targets[i]
		}
		if len(runs) == 1 {
			for _, p := range pit.Points() {
				if p.Key != "" && logbook.SuggestTarget(column, []string{p.Key}) == 0 {
					return store.Target{PitRunID: &runs[0].ID, Point: p.Key}
				}
			}
		}
		if len(runs) == 1 && logbook.SuggestTarget(column, []string{"pit"}) == 0 {
			return store.Target{PitRunID: &runs[0].ID}
		}
		return store.Target{}
	}
	out := make([]store.Target, len(columns))
	for i, c := range columns {
		out[i] = suggest(c.Name)
	}
	byHeat(columns, runs, out)
	return out, nil
}

// likeSetPoint is how far from a pit's set point a column may lie, in its median, to be taken for the pit, C.
const likeSetPoint = 12.0

// byHeat suggests, for the one pit of a cook to which no column's name points, the column that lies at its
// set point. One that never moves is what was set, not what was read.
func byHeat(columns []logbook.Column, runs []store.PitRun, suggested []store.Target) {
	if len(runs) != 1 || slices.ContainsFunc(suggested, func(t store.Target) bool { return t.PitRunID != nil }) {
		return
	}
	best, nearest := -1, likeSetPoint
	for i, c := range columns {
		if suggested[i] != (store.Target{}) || len(c.Readings) == 0 {
			continue
		}
		v := make([]float64, len(c.Readings))
		for k, r := range c.Readings {
			v[k] = r.C
		}
		slices.Sort(v)
		if apart := math.Abs(v[len(v)/2] - runs[0].SetPointC); v[0] != v[len(v)-1] && apart < nearest {
			best, nearest = i, apart
		}
	}
	if best >= 0 {
		suggested[best] = store.Target{PitRunID: &runs[0].ID}
	}
}

// checkTargets refuses targets outside the cook. Two columns on one cut are allowed: a cut
// may have several probes.
func checkTargets(ctx context.Context, a *barn.Act, in *LogUpload) (map[string]store.Target, error) {
	placed, err := a.Store.Placements(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	holders, err := a.Store.Holders(ctx)
	if err != nil {
		return nil, err
	}
	out := map[string]store.Target{}
	for column, t := range in.Body.Targets {
		if t == (store.Target{}) {
			continue
		}
		of, ok := 0, false
		if t.CutID != nil {
			of, ok = of+1, slices.ContainsFunc(placed, func(l store.Placement) bool { return l.CutID == *t.CutID && l.CookID == in.ID })
		}
		if t.PitRunID != nil {
			of, ok = of+1, slices.ContainsFunc(runs, func(r store.PitRun) bool { return r.ID == *t.PitRunID && r.CookID == in.ID })
		}
		if t.HolderID != nil {
			of, ok = of+1, slices.ContainsFunc(holders, func(h store.Holder) bool { return h.ID == *t.HolderID })
		}
		if of != 1 || !ok {
			return nil, fault.New("targets."+column, "that is no cut or pit of this cook, and no holder",
				"choose one of the list; a cut needs its pit in Plan first")
		}
		if len(t.Point) > mostPoint || len(t.Place) > mostPoint {
			return nil, fault.New("targets."+column, "the point is long", fmt.Sprintf("name it in %d letters", mostPoint))
		}
		out[column] = t
	}
	return out, nil
}

// mostPoint bounds the name of a point of a pit, or of a place on a piece.
const mostPoint = 20

// rememberPoints keeps, with each pit, what the columns of its logger measure, so that it is
// said once.
func rememberPoints(ctx context.Context, a *barn.Act, targets map[string]store.Target) error {
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	for _, r := range runs {
		known := map[string]string{}
		for column, t := range targets {
			if t.PitRunID != nil && *t.PitRunID == r.ID {
				known[column] = t.Point
			}
		}
		if len(known) == 0 {
			continue
		}
		if err := a.Store.SetPit(ctx, a.Who.ID, r.PitID, func(p *store.Pit) { maps.Copy(p.Points, known) }); err != nil {
			return err
		}
	}
	return nil
}

// burnTimes are the burns that may share a logger's file, of a trial of set-ups: each from
// when it was lit, or is to be, to when the next one of the pit was.
func burnTimes(ctx context.Context, a *barn.Act) ([]store.BurnTime, error) {
	t, err := a.Store.Trial(ctx, a.TrialID)
	if err != nil || t.Ask.Kind != trial.OfSetUps {
		return nil, err
	}
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(runs))
	for i, r := range runs {
		ids[i] = r.ID
	}
	events, err := a.Store.EventsOfRuns(ctx, ids...)
	if err != nil {
		return nil, err
	}
	var all []store.BurnTime
	for _, r := range runs {
		i := slices.IndexFunc(events, func(e store.Event) bool { return e.Act == logbook.Lit && *e.PitRunID == r.ID })
		switch {
		case i >= 0:
			all = append(all, store.BurnTime{CookID: r.CookID, RunID: r.ID, PitID: r.PitID, From: events[i].At})
		case r.LitAt != nil:
			all = append(all, store.BurnTime{CookID: r.CookID, RunID: r.ID, PitID: r.PitID, From: *r.LitAt})
		}
	}
	slices.SortFunc(all, func(a, b store.BurnTime) int { return a.From.Compare(b.From) })
	for i := range all {
		b := &all[i]
		b.To = b.From.Add(pit.ReadFor)
		for _, next := range all[i+1:] {
			if next.PitID == b.PitID && next.From.Before(b.To) {
				b.To = next.From
			}
		}
	}
	return all, nil
}
