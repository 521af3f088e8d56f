package trial

import (
	"strings"
	"testing"
	"time"

	"whitebarn/core/safety"
)

func ask() Ask {
	return Ask{
		Question: "Paper or bare?", Product: "lamb shoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factor: "wrap", Unit: UnitCut,
		Arms:     []Arm{{Tag: "PAPER", Level: "paper at 165 F"}, {Tag: "BARE", Level: "no wrap", Control: true}},
		Held:     []Held{{"pit", "250 F"}},
		Outcomes: []Chosen{{Key: Juiciness, SmallestDifference: 0.5}, {Key: Smoke}},
	}
}

func TestAskIsRefusedByField(t *testing.T) {
	if err := ask().Check(); err != nil {
		t.Fatalf("a sound ask is refused: %v", err)
	}
	for want, spoil := range map[string]func(*Ask){
		"question":                        func(a *Ask) { a.Question = " " },
		"factor":                          func(a *Ask) { a.Factor = strings.Repeat("x", 61) },
		"species":                         func(a *Ask) { a.Species = "tofu" },
		"give two arms":                   func(a *Ask) { a.Arms = a.Arms[:1] },
		"arms[1].tag: PAPER is there":     func(a *Ask) { a.Arms[1].Tag = "PAPER" },
		"arms[0].tag: \"paper\"":          func(a *Ask) { a.Arms[0].Tag = "paper" },
		"the arms must differ":            func(a *Ask) { a.Arms[1].Level = "Paper at 165 F " },
		"held[0].name":                    func(a *Ask) { a.Held[0].Name = "" },
		"outcomes[0].smallest_difference": func(a *Ask) { a.Outcomes[0].SmallestDifference = -1 },
		"outcomes[1].key: Juiciness is":   func(a *Ask) { a.Outcomes[1] = a.Outcomes[0] },
		"outcomes[0].key":                 func(a *Ask) { a.Outcomes[0].Key = "sparkle" },
	} {
		a := ask()
		spoil(&a)
		if err := a.Check(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("want a refusal with %q, got %v", want, err)
		}
	}
}

func TestAskWarnsOfWhatItCannotAnswer(t *testing.T) {
	if got := ask().Warnings(); len(got) != 0 {
		t.Errorf("a sound ask is warned of %v", got)
	}
	a := ask()
	a.Arms[1].Control, a.Held, a.Outcomes = false, nil, a.Outcomes[1:]
	if got := strings.Join(a.Warnings(), " "); !strings.Contains(got, "today's practice") || !strings.Contains(got, "held equal") || !strings.Contains(got, "No outcome decides") {
		t.Errorf("warnings are %q", got)
	}
}

func TestBalance(t *testing.T) {
	kg := func(v float64) *float64 { return &v }
	tags := []string{"PAPER", "BARE"}
	for _, c := range []struct {
		name   string
		pieces []Piece
		alike  bool
		warn   string
	}{
		{"two matched pairs", []Piece{{"1L", "1", 0, kg(3)}, {"1R", "1", 1, kg(2.9)}, {"2L", "2", 1, kg(3.1)}, {"2R", "2", 0, kg(3)}}, true, ""},
		{"one arm empty", []Piece{{"1L", "", 0, kg(3)}}, false, "BARE has no cut"},
		{"one piece an arm", []Piece{{"1L", "1", 0, kg(3)}, {"1R", "1", 1, kg(3)}}, true, "one cut"},
		{"heavier than the gate", []Piece{{"1L", "1", 0, kg(3)}, {"1R", "1", 1, kg(3.3)}}, false, "BARE is heavier"},
		{"a pair in one arm", []Piece{{"1L", "1", 0, kg(3)}, {"1R", "1", 0, kg(3)}}, false, "Pair 1 is in one arm"},
		{"a pair of one", []Piece{{"1L", "1", 0, kg(3)}, {"2R", "2", 1, kg(3)}}, true, "Pair 1 has 1 cut"},
		{"no arm, no weight", []Piece{{"1L", "1", -1, nil}, {"1R", "1", 1, kg(3)}}, false, "1 cut without an arm. 1 cut without a weight"},
	} {
		b := BalanceOf(tags, c.pieces)
		warned := strings.Join(b.Warnings, " ")
		if b.Alike != c.alike || !strings.Contains(warned, c.warn) || c.warn == "" && warned != "" {
			t.Errorf("%s: alike %v, warnings %q; want %v and %q", c.name, b.Alike, warned, c.alike, c.warn)
		}
	}
}

func TestStepsSayWhatIsMissing(t *testing.T) {
	if got := Here(StepsOf(Progress{})); got != StepAsk {
		t.Errorf("an empty trial stands at %s", got)
	}
	p := Progress{Outcomes: 2, Cuts: 4, Placed: 4, Weighed: 3, ArmsWithCuts: 2}
	steps := StepsOf(p)
	if got := strings.Join(steps[1].Missing, ", "); Here(steps) != StepMatch || got != "a weight for every cut" {
		t.Errorf("it stands at %s and lacks %q, want match and a weight", Here(steps), got)
	}
	done := Progress{Outcomes: 1, Cuts: 2, Placed: 2, Weighed: 2, ArmsWithCuts: 2, Cooks: 1, Planned: 2, Prepped: 2, On: 2, Pulled: 2, Readings: 9, Off: 2, FinalTemperatures: 2, Tasters: 3, Ballots: 3, Locked: 3, Revealed: true}
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
