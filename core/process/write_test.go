package process

import (
	"math"
	"strings"
	"testing"

	"whitebarn/core/phase"
	"whitebarn/core/safety"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// TestTolerancesAreOfWhatWasDelivered: two standard deviations either side, never closer than
// hands can work; one value has the least.
func TestTolerancesAreOfWhatWasDelivered(t *testing.T) {
	r := spanOf([]float64{94, 95, 96}, 0.5)
	if r.Middle != 95 || r.Low != 93 || r.High != 97 || r.N != 3 {
		t.Errorf("94, 95 and 96 give %+v", r)
	}
	if r := spanOf([]float64{95}, 1.1); r.Low != 95-1.1 || r.High != 95+1.1 {
		t.Errorf("one value gives %+v, want the least either side", r)
	}
	if r := spanOf([]float64{95, 95.01}, 1.1); math.Abs(r.High-r.Low-2.2) > 1e-9 {
		t.Errorf("two that agree give %+v, want the least either side", r)
	}
	// t with 3 degrees: 2.353 standard errors of half a root.
	m := meanOf([]float64{1, 2, 3, 4})
	if want := 2.3534 * math.Sqrt(5.0/3) / 2; m.Middle != 2.5 || math.Abs(m.High-2.5-want) > 1e-3 {
		t.Errorf("the mean of 1 to 4 is %+v, want 2.5 give or take %v", m, want)
	}
	if spanOf(nil, 1) != nil || meanOf(nil) != nil {
		t.Error("of nothing there is a range")
	}
}

// TestACardClaimsTheWidestThatWasShown, with the limit beside it left to the evidence.
func TestACardClaimsTheWidestThatWasShown(t *testing.T) {
	d, _ := trial.DefaultOf(trial.Juiciness)
	paper, bare, gain := 0, 1, 1.4
	side := func(word verdict.Word, winner *int) settle.Side {
		return settle.Side{Word: word, Winner: winner, Estimate: &gain}
	}
	none := settle.Side{Word: verdict.CannotTell}
	for name, c := range map[string]struct {
		pair settle.Pair
		want string
	}{
		"the next cook": {settle.Pair{A: 0, B: 1, Cooks: side(verdict.Clear, &paper), Next: side(verdict.Clear, &paper)}, "The next cook: clear."},
		"these cooks":   {settle.Pair{A: 0, B: 1, Cooks: side(verdict.Clear, &paper), Next: none}, "Shown in 2 cooks."},
		"and it leans": {settle.Pair{A: 0, B: 1, Cooks: side(verdict.Clear, &paper), Next: side(verdict.Leaning, &paper)},
			"Shown in 2 cooks. The next cook: leaning."},
		"it leans alone": {settle.Pair{A: 0, B: 1, Cooks: none, Next: side(verdict.Leaning, &paper)}, "The next cook: leaning."},
		"the other wins": {settle.Pair{A: 0, B: 1, Cooks: side(verdict.Clear, &bare), Next: none},
			"Not shown to be better than another way; kept as it was cooked."},
		"nothing is told": {settle.Pair{A: 0, B: 1, Cooks: none, Next: none}, "Not shown to be better than another way; kept as it was cooked."},
	} {
		w := Written{Result: settle.Result{Rows: []settle.Row{{Outcome: d, Pairs: []settle.Pair{c.pair}}}}}
		w.Trial.Ask.Arms = []trial.Arm{{Tag: "PAPER"}, {Tag: "BARE"}}
		b := CardBody{Evidence: CardEvidence{Cooks: 2}}
		if w.shown(&b); b.Evidence.Says != c.want {
			t.Errorf("%s: the card says %q, want %q", name, b.Evidence.Says, c.want)
		}
	}
}

// TestCautionsNameTheirSource: the barn's minimum of the meat, and what a hold or hot oil asks.
func TestCautionsNameTheirSource(t *testing.T) {
	lines := safety.Usual
	lines.IntactC, lines.HoldC = 65, 63
	got := cautions(lines, safety.Meat{Species: safety.RedMeat, Handling: safety.Intact}, []phase.Phase{{Kind: phase.Smoke}, {Kind: phase.Hold}, {Kind: phase.Fry}})
	all := ""
	for _, c := range got {
		if c.Source == "" {
			t.Errorf("%q has no source", c.Text)
		}
		all += c.Text + " "
	}
	for _, want := range []string{"{C:65.0}", "Held hot: not under {C:63.0}", "Hot oil", "carbon monoxide"} {
		if !strings.Contains(all, want) {
			t.Errorf("the cautions lack %q: %s", want, all)
		}
	}
}
