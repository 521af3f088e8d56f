package e2e

import (
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// starts are when each arm goes on, as the rail says.
func (u user) starts() map[string]time.Time {
	u.t.Helper()
	out := map[string]time.Time{}
	for _, tag := range []string{"PAPER", "PAN", "BARE"} {
		at, err := time.Parse("15:04", u.find("[data-testid=on-"+tag+"]").MustText())
		if err != nil {
			u.fail("%s goes on at %v", tag, err)
		}
		out[tag] = at
	}
	return out
}

// moved waits until every arm goes on so much earlier (or later, below zero).
func (u user) moved(was map[string]time.Time, by time.Duration) map[string]time.Time {
	u.t.Helper()
	var now map[string]time.Time
	for deadline := time.Now().Add(patience); ; time.Sleep(50 * time.Millisecond) {
		now = u.starts()
		all := true
		for tag := range was {
			all = all && (was[tag].Sub(now[tag])+24*time.Hour)%(24*time.Hour) == (by+24*time.Hour)%(24*time.Hour)
		}
		if all {
			return now
		}
		if time.Now().After(deadline) {
			u.fail("the starts were %v and are %v, want each %s earlier", was, now, by)
		}
	}
}

func TestTheHarvestSupperIsPlanned(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/trials/4/plan", "[data-testid=plan-facts]", "light Brick Pit")
	u.see("[data-testid=plan-ready]", "in 10")
	was := u.starts()

	// The hold an hour longer, by keys: every arm starts an hour earlier.
	hold := u.find("[data-testid=block-PAPER-hold]")
	hold.MustFocus()
	for range 4 {
		u.Keyboard.MustType(input.ArrowRight)
	}
	u.see("[data-testid=hold-hours]", "3 h")
	u.moved(was, time.Hour)

	// By dragging: the start of the block is pulled to the left.
	box := u.find("[data-testid=block-BARE-hold]").MustShape().Box()
	u.Mouse.MustMoveTo(box.X+20, box.Y+10)
	u.Mouse.MustDown(proto.InputMouseButtonLeft)
	u.Mouse.MustMoveTo(box.X-60, box.Y+10)
	u.Mouse.MustUp(proto.InputMouseButtonLeft)
	if err := u.Timeout(patience).Wait(rod.Eval(`() => !/^3 h$/.test(document.querySelector('[data-testid=hold-hours]').textContent)`)); err != nil {
		t.Error("dragging the hold changes nothing")
	}
	u.button("Put back")
	u.see("[data-testid=hold-hours]", "2 h")
	u.moved(was, 0)

	// The table an hour later moves all starts an hour later.
	clock := u.find(`input[aria-label="On the table, clock"]`)
	if at := clock.MustProperty("value").Str(); at != "18:00" {
		t.Fatalf("the supper is at %s", at)
	}
	u.enter(`input[aria-label="On the table, clock"]`, "1900")
	u.moved(was, -time.Hour)
	u.button("Put back")
	u.moved(was, 0)

	// Two cuts at one place are a clash, where it happens and in words.
	u.button("Pits, places and hands")
	first, second := u.find("input[aria-label^='Place of']"), u.find("tr:nth-child(2) input[aria-label^='Place of']")
	place := first.MustProperty("value").Str()
	second.MustSelectAllText().MustInput(place)
	u.see("[data-testid=clash-same-place]", "both stand at "+place)
	u.button("Put back")
	if err := u.Timeout(patience).Wait(rodCount("[data-testid=clash-same-place]", 0)); err != nil {
		t.Error("put back, two cuts still share a place")
	}

	// A phase that ends by feel, and a value that cannot be.
	u.click("[data-testid=block-BARE-smoke]")
	u.Expect("/plan answered 422")
	u.enter(`input[aria-label="Value"]`, "done")
	u.see("[data-testid=problem]", `"done" is not a temperature`)
	u.choose(`[aria-label="Ends"]`, "when it feels tender")
	u.see("[data-testid=block-BARE-smoke]", "feel")
	u.button("Put back")
	u.moved(was, 0)

	// Kept, it is there again; the table of those who are there shares the work.
	u.find("[data-testid=block-PAN-hold]").MustFocus()
	for range 2 {
		u.Keyboard.MustType(input.ArrowRight)
	}
	now := u.moved(was, 30*time.Minute)
	u.click("[data-testid=keep-cook]")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => ![...document.querySelectorAll('button')].some(b => b.textContent.trim() === 'Put back')`)); err != nil {
		t.Error("the kept plan still can be put back")
	}
	u.visit(site, "/trials/4/plan", "[data-testid=hold-hours]", "2 h 30")
	u.moved(now, 0)

	// On paper, and in a calendar.
	u.button("Run sheet")
	u.see("[data-testid=sheet-group]", "Brick Pit")
	u.click("[data-testid=sheet-by] button:nth-child(3)")
	u.see("[data-testid=sheet-group]", "Slice 6 cuts")
	u.whole()
	u.button("Back to Plan")
	u.button("Calendar")
	address := u.find("[data-testid=calendar-url]")
	if err := address.Timeout(patience).Wait(rod.Eval(`() => this.value.endsWith('.ics')`)); err != nil {
		t.Fatal("the calendar has no address")
	}
	res, err := http.Get(address.MustProperty("value").Str())
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	if text, err := io.ReadAll(res.Body); err != nil || !strings.HasPrefix(string(text), "BEGIN:VCALENDAR") || !strings.Contains(string(text), "Slice 6 cuts") {
		t.Errorf("the calendar is %.200s (%v)", text, err)
	}
}

func TestTheBenchIsWorkedThrough(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.visit(site, "/trials/4/prep", "[data-testid=bench-cut]", "salt, fine")
	u.key(input.Digit1)
	u.see("[data-testid=bench-cut]", "Tove,")
	u.see("[data-testid=bench-1L]", "1/3")
	u.button("Take back")
	u.see("[data-testid=bench-1L]", "0/3")
	u.button("Done to all 4 of this arm")
	u.see("[data-testid=bench-3R]", "1/3")
	u.key(input.ArrowDown)
	u.see("[data-testid=bench-cut] h1", "3R")
	u.enter(`input[aria-label="Prepped weight of 3R"]`, "6 lb 8 oz")
	u.see("[data-testid=pick-up]", "%")
	salt := u.find("[data-testid=bench-cut] .order .huge").MustText()
	u.enter("#dose-0-share", "2")
	u.Expect("answered 403") // the plan is the pitmaster's
	u.click("[data-testid=keep-doses]")
	u.see("[data-testid=problem]", "pitmaster")
	if now := u.find("[data-testid=bench-cut] .order .huge").MustText(); now != salt {
		t.Errorf("refused, the salt is %s, before %s", now, salt)
	}
	u.whole()

	// The pantry takes an ingredient, and says what is wrong with one.
	u.key(input.KeyG, input.KeyY)
	u.button("Another ingredient")
	u.fill("#ing-name", "juniper berries")
	u.fill("#ing-pack", "a jar")
	u.Expect("/ingredients answered 422")
	u.button("Save")
	u.see("[data-testid=problem]", `"a jar" is not a weight`)
	u.fill("#ing-pack", "2 oz")
	u.fill("#ing-price", "4.20")
	u.button("Save")
	u.see("[data-testid=ingredients]", "juniper berries")
	u.fill(`input[aria-label="How much hill rub"]`, "1 kg")
	u.see(`[data-testid="recipe-hill rub"]`, "500 g")

	// Every calculation has a page; its link brings the numbers back.
	u.key(input.KeyG, input.KeyK)
	u.button("Dry brine by scale and spoon")
	u.fill("#f-meat_g", "2270")
	u.see("[data-testid=working]", "22.7 = 2270 x 0.01")
	u.click("[data-testid=share]")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => location.search.includes('2270')`)); err != nil {
		t.Fatal("the address does not hold the input")
	}
	u.MustReload()
	u.see("[data-testid=answer]", "22.7")
	u.Expect("/working answered 422")
	u.fill("#f-meat_g", "0")
	u.see("[data-testid=problem]", "meat g: 0 is no amount")
}

