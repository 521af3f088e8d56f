package store_test

import (
	"errors"
	"testing"
	"time"

	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// planned is a barn with one trial, two cuts in an arm each, and a pit and a box.
func planned(t *testing.T) (s *store.Store, who, trialID int64, cuts []int64, cook store.CookPlan) {
	t.Helper()
	s = pgtest.Store(t)
	ctx := t.Context()
	who, err := s.FirstRun(ctx, store.Barn{Name: "White Barn", TimeZone: "UTC"}, store.Person{Name: "Odalys", Role: store.Pitmaster, SignIn: "odalys", PasswordHash: "x"})
	if err != nil {
		t.Fatal(err)
	}
	a := trial.Ask{Question: "q", Product: "lamb shoulder", Cut: "shoulder", Species: "red meat", Handling: "intact", Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms: []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}}}
	if trialID, err = s.CreateTrial(ctx, who, a.Tidy()); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"1L", "1R"} {
		id, err := s.AddCut(ctx, who, trialID, store.Cut{Name: name})
		if err != nil {
			t.Fatal(err)
		}
		cuts = append(cuts, id)
	}
	pit, err := s.AddPit(ctx, "Brick Pit")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddHolder(ctx, "Warm Box"); err != nil {
		t.Fatal(err)
	}
	cook = store.CookPlan{ServeAt: time.Now().Add(48 * time.Hour), Runs: []store.PitRun{{PitID: pit.ID, SetPointC: 121, SetPointTyped: "250 F"}}}
	for _, id := range cuts {
		cook.Placements = append(cook.Placements, store.PlannedPlacement{CutID: id})
	}
	return s, who, trialID, cuts, cook
}

func TestAPlanIsKeptWithItsHistory(t *testing.T) {
	s, who, trialID, cuts, cook := planned(t)
	ctx := t.Context()
	if _, err := s.Outline(ctx, trialID); !errors.Is(err, store.ErrNotFound) {
		t.Fatalf("a trial nobody planned has an outline: %v", err)
	}
	phases := func(hold string) *plan.Outline {
		return &plan.Outline{Chance: 0.9, Arms: []plan.ArmPhases{{ArmID: 1, Phases: []phase.Phase{{Kind: phase.Hold, Name: "hold", Ends: []phase.End{{Watch: phase.ByTime, Value: 3600, Typed: hold}}}}}}}
	}
	box := func(setup string, cuts ...int64) store.PlannedHold {
		return store.PlannedHold{HolderID: 1, Set: units.Temperature{C: 65.6, Typed: "150 F"}, Setup: setup, CutIDs: cuts}
	}
	cook.Outline, cook.Holds = phases("4 h"), []store.PlannedHold{box("4 h", cuts...)}
	id, err := s.CreateCook(ctx, who, trialID, cook, trial.RealClock(time.Now()))
	if err != nil {
		t.Fatal(err)
	}
	o, err := s.Outline(ctx, trialID)
	if err != nil || !o.Planned || o.KeptAt.IsZero() || o.Arms[0].Phases[0].Ends[0].Typed != "4 h" {
		t.Errorf("the outline is %+v (%v)", o, err)
	}
	runs, err := s.PitRuns(ctx, trialID)
	if err != nil {
		t.Fatal(err)
	}
	cook.Runs[0].ID = runs[0].ID

	// The two arms are held apart: the second cut goes into a run of its own.
	cook.Outline, cook.Holds = phases("9 h"), []store.PlannedHold{box("4 h", cuts[0]), box("9 h", cuts[1])}
	if err := s.SetCook(ctx, who, id, cook); err != nil {
		t.Fatal(err)
	}
	stands := func() map[int64]int64 {
		placed, err := s.Placements(ctx, trialID)
		if err != nil {
			t.Fatal(err)
		}
		out := map[int64]int64{}
		for _, l := range placed {
			if l.HolderRunID != nil {
				out[l.CutID] = *l.HolderRunID
			}
		}
		return out
	}
	if held := stands(); len(held) != 2 || held[cuts[0]] == held[cuts[1]] {
		t.Errorf("held for four and for nine hours, the cuts are in the runs %v", held)
	}
	before := stands()
	if err := s.SetCook(ctx, who, id, cook); err != nil { // unchanged: nothing moves
		t.Fatal(err)
	}
	if after := stands(); after[cuts[0]] != before[cuts[0]] || after[cuts[1]] != before[cuts[1]] {
		t.Errorf("kept unchanged, the cuts moved from %v to %v", before, after)
	}
	var placements, superseded, changes int
	err = s.Pool().QueryRow(ctx, `select (select count(*) from placements where holder_run_id is not null), (select count(*) from placements where holder_run_id is not null and void_reason = 'superseded'),
		(select count(*) from changes where subject = 'outline' and subject_id = $1)`, trialID).Scan(&placements, &superseded, &changes)
	if err != nil || placements != 3 || superseded != 1 || changes != 3 {
		t.Errorf("the record has %d placements in the box, %d superseded, %d changes of the outline (%v); want 3, 1 and 3", placements, superseded, changes, err)
	}
	var first plan.Outline
	if err := s.Pool().QueryRow(ctx, "select before from changes where subject = 'outline' order by id offset 1 limit 1").Scan(&first); err != nil || first.Arms[0].Phases[0].Ends[0].Typed != "4 h" {
		t.Errorf("before the change it was %+v (%v)", first, err)
	}

	// A plan that is not spoken of stays.
	cook.Outline, cook.Holds = nil, nil
	if err := s.SetCook(ctx, who, id, cook); err != nil {
		t.Fatal(err)
	}
	if o, err := s.Outline(ctx, trialID); err != nil || o.Arms[0].Phases[0].Ends[0].Typed != "9 h" || len(stands()) != 2 {
		t.Errorf("left alone, the outline is %+v (%v) and %d cuts are in the box", o, err, len(stands()))
	}
}

