// Package prep does the arithmetic of the kitchen before the fire: brines,
// injections, dry brines and the salt they bring into the meat.
package prep

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// InjectionInput is an injected cut on the scale: before, after, and after it
// drained; its brine's strength is salt per weight of brine.
type InjectionInput struct {
	BeforeG     float64  `json:"before_g"`
	AfterG      float64  `json:"after_g"`
	DrainedG    *float64 `json:"drained_g"`
	Strength    float64  `json:"brine_salt_fraction_by_weight"`
	ResolutionG float64  `json:"scale_resolution_g"`
}

// InjectionOutput is what went in and stayed in, as shares of the weight
// before, and the salt of it as a share of the weight then.
type InjectionOutput struct {
	PickUp      float64  `json:"pickup"`
	Retained    *float64 `json:"retained"`
	LostG       *float64 `json:"lost_by_drip_g"`
	Salt        float64  `json:"salt_in_meat_after_injection"`
	SaltDrained *float64 `json:"salt_in_meat_after_drip"`
	Uncertainty float64  `json:"u_pickup"` // of the pick-up, one standard deviation
}

// InjectionOf works out pick-up and delivered salt. A cut that lost weight got
// no salt.
func InjectionOf(in InjectionInput) (InjectionOutput, error) {
	var wrong fault.List
	positive(&wrong, "before_g", in.BeforeG)
	positive(&wrong, "after_g", in.AfterG)
	if in.DrainedG != nil {
		positive(&wrong, "drained_g", *in.DrainedG)
	}
	share(&wrong, "brine_salt_fraction_by_weight", in.Strength, saturated)
	if !(in.ResolutionG >= 0) {
		wrong.Add("scale_resolution_g", fmt.Sprintf("%g is no step of a scale", in.ResolutionG), "give grams, 0 or more")
	}
	if err := wrong.Err(); err != nil {
		return InjectionOutput{}, err
	}
	u := in.ResolutionG / math.Sqrt(12)
	out := InjectionOutput{
		PickUp:      (in.AfterG - in.BeforeG) / in.BeforeG,
		Salt:        max(0, in.AfterG-in.BeforeG) * in.Strength / in.AfterG,
		Uncertainty: u / in.BeforeG * math.Hypot(1, in.AfterG/in.BeforeG),
	}
	if in.DrainedG != nil {
		kept, lost := (*in.DrainedG-in.BeforeG)/in.BeforeG, in.AfterG-*in.DrainedG
		salt := max(0, *in.DrainedG-in.BeforeG) * in.Strength / *in.DrainedG
		out.Retained, out.LostG, out.SaltDrained = &kept, &lost, &salt
	}
	return out, nil
}

// GridInput is an injection to be made.
type GridInput struct {
	MeatG    float64 `json:"meat_g"`
	PickUp   float64 `json:"pickup"` // wanted, share of the weight
	Density  float64 `json:"brine_g_per_ml"`
	LengthCM float64 `json:"length_cm"`
	WidthCM  float64 `json:"width_cm"`
	SpacingC float64 `json:"spacing_cm"` // between needle sites
}

// GridOutput is how much goes where.
type GridOutput struct {
	BrineG  float64 `json:"brine_g"`
	BrineML float64 `json:"brine_ml"`
	PerKgML float64 `json:"ml_per_kg"`
	Along   int     `json:"sites_along"`
	Across  int     `json:"sites_across"`
	SiteML  float64 `json:"ml_per_site"`
}

// GridOf lays needle sites on a square grid over a cut, the outermost half a
// spacing from the edge.
func GridOf(in GridInput) (GridOutput, error) {
	var wrong fault.List
	positive(&wrong, "meat_g", in.MeatG)
	positive(&wrong, "length_cm", in.LengthCM)
	positive(&wrong, "width_cm", in.WidthCM)
	positive(&wrong, "spacing_cm", in.SpacingC)
	share(&wrong, "pickup", in.PickUp, 0.5)
	if !(in.Density >= 0.95 && in.Density <= 1.25) {
		wrong.Add("brine_g_per_ml", fmt.Sprintf("%g is no density of a brine", in.Density), "give 0.95 to 1.25; water is 1, a strong brine 1.07")
	}
	if err := wrong.Err(); err != nil {
		return GridOutput{}, err
	}
	out := GridOutput{BrineG: in.MeatG * in.PickUp}
	out.BrineML = out.BrineG / in.Density
	out.PerKgML = out.BrineML / in.MeatG * 1000
	out.Along = max(1, int(math.Round(in.LengthCM/in.SpacingC)))
	out.Across = max(1, int(math.Round(in.WidthCM/in.SpacingC)))
	out.SiteML = out.BrineML / float64(out.Along*out.Across)
	return out, nil
}

// saturated is the salt in a brine that takes no more, by weight, in the cold.
const saturated = 0.264

func positive(wrong *fault.List, field string, v float64) {
	if !(v > 0) || math.IsInf(v, 0) {
		wrong.Add(field, fmt.Sprintf("%g is no amount", v), "give a number over 0")
	}
}

func share(wrong *fault.List, field string, v, most float64) {
	if !(v >= 0 && v <= most) {
		wrong.Add(field, fmt.Sprintf("%g is outside 0 to %g", v, most), "give a share, such as 0.1 for 10 %")
	}
}
