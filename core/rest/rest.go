// Package rest says what a cut does once it is off the fire: how far its centre climbs,
// when it can be sliced, how tender it gets in a hold, and how evenly the pieces rest.
package rest

import (
	"math"

	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// Window is between which temperatures of its centre a cut is sliced, or seared, C.
type Window struct {
	HighC float64 `json:"high_c"`
	LowC  float64 `json:"low_c"`
	For   string  `json:"for"` // slice or sear
}

// WindowOf is the window of a cut that was pulled at a temperature (ours): what was cooked
// to fall apart slices well from 180 F down to 150, a roast from 5 F over its pull down to
// 120, a bird from the barn's line for poultry to 140. What is seared next cools by 10 F first, so that the crust
// does not overcook it.
func WindowOf(pullC float64, species safety.Species, lines safety.Lines, after []phase.Phase) Window {
	for _, p := range after {
		if p.Kind.Cooks() {
			return Window{pullC - 10/1.8, pullC - 45/1.8, "sear"}
		}
	}
	switch {
	case species == safety.Poultry:
		return Window{lines.PoultryC, units.FToC(140), "slice"}
	case pullC < units.FToC(165):
		return Window{pullC + 5/1.8, units.FToC(120), "slice"}
	}
	return Window{units.FToC(180), units.FToC(150), "slice"}
}

// Stay is a stretch in one place after the pull.
type Stay struct {
	S     float64 // how long
	Place thermal.Surroundings
	Wrap  thermal.Wrap
	AirC  float64
}

// Ahead are stays in the terms of a forecast that begins at the pull.
func Ahead(stays []Stay) []forecast.Ahead {
	out := make([]forecast.Ahead, 0, len(stays))
	for _, s := range stays {
		if s.S < 1 {
			continue
		}
		out = append(out, forecast.Ahead{Name: s.Place.Key, Air: s.AirC, Exchange: s.Place.Exchange(s.Wrap), AirAdd: s.Wrap.AirAdd,
			End: thermal.ByTime, Value: s.S})
	}
	return out
}

const (
	roomC = 22.0
	// memory is how long what the model missed lasts, s, and sureC how well a probe is read.
	memory = 2 * 3600.0
	sureC  = 0.4
)

// Room is the counter it rests on.
func Room(wrap thermal.Wrap, s float64) Stay {
	place, err := thermal.SurroundingsOf("counter")
	if err != nil {
		panic(err) // it stands in the table
	}
	return Stay{s, place, wrap, roomC}
}

// In is a stretch in a holder or a fridge.
func In(key string, airC float64, wrap thermal.Wrap, s float64) Stay {
	place, err := thermal.SurroundingsOf(key)
	if err != nil {
		panic(err)
	}
	return Stay{s, place, wrap, airC}
}

// Followed is a forecast that began at the pull, brought to what the probe shows now: what
// it is off dies away, and its doubt grows again from now on.
func Followed(fan []forecast.FanPoint, now, probeC float64) []forecast.FanPoint {
	out := []forecast.FanPoint{}
	off := probeC - at(fan, now)
	for _, p := range fan {
		if p.Time < now {
			continue
		}
		if !math.IsNaN(off) {
			d := p.Time - now
			shift, wide := off*math.Exp(-d/memory), math.Sqrt(1-math.Exp(-2*d/memory))
			middle := p.Probe.Middle + shift
			p.Probe = forecast.Spread{Low: middle - sureC - wide*(p.Probe.Middle-p.Probe.Low), Middle: middle,
				High: middle + sureC + wide*(p.Probe.High-p.Probe.Middle)}
		}
		out = append(out, p)
	}
	return out
}

// at is the middle of a fan at a time; NaN outside it.
func at(fan []forecast.FanPoint, t float64) float64 {
	for i, p := range fan {
		if p.Time >= t {
			if i == 0 {
				return p.Probe.Middle
			}
			a := fan[i-1]
			return a.Probe.Middle + (p.Probe.Middle-a.Probe.Middle)*(t-a.Time)/(p.Time-a.Time)
		}
	}
	return math.NaN()
}

// Point is a temperature at a time.
type Point = forecast.Sample

// Path is a cut from the pull on: what was read, then the middle of what is to come.
func Path(read []Point, fan []forecast.FanPoint) []Point {
	out := append([]Point{}, read...)
	for _, p := range fan {
		if len(out) == 0 || p.Time > out[len(out)-1].Time {
			out = append(out, Point{Time: p.Time, C: p.Probe.Middle})
		}
	}
	return out
}

// Peak is the highest of a path.
func Peak(path []Point) (p Point, ok bool) {
	for i, x := range path {
		if i == 0 || x.C > p.C {
			p, ok = x, true
		}
	}
	return p, ok
}

// Within is when a path comes down into a window and when it leaves it; to is +Inf while it
// stays in it. ok is false when it never comes there.
func Within(path []Point, w Window) (from, to float64, ok bool) {
	peak, _ := Peak(path)
	to = math.Inf(1)
	for i, p := range path {
		if p.Time < peak.Time {
			continue
		}
		cross := func(c float64) float64 {
			if i == 0 || path[i-1].C < c || p.C == path[i-1].C {
				return p.Time
			}
			a := path[i-1]
			return a.Time + (p.Time-a.Time)*(a.C-c)/(a.C-p.C)
		}
		if !ok && p.C <= w.HighC {
			from, ok = cross(w.HighC), true
		}
		if ok && p.C < w.LowC {
			return from, cross(w.LowC), true
		}
	}
	return from, to, ok
}

// Enough is when a cut is tender to the hand, four times in five between low and high;
// +Inf where the forecast does not come so far.
func Enough(fan []forecast.FanPoint) forecast.Spread {
	first := func(of func(forecast.Spread) float64) float64 {
		for i, p := range fan {
			if of(p.Index) < 1 {
				continue
			}
			if i == 0 {
				return p.Time
			}
			a := fan[i-1]
			return a.Time + (p.Time-a.Time)*(1-of(a.Index))/(of(p.Index)-of(a.Index))
		}
		return math.Inf(1)
	}
	return forecast.Spread{Low: first(func(s forecast.Spread) float64 { return s.High }),
		Middle: first(func(s forecast.Spread) float64 { return s.Middle }),
		High:   first(func(s forecast.Spread) float64 { return s.Low })}
}

// Tender is how tender a cut is expected to be on nine points, of its index: 1 raw, 7 as a
// hand calls tender, towards 9 falling apart (ours).
func Tender(index float64) float64 {
	return 1 + 8*(1-math.Exp(-1.386*math.Max(index, 0)))
}

// Planned are the phases after the pull of an arm that are still to come of a cut that has
// been off for so long, until the knife.
func Planned(phases []phase.Phase, sinceS, untilS float64, wrap thermal.Wrap, held bool) (out []Stay) {
	left := untilS
	passed := sinceS
	for _, p := range phase.After(phases) {
		s, fixed := p.Fixed()
		switch {
		case left <= 0:
			return out
		case p.Kind == phase.Rest && !held:
			if !fixed {
				s = usualRestS
			}
			if passed >= s {
				passed -= s
				continue
			}
			s, passed = math.Min(s-passed, left), 0
			w := wrap
			if own, err := thermal.WrapOf(p.Wrap); err == nil && wrap == thermal.Wraps[0] {
				w = own
			}
			out = append(out, Room(w, s))
			left -= s
		case p.Kind == phase.Hold && !held:
			out = append(out, In("box", p.SetC, wrap, left)) // until the knife
			return out
		}
	}
	return out
}

const usualRestS = 1800.0
