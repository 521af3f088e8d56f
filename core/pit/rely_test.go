package pit

import (
	"strings"
	"testing"
	"time"

	"whitebarn/core/units"
)

// What a hold relies on is the latest calibration that still stands, read where it is to
// hold, with its swing over the floor.
func TestWhatAHoldReliesOn(t *testing.T) {
	f := units.FToC
	saved := time.Date(2026, 4, 6, 12, 0, 0, 0, time.UTC)
	box := Known{DialC: f(160), SettlesC: f(155), HalfC: 0.5, RippleC: 7 / 1.8, Saved: saved, Months: 6, Passes: true}
	later := Known{DialC: f(153), SettlesC: f(150), HalfC: 0.5, RippleC: 30 / 1.8, Saved: saved.AddDate(0, 2, 0), Months: 6}
	for _, c := range []struct {
		what  string
		known []Known
		set   float64
		at    time.Time
		want  Standing
		says  string
		on    int
	}{
		{"nobody read it", nil, 155, saved, NoneStands, "Never calibrated", -1},
		{"it was read later", []Known{box}, 155, saved.AddDate(0, 0, -1), NoneStands, "Never calibrated", -1},
		{"it ended", []Known{box}, 155, saved.AddDate(0, 6, 0), NoneStands, "ended on {day:2026-10-06", -1},
		{"a day before it ends", []Known{box}, 155, saved.AddDate(0, 6, -1), Stands, "Calibrated on {day:2026-04-06", 0},
		{"2 F off what it settles at", []Known{box}, 157, saved.AddDate(0, 1, 0), Stands, "Calibrated", 0},
		{"at another dial", []Known{box}, 148, saved.AddDate(0, 1, 0), OtherDial, "another dial", 0},
		{"so low that its swing is under the floor", []Known{box}, 142, saved.AddDate(0, 1, 0), BelowFloor,
			"low swing is {C:59.2}, under {C:60.0}", 0},
		{"the latest counts, and swings under", []Known{box, later}, 150, saved.AddDate(0, 3, 0), BelowFloor, "2026-06-06", 1},
		{"the latest counts in any order", []Known{later, box}, 150, saved.AddDate(0, 3, 0), BelowFloor, "2026-06-06", 0},
	} {
		got := RelyOn(c.known, f(c.set), f(140), c.at)
		if got.Standing != c.want || got.On != c.on || !strings.Contains(got.Words, c.says) {
			t.Errorf("%s: %q on %d, %q; want %q on %d, with %q", c.what, got.Standing, got.On, got.Words, c.want, c.on, c.says)
		}
	}
}
