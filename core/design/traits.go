package design

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"whitebarn/core/trial"
	"whitebarn/core/words"
)

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
				r.say(key, Confound, mends,
					"The arms were cooked one after the other, day upon day. What changed over that time and %s cannot be told apart.", a.FactorNames())
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
