package watch

import (
	"context"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Times of the cook's clock between forecasts that are kept, and back to the
// one that a forecast is compared with.
const (
	keepEvery = 5 * time.Minute
	lookBack  = 30 * time.Minute
	lookLeast = 10 * time.Minute
)

// compare says why each cut's forecast is another than it was a while ago, and
// keeps the new ones.
func (w *Watcher) compare(ctx context.Context, c cook, out []Outlook) error {
	for i := range out {
		o := &out[i]
		if o.Done == nil {
			continue
		}
		was, ok, err := w.store.OutlookBefore(ctx, o.CutID, c.now.Add(-lookBack), c.now.Add(-lookLeast))
		if err != nil {
			return err
		}
		if ok {
			if o.Changed, err = w.why(ctx, c, *o, was); err != nil {
				return err
			}
		}
		new := store.Foreseen{CutID: o.CutID, At: c.now, Low: o.Done.Low, Middle: o.Done.Middle, High: o.Done.High}
		if err := w.store.KeepOutlook(ctx, new, keepEvery); err != nil {
			return err
		}
	}
	return nil
}

func (w *Watcher) why(ctx context.Context, c cook, o Outlook, was store.Foreseen) (string, error) {
	change := forecast.Change{Is: o.Done.Middle.Sub(was.Middle).Seconds(), Ago: c.now.Sub(was.At).Seconds()}
	for _, b := range c.burning {
		if b.ID != o.CutID {
			continue
		}
		for _, e := range c.trial.Acts {
			switch {
			case e.At.Before(was.At) || e.At.After(c.now):
			case e.CutID == b.ID:
				change.Acts = append(change.Acts, string(e.Act))
			case e.PitRunID == b.run.ID && e.Act == logbook.Lid:
				change.Lids++
			}
		}
		if p, ok := c.trial.ProbeFor(b.stay); ok {
			mean, err := reader.Mean(ctx, w.store, evidence.Window{Probe: p, From: was.At, To: c.now})
			if err != nil {
				return "", err
			}
			if mean != nil {
				over := *mean - b.run.MeanSet(was.At, c.now)
				change.PitOver = &over
			}
		}
	}
	return change.Why(), nil
}
