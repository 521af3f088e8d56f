package logbook

import (
	"math"
	"strings"
	"testing"
)

// A straight line has its slope by all ways; one wild reading moves the mean slope alone.
func TestSlopes(t *testing.T) {
	var in SlopeInput
	for i := range 9 {
		y := 60 + 2.5*float64(i)
		in.T, in.Y = append(in.T, float64(i)), append(in.Y, &y)
	}
	in.Window = []float64{1, 7}
	got, err := SlopeOf(in)
	if err != nil || got.N != 7 || math.Abs(got.Slope-2.5) > 1e-12 || got.Sen != 2.5 || got.S != 21 || *got.R2 < 1-1e-12 {
		t.Errorf("a straight line is told as %+v (%v)", got, err)
	}
	wild := 200.0
	in.Y[4] = &wild
	if got, _ = SlopeOf(in); got.Sen != 2.5 || *got.R2 > 0.2 {
		t.Errorf("with a wild reading it is %+v", got)
	}
	for _, c := range []struct {
		says  string
		spoil func(*SlopeInput)
	}{
		{"not two readings", func(in *SlopeInput) { in.Window = []float64{3, 3.5} }},
		{"no stretch", func(in *SlopeInput) { in.Window = []float64{5, 2} }},
		{"8 readings at 9 times", func(in *SlopeInput) { in.Y = in.Y[1:] }},
	} {
		bad := in
		c.spoil(&bad)
		if _, err := SlopeOf(bad); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("it is answered with %v, want %q", err, c.says)
		}
	}
}
