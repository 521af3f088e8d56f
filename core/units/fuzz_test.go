package units

import (
	"math"
	"testing"
)

// FuzzParse: whatever is typed, a temperature, length, volume or span that is taken is finite and
// reads back the same.
func FuzzParse(f *testing.F) {
	for _, s := range []string{"203 F", "-5 °C", "1e400 C", "3 1/2 in", "1/0 in", "12 cups", "½ tsp", "2 h 30", "90 min", "−40 F", "0x1p4 C", "٣ C"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		finite := func(what string, v float64) {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Fatalf("%q is the %s %v", s, what, v)
			}
		}
		if v, err := ParseTemperature(s); err == nil {
			finite("temperature", v.C)
			if again, err := ParseTemperature(v.Typed); err != nil || again.C != v.C {
				t.Fatalf("%q is kept as %q, which reads %v (%v)", s, v.Typed, again, err)
			}
		}
		if v, err := ParseLength(s); err == nil {
			finite("length", v.M)
		}
		if v, err := ParseVolume(s); err == nil {
			finite("volume", v.ML)
		}
		if v, err := ParseSpan(s); err == nil {
			finite("span", v.S)
		}
	})
}
