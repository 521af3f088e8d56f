package server

import (
	"bytes"
	"encoding/json"
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
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
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
	b, odalys := newBarn(t)
	stranger := b.hand()
	stranger.refused("GET", "/api/trials", nil, 401, "not signed in")
	stranger.refused("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: "wrong password"}, 401, "do not go together")
	stranger.refused("POST", "/api/session", people.SignIn{SignIn: "nobody", Password: "wrong password"}, 401, "do not go together")
	stranger.refused("POST", "/api/first-run", people.FirstRun{Barn: "Another", TimeZone: "UTC", Name: "X", SignIn: "x", Password: password}, 409, "pitmaster already")
	odalys.refused("POST", "/api/people", people.NewPerson{Name: "Bram", Role: store.Crew, SignIn: "bram", Password: "short"}, 422, "too short")
	odalys.refused("POST", "/api/people", people.NewPerson{Name: "Bram", Role: "king", SignIn: "bram", Password: password}, 422, "role")
	bram, _ := b.join(odalys, "Bram", store.Crew)
	bram.refused("POST", "/api/people", people.NewPerson{Name: "Tove", Role: store.Crew, SignIn: "tove", Password: password}, 403, "Only a pitmaster")
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
		{"PUT", fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID), plan.PlanInput{ServeAt: time.Now(), Runs: []plan.RunInput{{PitID: 99, SetPoint: "hot"}}, Placements: []plan.PlacementInput{{CutID: 99, Run: 7}}}, 422, "set_point"},
		{"POST", fmt.Sprintf("/api/cuts/%d/gate-reason", cut.ID), barn.Why{Why: "-"}, 422, "three letters"},
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
	odalys.refused("PUT", fmt.Sprintf("/api/events/%d", wrap.ID), fire.CorrectionInput{At: odalys.clock("2026-09-19T11:30:00Z"),
		Press: uuid.NewString()}, 422, "it went on at")
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
	b, odalys := newBarn(t)
	_, carver := b.join(odalys, "Tove", store.Crew)
	ask := lambAsk()
	ask.Species = "poultry"
	v := odalys.trialOf(ask, 1)
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: n}, 201, &v)
	}
	odalys.cooked(v, "160 F")
	odalys.refused("POST", fmt.Sprintf("/api/cuts/%d/gate-reason", v.Cuts[0].ID), barn.Why{Why: "looked done"}, 409, "No reason opens the table")
	flight := table.FlightInput{CarverID: carver.ID, CutIDs: []int64{v.Cuts[0].ID, v.Cuts[1].ID}, Place: "thigh", Tasters: []int64{v.Tasters[0].ID, v.Tasters[1].ID, v.Tasters[2].ID}}
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), flight, 422, "It reached {C:71.1111} (coldest found) of {C:73.8889}")
	odalys.log(v, logbook.Probe, 12, logbook.Detail{Read: "170 F", Place: coregate.ColdestFound}, v.Cuts[0].ID, v.Cuts[1].ID)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), flight, 201, &v)
}

