package trial

import (
	"fmt"
	"strings"
)

// FactorKind says what the levels of a factor are.
type FactorKind string

// The kinds of factor.
const (
	Categorical FactorKind = "categorical"
	Ordered     FactorKind = "ordered" // in words that have an order: none, single, double
	Numeric     FactorKind = "numeric" // numbers of one unit
)

// Values lists the kinds.
func (FactorKind) Values() []string {
	return []string{string(Categorical), string(Ordered), string(Numeric)}
}

// Factor is one thing that is varied.
type Factor struct {
	ID    int64      `json:"id"`   // in the catalogue; 0 while it is new
	Role  Role       `json:"role"` // what it is to the rules; empty is the team's own
	Name  string     `json:"name"`
	Kind  FactorKind `json:"kind"`
	Unit  string     `json:"unit"`   // of numeric levels
	SetOn UnitKind   `json:"set_on"` // the smallest thing a level is set on by itself
}

// Fahrenheit is the unit of a numeric factor that is a temperature in F.
const Fahrenheit = "F"

// Same says whether two levels of the factor are one: by their number, by their
// rows of the catalogue, or, while they are new, by their words.
func (f Factor) Same(l, m Level) bool { return f.LevelIn(l) == f.LevelIn(m) }

// LevelIn names a level among those of its factor, so that 60 and 60.0, Paper and
// paper are one; empty while nothing is written.
func (f Factor) LevelIn(l Level) string {
	value := strings.ToLower(strings.TrimSpace(l.Value))
	switch {
	case value == "":
	case f.Kind == Numeric:
		if strings.Contains(value, ".") {
			value = strings.TrimRight(strings.TrimRight(value, "0"), ".")
		}
	case l.ID != 0:
		return fmt.Sprintf("#%d", l.ID)
	}
	return value
}

// Context is who it is for, and how much each outcome weighs there.
type Context struct {
	Name      string                 `json:"name"`
	Weights   map[OutcomeKey]float64 `json:"weights"`   // 0 to 10; none counts as 0
	Condition string                 `json:"condition"` // when it is so: a wet evening; empty is always
}

// UsualContexts are where a new ask starts: our own weights, for a team to change.
var UsualContexts = []Context{
	{Name: "home table", Weights: map[OutcomeKey]float64{Overall: 8, Tenderness: 6, Juiciness: 6, Bark: 4, Flavour: 6, CookTime: 4,
		HandsOn: 5, NightWork: 6, Cost: 3}},
	{Name: "service line", Weights: map[OutcomeKey]float64{Overall: 6, Tenderness: 6, Juiciness: 5, CookedYield: 6, EdibleYield: 8,
		CookTime: 5, HandsOn: 7, NightWork: 5, Cost: 8, Fuel: 4}},
	{Name: "contest", Weights: map[OutcomeKey]float64{Overall: 10, Tenderness: 9, Juiciness: 7, Bark: 8, Flavour: 9}},
}
