package process

import (
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/phase"
	"whitebarn/core/prep"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// CardRange is what the cuts or cooks of the winning arm delivered of one number.
type CardRange struct {
	Middle float64 `json:"middle"`
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
	N      int     `json:"n"`
}

// CardStep is one phase of a card.
type CardStep struct {
	phase.Phase
	Heat     *CardRange `json:"heat"`      // of the pit or holder as it was, C
	EndC     *CardRange `json:"end_c"`     // of the core at its end, C
	Lasted   *CardRange `json:"lasted"`    // h
	EndsAt   *CardRange `json:"ends_at"`   // h after it went on; nil before the fire
	HandsMin *float64   `json:"hands_min"` // a cook
}

// CardAmount is something that a cut or a cook takes.
type CardAmount struct {
	Name  string  `json:"name"`
	GPer  float64 `json:"g_per_kg"` // of meat; 0: by Each
	Each  float64 `json:"each"`     // g, or pieces, of each Of
	Of    string  `json:"of"`       // cut or cook
	Count bool    `json:"count"`    // Each is pieces
}

// Gift is what a cut of the process has, with the 9-in-10 interval of its mean.
type Gift struct {
	Key  trial.OutcomeKey `json:"key"`
	Name string           `json:"name"`
	Unit string           `json:"unit"`
	CardRange
	Tasted bool `json:"tasted"`
}

// CardCaution is what can hurt somebody, with its source.
type CardCaution struct {
	Text   string `json:"text"`
	Source string `json:"source"`
}

// CardEvidence is what a version rests on.
type CardEvidence struct {
	TrialID int64         `json:"trial_id"`
	Trials  int           `json:"trials"`
	Cooks   int           `json:"cooks"`
	Cuts    int           `json:"cuts"`
	Tasters int           `json:"tasters"`
	Reach   verdict.Reach `json:"reach"` // empty: nothing was shown
	Says    string        `json:"says"`  // what the card states of its reach
	Size    string        `json:"size"`  // by how much, of what weighs most
	But     string        `json:"but"`   // a limit that touches it
}

// CardBody is what one version of a process says.
type CardBody struct {
	Product   string        `json:"product"`
	ProductID int64         `json:"product_id"`
	Family    string        `json:"family"`
	Cut       string        `json:"cut"`
	Kg        *CardRange    `json:"kg"` // of one, at the fire
	Bone      string        `json:"bone"`
	Pit       string        `json:"pit"`
	PitID     int64         `json:"pit_id"`
	SetUp     string        `json:"set_up"`
	Fuel      string        `json:"fuel"`
	Wood      string        `json:"wood"`
	Steps     []CardStep    `json:"steps"`
	Doses     []prep.Dose   `json:"doses"`
	Takes     []CardAmount  `json:"takes"`
	Gives     []Gift        `json:"gives"`
	Hours     *CardRange    `json:"hours"`     // from on to the pull
	HandsMin  *float64      `json:"hands_min"` // a cut
	CentsKg   *CardRange    `json:"cents_kg"`  // per edible weight
	For       []string      `json:"for"`       // contexts it is for
	Not       []string      `json:"not"`       // what it is not for, or was not tried in
	Cautions  []CardCaution `json:"cautions"`
	Evidence  CardEvidence  `json:"evidence"`
	Held      []trial.Held  `json:"held"`
	Allergens []string      `json:"allergens"`
}

// Phases are its phases alone.
func (b CardBody) Phases() []phase.Phase {
	out := make([]phase.Phase, len(b.Steps))
	for i, s := range b.Steps {
		out[i] = s.Phase
	}
	return out
}

// VersionDifference is one thing in which two versions differ.
type VersionDifference struct {
	What string `json:"what"`
	Was  string `json:"was"`
	Is   string `json:"is"`
}

// EndsOf is how a phase ends, in words.
func EndsOf(p phase.Phase) string {
	var parts []string
	for _, e := range p.Ends {
		w := e.Watch.Word()
		parts = append(parts, strings.TrimSpace(w.Words+" "+e.Typed))
	}
	if p.All {
		return words.And(parts)
	}
	return words.Or(parts)
}

// Said is a phase in a few words, as cards compare them.
func Said(p phase.Phase) string {
	said := string(p.Kind)
	if p.Name != "" {
		said = p.Name
	}
	if p.SetTyped != "" {
		said += " at " + p.SetTyped
	}
	if !p.Bare() {
		said += ", in " + p.Wrap
	}
	if p.SpritzEveryS > 0 {
		said += fmt.Sprintf(", spritzed every %.0f min", p.SpritzEveryS/60)
	}
	return said + ", " + EndsOf(p)
}

// Compare lists in what a version differs from another: what is done, not what came of it.
func Compare(was, is CardBody) []VersionDifference {
	out := []VersionDifference{}
	add := func(what, a, b string) {
		if a != b {
			out = append(out, VersionDifference{what, a, b})
		}
	}
	add("pit", was.Pit, is.Pit)
	add("set-up", was.SetUp, is.SetUp)
	add("fuel", was.Fuel, is.Fuel)
	add("wood", was.Wood, is.Wood)
	n := max(len(was.Steps), len(is.Steps))
	at := func(steps []CardStep, i int) string {
		if i >= len(steps) {
			return ""
		}
		return Said(steps[i].Phase)
	}
	// Phases that are in both, in order, are the same whatever their number.
	if same(was.Steps, is.Steps) {
		n = 0
	}
	for i := range n {
		add(fmt.Sprintf("phase %d", i+1), at(was.Steps, i), at(is.Steps, i))
	}
	names := func(doses []prep.Dose) map[string]string {
		m := map[string]string{}
		for _, d := range doses {
			m[string(d.Kind)+" "+d.Name] = amountOf(d)
		}
		return m
	}
	a, b := names(was.Doses), names(is.Doses)
	for _, key := range keysOf(a, b) {
		add(key, a[key], b[key])
	}
	return out
}

func same(a, b []CardStep) bool {
	return slices.EqualFunc(a, b, func(x, y CardStep) bool { return Said(x.Phase) == Said(y.Phase) })
}

func amountOf(d prep.Dose) string {
	switch {
	case d.Share > 0:
		return fmt.Sprintf("%.2g %% of the weight", 100*d.Share)
	case d.GM2 > 0:
		return fmt.Sprintf("%.0f g a square metre", d.GM2)
	}
	return "as named"
}

func keysOf(maps ...map[string]string) []string {
	var out []string
	for _, m := range maps {
		for k := range m {
			if !slices.Contains(out, k) {
				out = append(out, k)
			}
		}
	}
	slices.Sort(out)
	return out
}
