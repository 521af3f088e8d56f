package e2e

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn/gate"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

// sendLine sends one CSV reading as a device would, without a time: now.
func sendLine(t *testing.T, site, token, line string) {
	t.Helper()
	req, err := http.NewRequest("POST", site+"/api/devices/readings", strings.NewReader(line))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+token)
	req.Header.Set("Content-Type", "text/csv")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	if res.StatusCode != 200 {
		t.Fatalf("the reading %s is answered with %s", line, res.Status)
	}
}

// TestADeviceIsConnectedInAMinute adds a device, gives its channel to a pit
// and sees its readings come by themselves; a second browser's note comes too.
func TestADeviceIsConnectedInAMinute(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	u.home(site)
	u.key(input.KeyG, input.KeyP)
	u.see("h1", "Pits, holders and devices")
	u.enter("#holder-name", "Dry cooler")
	u.see("h2", "Dry cooler")
	u.enter("#device-name", "Drum gateway")
	token := strings.TrimSpace(u.find("[data-testid=token]").MustText())
	sendLine(t, site, token, "1,drum grate,,251,F")
	sendLine(t, site, token, "2,drum grate,,9999,F")
	sendLine(t, site, token, "3,kitchen scale,,5.25,lb")
	u.visit(site, "/pits", "[data-testid=devices]", "Drum gateway")
	u.button("1, see why")
	u.see("[role=dialog]", "9999 F is no temperature")

	// A trial of its own, with a cook that goes by the true time.
	id, _ := bench(t, s, 2, func(int, *store.Cut, *float64) {}, func(i int) (int, string) { return 0, fmt.Sprint("A", i+1) })
	u.visit(site, fmt.Sprintf("/trials/%d/fire", id), "[data-testid=wire]", "live")
	u.key(input.KeyQ)
	u.see("[role=dialog]", "drum grate")
	pit := u.MustEval(`() => document.querySelector('.heads .pit h2').textContent.trim()`).Str()
	u.choose(`[aria-label="What drum grate measures"]`, pit)
	u.choose(`[aria-label="What drum grate measures"]`, pit+", grate at B2")
	u.see(`[aria-label="What drum grate measures"]`, pit+", grate at B2") // kept
	u.key(input.Escape)
	u.gone("[role=dialog]")
	sendLine(t, site, token, "4,drum grate,,254,F")
	u.see(".door .pitlead", "254")
	sendLine(t, site, token, "5,drum grate,,257,F")
	u.see(".door .pitlead", "257")

	// Another channel hangs in the cooler, which gets a lane of its own.
	sendLine(t, site, token, "6,cooler,,148,F")
	u.key(input.KeyQ)
	u.see("[role=dialog]", "cooler")
	u.choose(`[aria-label="What cooler measures"]`, "Dry cooler")
	u.see(`[aria-label="What cooler measures"]`, "Dry cooler")
	u.key(input.Escape)
	u.gone("[role=dialog]")
	u.see(".heads", "Dry cooler")
	sendLine(t, site, token, "7,cooler,,147,F")
	u.see(".door", "147")

	other := as(t, site, "bram", 1280, 800)
	other.visit(site, fmt.Sprintf("/trials/%d/fire", id), "[data-testid=wire]", "live")
	other.Expect("/events answered 422")
	other.key(input.KeyO)
	other.see("[data-testid=turned-away]", "On is planned for")
	other.click("[data-testid=sure]")
	u.see("[data-testid=event-log]", "Bram")
	other.key(input.KeyS) // and what comes right behind it
	u.see("[data-testid=event-log]", "Spritz")
	other.key(input.KeyN)
	u.see("[data-testid=event-log]", "Note")

	// The scale's weight is offered where cuts are weighed.
	u.goTo(2)
	u.button("kitchen scale shows")
	if got := u.find("#cut-trimmed").MustProperty("value").Str(); got != "5 lb 4 oz" {
		t.Errorf("the scale gave %q, want 5 lb 4 oz", got)
	}
}

