package yield

import (
	"math"
	"strings"
	"testing"
)

// TestSharesAddUpToTheWhole weighs a flat, a point, bones and edges of one brisket, and what
// ran out of it.
func TestSharesAddUpToTheWhole(t *testing.T) {
	w := []Weighing{{Stage: Off, Kg: 4.2, ResolutionKg: 0.005}, {Stage: Rested, Kg: 4, ResolutionKg: 0.005}}
	o := func(s Share, kg float64) Out { return Out{s, kg, 0.005} }
	for _, c := range []struct {
		name         string
		weighed      []Weighing
		outs         []Out
		eaten, lacks float64
		adds         bool
	}{
		{"all of it", w, []Out{o("flat", 1.8), o("point", 1.5), o("bones", 0.4), o("edges", 0.28), o("purge", 0.3)}, 3.3, 0.02, true},
		{"bones still to weigh", w, []Out{o("flat", 1.8), o("point", 1.5)}, 3.3, 0.7, false},
		{"nothing yet", w, nil, 0, 4, false},
		{"never weighed after the rest", w[:1], []Out{o("lean", 4.2)}, 4.2, 0, true},
		{"never weighed whole", nil, []Out{o("lean", 2)}, 2, 0, false},
		{"a share there is not", w, []Out{o("halo", 4)}, 0, 4, false},
	} {
		a := ApartOf(c.weighed, c.outs)
		if math.Abs(a.EatenKg-c.eaten) > 1e-9 || math.Abs(a.LacksKg-c.lacks) > 1e-9 || a.AddsUp != c.adds {
			t.Errorf("%s: %+v, want %g eaten, %g lacking, adds up %t", c.name, a, c.eaten, c.lacks, c.adds)
		}
	}
	if a := ApartOf(w, []Out{o("flat", 1.8), o("point", 1.5), o("bones", 0.4)}); math.Abs(a.StepKg-0.005*math.Sqrt2) > 1e-12 {
		t.Errorf("two weighings of 5 g leave a step of %g kg", a.StepKg)
	}
	if err := CheckOut(o("lean", 4.5), w, nil); err == nil || !strings.Contains(err.Error(), "the whole weighed 4.000 kg") {
		t.Errorf("more than the whole is taken: %v", err)
	}
	if err := CheckOut(o("halo", 1), w, nil); err == nil {
		t.Error("a share there is not is taken")
	}
	if err := CheckOut(o("purge", 5), w, nil); err != nil {
		t.Errorf("what ran out is no part of it: %v", err)
	}
}
