// Package trial holds what a trial is: its question, its arms, its cuts and
// the eight steps it goes through.
package trial

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"whitebarn/core/fault"
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

// LeastTasters is from how many tasters on scores tell anything: Ask says so, and Table keeps it.
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
		a.Contexts[i].Name = strings.TrimSpace(a.Contexts[i].Name)
	}
	empty := func(v string) bool { return strings.TrimSpace(v) == "" }
	a.Allergens = slices.DeleteFunc(append([]string{}, a.Allergens...), empty)
	a.Words = slices.DeleteFunc(append([]string{}, a.Words...), empty)
	for i := range a.Words {
		a.Words[i] = strings.ToLower(strings.Join(strings.Fields(a.Words[i]), " "))
	}
	return a
}

// checker collects what is wrong with an ask.
type checker struct{ fault.List }

func (c *checker) words(field, value, remedy string, most int) {
	switch n := len([]rune(strings.TrimSpace(value))); {
	case n == 0:
		c.Add(field, "nothing is written", remedy)
	case n > most:
		c.Add(field, fmt.Sprintf("%d letters are too many", n), fmt.Sprintf("keep it to %d", most))
	}
}

// Check refuses an Ask that cannot be recorded, with every fault at once. What
// merely weakens a trial is core/design's to say.
func (a Ask) Check() error {
	var wrong checker
	wrong.words("question", a.Question, "ask in one sentence", 140)
	wrong.kind(a)
	for _, l := range []struct {
		field string
		n     int
	}{{"held", len(a.Held)}, {"outcomes", len(a.Outcomes)}, {"contexts", len(a.Contexts)}, {"allergens", len(a.Allergens)}, {"words", len(a.Words)}} {
		if l.n > mostLines {
			wrong.Add(l.field, fmt.Sprintf("%d lines", l.n), fmt.Sprintf("keep it to %d", mostLines))
			return wrong.Err()
		}
	}
	for i, text := range a.Allergens {
		wrong.words(fmt.Sprintf("allergens[%d]", i), text, "name it, or take it out", 60)
	}
	for i, text := range a.Words {
		field := fmt.Sprintf("words[%d]", i)
		wrong.words(field, text, "say it, or take it out", 24)
		if slices.Index(a.Words, text) < i {
			wrong.Add(field, text+" is there twice", "take one out")
		}
	}
	wrong.factors(a.Factors)
	wrong.arms(a)
	for i, h := range a.Held {
		wrong.words(fmt.Sprintf("held[%d].name", i), h.Name, "name what is held equal, or take the line out", 60)
		if len(h.Value) > 200 {
			wrong.Add(fmt.Sprintf("held[%d].value", i), "it is long", "keep it to 200 letters")
		}
	}
	wrong.outcomes(a.Outcomes)
	wrong.contexts(a.Contexts)
	for _, h := range []struct {
		field string
		n     int
	}{{"blocks", a.Hand.Blocks}, {"block_size", a.Hand.BlockSize}, {"pits", a.Hand.Pits}, {"positions", a.Hand.Positions}, {"cook_days", a.Hand.CookDays}, {"tasters", a.Hand.Tasters}} {
		if h.n < 0 || h.n > most {
			wrong.Add("hand."+h.field, fmt.Sprintf("%d is not a number to plan with", h.n), fmt.Sprintf("give 0 to %d", most))
		}
	}
	if a.Hand.CutCents < 0 || a.Hand.CutCents > 10_000_00 {
		wrong.Add("hand.cut_cents", fmt.Sprintf("%.2f is not the price of a cut", float64(a.Hand.CutCents)/100), "give 0 to 10000")
	}
	return wrong.Err()
}

// CheckFactors refuses factors that cannot be recorded.
func CheckFactors(factors []Factor) error {
	var wrong checker
	wrong.factors(factors)
	return wrong.Err()
}

func (c *checker) factors(factors []Factor) {
	if n := len(factors); n == 0 || n > MostFactors {
		c.Add("factors", fmt.Sprintf("%d factors", n), fmt.Sprintf("vary one thing, or up to %d", MostFactors))
	}
	names := map[string]bool{}
	for i, f := range factors {
		field := fmt.Sprintf("factors[%d]", i)
		c.words(field+".name", f.Name, "say what changes between the arms", 60)
		name := strings.ToLower(f.Name)
		if name != "" && names[name] {
			c.Add(field+".name", f.Name+" is there twice", "take one out")
		}
		names[name] = true
		if !slices.Contains(FactorKind("").Values(), string(f.Kind)) {
			c.Add(field+".kind", fmt.Sprintf("%q is not a kind of factor", f.Kind), "choose categorical, ordered or numeric")
		}
		if !slices.Contains(UnitKind("").Values(), string(f.SetOn)) {
			c.Add(field+".set_on", fmt.Sprintf("%q is not a unit", f.SetOn), "choose cut, pit run, holder run or batch")
		}
		if f.Kind == Numeric && f.Unit == "" {
			c.Add(field+".unit", f.Name+" is counted in no unit", "give one, for instance F, h or lb")
		}
	}
}

