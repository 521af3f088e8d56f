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
	{"brisket", "Whole packer brisket", 5.9, 0.054, 1. / 3, 0.5, 1050, 0.45, 0.76, 0.24, 0, 3600, 1, 0.6, true},
	{"brisketflat", "Brisket flat", 2.7, 0.035, 0.25, 0.3, 1050, 0.45, 0.84, 0.16, 0, 3600, 1, 0.6, false},
	{"brisketpoint", "Brisket point", 2.3, 0.047, 1. / 3, 0.8, 1050, 0.44, 0.70, 0.30, 0, 3600, 0.95, 0.6, false},
	{"chuck", "Chuck roast", 1.6, 0.043, 1. / 3, 0.8, 1050, 0.45, 0.79, 0.19, 0.02, 3600, 0.95, 0.6, false},
	{"plate", "Beef plate short ribs", 2.3, 0.051, 1. / 3, 0.4, 1080, 0.45, 0.54, 0.24, 0.22, 3600, 0.9, 0.5, true},
	{"porkbutt", "Pork butt, bone in", 3.63, 0.072, 1. / 3, 1.2, 1050, 0.45, 0.74, 0.19, 0.07, 3600, 0.8, 0.6, true},
	{"lambshoulder", "Lamb shoulder, bone in", 2.5, 0.056, 1. / 3, 1.0, 1050, 0.45, 0.66, 0.18, 0.16, 3600, 0.8, 0.6, false},
	{"spare", "Pork spare-rib rack", 1.4, 0.0195, 0, 0.1, 1080, 0.45, 0.57, 0.21, 0.22, 3600, 0.5, 0.5, true},
	{"babyback", "Pork back-rib rack", 1.0, 0.018, 0, 0.1, 1080, 0.45, 0.60, 0.17, 0.23, 3600, 0.45, 0.5, false},
	{"belly", "Pork belly slab", 2.0, 0.024, 0, 0.1, 1000, 0.38, 0.55, 0.45, 0, 3600, 0.5, 0.5, false},
	{"loin", "Pork loin roast", 1.8, 0.042, 1. / 3, 1.0, 1060, 0.47, 0.92, 0.08, 0, 2000, 0.3, 0.5, false},
	{"ribroast", "Beef rib roast", 3.2, 0.066, 1. / 3, 1.1, 1050, 0.45, 0.71, 0.22, 0.07, 3600, 0.6, 0.5, false},
	{"tritip", "Tri-tip", 1.0, 0.029, 1. / 3, 0.6, 1060, 0.47, 0.90, 0.10, 0, 2400, 0.6, 0.5, false},
	{"ribsteak", "Rib steak, 1.75 in", 0.6, 0.0222, 0, 0.5, 1060, 0.45, 0.76, 0.20, 0.04, 3600, 0.6, 0.5, true},
	{"chbreast", "Chicken breast, boneless", 0.25, 0.0165, 1. / 3, 0.6, 1050, 0.48, 0.97, 0.03, 0, 1000, 0.1, 0.5, true},
	{"chthigh", "Chicken thigh, bone in", 0.17, 0.0175, 1. / 3, 0.8, 1050, 0.47, 0.70, 0.13, 0.17, 1600, 0.2, 0.5, false},
	{"drumstick", "Chicken drumstick", 0.12, 0.0180, 1. / 3, 1.2, 1050, 0.47, 0.66, 0.09, 0.25, 1600, 0.2, 0.5, true},
	{"chicken", "Whole chicken (breast)", 1.8, 0.042, 1. / 3, 1.1, 1020, 0.47, 0.68, 0.13, 0.19, 1600, 0.15, 0.5, false},
	{"turkey", "Whole turkey (breast)", 5.44, 0.064, 1. / 3, 1.0, 1020, 0.47, 0.70, 0.12, 0.18, 1600, 0.2, 0.5, true},
	{"turkeybreast", "Turkey breast, bone in", 2.7, 0.050, 1. / 3, 1.0, 1040, 0.47, 0.80, 0.06, 0.14, 1600, 0.15, 0.5, false},
	{"salmon", "Salmon fillet side", 1.0, 0.015, 0, 0.1, 1050, 0.46, 0.90, 0.10, 0, 1200, 0.05, 0.3, false},
	{"sausage", "Sausage link", 0.12, 0.016, 0, 1.0, 1020, 0.40, 0.72, 0.28, 0, 2400, 0.1, 0.2, false},
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
	Resistance       float64 `json:"heat_resistance"`   // m2 K/W
	VapourResistance float64 `json:"vapour_resistance"` // m2 s Pa/kg
	Emissivity       float64 `json:"emissivity"`        // 0 is the bare cut's
	DewAdd           float64 `json:"dew_add_C"`
	AirAdd           float64 `json:"air_add_C"`
}

