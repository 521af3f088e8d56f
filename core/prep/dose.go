package prep

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// DoseKind is what is done to a cut before the fire.
type DoseKind string

// The kinds of dose, in the order of the work.
const (
	WetBrine  DoseKind = "brine"
	DrySalt   DoseKind = "dry brine"
	Injection DoseKind = "injection"
	Binder    DoseKind = "binder"
	Rub       DoseKind = "rub"
)

var doseKinds = []DoseKind{WetBrine, DrySalt, Injection, Binder, Rub}

// Values lists the kinds.
func (DoseKind) Values() []string {
	out := make([]string, len(doseKinds))
	for i, k := range doseKinds {
		out[i] = string(k)
	}
	return out
}

// Dose is what an arm gets of something, so that every cut of it gets the same
// for its weight or its surface.
type Dose struct {
	Kind     DoseKind `json:"kind"`
	Name     string   `json:"name"`      // what it is; a recipe's name when there is one
	RecipeID int64    `json:"recipe_id"` // 0: none
	// Share is the salt wanted in the meat of a brine, the salt of a dry brine, the
	// pick-up of an injection, a rub that goes by weight: all of the meat's weight.
	Share     float64 `json:"share"`
	Water     float64 `json:"water"`      // of a brine, as a share of the meat's weight
	Strength  float64 `json:"strength"`   // of an injection without a recipe: salt by weight
	SpacingCM float64 `json:"spacing_cm"` // of an injection's sites
	GM2       float64 `json:"g_per_m2"`   // of a rub or a binder
	Salt      Salt    `json:"salt"`       // of a dry brine or brine; empty is fine
}

// Check refuses a dose that cannot be weighed out.
func (d Dose) Check() error {
	var wrong fault.List
	if d.Name == "" {
		wrong.Add("name", "the dose has no name", "say what it is")
	}
	if d.Salt != "" && teaspoon[d.Salt] == 0 {
		wrong.Add("salt", fmt.Sprintf("%q is no kind of salt", d.Salt), "use fine, coarse dense or coarse flaky")
	}
	switch d.Kind {
	case WetBrine:
		positive(&wrong, "share", d.Share)
		share(&wrong, "share", d.Share, 0.1)
		positive(&wrong, "water", d.Water)
	case DrySalt:
		positive(&wrong, "share", d.Share)
		share(&wrong, "share", d.Share, 0.1)
	case Injection:
		positive(&wrong, "share", d.Share)
		share(&wrong, "share", d.Share, 0.5)
		share(&wrong, "strength", d.Strength, saturated)
		positive(&wrong, "spacing_cm", d.SpacingCM)
	case Rub, Binder:
		share(&wrong, "share", d.Share, 0.5)
		if d.Share == 0 {
			positive(&wrong, "g_per_m2", d.GM2)
		}
	default:
		wrong.Add("kind", fmt.Sprintf("%q is no kind of dose", d.Kind), "choose one of the list")
	}
	return wrong.Err()
}

// Piece is a cut on the bench.
type Piece struct {
	MeatG       float64 // without bone where the bone is known
	WholeG      float64 // with it; 0 is the same
	ThicknessCM float64
	LengthCM    float64 // 0 when not measured
	Shape       float64
}

// Figure is one number of an order, as it is read off.
type Figure struct {
	Label string  `json:"label"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"` // g, ml, tsp, cm, sites, g/m2
}

// Order is what to do to one cut.
type Order struct {
	Key     string   `json:"key"` // for the check mark
	Kind    DoseKind `json:"kind"`
	Name    string   `json:"name"`
	Numbers []Figure `json:"numbers"` // the one to weigh out first
	SaltG   float64  `json:"salt_g"`  // that reaches the meat
	Salted  Salt     `json:"salted"`  // the kind of salt that is weighed out; empty is none
	Lines   []Amount `json:"lines"`   // of its recipe
	Caution string   `json:"caution"`
}

// usualDensity of a thin salt brine, g/ml.
const usualDensity = 1.03

// width of a piece whose width was not measured, as a share of its length.
const usualWidth = 0.6

// OrdersOf says what to do to a cut, dose by dose in the order of the work.
// Recipes are by id; a dose without one is its name alone.
func OrdersOf(doses []Dose, p Piece, recipes map[int64][]Line) ([]Order, error) {
	sorted := slices.Clone(doses)
	slices.SortStableFunc(sorted, func(a, b Dose) int { return slices.Index(doseKinds, a.Kind) - slices.Index(doseKinds, b.Kind) })
	out := []Order{}
	for i, d := range sorted {
		if err := d.Check(); err != nil {
			return nil, fault.In(fmt.Sprintf("doses[%d]", i), err)
		}
		o, err := d.order(p, recipes[d.RecipeID])
		if err != nil {
			return nil, fault.In(fmt.Sprintf("doses[%d]", i), err)
		}
		o.Key = fmt.Sprintf("%s %s", d.Kind, d.Name)
		out = append(out, o)
	}
	return out, nil
}

