package panel

import (
	"fmt"
	"math"
	"slices"
	"testing"
)

// tasted makes scores: a row a taster, a column an arm; a score under 0 is not given. The
// plates turn, so that no arm is favoured by its place.
func tasted(names []string, rows [][]float64) (out []Score) {
	for i, row := range rows {
		for arm, v := range row {
			if v >= 0 {
				out = append(out, Score{Taster: names[i], Cut: fmt.Sprint("cut ", arm), Flight: "1", Arm: arm, Value: v, Place: "middle",
					Position: (arm+i)%len(row) + 1})
			}
		}
	}
	return out
}

func TestWhatThePanelSaidIsPutInSentences(t *testing.T) {
	six := []string{"Ife", "Joren", "Marisol", "Tove", "Odalys", "Hale"}
	for _, x := range []struct {
		name string
		rows [][]float64
		said []string
	}{
		{"all of one mind", [][]float64{{8, 6, 5}, {7, 6, 4}, {9, 7, 7}}, []string{"All 3 put PAPER first."}},
		{"one of them level", [][]float64{{8, 8, 5}, {7, 6, 4}, {9, 7, 7}}, []string{"All 3 put PAPER first or level first."}},
		{"all have one last", [][]float64{{8, 6, 5}, {6, 7, 4}, {9, 7, 6}}, []string{"All 3 put BARE last."}},
		{"parted", [][]float64{{8, 6, 5}, {5, 6, 8}, {9, 7, 6}, {5, 6, 7}}, []string{"First comes PAPER for Marisol and Ife; BARE for Joren and Tove."}},
		{"parted, and one tells little", [][]float64{{8, 6, 5}, {5, 6, 8}, {6, 6, 6.5}},
			[]string{"First comes BARE for Marisol and Joren; PAPER for Ife.", "Marisol hardly tells them apart: half a point or less."}},
		{"nobody tells them apart", [][]float64{{6, 6, 6}, {5, 5, 5}, {7, 7, 7}}, []string{"Nobody puts one over another."}},
		{"level firsts in a round", [][]float64{{7, 7, 5}, {5, 7, 7}, {7, 5, 7}}, []string{"Nobody puts one arm first alone."}},
		{"one taster alone", [][]float64{{8, 6, 5}}, []string{"PAPER comes first.", "This is so to 1 taster, and says nothing of others."}},
		{"two tasters", [][]float64{{8, 6, 5}, {9, 5, 3}}, []string{"All 2 put PAPER first.", "This is so to 2 tasters, and says nothing of others."}},
		{"nobody tasted all", [][]float64{{8, 6, -1}, {-1, 5, 3}}, []string{"Nobody tasted every arm."}},
	} {
		if got := Hear(tasted(six, x.rows), []string{"PAPER", "PAN", "BARE"}); !slices.Equal(got.Said, x.said) {
			t.Errorf("%s: it says %q; want %q", x.name, got.Said, x.said)
		}
	}
}

func TestRanksMeansAndAgreementAreOfWholeTasters(t *testing.T) {
	// The third left before the last plate: her line is drawn, and counts for nothing else.
	h := Hear(tasted([]string{"Ife", "Joren", "Marisol"}, [][]float64{{8, 6, 5}, {7, 7, 4}, {2, 9, -1}}), []string{"PAPER", "PAN", "BARE"})
	if h.Whole != 2 || len(h.Tasters) != 3 || h.Tasters[2].Taster != "Marisol" || h.Tasters[2].Means[2] != nil || h.Tasters[2].First != -1 {
		t.Errorf("%d whole of %+v; want two, Marisol last without BARE", h.Whole, h.Tasters)
	}
	for arm, want := range []float64{7.5, 6.5, 4.5} {
		if math.Abs(*h.Means[arm]-want) > 1e-12 {
			t.Errorf("the mean of arm %d is %g; want %g", arm, *h.Means[arm], want)
		}
	}
	if got, want := fmt.Sprint(h.Ranks), "[[2 0 0] [1 1 0] [0 0 2]]"; got != want {
		t.Errorf("ranks are %s; want %s, a level rank the better", got, want)
	}
	// Midranks 3 2 1 and 2.5 2.5 1: sums 5.5, 4.5, 2; W = 12 S / (m2 (k3 - k) - m T) = 12 * 6.5 / (4 * 24 - 2 * 6).
	if math.Abs(*h.W-78.0/84) > 1e-12 {
		t.Errorf("agreement is %g; want %g", *h.W, 78.0/84)
	}
}

func TestTheFirstSampleGainsWhatItWasGiven(t *testing.T) {
	names := []string{"Ife", "Joren", "Marisol", "Tove"}
	scores := tasted(names, [][]float64{{7, 6}, {5, 4}, {8, 7}, {6, 5}})
	for i := range scores {
		if scores[i].Position == 1 {
			scores[i].Value += 0.75
		}
	}
	h := Hear(scores, []string{"PAPER", "BARE"})
	if h.First == nil || math.Abs(h.First.Points-0.75) > 1e-9 {
		t.Fatalf("the first sample gains %+v; want 0.75", h.First)
	}
	// The arms were first equally often: their means are a point apart all the same.
	if d := *h.Means[0] - *h.Means[1]; math.Abs(d-1) > 1e-9 {
		t.Errorf("PAPER less BARE is %g; want 1", d)
	}
	for i := range scores {
		scores[i].Position = scores[i].Arm + 1
	}
	if h := Hear(scores, []string{"PAPER", "BARE"}); h.First != nil {
		t.Errorf("with one order for all the first sample gains %+v; want nothing, it cannot be told from the arm", h.First)
	}
}

func TestFlightsAreHeardByThemselves(t *testing.T) {
	first := tasted([]string{"Ife", "Joren"}, [][]float64{{8, 6}, {6, 4}})
	second := tasted([]string{"Ife", "Joren"}, [][]float64{{5, 7}, {5, 9}})
	for i := range second {
		second[i].Flight = "2"
	}
	h := Hear(append(second, first...), []string{"PAPER", "BARE"})
	if len(h.Flights) != 2 || h.Flights[0].Flight != "1" || *h.Flights[0].Means[0] != 7 || *h.Flights[1].Means[1] != 8 {
		t.Errorf("flights are %+v; want 7 and 5, then 5 and 8", h.Flights)
	}
}

// TestAPlateThatExplainsNothingIsTold has scores that hang on nothing but the taster and on
// noise that is square to arm and position, so that what they explain rounds to under nothing.
func TestAPlateThatExplainsNothingIsTold(t *testing.T) {
	for shift := range 12 {
		var scores []Score
		for i := range 3 {
			for cut := range 6 {
				scores = append(scores, Score{Taster: fmt.Sprint(i), Cut: fmt.Sprint(cut), Flight: "1", Arm: cut % 2, Place: "middle",
					Value: 6 + float64((cut/2+i+shift)%3)*0.1, Position: (cut+shift*i)%6 + 1})
			}
		}
		h := Hear(scores, []string{"PAPER", "BARE"})
		if h.First == nil || h.First.P == nil || *h.First.P < 0 || *h.First.P > 1 {
			t.Errorf("shifted by %d the first sample is %+v; want points with a chance", shift, h.First)
		}
	}
}
