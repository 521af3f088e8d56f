package prep

import (
	"fmt"

	"whitebarn/core/fault"
)

// BrineInput is meat (without bone) in water, and the salt wanted in the meat.
type BrineInput struct {
	MeatG        float64 `json:"meat_g"`
	WaterG       float64 `json:"water_g"`
	Target       float64 `json:"target_salt_fraction"`
	PickUp       float64 `json:"injection_pickup"` // were it injected instead; 0 leaves that out
	CureG        float64 `json:"cure_g"`
	CureFraction float64 `json:"cure_nitrite_fraction"`
}

// BrineOutput is the salt by every convention in use. Salt of meat and water
// is the common one; salt of the total counts the salt itself too.
type BrineOutput struct {
	SaltG             float64 `json:"salt_g_of_meat_plus_water"`
	SaltOfTotalG      float64 `json:"salt_g_of_total_incl_salt"`
	DryG              float64 `json:"dry_salt_g_of_meat"`
	DryOfTotalG       float64 `json:"dry_salt_g_of_total"`
	ByWater           float64 `json:"brine_strength_by_water"`  // 50 g to 1 kg is 0.05
	ByWeight          float64 `json:"brine_strength_by_weight"` // and 0.0476
	Equilibrium       float64 `json:"equilibrium_if_salt_s1"`
	InjectGreen       float64 `json:"injection_brine_fraction_for_target_of_green"`
	InjectInjected    float64 `json:"injection_brine_fraction_for_target_of_injected"`
	Feasible          bool    `json:"feasible"` // water can hold that much salt
	NitriteMeat       float64 `json:"nitrite_ppm_of_meat"`
	NitriteWithWater  float64 `json:"nitrite_ppm_of_meat_plus_water"`
	CureForUsualLimit float64 `json:"cure_g_for_150ppm_of_meat"`
}

// usualNitrite is what 150 parts in a million are.
const usualNitrite = 150e-6

// BrineOf works out an equilibrium brine: meat and water come to rest at one
// salt content. The time is a rule of thumb by thickness squared, not its part.
func BrineOf(in BrineInput) (BrineOutput, error) {
	var wrong fault.List
	positive(&wrong, "meat_g", in.MeatG)
	positive(&wrong, "water_g", in.WaterG)
	share(&wrong, "target_salt_fraction", in.Target, 0.1)
	share(&wrong, "injection_pickup", in.PickUp, 0.5)
	share(&wrong, "cure_nitrite_fraction", in.CureFraction, 1)
	if !(in.CureG >= 0) {
		wrong.Add("cure_g", fmt.Sprintf("%g is no amount", in.CureG), "give grams, 0 or more")
	}
	if err := wrong.Err(); err != nil {
		return BrineOutput{}, err
	}
	both, t := in.MeatG+in.WaterG, in.Target
	out := BrineOutput{
		SaltG: t * both, SaltOfTotalG: t * both / (1 - t), DryG: t * in.MeatG, DryOfTotalG: t * in.MeatG / (1 - t),
		NitriteMeat: in.CureG * in.CureFraction / in.MeatG * 1e6, NitriteWithWater: in.CureG * in.CureFraction / both * 1e6,
	}
	out.ByWater = out.SaltG / in.WaterG
	out.ByWeight = out.SaltG / (in.WaterG + out.SaltG)
	out.Equilibrium = out.SaltG / (both + out.SaltG)
	out.Feasible = out.ByWeight <= saturated
	if in.PickUp > 0 {
		out.InjectGreen, out.InjectInjected = t/in.PickUp, t*(1+in.PickUp)/in.PickUp
		out.Feasible = out.Feasible && out.InjectInjected <= saturated
	}
	if in.CureFraction > 0 {
		out.CureForUsualLimit = usualNitrite * in.MeatG / in.CureFraction
	}
	return out, nil
}

// Salt is a kind of salt by how much a level teaspoon holds.
type Salt string

