package watch

import (
	"cmp"
	"context"
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/plan"
)

// apart is how much older the last reading of a place may be than that of
// another for it still to count.
const apart = 10 * time.Minute

// coldest is the trace of a cut that decides: of the place that is asked for,
// if a probe is there, else of the place that shows least now. Without any probe
// what was read by hand stands.
func (w *Watcher) coldest(ctx context.Context, c cook, cutID int64, place string, from, to time.Time) ([]logbook.Point, error) {
	places, err := w.places(ctx, c, cutID, from, to)
	if err != nil {
		return nil, err
	}
	if trace, there := places[place]; there && place != "" {
		return trace, nil
	}
	return coldestOf(places), nil
}

// places are the traces of a cut's probes by where they are in it.
func (w *Watcher) places(ctx context.Context, c cook, cutID int64, from, to time.Time) (map[string][]logbook.Point, error) {
	out := map[string][]logbook.Point{}
	for _, a := range c.probes {
		if a.CutID == nil || *a.CutID != cutID {
			continue
		}
		t, err := w.store.PointsBetween(ctx, a, from, to)
		if err != nil {
			return nil, err
		}
		name := cmp.Or(a.Place, a.Probe)
		if len(t) > 0 {
			out[name] = append(out[name], t...)
		}
	}
	for _, t := range out {
		slices.SortStableFunc(t, func(a, b logbook.Point) int { return a.At.Compare(b.At) })
	}
	if len(out) > 0 {
		return out, nil
	}
	for _, e := range c.events {
		if e.CutID != nil && *e.CutID == cutID && e.Act == logbook.Probe && e.Detail.C != nil && !e.At.Before(from) && !e.At.After(to) {
			out[""] = append(out[""], logbook.Point{At: e.At, C: *e.Detail.C})
		}
	}
	return out, nil
}

// coldestOf is the trace that shows least at its end, of those that go on.
func coldestOf(places map[string][]logbook.Point) (best []logbook.Point) {
	var newest time.Time
	for _, t := range places {
		if last := t[len(t)-1].At; last.After(newest) {
			newest = last
		}
	}
	for _, t := range places {
		last := t[len(t)-1]
		if newest.Sub(last.At) > apart {
			continue
		}
		if best == nil || last.C < best[len(best)-1].C {
			best = t
		}
	}
	return best
}

// pullPlace is where in the cut its arm's pull is read; empty is the coldest.
func (w *Watcher) pullPlace(ctx context.Context, c cook, b burning) string {
	arm, _ := w.arm(ctx, c, b)
	end, _ := plan.PullEnd(c.outline.Of(arm.ID).Phases)
	return end.Place
}
