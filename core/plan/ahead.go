package plan

import (
	"math"

	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/thermal"
)

// Standing is how far a cut has come on the fire, by its log.
type Standing struct {
	For     float64           // s since it went on
	Probe   []forecast.Sample // where its pull is read, in order; empty while nobody measured it
	Covers  []Cover           // each wrap and unwrap, in order
	AirC    float64           // set point of its pit
	SetS    float64           // when it was last set otherwise; 0 is never
	PitID   int64             // the pit it lies in
	MovedS  float64           // since when, where it was moved; 0 is from on
	Cookers []Pit             // others it may be moved to
	Lies    forecast.Stage
	Place   thermal.Surroundings
	TargetC float64 // it is pulled at, where its last phase does not go by the clock
}

// Cover is a wrap or an unwrap that was done.
type Cover struct {
	At   float64 // s since the cut went on
	Bare bool    // it was unwrapped
}

// A planned wrap that was not done when it was due is taken for skipped once its trigger is
// this far behind (ours): the crew has decided otherwise, or forgot.
const (
	skippedAfterS = 45 * 60.0
	skippedAfterC = 6.0
)

// AheadOf is what is still to come of a cut by its plan: the phase it is in, shortened by
// what has passed, and those after it up to the pull. A planned change of its cover is to come
// until it was done, in order, or was skipped; a phase that changes nothing but its heat is
// over when its own end is met.
func AheadOf(phases []phase.Phase, s Standing) []forecast.Ahead {
	smokes := Arm{Phases: phases}.smokes()
	if len(smokes) == 0 {
		smokes = []phase.Phase{{Kind: phase.Smoke}} // as it lies, until the target
	}
	i, began := s.delivered(smokes)
	for i+1 < len(smokes) {
		changes := coverOf(smokes[i]) != coverOf(smokes[i+1])
		switch {
		case changes && s.over(smokes[i], began, skippedAfterS, skippedAfterC):
			began = s.For
		case !changes && s.over(smokes[i], began, 0, 0):
			began = s.ended(smokes[i], began)
		default:
			return s.ahead(smokes, i, began)
		}
		i++
	}
	return s.ahead(smokes, i, began)
}

// sameC is how near a set point is the one that was planned.
const sameC = 1.5

// delivered is the phase that wraps, a move and the set point have brought a cut to, and
// since when.
func (s Standing) delivered(smokes []phase.Phase) (i int, began float64) {
	i, began = s.covered(smokes)
	for j := i + 1; j < len(smokes) && coverOf(smokes[j]) == coverOf(smokes[i]); j++ {
		p, was := smokes[j], smokes[j-1]
		switch {
		case p.PitID != was.PitID:
			if p.PitID != 0 && p.PitID == s.PitID && s.MovedS > 0 {
				i, began = j, math.Max(began, s.MovedS)
			}
		case s.SetS > 0 && math.Abs(s.AirC-p.SetC) <= sameC && math.Abs(s.AirC-was.SetC) > sameC:
			i, began = j, math.Max(began, s.SetS)
		}
	}
	return i, began
}

// offPlan is by how much the pit is set otherwise than planned: against the phase, up to
// the one the cut is in, that it was set for. A step that is long overdue was skipped.
func (s Standing) offPlan(smokes []phase.Phase, i int, began float64) float64 {
	of := i
	for k := i; k >= 0 && smokes[k].PitID == smokes[i].PitID; k-- {
		if math.Abs(s.AirC-smokes[k].SetC) < math.Abs(s.AirC-smokes[of].SetC) {
			of = k
		}
	}
	if of < i && s.For-began > skippedAfterS {
		of = i
	}
	return s.AirC - smokes[of].SetC
}

// there says whether a phase is in the pit the cut lies in.
func (s Standing) there(p phase.Phase) bool {
	return p.PitID == 0 && s.MovedS == 0 || p.PitID == s.PitID
}

// covered is the phase that the wraps and unwraps of a cut have brought it to, and since when.
// A cover that was opened and closed again brings it back to where it was.
func (s Standing) covered(smokes []phase.Phase) (i int, began float64) {
	since := make([]float64, len(smokes))
	for _, c := range s.Covers {
		next := i + 1
		for next < len(smokes) && coverOf(smokes[next]) == coverOf(smokes[i]) {
			next++
		}
		if next < len(smokes) && smokes[next].Bare() == c.Bare {
			i, since[next] = next, c.At
			continue
		}
		for back := i - 1; back >= 0 && smokes[i].Bare() != c.Bare; back-- {
			if smokes[back].Bare() == c.Bare {
				i = back
			}
		}
	}
	return i, since[i]
}

func coverOf(p phase.Phase) string {
	if p.Bare() {
		return ""
	}
	return p.Wrap
}

