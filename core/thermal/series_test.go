package thermal

import (
	"fmt"
	"math"
	"testing"
)

// series is a textbook solution for a piece at one temperature put into air
// at another, with constant heat transfer (Carslaw and Jaeger, 1959).
type series struct {
	name  string
	shape float64
	miss  func(beta, bi float64) float64 // zero at an eigenvalue, smooth
	share func(beta, x float64) float64  // of the start difference left, per exp(-beta2 Fo)
}

var textbook = []series{
	{"slab", 0,
		func(b, bi float64) float64 { return b*math.Sin(b) - bi*math.Cos(b) },
		func(b, x float64) float64 { return 4 * math.Sin(b) / (2*b + math.Sin(2*b)) * math.Cos(b*x) }},
	{"long cylinder", 1,
		func(b, bi float64) float64 { return b*math.J1(b) - bi*math.J0(b) },
		func(b, x float64) float64 {
			return 2 / b * math.J1(b) / (math.J0(b)*math.J0(b) + math.J1(b)*math.J1(b)) * math.J0(b*x)
		}},
	{"sphere", 2,
		func(b, bi float64) float64 { return (1-bi)*math.Sin(b) - b*math.Cos(b) },
		func(b, x float64) float64 {
			wave := 1.0
			if x > 0 {
				wave = math.Sin(b*x) / (b * x)
			}
			return 4 * (math.Sin(b) - b*math.Cos(b)) / (2*b - math.Sin(2*b)) * wave
		}},
}

// left is the share of the start difference left at x (0 centre, 1 surface).
func (s series) left(bi, fo, x float64) float64 {
	sum, found := 0.0, 0
	step := 1e-3
	for low := step; found < 30; low += step {
		a, b := low, low+step
		if s.miss(a, bi)*s.miss(b, bi) > 0 {
			continue
		}
		for range 60 {
			if m := (a + b) / 2; s.miss(a, bi)*s.miss(m, bi) <= 0 {
				b = m
			} else {
				a = m
			}
		}
		found++
		beta := (a + b) / 2
		if beta*beta*fo > 60 {
			break
		}
		sum += s.share(beta, x) * math.Exp(-beta*beta*fo)
	}
	return sum
}

// plainPiece conducts heat and does nothing else.
func plainPiece(shape float64) Cut {
	return Cut{Mass: 1, HalfThickness: 0.04, Shape: shape, Density: 1050, Conductivity: 0.45, Lean: 1, LeanWater: 0.745,
		JuiceTime: 2400, CollagenTime: 1, StartTemperature: 4, ProbeDepth: -1}
}

func plainHeating(h, seconds float64) Phase {
	return Phase{Air: 100, Exchange: Exchange{HeatTransfer: h}, End: ByTime, Value: seconds}
}

var inert = Switches{NoEvaporation: true, NoJuice: true, NoRadiation: true}

// diffusivity of the plain piece, m2/s.
func diffusivity(c Cut) float64 {
	return c.Conductivity / (c.Density * (waterHeat*c.LeanWater + solidsHeat*(1-c.LeanWater)))
}

func TestHeatingFollowsTheTextbookSeries(t *testing.T) {
	for _, s := range textbook {
		for _, h := range []float64{15, 60} {
			for _, fo := range []float64{0.1, 0.3, 1} {
				t.Run(fmt.Sprintf("%s, h %g, Fo %g", s.name, h, fo), func(t *testing.T) {
					c := plainPiece(s.shape)
					bi := h * c.HalfThickness / c.Conductivity
					b, err := NewBody(c, UsualCrust, Settings{Off: inert})
					if err != nil {
						t.Fatal(err)
					}
					var out Result
					p := plainHeating(h, fo*c.HalfThickness*c.HalfThickness/diffusivity(c))
					if err := b.Follow([]Phase{p}, 0, &out); err != nil {
						t.Fatal(err)
					}
					for x := 0.0; x <= 1; x += 0.125 {
						want := 100 - 96*s.left(bi, fo, x)
						got := b.At((1 - x) * c.HalfThickness)
						if math.Abs(got-want) > 0.002*96 {
							t.Errorf("at %g of the way out it is %.3f C, the series says %.3f", x, got, want)
						}
					}
				})
			}
		}
	}
}

func TestHalvingTheCellsQuartersTheError(t *testing.T) {
	for _, s := range textbook {
		c := plainPiece(s.shape)
		bi, fo := 15*c.HalfThickness/c.Conductivity, 0.3
		miss := func(cells int) float64 {
			b, err := NewBody(c, UsualCrust, Settings{Off: inert, Cells: cells, Tolerance: 1e-4})
			if err != nil {
				t.Fatal(err)
			}
			var out Result
			if err := b.Follow([]Phase{plainHeating(15, fo*c.HalfThickness*c.HalfThickness/diffusivity(c))}, 0, &out); err != nil {
				t.Fatal(err)
			}
			worst := 0.0
			for i, got := range b.now.t {
				x := (float64(i) + 0.5) / float64(cells)
				worst = max(worst, math.Abs(got-(100-96*s.left(bi, fo, x))))
			}
			return worst
		}
		if order := math.Log2(miss(8) / miss(16)); order < 1.9 || order > 2.2 {
			t.Errorf("%s: the error falls with the power %.2f of the cell, want 2", s.name, order)
		}
	}
}
