package design

import (
	"strings"

	"whitebarn/core/trial"
)

// RunLevels is what a unit that holds several cuts carries, as a pit run or a batch: the
// levels set on it, which every cut of it has.
type RunLevels struct {
	Levels string // as in "pan: water, wood: alder"; empty where nothing is set on such units
	Mixed  string // the factor of which its cuts have two levels; empty for none
}

// LevelsOn reads the levels of a unit of a kind from the arms of the cuts in it.
func LevelsOn(ask trial.Ask, kind trial.UnitKind, arms []int) RunLevels {
	var r RunLevels
	var said []string
	for f, factor := range ask.Factors {
		if factor.SetOn != kind || len(arms) == 0 {
			continue
		}
		first := ask.Arms[arms[0]].Levels[f]
		for _, arm := range arms[1:] {
			if !factor.Same(first, ask.Arms[arm].Levels[f]) && r.Mixed == "" {
				r.Mixed = factor.Name
			}
		}
		if first.Value != "" {
			said = append(said, factor.Name+": "+first.Value)
		}
	}
	if r.Mixed == "" {
		r.Levels = strings.Join(said, ", ")
	}
	return r
}

// LevelsOfRuns reads the levels of pit runs from the arms of the cuts on them.
func LevelsOfRuns(ask trial.Ask, armsOn map[int64][]int) map[int64]RunLevels {
	out := map[int64]RunLevels{}
	for run, arms := range armsOn {
		out[run] = LevelsOn(ask, trial.UnitPitRun, arms)
	}
	return out
}
