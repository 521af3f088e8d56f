package e2e

import (
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// TestAMessyLogGoesThroughItsMapping reads a long file with torn lines, decimal commas and days
// first, says once what its probes measured, and sees that remembered at the next file.
func TestAMessyLogGoesThroughItsMapping(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/2/fire", "h2", "The log")
	u.key(input.KeyI)
	rows := func(day string) string {
		return "Logger of the shed\nwhen;sensor;value;unit\n" + day + " 09:05;4;121,5;C\n" + day + " 09:05;7;4,5;C\ntorn line\n" + day + " 09:06;4;warm;C\n" + day + " 09:10;7;5,0;C\n" + day + " 09:10;4;122;C\n"
	}
	u.find("[data-testid=log-file]").MustSetFiles(file(t, "shed.csv", func(w io.Writer) { fmt.Fprint(w, rows("27/09/2026")) }))
	u.see("[data-testid=log-read]", "4 readings in 5 lines")
	u.see("[role=dialog]", "decimal commas")
	u.see("[data-testid=log-shape] [aria-pressed=true]", "one reading")
	u.see("[data-testid=trouble]", "2 lines have trouble")
	u.button("all or nothing")
	u.fill("#logger", "shed box")
	u.choose(`[aria-label="What 4 measures"]`, "North Drum, fire end")
	u.choose(`[aria-label="What 7 measures"]`, "1L, thick")
	u.Expect("answered 422")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=problem]", "2 of its lines have trouble, the first is line 5")
	u.button("take the good lines")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=imported]", "4 readings added")
	u.click("[data-testid=import-done]")
	var place, point string
	err := s.Pool().QueryRow(t.Context(), `select max(a.place), max(a.point) from probe_assignments a join probes p on p.id = a.probe_id join devices d on d.id = p.device_id
		where d.name = 'shed box' and a.voided_at is null`).Scan(&place, &point)
	if err != nil || place == "" || point == "" {
		t.Errorf("the record says place %q and point %q (%v)", place, point, err)
	}
	u.key(input.KeyI)
	u.find("[data-testid=log-file]").MustSetFiles(file(t, "shed box.csv", func(w io.Writer) { fmt.Fprint(w, rows("28/09/2026")) }))
	u.see("[data-testid=remembered]", "Read as the last file of this logger was")
	u.see(`[aria-label="What 7 measures"]`, "1L, thick")
}

// TestAnOldCookFindsItsPlaceInTheHouse writes a page of a notebook up and reads what it says,
// and what the house makes of it.
func TestAnOldCookFindsItsPlaceInTheHouse(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/records", "[data-testid=records-head]", "The record is")
	u.click("[data-testid=to-notebook]")
	u.fill("#nb-question", "Foil or bare, in the old drum?")
	u.fill("#nb-product", "lamb shoulder")
	u.fill("#nb-cut", "shoulder")
	u.choose("[data-testid=species]", "red meat")
	u.choose("[data-testid=handling]", "whole muscle")
	u.day("#nb-day", "2024-08-17")
	u.fill("#nb-pit", "Old Drum")
	u.fill("#nb-set", "250 F")
	u.fill("#nb-factor", "wrap")
	u.fill("#nb-tag-0", "FOIL")
	u.fill("#nb-level-0", "foil single")
	u.fill("#nb-tag-1", "BARE")
	u.fill("#nb-level-1", "none")
	for i := range 8 {
		if i >= 2 {
			u.click("[data-testid=another-cut]")
		}
		at := func(field string) string { return fmt.Sprintf(`[data-field="cuts[%d].%s"]`, i, field) }
		u.fill(at("trimmed"), "6 lb")
		u.fill(at("pull"), []string{"15:00", "16:15"}[i%2])
		u.fill(at("core"), "203 F")
		u.fill(at("off"), []string{"3 lb 12 oz", "3 lb 4 oz"}[i%2])
		u.fill(at("scores.juiciness"), []string{"8", "5"}[i%2])
		if i == 0 {
			u.fill(at("on"), "half past six")
		}
	}
	u.Expect("answered 422")
	u.click("[data-testid=write-up]")
	u.see("main", "is not a time")
	u.fill(`[data-field="cuts[0].on"]`, "06:30")
	u.click("[data-testid=write-up]")
	u.at("/settle")
	u.see("main", "written up later from a notebook")
	u.see("main", "leans to FOIL")
	var cuts int
	if err := s.Pool().QueryRow(t.Context(), "select count(*) from cuts c join trials t on t.id = c.trial_id where "+
		"t.written_up").Scan(&cuts); err != nil || cuts != 8 {
		t.Errorf("%d cuts were written up (%v), want 8", cuts, err)
	}
	u.visit(site, "/book/know?text=foil+single+lamb+shoulder+cooked+yield", "main", "Foil or bare, in the old drum?")
}

