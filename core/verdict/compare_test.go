package verdict

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

// run is a unit of one arm on a run of a pit on a day.
func run(arm int, pit, day string, v float64) Observation {
	return Observation{Arm: arm, Unit: fmt.Sprint(arm, pit, day), Cook: day, Pit: pit, Block: "cook " + day, Value: v}
}

func TestRunsAreComparedWithinWhatTheyShare(t *testing.T) {
	// A is 2 above B; day 2 is 1 hotter, the drum is 3 above the brick pit.
	day, pit := map[string]float64{"1": 0, "2": 1, "3": 0.4, "4": -0.6}, map[string]float64{"brick": 0, "drum": 3}
	noise := []float64{0.03, -0.02, 0.01, -0.01, 0.02, -0.03, 0.015, -0.015}
	runs := func(where ...[3]string) (out []Observation) {
		for i, w := range where {
			arm := 0
			if w[0] == "B" {
				arm = 1
			}
			out = append(out, run(arm, w[1], w[2], 2*float64(1-arm)+pit[w[1]]+day[w[2]]+noise[i]))
		}
		return out
	}
	for _, c := range []struct {
		name  string
		units []Observation
		model Model
		df    int
		near  float64 // how near the difference comes to 2
	}{
		{"two pits crossed over four days", runs([3]string{"A", "brick", "1"}, [3]string{"B", "drum", "1"}, [3]string{"B", "brick", "2"}, [3]string{"A", "drum", "2"},
			[3]string{"A", "brick", "3"}, [3]string{"B", "drum", "3"}, [3]string{"B", "brick", "4"}, [3]string{"A", "drum", "4"}), InCooksAndPit, 2, 0.1},
		{"the brick pit always A: its pit cannot be told from it", runs([3]string{"A", "brick", "1"}, [3]string{"B", "drum", "1"}, [3]string{"A", "brick", "2"},
			[3]string{"B", "drum", "2"}), InDays, 1, 3.1},
		{"one pit, a level a day", runs([3]string{"A", "brick", "1"}, [3]string{"B", "brick", "2"}, [3]string{"A", "brick", "3"},
			[3]string{"B", "brick", "4"}), AsTheyAre, 2, 0.1},
	} {
		got := Compare(c.units, Setting{Arms: 2, OnRuns: true})
		e := got.Pairs[0].Evidence
		if got.Model != c.model || e == nil || e.DF != c.df || math.Abs(e.Estimate-2) > c.near {
			t.Errorf("%s: compared within %q, %+v; want %q on %d near 2", c.name, got.Model, e, c.model, c.df)
		}
	}
}

func TestCooksWeighEqualWhereEachHoldsTwoOfEveryArm(t *testing.T) {
	var units []Observation
	add := func(arm int, cook string, v ...float64) {
		for i, x := range v {
			units = append(units, Observation{Arm: arm, Unit: fmt.Sprint(arm, cook, i), Block: "cook " + cook, Cook: cook, Value: x})
		}
	}
	// One cook says 3, with many cuts; the other says 1, with few.
	add(0, "1", 5, 5.2, 4.8, 5, 5.1, 4.9)
	add(1, "1", 2, 2.2, 1.8, 2, 2.1, 1.9)
	add(0, "2", 4, 4.2)
	add(1, "2", 3, 3.2)
	got := Compare(units, Setting{Arms: 2})
	if e := got.Pairs[0].Evidence; got.Model != InCooks || math.Abs(e.Estimate-2) > 1e-9 || e.DF != 12 {
		t.Errorf("within %q the cooks give %+v, want 2 on 12", got.Model, e)
	}
}

func TestAPanelThatAgreesToThePointIsBelieved(t *testing.T) {
	var units []Observation
	step := 1 / math.Sqrt(12) / math.Sqrt(6) // six whole points a cut
	for b := range 5 {
		block := fmt.Sprint(b)
		units = append(units, Observation{Arm: 0, Unit: "a" + block, Block: block, Value: 7, Floor: step},
			Observation{Arm: 1, Unit: "b" + block, Block: block, Value: 5.5, Floor: step})
	}
	o := Compare(units, Setting{Arms: 2})
	e := o.Pairs[0].Evidence
	if want := step * math.Sqrt(2.0/5); !o.Floored || math.Abs(e.SE-want) > 1e-12 || Judge([]Comparison{*e}, 0.5, Plain)[0].Word != Clear {
		t.Errorf("five pairs that differ by 1.5 to the point give %+v, want clear with a standard error of %v", e, want)
	}
	for i := range units {
		units[i].Value = 6
	}
	e = Compare(units, Setting{Arms: 2}).Pairs[0].Evidence
	if got := Judge([]Comparison{*e}, 0.5, Plain)[0].Word; got != CannotTell {
		t.Errorf("a scale that is too coarse to differ says %q, want cannot tell", got)
	}
}

