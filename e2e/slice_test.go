package e2e

import (
	"fmt"
	"io"
	"maps"
	"math"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
)

// evening is where it is six in the evening now: zones go from twelve hours west to fourteen east.
var evening = sync.OnceValue(func() *time.Location {
	east := (18-time.Now().UTC().Hour()+36)%24 - 12
	return zone(fmt.Sprintf("Etc/GMT%+d", -east))
})

// today is the day of that evening, on which the trial is cooked.
func today() time.Time {
	y, m, d := time.Now().In(evening()).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, evening())
}

// cookLog is a log of a pit at 250 F and six cuts that pass 203 F after eight
// hours (left, 1R and so on by pair) or nine, with two lines a logger garbled.
func cookLog(w io.Writer) {
	fmt.Fprintln(w, "Time;North Drum °F;1L °F;1R °F;2L °F;2R °F;3L °F;3R °F")
	hours := []float64{7.2, 8.6, 8.8, 7.4, 7.3, 8.5}
	for m := range 10 * 60 {
		at := today().Add(8*time.Hour + time.Duration(m)*time.Minute)
		fmt.Fprintf(w, "%s;%.1f", at.Format("2006-01-02 15:04"), 250+4*math.Sin(float64(m)/17))
		for _, h := range hours {
			fmt.Fprintf(w, ";%.1f", math.Min(204, 40+164*math.Min(1, float64(m)/60/h)))
		}
		fmt.Fprintln(w)
		if m == 100 || m == 200 {
			fmt.Fprintln(w, at.Format("2006-01-02 15:04")+";#ERR?;;")
		}
	}
}

// TestOneTrialFromQuestionToVerdict is the whole slice by a user's clicks and
// keys, on an empty barn, with a ballot on a phone; the other two tasters have sealed theirs.
func TestOneTrialFromQuestionToVerdict(t *testing.T) {
	t.Parallel()
	site, s := serve(t)
	odalys := open(t, site, "/", 1280, 800)

	// The first visit makes the barn; its pitmaster asks the carver to come.
	began := time.Now()
	lap := func(what string) { t.Logf("%s after %s", what, time.Since(began).Round(100*time.Millisecond)) }
	odalys.fill("#barn", "White Barn")
	odalys.fill("#zone", evening().String())
	odalys.fill("#name", "Odalys")
	odalys.fill("#sign-in", "odalys")
	odalys.enter("#password", "apricot and alder")
	odalys.see("h2", "Open questions")
	odalys.key(input.KeyG, input.KeyC)
	link := invite(odalys, "Tove")
	tove := open(t, site, link, 1280, 800)
	tove.see("h1", "Welcome to White Barn, Tove")
	tove.enter("#password", "hornbeam and ash")
	tove.see("[data-testid=you]", "Tove")

	lap("the barn is open")
	ask(odalys)
	match(odalys)
	lap("matched")
	plan(odalys)
	odalys.goTo(4)
	odalys.enter(`input[aria-label="Prepped weight of 1L"]`, "6 lb 4 oz")
	odalys.see("[data-testid=pick-up]", "+1.8 %")
	lap("prepped")
	fire(odalys)
	lap("cooked")
	rest(odalys)
	lap("weighed")
	plates := table(odalys)

	// The carver signs in at another screen and reads the key; nobody else can.
	tove.open(site, odalys.MustInfo().URL[len(site):], "main")
	tove.button("The carver's key")
	cutOf := map[string]string{}
	for _, row := range tove.find("details table tbody").MustElements("tr") {
		cells := row.MustElements("td")
		cutOf[cells[0].MustText()] = cells[1].MustText()
	}
	if len(cutOf) != 6 {
		t.Fatalf("the carver reads %d codes, want 6", len(cutOf))
	}
	taste(open(t, site, plates[0], 390, 844), cutOf)
	lap("tasted")
	tasters, err := s.Tasters(t.Context(), 1)
	if err != nil || len(tasters) != 3 {
		t.Fatalf("%d tasters (%v), want three", len(tasters), err)
	}
	for i, taster := range tasters[1:] {
		sealScores(t, s, taster.ID, func(code string) map[string]int { return scored(cutOf[code], i+1) })
	}
	if err := s.NotifyChange(t.Context(), 1, "table"); err != nil {
		t.Fatal(err)
	}

	odalys.see("aside", "3 of 3")
	odalys.click("[data-testid=reveal]")
	odalys.click("[data-testid=reveal-sure]")
	odalys.at("settle")
	settle(odalys)
}

