package process

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/settle"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// ProposalKind is why a trial is proposed.
type ProposalKind string

// The kinds, in the order they are proposed.
const (
	Unconfound ProposalKind = "confound" // what could be the reason is parted from the arms
	Tell       ProposalKind = "tell"     // what cannot be told and weighs most
	Combine    ProposalKind = "combine"  // the better of each phase
	PullLever  ProposalKind = "lever"    // of a fault that tasters named
	NextDose   ProposalKind = "dose"     // where the trend is least known near its best
)

// Values lists the kinds.
func (ProposalKind) Values() []string {
	return []string{string(Unconfound), string(Tell), string(Combine), string(PullLever), string(NextDose)}
}

// Proposal is a trial that could be next, ready to be asked.
type Proposal struct {
	Kind   ProposalKind    `json:"kind"`
	Title  string          `json:"title"`
	Why    string          `json:"why"`
	Ask    trial.Ask       `json:"ask"`
	Phases [][]phase.Phase `json:"phases"` // of its arms; none for an arm that is to be planned
}

// After is what the next trial is proposed from.
type After struct {
	TrialID  int64
	Ask      trial.Ask
	Result   settle.Result
	Phases   [][]phase.Phase // of its arms
	Family   thermal.Family
	Pit      thermal.Surroundings
	Pressure float64
	Kg       float64
	Words    []map[string]int // that tasters ticked, of each arm
	Context  trial.Context    // that is decided for
}

// mostProposals of a trial.
const mostProposals = 6

// Proposals are what could be next: confounds first, then what cannot be told and weighs most,
// then combinations of phases, levers of named faults, and the next dose.
func Proposals(a After) ([]Proposal, error) {
	out := []Proposal{}
	out = append(out, a.unconfound()...)
	out = append(out, a.tell()...)
	combined, err := a.combine()
	if err != nil {
		return nil, err
	}
	out = append(out, combined...)
	levers, err := a.levers()
	if err != nil {
		return nil, err
	}
	out = append(out, levers...)
	out = append(out, a.dose()...)
	for i := range out {
		if out[i].Phases == nil {
			out[i].Phases = make([][]phase.Phase, len(out[i].Ask.Arms))
		}
		for j := range out[i].Phases {
			if out[i].Phases[j] == nil {
				out[i].Phases[j] = []phase.Phase{}
			}
		}
	}
	return out[:min(len(out), mostProposals)], nil
}

// again is the same question asked once more.
func (a After) again(question string) trial.Ask {
	next := a.Ask.Copy()
	id := a.TrialID
	next.FollowsID, next.Question = &id, words.Short(question, trial.MostQuestion)
	next.Species, next.Handling, next.WholeBird = a.Ask.Species, a.Ask.Handling, a.Ask.WholeBird
	return next
}

// unconfound asks again with what could be the reason held equal.
func (a After) unconfound() []Proposal {
	for _, l := range a.Result.Limits {
		if !l.Broken && !l.Confound {
			continue
		}
		next := a.again(strings.TrimRight(a.Ask.Question, "?") + ", all else equal?")
		next.Hand.CookDays = max(1, next.Hand.CookDays)
		for _, d := range a.Result.Delivered {
			if d.Apart && !slices.ContainsFunc(next.Held, func(h trial.Held) bool { return strings.EqualFold(h.Name, d.Name) }) {
				next.Held = append(next.Held, trial.Held{Name: strings.ToLower(d.Name), Value: "the same in every arm"})
			}
		}
		return []Proposal{{Kind: Unconfound, Title: "The same again, with this held equal", Why: l.Text, Ask: next, Phases: a.Phases}}
	}
	return nil
}

// leastChance below which more of the same is not worth lighting a fire for.
const leastChance = 0.1

// tell asks again for what weighs most of what cannot be told, with as many cooks as settle it.
func (a After) tell() []Proposal {
	var out []Proposal
	most := -1.0
	for _, row := range a.Result.Rows {
		weight := a.Context.Weights[row.Outcome.Key]
		if weight <= most {
			continue
		}
		for _, p := range row.Pairs {
			chance, ok := settle.Best(row.GoOn, p.A, p.B)
			if !ok || chance.Chance < leastChance || p.Next.Word == verdict.Clear || p.Next.Word == verdict.Same {
				continue
			}
			next := a.again(a.Ask.Question)
			next.Hand.CookDays = chance.Cooks
			next.Hand.Blocks = 2 * chance.Cooks
			most, out = weight, []Proposal{{Kind: Tell, Title: words.Plural(chance.Cooks, "cook") + " more of the same",
				Why: fmt.Sprintf("%s of %s and %s: %s. Two %s of each an evening are the fewest that tell their own spread.", row.Outcome.Name, a.Ask.TagOf(p.A),
					a.Ask.TagOf(p.B), chance.Said(), blockName(a.Ask)), Ask: next, Phases: a.Phases}}
			break
		}
	}
	return out
}

