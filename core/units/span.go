package units

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"whitebarn/core/fault"
)

// Span is a length of time as typed, with its canonical value.
type Span struct {
	S     float64 `json:"s"`
	Typed string  `json:"typed"`
}

var (
	colon = regexp.MustCompile(`^(\d{1,3}):([0-5]\d)$`)
	hours = regexp.MustCompile(`(?i)^(?:(\d+(?:[.,]\d+)?)\s*(?:d|days?))?\s*(?:(\d+(?:[.,]\d+)?)\s*(?:h|hrs?|hours?))?\s*(?:(\d+(?:[.,]\d+)?)\s*(?:m|min|minutes?)?)?$`)
)

// ParseSpan reads a length of time: "1 h 30", "1:30", "90 min", "1.5 h" or "2
// d". A bare number, nothing, and more than two weeks are refused.
func ParseSpan(text string) (Span, error) {
	typed := strings.TrimSpace(text)
	const forms = `write it like "1 h 30", "90 min" or "1.5 h"`
	if typed == "" {
		return Span{}, fault.New("", "no time given", forms)
	}
	plain, err := unmarked(typed)
	if err != nil {
		return Span{}, err
	}
	s := -1.0
	if m := colon.FindStringSubmatch(plain); m != nil {
		h, _ := strconv.Atoi(m[1])
		minutes, _ := strconv.Atoi(m[2])
		s = float64(h*3600 + minutes*60)
	} else if m := hours.FindStringSubmatch(plain); m != nil {
		_, bare := strconv.ParseFloat(strings.Replace(plain, ",", ".", 1), 64)
		if bare != nil {
			s = 0
			for i, unit := range []float64{86400, 3600, 60} {
				if m[i+1] != "" {
					v, _ := decimal(m[i+1])
					s += v * unit
				}
			}
		}
	}
	switch {
	case s < 0:
		return Span{}, fault.New("", fmt.Sprintf("%q is not a length of time", typed), forms)
	case s > 14*86400:
		return Span{}, fault.New("", fmt.Sprintf("%q is more than two weeks", typed), "check the unit")
	}
	return Span{S: s, Typed: typed}, nil
}