// over says whether the ends of a phase are met, each by so much.
func (s Standing) over(p phase.Phase, began, byS, byC float64) bool {
	met := 0
	for _, e := range p.Ends {
		switch e.Watch {
		case phase.ByTime:
			if s.For-began >= e.Value+byS {
				met++
			}
		case phase.ByCore:
			if s.core() >= e.Value+byC {
				met++
			}
		}
	}
	return met == len(p.Ends) || !p.All && met > 0
}

// ended is when a phase that is over ended, as far as clock and probe tell; else now.
func (s Standing) ended(p phase.Phase, began float64) float64 {
	if v, fixed := p.Fixed(); fixed {
		return began + v
	}
	for _, e := range p.Ends {
		if e.Watch != phase.ByCore || len(p.Ends) > 1 {
			continue
		}
		for i, r := range s.Probe {
			if r.Time > began && forecast.MedianC(s.Probe[i:min(i+few, len(s.Probe))]) >= e.Value {
				return r.Time
			}
		}
	}
	return s.For
}

// few readings tell more than the last: one may be a spark in the wire.
const few = 5

// core is what the probe shows, the median of its last readings; NaN while there is none.
func (s Standing) core() float64 {
	return forecast.MedianC(s.Probe[max(0, len(s.Probe)-few):])
}

func (s Standing) ahead(smokes []phase.Phase, now int, began float64) []forecast.Ahead {
	left := smokes[now:]
	out := make([]forecast.Ahead, len(left))
	off := s.offPlan(smokes, now, began)
	for i, p := range left {
		a := forecast.Ahead{Name: p.Name, Air: s.AirC, InPit: true, Exchange: s.Lies.Exchange, AirAdd: s.Lies.AirAdd}
		if p.SetC > 0 {
			a.Air = p.SetC + off
		}
		passed := s.For - began
		if i > 0 {
			passed = 0
			changes := coverOf(p) != coverOf(left[i-1])
			place, elsewhere := s.place(p, left[i-1])
			a.Exchange, a.AirAdd = out[i-1].Exchange, out[i-1].AirAdd
			if changes || elsewhere {
				wrap, err := wrapOf(p.Wrap)
				if err != nil {
					wrap = thermal.Wraps[0]
				}
				a.Exchange, a.AirAdd = place.Exchange(wrap), wrap.AirAdd
				if changes {
					a.Liquid, a.LiquidAt = p.LiquidG/1000, liquidC
				}
			}
			if !s.there(p) && p.SetC > 0 {
				a.Air = p.SetC // a cooker that is set anew
			}
		}
		if i == len(left)-1 {
			out[i] = s.last(a, p, passed)
			continue
		}
		a.End, a.Value, a.More, a.All = s.ending(p, passed)
		out[i] = a
	}
	return out
}

// place is what a coming phase is cooked in, and whether that is another than before it.
func (s Standing) place(p, before phase.Phase) (place thermal.Surroundings, elsewhere bool) {
	if p.Kind.Cooks() {
		if x, err := thermal.SurroundingsOf(surroundingsOf[p.Kind]); err == nil {
			return x, true
		}
	}
	for _, k := range s.Cookers {
		if k.ID == p.PitID && !s.there(p) {
			return k.Surroundings, p.PitID != before.PitID || before.Kind.Cooks()
		}
	}
	return s.Place, p.PitID != before.PitID || before.Kind.Cooks()
}

// liquidC is how warm what is poured into a wrap usually is.
const liquidC = 60.0

// leastLeft is the shortest rest of a phase that the clock ends, s.
const leastLeft = 60.0

// last is the phase at whose end the cut is pulled: by the clock, where that alone ends it,
// else when its probe shows the target.
func (s Standing) last(a forecast.Ahead, p phase.Phase, passed float64) forecast.Ahead {
	a.Name, a.End, a.Value = "done", thermal.ByProbe, s.TargetC
	if _, ok := phase.PullCore([]phase.Phase{p}); !ok && len(p.Ends) > 0 {
		if end, value, _, _ := s.ending(p, passed); end == thermal.ByTime {
			a.End, a.Value = end, math.Max(value, leastLeft)
		}
	}
	return a
}

// ending says the ends of a phase under way or to come in the terms of a forecast: a core is
// read by its probe, feel and looks are the usual ones.
func (s Standing) ending(p phase.Phase, passed float64) (end thermal.Quantity, value float64, more []thermal.Until, all bool) {
	end, value, more, all = ending(p, [allUnknowns]float64{})
	fit := func(u thermal.Until) thermal.Until {
		switch u.Watch {
		case thermal.ByCore:
			u.Watch = thermal.ByProbe
		case thermal.ByTime:
			u.Value = math.Max(u.Value-passed, leastLeft)
		}
		return u
	}
	first := fit(thermal.Until{Watch: end, Value: value})
	for i := range more {
		more[i] = fit(more[i])
	}
	return first.Watch, first.Value, more, all
}
