package evidence

import (
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/pit"
)

// The stretches of a cut's time on the fire over which the air is told by itself: a wrap
// keeps the meat's own wet from the air.
const (
	Bare    = "bare"
	Wrapped = "wrapped"
)

// Air is how the air of a cut's pits was over a stretch of its time on the fire: the means of
// both bulbs, nil where one was not read.
type Air struct {
	Stretch string
	DryC    *float64
	WetC    *float64
}

// AirWindows are the probes over a stretch from which its air is read. Spots are wet bulbs
// that a hand read.
type AirWindows struct {
	Stretch  string
	Dry, Wet []Window
	Spots    []float64
}

// wetBulb is the probe in the wet bulb of a pit run.
func (t Trial) wetBulb(run int64) (Probe, bool) {
	i := slices.IndexFunc(t.Probes, func(p Probe) bool { return run != 0 && p.PitRunID == run && pit.PlaceOf(p.Point) == pit.WetBulb })
	if i < 0 {
		return Probe{}, false
	}
	return t.Probes[i], true
}

// AirOf are the stretches of a cut in whose pits a wet bulb was read, up to a moment.
func (t Trial) AirOf(c Cut, now time.Time) (out []AirWindows) {
	for _, f := range c.fires(now) {
		wrap := f.Pull
		for _, a := range c.Acts {
			if a.Act == logbook.Wrap && a.At.After(f.On) && a.At.Before(wrap) {
				wrap = a.At
			}
		}
		for _, s := range []struct {
			name     string
			from, to time.Time
		}{{Bare, f.On, wrap}, {Wrapped, wrap, f.Pull}} {
			if w := t.airBetween(c, s.from, s.to); len(w.Wet)+len(w.Spots) > 0 {
				w.Stretch = s.name
				out = append(out, w)
			}
		}
	}
	return out
}

func (t Trial) airBetween(c Cut, from, to time.Time) (w AirWindows) {
	for _, s := range c.Stays {
		here, some := s.within(Probe{}, from, to)
		if !some || s.PitRunID == 0 {
			continue
		}
		if p, ok := t.ProbeFor(s); ok {
			w.Dry = append(w.Dry, Window{p, here.From, here.To})
		}
		if p, ok := t.wetBulb(s.PitRunID); ok {
			w.Wet = append(w.Wet, Window{p, here.From, here.To})
		}
		for _, a := range t.Acts {
			if a.Act == logbook.Spot && a.Detail.Of == logbook.OfWetBulb && a.Detail.C != nil && a.PitRunID == s.PitRunID &&
				!a.At.Before(here.From) && a.At.Before(here.To) {
				w.Spots = append(w.Spots, *a.Detail.C)
			}
		}
	}
	return w
}

// WetBulb is the wet bulb that a cut was under while it lay bare, else wrapped; nil where
// none was read.
func (c Cut) WetBulb() *float64 {
	for _, name := range []string{Bare, Wrapped} {
		for _, a := range c.Air {
			if a.Stretch == name && a.WetC != nil {
				return a.WetC
			}
		}
	}
	return nil
}
