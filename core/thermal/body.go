package thermal

import (
	"math"

	"whitebarn/core/fault"
)

// state is everything that changes in a cut, per m2 of its surface. The
// running totals grow from the start of the cook.
type state struct {
	t         []float64 // C, of each cell from the centre out
	water     []float64 // kg per kg raw lean
	unmelted  []float64 // share of the fat not yet rendered
	collagen  []float64 // s at 90 C
	skin      float64   // C, surface
	film      float64   // kg/m2: over 0 a wet film, under 0 water missing from the crust
	evaporate float64   // kg/m2 so far, condensation taken off
	boiled    float64
	drip      float64
	heatIn    float64 // J/m2 through the surface, less what boiling inside took
	heatHeld  float64 // J/m2 the cells took up
}

func newState(n int) state {
	all := make([]float64, 4*n)
	return state{t: all[:n], water: all[n : 2*n], unmelted: all[2*n : 3*n], collagen: all[3*n:]}
}

// Body is a cut under way: its state and the work space of a step. It is not
// safe for use by two goroutines at once. A Body can be Reset and used again;
// stepping allocates nothing.
type Body struct {
	cut      Cut
	crust    Crust
	off      Switches
	pressure float64
	tol      float64

	n         int
	h         float64   // m, thickness of a cell
	face      []float64 // area of the inner face of each cell per m2 of surface; the surface's is 1
	mass      []float64 // kg/m2, raw
	lean      []float64 // kg lean/m2
	water0    float64   // kg/m2 at the start
	area      float64
	brineHeld float64 // kg/kg that brine adds to the water held
	boiling   float64 // C

	added    float64 // J/(m2 K) of liquid around the outer cell
	spritzed float64 // kg/m2 so far
	clock    float64 // s since the start
	dt       float64 // s, next step to try

	now, next           state
	coarse, half        state
	first, second       cells
	renderNow, rateNow  []float64 // rates at now
	renderNext, ratNext []float64
	whole, halved       sweep
}

// cells are the properties at the start of a step.
type cells struct {
	conduct  []float64 // W/(m2 K) through the inner face of each cell
	heat     []float64 // J/(m2 K)
	boil     []float64 // W/(m2 K)
	outer    float64   // W/(m2 K) from the last cell to the surface
	activity float64
	crust    float64
	share    float64 // of the water that the crust's debt leaves
	left     float64 // kg/m2 water left, where it limits evaporation; else +Inf
}

// Switches turn mechanisms off, for checks against textbook solutions.
type Switches struct {
	NoEvaporation, NoJuice, NoRadiation bool
}

// Settings are the numerics of a Body. Zero values are the defaults.
type Settings struct {
	Cells     int     // 30 by default; 14 to 20 do for ensembles
	Tolerance float64 // C, error of a step; 0.1 by default, 0.2 to 0.3 for ensembles
	Pressure  float64 // Pa; sea level by default
	Off       Switches
}

const (
	usualCells     = 30
	usualTolerance = 0.1
	filmTolerance  = 0.02 // kg/m2
	shortestStep   = 1.0  // s, below it a step is always taken
	longestStep    = 300.0
	firstStep      = 5.0
)

// NewBody returns the cut as it comes from the fridge.
func NewBody(cut Cut, crust Crust, set Settings) (*Body, error) {
	b := new(Body)
	if err := b.Reset(cut, crust, set); err != nil {
		return nil, err
	}
	return b, nil
}

