package watch

import (
	"context"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
)

// Clock is the safety clock of one cut.
type Clock struct {
	CutID int64 `json:"cut_id"`
	safety.Range
}

// longestClock is how far from the fridge on a trace is read for its clock.
const longestClock = 12 * time.Hour

// Clocks reads the danger-range clock of every cut that is on, by its coldest probe.
func (w *Watcher) Clocks(ctx context.Context, cookID int64, now time.Time) ([]Clock, error) {
	c, err := w.read(ctx, cookID, now)
	if err != nil {
		return nil, err
	}
	out := []Clock{}
	for _, b := range c.burning {
		end := c.now
		if last := b.on.Add(longestClock); end.After(last) {
			end = last
		}
		trace, err := w.coldest(ctx, c, b.CutID, b.on, end)
		if err != nil {
			return nil, err
		}
		out = append(out, Clock{b.CutID, safety.DangerOf(trace, b.on, c.now, c.trial.Ask.Species, c.trial.Ask.Handling)})
	}
	return out, nil
}

// coldest is the trace of the probe of a cut that shows least now.
func (w *Watcher) coldest(ctx context.Context, c cook, cutID int64, from, to time.Time) (trace []logbook.Point, err error) {
	for _, a := range c.probes {
		if a.CutID == nil || *a.CutID != cutID {
			continue
		}
		t, err := w.store.PointsBetween(ctx, a, from, to)
		if err != nil {
			return nil, err
		}
		if len(t) > 0 && (len(trace) == 0 || t[len(t)-1].C < trace[len(trace)-1].C) {
			trace = t
		}
	}
	return trace, nil
}
