package verdict

import (
	"math"

	"gonum.org/v1/gonum/mathext"
	"gonum.org/v1/gonum/stat/distuv"
)

// tTail is P(T > t) of Student's t.
func tTail(t, df float64) float64 {
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: df}.Survival(t)
}

// tQuantile is the value that Student's t stays below with probability p.
func tQuantile(p, df float64) float64 {
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: df}.Quantile(p)
}

// normalCDF is the standard normal distribution function.
func normalCDF(z float64) float64 { return 0.5 * math.Erfc(-z/math.Sqrt2) }

// noncentralT is P(T <= t) of the noncentral t distribution with df degrees
// of freedom and noncentrality delta: the series of Lenth, 1989 (AS 243), and
// past delta 37, where its first term underflows, the normal approximation of
// Abramowitz and Stegun, 26.7.10.
func noncentralT(t, df, delta float64) float64 {
	if t < 0 {
		return 1 - noncentralT(-t, df, -delta)
	}
	if math.Abs(delta) > 37 {
		return normalCDF((t*(1-1/(4*df)) - delta) / math.Sqrt(1+t*t/(2*df)))
	}
	half := delta * delta / 2
	x := t * t / (df + t*t)
	sum := normalCDF(-delta)
	if x == 0 {
		return sum
	}
	p := math.Exp(-half)
	q := delta / math.Sqrt2 * math.Exp(-half) / math.Gamma(1.5)
	rest := 1.0 // Poisson weight not yet used: bounds what the series can still add
	for j := 0.0; j < 4000 && rest > 1e-15; j++ {
		sum += 0.5 * (p*mathext.RegIncBeta(j+0.5, df/2, x) + q*mathext.RegIncBeta(j+1, df/2, x))
		rest -= p
		p *= half / (j + 1)
		q *= half / (j + 1.5)
		if j > half && p < 1e-17 && math.Abs(q) < 1e-17 {
			break
		}
	}
	return math.Min(1, math.Max(0, sum))
}
