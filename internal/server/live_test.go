package server

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/live"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// device is a device of a barn.
type device struct {
	*testBarn
	token string
}

func (b *testBarn) device(master hand, name string, cook *int64) device {
	b.t.Helper()
	var n pits.NewToken
	master.must("POST", "/api/devices", pits.DeviceInput{Name: name, CookID: cook}, 201, &n)
	return device{b, n.Token}
}

func (d device) post(kind, body string) (int, live.Receipt) {
	d.t.Helper()
	req, err := http.NewRequest("POST", d.url+"/api/devices/readings", strings.NewReader(body))
	if err != nil {
		d.t.Fatal(err)
	}
	req.Header.Set("Content-Type", kind)
	req.Header.Set("Authorization", "Bearer "+d.token)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		d.t.Fatal(err)
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(res.Body)
	var r live.Receipt
	_ = json.Unmarshal(text, &r)
	return res.StatusCode, r
}

var anHourAgo = time.Now().Add(-time.Hour)

// lines are CSV readings from low to top, the same whenever they are sent.
func lines(channel string, low, top int, c float64) string {
	var b bytes.Buffer
	for i := low; i <= top; i++ {
		at := anHourAgo.Add(time.Duration(i) * time.Second).UTC().Format(time.RFC3339)
		fmt.Fprintf(&b, "%d,%s,%s,%g,C\n", i, channel, at, c)
	}
	return b.String()
}

func (b *testBarn) count(sql string) (n int) {
	b.t.Helper()
	if err := b.store.Pool().QueryRow(b.t.Context(), sql).Scan(&n); err != nil {
		b.t.Fatal(err)
	}
	return n
}

func TestADeviceIsHeardOnceAndOnlyWithItsToken(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	d := b.device(odalys, "Brick Pit gateway", nil)
	if status, r := d.post("text/csv", lines("pit", 1, 20, 121)); status != 200 || r.Accepted != 20 {
		t.Fatalf("twenty readings are answered with %d and %+v", status, r)
	}
	// The answer was lost: the device sends again, with five more.
	if _, r := d.post("text/csv", lines("pit", 1, 25, 121)); r.Accepted != 5 || r.Repeated != 20 {
		t.Errorf("a resend with five more is answered with %+v", r)
	}
	// Late and out of order, and another channel under old numbers.
	if _, r := d.post("text/csv", lines("core 1L", 40, 45, 60)+lines("pit", 26, 28, 121)+lines("core 1L", 30, 31, 59)); r.Accepted != 11 {
		t.Errorf("late readings are answered with %+v, want all eleven", r)
	}
	if n := b.count("select count(*) from readings"); n != 36 {
		t.Errorf("there are %d readings, want 36", n)
	}
	for what, wrong := range map[string]device{"no token": {b, ""}, "a wrong token": {b, "guess"}} {
		if status, _ := wrong.post("text/csv", lines("pit", 99, 99, 1)); status != 401 {
			t.Errorf("%s is answered with %d, want 401", what, status)
		}
	}
	var devices []store.Device
	odalys.must("GET", "/api/devices", nil, 200, &devices)
	if len(devices) != 1 || devices[0].LastSequence != 45 || devices[0].Readings != 36 {
		t.Errorf("the device is shown as %+v", devices)
	}
	// A renewed token shuts the old one out, a retired device is shut out too.
	var n pits.NewToken
	odalys.must("POST", fmt.Sprintf("/api/devices/%d/token", devices[0].ID), nil, 200, &n)
	if status, _ := d.post("text/csv", lines("pit", 99, 99, 1)); status != 401 {
		t.Errorf("the old token is answered with %d", status)
	}
	d.token = n.Token
	if status, _ := d.post("text/csv", lines("pit", 99, 99, 1)); status != 200 {
		t.Errorf("the new token is answered with %d", status)
	}
	odalys.must("POST", fmt.Sprintf("/api/devices/%d/retire", devices[0].ID), nil, 204, nil)
	if status, _ := d.post("text/csv", lines("pit", 100, 100, 1)); status != 401 {
		t.Errorf("a retired device is answered with %d", status)
	}
	crew, _ := b.join(odalys, "Bram", store.Crew)
	crew.must("POST", "/api/devices", pits.DeviceInput{Name: "mine"}, 403, nil)
	odalys.must("POST", "/api/devices", pits.DeviceInput{Name: "Brick Pit gateway"}, 422, nil)
}

