package settle

import (
	"cmp"
	"fmt"
	"slices"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// Contrast is what one cook of a trial showed of two levels that differ in nothing else:
// the first level's value less the second's.
type Contrast struct {
	First, Second int64 // levels, by their rows in the catalogue
	Key           trial.OutcomeKey
	Cook          string // of which trial and day
	Difference    float64
}

// next adds whether another day would show it: cooks are the units, each with its own
// difference, of this trial and of the house's trials of the same two levels.
func (t Trial) next(pairs []Pair, d trial.OutcomeDefault, chosen trial.Chosen) {
	evidence := make([]verdict.ArmPair, len(pairs))
	levels := make([]verdict.Levels, len(pairs))
	for i, p := range pairs {
		own, floor := t.cookDifferences(p, d)
		all := make([]float64, 0, len(own))
		for _, c := range own {
			all = append(all, c.Difference)
		}
		borrowed := t.fromTheHouse(p, d.Key)
		all = append(all, borrowed...)
		c, why := verdict.PairedBy(all, floor, false)
		evidence[i] = verdict.ArmPair{A: p.A, B: p.B, Evidence: c, Why: why}
		// A number of cooks that was fixed before the first is read once.
		fixed := t.Look.Cooks > 0 && t.Look.Cooks == len(own) && len(borrowed) == 0 && t.Look.Kind == Planned
		levels[i] = verdict.CookLevels(len(all), fixed)
	}
	for i := range pairs {
		cooks := 0
		if e := evidence[i].Evidence; e != nil {
			cooks = e.Pairs
		}
		if cooks < 2 {
			pairs[i].Next = Side{Units: []int{cooks, cooks}, Word: verdict.CannotTell, Why: notAsked(cooks, pairs[i])}
			continue
		}
		word := judge(evidence, chosen.SmallestDifference, levels[i])[i]
		units := make([]int, len(t.Ask.Arms))
		units[pairs[i].A], units[pairs[i].B] = cooks, cooks
		s := sideOf(evidence[i], word, units, d)
		switch {
		case cooks == 2 && s.Word != verdict.CannotTell:
			s.Why = "two cooks: it leans at most"
		case s.Word == verdict.CannotTell:
			s.Need = fmt.Sprintf("%s so far; each day more tells more of the days.", words.Plural(cooks, "cook"))
		}
		pairs[i].Next = s
	}
}

func notAsked(cooks int, p Pair) string {
	if cooks == 0 && p.Unit != trial.UnitCut {
		return "not asked: no day held both; the days are part of the spread between runs"
	}
	if cooks == 0 {
		return "not asked: no cook held both"
	}
	return "not asked: one cook"
}

// cookDifferences are what each cook of this trial shows of two arms by itself, and the
// standard deviation that the step of the scale leaves unsure in such a difference.
func (t Trial) cookDifferences(p Pair, d trial.OutcomeDefault) (out []Contrast, floor float64) {
	byCook := map[string][]verdict.Observation{}
	var cooks []string
	for _, o := range t.observations(d, p.Unit) {
		if o.Arm != p.A && o.Arm != p.B {
			continue
		}
		if byCook[o.Cook] == nil {
			cooks = append(cooks, o.Cook)
		}
		byCook[o.Cook] = append(byCook[o.Cook], o)
	}
	if t.doubt(d) != "" {
		return nil, 0 // no evidence for another day
	}
	slices.SortFunc(cooks, cmp.Compare[string])
	first, second, _ := t.levels(p.A, p.B)
	for _, cook := range cooks {
		o := verdict.Compare(verdict.Units(byCook[cook]), verdict.Setting{Arms: len(t.Ask.Arms), OnRuns: p.Unit != trial.UnitCut})
		if e := pairOf(o, p.A, p.B).Evidence; e != nil {
			out = append(out, Contrast{first, second, d.Key, cook, e.Estimate})
			floor += variance(byCook[cook], p.A) + variance(byCook[cook], p.B)
		}
	}
	return out, sqrt(floor / max(1, float64(len(out))))
}

// variance is what the step of the scale leaves unsure in the mean of an arm's units.
func variance(units []verdict.Observation, arm int) (v float64) {
	n := 0.0
	for _, u := range units {
		if u.Arm == arm {
			v += u.Floor * u.Floor
			n++
		}
	}
	return v / max(1, n*n)
}

// levels are the rows of the one factor in which two arms differ; ok is false where they
// differ in more, or in what is in no catalogue.
func (t Trial) levels(a, b int) (first, second int64, ok bool) {
	n := 0
	for i, f := range t.Ask.Factors {
		x, y := t.Ask.Arms[a].Levels[i], t.Ask.Arms[b].Levels[i]
		if f.Same(x, y) {
			continue
		}
		n++
		first, second = x.ID, y.ID
	}
	return first, second, n == 1 && first != 0 && second != 0
}

// fromTheHouse are the cooks of other trials that compared the same two levels.
func (t Trial) fromTheHouse(p Pair, key trial.OutcomeKey) (out []float64) {
	first, second, ok := t.levels(p.A, p.B)
	if !ok {
		return nil
	}
	for _, c := range t.Others {
		switch {
		case c.Key != key:
		case c.First == first && c.Second == second:
			out = append(out, c.Difference)
		case c.First == second && c.Second == first:
			out = append(out, -c.Difference)
		}
	}
	return out
}

// Contrasts are what the cooks of this trial show of each two of its levels, for the
// house's other trials. One with a named limit is no evidence for others.
func (t Trial) Contrasts() (out []Contrast) {
	t.fitted = map[trial.OutcomeKey]map[string]panel.CutMean{}
	for _, l := range limits(t, t.delivered()) {
		if l.Confound {
			return nil
		}
	}
	for _, chosen := range t.Ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok || d.Better == trial.Description {
			continue
		}
		for _, p := range t.armPairs() {
			if _, _, ok := t.levels(p.A, p.B); ok {
				own, _ := t.cookDifferences(p, d)
				out = append(out, own...)
			}
		}
	}
	return out
}
