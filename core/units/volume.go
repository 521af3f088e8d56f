package units

import (
	"fmt"
	"regexp"
	"strings"

	"whitebarn/core/fault"
)

// Volume is an amount of liquid as typed, with its canonical value.
type Volume struct {
	ML    float64 `json:"ml"`
	Typed string  `json:"typed"`
}

// millilitres of the units a kitchen measures in: the United States cup and
// fluid ounce (NIST Handbook 44, appendix C), spoons by the metric kitchen.
var millilitres = map[string]float64{
	"ml": 1, "cl": 10, "dl": 100, "l": 1000, "litre": 1000, "liter": 1000, "cup": 236.5882365, "fl oz": 29.5735295625, "oz": 29.5735295625, "tsp": 5, "tbsp": 15,
	"pint": 473.176473, "pt": 473.176473, "quart": 946.352946, "qt": 946.352946, "gallon": 3785.411784, "gal": 3785.411784,
}

var volume = regexp.MustCompile(`(?i)^` + number + `\s*(ml|cl|dl|l|litres?|liters?|cups?|fl\.? ?oz|oz|ounces?|tsp|tbsps?|pints?|pts?|quarts?|qts?|gallons?|gals?)\.?$`)

// mostML is more than any pan or trough of a small barn holds.
const mostML = 100_000

// ParseVolume reads an amount of liquid: "250 ml", "1/2 cup", "2 tbsp" or "8
// fl oz". An amount without a unit, of nothing or of more than 100 l is refused.
func ParseVolume(text string) (Volume, error) {
	typed := spaced(text)
	const forms = `write it like "250 ml", "1 1/2 cups" or "8 fl oz"`
	plain, err := unmarked(typed)
	if err != nil {
		return Volume{}, err
	}
	m := volume.FindStringSubmatch(plain)
	if m == nil {
		return Volume{}, fault.New("", fmt.Sprintf("%q is not an amount of liquid", typed), forms)
	}
	v, given, err := mixedNumber(m[1:5])
	if err != nil || !given {
		return Volume{}, fault.New("", fmt.Sprintf("%q is not an amount of liquid", typed), forms)
	}
	unit := strings.ToLower(m[5])
	if strings.HasPrefix(unit, "fl") || strings.HasPrefix(unit, "ounce") {
		unit = "fl oz" // of a liquid an ounce is a fluid one
	}
	one, known := millilitres[unit]
	if !known {
		one = millilitres[strings.TrimSuffix(unit, "s")]
	}
	v *= one
	if !(v > 0 && v <= mostML) {
		return Volume{}, fault.New("", fmt.Sprintf("%q is not an amount of liquid for a cook", typed), "give more than nothing and at most 100 l")
	}
	return Volume{ML: v, Typed: typed}, nil
}
