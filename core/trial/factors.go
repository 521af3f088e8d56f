package trial

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
	Name  string     `json:"name"`
	Kind  FactorKind `json:"kind"`
	Unit  string     `json:"unit"`   // of numeric levels
	SetOn UnitKind   `json:"set_on"` // the smallest thing a level is set on by itself
}

// Context is who it is for, and how much each outcome weighs there.
type Context struct {
	Name    string                 `json:"name"`
	Weights map[OutcomeKey]float64 `json:"weights"` // 0 to 10; none counts as 0
}

// UsualContexts are where a new ask starts: our own weights, for a team to change.
var UsualContexts = []Context{
	{"home table", map[OutcomeKey]float64{Overall: 8, Tenderness: 6, Juiciness: 6, Bark: 4, Flavour: 6, CookTime: 4, HandsOn: 5, NightWork: 6, Cost: 3}},
	{"service line", map[OutcomeKey]float64{Overall: 6, Tenderness: 6, Juiciness: 5, CookedYield: 6, EdibleYield: 8, CookTime: 5, HandsOn: 7, NightWork: 5, Cost: 8, Fuel: 4}},
	{"contest", map[OutcomeKey]float64{Overall: 10, Tenderness: 9, Juiciness: 7, Bark: 8, Flavour: 9}},
}
