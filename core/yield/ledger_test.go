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
