package panel

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"whitebarn/core/verdict"
)

var twoTags = []string{"PAPER", "BARE"}

// triangle is a plate whose second sample is alone, with the sample that was picked.
func triangle(taster string, picked int, open bool) PlateAnswer {
	a := PlateAnswer{Format: ByTriangle, Flight: "1", Taster: taster, Open: open, Samples: []AnsweredSample{{Arm: 0}, {Arm: 1}, {Arm: 0}}}
	a.Samples[picked].Picked = true
	return a
}

func TestATriangleIsSaidInWords(t *testing.T) {
	var answers []PlateAnswer
	for i := range 6 {
		answers = append(answers, triangle(fmt.Sprint("t", i), map[bool]int{true: 1, false: 0}[i < 5], false))
	}
	h := HearPlates(append(answers, triangle("Odalys", 1, true)), twoTags)[0]
	// 5 or 6 of 6 by guessing a third: 6 (1/3)^5 (2/3) + (1/3)^6 = 13/729.
	if h.Right != 5 || h.N != 6 || h.Open != 1 || math.Abs(*h.P-13.0/729) > 1e-12 || !h.Apart {
		t.Errorf("five of six right is heard as %+v; want p 13/729 and told apart, the open one not counted", h)
	}
	if want := "PAPER and BARE can be told apart: 5 of 6 were right; by guessing 2 would."; h.Said[0] != want {
		t.Errorf("it says %q, want %q", h.Said[0], want)
	}
	if h := HearPlates(answers[:2], twoTags)[0]; h.Apart || !strings.Contains(h.Said[0], "too few answers") || !strings.Contains(h.Said[1], "2 tasters") {
		t.Errorf("two answers say %q; want too few, and so to two tasters", h.Said)
	}
	if h := HearPlates([]PlateAnswer{triangle("Odalys", 1, true)}, twoTags)[0]; h.Apart || !strings.Contains(h.Said[0], "knew the codes") {
		t.Errorf("an open triangle alone says %q", h.Said)
	}
}

func TestADuoTrioIsRightByTheTwinOfTheFirst(t *testing.T) {
	plate := func(picked int) PlateAnswer {
		a := PlateAnswer{Format: ByDuoTrio, Taster: "Ana", Samples: []AnsweredSample{{Arm: 1}, {Arm: 0}, {Arm: 1}}}
		a.Samples[picked].Picked = true
		return a
	}
	if h := HearPlates([]PlateAnswer{plate(2), plate(2), plate(1)}, twoTags)[0]; h.Right != 2 || math.Abs(*h.P-0.5) > 1e-12 {
		t.Errorf("two of three right is %d with p %v, want 2 and 0.5", h.Right, *h.P)
	}
}

func TestPreferenceAndChoiceAreCounted(t *testing.T) {
	vote := func(format Format, taster string, arm int, why string) PlateAnswer {
		a := PlateAnswer{Format: format, Taster: taster, Reason: why, Samples: []AnsweredSample{{Arm: 0}, {Arm: 1}}}
		if arm >= 0 {
			a.Samples[arm].Picked = true
		}
		return a
	}
	var votes []PlateAnswer
	for i := range 8 {
		votes = append(votes, vote(ByPreference, fmt.Sprint("t", i), []int{0, 0, 0, 0, 0, 0, 0, -1}[i], ""))
	}
	votes = append(votes, vote(ByScores, "t1", 1, "the crust"), vote(ByScores, "t2", 1, "chewy"), vote(ByScores, "t3", 0, "wet"))
	heard := HearPlates(votes, twoTags)
	choice, preferred := heard[0], heard[1]
	if preferred.Said[0] != "7 of 7 like PAPER better than BARE; 1 neither." || preferred.None != 1 || math.Abs(*preferred.P-2.0/128) > 1e-12 {
		t.Errorf("seven of eight for PAPER is heard as %+v", preferred)
	}
	if choice.Said[0] != "2 of 3 would serve BARE." || len(choice.Reasons) != 3 || choice.Reasons[0] != (WordsSaid{1, "t1", "the crust"}) {
		t.Errorf("the choice is heard as %+v", choice)
	}
}

