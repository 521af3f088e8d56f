package units

import (
	"math"
	"strings"
	"testing"
)

func TestParseMassReadsWhatPeopleWrite(t *testing.T) {
	for text, grams := range map[string]float64{
		"6 lb 3 1/2 oz": 6*453.59237 + 3.5*28.349523125,
		"6lb3.5oz":      6*453.59237 + 3.5*28.349523125,
		"6 lb 3½ oz":    6*453.59237 + 3.5*28.349523125,
		"6.22 lb":       6.22 * 453.59237,
		"6 1/4 lb":      6.25 * 453.59237,
		" 2.82 kg ":     2820,
		"2,82 kg":       2820,
		"2820 g":        2820,
		"99 oz":         99 * 28.349523125,
		"7 LB":          7 * 453.59237,
		"5 lb 3":        5*453.59237 + 3*28.349523125,
		"5 lb 3 1/2":    5*453.59237 + 3.5*28.349523125,
		"2.82\u00a0kg":  2820,
		"6 pounds 1 oz": 6*453.59237 + 28.349523125,
	} {
		got, err := ParseMass(text)
		if err != nil {
			t.Errorf("ParseMass(%q) refused: %v", text, err)
			continue
		}
		if math.Abs(got.Kg*1000-grams) > 1e-9 {
			t.Errorf("ParseMass(%q) = %v g, want %v", text, got.Kg*1000, grams)
		}
		if got.Typed != strings.Join(strings.Fields(text), " ") {
			t.Errorf("ParseMass(%q) keeps %q as typed", text, got.Typed)
		}
	}
}

func TestParseMassRefusesWithTheReason(t *testing.T) {
	for text, want := range map[string]string{
		"6 lb 19 oz":  "write 7 lb 3 oz",
		"-2 lb":       "more than zero",
		"−2 kg":       "more than zero",
		"0 g":         "more than zero",
		"6.2":         "has no unit",
		"6.5 lb 3 oz": "either",
		"heavy":       "not a weight",
		"1,250 g":     "write 1250 or 1.25",
		"5 lb 19":     "write 6 lb 3 oz",
		"lb oz":       "not a weight",
		"":            "no weight",
		"6 lb 1/0 oz": "not a weight",
		"9000 kg":     "check the unit",
		"1e400 kg":    "not a weight",
	} {
		if _, err := ParseMass(text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("ParseMass(%q) = %v, want a refusal with %q", text, err, want)
		}
	}
}

func TestPoundsOuncesRoundTripsToATenth(t *testing.T) {
	for tenths := 0; tenths < 4000; tenths += 7 {
		grams := float64(tenths) / 10 / OuncesPerPound * GramsPerPound
		p := ToPoundsOunces(grams)
		if back := float64(p.Lb)*160 + p.Oz*10; math.Abs(back-float64(tenths)) > 1e-6 || p.Oz >= 16 {
			t.Fatalf("%d tenths of an ounce came back as %v", tenths, p)
		}
	}
}

func TestParseTemperature(t *testing.T) {
	for text, c := range map[string]float64{"203 F": 95, "95 C": 95, "95,5°C": 95.5, "-4f": -20, "−4 F": -20, "32F": 0} {
		if got, err := ParseTemperature(text); err != nil || math.Abs(got.C-c) > 1e-9 {
			t.Errorf("ParseTemperature(%q) = %v, %v, want %v C", text, got.C, err, c)
		}
	}
	for _, text := range []string{"203", "hot", "9999 F", "", "20 K", ",20 C", "1,655 F"} {
		if got, err := ParseTemperature(text); err == nil {
			t.Errorf("ParseTemperature(%q) = %v, want a refusal", text, got)
		}
	}
}

func TestConversionsRefuseNegatives(t *testing.T) {
	if _, err := ToGrams(GramsInput{Lb: -1}); err == nil {
		t.Error("-1 lb was converted")
	}
	if p, err := PoundsOuncesOf(PoundsOuncesInput{Grams: 1e300}); err == nil || !strings.Contains(err.Error(), "give up to") {
		t.Errorf("1e300 g is %v (%v)", p, err)
	}
	if _, err := PoundsOuncesOf(PoundsOuncesInput{Grams: math.NaN()}); err == nil {
		t.Error("NaN grams were converted")
	}
}

func FuzzParseMass(f *testing.F) {
	f.Add("6 lb 3 1/2 oz")
	f.Fuzz(func(t *testing.T, text string) {
		if m, err := ParseMass(text); err == nil && !(m.Kg > 0 && m.Kg <= 500) {
			t.Errorf("ParseMass(%q) accepted %v kg", text, m.Kg)
		}
	})
}
