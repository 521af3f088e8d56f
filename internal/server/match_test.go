package server

import (
	"fmt"
	"maps"
	"math"
	"strings"
	"testing"

	"whitebarn/core/design"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/barn/rest"
	"whitebarn/internal/barn/trials"
)

func at(format string, v ...any) string { return "/api" + fmt.Sprintf(format, v...) }

func TestDrawsAreRecordedAndRepeatable(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 4)
	odalys.must("POST", at("/trials/%d/allotment", v.ID), match.DrawInput{}, 201, &v)
	odalys.must("POST", at("/trials/%d/allotment", v.ID), match.DrawInput{}, 201, &v)
	if len(v.Draws) != 2 || len(v.Moved) != 0 || v.Draws[0].By != "Odalys" || v.Draws[0].Looked != 8 || !v.Draws[0].AllSeen {
		t.Fatalf("the draws are %+v, moved %v; want two of eight allotments", v.Draws, v.Moved)
	}
	// The seed alone gives the arms again.
	pieces := make([]design.Piece, len(v.Cuts))
	for i, c := range v.Cuts {
		pieces[i] = design.Piece{ID: c.ID, Name: c.Name, Root: c.Name, Block: c.Pair, Kg: &c.Weighings[0].Kg, Traits: map[design.Trait]string{design.Side: c.Side}}
	}
	for i, arm := range design.DrawArms(pieces, 2, v.Draws[0].Seed).Arms {
		if want := v.Ask.Arms[arm].ID; *v.Cuts[i].ArmID != want {
			t.Errorf("%s is in arm %d, the seed says %d", v.Cuts[i].Name, *v.Cuts[i].ArmID, want)
		}
	}
	// The first draw comes back as it was, under its own seed.
	first := v.Draws[1]
	first.Arms = maps.Clone(first.Arms) // v is read into again
	odalys.must("POST", at("/trials/%d/allotment/back", v.ID), match.BackInput{DrawID: first.ID}, 201, &v)
	if len(v.Draws) != 3 || v.Draws[0].Seed != first.Seed || len(v.Moved) != 0 {
		t.Errorf("brought back, the draws are %+v, moved %v", v.Draws, v.Moved)
	}
	for _, c := range v.Cuts {
		if *c.ArmID != first.Arms[c.ID] {
			t.Errorf("%s is in arm %d, the first draw said %d", c.Name, *c.ArmID, first.Arms[c.ID])
		}
	}
	odalys.refused("POST", at("/trials/%d/allotment/back", v.ID), match.BackInput{DrawID: 999}, 422, "no draw of this trial")
	moved := v.Cuts[0]
	other := v.Ask.Arms[0].ID + v.Ask.Arms[1].ID - *moved.ArmID
	odalys.must("PUT", at("/trials/%d/arms", v.ID), match.ArmsInput{Moves: []design.Move{{CutID: moved.ID, ArmID: other}}}, 200, &v)
	if len(v.Moved) != 1 || v.Moved[0] != moved.Name {
		t.Errorf("moved since the draw: %v, want %s", v.Moved, moved.Name)
	}
	var changes int
	if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from changes where subject = 'cut' and subject_id = $1 and why = 'moved by hand'", moved.ID).Scan(&changes); err != nil || changes != 1 {
		t.Errorf("the move stands %d times in the changes (%v)", changes, err)
	}
	odalys.refused("PUT", at("/trials/%d/arms", v.ID), match.ArmsInput{Moves: []design.Move{{CutID: moved.ID, ArmID: 999}}}, 422, "not of this trial")
	odalys.refused("PUT", at("/trials/%d/arms", v.ID), match.ArmsInput{Moves: []design.Move{{CutID: 999, ArmID: other}}}, 422, "not of this trial")
	odalys.must("POST", at("/trials/%d/cuts", v.ID), match.CutInput{Name: "9L"}, 201, &v)
	odalys.refused("POST", at("/trials/%d/allotment/back", v.ID), match.BackInput{DrawID: first.ID}, 409, "others than at that draw")
	odalys.must("POST", at("/trials"), lambAsk(), 201, &v)
	odalys.refused("POST", at("/trials/%d/allotment", v.ID), match.DrawInput{}, 422, "0 cuts for 2 arms")
}