func TestRelabellingHoldsInIncompleteBlocks(t *testing.T) {
	// Two of A and one of B in each of four blocks: 3^4 ways.
	var units []Observation
	for b := range 4 {
		block := fmt.Sprint(b)
		shift := float64(b)
		units = append(units, Observation{Arm: 0, Unit: "a1" + block, Block: block, Value: 5 + shift},
			Observation{Arm: 0, Unit: "a2" + block, Block: block, Value: 5.5 + shift},
			Observation{Arm: 1, Unit: "b" + block, Block: block, Value: 3 + shift})
	}
	e := Compare(units, Setting{Arms: 2, Exact: true}).Pairs[0].Evidence
	if !e.Exact || e.Capped || math.Abs(*e.P-1.0/81) > 1e-12 {
		t.Errorf("the least of 81 ways has p %v (exact %v, capped %v), want 1/81", *e.P, e.Exact, e.Capped)
	}
	if e.CI90 == nil || !(e.CI90[0] < 2.25 && 2.25 < e.CI90[1]) || e.CI90[0] < 1 {
		t.Errorf("its interval is %v, want one about 2.25", e.CI90)
	}
	// Shifted by any value inside the interval it is not rejected, outside it is.
	r := relabellings(0, 1, units)
	for _, v := range []struct {
		at float64
		in bool
	}{{e.CI90[0] + 1e-6, true}, {e.CI90[0] - 1e-3, false}, {e.CI90[1] - 1e-6, true}, {e.CI90[1] + 1e-3, false}} {
		if got := r.p(v.at) > 0.10; got != v.in {
			t.Errorf("at %v p is %v", v.at, r.p(v.at))
		}
	}
}

func TestADirectionThatIsClearIsNotCalledClearBelowWhatMatters(t *testing.T) {
	c := Comparison{Estimate: 0.45, SE: 0.12, DF: 20} // p 0.001, 90 % interval 0.24 to 0.66
	c.byT()
	if j := Judge([]Comparison{c}, 0.5, Plain)[0]; j.Word != Leaning || !j.SizeUnsure {
		t.Errorf("it is %q, size unsure %v; want leaning, size unsure", j.Word, j.SizeUnsure)
	}
}

func TestTheNextCookNeedsThree(t *testing.T) {
	for _, c := range []struct {
		cooks int
		fixed bool
		want  Levels
	}{{1, true, Levels{0, 1}}, {2, true, Levels{0, 1}}, {3, true, Plain}, {3, false, Levels{0.025, 0.95}}, {4, false, Levels{0.05 / 6, 1 - 0.1/6}}} {
		if got := CookLevels(c.cooks, c.fixed); math.Abs(got.Alpha-c.want.Alpha) > 1e-12 || math.Abs(got.Same-c.want.Same) > 1e-12 {
			t.Errorf("%d cooks (fixed: %v) are judged by %v, want %v", c.cooks, c.fixed, got, c.want)
		}
	}
	far, _ := PairedBy([]float64{3, 3.1}, 0, false)
	if got := Judge([]Comparison{*far}, 0.5, CookLevels(2, true))[0].Word; got != Leaning {
		t.Errorf("two cooks that agree say %q, want leaning", got)
	}
}

// TestLooksKeepTheirLevel reads trials of nothing after every pair from 5 to 16: with the
// anytime-valid figures at most 6 of 100 are ever called clear; by plain t many are.
func TestLooksKeepTheirLevel(t *testing.T) {
	const runs, d, planned = 1500, 0.5, 8
	r := rand.New(rand.NewPCG(3, 14))
	plain, valid := 0, 0
	for range runs {
		var differences []float64
		var looks []Look
		saidPlain, saidValid := false, false
		for n := 1; n <= 16; n++ {
			differences = append(differences, 1.1*r.NormFloat64())
			if n < 5 {
				continue
			}
			c, _ := PairedBy(differences, 0, false)
			saidPlain = saidPlain || Judge([]Comparison{*c}, d, Plain)[0].Word == Clear
			at := c.AtLooks(planned, looks)
			saidValid = saidValid || Judge([]Comparison{at}, d, OtherLook)[0].Word == Clear
			looks = append(looks, Look{c.Estimate, c.SE, c.DF, c.Units})
		}
		if saidPlain {
			plain++
		}
		if saidValid {
			valid++
		}
	}
	if p, v := float64(plain)/runs, float64(valid)/runs; p < 0.10 || v > 0.06 {
		t.Errorf("read twelve times, trials of nothing are clear in %.3f by plain t and %.3f by anytime figures", p, v)
	}
}
