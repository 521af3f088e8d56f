package plan

import (
	"fmt"
	"math"

	"whitebarn/core/safety"
	"whitebarn/core/units"
)

// The clocks of safety that a plan can see coming, s and C.
const (
	ruleOfThumbS = 4 * 3600.0 // from the fridge until 140 F: it only warns
	comeUpS      = 6 * 3600.0 // from 50 to 130 F: over it the gate is shut
)

var thumbC, comeUpFromC, comeUpToC = units.FToC(140), units.FToC(50), units.FToC(130)

// ofWarmth says beforehand which arm's usual cut will warm too slowly.
func (w *work) ofWarmth(l *Lane) {
	passes, comeUp := 0.0, 0.0
	for _, c := range w.in.cutsOf(l.Arm) {
		r := w.lengths[c].usual.Readings
		core := func(i int) (s, c float64) { return r[i].Time, r[i].Core }
		passes = max(passes, crossing(len(r), core, thumbC))
		comeUp = max(comeUp, crossing(len(r), core, comeUpToC)-crossing(len(r), core, comeUpFromC))
	}
	tag := w.in.Arms[l.Arm].Tag
	ways := []WayOut{say("Raise the pit until it has passed"), say("Cook smaller pieces, or cut them apart")}
	switch {
	case comeUp > comeUpS:
		w.conflict(SlowWarm, l.On, l.On.Add(seconds(passes)), l.Arm, -1,
			fmt.Sprintf("%s takes about %s from {C:10} to {C:54.4}. Over 6 h the gate to the table is shut, to whole red meat but for a reason. Source: %s",
				tag, span(comeUp), safety.ComeUpSource), ways...)
	case passes > ruleOfThumbS:
		w.conflict(SlowWarm, l.On, l.On.Add(seconds(passes)), l.Arm, -1,
			fmt.Sprintf("%s passes {C:60} about %s after it goes on. A rule of thumb of the trade warns at 4 h; the verdict will name it.", tag,
				span(passes)), ways...)
	}
}

// crossing is when a series first passes a value, on the straight line between two
// readings; 0 when it never does, or is over it from the start.
func crossing(n int, at func(int) (s, v float64), value float64) float64 {
	for i := 1; i < n; i++ {
		s0, v0 := at(i - 1)
		s1, v1 := at(i)
		if v0 < value && v1 >= value {
			return s0 + (s1-s0)*(value-v0)/math.Max(v1-v0, 1e-9)
		}
	}
	return 0
}
