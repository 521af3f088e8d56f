package standin

import (
	"context"
	"encoding/json"
	"errors"
	"math"
	"net/http"
	"net/http/httptest"
	"os"
	"reflect"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"
	calibrate "whitebarn/core/pit"
)

const day = `
name: a day of two shoulders
seed: 11
every: 30s
length: 12h
pits:
  - {name: Brick Pit, kind: offset, set_point: 250 F, control: fan, fuel: 12 kg, light: 0s, ambient: 54 F, channel: pit, probe: {noise_C: 0.4}, sun: [{from: 6h, to: 8h, adds_C: 6}]}
cuts:
  - {name: 1L, family: lambshoulder, weight: 5 lb 6 oz, pit: Brick Pit, on: 40m, wrap: paper, wrap_at: 165 F, pull_at: 203 F, holder: Warm Box, channel: core 1L, probe: {noise_C: 0.2, lag: 20s, dropout: 0.02}}
  - {name: 1R, family: lambshoulder, weight: 2.5 kg, pit: Brick Pit, on: 40m, channel: core 1R, probe: {slip: 5h}}
holders:
  - {name: Warm Box, low: 145 F, high: 158 F, period: 20m, channel: box}
scale: scale
events:
  - {at: 3h, do: lid, pit: Brick Pit, for: 90s}
  - {at: 4h, do: spritz}
  - {at: 11h, do: weigh, cut: 1L}
  - {at: 11h10m, do: torch, cut: 1L, for: 2m}
`

var dawn = time.Date(2026, 10, 3, 9, 0, 0, 0, time.UTC)

