package logbook

import (
	"strings"
	"testing"
	"time"
)

func TestTimesAreOfTheCook(t *testing.T) {
	serve := time.Date(2026, 10, 3, 18, 0, 0, 0, time.UTC)
	now := serve.Add(-2 * time.Hour)
	for name, c := range map[string]struct {
		at   time.Time
		says string
	}{
		"now":                    {now, ""},
		"half a minute ahead":    {now.Add(30 * time.Second), ""},
		"a day ahead":            {now.Add(24 * time.Hour), "still to come"},
		"the week before":        {serve.Add(-7 * 24 * time.Hour), ""},
		"two months before":      {serve.Add(-60 * 24 * time.Hour), "long before this cook"},
		"the year 0":             {time.Time{}, "no time of a cook"},
		"the year 9999":          {time.Date(9999, 1, 1, 0, 0, 0, 0, time.UTC), "no time of a cook"},
		"the last hour of 1999":  {firstTime.Add(-time.Hour), "no time of a cook"},
		"the first hour of 2100": {lastTime, "no time of a cook"},
	} {
		err := CheckOfCook("at", c.at, serve, now)
		if (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v, want %q", name, err, c.says)
		}
	}
	if err := CheckOfCook("at", now.Add(-25*24*time.Hour), now.Add(300*24*time.Hour), now); err != nil {
		t.Errorf("the days before a table that is far off are refused: %v", err)
	}
}

// One line of another age costs itself, not the log.
func TestALineOfTheYear9999CostsItsLine(t *testing.T) {
	log, err := Read([]byte("time,Pit F\n2026-09-19 08:00:00,250\n2026-09-19 08:01:00,251\n9999-09-19 08:02:00,252\n2026-09-19 08:03:00,253\n0001-01-01 00:00:00,254\n2026-09-19 08:04:00,255\n"), Options{Zone: time.UTC})
	if err != nil || log.Readings() != 4 || len(log.Trouble) != 2 || !strings.Contains(log.Trouble[0].Problem, "2000 to 2100") {
		t.Fatalf("it reads as %+v (%v)", log, err)
	}
	if from, to := log.Span(); from.Year() != 2026 || to.Year() != 2026 {
		t.Errorf("it spans %s to %s", from, to)
	}
}

func TestALogThatLiesAheadNamesTheZoneItIsLikelyIn(t *testing.T) {
	now := time.Date(2026, 9, 19, 18, 0, 0, 0, time.UTC)
	lima, oslo := zone(t, "America/Lima"), zone(t, "Europe/Oslo") // five hours behind, two ahead
	log := func(last time.Time) string {
		return "time,pit C\n2026-09-19 08:00,120\n" + last.Format("2006-01-02 15:04") + ",121\n" + last.Add(time.Minute).Format("2006-01-02 15:04") + ",122\n"
	}
	for _, c := range []struct {
		name, file string
		zone       *time.Location
		n          int
		want       string
	}{
		{"of the barn's own clock", log(now.In(lima).Add(-10 * time.Minute)), lima, 0, ""},
		{"a clock a minute fast", log(now.In(lima)), lima, 0, ""},
		{"in UTC", log(now.Add(-10 * time.Minute)), lima, 2, "UTC"},
		{"of a place to the east", log(now.Add(5*time.Hour + 20*time.Minute)), oslo, 2, "+06:00"},
		{"of no place", log(now.Add(20 * time.Hour)), oslo, 2, ""},
		{"with its zone", "time,pit C\n2026-09-19T17:00:00Z,120\n2026-09-19T20:00:00Z,121\n", lima, 1, ""},
	} {
		l, err := Read([]byte(c.file), Options{Zone: c.zone})
		if err != nil {
			t.Fatal(err)
		}
		n, last := l.After(now)
		if got := l.LikelyZone(c.zone, now); n != c.n || got != c.want || (n > 0) != last.After(now) {
			t.Errorf("%s: %d readings lie ahead, to %s, and it is likely in %q; want %d and %q", c.name, n, last, got, c.n, c.want)
		}
		l.LeaveAfter(now)
		if n, _ := l.After(now); n != 0 || l.Readings() == 0 {
			t.Errorf("%s: left out, %d of %d readings lie ahead", c.name, n, l.Readings())
		}
	}
}
