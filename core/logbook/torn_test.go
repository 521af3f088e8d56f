package logbook

import (
	"strings"
	"testing"
	"time"
)

// A byte that was lost on the way costs its own line.
func TestATornByteCostsItsLine(t *testing.T) {
	log := func(third string) string {
		var b strings.Builder
		b.WriteString("time,Pit °F,Kern °F\n")
		for _, l := range []string{"2026-09-19 08:00:00,250,40", "2026-09-19 08:01:00,251,41", third, "2026-09-19 08:03:00,253,42"} {
			b.WriteString(l + "\n")
		}
		return b.String()
	}
	for name, third := range map[string]string{"a NUL": "2026-09-19 08:02:00,2\x0052,42", "half a letter": "2026-09-19 08:02:00,2\xc252,42",
		"a NUL in the time": "2026-09-19\x00 08:02:00,252,42"} {
		got, err := Read([]byte(log(third)), Options{Zone: time.UTC})
		if err != nil || got.Encoding != "UTF-8" || got.Readings() < 6 || got.Readings() > 7 || len(got.Trouble) != 1 || got.Trouble[0].Line != 4 || got.Columns[0].Name != "Pit °F" {
			t.Errorf("%s: %d readings, trouble %+v (%v)", name, got.Readings(), got.Trouble, err)
		}
	}
	if _, err := Read([]byte("\x00\x01\x00\x02time,Pit\n\x00\x00\x00"), Options{Zone: time.UTC}); err == nil || !strings.Contains(err.Error(), "not a text file") {
		t.Errorf("a file of zeros reads with %v", err)
	}
	old, err := Read([]byte("time,Pit \xb0F\n2026-09-19 08:00:00,250\n2026-09-19 08:01:00,251\n"), Options{Zone: time.UTC})
	if err != nil || old.Encoding != "Latin-1" || old.Columns[0].Name != "Pit °F" {
		t.Errorf("an old logger's letters read as %+v (%v)", old, err)
	}
}
