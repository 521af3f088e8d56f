package panel

import (
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/words"
)

// Format is what a flight asks of its tasters.
type Format string

// The formats.
const (
	ByScores     Format = "scores"     // every sample on every rule
	ByRanks      Format = "ranking"    // the plate from best to worst, ties allowed
	ByPreference Format = "preference" // which of two, or none
	ByTriangle   Format = "triangle"   // which of three is the odd one
	ByDuoTrio    Format = "duo_trio"   // which of two is the first one again
)

// Values lists the formats.
func (Format) Values() []string {
	return []string{string(ByScores), string(ByRanks), string(ByPreference), string(ByTriangle), string(ByDuoTrio)}
}

// FormatRule is a format in words, and how many pieces a flight of it takes.
type FormatRule struct {
	Format Format `json:"format"`
	Name   string `json:"name"`
	Asks   string `json:"asks"`  // what it asks a taster
	Tells  string `json:"tells"` // what it is good for
	Least  int    `json:"least"` // pieces
	Most   int    `json:"most"`
	Plate  int    `json:"plate"` // the most samples on a plate
	Whole  bool   `json:"whole"` // the plate is answered as one
}

// The most samples of a plate: more tire a tongue; a taster who is alone with their own
// repeats takes a pause in the middle.
const (
	MostSamples = 6
	MostRepeats = 8
)

// Formats are the formats, the usual one first.
var Formats = []FormatRule{
	{ByScores, "Scores", "How is each sample?", "how much better, and on what", 2, 2 * MostSamples, MostSamples, false},
	{ByRanks, "Ranking", "Put the samples in order, the best first. Two may stand level.", "which is liked best, with little practice", 2, MostSamples, MostSamples, true},
	{ByPreference, "Preference", "Which of the two do you like better?", "which of two is liked better, with many tasters", 2, 2, 2, true},
	{ByTriangle, "Triangle", "Two of the three are the same. Which is the odd one?", "whether two can be told apart at all", 2, 2, 3, true},
	{ByDuoTrio, "Duo-trio", "Which of the two is the same as the first?", "whether two can be told apart, where one is well known", 2, 2, 3, true},
}

// Rule is the rule of a format.
func (f Format) Rule() (FormatRule, bool) {
	i := slices.IndexFunc(Formats, func(r FormatRule) bool { return r.Format == f })
	if i < 0 {
		return FormatRule{}, false
	}
	return Formats[i], true
}

// Method is the test a format with a right answer is read by.
func (f Format) Method() (m Method, ok bool) {
	switch f {
	case ByTriangle:
		return Triangle, true
	case ByDuoTrio:
		return DuoTrio, true
	}
	return "", false
}

// Scale is what a sample is scored on.
type Scale string

// The scales.
const (
	Nine  Scale = "nine"  // 1 to 9
	Right Scale = "right" // just about right: 1 much too little, 3 just right, 5 much too much
)

// Values lists the scales.
func (Scale) Values() []string { return []string{string(Nine), string(Right)} }

// Most is the highest cell of a scale; the lowest is 1.
func (s Scale) Most() int {
	if s == Right {
		return 5
	}
	return 9
}

// JustRight is the cell of a just-about-right scale that nothing is wrong with.
const JustRight = 3

// Attribute is a rule of cells on the ballot.
type Attribute struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Low   string `json:"low"`
	High  string `json:"high"`
	Scale Scale  `json:"scale"`
	Most  int    `json:"most"` // cells
	Look  bool   `json:"look"` // scored with the sample in view, before biting
}

// Sheet is a ballot before it is filled in: the one definition of what a taster is asked, for
// the phone, for paper, and for what may be sealed.
type Sheet struct {
	Format     Format      `json:"format"`
	Asks       string      `json:"asks"`
	Attributes []Attribute `json:"attributes"` // of each sample, looks first; none where the plate is answered as one
	Faults     []string    `json:"faults"`     // that may be ticked of a sample
	Choice     bool        `json:"choice"`     // at the end: which would you serve, and why
	SecondLook bool        `json:"second_look"`
	Bites      int         `json:"bites"`
	WaterS     int         `json:"water_s"` // between two samples
}

// Whole says whether the plate is answered as one.
func (s Sheet) Whole() bool {
	r, _ := s.Format.Rule()
	return r.Whole
}

// EndedByTaster says whether a ballot ends with a word of its taster, once all is sealed: an
// answer about the plate, or that no second look is wanted.
func (s Sheet) EndedByTaster() bool { return s.Whole() || s.Choice || s.SecondLook }

