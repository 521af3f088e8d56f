package course

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
)

var start = time.Date(2026, 9, 19, 12, 0, 0, 0, time.UTC)

func at(h float64) time.Time { return start.Add(time.Duration(h * float64(time.Hour))) }

// What is last known of a piece is the latest entry of any kind, in whatever order the kinds are, and none of what is still to come.
func TestWhatIsLastKnownOfAPiece(t *testing.T) {
	read := func(h float64) []Place { return []Place{{Hand: []Hand{{At: at(h)}}}} }
	wire := func(h ...float64) (p Place) {
		for _, v := range h {
			p.Trace = append(p.Trace, logbook.Point{At: at(v)})
		}
		return p
	}
	for name, c := range map[string]struct {
		in   Course
		want float64
	}{
		"nothing but the fire":            {Course{On: at(0)}, 0},
		"pulled, and read before":         {Course{On: at(0), Pull: at(5), Places: read(4)}, 5},
		"read after the pull":             {Course{On: at(0), Pull: at(5), Places: read(6)}, 6},
		"followed by a wire":              {Course{On: at(0), Places: []Place{wire(1, 2, 7)}}, 7},
		"a serving that is still ahead":   {Course{On: at(0), Pull: at(5), Served: []time.Time{at(9)}}, 5},
		"read by hand, nobody said where": {Course{On: at(0), Loose: []Hand{{At: at(3)}, {At: at(2)}}}, 3},
		"kept, then chilled, then warm":   {Course{On: at(0), Kept: []time.Time{at(2)}, Chilled: []time.Time{at(4)}, Warmed: []time.Time{at(6)}}, 6},
	} {
		if got := c.in.LastKnown(at(8)); !got.Equal(at(c.want)) {
			t.Errorf("%s: last known at %v, want %v h", name, got.Sub(start).Hours(), c.want)
		}
	}
}

// A piece was eaten at its last serving; half an hour after it was carved, where nothing came after; at no known time
// once its cook is over; and now, while it may still come.
func TestWhenAPieceWasEaten(t *testing.T) {
	for name, c := range map[string]struct {
		in    Course
		now   float64
		want  float64
		known bool
	}{
		"two servings":                   {Course{Served: []time.Time{at(6), at(7)}}, 9, 7, true},
		"carved, and nothing after":      {Course{On: at(0), Knife: at(6)}, 9, 6.5, true},
		"carved just now":                {Course{On: at(0), Knife: at(6)}, 6.25, 6.25, true},
		"carved, and kept after":         {Course{On: at(0), Knife: at(6), Kept: []time.Time{at(7)}, Due: at(6)}, 8, 8, true},
		"the table is to come":           {Course{On: at(0), Pull: at(5), Due: at(7)}, 6, 6, true},
		"four hours after the table":     {Course{On: at(0), Pull: at(5), Due: at(7)}, 11, 11, true},
		"longer, and nothing was logged": {Course{On: at(0), Pull: at(5), Due: at(7)}, 11.01, 5, false},
		"longer, but it was read since":  {Course{On: at(0), Pull: at(5), Due: at(7), Loose: []Hand{{At: at(10)}}}, 13, 13, true},
		"its trial was read":             {Course{On: at(0), Pull: at(5), Due: at(7), Read: true}, 6, 5, false},
		"no table was planned":           {Course{On: at(0), Pull: at(5)}, 40, 40, true},
	} {
		if got, known := c.in.Eaten(at(c.now)); !got.Equal(at(c.want)) || known != c.known {
			t.Errorf("%s: eaten at %.2f h, known %v; want %.2f, %v", name, got.Sub(start).Hours(), known, c.want, c.known)
		}
	}
}

// Where a piece lay tells what it may have come to: a box that heats counts for two hours where nobody calibrated it, a closed cooler heats nothing.
func TestWhereAPieceLay(t *testing.T) {
	box := Stay{From: at(5), To: at(9), Holder: true, Powered: true}
	sure := box
	sure.Calibrated = true
	cooler := Stay{From: at(5), To: at(9), Holder: true}
	pit := Stay{From: at(0), To: at(5), Sets: []logbook.Point{{C: 121}}}
	for name, c := range map[string]struct {
		stays    []Stay
		from, to float64
		boxed    float64 // hours
		closed   bool
	}{
		"in a box with a dial":    {[]Stay{pit, box}, 5, 9, 2, false},
		"an hour of it":           {[]Stay{pit, box}, 8, 12, 1, false},
		"in one that was checked": {[]Stay{pit, sure}, 5, 9, 4, false},
		"in a cooler":             {[]Stay{pit, cooler}, 6, 7, 0, true},
		"before the cooler":       {[]Stay{pit, cooler}, 4, 5, 0, false},
		"after the cooler":        {[]Stay{pit, cooler}, 9, 10, 0, false},
		"on the fire alone":       {[]Stay{pit}, 0, 5, 0, false},
	} {
		in := Course{Stays: c.stays}
		if boxed := in.Boxed(at(c.from), at(c.to), 2*time.Hour).Hours(); boxed != c.boxed || in.Closed(at(c.from), at(c.to)) != c.closed {
			t.Errorf("%s: boxed for %v h, closed %v; want %v, %v", name, boxed, in.Closed(at(c.from), at(c.to)), c.boxed, c.closed)
		}
	}
	measured := pit
	measured.Air = []logbook.Point{{At: at(1), C: 90}}
	measured.To = time.Time{}
	for h, want := range map[float64]float64{0.5: 121, 1: 90, 1.1: 90, 1.2: 121, 6: 121} {
		if got, ok := (Course{Stays: []Stay{measured}}).AirAt(at(h)); !ok || got != want {
			t.Errorf("after %v h the air is %v (%v), want %v: as it was measured for ten minutes, else as it was set", h, got, ok, want)
		}
	}
	if _, ok := (Course{Stays: []Stay{box}}).AirAt(at(6)); ok {
		t.Error("of a box of which nothing is known the air is known")
	}
}
