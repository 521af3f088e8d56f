package design

import (
	"fmt"
	"slices"

	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// lacking says what is not given yet.
func (r *reviewer) lacking() {
	if len(r.Ask.Held) == 0 {
		r.say("nothing-held", Weakens, []Mend{with("Hold the usual things equal", r.Ask.HoldUsual())},
			"Nothing is named as held equal. What is not named tends to drift.")
	}
	decides := slices.ContainsFunc(r.Ask.Outcomes, func(o trial.Chosen) bool {
		d, ok := o.Outcome()
		return ok && d.Better != trial.Description
	})
	if !decides {
		next := clone(r.Ask)
		d, _ := trial.DefaultOf(trial.Overall)
		next.Outcomes = append(next.Outcomes, trial.Chosen{Key: trial.Overall, SmallestDifference: d.SmallestDifference})
		r.say("no-outcome", Lacks, []Mend{with("Decide by overall liking", next)}, "No outcome decides yet.")
	}
	if t := r.Ask.Hand.Tasters; t > 0 && t < trial.LeastTasters && slices.ContainsFunc(r.Ask.Outcomes, func(o trial.Chosen) bool {
		d, ok := o.Outcome()
		return ok && d.Kind == trial.FromPanel
	}) {
		next := clone(r.Ask)
		next.Hand.Tasters = trial.LeastTasters
		r.say("few-tasters", Weakens, []Mend{with(fmt.Sprintf("Seat %d tasters", trial.LeastTasters), next)},
			"%s at hand, and a table of scores takes %d or more.", words.Capital(words.Plural(t, "taster")), trial.LeastTasters)
	}
	r.unlikened()
	r.unkeyed()
	r.unmeated()
}

// unmeated asks what meat it is, where nobody said it or the words of the product say
// otherwise: the gate before the table goes by it.
func (r *reviewer) unmeated() {
	if r.Ask.Product == "" {
		return
	}
	if !r.Ask.Meat().Said() {
		r.say("meat", Asks, nil, "Nobody has said what meat it is and how it was handled. The gate before the table stays shut until somebody does.")
		return
	}
	if r.Ask.MeatWhy != "" {
		return
	}
	for _, h := range r.Ask.Otherwise() {
		next := clone(r.Ask)
		is := string(h.Species)
		if h.Species != "" {
			next.Species = h.Species
		} else {
			next.Handling, is = next.Handling.Stricter(h.Handling), string(h.Handling)
		}
		r.say("meat:"+h.Word, Asks, []Mend{with("It is "+is, next)}, "“%s” says %s, and the meat is said to be %s, %s.", h.Word, is, r.Ask.Species, r.Ask.Handling)
	}
}

// unlikened asks what a product cooks like, where nobody said it.
func (r *reviewer) unlikened() {
	if r.Ask.Product == "" || r.Ask.Family != "" {
		return
	}
	var mends []Mend
	if r.Like != nil {
		next := clone(r.Ask)
		next.Family = r.Like.Key
		mends = []Mend{with("It cooks like: "+r.Like.Name, next)}
	}
	r.say("family", Asks, mends, "Nobody has said what %s cooks like, so plan and forecast take it for a shoulder.", r.Ask.Product)
}

// unkeyed asks what levels of the team's own count as, where the rules go by it.
func (r *reviewer) unkeyed() {
	told := map[string]bool{}
	for f, factor := range r.Ask.Factors {
		keys := trial.LevelKeys(factor.Role)
		if len(keys) == 0 || factor.Kind == trial.Numeric {
			continue
		}
		for _, arm := range r.Ask.Arms {
			l := arm.Levels[f]
			name := factor.Name + ":" + l.Value
			if l.Key != "" || l.Value == "" || told[name] || !needsKey(factor.Role) {
				continue
			}
			told[name] = true
			var mends []Mend
			for _, key := range keys {
				next := clone(r.Ask)
				for i := range next.Arms {
					if factor.Same(next.Arms[i].Levels[f], l) {
						next.Arms[i].Levels[f].Key = key
					}
				}
				mends = append(mends, with(words.Capital(trial.LevelName(factor.Role, key)), next))
			}
			r.say("level:"+name, Asks, mends, "“%s” is a word of your own for %s. Say what it counts as, so that plan and forecast know.", l.Value, factor.Name)
		}
	}
}

// needsKey says whether the rules need a key for every level of a role: where a level
// without one is simply a way of doing it, they do not.
func needsKey(r trial.Role) bool {
	return r == trial.Wrap || r == trial.WrapWhen || r == trial.Spritz || r == trial.Finish
}

// scale is how far apart two scores of a panel can lie, 1 to 9.
const scale = 8

// offScale says whether the smallest difference an outcome could show is more than there
// can be: with so few units nothing is found, whatever the truth.
func offScale(n Number) bool {
	return n.D > 0 && n.SD > 0 && (n.Detects == nil || n.Outcome.Kind == trial.FromPanel && *n.Detects > scale)
}

// CanAnswer says in a line whether an ask can answer its question, by what was found and
// by the smallest differences its layout could show.
func CanAnswer(a trial.Ask, found []Finding, numbers []Number) string {
	off := len(numbers) > 0 && !slices.ContainsFunc(numbers, func(n Number) bool { return !offScale(n) })
	open := slices.ContainsFunc(a.Factors, func(f trial.Factor) bool { return f.Name == "" }) ||
		slices.ContainsFunc(a.Arms, func(arm trial.Arm) bool {
			return slices.ContainsFunc(arm.Levels, func(l trial.Level) bool { return l.Value == "" })
		})
	has := func(w ...Weight) bool {
		return slices.ContainsFunc(found, func(f Finding) bool { return slices.Contains(w, f.Weight) })
	}
	switch {
	case open:
		return "Say what is varied, and its level in each arm"
	case has(Confound):
		return "It cannot answer its question yet"
	case off:
		return "It cannot answer with so few: no difference there can be would show"
	case has(Weakens, Lacks) || slices.ContainsFunc(numbers, offScale):
		return "It can answer, and could do so better"
	}
	return "It can answer its question"
}