// TestAReportOpensWithNoNetwork saves the report of a trial and opens the file by itself.
func TestAReportOpensWithNoNetwork(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/3/settle", "[data-testid=report]", "Report to print")
	text := u.MustEval(`() => fetch('/api/trials/3/report.html').then(r => r.text())`).Str()
	path := filepath.Join(t.TempDir(), "report.html")
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	u.Expect("request outside the barn: file:")
	u.offline(true)
	u.MustNavigate("file://" + path).MustWaitLoad()
	u.see("body", "Paper or bare?")
	fonts := u.MustEval(`() => document.fonts.ready.then(() => [...document.fonts].filter(f => f.status === 'loaded').length)`).Int()
	if fonts == 0 {
		t.Error("the report shows none of its own fonts")
	}
	if n := u.MustEval(`() => performance.getEntriesByType('resource').filter(e => !e.name.startsWith('data:')).length`).Int(); n != 0 {
		t.Errorf("it asks for %d things from elsewhere", n)
	}
}

// TestARecordsPageTakesInAndOut takes a trial and a picture out, makes a token for a script and
// lets the script read, and looks at rows of a spreadsheet before they are kept.
func TestARecordsPageTakesInAndOut(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/records", "[data-testid=records-head]", "The record is")
	u.fill("#token-name", "scale bridge")
	u.click("[data-testid=make-token]")
	token := strings.TrimSpace(strings.TrimPrefix(u.find("[data-testid=made-token]").MustText(), "Shown once:"))
	req, err := http.NewRequest(http.MethodGet, site+"/api/trials/3", nil)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+token)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	if res.StatusCode != 200 {
		t.Errorf("a script with the token is answered %d", res.StatusCode)
	}
	zip := u.MustEval(`() => fetch('/api/trials/3/trial.zip').then(r => r.arrayBuffer()).then(b => [...new Uint8Array(b)])`).Arr()
	data := make([]byte, len(zip))
	for i, b := range zip {
		data[i] = byte(b.Int())
	}
	u.Expect("answered 409")
	u.find("[data-testid=archive-file]").MustSetFiles(file(t, "trial.zip", func(w io.Writer) { _, _ = w.Write(data) }))
	u.see("[data-testid=archive-found]", "Paper or bare?, written")
	u.click("[data-testid=take-in]")
	u.see("[data-testid=problem]", "here already")

	u.visit(site, "/records/api", "h1", "What scripts can ask")
	u.fill("#api-sought", "weighings")
	u.click("[data-testid=api-weigh]")
	u.see("pre", "WeighingInput: WeighingInput is a weight as typed")
	u.visit(site, "/records/licences", "main", "vue-router")

	// Rows: a look first, then the good ones.
	u.visit(site, "/trials/5/match", "[data-testid=paste-cuts]", "Paste rows")
	u.click("[data-testid=paste-cuts]")
	u.fill("#paste-text", "cut\tpair\ttrimmed\n7L\t7\t2 lb 3 oz\n7R\t7\tmuch\n")
	u.click("[data-testid=paste-look]")
	u.see("[data-testid=paste-report]", "1 rows are good, 1 have trouble")
	u.see("[data-testid=paste-report]", "Row 3 trimmed")
	u.click("[data-testid=paste-keep]")
	u.see("[data-testid=paste-report]", "1 rows are kept")
	u.click("[data-testid=paste-done]")
	u.see("main", "7L")

	// Every drawing of a page is a file by two taps.
	u.visit(site, "/trials/3/settle", "[data-testid=report]", "Report to print")
	u.button("Help")
	u.click("[data-testid=pictures-of]")
	u.see("[data-testid=pictures]", "SVG")
	svg := u.MustEval(`async () => {
		const got = new Promise((done) => { const was = URL.createObjectURL; URL.createObjectURL = (b) => { b.text().then(done); return was(b) } })
		document.querySelector('[data-testid=pictures] button').click()
		return await got
	}`).Str()
	if !strings.HasPrefix(svg, "<svg") || !strings.Contains(svg, "fill:") || strings.Contains(svg, "var(--") {
		t.Errorf("the drawing is not one by itself: %.300s", svg)
	}
}
