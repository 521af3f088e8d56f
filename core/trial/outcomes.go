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
	CookedYield OutcomeKey = "cooked_yield"
	EdibleYield OutcomeKey = "edible_yield"
	CookTime    OutcomeKey = "cook_time"
	HandsOn     OutcomeKey = "hands_on"
	NightWork   OutcomeKey = "night_work"
	Cost        OutcomeKey = "cost"
	Fuel        OutcomeKey = "fuel"
)

// ownPrefix marks the key of a team's own measure.
const ownPrefix = "own "

// OwnKey is the key of an own measure: its name, so that trials that measure
// the same share it.
func OwnKey(name string) OutcomeKey {
	return OutcomeKey(ownPrefix + strings.ToLower(strings.Join(strings.Fields(name), " ")))
}

// OwnMeasure is something a team measures for itself on each cut.
type OwnMeasure struct {
	Name   string  `json:"name"`
	Unit   string  `json:"unit"`
	Better Better  `json:"better"`
	SD     float64 `json:"sd"` // guessed between cuts of one arm
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
}

// SDOfCuts is the usual standard deviation between the values of cuts of one arm, scored by
// so many tasters.
func (d OutcomeDefault) SDOfCuts(tasters int) float64 {
	if d.SDTaster > 0 && tasters > 0 {
		return math.Hypot(d.SDBetweenCuts, d.SDTaster/math.Sqrt(float64(tasters)))
	}
	return d.SDBetweenCuts
}

// Catalogue is the table of outcomes in the order they are shown.
var Catalogue = []OutcomeDefault{
	{Overall, "Overall liking", FromPanel, "1 to 9", Up, 0.5, 0.5, 1.2, "not at all", "could not be better"},
	{Tenderness, "Tenderness", FromPanel, "1 to 9", Up, 0.5, 0.5, 1.2, "tough", "very tender"},
	{Juiciness, "Juiciness", FromPanel, "1 to 9", Up, 0.5, 0.5, 1.2, "dry", "very juicy"},
	{Bark, "Bark or skin", FromPanel, "1 to 9", Up, 0.5, 0.5, 1.2, "soft, wet", "firm, crisp"},
	{Flavour, "Flavour", FromPanel, "1 to 9", Up, 0.5, 0.5, 1.2, "poor", "very good"},
	{Smoke, "Smoke strength", FromPanel, "1 to 9", Description, 0, 0.5, 1.2, "none", "very strong"},
	{Colour, "Colour", FromPanel, "1 to 9", Description, 0, 0.5, 1.2, "pale", "very dark"},
	{CookedYield, "Cooked yield", FromWeighings, "% of trimmed", Up, 2, 2, 0, "", ""},
	{EdibleYield, "Edible yield", FromWeighings, "% of bought", Up, 2, 2.5, 0, "", ""},
	{CookTime, "Cook time", FromClock, "h", Down, 0.75, 0.7, 0, "", ""},
	{HandsOn, "Hands-on time", FromHand, "min", Down, 15, 10, 0, "", ""},
	{NightWork, "Night work, 23 to 06", FromHand, "min", Down, 15, 10, 0, "", ""},
	{Cost, "Cost per edible weight", FromHand, "% of control", Down, 5, 5, 0, "", ""},
	{Fuel, "Fuel and wood", FromHand, "% of control", Down, 10, 8, 0, "", ""},
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
