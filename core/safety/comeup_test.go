package safety

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

var left = time.Date(2026, 10, 3, 6, 0, 0, 0, time.UTC)

// climb starts at a temperature and gains so many degrees F an hour, read each minute.
func climb(from, perHour float64) (trace []logbook.Point) {
	for m := range 600 {
		trace = append(trace, logbook.Point{At: left.Add(time.Duration(m) * time.Minute), C: units.FToC(from + perHour*float64(m)/60)})
	}
	return trace
}

func hours(h float64) time.Time { return left.Add(time.Duration(h * float64(time.Hour))) }

func TestComeUpRunsFromFiftyTo130(t *testing.T) {
	at := func(h, f float64) logbook.Point { return logbook.Point{At: hours(h), C: units.FToC(f)} }
	for name, c := range map[string]struct {
		places [][]logbook.Point
		hours  float64 // since it left
		want   ComeUp
	}{
		"still cold":               {[][]logbook.Point{climb(38, 6)}, 1, ComeUp{}},
		"on its way":               {[][]logbook.Point{climb(40, 20)}, 2.5, ComeUp{Known: true, ForS: 2*3600 + 60}},
		"come up in four hours":    {[][]logbook.Point{climb(40, 20)}, 9, ComeUp{Known: true, Done: true, ForS: 4*3600 + 60}},
		"too slow":                 {[][]logbook.Point{climb(40, 10)}, 8, ComeUp{Known: true, ForS: 7*3600 + 60, Late: true}},
		"the slower of two places": {[][]logbook.Point{climb(40, 20), climb(40, 10)}, 8, ComeUp{Known: true, ForS: 7*3600 + 60, Late: true}},
		"warm when first read":     {[][]logbook.Point{climb(60, 20)}, 9, ComeUp{Known: true, Done: true, ForS: 3.5 * 3600, Bounded: true}},
		"a crossing in a gap is its worst": {[][]logbook.Point{{at(0, 40), at(1, 80), at(3, 120), at(6.5, 140)}}, 9, ComeUp{Known: true,
			Done: true, ForS: 6.5 * 3600, Late: true}},
		"in a hot pit before it went on": {[][]logbook.Point{{at(0.1, 225), at(0.5, 40), at(3, 131)}}, 9, ComeUp{Known: true, Done: true, ForS: 2.5 * 3600}},
		"a place read only when done":    {[][]logbook.Point{climb(40, 20), {at(9, 203)}}, 9.5, ComeUp{Known: true, Done: true, ForS: 4*3600 + 60}},
		"two places read only when done": {[][]logbook.Point{{at(9, 203)}, {at(5, 180)}}, 9.5, ComeUp{Known: true, Done: true, ForS: 5 * 3600, Bounded: true}},
		"a hot pit before, beside a probe": {[][]logbook.Point{{at(0.1, 225), at(0.5, 40), at(5, 131)}, climb(40, 40)}, 9, ComeUp{Known: true,
			Done: true, ForS: 4.5 * 3600}},
		"no reading": {nil, 4, ComeUp{}},
	} {
		if got := ComeUpOf(c.places, left, hours(0.25), hours(c.hours)); got != c.want {
			t.Errorf("%s: %+v, want %+v", name, got, c.want)
		}
	}
	hot, mild := units.FToC(91), units.FToC(89)
	if OutLimit(nil) != 2*time.Hour || OutLimit(&mild) != 2*time.Hour || OutLimit(&hot) != time.Hour {
		t.Error("the time out of the fridge is two hours, one above 90 F")
	}
}
