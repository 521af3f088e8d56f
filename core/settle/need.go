package settle

import (
	"fmt"
	"slices"

	"whitebarn/core/design"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// need says how many units an arm would tell, by the same numbers that Ask plans with: to
// show twice the difference that matters, and to call it the same where there is none.
func (t Trial) need(o verdict.Outcome, p Pair, d trial.OutcomeDefault, smallest float64) string {
	sd, from := d.SDOfCuts(len(t.tasters())), "the barn's usual spread"
	if s := t.spread(p.Unit, d.Key); s != nil {
		sd, from = s.SD, "earlier trials' spread"
	}
	if o.SD != nil && *o.SD > 1e-9 && o.DF >= 2 {
		sd, from = *o.SD, "this trial's spread"
	}
	layout, unit, each := design.LayoutOf(t.Ask, p.Unit), string(p.Unit), " an arm"
	if p.Unit == trial.UnitCut {
		if !slices.ContainsFunc(t.Cuts, func(c Cut) bool { return c.Block != "" }) {
			layout.BlockSize = 1
		} else if len(t.Ask.Arms) == 2 {
			layout.BlockSize, unit, each = 2, "pair", ""
		}
	}
	have := min(o.Units[p.A], o.Units[p.B])
	n := verdict.Planner{SD: sd, D: smallest, Layout: layout}.NeedOf()
	more := func(n int) string {
		switch {
		case n == 0:
			return fmt.Sprintf("over %s%s", words.Plural(verdict.MostUnits, unit), each)
		case n <= have:
			return fmt.Sprintf("%s%s, which there are", words.Plural(n, unit), each)
		}
		return fmt.Sprintf("%s%s, %d more", words.Plural(n, unit), each, n-have)
	}
	return fmt.Sprintf("Would tell 8 times in 10, at %s: twice what matters by %s; that there is none by %s.", from, more(n.ToClear), more(n.ToSame))
}
