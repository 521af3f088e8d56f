package forecast

import (
	"math"

	"whitebarn/core/thermal"
)

// What is unknown about a cut and its pit, each as a standard normal number.
const (
	thickness  = iota
	heat       // heat transfer of the pit
	crust      // resistance of the crust
	juiceOut   // share of the juice that comes out
	shape      //
	offset     // grate over pit probe
	juiceTime  //
	start      // temperature at the start
	evaporate  // vapour transfer
	held       // water held
	power      // growth of the crust
	placeOfTip // probe off centre
	surface    // of the cut for its mass
	lift       // vapour that pushes itself out
	unknowns
)

// point is one guess at the unknowns.
type point [unknowns]float64

const (
	clip     = 3.2  // widths a guess may lie from the usual
	tipUsual = 0.12 // share of the half thickness the probe is off centre
	tipWidth = 0.09

	liftUsual = 0.5
)

// widths of the unknowns: of the logarithm for those that are factors, in
// their own unit for the rest. They were set on synthetic cooks.
var widths = point{
	thickness: 0.12, heat: 0.20, crust: 0.5, juiceOut: 0.20, shape: 0.5, offset: 3, juiceTime: 0.35,
	start: 1, evaporate: 0.3, held: 2, power: 0.4, placeOfTip: tipWidth, surface: 0.12, lift: 0.3,
}

// prior is where the unknowns usually lie for this cut.
type prior struct {
	log    Log
	first  float64 // C, first reading of the probe
	known  float64 // C, start measured; NaN when not
	centre point   // what the house has learned of the family
}

// cut is the piece a guess stands for, and how far its grate is from the pit's probe.
func (p prior) cut(z point) (thermal.Cut, thermal.Crust, float64) {
	from := p.first - 0.3
	if !math.IsNaN(p.known) {
		from = p.known
	}
	return vary(p.log.Family, p.log.Mass, p.log.Thickness, from, p.centre, z)
}

func vary(f thermal.Family, mass, thick, from float64, centre, z point) (thermal.Cut, thermal.Crust, float64) {
	for i := range z {
		z[i] = min(max(z[i]+centre[i], -clip), clip)
	}
	factor := func(i int) float64 { return math.Exp(widths[i] * z[i]) }
	c := f.Cut(mass, thick, 4)
	s := thermal.UsualCrust
	depth := c.HalfThickness / (c.Shape + 1) * factor(surface) // meat behind the surface
	c.HalfThickness = min(max(c.HalfThickness*factor(thickness), 0.0025), 0.15)
	c.JuiceTime *= factor(thickness) * factor(juiceTime)
	c.Shape = min(max(c.Shape+widths[shape]*z[shape], 0), 2)
	c.StartTemperature = min(max(from+widths[start]*z[start], -0.9), 59)
	c.HeldShift = widths[held] * z[held]
	c.ProbeDepth = c.HalfThickness * (1 - min(max(tipUsual+tipWidth*z[placeOfTip], 0), 0.4))
	s.Surface = c.HalfThickness / (c.Shape + 1) / depth
	s.Lift = liftUsual + widths[lift]*z[lift]
	s.HeatTransfer = factor(heat)
	s.Evaporation = factor(evaporate)
	s.JuiceOut = min(max(0.66+widths[juiceOut]*z[juiceOut], 0.1), 1)
	s.Power = min(max(2+widths[power]*z[power], 1.2), 3.5)
	// The resistance at 1.5 kg/m2 stays the same whatever the power.
	s.Resistance *= factor(crust) * math.Pow(1.5, 2-s.Power)
	return c, s, widths[offset] * z[offset]
}

// Unknowns is how many numbers a guess at a cut and its pit has.
const Unknowns = unknowns

// OfPit says whether an unknown is the pit's, and so alike for all cuts in it.
func OfPit(unknown int) bool {
	return unknown == heat || unknown == offset || unknown == evaporate
}

// Piece is a cut before it goes on: its family, mass in kg, thickness in m (0
// when not measured) and temperature in C, with what the house has learned of
// the family (see Learn) and a guess z at what is unknown, in standard normal
// numbers. The last value is how much hotter its place is than the pit's
// probe says, in C.
func Piece(f thermal.Family, mass, thick, from float64, learned []float64, z [Unknowns]float64) (thermal.Cut, thermal.Crust, float64) {
	var centre point
	copy(centre[:], learned)
	return vary(f, mass, thick, from, centre, z)
}
