package trial

import (
	"math"
	"strings"
)

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
	FromHand      OutcomeKind = "hand" // typed for each cut at the weigh-out
)

// Values lists the kinds.
func (OutcomeKind) Values() []string {
	return []string{string(FromPanel), string(FromWeighings), string(FromClock), string(FromHand)}
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
	Colour      OutcomeKey = "colour"
	SmokeRight  OutcomeKey = "smoke_right"
	SaltRight   OutcomeKey = "salt_right"
	MoistRight  OutcomeKey = "moist_right"
	CookedYield OutcomeKey = "cooked_yield"
	EdibleYield OutcomeKey = "edible_yield"
	CookTime    OutcomeKey = "cook_time"
	KnifeTime   OutcomeKey = "knife_time"
	HandsOn     OutcomeKey = "hands_on"
	NightWork   OutcomeKey = "night_work"
	Cost        OutcomeKey = "cost"
	Fuel        OutcomeKey = "fuel"
)

// What marks the key of a team's own measure, and of one that is tasted.
const (
	ownPrefix    = "own "
	tastedPrefix = "own tasted "
)

// Key is the key of an own measure: its name, so that trials that measure the same share
// it. What is tasted is not what is measured under the same name.
func (o OwnMeasure) Key() OutcomeKey {
	prefix := ownPrefix
	if o.Tasted {
		prefix = tastedPrefix
	}
	return OutcomeKey(prefix + strings.ToLower(strings.Join(strings.Fields(o.Name), " ")))
}

// OwnMeasure is something a team measures for itself on each cut.
type OwnMeasure struct {
	Name   string  `json:"name"`
	Unit   string  `json:"unit"`
	Better Better  `json:"better"`
	SD     float64 `json:"sd"`     // guessed between cuts of one arm
	Tasted bool    `json:"tasted"` // scored by the panel on nine points, between these end words
	Low    string  `json:"low"`
	High   string  `json:"high"`
	Look   bool    `json:"look"` // scored with the sample in view, before biting
}

// Chosen is an outcome the trial decides by.
type Chosen struct {
	Key                OutcomeKey  `json:"key"`
	SmallestDifference float64     `json:"smallest_difference"`
	Source             string      `json:"source"` // where that difference comes from
	Exact              bool        `json:"exact"`  // skewed or ranked: judge by sign flips
	Own                *OwnMeasure `json:"own"`    // nil for one of the catalogue
}

// Outcome is the catalogue's row of what was chosen, or the team's own.
func (c Chosen) Outcome() (OutcomeDefault, bool) {
	if o := c.Own; o != nil && o.Tasted {
		return OutcomeDefault{Key: c.Key, Name: o.Name, Kind: FromPanel, Unit: nine, Better: o.Better, SmallestDifference: c.SmallestDifference,
			SDBetweenCuts: o.SD, SDTaster: sdTaster, Low: o.Low, High: o.High, Look: o.Look}, true
	}
	if c.Own != nil {
		return OutcomeDefault{Key: c.Key, Name: c.Own.Name, Kind: FromHand, Unit: c.Own.Unit, Better: c.Own.Better, SmallestDifference: c.SmallestDifference, SDBetweenCuts: c.Own.SD}, true
	}
	return DefaultOf(c.Key)
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
	SDTaster           float64     `json:"sd_taster"`           // of one taster's score of one cut; 0 where none tastes
	Low                string      `json:"low"`                 // words at the ends of a ballot rule
	High               string      `json:"high"`
	Right              bool        `json:"right"` // tasted on a just-about-right scale; its value is how far from just right
	Look               bool        `json:"look"`  // scored with the sample in view, before biting
	More               bool        `json:"more"`  // offered when asked for
	Zero               float64     `json:"zero"`  // what is worth nothing, and
	One                float64     `json:"one"`   // what is worth all, where outcomes are weighed; both 0: by the arms' mean
}

// Worth are the values that are worth 0 and 1 where outcomes are weighed. One of the team's
// own in a unit of its own has four of its smallest differences either side of a middle.
func (d OutcomeDefault) Worth(middle, smallest float64) (zero, one float64) {
	switch {
	case d.Zero != d.One:
		return d.Zero, d.One
	case d.Kind == FromPanel && d.Right:
		return 2, 0
	case d.Kind == FromPanel && d.Better == Down:
		return 6, 2
	case d.Kind == FromPanel:
		return 4, 8
	case d.Better == Down:
		return middle + 4*smallest, middle - 4*smallest
	}
	return middle - 4*smallest, middle + 4*smallest
}

// SDOfCuts is the usual standard deviation between the values of cuts of one arm, scored by
// so many tasters.
func (d OutcomeDefault) SDOfCuts(tasters int) float64 {
	if d.SDTaster > 0 && tasters > 0 {
		return math.Hypot(d.SDBetweenCuts, d.SDTaster/math.Sqrt(float64(tasters)))
	}
	return d.SDBetweenCuts
}