func TestPhasesAreWrittenByAnySchool(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/trials/4/plan", "[data-testid=plan-facts]", "light Brick Pit")

	// One arm hotter than the pit is a clash, with a way out at a touch.
	u.click("[data-testid=block-PAN-smoke]")
	u.enter("[data-testid=phases] input[id^=set]", "275")
	u.see("[data-testid=clash-two-temperatures]", "PAN is to smoke at 275 F")
	u.button("Smoke it at the pit's set point")
	u.gone("[data-testid=clash-two-temperatures]")

	// By the clock every phase ends by it; by feel the pull is a feel.
	u.button("By the clock")
	u.see("[data-testid=block-BARE-smoke]", "8 h")
	u.see("[data-testid=block-PAPER-hold]", "2 h") // the hold stays
	u.button("By feel")
	u.see("[data-testid=block-PAPER-smoke]", "bark set")
	u.button("Put back")
	u.see("[data-testid=block-PAPER-smoke]", "165 F")

	// A second way to end: the first of both, or both at once.
	u.click("[data-testid=block-BARE-smoke]")
	u.button("Another way to end")
	u.see("[data-testid=block-BARE-smoke]", "203 F or 4 h")
	u.button("all at once")
	u.see("[data-testid=block-BARE-smoke]", "203 F and 4 h")
	u.button("Put back")

	// The slider for the wrap moves every wrapped arm.
	u.find("[data-testid=what-if] [aria-labelledby=wi-wrap][role=slider]").MustFocus()
	for range 5 {
		u.Keyboard.MustType(input.ArrowLeft)
	}
	u.see("[data-testid=block-PAPER-smoke]", "160 F")
	u.see("[data-testid=block-PAN-smoke]", "160 F")
	u.button("Put back")

	// One hand in the afternoon alone leaves the morning to nobody.
	u.button("Pits, places and hands")
	u.click(`input[aria-label="Bram is there"]`)
	u.enter(`input[aria-label="Bram from"]`, "1200")
	u.see("[data-testid=plan-rail]", "Nobody")
	u.see("[data-testid=clash-hands]", "nobody is there")
	u.button("Put back")
	u.gone("[data-testid=clash-hands]")

	// A phase taken out, another put in, and the order of the work kept.
	u.click("[data-testid=block-PAPER-rest]")
	u.button("Take out")
	u.gone("[data-testid=block-PAPER-rest]")
	u.see("[data-testid=clash-unequal-hold]", "rest differently")
	u.button("Add a phase")
	u.fill("[data-testid=phases] input[id^=name]", "ramp")
	u.key(input.Tab)
	u.see("[data-testid=plan-lane-PAPER]", "ramp")
	u.button("Put back")

	// Ducks that nobody meant to hold: a hold for every arm, in the box there is.
	u.visit(site, "/trials/2/plan", "[data-testid=plan-facts]", "light North Drum")
	was := u.find("[data-testid=on-DRY]").MustText()
	u.click("[data-testid=add-hold]")
	for _, arm := range []string{"DRY", "FRESH"} {
		u.see("[data-testid=block-"+arm+"-hold]", "2 h")
	}
	u.see("[data-testid=hold-hours]", "2 h")
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('[data-testid=on-DRY]').textContent !== was`, was)); err != nil {
		t.Errorf("held for two hours, DRY still goes on at %s", was)
	}

	// A trial with no cook says what it needs; the first is planned from there.
	u.visit(site, "/trials/1/plan", "p", "Give the serving time")
	u.see("aside", "None yet")
	u.button("By feel")
	u.see("[data-testid=phases]", "it feels tender")
}

func TestAPlanOnAPhone(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "bram", 390, 844)
	u.visit(site, "/trials/4/plan", "[data-testid=plan-facts]", "light Brick Pit")
	u.whole()
	u.see("p", "A pitmaster saves the plan")
	// The heads stay where they are while the rail is moved sideways.
	left := u.MustEval(`() => {
		const rail = document.querySelector('.scroll')
		rail.scrollLeft = 300
		return new Promise(done => requestAnimationFrame(() => done(document.querySelector('[data-testid=plan-lane-PAPER] .head').getBoundingClientRect().left)))
	}`).Num()
	if left < -1 || left > 1 {
		t.Errorf("moved sideways, the head of a lane is at %g", left)
	}
	u.visit(site, "/trials/4/run-sheet", "[data-testid=sheet-group]", "Brick Pit")
	u.whole()
	u.visit(site, "/trials/4/prep", "[data-testid=bench-cut]", "salt, fine")
	u.click("[data-testid=done-0]")
	u.see("[data-testid=bench-1L]", "1/3")
	u.whole()
}

func TestTheBenchSpeaksTheReadersUnits(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.visit(site, "/bench/plan.start", "[data-testid=answer]", "latest start")
	u.see("form", "pit, F")
	if v := u.find("#f-pit_C").MustProperty("value").Str(); v != "249.8" {
		t.Errorf("121 C is shown as %s F", v)
	}
	latest := func() string {
		return u.find("[data-answer=latest_start_before_table_h] b").MustText()
	}
	was := latest()
	u.fill("#f-pit_C", "300") // hotter, so later
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('[data-answer=latest_start_before_table_h] b')?.textContent !== was`, was)); err != nil {
		t.Fatalf("at 300 F it still must go on %s h before", was)
	}
	u.click("[data-testid=units] button:nth-child(2)")
	u.see("form", "pit, C")
	if v := u.find("#f-pit_C").MustProperty("value").Str(); !strings.HasPrefix(v, "148.8") {
		t.Errorf("300 F are shown as %s C", v)
	}
	u.fill(`input[aria-label="Find a calculation"]`, "eaters")
	u.button("How much to buy for so many eaters")
	u.see("[data-testid=answer]", "pieces by plain division")
	u.fill("#f-eaters", "120")
	u.see("[data-testid=working]", "18000 = 120 x 150")
	// Lists are tables: a line more, a line less.
	u.visit(site, "/bench/prep.scale_recipe", "[data-testid=answer]", "factor")
	u.button("Another")
	u.Expect("/working answered 422")
	u.see("[data-testid=problem]", "it has no name")
	u.button("Drop")
	u.see("[data-testid=problem]", "it has no name") // that was the first one
}
