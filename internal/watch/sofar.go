package watch

import (
	"context"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/settle"
	"whitebarn/core/thermal"
	reader "whitebarn/internal/evidence"
)

// Delivered is what the arms of a cook were given so far, and where that sets
// them apart.
type Delivered struct {
	Arms  []settle.SoFar `json:"arms"`
	Flags []string       `json:"flags"` // numbers in braces
}

// SoFar compares the arms of a cook up to now.
func (w *Watcher) SoFar(ctx context.Context, cookID int64, now time.Time) (Delivered, error) {
	out := Delivered{Arms: []settle.SoFar{}, Flags: []string{}}
	c, err := w.read(ctx, cookID, now)
	if err != nil {
		return out, err
	}
	zone, err := w.store.Zone(ctx)
	if err != nil {
		return out, err
	}
	trials := []evidence.Trial{c.trial}
	if err := reader.Heat(ctx, w.store, trials, now); err != nil {
		return out, err
	}
	if err := reader.Air(ctx, w.store, trials, now); err != nil {
		return out, err
	}
	hands := c.trial.Hands(zone)
	for place := range c.trial.Ask.Arms {
		s := settle.SoFar{Arm: place}
		var mean, last average
		var mine []evidence.Cut
		for _, k := range trials[0].InCook(cookID) {
			_, to, on := k.OnTheFire(c.now)
			if !on || c.trial.Arm(k.ArmID) != place {
				continue
			}
			set, _ := c.trial.MeanSet(k, to)
			mine = append(mine, k)
			s.Cuts++
			s.Hours += k.OnFire(to).Hours()
			s.SetC += set
			s.Spritzes += float64(k.Count(logbook.Spritz, c.now))
			s.HandsMin += hands[k.ID].Minutes
			s.NightMin += hands[k.ID].Night
			mean.add(k.Heat.MeanC)
			last.add(k.Heat.LastC)
		}
		if s.Cuts == 0 {
			continue
		}
		n := float64(s.Cuts)
		s.Hours, s.SetC, s.Spritzes = s.Hours/n, s.SetC/n, s.Spritzes/n
		s.MeanC, s.LastC, s.Air = mean.value(), last.value(), settle.AirsOf(mine, thermal.PressureAt(c.height))
		out.Arms = append(out.Arms, s)
	}
	out.Flags = settle.Uneven(c.trial.Ask, out.Arms)
	return out, nil
}

// average is the mean of what was measured.
type average struct{ sum, n float64 }

func (a *average) add(v *float64) {
	if v != nil {
		a.sum, a.n = a.sum+*v, a.n+1
	}
}

func (a average) value() *float64 {
	if a.n == 0 {
		return nil
	}
	v := a.sum / a.n
	return &v
}
