package server

import (
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/design"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/paste"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/store"
)

// exempt are the routes that change something, and no trial's record.
var exempt = map[string]string{
	"POST /api/trials": "a new trial", "POST /api/trials/:id/plan": "works a draft out", "POST /api/trials/:id/phases": "works a guess out",
	"POST /api/design/review":    "reads an ask",
	"POST /api/trials/:id/weigh": "reads a verdict", "POST /api/trials/:id/simulate": "draws, and keeps nothing", "POST /api/trials/:id/next": "a new trial",
	"POST /api/book/versions": "the book's", "POST /api/book/versions/:id/fail": "the book's", "POST /api/book/versions/:id/sign": "the book's",
	"POST /api/book/versions/:id/unsign": "the book's", "POST /api/book/versions/:id/cook": "a new trial", "POST /api/book/cards/:id/reopen": "a new trial",
	"POST /api/cooks/:id/logs/preview": "reads a file", "POST /api/calc/:name": "calculates", "POST /api/calc/:name/working": "calculates",
	"POST /api/taste/:token/samples/:code/seal": "a ballot, guarded at its plate", "POST /api/taste/:token/told": "a ballot, guarded at its plate",
	"POST /api/taste/:token/answer": "a ballot, guarded at its plate", "POST /api/taste/:token/consent": "a ballot, guarded at its plate",
	"POST /api/taste/:token/open": "binds a phone", "POST /api/join": "guarded at its door",
	"POST /api/trials/:id/share":   "lets tasters read, once the codes are open",
	"POST /api/cooks/:id/rehearse": "makes a copy", "PUT /api/cooks/:id/rate": "of a rehearsal", "POST /api/cooks/:id/stop": "of a rehearsal",
	"POST /api/alarms/:id/seen": "of the watch",
	"POST /api/pits":            "the barn's", "POST /api/holders": "the barn's", "PUT /api/pits/:id/grate": "the barn's",
	"PUT /api/pits/:id/burn": "the barn's", "PUT /api/pits/:id/set-up": "the barn's", "PUT /api/holders/:id": "the barn's",
	"POST /api/holders/:id/calibrations": "the barn's", "POST /api/calibrations/:id/save": "the barn's",
	"POST /api/calibrations/:id/void": "the barn's",
	"POST /api/ingredients":           "the pantry's", "PUT /api/ingredients/:id": "the pantry's", "POST /api/ingredients/:id/retire": "the pantry's",
	"POST /api/recipes": "the pantry's", "PUT /api/recipes/:id": "the pantry's", "POST /api/recipes/:id/retire": "the pantry's",
	"POST /api/catalogue/factors": "the catalogue's", "POST /api/catalogue/factors/:id/levels": "the catalogue's",
	"POST /api/catalogue/factors/:id/merge": "the catalogue's", "POST /api/catalogue/factors/:id/retire": "the catalogue's",
	"POST /api/catalogue/levels/:id/retire": "the catalogue's", "POST /api/catalogue/levels/:id/merge": "the catalogue's",
	"PUT /api/catalogue/levels/:id/key": "the catalogue's", "PUT /api/catalogue/products/:id": "the catalogue's",
	"POST /api/families": "the cook model's", "POST /api/families/:key/retire": "the cook model's", "POST /api/devices": "a device",
	"POST /api/devices/:id/token": "a device", "POST /api/devices/:id/retire": "a device", "POST /api/devices/readings": "a device's readings",
	"POST /api/session": "signs in", "DELETE /api/session": "signs out", "POST /api/first-run": "the barn's", "POST /api/people": "the crew's",
	"PUT /api/people/:id": "the crew's", "POST /api/people/:id/link": "the crew's",
	"POST /api/people/:id/leave": "the crew's", "POST /api/people/:id/sign-out": "the crew's", "POST /api/guests/:id/forget": "a guest's",
	"POST /api/enter": "sets a password", "POST /api/enter/look": "reads a link", "POST /api/passkeys": "signs in",
	"POST /api/passkeys/begin": "signs in",
	"PUT /api/me/units":        "one's own", "PUT /api/me/password": "one's own", "POST /api/me/sign-out": "one's own",
	"POST /api/me/passkeys":       "one's own",
	"POST /api/me/passkeys/begin": "one's own", "DELETE /api/me/passkeys/:id": "one's own",
	"POST /api/records/backups": "a backup", "PUT /api/records/thinning": "the barn's", "POST /api/records/tokens": "a script's",
	"DELETE /api/records/tokens/:id": "a script's", "POST /api/records/look": "reads a file", "POST /api/records/trials": "a new trial",
	"POST /api/notebook": "a new trial",
	"PUT /api/barn":      "the barn's", "POST /api/safety-lines": "the barn's",
}

