package safety

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

func TestComeUpRunsFromFiftyTo130(t *testing.T) {
	left := time.Date(2026, 10, 3, 6, 0, 0, 0, time.UTC)
	// climb starts at a temperature and gains so many degrees F an hour, read each minute.
	climb := func(from, perHour float64) (trace []logbook.Point) {
		for m := range 600 {
			trace = append(trace, logbook.Point{At: left.Add(time.Duration(m) * time.Minute), C: units.FToC(from + perHour*float64(m)/60)})
		}
		return trace
	}
	for name, c := range map[string]struct {
		trace []logbook.Point
		hours float64 // since it left
		want  ComeUp
	}{
		"still cold":            {climb(38, 6), 1, ComeUp{}},
		"on its way":            {climb(40, 20), 2.5, ComeUp{Known: true, ForS: 2 * 3600}},
		"come up in four hours": {climb(40, 20), 9, ComeUp{Known: true, Done: true, ForS: 4 * 3600}},
		"too slow":              {climb(40, 10), 8, ComeUp{Known: true, ForS: 7 * 3600, Late: true}},
		"warm from the start":   {climb(60, 20), 9, ComeUp{Known: true, Done: true, ForS: 3.5 * 3600}},
		"no reading":            {nil, 4, ComeUp{}},
	} {
		if got := ComeUpOf(c.trace, left, left.Add(time.Duration(c.hours*float64(time.Hour)))); got != c.want {
			t.Errorf("%s: %+v, want %+v", name, got, c.want)
		}
	}
}