func (c *checker) arms(a Ask) {
	if n := len(a.Arms); n == 0 || n > MostArms {
		c.Add("arms", words.Plural(n, "arm"), fmt.Sprintf("give one to %d", MostArms))
	}
	tags := map[string]bool{}
	controls := 0
	for i, arm := range a.Arms {
		field := fmt.Sprintf("arms[%d]", i)
		if !tagWord.MatchString(arm.Tag) {
			c.Add(field+".tag", fmt.Sprintf("%q is not a tag word", arm.Tag), "use 2 to 7 capital letters, for instance PAPER")
		}
		if arm.Tag != "" && tags[arm.Tag] {
			c.Add(field+".tag", fmt.Sprintf("%s is there twice", arm.Tag), "give each arm its own tag")
		}
		tags[arm.Tag] = true
		if arm.Control {
			controls++
		}
		if len(arm.Levels) != len(a.Factors) {
			c.Add(field+".levels", fmt.Sprintf("%d levels of %d factors", len(arm.Levels), len(a.Factors)), "give one of each")
			continue
		}
		for f, level := range arm.Levels {
			at := fmt.Sprintf("%s.levels[%d]", field, f)
			c.words(at+".value", level.Value, fmt.Sprintf("say what %s is in this arm", orWord(a.Factors[f].Name, "it")), 80)
			if _, err := strconv.ParseFloat(level.Value, 64); a.Factors[f].Kind == Numeric && level.Value != "" && err != nil {
				c.Add(at+".value", fmt.Sprintf("%q is not a number", level.Value), fmt.Sprintf("give %s in %s, or make it a factor in words", a.Factors[f].Name, orWord(a.Factors[f].Unit, "its unit")))
			}
		}
	}
	if controls > 1 {
		c.Add("arms", fmt.Sprintf("%d arms are today's practice", controls), "mark one")
	}
}

func orWord(s, other string) string {
	if s == "" {
		return other
	}
	return s
}

func (c *checker) outcomes(outcomes []Chosen) {
	seen := map[OutcomeKey]bool{}
	for i, o := range outcomes {
		field := fmt.Sprintf("outcomes[%d]", i)
		d, known := o.Outcome()
		if o.Own != nil {
			c.words(field+".own.name", o.Own.Name, "name what is measured", 40)
			if o.Own.Tasted {
				c.words(field+".own.low", o.Own.Low, "say what 1 stands for", 24)
				c.words(field+".own.high", o.Own.High, "say what 9 stands for", 24)
			} else {
				c.words(field+".own.unit", o.Own.Unit, "say in what, for instance mm or count", 20)
			}
			if o.Own.Better != Up && o.Own.Better != Down && !(o.Own.Tasted && o.Own.Better == Description) {
				c.Add(field+".own.better", "it is not said which way is better", "choose up or down")
			}
			if !(o.Own.SD > 0 && o.Own.SD < 1e6) {
				c.Add(field+".own.sd", fmt.Sprintf("%v is not a spread", o.Own.SD), "guess how far two cuts of one arm usually lie apart")
			}
		}
		switch {
		case !known:
			c.Add(field+".key", fmt.Sprintf("%q is not an outcome", o.Key), "choose one of the list")
		case seen[o.Key]:
			c.Add(field+".key", d.Name+" is there twice", "take one out")
		case d.Better != Description && !(o.SmallestDifference > 0 && o.SmallestDifference < 1e6):
			c.Add(field+".smallest_difference", fmt.Sprintf("%s: %v is not a difference", d.Name, o.SmallestDifference), "give the smallest difference that would matter, more than zero")
		}
		seen[o.Key] = true
	}
}

func (c *checker) contexts(contexts []Context) {
	names := map[string]bool{}
	for i, x := range contexts {
		field := fmt.Sprintf("contexts[%d]", i)
		c.words(field+".name", x.Name, "say who it is for, for instance home table", 40)
		if name := strings.ToLower(x.Name); name != "" && names[name] {
			c.Add(field+".name", x.Name+" is there twice", "take one out")
		}
		names[strings.ToLower(x.Name)] = true
		for key, w := range x.Weights {
			if !(w >= 0 && w <= 10) {
				c.Add(field+".weights", fmt.Sprintf("%s: %v is not a weight", key, w), "give 0 (does not count) to 10")
			}
		}
	}
}
