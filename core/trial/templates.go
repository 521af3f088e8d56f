package trial

import (
	"slices"

	"whitebarn/core/safety"
)

// Template is a usual question, laid out.
type Template struct {
	Key string `json:"key"`
	Ask Ask    `json:"ask"`
}

var usualOutcomes = []OutcomeKey{Overall, Tenderness, Juiciness, Bark, CookedYield, CookTime}

// Start is an empty ask with what is usual filled in.
func Start() Ask {
	return Ask{Species: safety.RedMeat, Handling: safety.Intact, Hand: UsualHand, Contexts: slices.Clone(UsualContexts), Outcomes: usual(usualOutcomes...)}.Tidy()
}

func usual(keys ...OutcomeKey) []Chosen {
	var out []Chosen
	for _, k := range keys {
		d, _ := DefaultOf(k)
		out = append(out, Chosen{Key: k, SmallestDifference: d.SmallestDifference, Source: "the barn's usual"})
	}
	return out
}

// Templates are the usual questions, with our own numbers.
var Templates = []Template{
	template("wrap", "Paper or bare?", Factor{"wrap", Categorical, "", UnitCut}, []Arm{
		{Tag: "BARE", Levels: []string{"none"}, Control: true}, {Tag: "PAPER", Levels: []string{"paper"}}}, nil),
	template("heat", "Does a hotter pit cost us anything?", Factor{"pit temperature", Numeric, "F", UnitPitRun}, []Arm{
		{Tag: "LOW", Levels: []string{"225"}, Control: true}, {Tag: "HOT", Levels: []string{"275"}}}, []OutcomeKey{HandsOn, NightWork}),
	template("wood", "Which wood?", Factor{"wood", Categorical, "", UnitPitRun}, []Arm{
		{Tag: "APRICOT", Levels: []string{"apricot"}, Control: true}, {Tag: "ALDER", Levels: []string{"alder"}}}, []OutcomeKey{Flavour, Smoke}),
	template("hold", "How long may it be held?", Factor{"hold time", Numeric, "h", UnitHolderRun}, []Arm{
		{Tag: "FOUR", Levels: []string{"4"}, Control: true}, {Tag: "NINE", Levels: []string{"9"}}}, []OutcomeKey{EdibleYield}),
	template("salt", "Does a dry brine pay?", Factor{"dry brine", Ordered, "", UnitCut}, []Arm{
		{Tag: "PLAIN", Levels: []string{"none"}, Control: true}, {Tag: "BRINE", Levels: []string{"1 %, 24 h"}}}, []OutcomeKey{Flavour}),
	template("spritz", "Is the spritz worth the lid?", Factor{"spritz", Ordered, "", UnitCut}, []Arm{
		{Tag: "NEVER", Levels: []string{"none"}, Control: true}, {Tag: "HOURLY", Levels: []string{"every hour"}}}, []OutcomeKey{HandsOn}),
	crossed(),
}

func template(key, question string, f Factor, arms []Arm, more []OutcomeKey) Template {
	a := Start()
	a.Question, a.Factors, a.Arms = question, []Factor{f}, arms
	a.Outcomes = append(a.Outcomes, usual(more...)...)
	a.Held = usualHeld(f.Name)
	return Template{key, a.Tidy()}
}

// crossed is two factors at once, the way they can be told apart.
func crossed() Template {
	t := template("cross", "Wrap and rub: each by itself, and together?", Factor{"wrap", Categorical, "", UnitCut}, nil, []OutcomeKey{Flavour})
	t.Ask.Factors = append(t.Ask.Factors, Factor{"rub", Categorical, "", UnitCut})
	t.Ask.Arms = []Arm{
		{Tag: "PLAIN", Levels: []string{"none", "salt and pepper"}, Control: true}, {Tag: "PAPER", Levels: []string{"paper", "salt and pepper"}},
		{Tag: "HERB", Levels: []string{"none", "herb"}}, {Tag: "BOTH", Levels: []string{"paper", "herb"}}}
	t.Ask.Held = usualHeld("wrap", "rub")
	t.Ask.Hand.BlockSize = 4
	return t
}

// usualHeld names what drifts when nobody names it; a team fills in the values.
func usualHeld(but ...string) []Held {
	out := []Held{}
	for _, name := range []string{"pit temperature", "wood", "wrap", "salt", "pull", "rest time", "serving age"} {
		if !slices.Contains(but, name) {
			out = append(out, Held{Name: name, Value: "the same in every arm"})
		}
	}
	return out
}

// HoldUsual adds to an ask what is usually held equal and is not yet named.
func (a Ask) HoldUsual() Ask {
	var taken []string
	for _, f := range a.Factors {
		taken = append(taken, f.Name)
	}
	for _, h := range a.Held {
		taken = append(taken, h.Name)
	}
	a.Held = append(slices.Clone(a.Held), usualHeld(taken...)...)
	return a
}

// Copy is an ask for another trial: the same words, no record of its own.
func (a Ask) Copy() Ask {
	a = a.Tidy()
	for i := range a.Arms {
		a.Arms[i].ID = 0
	}
	a.FollowsID = nil
	return a
}

// FollowOn is the start of a trial that follows from this one: what was held
// equal stays so, what was varied is held at the level of the arm to go on
// with, and the next factor is open. That arm is today's practice.
func (a Ask) FollowOn(id int64, arm int) Ask {
	next := a.Copy()
	for f, factor := range a.Factors {
		value := a.Arms[arm].Levels[f]
		if factor.Kind == Numeric {
			value += " " + factor.Unit
		}
		next.Held = append(next.Held, Held{Name: factor.Name, Value: value})
	}
	next.Question, next.Factors, next.Layout = "", []Factor{{Kind: Categorical, SetOn: UnitCut}}, ""
	next.Arms = []Arm{{Tag: a.Arms[arm].Tag, Levels: []string{""}, Control: true}, {Levels: []string{""}}}
	next.FollowsID = &id
	return next
}

// GoOnWith is the arm a follow-on starts from while no verdict says better:
// today's practice, else the first.
func (a Ask) GoOnWith() int {
	return max(0, slices.IndexFunc(a.Arms, func(arm Arm) bool { return arm.Control }))
}
