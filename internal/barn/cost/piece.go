package cost

import (
	"strings"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/yield"
	"whitebarn/internal/store"
)

// Piece is a cut on the bench, and how well its weight is known.
type Piece struct {
	prep.Piece
	Kg       float64
	Weighed  bool // else it is the usual weight of its kind
	Boneless bool // the bone's usual share is taken off
}

// PieceOf is a cut as doses are worked out for it.
func PieceOf(c evidence.Cut, family thermal.Family) Piece {
	p := Piece{Kg: family.Mass}
	if known, ok := c.Kg(yield.Trimmed); ok {
		p.Kg, p.Weighed = known, true
	}
	body := family.Cut(p.Kg, 0, 4)
	p.Piece = prep.Piece{MeatG: p.Kg * 1000, WholeG: p.Kg * 1000, ThicknessCM: 200 * body.HalfThickness, Shape: family.Shape}
	if c.Traits[design.Bone] == "in" && family.Bone > 0 {
		p.MeatG *= 1 - family.Bone
		p.Boneless = true
	}
	if d := c.Dimension("thickness"); d != nil {
		p.ThicknessCM = 100 * *d
	}
	if d := c.Dimension("length"); d != nil {
		p.LengthCM = 100 * *d
	}
	return p
}

// LinesOf is a recipe with what its ingredients cost and hold.
func LinesOf(r store.Recipe, pantry []store.Ingredient) []prep.Line {
	var out []prep.Line
	for _, l := range r.Lines {
		for _, i := range pantry {
			if i.ID == l.IngredientID {
				out = append(out, i.Line(l.G))
			}
		}
	}
	return out
}

// Used is what orders take from the pantry.
func Used(orders []prep.Order, pantry []store.Ingredient) (used []prep.Line) {
	take := func(name string, g float64) {
		line := prep.Line{Name: name, G: g}
		for _, i := range pantry {
			if strings.EqualFold(i.Name, name) {
				line = i.Line(g)
			}
		}
		if g > 0 {
			used = append(used, line)
		}
	}
	for _, order := range orders {
		for _, l := range order.Lines {
			take(l.Name, l.G)
		}
		if order.Salted != "" {
			take(string(order.Salted)+" salt", order.Numbers[0].Value)
		}
	}
	return used
}
