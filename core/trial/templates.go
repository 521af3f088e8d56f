package trial

import "slices"

// Template is a usual question, laid out.
type Template struct {
	Key string `json:"key"`
	Ask Ask    `json:"ask"`
}

var usualOutcomes = []OutcomeKey{Overall, Tenderness, Juiciness, Bark, CookedYield, CookTime}

// Start is an empty ask with what is usual filled in.
func Start() Ask {
	return Ask{Hand: UsualHand, Contexts: slices.Clone(UsualContexts), Outcomes: usual(usualOutcomes...)}.Tidy()
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
	template("wrap", "Paper or bare?", Factor{Role: Wrap, Name: "wrap", Kind: Categorical, SetOn: UnitCut}, []Arm{
		{Tag: "BARE", Levels: Levels("none"), Control: true}, {Tag: "PAPER", Levels: Levels("paper")}}, nil),
	template("heat", "Does a hotter pit cost us anything?", Factor{Role: PitTemperature, Name: "pit temperature", Kind: Numeric, Unit: "F", SetOn: UnitPitRun}, []Arm{
		{Tag: "LOW", Levels: Levels("225"), Control: true}, {Tag: "HOT", Levels: Levels("275")}}, []OutcomeKey{HandsOn, NightWork}),
	template("wood", "Which wood?", Factor{Role: Wood, Name: "wood", Kind: Categorical, SetOn: UnitPitRun}, []Arm{
		{Tag: "APRICOT", Levels: Levels("apricot"), Control: true}, {Tag: "ALDER", Levels: Levels("alder")}}, []OutcomeKey{Flavour, Smoke}),
	template("hold", "How long may it be held?", Factor{Role: HoldTime, Name: "hold time", Kind: Numeric, Unit: "h", SetOn: UnitHolderRun}, []Arm{
		{Tag: "FOUR", Levels: Levels("4"), Control: true}, {Tag: "NINE", Levels: Levels("9")}}, []OutcomeKey{EdibleYield}),
	template("salt", "Does a dry brine pay?", Factor{Role: DryBrine, Name: "dry brine", Kind: Ordered, SetOn: UnitCut}, []Arm{
		{Tag: "PLAIN", Levels: Levels("none"), Control: true}, {Tag: "BRINE", Levels: Levels("1 %, 24 h")}}, []OutcomeKey{Flavour}),
	template("spritz", "Is the spritz worth the lid?", Factor{Role: Spritz, Name: "spritz", Kind: Ordered, SetOn: UnitCut}, []Arm{
		{Tag: "NEVER", Levels: Levels("none"), Control: true}, {Tag: "HOURLY", Levels: Levels("every hour")}}, []OutcomeKey{HandsOn}),
	crossed(), trough(),
}

func template(key, question string, f Factor, arms []Arm, more []OutcomeKey) Template {
	a := Start()
	a.Question, a.Factors, a.Arms = question, []Factor{f}, arms
	a.Outcomes = append(a.Outcomes, usual(more...)...)
	a.Held = usualHeld(f.Role)
	if f.SetOn != UnitCut { // a run counts once, whatever hangs in it
		a.Hand.Pits, a.Hand.CookDays = 2, 4
	}
	return Template{key, a.Tidy()}
}

// trough is what a set-up does, with no meat.
func trough() Template {
	return Template{"set-ups", Ask{Kind: OfSetUps, Question: "What does the water pan do to the pit?", Hand: UsualHand,
		Factors: []Factor{{Role: WaterPan, Name: "water pan", Kind: Categorical, SetOn: UnitPitRun}},
		Arms:    []Arm{{Tag: "WATER", Levels: Levels("water"), Control: true}, {Tag: "DRY", Levels: Levels("none")}}}.Tidy()}
}

// crossed is two factors at once, the way they can be told apart.
func crossed() Template {
	t := template("cross", "Wrap and rub: each by itself, and together?", Factor{Role: Wrap, Name: "wrap", Kind: Categorical, SetOn: UnitCut}, nil, []OutcomeKey{Flavour})
	t.Ask.Factors = append(t.Ask.Factors, Factor{Role: Rub, Name: "rub", Kind: Categorical, SetOn: UnitCut})
	t.Ask.Arms = []Arm{
		{Tag: "PLAIN", Levels: Levels("none", "salt and pepper"), Control: true}, {Tag: "PAPER", Levels: Levels("paper", "salt and pepper")},
		{Tag: "HERB", Levels: Levels("none", "herb")}, {Tag: "BOTH", Levels: Levels("paper", "herb")}}
	t.Ask.Held = usualHeld(Wrap, Rub)
	t.Ask.Hand.BlockSize = 4
	return t
}

// heldUsually is what drifts when nobody names it.
var heldUsually = []Held{{Role: PitTemperature, Name: "pit temperature"}, {Role: Wood, Name: "wood"}, {Role: Wrap, Name: "wrap"}, {Role: DryBrine, Name: "salt"},
	{Role: PullTemperature, Name: "pull"}, {Role: RestTime, Name: "rest time"}, {Role: ServingAge, Name: "serving age"}}

// SameInEveryArm is what a thing held equal says until a team fills in its value.
const SameInEveryArm = "the same in every arm"

// usualHeld names what is usually held equal, but for some roles; a team fills
// in the values.
func usualHeld(but ...Role) []Held {
	out := []Held{}
	for _, h := range heldUsually {
		if !slices.Contains(but, h.Role) {
			h.Value = SameInEveryArm
			out = append(out, h)
		}
	}
	return out
}

// HoldUsual adds to an ask what is usually held equal and is not yet named.
func (a Ask) HoldUsual() Ask {
	var taken []Role
	for _, f := range a.Factors {
		taken = append(taken, f.Role)
	}
	for _, h := range a.Held {
		taken = append(taken, h.Role)
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
	if !a.MeatConfirmed {
		a.Species, a.Handling, a.WholeBird = "", "", false
	}
	a.MeatConfirmed, a.MeatWhy, a.WrittenUp = false, "", false
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
			value.Value += " " + factor.Unit
		}
		next.Held = append(next.Held, Held{Role: factor.Role, Name: factor.Name, Value: value.Value, Key: value.Key})
	}
	next.Question, next.Factors, next.Layout = "", []Factor{{Kind: Categorical, SetOn: UnitCut}}, ""
	if a.Kind == OfSetUps {
		next.Factors[0].SetOn = UnitPitRun
	}
	next.Arms = []Arm{{Tag: a.Arms[arm].Tag, Levels: Levels(""), Control: true}, {Levels: Levels("")}}
	next.FollowsID = &id
	return next
}

// GoOnWith is the arm a follow-on starts from while no verdict says better:
// today's practice, else the first.
func (a Ask) GoOnWith() int {
	return max(0, slices.IndexFunc(a.Arms, func(arm Arm) bool { return arm.Control }))
}
