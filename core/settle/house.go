package settle

import (
	"math"
	"slices"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// Pool is what one trial, or several, know of a spread: the sum of squares within
// arms, and its degrees of freedom.
type Pool struct {
	Kind     trial.UnitKind
	InBlocks bool // within blocks, else within cooks
	Key      trial.OutcomeKey
	SS, DF   float64
}

// Pools are what a trial knows of the spread between units of each kind it set a
// factor on, of every outcome that has a value.
func (t Trial) Pools() []Pool {
	rows := slices.Clone(trial.Catalogue)
	for _, o := range t.Ask.Outcomes {
		if d, ok := o.Outcome(); ok && o.Own != nil {
			rows = append(rows, d)
		}
	}
	var out []Pool
	told := map[trial.UnitKind]bool{}
	for _, f := range t.Ask.Factors {
		if told[f.SetOn] {
			continue
		}
		told[f.SetOn] = true
		for _, inBlocks := range []bool{false, true} {
			if inBlocks && f.SetOn != trial.UnitCut {
				continue
			}
			of := t
			if !inBlocks {
				of.Cuts = slices.Clone(t.Cuts)
				for i := range of.Cuts {
					of.Cuts[i].Block = ""
				}
			}
			for _, d := range rows {
				o := verdict.Compare(verdict.Units(of.observations(d, f.SetOn)), verdict.Setting{Arms: len(t.Ask.Arms), OnRuns: f.SetOn != trial.UnitCut})
				if o.SD != nil && !o.Floored {
					out = append(out, Pool{f.SetOn, inBlocks, d.Key, *o.SD * *o.SD * float64(o.DF), float64(o.DF)})
				}
			}
		}
	}
	return out
}

// HousesOf is the house's own spread for each kind of unit that an ask sets a factor
// on, from what earlier trials of the same product know: within blocks where the
// units at hand stand in blocks, else within cooks.
func HousesOf(earlier []Pool, ask trial.Ask, inBlocks bool) map[trial.UnitKind]House {
	out := map[trial.UnitKind]House{}
	for _, f := range ask.Factors {
		if out[f.SetOn] == nil {
			out[f.SetOn] = houseOf(earlier, f.SetOn, inBlocks && f.SetOn == trial.UnitCut)
		}
	}
	return out
}

func houseOf(earlier []Pool, kind trial.UnitKind, inBlocks bool) House {
	sums := map[trial.OutcomeKey]Pool{}
	for _, p := range earlier {
		if p.Kind == kind && p.InBlocks == inBlocks {
			sum := sums[p.Key]
			sums[p.Key] = Pool{SS: sum.SS + p.SS, DF: sum.DF + p.DF}
		}
	}
	out := House{}
	for k, p := range sums {
		out[k] = verdict.Spread{SD: math.Sqrt(p.SS / p.DF), DF: int(p.DF)}
	}
	return out
}
