package e2e

import (
	"bytes"
	"fmt"
	"os"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"whitebarn/internal/standin"
)

// TestADryBurnFromLightingToItsSentence asks what a trough does, plans its burns, burns one
// in a rehearsal at 600 times the speed, and reads its sentence.
func TestADryBurnFromLightingToItsSentence(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/pits", "h2", "Brick Pit")
	u.see("[data-testid=used-as]", "TROUGH")
	u.click(`a[href="/trials/new?template=set-ups"]`)
	u.see("[data-testid=can-answer]", "It can answer its question")
	u.gone("#product")
	u.fill("#question", "What does a pan do to the Brick Pit?")
	u.whole()
	u.click("[data-testid=keep-ask]")
	u.see("[data-testid=plan-burns]", "Plan 4 burns")
	u.fill("#burn-pit", "Brick Pit")
	u.fill("#burn-set", "250")
	u.Expect("answered 422")
	u.fill("#burn-hours", "40")
	u.click("[data-testid=plan-burns]")
	u.see("[data-testid=problem]", "Give 0.25 to 24 h")
	u.fill("#burn-hours", "2")
	u.click("[data-testid=plan-burns]")
	u.see("[data-testid=burns]", "to come")
	if n := len(u.MustElements("[data-testid=burns] tbody tr")); n != 4 {
		t.Errorf("two burns of each are %d", n)
	}
	u.whole()
	u.click("[data-testid=burns] tbody tr .link")
	u.see("[data-testid=burn-so-far]", "Not lit yet")
	tag := strings.Fields(u.find("[aria-label=Cook] [aria-pressed=true]").MustText())[0]
	u.button("Rehearse")
	u.see("[data-testid=rehearsal]", "Nothing here counts")
	u.key(input.KeyF)
	u.click("[data-testid=caution-read]")
	u.see("[data-testid=last-entry]", "Lit Brick Pit")
	u.button("600×")
	hot := `() => /Hot after\s*\d+ min/.test(document.querySelector('[data-testid=burn-so-far]')?.textContent ?? '')`
	if err := u.Timeout(patience).Wait(rod.Eval(hot)); err != nil {
		u.fail("the pit never gets hot: %v", err)
	}
	u.button("60×")
	u.key(input.KeyE)
	u.see("[data-testid=last-entry]", "Fuel Brick Pit")
	u.button("600×")
	u.see("[data-testid=burn-so-far]", tag+": ")
	u.see("[data-testid=burn-so-far]", "across")
	u.see("[data-testid=burn-so-far]", "fuel held it")
	u.button("End the rehearsal")
	u.see("[data-testid=rehearsal]", "It has ended")
}

// TestTwoSetUpsStandBesideEachOther reads the demo's settled burns, and uses the other set-up.
func TestTwoSetUpsStandBesideEachOther(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/", ".settled", "What does the trough do to the Brick Pit?")
	u.visit(site, "/trials/6/match", "[data-testid=set-up-numbers]", "Spread over the places") // a step it has not
	u.at("/trials/6/settle")
	u.see("[data-testid=set-up-sentence]", "TROUGH: many pieces evenly")
	u.see(".good", "one line of pieces")
	u.see("[data-testid=read-at]", "Rests on 2 burns of TROUGH and 2 burns of DRY in the Brick Pit.")
	u.see("[data-testid=burn-DRY]", "hot at 2")
	u.whole()
	u.button("Use DRY")
	u.see(".acts [aria-pressed=true]", "Used: DRY")
	u.visit(site, "/trials/4/match", "[data-testid=by-its-burns]", "as DRY")
	u.visit(site, "/trials/4/plan", "[data-testid=plan-facts]", "fed about every")
	u.visit(site, "/trials/6/settle", "[data-testid=set-up-numbers]", "Warm-up")
	u.button("Use TROUGH")
	u.see(".acts [aria-pressed=true]", "Used: TROUGH")
	u.MustSetViewport(390, 844, 1, true)
	u.see("[data-testid=set-up-sentence]", "TROUGH")
	u.whole()
}

// TestAPanIsToldEarlyAt600Times plays the stand-in's night in the box at 600 times the speed:
// the page says that it can be stopped hours before the night is over, and where it then
// settles is where it said.
func TestAPanIsToldEarlyAt600Times(t *testing.T) {
	t.Parallel() // it mostly waits
	u, site, s := demoBarn(t, "tove", 1280, 900)
	text, err := os.ReadFile("../docs/examples/pan-in-the-box.yaml")
	if err != nil {
		t.Fatal(err)
	}
	script, err := standin.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	const night = 9 * time.Hour
	from := time.Now().Add(-night).Truncate(time.Minute)
	box, err := standin.New(script, from)
	if err != nil {
		t.Fatal(err)
	}
	_, token, err := s.NewDevice(t.Context(), 1, "Box logger", nil)
	if err != nil {
		t.Fatal(err)
	}
	seq := 0
	play := func(to time.Time) {
		t.Helper()
		var lines bytes.Buffer
		err := box.Advance(to, func(r standin.Reading) {
			if r.Channel != "pan" { // the box has no probe of its own
				return
			}
			seq++
			fmt.Fprintf(&lines, "%d,%s,%s,%.2f,C\n", seq, r.Channel, r.At.UTC().Format(time.RFC3339), r.Value)
		})
		if err != nil {
			t.Fatal(err)
		}
		if lines.Len() == 0 {
			return
		}
		send(t, site, token, &lines)
	}
	in := from.Add(30 * time.Minute)
	play(in.Add(20 * time.Minute))
	u.visit(site, "/pits/holders/1", "[data-testid=holder-first]", "settles at")
	u.fill("#pan-dial", "153")
	u.fill("#pan-target", "150")
	u.day(`input[aria-label="Put in at, day"]`, in.In(demoZone).Format("2006-01-02"))
	u.enter(`input[aria-label="Put in at, clock"]`, in.In(demoZone).Format("15:04")) // Enter sends it
	u.gone("[data-testid=pan-form]")
	first := func() string { return u.find("[data-testid=holder-first]").MustText() }
	began, at := time.Now(), in.Add(20*time.Minute)
	for !strings.Contains(first(), "You can stop now") {
		if at = in.Add(20*time.Minute + time.Duration(float64(time.Since(began))*600)); at.After(from.Add(night)) {
			t.Fatalf("after the whole night it says %q", first())
		}
		play(at)
		time.Sleep(time.Second)
	}
	told := settlesAt(t, first())
	if took := at.Sub(in); took > 7*time.Hour {
		t.Errorf("it says so after %s of the night", took)
	}
	play(from.Add(night))
	done := func() bool { return strings.Contains(u.find("[data-testid=pan-numbers]").MustText(), "Pan now") }
	if !done() {
		t.Error("the numbers of the pan are gone")
	}
	if last := settlesAt(t, first()); last < told-2 || last > told+2 {
		t.Errorf("it said %d F early, and %d F at the end", told, last)
	}
}

// settlesAt is the temperature that the page's first line says a pan settles at.
func settlesAt(t *testing.T, line string) int {
	t.Helper()
	_, rest, ok := strings.Cut(line, "settles at ")
	v, err := strconv.Atoi(strings.Fields(rest + " x")[0])
	if !ok || err != nil {
		t.Fatalf("where it settles is not said: %q", line)
	}
	return v
}
