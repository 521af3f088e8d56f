package trial

import (
	"fmt"

	"whitebarn/core/words"
)

// Kind is what a trial is of.
type Kind string

// The kinds.
const (
	OfMeat   Kind = ""        // matched cuts, cooked side by side
	OfSetUps Kind = "set-ups" // a pit as it is set up, burned without meat
)

// Values lists the kinds.
func (Kind) Values() []string { return []string{string(OfMeat), string(OfSetUps)} }

// tidyKind leaves out what a trial of the kind has not: without meat there is nothing to
// cook, to hold equal in a cut, or to taste.
func (a *Ask) tidyKind() {
	if a.Kind != OfSetUps {
		return
	}
	a.Product, a.ProductID, a.Family, a.Cut, a.Species, a.Handling, a.WholeBird = "", 0, "", "", "", "", false
	a.MeatConfirmed, a.MeatWhy, a.WrittenUp = false, "", false
	a.Outcomes, a.Contexts, a.Allergens, a.Layout = []Chosen{}, []Context{}, []string{}, ""
}

// kind refuses what a trial of the kind cannot be asked with.
func (c *checker) kind(a Ask) {
	switch a.Kind {
	case OfMeat:
		c.words("product", a.Product, "say what is cooked, for instance lamb shoulder", 60)
		c.words("cut", a.Cut, "say what one piece is called, for instance shoulder", 40)
		c.meat(a)
	case OfSetUps:
		for i, f := range a.Factors {
			if f.SetOn != UnitPitRun {
				c.Add(fmt.Sprintf("factors[%d].set_on", i), fmt.Sprintf("%s is set on a %s", f.Name, f.SetOn),
					"vary what is set on a pit run; a burn has no cuts")
			}
		}
	default:
		c.Add("kind", fmt.Sprintf("%q is no kind of trial", a.Kind), "ask about meat, or about set-ups")
	}
}

// setUpSteps says how far a trial of set-ups is: it is asked, planned, burned and settled.
func setUpSteps(p Progress) []StepState {
	s := steps{p}
	ask := s.need(s.start(StepAsk, words.Plural(p.Arms, "set-up")), p.Arms > 1, "a second set-up to burn beside it")
	plan := s.need(s.start(StepPlan, words.Plural(p.Burns, "burn")), p.Burns > 0 && p.ArmsBurning == p.Arms, "a burn of every set-up")
	fact := "not lit"
	if p.BurnsLit > 0 {
		fact = fmt.Sprintf("%d of %s lit", p.BurnsLit, words.Plural(p.Burns, "burn"))
	}
	fire := s.need(s.start(StepFire, fact), p.Burns > 0 && p.BurnsLit == p.Burns, "every burn lit")
	fire = s.need(fire, p.Burns > 0 && p.BurnsRead == p.Burns, "a probe on the grate in every burn")
	return []StepState{ask, plan, fire, s.settle("the trial ended")}
}
