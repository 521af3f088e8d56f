package prep

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// Line is one ingredient of a recipe, a bill or a list: how much of it, what a
// pack costs and what is in it.
type Line struct {
	Name       string   `json:"name"`
	G          float64  `json:"g"`
	PriceCents float64  `json:"pack_price_cents"` // of one pack; 0 is not known
	PackG      float64  `json:"pack_g"`
	Density    float64  `json:"g_per_ml"` // as spooned; 0 is not known
	Salt       float64  `json:"salt_fraction"`
	Allergens  []string `json:"allergens"`
}

// ScaleInput is a recipe and how much of it is wanted.
type ScaleInput struct {
	Lines   []Line  `json:"lines"`
	WantedG float64 `json:"wanted_g"`
}

// Amount is a line brought to what is wanted.
type Amount struct {
	Name      string  `json:"name"`
	G         float64 `json:"g"`
	Teaspoons float64 `json:"teaspoons"` // 0 where the density is not known
	CostCents float64 `json:"cost_cents"`
}

// ScaleOutput is the recipe brought to what is wanted.
type ScaleOutput struct {
	Factor    float64  `json:"factor"`
	Lines     []Amount `json:"lines"`
	Salt      float64  `json:"salt_fraction"`
	SaltG     float64  `json:"salt_g"`
	CostCents float64  `json:"cost_cents"`
	Unpriced  []string `json:"without_price"` // the cost leaves these out
	Allergens []string `json:"allergens"`
}

const teaspoonML = 4.92892

// ScaleOf scales a recipe to a weight, and adds up salt, cost and allergens.
func ScaleOf(in ScaleInput) (ScaleOutput, error) {
	var wrong fault.List
	positive(&wrong, "wanted_g", in.WantedG)
	total := checkLines(&wrong, "lines", in.Lines)
	if err := wrong.Err(); err != nil {
		return ScaleOutput{}, err
	}
	out := ScaleOutput{Factor: in.WantedG / total, Unpriced: []string{}, Allergens: []string{}}
	for _, l := range in.Lines {
		a := Amount{Name: l.Name, G: l.G * out.Factor}
		if l.Density > 0 {
			a.Teaspoons = a.G / l.Density / teaspoonML
		}
		if l.priced() {
			a.CostCents = l.PriceCents * a.G / l.PackG
		} else {
			out.Unpriced = append(out.Unpriced, l.Name)
		}
		out.CostCents += a.CostCents
		out.SaltG += a.G * l.Salt
		out.Allergens = append(out.Allergens, l.Allergens...)
		out.Lines = append(out.Lines, a)
	}
	out.Salt = out.SaltG / in.WantedG
	slices.Sort(out.Allergens)
	out.Allergens = slices.Compact(out.Allergens)
	return out, nil
}

func (l Line) priced() bool { return l.PriceCents > 0 && l.PackG > 0 }

// mostLines of a recipe or a list.
const mostLines = 100

func checkLines(wrong *fault.List, field string, lines []Line) (total float64) {
	if len(lines) == 0 || len(lines) > mostLines {
		wrong.Add(field, fmt.Sprintf("there are %d", len(lines)), fmt.Sprintf("give 1 to %d", mostLines))
	}
	for i, l := range lines {
		at := fmt.Sprintf("%s[%d]", field, i)
		if l.Name == "" {
			wrong.Add(at+".name", "it has no name", "say what it is")
		}
		positive(wrong, at+".g", l.G)
		share(wrong, at+".salt_fraction", l.Salt, 1)
		for name, v := range map[string]float64{"pack_price_cents": l.PriceCents, "pack_g": l.PackG, "g_per_ml": l.Density} {
			if !(v >= 0) || math.IsInf(v, 0) {
				wrong.Add(at+"."+name, fmt.Sprintf("%g is no amount", v), "give 0 or more; 0 is not known")
			}
		}
		total += l.G
	}
	return total
}

// ShoppingInput is what is needed, and what there is of it.
type ShoppingInput struct {
	Needs []Line             `json:"needs"`
	Have  map[string]float64 `json:"have_g"`
}

