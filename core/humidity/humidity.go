// Package humidity tells from a dry and a wet bulb how wet the air of a pit is.
//
// The air in a pit is nearly still and its walls radiate, so that a wet bulb there reads
// high: what is told from it is an upper bound unless air is drawn over the wick.
package humidity

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Source is where the formulas are from.
const Source = "Hyland and Wexler, 1983 (saturation); wet-bulb energy balance as in the ASHRAE Handbook of Fundamentals, chapter 1; " +
	"U.S. Standard Atmosphere, 1976"

// moleRatio is that of water to dry air.
const moleRatio = 0.621945

// The range of the saturation formula over water, C.
const (
	coldest = 0.0
	hottest = 200.0
)

// Pressures of the air that a barn can have, Pa.
const (
	leastPa = 30_000.0
	mostPa  = 120_000.0
)

// Saturation is the pressure of saturated water vapour in Pa at t C, over water from 0 to
// 200 C (Hyland and Wexler, 1983).
func Saturation(t float64) float64 {
	k := t + 273.15
	return math.Exp(-5.8002206e3/k + 1.3914993 - 4.8640239e-2*k + 4.1764768e-5*k*k - 1.4452093e-8*k*k*k + 6.5459673*math.Log(k))
}

// SaturatedAt is the temperature in C at which vapour of p Pa is saturated; it is the dew
// point of that vapour and the boiling point of water under that pressure. NaN where it is
// out of the formula's range.
func SaturatedAt(p float64) float64 {
	low, high := coldest, hottest
	// A hair below 0 C counts as 0: the formula is inverted, not extrapolated.
	if !(p >= Saturation(low)-1e-6 && p <= Saturation(high)) {
		return math.NaN()
	}
	for range 60 {
		if mid := (low + high) / 2; Saturation(mid) < p {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2
}

// Air is how wet air is.
type Air struct {
	VapourPa     float64
	RH           float64 // share of saturation, 0 to 1; above boiling it cannot reach 1
	DewPointC    float64 // NaN below 0 C
	Ratio        float64 // kg of water a kg of dry air
	VolumeOfAll  float64 // share of the air that is vapour
	HighestRH    float64 // that air so hot can have under this pressure
	HalfDegreeRH float64 // by how much RH is off if the wet bulb reads half a degree low; NaN: cannot
}

// ratioAt is the humidity ratio by the energy balance of a wet bulb.
func ratioAt(dry, wet, pa float64) float64 {
	es := Saturation(wet)
	ws := moleRatio * es / (pa - es)
	return ((2501-2.326*wet)*ws - 1.006*(dry-wet)) / (2501 + 1.86*dry - 4.186*wet)
}

// HighestRH is the highest share of saturation that air of t C can have under pa Pa.
func HighestRH(t, pa float64) float64 { return math.Min(1, pa/Saturation(t)) }

// OfBulbs tells how wet air is of t C whose wet bulb reads wet C, under pa Pa. A wet bulb
// that is over the dry one, or so low that no air is as dry, is an error.
func OfBulbs(dry, wet, pa float64) (Air, error) {
	switch {
	case !(dry >= coldest && dry <= hottest):
		return Air{}, fault.New("dry_bulb_c", fmt.Sprintf("%.1f C is out of what can be told", dry), "give 0 to 200 C")
	case !(pa >= leastPa && pa <= mostPa):
		return Air{}, fault.New("pressure_hpa", fmt.Sprintf("%.0f hPa is no pressure of the air", pa/100), "give 300 to 1200 hPa")
	case wet > dry:
		return Air{}, fault.New("wet_bulb_c", "the wet bulb reads over the dry one", "read both again; the wick must be wet, the dry bulb dry")
	case wet < coldest:
		return Air{}, fault.New("wet_bulb_c", "the wet bulb is under freezing", "read it again")
	case Saturation(wet) >= pa:
		return Air{}, fault.New("wet_bulb_c", "the wet bulb reads over the boiling point", "wet the wick: it is dry")
	}
	w := ratioAt(dry, wet, pa)
	if w <= 0 {
		return Air{}, fault.New("wet_bulb_c", "no air is so dry", "read both again")
	}
	e := pa * w / (moleRatio + w)
	out := Air{VapourPa: e, RH: e / Saturation(dry), DewPointC: SaturatedAt(e), Ratio: w, VolumeOfAll: e / pa,
		HighestRH: HighestRH(dry, pa), HalfDegreeRH: math.NaN()}
	if more := wet + 0.5; more <= dry && Saturation(more) < pa {
		m := ratioAt(dry, more, pa)
		out.HalfDegreeRH = pa*m/(moleRatio+m)/Saturation(dry) - out.RH
	}
	return out, nil
}

// Boiling is the boiling point of water in C under pa Pa.
func Boiling(pa float64) float64 { return SaturatedAt(pa) }
