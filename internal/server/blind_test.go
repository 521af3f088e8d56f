package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestBlindTasting takes a trial from the gate to the verdict, and looks at
// everything the server sends on the way.
func TestBlindTasting(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.trialOf(lambAsk(), 3)
	var ids, tasters []int64
	for _, c := range v.Cuts {
		ids = append(ids, c.ID)
		odalys.weigh(c.ID, "off", map[bool]string{true: "3 lb 9 oz", false: "3 lb 4 oz"}[c.ArmID != nil && *c.ArmID == v.Ask.Arms[0].ID])
	}
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: "ife"}, 422, "sits at the table")
	for _, x := range v.Tasters {
		tasters = append(tasters, x.ID)
	}
	flights := fmt.Sprintf("/api/trials/%d/flights", v.ID)
	flight := table.FlightInput{CarverID: &carver.ID, Pieces: pieces("blade", ids...), Tasters: tasters}
	odalys.refused("POST", flights, flight, 422, "never on the fire")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), reasonFor("looked done", ids[0]), 409, "never on the fire")
	odalys.cooked(v, "")
	odalys.refused("POST", flights, flight, 422, "No temperature was read in it")
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), reasonFor("probe-tender after ten hours", ids...), 201, nil)
	oneArm := flight
	oneArm.Pieces = pieces("blade", ids[0], ids[3])
	odalys.refused("POST", flights, oneArm, 422, "one arm")
	odalys.must("POST", flights, flight, 201, &v)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{PersonID: &carver.ID}, 201, &v)

	key := fmt.Sprintf("/api/flights/%d/key", v.Flights[0].ID)
	odalys.refused("GET", key, nil, 403, "Only the carver")
	var lines []store.KeyLine
	tove.must("GET", key, nil, 200, &lines)
	odalys.refused("PUT", fmt.Sprintf("/api/cuts/%d", ids[0]), match.CutInput{Name: "1L", ArmID: &v.Ask.Arms[1].ID}, 409, "on the table")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{}, 409, "Nothing has been tasted")
	odalys.refused("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 409, "closed")
	odalys.refused("GET", fmt.Sprintf("/api/trials/%d/panel", v.ID), nil, 409, "closed")

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
		path := phone.sit(taster)
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
	checkPanel(t, odalys, tove, v)
	odalys.must("GET", key, nil, 200, &lines)
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/ask", v.ID), lambAsk(), 409, "codes are open")
	odalys.refused("POST", fmt.Sprintf("/api/cuts/%d/weighings", ids[0]), map[string]string{"stage": "off", "weight": "2 lb",
		"resolution": "5 g"}, 409, "codes are open")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{}, 409, "codes are open")
	phone.refused("POST", phone.sit(v.Tasters[3])+"/samples/100/seal", table.SealInput{Flight: 1}, 409, "codes are open")
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
	for _, word := range []string{"PAPER", "BARE", "paper", "none", `"arm`, "cut_id", "sample_id", "Brick"} {
		if bytes.Contains(text, []byte(word)) {
			t.Errorf("a taster is sent %q: %s", word, text)
		}
	}
	var keys map[string]any
	if err := json.Unmarshal(text, &keys); err != nil {
		t.Fatal(err)
	}
	for k := range keys {
		if !strings.Contains("taster product allergens plates closed was", k) {
			t.Errorf("a taster is sent %q, which nobody has thought about", k)
		}
	}
}

func TestForgedLinksLeadNowhere(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: "Ife"}, 201, &v)
	phone := b.hand()
	path := phone.link(v.Tasters[0])
	phone.refused("POST", path[:len(path)-1]+"/open", nil, 404, "no plate")
	odalys.must("POST", fmt.Sprintf("/api/tasters/%d/void", v.Tasters[0].ID), barn.Why{Why: "left"}, 200, nil)
	phone.refused("POST", path+"/open", nil, 404, "no plate")
	for range 30 {
		phone.do("GET", "/api/taste/1-aaaa", nil, nil)
	}
	phone.refused("GET", "/api/taste/1-aaaa", nil, 429, "Too many wrong links")
}

func TestSealedScoresOutliveThePowerCut(t *testing.T) {
	b, odalys := newBarn(t)
	_, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.trialOf(lambAsk(), 1)
	flight := table.FlightInput{CarverID: &carver.ID, Bites: 2}
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	for _, c := range v.Cuts {
		flight.Pieces = append(flight.Pieces, table.PieceInput{CutID: c.ID, Place: "blade"})
	}
	odalys.cooked(v, "95 C")
	for _, x := range v.Tasters {
		flight.Tasters = append(flight.Tasters, x.ID)
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), flight, 201, &v)
	phone := b.hand()
	mine := phone.sit(v.Tasters[0])
	var plate table.TasteView
	phone.must("GET", mine, nil, 200, &plate)
	code := plate.Plates[0].Samples[0].Code
	phone.must("POST", mine+"/samples/"+code+"/seal",
		table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 7, "bark": 6, "tenderness": 6, "overall": 7}}, 200, nil)
	pgtest.Kill(t)
	for range 50 { // connections of the old server are found dead one by one
		if status, _ := phone.do("GET", mine, nil, &plate); status == 200 {
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if !plate.Plates[0].Samples[0].Sealed {
		t.Error("a sealed sample is open again after the power cut")
	}
}

// checkPanel reads what three tasters said: by name to the pitmaster, by number to the crew.
func checkPanel(t *testing.T, odalys, tove hand, v trials.TrialView) {
	t.Helper()
	var named, numbered table.PanelResults
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/panel", v.ID), nil, 200, &named)
	tove.must("GET", fmt.Sprintf("/api/trials/%d/panel", v.ID), nil, 200, &numbered)
	juicy, hidden := named.Attributes[0], numbered.Attributes[0]
	if juicy.Attribute.Key != string(trial.Juiciness) || juicy.Heard.Said[0] != "All 3 put PAPER first." || math.Abs(*juicy.Heard.Means[0]-8-1.0/3) > 1e-9 {
		t.Errorf("the panel says %q of %s, with means %v; want PAPER first by 8.33", juicy.Heard.Said, juicy.Attribute.Key, juicy.Heard.Means)
	}
	if !named.Named || juicy.Heard.Tasters[0].Taster != v.Tasters[1].Name || *juicy.Heard.Tasters[0].Means[0] != 9 {
		t.Errorf("the pitmaster reads %+v first; want %s with 9", juicy.Heard.Tasters[0], v.Tasters[1].Name)
	}
	if numbered.Named || *hidden.Heard.Means[0] != *juicy.Heard.Means[0] {
		t.Errorf("the crew reads means %v, named %v; want the same means without names", hidden.Heard.Means, numbered.Named)
	}
	text, err := json.Marshal(numbered)
	if err != nil {
		t.Fatal(err)
	}
	for _, taster := range v.Tasters {
		if strings.Contains(string(text), taster.Name) {
			t.Errorf("the crew reads %s's scores by name", taster.Name)
		}
	}
}
