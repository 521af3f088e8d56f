package watch

import (
	"whitebarn/core/forecast"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// planned is what is still to come of a cut by its plan, up to the pull.
func (c cook) planned(b burning, l forecast.Log) []forecast.Ahead {
	s := plan.Standing{For: l.Now, Probe: l.Probe, AirC: l.SetPoint, Lies: l.Stages[len(l.Stages)-1], Place: b.run.Kind, TargetC: c.target(b)}
	for _, k := range b.Changes(c.trial.Ask.Said(c.trial.ArmOf(b.Cut), trial.Wrap), c.now)[1:] {
		if !k.Spritz {
			s.Covers = append(s.Covers, plan.Cover{At: k.At.Sub(b.on).Seconds(), Bare: k.Wrap == thermal.Wraps[0]})
		}
	}
	return plan.AheadOf(c.phases(b), s)
}
