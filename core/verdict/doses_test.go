package verdict

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// dosed are values at each dose in so many blocks.
func dosed(blocks int, doses []float64, value func(block int, dose float64) float64) DoseInput {
	in := DoseInput{SmallestDifference: 0.5}
	for b := range blocks {
		for _, d := range doses {
			in.Doses, in.Blocks, in.Values = append(in.Doses, d), append(in.Blocks, fmt.Sprint("b", b)), append(in.Values, value(b, d))
		}
	}
	return in
}

func doseOf(t *testing.T, in DoseInput) DoseResult {
	t.Helper()
	out, err := DoseOf(in)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// TestATurningPointIsFound where a parabola has it, whatever the blocks.
func TestATurningPointIsFound(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 12))
	in := dosed(6, []float64{2, 5, 9, 14}, func(b int, d float64) float64 {
		return 10*float64(b) - 0.05*(d-8)*(d-8) + 0.02*r.NormFloat64()
	})
	got := doseOf(t, in)
	if got.Turns == nil || math.Abs(got.Turns.Dose-8) > 0.15 || !got.Within || !got.Curved {
		t.Fatalf("it turns at %+v (curved %v, within %v), want 8", got.Turns, got.Curved, got.Within)
	}
	if math.Abs(got.Curve.B2+0.05) > 0.002 {
		t.Errorf("its bend is %v, want -0.05", got.Curve.B2)
	}
}

// TestTheLeastDoseIsAsGoodAsAny: past a plateau more gains nothing; with less wanted, the same
// upside down.
func TestTheLeastDoseIsAsGoodAsAny(t *testing.T) {
	plateau := func(sign float64) DoseInput {
		r := rand.New(rand.NewPCG(2, 12))
		return dosed(8, []float64{0, 3, 6, 9}, func(b int, d float64) float64 {
			return sign*(5+0.4*math.Min(d, 6)) + 0.1*float64(b) + 0.05*r.NormFloat64()
		})
	}
	more := doseOf(t, plateau(1))
	if more.Least == nil || *more.Least != 6 {
		t.Errorf("the least as good as any is %v, want 6", more.Least)
	}
	less := plateau(-1)
	less.LessIsBetter = true
	if got := doseOf(t, less); got.Least == nil || *got.Least != 6 {
		t.Errorf("where less is better it is %v, want 6", got.Least)
	}
	flat := doseOf(t, dosed(8, []float64{0, 3, 6}, func(b int, d float64) float64 { return float64(b) + 0.01*d*float64(b%2) }))
	if flat.Least == nil || *flat.Least != 0 {
		t.Errorf("where dose does nothing the least is %v, want none of it", flat.Least)
	}
	r := rand.New(rand.NewPCG(3, 12))
	noisy := doseOf(t, dosed(2, []float64{0, 3, 6}, func(int, float64) float64 { return 3 * r.NormFloat64() }))
	if noisy.Least != nil {
		t.Errorf("of two noisy blocks it says %v, want that it cannot be told", *noisy.Least)
	}
}

// TestAStraightLineIsSeen with its slope, and no lack of fit; the scale of dose does not matter.
func TestAStraightLineIsSeen(t *testing.T) {
	line := func(scale float64) DoseResult {
		r := rand.New(rand.NewPCG(4, 12))
		return doseOf(t, dosed(6, []float64{1 * scale, 2 * scale, 4 * scale, 8 * scale}, func(b int, d float64) float64 {
			return 0.3*d/scale + float64(b) + 0.05*r.NormFloat64()
		}))
	}
	one, ten := line(1), line(10)
	if math.Abs(one.Linear.Slope-0.3) > 0.01 || *one.Linear.P > 1e-6 || *one.Lack.P < 0.01 {
		t.Errorf("the line is %+v, its lack of fit %+v", one.Linear, one.Lack)
	}
	if math.Abs(ten.Linear.Slope*10-one.Linear.Slope) > 1e-9 || math.Abs(*ten.Lack.F-*one.Lack.F) > 1e-6 {
		t.Errorf("ten times the dose makes the slope %v, it was %v", ten.Linear.Slope, one.Linear.Slope)
	}
	if *one.Least != 8 {
		t.Errorf("on a rising line the least as good as any is %v, want the most", *one.Least)
	}
}

func TestDosesThatCannotBeFittedAreRefused(t *testing.T) {
	for name, c := range map[string]struct {
		in    DoseInput
		field string
	}{
		"two values":         {DoseInput{Doses: []float64{1, 2}, Blocks: []string{"a", "a"}, Values: []float64{1, 2}}, "values"},
		"a dose is missing":  {DoseInput{Doses: []float64{1, 2}, Blocks: []string{"a", "a", "b"}, Values: []float64{1, 2, 3}}, "doses"},
		"one dose":           {dosed(3, []float64{4}, func(b int, _ float64) float64 { return float64(b) }), "doses"},
		"doses nearly alike": {dosed(3, []float64{0, 1, 1 + 1e-9}, func(b int, d float64) float64 { return float64(b) * d }), "doses"},
		"a block for each":   {DoseInput{Doses: []float64{1, 2, 3}, Blocks: []string{"a", "b", "c"}, Values: []float64{1, 2, 3}}, "blocks"},
		"no such difference": {DoseInput{Doses: []float64{1, 2, 3}, Blocks: []string{"a", "a", "a"}, Values: []float64{1, 2, 3},
			SmallestDifference: -1}, "smallest"},
		"a value of no scale": {dosed(2, []float64{1, 2}, func(int, float64) float64 { return 1e9 }), "values[0]"},
	} {
		if _, err := DoseOf(c.in); err == nil || !strings.HasPrefix(err.Error(), c.field) {
			t.Errorf("%s: %v, want a refusal of %s", name, err, c.field)
		}
	}
}

