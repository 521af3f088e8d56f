package thermal

import (
	"fmt"
	"math"
	"strings"

	"whitebarn/core/fault"
)

// Family is a kind of cut: how a piece of it is shaped, made up and behaves.
// Thickness grows with the power Growth of the mass unless it is measured.
type Family struct {
	Key           string  `json:"key"`
	Name          string  `json:"name"`
	Mass          float64 `json:"mass_kg"` // usual mass
	HalfThickness float64 `json:"half_thickness_m"`
	Growth        float64 `json:"growth"`
	Shape         float64 `json:"shape"`
	Density       float64 `json:"density_kg_m3"`
	Conductivity  float64 `json:"conductivity"`
	Lean          float64 `json:"lean"`
	Fat           float64 `json:"fat"`
	Bone          float64 `json:"bone"`
	JuiceTime     float64 `json:"juice_time_s"` // at 40 mm half thickness
	Collagen      float64 `json:"collagen"`     // as a share of that of brisket
	RenderShare   float64 `json:"render_share"`
	Checked       bool    `json:"checked"` // against usual cook times and losses; the others by analogy
}

// FamilySource says where the numbers of the families come from.
const FamilySource = "Typical compositions (vary by 5 points); heat after Choi and Okos, 1986; water held after van der Sman, 2007; shape, juice and collagen fitted"

