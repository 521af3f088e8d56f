package trial

// Better says which way an outcome improves.
type Better string

// The ways.
const (
	Up          Better = "up"
	Down        Better = "down"
	Description Better = "description" // says how a cut is, not how good
)

// Values lists the ways.
func (Better) Values() []string { return []string{string(Up), string(Down), string(Description)} }

// OutcomeKind says where an outcome's values come from.
type OutcomeKind string

// The kinds.
const (
	FromPanel     OutcomeKind = "panel"
	FromWeighings OutcomeKind = "weighings"
	FromClock     OutcomeKind = "clock"
)

// Values lists the kinds.
func (OutcomeKind) Values() []string {
	return []string{string(FromPanel), string(FromWeighings), string(FromClock)}
}

// OutcomeKey names an outcome in the record.
type OutcomeKey string

// The outcomes a trial can be decided by.
const (
	Overall     OutcomeKey = "overall"
	Tenderness  OutcomeKey = "tenderness"
	Juiciness   OutcomeKey = "juiciness"
	Bark        OutcomeKey = "bark"
	Flavour     OutcomeKey = "flavour"
	Smoke       OutcomeKey = "smoke"
	CookedYield OutcomeKey = "cooked_yield"
	EdibleYield OutcomeKey = "edible_yield"
	CookTime    OutcomeKey = "cook_time"
)

// Values lists the outcomes.
func (OutcomeKey) Values() []string {
	out := make([]string, len(Catalogue))
	for i, d := range Catalogue {
		out[i] = string(d.Key)
	}
	return out
}

// OutcomeDefault is a row of the barn's table of outcomes: our own starting
// values, which a team changes in Ask.
type OutcomeDefault struct {
	Key                OutcomeKey  `json:"key"`
	Name               string      `json:"name"`
	Kind               OutcomeKind `json:"kind"`
	Unit               string      `json:"unit"`
	Better             Better      `json:"better"`
	SmallestDifference float64     `json:"smallest_difference"` // 0 for a description
	SDBetweenCuts      float64     `json:"sd_between_cuts"`     // of one arm
	Low                string      `json:"low"`                 // words at the ends of a ballot rule
	High               string      `json:"high"`
}

// Catalogue is the table of outcomes in the order they are shown.
var Catalogue = []OutcomeDefault{
	{Overall, "Overall liking", FromPanel, "1 to 9", Up, 0.5, 0.5, "not at all", "could not be better"},
	{Tenderness, "Tenderness", FromPanel, "1 to 9", Up, 0.5, 0.5, "tough", "very tender"},
	{Juiciness, "Juiciness", FromPanel, "1 to 9", Up, 0.5, 0.5, "dry", "very juicy"},
	{Bark, "Bark or skin", FromPanel, "1 to 9", Up, 0.5, 0.5, "soft, wet", "firm, crisp"},
	{Flavour, "Flavour", FromPanel, "1 to 9", Up, 0.5, 0.5, "poor", "very good"},
	{Smoke, "Smoke strength", FromPanel, "1 to 9", Description, 0, 0.5, "none", "very strong"},
	{CookedYield, "Cooked yield", FromWeighings, "% of trimmed", Up, 2, 2, "", ""},
	{EdibleYield, "Edible yield", FromWeighings, "% of bought", Up, 2, 2.5, "", ""},
	{CookTime, "Cook time", FromClock, "h", Down, 0.75, 0.7, "", ""},
}

// DefaultOf returns the catalogue's row.
func DefaultOf(k OutcomeKey) (OutcomeDefault, bool) {
	for _, d := range Catalogue {
		if d.Key == k {
			return d, true
		}
	}
	return OutcomeDefault{}, false
}
