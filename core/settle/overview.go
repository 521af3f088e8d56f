package settle

import (
	"cmp"
	"math"
	"slices"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// barOf is the least difference that is told apart, of the middle pair: tasters who part on
// some two arms widen those alone.
func barOf(pairs []verdict.ArmPair) *float64 {
	var all []float64
	for _, p := range pairs {
		if p.Evidence == nil {
			continue
		}
		if apart := p.Evidence.Apart(len(pairs)); apart != nil {
			all = append(all, *apart)
		}
	}
	if len(all) == 0 {
		return nil
	}
	slices.Sort(all)
	return &all[(len(all)-1)/2]
}

// ranksOf ranks arms by their means, 1 is best, ties share the middle; 0 for an arm without.
func ranksOf(means []*float64, better trial.Better) []float64 {
	out := make([]float64, len(means))
	for a, m := range means {
		if m == nil {
			continue
		}
		before, alike := 0.0, 0.0
		for _, other := range means {
			if other == nil {
				continue
			}
			switch d := *other - *m; {
			case math.Abs(d) < 1e-9:
				alike++
			case (d > 0) == (better == trial.Up):
				before++
			}
		}
		out[a] = before + (alike+1)/2
	}
	return out
}

// Effect is what one of several crossed factors does by itself, or two do together:
// the first level less the second, over all levels of the others.
type Effect struct {
	Factors  []string          `json:"factors"`
	First    string            `json:"first"` // levels; empty for what factors do together
	Second   string            `json:"second"`
	Estimate float64           `json:"estimate"`
	CI90     *verdict.Interval `json:"ci90"`
	P        *float64          `json:"p"`
	Word     verdict.Word      `json:"word"`
	Unit     trial.UnitKind    `json:"unit"`
}

// crossing is how two-level factors meet: the sign of each factor in each arm; ok where every
// combination is one arm.
func crossing(ask trial.Ask) (signs [][]float64, ok bool) {
	k := len(ask.Factors)
	if k < 2 || k > 3 || len(ask.Arms) != 1<<k {
		return nil, false
	}
	seen := map[int]bool{}
	signs = make([][]float64, k)
	for f := range signs {
		signs[f] = make([]float64, len(ask.Arms))
	}
	for a, arm := range ask.Arms {
		cell := 0
		for f, factor := range ask.Factors {
			signs[f][a] = 1
			if !factor.Same(arm.Levels[f], ask.Arms[0].Levels[f]) {
				signs[f][a] = -1
				cell |= 1 << f
			}
		}
		seen[cell] = true
	}
	// Two levels a factor: an arm at a third one would look like another arm's cell.
	for f, factor := range ask.Factors {
		levels := map[string]bool{}
		for _, arm := range ask.Arms {
			levels[factor.LevelIn(arm.Levels[f])] = true
		}
		if len(levels) != 2 {
			return nil, false
		}
	}
	return signs, len(seen) == len(ask.Arms)
}

// effects are the main effects and what factors do together, the longest first named last. A
// factor set on runs is judged on runs, whatever is set on cuts on those.
func (t Trial) effects(d trial.OutcomeDefault, chosen trial.Chosen) []Effect {
	out := []Effect{}
	signs, ok := crossing(t.Ask)
	if !ok {
		return out
	}
	var of [][]int
	for set := 1; set < 1<<len(signs); set++ {
		var factors []int
		for f := range signs {
			if set&(1<<f) != 0 {
				factors = append(factors, f)
			}
		}
		of = append(of, factors)
	}
	slices.SortStableFunc(of, func(a, b []int) int { return cmp.Compare(len(a), len(b)) })
	for _, factors := range of {
		if e, ok := t.effect(factors, signs, d, chosen); ok {
			out = append(out, e)
		}
	}
	return out
}

func (t Trial) effect(factors []int, signs [][]float64, d trial.OutcomeDefault, chosen trial.Chosen) (e Effect, ok bool) {
	e.Unit = trial.UnitPitRun
	for _, f := range factors {
		e.Factors = append(e.Factors, t.Ask.Factors[f].Name)
		if t.Ask.Factors[f].SetOn != trial.UnitPitRun {
			e.Unit = t.Ask.Factors[f].SetOn
		}
	}
	units := t.observations(d, e.Unit)
	weights := make([]float64, len(t.Ask.Arms))
	for a := range weights {
		weights[a] = 2 / float64(len(weights))
		for _, f := range factors {
			weights[a] *= signs[f][a]
		}
	}
	arms := len(t.Ask.Arms)
	if len(factors) == 1 && e.Unit != trial.UnitCut { // whole runs, whatever else is in them
		f := factors[0]
		for i, o := range units {
			units[i].Arm = 0
			if signs[f][o.Arm] < 0 {
				units[i].Arm = 1
			}
		}
		arms, weights = 2, []float64{1, -1}
	}
	fit := verdict.Compare(verdict.Units(units), verdict.Setting{Arms: arms, OnRuns: e.Unit != trial.UnitCut})
	c := fit.Along(weights)
	if c == nil {
		return e, false
	}
	if len(factors) == 1 {
		f := factors[0]
		e.First = t.Ask.Arms[0].Levels[f].Value
		other := slices.IndexFunc(signs[f], func(s float64) bool { return s < 0 })
		e.Second = t.Ask.Arms[other].Levels[f].Value
	}
	e.Estimate, e.CI90, e.P = c.Estimate, c.CI90, c.P
	e.Word = verdict.Judge([]verdict.Comparison{*c}, chosen.SmallestDifference, t.Look.levels())[0].Word
	if t.Look.Kind == Other { // the figures of such a look are of pairs alone
		e.Word = verdict.CannotTell
	}
	return e, true
}

// Sub is a place of the piece, or a part of the trial, as a row of its own. What was not
// asked has means alone and no word.
type Sub struct {
	Of    string       `json:"of"` // place, cook, pit or lot
	Name  string       `json:"name"`
	Means []*float64   `json:"means"`
	Units []int        `json:"units"` // cuts of each arm
	Word  verdict.Word `json:"word,omitempty"`
	Over  []int        `json:"over"` // of a place: the better and the worse arm of the word
}

// subs are the places that were tasted, where there are several, then the parts that cooks,
// pits and lots make of the trial.
func (t Trial) subs(d trial.OutcomeDefault) []Sub {
	out := []Sub{}
	if d.Kind == trial.FromPanel {
		out = append(out, t.places(d)...)
	}
	for _, part := range []struct {
		of   string
		name func(Cut) string
	}{{"cook", func(c Cut) string { return c.Cook }}, {"pit", func(c Cut) string { return c.Pit }}, {"lot", func(c Cut) string { return c.Traits["lot"] }}} {
		names := t.distinct(part.name)
		if len(names) < 2 {
			continue
		}
		for _, name := range names {
			of := t
			of.Cuts = slices.DeleteFunc(slices.Clone(t.Cuts), func(c Cut) bool { return part.name(c) != name })
			s := Sub{Of: part.of, Name: name, Over: []int{}}
			s.Means, s.Units = of.plainMeans(d)
			out = append(out, s)
		}
	}
	return out
}

// plainMeans are the arms' means of cuts, and how many there are.
func (t Trial) plainMeans(d trial.OutcomeDefault) (means []*float64, units []int) {
	sums := make([]float64, len(t.Ask.Arms))
	means, units = make([]*float64, len(sums)), make([]int, len(sums))
	for _, o := range t.observations(d, trial.UnitCut) {
		sums[o.Arm] += o.Value
		units[o.Arm]++
	}
	for a, n := range units {
		if n > 0 {
			v := sums[a] / float64(n)
			means[a] = &v
		}
	}
	return means, units
}

// places reads each place of the piece by itself.
func (t Trial) places(d trial.OutcomeDefault) (out []Sub) {
	scores := t.counted(d)
	var places []string
	for _, s := range scores {
		if s.Place != "" && !slices.Contains(places, s.Place) {
			places = append(places, s.Place)
		}
	}
	if len(places) < 2 {
		return nil
	}
	slices.Sort(places)
	chosen := t.Ask.Outcomes[slices.IndexFunc(t.Ask.Outcomes, func(c trial.Chosen) bool { return c.Key == d.Key })]
	for _, place := range places {
		of := t
		of.fitted, of.Scores = nil, map[trial.OutcomeKey][]score{}
		for _, s := range t.Scores[d.Key] {
			if s.Place == place {
				of.Scores[d.Key] = append(of.Scores[d.Key], s)
			}
		}
		s := Sub{Of: "place", Name: place, Over: []int{}}
		s.Means, s.Units = of.plainMeans(d)
		if len(t.Ask.Arms) == 2 && d.Better != trial.Description && t.Look.Kind != Other {
			s.judge(of.compare(of.observations(d, trial.UnitCut), trial.UnitCut, d, chosen), d, chosen.SmallestDifference, t.Look)
		}
		out = append(out, s)
	}
	return out
}

// judge adds the word of two arms at a place, of these cooks.
func (s *Sub) judge(fit verdict.Outcome, d trial.OutcomeDefault, smallest float64, look Look) {
	pair := fit.Pairs[0]
	side := sideOf(pair, judge([]verdict.ArmPair{pair}, smallest, look.levels())[0], fit.Units, d)
	s.Word = side.Word
	if side.Winner != nil {
		s.Over = []int{*side.Winner, 1 - *side.Winner}
	}
}

// Trend is that of a numeric factor, with the words of what it comes to.
type Trend struct {
	verdict.DoseResult
	Factor   string `json:"factor"`
	Unit     string `json:"unit"`
	Sentence string `json:"sentence"`
}

// trend reads the one numeric factor of a trial that has three levels or more and no other
// factor beside it.
func (t Trial) trend(d trial.OutcomeDefault, chosen trial.Chosen) *Trend {
	if len(t.Ask.Factors) != 1 || t.Ask.Factors[0].Kind != trial.Numeric || len(t.Ask.Arms) < 3 {
		return nil
	}
	f := t.Ask.Factors[0]
	doses, ok := dosesOf(t.Ask)
	if !ok {
		return nil
	}
	in := verdict.DoseInput{SmallestDifference: chosen.SmallestDifference, LessIsBetter: d.Better == trial.Down}
	for _, u := range verdict.Units(t.observations(d, f.SetOn)) {
		block := u.Block
		if f.SetOn != trial.UnitCut {
			block = u.Cook
		}
		in.Doses, in.Blocks, in.Values = append(in.Doses, doses[u.Arm]), append(in.Blocks, block), append(in.Values, u.Value)
	}
	fit, err := verdict.DoseOf(in)
	if err != nil {
		return nil // too few units for a trend
	}
	out := &Trend{DoseResult: fit, Factor: f.Name, Unit: f.Unit}
	out.Sentence = out.said(d)
	return out
}
