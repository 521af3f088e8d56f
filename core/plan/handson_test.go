package plan

import (
	"math"
	"testing"
	"time"

	"whitebarn/core/logbook"
)

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

func TestEveryActOfTheLogTakesItsTime(t *testing.T) {
	for _, a := range logbook.Acts {
		minutes := LoggedMinutes(a, 2)
		if free := a == logbook.Note || a == logbook.Photo; free != (minutes == 0) || minutes < 0 {
			t.Errorf("%s on two cuts takes %g min", a, minutes)
		}
		if act, ok := ActOf(a); ok && minutes != Minutes(act, 2) {
			t.Errorf("%s takes %g min when logged and %g when planned", a, minutes, Minutes(act, 2))
		}
	}
}
