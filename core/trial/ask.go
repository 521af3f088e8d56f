// Package trial holds what a trial is: its question, its arms, its cuts and
// the eight steps it goes through.
package trial

import (
	"regexp"
	"slices"
	"strings"

	"whitebarn/core/safety"
	"whitebarn/core/words"
)

// UnitKind is the smallest thing a level of a factor is set on by itself. Cuts
// inside one unit are not replicates for that factor.
type UnitKind string

// The kinds of unit.
const (
	UnitCut       UnitKind = "cut"        // wrap, trim, rub
	UnitPitRun    UnitKind = "pit run"    // temperature, fuel, wood, set-up
	UnitHolderRun UnitKind = "holder run" // hold
	UnitBatch     UnitKind = "batch"      // brine
)

// coarser says whether a unit of this kind holds more than one of the other.
func (u UnitKind) coarser(than UnitKind) bool {
	order := []UnitKind{UnitCut, UnitBatch, UnitHolderRun, UnitPitRun}
	return slices.Index(order, u) > slices.Index(order, than)
}

// Values lists the kinds.
func (UnitKind) Values() []string {
	return []string{string(UnitCut), string(UnitPitRun), string(UnitHolderRun), string(UnitBatch)}
}

// Arm is one way of cooking in a trial.
type Arm struct {
	ID      int64   `json:"id"`
	Tag     string  `json:"tag"`     // the crew's word, 2 to 7 letters
	Levels  []Level `json:"levels"`  // one of each factor, in the factors' order
	Control bool    `json:"control"` // today's practice
}

// Name is what the arm does, in one line.
func (a Arm) Name() string {
	values := make([]string, len(a.Levels))
	for i, l := range a.Levels {
		values[i] = l.Value
	}
	return strings.Join(values, ", ")
}

// Held is something kept equal in every arm.
type Held struct {
	Role  Role   `json:"role"` // what it is to the rules; empty is the team's own
	Name  string `json:"name"`
	Value string `json:"value"`
	Key   string `json:"key"` // of the level it is held at
}

// Ask is the first step: what is asked, what varies and what decides.
type Ask struct {
	Kind      Kind            `json:"kind"`
	Question  string          `json:"question"`
	Product   string          `json:"product"`
	ProductID int64           `json:"product_id"` // of the barn; 0 while it is new
	Family    string          `json:"family"`     // of the cook model: what the product cooks like
	Cut       string          `json:"cut"`
	Species   safety.Species  `json:"species"`
	Handling  safety.Handling `json:"handling"`
	WholeBird bool            `json:"whole_bird"` // read in the breast and in the thigh
	Factors   []Factor        `json:"factors"`
	Arms      []Arm           `json:"arms"`
	Held      []Held          `json:"held"`
	Outcomes  []Chosen        `json:"outcomes"`
	Contexts  []Context       `json:"contexts"`
	Allergens []string        `json:"allergens"` // in any arm; tasters see the union
	Words     []string        `json:"words"`     // that tasters can tick of a sample; none is the usual ones
	Hand      Hand            `json:"hand"`
	Layout    LayoutKey       `json:"layout"` // "" while none is chosen
	FollowsID *int64          `json:"follows_id"`
	WrittenUp bool            `json:"written_up"` // later, from a notebook: never blind, never over leaning

	MeatConfirmed bool   `json:"meat_confirmed"` // a person said outright what meat it is
	MeatWhy       string `json:"meat_why"`       // a pitmaster's reason for what the words of the product do not say
}

// UsualWords are what a taster can tick of a sample, unless the team has its own list.
var UsualWords = []string{"sour", "bitter", "too salty", "greasy"}

// FaultWords are what a taster can tick of a sample.
func (a Ask) FaultWords() []string {
	if len(a.Words) == 0 {
		return UsualWords
	}
	return a.Words
}

// TagOf is the tag of an arm, in order from 0; empty for none.
func (a Ask) TagOf(arm int) string {
	if arm < 0 || arm >= len(a.Arms) {
		return ""
	}
	return a.Arms[arm].Tag
}

// LayoutKey names a layout, as core/design offers them.
type LayoutKey string

// Hand is what is at hand for a trial: what a layout is fitted to.
type Hand struct {
	Blocks    int `json:"blocks"`     // animals, racks or lots whose cuts are alike
	BlockSize int `json:"block_size"` // cuts of each
	Pits      int `json:"pits"`
	Positions int `json:"positions"` // grate positions of one pit
	CookDays  int `json:"cook_days"`
	Tasters   int `json:"tasters"`
	CutCents  int `json:"cut_cents"` // price of one cut in hundredths; 0 is not known
}

// LeastTasters is from how many tasters on a word is said of more than of themselves: Ask says
// so before, and Settle of fewer to whom it is so.
const LeastTasters = 3

