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
	forecast.Planned = func(wrap string, wrapAt, target float64, l forecast.Log, wrapped []float64) []forecast.Ahead {
		var covers []plan.Cover
		for _, at := range wrapped {
			covers = append(covers, plan.Cover{At: at})
		}
		until := func(c float64) []phase.End { return []phase.End{{Watch: phase.ByCore, Value: c}} }
		phases := []phase.Phase{{Kind: phase.Smoke, Name: "smoke", SetC: l.SetPoint, Ends: until(target)}}
		if wrapAt > 0 {
			phases[0].Ends = until(wrapAt)
			phases = append(phases, phase.Phase{Kind: phase.Smoke, Name: "wrapped", SetC: l.SetPoint, Wrap: wrap, Ends: until(target)})
		}
		return plan.AheadOf(phases, plan.Standing{For: l.Now, Probe: l.Probe, Covers: covers, AirC: l.SetPoint,
			Lies: l.Stages[len(l.Stages)-1], Place: place, TargetC: target})
	}
}
