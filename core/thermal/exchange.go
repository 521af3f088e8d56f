package thermal

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Exchange is how a wrapped or bare cut meets the air around it.
type Exchange struct {
	HeatTransfer     float64 // W/(m2 K), convection
	Emissivity       float64 // of cut or wrap and pit together
	RadiantExcess    float64 // C, walls over air
	DewPoint         float64 // C, of the pit's air; unused when Relative
	Relative         bool    // humidity is given as RH
	RH               float64 // 0 to 1
	WrapResistance   float64 // m2 K/W (R_h)
	VapourResistance float64 // m2 s Pa/kg (R_v)
}

func (x Exchange) check() error {
	humid := bound{"dew_C", x.DewPoint, -60, 100, " C"}
	if x.Relative {
		humid = bound{"rh", x.RH, 0, 1, ""}
	}
	return within([]bound{
		{"hc", x.HeatTransfer, 1, 100, " W/(m2 K)"},
		{"eps_eff", x.Emissivity, 0, 1, ""},
		{"dT_rad", x.RadiantExcess, -50, 100, " C"},
		humid,
		{"R_h", x.WrapResistance, 0, 10, " m2 K/W"},
		{"R_v", x.VapourResistance, 0, 1e12, ""},
	})
}

// Trace is a logged temperature over time, linear between its readings and
// held at its ends. It is read-only once made, so simulations may share it.
type Trace struct {
	times, values, area []float64 // area under the trace up to each reading
}

// NewTrace takes times in s, rising, and temperatures in C.
func NewTrace(times, values []float64) (*Trace, error) {
	if len(times) == 0 || len(times) != len(values) {
		return nil, fault.New("pit_log", fmt.Sprintf("%d times and %d temperatures", len(times), len(values)), "give as many of each, at least one")
	}
	t := &Trace{times, values, make([]float64, len(times))}
	for i, v := range values {
		if !(v >= lowestAir && v <= hottestAir) {
			return nil, fault.New("pit_log", fmt.Sprintf("reading %d is %g C", i+1, v), fmt.Sprintf("give %g to %g C", lowestAir, hottestAir))
		}
		if i == 0 {
			continue
		}
		if !(times[i] > times[i-1]) {
			return nil, fault.New("pit_log", fmt.Sprintf("reading %d is not later than the one before", i+1), "put the readings in order of time")
		}
		t.area[i] = t.area[i-1] + (times[i]-times[i-1])*(v+values[i-1])/2
	}
	return t, nil
}

const (
	lowestAir  = -40.0
	hottestAir = 400.0
)

// areaUntil is the integral up to s; near is where the last search ended.
func (t *Trace) areaUntil(s float64, near *int) float64 {
	last := len(t.times) - 1
	if s <= t.times[0] {
		return (s - t.times[0]) * t.values[0]
	}
	if s >= t.times[last] {
		return t.area[last] + (s-t.times[last])*t.values[last]
	}
	i := min(*near, last-1)
	for t.times[i] > s {
		i--
	}
	for t.times[i+1] < s {
		i++
	}
	*near = i
	d := s - t.times[i]
	slope := (t.values[i+1] - t.values[i]) / (t.times[i+1] - t.times[i])
	return t.area[i] + d*(t.values[i]+slope*d/2)
}

// At is the temperature at s.
func (t *Trace) At(s float64) float64 {
	last := len(t.times) - 1
	if s <= t.times[0] {
		return t.values[0]
	}
	if s >= t.times[last] {
		return t.values[last]
	}
	low, top := 0, last
	for top-low > 1 {
		if mid := (low + top) / 2; t.times[mid] <= s {
			low = mid
		} else {
			top = mid
		}
	}
	u := (s - t.times[low]) / (t.times[top] - t.times[low])
	return t.values[low] + u*(t.values[top]-t.values[low])
}

// surface solves the balance of the outermost skin, which stores no heat.
type surface struct {
	x               *Exchange
	hc, emissivity  float64
	air             float64 // C
	size, lift      float64 // surface per m2 of the shape's own; factor on evaporation
	radK, radK2     float64 // K, K2
	vapour          float64 // Pa, of the air
	open            float64 // m2 s Pa/kg, air film and wrap
	crust           float64 // more of it while drying
	activity        float64 // of the surface water
	most            float64 // kg/(m2 s), evaporation cannot be faster
	pressure        float64
	noEvaporation   bool
	inward, a, beta float64 // G_s, and T_N = a + beta T_s
}

// flux is the evaporation j in kg/(m2 s) at surface temperature t, and its slope.
func (s *surface) flux(t float64) (j, slope float64) {
	if s.noEvaporation {
		return 0, 0
	}
	full := SaturationPressure(t)
	rise := full * math.Ln10 * 1730.63 / ((233.426 + t) * (233.426 + t))
	d := s.activity*full - s.vapour
	resistance := s.open
	switch {
	case d > 0:
		resistance += s.crust
		slope = s.activity * rise / resistance
	case full < s.vapour:
		d, slope = full-s.vapour, rise/resistance
	default:
		d = 0
	}
	j, slope = s.lift*d/resistance, s.lift*slope
	if over := s.activity*full - s.pressure; s.x.VapourResistance > 0 && over > 0 {
		j += over / (ventFactor + s.crust)
		slope += s.activity * rise / (ventFactor + s.crust)
	}
	j, slope = s.size*j, s.size*slope
	if j > s.most {
		return s.most, 0
	}
	return j, slope
}

// heat is what reaches the surface from outside in W/m2 at surface
// temperature t, and its slope: U (T_e - t) written out, so that the slope
// is exact.
func (s *surface) heat(t float64) (q, slope float64) {
	tk := t + kelvin
	t2 := tk * tk
	e := s.emissivity * stefanBoltzmann
	hr := e * (tk + s.radK) * (t2 + s.radK2)
	through := s.size / (1 + (s.hc+hr)*s.x.WrapResistance)
	q = (s.hc*(s.air-t) + hr*(s.radK-tk)) * through
	bend := e * (t2 + s.radK2 + 2*tk*(tk+s.radK)) * s.x.WrapResistance // of the wrap's share
	return q, -(s.hc+4*e*t2*tk)*through - q*bend*through/s.size
}

// solve returns the surface temperature, the evaporation and the heat from
// outside less what evaporation takes, by Newton's method kept in a bracket.
func (s *surface) solve(guess float64) (t, j, net float64) {
	low, top := tableLow, 600.0
	t = guess
	for range 60 {
		q, bend := s.heat(t)
		flux, slope := s.flux(t)
		latent := evaporationHeat(t)
		net = q - latent*flux
		bend -= latent*slope - latentSlope*flux
		inner := s.inward * (1 - s.beta)
		miss := net - inner*t + s.inward*s.a
		if miss > 0 {
			low = t
		} else {
			top = t
		}
		next := t - miss/(bend-inner)
		if !(next >= low && next <= top) {
			next = (low + top) / 2
		}
		moved := next - t
		t = next
		if math.Abs(moved) < 1e-3 {
			// The last move is small enough for the slopes to carry the rest.
			return t, flux + slope*moved, net + bend*moved
		}
	}
	return t, j, net
}