// UsualHand is where a new ask starts.
var UsualHand = Hand{Blocks: 6, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 2, Tasters: 5}

// mostLines of anything an ask lists.
const mostLines = 60

// most of anything at hand: past it a number is a slip of the key.
const most = 200

// Within is a hand with every number brought into what can be planned with.
func (h Hand) Within() Hand {
	for _, n := range []*int{&h.Blocks, &h.BlockSize, &h.Pits, &h.Positions, &h.CookDays, &h.Tasters} {
		*n = min(max(*n, 0), most)
	}
	h.CutCents = max(h.CutCents, 0)
	return h
}

// Unit is the coarsest kind of unit among the factors in which two arms differ;
// cuts inside one unit are not replicates for that difference.
func (a Ask) Unit(x, y int) UnitKind {
	unit := UnitCut
	for f, factor := range a.Factors {
		if !factor.Same(a.Arms[x].Levels[f], a.Arms[y].Levels[f]) && factor.SetOn.coarser(unit) {
			unit = factor.SetOn
		}
	}
	return unit
}

// Varied names the factors in which two arms differ, all if they are alike.
func (a Ask) Varied(x, y int) string {
	var names []string
	for f, factor := range a.Factors {
		if !factor.Same(a.Arms[x].Levels[f], a.Arms[y].Levels[f]) {
			names = append(names, factor.Name)
		}
	}
	if len(names) == 0 {
		return a.FactorNames()
	}
	return words.And(names)
}

// FactorNames are all factors in one line.
func (a Ask) FactorNames() string {
	names := make([]string, len(a.Factors))
	for i, f := range a.Factors {
		names[i] = f.Name
	}
	return words.And(names)
}

var tagWord = regexp.MustCompile(`^[A-Z]{2,7}$`)

// MostArms and MostFactors bound a trial: six marks, and what a crew can keep apart.
const (
	MostArms    = 6
	MostFactors = 5
)

// ArmPlaces numbers the arms from 0 by their id.
func (a Ask) ArmPlaces() map[int64]int {
	places := map[int64]int{}
	for i, arm := range a.Arms {
		places[arm.ID] = i
	}
	return places
}

// Tidy trims what people type and leaves no list nil; every arm gets one level
// of each factor.
func (a Ask) Tidy() Ask {
	a.tidyKind()
	for _, p := range []*string{&a.Question, &a.Product, &a.Cut} {
		*p = strings.TrimSpace(*p)
	}
	a.Factors, a.Arms, a.Outcomes = append([]Factor{}, a.Factors...), append([]Arm{}, a.Arms...), append([]Chosen{}, a.Outcomes...)
	for i := range a.Factors {
		f := &a.Factors[i]
		f.Name, f.Unit = strings.TrimSpace(f.Name), strings.TrimSpace(f.Unit)
	}
	for i := range a.Arms {
		arm := &a.Arms[i]
		arm.Tag = strings.ToUpper(strings.TrimSpace(arm.Tag))
		levels := make([]Level, len(a.Factors))
		for f := range min(len(levels), len(arm.Levels)) {
			levels[f] = arm.Levels[f]
			levels[f].Value = strings.TrimSpace(levels[f].Value)
		}
		arm.Levels = levels
	}
	for i := range a.Outcomes {
		o := &a.Outcomes[i]
		o.Source = strings.TrimSpace(o.Source)
		if o.Own != nil {
			own := *o.Own
			own.Name, own.Unit, own.Low, own.High = strings.TrimSpace(own.Name), strings.TrimSpace(own.Unit), strings.TrimSpace(own.Low), strings.TrimSpace(own.High)
			if own.Tasted {
				own.Unit = nine
			}
			o.Own, o.Key = &own, own.Key()
		}
	}
	a.Held = append([]Held{}, a.Held...)
	a.Contexts = append([]Context{}, a.Contexts...)
	for i := range a.Contexts {
		c := &a.Contexts[i]
		c.Name, c.Condition = strings.TrimSpace(c.Name), strings.TrimSpace(c.Condition)
	}
	empty := func(v string) bool { return strings.TrimSpace(v) == "" }
	a.Allergens = slices.DeleteFunc(append([]string{}, a.Allergens...), empty)
	a.Words = slices.DeleteFunc(append([]string{}, a.Words...), empty)
	for i := range a.Words {
		a.Words[i] = strings.ToLower(strings.Join(strings.Fields(a.Words[i]), " "))
	}
	return a
}

// RunOf names the levels of an arm that are set on runs or batches, by which cuts of arms share
// one; empty where all are set on cuts.
func (a Ask) RunOf(arm int) string {
	var parts []string
	for f, factor := range a.Factors {
		if factor.SetOn != UnitCut {
			parts = append(parts, factor.LevelIn(a.Arms[arm].Levels[f]))
		}
	}
	return strings.Join(parts, ", ")
}
