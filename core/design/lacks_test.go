package design

import (
	"slices"
	"strings"
	"testing"

	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// TestWordsOfTheirOwnAreAskedAbout gives the rules' own factors levels they have no
// key for: each is asked about once, and a tap says what it counts as.
func TestWordsOfTheirOwnAreAskedAbout(t *testing.T) {
	a := sound()
	a.Factors[0].Role = trial.Wrap
	a.Arms[0].Levels = trial.Levels("two leaves")
	a.Arms[1].Levels = []trial.Level{{Key: trial.None, Value: "none"}}
	find := func(c Case, key string) *Finding {
		for _, f := range Review(c) {
			if f.Key == key {
				return &f
			}
		}
		return nil
	}
	f := find(Case{Ask: a}, "level:wrap:two leaves")
	if f == nil || f.Weight != Asks || len(f.Mends) != len(trial.LevelKeys(trial.Wrap)) {
		t.Fatalf("leaves of their own are said to be %+v", f)
	}
	if kept := f.Mends[1].Ask.Arms[0].Levels[0]; kept.Key != "paper" || kept.Value != "two leaves" {
		t.Errorf("a tap on %q makes it %+v", f.Mends[1].Do, kept)
	}
	if f := find(Case{Ask: *f.Mends[1].Ask}, "level:wrap:two leaves"); f != nil {
		t.Errorf("mended, it is still said: %s", f.Text)
	}
	a.Factors[0].Role = ""
	if f := find(Case{Ask: a}, "level:wrap:two leaves"); f != nil {
		t.Errorf("a factor of their own needs no key: %s", f.Text)
	}
	a.Family = ""
	lamb, _ := thermal.FamilyOf("lambshoulder")
	if f := find(Case{Ask: a, Like: &lamb}, "family"); f == nil || len(f.Mends) != 1 || f.Mends[0].Ask.Family != "lambshoulder" {
		t.Errorf("what it cooks like is asked as %+v", f)
	}
}

func TestWhatWasFoundSaysWhetherItCanAnswer(t *testing.T) {
	open := sound()
	open.Arms[1].Levels = trial.Levels("")
	for want, c := range map[string]struct {
		ask   trial.Ask
		found []Weight
	}{
		"Say what is varied, and its level in each arm": {open, []Weight{Confound}},
		"It cannot answer its question yet":             {sound(), []Weight{Weakens, Confound}},
		"It can answer, and could do so better":         {sound(), []Weight{Lacks}},
		"It can answer its question":                    {sound(), []Weight{Asks}},
	} {
		var found []Finding
		for _, w := range c.found {
			found = append(found, Finding{Weight: w})
		}
		if got := CanAnswer(c.ask, found, nil); got != want {
			t.Errorf("with %v found it says %q, want %q", c.found, got, want)
		}
	}
}

// TestAnAskThatCanFindNothingSaysSo has one cut an arm, a pair of them, and eight.
func TestAnAskThatCanFindNothingSaysSo(t *testing.T) {
	for units, want := range map[int]string{
		1: "It cannot answer with so few: no difference there can be would show",
		2: "It cannot answer with so few: no difference there can be would show",
		8: "It can answer its question",
	} {
		a := sound()
		a.Outcomes = []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 1}}
		numbers := Numbers(a, func(trial.UnitKind) map[trial.OutcomeKey]verdict.Spread { return nil }, func(trial.UnitKind) int { return units })
		if got := CanAnswer(a, nil, numbers); got != want {
			t.Errorf("with %d cuts an arm it says %q, want %q (%v)", units, got, want, numbers[0].Detects)
		}
	}
}

func TestAskAndTableAgreeHowManyTasters(t *testing.T) {
	a := sound()
	a.Hand.Tasters = trial.LeastTasters - 1
	f := find(Review(Case{Ask: a}), "few-tasters")
	if f == nil || len(f.Mends) != 1 || f.Mends[0].Ask.Hand.Tasters != trial.LeastTasters {
		t.Fatalf("two tasters are found as %+v", f)
	}
	if f := find(Review(Case{Ask: *f.Mends[0].Ask}), "few-tasters"); f != nil {
		t.Errorf("mended it still says %q", f.Text)
	}
}

// At a height a pull may lie where water boils: it is said as it is typed.
func TestAPullThatBoilsIsSaid(t *testing.T) {
	held := trial.Ask{Held: []trial.Held{{Role: trial.PullTemperature, Name: "pull", Value: "199 F"}}}
	varied := trial.Ask{Factors: []trial.Factor{{Role: trial.PullTemperature, Name: "pull", Kind: trial.Numeric, Unit: trial.Fahrenheit}},
		Arms: []trial.Arm{{Tag: "LOW", Levels: trial.Levels("190")}, {Tag: "HIGH", Levels: trial.Levels("203")}}}
	for _, c := range []struct {
		ask    trial.Ask
		boilsC float64
		want   []string
	}{
		{held, 92.6, []string{"Every arm"}}, {held, 100, nil}, {held, 0, nil}, {varied, 92.6, []string{"HIGH"}}, {varied, 88, []string{"LOW",
			"HIGH"}}, {varied, 100, nil},
	} {
		var got []string
		for _, f := range Review(Case{Ask: c.ask, BoilsC: c.boilsC}) {
			if who, ok := strings.CutPrefix(f.Key, "boils:"); ok {
				got = append(got, who)
				if f.Weight != Asks || !strings.Contains(f.Text, "water boils at {C:") {
					t.Errorf("%s is said as %+v", who, f)
				}
			}
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("where water boils at %v C, %v boil, want %v", c.boilsC, got, c.want)
		}
	}
}
