package yield

import (
	"math"
	"testing"
)

func w(s Stage, kg float64) Weighing { return Weighing{Stage: s, Kg: kg, ResolutionKg: 0.005} }

func TestSettleComputesEveryShare(t *testing.T) {
	a := Settle([]Weighing{w(Bought, 3.2), w(Trimmed, 3), w(Prepped, 3.3), w(Off, 1.8), w(Rested, 1.71), w(Edible, 1.44)})
	for name, c := range map[string]struct {
		got  *Measure
		want float64
	}{
		"trim share": {a.TrimShare, 0.0625}, "pick-up": {a.PickUp, 0.1}, "cook loss": {a.CookLoss, 0.4},
		"cook loss of prepped": {a.CookLossOfPrepped, 1 - 1.8/3.3}, "hold loss": {a.HoldLoss, 0.05}, "total loss": {a.TotalLoss, 0.43},
		"cooked yield": {a.CookedYield, 0.6}, "cooked yield rested": {a.CookedYieldRested, 0.57}, "edible yield": {a.EdibleYield, 0.45},
	} {
		if c.got == nil || math.Abs(c.got.Value-c.want) > 1e-12 {
			t.Errorf("%s is %v, want %v", name, c.got, c.want)
		}
	}
	if want := 0.005 / math.Sqrt(12) / 3 * math.Sqrt(1+0.36); math.Abs(a.CookLoss.U-want) > 1e-12 {
		t.Errorf("the cook loss is uncertain by %v, want %v", a.CookLoss.U, want)
	}
	if got := Settle([]Weighing{w(Off, 2)}); got != (Account{}) {
		t.Errorf("one weighing alone tells %+v", got)
	}
}

func TestCheckRefusesWhatCannotBe(t *testing.T) {
	for _, c := range []struct {
		name   string
		new    Weighing
		others []Weighing
		ok     bool
	}{
		{"lighter off the pit", w(Off, 1.8), []Weighing{w(Trimmed, 3)}, true},
		{"heavier off the pit than trimmed", w(Off, 3.1), []Weighing{w(Trimmed, 3)}, false},
		{"heavier trimmed than bought", w(Trimmed, 3.1), []Weighing{w(Bought, 3)}, false},
		{"bought entered late and lighter", w(Bought, 2.9), []Weighing{w(Trimmed, 3)}, false},
		{"injected above trimmed", w(Prepped, 3.3), []Weighing{w(Trimmed, 3)}, true},
		{"off above trimmed after an injection", w(Off, 3.05), []Weighing{w(Trimmed, 3), w(Prepped, 3.3)}, true},
		{"off above prepped", w(Off, 3.4), []Weighing{w(Trimmed, 3), w(Prepped, 3.3)}, false},
		{"within one step of the scale", w(Rested, 1.808), []Weighing{w(Off, 1.8)}, true},
		{"a stage there is not", w("sliced", 1), nil, false},
	} {
		if err := Check(c.new, c.others); (err == nil) != c.ok {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

func TestPartsAddUp(t *testing.T) {
	w := func(stage Stage, kg float64) Weighing { return Weighing{Stage: stage, Kg: kg, ResolutionKg: 0.01} }
	whole := []Weighing{w(Bought, 3.2), w(Trimmed, 3)}
	for _, c := range []struct {
		name          string
		whole         []Weighing
		parts         [][]Weighing
		cooked, edble float64 // below zero: not told
	}{
		{"both parts at both stages", nil, [][]Weighing{{w(Trimmed, 1), w(Off, 0.5)}, {w(Trimmed, 2), w(Off, 1.3)}}, 0.6, -1},
		{"a part never weighed drops on both sides", nil, [][]Weighing{{w(Trimmed, 1), w(Off, 0.5)}, {w(Trimmed, 2)}}, 0.5, -1},
		{"the whole was weighed before it was divided", whole, [][]Weighing{{w(Off, 0.5), w(Edible, 0.4)}, {w(Off, 1.3), w(Edible, 1.2)}}, 0.6, 0.5},
		{"the whole cannot stand for one part", whole, [][]Weighing{{w(Off, 0.5)}, {w(Edible, 1)}}, -1, -1},
		{"nothing weighed", nil, nil, -1, -1},
	} {
		a := SettleParts(c.whole, c.parts)
		for _, m := range []struct {
			what string
			got  *Measure
			want float64
		}{{"cooked", a.CookedYield, c.cooked}, {"edible", a.EdibleYield, c.edble}} {
			if (m.got == nil) != (m.want < 0) || m.got != nil && math.Abs(m.got.Value-m.want) > 1e-12 {
				t.Errorf("%s: %s yield %+v, want %v", c.name, m.what, m.got, m.want)
			}
		}
	}
}

func TestTrimsAreAccountedFor(t *testing.T) {
	w := func(stage Stage, kg float64) Weighing { return Weighing{Stage: stage, Kg: kg, ResolutionKg: 0.01} }
	all := []Weighing{w(Bought, 3), w(Trimmed, 2.7), w(TrimKept, 0.1), w(TrimThrown, 0.15)}
	if m := TrimMissing(all); m == nil || math.Abs(*m-0.05) > 1e-12 {
		t.Errorf("of the trim %v is missing, want 50 g", m)
	}
	if m := TrimMissing(all[:2]); m != nil {
		t.Errorf("with no trim weighed %v is missing", *m)
	}
	if err := Check(w(TrimKept, 4), all[:2]); err == nil {
		t.Error("more trim than was bought is taken")
	}
	if err := Check(w(Off, 2), all); err != nil {
		t.Errorf("trims stand in the way of a weight off the pit: %v", err)
	}
}