// Families are those the model knows. Not checked ones are by analogy.
var Families = []Family{
	{Key: "brisket", Name: "Whole packer brisket", Mass: 5.9, HalfThickness: 0.054, Growth: 1. / 3, Shape: 0.5, Density: 1050, Conductivity: 0.45,
		Lean: 0.76, Fat: 0.24, JuiceTime: 3600, Collagen: 1, RenderShare: 0.6, Checked: true},
	{Key: "brisketflat", Name: "Brisket flat", Mass: 2.7, HalfThickness: 0.035, Growth: 0.25, Shape: 0.3, Density: 1050, Conductivity: 0.45,
		Lean: 0.84, Fat: 0.16, JuiceTime: 3600, Collagen: 1, RenderShare: 0.6},
	{Key: "brisketpoint", Name: "Brisket point", Mass: 2.3, HalfThickness: 0.047, Growth: 1. / 3, Shape: 0.8, Density: 1050, Conductivity: 0.44,
		Lean: 0.70, Fat: 0.30, JuiceTime: 3600, Collagen: 0.95, RenderShare: 0.6},
	{Key: "chuck", Name: "Chuck roast", Mass: 1.6, HalfThickness: 0.043, Growth: 1. / 3, Shape: 0.8, Density: 1050, Conductivity: 0.45,
		Lean: 0.79, Fat: 0.19, Bone: 0.02, JuiceTime: 3600, Collagen: 0.95, RenderShare: 0.6},
	{Key: "plate", Name: "Beef plate short ribs", Mass: 2.3, HalfThickness: 0.051, Growth: 1. / 3, Shape: 0.4, Density: 1080, Conductivity: 0.45,
		Lean: 0.54, Fat: 0.24, Bone: 0.22, JuiceTime: 3600, Collagen: 0.9, RenderShare: 0.5, Checked: true},
	{Key: "porkbutt", Name: "Pork butt, bone in", Mass: 3.63, HalfThickness: 0.072, Growth: 1. / 3, Shape: 1.2, Density: 1050, Conductivity: 0.45,
		Lean: 0.74, Fat: 0.19, Bone: 0.07, JuiceTime: 3600, Collagen: 0.8, RenderShare: 0.6, Checked: true},
	{Key: "lambshoulder", Name: "Lamb shoulder, bone in", Mass: 2.5, HalfThickness: 0.056, Growth: 1. / 3, Shape: 1.0, Density: 1050, Conductivity: 0.45,
		Lean: 0.66, Fat: 0.18, Bone: 0.16, JuiceTime: 3600, Collagen: 0.8, RenderShare: 0.6},
	{Key: "spare", Name: "Pork spare-rib rack", Mass: 1.4, HalfThickness: 0.0195, Shape: 0.1, Density: 1080, Conductivity: 0.45, Lean: 0.57,
		Fat: 0.21, Bone: 0.22, JuiceTime: 3600, Collagen: 0.5, RenderShare: 0.5, Checked: true},
	{Key: "babyback", Name: "Pork back-rib rack", Mass: 1.0, HalfThickness: 0.018, Shape: 0.1, Density: 1080, Conductivity: 0.45, Lean: 0.60,
		Fat: 0.17, Bone: 0.23, JuiceTime: 3600, Collagen: 0.45, RenderShare: 0.5},
	{Key: "belly", Name: "Pork belly slab", Mass: 2.0, HalfThickness: 0.024, Shape: 0.1, Density: 1000, Conductivity: 0.38, Lean: 0.55,
		Fat: 0.45, JuiceTime: 3600, Collagen: 0.5, RenderShare: 0.5},
	{Key: "loin", Name: "Pork loin roast", Mass: 1.8, HalfThickness: 0.042, Growth: 1. / 3, Shape: 1.0, Density: 1060, Conductivity: 0.47,
		Lean: 0.92, Fat: 0.08, JuiceTime: 2000, Collagen: 0.3, RenderShare: 0.5},
	{Key: "ribroast", Name: "Beef rib roast", Mass: 3.2, HalfThickness: 0.066, Growth: 1. / 3, Shape: 1.1, Density: 1050, Conductivity: 0.45,
		Lean: 0.71, Fat: 0.22, Bone: 0.07, JuiceTime: 3600, Collagen: 0.6, RenderShare: 0.5},
	{Key: "tritip", Name: "Tri-tip", Mass: 1.0, HalfThickness: 0.029, Growth: 1. / 3, Shape: 0.6, Density: 1060, Conductivity: 0.47,
		Lean: 0.90, Fat: 0.10, JuiceTime: 2400, Collagen: 0.6, RenderShare: 0.5},
	{Key: "ribsteak", Name: "Rib steak, 1.75 in", Mass: 0.6, HalfThickness: 0.0222, Shape: 0.5, Density: 1060, Conductivity: 0.45, Lean: 0.76,
		Fat: 0.20, Bone: 0.04, JuiceTime: 3600, Collagen: 0.6, RenderShare: 0.5, Checked: true},
	{Key: "chbreast", Name: "Chicken breast, boneless", Mass: 0.25, HalfThickness: 0.0165, Growth: 1. / 3, Shape: 0.6, Density: 1050, Conductivity: 0.48,
		Lean: 0.97, Fat: 0.03, JuiceTime: 1000, Collagen: 0.1, RenderShare: 0.5, Checked: true},
	{Key: "chthigh", Name: "Chicken thigh, bone in", Mass: 0.17, HalfThickness: 0.0175, Growth: 1. / 3, Shape: 0.8, Density: 1050, Conductivity: 0.47,
		Lean: 0.70, Fat: 0.13, Bone: 0.17, JuiceTime: 1600, Collagen: 0.2, RenderShare: 0.5},
	{Key: "drumstick", Name: "Chicken drumstick", Mass: 0.12, HalfThickness: 0.0180, Growth: 1. / 3, Shape: 1.2, Density: 1050, Conductivity: 0.47,
		Lean: 0.66, Fat: 0.09, Bone: 0.25, JuiceTime: 1600, Collagen: 0.2, RenderShare: 0.5, Checked: true},
	{Key: "chicken", Name: "Whole chicken (breast)", Mass: 1.8, HalfThickness: 0.042, Growth: 1. / 3, Shape: 1.1, Density: 1020, Conductivity: 0.47,
		Lean: 0.68, Fat: 0.13, Bone: 0.19, JuiceTime: 1600, Collagen: 0.15, RenderShare: 0.5},
	{Key: "turkey", Name: "Whole turkey (breast)", Mass: 5.44, HalfThickness: 0.064, Growth: 1. / 3, Shape: 1.0, Density: 1020, Conductivity: 0.47,
		Lean: 0.70, Fat: 0.12, Bone: 0.18, JuiceTime: 1600, Collagen: 0.2, RenderShare: 0.5, Checked: true},
	{Key: "turkeybreast", Name: "Turkey breast, bone in", Mass: 2.7, HalfThickness: 0.050, Growth: 1. / 3, Shape: 1.0, Density: 1040, Conductivity: 0.47,
		Lean: 0.80, Fat: 0.06, Bone: 0.14, JuiceTime: 1600, Collagen: 0.15, RenderShare: 0.5},
	{Key: "salmon", Name: "Salmon fillet side", Mass: 1.0, HalfThickness: 0.015, Shape: 0.1, Density: 1050, Conductivity: 0.46, Lean: 0.90,
		Fat: 0.10, JuiceTime: 1200, Collagen: 0.05, RenderShare: 0.3},
	{Key: "sausage", Name: "Sausage link", Mass: 0.12, HalfThickness: 0.016, Shape: 1.0, Density: 1020, Conductivity: 0.40, Lean: 0.72,
		Fat: 0.28, JuiceTime: 2400, Collagen: 0.1, RenderShare: 0.2},
}

