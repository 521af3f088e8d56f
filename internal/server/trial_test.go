package server

import (
	"bytes"
	"fmt"
	"io"
	"math"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	coregate "whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

func (h hand) clock(s string) time.Time {
	t, err := time.Parse(time.RFC3339, s)
	if err != nil {
		h.t.Fatal(err)
	}
	return t
}

func (h hand) press(v trials.TrialView, act logbook.Act, at string, cuts ...int64) (int, string) {
	h.t.Helper()
	when := h.clock(at)
	e := fire.EventInput{Act: act, At: &when, CutIDs: cuts, Press: uuid.NewString()}
	if act.OfPit() {
		e.CutIDs, e.PitRunIDs = nil, []int64{v.Cooks[0].Runs[0].ID}
	}
	status, p := h.do("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), e, nil)
	return status, fmt.Sprintf("%+v", p)
}

func TestAccountsAndRights(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	stranger := b.hand()
	stranger.refused("GET", "/api/trials", nil, 401, "not signed in")
	stranger.refused("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: "wrong password"}, 401, "Wrong name or password")
	stranger.refused("POST", "/api/session", people.SignIn{SignIn: "nobody", Password: "wrong password"}, 401, "Wrong name or password")
	stranger.refused("POST", "/api/first-run", people.FirstRun{Barn: "Another", TimeZone: "UTC", Name: "X", SignIn: "x",
		Password: password}, 409, "pitmaster already")
	odalys.refused("POST", "/api/people", people.Place{Name: "Bram", Role: "king"}, 422, "role")
	bram, _ := b.join(odalys, "Bram", store.Crew)
	bram.refused("POST", "/api/people", people.Place{Name: "Tove", Role: store.Crew}, 403, "Only a pitmaster")
	bram.refused("POST", "/api/trials", lambAsk(), 403, "Only a pitmaster")
	odalys.refused("PUT", "/api/barn", store.Barn{Name: "White Barn", TimeZone: "Middle/Earth"}, 422, "time_zone")
	odalys.must("PUT", "/api/barn", store.Barn{Name: "White Barn", TimeZone: "Europe/Oslo", ElevationM: 300}, 204, nil)
	bram.must("DELETE", "/api/session", nil, 204, nil)
	bram.refused("GET", "/api/trials", nil, 401, "not signed in")
	for range 10 {
		stranger.do("POST", "/api/session", people.SignIn{SignIn: "tove", Password: "guess guess"}, nil)
	}
	stranger.refused("POST", "/api/session", people.SignIn{SignIn: "tove", Password: "guess guess"}, 429, "Too many tries")
}

func TestAnswersCarrySecurityHeadersAndNoLists(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	var v trials.TrialView
	odalys.must("POST", "/api/trials", trial.Ask{Question: "q", Product: "p", Cut: "c", Species: "fish", Handling: "intact", Factors: []trial.Factor{{Name: "f", Kind: trial.Categorical, SetOn: trial.UnitCut}}, Arms: []trial.Arm{{Tag: "AA", Levels: trial.Levels("a")}, {Tag: "BB", Levels: trial.Levels("b")}}}, 201, &v)
	res, err := odalys.client.Get(fmt.Sprintf("%s/api/trials/%d", odalys.url, v.ID))
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(res.Body)
	for _, list := range []string{"cuts", "cooks", "events", "imports", "tasters", "flights", "ballots", "findings", "accepted", "draws", "moved", "divided", "held", "factors", "contexts", "outcomes", "allergens"} {
		if bytes.Contains(text, []byte(`"`+list+`":null`)) {
			t.Errorf("%s is null where the types say a list", list)
		}
	}
	if csp := res.Header.Get("Content-Security-Policy"); !strings.Contains(csp, "default-src 'self'") || strings.Contains(csp, "script-src") {
		t.Errorf("the content policy is %q", csp)
	}
	req, _ := http.NewRequest("POST", odalys.url+"/api/trials", strings.NewReader("{}"))
	req.Header.Set("Origin", "http://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	cross, err := odalys.client.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	cross.Body.Close()
	if cross.StatusCode != http.StatusForbidden {
		t.Errorf("a request from another site was answered %d", cross.StatusCode)
	}
}

func TestWrongInputIsRefusedAndLosesNothing(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	cut := v.Cuts[0]
	weighings := fmt.Sprintf("/api/cuts/%d/weighings", cut.ID)
	weigh := func(stage, weight, resolution string) map[string]string {
		return map[string]string{"stage": stage, "weight": weight, "resolution": resolution}
	}
	for _, c := range []struct {
		method, path string
		body         any
		status       int
		words        string
	}{
		{"POST", weighings, weigh("off", "-2 lb", "1 g"), 422, "more than zero"},
		{"POST", weighings, weigh("off", "6 lb 19 oz", "1 g"), 422, "7 lb 3 oz"},
		{"POST", weighings, weigh("off", "9 lb", "1 g"), 422, "more than"},
		{"POST", weighings, weigh("off", "10 g", "1 oz"), 422, "cannot weigh"},
		{"POST", weighings, weigh("off", "3 lb", "1 lb"), 422, "too coarse"},
		{"POST", weighings, weigh("sliced", "1 lb", "1 g"), 422, "not a stage"},
		{"POST", weighings, map[string]any{"stage": "off", "weight": 7}, 422, "weight"},
		{"POST", weighings, map[string]any{"stage": "off", "wieght": "7 lb"}, 422, "wieght"},
		{"POST", fmt.Sprintf("/api/trials/%d/cuts", v.ID), match.CutInput{Name: "1l"}, 422, "there is a cut"},
		{"POST", fmt.Sprintf("/api/trials/%d/cuts", v.ID), match.CutInput{Name: ""}, 422, "name"},
		{"PUT", fmt.Sprintf("/api/cuts/%d", cut.ID), match.CutInput{Name: "2L"}, 422, "there is a cut"},
		{"POST", "/api/trials/999/cuts", match.CutInput{Name: "9L"}, 404, "no such thing"},
		{"GET", "/api/trials/banana", nil, 400, "address"},
		{"POST", fmt.Sprintf("/api/trials/%d/cooks", v.ID), plan.PlanInput{}, 422, "serve_at"},
		{"PUT", fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID), plan.PlanInput{ServeAt: time.Now(),
			Runs: []plan.RunInput{{PitID: 99, SetPoint: "hot"}}, Placements: []plan.PlacementInput{{CutID: 99, Run: 7}}}, 422, "set_point"},
		{"POST", fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), reasonFor("-", cut.ID), 422, "three letters"},
		{"POST", "/api/pending-changes/99/sign", gate.SignInput{Yes: true}, 404, "no such thing"},
		{"GET", "/api/nothing", nil, 404, "nothing at this address"},
	} {
		odalys.refused(c.method, c.path, c.body, c.status, c.words)
	}
	var after trials.TrialView
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &after)
	if len(after.Cuts) != 4 || len(after.Cuts[0].Weighings) != 1 || after.Cuts[0].Weighings[0].Typed != "6 lb 3 1/2 oz" {
		t.Errorf("after the refusals the trial holds %d cuts and %+v", len(after.Cuts), after.Cuts[0].Weighings)
	}
}

func TestEventsKeepTheirOrder(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	a := v.Cuts[0].ID
	for _, c := range []struct {
		act    logbook.Act
		at     string
		status int
		words  string
	}{
		{logbook.Lit, "2026-09-19T11:00:00Z", 201, ""},
		{logbook.On, "2026-09-19T12:00:00Z", 201, ""},
		{logbook.On, "2026-09-19T12:30:00Z", 422, "on since"},
		{logbook.Pull, "2026-09-19T11:30:00Z", 422, "not before"},
		{logbook.Pull, "2099-09-19T11:30:00Z", 422, "still to come"},
		{logbook.Wrap, "2026-09-19T15:00:00Z", 201, ""},
		{logbook.Pull, "2026-09-19T20:00:00Z", 201, ""},
		{logbook.Spritz, "2026-09-19T21:00:00Z", 422, "pulled at"},
		{"dance", "2026-09-19T12:00:00Z", 422, "not an act"},
	} {
		if status, p := odalys.press(v, c.act, c.at, a); status != c.status || !strings.Contains(p, c.words) {
			t.Errorf("%s at %s answered %d %s, want %d with %q", c.act, c.at, status, p, c.status, c.words)
		}
	}
	if status, p := odalys.press(v, logbook.Spritz, "2026-09-19T13:00:00Z"); status != 422 || !strings.Contains(p, "nothing is picked") {
		t.Errorf("a spritz of nothing answered %d %s", status, p)
	}
	var now trials.TrialView
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &now)
	wrap := now.Events[2]
	odalys.must("PUT", fmt.Sprintf("/api/events/%d", wrap.ID), fire.CorrectionInput{At: odalys.clock("2026-09-19T16:00:00Z"), Note: "two turns",
		Press: uuid.NewString()}, 200, nil)
	now = odalys.again(now)
	odalys.must("POST", "/api/presses/"+now.Events[3].Press+"/void", barn.Why{Why: "undo"}, 200, nil)
	now = odalys.again(now)
	if len(now.Events) != 3 || now.Events[2].Note != "two turns" {
		t.Errorf("after a correction and an undo the log is %+v", now.Events)
	}
	// Nothing is deleted: the record keeps what was corrected and undone, by whom and why.
	var kept int
	if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from events where voided_by = $1 and void_reason in ('corrected', 'undo')", b.id).Scan(&kept); err != nil || kept != 2 {
		t.Errorf("the record keeps %d voided events (%v), want 2", kept, err)
	}
}

