package settle_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"whitebarn/core/know"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// pooled is what pooling says over many houses: shares of them.
type pooled struct {
	clear   float64 // the word of the next cook
	wrong   float64 // clear, and the other way
	same    float64
	covered float64 // the 9-in-10 interval holds the truth
	next    float64 // the 8-in-10 interval holds what a further trial shows
	apart   float64 // a trial is said to stand apart
}

// pools reads so many houses of trials of three cooks each, as they are kept and read back: the
// trials' truths lie between apart (sd), days swing by 0.2. A further trial is held against what
// was said of the next.
func pools(t testing.TB, seed uint64, houses, trials int, truth, between float64) (out pooled) {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, 20))
	d, _ := trial.DefaultOf(trial.Juiciness)
	told := func(of bool, into *float64) {
		if of {
			*into += 1 / float64(houses)
		}
	}
	for range houses {
		var shown []know.ShownBy
		var cooks []float64
		var further know.ShownBy
		for i := range trials + 1 {
			is := settle.Simulated(r, 3, truth+between*r.NormFloat64(), 0.2)
			sizes := settle.AsKept(is.Sizes(settle.AsKept(settle.Of(is))))
			if len(sizes) != 1 {
				t.Fatalf("a trial of two levels has %d sizes", len(sizes))
			}
			s := sizes[0]
			by := know.ShownBy{TrialID: int64(i), Estimate: s.Estimate, SE: s.SE, DF: s.DF, Units: s.Units, Word: s.Word, Reach: s.Reach, Setting: s.Setting}
			if i == trials {
				further = by
				break
			}
			shown = append(shown, by)
			for _, c := range is.Contrasts() {
				cooks = append(cooks, c.Difference)
			}
		}
		a := know.Pool(shown, cooks, d, 0.5)
		if a.Estimate == nil {
			t.Fatalf("%d trials are pooled to nothing", trials)
		}
		told(a.Word == verdict.Clear, &out.clear)
		told(a.Word == verdict.Clear && (*a.Winner == 0) != (truth > 0), &out.wrong)
		told(a.Word == verdict.Same, &out.same)
		told(a.CI90[0] <= truth && truth <= a.CI90[1], &out.covered)
		told(a.Next80[0] <= further.Estimate && further.Estimate <= a.Next80[1], &out.next)
		for _, s := range a.Trials {
			if s.Apart {
				told(true, &out.apart)
				break
			}
		}
	}
	return out
}

// TestPooledTrialsAreTrueAsOftenAsTheySay, by a fixed seed; at length: make bench-verdict.
func TestPooledTrialsAreTrueAsOftenAsTheySay(t *testing.T) {
	const houses = 120
	for _, trials := range []int{1, 2, 3} {
		got := pools(t, uint64(trials), houses, trials, 0, 0)
		if got.clear > 0.12 {
			t.Errorf("%d trials without a difference: clear in %.0f of 100", trials, 100*got.clear)
		}
		if got.covered < 0.82 || got.next < 0.70 {
			t.Errorf("%d trials: the interval holds the truth in %.0f of 100, the next trial in %.0f", trials, 100*got.covered, 100*got.next)
		}
		if got.apart > 0.2 {
			t.Errorf("of %d alike trials one stands apart in %.0f of 100", trials, 100*got.apart)
		}
	}
	if got := pools(t, 9, houses, 3, 1.5, 0.2); got.clear < 0.5 || got.wrong > 0 {
		t.Errorf("three trials, apart by three times what matters: clear in %.0f of 100, the wrong way in %.0f", 100*got.clear, 100*got.wrong)
	}
}

// BenchmarkPooled measures at length how often what is known from several trials is so.
func BenchmarkPooled(b *testing.B) {
	counts, houses := []int{1, 2, 3, 5}, 1000
	if testing.Short() {
		counts, houses = counts[:1], 2
	}
	for _, trials := range counts {
		for _, s := range []struct {
			name           string
			truth, between float64
		}{{"nil", 0, 0}, {"nil, trials 0.3 apart", 0, 0.3}, {"apart by d", 0.5, 0}, {"apart by 2 d, trials 0.3 apart", 1, 0.3}} {
			b.Run(fmt.Sprintf("%d trials, %s", trials, s.name), func(b *testing.B) {
				for range b.N {
					got := pools(b, uint64(trials), houses, trials, s.truth, s.between)
					b.ReportMetric(100*got.clear, "next-clear/100")
					b.ReportMetric(100*got.same, "next-same/100")
					b.ReportMetric(100*got.covered, "covered/100")
					b.ReportMetric(100*got.next, "next-trial/100")
					b.ReportMetric(100*got.apart, "apart/100")
				}
			})
		}
	}
}