// Wraps are those the model knows. Boat, covered pan, foil with liquid, rack
// and cooler are plausible and not checked in the field.
var Wraps = []Wrap{
	{"none", "Bare", 0, 0, 0, 0, 0},
	{"paper", "Butcher paper", 0.004, 5e8, 0.90, 0, 0},
	{"perfpaper", "Perforated paper", 0.004, 2.5e8, 0.90, 0, 0},
	{"foil", "Foil, tight", 0.002, 8e9, 0.65, 0, 0},
	{"foilliquid", "Foil with liquid", 0.0015, 8e9, 0.65, 0, 0},
	{"pan", "Covered pan with liquid", 0.015, 4e9, 0.70, 0, 0},
	{"boat", "Foil boat", 0.002, 4e8, 0.75, 0, 0},
	{"rack", "Rack over a water pan", 0, 0, 0, 12, -3},
	{"tent", "Loose foil tent", 0.015, 1e8, 0.50, 0, 0},
	{"cooler", "Foil and towels in a dry cooler", 0.40, 8e9, 0.50, 0, 0},
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
	{"generic", "Any smoker", 7, 0.9, 0, 40, 0},
	{"offset", "Offset or brick pit", 8.5, 0.9, 0, 38, 0},
	{"water", "Vertical smoker with water", 6, 0.9, 0, 58, 0},
	{"ceramic", "Ceramic", 5, 0.9, 5, 45, 0},
	{"kettle", "Kettle", 6.5, 0.9, 3, 42, 0},
	{"drum", "Drum", 7.5, 0.9, 6, 42, 0},
	{"pellet", "Pellet smoker with a fan", 11, 0.9, 0, 38, 0},
	{"cabinet", "Electric cabinet", 5, 0.9, 0, 45, 0},
	{"oven", "Fan oven", 16, 0.9, 0, 38, 0},
	{"counter", "Counter", 4.5, 0.9, 0, 10, 0},
	{"box", "Warm box", 3.5, 0.6, 0, 0, 0.9},
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

// words are what people call the families, the surest first.
var words = []struct{ says, key string }{
	{"lamb", "lambshoulder"}, {"brisket flat", "brisketflat"}, {"brisket point", "brisketpoint"}, {"brisket", "brisket"}, {"chuck", "chuck"},
	{"back rib", "babyback"}, {"baby back", "babyback"}, {"beef rib roast", "ribroast"}, {"rib roast", "ribroast"}, {"short rib", "plate"}, {"plate", "plate"},
	{"rib steak", "ribsteak"}, {"steak", "ribsteak"}, {"rib", "spare"}, {"tri-tip", "tritip"}, {"belly", "belly"}, {"loin", "loin"},
	{"turkey breast", "turkeybreast"}, {"turkey", "turkey"}, {"breast", "chbreast"}, {"drumstick", "drumstick"}, {"thigh", "chthigh"}, {"leg", "chthigh"}, {"chicken", "chicken"},
	{"salmon", "salmon"}, {"fish", "salmon"}, {"sausage", "sausage"}, {"shoulder", "porkbutt"}, {"butt", "porkbutt"},
}

// FamilyFor guesses the family of a product from what people call it; the
// second value is false when nothing fits and a shoulder is taken.
func FamilyFor(product string) (Family, bool) {
	said := strings.ToLower(product)
	for _, w := range words {
		if strings.Contains(said, w.says) {
			f, err := FamilyOf(w.key)
			return f, err == nil
		}
	}
	f, _ := FamilyOf("porkbutt")
	return f, false
}

// WrapFor guesses a wrap from what people call it; bare when nothing fits.
func WrapFor(said string) Wrap {
	said = strings.ToLower(said)
	for _, w := range []struct{ says, key string }{{"boat", "boat"}, {"perforated", "perfpaper"}, {"paper", "paper"}, {"pan", "pan"}, {"foil", "foil"}, {"cooler", "cooler"}, {"tent", "tent"}} {
		if strings.Contains(said, w.says) {
			found, _ := WrapOf(w.key)
			return found
		}
	}
	return Wraps[0]
}

// SurroundingsFor guesses what sort of smoker a pit is from its name and set-up.
func SurroundingsFor(said string) Surroundings {
	said = strings.ToLower(said)
	for _, p := range []struct{ says, key string }{
		{"drum", "drum"}, {"cabinet", "cabinet"}, {"kettle", "kettle"}, {"pellet", "pellet"}, {"ceramic", "ceramic"}, {"brick", "offset"}, {"offset", "offset"}, {"water", "water"},
	} {
		if strings.Contains(said, p.says) {
			found, _ := SurroundingsOf(p.key)
			return found
		}
	}
	return AllSurroundings[0]
}

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
