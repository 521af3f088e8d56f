package web

import (
	"math/rand/v2"
	"testing"
	"time"

	"whitebarn/internal/testkit/script"
)

func TestClocksAreTypedAsPeopleTypeThem(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/reader", "ui/time")
	for typed, want := range map[string]string{
		"805": "08:05", "8:05": "08:05", "08.05": "08:05", "8h05": "08:05", "8:05 am": "08:05", "805p": "20:05", "12:00 am": "00:00", "12 pm": "12:00",
		"2359": "23:59", " 7 pm ": "19:00", "24:00": "", "13 pm": "", "8:60": "", "8": "", "soon": "", "": "",
	} {
		p.Give("typed", typed)
		if got := script.Ask[string](p, "m.clockTyped(typed)"); got != want {
			t.Errorf("%q is read as %q, want %q", typed, got, want)
		}
	}
	for _, c := range []struct{ hours, time, want string }{
		{"24", "18:05", "18:05"}, {"12", "18:05", "6:05 pm"}, {"12", "00:10", "12:10 am"}, {"12", "12:00", "12:00 pm"}, {"12", "soon", "soon"},
	} {
		as(p, "F", "lb", c.hours, ".", "UTC")
		p.Give("time", c.time)
		if got := script.Ask[string](p, "m.clockWords(time)"); got != c.want {
			t.Errorf("%q on a clock of %s hours is %q, want %q", c.time, c.hours, got, c.want)
		}
	}
	for hours, want := range map[string]string{"0.5": "30 min", "1": "1 h 00", "9.999": "10 h 00", "0.9999": "1 h 00", "25.25": "25 h 15"} {
		if got := script.Ask[string](p, "m.span("+hours+")"); got != want {
			t.Errorf("%s h is said as %q, want %q", hours, got, want)
		}
	}
}

// What the barn's clocks show, whatever the zone and the time of the year, is the instant that was meant.
func TestABarnsClockTellsOneInstant(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/reader", "ui/time")
	random := rand.New(rand.NewPCG(33, 2))
	for _, zone := range []string{"UTC", "America/New_York", "Europe/Berlin", "Australia/Lord_Howe", "Asia/Kathmandu"} {
		as(p, "F", "lb", "24", ".", zone)
		at, err := time.LoadLocation(zone)
		if err != nil {
			t.Fatal(err)
		}
		for range 150 {
			meant := time.Date(2026, 1, 1, 0, random.IntN(365*24*60), 0, 0, time.UTC)
			local := meant.In(at).Format("2006-01-02T15:04")
			p.Give("meant", meant.Format(time.RFC3339))
			if got := script.Ask[string](p, "m.toLocal(meant)"); got != local {
				t.Errorf("%s in %s is shown as %s, want %s", meant, zone, got, local)
			}
			got := script.Ask[time.Time](p, "m.fromLocal(m.toLocal(meant))")
			// Of an hour that comes twice the first is meant.
			if twice := meant.Sub(got); !got.Equal(meant) && (got.In(at).Format("2006-01-02T15:04") != local || twice <= 0 || twice > time.Hour) {
				t.Errorf("%s in %s, shown as %s, is read back as %s", meant, zone, local, got)
			}
		}
	}
	as(p, "F", "lb", "24", ".", "America/New_York")
	for local, want := range map[string]string{"2026-11-01T01:30": "2026-11-01T05:30:00.000Z", "2026-11-01T02:30": "2026-11-01T07:30:00.000Z", "2026-03-08T12:00": "2026-03-08T16:00:00.000Z"} {
		if got := script.Ask[string](p, "m.fromLocal('"+local+"')"); got != want {
			t.Errorf("%s is %s, want %s", local, got, want)
		}
	}
	if got := script.Ask[int](p, "m.hourOf('2026-09-19T02:30:00Z')"); got != 22 {
		t.Errorf("at 02:30Z it is %d h in New York, want 22", got)
	}
}
