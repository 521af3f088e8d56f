package server

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/live"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// sentBy writes CSV readings of a channel: each of a number, minutes ago and a temperature.
func sentBy(channel string, readings ...[3]float64) string {
	var b strings.Builder
	for _, r := range readings {
		at := anHourAgo.Add(time.Hour - time.Duration(r[1]*float64(time.Minute))).UTC().Format(time.RFC3339Nano)
		fmt.Fprintf(&b, "%d,%s,%s,%g,C\n", int64(r[0]), channel, at, r[2])
	}
	return b.String()
}

// TestNumbersThatBeginAnewLoseNothing: a number that comes again with another time or value is another reading.
func TestNumbersThatBeginAnewLoseNothing(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	first := sentBy("pit", [3]float64{1, 30, 120}, [3]float64{2, 29, 121}, [3]float64{3, 28, 122}, [3]float64{4, 27, 123})
	again := sentBy("pit", [3]float64{1, 20, 110}, [3]float64{2, 19, 121})
	untimed := func(n int, c float64) string { return fmt.Sprintf("%d,pit,,%g,C\n", n, c) }
	huge := "9223372036854775807,pit," + anHourAgo.UTC().Format(time.RFC3339) + ",125,C\n"
	d := b.device(odalys, "gateway", nil)
	for _, c := range []struct {
		what            string
		body            string
		taken, repeated int
		last            int64
		restarts        int
	}{
		{"the first four", first, 4, 0, 4, 0},
		{"the same once more", first, 0, 4, 4, 0},
		{"numbers from 1 with other times", again, 2, 0, 2, 1},
		{"those once more", again, 0, 2, 2, 1},
		{"what the run before sent, late", first, 0, 4, 2, 1},
		{"the next, that stands of the run before", sentBy("pit", [3]float64{3, 18, 122}, [3]float64{4, 17, 122}), 2, 0, 4, 1},
		{"a number with another value at the same time", sentBy("pit", [3]float64{4, 17, 99}), 1, 0, 4, 2},
		{"two of one number in a batch", sentBy("pit", [3]float64{5, 16, 98}, [3]float64{5, 16, 97}), 2, 0, 5, 2},
		{"a number with no time", untimed(6, 100), 1, 0, 6, 2},
		{"it once more", untimed(6, 100), 0, 1, 6, 2},
		{"it with another value", untimed(6, 101), 1, 0, 6, 3},
		{"the largest integer", huge, 1, 0, 6, 3},
		{"it once more", huge, 0, 1, 6, 3},
		{"what goes on after it", untimed(7, 102) + untimed(8, 103), 2, 0, 8, 3},
		{"many after it", sentBy("pit", [3]float64{9, 9, 1}, [3]float64{10, 8, 1}, [3]float64{11, 7, 1}) + lines("core", 12, 60, 40), 52, 0, 60, 3},
	} {
		status, r := d.post("text/csv", c.body)
		if status != 200 || r.Accepted != c.taken || r.Repeated != c.repeated || len(r.Refused) != 0 {
			t.Errorf("%s: %d taken and %d repeated with %v (%d), want %d and %d", c.what, r.Accepted, r.Repeated, r.Refused, status, c.taken, c.repeated)
		}
		var devices []store.Device
		odalys.must("GET", "/api/devices", nil, 200, &devices)
		if got := devices[0]; got.LastSequence != c.last || got.Restarts != c.restarts || (got.RestartedAt != nil) != (c.restarts > 0) {
			t.Errorf("%s: the last number is %d after %d new beginnings, want %d and %d", c.what, got.LastSequence, got.Restarts, c.last, c.restarts)
		}
	}
}

// TestADeviceHasSoManyChannels: what comes under more names is refused by name, quickly, and its own go on.
func TestADeviceHasSoManyChannels(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	d := b.device(odalys, "gateway", nil)
	sequence := 0
	for range 3 {
		var body strings.Builder
		for range live.MostReadings {
			sequence++
			body.WriteString(sentBy(fmt.Sprintf("c%d", sequence), [3]float64{float64(sequence), 5, 20}))
		}
		if status, _ := d.post("text/csv", body.String()); status != 200 {
			t.Fatalf("a flood of names is answered with %d", status)
		}
	}
	status, r := d.post("text/csv", sentBy("c1", [3]float64{90001, 4, 21})+sentBy("another", [3]float64{90002, 4, 21}))
	if status != 200 || r.Accepted != 1 || len(r.Refused) != 1 || !strings.Contains(r.Refused[0].Reason, "has 200 channels already") {
		t.Errorf("after the flood a known channel and another are answered with %d, %+v", status, r)
	}
	for what, want := range map[string]int{"probes": store.MostChannels, "readings": store.MostChannels + 1, "refused_readings": 200} {
		if n := b.count("select count(*) from " + what); n != want {
			t.Errorf("there are %d %s, want %d", n, what, want)
		}
	}
	var devices []store.Device
	odalys.must("GET", "/api/devices", nil, 200, &devices)
	if want := int64(3*live.MostReadings - store.MostChannels + 1); devices[0].Refused != want {
		t.Errorf("%d are said to be refused, want %d", devices[0].Refused, want)
	}
}