// TestBlindTasting takes a trial from the gate to the verdict, and looks at
// everything the server sends on the way.
func TestBlindTasting(t *testing.T) {
	b, odalys := newBarn(t)
	tove, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.trialOf(lambAsk(), 3)
	var ids, tasters []int64
	for _, c := range v.Cuts {
		ids = append(ids, c.ID)
		odalys.weigh(c.ID, "off", map[bool]string{true: "3 lb 9 oz", false: "3 lb 4 oz"}[c.ArmID != nil && *c.ArmID == v.Ask.Arms[0].ID])
	}
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: n}, 201, &v)
	}
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: "ife"}, 422, "sits at the table")
	for _, x := range v.Tasters {
		tasters = append(tasters, x.ID)
	}
	flights := fmt.Sprintf("/api/trials/%d/flights", v.ID)
	flight := table.FlightInput{CarverID: carver.ID, CutIDs: ids, Place: "blade", Tasters: tasters}
	odalys.refused("POST", flights, flight, 422, "never on the fire")
	odalys.refused("POST", fmt.Sprintf("/api/cuts/%d/gate-reason", ids[0]), barn.Why{Why: "looked done"}, 409, "never on the fire")
	odalys.cooked(v, "")
	odalys.refused("POST", flights, flight, 422, "No temperature was read in it")
	for _, c := range v.Cuts {
		odalys.must("POST", fmt.Sprintf("/api/cuts/%d/gate-reason", c.ID), barn.Why{Why: "probe-tender after ten hours"}, 201, nil)
	}
	oneArm := flight
	oneArm.CutIDs = []int64{ids[0], ids[3]}
	odalys.refused("POST", flights, oneArm, 422, "one arm")
	few := flight
	few.Tasters = tasters[:2]
	odalys.refused("POST", flights, few, 422, "seat 3 or more")
	nobody := flight
	nobody.CarverID = 0
	odalys.refused("POST", flights, nobody, 422, "no carver")
	odalys.must("POST", flights, flight, 201, &v)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: "Tove"}, 201, &v)

	key := fmt.Sprintf("/api/flights/%d/key", v.Flights[0].ID)
	odalys.refused("GET", key, nil, 403, "Only the carver")
	var lines []store.KeyLine
	tove.must("GET", key, nil, 200, &lines)
	odalys.refused("PUT", fmt.Sprintf("/api/cuts/%d", ids[0]), match.CutInput{Name: "1L", ArmID: &v.Ask.Arms[1].ID}, 409, "on the table")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{}, 409, "Nothing has been tasted")
	odalys.refused("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 409, "closed")

	armOf := map[string]int64{}
	for _, l := range lines {
		for _, c := range v.Cuts {
			if c.ID == l.CutID {
				armOf[l.Code] = *c.ArmID
			}
		}
	}
	quality := map[int64]int{v.Ask.Arms[0].ID: 8, v.Ask.Arms[1].ID: 5}
	phone := b.hand()
	for n, taster := range v.Tasters[:3] {
		path := "/api" + strings.Replace(taster.Path, "/taste/", "/taste/", 1)
		var plate table.TasteView
		phone.must("GET", path, nil, 200, &plate)
		checkBlind(t, phone, path, v)
		for i, x := range plate.Plates[0].Samples {
			scores := map[string]int{"juiciness": quality[armOf[x.Code]] + n%2, "bark": 6, "tenderness": 6 + (i+n)%2, "overall": 7}
			seal := path + "/samples/" + x.Code + "/seal"
			if i == 0 {
				if !plate.Plates[0].Advised || plate.Plates[0].Told {
					t.Errorf("a plate of cuts served by a reason is %+v", plate.Plates[0])
				}
				phone.refused("POST", seal, table.SealInput{Flight: 1, Scores: scores}, 409, "below the usual minimum")
				phone.must("POST", path+"/told", table.ToldInput{Flight: 1}, 200, &plate)
				phone.refused("POST", seal, table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 10}}, 422, "not on the rule")
				phone.refused("POST", path+"/samples/100/seal", table.SealInput{Flight: 1, Scores: scores}, 404, "no 100 on your plate")
			}
			phone.must("POST", seal, table.SealInput{Flight: 1, Scores: scores, Faults: []string{}}, 200, &plate)
			phone.must("POST", seal, table.SealInput{Flight: 1, Scores: scores}, 200, &plate) // a resend
			phone.refused("POST", seal, table.SealInput{Flight: 1, Excused: true}, 409, "sealed")
			checkBlind(t, phone, path, v)
		}
	}
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	for _, x := range v.Ballots {
		if !x.Locked || x.Closed != 6 {
			t.Errorf("ballot %+v is not locked", x)
		}
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{}, 200, &v)
	var r settle.Result
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &r)
	// Three pairs alike in every difference: the sign flip cannot reach clear, but the panel told these pieces apart.
	if row := r.Rows[0]; *row.Pairs[0].Cooks.Estimate != 3 || row.Means[0] == nil || math.Abs(*row.Means[0]-8-1.0/3) > 1e-9 {
		t.Errorf("juiciness: %+v, means %v; want 3 apart and 8.33 for PAPER", row.Pairs[0].Cooks, row.Means)
	}
	// Three pairs that agree to the ounce are believed as far as the scale tells them apart.
	if y := r.Rows[4].Pairs[0].Cooks; y.Word != verdict.Clear || !y.Floored {
		t.Errorf("three pairs with one yield each are %+v; want clear by the step of the scale", y)
	}
	odalys.must("GET", key, nil, 200, &lines)
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/ask", v.ID), lambAsk(), 409, "codes are open")
	odalys.refused("POST", fmt.Sprintf("/api/cuts/%d/weighings", ids[0]), map[string]string{"stage": "off", "weight": "2 lb",
		"resolution": "5 g"}, 409, "codes are open")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{}, 409, "codes are open")
	phone.refused("POST", "/api"+v.Tasters[3].Path+"/samples/100/seal", table.SealInput{Flight: 1}, 409, "codes are open")
}

