package prep

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

var rub = []Line{
	{Name: "fine salt", G: 100, Salt: 1, PriceCents: 150, PackG: 1000, Density: 1.217},
	{Name: "black pepper", G: 60, PriceCents: 900, PackG: 250},
	{Name: "mustard seed", G: 40, Allergens: []string{"mustard"}},
}

func TestARecipeIsScaled(t *testing.T) {
	got, err := ScaleOf(ScaleInput{Lines: rub, WantedG: 500})
	if err != nil {
		t.Fatal(err)
	}
	if got.Factor != 2.5 || got.Lines[1].G != 150 || got.Salt != 0.5 || got.SaltG != 250 || !near(got.CostCents, 250*0.15+150*3.6) {
		t.Errorf("500 g of the rub are %+v", got)
	}
	if len(got.Unpriced) != 1 || got.Unpriced[0] != "mustard seed" || len(got.Allergens) != 1 || got.Allergens[0] != "mustard" {
		t.Errorf("without a price are %v, allergens are %v", got.Unpriced, got.Allergens)
	}
	if tsp := got.Lines[0].Teaspoons; math.Abs(tsp-250/6.0) > 0.05 {
		t.Errorf("250 g of fine salt are %.2f teaspoons, want 6 g each", tsp)
	}
}

func TestTheShoppingListRoundsUpToPacks(t *testing.T) {
	got, err := ShoppingOf(ShoppingInput{Needs: append(rub, Line{Name: "black pepper", G: 300, PriceCents: 900, PackG: 250}), Have: map[string]float64{"fine salt": 400, "black pepper": 10}})
	if err != nil {
		t.Fatal(err)
	}
	salt, pepper, mustard := got.Lines[0], got.Lines[1], got.Lines[2]
	if salt.Packs != 0 || salt.LeftG != 300 || pepper.NeedG != 360 || pepper.MissingG != 350 || pepper.Packs != 2 || pepper.LeftG != 150 || pepper.CostCents != 1800 || mustard.Packs != 0 || mustard.MissingG != 40 || got.CostCents != 1800 {
		t.Errorf("the list is %+v", got)
	}
}

func TestTheCostIsPerEdibleWeight(t *testing.T) {
	got, err := CostOf(CostInput{MeatCents: 4150, Used: rub, EdibleG: 1500, PortionG: 150})
	total := 4150 + 15 + 216.0
	if err != nil || !near(got.TotalCents, total) || !near(got.PerKgCents, total/1.5) || !near(got.PerLbCents, total/1.5*0.45359237) || got.Portions != 10 || !near(got.PerPortion, total/10) || len(got.Unpriced) != 1 {
		t.Errorf("the cook comes to %+v (%v)", got, err)
	}
}

func TestPortionsAreEnoughAsOftenAsAsked(t *testing.T) {
	in := PortionsInput{Eaters: 60, PortionG: 150, Yield: 0.42, YieldSD: 0.03, YieldU: 0.01, PieceG: 2700, PieceSD: 150, Chance: 0.95}
	got, err := PortionsOf(in)
	if err != nil {
		t.Fatal(err)
	}
	random := rand.New(rand.NewPCG(1, 2))
	enough := func(n int) float64 { // by cooking the supper many times
		times := 0
		const suppers = 20000
		for range suppers {
			edible, house := 0.0, in.YieldU*random.NormFloat64()
			for range n {
				edible += (in.PieceG + in.PieceSD*random.NormFloat64()) * (in.Yield + house + in.YieldSD*random.NormFloat64())
			}
			if edible >= got.NeedG {
				times++
			}
		}
		return float64(times) / suppers
	}
	if got.NeedG != 9000 || math.Abs(enough(got.Pieces)-got.Enough) > 0.01 || math.Abs(enough(got.Pieces-1)-got.OneLess) > 0.01 {
		t.Errorf("%+v; cooked often, %d pieces are enough %.3f of the time and %d %.3f", got, got.Pieces, enough(got.Pieces), got.Pieces-1, enough(got.Pieces-1))
	}
	if got.Enough < in.Chance || got.OneLess >= in.Chance || got.Pieces <= int(got.BareNumber) {
		t.Errorf("%d pieces are enough %.3f of the time, one less %.3f; plain division says %.2f", got.Pieces, got.Enough, got.OneLess, got.BareNumber)
	}
	in.YieldU = 0.3
	if _, err := PortionsOf(in); err == nil || !strings.Contains(err.Error(), "edible_yield_u") {
		t.Errorf("a yield that is not known at all is bought for: %v", err)
	}
}

