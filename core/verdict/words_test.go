package verdict

import (
	"math"
	"math/rand/v2"
	"testing"
)

func TestWordsByRule(t *testing.T) {
	const d = 0.5
	byT := func(estimate, se float64, df int) Comparison {
		c := Comparison{Estimate: estimate, SE: se, DF: df}
		c.byT()
		return c
	}
	borrowed := func(estimate, se float64) Comparison {
		c := byT(estimate, se, 10)
		c.Borrowed = true
		return c
	}
	flips := func(d ...float64) Comparison {
		sum := 0.0
		for _, v := range d {
			sum += v
		}
		c := Comparison{Estimate: sum / float64(len(d))}
		c.byFlips(d)
		return c
	}
	for _, c := range []struct {
		name     string
		evidence Comparison
		word     Word
		tooSmall bool
	}{
		{"far apart and sure", byT(1.2, 0.2, 7), Clear, false},
		{"far apart the other way", byT(-1.2, 0.2, 7), Clear, false},
		{"sure, exactly at the difference that matters", byT(0.5, 0.1, 20), Clear, false},
		{"sure but just below the difference that matters", byT(0.49, 0.1, 20), Leaning, false},
		{"real but too small to matter", byT(0.2, 0.05, 10), Same, true},
		{"no difference, closely known", byT(0.01, 0.1, 10), Same, false},
		{"90 % interval touching the gate from inside only", byT(0.0, 0.27, 10), Same, false},
		{"90 % interval just past the gate", byT(0.0, 0.28, 10), CannotTell, false},
		{"80 % interval clear of 0", byT(0.6, 0.4, 7), Leaning, false},
		{"80 % interval holds 0", byT(0.5, 0.4, 7), CannotTell, false},
		{"borrowed and far apart stops at leaning", borrowed(2, 0.2), Leaning, false},
		{"borrowed and alike is not called the same", borrowed(0, 0.05), CannotTell, false},
		{"six flips one way", flips(1, 1.1, 0.9, 1.2, 0.8, 1), Clear, false},
		{"five flips one way cannot reach 0.05", flips(1, 1.1, 0.9, 1.2, 0.8), Leaning, false},
		{"five flips about nothing are not called the same", flips(0.1, -0.1, 0.1, -0.1, 0), CannotTell, false},
		{"six flips about nothing", flips(0.1, -0.1, 0.2, -0.2, 0.1, -0.1), Same, false},
		{"two flips know no interval", flips(3, 3), CannotTell, false},
		{"no evidence but an estimate", Comparison{Estimate: 3}, CannotTell, false},
	} {
		got := Judge([]Comparison{c.evidence}, d, Plain)[0]
		if got.Word != c.word || got.TooSmall != c.tooSmall {
			t.Errorf("%s: %q (too small: %v), want %q (%v)", c.name, got.Word, got.TooSmall, c.word, c.tooSmall)
		}
	}
}

func TestHolmLooksAtAllArmPairs(t *testing.T) {
	alone := Comparison{Estimate: 1, SE: 0.4, DF: 9} // p = 0.034
	alone.byT()
	none := Comparison{Estimate: 0.3, SE: 0.4, DF: 9}
	none.byT()
	if got := Judge([]Comparison{alone}, 0.5, Plain)[0].Word; got != Clear {
		t.Errorf("alone the pair is %q, want clear", got)
	}
	if got := Judge([]Comparison{alone, none, none}, 0.5, Plain)[0].Word; got != Leaning {
		t.Errorf("among three pairs it is %q, want leaning", got)
	}
	ps := holm([]*float64{ptr(0.01), nil, ptr(0.04), ptr(0.03)})
	for i, want := range []float64{0.03, 0, 0.06, 0.06} {
		if want == 0 {
			if ps[i] != nil {
				t.Errorf("a missing p became %v", *ps[i])
			}
		} else if math.Abs(*ps[i]-want) > 1e-12 {
			t.Errorf("Holm makes p %d %v, want %v", i, *ps[i], want)
		}
	}
}

