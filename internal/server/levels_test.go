package server

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"whitebarn/core/design"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// TestALevelSetOnPitsBelongsToTheRun: water and sand are set on whole pits. No way of moving
// cuts puts one under the other level; the set-ups of a day can be swapped.
func TestALevelSetOnPitsBelongsToTheRun(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	ask := lambAsk()
	ask.Factors = []trial.Factor{{Name: "pan", Kind: trial.Categorical, SetOn: trial.UnitPitRun}}
	ask.Arms = []trial.Arm{{Tag: "WATER", Levels: trial.Levels("water")}, {Tag: "SAND", Levels: trial.Levels("sand"), Control: true}}
	var v trials.TrialView
	odalys.must("POST", "/api/trials", ask, 201, &v)
	for i := range 8 {
		arm := v.Ask.Arms[i%2].ID
		odalys.must("POST", at("/trials/%d/cuts", v.ID), match.CutInput{Name: fmt.Sprint("c", i), Pair: fmt.Sprint(i / 2), ArmID: &arm}, 201, &v)
	}
	for _, c := range v.Cuts {
		odalys.weigh(c.ID, "trimmed", "6 lb")
	}
	var pits [2]store.Pit
	for i := range pits {
		odalys.must("POST", "/api/pits", barn.NamedInput{Name: fmt.Sprint("Kiln ", i)}, 201, &pits[i])
	}
	day := func(n int, mixed bool) plan.PlanInput {
		p := plan.PlanInput{ServeAt: time.Now().AddDate(0, 0, n+1)}
		for _, pit := range pits {
			p.Runs = append(p.Runs, plan.RunInput{PitID: pit.ID, SetPoint: "250 F"})
		}
		for i, c := range v.Cuts[4*n : 4*n+4] {
			run := i % 2
			if mixed {
				run = 0
			}
			p.Placements = append(p.Placements, plan.PlacementInput{CutID: c.ID, Run: run, Position: design.PositionName(i, 0)})
		}
		return p
	}
	odalys.refused("POST", at("/trials/%d/cooks", v.ID), day(0, true), 409, "two levels of pan")
	odalys.must("POST", at("/trials/%d/cooks", v.ID), day(0, false), 201, &v)
	odalys.must("POST", at("/trials/%d/cooks", v.ID), day(1, false), 201, &v)
	first := v.Cooks[0].Runs
	if first[0].Levels != "pan: water" || first[1].Levels != "pan: sand" {
		t.Errorf("the runs of the first day carry %q and %q", first[0].Levels, first[1].Levels)
	}
	moved := match.PositionsInput{Positions: []design.GratePosition{{CutID: v.Cuts[0].ID, PitRunID: first[1].ID, Position: "D3"}}}
	odalys.refused("PUT", at("/trials/%d/positions", v.ID), moved, 409, "two levels of pan")
	armed := match.ArmsInput{Moves: []design.Move{{CutID: v.Cuts[0].ID, ArmID: v.Ask.Arms[1].ID}}}
	odalys.refused("PUT", at("/trials/%d/arms", v.ID), armed, 409, "two levels of pan")

	tied := func() (f design.Finding) {
		for _, x := range v.Findings {
			if strings.HasPrefix(x.Key, "trait:pit") {
				f = x
			}
		}
		return f
	}
	if f := tied(); len(f.Mends) != 1 || len(f.Mends[0].Swap) != 2 {
		t.Fatalf("pits that go with the pan are found as %+v, want one mend that swaps set-ups", f)
	}
	odalys.must("POST", at("/trials/%d/runs/swap", v.ID), match.SwapInput{Runs: tied().Mends[0].Swap}, 200, nil)
	v = odalys.again(v)
	if f := tied(); f.Key != "" {
		t.Errorf("after the swap: %s", f.Text)
	}
	for _, k := range v.Cooks {
		for _, run := range k.Runs {
			for _, c := range v.Cuts {
				level := v.Ask.Arms[v.Ask.ArmPlaces()[*c.ArmID]].Levels[0].Value
				if c.Placement != nil && *c.Placement.PitRunID == run.ID && run.Levels != "pan: "+level {
					t.Errorf("%s of %s lies on a run of %q", c.Name, level, run.Levels)
				}
			}
		}
	}
	odalys.refused("POST", at("/trials/%d/runs/swap", v.ID), match.SwapInput{Runs: []int64{first[0].ID, v.Cooks[1].Runs[0].ID}}, 422, "not two pits of one cook")

	// Drawn again, arms and places change together.
	odalys.must("POST", at("/trials/%d/allotment", v.ID), match.DrawInput{}, 201, nil)
	v = odalys.again(v)
	for _, x := range v.Findings {
		if strings.HasPrefix(x.Key, "mixed-run") || strings.HasPrefix(x.Key, "trait:pit") {
			t.Errorf("after another draw: %s", x.Text)
		}
	}
}
