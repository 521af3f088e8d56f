package e2e

import (
	"fmt"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"whitebarn/internal/demo"
	"whitebarn/internal/store"
)

// demoZone is where the demo barn stands.
var demoZone = zone("America/New_York")

func zone(name string) *time.Location {
	z, err := time.LoadLocation(name)
	if err != nil {
		panic(err) // the system's zones are not there
	}
	return z
}

// demoBarn serves the demo to somebody who is signed in; no page of it is open yet.
func demoBarn(t *testing.T, name string, width, height int) (user, string, *store.Store) {
	t.Helper()
	site, s := serveDemo(t)
	return as(t, site, name, width, height), site, s
}

// as is a page of somebody who is signed in already; nothing of the barn is shown yet.
func as(t *testing.T, site, name string, width, height int) user {
	t.Helper()
	u := open(t, site, "/health", width, height)
	u.comeIn(name)
	return u
}

// comeIn signs somebody in without the door, which has walks of its own.
func (u user) comeIn(name string) {
	u.t.Helper()
	status := told[int](u, `async (sign_in, password) => (await fetch('/api/session', {
		method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ sign_in, password }) })).status`, name, demo.Password)
	if status != 200 {
		u.fail("%s is not let in: %d", name, status)
	}
}

// home opens the first page.
func (u user) home(site string) {
	u.t.Helper()
	u.visit(site, "/", "h2", "Open questions")
}

func (u user) signIn(name string) {
	u.t.Helper()
	u.knock(name, demo.Password)
	u.see("h2", "Open questions")
}

// knock gives a name and a password at the door.
func (u user) knock(name, password string) {
	u.t.Helper()
	u.fill("#sign-in", name)
	u.enter("#password", password)
}

// inside goes to another address as a link of the application does; false where it is not open.
const inside = `async path => {
	const router = document.querySelector('#app')?.__vue_app__?.config.globalProperties.$router
	if (!router || path === location.pathname + location.search + location.hash) return false
	await router.push(path)
	return true
}`

// goIn goes to an address: by a link where the application is open, else, and to where it
// is already, by loading it.
func (u user) goIn(site, path string) {
	u.t.Helper()
	if strings.HasPrefix(u.MustInfo().URL, site) {
		if in, err := u.Timeout(patience).Evaluate(rod.Eval(inside, path).ByPromise()); err == nil && in.Value.Bool() {
			return
		}
	}
	u.load(site, path)
}

// load loads an address anew.
func (u user) load(site, path string) {
	u.t.Helper()
	if err := u.Navigate(site + path); err != nil {
		u.fail("cannot open %s: %v", path, err)
	}
}

// open opens an address and waits for what shows that it is there.
func (u user) open(site, path, ready string) {
	u.t.Helper()
	u.goIn(site, path)
	u.find(ready)
}

// visit opens an address and waits for its words.
func (u user) visit(site, path, selector, words string) {
	u.t.Helper()
	u.goIn(site, path)
	u.see(selector, words)
}

// TestEveryStepIsAKeyAway goes through trials at each stage by keys alone; the light that was
// chosen holds over a load.
func TestEveryStepIsAKeyAway(t *testing.T) {
	t.Parallel()
	words := []string{"What decides", "Are the arms alike?", "Cooks of this trial", "What each arm gets", "Fire", "All weights", "Seats",
		"Settle"}
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.MustEval(`() => localStorage.setItem('barn.theme', 'night')`)
	for _, id := range []int{1, 2, 5} {
		u.visit(site, fmt.Sprintf("/trials/%d/settle", id), "nav", "Settle")
		for i, w := range words {
			u.goTo(i + 1)
			u.see("h1, h2, nav", w)
			u.whole()
		}
	}
	u.key(input.KeyG, input.KeyC)
	u.see("h1", "Crew")
	u.key(input.KeyG, input.KeyB)
	u.see("h2", "Settled")
	u.load(site, "/nowhere")
	u.see("h1", "Nothing hangs here")
	if got := u.MustEval(`() => document.documentElement.dataset.theme`).Str(); got != "night" {
		t.Errorf("the light is %q after a load, want night", got)
	}
}

func TestTheCrewSeesWhatItMayDo(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "bram", 1280, 800)
	u.home(site)
	u.see("article", "crisp the duck legs")
	if has, _, _ := u.HasR("button", "Ask a new question"); has {
		t.Error("the crew is offered to ask a new question")
	}
	u.key(input.Digit3)
	u.at("/trials/2/prep")
	u.visit(site, "/trials/2/table", "aside", "A pitmaster ends it")
	if has, _, _ := u.HasR("button", "Serve a flight"); has {
		t.Error("the crew is offered to serve a flight")
	}
	u.visit(site, "/trials/2/ask", "aside", "A pitmaster writes the ask")
	// Another hand signs in at the same screen.
	u.button("Sign out")
	u.see("h1", "Sign in")
	u.Expect("POST " + site + "/api/session answered 401")
	u.fill("#sign-in", "odalys")
	u.enter("#password", "not the password")
	u.see("[data-testid=problem]", "Wrong name or password")
	u.signIn("odalys")
	u.see("button", "Ask a new question")
}