// TestEveryChangeOfARevealedTrialGoesThroughTheGuard takes every route that changes
// something from the router: each is guarded or exempt by name, and what is guarded as
// design or layout answers 409 once the codes are open, whatever it is sent.
func TestEveryChangeOfARevealedTrialGoesThroughTheGuard(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	b.join(odalys, "Tove", store.Crew)
	v := odalys.cooked(odalys.trialOf(lambAsk(), 1), "203 F")
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: "Ife"}, 201, &v)
	odalys.weigh(v.Cuts[0].ID, "off", "3 lb")
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/accepted", v.ID), match.AcceptInput{Key: v.Findings[0].Key, Why: "only these are at hand"}, 201, &v)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/end", v.ID), barn.Why{Why: "the supper was called off"}, 200, &v)
	cut, cook, press := v.Cuts[0].ID, v.Cooks[0], v.Events[0]
	why := barn.Why{Why: "it was wrong"}
	now := time.Now().Add(-time.Minute)
	body := map[string]any{
		"POST /api/trials/:id/cooks": plan.PlanInput{ServeAt: time.Now(),
			Runs: []plan.RunInput{{PitID: cook.Runs[0].PitID, SetPoint: "250 F"}}},
		"POST /api/trials/:id/burns":    plan.BurnsInput{PitID: cook.Runs[0].PitID, SetPoint: "250 F", LitAt: time.Now(), Hours: 2, Each: 1},
		"PUT /api/cooks/:id/burn":       plan.PlannedBurn{PitID: cook.Runs[0].PitID, SetPoint: "250 F", LitAt: time.Now(), Hours: 2},
		"POST /api/cooks/:id/burn/void": why,
		"PUT /api/cooks/:id/meal":       plan.MealInput{ServeAt: time.Now().Add(time.Hour)},
		"PUT /api/cooks/:id": plan.PlanInput{ServeAt: time.Now(),
			Runs: []plan.RunInput{{PitID: cook.Runs[0].PitID, SetPoint: "250 F"}}},
		"POST /api/trials/:id/cuts": match.CutInput{Name: "9L"}, "PUT /api/cuts/:id": match.CutInput{Name: "9L"},
		"POST /api/cuts/:id/void":               why,
		"POST /api/cooks/:id/due/later":         plan.Later{Task: "wood 1", Minutes: 5},
		"PUT /api/trials/:id/meat":              gate.MeatInput{TrialMeat: meat(safety.Poultry, safety.Intact)},
		"POST /api/trials/:id/gate-reason":      reasonFor("so it is", v.Cuts[0].ID),
		"POST /api/trials/:id/gate-reason/undo": gate.CutsInput{Cuts: []int64{v.Cuts[0].ID}},
		"POST /api/trials/:id/allotment":        match.DrawInput{Why: "again"}, "POST /api/trials/:id/allotment/back": match.BackInput{DrawID: 1},
		"PUT /api/trials/:id/arms": match.ArmsInput{Moves: []design.Move{}}, "POST /api/trials/:id/blocks": match.DrawInput{},
		"PUT /api/trials/:id/positions": match.PositionsInput{Positions: []design.GratePosition{}}, "POST /api/trials/:id/positions/draw": match.DrawInput{},
		"POST /api/cuts/:id/divide":    match.DivideInput{Parts: []match.PartInput{{Name: "a"}, {Name: "b"}}},
		"PUT /api/cuts/:id/dimensions": match.DimensionInput{Kind: "thickness", Typed: "3 in"}, "POST /api/trials/:id/accepted": match.AcceptInput{Key: "x",
			Why: "so it is"},
		"POST /api/accepted/:id/void": why, "PUT /api/trials/:id/outline": v.Outline, "POST /api/trials/:id/tasters": table.SeatInput{Name: "Joren"},
		"POST /api/tasters/:id/free": why, "POST /api/trials/:id/door": barn.None{}, "POST /api/trials/:id/door/shut": barn.None{},
		"POST /api/tasters/:id/void": why, "POST /api/trials/:id/flights": table.FlightInput{},
		"POST /api/flights/:id/void": why, "POST /api/trials/:id/reveal": table.RevealInput{Reason: "again so"},
		"POST /api/trials/:id/end": why, "PUT /api/trials/:id/ask": v.Ask,
		"POST /api/trials/:id/runs/swap":  match.SwapInput{Runs: []int64{1, 2}},
		"POST /api/trials/:id/paste/cuts": paste.Pasted{Text: "cut\n9L", Keep: true},
		"POST /api/trials/:id/looks/name": table.LookInput{CookID: cook.ID}, "POST /api/trials/:id/looks": table.LookInput{CookID: cook.ID},
	}
	ids := map[string]int64{"trial": v.ID, "cut": cut, "cook": cook.ID, "taster": v.Tasters[0].ID, "accepted finding": v.Accepted[0].ID}
	srv, _ := New(servicesOf(b.store), Options{})
	t.Cleanup(srv.Close)
	seen := 0
	for _, r := range srv.engine.Routes() {
		name := r.Method + " " + r.Path
		if r.Method == http.MethodGet || r.Method == http.MethodHead || !strings.HasPrefix(r.Path, "/api/") {
			continue
		}
		d, guarded := srv.doors[name]
		if _, ok := exempt[name]; ok == guarded {
			t.Errorf("%s is guarded: %v, exempt: %v; want one of both", name, guarded, ok)
		}
		if !guarded || d.Kind == barn.Record || d.Kind == barn.Undo || d.Of == barn.Flight {
			continue
		}
		in, ok := body[name]
		if !ok {
			t.Errorf("%s is not tried on a revealed trial", name)
			continue
		}
		seen++
		odalys.refused(r.Method, strings.Replace(r.Path, ":id", fmt.Sprint(ids[string(d.Of)]), 1), in, 409, "codes are open")
	}
	if seen < 20 {
		t.Errorf("only %d routes were tried", seen)
	}

	// What was seen and done is still taken, and corrections with a reason.
	odalys.must("POST", fmt.Sprintf("/api/cuts/%d/weighings", v.Cuts[1].ID), map[string]string{"stage": "off", "weight": "3 lb", "resolution": "1/4 oz"}, 201, nil)
	odalys.refused("POST", fmt.Sprintf("/api/cuts/%d/weighings", cut), map[string]string{"stage": "off", "weight": "3 lb 1 oz",
		"resolution": "1/4 oz"}, 409, "needs a reason")
	odalys.must("POST", fmt.Sprintf("/api/cuts/%d/weighings", cut), map[string]string{"stage": "off", "weight": "3 lb 1 oz",
		"resolution": "1/4 oz", "why": "the tare was on"}, 201, nil)
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", cook.ID), fire.EventInput{Act: logbook.Note, At: &now, Note: "it rained",
		Press: uuid.NewString()}, 201, nil)
	to := fire.CorrectionInput{At: press.At, Detail: logbook.Detail{OutMin: 20}, Press: uuid.NewString()}
	odalys.refused("PUT", "/api/presses/"+press.Press, to, 409, "needs a reason")
	to.Why = "they stood out"
	odalys.must("PUT", "/api/presses/"+press.Press, to, 200, nil)
	var r struct {
		Limits []struct{ Text string }
		Since  struct {
			Result struct{ Limits []struct{ Text string } }
		}
	}
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &r)
	if first := fmt.Sprint(r.Limits); strings.Contains(first, "After the codes") {
		t.Errorf("what was read at the reveal changed: %s", first)
	}
	limits := fmt.Sprint(r.Since.Result.Limits)
	for _, says := range []string{"After the codes were opened Odalys weighed a cut: the tare was on.", "Odalys logged an act.",
		"Odalys corrected an entry: they stood out."} {
		if !strings.Contains(limits, says) {
			t.Errorf("the verdict does not say %q: %s", says, limits)
		}
	}
	var versions []store.VerdictVersion
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/verdicts", v.ID), nil, 200, &versions)
	if len(versions) == 0 {
		t.Error("the verdict read at the reveal is not kept")
	}
}

