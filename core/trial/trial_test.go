package trial

import (
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/safety"
)

func ask() Ask {
	return Ask{
		Question: "Paper or bare?", Product: "lamb shoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factors:  []Factor{{Role: Wrap, Name: "wrap", Kind: Categorical, SetOn: UnitCut}, {Role: HoldTime, Name: "hold time", Kind: Numeric, Unit: "h", SetOn: UnitHolderRun}},
		Arms:     []Arm{{Tag: "PAPER", Levels: Levels("paper", "4")}, {Tag: "BARE", Levels: Levels("none", "9"), Control: true}},
		Held:     []Held{{Role: PitTemperature, Name: "pit", Value: "250 F"}},
		Outcomes: []Chosen{{Key: Juiciness, SmallestDifference: 0.5}, {Key: Smoke}, {Key: "own bone pull", SmallestDifference: 2, Own: &OwnMeasure{Name: "bone pull", Unit: "mm", Better: Up, SD: 3}}},
		Contexts: []Context{{Name: "contest", Weights: map[OutcomeKey]float64{Juiciness: 7}}},
		Hand:     UsualHand,
	}.Tidy()
}

func TestAskIsRefusedByField(t *testing.T) {
	if err := ask().Check(); err != nil {
		t.Fatalf("a sound ask is refused: %v", err)
	}
	for want, spoil := range map[string]func(*Ask){
		"question":                             func(a *Ask) { a.Question = " " },
		"factors[0].name: 61 letters":          func(a *Ask) { a.Factors[0].Name = strings.Repeat("x", 61) },
		"factors[1].name: WRAP is there":       func(a *Ask) { a.Factors[1].Name = "WRAP" },
		"factors[0].kind":                      func(a *Ask) { a.Factors[0].Kind = "fancy" },
		"factors[0].set_on":                    func(a *Ask) { a.Factors[0].SetOn = "moon" },
		"factors[1].unit":                      func(a *Ask) { a.Factors[1].Unit = "" },
		"factors: 0 factors":                   func(a *Ask) { a.Factors = nil },
		"species":                              func(a *Ask) { a.Species = "tofu" },
		"arms: 0 arms":                         func(a *Ask) { a.Arms = nil },
		"arms[1].tag: PAPER is there":          func(a *Ask) { a.Arms[1].Tag = "PAPER" },
		"arms[0].tag: \"paper\"":               func(a *Ask) { a.Arms[0].Tag = "paper" },
		"arms[0].levels[1].value: \"four\" is": func(a *Ask) { a.Arms[0].Levels[1] = Level{Value: "four"} },
		"arms[0].levels[0].value: nothing":     func(a *Ask) { a.Arms[0].Levels[0] = Level{Value: " "} },
		"arms: 2 arms are today's":             func(a *Ask) { a.Arms[0].Control = true },
		"held[0].name":                         func(a *Ask) { a.Held[0].Name = "" },
		"outcomes[0].smallest_difference":      func(a *Ask) { a.Outcomes[0].SmallestDifference = -1 },
		"outcomes[1].key: Juiciness is":        func(a *Ask) { a.Outcomes[1] = a.Outcomes[0] },
		"outcomes[0].key":                      func(a *Ask) { a.Outcomes[0].Key = "sparkle" },
		"outcomes[2].own.better":               func(a *Ask) { a.Outcomes[2].Own.Better = Description },
		"outcomes[2].own.sd":                   func(a *Ask) { a.Outcomes[2].Own.SD = 0 },
		"contexts[0].weights":                  func(a *Ask) { a.Contexts[0].Weights = map[OutcomeKey]float64{Juiciness: 11} },
		"hand.blocks":                          func(a *Ask) { a.Hand.Blocks = -1 },
		"hand.cut_cents":                       func(a *Ask) { a.Hand.CutCents = -5 },
	} {
		a := ask()
		spoil(&a)
		if err := a.Check(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("want a refusal with %q, got %v", want, err)
		}
	}
}

