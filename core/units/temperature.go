package units

import (
	"fmt"
	"regexp"
	"strings"

	"whitebarn/core/fault"
)

// Temperature is a reading as typed, with its canonical value.
type Temperature struct {
	C     float64 `json:"c"`
	Typed string  `json:"typed"`
}

// Scale is a temperature scale.
type Scale string

// The two scales a thermometer of the trade reads in.
const (
	Celsius    Scale = "C"
	Fahrenheit Scale = "F"
)

// Values lists the scales.
func (Scale) Values() []string { return []string{string(Celsius), string(Fahrenheit)} }

// The least and most a probe in a barn can truly read, in degrees Celsius.
const (
	LeastC = -60.0
	MostC  = 600.0
)

// FToC converts a temperature; a difference converts without the 32.
func FToC(f float64) float64 { return (f - 32) / 1.8 }

// CToF converts a temperature.
func CToF(c float64) float64 { return 1.8*c + 32 }

// ToC converts a value read in the scale to degrees Celsius.
func (s Scale) ToC(v float64) float64 {
	if s == Fahrenheit {
		return FToC(v)
	}
	return v
}

var temperature = regexp.MustCompile(`(?i)^([+\-−]?)\s*(\d+(?:[.,]\d+)?)\s*°?\s*(F|C)$`)

// ParseTemperature reads "203 F", "95 C" or "95,5 °C". A missing scale and a
// value no probe in a barn can read are refused with the reason.
func ParseTemperature(text string) (Temperature, error) {
	typed := strings.TrimSpace(text)
	const forms = `write it like "203 F" or "95 C"`
	plain, err := unmarked(typed)
	if err != nil {
		return Temperature{}, err
	}
	m := temperature.FindStringSubmatch(plain)
	if m == nil {
		return Temperature{}, fault.New("", fmt.Sprintf("%q is not a temperature", typed), forms)
	}
	v, err := decimal(m[2])
	if err != nil {
		return Temperature{}, fault.New("", fmt.Sprintf("%q is not a temperature", typed), forms)
	}
	if m[1] == "-" || m[1] == "−" {
		v = -v
	}
	c := Scale(strings.ToUpper(m[3])).ToC(v)
	if c < LeastC || c > MostC {
		return Temperature{}, fault.New("", fmt.Sprintf("%q cannot be read in a barn", typed),
			fmt.Sprintf("give %.0f to %.0f C (%.0f to %.0f F)", LeastC, MostC, CToF(LeastC), CToF(MostC)))
	}
	return Temperature{C: c, Typed: typed}, nil
}
