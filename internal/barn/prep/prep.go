// Package prep works out what to do to each cut before the fire, and keeps the pantry.
package prep

import (
	"context"
	"errors"
	"slices"
	"strings"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/cost"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// PrepView is what to do to each cut of a trial before the fire.
type PrepView struct {
	Cuts       []CutPrep           `json:"cuts"`
	Allergens  []string            `json:"allergens"`  // of all that is used
	Undeclared []string            `json:"undeclared"` // of them, not among those the tasters are told
	Shopping   prep.ShoppingOutput `json:"shopping"`
	Wood       []PitNeed           `json:"wood"`
}

// CutPrep is what to do to one cut.
type CutPrep struct {
	CutID    int64                 `json:"cut_id"`
	MeatG    float64               `json:"meat_g"`
	Boneless bool                  `json:"boneless"` // the bone's usual share is taken off
	Weighed  bool                  `json:"weighed"`  // else it is the usual weight of its kind
	Orders   []prep.Order          `json:"orders"`
	Salt     prep.TotalSaltOutput  `json:"salt"`
	Lead     prep.LeadOutput       `json:"lead"`
	Injected *prep.InjectionOutput `json:"injected"` // once it is weighed again
	Marks    []store.PrepMark      `json:"marks"`
}

// PitNeed is fuel, wood and water counted for one pit of one cook.
type PitNeed struct {
	CookID  int64   `json:"cook_id"`
	Pit     string  `json:"pit"`
	Fuel    string  `json:"fuel"`
	FuelKg  float64 `json:"fuel_kg"`
	Wood    int     `json:"wood"`
	WaterKg float64 `json:"water_kg"`
}

// Desk works out what is to be done to the cuts of a barn.
type Desk struct {
	barn    *barn.Barn
	planner *planner.Planner
}

// New returns the desk of a barn.
func New(b *barn.Barn, p *planner.Planner) *Desk { return &Desk{b, p} }

// Of works out every cut's doses, what they hold and what to buy.
func (d *Desk) Of(ctx context.Context, id int64) (PrepView, error) {
	v := PrepView{Cuts: []CutPrep{}, Allergens: []string{}, Undeclared: []string{}, Wood: []PitNeed{}, Shopping: prep.ShoppingOutput{Lines: []prep.Buy{}}}
	l, err := trials.LookAt(ctx, d.barn.Store, id)
	if err != nil {
		return v, err
	}
	t := l.Rows.Trials[0]
	pantry, err := Pantry(ctx, d.barn.Store)
	if err != nil {
		return v, err
	}
	recipes := map[int64][]prep.Line{}
	for _, r := range pantry.Recipes {
		recipes[r.ID] = cost.LinesOf(r.Recipe, pantry.Ingredients)
	}
	o, err := d.planner.Outline(ctx, t)
	if err != nil {
		return v, err
	}
	family, err := d.barn.Store.Family(ctx, t.Ask.Family)
	if err != nil {
		return v, err
	}
	marks, err := d.barn.Store.PrepMarks(ctx, id)
	if err != nil {
		return v, err
	}
	needs := []prep.Line{}
	for _, c := range l.Trial.Cuts {
		out, used, err := cutPrep(c, family, o, recipes, pantry.Ingredients)
		if err != nil {
			return v, err
		}
		for _, m := range marks {
			if m.CutID == c.ID {
				out.Marks = append(out.Marks, m)
			}
		}
		v.Cuts = append(v.Cuts, out)
		needs = append(needs, used...)
	}
	if v.Wood, needs, err = d.pitNeeds(ctx, t, o, needs, pantry.Ingredients); err != nil {
		return v, err
	}
	for _, n := range needs {
		v.Allergens = append(v.Allergens, n.Allergens...)
	}
	slices.Sort(v.Allergens)
	v.Allergens = slices.Compact(v.Allergens)
	for _, a := range v.Allergens {
		if !slices.ContainsFunc(t.Ask.Allergens, func(d string) bool { return strings.EqualFold(d, a) }) {
			v.Undeclared = append(v.Undeclared, a)
		}
	}
	if len(needs) > 0 {
		v.Shopping, err = prep.ShoppingOf(prep.ShoppingInput{Needs: needs})
	}
	return v, err
}

// cutPrep is what to do to one cut, and what it takes from the pantry.
func cutPrep(c evidence.Cut, family thermal.Family, o plan.Outline, recipes map[int64][]prep.Line, pantry []store.Ingredient) (CutPrep, []prep.Line, error) {
	out := CutPrep{CutID: c.ID, Orders: []prep.Order{}, Marks: []store.PrepMark{}}
	p := cost.PieceOf(c, family)
	kg := p.Kg
	out.Weighed, out.Boneless, out.MeatG = p.Weighed, p.Boneless, p.MeatG
	var err error
	if out.Lead, err = prep.LeadOf(prep.LeadInput{MeatG: kg * 1000, ThicknessCM: p.ThicknessCM}); err != nil || c.ArmID == 0 {
		return out, nil, err
	}
	doses := o.Of(c.ArmID).Doses
	if out.Orders, err = prep.OrdersOf(doses, p.Piece, recipes); err != nil {
		return out, nil, err
	}
	if out.Salt, err = prep.SaltOf(out.Orders, p.MeatG); err != nil {
		return out, nil, err
	}
	if out.Injected, err = injected(c, kg, doses, recipes); err != nil {
		return out, nil, err
	}
	return out, cost.Used(out.Orders, pantry), nil
}

// injected is what an injection brought into a cut, by the scale; nil while it
// is not weighed again, or nothing was to be injected.
func injected(c evidence.Cut, kg float64, doses []prep.Dose, recipes map[int64][]prep.Line) (*prep.InjectionOutput, error) {
	for _, d := range doses {
		if d.Kind != prep.Injection {
			continue
		}
		for _, w := range c.Weighings {
			if w.Stage == yield.Prepped {
				out, err := prep.InjectionOf(prep.InjectionInput{BeforeG: 1000 * kg, AfterG: 1000 * w.Kg, Strength: d.StrengthOf(recipes[d.RecipeID]), ResolutionG: 1000 * w.ResolutionKg})
				return &out, err
			}
		}
	}
	return nil, nil
}

// pitNeeds counts fuel, wood and water for the cooks that are still to come.
func (d *Desk) pitNeeds(ctx context.Context, t store.Trial, o plan.Outline, needs []prep.Line, pantry []store.Ingredient) ([]PitNeed, []prep.Line, error) {
	out := []PitNeed{}
	cooks, err := d.barn.Store.Cooks(ctx, t.ID)
	if err != nil {
		return out, needs, err
	}
	for _, k := range cooks {
		now := k.Clock.Now(d.barn.Now())
		cook, err := d.planner.CookPlan(ctx, t, k)
		if err != nil {
			return out, needs, err
		}
		if k.ServeAt.Before(now) {
			continue
		}
		v, err := d.planner.View(ctx, t, k.ID, cook, now)
		if errors.As(err, new(fault.List)) {
			continue // not planned yet: nothing to count
		}
		if err != nil {
			return out, needs, err
		}
		for _, p := range v.Plan.Pits {
			n := PitNeed{k.ID, v.Names[p.Pit], v.Fuels[p.Pit], p.FuelKg, len(p.Wood), p.WaterKg}
			out = append(out, n)
			for _, ing := range pantry {
				if n.FuelKg > 0 && strings.EqualFold(ing.Name, n.Fuel) {
					needs = append(needs, ing.Line(1000*n.FuelKg))
				}
			}
		}
	}
	return out, needs, nil
}
