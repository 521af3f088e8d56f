package server

import (
	"fmt"
	"testing"
	"time"

	"whitebarn/core/logbook"
	coreplan "whitebarn/core/plan"
	"whitebarn/internal/barn/plan"
)

func TestWhatIsDueAtACook(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	path := fmt.Sprintf("/api/cooks/%d/due", v.Cooks[0].ID)
	kinds := func() map[coreplan.Act]int {
		var d plan.DueView
		odalys.must("GET", path, nil, 200, &d)
		if len(d.People) != 1 || d.People[0] != "Odalys" {
			t.Errorf("there to do it are %v", d.People)
		}
		out := map[coreplan.Act]int{}
		for _, x := range d.Due {
			out[x.Act]++
		}
		return out
	}
	if got := kinds(); got[coreplan.ActLight] != 1 || got[coreplan.ActOn] != 2 || got[coreplan.ActPull] != 2 || got[coreplan.ActWood] != 1 {
		t.Errorf("with nothing done, due are %v", got)
	}
	if status, p := odalys.press(v, logbook.Lit, "2026-09-19T11:00:00Z"); status != 201 {
		t.Fatal(status, p)
	}
	for _, c := range v.Cuts[:2] {
		if status, p := odalys.press(v, logbook.On, "2026-09-19T12:00:00Z", c.ID); status != 201 {
			t.Fatal(status, p)
		}
	}
	got := kinds()
	if got[coreplan.ActLight] != 0 || got[coreplan.ActOn] != 2 { // one cut of each arm is still in the fridge
		t.Errorf("lit, and with half of the cuts on, due are %v", got)
	}
	for _, c := range v.Cuts[2:] {
		if status, p := odalys.press(v, logbook.On, "2026-09-19T12:05:00Z", c.ID); status != 201 {
			t.Fatal(status, p)
		}
	}
	if status, p := odalys.press(v, logbook.Wood, "2026-09-19T12:30:00Z"); status != 201 {
		t.Fatal(status, p)
	}
	var d plan.DueView
	odalys.must("GET", path, nil, 200, &d)
	for _, x := range d.Due {
		if x.Act == coreplan.ActOn {
			t.Errorf("%s is still due", x.Words)
		}
		if at := time.Date(2026, 9, 19, 13, 30, 0, 0, time.UTC); x.Act == coreplan.ActWood && (x.At.Middle.After(at) || x.At.Middle.Before(at.Add(-30*time.Minute))) {
			t.Errorf("wood is due at %s, %s", x.At.Middle, x.Why)
		}
	}
	odalys.refused("GET", "/api/cooks/999/due", nil, 404, "")
}