func TestAPitIsChangedInOnePart(t *testing.T) {
	s, who, _, _, _ := planned(t)
	ctx := t.Context()
	if err := s.SetPit(ctx, who, 1, func(p *store.Pit) { p.Kind, p.Burn = "drum", plan.Burn{FuelKgH: 0.7, FuelTyped: "1 lb 8 oz"} }); err != nil {
		t.Fatal(err)
	}
	if err := s.SetPit(ctx, who, 1, func(p *store.Pit) { p.GrateColumns = 2 }); err != nil {
		t.Fatal(err)
	}
	pits, err := s.Pits(ctx)
	if err != nil || pits[0].Kind != "drum" || pits[0].Burn.FuelTyped != "1 lb 8 oz" || pits[0].GrateColumns != 2 || pits[0].GrateRows != 3 {
		t.Errorf("the pit is %+v (%v)", pits, err)
	}
	if err := s.SetPit(ctx, who, 99, func(*store.Pit) {}); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a pit that is not there is changed: %v", err)
	}
	for kind, want := range map[string]string{"kettle": "kettle", "": "generic", "no such": "generic"} {
		if got := (store.PitRun{Kind: kind, Pit: "Brick Pit"}).Surroundings().Key; got != want {
			t.Errorf("the Brick Pit of kind %q is cooked in as %s, want %s: a name tells nothing", kind, got, want)
		}
	}
}

func TestThePantryKeepsOneOfAName(t *testing.T) {
	s, who, _, _, _ := planned(t)
	ctx := t.Context()
	price, pack := 980, 226.8
	id, err := s.KeepIngredient(ctx, who, store.Ingredient{Name: "black pepper", Kind: "spice", PriceCents: &price, PackG: &pack, Allergens: []string{}})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.KeepIngredient(ctx, who, store.Ingredient{Name: "Black Pepper", Kind: "spice", Allergens: []string{}}); !errors.Is(err, store.ErrConflict) {
		t.Errorf("a second black pepper is kept: %v", err)
	}
	if l := (store.Ingredient{Name: "pepper", PriceCents: &price, PackG: &pack}).Line(50); l.PriceCents != 980 || l.PackG != 226.8 || l.Density != 0 {
		t.Errorf("50 g of it are %+v", l)
	}
	recipe, err := s.KeepRecipe(ctx, who, store.Recipe{Name: "hill rub", Kind: "rub", Lines: []store.RecipeLine{{id, 100, "100 g"}}})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.KeepRecipe(ctx, who, store.Recipe{ID: recipe, Name: "hill rub", Kind: "rub", Lines: []store.RecipeLine{{id, 120, "120 g"}}}); err != nil {
		t.Fatal(err)
	}
	if r, err := s.Recipes(ctx); err != nil || len(r) != 1 || r[0].Lines[0].Typed != "120 g" {
		t.Errorf("the recipes are %+v (%v)", r, err)
	}
	if err := s.RetireFromPantry(ctx, who, "ingredient", id); err != nil {
		t.Fatal(err)
	}
	if err := s.RetireFromPantry(ctx, who, "ingredient", id); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("retired twice: %v", err)
	}
	if _, err := s.KeepIngredient(ctx, who, store.Ingredient{Name: "black pepper", Kind: "spice", Allergens: []string{}}); err != nil {
		t.Errorf("a name that is free again is refused: %v", err)
	}
	var changes int
	if err := s.Pool().QueryRow(ctx, "select count(*) from changes where subject in ('ingredient', 'recipe') and person_id = $1", who).Scan(&changes); err != nil || changes != 5 {
		t.Errorf("the history has %d changes of the pantry (%v), want 5", changes, err)
	}
}
