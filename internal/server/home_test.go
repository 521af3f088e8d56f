package server

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
)

func TestHomeShowsWhatIsComingAndWhomItWaitsOn(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	b.join(odalys, "Bram", "crew")
	var h trials.Home
	odalys.must("GET", "/api/home", nil, 200, &h)
	if h.Air != nil || len(h.Coming) != 0 || len(h.Waits) != 0 {
		t.Errorf("an empty barn has %+v before it", h)
	}
	serve := time.Now().Add(30 * time.Hour)
	first := odalys.trialOf(lambAsk(), 1)
	plan := func(v trials.TrialView, set string) {
		in := plan.PlanInput{ServeAt: serve, Runs: []plan.RunInput{{ID: v.Cooks[0].Runs[0].ID, PitID: first.Cooks[0].Runs[0].PitID, SetPoint: set}}}
		for _, c := range v.Cuts {
			in.Placements = append(in.Placements, plan.PlacementInput{CutID: c.ID})
		}
		odalys.must("PUT", fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID), in, 200, nil)
	}
	plan(first, "250 F")
	second := odalys.trialOf(lambAsk(), 1)
	plan(second, "275 F")
	var asked trials.TrialView
	odalys.must("POST", "/api/trials", lambAsk(), 201, &asked)
	at := time.Now()
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", first.Cooks[0].ID),
		fire.EventInput{Act: logbook.Note, At: &at, Detail: logbook.Detail{Air: "41 F", Wind: "breeze"}, Press: uuid.NewString()}, 201, nil)

	h = trials.Home{}
	odalys.must("GET", "/api/home", nil, 200, &h)
	if h.Air == nil || h.Air.C != 5 || h.Air.Wind != "breeze" || h.Air.By != "Odalys" {
		t.Errorf("the air is noted as %+v", h.Air)
	}
	if len(h.Coming) != 2 || h.Coming[0].Cuts != 2 || len(h.Coming[0].Pits) != 1 || !slices.Equal(h.Coming[0].Shares, h.Coming[0].Pits) {
		t.Errorf("two cooks that want one pit at two heats are %+v", h.Coming)
	}
	if len(h.Waits) != 3 {
		t.Fatalf("three open questions wait as %+v", h.Waits)
	}
	for _, w := range h.Waits {
		if w.TrialID == asked.ID && !slices.Equal(w.On, []string{"Odalys", "Bram"}) {
			t.Errorf("a question without cuts waits on %v", w.On)
		}
	}
}