// TestAFamilyOfTheBarnsOwnIsAddedAndRetired starts from a known one; a wrong
// number is refused with its field.
func TestAFamilyOfTheBarnsOwnIsAddedAndRetired(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/pits", "[data-testid=families]", "Lamb shoulder, bone in")
	u.Expect("/families answered 422")
	row, err := u.Timeout(patience).ElementR("[data-testid=families] tr", "Lamb shoulder")
	if err != nil {
		t.Fatal(err)
	}
	u.press("Add one like it", row.CancelTimeout().MustElement("button"))
	u.fill("#family-name", "Goat shoulder")
	u.fill("#family-lean", "90")
	u.enter("#family-fat", "40")
	u.see("[role=dialog]", "lean, fat and bone add up to 1.46")
	u.fill("#family-lean", "70")
	u.enter("#family-fat", "14")
	u.see("[data-testid=families]", "Goat shoulder")
	if f, err := s.Family(t.Context(), "own goat shoulder"); err != nil || f.Lean != 0.7 || f.Key != "own goat shoulder" {
		t.Errorf("a goat shoulder is cooked as %+v (%v)", f, err)
	}
	u.button("Retire")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => !document.querySelector('[data-testid=families]').textContent.includes('Goat')`)); err != nil {
		t.Error("a retired family is still offered")
	}
	if f, err := s.Family(t.Context(), "own goat shoulder"); err != nil || f.Key != "porkbutt" {
		t.Errorf("after that a goat shoulder is cooked as %+v (%v)", f, err)
	}
}

// TestARehearsalIsRunFromTheFire starts one, puts the cuts on, lets hours pass
// in seconds, and ends it; the real trial is as it was.
func TestARehearsalIsRunFromTheFire(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	u.see("[data-testid=outlook]", "203 F")
	u.see("[data-testid=outlook]", "sooner, loses")
	u.button("Cook 2")
	u.button("Rehearse")
	u.see("[data-testid=rehearsal]", "Nothing here counts")
	u.button("600×")
	u.key(input.KeyO)
	u.see("[data-testid=event-log]", "Odalys")
	warm := `() => { const n = document.querySelector('.door .lead'); return !!n && parseInt(n.textContent) > 80 }`
	if err := u.Timeout(patience).Wait(rod.Eval(warm)); err != nil {
		u.fail("the cuts do not warm up: %v", err)
	}
	u.see("[data-testid=outlook]", "203 F") // the rehearsal's own, once its log says enough
	u.button("End the rehearsal")
	u.see("[data-testid=rehearsal]", "It has ended")
	u.click("[data-testid=rehearsal] a")
	u.at("/trials/4/fire")
	trial, err := s.Events(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range trial {
		if time.Since(e.Recorded) < 0 || e.By == "Odalys" {
			t.Errorf("the real trial got an event of the rehearsal: %+v", e)
		}
	}
	u.click(".home")
	u.see("[data-testid=burning]", "Paper, pan or bare?")
	lead := u.find("[data-testid=burning] .lead").MustText()
	if c, err := strconv.Atoi(strings.TrimRight(lead, "FC")); err != nil || c < 90 || c > 200 {
		t.Errorf("the coldest core that burns is shown as %q", lead)
	}
}

// TestABrowserThatWasCutOffSaysSoAndCatchesUp takes the server away and brings
// it back at the same address.
func TestABrowserThatWasCutOffSaysSoAndCatchesUp(t *testing.T) {
	t.Parallel()
	s := demoSeed.Store(t)
	addr, begin := comingAndGoing(t, s)
	end := begin()
	u := open(t, "http://"+addr, "/", 1280, 900)
	u.Expect("net::ERR_")
	u.signIn("odalys")
	u.visit("http://"+addr, "/trials/4/fire", "[data-testid=wire]", "live")
	u.MustWaitRequestIdle()()
	u.see("main", "Table of readings") // a part of the page that comes later
	end()
	u.see("[data-testid=wire]", "Connection lost")
	var cook int64
	if err := s.Pool().QueryRow(t.Context(), "select id from cooks where played").Scan(&cook); err != nil {
		t.Fatal(err)
	}
	if err := s.Log(t.Context(), 1, []store.Event{{Act: logbook.Note, At: time.Now(), Note: "rain on the lid", CookID: &cook, Press: uuid.NewString()}}); err != nil {
		t.Fatal(err)
	}
	defer begin()()
	u.see("[data-testid=wire]", "live")
	u.see("[data-testid=event-log]", "rain on the lid")
}

// TestAnAlarmIsRaisedSeenAndNotRepeated lets the watch look at a pit too hot.
func TestAnAlarmIsRaisedSeenAndNotRepeated(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	at := time.Now().Add(-11 * time.Minute) // the lid was open not long before
	monitor := watch.NewMonitor(watch.New(s, planner.New(s, &plans)), gate.New(s, func() time.Time { return at }), func() time.Time { return at })
	if _, err := s.Pool().Exec(t.Context(), "update pit_runs set set_point_c = 107 where id in (select pit_run_id from cook_pit_runs cr join cooks k on k.id = cr.cook_id where k.played)"); err != nil {
		t.Fatal(err)
	}
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	look := func(before time.Duration) {
		at = time.Now().Add(-before)
		if err := monitor.Look(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	look(11 * time.Minute)
	look(5 * time.Minute)
	u.see("[data-testid=alarm-pit-high]", "over its set point")
	other := as(t, site, "bram", 390, 844)
	other.visit(site, "/trials/4/fire", "[data-testid=alarm-pit-high]", "log Set to; else close the vents")
	other.whole()
	u.key(input.KeyK)
	u.see("[data-testid=alarm-known]", "Seen by Tove")
	other.see("[data-testid=alarm-known]", "Seen by Tove") // who saw it, on every screen
	look(4 * time.Minute)
	u.gone("[data-testid=alarm-pit-high]")
	u.whole()
}

// firstDue is the key of the task that is due first. Its words and the time to
// wait for it run with the clock; the key does not.
func (u user) firstDue() string {
	u.t.Helper()
	return u.attribute(u.find(".first[data-task]"), "data-task")
}

// TestTheFirstDueIsDoneWithEnter also puts one off.
func TestTheFirstDueIsDoneWithEnter(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.home(site)
	u.see("[data-testid=burning]", "Wood to Brick Pit") // at home, too
	u.visit(site, "/trials/4/fire", "[data-testid=due]", "Wood to Brick Pit")
	wood := u.firstDue()
	u.button("10 min later")
	u.see(`[data-task="`+wood+`"]`, "put off by Tove")
	first := u.firstDue()
	u.key(input.Enter)
	u.see("[data-testid=event-log]", "Tove")
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('.first[data-task]').dataset.task !== was`, first)); err != nil {
		t.Errorf("done, %s is still the first due", first)
	}
	// What was done there is undone and amended like any press.
	u.find("[data-testid=last-entry]")
	u.key(input.KeyU)
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('.first[data-task]').dataset.task === was`, first)); err != nil {
		t.Errorf("undone, %s is not due again", first)
	}
	u.gone("[data-testid=last-entry]")
	u.see("[data-testid=due]", "Check PAN") // before it can be done
	u.whole()
}

// TestWhatIsLikelyIsDrawnUpToTheTable takes the fans away and shows them again.
func TestWhatIsLikelyIsDrawnUpToTheTable(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	// The last hour on the rail: whole hours, so that a minute more tells nothing.
	ends := func() time.Time {
		text := u.MustEval(`() => [...document.querySelectorAll('svg.rail text')].map(t => t.textContent.trim()).filter(t => /^\d\d:\d\d$/.test(t)).pop()`).Str()
		at, err := time.Parse("15:04", text)
		if err != nil {
			t.Fatal(err)
		}
		return at
	}
	if err := u.Timeout(patience).Wait(rodCount("[data-testid=fan-PAPER]", 2)); err != nil {
		t.Fatal("no fan is drawn for the two cuts in paper")
	}
	// Phases as they are planned now, five of them, and what was done so far.
	if err := u.Timeout(patience).Wait(rodCount("[data-testid=planned-PAPER]", 5)); err != nil {
		t.Error("the planned phases of PAPER are not drawn")
	}
	u.find("rect.did")
	far := ends()
	u.whole()
	u.key(input.KeyY)
	u.gone("[data-testid=fan-PAPER]")
	if more := (far.Sub(ends()) + 24*time.Hour) % (24 * time.Hour); more < 4*time.Hour { // the table is set in seven and a half
		t.Errorf("without what is likely the rail ends only %s sooner", more)
	}
	u.key(input.KeyY)
	u.find("[data-testid=fan-PAPER]")
}