// InOrder puts what is looked at before what is bitten, and the whole at the end.
func InOrder(attributes []Attribute, overall string) []Attribute {
	rank := func(a Attribute) int {
		switch {
		case a.Look:
			return 0
		case a.Key == overall:
			return 2
		}
		return 1
	}
	out := slices.Clone(attributes)
	slices.SortStableFunc(out, func(a, b Attribute) int { return rank(a) - rank(b) })
	return out
}

// Marks are what one sample is given: a score for each attribute and ticked faults; or it is
// left out.
type Marks struct {
	Scores  map[string]int
	Faults  []string
	Excused bool
}

// CheckMarks refuses what the sheet does not ask, or lacks.
func (s Sheet) CheckMarks(m Marks) error {
	var wrong fault.List
	if m.Excused && len(m.Scores) > 0 {
		wrong.Add("scores", "an excused sample has scores", "send either")
	}
	known := map[string]bool{}
	for _, a := range s.Attributes {
		known[a.Key] = true
		value, given := m.Scores[a.Key]
		remedy := fmt.Sprintf("tap a number from 1 to %d", a.Most)
		switch {
		case !given && !m.Excused:
			wrong.Add("scores."+a.Key, a.Name+" is unanswered", remedy)
		case given && (value < 1 || value > a.Most):
			wrong.Add("scores."+a.Key, fmt.Sprintf("%d is not on the rule", value), remedy)
		}
	}
	for key := range m.Scores {
		if !known[key] {
			wrong.Add("scores."+key, "that is not asked", "leave it out")
		}
	}
	for _, f := range m.Faults {
		if !slices.Contains(s.Faults, f) {
			wrong.Add("faults", fmt.Sprintf("%q is not on the list", f), "tick one of the list")
		}
	}
	return wrong.Err()
}

// Answer is what a taster says of a whole plate: ranks by code, or one code, or that none
// is preferred.
type Answer struct {
	Ranks  map[string]int `json:"ranks"` // 1 is best; equal numbers stand level
	Picked string         `json:"picked"`
	None   bool           `json:"none"`
	Reason string         `json:"reason"`
}

// MostReason is how long a reason may be, in bytes.
const MostReason = 300

// CheckAnswer refuses an answer that the sheet does not ask, or that leaves it open: codes
// are those of the plate that are still to be judged, in its order.
func (s Sheet) CheckAnswer(codes []string, a Answer) error {
	var wrong fault.List
	if len(a.Reason) > MostReason {
		wrong.Add("reason", fmt.Sprintf("it is %d letters long", len(a.Reason)), fmt.Sprintf("keep to %d", MostReason))
	}
	if s.Format == ByRanks {
		checkRanks(&wrong, codes, a)
		return wrong.Err()
	}
	if len(a.Ranks) > 0 {
		wrong.Add("ranks", "this flight asks for no ranks", "leave them out")
	}
	if s.Format == ByScores && !s.Choice {
		if a.Picked != "" || a.None {
			wrong.Add("picked", "this flight asks for no choice", "leave it out")
		}
		return wrong.Err()
	}
	choices := codes
	if s.Format == ByDuoTrio && len(codes) > 0 {
		choices = codes[1:] // the first is what they are compared with
	}
	switch {
	case a.None && s.Format != ByPreference:
		wrong.Add("none", "one has to be picked", "guess if you cannot tell: that is part of the test")
	case a.None && a.Picked != "":
		wrong.Add("picked", "none is preferred, and "+a.Picked+" is picked", "send either")
	case !a.None && !slices.Contains(choices, a.Picked):
		wrong.Add("picked", fmt.Sprintf("%q is not one of them", a.Picked), "pick one of "+words.And(choices))
	case s.Format == ByScores && strings.TrimSpace(a.Reason) == "":
		wrong.Add("reason", "no reason is given", "say in a few words why you would serve "+a.Picked)
	}
	return wrong.Err()
}

func checkRanks(wrong *fault.List, codes []string, a Answer) {
	for _, code := range codes {
		rank, ok := a.Ranks[code]
		switch {
		case !ok:
			wrong.Add("ranks."+code, code+" has no rank", fmt.Sprintf("give it 1 to %d", len(codes)))
		case rank < 1 || rank > len(codes):
			wrong.Add("ranks."+code, fmt.Sprintf("%d is no rank of %d samples", rank, len(codes)), fmt.Sprintf("give it 1 to %d", len(codes)))
		}
	}
	for code := range a.Ranks {
		if !slices.Contains(codes, code) {
			wrong.Add("ranks."+code, code+" is not on this plate", "leave it out")
		}
	}
	if a.Picked != "" || a.None {
		wrong.Add("picked", "a ranking picks none", "send the ranks alone")
	}
}
