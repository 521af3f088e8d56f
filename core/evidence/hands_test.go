package evidence

import (
	"math"
	"testing"
	"time"

	"whitebarn/core/logbook"
)

func day(n, hour, minute int) time.Time {
	return time.Date(2026, 9, n, hour, minute, 0, 0, time.FixedZone("farm", -4*3600))
}

func TestHandsOnIsSharedAmongTheCutsOfAPress(t *testing.T) {
	at := day(3, 10, 0)
	nine := 9.0
	got := HandsOn([]Press{
		{Act: logbook.Wrap, At: at, Cuts: []int64{1, 2}},                              // 2 + 2 x 3
		{Act: logbook.Wood, At: at, Cuts: []int64{1, 2, 3}},                           // 3, for all in the pit
		{Act: logbook.Spritz, At: day(3, 23, 30), Cuts: []int64{3}},                   // 1.5, at night
		{Act: logbook.Lid, At: day(3, 5, 59), Cuts: []int64{1, 2, 3}, Minutes: &nine}, // as somebody said
		{Act: logbook.Note, At: at, Cuts: []int64{1}},
		{Act: logbook.Lit, At: at}, // nothing stands in the pit yet
	}, at.Location())
	for cut, want := range map[int64]Hands{1: {8, 3}, 2: {8, 3}, 3: {5.5, 4.5}} {
		if h := got[cut]; math.Abs(h.Minutes-want.Minutes) > 1e-9 || math.Abs(h.Night-want.Night) > 1e-9 {
			t.Errorf("cut %d took %+v, want %+v", cut, h, want)
		}
	}
	if len(got) != 3 {
		t.Errorf("work is counted for %v", got)
	}
}

func TestAPressInPartsIsOnePress(t *testing.T) {
	at := day(3, 10, 0)
	got := Presses([]Press{
		{Act: logbook.Wrap, At: at, Cuts: []int64{1}}, {Act: logbook.Wrap, At: at, Cuts: []int64{2}}, {Act: logbook.Wrap, At: at, Cuts: []int64{2}},
		{Act: logbook.Spritz, At: at, Cuts: []int64{1}}, {Act: logbook.Wrap, At: at.Add(time.Second), Cuts: []int64{3}},
	})
	if len(got) != 3 || len(got[0].Cuts) != 2 {
		t.Errorf("five records are the presses %+v, want a wrap of two, a spritz, and a wrap of one", got)
	}
}

// TestNoActIsSilentlyNoWork finds an act whose work nobody would count.
func TestNoActIsSilentlyNoWork(t *testing.T) {
	for _, r := range logbook.Rows() {
		cut := int64(1)
		got := HandsOn([]Press{{Act: r.Act, At: day(3, 10, 0), Cuts: []int64{cut}}}, time.UTC)[cut].Minutes
		if want := r.Minutes + r.PerCut; got != want && !r.InPassing || r.InPassing && got != 0 {
			t.Errorf("one %s counts as %g min of hands, want %g", r.Act, got, want)
		}
	}
}
