// Package units reads, converts and writes the weights and temperatures of a
// barn. Inside the program a weight is in kilograms and a temperature in
// degrees Celsius; what a person typed is kept beside the canonical number.
package units

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"whitebarn/core/fault"
)

// GramsPerPound is exact (international avoirdupois pound, 1959).
const GramsPerPound = 453.59237

// OuncesPerPound is exact.
const OuncesPerPound = 16

// Mass is a weight as typed, with its canonical value.
type Mass struct {
	Kg    float64 `json:"kg"`
	Typed string  `json:"typed"`
}

const number = `(\d+(?:[.,]\d+)?|[.,]\d+)?(?:\s*(?:(\d+)/(\d+)|([¼½¾⅛⅜⅝⅞])))?`

var (
	// The ounces after pounds may stand without their unit: 5 lb 3.
	poundsOunces = regexp.MustCompile(`(?i)^(?:` + number + `\s*(?:lbs?|pounds?)\.?)?\s*(?:` + number + `\s*(?:oz|ounces?)\.?)?$`)
	bareOunces   = regexp.MustCompile(`(?i)^(.*\d\s*(?:lbs?|pounds?)\.?)\s*([\d.,/ ¼½¾⅛⅜⅝⅞]+)$`)
	metricMass   = regexp.MustCompile(`(?i)^(\d+(?:[.,]\d+)?|[.,]\d+)\s*(kg|kilos?|kilograms?|g|grams?)\.?$`)
	vulgar       = map[string]float64{"¼": 0.25, "½": 0.5, "¾": 0.75, "⅛": 0.125, "⅜": 0.375, "⅝": 0.625, "⅞": 0.875}
)

// ParseMass reads a weight: "6 lb 3 1/2 oz", "6lb3.5oz", "6.22 lb", "99 oz",
// "2.82 kg" or "2820 g". Sixteen or more ounces beside pounds, a weight of
// nothing, a sign or a missing unit are refused with the reason.
func ParseMass(text string) (Mass, error) {
	typed := spaced(text)
	refuse := func(problem, remedy string) (Mass, error) {
		return Mass{}, fault.New("", problem, remedy)
	}
	const forms = `write it like "6 lb 3 1/2 oz", "6.22 lb", "2.82 kg" or "2820 g"`
	switch {
	case typed == "":
		return refuse("no weight given", forms)
	case strings.HasPrefix(typed, "-") || strings.HasPrefix(typed, "−"):
		return refuse(fmt.Sprintf("%q is below zero", typed), "a weight must be more than zero")
	}
	plain, err := unmarked(typed)
	if err != nil {
		return Mass{}, err
	}
	if m := metricMass.FindStringSubmatch(plain); m != nil {
		v, err := decimal(m[1])
		if err != nil {
			return refuse(fmt.Sprintf("%q is not a weight", typed), forms)
		}
		if !strings.HasPrefix(strings.ToLower(m[2]), "k") {
			v /= 1000
		}
		return plausible(v, typed)
	}
	if _, err := decimal(plain); err == nil {
		return refuse(fmt.Sprintf("%q has no unit", typed), forms)
	}
	said := plain
	if b := bareOunces.FindStringSubmatch(plain); b != nil {
		said += " oz"
	}
	m := poundsOunces.FindStringSubmatch(said)
	if m == nil {
		return refuse(fmt.Sprintf("%q is not a weight", typed), forms)
	}
	lb, hasLb, err := mixedNumber(m[1:5])
	if err != nil {
		return refuse(fmt.Sprintf("%q is not a weight", typed), forms)
	}
	oz, hasOz, err := mixedNumber(m[5:9])
	if err != nil || !hasLb && !hasOz {
		return refuse(fmt.Sprintf("%q is not a weight", typed), forms)
	}
	if hasLb && hasOz {
		if oz >= OuncesPerPound {
			carried := ToPoundsOunces((lb*OuncesPerPound + oz) / OuncesPerPound * GramsPerPound)
			return refuse(fmt.Sprintf("%q has %s ounces beside the pounds, and a pound has only 16", typed, trim(oz)),
				fmt.Sprintf("check the scale; if it is right, write %d lb %s oz", carried.Lb, trim(carried.Oz)))
		}
		if lb != math.Trunc(lb) {
			return refuse(fmt.Sprintf("%q has a fraction of a pound and ounces too", typed), `write either "6.22 lb" or "6 lb 3 1/2 oz"`)
		}
	}
	return plausible((lb*OuncesPerPound+oz)/OuncesPerPound*GramsPerPound/1000, typed)
}