func TestUnitsSwitchEveryNumberAtOnce(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/3/match", ".rail", "oz")
	u.click("[data-testid=units] button:nth-child(2)")
	u.see(".rail", "kg")
	u.see("[data-testid=difference]", " g")
	u.goTo(6)
	u.see(".trough", "62.8 C")
	u.goTo(8)
	u.see("[data-testid=not-covered]", " kg")
	u.MustReload()
	u.see("[data-testid=not-covered]", " kg")
	u.click("[data-testid=units] button:nth-child(1)")
	u.see("[data-testid=not-covered]", " oz")
}

func TestSettleReadsAsTheRulesSay(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/", ".settled",
		"Juiciness and cooked yield lean to PAPER (clear in these two cooks).")
	u.button("Paper or bare?")
	u.at("settle")
	for _, key := range []string{"juiciness", "bark", "tenderness", "overall", "cooked_yield", "cook_time"} {
		u.click("[data-testid=more-" + key + "]")
	}
	for outcome, words := range map[string][]string{
		"juiciness": {"Leaning: PAPER", "+1.38", "0.78 to 1.97", "these pieces", "these cooks", "the next cook",
			"Two cooks: it leans at most", "To settle the next cook: 1 more"},
		"bark":         {"Leaning: BARE", "in these two cooks", "−1.03 to −0.12"},
		"tenderness":   {"Cannot tell", "that there is none by 19 pairs, 11 more"},
		"overall":      {"Leaning: PAPER", "0.15 to 1.00"},
		"smoke":        {"Described only"},
		"cooked_yield": {"Leaning: PAPER", "% of trimmed"},
		"cook_time":    {"Leaning: PAPER", "less is better", "−0.59"},
	} {
		for _, w := range words {
			u.see("[data-testid=outcome-"+outcome+"]", w)
		}
	}
	u.see("[data-testid=headline]", "Cannot tell on tenderness")
	u.see("[data-testid=not-covered]", "other pits than Brick Pit, days other than these 2 cooks")
	u.see("[data-testid=read-at]", "Read 2 times, as planned")
	u.see("[data-testid=looked]", "Cook 1 alone was read")
	u.see("[data-testid=delivered] .apart", "was to be equal")
	u.see("aside", "It was to be held equal, and was not: PAPER rested longer by 0.6 h.")
	u.goTo(1)
	u.see("[data-testid=ask-reach]", "For the next cook two lean at most: three tell.")
	// The codes are open: the key is for all, and nothing that was judged can be changed.
	u.goTo(7)
	u.see("details", "PAPER")
	u.goTo(2)
	if has, _, _ := u.Has("[data-testid=keep-cut]"); has {
		t.Error("a judged cut can still be changed")
	}
}