// TestTheNewestWeightIsShown after a scale began its numbers anew.
func TestTheNewestWeightIsShown(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	d := b.device(odalys, "scale", nil)
	weigh := func(n int, minutesAgo, kg float64) {
		at := time.Now().Add(-time.Duration(minutesAgo * float64(time.Minute))).UTC().Format(time.RFC3339)
		if _, r := d.post("text/csv", fmt.Sprintf("%d,scale,%s,%g,kg\n", n, at, kg)); r.Accepted != 1 {
			t.Fatalf("a weight is answered with %+v", r)
		}
	}
	weigh(1, 30, 1.5)
	weigh(2, 20, 1.6)
	weigh(1, 10, 1.7)
	var scales []store.ProbeNow
	odalys.must("GET", "/api/scales", nil, 200, &scales)
	if len(scales) != 1 || *scales[0].Kg != 1.7 {
		t.Errorf("the scale shows %+v, want 1.7 kg", scales)
	}
}

const badHour = `
name: an hour of a gateway that fails
seed: 7
every: 5s
length: 1h
pits:
  - {name: Brick Pit, kind: offset, set_point: 250 F, control: fan, fuel: 12 kg, light: 0s, ambient: 54 F, channel: pit, probe: {noise_C: 0.4}}
cuts:
  - {name: 1L, family: lambshoulder, weight: 5 lb 6 oz, pit: Brick Pit, on: 5m, channel: core 1L, probe: {noise_C: 0.2, dropout: 0.02}}
`

// TestAnHourOfABadDevice plays an hour of a gateway that loses its numbers, whose clock drifts, that sends what
// was answered again and floods the barn in between. What it showed is there, each reading once.
func TestAnHourOfABadDevice(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	d := b.device(odalys, "gateway", nil)
	script, err := standin.Parse([]byte(badHour))
	if err != nil {
		t.Fatal(err)
	}
	start := time.Now().Add(-time.Hour).UTC()
	barn, err := standin.New(script, start)
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(3, 5))
	site := standin.Site{Address: d.url, Token: d.token}
	var before []byte
	deliver := func(ctx context.Context, batch []byte) error {
		if before != nil && r.IntN(3) == 0 { // an answer that was lost on the way
			if err := site.Deliver(ctx, before); err != nil {
				return err
			}
		}
		before = batch
		return site.Deliver(ctx, batch)
	}
	type moment struct {
		channel string
		at      int64 // microseconds
		c       float64
	}
	shown, boots := map[moment]bool{}, 0
	sender := standin.NewSender(deliver)
	for minute := 1; minute <= 60; minute++ {
		if r.IntN(10) == 0 { // it lost its power, and with it its count
			sender = standin.NewSender(deliver)
			boots++
		}
		drift := time.Duration(minute) * time.Second // a second a minute, until somebody sets it
		if minute > 40 {
			drift = 0
		}
		err := barn.Advance(start.Add(time.Duration(minute)*time.Minute), func(x standin.Reading) {
			x.At = x.At.Add(drift)
			shown[moment{x.Channel, x.At.UnixMicro(), x.Value}] = true
			sender.Queue(x)
		})
		if err != nil {
			t.Fatal(err)
		}
		if err := sender.Flush(t.Context()); err != nil {
			t.Fatalf("minute %d: %v", minute, err)
		}
		if r.IntN(6) == 0 {
			body := strings.Repeat("0,pit,2026-10-03T14:05:00Z,1,C\n5,pit,yesterday,1,C\n6,pit,,wet,C\n", 1500)
			if status, receipt := d.post("text/csv", body); status != http.StatusOK || receipt.Accepted != 0 {
				t.Fatalf("minute %d: a flood is answered with %d, %d taken", minute, status, receipt.Accepted)
			}
		}
	}
	rows, err := b.store.Pool().Query(t.Context(), "select p.channel, r.at, r.c from readings r join probes p on p.id = r.probe_id")
	if err != nil {
		t.Fatal(err)
	}
	there := 0
	for rows.Next() {
		var channel string
		var at time.Time
		var c float64
		if err := rows.Scan(&channel, &at, &c); err != nil {
			t.Fatal(err)
		}
		there++
		if !shown[moment{channel, at.UnixMicro(), c}] {
			t.Fatalf("%s at %s of %g C is on record, and was never shown", channel, at, c)
		}
	}
	if there != len(shown) || there < 600 {
		t.Errorf("of %d readings %d are on record", len(shown), there)
	}
	var devices []store.Device
	odalys.must("GET", "/api/devices", nil, 200, &devices)
	if got := devices[0]; got.Restarts != boots || boots < 3 || got.Refused == 0 {
		t.Errorf("it is said to have begun anew %d times with %d refused, want %d times", got.Restarts, got.Refused, boots)
	}
}