const (
	leanWater     = 0.745   // kg/kg, of raw lean
	tenderTime    = 12240.0 // s at 90 C until brisket is tender (fitted)
	juiceDepth    = 0.04    // m, half thickness at which JuiceTime is given
	brineKept     = 0.5     // plain brine (fitted)
	PhosphateKept = 0.7     // brine with phosphate (fitted)

	// UsualSpritz is how much a spritz leaves on a cut, kg/m2.
	UsualSpritz = 0.06
)

// Cut is a piece of the family: its mass in kg, its whole thickness in m (0
// when not measured) and its temperature from the fridge in C.
func (f Family) Cut(mass, thickness, start float64) Cut {
	half := thickness / 2
	if half == 0 {
		half = f.HalfThickness * math.Pow(mass/f.Mass, f.Growth)
	}
	return Cut{
		Mass: mass, HalfThickness: half, Shape: f.Shape, Density: f.Density, Conductivity: f.Conductivity,
		Lean: f.Lean, Fat: f.Fat, Bone: f.Bone, LeanWater: leanWater, BrineKept: brineKept,
		JuiceTime: f.JuiceTime * half / juiceDepth, RenderShare: f.RenderShare, CollagenTime: f.Collagen * tenderTime,
		StartTemperature: start, ProbeDepth: -1,
	}
}

// Check refuses a family of which no usual piece could be cooked; a family
// of the barn's own is checked before it is kept.
func (f Family) Check() error {
	if f.Key == "" || f.Name == "" {
		return fault.New("name", "the family has no name", "give it one")
	}
	if err := within([]bound{{"growth", f.Growth, 0, 1, ""}, {"collagen", f.Collagen, 0.01, 3, ""}}); err != nil {
		return err
	}
	return f.Cut(f.Mass, 0, 4).check()
}

// Wrap is what lies around a cut.
type Wrap struct {
	Key              string  `json:"key"`
	Name             string  `json:"name"`
	Word             string  `json:"word"`              // as it is said of a cut
	Resistance       float64 `json:"heat_resistance"`   // m2 K/W
	VapourResistance float64 `json:"vapour_resistance"` // m2 s Pa/kg
	Emissivity       float64 `json:"emissivity"`        // 0 is the bare cut's
	DewAdd           float64 `json:"dew_add_C"`
	AirAdd           float64 `json:"air_add_C"`
}

