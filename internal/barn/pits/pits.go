// Package pits keeps pits, holders, devices and the kinds of cuts the cook model knows.
package pits

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/plan"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// GrateInput is the grate of a pit.
type GrateInput struct {
	Columns int `json:"columns" binding:"min=1,max=12"`
	Rows    int `json:"rows" binding:"min=1,max=12"`
}

// BurnInput is what a pit is and what it burns. Weights are typed; an empty one
// is the usual of its kind.
type BurnInput struct {
	Kind      string  `json:"kind" binding:"max=20"`
	WarmMin   float64 `json:"warm_min"`
	Fuel      string  `json:"fuel" binding:"max=40"`
	FuelHour  string  `json:"fuel_hour" binding:"max=40"`
	Lighting  string  `json:"lighting" binding:"max=40"`
	WoodMin   float64 `json:"wood_min"`
	WaterHour string  `json:"water_hour" binding:"max=40"`
	Piece     string  `json:"piece" binding:"max=40"` // weight of one piece of the fuel

	Vents    []string     `json:"vents" binding:"max=12,dive,max=30"`
	Capacity []store.Load `json:"capacity" binding:"max=20"`
}

// HolderInput says how many cuts a holder takes, and the lowest its dial goes to; null and
// empty are not known.
type HolderInput struct {
	Capacity *int   `json:"capacity" binding:"omitempty,min=1,max=200"`
	Lowest   string `json:"lowest" binding:"max=20"`
}

// Add adds a pit.
func Add(ctx context.Context, a *barn.Act, in *barn.Of[barn.NamedInput]) (store.Pit, error) {
	p, err := a.Store.AddPit(ctx, strings.TrimSpace(in.Body.Name))
	if err == store.ErrConflict {
		return p, fault.New("name", fmt.Sprintf("there is a pit %q already", in.Body.Name), "choose it from the list")
	}
	return p, err
}

// AddHolder adds a holder.
func AddHolder(ctx context.Context, a *barn.Act, in *barn.Of[barn.NamedInput]) (store.Holder, error) {
	h, err := a.Store.AddHolder(ctx, strings.TrimSpace(in.Body.Name))
	if err == store.ErrConflict {
		return h, fault.New("name", fmt.Sprintf("there is a holder %q already", in.Body.Name), "give this one another name")
	}
	return h, err
}

// SetGrate sets the grate of a pit.
func SetGrate(ctx context.Context, a *barn.Act, in *barn.With[GrateInput]) ([]store.Pit, error) {
	return setPit(ctx, a, in.ID, func(p *store.Pit) { p.GrateColumns, p.GrateRows = in.Body.Columns, in.Body.Rows })
}

// SetBurn says what a pit is and what it burns.
func SetBurn(ctx context.Context, a *barn.Act, in *barn.With[BurnInput]) ([]store.Pit, error) {
	b := in.Body
	var wrong fault.List
	mass := func(field, typed string) float64 {
		if strings.TrimSpace(typed) == "" {
			return 0
		}
		m, err := units.ParseMass(typed)
		wrong.Take(field, err)
		return m.Kg
	}
	burn := plan.Burn{WarmS: 60 * b.WarmMin, Fuel: strings.TrimSpace(b.Fuel), WoodEveryS: 60 * b.WoodMin,
		FuelKgH: mass("fuel_hour", b.FuelHour), LightingKg: mass("lighting", b.Lighting), WaterKgH: mass("water_hour", b.WaterHour),
		PieceKg: mass("piece", b.Piece), FuelTyped: strings.TrimSpace(b.FuelHour), LightingTyped: strings.TrimSpace(b.Lighting),
		WaterTyped: strings.TrimSpace(b.WaterHour), PieceTyped: strings.TrimSpace(b.Piece)}
	wrong.Take("", burn.Check())
	vents, capacity := ventsOf(&wrong, b.Vents), capacityOf(&wrong, b.Capacity)
	if b.Kind != "" {
		_, err := plan.PitKind(b.Kind)
		wrong.Take("", err)
	}
	if err := wrong.Err(); err != nil {
		return nil, err
	}
	return setPit(ctx, a, in.ID, func(p *store.Pit) {
		p.Kind, p.Burn, p.Vents, p.Capacity = b.Kind, burn, vents, capacity
	})
}

// ventsOf are the names of a pit's vents, each once.
func ventsOf(wrong *fault.List, in []string) []string {
	out := []string{}
	for i, v := range in {
		switch v = strings.TrimSpace(v); {
		case v == "":
		case slices.Contains(out, v):
			wrong.Add(fmt.Sprintf("vents[%d]", i), v+" is there twice", "give each vent its own name")
		default:
			out = append(out, v)
		}
	}
	return out
}

// mostLoaded is more than any pit of a small barn takes.
const mostLoaded = 500

// capacityOf is how many of a piece a pit takes, by the way they are loaded.
func capacityOf(wrong *fault.List, in []store.Load) []store.Load {
	out := []store.Load{}
	for i, l := range in {
		l.Piece, l.Way = strings.TrimSpace(l.Piece), strings.TrimSpace(l.Way)
		field := fmt.Sprintf("capacity[%d]", i)
		if l == (store.Load{}) {
			continue
		}
		if l.Piece == "" || len(l.Piece) > 40 || len(l.Way) > 40 {
			wrong.Add(field+".piece", fmt.Sprintf("%q %q is no piece and way", l.Piece, l.Way),
				"name the piece, and how it is loaded, in 40 letters each")
		}
		if l.Number < 1 || l.Number > mostLoaded {
			wrong.Add(field+".number", fmt.Sprintf("%d pieces", l.Number), fmt.Sprintf("give 1 to %d", mostLoaded))
		}
		out = append(out, l)
	}
	return out
}

// setPit changes a pit and answers with all of them.
func setPit(ctx context.Context, a *barn.Act, id int64, change func(*store.Pit)) ([]store.Pit, error) {
	if err := a.Store.SetPit(ctx, a.Who.ID, id, change); err != nil {
		return nil, err
	}
	return a.Store.Pits(ctx)
}

// SetHolder says what a holder takes and how low it goes.
func SetHolder(ctx context.Context, a *barn.Act, in *barn.With[HolderInput]) ([]store.Holder, error) {
	h := store.Holder{ID: in.ID, Capacity: in.Body.Capacity}
	if lowest := strings.TrimSpace(in.Body.Lowest); lowest != "" {
		var wrong fault.List
		c := temperature(&wrong, "lowest", lowest)
		if err := wrong.Err(); err != nil {
			return nil, err
		}
		h.LowestC, h.LowestTyped = &c, lowest
	}
	if err := a.Store.SetHolder(ctx, a.Who.ID, h); err != nil {
		return nil, err
	}
	return a.Store.Holders(ctx)
}
