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

// oneFact puts traits that part the cuts of the arms in the same way together: they are one
// fact, and one finding.
func oneFact(all []TraitTable) (out [][]TraitTable) {
	at := map[string]int{}
	for _, t := range all {
		key := string(t.Trait)
		if t.splits() {
			key = t.partition()
		}
		i, ok := at[key]
		if !ok {
			i = len(out)
			at[key] = i
			out = append(out, nil)
		}
		out[i] = append(out[i], t)
	}
	return out
}

// partition says which arms share a value, whatever it is called.
func (t TraitTable) partition() string {
	var groups []string
	for v := range t.Values {
		group := ""
		for a, row := range t.Counts {
			if row[v] > 0 {
				group += fmt.Sprintf("%d:%d ", a, min(row[v], 1))
			}
		}
		if !slices.Contains(groups, group) {
			groups = append(groups, group)
		}
	}
	sort.Strings(groups)
	return strings.Join(groups, "/")
}

// trait reports traits that follow the arms as one.
func (r *reviewer) trait(same []TraitTable) {
	a, t := r.Ask, same[0]
	mends := drawArms()
	isPlace := func(t TraitTable) bool { return slices.Contains([]Trait{CookDay, Pit, Column}, t.Trait) }
	switch {
	case slices.ContainsFunc(same, isPlace):
		mends = r.positionMends(same)
	case t.Trait == Holder:
		mends = nil
	}
	var names []string
	for _, x := range same {
		names = append(names, string(x.Trait))
	}
	if !t.splits() {
		arm, value := t.most()
		r.say("trait:"+string(t.Trait), Weakens, mends, "%s has %d of the %d cuts of %s %s. What you find leans on it (%.0f of 10).",
			a.Arms[arm].Tag, t.Counts[arm][value], t.sum(value), t.Trait, t.Values[value], 10*t.CramersV)
		return
	}
	key := "trait:" + strings.Join(names, "+")
	if len(same) == 1 && t.Trait == CookDay {
		if setOn(a, trial.UnitPitRun) && t.manyDays() {
			if t.inOrder() {
				r.say(key, Confound, mends, "The arms were cooked one after the other, day upon day. What changed over that time and %s cannot be told apart.", a.FactorNames())
			} else {
				r.say(key, Weakens, mends, "No day holds two arms, so the days are part of the spread between runs.")
			}
			return
		}
		r.say(key, Confound, mends, "Each arm has cook days of its own. The day and %s cannot be told apart.", a.FactorNames())
		return
	}
	var parts []string
	for i := range a.Arms {
		var has []string
		for _, x := range same {
			for v, n := range x.Counts[i] {
				if n > 0 {
					has = append(has, x.Values[v])
				}
			}
		}
		if len(has) > 0 {
			verb := "has"
			if t.Trait == CookDay || t.Trait == Holder || isPlace(t) {
				verb = "stands at"
			}
			parts = append(parts, a.Arms[i].Tag+" "+verb+" "+words.And(has))
		}
	}
	text := fmt.Sprintf("%s. The %s and %s cannot be told apart.", words.Capital(strings.Join(parts, ", ")), words.And(names), a.FactorNames())
	if setOn(a, trial.UnitPitRun) && slices.Contains(names, string(Pit)) && len(mends) == 0 {
		text += " Another cook day with the set-ups the other way round parts them."
	}
	r.say(key, Confound, mends, "%s", text)
}

// manyDays says whether every arm that was cooked has more than one day.
func (t TraitTable) manyDays() bool {
	for _, row := range t.Counts {
		if n := countIf(row, func(n int) bool { return n > 0 }); n == 1 {
			return false
		}
	}
	return true
}

// inOrder says whether arms that share no day were cooked one after the other, as in AAABBB.
func (t TraitTable) inOrder() bool {
	days := slices.Clone(t.Values)
	number := func(day string) (n int) {
		_, _ = fmt.Sscanf(day, "day %d", &n)
		return n
	}
	slices.SortStableFunc(days, func(a, b string) int { return number(a) - number(b) })
	armOf := func(day string) int {
		v := slices.Index(t.Values, day)
		return slices.IndexFunc(t.Counts, func(row []int) bool { return row[v] > 0 })
	}
	seen, last := map[int]bool{}, -1
	for _, day := range days {
		arm := armOf(day)
		if arm != last && seen[arm] {
			return false
		}
		seen[arm], last = true, arm
	}
	return true
}

func (t TraitTable) sum(value int) int {
	n := 0
	for _, row := range t.Counts {
		n += row[value]
	}
	return n
}

// most is the arm that has the largest share of a value.
func (t TraitTable) most() (arm, value int) {
	best := -1.0
	for v := range t.Values {
		for a, row := range t.Counts {
			if share := float64(row[v]) / float64(max(1, t.sum(v))) * math.Sqrt(float64(row[v])); share > best {
				best, arm, value = share, a, v
			}
		}
	}
	return arm, value
}

// positionMends offers what makes the places go with the arms no more: a swap of the
// set-ups of two pits where something is set on pits, else the least moves or a new draw. No
// mend moves a cut under another run's level.
func (r *reviewer) positionMends(same []TraitTable) []Mend {
	onPits := setOn(r.Ask, trial.UnitPitRun)
	if onPits && slices.ContainsFunc(same, func(t TraitTable) bool { return t.Trait == Pit || t.Trait == CookDay }) {
		if day, a, b, ok := crossing(len(r.Ask.Arms), r.Pieces); ok {
			return []Mend{{Do: "Swap the set-ups of " + day, Swap: []int64{a, b}}}
		}
		return nil
	}
	var mends []Mend
	if moves := LeastMoves(r.Ask, r.Pieces); len(moves) > 0 {
		mends = append(mends, Mend{Do: "Move " + words.Plural(len(moves), "cut"), Positions: moves})
	}
	return append(mends, Mend{Do: "Draw the places again", Redraw: RedrawPositions})
}

// crossing is the day of two pits whose set-ups, swapped, leave the pits tied to the arms
// least; ok is false where that leaves them as they are.
func crossing(arms int, pieces []Piece) (day string, a, b int64, ok bool) {
	type run struct {
		id  int64
		pit string
	}
	byDay := map[string][]run{}
	var days []string
	for _, p := range pieces {
		if p.Arm < 0 || p.Cook == "" {
			continue
		}
		if x := (run{p.PitRunID, p.Pit}); !slices.Contains(byDay[p.Cook], x) {
			if byDay[p.Cook] == nil {
				days = append(days, p.Cook)
			}
			byDay[p.Cook] = append(byDay[p.Cook], x)
		}
	}
	sort.Strings(days)
	least := tableOf(arms, pieces, Pit).CramersV
	for _, d := range days {
		runs := byDay[d]
		if len(runs) != 2 {
			continue
		}
		then := slices.Clone(pieces)
		for i, p := range then {
			switch p.PitRunID {
			case runs[0].id:
				then[i].Pit = runs[1].pit
			case runs[1].id:
				then[i].Pit = runs[0].pit
			}
		}
		if v := tableOf(arms, then, Pit).CramersV; v < least-1e-9 {
			least, day, a, b, ok = v, d, runs[0].id, runs[1].id, true
		}
	}
	return day, a, b, ok
}
