package standin

import (
	"testing"
	"time"
)

// TestADayWithNothingWhereSomethingBelongs: what a hand leaves empty is named, and nothing falls.
func TestADayWithNothingWhereSomethingBelongs(t *testing.T) {
	for _, text := range []string{"pits:\n  -\n", "pits: [null]\n", "pits: [{name: A, points: [null], sun: [null]}]\n", "cuts: [~]\n",
		"events: [null]\n", "holders: [null]\npans: [null]\n", "pits: null\n", "~\n", "- a\n", "name: [1]\n"} {
		if s, err := Parse([]byte(text)); err == nil {
			if _, err := New(s, time.Unix(0, 0)); err == nil {
				t.Errorf("%q is taken for a day", text)
			}
		}
	}
}

// FuzzParse: no file makes the reader fall, and what it takes can be begun.
func FuzzParse(f *testing.F) {
	f.Add([]byte("name: a\nevery: 20s\nlength: 1h\npits:\n  - {name: P, kind: offset, set_point: 250 F, channel: pit}\n"))
	f.Add([]byte("pits: [null]\ncuts: [~]\nevents: [null]\n"))
	f.Add([]byte("name: &a [*a]\nlength: 99999999h\n"))
	f.Add([]byte("cuts:\n  - {name: 1L, family: lambshoulder, weight: 5 lb, pit: P, on: 0s, channel: c}\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		s, err := Parse(text)
		if err != nil {
			return
		}
		if _, err := New(s, time.Unix(0, 0)); err != nil {
			return
		}
		if s.Length < 0 || s.Every < 0 {
			t.Fatalf("a day of %v every %v is taken", s.Length, s.Every)
		}
	})
}
