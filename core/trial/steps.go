package trial

import (
	"fmt"

	"whitebarn/core/words"
)

// Step is one of the eight steps of a trial.
type Step string

// The steps, in the order of the work.
const (
	StepAsk    Step = "ask"
	StepMatch  Step = "match"
	StepPlan   Step = "plan"
	StepPrep   Step = "prep"
	StepFire   Step = "fire"
	StepRest   Step = "rest"
	StepTable  Step = "table"
	StepSettle Step = "settle"
)

// Values lists the steps.
func (Step) Values() []string {
	return []string{string(StepAsk), string(StepMatch), string(StepPlan), string(StepPrep), string(StepFire), string(StepRest), string(StepTable), string(StepSettle)}
}

// Progress is what the record of a trial holds so far.
type Progress struct {
	Outcomes                 int
	Cuts, Placed, Weighed    int // placed: has an arm; weighed: has its trimmed weight
	Cooks, Planned           int // planned: cuts with a pit
	Prepped, Marked          int // marked: got a dose
	On, Pulled, Readings     int
	Off, Read                int // weighed off the pit; a temperature read in it
	Tasters, Ballots, Locked int
	Revealed                 bool
	Arms, ArmsWithCuts       int
	Kind                     Kind
	Burns, ArmsBurning       int // of a trial of set-ups
	BurnsLit, BurnsRead      int // read: by a probe on the grate
}

// StepState is how far one step is: what is there and what is still missing.
type StepState struct {
	Step    Step     `json:"step"`
	Done    bool     `json:"done"`
	Fact    string   `json:"fact"`
	Missing []string `json:"missing"`
}

// steps puts together how far each step is.
type steps struct{ Progress }

func (steps) start(step Step, fact string) StepState {
	return StepState{Step: step, Done: true, Fact: fact, Missing: []string{}}
}

func (steps) need(s StepState, ok bool, missing string) StepState {
	if !ok {
		s.Done = false
		s.Missing = append(s.Missing, missing)
	}
	return s
}

func (s steps) settle(missing string) StepState {
	out := s.need(s.start(StepSettle, "not revealed"), s.Revealed, missing)
	switch {
	case s.Revealed:
		out.Fact = "verdict read"
	case s.Kind == OfSetUps:
		out.Fact = "not settled"
	}
	return out
}

// StepsOf says how far each step is. A trial of set-ups has no meat, and so fewer steps.
func StepsOf(p Progress) []StepState {
	if p.Kind == OfSetUps {
		return setUpSteps(p)
	}
	s := steps{p}
	need, start := s.need, s.start
	of := func(n int, what string) string {
		return fmt.Sprintf("%d of %s %s", n, words.Plural(p.Cuts, "cut"), what)
	}

	ask := need(start(StepAsk, words.Plural(p.Outcomes, "outcome")), p.Outcomes > 0, "an outcome that decides")
	match := need(start(StepMatch, words.Plural(p.Cuts, "cut")), p.Cuts > 0, "the cuts")
	match = need(match, p.Arms > 0 && p.ArmsWithCuts == p.Arms, "a cut in each arm")
	match = need(match, p.Placed == p.Cuts, "an arm for every cut")
	match = need(match, p.Weighed == p.Cuts, "a weight for every cut")
	plan := need(start(StepPlan, words.Plural(p.Cooks, "cook")), p.Cooks > 0, "a cook with its serving time")
	plan = need(plan, p.Cuts > 0 && p.Planned == p.Cuts, "a pit for every cut")
	prepFact := "no pick-up weighed"
	switch {
	case p.Prepped > 0:
		prepFact = of(p.Prepped, "weighed")
	case p.Marked > 0:
		prepFact = of(p.Marked, "begun")
	}
	prep := start(StepPrep, prepFact)
	prep.Done = p.Cuts > 0 && max(p.Prepped, p.Marked) == p.Cuts || p.On > 0
	fireFact := "not lit"
	switch {
	case p.Pulled > 0:
		fireFact = of(p.Pulled, "pulled")
	case p.On > 0:
		fireFact = of(p.On, "on")
	}
	fire := need(start(StepFire, fireFact), p.Readings > 0 || p.Read > 0, "a temperature, from a log or read by hand")
	fire = need(fire, p.Cuts > 0 && p.Pulled == p.Cuts, "on and pull of every cut")
	restFact := "nothing weighed"
	if p.Off > 0 {
		restFact = of(p.Off, "weighed")
	}
	rest := need(start(StepRest, restFact), p.Cuts > 0 && p.Off == p.Cuts, "every cut weighed off the pit")
	rest = need(rest, p.Cuts > 0 && p.Read == p.Cuts, "a temperature read in every cut")
	tableFact := "no taster yet"
	switch {
	case p.Ballots > 0:
		tableFact = fmt.Sprintf("%d of %s locked", p.Locked, words.Plural(p.Ballots, "ballot"))
	case p.Tasters > 0:
		tableFact = words.Plural(p.Tasters, "taster")
	}
	table := need(start(StepTable, tableFact), p.Ballots > 0, "a flight served")
	table = need(table, p.Ballots > 0 && p.Locked == p.Ballots, "every ballot locked")
	return []StepState{ask, match, plan, prep, fire, rest, table, s.settle("the codes opened")}
}

// Here is the first step that is not done, the last when all are.
func Here(steps []StepState) Step {
	for _, s := range steps {
		if !s.Done {
			return s.Step
		}
	}
	return StepSettle
}
