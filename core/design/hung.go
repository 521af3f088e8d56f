package design

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"sort"
	"strings"

	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// drawArms is the mend that most findings on cuts have.
func drawArms() []Mend { return []Mend{{Do: "Draw the arms again", Redraw: RedrawArms}} }

// hung looks at the cuts that hang: how many, how alike, and where.
func (r *reviewer) hung() {
	a := r.Ask
	placed := slices.DeleteFunc(slices.Clone(r.Pieces), func(p Piece) bool { return p.Arm < 0 })
	if n := len(r.Pieces) - len(placed); n > 0 {
		r.say("no-arm", Lacks, []Mend{{Do: "Draw the arms", Redraw: RedrawArms}}, "%s without an arm.", words.Capital(words.Plural(n, "cut")))
	}
	if n := countIf(r.Pieces, func(p Piece) bool { return p.Kg == nil }); n > 0 {
		r.say("no-weight", Lacks, nil, "%s without a weight.", words.Capital(words.Plural(n, "cut")))
	}
	for i, arm := range a.Arms {
		if len(placed) > 0 && !slices.ContainsFunc(placed, func(p Piece) bool { return p.Arm == i }) {
			var mends []Mend
			if len(placed) >= len(a.Arms) {
				mends = drawArms()
			}
			r.say("empty:"+arm.Tag, Confound, mends, "%s has no cut. Without one it cannot be compared.", arm.Tag)
		}
	}
	if len(placed) == len(r.Pieces) && len(a.Arms) > 1 {
		switch {
		case !r.Drawn:
			r.say("not-drawn", Weakens, []Mend{{Do: "Draw the arms", Redraw: RedrawArms}}, "The arms were not drawn by lot. A hand that chooses favours one, without meaning to.")
		case len(r.Moved) > 0:
			r.say("moved", Weakens, drawArms(), "%s %s moved by hand after the draw.", words.And(r.Moved), map[bool]string{true: "was", false: "were"}[len(r.Moved) == 1])
		}
	}
	r.mixedRuns(placed)
	r.units(placed)
	r.blocks()
	if len(a.Arms) > 1 {
		r.unlikeCuts(placed)
		r.unlikePlaces(placed)
	}
}

// alikeC is how far the places of two arms may lie apart, C: 5 F.
const alikeC = 5 / 1.8

// unlikePlaces says where one arm lies hotter than another, by what burns told of the
// places, before anything is lit.
func (r *reviewer) unlikePlaces(placed []Piece) {
	sum, n := make([]float64, len(r.Ask.Arms)), make([]float64, len(r.Ask.Arms))
	for _, p := range placed {
		if p.OffC != nil {
			sum[p.Arm] += *p.OffC
			n[p.Arm]++
		}
	}
	for a := range r.Ask.Arms {
		for b := range a {
			if n[a] == 0 || n[b] == 0 {
				continue
			}
			hot, cool, gap := a, b, sum[a]/n[a]-sum[b]/n[b]
			if gap < 0 {
				hot, cool, gap = b, a, -gap
			}
			if gap > alikeC {
				hotter, cooler := r.Ask.Arms[hot].Tag, r.Ask.Arms[cool].Tag
				r.say("hot-places:"+hotter+"+"+cooler, Confound, []Mend{{Do: "Draw the places again", Redraw: RedrawPositions}},
					"%s lies where the pit runs {dC:%.1f} hotter than where %s lies, by its burns. Place and %s could not be told apart.",
					hotter, gap, cooler, r.Ask.Varied(hot, cool))
			}
		}
	}
}

func countIf[T any](all []T, f func(T) bool) int {
	n := 0
	for _, v := range all {
		if f(v) {
			n++
		}
	}
	return n
}

// mixedRuns says where cuts of two levels lie on one run or in one batch, as before a factor
// was said to be set on it.
func (r *reviewer) mixedRuns(placed []Piece) {
	for _, kind := range []trial.UnitKind{trial.UnitPitRun, trial.UnitBatch} {
		arms, one := map[string][]int{}, map[string]Piece{}
		for _, p := range placed {
			if unit := p.Units[kind]; unit != "" {
				arms[unit], one[unit] = append(arms[unit], p.Arm), p
			}
		}
		for _, unit := range slices.Sorted(maps.Keys(arms)) {
			factor := LevelsOn(r.Ask, kind, arms[unit]).Mixed
			switch {
			case factor == "":
			case kind == trial.UnitPitRun:
				r.say("mixed-run:"+unit, Confound, []Mend{{Do: "Draw the places again", Redraw: RedrawPositions}},
					"%s on %s holds cuts of two levels of %s. What is set on a pit is set for all that lies on it.", one[unit].Pit, one[unit].Cook, factor)
			default:
				r.say("mixed-run:"+unit, Confound, nil,
					"%s holds cuts of two levels of %s. Give each level a batch of its own.", words.Capital(unit), factor)
			}
		}
	}
}