func barnOf(t *testing.T, script string) *Barn {
	t.Helper()
	s, err := Parse([]byte(script))
	if err != nil {
		t.Fatal(err)
	}
	b, err := New(s, dawn)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func play(t *testing.T, b *Barn, until time.Duration) []Reading {
	t.Helper()
	var out []Reading
	if err := b.Advance(dawn.Add(until), func(r Reading) { out = append(out, r) }); err != nil {
		t.Fatal(err)
	}
	return out
}

// between are the readings of a channel in a stretch of the day.
func between(in []Reading, channel string, from, to time.Duration) (v []float64) {
	for _, r := range in {
		if d := r.At.Sub(dawn); r.Channel == channel && d >= from && d < to {
			v = append(v, r.Value)
		}
	}
	return v
}

func mean(v []float64) float64 {
	sum := 0.0
	for _, x := range v {
		sum += x
	}
	return sum / float64(len(v))
}

func TestADayGoesAsDaysGo(t *testing.T) {
	all := play(t, barnOf(t, day), 12*time.Hour)
	pit := func(from, to time.Duration) float64 { return mean(between(all, "pit", from, to)) }
	if m := pit(2*time.Hour, 3*time.Hour); math.Abs(m-121) > 4 {
		t.Errorf("the pit holds %.1f C, want 121", m)
	}
	if dip := pit(3*time.Hour, 3*time.Hour+2*time.Minute); dip > 112 {
		t.Errorf("with the lid up the pit is at %.1f C, want it to fall", dip)
	}
	if back := pit(3*time.Hour+20*time.Minute, 3*time.Hour+40*time.Minute); math.Abs(back-121) > 6 {
		t.Errorf("twenty minutes after the lid the pit is at %.1f C", back)
	}
	core := between(all, "core 1L", 0, 12*time.Hour)
	if first, top := core[0], core[len(core)/2]; first > 8 || top < 60 {
		t.Errorf("the core goes from %.1f to %.1f C, want from the fridge past 60", first, top)
	}
	if got, want := len(core), 1360; got > want || got < want*9/10 {
		t.Errorf("the probe gave %d readings, want a few under %d", got, want)
	}
	in, out := between(all, "core 1R", 4*time.Hour+50*time.Minute, 5*time.Hour), between(all, "core 1R", 5*time.Hour+2*time.Minute, 5*time.Hour+12*time.Minute)
	if mean(out) < mean(in)+15 {
		t.Errorf("the slipped probe goes from %.1f to %.1f C, want a jump towards the pit", mean(in), mean(out))
	}
	box := between(all, "box", 8*time.Hour, 12*time.Hour)
	low, high := box[0], box[0]
	for _, v := range box {
		low, high = min(low, v), max(high, v)
	}
	if high-low < 4 || low < 60 || high > 72 {
		t.Errorf("the warm box swings from %.1f to %.1f C", low, high)
	}
	scale := between(all, "scale", 0, 12*time.Hour)
	if len(scale) != 1 || scale[0] < 1.2 || scale[0] > 1.95 {
		t.Errorf("the scale shows %v kg, want one weight of a shoulder that lost a third", scale)
	}
}

func TestTheSameScriptGivesTheSameDay(t *testing.T) {
	whole := play(t, barnOf(t, day), 4*time.Hour)
	b := barnOf(t, day)
	var parts []Reading
	for h := 1; h <= 4; h++ {
		parts = append(parts, play(t, b, time.Duration(h)*time.Hour)...)
	}
	if !reflect.DeepEqual(whole, parts) {
		t.Errorf("played hour by hour the day has %d readings, at once %d, and they differ", len(parts), len(whole))
	}
	other := play(t, barnOf(t, strings.Replace(day, "seed: 11", "seed: 12", 1)), 4*time.Hour)
	if reflect.DeepEqual(whole, other) {
		t.Error("another seed gives the same day")
	}
}

func TestAFireDiesWithoutFuelAndLivesWithIt(t *testing.T) {
	poor := strings.Replace(day, "fuel: 12 kg", "fuel: 1.2 kg", 1)
	left := barnOf(t, poor)
	all := play(t, left, 9*time.Hour)
	if m := mean(between(all, "pit", 8*time.Hour, 9*time.Hour)); m > 80 {
		t.Errorf("with no fuel left the pit is at %.1f C", m)
	}
	fed := barnOf(t, poor)
	fed.Replay([]Event{{At: Duration(3 * time.Hour), Do: "fuel", Pit: "Brick Pit", Fuel: "8 kg"}})
	all = play(t, fed, 9*time.Hour)
	if m := mean(between(all, "pit", 8*time.Hour, 9*time.Hour)); math.Abs(m-121) > 8 {
		t.Errorf("with fuel put on the pit is at %.1f C", m)
	}
}

func TestAScriptThatIsWrongIsNamed(t *testing.T) {
	for _, c := range []struct{ old, new, want string }{
		{"kind: offset", "kind: volcano", "pits[0].kind"},
		{"set_point: 250 F", "set_point: warm", "pits[0].set_point"},
		{"control: fan", "control: prayer", "pits[0].control"},
		{"family: lambshoulder", "family: unicorn", "cuts[0].family"},
		{"weight: 5 lb 6 oz", "weight: heavy", "cuts[0].weight"},
		{"do: spritz", "do: dance", "events[1].do"},
		{"every: 30s", "every: often", "no length of time"},
		{"seed: 11", "seeds: 11", "seeds"},
		{"pit: Brick Pit, on: 40m, wrap", "pit: Moon, on: 40m, wrap", "cuts[0].pit"},
	} {
		if _, err := Parse([]byte(strings.Replace(day, c.old, c.new, 1))); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%q ends with %v, want %q", c.new, err, c.want)
		}
	}
}

// door is a barn's door that can be shut.
type door struct {
	mu     sync.Mutex
	shut   bool
	turned int  // batches that found it shut
	loseOK bool // takes the batch and loses the answer
	got    map[int64]int
}