// Reset starts over with another cut, keeping the memory when the number of
// cells is the same.
func (b *Body) Reset(cut Cut, crust Crust, set Settings) error {
	if set.Cells == 0 {
		set.Cells = usualCells
	}
	if set.Tolerance == 0 {
		set.Tolerance = usualTolerance
	}
	if set.Pressure == 0 {
		set.Pressure = seaLevel
	}
	if crust.Surface == 0 {
		crust.Surface = 1
	}
	if err := cut.check(); err != nil {
		return fault.In("cut", err)
	}
	if err := crust.check(); err != nil {
		return fault.In("surface", err)
	}
	if err := within([]bound{
		{"cells", float64(set.Cells), 4, 400, ""},
		{"tolerance_C", set.Tolerance, 1e-6, 2, " C"},
		{"pressure_Pa", set.Pressure, 50e3, 110e3, " Pa"},
	}); err != nil {
		return err
	}
	if b.n != set.Cells {
		b.allocate(set.Cells)
	}
	b.cut, b.crust, b.off, b.pressure, b.tol = cut, crust, set.Off, set.Pressure, set.Tolerance
	b.boiling = BoilingPoint(set.Pressure)
	b.brineHeld = cut.BrineKept * cut.Brine
	b.area = cut.Area()
	b.h = cut.HalfThickness / float64(b.n)
	b.added, b.spritzed, b.clock, b.dt = 0, 0, 0, firstStep
	b.divide()
	s := &b.now
	*s = state{t: s.t, water: s.water, unmelted: s.unmelted, collagen: s.collagen, skin: cut.StartTemperature}
	for i := range b.n {
		s.t[i], s.water[i], s.unmelted[i], s.collagen[i] = cut.StartTemperature, cut.startWater(), 1, 0
	}
	b.rate(s, b.renderNow, b.rateNow)
	return nil
}

func (b *Body) allocate(n int) {
	b.n = n
	for _, s := range []*state{&b.now, &b.next, &b.coarse, &b.half} {
		*s = newState(n)
	}
	for _, v := range []*[]float64{
		&b.face, &b.mass, &b.lean, &b.renderNow, &b.rateNow, &b.renderNext, &b.ratNext, &b.whole.alpha, &b.whole.beta, &b.halved.alpha, &b.halved.beta,
		&b.first.conduct, &b.first.heat, &b.first.boil, &b.second.conduct, &b.second.heat, &b.second.boil,
	} {
		*v = make([]float64, n)
	}
}

// divide lays the cells out: equal in thickness, their mass and inner faces
// growing outward with the shape.
func (b *Body) divide() {
	s, n := b.cut.Shape, float64(b.n)
	whole := b.cut.Density * b.cut.HalfThickness / (s + 1)
	b.water0 = 0
	for i := range b.n {
		low, top := float64(i)/n, float64(i+1)/n
		b.face[i] = math.Pow(low, s)
		if i == 0 {
			b.face[i] = 0 // no heat crosses the centre
		}
		b.mass[i] = whole * (math.Pow(top, s+1) - math.Pow(low, s+1))
		b.lean[i] = b.mass[i] * b.cut.Lean
		b.water0 += b.lean[i] * b.cut.startWater()
	}
}

// rate looks up how fast fat renders and collagen gives way in each cell.
func (b *Body) rate(s *state, render, collagen []float64) {
	for i, t := range s.t {
		k, u := place(t)
		low, top := &table[k], &table[k+1]
		render[i] = low.render + u*(top.render-low.render)
		collagen[i] = low.collagen + u*(top.collagen-low.collagen)
	}
}

// Spritz adds water to the surface, in kg per m2.
func (b *Body) Spritz(perArea float64) {
	b.now.film += perArea
	b.spritzed += perArea
}

// Pour adds liquid around the cut, mixed at once into its outermost cell, and
// there until Drain. An error names an impossible amount or temperature.
func (b *Body) Pour(kg, temperature float64) error {
	if err := within([]bound{{"liquid_kg", kg, 0, 20, " kg"}, {"liquid_C", temperature, 0, 100, " C"}}); err != nil {
		return err
	}
	more := waterHeat * kg / b.area
	outer := b.n - 1
	held := b.heatOf(outer) + b.added
	b.now.t[outer] = (held*b.now.t[outer] + more*temperature) / (held + more)
	b.added += more
	b.rate(&b.now, b.renderNow, b.rateNow)
	return nil
}

// Drain takes the liquid away at the temperature it has.
func (b *Body) Drain() { b.added = 0 }

// heatOf is the heat capacity of a cell in J/(m2 K), without added liquid.
func (b *Body) heatOf(i int) float64 {
	s := &b.now
	fat := b.cut.Fat * (1 - b.cut.RenderShare*(1-s.unmelted[i]))
	return b.lean[i]*(waterHeat*s.water[i]+solidsHeat*(1-b.cut.LeanWater)) + b.mass[i]*(fatHeat*fat+boneHeat*b.cut.Bone)
}
