package panel

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

func TestDrawnCodesKeepTheRules(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	used := []string{}
	for len(used)+12 <= 876 {
		codes, err := DrawCodes(r, 12, used)
		if err != nil {
			t.Fatal(err)
		}
		check, err := CheckCodes(CodesInput{Codes: codes, Avoid: used})
		if err != nil || !check.AllAcceptable {
			t.Fatalf("drawn codes %v break a rule: %+v", codes, check)
		}
		used = append(used, codes...)
	}
	if codes, err := DrawCodes(r, 12, used); err == nil {
		t.Errorf("%d codes are used up and still %v were drawn", len(used), codes)
	}
}

func TestOrdersAreBalancedForAWholeDesign(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for k := 2; k <= 8; k++ {
		n := len(Williams(k))
		orders := Orders(r, k, n)
		for _, row := range orders {
			for i := range row {
				row[i]++
			}
		}
		got, err := CheckOrders(OrdersInput{Samples: k, Orders: orders})
		if err != nil || !got.PositionBalanced || !got.NeighbourBalanced || !got.EverySampleOnce {
			t.Errorf("%d tasters of %d samples: %+v, %v", n, k, got, err)
		}
	}
	for _, row := range Orders(r, 4, 7) {
		if len(row) != 4 {
			t.Errorf("a taster beyond the design got %v", row)
		}
	}
}

func TestCutMeansForgiveAMissingHarshTaster(t *testing.T) {
	// The harsh taster scores two lower and never got cut B.
	var scores []Score
	for taster, shift := range map[string]float64{"Ife": 0, "Joren": 1, "Marisol": -2} {
		for cut, quality := range map[string]float64{"A": 6, "B": 7, "C": 5} {
			if taster == "Marisol" && cut == "B" {
				continue
			}
			scores = append(scores, Score{Taster: taster, Cut: cut, Flight: "1", Value: quality + shift})
		}
	}
	got := CutMeans(scores)
	if d := got["B"].Value - got["A"].Value; math.Abs(d-1) > 1e-9 {
		t.Errorf("B is %v above A, want 1 whoever tasted it", d)
	}
}

func TestACutServedTwiceCountsAllItsSamplesInAnyOrder(t *testing.T) {
	// 1L was in both flights, from the point and the flat; the second flight was scored a point lower by all.
	var scores []Score
	add := func(taster, cut, flight, place string, v float64) {
		scores = append(scores, Score{Taster: taster, Cut: cut, Flight: flight, Place: place, Value: v})
	}
	for i, taster := range []string{"Ife", "Joren", "Marisol"} {
		shift := float64(i)
		add(taster, "1L", "1", "flat", 6+shift)
		add(taster, "1R", "1", "flat", 5+shift)
		add(taster, "1L", "2", "point", 6+shift)
		add(taster, "2L", "2", "point", 7+shift)
		add(taster, "2L", "1", "point", 8+shift)
	}
	want := CutMeans(scores)
	if n := want["1L"].Ballots; n != 6 {
		t.Errorf("1L rests on %d ballots, want all six", n)
	}
	for _, d := range []struct {
		a, b string
		want float64
	}{{"1L", "1R", 1}} {
		if got := want[d.a].Value - want[d.b].Value; math.Abs(got-d.want) > 1e-9 {
			t.Errorf("%s is %v above %s, want %v", d.a, got, d.b, d.want)
		}
	}
	r := rand.New(rand.NewPCG(5, 5))
	for range 20 {
		r.Shuffle(len(scores), func(i, j int) { scores[i], scores[j] = scores[j], scores[i] })
		for cut, m := range CutMeans(scores) {
			if m != want[cut] {
				t.Fatalf("in another order %s is %v, was %v", cut, m, want[cut])
			}
		}
	}
}

func TestTasterMeansAreOnePerArm(t *testing.T) {
	got := TasterMeans([]Score{{Taster: "Ife", Cut: "1L", Arm: 0, Value: 6}, {Taster: "Ife", Cut: "2R", Arm: 0, Value: 8},
		{Taster: "Ife", Cut: "1R", Arm: 1, Value: 5},
		{Taster: "Joren", Cut: "1L", Arm: 0, Value: 4}, {Taster: "Ife", Cut: "1L", Arm: 0, Value: 5}})
	// 1L was tasted twice by Ife: 5.5, and 8, each with the same weight.
	if fmt.Sprint(got) != "[{Ife 0 6.75 2} {Ife 1 5 1} {Joren 0 4 1}]" {
		t.Errorf("taster means are %v", got)
	}
}

// TestAsManyTastersAsSamplesTasteEachInEveryPlace: with an odd number of samples too.
func TestAsManyTastersAsSamplesTasteEachInEveryPlace(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 33))
	for k := 2; k <= 7; k++ {
		for range 20 {
			orders := Orders(r, k, k)
			for _, row := range orders {
				for i := range row {
					row[i]++
				}
			}
			got, err := CheckOrders(OrdersInput{Samples: k, Orders: orders})
			if err != nil || got.PositionSpread != 0 {
				t.Fatalf("%d samples to %d tasters: %v, %v; want each once in every place", k, k, got.PositionCounts, err)
			}
		}
	}
}
