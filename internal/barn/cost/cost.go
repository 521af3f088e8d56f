// Package cost reckons what a cut took of meat, pantry, fuel, wood and wrap, and what its
// edible weight comes to.
package cost

import (
	"context"
	"math"
	"slices"
	"strings"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/yield"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Line is one thing a cut took.
type Line struct {
	What   What    `json:"what"`
	Name   string  `json:"name"`
	G      float64 `json:"g"`
	Cents  float64 `json:"cents"`
	Priced bool    `json:"priced"`
}

// What a line is of.
type What string

// The kinds of line.
const (
	Meat   What = "meat"
	Pantry What = "pantry"
	Fuel   What = "fuel"
	Wood   What = "wood"
	Wrap   What = "wrap"
)

// Values lists them.
func (What) Values() []string {
	return []string{string(Meat), string(Pantry), string(Fuel), string(Wood), string(Wrap)}
}

// CutCost is what one cut took and comes to.
type CutCost struct {
	CutID      int64    `json:"cut_id"`
	Lines      []Line   `json:"lines"`
	TotalCents float64  `json:"total_cents"`
	Whole      bool     `json:"whole"`     // every line has a price
	EdibleKg   *float64 `json:"edible_kg"` // nil while it is not weighed out
	CentsPerKg *float64 `json:"cents_per_edible_kg"`
	FuelKg     float64  `json:"fuel_kg"` // fuel and wood
}

// What nobody weighs (ours): a chunk of wood, a sheet around a cut.
const (
	chunkG = 85.0 // 3 oz
	sheetG = 60.0
)

// house is what things cost.
type house struct {
	pits        []store.Pit
	ingredients []store.Ingredient
	recipes     map[int64][]prep.Line
}

// Of reckons the cuts of trials, with the same few queries for one and many. Their doses
// must have been read.
func Of(ctx context.Context, s *store.Store, trials []evidence.Trial, now time.Time) (map[int64]CutCost, error) {
	h := house{recipes: map[int64][]prep.Line{}}
	var err error
	if h.pits, err = s.Pits(ctx); err != nil {
		return nil, err
	}
	if h.ingredients, err = s.Ingredients(ctx); err != nil {
		return nil, err
	}
	recipes, err := s.Recipes(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range recipes {
		h.recipes[r.ID] = LinesOf(r, h.ingredients)
	}
	out := map[int64]CutCost{}
	for _, t := range trials {
		family, err := s.Family(ctx, t.Ask.Family)
		if err != nil {
			return nil, err
		}
		for _, c := range t.Cuts {
			k, err := h.of(t, c, now, PieceOf(c, family))
			if err != nil {
				return nil, err
			}
			out[c.ID] = k
		}
	}
	return out, nil
}

// Read reckons the cuts of one trial.
func Read(ctx context.Context, s *store.Store, id int64, now time.Time) ([]CutCost, error) {
	t, err := reader.One(ctx, s, id)
	if err != nil {
		return nil, err
	}
	known := []evidence.Trial{t}
	if err := reader.Doses(ctx, s, known); err != nil {
		return nil, err
	}
	costs, err := Of(ctx, s, known, now)
	out := []CutCost{}
	for _, c := range known[0].Cuts {
		out = append(out, costs[c.ID])
	}
	return out, err
}

func (h house) of(t evidence.Trial, c evidence.Cut, now time.Time, p Piece) (CutCost, error) {
	k := CutCost{CutID: c.ID, Lines: []Line{}, Whole: true}
	k.add(h.meat(t, c))
	orders, err := prep.OrdersOf(t.Doses[c.ArmID], p.Piece, h.recipes)
	if err != nil {
		return k, err
	}
	for _, l := range Used(orders, h.ingredients) {
		k.add(priced(Pantry, l))
	}
	if at := t.Now(cookOf(c), now); c.OnFire(at) > 0 {
		for _, l := range h.fire(t, c, at) {
			k.add(l)
		}
	}
	if kg, ok := c.Kg(yield.Edible); ok && kg > 0 {
		per := k.TotalCents / kg
		k.EdibleKg = &kg
		if k.Whole {
			k.CentsPerKg = &per
		}
	}
	return k, nil
}

func cookOf(c evidence.Cut) int64 {
	s, _ := c.Lies()
	return s.CookID
}

func (k *CutCost) add(l Line) {
	if l.G == 0 && l.Cents == 0 && l.What != Meat {
		return
	}
	k.Lines = append(k.Lines, l)
	k.TotalCents += l.Cents
	k.Whole = k.Whole && l.Priced
	if l.What == Fuel || l.What == Wood {
		k.FuelKg += l.G / 1000
	}
}

func priced(what What, l prep.Line) Line {
	out := Line{What: what, Name: l.Name, G: l.G, Priced: l.PriceCents > 0 && l.PackG > 0}
	if out.Priced {
		out.Cents = l.PriceCents * l.G / l.PackG
	}
	return out
}

// meat is what a cut cost; a part of a divided one by its share of the weight.
func (h house) meat(t evidence.Trial, c evidence.Cut) Line {
	kg, _ := c.Kg(yield.Bought)
	if kg == 0 {
		kg, _ = c.Kg(yield.Trimmed)
	}
	l := Line{What: Meat, Name: c.Name, G: 1000 * kg}
	if c.PriceCents != nil {
		l.Cents, l.Priced = float64(*c.PriceCents), true
		return l
	}
	i := slices.IndexFunc(t.Divided, func(d evidence.Cut) bool { return d.ID == c.ParentID })
	if i < 0 || t.Divided[i].PriceCents == nil {
		return l
	}
	all, mine := 0.0, 0.0
	for _, part := range t.Cuts {
		if part.ParentID == c.ParentID {
			w := part.AtFireOr(0)
			all += w
			if part.ID == c.ID {
				mine = w
			}
		}
	}
	if all > 0 {
		l.Cents, l.Priced = float64(*t.Divided[i].PriceCents)*mine/all, true
	}
	return l
}

// fire is a cut's share of what its pits burned, and what it was wrapped in.
func (h house) fire(t evidence.Trial, c evidence.Cut, now time.Time) (out []Line) {
	until := now
	for _, part := range t.OnPits(c, until) {
		share := h.shareOf(t, part, until)
		fuel, g := h.fuel(part)
		out = append(out, priced(Fuel, h.named(fuel, "fuel", g*share)))
		pieces, with := 0.0, ""
		for _, a := range t.Acts {
			if a.Act == logbook.Wood && a.PitRunID == part.Run.ID && !a.At.Before(part.From) && a.At.Before(part.To) {
				pieces += math.Max(1, float64(a.Detail.Pieces))
				with = a.Detail.With
			}
		}
		out = append(out, priced(Wood, h.named(with, "wood", pieces*chunkG*share)))
	}
	for _, a := range c.Acts {
		if a.Act == logbook.Wrap && !a.At.After(now) {
			out = append(out, priced(Wrap, h.named(string(a.Detail.Wrap), "wrap", sheetG)))
			for _, p := range a.Detail.Parcel {
				if p.G > 0 {
					out = append(out, priced(Pantry, h.named(p.What, "liquid", p.G)))
				}
			}
		}
	}
	return out
}

// shareOf is the share of a pit's fire that one of the cuts on it had: one in as many as
// lay there with it.
func (h house) shareOf(t evidence.Trial, part evidence.Part, until time.Time) float64 {
	n := 0
	for _, c := range t.Cuts {
		for _, p := range t.OnPits(c, until) {
			if p.Run.ID == part.Run.ID && p.From.Before(part.To) && p.To.After(part.From) {
				n++
				break
			}
		}
	}
	return 1 / math.Max(1, float64(n))
}

// What a pit burns an hour is known at 250 F; it grows with how much hotter than outside
// the pit is kept.
const (
	ratedC   = 121.0
	outsideC = 12.0
)

// fuel is what a pit burned over a stretch, with its lighting, g.
func (h house) fuel(part evidence.Part) (name string, g float64) {
	burn := plan.Burn{}
	for _, p := range h.pits {
		if p.ID == part.Run.PitID {
			burn = p.Burn
		}
	}
	burn, _ = burn.Usual(part.Run.Kind.Key)
	hotter := math.Max(part.Run.MeanSet(part.From, part.To)-outsideC, 0) / (ratedC - outsideC)
	return burn.Fuel, 1000 * (burn.LightingKg + part.To.Sub(part.From).Hours()*burn.FuelKgH*hotter)
}

// named is so much of an ingredient: the one of the name, else the only one of its kind.
func (h house) named(name, kind string, g float64) prep.Line {
	var of []store.Ingredient
	for _, i := range h.ingredients {
		if name != "" && (strings.EqualFold(i.Name, name) || strings.Contains(strings.ToLower(i.Name), strings.ToLower(name))) {
			return i.Line(g)
		}
		if string(i.Kind) == kind {
			of = append(of, i)
		}
	}
	if len(of) == 1 || name == "" && len(of) > 0 {
		return of[0].Line(g)
	}
	if name == "" {
		name = kind
	}
	return prep.Line{Name: name, G: g}
}
