package server

import (
	"fmt"
	"testing"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

func TestPlanMovesCutsAndKeepsWhereTheyWere(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	k := v.Cooks[0]
	if r := k.Runs[0]; r.SetPointTyped != "250 F" || r.SetPointC < 121.11 || r.SetPointC > 121.12 {
		t.Errorf("250 F is kept as %q, %v C", r.SetPointTyped, r.SetPointC)
	}
	var drum store.Pit
	odalys.must("POST", "/api/pits", barn.NamedInput{Name: "North Drum"}, 201, &drum)
	odalys.refused("POST", "/api/pits", barn.NamedInput{Name: "North Drum"}, 422, "there is a pit")
	cook := plan.PlanInput{ServeAt: k.ServeAt, Runs: []plan.RunInput{{ID: k.Runs[0].ID, PitID: k.Runs[0].PitID, SetPoint: "250 F"},
		{PitID: drum.ID, SetPoint: "121 C", Setup: "basket low"}}}
	for i, c := range v.Cuts[:3] { // the fourth is taken out
		cook.Placements = append(cook.Placements, plan.PlacementInput{CutID: c.ID, Run: i % 2, Position: fmt.Sprint("A", i)})
	}
	path := fmt.Sprintf("/api/cooks/%d", k.ID)
	odalys.must("PUT", path, cook, 200, &v)
	odalys.must("PUT", path, withRuns(cook, v), 200, &v) // unchanged: nothing new is written
	if len(v.Cooks[0].Runs) != 2 || v.Cuts[3].Placement != nil || *v.Cuts[1].Placement.PitRunID != v.Cooks[0].Runs[1].ID || v.Cuts[1].Placement.Position != "A1" {
		t.Errorf("the cuts stand as %+v in %+v", v.Cuts, v.Cooks[0].Runs)
	}
	var superseded, out, now int
	err := b.store.Pool().QueryRow(t.Context(), `select count(*) filter (where void_reason = 'superseded'), count(*) filter (where void_reason = 'taken out of the cook'), count(*) filter (where voided_at is null)
		from placements`).Scan(&superseded, &out, &now)
	if err != nil || superseded != 3 || out != 1 || now != 3 {
		t.Errorf("the record keeps %d superseded, %d taken out and %d standing placements (%v), want 3, 1 and 3", superseded, out, now, err)
	}
	if status, p := odalys.press(v, logbook.On, "2026-09-19T12:00:00Z", v.Cuts[3].ID); status != 422 {
		t.Errorf("a cut that is not in the cook went on: %d %s", status, p)
	}
	stranger := withRuns(cook, v)
	stranger.Runs[0].ID = 999
	odalys.refused("PUT", path, stranger, 404, "no such thing")
	var changes int
	if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from changes where subject = 'cook' and person_id = $1", b.id).Scan(&changes); err != nil || changes != 2 {
		t.Errorf("the history has %d changes of the cook (%v), want 2: a refused one leaves none", changes, err)
	}
}

// withRuns gives the runs of a plan the numbers they got.
func withRuns(p plan.PlanInput, v trials.TrialView) plan.PlanInput {
	p.Runs = append([]plan.RunInput{}, p.Runs...)
	for i := range p.Runs {
		p.Runs[i].ID = v.Cooks[0].Runs[i].ID
	}
	return p
}

func TestPitActsGoToThePit(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	if status, p := odalys.press(v, logbook.Wood, "2026-09-19T12:00:00Z"); status != 201 {
		t.Fatalf("wood answered %d %s", status, p)
	}
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	if e := v.Events[0]; e.PitRunID == nil || e.CutID != nil || e.By != "Odalys" {
		t.Errorf("wood is kept as %+v, want it on the pit run alone", e)
	}
	at := odalys.clock("2026-09-19T12:00:00Z")
	odalys.refused("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID),
		fire.EventInput{Act: logbook.Wood, At: &at, PitRunIDs: []int64{999},
			Press: "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a1b11"}, 422, "not in this cook")
	odalys.refused("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), fire.EventInput{Act: logbook.Wood, At: &at, Press: "not a number"}, 422, "press")
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID),
		fire.EventInput{Act: logbook.Note, At: &at, Note: "wind from the north", Press: "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a1b12"}, 201, nil)
	v = odalys.again(v)
	if e := v.Events[len(v.Events)-1]; e.CookID == nil || e.Note != "wind from the north" {
		t.Errorf("a note of nothing is kept as %+v, want it on the cook", e)
	}
}
