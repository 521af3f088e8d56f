package verdict

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"
)

// Layout says how units meet: in pairs, or each arm by itself.
type Layout int

// The two layouts of two arms.
const (
	InPairs Layout = iota
	Apart
)

// mostUnits bounds the advice: past it a trial is another trial.
const mostUnits = 200

// UnitsToSettle is the least number of units an arm at which, with a spread of
// sd between units of one arm, a trial says *clear* in 8 of 10 when the truth
// is 2d, and *same* in 8 of 10 when the truth is 0; 0 when it is over 200.
func UnitsToSettle(sd, d float64, l Layout) int {
	clear := leastN(mostUnits, func(n int) bool { return l.chanceClear(n, sd, d) >= 0.8 })
	same := leastN(mostUnits, func(n int) bool { return l.chanceSame(n, sd, d) >= 0.8 })
	if clear == 0 || same == 0 {
		return 0
	}
	return max(clear, same)
}

func (l Layout) df(n int) float64 {
	if l == InPairs {
		return float64(n - 1)
	}
	return float64(2*n - 2)
}

// chanceClear is the chance of the word clear when the true difference is 2d.
func (l Layout) chanceClear(n int, sd, d float64) float64 {
	df, se := l.df(n), sd*math.Sqrt(2/float64(n))
	crit := tQuantile(0.975, df)
	return overSpread(df, func(ratio float64) float64 {
		return 1 - normalCDF((math.Max(d, crit*se*ratio)-2*d)/se)
	})
}

// chanceSame is the chance of the word same when the true difference is 0.
func (l Layout) chanceSame(n int, sd, d float64) float64 {
	df, se := l.df(n), sd*math.Sqrt(2/float64(n))
	crit := tQuantile(0.95, df)
	return overSpread(df, func(ratio float64) float64 {
		half := d - crit*se*ratio
		if half <= 0 {
			return 0
		}
		return 2*normalCDF(half/se) - 1
	})
}

// overSpread averages f over the sampling distribution of the estimated
// standard error divided by the true one, at 200 equally likely points.
func overSpread(df float64, f func(ratio float64) float64) float64 {
	const points = 200
	chi := distuv.ChiSquared{K: df}
	sum := 0.0
	for i := range points {
		sum += f(math.Sqrt(chi.Quantile((float64(i)+0.5)/points) / df))
	}
	return sum / points
}
