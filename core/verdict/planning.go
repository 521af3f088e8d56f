package verdict

import (
	"math"
	"sync"

	"gonum.org/v1/gonum/stat/distuv"
)

// Layout is how units meet: so many arms, in blocks of so many units that are
// alike. A block size of 1 or less means that each arm stands by itself.
type Layout struct {
	Arms      int
	BlockSize int
}

// The two usual layouts of two arms.
var (
	InPairs = Layout{Arms: 2, BlockSize: 2}
	Apart   = Layout{Arms: 2}
)

// MostUnits bounds the advice: past it a trial is another trial.
const MostUnits = 200

// wanted is the chance that planning asks for: 8 times in 10.
const wanted = 0.8

// Need is how many units an arm takes, 0 where it is over 200.
type Need struct {
	ToClear int `json:"to_clear"` // to say clear in 8 of 10 when the truth is 2d
	ToSame  int `json:"to_same"`  // to say same in 8 of 10 when the truth is 0
}

// Both is what both words take; 0 when either is over 200.
func (n Need) Both() int {
	if n.ToClear == 0 || n.ToSame == 0 {
		return 0
	}
	return max(n.ToClear, n.ToSame)
}

// Planner gives the planning numbers of one outcome: sd between units of one
// arm, d the smallest difference that matters.
type Planner struct {
	SD, D  float64
	Layout Layout
}

// NeedOf finds the least numbers of units an arm.
func (p Planner) NeedOf() Need {
	return Need{
		ToClear: leastN(MostUnits, func(n int) bool { return p.Clear(n, 2*p.D) >= wanted }),
		ToSame:  leastN(MostUnits, func(n int) bool { return p.Same(n) >= wanted }),
	}
}

// UnitsToSettle is the least number of units an arm at which, with a spread of
// sd between units of one arm, a trial says *clear* in 8 of 10 when the truth
// is 2d, and *same* in 8 of 10 when the truth is 0; 0 when it is over 200.
func UnitsToSettle(sd, d float64, l Layout) int {
	return Planner{SD: sd, D: d, Layout: l}.NeedOf().Both()
}

// blocked says whether units meet in blocks.
func (l Layout) blocked() bool { return l.BlockSize >= 2 && l.Arms >= 2 }

// df are the residual degrees of freedom of arm + block with n units an arm.
func (l Layout) df(n int) float64 {
	units := float64(n * l.Arms)
	if !l.blocked() {
		return units - float64(l.Arms)
	}
	return units - units/float64(l.BlockSize) - float64(l.Arms) + 1
}

// se is the standard error of a difference of two arms for a spread of 1. With
// blocks smaller than the arms it is that of balanced incomplete blocks, whose
// efficiency is v(k-1)/(k(v-1)) (Yates, 1936).
func (l Layout) se(n int) float64 {
	efficiency := 1.0
	if v, k := float64(l.Arms), float64(l.BlockSize); l.blocked() && k < v {
		efficiency = v * (k - 1) / (k * (v - 1))
	}
	return math.Sqrt(2 / float64(n) / efficiency)
}

// Clear is the chance of the word clear for one pair of arms whose true
// difference is delta, Holm's first step taken over all pairs of arms.
func (p Planner) Clear(n int, delta float64) float64 {
	if p.Layout.df(n) < 1 {
		return 0
	}
	return p.clear(n, p.critical(n), delta)
}

// critical is the quantile of t that clear has to pass with n units an arm.
func (p Planner) critical(n int) float64 {
	pairs := float64(p.Layout.Arms*(p.Layout.Arms-1)) / 2
	return tQuantile(1-0.025/math.Max(1, pairs), p.Layout.df(n))
}

func (p Planner) clear(n int, critical, delta float64) float64 {
	se := p.SD * p.Layout.se(n)
	return overSpread(p.Layout.df(n), func(ratio float64) float64 {
		return 1 - normalCDF((math.Max(p.D, critical*se*ratio)-delta)/se)
	})
}

// Same is the chance of the word same when the true difference is 0.
func (p Planner) Same(n int) float64 {
	df, se := p.Layout.df(n), p.SD*p.Layout.se(n)
	if df < 1 {
		return 0
	}
	crit := tQuantile(0.95, df)
	return overSpread(df, func(ratio float64) float64 {
		half := p.D - crit*se*ratio
		if half <= 0 {
			return 0
		}
		return 2*normalCDF(half/se) - 1
	})
}

// Detects is the least true difference that n units an arm call clear 8 times
// in 10; nil when the layout leaves nothing to judge by.
func (p Planner) Detects(n int) *float64 {
	if n < 1 || p.Layout.df(n) < 1 {
		return nil
	}
	critical := p.critical(n)
	low, high := 0.0, p.D+p.SD
	for p.clear(n, critical, high) < wanted {
		if high *= 2; high > 1e9*p.D {
			return nil
		}
	}
	for range 14 { // to a ten-thousandth of where it started
		if mid := (low + high) / 2; p.clear(n, critical, mid) < wanted {
			low = mid
		} else {
			high = mid
		}
	}
	return &high
}

// overSpread averages f over the sampling distribution of the estimated
// standard error divided by the true one, at 200 equally likely points.
func overSpread(df float64, f func(ratio float64) float64) float64 {
	ratios := ratiosOf(df)
	sum := 0.0
	for _, r := range ratios {
		sum += f(r)
	}
	return sum / float64(len(ratios))
}

// seenRatios keeps what ratiosOf has worked out, by degrees of freedom: the
// quantiles of chi-squared are most of the work of planning.
var seenRatios sync.Map

func ratiosOf(df float64) []float64 {
	if seen, ok := seenRatios.Load(df); ok {
		return seen.([]float64)
	}
	chi := distuv.ChiSquared{K: df}
	ratios := make([]float64, 200)
	for i := range ratios {
		ratios[i] = math.Sqrt(chi.Quantile((float64(i)+0.5)/float64(len(ratios))) / df)
	}
	seenRatios.Store(df, ratios)
	return ratios
}
