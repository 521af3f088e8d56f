package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/notebook"
	"whitebarn/internal/barn/paste"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/records"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/keeping"
	"whitebarn/internal/store"
)

// oldCook is a page of a notebook: six shoulders on a day two years ago, so clear that a blind
// tasting would settle it.
func oldCook() notebook.Page {
	p := notebook.Page{Question: "Foil or bare, in the old drum?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder",
		Species: safety.RedMeat, Handling: safety.Intact,
		Factor: "wrap", Arms: []notebook.PageArm{{Tag: "foil", Level: "foil single"}, {Tag: "bare", Level: "none", Control: true}},
		Day: "2024-08-17", Serve: "18:00", Pit: "Old Drum", SetPoint: "250 F", Notes: "Windy."}
	for i := range 12 {
		arm := i % 2
		p.Cuts = append(p.Cuts, notebook.PageCut{Name: fmt.Sprintf("%d%c", i/2+1, "LR"[arm]), Arm: arm, Pair: fmt.Sprint(i/2 + 1), Trimmed: "6 lb",
			Off: []string{"3 lb 12 oz", "3 lb 4 oz"}[arm],
			On:  "06:30", Pull: []string{"15:00", "16:15"}[arm], Core: "203 F", Scores: map[trial.OutcomeKey]int{trial.Juiciness: 8 - 3*arm - i/6,
				trial.Overall: 7 - arm}})
	}
	return p
}

func TestAnOldCookFeedsTheHouseAndClaimsNothing(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	joren, _ := b.join(odalys, "Joren", store.Crew)
	joren.refused("POST", "/api/notebook", oldCook(), 403, "Only a pitmaster")
	var made notebook.WrittenUp
	odalys.must("POST", "/api/notebook", oldCook(), 201, &made)
	var v trials.TrialView
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", made.ID), nil, 200, &v)
	if !v.Ask.WrittenUp || v.RevealedAt == nil || len(v.Cuts) != 12 || v.Cooks[0].ServeAt.UTC().Format(time.RFC3339) != "2024-08-17T22:00:00Z" {
		t.Errorf("the trial is %+v of %d cuts", v.Ask, len(v.Cuts))
	}
	on := v.Events[slices.IndexFunc(v.Events, func(e store.Event) bool { return e.Act == "on" })]
	if got := on.At.UTC().Format(time.RFC3339); got != "2024-08-17T10:30:00Z" {
		t.Errorf("06:30 of the barn's zone is logged as %s", got)
	}
	var r struct {
		Headline string
		Rows     []struct {
			Outcome struct{ Key string }
			Pairs   []struct{ Cooks, Next struct{ Word, But string } }
		}
		Limits []struct{ Text string }
	}
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", made.ID), nil, 200, &r)
	leaning := 0
	for _, row := range r.Rows {
		for _, p := range row.Pairs {
			if p.Cooks.Word == "clear winner" || p.Cooks.Word == "same for our purposes" || p.Next.Word != "cannot tell" && p.Next.Word != "" {
				t.Errorf("of %s it says %q, and of the next cook %q", row.Outcome.Key, p.Cooks.Word, p.Next.Word)
			}
			if p.Cooks.Word == "leaning" && strings.Contains(p.Cooks.But, "writing it up later") {
				leaning++
			}
		}
	}
	if leaning < 2 {
		t.Errorf("%d outcomes lean, want the yield and the juiciness at least: %+v", leaning, r)
	}
	if !strings.Contains(fmt.Sprint(r.Limits), "written up later from a notebook") {
		t.Errorf("its limits are %v", r.Limits)
	}
	var contrasts, spreads int
	if err := b.store.Pool().QueryRow(t.Context(), "select (select count(*) from contrasts), (select count(*) from spreads where trial_id = $1)",
		made.ID).Scan(&contrasts, &spreads); err != nil {
		t.Fatal(err)
	}
	if contrasts != 0 || spreads == 0 {
		t.Errorf("it gives %d contrasts of cooks and %d spreads, want none and some", contrasts, spreads)
	}
}

