package trial

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"whitebarn/core/fault"
	"whitebarn/core/words"
)

// checker collects what is wrong with an ask.
type checker struct{ fault.List }

func (c *checker) words(field, value, remedy string, most int) {
	switch n := len([]rune(strings.TrimSpace(value))); {
	case n == 0:
		c.Add(field, "nothing is written", remedy)
	case n > most:
		c.Add(field, fmt.Sprintf("%d letters are too many", n), fmt.Sprintf("keep it to %d", most))
	}
}

// MostQuestion letters ask anything.
const MostQuestion = 140

// Check refuses an Ask that cannot be recorded, with every fault at once. What
// merely weakens a trial is core/design's to say.
func (a Ask) Check() error {
	var wrong checker
	wrong.words("question", a.Question, "ask in one sentence", MostQuestion)
	wrong.kind(a)
	for _, l := range []struct {
		field string
		n     int
	}{{"held", len(a.Held)}, {"outcomes", len(a.Outcomes)}, {"contexts", len(a.Contexts)}, {"allergens", len(a.Allergens)}, {"words", len(a.Words)}} {
		if l.n > mostLines {
			wrong.Add(l.field, fmt.Sprintf("%d lines", l.n), fmt.Sprintf("keep it to %d", mostLines))
			return wrong.Err()
		}
	}
	for i, text := range a.Allergens {
		wrong.words(fmt.Sprintf("allergens[%d]", i), text, "name it, or take it out", 60)
	}
	for i, text := range a.Words {
		field := fmt.Sprintf("words[%d]", i)
		wrong.words(field, text, "say it, or take it out", 24)
		if slices.Index(a.Words, text) < i {
			wrong.Add(field, text+" is there twice", "take one out")
		}
	}
	wrong.factors(a.Factors)
	wrong.arms(a)
	for i, h := range a.Held {
		wrong.words(fmt.Sprintf("held[%d].name", i), h.Name, "name what is held equal, or take the line out", 60)
		if len(h.Value) > 200 {
			wrong.Add(fmt.Sprintf("held[%d].value", i), "it is long", "keep it to 200 letters")
		}
	}
	wrong.outcomes(a.Outcomes)
	wrong.contexts(a.Contexts)
	for _, h := range []struct {
		field string
		n     int
	}{{"blocks", a.Hand.Blocks}, {"block_size", a.Hand.BlockSize}, {"pits", a.Hand.Pits}, {"positions",
		a.Hand.Positions}, {"cook_days", a.Hand.CookDays}, {"tasters", a.Hand.Tasters}} {
		if h.n < 0 || h.n > most {
			wrong.Add("hand."+h.field, fmt.Sprintf("%d is not a number to plan with", h.n), fmt.Sprintf("give 0 to %d", most))
		}
	}
	if a.Hand.CutCents < 0 || a.Hand.CutCents > 10_000_00 {
		wrong.Add("hand.cut_cents", fmt.Sprintf("%.2f is not the price of a cut", float64(a.Hand.CutCents)/100), "give 0 to 10000")
	}
	return wrong.Err()
}

// CheckFactors refuses factors that cannot be recorded.
func CheckFactors(factors []Factor) error {
	var wrong checker
	wrong.factors(factors)
	return wrong.Err()
}

func (c *checker) factors(factors []Factor) {
	if n := len(factors); n == 0 || n > MostFactors {
		c.Add("factors", fmt.Sprintf("%d factors", n), fmt.Sprintf("vary one thing, or up to %d", MostFactors))
	}
	names := map[string]bool{}
	for i, f := range factors {
		field := fmt.Sprintf("factors[%d]", i)
		c.words(field+".name", f.Name, "say what changes between the arms", 60)
		name := strings.ToLower(f.Name)
		if name != "" && names[name] {
			c.Add(field+".name", f.Name+" is there twice", "take one out")
		}
		names[name] = true
		if !slices.Contains(FactorKind("").Values(), string(f.Kind)) {
			c.Add(field+".kind", fmt.Sprintf("%q is not a kind of factor", f.Kind), "choose categorical, ordered or numeric")
		}
		if !slices.Contains(UnitKind("").Values(), string(f.SetOn)) {
			c.Add(field+".set_on", fmt.Sprintf("%q is not a unit", f.SetOn), "choose cut, pit run, holder run or batch")
		}
		if f.Kind == Numeric && f.Unit == "" {
			c.Add(field+".unit", f.Name+" is counted in no unit", "give one, for instance F, h or lb")
		}
	}
}

