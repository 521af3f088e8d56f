package settle

import (
	"fmt"
	"strings"
	"testing"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// pairsTrial has n left/right pairs; the first arm is juicier by gain on every
// taster's ballot and keeps 60 % of its weight against 52.
func pairsTrial(n int, gain float64) Trial {
	t := Trial{Tags: []string{"PAPER", "BARE"}, Control: true, Factor: "wrap", Unit: trial.UnitCut,
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.CookTime, SmallestDifference: 0.75}, {Key: trial.Smoke}},
		Scores:   map[trial.OutcomeKey][]panel.Score{}}
	for i := range n {
		for arm, side := range []string{"L", "R"} {
			name := fmt.Sprintf("%d%s", i+1, side)
			kg, hours := 2.5+0.1*float64(i), 8+0.1*float64(i%3)+0.02*float64(arm*i)
			kept := []float64{0.60, 0.52}[arm] + 0.005*float64((i*7+arm)%3)
			t.Cuts = append(t.Cuts, Cut{Name: name, Arm: arm, Pair: fmt.Sprint(i + 1), Cook: "1", Pit: "Brick Pit", Unit: name, MayCount: true, TrimmedKg: &kg, CookHours: &hours,
				Account: yield.Account{CookedYieldRested: &yield.Measure{Value: kept}}})
			for j, taster := range []string{"Ife", "Joren", "Marisol"} {
				score := 6 + 0.3*float64((i*5+j*3+arm)%4)
				if arm == 0 {
					score += gain
				}
				t.Scores[trial.Juiciness] = append(t.Scores[trial.Juiciness], panel.Score{Taster: taster, Cut: name, Flight: "1", Arm: arm, Value: score})
			}
		}
	}
	return t
}

func TestOfReadsEveryOutcome(t *testing.T) {
	got := Of(pairsTrial(6, 1.5))
	for i, want := range []verdict.Word{verdict.Clear, verdict.Clear, verdict.Same} {
		if p := got.Rows[i].Process; p.Word != want {
			t.Errorf("%s is %q (%v %v), want %q", got.Rows[i].Outcome.Name, p.Word, *p.Estimate, p.CI90, want)
		}
	}
	if got.Rows[3].Process != nil || got.Rows[0].Pieces == nil || got.Rows[0].Pieces.Word != verdict.Clear || got.Rows[1].Pieces != nil {
		t.Errorf("the panel's own level is %+v, want it beside tasted outcomes alone", got.Rows[0].Pieces)
	}
	if want := "PAPER is the clear winner on juiciness and cooked yield. The same for our purposes on cook time."; got.Headline != want {
		t.Errorf("the headline is %q, want %q", got.Headline, want)
	}
	if want := "It does not cover other pits than Brick Pit, days other than this one cook and pieces outside {kg:2.5000} to {kg:3.0000}."; got.NotCovered != want {
		t.Errorf("not covered: %q, want %q", got.NotCovered, want)
	}
	if want := "12 cuts, 6 pairs, 1 cook, 3 tasters, 36 sealed samples."; got.RestsOn != want {
		t.Errorf("it rests on %q, want %q", got.RestsOn, want)
	}
}

func TestOnePieceAnArmShowsThesePiecesOnly(t *testing.T) {
	one := pairsTrial(1, 3)
	r := Of(one).Rows[0]
	if r.Pieces.Word != verdict.Clear || r.Process.Word != verdict.Leaning || !strings.HasPrefix(r.Process.Why, "these pieces only") {
		t.Errorf("pieces %q, process %q (%s); want clear, and leaning on these pieces only", r.Pieces.Word, r.Process.Word, r.Process.Why)
	}
	if y := Of(one).Rows[1].Process; y.Word != verdict.CannotTell || y.Need == "" {
		t.Errorf("one weighed piece an arm is %q, need %q; want cannot tell and how many more", y.Word, y.Need)
	}
	one.House = HouseOf([]Trial{pairsTrial(6, 1)}, true)
	if s := one.House[trial.CookedYield]; s.DF != 5 || s.SD <= 0 {
		t.Fatalf("the house spread is %+v, want 5 degrees of freedom", s)
	}
	if y := Of(one).Rows[1].Process; !y.Borrowed || y.Word != verdict.Leaning {
		t.Errorf("with a borrowed spread yield is %q (borrowed %v), want leaning", y.Word, y.Borrowed)
	}
}

func TestCutsThatFailedTheGateAreLeftOut(t *testing.T) {
	tr := pairsTrial(3, 1.5)
	for i := range tr.Cuts {
		if tr.Cuts[i].Arm == 1 {
			tr.Cuts[i].MayCount = false
		}
	}
	got := Of(tr)
	if r := got.Rows[0].Process; r.Word != "" || r.Why == "" || r.Estimate != nil {
		t.Errorf("an arm with no cut left has the verdict %q", r.Word)
	}
	if !strings.Contains(fmt.Sprint(got.Limits), "1R, 2R, 3R") {
		t.Errorf("limits do not name the cuts left out: %v", got.Limits)
	}
}

func TestLevelSetOnThePitHasOneUnitAPit(t *testing.T) {
	tr := pairsTrial(6, 1.5)
	tr.Unit = trial.UnitPitRun
	for i := range tr.Cuts {
		tr.Cuts[i].Unit = fmt.Sprint("pit run ", tr.Cuts[i].Arm)
	}
	r := Of(tr).Rows[1].Process
	if r.Units[0] != 1 || r.Units[1] != 1 || r.Word != verdict.CannotTell {
		t.Errorf("six cuts in one pit are %v units and the word %q, want one and cannot tell", r.Units, r.Word)
	}
}

func TestQuickerIsBetter(t *testing.T) {
	tr := pairsTrial(6, 0)
	for i := range tr.Cuts {
		if h := *tr.Cuts[i].CookHours + 2; tr.Cuts[i].Arm == 1 {
			tr.Cuts[i].CookHours = &h
		}
	}
	if p := Of(tr).Rows[2].Process; p.Word != verdict.Clear || *p.Winner != 0 || *p.Estimate > 0 {
		t.Errorf("the quicker arm: %q, winner %v, estimate %v; want the first arm clear on less time", p.Word, p.Winner, p.Estimate)
	}
}

func TestLimitsNameWhatMovesWithTheArms(t *testing.T) {
	tr := pairsTrial(2, 1)
	for i := range tr.Cuts {
		c := &tr.Cuts[i]
		pit, heat, kg := "Brick Pit", 121.0, 2.5
		if c.Arm == 1 {
			pit, heat, kg = "North Drum", 126, 3
		}
		c.Pit, c.PitMeanC, c.TrimmedKg = pit, &heat, &kg
	}
	tr.Control = false
	got := Of(tr)
	var text []string
	for _, l := range got.Limits {
		text = append(text, l.Text)
	}
	for _, want := range []string{"BARE's cuts were heavier by {kg:0.5000}", "BARE's pit ran hotter by {dC:5.00}", "pit of its own", "today's practice", "3 tasters"} {
		if !strings.Contains(strings.Join(text, "\n"), want) {
			t.Errorf("limits lack %q: %q", want, text)
		}
	}
	if !strings.Contains(got.NotCovered, "moved together") {
		t.Errorf("the sentence hides the confound: %q", got.NotCovered)
	}
}