func TestWhatADeviceGetsWrongIsShown(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	d := b.device(odalys, "gateway", nil)
	ahead := time.Now().Add(90 * time.Second).UTC()
	status, r := d.post("application/json", fmt.Sprintf(`{"sent_at": %q, "readings": [
		{"seq": 1, "channel": "pit", "temperature": 121, "unit": "C"},
		{"seq": 2, "channel": "core", "temperature": 9999, "unit": "F"},
		{"seq": 3, "channel": "core", "temperature": NaN, "unit": "F"},
		{"seq": 4, "channel": "scale", "weight": 5.25, "unit": "lb"}]}`, ahead.Format(time.RFC3339)))
	if status != 200 || r.Accepted != 2 || len(r.Refused) != 2 || r.SkewS == nil || *r.SkewS < 80 || *r.SkewS > 95 {
		t.Fatalf("a mixed batch is answered with %d and %+v", status, r)
	}
	var devices []store.Device
	odalys.must("GET", "/api/devices", nil, 200, &devices)
	if devices[0].Refused != 2 || devices[0].SkewS == nil || *devices[0].SkewS < 80 {
		t.Errorf("the device is shown as %+v, want its skew and two refusals", devices[0])
	}
	var refusals []store.Refusal
	odalys.must("GET", fmt.Sprintf("/api/devices/%d/refusals", devices[0].ID), nil, 200, &refusals)
	if len(refusals) != 2 || !strings.Contains(refusals[1].Reason+refusals[0].Reason, "9999 F") {
		t.Errorf("the refusals are %+v", refusals)
	}
	var scales []store.ProbeNow
	odalys.must("GET", "/api/scales", nil, 200, &scales)
	if len(scales) != 1 || scales[0].Kg == nil || *scales[0].Kg < 2.38 || *scales[0].Kg > 2.382 {
		t.Errorf("the scales show %+v, want 5.25 lb", scales)
	}
	if status, _ := d.post("text/csv", strings.Repeat("x", 10<<20)); status != 413 {
		t.Errorf("10 MB are answered with %d, want 413", status)
	}
}

// TestADeviceOfADayOnItsOwnClockLivesByIt: what is the future for the barn is
// now for a simulated day.
func TestADeviceOfADayOnItsOwnClockLivesByIt(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	k := odalys.trialOf(lambAsk(), 1).Cooks[0].ID
	start := time.Now()
	if _, err := b.store.Pool().Exec(t.Context(), "update cooks set clock_origin = $2, clock_start = $3, clock_rate = 600 where id = $1", k, start.Add(48*time.Hour), start); err != nil {
		t.Fatal(err)
	}
	d, plain := b.device(odalys, "rehearsal", &k), b.device(odalys, "gateway", nil)
	body := fmt.Sprintf("1,pit,%s,120,C\n", start.Add(48*time.Hour).UTC().Format(time.RFC3339))
	if _, r := d.post("text/csv", body); r.Accepted != 1 {
		t.Errorf("a reading of the cook's own now is answered with %+v", r)
	}
	if _, r := plain.post("text/csv", body); r.Accepted != 0 || len(r.Refused) != 1 {
		t.Errorf("the same from a device of the barn is answered with %+v", r)
	}
}

// watch reads a stream until it saw n readings or the time is up; it returns
// them and the last id.
func (h hand) watch(ctx context.Context, cook int64, lastID string, ready chan<- struct{}, n int) (seen int, id string, changed bool) {
	h.t.Helper()
	req, err := http.NewRequestWithContext(ctx, "GET", fmt.Sprintf("%s/api/live?cook=%d", h.url, cook), nil)
	if err != nil {
		h.t.Error(err)
		return
	}
	if lastID != "" {
		req.Header.Set("Last-Event-ID", lastID)
	}
	res, err := h.client.Do(req)
	if err != nil {
		h.t.Error(err)
		return
	}
	defer res.Body.Close()
	close(ready)
	event := ""
	in := bufio.NewScanner(res.Body)
	in.Buffer(nil, 1<<20)
	for in.Scan() {
		switch line := in.Text(); {
		case strings.HasPrefix(line, "id: "):
			id = line[4:]
		case strings.HasPrefix(line, "event: "):
			event = line[7:]
		case strings.HasPrefix(line, "data: ") && event == "readings":
			var rows []store.Arrived
			if err := json.Unmarshal([]byte(line[6:]), &rows); err != nil {
				h.t.Error(err)
			}
			if seen += len(rows); n > 0 && seen >= n {
				return
			}
		case strings.HasPrefix(line, "data: ") && event == "changed":
			if changed = true; n == 0 {
				return
			}
		}
	}
	return
}