// The kinds that a kitchen has.
const (
	FineSalt  Salt = "fine"
	DenseSalt Salt = "coarse dense"
	FlakySalt Salt = "coarse flaky"
)

// Values lists the kinds.
func (Salt) Values() []string {
	return []string{string(FineSalt), string(DenseSalt), string(FlakySalt)}
}

// teaspoon is what one holds in g. Spoons vary; a scale is better.
var teaspoon = map[Salt]float64{FineSalt: 6, DenseSalt: 4.8, FlakySalt: 2.8}

const teaspoonsPerTablespoon = 3

// DryBrineInput is meat to be salted by weight.
type DryBrineInput struct {
	MeatG float64 `json:"meat_g"`
	Share float64 `json:"salt_fraction"` // of the meat
	Salt  Salt    `json:"salt"`
}

// DryBrineOutput is the salt by scale and by spoon.
type DryBrineOutput struct {
	SaltG       float64 `json:"salt_g"`
	Teaspoons   float64 `json:"teaspoons"`
	Tablespoons float64 `json:"tablespoons"`
	Caution     string  `json:"caution"`
}

// DryBrineOf weighs the salt of a dry brine.
func DryBrineOf(in DryBrineInput) (DryBrineOutput, error) {
	var wrong fault.List
	positive(&wrong, "meat_g", in.MeatG)
	share(&wrong, "salt_fraction", in.Share, 0.1)
	spoon := teaspoon[in.Salt]
	if spoon == 0 {
		wrong.Add("salt", fmt.Sprintf("%q is no kind of salt", in.Salt), "use fine, coarse dense or coarse flaky")
	}
	if err := wrong.Err(); err != nil {
		return DryBrineOutput{}, err
	}
	out := DryBrineOutput{SaltG: in.MeatG * in.Share, Caution: "Spoons and salts vary; a scale is better."}
	out.Teaspoons = out.SaltG / spoon
	out.Tablespoons = out.Teaspoons / teaspoonsPerTablespoon
	return out, nil
}

// TotalSaltInput is all salt that reaches a cut.
type TotalSaltInput struct {
	MeatG    float64 `json:"meat_g"`
	BrineG   float64 `json:"salt_from_brine_g"`
	InjectG  float64 `json:"salt_from_injection_g"`
	RubG     float64 `json:"rub_g"`
	RubShare float64 `json:"rub_salt_fraction"`
}

// TotalSaltOutput is its sum, and what it means.
type TotalSaltOutput struct {
	SaltG   float64 `json:"salt_g"`
	Share   float64 `json:"salt_fraction"`
	Warning string  `json:"warning"` // empty when it is within the usual
}

// Usual salt of meat that is eaten as it is.
const (
	leastSalt = 0.008
	mostSalt  = 0.025
)

// TotalSaltOf adds the salt of brine, injection and rub.
func TotalSaltOf(in TotalSaltInput) (TotalSaltOutput, error) {
	var wrong fault.List
	positive(&wrong, "meat_g", in.MeatG)
	share(&wrong, "rub_salt_fraction", in.RubShare, 1)
	for field, v := range map[string]float64{"salt_from_brine_g": in.BrineG, "salt_from_injection_g": in.InjectG, "rub_g": in.RubG} {
		if !(v >= 0) {
			wrong.Add(field, fmt.Sprintf("%g is no amount", v), "give grams, 0 or more")
		}
	}
	if err := wrong.Err(); err != nil {
		return TotalSaltOutput{}, err
	}
	out := TotalSaltOutput{SaltG: in.BrineG + in.InjectG + in.RubG*in.RubShare}
	out.Share = out.SaltG / in.MeatG
	switch {
	case out.Share < leastSalt:
		out.Warning = fmt.Sprintf("%.1f %% of the meat is less salt than most find seasoned (0.8 %%).", 100*out.Share)
	case out.Share > mostSalt:
		out.Warning = fmt.Sprintf("%.1f %% of the meat is more salt than most can eat (2.5 %%).", 100*out.Share)
	}
	return out, nil
}