func blockName(ask trial.Ask) string {
	if ask.Hand.BlockSize > 1 {
		return "pairs"
	}
	return "cuts"
}

// lastC is for how many of the last degrees of its core a cut is unwrapped again.
var lastC = []float64{4 / 1.8, 8 / 1.8, 15 / 1.8}

// combine takes the phases of a wrapped arm, unwrapped at the end, where a bare one has the
// better bark: simulated by the cook model before anybody lights a fire.
func (a After) combine() ([]Proposal, error) {
	bark := slices.IndexFunc(a.Result.Rows, func(r settle.Row) bool { return r.Outcome.Key == trial.Bark })
	if bark < 0 {
		return nil, nil
	}
	for _, p := range a.Result.Rows[bark].Pairs {
		side := p.Widest()
		if side.Winner == nil {
			continue
		}
		better, other := *side.Winner, p.A+p.B-*side.Winner
		if other >= len(a.Phases) || !a.wins(other, better) {
			continue
		}
		was, err := plan.Foresee(a.Family, a.Pit, a.Pressure, a.Kg, 0, a.Phases[other])
		if err != nil {
			continue // an arm that the model cannot follow is not combined
		}
		best, phases := plan.Foreseen{}, []phase.Phase(nil)
		for _, c := range lastC {
			next, ok := plan.Combined(a.Phases[other], c)
			if !ok || phase.Check(next) != nil {
				continue
			}
			is, err := plan.Foresee(a.Family, a.Pit, a.Pressure, a.Kg, 0, next)
			// A bark that is set is enough; past it only water is lost.
			if err == nil && (phases == nil || best.Crust < plan.CrustSet && is.Crust > best.Crust) {
				best, phases = is, next
			}
		}
		if phases == nil {
			continue
		}
		return []Proposal{a.ofPhases(Combine, other, "UNWRAP", phases, fmt.Sprintf("Try %s, then unwrap it at the end", a.Ask.TagOf(other)),
			fmt.Sprintf("%s has the better bark, %s the rest. Simulated: the crust dries by %.1f kg a square metre in place of %.1f (set at %.1f), "+
				"pulled after %s in place of %s, %.1f points of weight more lost.",
				a.Ask.TagOf(better), a.Ask.TagOf(other), best.Crust, was.Crust, plan.CrustSet, hours(best.PullS), hours(was.PullS), 100*(best.Loss-was.Loss)))}, nil
	}
	return nil, nil
}

// wins says whether an arm is better than another in anything but bark.
func (a After) wins(arm, other int) bool {
	return slices.ContainsFunc(a.Result.Rows, func(r settle.Row) bool {
		return r.Outcome.Key != trial.Bark && slices.ContainsFunc(r.Pairs, func(p settle.Pair) bool {
			w := p.Widest().Winner
			return w != nil && *w == arm && p.A+p.B-arm == other
		})
	})
}

// ofPhases asks an arm as it is against it with other phases.
func (a After) ofPhases(kind ProposalKind, arm int, tag string, phases []phase.Phase, title, why string) Proposal {
	next := a.Ask.FollowOn(a.TrialID, arm)
	next.Species, next.Handling, next.WholeBird = a.Ask.Species, a.Ask.Handling, a.Ask.WholeBird
	next.Question = words.Short(title+"?", trial.MostQuestion)
	next.Factors = []trial.Factor{{Name: "phases", Kind: trial.Categorical, SetOn: trial.UnitCut}}
	next.Arms = []trial.Arm{{Tag: a.Ask.TagOf(arm), Levels: trial.Levels("as it was"), Control: true}, {Tag: tag, Levels: trial.Levels(words.Lower(title))}}
	next.Hand = a.Ask.Hand
	var own []phase.Phase
	if arm < len(a.Phases) {
		own = a.Phases[arm]
	}
	loose := variedBy(own, phases)
	next.Held = slices.DeleteFunc(next.Held, func(h trial.Held) bool { return slices.Contains(loose, h.Role) })
	return Proposal{Kind: kind, Title: title, Why: why, Ask: next, Phases: [][]phase.Phase{own, phases}}
}