// TestBrowsersHearOfReadingsThroughAnyServer streams from a second server of
// the same barn, loses the stream, and catches up on coming back.
func TestBrowsersHearOfReadingsThroughAnyServer(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	cook := odalys.trialOf(lambAsk(), 1).Cooks[0]
	k, run := cook.ID, cook.Runs[0].ID
	d := b.device(odalys, "gateway", nil)
	d.post("text/csv", lines("pit", 1, 1, 120))
	var probes []store.ProbeNow
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/probes", k), nil, 200, &probes)
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/probes/%d", k, probes[0].ID), fire.ProbeInput{PitRunID: &run}, 200, &probes)
	if probes[0].PitRunID == nil || *probes[0].PitRunID != run {
		t.Fatalf("the probe is assigned to %+v", probes[0])
	}
	cut := int64(1)
	var inside []store.ProbeNow
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/probes/%d", k, probes[0].ID), fire.ProbeInput{CutID: &cut, Place: "near bone"}, 200, &inside)
	if inside[0].CutID == nil || *inside[0].CutID != cut || inside[0].Place != "near bone" {
		t.Errorf("a probe near the bone is assigned to %+v", inside[0])
	}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/probes/%d", k, probes[0].ID), fire.ProbeInput{PitRunID: &run}, 200, nil)
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/probes/%d", k, probes[0].ID), fire.ProbeInput{PitRunID: &run, CutID: &cut}, 422, nil)

	second := listen(t, b.store)
	other := second.hand()
	other.must("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: password}, 200, nil)
	ctx, stop := context.WithTimeout(t.Context(), 20*time.Second)
	defer stop()
	type result struct {
		seen    int
		id      string
		changed bool
	}
	follow := func(h hand, last string, n int) (<-chan result, <-chan struct{}) {
		done, ready := make(chan result, 1), make(chan struct{})
		go func() {
			seen, id, changed := h.watch(ctx, k, last, ready, n)
			done <- result{seen, id, changed}
		}()
		return done, ready
	}
	later := func(low, top int) string { // of after the assignment
		var s strings.Builder
		for i := low; i <= top; i++ {
			fmt.Fprintf(&s, "%d,pit,%s,121,C\n", i, time.Now().UTC().Format(time.RFC3339Nano))
		}
		return s.String()
	}
	first, ready := follow(other, "", 5)
	<-ready
	d.post("text/csv", later(2, 6))
	got := <-first
	if got.seen != 5 {
		t.Fatalf("the second server's browser saw %d readings, want 5", got.seen)
	}
	d.post("text/csv", later(7, 9)) // while the browser is away
	// They set out before the last that it saw, and were long under way: it is sent what
	// came a little earlier once more.
	if _, err := b.store.Pool().Exec(ctx,
		"update readings set received_at = to_timestamp($1::float8 / 1e6) - interval '2 seconds' where sequence >= 2", got.id); err != nil {
		t.Fatal(err)
	}
	again, _ := follow(other, got.id, 8)
	if got := <-again; got.seen != 8 {
		t.Fatalf("on coming back it saw %d, want the 5 once more and the 3 it missed", got.seen)
	}
	change, ready := follow(other, "", 0)
	<-ready
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", k), fire.EventInput{Act: "note", Note: "sun on the lid",
		Press: "6f1c0a6e-6a53-4b38-9a3e-1b6a5c1d2e3f"}, 201, nil)
	if got := <-change; !got.changed {
		t.Error("another browser does not hear that a note was logged")
	}
}

// TestNothingAcknowledgedIsLostWhenTheDatabaseFalls kills PostgreSQL under a
// device that sends and resends.
func TestNothingAcknowledgedIsLostWhenTheDatabaseFalls(t *testing.T) {
	b, odalys := newBarn(t)
	d := b.device(odalys, "gateway", nil)
	acknowledged := 0
	for batch := range 30 {
		if batch == 12 {
			pgtest.Kill(t)
		}
		low := batch*20 + 1
		for try := 0; ; try++ {
			if status, r := d.post("text/csv", lines("pit", low, low+19, 121)); status == 200 {
				acknowledged += r.Accepted + r.Repeated
				break
			}
			if try > 50 {
				t.Fatal("the barn does not come back")
			}
			time.Sleep(50 * time.Millisecond)
		}
	}
	if n := b.count("select count(*) from readings"); n != 600 || acknowledged != 600 {
		t.Errorf("%d were acknowledged and %d are there, want 600 of both", acknowledged, n)
	}
}