// Wraps are those the model knows. Boat, covered pan, foil with liquid, rack
// and cooler are plausible and not checked in the field.
var Wraps = []Wrap{
	{Key: "none", Name: "Bare"},
	{Key: "paper", Name: "Butcher paper", Resistance: 0.004, VapourResistance: 5e8, Emissivity: 0.90},
	{Key: "perfpaper", Name: "Perforated paper", Resistance: 0.004, VapourResistance: 2.5e8, Emissivity: 0.90},
	{Key: "foil", Name: "Foil, tight", Resistance: 0.002, VapourResistance: 8e9, Emissivity: 0.65},
	{Key: "foilliquid", Name: "Foil with liquid", Resistance: 0.0015, VapourResistance: 8e9, Emissivity: 0.65},
	{Key: "pan", Name: "Covered pan with liquid", Resistance: 0.015, VapourResistance: 4e9, Emissivity: 0.70},
	{Key: "boat", Name: "Foil boat", Resistance: 0.002, VapourResistance: 4e8, Emissivity: 0.75},
	{Key: "rack", Name: "Rack over a water pan", DewAdd: 12, AirAdd: -3},
	{Key: "tent", Name: "Loose foil tent", Resistance: 0.015, VapourResistance: 2e7, Emissivity: 0.50},
	// Two inches of towels and an inch of foam: about 1 m2 K/W each.
	{Key: "cooler", Name: "Foil and towels in a dry cooler", Resistance: 2, VapourResistance: 2e10, Emissivity: 0.50},
}

// Surroundings are a pit, a box or a counter: how it hands over heat and how humid it is.
type Surroundings struct {
	Key           string  `json:"key"`
	Name          string  `json:"name"`
	HeatTransfer  float64 `json:"heat_transfer"` // W/(m2 K), natural convection included
	Emissivity    float64 `json:"emissivity"`
	RadiantExcess float64 `json:"radiant_excess_C"`
	DewPoint      float64 `json:"dew_C"`
	Humidity      float64 `json:"rh"` // where over 0 it stands instead of the dew point
}

// AllSurroundings are the surroundings the model knows.
var AllSurroundings = []Surroundings{
	{Key: "generic", Name: "Any smoker", HeatTransfer: 7, Emissivity: 0.9, DewPoint: 40},
	{Key: "offset", Name: "Offset or brick pit", HeatTransfer: 8.5, Emissivity: 0.9, DewPoint: 38},
	{Key: "water", Name: "Vertical smoker with water", HeatTransfer: 6, Emissivity: 0.9, DewPoint: 58},
	{Key: "ceramic", Name: "Ceramic", HeatTransfer: 5, Emissivity: 0.9, RadiantExcess: 5, DewPoint: 45},
	{Key: "kettle", Name: "Kettle", HeatTransfer: 6.5, Emissivity: 0.9, RadiantExcess: 3, DewPoint: 42},
	{Key: "drum", Name: "Drum", HeatTransfer: 7.5, Emissivity: 0.9, RadiantExcess: 6, DewPoint: 42},
	{Key: "pellet", Name: "Pellet smoker with a fan", HeatTransfer: 11, Emissivity: 0.9, DewPoint: 38},
	{Key: "cabinet", Name: "Electric cabinet", HeatTransfer: 5, Emissivity: 0.9, DewPoint: 45},
	{Key: "oven", Name: "Fan oven", HeatTransfer: 16, Emissivity: 0.9, DewPoint: 38},
	// Cookers that smoke nothing: plausible, and not checked in the field.
	{Key: "griddle", Name: "Griddle", HeatTransfer: 25, Emissivity: 0.3, DewPoint: 15},
	{Key: "broiler", Name: "Broiler", HeatTransfer: 8, Emissivity: 0.9, RadiantExcess: 60, DewPoint: 30},
	{Key: "coals", Name: "Open coals", HeatTransfer: 14, Emissivity: 0.9, RadiantExcess: 80, DewPoint: 20},
	{Key: "oil", Name: "Kettle of oil", HeatTransfer: 100, DewPoint: 20},
	{Key: "torch", Name: "Torch", HeatTransfer: 40, Emissivity: 0.9, DewPoint: 20},
	{Key: "fridge", Name: "Fridge", HeatTransfer: 5, Emissivity: 0.9, DewPoint: 0},
	{Key: "counter", Name: "Counter", HeatTransfer: 6, Emissivity: 0.9, DewPoint: 10},
	{Key: "box", Name: "Warm box", HeatTransfer: 3.5, Emissivity: 0.6, Humidity: 0.9},
}

