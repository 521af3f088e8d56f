package prep

import (
	"fmt"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// CoverInput is a piece to be covered: its thickness and shape give its
// surface, and rub and binder go on by area, or the rub by weight.
type CoverInput struct {
	MeatG       float64 `json:"meat_g"`
	ThicknessCM float64 `json:"thickness_cm"`
	Shape       float64 `json:"shape"` // 0 slab, 1 long and round, 2 ball
	RubGM2      float64 `json:"rub_g_per_m2"`
	RubOfMeat   float64 `json:"rub_of_meat_fraction"` // by weight instead; 0 is by area
	BinderGM2   float64 `json:"binder_g_per_m2"`
	RubSalt     float64 `json:"rub_salt_fraction"`
}

// CoverOutput is what goes on.
type CoverOutput struct {
	AreaCM2  float64 `json:"area_cm2"`
	RubG     float64 `json:"rub_g"`
	RubShare float64 `json:"rub_fraction"`  // of the meat
	RubCoat  float64 `json:"coat_g_per_m2"` // what it comes to by area
	BinderG  float64 `json:"binder_g"`
	SaltG    float64 `json:"salt_g"`
}

// Usual amounts by area (ours): a full coat of coarse rub, a thin film of binder.
const (
	UsualRubGM2    = 500.0
	UsualBinderGM2 = 120.0
)

// meatDensity in g/cm3.
const meatDensity = 1.05

// CoverOf works out the surface of a piece as weight over density times (shape
// + 1) over half the thickness, and what covers it.
func CoverOf(in CoverInput) (CoverOutput, error) {
	var wrong fault.List
	positive(&wrong, "meat_g", in.MeatG)
	positive(&wrong, "thickness_cm", in.ThicknessCM)
	share(&wrong, "rub_salt_fraction", in.RubSalt, 1)
	share(&wrong, "rub_of_meat_fraction", in.RubOfMeat, 0.5)
	if !(in.Shape >= 0 && in.Shape <= 2) {
		wrong.Add("shape", fmt.Sprintf("%g is no shape", in.Shape), "give 0 for a slab, 1 for long and round, 2 for a ball, or between")
	}
	for field, v := range map[string]float64{"rub_g_per_m2": in.RubGM2, "binder_g_per_m2": in.BinderGM2} {
		if !(v >= 0 && v <= 5000) {
			wrong.Add(field, fmt.Sprintf("%g g to the square metre is no coat", v), "give 0 to 5000")
		}
	}
	if err := wrong.Err(); err != nil {
		return CoverOutput{}, err
	}
	out := CoverOutput{AreaCM2: in.MeatG / meatDensity * (in.Shape + 1) / (in.ThicknessCM / 2)}
	out.RubG = in.RubGM2 * out.AreaCM2 / 1e4
	if in.RubOfMeat > 0 {
		out.RubG = in.RubOfMeat * in.MeatG
	}
	out.BinderG = in.BinderGM2 * out.AreaCM2 / 1e4
	out.RubShare, out.RubCoat = out.RubG/in.MeatG, out.RubG/out.AreaCM2*1e4
	out.SaltG = out.RubG * in.RubSalt
	return out, nil
}

// LeadInput is a piece that is to thaw, or to take up salt.
type LeadInput struct {
	MeatG       float64 `json:"meat_g"`
	ThicknessCM float64 `json:"thickness_cm"`
}

// LeadOutput are rules of thumb.
type LeadOutput struct {
	ThawH     float64 `json:"thaw_in_the_fridge_h"`
	BrineH    float64 `json:"brine_h"`
	DryBrineH float64 `json:"dry_brine_h"`
	Caution   string  `json:"caution"`
}

// LeadSource says where the lead times come from.
const LeadSource = "USDA FSIS, The Big Thaw: a day in the fridge for 5 lb; salt by thickness squared is a rule of thumb of ours"

// Rules of thumb: a day in the fridge for five pounds (USDA FSIS, The Big
// Thaw), and salt by thickness squared (ours: two hours for an inch in brine,
// an hour and a half dry, which asks less of the middle).
const (
	thawHoursPerKg = 24 / (5 * units.GramsPerPound / 1000)
	brineHours     = 2.0 // for one inch
	dryBrineHours  = 1.5
)

// LeadOf says how long before the fire a piece must be begun.
func LeadOf(in LeadInput) (LeadOutput, error) {
	var wrong fault.List
	positive(&wrong, "meat_g", in.MeatG)
	positive(&wrong, "thickness_cm", in.ThicknessCM)
	if err := wrong.Err(); err != nil {
		return LeadOutput{}, err
	}
	inches := in.ThicknessCM / 100 / units.MetresPerInch
	return LeadOutput{
		ThawH: thawHoursPerKg * in.MeatG / 1000, BrineH: brineHours * inches * inches, DryBrineH: dryBrineHours * inches * inches,
		Caution: "Rules of thumb. Thaw and salt in the fridge, at 40 F or under, on a tray under everything that is eaten raw.",
	}, nil
}
