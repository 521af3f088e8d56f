package logbook

import (
	"slices"
	"testing"
	"time"
)

func TestWhatTheOilDidAtTheDrop(t *testing.T) {
	at := func(s int) time.Time { return utc("2026-09-19 18:00:00").Add(time.Duration(s) * time.Second) }
	var trace []Point
	for s, c := range map[int]float64{-60: 176, -30: 177, 0: 177, 30: 166, 60: 158, 90: 160, 120: 166, 150: 171, 180: 175, 210: 176} {
		trace = append(trace, Point{at(s), c})
	}
	slices.SortFunc(trace, func(a, b Point) int { return a.At.Compare(b.At) })
	o := OilOf(trace, at(10), 177)
	if o.DropC != 177 || o.LowC != 158 || !o.Back || o.UnderS != 140 || !o.Watched {
		t.Errorf("the oil did %+v, want 177 at the drop, 158 at the lowest, 140 s under", o)
	}
	if o := OilOf(trace[:5], at(10), 177); o.Back || o.LowC != 158 {
		t.Errorf("while it is still down it did %+v", o)
	}
	if o := OilOf(nil, at(0), 177); o.Watched {
		t.Errorf("with no probe in it it did %+v", o)
	}
}