func (d Dose) order(p Piece, recipe []Line) (Order, error) {
	o := Order{Kind: d.Kind, Name: d.Name, Numbers: []Figure{}, Lines: []Amount{}}
	salt := d.Salt
	if salt == "" {
		salt = FineSalt
	}
	amount := 0.0 // of the recipe
	switch d.Kind {
	case WetBrine:
		b, err := BrineOf(BrineInput{MeatG: p.MeatG, WaterG: d.Water * p.MeatG, Target: d.Share})
		if err != nil {
			return o, err
		}
		o.Numbers = []Figure{{"salt", b.SaltG, "g"}, {"water", d.Water * p.MeatG, "g"}, {"salt per water", 100 * b.ByWater, "%"}}
		o.SaltG, o.Salted = d.Share*p.MeatG, salt
		o.Caution = "In the fridge, at 40 F or under. A brine that met raw meat is thrown away."
	case DrySalt:
		b, err := DryBrineOf(DryBrineInput{MeatG: p.MeatG, Share: d.Share, Salt: salt})
		if err != nil {
			return o, err
		}
		o.Numbers = []Figure{{"salt", b.SaltG, "g"}, {"or level spoons", b.Teaspoons, "tsp"}}
		o.SaltG, o.Salted = b.SaltG, salt
		o.Caution = b.Caution
	case Injection:
		strength := d.StrengthOf(recipe)
		length := p.LengthCM
		if length == 0 { // as long as a piece of this weight and thickness is
			length = lengthOf(p)
		}
		g, err := GridOf(GridInput{MeatG: p.MeatG, PickUp: d.Share, Density: usualDensity, LengthCM: length, WidthCM: usualWidth * length, SpacingC: d.SpacingCM})
		if err != nil {
			return o, err
		}
		amount = g.BrineG
		o.Numbers = []Figure{{"to stay in", g.BrineG, "g"}, {"volume", g.BrineML, "ml"}, {"a site", g.SiteML, "ml"}, {"sites along", float64(g.Along), "sites"}, {"sites across", float64(g.Across), "sites"}}
		o.SaltG = g.BrineG * strength
		o.Caution = "Weigh before and after. What is left of the injection met raw meat and is thrown away. Injected meat is no longer whole muscle: 145 F for 3 min or 158 F (Food Code 3-401.11)."
	case Binder, Rub:
		c, err := CoverOf(CoverInput{MeatG: max(p.WholeG, p.MeatG), ThicknessCM: p.ThicknessCM, Shape: p.Shape, RubGM2: d.GM2, RubOfMeat: d.Share})
		if err != nil {
			return o, err
		}
		amount = c.RubG
		o.Numbers = []Figure{{string(d.Kind), c.RubG, "g"}, {"of the meat", 100 * c.RubShare, "%"}, {"surface", c.AreaCM2, "cm2"}}
		o.SaltG = c.RubG * saltOf(recipe)
	}
	if amount > 0 && len(recipe) > 0 {
		s, err := ScaleOf(ScaleInput{Lines: recipe, WantedG: amount})
		if err != nil {
			return o, err
		}
		o.Lines = s.Lines
	}
	return o, nil
}

// StrengthOf is the salt in what is injected, by weight: its recipe's, or as said.
func (d Dose) StrengthOf(recipe []Line) float64 {
	if len(recipe) > 0 {
		return saltOf(recipe)
	}
	return d.Strength
}

// saltOf is the share of salt in a recipe.
func saltOf(recipe []Line) float64 {
	salt, total := 0.0, 0.0
	for _, l := range recipe {
		salt += l.G * l.Salt
		total += l.G
	}
	if total == 0 {
		return 0
	}
	return salt / total
}

// lengthOf a piece from its volume: weight over density is length times usual
// width times thickness.
func lengthOf(p Piece) float64 {
	volume := max(p.WholeG, p.MeatG) / meatDensity
	return math.Sqrt(volume / (usualWidth * p.ThicknessCM))
}

// SaltOf adds up the salt of a cut's orders and judges it.
func SaltOf(orders []Order, meatG float64) (TotalSaltOutput, error) {
	in := TotalSaltInput{MeatG: meatG, RubShare: 1}
	for _, o := range orders {
		switch o.Kind {
		case Injection:
			in.InjectG += o.SaltG
		case Rub, Binder:
			in.RubG += o.SaltG
		default:
			in.BrineG += o.SaltG
		}
	}
	return TotalSaltOf(in)
}