// Buy is a line of the shopping list.
type Buy struct {
	Name      string  `json:"name"`
	NeedG     float64 `json:"need_g"`
	HaveG     float64 `json:"have_g"`
	MissingG  float64 `json:"missing_g"`
	Packs     int     `json:"packs"` // 0 where the pack is not known
	CostCents float64 `json:"cost_cents"`
	LeftG     float64 `json:"left_g"` // once it is used
}

// ShoppingOutput is what to buy.
type ShoppingOutput struct {
	Lines     []Buy   `json:"lines"`
	CostCents float64 `json:"cost_cents"`
}

// ShoppingOf adds up needs by name, takes off what there is and rounds up to packs.
func ShoppingOf(in ShoppingInput) (ShoppingOutput, error) {
	var wrong fault.List
	checkLines(&wrong, "needs", in.Needs)
	for name, g := range in.Have {
		if !(g >= 0) || math.IsInf(g, 0) {
			wrong.Add("have_g", fmt.Sprintf("%g g of %s is no amount", g, name), "give grams, 0 or more")
		}
	}
	if err := wrong.Err(); err != nil {
		return ShoppingOutput{}, err
	}
	var out ShoppingOutput
	at := map[string]int{}
	packs := map[string]Line{}
	for _, n := range in.Needs {
		i, seen := at[n.Name]
		if !seen {
			i = len(out.Lines)
			at[n.Name] = i
			out.Lines = append(out.Lines, Buy{Name: n.Name, HaveG: in.Have[n.Name]})
		}
		out.Lines[i].NeedG += n.G
		if n.PackG > 0 {
			packs[n.Name] = n
		}
	}
	for i := range out.Lines {
		b := &out.Lines[i]
		b.MissingG = max(b.NeedG-b.HaveG, 0)
		b.LeftG = max(b.HaveG-b.NeedG, 0)
		if p := packs[b.Name]; p.PackG > 0 && b.MissingG > 0 {
			b.Packs = int(math.Ceil(b.MissingG/p.PackG - 1e-9))
			b.CostCents = float64(b.Packs) * p.PriceCents
			b.LeftG = float64(b.Packs)*p.PackG - b.MissingG
		}
		out.CostCents += b.CostCents
	}
	return out, nil
}

// CostInput is what one cook used, and what was edible of it.
type CostInput struct {
	MeatCents float64 `json:"meat_cents"`
	Used      []Line  `json:"used"` // seasonings, fuel, wood, wrap
	EdibleG   float64 `json:"edible_g"`
	PortionG  float64 `json:"portion_g"`
}

// CostOutput is what it comes to.
type CostOutput struct {
	TotalCents float64  `json:"total_cents"`
	PerKgCents float64  `json:"cents_per_edible_kg"`
	PerLbCents float64  `json:"cents_per_edible_lb"`
	Portions   float64  `json:"portions"`
	PerPortion float64  `json:"cents_per_portion"`
	Unpriced   []string `json:"without_price"`
}

// CostOf adds up a cook: meat, seasonings, fuel, wood and wrap, per edible weight.
func CostOf(in CostInput) (CostOutput, error) {
	var wrong fault.List
	positive(&wrong, "edible_g", in.EdibleG)
	positive(&wrong, "portion_g", in.PortionG)
	if !(in.MeatCents >= 0) || math.IsInf(in.MeatCents, 0) {
		wrong.Add("meat_cents", fmt.Sprintf("%g is no price", in.MeatCents), "give 0 or more")
	}
	if len(in.Used) > 0 {
		checkLines(&wrong, "used", in.Used)
	}
	if err := wrong.Err(); err != nil {
		return CostOutput{}, err
	}
	out := CostOutput{TotalCents: in.MeatCents, Unpriced: []string{}}
	for _, l := range in.Used {
		if !l.priced() {
			out.Unpriced = append(out.Unpriced, l.Name)
			continue
		}
		out.TotalCents += l.PriceCents * l.G / l.PackG
	}
	out.PerKgCents = out.TotalCents / in.EdibleG * 1000
	out.PerLbCents = out.PerKgCents * units.GramsPerPound / 1000
	out.Portions = in.EdibleG / in.PortionG
	out.PerPortion = out.TotalCents / out.Portions
	return out, nil
}