func TestHartiganIntervalInvertsTheSignFlip(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 50 {
		d := make([]float64, 7)
		for i := range d {
			d[i] = math.Round(r.NormFloat64()*100) / 100
		}
		ci := signFlipInterval(d, 0.90)
		p := func(shift float64) float64 {
			moved := make([]float64, len(d))
			for i := range d {
				moved[i] = d[i] - shift
			}
			return signFlip(moved).PTwoSided
		}
		const step = 1e-4
		for side, sign := range []float64{1, -1} {
			if in := p(ci[side] + sign*step); in <= 0.10-1.0/64 {
				t.Fatalf("%v: just inside %v p is %v", d, ci[side], in)
			}
			if out := p(ci[side] - sign*step); out > 0.10+1e-9 {
				t.Fatalf("%v: just outside %v p is %v, want at most 0.10", d, ci[side], out)
			}
		}
	}
}

func TestCompareTwoArmsInPairsIsThePairedT(t *testing.T) {
	a, b := []float64{6.1, 5.4, 7.2, 6.8, 5.9}, []float64{5.6, 5.5, 6.3, 6.1, 5.7}
	var units []Observation
	var pairs []Pair
	for i := range a {
		block := string(rune('A' + i))
		units = append(units, Observation{Arm: 0, Unit: block + "L", Block: block, Value: a[i]}, Observation{Arm: 1, Unit: block + "R", Block: block, Value: b[i]})
		pairs = append(pairs, Pair{block, &a[i], &b[i]})
	}
	want, err := Paired(PairedInput{Pairs: pairs})
	if err != nil {
		t.Fatal(err)
	}
	got := Compare(units, Setting{Arms: 2}).Pairs[0].Evidence
	if math.Abs(got.Estimate-*want.MeanDiff) > 1e-9 || math.Abs(got.SE-*want.SEDiff) > 1e-9 || got.DF != *want.DF || math.Abs(*got.P-*want.PT) > 1e-9 {
		t.Errorf("least squares gives %v ± %v on %d, p %v; the paired t gives %v ± %v on %d, p %v",
			got.Estimate, got.SE, got.DF, *got.P, *want.MeanDiff, *want.SEDiff, *want.DF, *want.PT)
	}
}

func TestCompareSaysWhyThereIsNoEvidence(t *testing.T) {
	one := func(arm int, unit, block string, v float64) Observation {
		return Observation{Arm: arm, Unit: unit, Block: block, Value: v}
	}
	house := &Spread{SD: 0.4, DF: 6}
	for _, c := range []struct {
		name     string
		units    []Observation
		house    *Spread
		evidence bool
		borrowed bool
		exact    bool
		why      bool
	}{
		{"an empty arm", []Observation{one(0, "a", "k", 1)}, nil, false, false, false, true},
		{"arms that share no block", []Observation{one(0, "a", "k", 1), one(0, "b", "k", 2), one(1, "c", "m", 1)}, house, false, false, false, true},
		{"one unit an arm, nothing to borrow", []Observation{one(0, "a", "k", 1), one(1, "b", "k", 2)}, nil, true, false, false, true},
		{"one unit an arm, three degrees of freedom to borrow", []Observation{one(0, "a", "k", 1), one(1, "b", "k", 2)}, &Spread{SD: 1, DF: 3}, true, false, false, true},
		{"one unit an arm, borrowed", []Observation{one(0, "a", "k", 1), one(1, "b", "k", 2)}, house, true, true, false, false},
		{"differences all alike", []Observation{one(0, "a", "1", 2), one(1, "b", "1", 1), one(0, "c", "2", 3), one(1, "d", "2", 2)}, house, true, false, true, true},
		{"all alike without pairs", []Observation{one(0, "a", "k", 2), one(0, "b", "k", 2), one(1, "c", "k", 2), one(1, "d", "k", 2)},
			house, true, false, true, true},
	} {
		p := Compare(c.units, Setting{Arms: 2, House: c.house}).Pairs[0]
		if (p.Evidence != nil) != c.evidence || (p.Why != "") != c.why {
			t.Errorf("%s: evidence %v, why %q", c.name, p.Evidence, p.Why)
		} else if p.Evidence != nil && (p.Evidence.Borrowed != c.borrowed || p.Evidence.Exact != c.exact) {
			t.Errorf("%s: borrowed %v and exact %v, want %v and %v", c.name, p.Evidence.Borrowed, p.Evidence.Exact, c.borrowed, c.exact)
		}
	}
	p := Compare([]Observation{one(0, "a", "k", 3), one(1, "b", "k", 2)}, Setting{Arms: 2, House: house}).Pairs[0].Evidence
	if want := 0.4 * math.Sqrt2; math.Abs(p.SE-want) > 1e-12 || p.DF != 6 {
		t.Errorf("borrowed standard error %v on %d, want %v on 6", p.SE, p.DF, want)
	}
}