// Exchange is how a cut in the wrap meets these surroundings. The wrap's own
// change of the air's temperature is for the caller to add.
func (s Surroundings) Exchange(w Wrap) Exchange {
	x := Exchange{
		HeatTransfer: s.HeatTransfer, Emissivity: s.Emissivity, RadiantExcess: s.RadiantExcess, DewPoint: s.DewPoint + w.DewAdd,
		Relative: s.Humidity > 0, RH: s.Humidity, WrapResistance: w.Resistance, VapourResistance: w.VapourResistance,
	}
	if w.Emissivity > 0 {
		x.Emissivity = w.Emissivity * s.Emissivity / 0.9 // table values are for a pit with 0.9
	}
	return x
}

// FamilyOf, WrapOf and SurroundingsOf find an entry by its key.
func FamilyOf(key string) (Family, error) {
	return find("family", key, Families, func(f Family) string { return f.Key })
}

// words are what people call the families, the surest first, to offer one.
var words = []struct{ says, key string }{
	{"lamb", "lambshoulder"}, {"brisket flat", "brisketflat"}, {"brisket point", "brisketpoint"}, {"brisket", "brisket"}, {"chuck", "chuck"},
	{"back rib", "babyback"}, {"baby back", "babyback"}, {"beef rib roast", "ribroast"}, {"rib roast", "ribroast"}, {"short rib", "plate"}, {"plate", "plate"},
	{"rib steak", "ribsteak"}, {"steak", "ribsteak"}, {"rib", "spare"}, {"tri-tip", "tritip"}, {"belly", "belly"}, {"loin", "loin"},
	{"turkey breast", "turkeybreast"}, {"turkey", "turkey"}, {"breast", "chbreast"}, {"drumstick", "drumstick"}, {"thigh", "chthigh"}, {"leg", "chthigh"}, {"chicken", "chicken"},
	{"salmon", "salmon"}, {"fish", "salmon"}, {"sausage", "sausage"}, {"shoulder", "porkbutt"}, {"butt", "porkbutt"},
}

// SuggestFamily offers a family for what people call a product; ok is false
// when none comes to mind. Nobody but a person takes the offer.
func SuggestFamily(product string) (f Family, ok bool) {
	said := strings.ToLower(product)
	for _, w := range words {
		if strings.Contains(said, w.says) {
			f, err := FamilyOf(w.key)
			return f, err == nil
		}
	}
	return Family{}, false
}

// UsualFamily stands for a product of which nobody said what it cooks like.
const UsualFamily = "porkbutt"

// WrapOf finds a wrap by its key.
func WrapOf(key string) (Wrap, error) {
	return find("wrap", key, Wraps, func(w Wrap) string { return w.Key })
}

// SurroundingsOf finds a pit, box or counter by its key.
func SurroundingsOf(key string) (Surroundings, error) {
	return find("surroundings", key, AllSurroundings, func(s Surroundings) string { return s.Key })
}

func find[T any](field, key string, in []T, keyOf func(T) string) (T, error) {
	for _, x := range in {
		if keyOf(x) == key {
			return x, nil
		}
	}
	var none T
	return none, fault.New(field, fmt.Sprintf("%q is not known", key), fmt.Sprintf("the first known is %q", keyOf(in[0])))
}
