// Package safety holds the barn's food-safety lines. The defaults follow
// public guidance in the United States; a barn may set stricter ones. Local
// codes and licensed practice come first.
package safety

import (
	"fmt"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// Source names the guidance behind the minimum temperatures.
const Source = "USDA FSIS Safe Minimum Internal Temperature Chart; FDA Food Code 2022, 3-401. Check the current edition and your local code."

// Handling says what was done to the meat, as far as safety is concerned.
type Handling string

// The handlings that carry a minimum of their own.
const (
	Intact  Handling = "intact"  // whole muscle
	Pierced Handling = "pierced" // injected, pierced or mechanically tenderised
	Minced  Handling = "minced"  // ground or minced
)

// Values lists the handlings.
func (Handling) Values() []string { return []string{string(Intact), string(Pierced), string(Minced)} }

// Species is the kind of meat.
type Species string

// The kinds of meat that the chart tells apart.
const (
	RedMeat Species = "red meat" // beef, pork, lamb, veal
	Poultry Species = "poultry"
	Fish    Species = "fish"
)

// Values lists the species.
func (Species) Values() []string { return []string{string(RedMeat), string(Poultry), string(Fish)} }

// Meat is what the minimum depends on.
type Meat struct {
	Species  Species  `json:"species"`
	Handling Handling `json:"handling"`
}

// Minimum is the temperature the coldest point must reach at once.
type Minimum struct {
	C        float64 `json:"c"`
	F        float64 `json:"f"`
	Rest     string  `json:"rest"`     // what else the line asks
	Absolute bool    `json:"absolute"` // no recorded reason opens the table below it
	Source   string  `json:"source"`
}

// MinimumOf returns the instant row of the chart. Time-and-temperature rules
// are not counted here.
func MinimumOf(m Meat) (Minimum, error) {
	line := func(f float64, rest string, absolute bool) (Minimum, error) {
		return Minimum{C: units.FToC(f), F: f, Rest: rest, Absolute: absolute, Source: Source}, nil
	}
	switch m.Handling {
	case Intact, Pierced, Minced:
	default:
		return Minimum{}, fault.New("handling", fmt.Sprintf("%q is not a handling", m.Handling), "use intact, pierced or minced")
	}
	switch m.Species {
	case Poultry:
		return line(165, "", true)
	case RedMeat, Fish:
	default:
		return Minimum{}, fault.New("species", fmt.Sprintf("%q is not a kind of meat", m.Species), "use red meat, poultry or fish")
	}
	switch {
	case m.Handling == Minced:
		return line(160, "", true)
	case m.Handling == Pierced:
		return line(158, "or 145 F held for 3 minutes, shown by a probe at the coldest point", true)
	case m.Species == Fish:
		return line(145, "", false)
	}
	return line(145, "and three minutes' rest", false)
}

// Finding is what the record shows for one cut.
type Finding string

// The findings of the gate before the table.
const (
	Met      Finding = "met"
	Below    Finding = "below"
	NotShown Finding = "not shown" // no evidence counts like a failure
)

// Values lists the findings.
func (Finding) Values() []string { return []string{string(Met), string(Below), string(NotShown)} }

// Judge compares the highest temperature recorded at the coldest point, nil if
// none was, with the minimum. A hundredth of a degree of conversion is forgiven.
func (m Minimum) Judge(coldestC *float64) Finding {
	switch {
	case coldestC == nil:
		return NotShown
	case *coldestC < m.C-0.01:
		return Below
	}
	return Met
}

// MayServe says whether a cut may go on the table: when the minimum is met, or,
// for whole cuts of red meat and fish alone, when the pitmaster gave a reason.
// Poultry, minced and pierced meat goes out only with the minimum shown.
func (m Minimum) MayServe(f Finding, reason string) bool {
	return f == Met || !m.Absolute && reason != ""
}