// units says which levels stand on one unit.
func (r *reviewer) units(placed []Piece) {
	a := r.Ask
	for f, factor := range a.Factors {
		all := levels(a, f)
		if len(all) < 2 && len(a.Arms) > 1 {
			continue
		}
		recorded := func(p Piece) bool { return p.Units[factor.SetOn] != "" }
		if factor.SetOn != trial.UnitCut && len(placed) > 0 && !slices.ContainsFunc(placed, recorded) {
			r.say("no-unit:"+factor.Name, Weakens, nil, "No %s is recorded for any cut, so all of one level of %s counts as one.", factor.SetOn, factor.Name)
			continue
		}
		for _, level := range all {
			in := func(arm int) bool { return factor.Same(a.Arms[arm].Levels[f], level) }
			if unitsOf(a, placed, factor.SetOn, in) != 1 {
				continue
			}
			var tags []string
			for i, arm := range a.Arms {
				if in(i) {
					tags = append(tags, arm.Tag)
				}
			}
			verb := "stands"
			if len(tags) > 1 {
				verb = "stand"
			}
			r.say("one-unit:"+factor.Name+":"+strings.Join(tags, "+"), Weakens, nil,
				"%s %s on one %s. What the next one would do is not shown.", words.And(tags), verb, factor.SetOn)
		}
	}
}

// blocks says which blocks tell nothing, or less than they could.
func (r *reviewer) blocks() {
	members := map[string][]Piece{}
	var names []string
	for _, p := range r.Pieces {
		if p.Block == "" {
			continue
		}
		if members[p.Block] == nil {
			names = append(names, p.Block)
		}
		members[p.Block] = append(members[p.Block], p)
	}
	sort.Strings(names)
	for _, name := range names {
		in := map[int]int{}
		for _, p := range members[name] {
			if p.Arm >= 0 {
				in[p.Arm]++
			}
		}
		switch n := len(members[name]); {
		case n == 1:
			r.say("alone:"+name, Weakens, nil, "Block %s has 1 cut. A cut without its like is compared across animals.", name)
		case len(in) == 1 && in[firstKey(in)] == n:
			r.say("one-arm:"+name, Weakens, drawArms(), "Block %s is all in %s. It tells nothing of the difference.", name, r.Ask.Arms[firstKey(in)].Tag)
		}
	}
}

func firstKey(m map[int]int) int {
	for k := range m {
		return k
	}
	return -1
}

// unlikeCuts says what differs between the arms beside the factors.
func (r *reviewer) unlikeCuts(placed []Piece) {
	a := r.Ask
	b := BalanceOf(len(a.Arms), placed)
	for _, c := range b.Covariates {
		gap, worst := 0.0, PairGap{}
		for _, p := range c.Pairs {
			if d := math.Abs(p.Difference); d > c.Gate+1e-12 && d > gap {
				gap, worst = d, p
			}
		}
		if gap == 0 {
			continue
		}
		more, less := worst.A, worst.B
		if worst.Difference < 0 {
			more, less = less, more
		}
		at := slices.IndexFunc(covariates, func(x covariate) bool { return x.key == c.Key })
		amount, mends := fmt.Sprintf("{%s:%.4f}", map[string]string{"kg": "kg", "thickness_m": "m", "fat_cap_m": "m"}[c.Key], gap), drawArms()
		if c.Key == "column" || c.Key == "row" {
			amount, mends = fmt.Sprintf("%.1f places", gap), r.positionMends(nil)
		}
		r.say("covariate:"+c.Key, Confound, mends, "%s is %s than %s by %s on average. %s and %s cannot be told apart.",
			a.Arms[more].Tag, covariates[at].more, a.Arms[less].Tag, amount, covariates[at].what, a.Varied(more, less))
	}
	var lean []TraitTable
	for _, t := range b.Traits {
		// What is set on a whole pit run has to differ by pit within a day; only a crossover of days undoes it.
		if t.leans() && (t.Trait != Column || !setOn(a, trial.UnitPitRun)) {
			lean = append(lean, t)
		}
	}
	for _, same := range oneFact(lean) {
		r.trait(same)
	}
}