func TestUnitsAreAveragedBeforeTheyCount(t *testing.T) {
	got := Units([]Observation{{Arm: 0, Unit: "pit 1", Value: 4}, {Arm: 0, Unit: "pit 1", Value: 6}, {Arm: 1, Unit: "pit 2", Value: 3}})
	if len(got) != 2 || got[0].Value != 5 || got[1].Value != 3 {
		t.Errorf("three cuts in two pits became %v", got)
	}
}

func TestMoreSpreadNeverNeedsFewerUnits(t *testing.T) {
	for _, layout := range []Layout{InPairs, Apart} {
		last := 0
		for _, sd := range []float64{0.1, 0.2, 0.4, 0.8} {
			n := UnitsToSettle(sd, 0.5, layout)
			if n < last {
				t.Errorf("spread %v needs %d units, less than the %d of a smaller one", sd, n, last)
			}
			last = n
		}
		if n := UnitsToSettle(50, 0.5, layout); n != 0 {
			t.Errorf("a hopeless spread needs %d units, want none within 200", n)
		}
	}
}

func TestPlannedChancesHoldInSimulation(t *testing.T) {
	const sd, d, n, runs = 0.5, 0.5, 14, 3000
	r := rand.New(rand.NewPCG(7, 7))
	p := Planner{SD: sd, D: d, Layout: InPairs}
	found := *p.Detects(n)
	for _, c := range []struct {
		word  Word
		truth float64
		want  float64
	}{{Clear, 2 * d, p.Clear(n, 2*d)}, {Same, 0, p.Same(n)}, {Clear, found, 0.8}} {
		hits := 0
		for range runs {
			var units []Observation
			for b := range n {
				block := string(rune('a' + b))
				units = append(units, Observation{Arm: 0, Unit: block + "0", Block: block, Value: c.truth + sd*r.NormFloat64()},
					Observation{Arm: 1, Unit: block + "1", Block: block, Value: sd * r.NormFloat64()})
			}
			if Judge([]Comparison{*Compare(units, Setting{Arms: 2}).Pairs[0].Evidence}, d, Plain)[0].Word == c.word {
				hits++
			}
		}
		if got := float64(hits) / runs; math.Abs(got-c.want) > 0.035 {
			t.Errorf("%q came in %.3f of simulated trials, planned %.3f", c.word, got, c.want)
		}
	}
}

func TestIncompleteBlocksNeedMoreUnits(t *testing.T) {
	whole := Planner{SD: 0.5, D: 0.5, Layout: Layout{Arms: 3, BlockSize: 3}}
	part := Planner{SD: 0.5, D: 0.5, Layout: Layout{Arms: 3, BlockSize: 2}}
	if a, b := whole.NeedOf().Both(), part.NeedOf().Both(); b <= a {
		t.Errorf("blocks of two need %d units an arm, blocks of three %d; want more", b, a)
	}
	// Three arms in pairs: efficiency 3/4, so a difference varies by 8/3 over n.
	if se := part.Layout.se(4); math.Abs(se*se-8.0/12) > 1e-12 {
		t.Errorf("the variance with four units is %v, want 2/3", se*se)
	}
	if one := (Planner{SD: 1, D: 1, Layout: InPairs}).Detects(1); one != nil {
		t.Errorf("one pair finds a difference of %v, want none", *one)
	}
}

func TestNoncentralTMeetsKnownValues(t *testing.T) {
	// At delta 0 it is Student's t; for 1e6 degrees of freedom it is the normal shifted by delta.
	for _, c := range []struct{ t, df, delta, want float64 }{
		{1.5, 4, 0, 1 - tTail(1.5, 4)}, {-2, 9, 0, tTail(2, 9)}, {2, 1e6, 1, normalCDF(1)}, {50, 1e6, 45, normalCDF(5)}, {0, 5, 2, normalCDF(-2)},
	} {
		if got := noncentralT(c.t, c.df, c.delta); math.Abs(got-c.want) > 1e-3*c.want+1e-9 {
			t.Errorf("P(T <= %v) with %v degrees of freedom and delta %v is %v, want %v", c.t, c.df, c.delta, got, c.want)
		}
	}
}

func BenchmarkSignFlipOf16Pairs(b *testing.B) {
	d := make([]float64, 16)
	for i := range d {
		d[i] = float64(i%5) - 1.5
	}
	for b.Loop() {
		signFlip(d)
		signFlipInterval(d, 0.90)
	}
}
