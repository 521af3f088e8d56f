package server

import (
	"net/http"
	"strings"
	"testing"

	"whitebarn/core/trial"
	"whitebarn/internal/barn/ask"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

func TestAskIsReadBeforeItIsKept(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	asked := lambAsk()
	asked.Hand = trial.Hand{Blocks: 6, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 2, Tasters: 5}
	asked.Factors = append(asked.Factors, trial.Factor{Name: "rub", Kind: trial.Categorical, SetOn: trial.UnitCut})
	asked.Arms[0].Levels, asked.Arms[1].Levels = trial.Levels("paper", "herb"), trial.Levels("none", "plain")
	var r ask.Reading
	odalys.must("POST", at("/design/review"), ask.ReviewInput{Ask: asked}, 200, &r)
	if len(r.Findings) == 0 || r.Findings[0].Key != "together:wrap+rub" || len(r.Offers) == 0 || len(r.Numbers) != 6 {
		t.Errorf("it reads %d findings, %d offers, %d numbers: %+v", len(r.Findings), len(r.Offers), len(r.Numbers), r.Findings)
	}
	// Half-written and senseless asks are read too.
	for name, a := range map[string]trial.Ask{
		"empty":     {},
		"no levels": {Factors: []trial.Factor{{}}, Arms: []trial.Arm{{}, {}}},
		"numbers too many": {Factors: asked.Factors, Arms: asked.Arms, Hand: trial.Hand{Blocks: -5, BlockSize: 1 << 40, Pits: 1 << 40,
			Positions: -1, CookDays: 1 << 50}},
	} {
		if status, p := odalys.do("POST", at("/design/review"), ask.ReviewInput{Ask: a}, nil); status != http.StatusOK {
			t.Errorf("%s answered %d %+v", name, status, p)
		}
	}
	odalys.refused("POST", at("/design/review"), ask.ReviewInput{Ask: trial.Ask{Arms: make([]trial.Arm, 7)}}, 422, "7 arms")
	var v trials.TrialView
	odalys.must("POST", at("/trials"), asked, 201, &v)
	var next trial.Ask
	odalys.must("GET", at("/trials/%d/draft?as=follow&arm=%d", v.ID, v.Ask.Arms[0].ID), nil, 200, &next)
	if len(next.Held) != 3 || next.Held[1] != (trial.Held{Role: trial.Wrap, Name: "wrap", Value: "paper", Key: "paper"}) || *next.FollowsID != v.ID {
		t.Errorf("the follow-on starts as %+v", next)
	}
	odalys.must("GET", at("/trials/%d/draft?as=copy", v.ID), nil, 200, &next)
	if next.Question != asked.Question || next.Arms[0].ID != 0 {
		t.Errorf("the copy starts as %+v", next)
	}
	odalys.refused("GET", at("/trials/%d/draft?as=joke", v.ID), nil, 422, "as")
}

func TestCatalogueIsTheTeams(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	asked := lambAsk()
	asked.Factors[0].Name = "Coat"
	asked.Arms[0].Levels = trial.Levels("two leaves")
	var v trials.TrialView
	odalys.must("POST", at("/trials"), asked, 201, &v)
	var c ask.Catalogue
	odalys.must("GET", at("/catalogue"), nil, 200, &c)
	find := func(name string) store.CatalogueFactor {
		for _, f := range c.Factors {
			if f.Name == name {
				return f
			}
		}
		t.Fatalf("the catalogue has no %s", name)
		return store.CatalogueFactor{}
	}
	coat, wrap := find("Coat"), find("wrap")
	if !coat.Own || coat.Used != 1 || len(coat.Levels) != 2 || wrap.Own || len(c.Templates) < 5 {
		t.Errorf("the catalogue has %+v and %+v", coat, wrap)
	}
	odalys.refused("POST", at("/catalogue/factors/%d/merge", wrap.ID), ask.MergeInput{Into: coat.ID}, 409, "came with the barn")
	odalys.refused("POST", at("/catalogue/factors/%d/merge", coat.ID), ask.MergeInput{Into: coat.ID}, 409, "the same")
	odalys.must("POST", at("/catalogue/factors/%d/merge", coat.ID), ask.MergeInput{Into: wrap.ID}, 200, &c)
	if w := find("wrap"); w.Used != 1 || len(w.Levels) != len(wrap.Levels)+1 || find("Coat").MergedInto == nil {
		t.Errorf("merged, wrap is used %d times with %d levels", w.Used, len(w.Levels))
	}
	// What was asked before is of wrap now, in the words it was asked with.
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &v)
	leaves, none := v.Ask.Arms[0].Levels[0], v.Ask.Arms[1].Levels[0]
	if f := v.Ask.Factors[0]; f.ID != wrap.ID || f.Role != trial.Wrap || f.Name != "Coat" || none.Key != trial.None ||
		none.ID != wrap.Levels[0].ID || leaves.Value != "two leaves" || leaves.Key != "" {
		t.Errorf("merged, the trial is asked with %+v", v.Ask.Arms)
	}
	// A level of their own counts as what they say, or as another of the factor.
	odalys.refused("PUT", at("/catalogue/levels/%d/key", leaves.ID), ask.KeyInput{Key: "hourly"}, 422, "does not count as")
	odalys.refused("PUT", at("/catalogue/levels/%d/key", wrap.Levels[1].ID), ask.KeyInput{Key: "foil"}, 409, "came with the barn")
	odalys.must("PUT", at("/catalogue/levels/%d/key", leaves.ID), ask.KeyInput{Key: "pan"}, 200, nil)
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &v)
	if l := v.Ask.Arms[0].Levels[0]; l.Key != "pan" || v.Outline.Arms[0].Phases[1].Wrap != "pan" {
		t.Errorf("leaves that count as a pan are %+v, planned as %+v", l, v.Outline.Arms[0].Phases)
	}
	odalys.refused("POST", at("/catalogue/levels/%d/merge", wrap.Levels[1].ID), ask.MergeInput{Into: leaves.ID}, 409, "came with the barn")
	odalys.refused("POST", at("/catalogue/levels/%d/merge", leaves.ID), ask.MergeInput{Into: find("spritz").Levels[0].ID}, 409, "merged already")
	paper := wrap.Levels[1]
	odalys.must("POST", at("/catalogue/levels/%d/merge", leaves.ID), ask.MergeInput{Into: paper.ID}, 200, &c)
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &v)
	if l := v.Ask.Arms[0].Levels[0]; l.ID != paper.ID || l.Key != "paper" || l.Value != "two leaves" {
		t.Errorf("leaves that count as paper are %+v", l)
	}
	// What a product cooks like is said once, for all trials of it.
	shoulder := c.Products[0]
	if shoulder.Name != "lamb shoulder" || shoulder.Family != "lambshoulder" || v.Ask.ProductID != shoulder.ID {
		t.Errorf("the barn cooks %+v, the trial product %d", shoulder, v.Ask.ProductID)
	}
	odalys.refused("PUT", at("/catalogue/products/%d", shoulder.ID), map[string]string{"family": "unicorn"}, 422, "no family")
	odalys.must("PUT", at("/catalogue/products/%d", shoulder.ID), map[string]string{"family": "porkbutt"}, 200, nil)
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &v)
	if v.Ask.Family != "porkbutt" {
		t.Errorf("the trial cooks like %s", v.Ask.Family)
	}
	// The merged names asked with again count where they went.
	asked.Family = ""
	odalys.must("POST", at("/trials"), asked, 201, &v)
	if l := v.Ask.Arms[0].Levels[0]; v.Ask.Factors[0].ID != wrap.ID || l.ID != paper.ID || v.Ask.Family != "porkbutt" {
		t.Errorf("asked again it is %+v, %+v", v.Ask.Factors[0], l)
	}
	odalys.must("POST", at("/catalogue/factors/%d/retire", wrap.ID), ask.RetireInput{Retired: true}, 200, &c)
	if w := find("wrap"); w.Used != 2 || !w.Retired {
		t.Errorf("wrap is used %d times, retired %v; want twice and retired", w.Used, w.Retired)
	}
	odalys.must("POST", at("/catalogue/levels/%d/retire", wrap.Levels[1].ID), ask.RetireInput{Retired: true}, 200, &c)
	odalys.must("POST", at("/catalogue/factors/%d/levels", wrap.ID), ask.LevelInput{Value: strings.ToUpper(wrap.Levels[1].Value)}, 201, &c)
	if l := find("wrap").Levels[1]; l.Retired {
		t.Errorf("a retired level that is added again stays retired: %+v", l)
	}
	odalys.refused("POST", at("/catalogue/factors"), trial.Factor{Name: "heat", Kind: trial.Numeric, SetOn: trial.UnitPitRun}, 422, "no unit")
	odalys.refused("POST", at("/catalogue/factors"), trial.Factor{Name: "WRAP", Kind: trial.Categorical, SetOn: trial.UnitCut}, 422, "in the catalogue already")
}
