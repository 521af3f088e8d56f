package process

import (
	"strings"
	"testing"

	"whitebarn/core/phase"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// settled is a trial of paper or bare: paper leads on juiciness, bare on bark.
func settled(t *testing.T) After {
	t.Helper()
	family, pit := lamb(t)
	rest := phase.Phase{Kind: phase.Rest, Name: "rest", Ends: []phase.End{{Watch: phase.ByTime, Value: 3600, Typed: "1 h"}}}
	outcome := func(key trial.OutcomeKey) trial.OutcomeDefault {
		d, ok := trial.DefaultOf(key)
		if !ok {
			t.Fatalf("there is no outcome %s", key)
		}
		return d
	}
	means := func(a, b float64) []*float64 { return []*float64{&a, &b} }
	won := func(arm int) settle.Pair {
		clear := settle.Side{Word: verdict.Clear, Winner: &arm}
		return settle.Pair{A: 0, B: 1, Cooks: clear, Next: settle.Side{Word: verdict.CannotTell}}
	}
	return After{TrialID: 7, Family: family, Pit: pit, Pressure: 101325, Kg: 2.7,
		Ask: trial.Ask{Question: "Paper or bare?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder",
			Factors: []trial.Factor{{Role: trial.Wrap, Name: "wrap", Kind: trial.Categorical,
				SetOn: trial.UnitCut}}, Hand: trial.Hand{Blocks: 6, BlockSize: 2, CookDays: 2},
			Held:     []trial.Held{{Name: "pit temperature", Value: "250 F"}},
			Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}},
			Arms:     []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}}},
		Phases: [][]phase.Phase{{smoke(250, "165 F", ""), smoke(250, "203 F", "paper"), rest}, {smoke(250, "203 F", ""), rest}},
		Result: settle.Result{Rows: []settle.Row{
			{Outcome: outcome(trial.Juiciness), Means: means(7.3, 6.0), Pairs: []settle.Pair{won(0)}, GoOn: []settle.Chance{{A: 0, B: 1,
				Cooks: 1, Chance: 0.3}, {A: 0, B: 1, Cooks: 2, Chance: 0.75}}},
			{Outcome: outcome(trial.Bark), Means: means(6.5, 7.2), Pairs: []settle.Pair{won(1)}, GoOn: []settle.Chance{{A: 0, B: 1,
				Cooks: 1, Chance: 0.2}, {A: 0, B: 1, Cooks: 3, Chance: 0.4}}}}},
		Context: trial.Context{Name: "table", Weights: map[trial.OutcomeKey]float64{trial.Juiciness: 5, trial.Bark: 1}}}
}

func propose(t *testing.T, a After) map[ProposalKind]Proposal {
	t.Helper()
	all, err := Proposals(a)
	if err != nil {
		t.Fatal(err)
	}
	out := map[ProposalKind]Proposal{}
	order := ProposalKind("").Values()
	last := -1
	for _, p := range all {
		at := -1
		for i, k := range order {
			if k == string(p.Kind) {
				at = i
			}
		}
		if at < last {
			t.Errorf("%s is proposed after %s", p.Kind, order[last])
		}
		last = at
		if len(p.Phases) != len(p.Ask.Arms) {
			t.Errorf("%s has phases for %d of %d arms", p.Kind, len(p.Phases), len(p.Ask.Arms))
		}
		if p.Ask.FollowsID == nil || *p.Ask.FollowsID != a.TrialID {
			t.Errorf("%s follows %v, want the trial it comes from", p.Kind, p.Ask.FollowsID)
		}
		if len(p.Ask.Held) == 0 {
			t.Errorf("%s holds nothing equal", p.Kind)
		}
		out[p.Kind] = p
	}
	return out
}

// TestMoreOfTheSameIsOfWhatWeighsMost: of two outcomes that are open for the next cook, the
// heavier is told, with the fewest cooks that tell it well.
func TestMoreOfTheSameIsOfWhatWeighsMost(t *testing.T) {
	a := settled(t)
	p, ok := propose(t, a)[Tell]
	if !ok || p.Ask.Hand.CookDays != 2 || p.Ask.Hand.Blocks != 4 || !strings.HasPrefix(p.Why, "Juiciness") {
		t.Errorf("with juiciness at 5 it proposes %q in %d cooks of %d blocks", p.Why, p.Ask.Hand.CookDays, p.Ask.Hand.Blocks)
	}
	a.Context.Weights[trial.Bark] = 9
	if p := propose(t, a)[Tell]; !strings.HasPrefix(p.Why, "Bark") || p.Ask.Hand.CookDays != 3 {
		t.Errorf("with bark at 9 it proposes %q in %d cooks", p.Why, p.Ask.Hand.CookDays)
	}
	a.Result.Rows[1].GoOn = []settle.Chance{{A: 0, B: 1, Cooks: 4, Chance: 0.04}}
	if p := propose(t, a)[Tell]; !strings.HasPrefix(p.Why, "Juiciness") {
		t.Errorf("what more cooks would hardly ever tell is proposed: %q", p.Why)
	}
	for i := range a.Result.Rows {
		a.Result.Rows[i].Pairs[0].Next.Word = verdict.Same
	}
	if _, ok := propose(t, a)[Tell]; ok {
		t.Error("what is the same for the next cook is asked again")
	}
}

