package thermal

import "math"

// Constants of the model. Fitted ones are marked; the rest are textbook values.
const (
	gasConstant     = 8.314462 // J/(mol K)
	stefanBoltzmann = 5.670374e-8
	kelvin          = 273.15
	seaLevel        = 101325.0 // Pa
	lewis           = 6.8e-9   // kg/(s m2 Pa) per W/(m2 K) at sea level (Lewis relation)

	waterHeat  = 4180.0 // J/(kg K) (Choi and Okos, 1986, rounded)
	solidsHeat = 1500.0
	fatHeat    = 2000.0
	boneHeat   = 1400.0

	filmTime     = 600.0 // s, a wet film runs off (fitted)
	boilTime     = 200.0 // s, boiling inside (fitted)
	boilWater    = 0.05  // kg/kg at which boiling slows (fitted)
	ventFactor   = 2e7   // m2 s Pa/kg, steam leaving a wrap (fitted)
	dryingBelow  = 0.25  // share of the start water below which the surface runs dry (fitted)
	drynessScale = 0.03  // how fast water activity falls then (fitted)
)

// SaturationPressure is that of water in Pa at a temperature in C (Antoine's
// equation with its constants for 1 to 100 C, used throughout).
func SaturationPressure(t float64) float64 {
	return 133.322 * math.Exp(math.Ln10*(8.07131-1730.63/(233.426+t)))
}

// BoilingPoint is the temperature in C at which water boils under a pressure in Pa.
func BoilingPoint(pressure float64) float64 {
	return 1730.63/(8.07131-math.Log10(pressure/133.322)) - 233.426
}

// PressureAt is that of the air in Pa at a height in m (ICAO standard atmosphere).
func PressureAt(height float64) float64 {
	return seaLevel * math.Pow(1-2.25577e-5*height, 5.25588)
}

// evaporationHeat is that of water in J/kg at t C.
func evaporationHeat(t float64) float64 { return 2.501e6 - latentSlope*t }

const latentSlope = 2361.0

// waterHeld is the water lean meat keeps at a temperature, kg per kg raw
// lean, without brine (van der Sman, 2007, Meat Science).
func waterHeld(t float64) float64 {
	return 0.745 - 0.345/(1+30*math.Exp(-0.25*(t-52)))
}

// renderRate is the share of the fat that renders per second (fitted).
func renderRate(t float64) float64 {
	return 0.20 / 3600 * math.Exp(70000/gasConstant*(1/358.15-1/(t+kelvin)))
}

// collagenRate is how many seconds at 90 C one second at t is worth (fitted, Arrhenius).
func collagenRate(t float64) float64 {
	return math.Exp(116000 / gasConstant * (1/363.15 - 1/(t+kelvin)))
}

// rates are the three temperature functions of a cell side by side, so that
// one look-up reads them together.
type rates struct{ held, render, collagen float64 }

const (
	tableLow  = -60.0
	tableTop  = 620.0
	tableStep = 0.1
	tableRows = int((tableTop-tableLow)/tableStep) + 2
)

var table = func() (out [tableRows]rates) {
	for i := range out {
		t := tableLow + float64(i)*tableStep
		out[i] = rates{waterHeld(t), renderRate(t), collagenRate(t)}
	}
	return out
}()

// place is where t lies in the table: the row below and the share of the way to the next.
func place(t float64) (int, float64) {
	x := (t - tableLow) * (1 / tableStep)
	i := int(x)
	if uint(i) >= uint(tableRows-1) {
		i = min(max(i, 0), tableRows-2)
		return i, min(max(x-float64(i), 0), 1)
	}
	return i, x - float64(i)
}
