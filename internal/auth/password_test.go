package auth

import (
	"strings"
	"testing"
)

func TestPasswordsThatAreGuessedEarlyAreRefused(t *testing.T) {
	for password, want := range map[string]string{
		"short":                 "too short: 5 of 12",
		"elevenlette":           "too short: 11 of 12",
		"1q2w3e4r5t6y":          "most used",
		"MotherFucker":          "most used",
		"abcabcabcabcabc":       "again and again",
		"ababbaabbaabab":        "again and again",
		"zyxwvutsrqponm":        "run of keys",
		"poiuytrewqlkjhg":       "run of keys",
		"White Barn 2026":       "little beside",
		"odalys-1234!":          "little beside",
		"Hill Farm!!!!":         "little beside",
		"apricot and alder":     "",
		"æøåæ og røyk i natt":   "",
		"three words do well":   "",
		"odalys likes hornbeam": "", // a name in it is no harm
		strings.Repeat("long words are kept whole ", 7): "",
	} {
		err := CheckPassword(password, "Hill Farm", "Odalys", "odalys")
		if got := ""; err != nil {
			got = err.Error()
			if want == "" || !strings.Contains(got, want) {
				t.Errorf("%q is refused: %s; want %q", password, got, want)
			}
		} else if want != "" {
			t.Errorf("%q is taken, want it refused: %s", password, want)
		}
	}
	used, err := common()
	if err != nil || len(used) < 3000 {
		t.Errorf("the list has %d passwords (%v), want 3000 or more that are long enough", len(used), err)
	}
	for p := range used {
		if len([]rune(p)) < LeastPassword || p != strings.ToLower(p) {
			t.Errorf("the list has %q, which is never compared", p)
			break
		}
	}
}