// until waits for something that shows behind the door.
func (d *door) until(t *testing.T, what string, ok func() bool) {
	t.Helper()
	for end := time.Now().Add(time.Minute); ; time.Sleep(5 * time.Millisecond) {
		d.mu.Lock()
		now := ok()
		d.mu.Unlock()
		if now {
			return
		}
		if time.Now().After(end) {
			t.Fatalf("it never comes to %s", what)
		}
	}
}

func (d *door) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	d.mu.Lock()
	defer d.mu.Unlock()
	var in struct {
		Readings []struct {
			Seq int64 `json:"seq"`
		} `json:"readings"`
	}
	_ = json.NewDecoder(r.Body).Decode(&in)
	switch {
	case r.Header.Get("Authorization") != "Bearer key":
		http.Error(w, "no", http.StatusUnauthorized)
		return
	case d.shut:
		d.turned++
		http.Error(w, "away", http.StatusServiceUnavailable)
		return
	}
	for _, e := range in.Readings {
		d.got[e.Seq]++
	}
	if d.loseOK {
		d.loseOK = false
		http.Error(w, "lost", http.StatusBadGateway)
		return
	}
	_, _ = w.Write([]byte(`{"last_sequence": 3, "now": "2026-10-03T09:00:00Z"}`))
}

func TestTheSenderKeepsWhatWasNotAcknowledged(t *testing.T) {
	d := &door{got: map[int64]int{}, shut: true}
	site := httptest.NewServer(d)
	defer site.Close()
	barn := Site{site.URL, "key"}
	s := NewSender(barn.Deliver)
	last, _, err := barn.Self(t.Context())
	if err == nil {
		t.Fatalf("a shut barn answers with %d", last)
	}
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan error, 1)
	go func() { done <- s.Run(ctx) }()
	s.Skip(3)
	for range 1200 {
		s.Queue(Reading{Channel: "pit", At: dawn, Value: 120})
	}
	d.until(t, "two tries at a shut door", func() bool { return d.turned >= 2 })
	if n := s.Waiting(); n != 1197 {
		t.Errorf("%d readings wait while the barn is away, want 1,197", n)
	}
	d.mu.Lock()
	d.shut, d.loseOK = false, true
	d.mu.Unlock()
	d.until(t, "the last reading", func() bool { return s.Waiting() == 0 })
	d.mu.Lock()
	if len(d.got) != 1197 || d.got[3] != 0 || d.got[4] != 2 {
		t.Errorf("the barn saw %d numbers, 3 %d times and 4 %d times; want 1,197, never and twice", len(d.got), d.got[3], d.got[4])
	}
	d.mu.Unlock()
	stop()
	if err := <-done; !errors.Is(err, context.Canceled) {
		t.Errorf("the sender ends with %v", err)
	}
	stranger := NewSender(Site{site.URL, "guess"}.Deliver)
	stranger.Queue(Reading{Channel: "pit", At: dawn})
	if err := stranger.Run(t.Context()); !errors.Is(err, ErrRefused) {
		t.Errorf("a device nobody knows ends with %v", err)
	}
}

// Ten hours of a barn with eight cuts.
func BenchmarkTenHours(b *testing.B) {
	text := day[:strings.Index(day, "holders:")]
	for _, name := range []string{"2L", "2R", "3L", "3R", "4L", "4R"} {
		text += "  - {name: " + name + ", family: lambshoulder, weight: 5 lb, pit: Brick Pit, on: 40m, channel: " + name + "}\n"
	}
	s, err := Parse([]byte(text))
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		barn, err := New(s, dawn)
		if err != nil {
			b.Fatal(err)
		}
		if err := barn.Advance(dawn.Add(10*time.Hour), func(Reading) {}); err != nil {
			b.Fatal(err)
		}
	}
}