// TestRanksAreSummedByTaster works four tasters out by hand: two samples an arm, ties shared.
func TestRanksAreSummedByTaster(t *testing.T) {
	rank := func(taster string, ranks ...int) PlateAnswer {
		a := PlateAnswer{Format: ByRanks, Taster: taster}
		for i, r := range ranks {
			a.Samples = append(a.Samples, AnsweredSample{Arm: i % 3, Rank: r})
		}
		return a
	}
	tags := []string{"PAPER", "PAN", "BARE"}
	h := HearPlates([]PlateAnswer{rank("a", 1, 2, 3), rank("b", 1, 2, 2), rank("c", 1, 3, 2), rank("d", 1, 2, 3), rank("e", 1, 2, 3)}, tags)[0]
	if want := []float64{5, 2 + 2.5 + 3 + 2 + 2, 3 + 2.5 + 2 + 3 + 3}; fmt.Sprint(h.Sums) != fmt.Sprint(want) {
		t.Errorf("the sums of ranks are %v, want %v", h.Sums, want)
	}
	if !h.Apart || h.Counts[0] != 5 || h.Said[0] != "In this order: PAPER, PAN, BARE. 5 of 5 put PAPER first." {
		t.Errorf("five rankings say %q, apart %v, first %v", h.Said, h.Apart, h.Counts)
	}
}

// TestGuessersAreSeldomToldApart has panels of every format answer by lot: what is not there
// is called there in 6 of 100 at most.
func TestGuessersAreSeldomToldApart(t *testing.T) {
	const panels = 500
	for _, format := range []Format{ByRanks, ByPreference, ByTriangle, ByDuoTrio} {
		for _, tasters := range []int{3, 6, 12} {
			r := rand.New(rand.NewPCG(uint64(tasters), 1127))
			wrong := 0
			for range panels {
				laid := Serving{Format: format, Pieces: 2, Tasters: tasters}.Lay(r)
				var answers []PlateAnswer
				for i, order := range laid.Orders {
					a := PlateAnswer{Format: format, Taster: fmt.Sprint(i)}
					ranks := r.Perm(len(order))
					picked := r.IntN(len(order))
					if format == ByDuoTrio {
						picked = 1 + r.IntN(2)
					}
					for at, s := range order {
						a.Samples = append(a.Samples, AnsweredSample{Arm: laid.Samples[s], Rank: ranks[at] + 1, Picked: at == picked})
					}
					answers = append(answers, a)
				}
				if HearPlates(answers, twoTags)[0].Apart {
					wrong++
				}
			}
			if share := float64(wrong) / panels; share > 0.06 {
				t.Errorf("%s by %d guessers: told apart in %.1f of 100, want 6 at most", format, tasters, 100*share)
			}
		}
	}
}

func TestPenaltiesAreSaidInWords(t *testing.T) {
	smoke := Attribute{Key: "smoke_right", Name: "Smoke, just right", Low: "not smoky enough", High: "too smoky", Scale: Right, Most: 5}
	var jar, liking []Score
	add := func(arm int, taster string, right, liked float64, open bool) {
		s := Score{Taster: taster, Cut: fmt.Sprint("c", arm), Flight: "1", Arm: arm, Position: 1 + arm, Value: right, Open: open}
		jar = append(jar, s)
		s.Value = liked
		liking = append(liking, s)
	}
	for i, taster := range []string{"a", "b", "c", "d"} {
		add(0, taster, []float64{3, 3, 2, 1}[i], []float64{8, 7, 6, 6}[i], false) // half: 7.5 less 6
		add(1, taster, 3, 7, false)
	}
	add(1, "Odalys", 5, 2, true) // knew it
	got := HearRight(smoke, jar, liking, twoTags)
	if got[0].Said != "PAPER is not smoky enough for half of you: costs 1.5 points." || math.Abs(got[0].Costs-0.75) > 1e-12 {
		t.Errorf("the costliest is %q, %v; want PAPER, by half of 1.5", got[0].Said, got[0].Costs)
	}
	if got[1].Said != "BARE is just right for all 4." {
		t.Errorf("the other is %q; want just right for all who tasted blind", got[1].Said)
	}
}

