package evidence

import (
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// Material is what a cut is wrapped in by an act: what was said there, else what
// its arm is wrapped in, else foil, which most wraps come nearest to.
func Material(d logbook.Detail, arm trial.Level) thermal.Wrap {
	for _, key := range []string{string(d.Wrap), arm.Key} {
		if w, err := thermal.WrapOf(key); err == nil && key != trial.None {
			return w
		}
	}
	w, _ := thermal.WrapOf("foil")
	return w
}

// Change is a moment from which a cut was covered otherwise, or spritzed.
type Change struct {
	At     time.Time
	Wrap   thermal.Wrap
	Spritz bool
}

// Changes are how a cut was covered over its cook up to now: bare at first, then by
// its acts. The arm's level of the wrap stands for what nobody said.
func (c Cut) Changes(arm trial.Level, now time.Time) []Change {
	on, _ := c.On()
	wrap := thermal.Wraps[0]
	out := []Change{{At: on, Wrap: wrap}}
	for _, a := range c.Acts {
		if !a.At.After(on) || a.At.After(now) {
			continue
		}
		switch a.Act {
		case logbook.Wrap:
			wrap = Material(a.Detail, arm)
		case logbook.Unwrap:
			wrap = thermal.Wraps[0]
		case logbook.Spritz:
		default:
			continue
		}
		out = append(out, Change{At: a.At, Wrap: wrap, Spritz: a.Act == logbook.Spritz})
	}
	return out
}
