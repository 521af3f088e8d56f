package settle

import (
	"fmt"
	"math"
	"math/rand/v2"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// Chance is how often so many more cooks would settle two arms for the next cook.
type Chance struct {
	A      int     `json:"a"`
	B      int     `json:"b"`
	Cooks  int     `json:"cooks"`
	Chance float64 `json:"chance"`
}

const (
	daySwing   = 0.7 // sd between days of what an arm does, in smallest differences that matter (ours)
	swingDF    = 4.0 // how many cooks' worth that guess is
	mostGoOn   = 4   // more cooks than these are another trial
	goOnDraws  = 400
	goodChance = 0.7
)

// goOn draws what one to four more cooks may show of each two arms whose next cook is not
// told, from the cooks so far: the spread between them, with a guess of it worth four.
func (t Trial) goOn(row Row, d trial.OutcomeDefault) []Chance {
	out := []Chance{}
	for _, p := range row.Pairs {
		if p.Next.Word == verdict.Clear || p.Next.Word == verdict.Same {
			continue
		}
		own, _ := t.cookDifferences(p, d)
		var all []float64
		for _, c := range own {
			all = append(all, c.Difference)
		}
		all = append(all, t.fromTheHouse(p, d.Key)...)
		if len(all) == 0 {
			continue
		}
		for k := 1; k <= mostGoOn; k++ {
			out = append(out, Chance{p.A, p.B, k, settles(all, k, row.SmallestDifference, p.Cooks)})
		}
	}
	return out
}

// settles is how often k cooks more make the word of the next cook clear or same. The draws
// are always the same, so that a reading is.
func settles(all []float64, k int, smallest float64, cooks Side) float64 {
	r := rand.New(rand.NewPCG(uint64(len(all)), uint64(k)))
	n := float64(len(all))
	mean := stat.Mean(all, nil)
	// What one cook's own difference is unsure by, from all of them together.
	unsure := 0.0
	if cooks.CI90 != nil {
		unsure = (cooks.CI90[1] - cooks.CI90[0]) / 2 / 1.9 * math.Sqrt(n)
	}
	guess := math.Hypot(daySwing*smallest, unsure)
	squares := swingDF * guess * guess
	for _, v := range all {
		squares += (v - mean) * (v - mean)
	}
	told := 0
	chi := distuv.ChiSquared{K: swingDF + n - 1, Src: r}
	critical := verdict.CookCritical(len(all) + k)
	for range goOnDraws {
		sd := math.Sqrt(squares / chi.Rand())
		truth := mean + sd/math.Sqrt(n)*r.NormFloat64()
		differences := append(make([]float64, 0, len(all)+k), all...)
		for range k {
			differences = append(differences, truth+sd*r.NormFloat64())
		}
		m, s := stat.MeanStdDev(differences, nil)
		if critical.Settles(m, s/math.Sqrt(float64(len(differences))), smallest) {
			told++
		}
	}
	return float64(told) / goOnDraws
}

// Best is the least number of cooks that settles it 7 times in 10, else the most that is
// looked at; ok is false without any.
func Best(all []Chance, a, b int) (best Chance, ok bool) {
	for _, c := range all {
		if c.A != a || c.B != b || ok && best.Chance >= goodChance {
			continue
		}
		best, ok = c, true
	}
	return best, ok
}

// Said is a chance in words.
func (c Chance) Said() string {
	cooks := "one more cook"
	if c.Cooks > 1 {
		cooks = fmt.Sprintf("%d more cooks", c.Cooks)
	}
	switch n := math.Round(10 * c.Chance); n {
	case 0:
		return "going on " + cooks + " would hardly ever settle it"
	case 1:
		return "going on " + cooks + " would settle it once in 10"
	default:
		return fmt.Sprintf("going on %s would settle it %.0f times in 10", cooks, n)
	}
}
