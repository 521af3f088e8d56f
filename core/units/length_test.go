package units

import (
	"math"
	"strings"
	"testing"
)

func TestParseLength(t *testing.T) {
	for text, want := range map[string]float64{
		"2.9 in": 0.07366, "3/8 in": 0.009525, "2 1/4\"": 0.05715, "2¼ in": 0.05715, "74 mm": 0.074, "7,4 cm": 0.074, "0.074 m": 0.074, "1 inch": 0.0254,
	} {
		if got, err := ParseLength(text); err != nil || math.Abs(got.M-want) > 1e-12 || got.Typed != text {
			t.Errorf("%q reads as %+v (%v), want %v m", text, got, err, want)
		}
	}
	for text, want := range map[string]string{"": "no length", "3": "not a length", "thick": "not a length", "-2 in": "not a length",
		"0 mm": "no length of a cut", "3 m": "check the unit", "1/0 in": "not a length", "1,250 mm": "write 1250 or 1.250"} {
		if _, err := ParseLength(text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q is refused with %v, want %q", text, err, want)
		}
	}
}