// nine is the unit of a rule of nine cells, five that of a just-about-right scale.
const (
	nine = "1 to 9"
	five = "off just right"
)

// sdTaster is the usual spread of one taster's score of one cut on nine points.
const sdTaster = 1.2

// scored is an outcome of the panel on nine points.
func scored(key OutcomeKey, name string, better Better, low, high string) OutcomeDefault {
	d := OutcomeDefault{Key: key, Name: name, Kind: FromPanel, Unit: nine, Better: better, SmallestDifference: 0.5, SDBetweenCuts: 0.5, SDTaster: sdTaster,
		Low: low, High: high}
	if better == Description {
		d.SmallestDifference = 0
	}
	return d
}

// more marks what is offered when asked for.
func more(d OutcomeDefault) OutcomeDefault {
	d.More = true
	return d
}

// looked marks what is scored before biting.
func looked(d OutcomeDefault) OutcomeDefault {
	d.Look = true
	return d
}

// right is an outcome of a just-about-right scale: less off is better.
func right(key OutcomeKey, name, low, high string) OutcomeDefault {
	return OutcomeDefault{Key: key, Name: name, Kind: FromPanel, Unit: five, Better: Down, SmallestDifference: 0.5, SDBetweenCuts: 0.3, SDTaster: 0.8,
		Low: low, High: high, Right: true, More: true}
}

// measured is an outcome that no panel gives.
func measured(key OutcomeKey, name string, kind OutcomeKind, unit string, better Better, smallest, sd, zero, one float64) OutcomeDefault {
	return OutcomeDefault{Key: key, Name: name, Kind: kind, Unit: unit, Better: better, SmallestDifference: smallest, SDBetweenCuts: sd, Zero: zero, One: one}
}

// Catalogue is the table of outcomes in the order they are shown.
var Catalogue = []OutcomeDefault{
	scored(Overall, "Overall liking", Up, "not at all", "could not be better"),
	scored(Tenderness, "Tenderness", Up, "tough", "very tender"),
	scored(Juiciness, "Juiciness", Up, "dry", "very juicy"),
	scored(Bark, "Bark or skin", Up, "soft, wet", "firm, crisp"),
	scored(Flavour, "Flavour", Up, "poor", "very good"),
	scored(Smoke, "Smoke strength", Description, "none", "very strong"),
	looked(scored(Colour, "Colour", Description, "pale", "very dark")),
	right(SmokeRight, "Smokiness", "not smoky enough", "too smoky"),
	right(SaltRight, "Saltiness", "not salty enough", "too salty"),
	right(MoistRight, "Moistness", "too dry", "too wet"),
	more(scored("bite_through", "Bite through", Up, "pulls away", "clean bite")),
	more(scored("off_the_bone", "Pull off the bone", Up, "clings", "lets go")),
	more(scored("chew", "Chew", Description, "melts", "long chew")),
	more(scored("fat_left", "Fat left", Description, "none", "very much")),
	more(scored("eating_ease", "Eating ease", Up, "hard work", "no work")),
	more(scored("crisp", "Crisp", Up, "soft", "shatters")),
	looked(more(scored("ring_seen", "Smoke ring", Description, "none", "deep"))),
	measured(CookedYield, "Cooked yield", FromWeighings, "% of trimmed", Up, 2, 2, 45, 65),
	measured(EdibleYield, "Edible yield", FromWeighings, "% of bought", Up, 2, 2.5, 35, 60),
	measured(CookTime, "Cook time", FromClock, "h", Down, 0.75, 0.7, 14, 5),
	measured(KnifeTime, "Time, fire to knife", FromClock, "h", Down, 1, 0.8, 30, 5),
	measured(HandsOn, "Hands-on time", FromHand, "min", Down, 15, 10, 180, 20),
	measured(NightWork, "Night work, 23 to 06", FromHand, "min", Down, 15, 10, 120, 0),
	measured(Cost, "Cost per edible weight", FromHand, "% of control", Down, 5, 5, 130, 80),
	measured(Fuel, "Fuel and wood", FromHand, "% of control", Down, 10, 8, 150, 70),
}

// Look is something that is judged by eye, or by a rule, at the weigh-out: kept beside the
// photos, and no outcome by itself.
type Look struct {
	Key  OutcomeKey `json:"key"`
	Name string     `json:"name"`
	Unit string     `json:"unit"`
	Most float64    `json:"most"`
}

// Looks are those of every trial.
var Looks = []Look{
	{"look_bark", "Bark", "1 to 9", 9}, {"look_fat", "Fat, its colour", "1 to 9", 9}, {"look_ring", "Smoke ring", "mm", 50},
	{"look_pull_back", "Bone bare", "mm", 150},
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