// variedBy are what two arms' phases differ in, which cannot be held equal between them.
func variedBy(a, b []phase.Phase) (out []trial.Role) {
	differ := func(of func(phase.Phase) (string, bool)) bool {
		list := func(all []phase.Phase) (out []string) {
			for _, p := range all {
				if s, ok := of(p); ok {
					out = append(out, s)
				}
			}
			return slices.Compact(out)
		}
		return !slices.Equal(list(a), list(b))
	}
	if differ(func(p phase.Phase) (string, bool) { return p.Wrap, p.Kind.InPit() }) {
		out = append(out, trial.Wrap, trial.WrapWhen, trial.WrapLiquid)
	}
	if differ(func(p phase.Phase) (string, bool) { return fmt.Sprint(p.SetC), p.Kind.InPit() }) {
		out = append(out, trial.PitTemperature)
	}
	if differ(func(p phase.Phase) (string, bool) { return EndsOf(p), p.Kind == phase.Rest }) {
		out = append(out, trial.RestTime)
	}
	if differ(func(p phase.Phase) (string, bool) { return p.SetTyped + EndsOf(p), p.Kind == phase.Hold }) {
		out = append(out, trial.HoldTime, trial.HoldTemperature)
	}
	was, _ := phase.PullEnd(a)
	is, _ := phase.PullEnd(b)
	if was.Watch != is.Watch || was.Value != is.Value {
		out = append(out, trial.PullTemperature)
	}
	return out
}

// levers pull the first lever of the fault that tasters named most of the arm to go on with.
func (a After) levers() ([]Proposal, error) {
	arm := a.best()
	if arm >= len(a.Words) || arm >= len(a.Phases) {
		return nil, nil
	}
	type named struct {
		word  string
		times int
	}
	var faults []named
	for word, n := range a.Words[arm] {
		if _, ok := FaultOf(word); ok && n > 0 {
			faults = append(faults, named{word, n})
		}
	}
	slices.SortFunc(faults, func(x, y named) int { return cmp.Or(cmp.Compare(y.times, x.times), cmp.Compare(x.word, y.word)) })
	for _, f := range faults {
		fault, _ := FaultOf(f.word)
		levers, err := Levers(fault, a.Phases[arm], a.Family, a.Pit, a.Pressure, a.Kg, 0)
		if err != nil {
			return nil, err
		}
		if len(levers) == 0 {
			continue
		}
		l := levers[0]
		why := fmt.Sprintf("“%s” was ticked %s of %s. What usually moves it: %s.", f.word, words.Plural(f.times, "time"), a.Ask.TagOf(arm), l.Says)
		if l.Of != "" {
			why += fmt.Sprintf(" Simulated, %s from %.2f to %.2f.", l.Of, l.Was, l.Is)
		}
		return []Proposal{a.ofPhases(PullLever, arm, "LEVER", l.Phases, l.Says, why)}, nil
	}
	return nil, nil
}

// best is the arm that the context puts first.
func (a After) best() int {
	if s := settle.Weigh(a.Ask, a.Result, a.Context); len(s.Winners) > 0 {
		return s.Winners[0]
	}
	return a.Ask.GoOnWith()
}

// dose asks for the level between the best and its worse known neighbour: where the gap is
// widest.
func (a After) dose() []Proposal {
	for _, row := range a.Result.Rows {
		t := row.Trend
		if t == nil || len(t.Levels) < 3 {
			continue
		}
		best := 0
		for i, l := range t.Levels {
			if (l.Mean > t.Levels[best].Mean) == (row.Outcome.Better == trial.Up) && l.Mean != t.Levels[best].Mean {
				best = i
			}
		}
		at, gap := 0.0, 0.0
		for _, i := range []int{best - 1, best} {
			if i < 0 || i+1 >= len(t.Levels) {
				continue
			}
			if w := t.Levels[i+1].Dose - t.Levels[i].Dose; w > gap {
				at, gap = t.Levels[i].Dose+w/2, w
			}
		}
		if gap == 0 {
			continue
		}
		at = math.Round(2*at) / 2
		next := a.again(fmt.Sprintf("Is %g %s of %s better still?", at, t.Unit, t.Factor))
		next.Arms = []trial.Arm{{Tag: "BEST", Levels: trial.Levels(fmt.Sprintf("%g", t.Levels[best].Dose)), Control: true},
			{Tag: "NEXT", Levels: trial.Levels(fmt.Sprintf("%g", at))}}
		return []Proposal{{Kind: NextDose, Title: fmt.Sprintf("Try %g %s", at, t.Unit), Ask: next,
			Why: fmt.Sprintf("%s is best near %g %s, and nothing is known for %g %s about it.", row.Outcome.Name, t.Levels[best].Dose, t.Unit, gap, t.Unit)}}
	}
	return nil
}

func hours(s float64) string {
	m := int(math.Round(s / 60))
	return fmt.Sprintf("%d:%02d", m/60, m%60)
}
