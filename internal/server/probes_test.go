package server

import (
	"bufio"
	"context"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/store"
)

// TestAProbeSaidLateCountsFromTheFire: what it read since the cut went on is not lost.
func TestAProbeSaidLateCountsFromTheFire(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	b.device(odalys, "gateway", nil).post("text/csv", lines("meat", 1, 1, 60)+lines("pit", 2, 2, 120))
	v = odalys.log(v, logbook.On, 90, logbook.Detail{}, v.Cuts[0].ID)
	on := v.Events[0].At
	cook := v.Cooks[0].ID
	path := func(probe int64) string { return fmt.Sprintf("/api/cooks/%d/probes/%d", cook, probe) }
	var probes []store.ProbeNow
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/probes", cook), nil, 200, &probes)
	meat := probes[0].ID
	odalys.must("PUT", path(meat), fire.ProbeInput{CutID: &v.Cuts[0].ID}, 200, &probes)
	if got := probes[0].Since; got == nil || !got.Equal(on) {
		t.Errorf("said an hour and a half late, the probe counts since %v, want %v", got, on)
	}
	// Moved on, it counts from now; put back after it lay free, from when it was free.
	odalys.must("PUT", path(meat), fire.ProbeInput{CutID: &v.Cuts[1].ID}, 200, &probes)
	moved := *probes[0].Since
	if time.Since(moved) > time.Minute {
		t.Errorf("moved on, the probe counts since %v", moved)
	}
	odalys.must("PUT", path(meat), fire.ProbeInput{}, 200, nil)
	odalys.must("PUT", path(meat), fire.ProbeInput{CutID: &v.Cuts[0].ID}, 200, &probes)
	if got := *probes[0].Since; got.Before(moved) {
		t.Errorf("put back, the probe counts since %v, before it was taken off at %v", got, moved)
	}
	early := on.Add(-20 * time.Minute)
	odalys.must("PUT", path(probes[1].ID), fire.ProbeInput{CutID: &v.Cuts[0].ID, From: &early}, 200, &probes)
	if got := *probes[1].Since; !got.Equal(early) {
		t.Errorf("said to count from %v, the probe counts since %v", early, got)
	}
	odalys.refused("PUT", path(999), fire.ProbeInput{CutID: &v.Cuts[0].ID}, 422, "none of this cook's")
}

// TestAProbeOfAnotherFireIsLeftThere while that fire burns.
func TestAProbeOfAnotherFireIsLeftThere(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	one, two := odalys.trialOf(lambAsk(), 1), odalys.trialOf(lambAsk(), 1)
	clocked := b.device(odalys, "its own clock", &two.Cooks[0].ID)
	clocked.post("text/csv", lines("meat", 1, 1, 60))
	d := b.device(odalys, "gateway", nil)
	d.post("text/csv", lines("pit", 1, 1, 120))
	var probes, others []store.ProbeNow
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/probes", one.Cooks[0].ID), nil, 200, &probes)
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/probes", two.Cooks[0].ID), nil, 200, &others)
	if len(probes) != 1 || len(others) != 2 {
		t.Fatalf("the cooks see %d and %d probes, want 1 and 2", len(probes), len(others))
	}
	path := func(cook, probe int64) string { return fmt.Sprintf("/api/cooks/%d/probes/%d", cook, probe) }
	for _, p := range others {
		if p.ID != probes[0].ID {
			odalys.refused("PUT", path(one.Cooks[0].ID, p.ID), fire.ProbeInput{CutID: &one.Cuts[0].ID}, 422, "none of this cook's")
		}
	}
	odalys.must("PUT", path(one.Cooks[0].ID, probes[0].ID), fire.ProbeInput{PitRunID: &one.Cooks[0].Runs[0].ID}, 200, nil)
	time.Sleep(10 * time.Millisecond)
	d.post("text/csv", fmt.Sprintf("2,pit,%s,121,C\n", time.Now().UTC().Format(time.RFC3339Nano)))
	odalys.refused("PUT", path(two.Cooks[0].ID, probes[0].ID), fire.ProbeInput{PitRunID: &two.Cooks[0].Runs[0].ID}, 409, "measuring at another fire")
	odalys.must("PUT", path(one.Cooks[0].ID, probes[0].ID), fire.ProbeInput{}, 200, nil)
	odalys.must("PUT", path(two.Cooks[0].ID, probes[0].ID), fire.ProbeInput{PitRunID: &two.Cooks[0].Runs[0].ID}, 200, nil)
}

// heard follows the barn and gives what it says, line by line, until it ends.
func (h hand) heard(ctx context.Context) <-chan string { return h.heardSince(ctx, "") }

