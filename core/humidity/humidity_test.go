package humidity

import (
	"math"
	"strings"
	"testing"
	"whitebarn/core/thermal"
)

// Water boils at 100 C under one atmosphere, by definition of long ago, to three hundredths.
func TestSaturationIsInverted(t *testing.T) {
	for c := 0.0; c <= 200; c += 0.5 {
		if got := SaturatedAt(Saturation(c)); math.Abs(got-c) > 1e-6 {
			t.Fatalf("vapour that is saturated at %g C is said to be so at %g", c, got)
		}
	}
	if b := Boiling(101325); math.Abs(b-100) > 0.03 {
		t.Errorf("water boils at %g C by the sea", b)
	}
	if !math.IsNaN(SaturatedAt(100)) || !math.IsNaN(SaturatedAt(3e6)) {
		t.Error("a dew point is given where the formula does not reach")
	}
	if high, low := Boiling(thermal.PressureAt(1600)), Boiling(thermal.PressureAt(100)); high >= low {
		t.Errorf("water boils at %g C on the hill and at %g below", high, low)
	}
}

// Saturated air has its dew point at its own temperature; the lower the wet bulb, the drier.
func TestWetBulbs(t *testing.T) {
	for dry := 20.0; dry <= 150; dry += 13 {
		before := math.Inf(1)
		for wet := math.Min(dry, 90); wet > 0; wet -= 2 {
			a, err := OfBulbs(dry, wet, 97_500)
			if err != nil {
				if !strings.Contains(err.Error(), "so dry") {
					t.Errorf("%g and %g C: %v", dry, wet, err)
				}
				break
			}
			if wet == dry && (math.Abs(a.RH-1) > 1e-9 || math.Abs(a.DewPointC-dry) > 1e-6) {
				t.Errorf("with both bulbs at %g C the humidity is %g and the dew point %g", dry, a.RH, a.DewPointC)
			}
			if a.RH >= before || a.RH > a.HighestRH+1e-9 {
				t.Errorf("at %g and %g C the humidity is %g, before %g, at most %g", dry, wet, a.RH, before, a.HighestRH)
			}
			before = a.RH
		}
	}
}

func TestBulbsThatCannotBeAreRefused(t *testing.T) {
	for _, c := range []struct {
		dry, wet, pa float64
		says         string
	}{
		{121, 130, 97_500, "over the dry one"},
		{121, 104, 97_500, "wet the wick"},
		{121, -3, 97_500, "under freezing"},
		{300, 60, 97_500, "out of what can be told"},
		{121, 60, 9_750, "no pressure"},
		{math.NaN(), 60, 97_500, "out of what can be told"},
	} {
		if _, err := OfBulbs(c.dry, c.wet, c.pa); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%g and %g C under %g Pa give %v, want %q", c.dry, c.wet, c.pa, err, c.says)
		}
	}
	if _, err := AltitudeOf(AltitudeInput{M: []float64{0, 9000}}); err == nil || !strings.Contains(err.Error(), "altitude_m[1]") {
		t.Errorf("a barn at 9000 m gives %v", err)
	}
	if _, err := SaturationOf(SaturationInput{C: []float64{-5}}); err == nil {
		t.Error("ice is taken for water")
	}
	if _, err := BoilingOf(BoilingInput{HPa: []float64{29.9}}); err == nil {
		t.Error("inches are taken for hectopascals")
	}
}