func TestACoatGoesByTheSurface(t *testing.T) {
	// A slab of 10 cm half a thickness each side: its two faces carry all of it.
	got, err := CoverOf(CoverInput{MeatG: 1050, ThicknessCM: 10, RubGM2: 250, BinderGM2: 80, RubSalt: 0.5})
	if err != nil || !near(got.AreaCM2, 200) || !near(got.RubG, 5) || !near(got.BinderG, 1.6) || !near(got.SaltG, 2.5) {
		t.Errorf("the coat is %+v (%v)", got, err)
	}
	byWeight, err := CoverOf(CoverInput{MeatG: 1050, ThicknessCM: 10, RubOfMeat: 0.02})
	if err != nil || !near(byWeight.RubG, 21) || !near(byWeight.RubCoat, 1050) {
		t.Errorf("2 %% of the meat are %+v (%v)", byWeight, err)
	}
	thick, _ := LeadOf(LeadInput{MeatG: 2267.96185, ThicknessCM: 5.08})
	if !near(thick.ThawH, 24) || !near(thick.BrineH, 8) || !near(thick.DryBrineH, 6) {
		t.Errorf("five pounds, two inches thick, need %+v", thick)
	}
}

func TestOrdersFollowTheWorkAndAddUpTheirSalt(t *testing.T) {
	p := Piece{MeatG: 2500, ThicknessCM: 11, Shape: 1}
	doses := []Dose{
		{Kind: Rub, Name: "hill rub", RecipeID: 4, GM2: 250},
		{Kind: Injection, Name: "salt water", Share: 0.08, Strength: 0.05, SpacingCM: 3},
		{Kind: DrySalt, Name: "salt", Share: 0.01, Salt: FlakySalt},
	}
	got, err := OrdersOf(doses, p, map[int64][]Line{4: rub})
	if err != nil {
		t.Fatal(err)
	}
	kinds := []DoseKind{got[0].Kind, got[1].Kind, got[2].Kind}
	if kinds[0] != DrySalt || kinds[1] != Injection || kinds[2] != Rub {
		t.Errorf("the work is in the order %v", kinds)
	}
	if got[0].Numbers[0].Value != 25 || !near(got[0].Numbers[1].Value, 25/2.8) || got[1].Numbers[0].Value != 200 || !near(got[1].SaltG, 10) {
		t.Errorf("salt and injection are %+v and %+v", got[0].Numbers, got[1].Numbers)
	}
	area := 2500 / 1.05 * 2 / 5.5
	if g := got[2].Numbers[0].Value; !near(g, 250*area/1e4) || !near(got[2].SaltG, g/2) || len(got[2].Lines) != 3 || !near(got[2].Lines[0].G, g/2) {
		t.Errorf("the rub is %+v", got[2])
	}
	salt, err := SaltOf(got, 2500)
	if want := 25 + 10 + got[2].SaltG; err != nil || !near(salt.SaltG, want) {
		t.Errorf("all salt is %+v (%v), want %.2f g", salt, err, want)
	}
	for field, d := range map[string]Dose{
		"share":      {Kind: DrySalt, Name: "salt"},
		"water":      {Kind: WetBrine, Name: "brine", Share: 0.01},
		"spacing_cm": {Kind: Injection, Name: "x", Share: 0.1},
		"g_per_m2":   {Kind: Rub, Name: "x"},
		"kind":       {Kind: "glaze", Name: "x"},
		"name":       {Kind: Rub, GM2: 1},
	} {
		if _, err := OrdersOf([]Dose{d}, p, nil); err == nil || !strings.Contains(err.Error(), "doses[0]."+field) {
			t.Errorf("a wrong %s ends with %v", field, err)
		}
	}
}
