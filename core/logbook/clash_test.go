package logbook

import (
	"fmt"
	"testing"
	"time"
)

func TestClashesAreTwoHandsAtOnce(t *testing.T) {
	at := time.Date(2026, 10, 3, 10, 0, 0, 0, time.UTC)
	e := func(id int64, minute float64, act Act, target, by string) Entry {
		return Entry{ID: id, Act: act, At: at.Add(time.Duration(minute * float64(time.Minute))), Target: target, By: by, Press: fmt.Sprint(id)}
	}
	got := ClashesOf([]Entry{
		e(1, 0, Wrap, "cut 1", "Ife"),
		e(2, 0.5, Wrap, "cut 2", "Bram"),    // another cut
		e(3, 1, Spritz, "cut 1", "Bram"),    // another act
		e(4, 1.5, Wrap, "cut 1", "Ife"),     // the same hand
		e(5, 2, Wrap, "cut 1", "Bram"),      // with 1 and with 4
		e(6, 4.5, Wrap, "cut 1", "Marisol"), // too late for any
		e(7, 5, Probe, "cut 1", "Ife"), e(8, 5, Probe, "cut 1", "Bram"),
	})
	if fmt.Sprint(got) != "[{1 5} {4 5}]" {
		t.Errorf("clashes are %v, want 1 and 4, each with 5", got)
	}
	if got := ClashesOf(nil); len(got) != 0 || got == nil {
		t.Errorf("nothing logged clashes as %v", got)
	}
}
