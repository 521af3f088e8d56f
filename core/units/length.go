package units

import (
	"fmt"
	"regexp"
	"strings"

	"whitebarn/core/fault"
)

// MetresPerInch is exact (international inch, 1959).
const MetresPerInch = 0.0254

// Length is a length as typed, with its canonical value.
type Length struct {
	M     float64 `json:"m"`
	Typed string  `json:"typed"`
}

var (
	inches       = regexp.MustCompile(`(?i)^` + number + `\s*(?:in(?:ch|ches)?\.?|"|”)$`)
	metricLength = regexp.MustCompile(`(?i)^(\d+(?:[.,]\d+)?|[.,]\d+)\s*(mm|cm|m)$`)
)

// ParseLength reads a length of a cut: "2.9 in", "3/8 in", "2 1/4 in", "74 mm"
// or "7.4 cm". A missing unit, nothing, and more than two metres are refused.
func ParseLength(text string) (Length, error) {
	typed := strings.TrimSpace(text)
	const forms = `write it like "2 1/4 in", "3/8 in", "74 mm" or "7.4 cm"`
	plain, err := unmarked(typed)
	if err != nil {
		return Length{}, err
	}
	m := -1.0
	if f := metricLength.FindStringSubmatch(plain); f != nil {
		v, err := decimal(f[1])
		if err == nil {
			m = v / map[string]float64{"mm": 1000, "cm": 100, "m": 1}[strings.ToLower(f[2])]
		}
	} else if f := inches.FindStringSubmatch(plain); f != nil {
		if v, given, err := mixedNumber(f[1:5]); err == nil && given {
			m = v * MetresPerInch
		}
	}
	switch {
	case typed == "":
		return Length{}, fault.New("", "no length given", forms)
	case m < 0:
		return Length{}, fault.New("", fmt.Sprintf("%q is not a length", typed), forms)
	case m == 0 || m > 2:
		return Length{}, fault.New("", fmt.Sprintf("%q is no length of a cut", typed), "check the unit")
	}
	return Length{M: m, Typed: typed}, nil
}