// TestPooledTrialsAgreeOrDiffer: alike trials weigh by their errors with nothing between them;
// trials that differ weigh nearly alike, whatever their errors.
func TestPooledTrialsAgreeOrDiffer(t *testing.T) {
	pool := func(estimates, ses []float64) PooledResult {
		out, err := Pooled(PooledInput{estimates, ses})
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	alike := pool([]float64{1.0, 1.1, 0.9}, []float64{0.5, 0.5, 0.25})
	if want := (1.0 + 1.1 + 4*0.9) / 6; alike.Tau2 != 0 || math.Abs(alike.Estimate-want) > 1e-12 {
		t.Errorf("alike trials are pooled to %v with %v between them, want %v and none", alike.Estimate, alike.Tau2, want)
	}
	apart := pool([]float64{-3, 0, 3}, []float64{0.1, 0.1, 0.01})
	if math.Abs(apart.Estimate) > 0.05 || math.Abs(apart.Tau2-9) > 0.1 || apart.PQ > 1e-9 || apart.I2 < 99 {
		t.Errorf("trials apart are pooled to %+v", apart)
	}
	if apart.Prediction[1]-apart.Prediction[0] <= apart.CI80[1]-apart.CI80[0] {
		t.Error("the next trial is surer than their mean")
	}
	// The weighed squares come to their degrees of freedom at the variance that is found.
	in := PooledInput{[]float64{0.2, 1.4, 0.7, 2.1}, []float64{0.3, 0.4, 0.2, 0.5}}
	out := pool(in.Estimates, in.SEs)
	if _, squares, _ := weighed(in, out.Tau2); math.Abs(squares-3) > 1e-6 {
		t.Errorf("the weighed squares are %v at its variance, want 3", squares)
	}
	for name, bad := range map[string]PooledInput{"one trial": {[]float64{1}, []float64{1}}, "an error short": {[]float64{1, 2},
		[]float64{1}}, "no error": {[]float64{1, 2}, []float64{1, 0}}} {
		if _, err := Pooled(bad); err == nil {
			t.Errorf("%s is pooled", name)
		}
	}
}

// TestSharesOfBestAreThoseOfEveryResample, counted by hand for two blocks: both from the first,
// one of each twice, both from the second.
func TestSharesOfBestAreThoseOfEveryResample(t *testing.T) {
	got, err := ShareBest(ShareInput{Arms: []string{"A", "B"}, Scores: [][]float64{{3, 1}, {1, 2}}})
	if err != nil || got.Resamples != 4 || math.Abs(got.Best[0]-0.75) > 1e-12 || math.Abs(got.Best[1]-0.25) > 1e-12 {
		t.Errorf("the shares are %+v (%v), want 3 and 1 of 4", got, err)
	}
	tied, err := ShareBest(ShareInput{Arms: []string{"A", "B", "C"}, Scores: [][]float64{{1, 1, 0}, {2, 2, 0}, {5, 5, 1}}})
	if err != nil || tied.Best[0] != 0.5 || tied.Sole[0] != 0 || tied.Best[2] != 0 {
		t.Errorf("arms that tie share %+v (%v)", tied, err)
	}
	sum := 0.0
	many, err := ShareBest(ShareInput{Arms: []string{"A", "B", "C"}, Scores: [][]float64{{1, 4, 2}, {3, 1, 5}, {2, 2, 6}, {7, 3, 1}, {4, 4, 4}}})
	for _, v := range many.Best {
		sum += v
	}
	if err != nil || math.Abs(sum-1) > 1e-9 || many.Resamples != 3125 {
		t.Errorf("the shares of %d resamples come to %v (%v)", many.Resamples, sum, err)
	}
}

// TestWeightsOfOutcomes: worth is linear and cut at its ends, the ranges of a weight cover it
// without a gap, and an arm that is beaten on all is not on the front.
func TestWeightsOfOutcomes(t *testing.T) {
	in := UtilitiesInput{Arms: []string{"A", "B", "C"}, Criteria: []Criterion{{"taste", 3, 1, 9}, {"hours", 1, 12, 4}},
		Values: [][]float64{{9, 11}, {5, 4}, {4, 12.5}}}
	out, err := Utilities(in)
	if err != nil {
		t.Fatal(err)
	}
	if out.Utilities[0][0] != 1 || out.Utilities[1][0] != 0.5 || out.Utilities[1][1] != 1 || out.Utilities[2][1] != 0 {
		t.Errorf("worth is %v", out.Utilities)
	}
	if math.Abs(out.Scores[0]-(0.75+0.25*0.125)) > 1e-12 || out.Winners[0] != "A" || len(out.Front) != 2 {
		t.Errorf("the scores are %v, %v wins, %v on the front", out.Scores, out.Winners, out.Front)
	}
	for _, s := range out.Sensitivity {
		at := 0.0
		for _, r := range s.Intervals {
			if math.Abs(r.From-at) > 1e-9 {
				t.Errorf("the weight of %s jumps from %v to %v", s.Criterion, at, r.From)
			}
			at = r.To
			middle := in
			middle.Criteria = append([]Criterion{}, in.Criteria...)
			share := (r.From + r.To) / 2
			for k := range middle.Criteria {
				middle.Criteria[k].Weight = 1 - share
				if middle.Criteria[k].Name == s.Criterion {
					middle.Criteria[k].Weight = share
				}
			}
			if got, err := Utilities(middle); err != nil || got.Winners[0] != r.Winners[0] {
				t.Errorf("%s at %.2f gives %v (%v), the range says %v", s.Criterion, share, got.Winners, err, r.Winners)
			}
		}
		if math.Abs(at-1) > 1e-9 {
			t.Errorf("the ranges of %s end at %v", s.Criterion, at)
		}
	}
}
