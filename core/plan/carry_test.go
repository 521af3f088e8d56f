package plan

import (
	"math"
	"testing"

	"whitebarn/core/phase"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
)

// wrapAsk varies the wrap alone: the first arm wraps in paper, the second does not.
func wrapAsk() trial.Ask {
	return catalogued(trial.Ask{Question: "Paper or bare?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder",
		Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Held:    []trial.Held{{Name: "pit temperature", Value: "250 F"}, {Name: "pull", Value: "203 F"}, {Name: "rest time", Value: "90 min"}},
		Arms:    []trial.Arm{{ID: 1, Tag: "PAPER", Levels: trial.Levels("paper")}, {ID: 2, Tag: "BARE", Levels: trial.Levels("none"), Control: true}}})
}

// untilF is the end of a phase by the core.
func untilF(text string) []phase.End {
	t, err := units.ParseTemperature(text)
	if err != nil {
		panic(err)
	}
	return []phase.End{{Watch: phase.ByCore, Value: t.C, Typed: t.Typed}}
}

// TestWhatIsNotVariedIsCarried: the arm to go on with is planned as it was cooked, typed names
// and ends included; the other differs from it in the wrap alone.
func TestWhatIsNotVariedIsCarried(t *testing.T) {
	a := wrapAsk()
	family, err := thermal.FamilyOf(a.Family)
	if err != nil {
		t.Fatal(err)
	}
	was := UsualPhases(a, a.Arms[1], family, ByHeat)
	_, to := phase.Fire(was)
	was[to-1].Name, was[to-1].Ends = "low and slow", untilF("197 F")
	was[len(was)-1].Name = "in the oven, door open"
	o := UsualOutline(a, family).Carry(a, family, ArmPhases{Phases: was, Doses: []prep.Dose{}})
	if got, want := sketch(o.Arms[1].Phases), sketch(was); got != want {
		t.Errorf("the arm that goes on is planned as %q, want as it was, %q", got, want)
	}
	paper := o.Arms[0].Phases
	if last := paper[len(paper)-1]; last.Name != "in the oven, door open" {
		t.Errorf("the other arm rests as %q, want as the arm that goes on", last.Name)
	}
	_, to = phase.Fire(paper)
	if last := paper[to-1]; last.Wrap != "paper" || last.Ends[0].Typed != "197 F" {
		t.Errorf("the other arm is planned as %q, want it wrapped and pulled as it was", sketch(paper))
	}
}

// TestDosesThatAreVariedAreNotCarried: a rub is carried to both arms, the brine that one of
// them is asked about is not.
func TestDosesThatAreVariedAreNotCarried(t *testing.T) {
	rub, dry := prep.Dose{Kind: prep.Rub, Share: 0.02}, prep.Dose{Kind: prep.DrySalt, Share: 0.01}
	held, more := prep.Dose{Kind: prep.DrySalt, Share: 0.008}, prep.Dose{Kind: prep.DrySalt, Share: 0.016}
	got := carriedDoses([]prep.Dose{rub, dry}, []prep.Dose{held}, []prep.Dose{more})
	if len(got) != 2 || got[0] != rub || got[1] != more {
		t.Errorf("carried are %+v, want the rub as it was and the brine that is asked", got)
	}
	if got := carriedDoses([]prep.Dose{rub, dry}, []prep.Dose{held}, []prep.Dose{held}); len(got) != 2 || got[1] != dry {
		t.Errorf("where the brine is held, carried are %+v, want both as they were", got)
	}
	if got := carriedDoses(nil, nil, nil); got == nil || len(got) != 0 {
		t.Errorf("of no doses carried are %#v, want none", got)
	}
}

// TestUnwrappedAtTheEnd takes the last degrees of a wrapped phase bare.
func TestUnwrappedAtTheEnd(t *testing.T) {
	open := phase.Phase{Kind: phase.Smoke, Name: "smoke", SetC: units.FToC(250), Ends: untilF("165 F")}
	wrapped := phase.Phase{Kind: phase.Smoke, Name: "wrapped", SetC: units.FToC(250), Wrap: "paper", LiquidG: 60, Ends: untilF("203 F")}
	rest := phase.Phase{Kind: phase.Rest, Name: "rest", Ends: []phase.End{{Watch: phase.ByTime, Value: 3600, Typed: "1 h"}}}
	out, ok := Combined([]phase.Phase{open, wrapped, rest}, 8/1.8)
	if !ok || len(out) != 4 {
		t.Fatalf("combined it is %q (%v)", sketch(out), ok)
	}
	if end := units.CToF(out[1].Ends[0].Value); math.Abs(end-195) > 1e-9 || out[1].Wrap != "paper" {
		t.Errorf("it is unwrapped at %.1f F, want 8 F before its pull", end)
	}
	if last := out[2]; !last.Bare() || last.LiquidG != 0 || math.Abs(units.CToF(last.Ends[0].Value)-203) > 1e-9 {
		t.Errorf("the last stretch is %+v, want bare to 203 F", last)
	}
	if wrapped.Ends[0].Typed != "203 F" {
		t.Error("what was combined was changed itself")
	}
	clock := wrapped
	clock.Ends = []phase.End{{Watch: phase.ByTime, Value: 7200, Typed: "2 h"}}
	for name, phases := range map[string][]phase.Phase{"nothing": {}, "bare": {open, rest}, "by the clock": {open, clock, rest}, "no fire": {rest}} {
		if _, ok := Combined(phases, 8/1.8); ok {
			t.Errorf("%s is combined", name)
		}
	}
}

// TestForeseenFollowsTheWrap: paper is sooner over and loses less; bare has the drier crust. No
// phases are refused by their field.
func TestForeseenFollowsTheWrap(t *testing.T) {
	a := wrapAsk()
	family, err := thermal.FamilyOf(a.Family)
	if err != nil {
		t.Fatal(err)
	}
	pit, err := thermal.SurroundingsOf("offset")
	if err != nil {
		t.Fatal(err)
	}
	see := func(arm int) Foreseen {
		f, err := Foresee(family, pit, 101325, 0, 0, UsualPhases(a, a.Arms[arm], family, ByHeat))
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	paper, bare := see(0), see(1)
	if !(paper.PullS < bare.PullS) || !(paper.Loss < bare.Loss) || !(bare.Crust > paper.Crust) {
		t.Errorf("in paper it is foreseen as %+v, bare as %+v", paper, bare)
	}
	if paper.KnifeS <= paper.PullS || math.Abs(units.CToF(paper.CoreC)-203) > 1 {
		t.Errorf("pulled at %.1f F after %.0f s, cut after %.0f s", units.CToF(paper.CoreC), paper.PullS, paper.KnifeS)
	}
	heavy, err := Foresee(family, pit, 101325, 2*family.Mass, 0, UsualPhases(a, a.Arms[1], family, ByHeat))
	if err != nil || heavy.PullS <= bare.PullS {
		t.Errorf("twice as heavy it is pulled after %.0f s, the usual one after %.0f (%v)", heavy.PullS, bare.PullS, err)
	}
	if _, err := Foresee(family, pit, 101325, 0, 0, nil); err == nil {
		t.Error("nothing is cooked, and it is foreseen")
	}
}