func (c *checker) arms(a Ask) {
	if n := len(a.Arms); n == 0 || n > MostArms {
		c.Add("arms", words.Plural(n, "arm"), fmt.Sprintf("give one to %d", MostArms))
	}
	tags := map[string]bool{}
	controls := 0
	for i, arm := range a.Arms {
		field := fmt.Sprintf("arms[%d]", i)
		if !tagWord.MatchString(arm.Tag) {
			c.Add(field+".tag", fmt.Sprintf("%q is not a tag word", arm.Tag), "use 2 to 7 capital letters, for instance PAPER")
		}
		if arm.Tag != "" && tags[arm.Tag] {
			c.Add(field+".tag", fmt.Sprintf("%s is there twice", arm.Tag), "give each arm its own tag")
		}
		tags[arm.Tag] = true
		if arm.Control {
			controls++
		}
		if len(arm.Levels) != len(a.Factors) {
			c.Add(field+".levels", fmt.Sprintf("%d levels of %d factors", len(arm.Levels), len(a.Factors)), "give one of each")
			continue
		}
		for f, level := range arm.Levels {
			at := fmt.Sprintf("%s.levels[%d]", field, f)
			c.words(at+".value", level.Value, fmt.Sprintf("say what %s is in this arm", orWord(a.Factors[f].Name, "it")), 80)
			if _, err := strconv.ParseFloat(level.Value, 64); a.Factors[f].Kind == Numeric && level.Value != "" && err != nil {
				c.Add(at+".value", fmt.Sprintf("%q is not a number", level.Value), fmt.Sprintf("give %s in %s, or make it a factor in words",
					a.Factors[f].Name, orWord(a.Factors[f].Unit, "its unit")))
			}
		}
	}
	if controls > 1 {
		c.Add("arms", fmt.Sprintf("%d arms are today's practice", controls), "mark one")
	}
}

func orWord(s, other string) string {
	if s == "" {
		return other
	}
	return s
}

func (c *checker) outcomes(outcomes []Chosen) {
	seen := map[OutcomeKey]bool{}
	for i, o := range outcomes {
		field := fmt.Sprintf("outcomes[%d]", i)
		d, known := o.Outcome()
		if o.Own != nil {
			c.words(field+".own.name", o.Own.Name, "name what is measured", 40)
			if o.Own.Tasted {
				c.words(field+".own.low", o.Own.Low, "say what 1 stands for", 24)
				c.words(field+".own.high", o.Own.High, "say what 9 stands for", 24)
			} else {
				c.words(field+".own.unit", o.Own.Unit, "say in what, for instance mm or count", 20)
			}
			if o.Own.Better != Up && o.Own.Better != Down && !(o.Own.Tasted && o.Own.Better == Description) {
				c.Add(field+".own.better", "it is not said which way is better", "choose up or down")
			}
			if !(o.Own.SD > 0 && o.Own.SD < 1e6) {
				c.Add(field+".own.sd", fmt.Sprintf("%v is not a spread", o.Own.SD), "guess how far two cuts of one arm usually lie apart")
			}
		}
		switch {
		case !known:
			c.Add(field+".key", fmt.Sprintf("%q is not an outcome", o.Key), "choose one of the list")
		case seen[o.Key]:
			c.Add(field+".key", d.Name+" is there twice", "take one out")
		case d.Better != Description && !(o.SmallestDifference > 0 && o.SmallestDifference < 1e6):
			c.Add(field+".smallest_difference", fmt.Sprintf("%s: %v is not a difference", d.Name, o.SmallestDifference),
				"give the smallest difference that would matter, more than zero")
		}
		seen[o.Key] = true
	}
}

func (c *checker) contexts(contexts []Context) {
	names := map[string]bool{}
	for i, x := range contexts {
		field := fmt.Sprintf("contexts[%d]", i)
		c.words(field+".name", x.Name, "say who it is for, for instance home table", 40)
		if name := strings.ToLower(x.Name); name != "" && names[name] {
			c.Add(field+".name", x.Name+" is there twice", "take one out")
		}
		names[strings.ToLower(x.Name)] = true
		if len([]rune(x.Condition)) > 40 {
			c.Add(field+".condition", "the condition is long", "keep it to 40 letters, for instance a wet evening")
		}
		for key, w := range x.Weights {
			if !(w >= 0 && w <= 10) {
				c.Add(field+".weights", fmt.Sprintf("%s: %v is not a weight", key, w), "give 0 (does not count) to 10")
			}
		}
	}
}
