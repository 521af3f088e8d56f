package panel

import (
	"gonum.org/v1/gonum/stat"

	"whitebarn/core/verdict"
)

// Score is what one taster gave one cut on one attribute. Flight groups the
// samples that were served together.
type Score struct {
	Taster, Cut, Flight string
	Arm                 int
	Value               float64
}

// CutMeans is each cut's mean over tasters, adjusted for who tasted it where
// ballots are missing: the least squares of score ~ cut + taster within each
// flight, averaged over all its tasters.
func CutMeans(scores []Score) map[string]float64 {
	means := map[string]float64{}
	byFlight := map[string][]Score{}
	for _, s := range scores {
		byFlight[s.Flight] = append(byFlight[s.Flight], s)
	}
	for _, flight := range byFlight {
		cuts, tasters := map[string]int{}, map[string]int{}
		cells := make([]verdict.Cell, len(flight))
		plain := map[string][]float64{}
		for i, s := range flight {
			cells[i] = verdict.Cell{Arm: number(cuts, s.Cut), Block: number(tasters, s.Taster), Y: s.Value}
			plain[s.Cut] = append(plain[s.Cut], s.Value)
		}
		fit := verdict.LeastSquares(len(cuts), len(tasters), cells)
		for cut, i := range cuts {
			if mean, _, ok := fit.Mean(i); ok {
				means[cut] = mean
			} else {
				means[cut] = stat.Mean(plain[cut], nil)
			}
		}
	}
	return means
}

// TasterMeans is each taster's mean of each arm, for the question whether the
// panel told these pieces apart: tasters are the blocks.
func TasterMeans(scores []Score) []verdict.Observation {
	all := make([]verdict.Observation, len(scores))
	for i, s := range scores {
		all[i] = verdict.Observation{Arm: s.Arm, Unit: s.Taster, Block: s.Taster, Value: s.Value}
	}
	return verdict.Units(all)
}

func number(of map[string]int, name string) int {
	n, ok := of[name]
	if !ok {
		n = len(of)
		of[name] = n
	}
	return n
}