func TestHiddenTwinsShowWhoRepeats(t *testing.T) {
	two := func(taster string, a, b float64) []Score {
		return []Score{{Taster: taster, Cut: "1L", Flight: "1", Value: a}, {Taster: taster, Cut: "1L", Flight: "1", Value: b},
			{Taster: taster, Cut: "1R", Flight: "1", Value: 4}}
	}
	got := HearRepeats(append(two("Ife", 6, 6), two("Bram", 8, 4)...))
	if len(got) != 2 || got[0].Taster != "Ife" || got[0].SD != 0 || math.Abs(got[1].SD-4/math.Sqrt2) > 1e-12 || !strings.Contains(got[1].Said, "weighs little") {
		t.Errorf("twins are heard as %+v; want Ife by 0, Bram by 2.83 and little weight", got)
	}
}

// TestTastersWhoPartWidenTheError takes a balanced table whose components are known by hand.
func TestTastersWhoPartWidenTheError(t *testing.T) {
	// Three tasters, two cuts an arm, contrasts 3, 1 and -1, with no scatter.
	var scores []Score
	for i, gap := range []float64{3, 1, -1} {
		for cut := range 2 {
			scores = append(scores, Score{Taster: fmt.Sprint(i), Cut: fmt.Sprint("a", cut), Flight: "1", Arm: 0, Value: 5 + gap},
				Score{Taster: fmt.Sprint(i), Cut: fmt.Sprint("b", cut), Flight: "1", Arm: 1, Value: 5})
		}
	}
	parts := Parting(scores, 0, 1)
	if len(parts) != 2 || math.Abs(parts[0].Value-4.0/3) > 1e-9 || parts[0].DF != 2 || math.Abs(parts[1].Value) > 1e-9 {
		t.Fatalf("the components are %+v; want 4/3 on 2 df and nothing taken off", parts)
	}
	p := 0.01
	c := verdict.Comparison{Estimate: 1, SE: 0.5, DF: 3, P: &p}
	c.Widen(parts...)
	// SE^2 = 1/4 + 4/3; df = (19/12)^2 / ((1/4)^2/3 + (4/3)^2/2) = 2.755.
	if math.Abs(c.SE*c.SE-19.0/12) > 1e-9 || c.DF != 2 || *c.P < 0.45 {
		t.Errorf("widened it is %+v with p %v; want a squared error of 19/12 on 2.76 df", c, *c.P)
	}
	if again := Parting(scores[:4], 0, 1); again != nil {
		t.Errorf("one taster parts from nobody, got %+v", again)
	}
}

func TestWhatAFlightMayTellIsSaidBefore(t *testing.T) {
	for _, c := range []struct {
		in     TellsInput
		enough bool
		words  string
	}{
		{TellsInput{Format: ByScores, Tasters: 8, PerArm: 3, SD: 1.2, Smallest: 0.5}, false, "8 tasters tell these pieces apart 8 times in 10 from 1.1 points on"},
		{TellsInput{Format: ByScores, Tasters: 40, PerArm: 3, SD: 1.2, Smallest: 0.5}, true, "40 tasters"},
		{TellsInput{Format: ByScores, Tasters: 1, PerArm: 4, SD: 1.2, Smallest: 0.5}, true, "chance 0.029"},
		{TellsInput{Format: ByScores, Tasters: 1, PerArm: 1, SD: 1.2, Smallest: 0.5}, false, "take 4 of each"},
		{TellsInput{Format: ByTriangle, Tasters: 1, Rounds: 3}, false, "3 of 3 right shows"},
		{TellsInput{Format: ByTriangle, Tasters: 2}, false, "even all right may be luck. It takes 3"},
		{TellsInput{Format: ByPreference, Tasters: 5}, false, "It takes six"},
		{TellsInput{Format: ByPreference, Tasters: 20}, true, "15 of 20"},
		{TellsInput{Format: ByRanks, Tasters: 4}, false, "Six and more do better"},
	} {
		got := TellsOf(c.in)
		if got.Enough != c.enough || !strings.Contains(strings.Join(got.Said, " "), c.words) {
			t.Errorf("%s by %d: enough %v, %q; want %v and %q", c.in.Format, c.in.Tasters, got.Enough, got.Said, c.enough, c.words)
		}
	}
}

