package gate

import (
	"math"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
)

// Bound is how fast the core of a piece can move at most. It is of the gate alone, so that
// what tunes a forecast changes no ruling.
type Bound struct {
	RiseC float64 // a minute, on its fire; 0 is not known
	RestS float64 // time constant of the fastest rest; 0 is not known
}

// Meat, and what heats and cools it at most (ours where no source stands).
const (
	meatHeat     = 3.6e6  // J/(m3 K), raw lean
	meatSpread   = 1.4e-7 // m2/s, thermal diffusivity of lean (Sanz et al. 1987)
	steepest     = 1.9    // of a core's rise in Fourier numbers: slab 1.86, cylinder 3.7, sphere 5.9 (Carslaw and Jaeger 1959)
	fridgeC      = 4.0
	overSetC     = 30.0  // a pit runs over its set point by at most so much
	coalsC       = 500.0 // over coals, at a broiler or a torch
	coalsHeat    = 80.0  // W/(m2 K), the same
	restHeat     = 40.0  // W/(m2 K): bare and wet, in moving air
	roomC        = 20.0
	underAnInch  = 1.5 * 0.0254 / 2 // m: half of what may lie over coals
	slabConstant = math.Pi * math.Pi / 4
)

// BoundOf bounds the core of a piece by its half thickness in m and its shape (0 slab, 1 long
// cylinder, 2 sphere), in a pit that was set to setC at most and gives it so much heat, W/(m2 K).
// Heat must first reach the surface and then the middle: the two in a row are
//
//	1/rise = rho c L / (n h dT) + L^2 / (1.9 n a dT),  n = 1 + shape
//
// A piece that is thin, or was seared, may have lain over coals.
func BoundOf(half, shape, setC, heat float64, coals bool) Bound {
	if !(half > 0) {
		return Bound{}
	}
	n := 1 + shape
	rise := func(airC, heat float64) float64 {
		surface, middle := n*heat/(meatHeat*half), steepest*n*meatSpread/(half*half)
		return 60 * (airC - fridgeC) / (1/surface + 1/middle)
	}
	b := Bound{RiseC: rise(setC+overSetC, heat), RestS: meatHeat*half/(n*restHeat) + half*half/(n*slabConstant*meatSpread)}
	if coals || half < underAnInch {
		b.RiseC = max(b.RiseC, rise(coalsC, coalsHeat))
	}
	return b
}

// step is how fast a reading may step, C a minute.
func (b Bound) step() float64 { return max(fastestC, 2*b.RiseC) }

// inTen is how much it may rise within ten minutes, C.
func (b Bound) inTen() float64 {
	if b.RiseC == 0 {
		return math.Inf(1)
	}
	return max(tenC, 3*10*b.RiseC)
}

// rested is how cold the fastest rest can leave what was at c; where it is not known, c.
func (in Input) rested(c float64, after time.Duration) float64 {
	air := roomC
	if in.AirC != nil {
		air = min(air, *in.AirC)
	}
	if in.Bound.RestS <= 0 || after <= 0 || c <= air {
		return c
	}
	return air + (c-air)*math.Exp(-after.Seconds()/in.Bound.RestS)
}

// lookback follows a trace for the lowest of the last ten minutes.
type lookback struct {
	trace []logbook.Point
	lows  []int // rising
}

// low is the lowest of the ten minutes up to a reading. It is asked of every reading in turn.
func (l *lookback) low(i int) int {
	for len(l.lows) > 0 && l.trace[i].At.Sub(l.trace[l.lows[0]].At) > 10*time.Minute {
		l.lows = l.lows[1:]
	}
	for len(l.lows) > 0 && l.trace[l.lows[len(l.lows)-1]].C >= l.trace[i].C {
		l.lows = l.lows[:len(l.lows)-1]
	}
	l.lows = append(l.lows, i)
	return l.lows[0]
}

// paused are stretches without what earns no credit for time: where a probe stood within one
// step for twenty minutes though the air around the piece was far from it, and no hand bears
// it out. A stall is flat too, and loses nothing but that credit.
func (in Input) paused(runs [][]logbook.Point, hands []course.Hand) (out [][]logbook.Point) {
	for _, run := range runs {
		flat := in.flat(run, hands)
		var kept []logbook.Point
		for i, p := range run {
			if !flat[i] {
				kept = append(kept, p)
				continue
			}
			if len(kept) > 0 {
				out = append(out, kept)
			}
			kept = nil
		}
		if len(kept) > 0 {
			out = append(out, kept)
		}
	}
	return out
}

// flat says of each reading of a stretch whether it is one of those.
func (in Input) flat(run []logbook.Point, hands []course.Hand) []bool {
	out := make([]bool, len(run))
	step := stepOf(run)
	from, marked := 0, 0
	var lows, highs []int
	for i, p := range run {
		for len(lows) > 0 && run[lows[len(lows)-1]].C >= p.C {
			lows = lows[:len(lows)-1]
		}
		for len(highs) > 0 && run[highs[len(highs)-1]].C <= p.C {
			highs = highs[:len(highs)-1]
		}
		lows, highs = append(lows, i), append(highs, i)
		for run[highs[0]].C-run[lows[0]].C > step+alike {
			if lows[0] == from {
				lows = lows[1:]
			}
			if highs[0] == from {
				highs = highs[1:]
			}
			from++
		}
		if p.At.Sub(run[from].At) < flatFor || !in.farFrom(p) || borneOut(run[from:i+1], hands) {
			continue
		}
		for marked = max(marked, from); marked <= i; marked++ {
			out[marked] = true
		}
	}
	return out
}

// farFrom says whether the air around the piece was so far from a reading that meat would move.
func (in Input) farFrom(p logbook.Point) bool {
	air, ok := in.AirAt(p.At)
	return ok && math.Abs(air-p.C) >= farC
}

// stepOf is the step of the device that read a stretch, C: the least that two readings in a row
// differ by, within what devices have.
func stepOf(run []logbook.Point) float64 {
	step := coarsestC
	for i := 1; i < len(run); i++ {
		if d := math.Abs(run[i].C - run[i-1].C); d > alike {
			step = min(step, d)
		}
	}
	return max(step, finestC)
}