func ask(u user) {
	u.t.Helper()
	u.key(input.KeyG, input.KeyB)
	u.button("Ask a new question")
	u.fill("#question", "Paper or bare?")
	u.click("[data-testid=keep-ask]")
	u.see("[data-testid=problem]", "Say what is cooked")
	u.Expect("POST " + site(u) + "/api/trials answered 422")
	u.fill("#product", "lamb shoulder")
	u.fill("#cut", "shoulder")
	u.choose("[data-testid=species]", "red meat")
	u.choose("[data-testid=handling]", "whole muscle")
	u.fill("#factor0", "wrap")
	u.fill("#tag0", "PAPER")
	u.fill("#level0-0", "paper at 165 F")
	u.fill("#tag1", "BARE")
	u.fill("#level1-0", "no wrap")
	u.click("#control1")
	u.click("[data-testid=add-held]")
	u.fill("#held0", "pit")
	u.fill(`input[aria-label="Value of pit"]`, "250 F")
	u.fill("#allergens", "mustard")
	u.click("[data-testid=keep-ask]")
	u.at("match")
}

func site(u user) string {
	url := u.MustInfo().URL
	return url[:strings.Index(url[8:], "/")+8]
}

func match(u user) {
	u.t.Helper()
	u.Expect("/weighings answered 422")
	for i, c := range []struct{ name, pair, weight, arm string }{
		{"1L", "1", "6 lb 2 1/4 oz", "PAPER"}, {"1R", "1", "6 lb 4 oz", "BARE"}, {"2L", "2", "5 lb 15 oz", "BARE"},
		{"2R", "2", "6lb 1oz", "PAPER"}, {"3L", "3", "2.79 kg", "PAPER"}, {"3R", "3", "6.19 lb", "BARE"},
	} {
		u.fill("#cut-name", c.name)
		u.fill("#cut-pair", c.pair)
		arm, err := u.Timeout(patience).ElementR("form button", "^"+c.arm+"$")
		if err != nil {
			u.fail("there is no arm %s", c.arm)
		}
		u.press(c.arm, arm.CancelTimeout())
		if i == 0 {
			u.enter("#cut-trimmed", "6 lb 19 oz")
			u.see("[data-testid=problem]", "write 7 lb 3 oz")
		}
		u.enter("#cut-trimmed", c.weight)
		u.hung(i + 1)
	}
	u.see("[data-testid=difference]", "alike")
	u.whole()
	// A tag swaps its pair, and swaps it back.
	for _, want := range []string{"arm-2", "arm-1"} {
		u.click(`button[aria-label="Swap 1L to the next arm"]`)
		u.find(`button[aria-label="Swap 1L to the next arm"] .` + want)
	}
}

