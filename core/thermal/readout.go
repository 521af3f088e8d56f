package thermal

import "math"

// core is the coldest point of the cut in C.
func (b *Body) core(s *state) float64 {
	low := min(b.centre(s), s.skin)
	for _, t := range s.t {
		low = min(low, t)
	}
	return low
}

// centre is the temperature of the middle in C: a parabola through the two innermost cells.
func (b *Body) centre(s *state) float64 { return (9*s.t[0] - s.t[1]) / 8 }

// at is the temperature in C at a depth in m below the surface; below 0 is the centre.
func (b *Body) at(s *state, depth float64) float64 {
	if depth < 0 {
		return b.centre(s)
	}
	x := (b.cut.HalfThickness - depth) / b.h // in cells from the centre
	switch last := float64(b.n) - 0.5; {
	case x <= 0.5:
		middle := b.centre(s)
		return middle + (s.t[0]-middle)*4*x*x
	case x >= last:
		return s.t[b.n-1] + (s.skin-s.t[b.n-1])*(x-last)*2
	}
	i := int(x - 0.5)
	u := x - 0.5 - float64(i)
	return s.t[i] + u*(s.t[i+1]-s.t[i])
}

// index is how tender the least tender cell is; 1 is tender.
func (b *Body) index(s *state) float64 {
	low := math.Inf(1)
	for _, k := range s.collagen {
		low = min(low, k)
	}
	return low / b.cut.CollagenTime
}

// mean weighs a number of each cell by its mass.
func (b *Body) mean(of []float64) float64 {
	sum, whole := 0.0, 0.0
	for i, v := range of {
		sum += b.mass[i] * v
		whole += b.mass[i]
	}
	return sum / whole
}

// fatOut is the rendered fat that has run out, kg per m2.
func (b *Body) fatOut(s *state) float64 {
	sum := 0.0
	for i, e := range s.unmelted {
		sum += b.mass[i] * (1 - e)
	}
	return sum * b.cut.Fat * b.cut.RenderShare
}

// loss is the share of the start mass, brine included, that is gone.
func (b *Body) loss(s *state) float64 {
	return b.area * (s.evaporate + s.boiled + s.drip + b.fatOut(s) - b.spritzed) / b.cut.StartMass()
}

// dryness is the share of the start water gone from the meat.
func (b *Body) dryness(s *state) float64 {
	inside := 0.0
	for i, w := range s.water {
		inside += b.lean[i] * w
	}
	return (b.water0 - inside - min(s.film, 0)) / b.water0
}

// Reading is what can be said of a cut at one moment.
type Reading struct {
	Time     float64 // s since the start of the cook
	Air      float64 // C around the cut
	Core     float64 // C, coldest point
	Probe    float64 // C, where the probe is
	Surface  float64 // C
	Loss     float64 // share of the start mass
	Index    float64 // tenderness of the least tender place; 1 is tender
	Dryness  float64 // share of the start water gone
	Film     float64 // kg/m2 of free water; below 0 it is missing from the crust
	Rendered float64 // share of the fat rendered
}

func (b *Body) reading(s *state, clock, air float64) Reading {
	return Reading{
		Time: clock, Air: air, Core: b.core(s), Probe: b.at(s, b.cut.ProbeDepth), Surface: s.skin,
		Loss: b.loss(s), Index: b.index(s), Dryness: b.dryness(s), Film: s.film, Rendered: 1 - b.mean(s.unmelted),
	}
}

// Cut is the cut as it was put in.
func (b *Body) Cut() Cut { return b.cut }

// Reading is that of the present state.
func (b *Body) Reading() Reading { return b.reading(&b.now, b.clock, math.NaN()) }

// At is the temperature in C at a depth in m below the surface; below 0 is the centre.
func (b *Body) At(depth float64) float64 { return b.at(&b.now, depth) }

// Masses are where the weight of the cut went, in kg.
type Masses struct {
	Evaporated float64 // boiling inside counts as evaporation
	Drip       float64
	Fat        float64
	Spritzed   float64
	Now        float64
}

// Masses adds up the present state.
func (b *Body) Masses() Masses {
	s := &b.now
	held := s.film
	for i, w := range s.water {
		fat := b.cut.Fat * (1 - b.cut.RenderShare*(1-s.unmelted[i]))
		held += b.lean[i]*(w+1-b.cut.LeanWater) + b.mass[i]*(fat+b.cut.Bone)
	}
	return Masses{b.area * (s.evaporate + s.boiled), b.area * s.drip, b.area * b.fatOut(s), b.area * b.spritzed, b.area * held}
}

// Balance is how well mass and energy are kept: what is missing as a share of
// the start mass, and of all heat that went in.
type Balance struct{ Mass, Energy float64 }

// Balance checks the present state against all that crossed the surface.
func (b *Body) Balance() Balance {
	m := b.Masses()
	gone := m.Evaporated + m.Drip + m.Fat - m.Spritzed
	heat := max(math.Abs(b.now.heatIn), math.Abs(b.now.heatHeld), 1)
	return Balance{
		Mass:   (b.cut.StartMass() - gone - m.Now) / b.cut.StartMass(),
		Energy: (b.now.heatIn - b.now.heatHeld) / heat,
	}
}

// TenderWords are how an index of tenderness is said: the words of the first row
// whose bound it is under. The bounds are ours.
var TenderWords = []struct {
	Under float64
	Words string
}{{0.6, "still tight"}, {0.95, "nearly tender"}, {1.6, "tender"}, {1e9, "very tender"}}
