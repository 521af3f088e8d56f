package watch

import (
	"context"
	"errors"

	"whitebarn/core/fault"
	"whitebarn/core/forecast"
	"whitebarn/internal/store"
)

// learnAtOnce is how many finished cuts one look learns from; each takes a
// tenth of a second or two.
const learnAtOnce = 2

// learn fits the model to the whole log of cuts that are finished, and keeps
// what it found: the next cook of the family starts from there.
func (w *Watcher) learn(ctx context.Context) error {
	finished, err := w.store.Unlearned(ctx, learnAtOnce)
	if err != nil {
		return err
	}
	for _, f := range finished {
		c, err := w.read(ctx, f.CookID, f.Pulled)
		if err != nil {
			return err
		}
		c.now = f.Pulled
		guess, err := w.guess(ctx, c, f)
		var refused *fault.Error
		if err != nil && !errors.As(err, &refused) { // a log that cannot be used teaches nothing
			return err
		}
		if err := w.store.KeepGuess(ctx, f.CutID, c.family.Key, guess); err != nil {
			return err
		}
	}
	return nil
}

// guess is the fit of a finished cut; nil where the log contradicts the model.
func (w *Watcher) guess(ctx context.Context, c cook, f store.Finished) ([]float64, error) {
	for _, k := range c.placed {
		if k.ID != f.CutID {
			continue
		}
		log, err := w.log(ctx, c, c.burn(k))
		if err != nil {
			return nil, err
		}
		cal, err := forecast.Calibrate(ctx, log, forecast.Options{Seed: uint64(f.CutID)})
		if err != nil || len(cal.Doubts()) > 0 {
			return nil, err
		}
		return cal.Guess(), nil
	}
	return nil, nil
}