func BenchmarkHearFortyTasters(b *testing.B) {
	r := rand.New(rand.NewPCG(4, 8))
	var scores []Score
	for taster := range 40 {
		for at, sample := range r.Perm(8) {
			scores = append(scores, Score{Taster: fmt.Sprint(taster), Cut: fmt.Sprint(sample), Flight: "1", Arm: sample % 4, Position: at + 1, Value: float64(1 + r.IntN(9))})
		}
	}
	tags := []string{"A", "B", "C", "D"}
	for b.Loop() {
		Hear(scores, tags)
		Parting(scores, 0, 1)
		CutMeans(scores)
	}
}

// TestARecordIsOneTastersAlone works one taster against two others out by hand.
func TestARecordIsOneTastersAlone(t *testing.T) {
	var scores []Score
	for cut, of := range [][3]float64{{7, 5, 6}, {6, 4, 5}, {4, 3, 2}} {
		for i, taster := range []string{"Ife", "Bram", "Joren"} {
			scores = append(scores, Score{Taster: taster, Cut: fmt.Sprint(cut), Flight: "1", Position: 1 + cut, Value: of[i]})
		}
	}
	scores = append(scores, Score{Taster: "Ife", Cut: "2", Flight: "1", Position: 4, Value: 2}, Score{Taster: "Ife", Cut: "9", Flight: "2", Value: 9, Open: true})
	got, ok := RecordOf(scores, "Ife")
	// Own means 7, 6, 3 and the others' 5.5, 4.5, 2.5; twins 4 and 2; the first is 7, the later 6, 4, 2.
	if !ok || got.Samples != 4 || math.Abs(*got.Leans-7.0/6) > 1e-9 || *got.Agrees != 1 || math.Abs(*got.Repeats-math.Sqrt2) > 1e-9 || math.Abs(*got.First-3) > 1e-9 {
		t.Errorf("the record is %+v", got)
	}
	if want := "1.2 kinder than the others, in their order, repeats within 1.4, the first sample gets +3.0."; got.Said != want {
		t.Errorf("it says %q, want %q", got.Said, want)
	}
	if _, ok := RecordOf(scores, "Odalys"); ok {
		t.Error("who tasted nothing has a record")
	}
}

// TestThePanelsReliabilityIsThatOfItsTable takes tasters who differ in nothing but leniency.
func TestThePanelsReliabilityIsThatOfItsTable(t *testing.T) {
	var scores []Score
	for i, taster := range []string{"a", "b", "c"} {
		for cut, v := range []float64{3, 5, 7, 4} {
			scores = append(scores, Score{Taster: taster, Cut: fmt.Sprint(cut), Flight: "1", Arm: cut % 2, Value: v + float64(i)})
		}
	}
	// Samples' mean square 3 x 8.75/3, leniency's 4 x 2/2, none left: MS / (MS + leniency / 4).
	if got := Hear(scores, twoTags).Reliable; got == nil || math.Abs(*got-8.75/(8.75+1)) > 1e-9 {
		t.Errorf("the reliability is %v, want 8.75 / 9.75", got)
	}
	if got := Hear(scores[:4], twoTags).Reliable; got != nil {
		t.Errorf("one taster's reliability is %v, want none", *got)
	}
}
