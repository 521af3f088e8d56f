package units

import (
	"math"
	"strings"
	"testing"
)

func TestParseVolume(t *testing.T) {
	for text, want := range map[string]float64{
		"250 ml": 250, "250ml": 250, "1 l": 1000, "1,5 l": 1500, "2 litres": 2000, "1/2 cup": 118.29411825, "1 1/2 cups": 354.88235475, "8 fl oz": 236.5882365, "8 FL. OZ": 236.5882365, "2 tbsp": 30, "1 pint": 473.176473, " 3 dl ": 300,
		"1 qt": 946.352946, "2 pt": 946.352946, "1/3 cup": 78.8627455, "1 gal": 3785.411784, "1 tbsp": 15, "1 oz": 29.5735295625,
		"2 ounces": 59.147059125, "250\u00a0ml": 250, "1\u202fl": 1000,
	} {
		v, err := ParseVolume(text)
		if err != nil || math.Abs(v.ML-want) > 1e-9 || v.Typed != strings.Join(strings.Fields(text), " ") {
			t.Errorf("%q is read as %+v (%v), want %v ml", text, v, err, want)
		}
	}
	for text, why := range map[string]string{
		"": "not an amount", "1,250 ml": "two ways", "250": "not an amount", "some": "not an amount", "ml": "not an amount",
		"0 ml": "more than nothing", "200 l": "at most 100 l", "-1 cup": "not an amount", "1/0 cup": "not an amount",
	} {
		if v, err := ParseVolume(text); err == nil || !strings.Contains(err.Error(), why) {
			t.Errorf("%q is read as %+v with %v, want a refusal that says %q", text, v, err, why)
		}
	}
}
