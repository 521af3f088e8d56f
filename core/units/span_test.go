package units

import (
	"strings"
	"testing"
)

func TestParseSpan(t *testing.T) {
	for text, want := range map[string]float64{
		"1 h 30": 5400, "1h30m": 5400, "1:30": 5400, "90 min": 5400, "1.5 h": 5400, "1,5 h": 5400, "2 d": 172800, "1 day 2 h": 93600, "45 m": 2700, "0:05": 300, " 4 hours ": 14400,
	} {
		if got, err := ParseSpan(text); err != nil || got.S != want || got.Typed != strings.TrimSpace(text) {
			t.Errorf("%q is %v s as %q (%v), want %v", text, got.S, got.Typed, err, want)
		}
	}
	for text, says := range map[string]string{"": "no time", "90": "not a length", "h": "not a length", "until tender": "not a length",
		"1:75": "not a length", "-2 h": "not a length", "15 d": "two weeks", "1,500 min": "two ways"} {
		if got, err := ParseSpan(text); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q is %v (%v), want a refusal that says %q", text, got, err, says)
		}
	}
}