// heardSince is a stream of a page that was told of a change before.
func (h hand) heardSince(ctx context.Context, since string) <-chan string {
	h.t.Helper()
	req, err := http.NewRequestWithContext(ctx, "GET", h.url+"/api/live?told="+since, nil)
	if err != nil {
		h.t.Fatal(err)
	}
	res, err := h.client.Do(req)
	if err != nil || res.StatusCode != 200 {
		h.t.Fatalf("the stream answers %v, %v", res, err)
	}
	out := make(chan string, 100)
	go func() {
		defer close(out)
		defer res.Body.Close()
		for s := bufio.NewScanner(res.Body); s.Scan(); {
			out <- s.Text()
		}
	}()
	return out
}

// waitFor reads a stream until a line holds some words; false if it ended before.
func waitFor(t *testing.T, stream <-chan string, words string) bool {
	t.Helper()
	late := time.After(10 * time.Second)
	for {
		select {
		case line, open := <-stream:
			if !open || strings.Contains(line, words) {
				return open
			}
		case <-late:
			t.Fatalf("the stream does not say %q within ten seconds", words)
		}
	}
}

// TestOneStreamTellsTheBarnWhatChanged by trial and part, and ends with its sign-in.
func TestOneStreamTellsTheBarnWhatChanged(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	tove, _ := b.join(odalys, "Tove", store.Crew)
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	his, hers := odalys.heard(ctx), tove.heard(ctx)
	waitFor(t, his, "retry")
	waitFor(t, hers, "retry")
	odalys.weigh(v.Cuts[0].ID, "off", "4 lb")
	waitFor(t, his, fmt.Sprintf(`{"trial":%d,"parts":["cuts","steps"],"told":`, v.ID))
	odalys.must("POST", "/api/holders", barn.NamedInput{Name: "Dry cooler"}, 201, nil)
	waitFor(t, hers, `{"trial":0,"parts":["holders"],"told":`)
	b.device(odalys, "gateway", nil).post("text/csv", lines("pit", 1, 1, 120))
	waitFor(t, hers, "event: heard")
	// What is only worked out is no news.
	odalys.must("POST", "/api/calc/units.to_grams", map[string]any{"lb": 1, "oz": 8}, 200, nil)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/phases", v.ID), map[string]any{"arm_id": v.Ask.Arms[0].ID, "school": "low and slow"}, 200, nil)

	tove.must("DELETE", "/api/session", nil, 204, nil)
	for waitFor(t, hers, "event: changed") {
		t.Error("a calculation was told as a change")
	}
	select {
	case _, open := <-his:
		if !open {
			t.Error("the other's stream ended too")
		}
	default:
	}
}

// TestAStreamGoesOnFromWhatAPageRead opens it after a change, and with a word of another
// time: the page is told of that change alone, or of everything.
func TestAStreamGoesOnFromWhatAPageRead(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	first := odalys.heard(ctx) // the hub listens
	waitFor(t, first, `"parts":[]`)
	res, err := odalys.client.Get(odalys.url + "/api/session")
	if err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	told := res.Header.Get(toldHeader)
	odalys.weigh(v.Cuts[0].ID, "off", "4 lb")
	waitFor(t, first, `"parts":["cuts","steps"]`)
	next := odalys.heardSince(ctx, told)
	waitFor(t, next, "retry")
	data := ""
	for line := range next {
		if data = line; strings.HasPrefix(line, "data: ") {
			break
		}
	}
	if !strings.HasPrefix(data, fmt.Sprintf(`data: {"trial":%d,"parts":["cuts","steps"],`, v.ID)) {
		t.Errorf("a page that read before the change is told %s", data)
	}
	for _, strange := range []string{"", "of-another-time", told[:len(told)-1] + "99"} {
		waitFor(t, odalys.heardSince(ctx, strange), `{"trial":0,"parts":[]`)
	}
}

// TestLongCalculationsAreForThoseWhoAreSignedIn and the quick ones for all.
func TestLongCalculationsAreForThoseWhoAreSignedIn(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	stranger := b.hand()
	stranger.must("POST", "/api/calc/units.to_grams", map[string]any{"lb": 1, "oz": 8}, 200, nil)
	stranger.refused("POST", "/api/calc/plan.start", map[string]any{}, 401, "not signed in")
	odalys.refused("POST", "/api/calc/plan.start", map[string]any{}, 422, "")
	stranger.must("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: password}, 200, nil)
	stranger.refused("POST", "/api/calc/plan.start", map[string]any{}, 422, "")
}
