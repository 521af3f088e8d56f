package server

import (
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	coreprep "whitebarn/core/prep"
	"whitebarn/internal/barn/prep"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

func TestTheBenchListFollowsPantryDosesAndWeights(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	var pantry prep.PantryView
	price := 980
	odalys.must("POST", "/api/ingredients", prep.IngredientInput{Name: "black pepper", Kind: "spice", PriceCents: &price, Pack: "8 oz"}, 201, &pantry)
	odalys.must("POST", "/api/ingredients", prep.IngredientInput{Name: "sesame meal", Kind: "spice", Allergens: []string{" Sesame", "sesame", ""}}, 201, &pantry)
	id := func(name string) int64 {
		i := slices.IndexFunc(pantry.Ingredients, func(i store.Ingredient) bool { return i.Name == name })
		return pantry.Ingredients[i].ID
	}
	odalys.must("POST", "/api/recipes", prep.RecipeInput{Name: "hill rub", Kind: "rub",
		Lines: []prep.RecipeLineInput{{IngredientID: id("black pepper"), Amount: "6 oz"},
			{IngredientID: id("sesame meal"), Amount: "2 oz"}}}, 201, &pantry)
	r := pantry.Recipes[0]
	if len(r.Kilo.Lines) != 2 || math.Abs(r.Kilo.Lines[0].G-750) > 1e-6 || !slices.Equal(r.Kilo.Allergens, []string{"sesame"}) || len(r.Kilo.Unpriced) != 1 {
		t.Errorf("a kilogram of the rub is %+v", r.Kilo)
	}

	v := odalys.trialOf(lambAsk(), 2)
	o := v.Outline
	o.Arms[0].Doses = []coreprep.Dose{{Kind: coreprep.Rub, Name: "hill rub", RecipeID: r.ID, GM2: 400},
		{Kind: coreprep.DrySalt, Name: "salt", Share: 0.01, Salt: coreprep.FineSalt}}
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), o, 200, &v)
	path := fmt.Sprintf("/api/trials/%d/prep", v.ID)
	var p prep.PrepView
	odalys.must("GET", path, nil, 200, &p)
	salted := 0
	for _, c := range p.Cuts {
		cut := v.Cuts[slices.IndexFunc(v.Cuts, func(k trials.CutView) bool { return k.ID == c.CutID })]
		if *cut.ArmID != v.Ask.Arms[0].ID {
			if len(c.Orders) != 0 {
				t.Errorf("a cut of the other arm gets %+v", c.Orders)
			}
			continue
		}
		salted++
		if salt := c.Orders[0]; !c.Weighed || salt.Kind != coreprep.DrySalt || math.Abs(salt.Numbers[0].Value-0.01*c.MeatG) > 1e-9 || math.Abs(c.MeatG-2820.8) > 1 {
			t.Errorf("6 lb 3 1/2 oz get %+v of %g g", salt.Numbers, c.MeatG)
		}
	}
	if salted != 2 || !slices.Equal(p.Allergens, []string{"sesame"}) || !slices.Equal(p.Undeclared, []string{"sesame"}) {
		t.Errorf("%d cuts are salted; the allergens are %v, undeclared %v", salted, p.Allergens, p.Undeclared)
	}
	names := []string{}
	for _, b := range p.Shopping.Lines {
		names = append(names, b.Name)
	}
	if !slices.Contains(names, "fine salt") || !slices.Contains(names, "black pepper") || p.Shopping.CostCents < 980 {
		t.Errorf("the shopping list is %+v", p.Shopping)
	}

	// Injected and weighed again, the scale says what went in.
	o.Arms[0].Doses = append(o.Arms[0].Doses, coreprep.Dose{Kind: coreprep.Injection, Name: "salt water", Share: 0.1, Strength: 0.05, SpacingCM: 3})
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), o, 200, &v)
	odalys.weigh(p.Cuts[0].CutID, "prepped", "6 lb 13 oz")
	p = prep.PrepView{}
	odalys.must("GET", path, nil, 200, &p)
	in := p.Cuts[0].Injected
	if in == nil || math.Abs(in.PickUp-(6+13./16)/(6+3.5/16)+1) > 1e-9 || math.Abs(in.Salt-0.05*in.PickUp/(1+in.PickUp)) > 1e-9 || p.Cuts[1].Injected != nil {
		t.Errorf("6 lb 3 1/2 oz that became 6 lb 13 oz took up %+v", in)
	}

	marks := fmt.Sprintf("/api/trials/%d/prep-marks", v.ID)
	mine := []int64{}
	for _, c := range p.Cuts {
		if len(c.Orders) > 0 {
			mine = append(mine, c.CutID)
		}
	}
	dose := "dry brine salt"
	odalys.must("POST", marks, prep.MarkInput{CutIDs: mine, Dose: dose, Done: true}, 200, &p)
	odalys.must("POST", marks, prep.MarkInput{CutIDs: mine[:1], Dose: dose, Done: true}, 200, &p) // twice is once
	marked := func() (n int) {
		for _, c := range p.Cuts {
			for _, m := range c.Marks {
				if m.Dose == dose && m.By == "Odalys" {
					n++
				}
			}
		}
		return n
	}
	if n := marked(); n != 2 {
		t.Errorf("%d marks are kept, want one for each of two cuts", n)
	}
	p = prep.PrepView{}
	odalys.must("POST", marks, prep.MarkInput{CutIDs: mine[:1], Dose: dose}, 200, &p)
	if n := marked(); n != 1 {
		t.Errorf("with one taken back %d marks are left", n)
	}
	ahead := time.Now().Add(time.Hour)
	odalys.refused("POST", marks, prep.MarkInput{CutIDs: mine, Dose: dose, Done: true, At: &ahead}, 422, "still to come")
	odalys.refused("POST", marks, prep.MarkInput{CutIDs: []int64{999}, Dose: dose, Done: true}, 422, "not of this trial")
	odalys.refused("POST", fmt.Sprintf("/api/ingredients/%d/retire", id("black pepper")), nil, 422, "hill rub is made with it")
	odalys.refused("POST", "/api/ingredients", prep.IngredientInput{Name: "Black Pepper", Kind: "spice"}, 422, "one of that name")
	odalys.refused("POST", "/api/ingredients", prep.IngredientInput{Name: "hay", Kind: "straw", Pack: "a bale"}, 422, "pack")
	odalys.refused("POST", "/api/recipes", prep.RecipeInput{Name: "air", Kind: "rub", Lines: []prep.RecipeLineInput{{IngredientID: 999,
		Amount: "1 oz"}}}, 422, "lines[0].ingredient_id")
	odalys.must("POST", fmt.Sprintf("/api/recipes/%d/retire", r.ID), nil, 200, &pantry)
	odalys.must("POST", fmt.Sprintf("/api/ingredients/%d/retire", id("black pepper")), nil, 200, &pantry)
	o.Arms[0].Doses[1].Share = 2
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), o, 422, "arms[0].doses[1].share")
}

func TestACalculationShowsItsWorking(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	var list []Calculation
	odalys.must("GET", "/api/calc", nil, 200, &list)
	if len(list) < 25 || list[0].Example == "" || len(list[0].Inputs) == 0 || len(list[0].Outputs) == 0 {
		t.Fatalf("the calculations are %+v", list[:1])
	}
	res, err := http.Post(b.url+"/api/calc/prep.dry_brine/working", "application/json", strings.NewReader(`{"meat_g": 2270, "salt_fraction": 0.01, "salt": "fine"}`))
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	body := make([]byte, 4096)
	n, _ := res.Body.Read(body)
	if text := string(body[:n]); res.StatusCode != 200 || !strings.Contains(text, "22.7 = 2270 x 0.01") || !strings.Contains(text, `"salt_g":22.7`) {
		t.Errorf("the working answers %d %s", res.StatusCode, text)
	}
	odalys.refused("POST", "/api/calc/prep.dry_brine/working", map[string]any{"meat_g": -1, "salt_fraction": 0.01, "salt": "fine"}, 422, "meat_g")
}