// checkBlind looks for anything in a taster's answer that tells a cut or an arm.
func checkBlind(t *testing.T, phone hand, path string, v trials.TrialView) {
	t.Helper()
	status, text := phone.send("GET", path, "application/json", nil)
	if status != 200 {
		t.Fatalf("the plate answered %d", status)
	}
	for _, c := range v.Cuts {
		if bytes.Contains(text, []byte(`"`+c.Name+`"`)) {
			t.Errorf("a taster is sent the cut %s: %s", c.Name, text)
		}
	}
	for _, word := range []string{"PAPER", "BARE", "paper", "none", "arm", "cut_id", "sample_id", "Brick"} {
		if bytes.Contains(text, []byte(word)) {
			t.Errorf("a taster is sent %q: %s", word, text)
		}
	}
	var keys map[string]any
	if err := json.Unmarshal(text, &keys); err != nil {
		t.Fatal(err)
	}
	for k := range keys {
		if !strings.Contains("taster product allergens attributes faults plates closed", k) {
			t.Errorf("a taster is sent %q, which nobody has thought about", k)
		}
	}
}

func TestForgedLinksLeadNowhere(t *testing.T) {
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: "Ife"}, 201, &v)
	phone := b.hand()
	path := v.Tasters[0].Path
	phone.refused("GET", "/api"+path[:len(path)-1], nil, 404, "no plate")
	odalys.must("POST", fmt.Sprintf("/api/tasters/%d/void", v.Tasters[0].ID), barn.Why{Why: "left"}, 200, nil)
	phone.refused("GET", "/api"+path, nil, 404, "no plate")
	for range 30 {
		phone.do("GET", "/api/taste/1-aaaa", nil, nil)
	}
	phone.refused("GET", "/api/taste/1-aaaa", nil, 429, "Too many wrong links")
}

func TestSealedScoresOutliveThePowerCut(t *testing.T) {
	b, odalys := newBarn(t)
	_, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.trialOf(lambAsk(), 1)
	flight := table.FlightInput{CarverID: carver.ID, Place: "blade"}
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: n}, 201, &v)
	}
	for _, c := range v.Cuts {
		flight.CutIDs = append(flight.CutIDs, c.ID)
	}
	odalys.cooked(v, "95 C")
	for _, x := range v.Tasters {
		flight.Tasters = append(flight.Tasters, x.ID)
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), flight, 201, &v)
	phone := b.hand()
	var plate table.TasteView
	phone.must("GET", "/api"+v.Tasters[0].Path, nil, 200, &plate)
	code := plate.Plates[0].Samples[0].Code
	phone.must("POST", "/api"+v.Tasters[0].Path+"/samples/"+code+"/seal", table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 7, "bark": 6, "tenderness": 6, "overall": 7}}, 200, nil)
	pgtest.Kill(t)
	for range 50 { // connections of the old server are found dead one by one
		if status, _ := phone.do("GET", "/api"+v.Tasters[0].Path, nil, &plate); status == 200 {
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if !plate.Plates[0].Samples[0].Sealed {
		t.Error("a sealed sample is open again after the power cut")
	}
}
