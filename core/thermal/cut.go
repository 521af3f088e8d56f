package thermal

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Cut is one piece of meat as the model sees it: a slab, a long cylinder, a
// sphere or something between, the same on all sides.
type Cut struct {
	Mass             float64 // kg, raw and trimmed, without brine
	HalfThickness    float64 // m, centre to surface
	Shape            float64 // 0 slab, 1 long cylinder, 2 sphere; between is allowed
	Density          float64 // kg/m3
	Conductivity     float64 // W/(m K), raw
	Lean, Fat, Bone  float64 // shares of the raw mass, together 1
	LeanWater        float64 // kg water per kg raw lean
	Brine            float64 // kg injected per kg lean
	BrineKept        float64 // share of the brine the lean holds on to when hot
	JuiceTime        float64 // s, time constant of juice leaving, at this thickness
	RenderShare      float64 // share of the fat that can run out
	CollagenTime     float64 // s at 90 C until the piece is tender (index 1)
	StartTemperature float64 // C
	ProbeDepth       float64 // m below the surface; below 0 is the centre
	HeldShift        float64 // C by which this piece lets go of its juice later than most
}

// Crust holds what decides evaporation at the surface. The names in
// parentheses are those of the reference cases.
type Crust struct {
	Evaporation  float64 // factor on vapour transfer through air (e)
	Resistance   float64 // m2 s Pa/kg at 1 kg/m2 of missing water (r_c)
	Power        float64 // growth of the resistance with missing water (p_c)
	JuiceOut     float64 // share of the juice that comes to the surface (eta)
	HeatTransfer float64 // factor on the pit's heat transfer (f_h)
	Surface      float64 // surface as a share of the shape's own; 0 is 1. A section heats by one shape and has the surface of another
	Lift         float64 // how much easier vapour leaves per 25 C over 75 C, as a logarithm: vapour that pushes itself out (Stefan flow)
}

// UsualCrust is the fitted default.
var UsualCrust = Crust{Evaporation: 1, Resistance: 1.5e8, Power: 2, JuiceOut: 0.7, HeatTransfer: 1, Surface: 1}

// Area is the surface of the cut in m2.
func (c Cut) Area() float64 { return c.Mass / c.Density * (c.Shape + 1) / c.HalfThickness }

// StartMass is the mass in kg with the brine in it.
func (c Cut) StartMass() float64 { return c.Mass * (1 + c.Lean*c.Brine) }

// startWater is kg water per kg raw lean at the start.
func (c Cut) startWater() float64 { return c.LeanWater + c.Brine }

// frozenBelow is the start temperature under which the model does not hold.
const frozenBelow = -1

// bound is one number that must lie between two others.
type bound struct {
	field    string
	v        float64
	low, top float64
	unit     string
}

func within(bounds []bound) error {
	for _, b := range bounds {
		if !(b.v >= b.low && b.v <= b.top) {
			return fault.New(b.field, fmt.Sprintf("%g%s is outside what the cook model covers", b.v, b.unit),
				fmt.Sprintf("give %g to %g%s", b.low, b.top, b.unit))
		}
	}
	return nil
}

func (c Cut) check() error {
	if c.StartTemperature < frozenBelow {
		return fault.New("T0_C", fmt.Sprintf("start temperature below -1 C (%g C): the cut is frozen", c.StartTemperature), "thaw it first")
	}
	if sum := c.Lean + c.Fat + c.Bone; math.Abs(sum-1) > 0.001 {
		return fault.New("lean", fmt.Sprintf("lean, fat and bone add up to %g", sum), "let them add up to 1")
	}
	return within([]bound{
		{"mass_kg", c.Mass, 0.01, 100, " kg"},
		{"half_thickness_m", c.HalfThickness, 0.0025, 0.15, " m"},
		{"shape", c.Shape, 0, 2, ""},
		{"rho", c.Density, 500, 1500, " kg/m3"},
		{"k0", c.Conductivity, 0.1, 1, " W/(m K)"},
		{"lean", c.Lean, 0.05, 1, ""},
		{"fat", c.Fat, 0, 0.95, ""},
		{"bone", c.Bone, 0, 0.6, ""},
		{"c0", c.LeanWater, 0.3, 0.9, ""},
		{"brine_per_lean", c.Brine, 0, 0.5, ""},
		{"brine_kept", c.BrineKept, 0, 1, ""},
		{"tau_w_s", c.JuiceTime, 10, 1e6, " s"},
		{"chi", c.RenderShare, 0, 1, ""},
		{"index_ref_s", c.CollagenTime, 1, 1e6, " s"},
		{"T0_C", c.StartTemperature, frozenBelow, 60, " C"},
		{"held_shift_C", c.HeldShift, -15, 15, " C"},
		{"probe_depth_m", c.ProbeDepth, -1, c.HalfThickness, " m"},
	})
}

func (c Crust) check() error {
	return within([]bound{
		{"e", c.Evaporation, 0.01, 10, ""},
		{"r_c", c.Resistance, 0, 1e11, ""},
		{"p_c", c.Power, 0.5, 5, ""},
		{"eta", c.JuiceOut, 0, 1, ""},
		{"f_h", c.HeatTransfer, 0.1, 5, ""},
		{"area_factor", c.Surface, 0.2, 5, ""},
		{"lift", c.Lift, -2, 2, ""},
	})
}
