package settle

import (
	"cmp"
	"slices"
	"strings"

	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// beatsAll is the arm that clearly beats every other on an outcome, -1 for none.
func (t Trial) beatsAll(r Row) int {
	wins := make([]int, len(t.Ask.Arms))
	for _, p := range r.Pairs {
		if p.Process.Word == verdict.Clear {
			wins[*p.Process.Winner]++
		}
	}
	return slices.Index(wins, len(wins)-1)
}

// headline says in one sentence what was found: first the arms that clearly
// beat every other, then what is clear or leans between two.
func (t Trial) headline(rows []Row) string {
	type fight struct{ winner, loser int }
	var order []fight
	best := make([][]string, len(t.Ask.Arms))
	clear, leaning := map[fight][]string{}, map[fight][]string{}
	var same, open []string
	for _, r := range rows {
		name := strings.ToLower(r.Outcome.Name)
		if arm := t.beatsAll(r); arm >= 0 && len(r.Pairs) > 0 {
			best[arm] = append(best[arm], name)
			continue
		}
		told, alike := 0, 0
		for _, p := range r.Pairs {
			switch s := p.Process; {
			case s.Winner != nil:
				told++
				f := fight{*s.Winner, p.A + p.B - *s.Winner}
				if clear[f] == nil && leaning[f] == nil {
					order = append(order, f)
				}
				if s.Word == verdict.Clear {
					clear[f] = append(clear[f], name)
				} else {
					leaning[f] = append(leaning[f], name)
				}
			case s.Word == verdict.Same:
				alike++
			}
		}
		switch {
		case len(r.Pairs) == 0 || told > 0:
		case alike == len(r.Pairs):
			same = append(same, name)
		default:
			open = append(open, name)
		}
	}
	slices.SortFunc(order, func(x, y fight) int { return cmp.Or(x.winner-y.winner, x.loser-y.loser) })
	two := len(t.Ask.Arms) == 2
	tag := func(i int) string { return t.Ask.Arms[i].Tag }
	var parts []string
	for arm, names := range best {
		if names != nil {
			parts = append(parts, tag(arm)+" is the clear winner on "+words.And(names)+".")
		}
	}
	for _, f := range order {
		if names := clear[f]; names != nil {
			parts = append(parts, tag(f.winner)+" clearly beats "+tag(f.loser)+" on "+words.And(names)+".")
		}
	}
	for _, f := range order {
		if names := leaning[f]; names != nil && two {
			parts = append(parts, words.And(names)+" "+verb(names, "leans", "lean")+" to "+tag(f.winner)+".")
		} else if names != nil {
			parts = append(parts, words.And(names)+" "+verb(names, "leans", "lean")+" to "+tag(f.winner)+" over "+tag(f.loser)+".")
		}
	}
	if len(same) > 0 {
		parts = append(parts, "The same for our purposes on "+words.And(same)+".")
	}
	if len(open) > 0 {
		parts = append(parts, "Cannot tell on "+words.And(open)+".")
	}
	for i, p := range parts {
		parts[i] = strings.ToUpper(p[:1]) + p[1:]
	}
	switch {
	case len(t.Ask.Arms) < 2:
		return "One arm alone: there is nothing to compare."
	case len(parts) == 0:
		return "Nothing to judge yet."
	}
	return strings.Join(parts, " ")
}

func verb(items []string, one, many string) string {
	if len(items) == 1 {
		return one
	}
	return many
}
