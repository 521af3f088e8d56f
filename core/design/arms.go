package design

import (
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/trial"
)

// tableOfAsk is the ask's arms as a table. Levels that differ only in case, or
// numbers written in two ways, are one level.
func tableOfAsk(a trial.Ask) ArmTable {
	t := ArmTable{}
	for _, f := range a.Factors {
		t.Factors = append(t.Factors, f.Name)
	}
	for _, arm := range a.Arms {
		row := make([]string, len(a.Factors))
		for f := range row {
			row[f] = a.Factors[f].LevelIn(arm.Levels[f])
		}
		t.Arms = append(t.Arms, row)
	}
	return t
}

// levels are the distinct levels of a factor, the control's first.
func levels(a trial.Ask, f int) []trial.Level {
	var out []trial.Level
	seen := map[string]bool{}
	add := func(arm trial.Arm) {
		if k := a.Factors[f].LevelIn(arm.Levels[f]); !seen[k] {
			seen[k] = true
			out = append(out, arm.Levels[f])
		}
	}
	if len(a.Arms) > 0 {
		add(a.Arms[a.GoOnWith()])
	}
	for _, arm := range a.Arms {
		add(arm)
	}
	return out
}

// clone is a copy of an ask whose arms and factors can be changed.
func clone(a trial.Ask) trial.Ask {
	a.Factors, a.Held, a.Outcomes = slices.Clone(a.Factors), slices.Clone(a.Held), slices.Clone(a.Outcomes)
	a.Arms = slices.Clone(a.Arms)
	for i := range a.Arms {
		a.Arms[i].Levels = slices.Clone(a.Arms[i].Levels)
	}
	return a
}

// withArms gives an ask these rows of levels; an arm that had such a row keeps
// its tag and record, a new one gets a tag from its levels.
func withArms(a trial.Ask, rows [][]trial.Level) trial.Ask {
	out := clone(a)
	old := out.Arms
	key := func(levels []trial.Level) string {
		k := make([]string, len(levels))
		for f, l := range levels {
			k[f] = a.Factors[f].LevelIn(l)
		}
		return strings.Join(k, "\x00")
	}
	out.Arms = nil
	taken := map[string]bool{}
	for _, arm := range old {
		taken[arm.Tag] = true
	}
	for _, row := range rows {
		at := slices.IndexFunc(old, func(arm trial.Arm) bool { return key(arm.Levels) == key(row) })
		if at >= 0 {
			out.Arms = append(out.Arms, old[at])
			continue
		}
		tag := tagOf(row, taken)
		taken[tag] = true
		out.Arms = append(out.Arms, trial.Arm{Tag: tag, Levels: slices.Clone(row)})
	}
	return out
}

// tagOf makes a tag word from an arm's levels: letters of each, then a letter
// more to set it apart.
func tagOf(row []trial.Level, taken map[string]bool) string {
	var word strings.Builder
	each := max(2, 6/max(1, len(row)))
	for _, l := range row {
		level := l.Value
		n := 0
		for _, r := range strings.ToUpper(level) {
			if r >= 'A' && r <= 'Z' && n < each && word.Len() < 6 {
				word.WriteRune(r)
				n++
			}
		}
	}
	tag := word.String()
	if len(tag) < 2 {
		tag = "ARM"
	}
	if !taken[tag] {
		return tag
	}
	for r := 'A'; r <= 'Z'; r++ {
		if next := tag[:min(len(tag), 6)] + string(r); !taken[next] {
			return next
		}
	}
	return tag
}

// combinations are all rows of the factors' levels, the first factor changing
// fastest; the control's levels come first.
func combinations(a trial.Ask) [][]trial.Level {
	rows := [][]trial.Level{{}}
	for f := len(a.Factors) - 1; f >= 0; f-- {
		var next [][]trial.Level
		for _, level := range levels(a, f) {
			for _, row := range rows {
				next = append(next, append([]trial.Level{level}, row...))
			}
		}
		rows = next
	}
	// The first factor fastest, as designs are written.
	slices.SortStableFunc(rows, func(x, y []trial.Level) int {
		for f := len(a.Factors) - 1; f >= 0; f-- {
			all := levels(a, f)
			if d := slices.Index(all, x[f]) - slices.Index(all, y[f]); d != 0 {
				return d
			}
		}
		return 0
	})
	return rows
}

// Cross gives an ask every combination of its levels: ok is false where that
// takes more arms than a trial has.
func Cross(a trial.Ask) (crossed trial.Ask, n int, ok bool) {
	n = 1
	for f := range a.Factors {
		n *= len(levels(a, f))
	}
	if n > trial.MostArms {
		return a, n, false
	}
	return withArms(a, combinations(a)), n, true
}

// HalfFraction gives an ask half of the combinations of three factors of two
// levels: each factor is then told apart from the others, not from the other
// two acting together. The control's combination is in it.
func HalfFraction(a trial.Ask) (half trial.Ask, ok bool) {
	if len(a.Factors) != 3 {
		return a, false
	}
	for f := range a.Factors {
		if len(levels(a, f)) != 2 {
			return a, false
		}
	}
	var rows [][]trial.Level
	for _, row := range combinations(a) {
		second := 0
		for f, l := range row {
			second += slices.Index(levels(a, f), l)
		}
		if second%2 == 0 {
			rows = append(rows, row)
		}
	}
	return withArms(a, rows), true
}

// HoldEqual takes a factor out of what is varied: all arms get today's level of
// it, and arms that are then alike become one.
func HoldEqual(a trial.Ask, factor int) trial.Ask {
	out := clone(a)
	f := out.Factors[factor]
	value := levels(a, factor)[0]
	if f.Kind == trial.Numeric {
		value.Value = strings.TrimSpace(value.Value + " " + f.Unit)
	}
	out.Factors = slices.Delete(out.Factors, factor, factor+1)
	out.Held = append(out.Held, trial.Held{Role: f.Role, Name: f.Name, Value: value.Value, Key: value.Key})
	for i := range out.Arms {
		out.Arms[i].Levels = slices.Delete(out.Arms[i].Levels, factor, factor+1)
	}
	return merged(out)
}

// merged drops arms that repeat an earlier one.
func merged(a trial.Ask) trial.Ask {
	seen := map[string]bool{}
	t := tableOfAsk(a)
	var kept []trial.Arm
	for i, arm := range a.Arms {
		k := fmt.Sprint(t.Arms[i])
		if !seen[k] {
			seen[k] = true
			kept = append(kept, arm)
		} else if arm.Control {
			kept[slices.IndexFunc(kept, func(o trial.Arm) bool { return fmt.Sprint(lowered(a, o)) == k })].Control = true
		}
	}
	a.Arms = kept
	return a
}

func lowered(a trial.Ask, arm trial.Arm) []string {
	out := make([]string, len(arm.Levels))
	for f, l := range arm.Levels {
		out[f] = a.Factors[f].LevelIn(l)
	}
	return out
}