// TestADayIsSteppedMovedHeldAndFried plays the example: the pit comes to its new set point,
// the cut goes on climbing in the oven, the oil falls as a piece goes in and comes back.
func TestADayIsSteppedMovedHeldAndFried(t *testing.T) {
	script, err := os.ReadFile("../../docs/examples/stepped-and-fried.yaml")
	if err != nil {
		t.Fatal(err)
	}
	b := barnOf(t, string(script))
	all := play(t, b, 13*time.Hour)
	h := func(hours float64) time.Duration { return time.Duration(hours * float64(time.Hour)) }
	at := func(channel string, hours float64) float64 {
		return mean(between(all, channel, h(hours), h(hours)+5*time.Minute))
	}
	f := func(f float64) float64 { return (f - 32) / 1.8 }
	for _, c := range []struct {
		what      string
		got       float64
		low, high float64
	}{
		{"before the step", mean(between(all, "pit", h(2.5), h(3.7))), f(220), f(230)},
		{"after it", mean(between(all, "pit", h(4.75), h(6))), f(270), f(280)},
		{"the cut as it is moved", at("core A", 6), f(140), f(200)},
		{"in the oven it climbs", at("core A", 8.4) - at("core A", 6), 3, 60},
		{"in the box it falls", at("core A", 12) - at("core A", 8.6), -60, -5},
		{"the oil before the drop", at("oil", 10.9), f(345), f(360)},
		{"just after it", slices.Min(between(all, "oil", h(11), h(11)+10*time.Minute)), f(320), f(345)},
		{"and later", at("oil", 12), f(345), f(362)},
		{"fried, the thigh is hotter", at("core B", 11.07) - at("core B", 10.97), 1, 60},
	} {
		if !(c.got >= c.low && c.got <= c.high) {
			t.Errorf("%s: %.1f C, want %.1f to %.1f", c.what, c.got, c.low, c.high)
		}
	}
	for name, e := range map[string]Event{"to": {Do: doMove, Cut: "A", To: "Nowhere"}, "pit": {Do: doSet, Pit: "Nowhere"}} {
		if err := b.do(e, func(Reading) {}); err == nil || !strings.Contains(err.Error(), name) {
			t.Errorf("%s of a pit there is not: %v", e.Do, err)
		}
	}
}

// TestAPanWarmsToTheBox lets a pan of water stand in a box overnight: it warms as water does,
// and comes to rest at what the box keeps on the whole.
func TestAPanWarmsToTheBox(t *testing.T) {
	text, err := os.ReadFile("../../docs/examples/pan-in-the-box.yaml")
	if err != nil {
		t.Fatal(err)
	}
	script, err := Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	start := time.Date(2026, 9, 7, 15, 0, 0, 0, time.UTC)
	b, err := New(script, start)
	if err != nil {
		t.Fatal(err)
	}
	var hours, pan []float64
	var box, n float64
	err = b.Advance(start.Add(9*time.Hour), func(r Reading) {
		switch {
		case r.Channel == "pan" && r.At.Sub(start) < 4*time.Hour:
			hours, pan = append(hours, r.At.Sub(start).Hours()-0.5), append(pan, r.Value)
		case r.Channel == "box":
			box, n = box+r.Value, n+1
		}
	})
	if err != nil {
		t.Fatal(err)
	}
	if len(pan) < 200 || hours[0] < 0 {
		t.Fatalf("%d readings of the pan, the first after %.2f h", len(pan), hours[0])
	}
	told, err := calibrate.PanOf(calibrate.PanInput{DialC: 67, TargetC: 65.5, FloorC: 60, Hours: hours, C: pan})
	if err != nil || !told.StopNow {
		t.Fatalf("after three and a half hours it says %v (%v)", told.Words, err)
	}
	if off := told.Settles.C - box/n; math.Abs(off) > 0.5 {
		t.Errorf("it is to settle at %.1f C, the box keeps %.1f", told.Settles.C, box/n)
	}
	script.Pans[0].Holder = "Cold Box"
	if err := script.check(); err == nil || !strings.Contains(err.Error(), "Cold Box") {
		t.Errorf("a pan in no holder is answered with %v", err)
	}
}
