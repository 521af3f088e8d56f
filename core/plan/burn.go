package plan

import (
	"fmt"

	"whitebarn/core/fault"
)

// Burn is what a pit burns and how long it takes to stand, as far as the barn
// knows; what is 0 is the usual of its kind.
type Burn struct {
	WarmS      float64 `json:"warm_s"`
	Fuel       string  `json:"fuel"`      // what it burns
	FuelKgH    float64 `json:"fuel_kg_h"` // at 250 F
	LightingKg float64 `json:"lighting_kg"`
	WoodEveryS float64 `json:"wood_every_s"`
	WaterKgH   float64 `json:"water_kg_h"`
}

// usualBurns are rules of thumb by the kind of pit (ours): a barn's own dry
// burns and logs say better.
var usualBurns = map[string]Burn{
	"generic": {3600, "charcoal", 0.9, 1.5, 3000, 0.25},
	"offset":  {4500, "splits", 2.3, 3.5, 3000, 0.35},
	"water":   {3600, "charcoal", 0.7, 1.5, 3600, 0.45},
	"ceramic": {3600, "lump", 0.35, 1, 5400, 0},
	"kettle":  {2400, "briquettes", 0.5, 1, 3000, 0.2},
	"drum":    {2700, "charcoal", 0.7, 1.5, 3600, 0},
	"pellet":  {1200, "pellets", 0.9, 0.3, 0, 0.2},
	"cabinet": {2700, "electricity", 0, 0, 2700, 0.15},
	"oven":    {1200, "electricity", 0, 0, 0, 0},
}

// Usual fills in what a barn does not know of a pit of the kind, and says
// whether the burn rate is its own.
func (b Burn) Usual(kind string) (Burn, bool) {
	usual, ok := usualBurns[kind]
	if !ok {
		usual = usualBurns["generic"]
	}
	own := b.FuelKgH > 0
	if b.WarmS == 0 {
		b.WarmS = usual.WarmS
	}
	if b.Fuel == "" {
		b.Fuel = usual.Fuel
	}
	if b.WoodEveryS == 0 {
		b.WoodEveryS = usual.WoodEveryS
	}
	if !own {
		b.FuelKgH = usual.FuelKgH
	}
	if b.LightingKg == 0 {
		b.LightingKg = usual.LightingKg
	}
	if b.WaterKgH == 0 {
		b.WaterKgH = usual.WaterKgH
	}
	return b, own
}

// Check refuses what no pit burns.
func (b Burn) Check() error {
	var wrong fault.List
	for field, v := range map[string][2]float64{
		"warm_s": {b.WarmS, 6 * 3600}, "fuel_kg_h": {b.FuelKgH, 50}, "lighting_kg": {b.LightingKg, 100}, "wood_every_s": {b.WoodEveryS, 24 * 3600}, "water_kg_h": {b.WaterKgH, 50},
	} {
		if !(v[0] >= 0 && v[0] <= v[1]) {
			wrong.Add(field, fmt.Sprintf("%g is outside what a pit does", v[0]), fmt.Sprintf("give 0 (the usual) to %g", v[1]))
		}
	}
	if b.WoodEveryS > 0 && b.WoodEveryS < 300 {
		wrong.Add("wood_every_s", fmt.Sprintf("wood every %g s keeps the lid open", b.WoodEveryS), "give 5 minutes or more")
	}
	return wrong.Err()
}
