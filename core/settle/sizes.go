package settle

import (
	"gonum.org/v1/gonum/stat"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// Sized is what a settled trial showed of two levels on an outcome: first less second, by the
// spread of its own units, with the word of its own cooks: what other trials showed is no part.
type Sized struct {
	First    int64            `json:"first"`
	Second   int64            `json:"second"`
	Key      trial.OutcomeKey `json:"key"`
	Estimate float64          `json:"estimate"`
	SE       float64          `json:"se"`
	DF       int              `json:"df"`
	Units    float64          `json:"units"`
	Word     verdict.Word     `json:"word"`
	Reach    verdict.Reach    `json:"reach"`
	Smallest float64          `json:"smallest"`
	Limited  string           `json:"limited"` // a named limit; empty is none
	Setting  Setting          `json:"setting"`
}

// Setting is what a contrast was shown in.
type Setting struct {
	Tags    [2]string        `json:"tags"`
	Means   [2]*float64      `json:"means"`
	Pits    []string         `json:"pits"`
	Cooks   int              `json:"cooks"`
	Cuts    int              `json:"cuts"`
	Tasters int              `json:"tasters"`
	Kg      float64          `json:"kg"`
	Facts   map[Fact]float64 `json:"facts"` // of all cuts of both arms
}

// Sizes are those of each two arms that differ in one level of the catalogue, for the house.
// One whose tasters all knew the codes is no evidence.
func (t Trial) Sizes(r Result) (out []Sized) {
	t.fitted = map[trial.OutcomeKey]map[string]panel.CutMean{}
	limited := ""
	for _, l := range r.Limits {
		if l.Confound {
			limited = l.Text
			break
		}
	}
	if t.Ask.WrittenUp {
		limited = "it was written up later from a notebook"
	}
	for _, row := range r.Rows {
		if len(row.Pairs) == 0 || row.Open {
			continue
		}
		chosen, _ := t.chosen(row.Outcome.Key)
		cutFit := t.compare(t.observations(row.Outcome, trial.UnitCut), trial.UnitCut, row.Outcome, chosen)
		_, evidence := t.evidence(row.Pairs, cutFit, row.Outcome, chosen)
		for i, p := range row.Pairs {
			first, second, ok := t.levels(p.A, p.B)
			e := evidence[i].Evidence
			if !ok || e == nil || !(e.SE > 0) || e.DF < 1 || e.Borrowed {
				continue
			}
			s := Sized{First: first, Second: second, Key: row.Outcome.Key, Estimate: e.Estimate, SE: e.SE, DF: e.DF, Units: e.Units,
				Word: p.Cooks.Word, Reach: verdict.TheseCooks,
				Smallest: row.SmallestDifference, Limited: limited, Setting: t.setting(p, row)}
			out = append(out, s)
		}
	}
	return out
}

// chosen is an outcome as the trial chose it.
func (t Trial) chosen(key trial.OutcomeKey) (trial.Chosen, bool) {
	for _, c := range t.Ask.Outcomes {
		if c.Key == key {
			return c, true
		}
	}
	return trial.Chosen{}, false
}

func (t Trial) setting(p Pair, row Row) Setting {
	s := Setting{Tags: [2]string{t.Ask.Arms[p.A].Tag, t.Ask.Arms[p.B].Tag}, Tasters: row.Tasters, Facts: map[Fact]float64{}}
	if len(row.Means) > p.B {
		s.Means = [2]*float64{row.Means[p.A], row.Means[p.B]}
	}
	of := t
	of.Cuts = nil
	for _, c := range t.Cuts {
		if c.MayCount && (c.Arm == p.A || c.Arm == p.B) {
			of.Cuts = append(of.Cuts, c)
		}
	}
	s.Pits, s.Cooks, s.Cuts = of.distinct(func(c Cut) string { return c.Pit }), len(of.distinct(func(c Cut) string { return c.Cook })), len(of.Cuts)
	values := map[Fact][]float64{}
	var kg []float64
	for _, c := range of.Cuts {
		for f, v := range c.Facts {
			values[f] = append(values[f], v)
		}
		if c.Kg != nil {
			kg = append(kg, *c.Kg)
		}
	}
	for f, v := range values {
		s.Facts[f] = stat.Mean(v, nil)
	}
	if len(kg) > 0 {
		s.Kg = stat.Mean(kg, nil)
	}
	return s
}