// TestUnderTheFireOnlyThePitmasterMovesCuts draws and moves before and after a cut is on.
func TestUnderTheFireOnlyThePitmasterMovesCuts(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, _ := b.join(odalys, "Tove", store.Crew, store.TrustArms)
	v := odalys.trialOf(lambAsk(), 2)
	draw := fmt.Sprintf("/api/trials/%d/allotment", v.ID)
	tove.must("POST", draw, match.DrawInput{}, 201, &v)
	odalys.log(v, logbook.On, 60, logbook.Detail{}, v.Cuts[0].ID)
	arms := func() (out []int64) {
		odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
		for _, c := range v.Cuts {
			out = append(out, *c.ArmID)
		}
		return out
	}
	before := arms()
	other := v.Ask.Arms[0].ID
	if before[1] == other {
		other = v.Ask.Arms[1].ID
	}
	for _, h := range []hand{tove, odalys} {
		h.refused("POST", draw, match.DrawInput{}, 409, "A cut is on the fire")
		h.refused("PUT", fmt.Sprintf("/api/trials/%d/arms", v.ID), match.ArmsInput{Moves: []design.Move{{CutID: v.Cuts[1].ID,
			ArmID: other}}}, 409, "A cut is on the fire")
		h.refused("PUT", fmt.Sprintf("/api/cuts/%d", v.Cuts[1].ID), match.CutInput{Name: v.Cuts[1].Name, Pair: "1", ArmID: &other}, 409, "A cut is on the fire")
		h.refused("POST", fmt.Sprintf("/api/trials/%d/positions/draw", v.ID), match.DrawInput{Why: "-"}, 409, "A cut is on the fire")
	}
	tove.refused("POST", fmt.Sprintf("/api/cuts/%d/void", v.Cuts[3].ID), barn.Why{Why: "fell on the ground"}, 409, "Only the pitmaster")
	if after := arms(); !slices.Equal(before, after) {
		t.Errorf("refused draws moved cuts from %v to %v", before, after)
	}
	tove.must("PUT", fmt.Sprintf("/api/cuts/%d", v.Cuts[1].ID), match.CutInput{Name: "2X", Pair: "1", ArmID: v.Cuts[1].ArmID}, 200, nil)
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/arms", v.ID), match.ArmsInput{Moves: []design.Move{{CutID: v.Cuts[1].ID, ArmID: other}},
		Why: "the tags were swapped"}, 200, &v)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/end", v.ID), barn.Why{Why: "weighed only"}, 200, nil)
	var r struct{ Limits []struct{ Text string } }
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &r)
	if !strings.Contains(fmt.Sprint(r.Limits), "Under the fire Odalys moved cuts between arms: the tags were swapped.") {
		t.Errorf("the verdict does not name the move: %v", r.Limits)
	}
}

// TestAnErrorLosesTheWholeChange: a handler that fails after it wrote leaves nothing.
func TestAnErrorLosesTheWholeChange(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	err := barn.Within(t.Context(), b.store, barn.Change{TrialID: v.ID, Kind: barn.Design}, func(tx *store.Store, _ barn.State) error {
		if _, err := tx.AddCut(t.Context(), b.id, v.ID, store.Cut{Name: "half"}); err != nil {
			return err
		}
		return fmt.Errorf("power cut")
	})
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	if err == nil || len(v.Cuts) != 2 {
		t.Errorf("after %v %d cuts hang, want two", err, len(v.Cuts))
	}
}
