package design

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/trial"
)

func rows(a trial.Ask) string {
	var out []string
	for _, arm := range a.Arms {
		row := arm.Tag + ":" + strings.ReplaceAll(arm.Name(), ", ", ",")
		if arm.Control {
			row += "*"
		}
		out = append(out, row)
	}
	return strings.Join(out, " ")
}

func TestArmsAreRewrittenWithoutLosingTheirRecord(t *testing.T) {
	two := leveled(varied(2, "wrap", "rub"), "none plain", "paper herb")
	two.Arms[0].ID, two.Arms[1].ID = 7, 8
	crossed, n, ok := Cross(two)
	if want := "ARMA:none,plain* PAPPLA:paper,plain NONHER:none,herb ARMB:paper,herb"; rows(crossed) != want || n != 4 || !ok {
		t.Errorf("crossed into %q (%d, %v), want %q", rows(crossed), n, ok, want)
	}
	if crossed.Arms[0].ID != 7 || crossed.Arms[3].ID != 8 || crossed.Arms[1].ID != 0 {
		t.Errorf("the records of the arms went astray: %+v", crossed.Arms)
	}
	if rows(two) != "ARMA:none,plain* ARMB:paper,herb" {
		t.Errorf("crossing changed the ask it began with: %q", rows(two))
	}
	held := HoldEqual(crossed, 1)
	if want := "ARMA:none* PAPPLA:paper"; rows(held) != want || held.Held[len(held.Held)-1] != (trial.Held{Name: "rub", Value: "plain"}) || len(held.Factors) != 1 {
		t.Errorf("with the rub held equal: %q, held %v; want %q at today's rub", rows(held), held.Held, want)
	}
	three := leveled(varied(2, "a", "b", "c"), "1 1 1", "2 2 2")
	half, ok := HalfFraction(three)
	if want := []string{"1,1,1", "2,2,1", "2,1,2", "1,2,2"}; !ok || len(half.Arms) != 4 || !slices.EqualFunc(half.Arms, want, func(a trial.Arm, w string) bool { return strings.ReplaceAll(a.Name(), ", ", ",") == w }) {
		t.Errorf("half of the combinations is %q, want %v", rows(half), want)
	}
	if _, ok := HalfFraction(two); ok {
		t.Error("two factors are halved")
	}
	if _, n, ok := Cross(leveled(varied(3, "a", "b"), "1 1", "2 2", "3 3")); ok || n != 9 {
		t.Errorf("nine arms are made (%d)", n)
	}
}

func TestLevelsAreTheSameHoweverWritten(t *testing.T) {
	number := trial.Factor{Kind: trial.Numeric}
	for _, c := range []struct {
		factor trial.Factor
		a, b   string
		same   bool
	}{{number, "250", "250.0", true}, {number, "250", "25", false}, {number, "2.50", "2.5", true}, {trial.Factor{}, "Paper ", "paper", true}, {trial.Factor{}, "1.0 %", "1 %", false}} {
		if got := c.factor.Same(trial.Level{Value: c.a}, trial.Level{Value: c.b}); got != c.same {
			t.Errorf("%q and %q are one level: %v, want %v", c.a, c.b, got, c.same)
		}
	}
}

func TestTagsAreDistinctAndTheirCrewsCanReadThem(t *testing.T) {
	taken := map[string]bool{}
	for i := range 26 {
		tag := tagOf(trial.Levels("covered pan", "1 %"), taken)
		if taken[tag] || len(tag) < 2 || len(tag) > 7 || strings.Trim(tag, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") != "" {
			t.Fatalf("tag %d is %q beside %s", i, tag, fmt.Sprint(taken))
		}
		taken[tag] = true
	}
	if got := tagOf(trial.Levels("225"), nil); got != "ARM" {
		t.Errorf("a number gives the tag %q", got)
	}
}