// TestTheBetterOfTwoArmsIsCombined: the wrapped arm's phases with a bare end, simulated.
func TestTheBetterOfTwoArmsIsCombined(t *testing.T) {
	a := settled(t)
	p, ok := propose(t, a)[Combine]
	if !ok || !strings.Contains(p.Why, "BARE has the better bark, PAPER the rest") || !strings.Contains(p.Why, "Simulated: the crust dries") {
		t.Fatalf("it proposes %+v", p)
	}
	if was, is := p.Phases[0], p.Phases[1]; len(was) != 3 || len(is) != 4 || !is[2].Bare() || is[1].Wrap != "paper" {
		t.Errorf("its arms have %d and %d phases", len(was), len(is))
	}
	if p.Ask.Arms[0].Tag != "PAPER" || !p.Ask.Arms[0].Control {
		t.Errorf("today's practice of it is %+v, want paper as it was", p.Ask.Arms[0])
	}
	for _, h := range p.Ask.Held {
		if h.Role == trial.Wrap {
			t.Errorf("the wrap is held at %q between arms that differ in it", h.Value)
		}
	}
	a.Result.Rows[0].Pairs[0].Cooks = settle.Side{Word: verdict.CannotTell}
	if _, ok := propose(t, a)[Combine]; ok {
		t.Error("an arm that is better in nothing is combined")
	}
}

// TestAConfoundIsBrokenFirst: what moved with the arms is held equal, before all else.
func TestAConfoundIsBrokenFirst(t *testing.T) {
	a := settled(t)
	a.Result.Limits = []settle.Limit{{Text: "PAPER rested longer.", Confound: true}, {Text: "It was one pit."}}
	a.Result.Delivered = []settle.DeliveredFact{{Name: "Rest", Apart: true}, {Name: "Pit temperature", Apart: true}}
	all, err := Proposals(a)
	if err != nil || len(all) == 0 || all[0].Kind != Unconfound || all[0].Why != "PAPER rested longer." {
		t.Fatalf("it proposes %+v (%v)", all, err)
	}
	var held []string
	for _, h := range all[0].Ask.Held {
		held = append(held, h.Name)
	}
	if got := strings.Join(held, ", "); got != "pit temperature, rest" {
		t.Errorf("it holds %q, want the rest beside what was held", got)
	}
	if a.Ask.Held[0].Value != "250 F" || len(a.Ask.Held) != 1 {
		t.Error("the trial it comes from was changed")
	}
}

// TestALeverIsPulledForANamedFault: the fault that tasters ticked most of the arm to go on with.
func TestALeverIsPulledForANamedFault(t *testing.T) {
	a := settled(t)
	a.Words = []map[string]int{{"dry": 1, "under-rendered": 4, "delicious": 9}, {"dry": 7}}
	p, ok := propose(t, a)[PullLever]
	if !ok || !strings.Contains(p.Why, "“under-rendered” was ticked 4 times of PAPER") || len(p.Phases[1]) == 0 {
		t.Errorf("it proposes %+v", p)
	}
	a.Words = []map[string]int{{"delicious": 9}}
	if p, ok := propose(t, a)[PullLever]; ok {
		t.Errorf("of no fault it proposes %+v", p)
	}
}

// TestTheNextDoseLiesInTheWidestGapByTheBest of a trend.
func TestTheNextDoseLiesInTheWidestGapByTheBest(t *testing.T) {
	a := settled(t)
	row := &a.Result.Rows[0]
	row.Trend = &settle.Trend{Factor: "hold time", Unit: "h"}
	for _, l := range [][2]float64{{2, 6.1}, {4, 7.0}, {9, 6.9}, {14, 6.2}} {
		d := verdict.DoseLevel{Dose: l[0], Mean: l[1]}
		row.Trend.Levels = append(row.Trend.Levels, d)
	}
	p, ok := propose(t, a)[NextDose]
	if !ok || p.Ask.Arms[0].Levels[0].Value != "4" || p.Ask.Arms[1].Levels[0].Value != "6.5" || p.Title != "Try 6.5 h" {
		t.Errorf("it proposes %q of %+v", p.Title, p.Ask.Arms)
	}
	row.Trend.Levels = row.Trend.Levels[:2]
	if _, ok := propose(t, a)[NextDose]; ok {
		t.Error("of two levels a dose is proposed")
	}
}
