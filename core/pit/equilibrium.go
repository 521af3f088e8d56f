package pit

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// EquilibriumSource is where the fit is from.
const EquilibriumSource = "First order lag (Newton, 1701); least squares profiled over the time constant, errors linearised (Bates and Watts, 1988)"

// The time constants that are looked at, hours.
const (
	leastTau = 0.02
	mostTau  = 2000.0
)

// Fit is an approach to equilibrium, y = E + (Y0 - E) exp(-t/Tau), as least squares has it.
// Y is in the unit of the readings, t and Tau in hours.
type Fit struct {
	Converged bool // false: least squares has no minimum within the time constants looked at
	N, DF     int
	E, ESE    float64
	Tau       float64
	TauSE     float64
	Y0        float64
	Y0SE      float64 // NaN where Y0 is fixed at the first reading
	SS, SD    float64 // of the residuals
	Lag1      float64 // autocorrelation of the residuals at the next reading
	Residuals []float64
}

// FitEquilibrium fits readings y at t hours. With fixed, the curve begins at the first reading,
// which stays in the data. Fewer readings than a fit can be judged by are an error.
func FitEquilibrium(t, y []float64, fixed bool) (Fit, error) {
	least := 4
	if fixed {
		least = 3
	}
	if len(t) != len(y) || len(y) < least {
		return Fit{}, fault.New("y", fmt.Sprintf("there are %d readings at %d times", len(y), len(t)),
			fmt.Sprintf("give at least %d, each with its time", least))
	}
	for i := range t {
		if math.IsNaN(t[i]+y[i]) || math.IsInf(t[i]+y[i], 0) {
			return Fit{}, fault.New("y", fmt.Sprintf("reading %d is no number", i+1), "leave it out")
		}
		if i > 0 && t[i] < t[i-1] {
			return Fit{}, fault.New("t_hours", fmt.Sprintf("reading %d is before the one it follows", i+1), "put them in order")
		}
	}
	p := profile{t, y, fixed}
	at, found := p.best()
	if !found {
		return Fit{N: len(y)}, nil
	}
	return p.fit(at)
}

// profile is the sum of squares as a function of the time constant alone: the rest of the curve is linear.
type profile struct {
	t, y  []float64
	fixed bool
}

// linear is the best E and Y0 at a time constant, and their sum of squares. Sums are about
// the curve's start, so that long time constants lose no figures.
func (p profile) linear(tau float64) (e, y0, ss float64) {
	var sx, sxx, sy, sxy float64
	base := p.y[0]
	for i, t := range p.t {
		x, y := -math.Expm1(-t/tau), p.y[i]-base
		sx, sxx, sy, sxy = sx+x, sxx+x*x, sy+y, sxy+x*y
	}
	n := float64(len(p.y))
	var rise, from float64
	if p.fixed {
		rise = sxy / sxx
	} else {
		rise = (n*sxy - sx*sy) / (n*sxx - sx*sx)
		from = (sy - rise*sx) / n
	}
	for i, t := range p.t {
		r := p.y[i] - base - from + rise*math.Expm1(-t/tau)
		ss += r * r
	}
	return base + from + rise, base + from, ss
}

// best is the time constant of the least sum of squares; false where that is at an end.
func (p profile) best() (tau float64, found bool) {
	const steps = 240
	at := func(i int) float64 {
		return leastTau * math.Pow(mostTau/leastTau, float64(i)/steps)
	}
	low, least := 0, math.Inf(1)
	for i := range steps + 1 {
		if _, _, ss := p.linear(at(i)); ss < least {
			low, least = i, ss
		}
	}
	if low == 0 || low == steps || math.IsInf(least, 1) {
		return 0, false
	}
	ln := golden(math.Log(at(low-1)), math.Log(at(low+1)), func(l float64) float64 {
		_, _, ss := p.linear(math.Exp(l))
		return ss
	})
	return math.Exp(ln), true
}

// golden is where f, which has one minimum between a and b, is least (golden section).
func golden(a, b float64, f func(float64) float64) float64 {
	const share = 0.6180339887498949
	c, d := b-share*(b-a), a+share*(b-a)
	fc, fd := f(c), f(d)
	for range 60 {
		if fc < fd {
			b, d, fd = d, c, fc
			c = b - share*(b-a)
			fc = f(c)
		} else {
			a, c, fc = c, d, fd
			d = a + share*(b-a)
			fd = f(d)
		}
	}
	return (a + b) / 2
}

var errFlat = errors.New("the readings do not tell the curve's parts apart")

// fit is all of the curve at the best time constant.
func (p profile) fit(tau float64) (Fit, error) {
	e, y0, ss := p.linear(tau)
	k := 3
	if p.fixed {
		k = 2
	}
	n := len(p.y)
	f := Fit{Converged: true, N: n, DF: n - k, E: e, Tau: tau, Y0: y0, Y0SE: math.NaN(), SS: ss}
	f.SD = math.Sqrt(ss / float64(f.DF))
	j := mat.NewDense(n, k, nil)
	var lag float64
	for i, t := range p.t {
		x := math.Exp(-t / tau)
		j.Set(i, 0, 1-x)
		j.Set(i, 1, (y0-e)*x*t/(tau*tau))
		if !p.fixed {
			j.Set(i, 2, x)
		}
		f.Residuals = append(f.Residuals, p.y[i]-e-(y0-e)*x)
		if i > 0 {
			lag += f.Residuals[i-1] * f.Residuals[i]
		}
	}
	if ss > 0 {
		f.Lag1 = lag / ss
	}
	var normal, cov mat.Dense
	normal.Mul(j.T(), j)
	if err := cov.Inverse(&normal); err != nil {
		var bad mat.Condition
		if !errors.As(err, &bad) || math.IsInf(float64(bad), 1) {
			return Fit{}, fmt.Errorf("fit an equilibrium: %w", errFlat)
		}
	}
	se := func(i int) float64 { return f.SD * math.Sqrt(cov.At(i, i)) }
	f.ESE, f.TauSE = se(0), se(1)
	if !p.fixed {
		f.Y0SE = se(2)
	}
	return f, nil
}

// HalfWidth is half the interval of E that holds the share p of the time. Readings that
// follow one another, as ripple makes them, count for less than their number.
func (f Fit) HalfWidth(p float64) float64 {
	wider := 1.0
	if r := math.Min(f.Lag1, 0.95); r > 0 {
		wider = math.Sqrt((1 + r) / (1 - r))
	}
	return wider * f.ESE * distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(f.DF)}.Quantile((1+p)/2)
}

// At is the curve after t hours.
func (f Fit) At(t float64) float64 { return f.E + (f.Y0-f.E)*math.Exp(-t/f.Tau) }