func TestArmsCanBeTakenOutAndPutIn(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	asked := v.Ask
	asked.Arms = append(asked.Arms, trial.Arm{Tag: "PAN", Levels: trial.Levels("covered pan")})
	odalys.must("PUT", at("/trials/%d/ask", v.ID), asked, 200, &v)
	pan := v.Ask.Arms[2].ID
	if pan == 0 || v.Ask.Arms[0].ID != asked.Arms[0].ID {
		t.Fatalf("the arms are %+v, want the old ones kept and a new one", v.Ask.Arms)
	}
	cut := v.Cuts[0]
	odalys.must("PUT", at("/trials/%d/arms", v.ID), match.ArmsInput{Moves: []design.Move{{CutID: cut.ID, ArmID: pan}}}, 200, &v)
	asked = v.Ask
	asked.Arms = []trial.Arm{asked.Arms[1], asked.Arms[0]} // PAN out, the others the other way round
	odalys.must("PUT", at("/trials/%d/ask", v.ID), asked, 200, &v)
	if v.Cuts[0].ArmID != nil || v.Ask.Arms[0].Tag != "BARE" || len(v.Ask.Arms) != 2 {
		t.Errorf("after PAN left, its cut is in arm %v and the arms are %+v", v.Cuts[0].ArmID, v.Ask.Arms)
	}
	if f := v.Findings; !strings.Contains(fmt.Sprint(f), "1 cut without an arm") {
		t.Errorf("the bench does not say that the cut lost its arm: %+v", f)
	}
	asked.Arms[0].ID = 4711
	odalys.refused("PUT", at("/trials/%d/ask", v.ID), asked, 404, "")
}

func TestPlacesHoldOneCutEach(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 4)
	run := v.Cooks[0].Runs[0]
	if run.GrateColumns != 4 || run.GrateRows != 3 {
		t.Fatalf("the grate has %d by %d places", run.GrateColumns, run.GrateRows)
	}
	place := func(i int, position string) design.GratePosition {
		return design.GratePosition{CutID: v.Cuts[i].ID, PitRunID: run.ID, Position: position}
	}
	odalys.must("PUT", at("/trials/%d/positions", v.ID), match.PositionsInput{Positions: []design.GratePosition{place(0, "a1"), place(1, "B1")}}, 200, &v)
	if v.Cuts[0].Placement.Position != "A1" {
		t.Errorf("a1 is kept as %q", v.Cuts[0].Placement.Position)
	}
	odalys.refused("PUT", at("/trials/%d/positions", v.ID), match.PositionsInput{Positions: []design.GratePosition{place(2, "A1")}}, 422, "are both at A1")
	odalys.must("PUT", at("/trials/%d/positions", v.ID), match.PositionsInput{Positions: []design.GratePosition{place(0, "B1"), place(1, "A1")}}, 200, &v)
	odalys.refused("PUT", at("/trials/%d/positions", v.ID), match.PositionsInput{Positions: []design.GratePosition{{CutID: v.Cuts[0].ID,
		PitRunID: 999}}}, 422, "no such pit")
	odalys.must("POST", at("/trials/%d/positions/draw", v.ID), match.DrawInput{}, 201, &v)
	taken := map[string]bool{}
	for _, c := range v.Cuts {
		taken[c.Placement.Position] = true
	}
	if len(taken) != 8 {
		t.Errorf("eight cuts lie in %d places", len(taken))
	}
	for _, f := range v.Findings {
		if strings.HasPrefix(f.Key, "trait:grate") || strings.HasPrefix(f.Key, "covariate:column") {
			t.Errorf("drawn places have %s", f.Text)
		}
	}
	odalys.must("PUT", at("/pits/%d/grate", run.PitID), pits.GrateInput{Columns: 2, Rows: 2}, 200, nil)
	odalys.refused("POST", at("/trials/%d/positions/draw", v.ID), match.DrawInput{}, 422, "do not fit the grates")
	odalys.refused("PUT", at("/pits/%d/grate", run.PitID), pits.GrateInput{Columns: 0, Rows: 2}, 422, "columns")
}

