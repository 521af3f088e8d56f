package safety

import (
	"math"
	"strings"
	"testing"

	"whitebarn/core/units"
)

// held is a trace that stays at a temperature, read every so often.
func held(f, minutes, every float64) (out []Sample) {
	for t := 0.0; t <= minutes*60; t += every {
		out = append(out, Sample{t, units.FToC(f)})
	}
	return out
}

func TestTimeAndTemperatureAddUpAsTheTablesSay(t *testing.T) {
	spike := held(120, 60, 15)
	spike[50].C = 95
	gap := append(held(140, 6, 15), Sample{3600, units.FToC(140)}, Sample{3615, units.FToC(140)})
	for _, c := range []struct {
		what  string
		in    LethalityInput
		share float64
	}{
		{"130 F for 113 minutes", LethalityInput{RedMeat, held(130, 113, 30)}, 1},
		{"130 F for 56 minutes", LethalityInput{RedMeat, held(130, 56, 30)}, 0.5},
		{"145 F for 2 minutes", LethalityInput{RedMeat, held(145, 2, 10)}, 0.5},
		{"129 F for a day", LethalityInput{RedMeat, held(129, 1440, 60)}, 0},
		{"200 F for 7 s", LethalityInput{RedMeat, []Sample{{0, 93}, {7, 93}}}, 0.5},
		{"poultry at 150 F for 2.5 minutes", LethalityInput{Poultry, held(150, 2.5, 10)}, 0.5},
		{"poultry at 135 F for two hours", LethalityInput{Poultry, held(135, 120, 30)}, 0},
		{"a single spike", LethalityInput{RedMeat, spike}, 0},
		{"an hour without readings", LethalityInput{RedMeat, gap}, 0.52},
		{"no readings", LethalityInput{RedMeat, nil}, 0},
	} {
		got, err := LethalityOf(c.in)
		if err != nil || math.Abs(got.Share-c.share) > 0.005 {
			t.Errorf("%s gives %.3f (%v), want %.2f", c.what, got.Share, err, c.share)
		}
		if (got.Reached != nil) != (c.share == 1) {
			t.Errorf("%s is said to be reached at %v", c.what, got.Reached)
		}
	}
	for _, c := range []struct {
		in   LethalityInput
		want string
	}{
		{LethalityInput{"cheese", nil}, "not a kind of meat"},
		{LethalityInput{Fish, nil}, "no time-and-temperature table"},
		{LethalityInput{RedMeat, []Sample{{60, 70}, {0, 70}}}, "order of time"},
	} {
		if _, err := LethalityOf(c.in); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("the refusal is %v, want %q", err, c.want)
		}
	}
}

func TestHotterIsNeverSlower(t *testing.T) {
	for _, s := range []Species{RedMeat, Poultry} {
		before := 0.0
		for f := 125.0; f < 180; f += 0.25 {
			if rate := LethalRate(s, units.FToC(f)); rate < before-1e-12 {
				t.Errorf("%s at %.2f F gives %.3g a second, a little cooler %.3g", s, f, rate, before)
			} else {
				before = rate
			}
		}
	}
}
