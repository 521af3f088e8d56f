package watch

import (
	"whitebarn/core/forecast"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// planned is what is still to come of a cut by its plan, up to the pull.
func (c cook) planned(b burning, l forecast.Log) []forecast.Ahead {
	s := plan.Standing{For: l.Now, Probe: l.Probe, AirC: l.SetPoint, Lies: l.Stages[len(l.Stages)-1], Place: b.run.Kind, TargetC: c.target(b),
		PitID: b.run.PitID, Cookers: c.cookers}
	if set := b.run.LastSet(c.now); set.After(b.on) {
		s.SetS = set.Sub(b.on).Seconds()
	}
	if b.stay.From.After(b.on) {
		s.MovedS = b.stay.From.Sub(b.on).Seconds()
	}
	for _, k := range b.Changes(c.trial.Ask.Said(c.trial.ArmOf(b.Cut), trial.Wrap), c.now)[1:] {
		if !k.Spritz && k.At.After(b.on) {
			s.Covers = append(s.Covers, plan.Cover{At: k.At.Sub(b.on).Seconds(), Bare: k.Wrap == thermal.Wraps[0]})
		}
	}
	return plan.AheadOf(c.phases(b), s)
}