func TestANotebookPageNamesWhatIsWrong(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	for _, c := range []struct {
		field  string
		change func(*notebook.Page)
	}{
		{"day", func(p *notebook.Page) { p.Day = "17.08.2024" }},
		{"day", func(p *notebook.Page) { p.Day = "2099-08-17" }},
		{"serve", func(p *notebook.Page) { p.Serve = "six" }},
		{"set_point", func(p *notebook.Page) { p.SetPoint = "warm" }},
		{"cuts[1].name", func(p *notebook.Page) { p.Cuts[1].Name = "1l" }},
		{"cuts[2].off", func(p *notebook.Page) { p.Cuts[2].Off = "6 lb 19 oz" }},
		{"cuts[3].pull", func(p *notebook.Page) { p.Cuts[3].Pull = "late" }},
		{"cuts[0].core", func(p *notebook.Page) { p.Cuts[0].Core = "done" }},
		{"cuts[0].scores.juiciness", func(p *notebook.Page) { p.Cuts[0].Scores = map[trial.OutcomeKey]int{trial.Juiciness: 11} }},
		{"arms[1]", func(p *notebook.Page) {
			for i := range p.Cuts {
				p.Cuts[i].Arm = 0
			}
		}},
		{"cuts", func(p *notebook.Page) {
			for i := range p.Cuts {
				p.Cuts[i] = notebook.PageCut{Name: fmt.Sprint(i), Arm: i % 2}
			}
		}},
	} {
		p := oldCook()
		c.change(&p)
		status, text := odalys.send("POST", "/api/notebook", "application/json", encoded(t, p))
		if status != 422 || !strings.Contains(string(text), fmt.Sprintf("%q", c.field)) {
			t.Errorf("a wrong %s answered %d %s", c.field, status, text)
		}
	}
	var all []trials.TrialLine
	if odalys.must("GET", "/api/trials", nil, 200, &all); len(all) != 0 {
		t.Errorf("of pages that were refused %d trials are left", len(all))
	}
}

func encoded(t *testing.T, v any) *bytes.Reader {
	t.Helper()
	text, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	return bytes.NewReader(text)
}

func TestRowsOfASpreadsheetGoTheWayOfWhatIsTyped(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 0)
	paths := map[string]string{"cuts": fmt.Sprintf("/api/trials/%d/paste/cuts", v.ID), "weights": fmt.Sprintf("/api/trials/%d/paste/weights", v.ID)}
	const rows = "Cut\tPair\tTrimmed (lb)\tThickness\tColour\n1L\t1\t6 lb 3 oz\t3 in\tred\n1R\t1\t6,25\t\t\n1R\t2\t6 lb\t\t\n2L\t2\theavy\t\t\n"
	var report paste.PasteReport
	odalys.must("POST", paths["cuts"], paste.Pasted{Text: rows, Unit: "lb"}, 200, &report)
	if report.Kept || report.Good != 2 || report.Bad != 2 || fmt.Sprint(report.Unknown) != "[Colour]" || report.Rows[2].Line != 4 ||
		!strings.Contains(report.Rows[3].Problem, "trimmed") {
		t.Fatalf("a look at the rows says %+v", report)
	}
	count := func() int {
		var now trials.TrialView
		odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &now)
		return len(now.Cuts)
	}
	if n := count(); n != 0 {
		t.Fatalf("a look hung %d cuts", n)
	}
	odalys.must("POST", paths["cuts"], paste.Pasted{Text: rows, Unit: "lb", Keep: true, All: true}, 200, &report)
	if n := count(); report.Kept || n != 0 {
		t.Errorf("all or nothing with two bad rows kept %v and hung %d cuts", report.Kept, n)
	}
	odalys.must("POST", paths["cuts"], paste.Pasted{Text: rows, Unit: "lb", Keep: true}, 200, &report)
	if n := count(); !report.Kept || n != 2 {
		t.Errorf("the good rows: kept %v, %d cuts", report.Kept, n)
	}
	odalys.must("POST", paths["weights"], paste.Pasted{Text: "cut,stage,weight\n1L,off,3 lb 12 oz\n1R,off,9 lb\n3L,off,3 lb\n", Keep: true}, 200, &report)
	if report.Good != 1 || report.Bad != 2 || !strings.Contains(report.Rows[2].Problem, "no cut") {
		t.Errorf("the weights are said to be %+v", report)
	}
	odalys.refused("POST", paths["cuts"], paste.Pasted{Text: "weight\n6 lb\n"}, 422, `no column is called "cut"`)
	odalys.refused("POST", paths["cuts"], paste.Pasted{Text: "cut\n9L\n", Unit: "stone"}, 422, "not a unit")
}

