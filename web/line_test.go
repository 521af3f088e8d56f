package web

import (
	"slices"
	"testing"
	"time"

	"whitebarn/internal/testkit/script"
)

// openLine opens a page with a line whose streams the test plays: streams are those that were
// opened, ears the last one's.
func openLine(t *testing.T) *script.Page {
	p := script.Load(t, noon, "api/line")
	p.Run(`
		var streams = [], states = [], missed = [], changed = [], rows = 0, ears
		var line = new m.Line({
			open: (told, cook, e) => {
				ears = e
				const s = { told, cook, closed: false, over: false, close() { this.closed = true } }
				streams.push(s)
				return s
			},
			now: () => Date.now(), later: (ms, f) => { const id = setTimeout(f, ms); return () => clearTimeout(id) },
			state: w => states.push(w), sign: () => {}, changed: (trial, parts) => changed.push([trial, ...parts]),
			arrived: r => { rows += r.length }, heard: () => {}, opened: lost => missed.push(lost),
		})
		line.beginAt('7')
		line.follow(3)`)
	return p
}

func TestALineThatSaysNothingIsCutOffAtOnceAndOpenedAnewLater(t *testing.T) {
	t.Parallel()
	p := openLine(t)
	opened := func() int { return script.Ask[int](p, "streams.length") }
	states := func(want ...string) {
		t.Helper()
		if got := script.Ask[[]string](p, "states"); !slices.Equal(got, want) {
			t.Errorf("the line was %v, want %v", got, want)
		}
	}
	p.Run("ears.opened()")
	for range 3 { // a beat every 2 s holds it
		p.Pass(2 * time.Second)
		p.Run("ears.beat(); line.check()")
	}
	p.Pass(4500 * time.Millisecond)
	p.Run("line.check()")
	states("joining", "live")
	p.Pass(time.Millisecond)
	p.Run("line.check(); line.check()")
	states("joining", "live", "cut off")
	p.Run("ears.beat(); line.check()") // it was only late: nothing is read anew
	states("joining", "live", "cut off", "live")
	p.Pass(20 * time.Second)
	if p.Run("line.check()"); opened() != 1 {
		t.Fatal("a line is opened anew 20 s after its last sign")
	}
	p.Pass(time.Millisecond)
	if p.Run("line.check()"); opened() != 2 || !script.Ask[bool](p, "streams[0].closed") {
		t.Fatalf("after more than 20 s without a sign %d streams were opened", opened())
	}
	p.Pass(40 * time.Second)
	if p.Run("line.check()"); opened() != 2 {
		t.Error("a line that does not stand yet is opened again and again")
	}
	p.Run("ears.opened()")
	states("joining", "live", "cut off", "live", "cut off", "cut off", "live")
	if got := script.Ask[[]bool](p, "missed"); !slices.Equal(got, []bool{false, true}) {
		t.Errorf("that something was missed is said as %v", got)
	}
}

func TestALineComesBackWithWhatItWasTold(t *testing.T) {
	t.Parallel()
	p := openLine(t)
	p.Run(`ears.opened(); ears.changed(4, ['log'], '9'); line.beginAt('8')
		ears.failed()`) // the browser tries again by itself
	p.Pass(5 * time.Second)
	if n := script.Ask[int](p, "streams.length"); n != 1 {
		t.Fatalf("a stream that the browser opens again was opened %d times", n)
	}
	p.Run("streams[0].over = true; ears.failed()") // refused for good
	p.Pass(time.Second)
	type stream struct {
		Told string
		Cook int
	}
	if got := script.Ask[[]stream](p, "streams"); len(got) != 2 || got[0] != (stream{"7", 3}) || got[1] != (stream{"9", 3}) {
		t.Errorf("streams were opened with %+v", got)
	}
	p.Run("line.close()")
	p.Run("streams[1].over = true")
	p.Pass(time.Minute)
	if n := script.Ask[int](p, "streams.length"); n != 2 {
		t.Errorf("a line that was closed is opened again")
	}
	p.Run("line.follow(5)")
	if got := script.Ask[string](p, "states[states.length - 1]"); got != "joining" {
		t.Errorf("with another cook the line is %q, want joining", got)
	}
	p.Run("line.close(); line.follow(5); ears.failed(); line.close()")
	p.Pass(time.Minute)
	if got := script.Ask[[]any](p, "changed"); len(got) != 1 {
		t.Errorf("what changed was told as %v", got)
	}
}

func TestChangesAreReadTogetherAndNotTooOften(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "api/line")
	p.Run(`var reads = [], changes = new m.Changes(() => Date.now(), (ms, f) => setTimeout(f, ms), r => reads.push({at: Date.now(), ...r}))
		changes.add(4, ['log']); changes.add(4, ['cuts']); changes.add(0, ['pantry'])`)
	type read struct {
		At     int64
		All    bool
		Trials [][]any
		Keys   []string
	}
	reads := func() []read { return script.Ask[[]read](p, "reads") }
	p.Pass(50 * time.Millisecond)
	first := reads()
	if len(first) != 1 || len(first[0].Trials) != 1 || first[0].All {
		t.Fatalf("three changes were read as %+v", first)
	}
	for _, key := range []string{"gate", "due", "prep", "pantry", "trials", "home", "forecast"} {
		if !slices.Contains(first[0].Keys, key) {
			t.Errorf("%s hangs on what changed and is not read: %v", key, first[0].Keys)
		}
	}
	if slices.Contains(first[0].Keys, "key") {
		t.Error("the carver's key is read anew though nothing at the table changed")
	}
	p.Run("changes.add(4, ['table'])")
	p.Pass(699 * time.Millisecond)
	if n := len(reads()); n != 1 {
		t.Fatalf("within 700 ms it was read %d times", n)
	}
	p.Pass(time.Millisecond)
	if got := reads(); len(got) != 2 || got[1].At-got[0].At != 700 {
		t.Fatalf("it was read at %+v", got)
	}
	p.Run("changes.add(4, [])") // what the barn no longer knows
	p.Pass(time.Second)
	if got := reads(); len(got) != 3 || !got[2].All {
		t.Errorf("a change of everything is read as %+v", got[len(got)-1])
	}
}