// hung waits until so many shoulders hang. A cut and its weight are kept one after the other;
// then the slip is empty for the next.
func (u user) hung(n int) {
	u.t.Helper()
	u.see("h1", fmt.Sprintf("%d shoulder", n))
	u.see("h2", "Hang a cut")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.querySelector('#cut-trimmed')?.value === ''`)); err != nil {
		u.fail("after the weight of cut %d no empty slip follows: %v", n, err)
	}
}

func plan(u user) {
	u.t.Helper()
	u.goTo(3)
	u.fill(`input[aria-label="New pit"]`, "North Drum")
	u.button("Add pit")
	u.choose("[data-testid=pit-0]", "North Drum")
	u.fill("#set0", "250")
	u.day(`input[aria-label="On the table, day"]`, today().Format("2006-01-02"))
	u.enter(`input[aria-label="On the table, clock"]`, "1800")
	u.click("[data-testid=keep-cook]")
	u.see("aside", "6 cuts")
	u.see("aside", "North Drum 250 F")
}

func fire(u user) {
	u.t.Helper()
	u.goTo(5)
	u.find("[data-testid=open-import]")
	u.key(input.KeyI)
	u.Expect("/logs/preview answered 422")
	u.find("[data-testid=log-file]").MustSetFiles(file(u.t, "picture.csv", func(w io.Writer) { fmt.Fprint(w, "\x89PNG\r\n\x1a\n") }))
	u.see("[data-testid=problem]", "PNG picture")
	u.button("Choose another file")
	log := file(u.t, "drum.csv", cookLog)
	u.find("[data-testid=log-file]").MustSetFiles(log)
	u.see("[data-testid=trouble]", "2 lines have trouble")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=imported]", "4,200 readings added")
	u.button("Another file")
	u.find("[data-testid=log-file]").MustSetFiles(log)
	u.see("[data-testid=known]", "already here")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=imported]", "0 readings added, 4,200 were there already")
	u.click("[data-testid=import-done]")
	u.find("[data-testid=chart] path.trace")

	// Log by hand: lit and on for all at 8, the wrap and pulls by arm, one undone.
	at := func(clock string) {
		u.t.Helper()
		u.click("[data-testid=when]")
		u.day(`input[aria-label="Time of the act, day"]`, today().Format("2006-01-02"))
		u.enter(`input[aria-label="Time of the act, clock"]`, clock)
	}
	logged := func(n int) {
		u.t.Helper()
		if err := u.Timeout(patience).Wait(rodCount("[data-testid=event-log] tr", n)); err != nil {
			u.fail("the log does not come to %d presses: %v", n, err)
		}
	}
	at("8:00")
	u.key(input.Digit0, input.KeyF)
	u.see("[data-testid=caution]", "carbon monoxide")
	u.click("[data-testid=caution-read]") // before the first of it alone
	logged(1)
	at("8:00")
	u.key(input.KeyO)
	logged(2)
	at("12:05")
	u.key(input.Digit1)
	u.click("[data-testid=pad-wrap]")
	logged(3)
	at("15:20")
	u.key(input.KeyP)
	logged(4)
	u.key(input.KeyU)
	logged(3)
	at("15:20")
	u.key(input.KeyP)
	logged(4)
	at("16:40")
	u.key(input.Digit2, input.KeyP)
	logged(5)
	u.see("[data-testid=last-entry]", "16:40 Pull 1R, 2L, 3R")
	u.Expect("/events answered 422")
	at("17:00")
	u.key(input.KeyS)
	// What does not fit is asked about, mended with its cuts, and sent again.
	u.see("[data-testid=turned-away]", "Not logged yet: 17:00 Spritz 1R, 2L, 3R. It was pulled at")
	u.see("[data-testid=when]", "At: now") // a time is for one press
	u.click("[data-testid=mend-turned]")
	u.fill(`input[aria-label="Time of what was not taken, clock"]`, "15:00")
	u.click("[data-testid=send-again]")
	logged(6)
	u.gone("[data-testid=turned-away]")
	u.see("[data-testid=last-entry]", "15:00 Spritz 1R, 2L, 3R")
	u.key(input.KeyU)
	logged(5)
	u.key(input.Equal)
	u.find("[data-testid=chart] path.trace")
	u.whole()
}

func rest(u user) {
	u.t.Helper()
	u.goTo(6)
	u.see("[data-testid=gate]", "To be read: 1L, 1R, 2R, 3L, 3R") // 2L is under 6 lb
	u.see("[data-testid=cut-1L] .gate", "it is read in two places")
	off := []string{"3 lb 5 oz", "3 lb 1 oz", "2 lb 14 oz", "3 lb 4 oz", "3 lb 6 oz", "3 lb 0 oz"}
	for i, c := range []string{"1L", "1R", "2L", "2R", "3L", "3R"} {
		u.enter(fmt.Sprintf(`input[aria-label="Weight off the pit of %s"]`, c), off[i])
	}
	for _, c := range []string{"1L", "1R", "2L", "2R", "3L", "3R"} {
		u.enter(fmt.Sprintf(`input[aria-label="Reads, %s"]`, c), "160")
		u.see("[data-testid=cut-"+c+"] .gate", "open")
	}
	u.see("[data-testid=cut-3R] .gate", "held") // by its probe, long before
	u.click("[data-testid=switch]")
	u.see("[data-testid=yields]", "46.1") // cook loss of 1L: 3 lb 5 oz of 6 lb 2 1/4 oz
	u.see("[data-testid=yields]", "± 0.")
}

// table seats three tasters, serves one flight and returns their pages.
func table(u user) []string {
	u.t.Helper()
	u.goTo(7)
	for i, name := range []string{"Ife", "Joren", "Marisol"} {
		u.enter("[data-testid=taster-name]", name)
		u.see("article", name)
		_ = i
	}
	u.click("[data-testid=prepare-flight]")
	u.choose("[data-testid=carver]", "Tove")
	u.click("[data-testid=serve]")
	u.see("[data-testid=flight]", "6 samples, carved by Tove")
	u.see("[data-testid=flight]", "Only Tove sees which code is which cut")
	var paths []string
	for _, name := range []string{"Ife", "Joren", "Marisol"} {
		href := u.attribute(u.find("[data-testid=link-"+name+"]"), "href")
		paths = append(paths, href[len(site(u)):])
	}
	return paths
}

// scores are what the panel finds in each cut, whatever its place on a plate:
// PAPER is juicier and its bark softer.
var scores = map[string]map[string]int{
	"1L": {"juiciness": 8, "bark": 5, "tenderness": 6, "overall": 7}, "1R": {"juiciness": 5, "bark": 7, "tenderness": 6, "overall": 6},
	"2R": {"juiciness": 8, "bark": 5, "tenderness": 7, "overall": 6}, "2L": {"juiciness": 6, "bark": 8, "tenderness": 6, "overall": 7},
	"3L": {"juiciness": 7, "bark": 6, "tenderness": 6, "overall": 7}, "3R": {"juiciness": 5, "bark": 7, "tenderness": 7, "overall": 6},
}

// scored is what a taster, counted from nought, finds in a cut: the second finds 1L less juicy than the
// others do.
func scored(cut string, taster int) map[string]int {
	out := maps.Clone(scores[cut])
	if taster == 1 && cut == "1L" {
		out["juiciness"]--
	}
	return out
}

// taste seals the first taster's plate on a phone.
func taste(u user, cutOf map[string]string) {
	u.t.Helper()
	u.see("h1", "Before you taste")
	u.see(".warn", "mustard")
	u.click("[data-testid=begin]")
	digits := []input.Key{input.Digit1, input.Digit2, input.Digit3, input.Digit4, input.Digit5, input.Digit6, input.Digit7, input.Digit8, input.Digit9}
	for n := range 6 {
		code := u.find("[data-testid=code]").MustText()
		cut, ours := cutOf[code]
		if !ours {
			u.fail("the plate shows %q, which the carver does not know", code)
		}
		u.see("[data-testid=seal]", "to go")
		for attribute, score := range scored(cut, 0) {
			rule := u.find("[data-testid=rule-" + attribute + "]")
			if n == 0 {
				// The first plate by touch, in the middle of the cell.
				u.press(attribute, rule.MustElement(fmt.Sprintf("span:nth-child(%d)", score)))
			} else {
				rule.MustFocus()
				rule.MustType(digits[score-1])
			}
			if got := u.attribute(rule, "aria-valuenow"); got != fmt.Sprint(score) {
				u.fail("%s shows %s, want %d", attribute, got, score)
			}
		}
		if n == 1 { // what is tapped outlives a reload
			u.MustReload()
			u.see("[data-testid=seal]", "Seal "+code)
		}
		u.whole()
		u.click("[data-testid=seal]")
		u.click("[data-testid=seal-sure]")
		if n < 5 {
			u.click("[data-testid=go-on]")
		}
	}
	u.see("h1", "All sealed")
}

func settle(u user) {
	u.t.Helper()
	u.see("[data-testid=outcome-juiciness]", "Clear winner: PAPER")
	u.see("[data-testid=outcome-juiciness]", "in this cook")
	u.see("[data-testid=outcome-juiciness]", "not asked: one cook")
	u.see("[data-testid=outcome-bark]", "Leaning: BARE")
	u.see("[data-testid=outcome-cooked_yield]", "PAPER")
	u.see("[data-testid=outcome-cook_time] ", "7 h 20")
	u.see("[data-testid=not-covered]", "It does not cover other pits than North Drum, days other than this one cook and pieces outside 5 lb 15 oz")
	u.see("[data-testid=headline]", "PAPER")
	u.click("[data-testid=units] button:nth-child(2)")
	u.see("[data-testid=not-covered]", "pieces outside 2.693 kg to 2.835 kg")
	u.whole()
}