func TestAPressSentTwiceCountsOnce(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	at := odalys.clock("2026-09-19T12:00:00Z")
	e := fire.EventInput{Act: logbook.On, At: &at, CutIDs: []int64{v.Cuts[0].ID, v.Cuts[1].ID}, Press: uuid.NewString()}
	for range 2 {
		odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), e, 201, nil)
		v = odalys.again(v)
	}
	if len(v.Events) != 2 {
		t.Errorf("a press on two cuts, sent twice, made %d events", len(v.Events))
	}
}

func TestWeighingsAreSuperseded(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	c := v.Cuts[0]
	odalys.weigh(c.ID, "off", "3 lb 8 oz")
	odalys.weigh(c.ID, "off", "1.5 kg")
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	if got, want := v.Cuts[0].Account.CookLoss.Value, 1-1500/(99.5*28.349523125); math.Abs(got-want) > 1e-9 {
		t.Errorf("the cook loss is %v, want %v", got, want)
	}
	var chain int
	if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from weighings n join weighings o on o.id = n.supersedes where n.cut_id = $1 and o.void_reason = 'superseded'", c.ID).Scan(&chain); err != nil || chain != 1 {
		t.Errorf("%d weighings supersede another (%v), want 1", chain, err)
	}
	off := v.Cuts[0].Weighings[len(v.Cuts[0].Weighings)-1]
	odalys.must("POST", fmt.Sprintf("/api/weighings/%d/void", off.ID), barn.Why{Why: "wrong tag"}, 200, &v)
	if v.Cuts[0].Account.CookLoss != nil {
		t.Error("a voided weighing still gives a loss")
	}
}

func TestPoultryBelowItsMinimumStaysOffTheTable(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	_, carver := b.join(odalys, "Tove", store.Crew)
	ask := lambAsk()
	ask.Species = "poultry"
	v := odalys.trialOf(ask, 1)
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	odalys.cooked(v, "160 F")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), reasonFor("looked done", v.Cuts[0].ID), 409, "No reason opens the table")
	flight := table.FlightInput{CarverID: &carver.ID, Pieces: pieces("thigh", v.Cuts[0].ID, v.Cuts[1].ID),
		Tasters: []int64{v.Tasters[0].ID, v.Tasters[1].ID, v.Tasters[2].ID}}
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), flight, 422, "It reached {C:71.1111} (coldest found) of {C:73.8889}")
	odalys.log(v, logbook.Probe, 12, logbook.Detail{Read: "170 F", Place: coregate.ColdestFound}, v.Cuts[0].ID, v.Cuts[1].ID)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), flight, 201, &v)
}