// plausible refuses nothing and more than any cut weighs.
func plausible(kg float64, typed string) (Mass, error) {
	const most = 500
	if kg <= 0 {
		return Mass{}, fault.New("", fmt.Sprintf("%q is nothing", typed), "a weight must be more than zero")
	}
	if kg > most {
		return Mass{}, fault.New("", fmt.Sprintf("%q is over %d kg", typed, most), "check the unit")
	}
	return Mass{Kg: kg, Typed: typed}, nil
}

// spaced is a text with plain single spaces, whatever spaces it was typed with.
func spaced(text string) string { return strings.Join(strings.Fields(text), " ") }

// mixedNumber reads whole, numerator, denominator and vulgar fraction, each may be "".
func mixedNumber(p []string) (v float64, given bool, err error) {
	if p[0] != "" {
		if v, err = decimal(p[0]); err != nil {
			return 0, false, err
		}
		given = true
	}
	if p[1] != "" {
		n, _ := strconv.ParseFloat(p[1], 64)
		d, _ := strconv.ParseFloat(p[2], 64)
		if d == 0 {
			return 0, false, strconv.ErrRange
		}
		v, given = v+n/d, true
	}
	if p[3] != "" {
		v, given = v+vulgar[p[3]], true
	}
	return v, given, nil
}

// decimal reads a number with a decimal point or a decimal comma.
func decimal(s string) (float64, error) {
	v, err := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	if err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
		err = strconv.ErrRange
	}
	return v, err
}

func trim(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000, 'f', -1, 64) }

// PoundsOunces is a weight split for reading aloud, ounces to a tenth.
type PoundsOunces struct {
	Lb        int     `json:"lb"`
	Oz        float64 `json:"oz"`
	DecimalLb float64 `json:"decimal_lb"`
}

// ToPoundsOunces splits grams: total ounces are rounded half up to a tenth,
// then sixteen ounces carry to a pound.
func ToPoundsOunces(grams float64) PoundsOunces {
	tenths := math.Floor(grams/GramsPerPound*OuncesPerPound*10 + 0.5 + 1e-9)
	lb := math.Floor(tenths / (OuncesPerPound * 10))
	return PoundsOunces{Lb: int(lb), Oz: (tenths - lb*OuncesPerPound*10) / 10, DecimalLb: grams / GramsPerPound}
}

// String writes "6 lb 13 oz", or "6 lb 3.5 oz".
func (p PoundsOunces) String() string { return fmt.Sprintf("%d lb %s oz", p.Lb, trim(p.Oz)) }

// GramsInput is pounds and ounces; ounces may be sixteen or more and pounds fractional.
type GramsInput struct {
	Lb float64 `json:"lb"`
	Oz float64 `json:"oz"`
}

// Grams is a weight in every form the bench shows.
type Grams struct {
	Grams         float64 `json:"grams"`
	TotalOz       float64 `json:"total_oz"`
	DecimalLb     float64 `json:"decimal_lb"`
	NormalLb      int     `json:"normal_lb"`
	NormalOzTenth float64 `json:"normal_oz_tenth"`
}

// ToGrams converts pounds and ounces. A negative value is an error.
func ToGrams(in GramsInput) (Grams, error) {
	for _, f := range []struct {
		name  string
		value float64
	}{{"lb", in.Lb}, {"oz", in.Oz}} {
		if !(f.value >= 0) || math.IsInf(f.value, 0) {
			return Grams{}, fault.New(f.name, fmt.Sprintf("%v is not a weight", f.value), "give zero or more")
		}
	}
	oz := in.Lb*OuncesPerPound + in.Oz
	g := oz / OuncesPerPound * GramsPerPound
	n := ToPoundsOunces(g)
	return Grams{Grams: g, TotalOz: oz, DecimalLb: oz / OuncesPerPound, NormalLb: n.Lb, NormalOzTenth: n.Oz}, nil
}

// PoundsOuncesInput is a weight in grams.
type PoundsOuncesInput struct {
	Grams float64 `json:"grams"`
}

// PoundsOuncesOf converts grams. A negative value is an error.
func PoundsOuncesOf(in PoundsOuncesInput) (PoundsOunces, error) {
	if !(in.Grams >= 0) || math.IsInf(in.Grams, 0) {
		return PoundsOunces{}, fault.New("grams", fmt.Sprintf("%v is not a weight", in.Grams), "give zero or more")
	}
	if in.Grams > mostGrams {
		return PoundsOunces{}, fault.New("grams", fmt.Sprintf("%v g is more than a barn weighs", in.Grams), fmt.Sprintf("give up to %.0f", mostGrams))
	}
	return ToPoundsOunces(in.Grams), nil
}

// mostGrams is a hundred tonnes.
const mostGrams = 1e8
