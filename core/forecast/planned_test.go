package forecast_test

import (
	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
)

// The synthetic cooks are forecast by their plans as those of the barn are.
func init() {
	place, err := thermal.SurroundingsOf("generic")
	if err != nil {
		panic(err) // it is in the table
	}
	forecast.Planned = func(wrap string, wrapAt, target, stepAt float64, sets [2]float64, l forecast.Log, wrapped []float64) []forecast.Ahead {
		s := plan.Standing{For: l.Now, Probe: l.Probe, AirC: l.SetPoint, Lies: l.Stages[len(l.Stages)-1], Place: place, TargetC: target}
		for _, at := range wrapped {
			s.Covers = append(s.Covers, plan.Cover{At: at})
		}
		if len(l.Sets) > 1 {
			s.SetS = l.Sets[1].Time
		}
		until := func(c float64) []phase.End { return []phase.End{{Watch: phase.ByCore, Value: c}} }
		phases := []phase.Phase{{Kind: phase.Smoke, Name: "smoke", SetC: sets[0], Ends: until(target)}}
		after := func(core float64, next phase.Phase) {
			phases[len(phases)-1].Ends = until(core)
			next.Kind, next.Ends = phase.Smoke, until(target)
			phases = append(phases, next)
		}
		if stepAt > 0 {
			after(stepAt, phase.Phase{Name: "hotter", SetC: sets[1]})
		}
		if wrapAt > 0 {
			after(wrapAt, phase.Phase{Name: "wrapped", SetC: sets[1], Wrap: wrap})
		}
		return plan.AheadOf(phases, s)
	}
}