func TestFireIsReadZoomedAndMended(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/3/fire", ".door", "204")
	chart := u.find("[data-testid=chart]")
	box := chart.MustShape().Box()
	u.Mouse.MustMoveTo(box.X+box.Width*0.45, box.Y+100)
	u.see(".door .now", "10:")
	if got := u.find(".door .lead").MustText(); !strings.HasPrefix(got, "1") {
		t.Errorf("at the crosshair the door reads %q, want a core below 200 F", got)
	}
	// Closer by key asks for finer readings and shows less time.
	marks := func() string { return u.find("svg.rail").MustEval(`() => this.textContent`).Str() }
	wide := marks()
	u.key(input.Equal, input.Equal, input.Equal)
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('svg.rail').textContent !== was`, wide)); err != nil {
		t.Fatalf("three times closer the rail still says %q", wide)
	}
	near := marks()
	u.key(input.ArrowRight)
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('svg.rail').textContent !== was`, near)); err != nil {
		t.Errorf("the rail does not move: %q", near)
	}
	u.button("All")
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('svg.rail').textContent === was`, wide)); err != nil {
		t.Errorf("all of it is %q, want %q", marks(), wide)
	}
	// The other cook has its own log and events.
	u.button("Cook 2")
	u.see("[data-testid=event-log]", "20 Sep")

	// Going somewhere by keys logs nothing on the way.
	u.visit(site, "/trials/2/fire", "h2", "The log")
	u.key(input.KeyG, input.KeyC)
	u.see("h1", "Crew")
	if events, err := s.Events(t.Context(), 2); err != nil || len(events) != 0 {
		t.Errorf("the keys g c logged %v (%v)", events, err)
	}

	// On the cook to come a click on the picture sets the time of the act, and an entry can be mended.
	u.visit(site, "/trials/2/fire", "h2", "The log")
	u.see("section", "Nothing is logged yet")
	u.find("[data-testid=due-first]")
	box = u.find("[data-testid=chart]").MustShape().Box()
	u.Mouse.MustMoveTo(box.X+box.Width*0.6, box.Y+100)
	u.Mouse.MustClick("left")
	u.click("[data-testid=when]")
	clock := u.find(`input[aria-label="Time of the act, clock"]`)
	if err := clock.Timeout(patience).Wait(rod.Eval(`() => this.value !== ''`)); err != nil {
		t.Fatal("a click on the picture sets no time")
	}
	set := clock.MustProperty("value").Str()
	u.click("[data-testid=pad-on]")
	u.see("[data-testid=last-entry]", set+" On 1L, 1R, 2L, 2R, 3L, 3R")
	u.click("[data-testid=details]")
	u.enter(`[data-testid=detail] input[aria-label="Note"]`, "skin up")
	u.see("[data-testid=event-log]", "skin up")
	u.button("Fix")
	u.enter(`[role=dialog] input[aria-label="Note"]`, "skin down")
	u.inDialog("Save")
	u.see("[data-testid=event-log]", "skin down")
	u.button("6 entries")
	u.button("Fix 1R alone")
	u.see("[role=dialog]", "1R, by Odalys")
	u.key(input.Escape)
	u.gone("[role=dialog]")
	u.button("Fix")
	u.button("Take the press back")
	u.gone("[data-testid=event-log]")
	u.click("[data-testid=undo-last]")
	u.see("[data-testid=event-log]", "skin down")
}

func TestLogImportAsksWhatTheFileLeavesOpen(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/2/fire", "h2", "The log")
	u.key(input.KeyI)
	// Only the repeated hour, with nothing on either side: a person must say which pass.
	u.find("[data-testid=log-file]").MustSetFiles(file(t, "night.csv", func(w io.Writer) {
		fmt.Fprint(w, "time;Grube;1L\n02.11.2025 01:10;121,5;60,5\n02.11.2025 01:20;122,0;61,0\n")
	}))
	u.see(".ask", "Guessed from the values")
	u.see("[role=dialog]", "which pass of the hour?")
	u.see("[role=dialog]", "decimal commas")
	u.see("[role=dialog]", "Sun 2 Nov 01:10 to 01:20")
	u.see("[data-testid=outside]", "4 readings of 2025-11-02 to 2025-11-02 are far from this cook's table")
	u.button("second pass")
	u.button("C")
	u.button("keep them")
	// UTC tells the passes apart where the barn's clock cannot.
	u.fill("#log-zone", "UTC")
	u.find("#log-zone").MustBlur()
	u.see("[role=dialog]", "Sat 1 Nov 21:10 to 21:20")
	u.click("[data-testid=import-log]")
	u.see("[data-testid=imported]", "4 readings added")
	u.button("Another file")
	// A file that is too large never leaves the browser.
	u.find("[data-testid=log-file]").MustSetFiles(file(t, "huge.csv", func(w io.Writer) {
		line := []byte(strings.Repeat("2026-09-27 09:00:00,250\n", 4096))
		for range 60 << 20 / len(line) {
			_, _ = w.Write(line)
		}
	}))
	u.see("[data-testid=problem]", "24 MB is the most")

	// What was taken in wrongly is taken back with a reason, and stays on record.
	u.Keyboard.MustType(input.Escape)
	u.gone("[role=dialog]")
	u.button("Logs imported")
	u.click(`button[aria-label="Take night.csv back"]`)
	u.see("[role=dialog]", "The 4 readings that night.csv added go out")
	u.fill("#log-why", "x")
	u.Expect("answered 422")
	u.click("[data-testid=log-back]")
	u.see("[role=dialog] [data-testid=problem]", "three letters")
	u.fill("#log-why", "the log of another night")
	u.click("[data-testid=log-back]")
	u.see("[data-testid=log-taken-in]", "taken back by Odalys: the log of another night")
}

// TestServingTimesHoldOverTheChangeOfClocks types local times about the nights
// when the barn's clocks change, and reads them back as instants and as typed.
func TestServingTimesHoldOverTheChangeOfClocks(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/2/plan", "aside", "Sun 27 Sept 13:00")
	for _, c := range []struct{ day, clock, shown, utc string }{
		{"2026-10-31", "2330", "Sat 31 Oct 23:30", "2026-11-01T03:30:00Z"},
		{"2026-11-01", "0130", "Sun 1 Nov 01:30", "2026-11-01T05:30:00Z"}, // of two, the first
		{"2026-11-01", "0300", "Sun 1 Nov 03:00", "2026-11-01T08:00:00Z"},
		{"2027-03-14", "0330", "Sun 14 Mar 03:30", "2027-03-14T07:30:00Z"},
		{"2027-07-01", "18:05", "Thu 1 Jul 18:05", "2027-07-01T22:05:00Z"},
	} {
		u.day(`input[aria-label="On the table, day"]`, c.day)
		u.fill(`input[aria-label="On the table, clock"]`, c.clock)
		u.click("[data-testid=keep-cook]")
		u.see("aside", c.shown)
		cooks, err := s.Cooks(t.Context(), 2)
		if err != nil || cooks[0].ServeAt.UTC().Format(time.RFC3339) != c.utc {
			t.Errorf("%s %s is kept as %v (%v), want %s", c.day, c.clock, cooks[0].ServeAt.UTC(), err, c.utc)
		}
	}
}
