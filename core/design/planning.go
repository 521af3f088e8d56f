package design

import (
	"slices"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// CurvePoint is a number of units an arm and its chances.
type CurvePoint struct {
	Units   int      `json:"units"`
	Clear   float64  `json:"clear"` // chance of *clear* when the truth is twice what matters
	Same    float64  `json:"same"`  // chance of *same* when the truth is no difference
	Detects *float64 `json:"detects"`
}

// Number is the planning of one outcome for one kind of unit.
type Number struct {
	Outcome  trial.OutcomeDefault `json:"outcome"`
	D        float64              `json:"smallest_difference"`
	SD       float64              `json:"sd"`
	SpreadDF int                  `json:"spread_df"` // of the house's spread; 0: the table's
	Unit     trial.UnitKind       `json:"unit"`
	Factors  []string             `json:"factors"` // that are set on it
	Units    int                  `json:"units"`   // an arm, in this layout
	verdict.Need
	Detects *float64     `json:"detects"` // the difference this layout finds 8 times in 10
	Curve   []CurvePoint `json:"curve"`
}

// curvePoints are the numbers of units of a curve.
var curvePoints = []int{2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 26, 32, 40}

// Numbers plans every outcome that decides, for each kind of unit a varied
// factor is set on. Spread comes from the house's record of that kind of unit
// where it has one, else from the table of outcomes, where a cut's mean over
// the tasters at hand carries their share of spread too. have, where it is not nil,
// are the units an arm that hang already.
func Numbers(a trial.Ask, house func(trial.UnitKind) map[trial.OutcomeKey]verdict.Spread, have func(trial.UnitKind) int) []Number {
	out := []Number{}
	if len(a.Arms) < 2 {
		return out
	}
	planned := PlannedUnits(a)
	for _, kind := range []trial.UnitKind{trial.UnitCut, trial.UnitBatch, trial.UnitHolderRun, trial.UnitPitRun} {
		var factors []string
		units := planned.PerArm
		for f, factor := range a.Factors {
			if factor.SetOn == kind && len(levels(a, f)) > 1 {
				factors = append(factors, factor.Name)
				if kind != trial.UnitCut {
					units = planned.PerLevel[f]
				}
			}
		}
		if factors == nil {
			continue
		}
		if have != nil {
			units = have(kind)
		}
		planner := verdict.Planner{Layout: LayoutOf(a, kind)}
		spreads := house(kind)
		for _, chosen := range a.Outcomes {
			d, ok := chosen.Outcome()
			if !ok || d.Better == trial.Description {
				continue
			}
			out = append(out, numberOf(d, chosen.SmallestDifference, spreads, kind, factors, units, a.Hand.Tasters, planner))
		}
	}
	return out
}

func numberOf(d trial.OutcomeDefault, smallest float64, spreads map[trial.OutcomeKey]verdict.Spread, kind trial.UnitKind, factors []string, units, tasters int, p verdict.Planner) Number {
	n := Number{Outcome: d, D: smallest, SD: d.SDOfCuts(tasters), Unit: kind, Factors: factors, Units: units, Curve: []CurvePoint{}}
	if s, ok := spreads[d.Key]; ok && s.SD > 0 && s.DF >= verdict.LeastBorrowed {
		n.SD, n.SpreadDF = s.SD, s.DF
	}
	if !(n.SD > 0 && n.D > 0) {
		return n
	}
	p.SD, p.D = n.SD, n.D
	n.Need, n.Detects = p.NeedOf(), p.Detects(units)
	points := curvePoints
	if units > 1 && !slices.Contains(points, units) {
		points = append(slices.Clone(points), units)
		slices.Sort(points)
	}
	for _, k := range points {
		n.Curve = append(n.Curve, CurvePoint{Units: k, Clear: p.Clear(k, 2*n.D), Same: p.Same(k), Detects: p.Detects(k)})
	}
	return n
}

// LayoutOf is how units of a kind meet in the ask as laid out.
func LayoutOf(a trial.Ask, kind trial.UnitKind) verdict.Layout {
	v := len(a.Arms)
	l := verdict.Layout{Arms: v, BlockSize: min(a.Hand.BlockSize, v)}
	switch {
	case kind == trial.UnitCut && a.Layout == Halves:
		l.BlockSize = v
	case kind == trial.UnitPitRun: // a cook day is the block of its pits
		l.BlockSize = min(a.Hand.Pits, v)
	case kind != trial.UnitCut:
		l.BlockSize = v
	}
	return l
}
