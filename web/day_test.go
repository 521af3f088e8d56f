package web

import (
	"fmt"
	"testing"
	"time"

	"whitebarn/internal/testkit/script"
)

func TestDaysAreTypedAsPeopleTypeThem(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/day")
	for typed, want := range map[string]string{
		"2026-11-30": "2026-11-30", "2026-11-3": "2026-11-03", "2026/11/30": "2026-11-30", " 2026-11-30 ": "2026-11-30",
		"30.11.2026": "2026-11-30", "3.2.26": "2026-02-03",
		"30.11.": "2026-11-30", "30 Nov 2026": "2026-11-30", "30 november": "2026-11-30", "Nov 30, 2025": "2025-11-30", "nov 3": "2026-11-03",
		"30/11/2026": "2026-11-30",
		"11/30/2026": "2026-11-30", "11/11/2026": "2026-11-11", "2024-02-29": "2024-02-29",
		"11/03/2026": "", "2026-02-29": "", "2026-11-31": "", "2026-13-01": "", "0026-11-30": "", "30 Nov 20266": "", "tomorrow": "", "11": "",
		"2026-11": "", "": "",
	} {
		p.Give("typed", typed)
		if got := script.Ask[string](p, "m.dayTyped(typed, 2026)"); got != want {
			t.Errorf("%q is read as %q, want %q", typed, got, want)
		}
	}
}

// Every day of two years comes back as it was typed, in each order that can be meant one way.
func TestEveryDayComesBackAsItWasTyped(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/day")
	for d := time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC); d.Year() < 2029; d = d.AddDate(0, 0, 1) {
		for _, layout := range []string{"2006-01-02", "2006-1-2", "2.1.2006", "2 Jan 2006", "January 2, 2006"} {
			if got, want := script.Ask[string](p, fmt.Sprintf("m.dayTyped(%q, 2026)", d.Format(layout))), d.Format(time.DateOnly); got != want {
				t.Fatalf("%s is read as %q, want %q", d.Format(layout), got, want)
			}
		}
	}
}