func TestAScriptGoesAsFarAsItsToken(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	joren, _ := b.join(odalys, "Joren", store.Crew)
	joren.refused("GET", "/api/records/tokens", nil, 403, "Only a pitmaster")
	v := odalys.trialOf(lambAsk(), 1)
	made := map[store.Scoped]people.MadeScriptToken{}
	for _, scope := range []store.Scoped{store.ScopeRead, store.ScopeLog, store.ScopeAll} {
		var m people.MadeScriptToken
		odalys.must("POST", "/api/records/tokens", people.NewScriptToken{Name: "scale bridge", Scope: scope, Days: 30}, 201, &m)
		made[scope] = m
	}
	ask := func(token, method, path string, body any) int {
		req, err := http.NewRequest(method, b.url+path, encoded(t, body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Authorization", "Bearer "+token)
		req.Header.Set("Content-Type", "application/json")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.StatusCode
	}
	weigh := map[string]string{"stage": "off", "weight": "3 lb", "resolution": "1/4 oz"}
	for _, c := range []struct {
		scope                 store.Scoped
		reads, weighs, people int
	}{{store.ScopeRead, 200, 403, 403}, {store.ScopeLog, 200, 201, 403}, {store.ScopeAll, 200, 201, 201}} {
		token := made[c.scope].Token
		got := []int{ask(token, "GET", "/api/trials", nil), ask(token, "POST", fmt.Sprintf("/api/cuts/%d/weighings", v.Cuts[0].ID), weigh),
			ask(token, "POST", "/api/people", people.Place{Name: "P" + string(c.scope), Role: store.Crew, Trusts: []store.Trust{}})}
		if want := []int{c.reads, c.weighs, c.people}; !slices.Equal(got, want) {
			t.Errorf("a token of scope %s reads, weighs and adds people with %v, want %v", c.scope, got, want)
		}
	}
	// No script signs, or gives a reason, however far it goes.
	for _, path := range []string{fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), "/api/pending-changes/1/sign"} {
		if got := ask(made[store.ScopeAll].Token, "POST", path, map[string]any{"why": "it looks fine", "yes": true}); got != 403 {
			t.Errorf("a script of scope all is answered %d by %s, want 403", got, path)
		}
	}
	odalys.must("DELETE", fmt.Sprintf("/api/records/tokens/%d", made[store.ScopeRead].ID), nil, 204, nil)
	if _, err := b.store.Pool().Exec(t.Context(), "update script_tokens set ends_at = now() - interval '1 minute' where id = $1",
		made[store.ScopeLog].ID); err != nil {
		t.Fatal(err)
	}
	for name, token := range map[string]string{"an ended": made[store.ScopeRead].Token, "one past its day": made[store.ScopeLog].Token, "no": "wbs_1234",
		"a device's": "barn"} {
		if got := ask(token, "GET", "/api/trials", nil); got != 401 {
			t.Errorf("%s token answered %d", name, got)
		}
	}
	var kept []store.ScriptToken
	if odalys.must("GET", "/api/records/tokens", nil, 200, &kept); len(kept) != 2 || kept[1].UsedAt == nil {
		t.Errorf("the tokens are %+v", kept)
	}
}

func TestRecordsComeOutWithoutTellingACode(t *testing.T) {
	t.Parallel()
	odalys, _, tove := demoBarn(t)
	s := odalys.store
	tove.refused("GET", "/api/trials/3/trial.zip", nil, 403, "Only a pitmaster") // who tasted how is theirs and the pitmaster's
	status, data := odalys.send("GET", "/api/trials/3/trial.zip", "", nil)
	if status != 200 || !strings.HasPrefix(string(data), "PK") {
		t.Fatalf("the export of a settled trial answered %d", status)
	}
	var found records.Found
	status, text := odalys.send("POST", "/api/records/look", "application/zip", bytes.NewReader(data))
	if err := json.Unmarshal(text, &found); err != nil || status != 200 || found.Title != "Paper or bare?" {
		t.Fatalf("a look into it answered %d %s", status, text)
	}
	if status, text := odalys.send("POST", "/api/records/trials", "application/zip",
		bytes.NewReader(data)); status != 409 || !strings.Contains(string(text), "here already") {
		t.Errorf("taking it in where it came from answered %d %s", status, text)
	}
	if status, text := odalys.send("POST", "/api/records/look", "application/zip",
		strings.NewReader("PK nothing")); status != 422 || !strings.Contains(string(text), "not a zip") {
		t.Errorf("a look into no archive answered %d %s", status, text)
	}
	// Codes that are closed stay so.
	if _, err := s.Pool().Exec(t.Context(), "update trials set revealed_at = null, revealed_by = null where id = 3"); err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{"/api/trials/3/trial.zip", "/api/records/barn.zip"} {
		odalys.refused("GET", path, nil, 409, "still closed")
	}
	var r records.Keeping
	odalys.must("GET", "/api/records", nil, 200, &r)
	if r.Backups != nil || len(r.Migrations) < 21 || r.Migrations[0].Name == "" || r.Room.State != keeping.Ample {
		t.Errorf("the record is kept as %+v", r)
	}
	odalys.refused("POST", "/api/records/backups", nil, 409, "takes no backups")
	odalys.must("PUT", "/api/records/thinning", barn.Of[records.Thin]{}.Body, 204, nil)
	after, to := 365, 60
	odalys.refused("PUT", "/api/records/thinning", records.Thin{AfterDays: &after}, 422, "one of the two")
	odalys.must("PUT", "/api/records/thinning", records.Thin{AfterDays: &after, ToSeconds: &to}, 204, nil)
	if n, err := s.ThinReadings(t.Context(), time.Now().AddDate(2, 0, 0), 60); err != nil || n == 0 {
		t.Errorf("thinned %d readings (%v)", n, err)
	}
}

// TestScoresArePastedAsBallotsAreTyped: a taster's rows are one ballot, whole or not at all; a
// second paste is compared.
func TestScoresArePastedAsBallotsAreTyped(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 2)
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	a, b := v.Tasters[0].Name, v.Tasters[1].Name
	codes := v.Ballots[0].Codes
	rows := "taster,code,juiciness,bark,tenderness,overall\n"
	for _, code := range codes {
		rows += fmt.Sprintf("%s,%s,7,6,5,6\n", a, code)
	}
	rows += fmt.Sprintf("%s,%s,7,6,5,6\nnobody,%s,7,6,5,6\n%s,%s,good,6,5,6\n", b, codes[0], codes[0], b, codes[1])
	path := at("/flights/%d/paste/scores", v.Flights[0].ID)
	var report paste.PasteReport
	odalys.must("POST", path, paste.Pasted{Text: rows}, 200, &report)
	if report.Kept || report.Good != len(codes)+1 || report.Bad != 2 {
		t.Fatalf("a look says %+v", report)
	}
	odalys.must("POST", path, paste.Pasted{Text: rows, Keep: true}, 200, &report)
	var now trials.TrialView
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &now)
	if !now.Ballots[0].Locked || now.Ballots[1].Locked {
		t.Errorf("after the paste the ballots are locked: %v and %v, want the whole one alone", now.Ballots[0].Locked, now.Ballots[1].Locked)
	}
	again := strings.Replace(rows, ",7,6,5,6\n", ",2,6,5,6\n", 1)
	odalys.must("POST", path, paste.Pasted{Text: strings.Join(strings.Split(again, "\n")[:len(codes)+1], "\n"), Keep: true}, 200, &report)
	if report.Bad != 1 || !strings.Contains(fmt.Sprint(report.Rows), "reads otherwise on "+codes[0]) {
		t.Errorf("another score for the same sample is %+v", report)
	}
}