func TestTidyGivesEveryArmALevelOfEachFactor(t *testing.T) {
	a := Ask{Factors: []Factor{{Name: " wrap "}, {Name: "rub"}}, Arms: []Arm{{Tag: " paper ", Levels: Levels(" foil ")}, {Levels: Levels("a", "b", "c")}}}.Tidy()
	if a.Factors[0].Name != "wrap" || a.Arms[0].Tag != "PAPER" || len(a.Arms[0].Levels) != 2 || a.Arms[0].Levels[0].Value != "foil" || len(a.Arms[1].Levels) != 2 {
		t.Errorf("tidied to %+v", a)
	}
	if a.Held == nil || a.Outcomes == nil || a.Contexts == nil || a.Allergens == nil {
		t.Error("a list is left nil")
	}
}

func TestUnitIsTheCoarsestOfWhatDiffers(t *testing.T) {
	a := ask()
	a.Arms = append(a.Arms, Arm{Tag: "LONG", Levels: Levels("paper", "9")}, Arm{Tag: "TWIN", Levels: Levels("paper", "4")})
	for _, c := range []struct {
		x, y   int
		unit   UnitKind
		varied string
	}{{0, 1, UnitHolderRun, "wrap and hold time"}, {1, 2, UnitCut, "wrap"}, {0, 2, UnitHolderRun, "hold time"}, {0, 3, UnitCut, "wrap and hold time"}} {
		if u, v := a.Unit(c.x, c.y), a.Varied(c.x, c.y); u != c.unit || v != c.varied {
			t.Errorf("%s and %s differ in %q, set on a %s; want %q on a %s", a.Arms[c.x].Tag, a.Arms[c.y].Tag, v, u, c.varied, c.unit)
		}
	}
}

func TestFollowOnTakesOverWhatWasHeld(t *testing.T) {
	a := ask()
	a.Arms[0].ID, a.Arms[1].ID = 7, 8
	next := a.FollowOn(3, 0)
	want := []Held{{PitTemperature, "pit", "250 F", ""}, {Wrap, "wrap", "paper", ""}, {HoldTime, "hold time", "4 h", ""}}
	if !slices.Equal(next.Held, want) {
		t.Errorf("held equal are %v, want %v", next.Held, want)
	}
	if next.FollowsID == nil || *next.FollowsID != 3 || next.Question != "" || len(next.Arms) != 2 || next.Arms[0].Tag != "PAPER" || !next.Arms[0].Control || next.Arms[0].ID != 0 {
		t.Errorf("the next ask starts as %+v", next)
	}
	copied := a.Copy()
	if copied.FollowsID != nil || copied.Question != a.Question || copied.Arms[0].ID != 0 || a.Arms[0].ID != 7 {
		t.Errorf("a copy starts as %+v and the first has arm %d", copied, a.Arms[0].ID)
	}
}

func TestTemplatesLackOnlyTheMeat(t *testing.T) {
	for _, x := range Templates {
		a := x.Ask
		if a.Kind == OfSetUps {
			if err := a.Check(); err != nil {
				t.Errorf("%s, which lacks nothing, is refused: %v", x.Key, err)
			}
			continue
		}
		if err := a.Check(); err == nil {
			t.Errorf("%s names a product nobody chose", x.Key)
		}
		a.Product, a.Cut = "duck leg", "leg"
		if err := a.Check(); err != nil {
			t.Errorf("%s with a product is refused: %v", x.Key, err)
		}
		if again := a.HoldUsual(); len(again.Held) != len(a.Held) {
			t.Errorf("%s does not name the usual things: %v", x.Key, again.Held)
		}
	}
}

func TestStepsSayWhatIsMissing(t *testing.T) {
	if got := Here(StepsOf(Progress{})); got != StepAsk {
		t.Errorf("an empty trial stands at %s", got)
	}
	p := Progress{Outcomes: 2, Cuts: 4, Placed: 4, Weighed: 3, Arms: 2, ArmsWithCuts: 2}
	steps := StepsOf(p)
	if got := strings.Join(steps[1].Missing, ", "); Here(steps) != StepMatch || got != "a weight for every cut" {
		t.Errorf("it stands at %s and lacks %q, want match and a weight", Here(steps), got)
	}
	done := Progress{Outcomes: 1, Cuts: 2, Placed: 2, Weighed: 2, Arms: 2, ArmsWithCuts: 2, Cooks: 1, Planned: 2, Prepped: 2, On: 2, Pulled: 2,
		Readings: 9, Off: 2, Read: 2, Tasters: 3, Ballots: 3, Locked: 3, Revealed: true}
	for _, s := range StepsOf(done) {
		if !s.Done || len(s.Missing) > 0 {
			t.Errorf("%s of a finished trial lacks %v", s.Step, s.Missing)
		}
	}
}

