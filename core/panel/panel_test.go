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
	if d := got["B"] - got["A"]; math.Abs(d-1) > 1e-9 {
		t.Errorf("B is %v above A, want 1 whoever tasted it", d)
	}
}

func TestTasterMeansAreOnePerArm(t *testing.T) {
	got := TasterMeans([]Score{{"Ife", "1L", "1", 0, 6}, {"Ife", "2R", "1", 0, 8}, {"Ife", "1R", "1", 1, 5}, {"Joren", "1L", "1", 0, 4}})
	if fmt.Sprint(got) != "[{0 Ife Ife 7} {1 Ife Ife 5} {0 Joren Joren 4}]" {
		t.Errorf("taster means are %v", got)
	}
}
