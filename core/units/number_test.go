package units

import (
	"math"
	"strings"
	"testing"
)

// Thousands may be marked with spaces, apostrophes, commas or points, in every quantity; what is typed stays as it was typed.
func TestThousandsMayBeMarked(t *testing.T) {
	mass := func(s string) (float64, string, error) { m, err := ParseMass(s); return m.Kg * 1000, m.Typed, err }
	heat := func(s string) (float64, string, error) { v, err := ParseTemperature(s); return v.C, v.Typed, err }
	long := func(s string) (float64, string, error) { v, err := ParseLength(s); return v.M * 1000, v.Typed, err }
	wait := func(s string) (float64, string, error) { v, err := ParseSpan(s); return v.S / 60, v.Typed, err }
	wet := func(s string) (float64, string, error) { v, err := ParseVolume(s); return v.ML, v.Typed, err }
	for _, c := range []struct {
		read func(string) (float64, string, error)
		text string
		want float64
	}{
		{mass, "1 655 g", 1655}, {mass, "1'655 g", 1655}, {mass, "1’655.5 g", 1655.5}, {mass, "1,655.5 g", 1655.5}, {mass, "1.655,5 g", 1655.5},
		{mass, "12 345,5 g", 12345.5}, {mass, "1.655 kg", 1655}, {mass, "12,5 kg", 12500}, {mass, "0,125 kg", 125}, {mass, "1 1/2 lb", 680.388555},
		{long, "1 250 mm", 1250}, {long, "1,250.5 mm", 1250.5}, {wait, "1 500 min", 1500}, {wet, "1 250 ml", 1250}, {wet, "1.250,5 ml", 1250.5},
		{heat, "165,5 F", (165.5 - 32) / 1.8},
	} {
		got, typed, err := c.read(c.text)
		if err != nil || math.Abs(got-c.want) > 1e-9*c.want || typed != c.text {
			t.Errorf("%q is read as %v, kept as %q (%v), want %v", c.text, got, typed, err, c.want)
		}
	}
	for _, text := range []string{"1,655 g", "12,500 g"} {
		if _, err := ParseMass(text); err == nil || !strings.Contains(err.Error(), "two ways") {
			t.Errorf("%q is taken for one of two weights (%v)", text, err)
		}
	}
	for _, text := range []string{"1 65 g", "1,65,500 g", "1.655.00 g", "1 655 500 g"} {
		if m, err := ParseMass(text); err == nil {
			t.Errorf("%q is taken for %v kg", text, m.Kg)
		}
	}
}
