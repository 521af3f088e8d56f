package logbook

import (
	"fmt"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// PutIn is one thing that goes into a wrap with the meat, by weight or by volume.
type PutIn struct {
	What  string  `json:"what"`
	Typed string  `json:"typed"` // how much; empty is not said
	G     float64 `json:"g"`     // what was weighed, or reckoned from the volume
	ML    float64 `json:"ml"`    // what was measured by volume
}

// MostPutIn bounds how many things go into one wrap.
const MostPutIn = 6

// Resolve reads how much it is. A spoon is fifteen millilitres, a millilitre a gram:
// the sorts of liquid and fat that go into a wrap are within a tenth of it.
func (p *PutIn) Resolve() error {
	var wrong fault.List
	p.What, p.Typed = strings.Join(strings.Fields(p.What), " "), strings.Join(strings.Fields(p.Typed), " ")
	p.G, p.ML = 0, 0
	if p.What == "" || len(p.What) > 60 {
		wrong.Add("what", fmt.Sprintf("%q says nothing of what is put in", p.What), "name it in up to 60 letters")
	}
	if p.Typed != "" {
		if m, err := units.ParseMass(p.Typed); err == nil {
			p.G = 1000 * m.Kg
		} else if v, errV := units.ParseVolume(spoons(p.Typed)); errV == nil {
			p.ML, p.G = v.ML, v.ML
		} else {
			wrong.Add("typed", fmt.Sprintf("%q is no amount", p.Typed), `write it like "45 g", "1 spoon" or "100 ml"`)
		}
	}
	if p.G > mostPutInG {
		wrong.Add("typed", fmt.Sprintf("%s does not go into a wrap", p.Typed), "give up to 5 kg")
	}
	return wrong.Err()
}

const mostPutInG = 5000.0

// spoons reads a plain spoon as a tablespoon.
func spoons(typed string) string {
	for _, word := range []string{"spoons", "spoon"} {
		if rest, ok := strings.CutSuffix(typed, " "+word); ok {
			return rest + " tbsp"
		}
	}
	return typed
}

// ParcelG is the weight of all that goes in, g.
func ParcelG(of []PutIn) (g float64) {
	for _, p := range of {
		g += p.G
	}
	return g
}

// DescribeParcel says it in a few words.
func DescribeParcel(of []PutIn) string {
	said := make([]string, len(of))
	for i, p := range of {
		said[i] = strings.TrimSpace(p.Typed + " " + p.What)
	}
	return strings.Join(said, ", ")
}
