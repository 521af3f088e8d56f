package safety

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

func TestTheDangerClockRunsUntil140(t *testing.T) {
	left := time.Date(2026, 10, 3, 6, 0, 0, 0, time.UTC)
	climb := func(passesAfter time.Duration) (out []logbook.Point) { // straight from 40 F
		for m := 0; m <= 420; m += 5 {
			share := float64(m) / passesAfter.Minutes()
			out = append(out, logbook.Point{At: left.Add(time.Duration(m) * time.Minute), C: units.FToC(40 + 100*share)})
		}
		return out
	}
	for name, c := range map[string]struct {
		passes              time.Duration
		at                  time.Duration
		species             Species
		handling            Handling
		passed, watch, over bool
		grave               bool
		clock               time.Duration
	}{
		"early":           {3 * time.Hour, time.Hour, RedMeat, Intact, false, false, false, false, time.Hour},
		"in time":         {3 * time.Hour, 5 * time.Hour, RedMeat, Intact, true, false, false, false, 3 * time.Hour},
		"nearly":          {5 * time.Hour, 3*time.Hour + 20*time.Minute, RedMeat, Intact, false, true, false, false, 3*time.Hour + 20*time.Minute},
		"over, whole":     {6 * time.Hour, 4*time.Hour + 5*time.Minute, RedMeat, Intact, false, true, true, false, 4*time.Hour + 5*time.Minute},
		"over, injected":  {6 * time.Hour, 4*time.Hour + 5*time.Minute, RedMeat, Pierced, false, true, true, true, 4*time.Hour + 5*time.Minute},
		"over, poultry":   {6 * time.Hour, 4 * time.Hour, Poultry, Intact, false, true, true, true, 4 * time.Hour},
		"passed too late": {5 * time.Hour, 6 * time.Hour, RedMeat, Pierced, true, false, false, true, 5 * time.Hour},
	} {
		got := DangerOf(climb(c.passes), left, left.Add(c.at), c.species, c.handling)
		if !got.Known || got.Passed != c.passed || got.Watch != c.watch || got.Over != c.over || got.Grave != c.grave || (got.For-c.clock).Abs() > 5*time.Minute || got.Words == "" {
			t.Errorf("%s: the clock is %+v, want %s", name, got, c.clock)
		}
	}
	spiked := climb(5 * time.Hour)
	spiked[10].C = 95
	if got := DangerOf(spiked, left, left.Add(2*time.Hour), RedMeat, Intact); got.Passed {
		t.Errorf("one spike stops the clock: %+v", got)
	}
	if got := DangerOf(nil, left, left.Add(5*time.Hour), Poultry, Intact); got.Known || got.Words != "No reading yet: measure it." {
		t.Errorf("with no reading the clock is %+v", got)
	}
}