func TestLooseCutsAreMatched(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	var v trials.TrialView
	odalys.must("POST", at("/trials"), lambAsk(), 201, &v)
	for i, weight := range []string{"3 kg", "2 kg", "3.05 kg", "2.02 kg", "9 kg"} {
		odalys.must("POST", at("/trials/%d/cuts", v.ID), match.CutInput{Name: string(rune('A' + i))}, 201, &v)
		odalys.weigh(v.Cuts[i].ID, "trimmed", weight)
	}
	odalys.must("POST", at("/trials/%d/blocks", v.ID), match.DrawInput{}, 201, &v)
	block := map[string]string{}
	for _, c := range v.Cuts {
		block[c.Name] = c.Pair
	}
	if block["A"] == "" || block["A"] != block["C"] || block["B"] != block["D"] || block["A"] == block["B"] || block["E"] != "" {
		t.Errorf("the blocks are %v, want A with C, B with D, and E left out", block)
	}
	odalys.refused("POST", at("/trials/%d/blocks", v.ID), match.DrawInput{}, 422, "1 cuts without a block")
}

func TestDividedCutsAreOneOrManyUnits(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	whole := v.Cuts[0]
	two := []match.PartInput{{Name: "1La"}, {Name: "1Lb", Section: "blade"}}
	odalys.refused("POST", at("/cuts/%d/divide", whole.ID), match.DivideInput{Parts: two[:1]}, 422, "parts")
	odalys.refused("POST", at("/cuts/%d/divide", whole.ID), match.DivideInput{Parts: []match.PartInput{{Name: "1R"}, {Name: "x"}}}, 422, "name of another cut")
	odalys.must("POST", at("/cuts/%d/divide", whole.ID), match.DivideInput{Parts: two}, 201, &v)
	if len(v.Cuts) != 3 || len(v.Divided) != 1 || v.Divided[0].ID != whole.ID || v.Steps[1].Done {
		t.Fatalf("%d pieces and %d divided; want three and the whole", len(v.Cuts), len(v.Divided))
	}
	var part trials.CutView
	for _, c := range v.Cuts {
		if c.Name == "1Lb" {
			part = c
		}
	}
	if part.Pair != "1L" || part.Section != "blade" || part.ArmID != nil || *part.ParentID != whole.ID {
		t.Errorf("the part is %+v", part.Cut)
	}
	odalys.refused("POST", at("/cuts/%d/divide", part.ID), match.DivideInput{Parts: []match.PartInput{{Name: "p"}, {Name: "q"}}}, 422, "is a part already")
	// Parts taken out give the whole back.
	for _, c := range v.Cuts {
		if c.ParentID != nil {
			odalys.must("POST", at("/cuts/%d/void", c.ID), barn.Why{Why: "not divided after all"}, 200, &v)
		}
	}
	if len(v.Cuts) != 2 || len(v.Divided) != 0 {
		t.Errorf("after the parts left, %d pieces hang and %d are divided", len(v.Cuts), len(v.Divided))
	}
}

