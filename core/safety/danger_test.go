package safety

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
)

func TestTheDangerClockRunsUntil140AndOnlyWarns(t *testing.T) {
	passing := func(h float64) []logbook.Point { return climb(40, 100/h) }
	for name, c := range map[string]struct {
		places              [][]logbook.Point
		at                  float64 // h
		window              Window
		passed, watch, over bool
		clock               float64 // h
		words               string
	}{
		"early":               {[][]logbook.Point{passing(3)}, 1, Under140, false, false, false, 1, "The clock runs."},
		"in time":             {[][]logbook.Point{passing(3)}, 5, Under140, true, false, false, 3, "It passed {C:60.0000} in time."},
		"nearly":              {[][]logbook.Point{passing(5)}, 3.3, Under140, false, true, false, 3.3, "Raise the pit, or finish it hotter."},
		"over":                {[][]logbook.Point{passing(6)}, 4.1, Under140, false, true, true, 4.1, "Over four hours: the verdict names it. Raise the pit."},
		"passed too late":     {[][]logbook.Point{passing(5)}, 6, Under140, true, false, true, 5, "It passed {C:60.0000} late, after more than four hours."},
		"one place lags":      {[][]logbook.Point{passing(3), passing(5)}, 3.5, Under140, false, true, false, 3.5, "Raise the pit, or finish it hotter."},
		"read when done":      {[][]logbook.Point{passing(3), {{At: hours(9), C: 95}}}, 9.5, Under140, true, false, false, 3, "It passed {C:60.0000} in time."},
		"the code's window":   {[][]logbook.Point{passing(4)}, 5, FoodCode, true, false, false, 3.8 - 0.04, "It passed {C:57.2222} in time."},
		"nothing was read":    {nil, 5, Under140, false, true, true, 5, "No reading yet: measure it."},
		"nothing, the code's": {nil, 5, FoodCode, false, false, false, 0, "No reading yet: measure it."},
	} {
		got := DangerOf(c.places, left, hours(c.at), c.window)
		off := (got.For - time.Duration(c.clock*float64(time.Hour))).Abs()
		if got.Passed != c.passed || got.Watch != c.watch || got.Over != c.over || off > 2*time.Minute || got.Words != c.words {
			t.Errorf("%s: the clock is %+v, want %.2f h", name, got, c.clock)
		}
	}
	if !LateAhead(hours(4.1), left) || LateAhead(hours(3.9), left) {
		t.Error("a forecast that passes 140 F after four hours is late, one before is not")
	}
}
