package panel

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

func TestRightAnswersSayHowFarSamplesLieApart(t *testing.T) {
	for _, name := range Method("").Values() {
		m := Method(name)
		if got := m.Correct(0); math.Abs(got-m.Guess()) > 1e-9 {
			t.Errorf("%s: alike samples are told in %g, guessing in %g", m, got, m.Guess())
		}
		last := m.Guess()
		for d := 0.25; d < 8; d += 0.25 {
			got := m.Correct(d)
			if got <= last {
				t.Errorf("%s: farther apart, at %g, they are told less often: %g after %g", m, d, got, last)
			}
			if back := m.Apart(got); got < 0.9999 && math.Abs(back-d) > 1e-6 {
				t.Errorf("%s: %g apart comes back as %g", m, d, back)
			}
			last = got
		}
	}
}

// TestGuessersAreSeldomBelieved has panels guess, 20,000 of each size.
func TestGuessersAreSeldomBelieved(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 19))
	for _, name := range Method("").Values() {
		m := Method(name)
		for _, n := range []int{3, 5, 8, 12, 40} {
			believed := 0
			for range 20_000 {
				right := 0
				for range n {
					if r.Float64() < m.Guess() {
						right++
					}
				}
				if least := m.Least(n, 0.05); least > 0 && right >= least {
					believed++
				}
			}
			if share := float64(believed) / 20_000; share > 0.055 {
				t.Errorf("%s: %d who guess are believed in %.1f of 100", m, n, 100*share)
			}
		}
	}
}

func TestALoneTastersTriangles(t *testing.T) {
	if p := atLeast(3, 3, Triangle.Guess()); math.Abs(p-1.0/27) > 1e-12 {
		t.Errorf("3 of 3 by guessing has a chance of %g, want 1 in 27", p)
	}
	if k := Triangle.Least(2, 0.05); k != 0 {
		t.Errorf("of 2 triangles %d right would do; none can", k)
	}
}

func TestTheRangeOfNormalNumbersIsKnown(t *testing.T) {
	// Tukey's q at 5 %, infinite degrees of freedom: 2.772, 3.314, 3.633, 3.858, 4.286.
	for k, want := range map[int]float64{2: 2.772, 3: 3.314, 4: 3.633, 5: 3.858, 8: 4.286} {
		if got := rangeQuantile(0.95, k); math.Abs(got-want) > 6e-4 {
			t.Errorf("q of %d is %.4f, want %.3f", k, got, want)
		}
	}
}

func TestPanelsThatCannotBeReadAreRefused(t *testing.T) {
	one := 1.0
	for name, c := range map[string]struct {
		run  func() error
		says string
	}{
		"more right than asked": {func() error { _, err := ForcedOf(ForcedInput{Triangle, 5, 4}); return err }, "5 right of 4"},
		"another method":        {func() error { _, err := ForcedOf(ForcedInput{"guess", 1, 4}); return err }, "no method"},
		"half a ranking":        {func() error { _, err := RankingOf(RankingInput{Ranks: [][]float64{{1, 2}, {1, 1}}}); return err }, "no complete ranking"},
		"votes under none":      {func() error { _, err := PreferenceOf(PreferenceInput{A: -1}); return err }, "-1 votes"},
		"off the scale":         {func() error { _, err := PenaltyOf(PenaltyInput{[]JAR{{&one, ptrTo(12)}}}); return err }, "12 is not on the scale"},
		"one taster's order": {func() error {
			_, err := PositionEffect(PositionInput{Columns: positionColumns})
			return err
		}, "too little to compare"},
		"uneven rows": {func() error {
			_, err := AgreementOf(AgreementInput{[][]*float64{{&one, &one}, {&one}}})
			return err
		}, "1 scores beside 2"},
		"a hole": {func() error {
			_, err := ReliabilityOf(ReliabilityInput{[][]*float64{{&one, nil}, {&one, &one}}})
			return err
		}, "a score is missing"},
	} {
		if err := c.run(); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s is answered with %v, want %q", name, err, c.says)
		}
	}
	if out, err := PreferenceOf(PreferenceInput{None: 3}); err != nil || out.N != 0 || out.P != 1 || out.ShareA != nil {
		t.Errorf("three without a preference are %+v (%v)", out, err)
	}
}

func ptrTo(v float64) *float64 { return &v }

// wide are 40 tasters of 8 samples, each on a plate of its own order.
func wide() (scores [][]*float64, plates []plated) {
	r := rand.New(rand.NewPCG(3, 8))
	for t := range 40 {
		row := make([]*float64, 8)
		for position, arm := range r.Perm(8) {
			v := math.Round(5 + 0.3*float64(arm) + r.NormFloat64())
			row[arm] = &v
			plates = append(plates, plated{[3]int{arm, t, position}, v})
		}
		scores = append(scores, row)
	}
	return scores, plates
}

// BenchmarkPanelOfForty is to stay under 100 ms.
func BenchmarkPanelOfForty(b *testing.B) {
	scores, plates := wide()
	for b.Loop() {
		if _, err := AgreementOf(AgreementInput{scores}); err != nil {
			b.Fatal(err)
		}
		if _, ok := effectOf(plates, [3]int{8, 40, 8}); !ok {
			b.Fatal("the place on the plate is not tested")
		}
	}
}
