package demo

import (
	"strings"

	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/units"
	"whitebarn/internal/store"
)

// kitchen fills the pantry and says what the pits burn.
func (d *seeder) kitchen() {
	who := d.people["Odalys"]
	ids := map[string]int64{}
	var names []string // of the pantry, in order
	d.do(func() error {
		all, err := d.store.Ingredients(d.ctx)
		for _, i := range all {
			ids[i.Name] = i.ID
		}
		return err
	})
	for _, i := range []struct {
		name, kind, pack string
		cents            int
		density, salt    float64
		allergens        []string
	}{
		{"fine salt", "salt", "2 lb", 190, 1.217, 1, nil},
		{"black pepper", "spice", "8 oz", 980, 0.47, 0, nil},
		{"sweet paprika", "spice", "8 oz", 760, 0.46, 0, nil},
		{"rosemary, dried", "spice", "4 oz", 520, 0.24, 0, nil},
		{"yellow mustard", "liquid", "1 lb", 310, 1.05, 0.03, []string{"mustard"}},
		{"whey", "liquid", "4 lb", 240, 1.03, 0.001, []string{"milk"}},
		{"cider vinegar", "liquid", "2 lb", 330, 1.01, 0, []string{"sulphites"}},
		{"hornbeam splits", "fuel", "40 lb", 1400, 0, 0, nil},
		{"charcoal", "fuel", "20 lb", 2200, 0, 0, nil},
		{"apricot chunks", "wood", "10 lb", 1250, 0, 0, nil},
		{"alder chunks", "wood", "10 lb", 980, 0, 0, nil},
		{"butcher paper", "wrap", "5 lb", 2600, 0, 0, nil},
	} {
		d.do(func() error {
			pack, err := units.ParseMass(i.pack)
			if err != nil {
				return err
			}
			g := pack.Kg * 1000
			in := store.Ingredient{ID: ids[i.name], Name: i.name, Kind: store.IngredientKind(i.kind), PriceCents: &i.cents, PackG: &g, PackTyped: pack.Typed, SaltShare: i.salt, Allergens: append([]string{}, i.allergens...)}
			if i.density > 0 {
				in.Density = &i.density
			}
			ids[i.name], err = d.store.KeepIngredient(d.ctx, who, in)
			names = append(names, i.name)
			return err
		})
	}
	for _, r := range []struct {
		name, kind string
		parts      string
	}{
		{"hill rub", "rub", "black pepper 4 oz, sweet paprika 3 oz, rosemary, dried 1 oz"},
		{"mustard film", "binder", "yellow mustard 8 oz"},
		{"whey spritz", "spritz", "whey 1 lb, cider vinegar 4 oz"},
	} {
		d.do(func() error {
			out := store.Recipe{Name: r.name, Kind: store.RecipeKind(r.kind)}
			for _, name := range names {
				_, rest, there := strings.Cut(r.parts, name+" ")
				if !there {
					continue
				}
				typed, _, _ := strings.Cut(rest, ",")
				m, err := units.ParseMass(typed)
				if err != nil {
					return err
				}
				out.Lines = append(out.Lines, store.RecipeLine{IngredientID: ids[name], G: m.Kg * 1000, Typed: m.Typed})
			}
			id, err := d.store.KeepRecipe(d.ctx, who, out)
			d.recipes[r.name] = id
			return err
		})
	}
	for name, b := range map[string]struct {
		kind string
		burn plan.Burn
	}{
		"Brick Pit":  {"offset", plan.Burn{Fuel: "hornbeam splits", FuelKgH: 2.27, FuelTyped: "5 lb", LightingKg: 3.63, LightingTyped: "8 lb", WaterKgH: 0.34, WaterTyped: "12 oz"}},
		"North Drum": {"drum", plan.Burn{Fuel: "charcoal", FuelKgH: 0.68, FuelTyped: "1 lb 8 oz", LightingKg: 1.36, LightingTyped: "3 lb"}},
		"Cabinet":    {"cabinet", plan.Burn{Fuel: "electricity"}},
	} {
		d.do(func() error {
			return d.store.SetPit(d.ctx, who, d.pits[name], func(p *store.Pit) { p.Kind, p.Burn = b.kind, b.burn })
		})
	}
	places := 12
	d.do(func() error {
		return d.store.SetHolder(d.ctx, who, store.Holder{ID: d.box, Capacity: &places})
	})
}

// outline is a trial's plan as the crew would keep it: salted the day before,
// rubbed, spritzed, and held in the Warm Box before it is carved.
func (d *seeder) outline(trialID int64) (o *plan.Outline) {
	d.do(func() error {
		t, err := d.store.Trial(d.ctx, trialID)
		if err != nil {
			return err
		}
		family, err := d.store.Family(d.ctx, t.Ask.Family)
		if err != nil {
			return err
		}
		guess := plan.UsualOutline(t.Ask, family)
		o = &guess
		for i := range o.Arms {
			a := &o.Arms[i]
			for j := range a.Phases {
				if p := &a.Phases[j]; p.Kind == phase.Smoke && p.Wrap == "" {
					p.SpritzEveryS, p.SpritzFromS = 55*60, 2*3600
				}
			}
			a.Phases = append(a.Phases, phase.Phase{
				Kind: phase.Hold, Name: "hold", Wrap: "foil", SetC: units.FToC(150), SetTyped: "150 F", HolderID: d.box,
				Ends: []phase.End{{Watch: phase.ByTime, Value: 2 * 3600, Typed: "2 h"}}, LeastS: 1800,
			})
			a.Doses = append(a.Doses, prep.Dose{Kind: prep.Binder, Name: "mustard film", RecipeID: d.recipes["mustard film"], GM2: 120},
				prep.Dose{Kind: prep.Rub, Name: "hill rub", RecipeID: d.recipes["hill rub"], GM2: 450})
		}
		return nil
	})
	return o
}