func TestClockRunsAtItsOwnRate(t *testing.T) {
	start := time.Date(2026, 9, 19, 8, 0, 0, 0, time.UTC)
	c := Clock{Origin: start.AddDate(0, 0, -7), Start: start, Rate: 600}
	if got, want := c.Now(start.Add(time.Minute)), c.Origin.Add(10*time.Hour); !got.Equal(want) {
		t.Errorf("a minute at 600x is %v, want %v", got, want)
	}
	if got := RealClock(start).Now(start.Add(time.Hour)); !got.Equal(start.Add(time.Hour)) {
		t.Errorf("a real clock shows %v", got)
	}
}

func TestATrialOfSetUpsNeedsNoMeat(t *testing.T) {
	a := Ask{Kind: OfSetUps, Question: "What does the trough do?", Product: "lamb",
		Factors:  []Factor{{Name: "water pan", Kind: Categorical, SetOn: UnitPitRun}},
		Arms:     []Arm{{Tag: "TROUGH", Levels: Levels("water"), Control: true}, {Tag: "DRY", Levels: Levels("none")}},
		Outcomes: []Chosen{{Key: Overall, SmallestDifference: 0.5}}, Allergens: []string{"milk"}}.Tidy()
	if err := a.Check(); err != nil {
		t.Errorf("it is refused: %v", err)
	}
	if a.Product != "" || len(a.Outcomes) != 0 || len(a.Allergens) != 0 {
		t.Errorf("it keeps %q, %v and %v of meat", a.Product, a.Outcomes, a.Allergens)
	}
	a.Factors[0].SetOn = UnitCut
	if err := a.Check(); err == nil || !strings.Contains(err.Error(), "a burn has no cuts") {
		t.Errorf("what is set on a cut is taken: %v", err)
	}
	a.Kind = "weather"
	if err := a.Check(); err == nil || !strings.Contains(err.Error(), "no kind of trial") {
		t.Errorf("a kind there is not is taken: %v", err)
	}
}

func TestATrialOfSetUpsHasFourSteps(t *testing.T) {
	p := Progress{Kind: OfSetUps, Arms: 2}
	facts := func() (out []string) {
		for _, s := range StepsOf(p) {
			out = append(out, string(s.Step)+": "+s.Fact+" "+strings.Join(s.Missing, ", "))
		}
		return out
	}
	for _, c := range []struct {
		now  func()
		want []string
		here Step
	}{
		{func() {}, []string{"ask: 2 set-ups ", "plan: 0 burns a burn of every set-up",
			"fire: not lit every burn lit, a probe on the grate in every burn",
			"settle: not settled the trial ended"}, StepPlan},
		{func() { p.Burns, p.ArmsBurning, p.BurnsLit, p.BurnsRead = 2, 2, 1, 1 }, []string{"ask: 2 set-ups ", "plan: 2 burns ",
			"fire: 1 of 2 burns lit every burn lit, a probe on the grate in every burn", "settle: not settled the trial ended"}, StepFire},
		{func() { p.BurnsLit, p.BurnsRead, p.Revealed = 2, 2, true }, []string{"ask: 2 set-ups ", "plan: 2 burns ", "fire: 2 of 2 burns lit ",
			"settle: verdict read "}, StepSettle},
	} {
		c.now()
		if got := facts(); !slices.Equal(got, c.want) {
			t.Errorf("the steps are %q, want %q", got, c.want)
		}
		if here := Here(StepsOf(p)); here != c.here {
			t.Errorf("it is at %s, want %s", here, c.here)
		}
	}
}
