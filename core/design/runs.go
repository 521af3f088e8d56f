package design

import (
	"slices"
	"strings"

	"whitebarn/core/trial"
)

// RunLevels is what a pit run carries: the levels set on it, which every cut on it has.
type RunLevels struct {
	Arms   []int  // that have cuts on it
	Levels string // as in "pan: water, wood: alder"; empty where nothing is set on pits
	Mixed  string // the factor of which its cuts have two levels; empty for none
}

// LevelsOfRuns reads the levels of pit runs from the arms of the cuts on them. A run whose
// cuts have two levels of what is set on pits is mixed.
func LevelsOfRuns(ask trial.Ask, armsOn map[int64][]int) map[int64]RunLevels {
	out := map[int64]RunLevels{}
	for run, arms := range armsOn {
		r := RunLevels{Arms: slices.Compact(slices.Sorted(slices.Values(arms)))}
		var said []string
		for f, factor := range ask.Factors {
			if factor.SetOn != trial.UnitPitRun || len(r.Arms) == 0 {
				continue
			}
			first := ask.Arms[r.Arms[0]].Levels[f]
			for _, arm := range r.Arms[1:] {
				if !factor.Same(first, ask.Arms[arm].Levels[f]) && r.Mixed == "" {
					r.Mixed = factor.Name
				}
			}
			if first.Value != "" {
				said = append(said, factor.Name+": "+first.Value)
			}
		}
		r.Levels = strings.Join(said, ", ")
		if r.Mixed != "" {
			r.Levels = ""
		}
		out[run] = r
	}
	return out
}
