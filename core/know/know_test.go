package know

import (
	"math"
	"strings"
	"testing"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

func juicy(t *testing.T) trial.OutcomeDefault {
	t.Helper()
	d, ok := trial.DefaultOf(trial.Juiciness)
	if !ok {
		t.Fatal("there is no juiciness")
	}
	return d
}

// of is a trial of eight pairs.
func of(estimate, se float64, pits ...string) ShownBy {
	return ShownBy{Estimate: estimate, SE: se, DF: 7, Units: 8, Setting: settle.Setting{Pits: pits, Cuts: 16, Facts: map[settle.Fact]float64{}}}
}

func TestNothingIsKnownOfNothing(t *testing.T) {
	a := Pool(nil, nil, juicy(t), 0.5)
	a.Levels, a.Product = [2]string{"paper", "none"}, "lamb shoulder"
	a.Say()
	if a.Estimate != nil || a.Sentence != "Nothing is known yet of juiciness of lamb shoulder: paper or none." {
		t.Errorf("an empty house says %q (%v)", a.Sentence, a.Estimate)
	}
}

// TestOneTrialIsItself: alone, pooling changes neither its size nor its interval.
func TestOneTrialIsItself(t *testing.T) {
	a := Pool([]ShownBy{of(0.8, 0.2)}, []float64{0.7, 0.9}, juicy(t), 0.5)
	if math.Abs(*a.Estimate-0.8) > 1e-12 || math.Abs(a.CI90[0]-a.Trials[0].CI90[0]) > 1e-9 || a.P != nil {
		t.Errorf("one trial reads %v %v, want as it is by itself, %v", *a.Estimate, a.CI90, a.Trials[0].CI90)
	}
	if a.Next80[0] >= a.CI90[0] && a.Next80[1] <= a.CI90[1] {
		t.Errorf("the next trial, %v, is surer than the mean, %v", a.Next80, a.CI90)
	}
}

// TestTwoTrialsAreOneFit: by hand, equal units and spreads give the mean, at an error smaller by
// the root of two; the check of trials is F of their difference.
func TestTwoTrialsAreOneFit(t *testing.T) {
	a := Pool([]ShownBy{of(1.2, 0.3), of(0.6, 0.3)}, []float64{1.2, 0.6}, juicy(t), 0.5)
	half := quantile(0.95, 14) * 0.3 / math.Sqrt2
	if math.Abs(*a.Estimate-0.9) > 1e-12 || math.Abs(a.CI90[1]-0.9-half) > 1e-9 {
		t.Errorf("two trials are pooled to %v %v, want 0.9 give or take %v", *a.Estimate, a.CI90, half)
	}
	// F = 0.36 / (0.09 + 0.09) = 2 with 1 and 14 degrees of freedom.
	if a.P == nil || math.Abs(*a.P-0.1792) > 0.002 {
		t.Errorf("that they show the same has p %v, want 0.179", *a.P)
	}
}

func TestThreeTrialsArePooledByRandomEffects(t *testing.T) {
	a := Pool([]ShownBy{of(1.2, 0.3, "Brick Pit"), of(0.4, 0.25, "North Drum"), of(0.9, 0.4, "Brick Pit")}, []float64{1.2, 0.4, 0.9}, juicy(t), 0.5)
	want, err := verdict.Pooled(verdict.PooledInput{Estimates: []float64{1.2, 0.4, 0.9}, SEs: []float64{0.3, 0.25, 0.4}})
	if err != nil || *a.Estimate != want.Estimate || *a.CI90 != want.CI90 || a.Next80[1] <= want.Prediction[1] {
		t.Errorf("three trials are pooled to %v %v (%v), want %v", *a.Estimate, a.Next80, err, want)
	}
	if a.Trials[1].Apart {
		t.Error("a trial within what is unsure stands apart")
	}
}

// TestATrialThatStandsApartIsNamed with what differed there.
func TestATrialThatStandsApartIsNamed(t *testing.T) {
	far := of(-0.6, 0.2, "North Drum")
	far.Setting.Kg, far.Setting.Facts[settle.PitHeat] = 2.2, 135
	near := func(v float64) ShownBy {
		s := of(v, 0.2, "Brick Pit")
		s.Setting.Kg, s.Setting.Facts[settle.PitHeat] = 2.8, 121
		return s
	}
	a := Pool([]ShownBy{near(1.1), near(0.9), far}, []float64{1, 1, 1, 1, 1, -0.6}, juicy(t), 0.5)
	if !a.Trials[2].Apart || a.Trials[0].Apart || len(a.How) != 3 || a.How[0].Is != "North Drum" || a.How[1].Name != "Mean cut" || a.How[2].Unit != "C" {
		t.Errorf("the one apart differs in %+v", a.How)
	}
}

// TestTheWordIsOfCooks: whatever the trials' sizes, the next cook's word is that of its cooks.
func TestTheWordIsOfCooks(t *testing.T) {
	trials := []ShownBy{of(1, 0.2), of(1.1, 0.2), of(0.9, 0.2)}
	for _, c := range []struct {
		cooks  []float64
		word   verdict.Word
		winner int
	}{
		{[]float64{1, 1.1, 0.9, 1, 1.05, 0.95}, verdict.Clear, 0},
		{[]float64{1, 1.1}, verdict.Leaning, 0},
		{[]float64{0.02, -0.01, 0.01, 0, 0.01, -0.02}, verdict.Same, -1},
		{[]float64{2, -1.8, 1.4}, verdict.CannotTell, -1},
	} {
		a := Pool(trials, c.cooks, juicy(t), 0.5)
		if a.Word != c.word || (a.Winner != nil) != (c.winner >= 0) {
			t.Errorf("cooks that differ by %v read %q (%v), want %q", c.cooks, a.Word, a.Winner, c.word)
		}
	}
}

func TestALimitedTrialIsNamedWhereItMatters(t *testing.T) {
	limited := of(-1.5, 0.2)
	limited.Limited = "BARE cooked in warmer air"
	a := Pool([]ShownBy{of(0.8, 0.2), limited}, []float64{0.8, -1.5}, juicy(t), 0.5)
	if !strings.HasPrefix(a.Without, "Without the limited trials the size is 0.8") {
		t.Errorf("without the limited trial it says %q", a.Without)
	}
}
