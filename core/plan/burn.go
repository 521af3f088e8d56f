package plan

import (
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
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
	PieceKg    float64 `json:"piece_kg"` // one piece of its fuel

	// As the crew wrote them.
	FuelTyped     string `json:"fuel_typed"`
	LightingTyped string `json:"lighting_typed"`
	WaterTyped    string `json:"water_typed"`
	PieceTyped    string `json:"piece_typed"`
}

// usualBurns are rules of thumb by the kind of pit (ours): a barn's own dry
// burns and logs say better.
var usualBurns = map[string]Burn{
	"generic": {WarmS: 3600, Fuel: "charcoal", FuelKgH: 0.9, LightingKg: 1.5, WoodEveryS: 3000, WaterKgH: 0.25},
	"offset":  {WarmS: 4500, Fuel: "splits", FuelKgH: 2.3, LightingKg: 3.5, WoodEveryS: 3000, WaterKgH: 0.35},
	"water":   {WarmS: 3600, Fuel: "charcoal", FuelKgH: 0.7, LightingKg: 1.5, WoodEveryS: 3600, WaterKgH: 0.45},
	"ceramic": {WarmS: 3600, Fuel: "lump", FuelKgH: 0.35, LightingKg: 1, WoodEveryS: 5400, WaterKgH: 0},
	"kettle":  {WarmS: 2400, Fuel: "briquettes", FuelKgH: 0.5, LightingKg: 1, WoodEveryS: 3000, WaterKgH: 0.2},
	"drum":    {WarmS: 2700, Fuel: "charcoal", FuelKgH: 0.7, LightingKg: 1.5, WoodEveryS: 3600, WaterKgH: 0},
	"pellet":  {WarmS: 1200, Fuel: "pellets", FuelKgH: 0.9, LightingKg: 0.3, WoodEveryS: 0, WaterKgH: 0.2},
	"cabinet": {WarmS: 2700, Fuel: "electricity", FuelKgH: 0, LightingKg: 0, WoodEveryS: 2700, WaterKgH: 0.15},
	"oven":    {WarmS: 1200, Fuel: "electricity", FuelKgH: 0, LightingKg: 0, WoodEveryS: 0, WaterKgH: 0},
	"griddle": {WarmS: 900, Fuel: "gas"},
	"broiler": {WarmS: 600, Fuel: "electricity"},
	"coals":   {WarmS: 1800, Fuel: "lump", FuelKgH: 1.2, LightingKg: 1},
	"oil":     {WarmS: 1800, Fuel: "gas"},
}

// quick are what burns with no fire to be made: it is lit by turning it on, and takes
// neither wood nor water unless somebody says so.
var quick = []string{"gas", "electric"}

const quickWarmS = 900.0

// Usual fills in what a barn does not know of a pit of the kind, and says
// whether the burn rate is its own.
func (b Burn) Usual(kind string) (Burn, bool) {
	usual, ok := usualBurns[kind]
	if !ok {
		usual = usualBurns["generic"]
	}
	if slices.ContainsFunc(quick, func(f string) bool { return strings.Contains(strings.ToLower(b.Fuel), f) }) && usual.Fuel != "electricity" {
		usual = Burn{WarmS: min(usual.WarmS, quickWarmS), Fuel: b.Fuel}
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

// PitKinds are the sorts of smoker, or of another cooker, a pit can be.
func PitKinds() []thermal.Surroundings {
	var out []thermal.Surroundings
	for _, p := range thermal.AllSurroundings {
		if _, err := PitKind(p.Key); err == nil {
			out = append(out, p)
		}
	}
	return out
}

// PitKind finds what sort of smoker a pit can be.
func PitKind(key string) (thermal.Surroundings, error) {
	s, err := thermal.SurroundingsOf(key)
	if _, smokes := usualBurns[key]; err == nil && !smokes {
		err = fault.New("kind", fmt.Sprintf("nothing is cooked in a %s", s.Name), "choose a kind of cooker")
	}
	return s, err
}

// Check refuses what no pit burns.
func (b Burn) Check() error {
	var wrong fault.List
	for field, v := range map[string][2]float64{
		"warm_s": {b.WarmS, 6 * 3600}, "fuel_kg_h": {b.FuelKgH, 50}, "lighting_kg": {b.LightingKg, 100}, "wood_every_s": {b.WoodEveryS, 24 * 3600}, "water_kg_h": {b.WaterKgH, 50},
		"piece_kg": {b.PieceKg, 25},
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