func TestSizesAndMeasuresAreKeptAsTyped(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	asked := lambAsk()
	asked.Outcomes = append(asked.Outcomes, trial.Chosen{SmallestDifference: 3, Own: &trial.OwnMeasure{Name: "bone pull", Unit: "mm",
		Better: trial.Up, SD: 4}}, trial.Chosen{Key: trial.HandsOn, SmallestDifference: 15})
	v := odalys.trialOf(asked, 2)
	cut := v.Cuts[0].ID
	odalys.must("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "thickness", Typed: "2 7/8 in"}, 200, &v)
	odalys.must("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "thickness", Typed: "3 in"}, 200, &v)
	odalys.must("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "cold", Typed: "38 F"}, 200, &v)
	if d := v.Cuts[0].Dimensions; len(d) != 2 || d[0].Typed != "3 in" || math.Abs(d[0].Value-0.0762) > 1e-9 {
		t.Errorf("the sizes are %+v, want 3 in alone and the cold", d)
	}
	odalys.must("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "thickness"}, 200, &v)
	if d := v.Cuts[0].Dimensions; len(d) != 1 {
		t.Errorf("a size taken back is still there: %+v", d)
	}
	odalys.refused("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "thickness", Typed: "thick"}, 422, "not a length")
	odalys.refused("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "charm", Typed: "1 in"}, 422, "kind")
	for i, c := range v.Cuts {
		value := 10 + 5*float64(*c.ArmID-v.Ask.Arms[0].ID) + 0.1*float64(i)
		odalys.must("PUT", at("/cuts/%d/measures", c.ID), rest.MeasureInput{Key: "own bone pull", Value: &value}, 200, &v)
	}
	odalys.cooked(v, "203 F")
	odalys.refused("PUT", at("/cuts/%d/measures", cut), rest.MeasureInput{Key: "juiciness"}, 422, "not typed for each cut")
	odalys.must("POST", at("/trials/%d/end", v.ID), barn.Why{Why: "measured only"}, 200, &v)
	var r settle.Result
	odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, &r)
	own := r.Rows[6]
	if own.Outcome.Name != "bone pull" || own.Pairs[0].Cooks.Estimate == nil || *own.Pairs[0].Cooks.Winner != 1 {
		t.Errorf("the own measure is judged as %+v", own)
	}
	if !strings.Contains(fmt.Sprint(r.Limits), "not drawn by lot") {
		t.Errorf("the verdict forgets that the arms were chosen by hand: %v", r.Limits)
	}
	odalys.refused("PUT", at("/cuts/%d/dimensions", cut), match.DimensionInput{Kind: "thickness", Typed: "3 in"}, 409, "codes are open")
}

func TestFindingsAreKeptWithAWord(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	odalys.refused("POST", at("/trials/%d/accepted", v.ID), match.AcceptInput{Key: "nonsense", Why: "so"}, 422, "does not stand in the way")
	odalys.refused("POST", at("/trials/%d/accepted", v.ID), match.AcceptInput{Key: "not-drawn"}, 422, "say why")
	odalys.must("POST", at("/trials/%d/accepted", v.ID), match.AcceptInput{Key: "not-drawn", Why: "sorted at the butcher's"}, 201, &v)
	odalys.must("POST", at("/trials/%d/accepted", v.ID), match.AcceptInput{Key: "not-drawn", Why: "sorted by the butcher"}, 201, &v)
	if len(v.Accepted) != 1 || v.Accepted[0].Why != "sorted by the butcher" || v.Accepted[0].By != "Odalys" {
		t.Fatalf("kept are %+v", v.Accepted)
	}
	odalys.must("POST", at("/trials/%d/end", v.ID), barn.Why{Why: "read early"}, 200, nil)
	var r settle.Result
	odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, &r)
	if strings.Contains(fmt.Sprint(r.Limits), "Known before the fire") {
		t.Errorf("no cut may count, and yet limits speak of arms: %v", r.Limits)
	}
	odalys.refused("POST", at("/accepted/%d/void", v.Accepted[0].ID), barn.Why{Why: "no longer so"}, 409, "codes are open")
}

func TestThreeArmsAreSettledPairByPair(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	asked := lambAsk()
	asked.Arms = append(asked.Arms, trial.Arm{Tag: "PAN", Levels: trial.Levels("covered pan")})
	asked.Outcomes = []trial.Chosen{{Key: trial.CookedYield, SmallestDifference: 2}}
	var v trials.TrialView
	odalys.must("POST", at("/trials"), asked, 201, &v)
	for i := range 12 {
		arm := i % 3
		odalys.must("POST", at("/trials/%d/cuts", v.ID), match.CutInput{Name: fmt.Sprint("c", i), Pair: fmt.Sprint(i / 3), ArmID: &v.Ask.Arms[arm].ID}, 201, nil)
	}
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &v)
	for i, c := range v.Cuts {
		arm := v.Ask.ArmPlaces()[*c.ArmID]
		odalys.weigh(c.ID, "trimmed", "3 kg")
		odalys.weigh(c.ID, "rested", fmt.Sprintf("%.3f kg", 1.5+0.2*float64(arm)+0.01*float64((i*7)%5)))
	}
	odalys.cooked(odalys.laid(v), "203 F")
	odalys.must("POST", at("/trials/%d/end", v.ID), barn.Why{Why: "weighed only"}, 200, nil)
	var r settle.Result
	odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, &r)
	if len(r.Rows[0].Pairs) != 3 || *r.Rows[0].Pairs[1].Cooks.Winner != 2 ||
		!strings.Contains(r.Headline, "PAN is the clear winner on cooked yield in this cook.") {
		t.Errorf("three arms read %q: %+v", r.Headline, r.Rows[0].Pairs)
	}
}
