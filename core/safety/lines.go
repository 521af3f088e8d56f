package safety

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// Window is the range of temperatures whose clock warns before the meat is cooked.
type Window string

// The two windows.
const (
	Under140 Window = "under 140 F"
	FoodCode Window = "41 to 135 F"
)

// Values lists the windows.
func (Window) Values() []string { return []string{string(Under140), string(FoodCode)} }

// Lines are the lines of a barn: the usual guidance, or stricter. Temperatures in C.
type Lines struct {
	PoultryC float64 `json:"poultry_c"`
	StuffedC float64 `json:"stuffed_c"`
	MincedC  float64 `json:"minced_c"`
	PiercedC float64 `json:"pierced_c"`
	IntactC  float64 `json:"intact_c"`
	FishC    float64 `json:"fish_c"`
	ReheatC  float64 `json:"reheat_c"`
	HoldC    float64 `json:"hold_c"`
	Window   Window  `json:"window"`
	Sold     bool    `json:"sold"`     // to the public: poultry by its instant row alone
	Variance string  `json:"variance"` // on record, which lets poultry that is sold go by time; empty is none
}

// Usual are the lines of the guidance.
var Usual = Lines{
	PoultryC: units.FToC(165), StuffedC: units.FToC(165), MincedC: units.FToC(160), PiercedC: units.FToC(158), IntactC: units.FToC(145), FishC: units.FToC(145),
	ReheatC: units.FToC(165), HoldC: units.FToC(140), Window: Under140,
}

// HoldSource says where the line of hot holding comes from.
const HoldSource = "FDA Food Code 2022, 3-501.16 and 3-501.14: 135 F hot; 140 F is the barn's margin. Check the current edition and your local code."

// hottest a line may be set, C: past it nothing would ever be served.
const hottest = 100

// row is a line with its name for a person.
type row struct {
	field, name string
	c, usual    float64
}

func (l Lines) rows() []row {
	return []row{
		{"poultry_c", "poultry", l.PoultryC, Usual.PoultryC}, {"stuffed_c", "stuffed meat", l.StuffedC, Usual.StuffedC}, {"minced_c",
			"minced meat", l.MincedC, Usual.MincedC},
		{"pierced_c", "pierced meat", l.PiercedC, Usual.PiercedC}, {"intact_c", "whole cuts", l.IntactC, Usual.IntactC}, {"fish_c", "fish", l.FishC, Usual.FishC},
		{"reheat_c", "reheating", l.ReheatC, Usual.ReheatC}, {"hold_c", "hot holding", l.HoldC, Usual.HoldC},
	}
}

// sameC is how much of a degree a conversion may lose.
const sameC = 0.01

// Check refuses lines that are looser than the guidance.
func (l Lines) Check() error {
	var wrong fault.List
	for _, r := range l.rows() {
		switch {
		case !(r.c >= r.usual-sameC):
			wrong.Add(r.field, fmt.Sprintf("%s at %.1f C is looser than the guidance", r.name, r.c), fmt.Sprintf("give %.0f F (%.1f C) or over",
				units.CToF(r.usual), r.usual))
		case r.c > hottest:
			wrong.Add(r.field, fmt.Sprintf("%s at %.1f C is hotter than meat gets", r.name, r.c), "give at most 212 F (100 C)")
		}
	}
	if !slices.Contains(Window("").Values(), string(l.Window)) {
		wrong.Add("window", fmt.Sprintf("%q is no window", l.Window), "use one of: "+strings.Join(Window("").Values(), ", "))
	}
	if l.Variance != "" {
		wrong.Take("variance", CheckReason(l.Variance))
	}
	return wrong.Err()
}

// leastLetters make a reason.
const leastLetters = 3

// CheckReason refuses a reason that is no word: a dash, a dot, a number.
func CheckReason(text string) error {
	n := 0
	for _, r := range text {
		if unicode.IsLetter(r) {
			n++
		}
	}
	if n < leastLetters {
		return fault.New("why", fmt.Sprintf("%q is no reason", strings.TrimSpace(text)), "say it in words, three letters or more")
	}
	return nil
}

// Minimum is what the coldest point must reach, at once or by time and temperature.
type Minimum struct {
	C        float64 `json:"c"`
	F        float64 `json:"f"`
	Timed    bool    `json:"timed"`    // time and temperature together are enough too
	RestS    float64 `json:"rest_s"`   // after it is reached at once
	Rest     string  `json:"rest"`     // what else the line asks, or allows
	Absolute bool    `json:"absolute"` // no recorded reason opens the table below it
	Source   string  `json:"source"`
}

// MinimumOf is the minimum of a meat by the usual lines.
func MinimumOf(m Meat) (Minimum, error) { return Usual.Minimum(m) }

// AtOnceC is where the table of red meat asks for no time any more, 158 F.
var AtOnceC = units.FToC(158)

// threeMinutes a whole cut of red meat rests.
const threeMinutes = 180.0

// Minimum is the line of a meat. A line that a barn set stricter counts at once alone:
// the tables of time stand for the guidance's own.
func (l Lines) Minimum(m Meat) (Minimum, error) {
	if !slices.Contains(handlings, m.Handling) {
		return Minimum{}, fault.New("handling", fmt.Sprintf("%q is not a handling", m.Handling), "use intact, pierced, minced or stuffed")
	}
	if !slices.Contains(species, m.Species) {
		return Minimum{}, fault.New("species", fmt.Sprintf("%q is not a kind of meat", m.Species), "use red meat, poultry or fish")
	}
	out := Minimum{Source: Source, Absolute: m.Species == Poultry || m.Handling != Intact}
	_, out.Timed = tableOf(m)
	usual := Usual.IntactC
	switch {
	case m.Handling == Stuffed:
		out.C, usual = l.StuffedC, Usual.StuffedC
	case m.Species == Poultry:
		out.C, usual = l.PoultryC, Usual.PoultryC
		out.Timed = out.Timed && (!l.Sold || l.Variance != "")
	case m.Handling == Minced:
		out.C, usual = l.MincedC, Usual.MincedC
	case m.Handling == Pierced:
		out.C, usual = l.PiercedC, Usual.PiercedC
	case m.Species == Fish:
		out.C, usual = l.FishC, Usual.FishC
	default:
		out.C = l.IntactC
		out.RestS = threeMinutes
	}
	out.F = units.CToF(out.C)
	out.Timed = out.Timed && out.C <= usual+sameC
	switch {
	case out.RestS > 0 && out.Timed:
		out.Rest = "and three minutes' rest, or held long enough at a lower temperature"
	case out.RestS > 0:
		out.Rest = "and three minutes' rest"
	case out.Timed:
		out.Rest = "or held long enough at a lower temperature"
	}
	return out, nil
}

// Finding is what the record shows for one cut.
type Finding string

// The findings of the gate before the table.
const (
	Met      Finding = "met"
	Below    Finding = "below"
	NotShown Finding = "not yet measured" // no evidence counts like a failure
)

// Values lists the findings.
func (Finding) Values() []string { return []string{string(Met), string(Below), string(NotShown)} }
