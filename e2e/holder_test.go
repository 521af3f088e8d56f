package e2e

import (
	"bytes"
	"fmt"
	"io"
	"math"
	"net/http"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
)

// TestAPanTellsWhatTheBoxHolds calibrates the demo's box once more, a night of water sent in
// seconds: the page says that it can be stopped hours before it is there, it is saved, and
// the hold of the night relies on it.
func TestAPanTellsWhatTheBoxHolds(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	_, token, err := s.NewDevice(t.Context(), 1, "Box logger", nil)
	if err != nil {
		t.Fatal(err)
	}
	in := time.Now().Add(-4 * time.Hour).Truncate(time.Minute)
	until := func(from, to int) {
		t.Helper()
		var body bytes.Buffer
		for m := from; m < to; m++ {
			f := 156 - 96*math.Exp(-float64(m)/60/1.6) + 0.4*math.Sin(float64(13*m))
			fmt.Fprintf(&body, "%d,water,%s,%.2f,F\n", m+1, in.Add(time.Duration(m)*time.Minute).UTC().Format(time.RFC3339), f)
		}
		send(t, site, token, &body)
	}
	until(0, 20)
	u.visit(site, "/pits", "h2", "Warm Box")
	u.see("[data-testid=last-burn]", "Plan lights before")
	u.click(`a[aria-label="What it really holds: Warm Box"]`)
	u.see("[data-testid=holder-first]", "At 153 F on the dial it settles at 150 F")
	u.see("[data-testid=holds]", "Four hours in the box, or nine?")

	u.Expect("answered 422")
	u.fill("#pan-dial", "400")
	u.fill("#pan-target", "150")
	u.day(`input[aria-label="Put in at, day"]`, in.In(demoZone).Format("2006-01-02"))
	u.enter(`input[aria-label="Put in at, clock"]`, in.In(demoZone).Format("15:04"))
	u.button("Put it in")
	u.see("[data-testid=problem]", "is no temperature of a holder")
	u.fill("#pan-dial", "158")
	u.button("Put it in")
	u.see("[data-testid=holder-first]", "bend")
	u.gone("[data-testid=pan-form]")
	until(20, 230)
	u.see("[data-testid=holder-first]", "You can stop now: it settles at 156 F")
	u.see("[data-testid=holder-second]", "Set the dial to 15")
	u.see("[data-testid=holder-second]", "for 150 F")
	u.whole()
	u.key(input.KeyS)
	u.see("[data-testid=calibrations]", "not at 150 F")
	u.see("[data-testid=holds]", "at another dial")
	u.see("[data-testid=holder-first]", "At 158 F on the dial it settles at 156 F")
	u.visit(site, "/trials/5/rest", ".rest-board", "read at another dial")
	u.whole()
}

// send brings readings to the barn as a device does.
func send(t *testing.T, site, token string, lines io.Reader) {
	t.Helper()
	req, err := http.NewRequest("POST", site+"/api/devices/readings", lines)
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "text/csv")
	req.Header.Set("Authorization", "Bearer "+token)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	if res.Body.Close(); res.StatusCode != http.StatusOK {
		t.Fatalf("the readings are answered with %s", res.Status)
	}
}

// TestAPitBurnsWithoutMeat lights a pit that nothing lies in, feeds it and opens its lid: each
// press is the pit's.
func TestAPitBurnsWithoutMeat(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	id := u.MustEval(`async (serve) => {
		const send = (path, body) => fetch('/api' + path, { method: 'POST', headers: { 'content-type': 'application/json' },
			body: JSON.stringify(body) })
			.then(async r => { if (!r.ok) throw new Error(await r.text()); return r.json() })
		const ask = await (await fetch('/api/trials/4/draft?as=copy')).json()
		const made = await send('/trials', { ...ask, question: 'What does the trough do?' })
		await send('/trials/' + made.id + '/cooks', { serve_at: serve, placements: [],
			runs: [{ id: 0, pit_id: 1, setup: 'trough full', set_point: '250 F' }] })
		return made.id
	}`, time.Now().Add(3*time.Hour).UTC().Format(time.RFC3339)).Int()
	u.visit(site, fmt.Sprintf("/trials/%d/fire", id), "[data-testid=pad-lit]", "Lit")
	loggedBy := newIn(t, s, int64(id))
	u.key(input.KeyF)
	u.click("[data-testid=caution-read]")
	u.see("[data-testid=last-entry]", "Lit Brick Pit")
	u.key(input.KeyA)
	u.see("[data-testid=last-entry]", "Wood Brick Pit")
	u.key(input.KeyL)
	u.see("[data-testid=last-entry]", "Lid Brick Pit")
	u.handedIn()
	acts, events := loggedBy("Odalys")
	if len(acts) != 3 || events[0].PitRunID == nil || events[2].CutID != nil {
		t.Errorf("the burn has %v", acts)
	}
	u.whole()
}
