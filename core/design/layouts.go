package design

import (
	"fmt"
	"strings"

	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// The layouts a trial can have.
const (
	Halves     trial.LayoutKey = "halves"     // each cut divided, a half to each arm
	Pairs      trial.LayoutKey = "pairs"      // left and right of one animal
	Blocks     trial.LayoutKey = "blocks"     // every arm once in each animal, rack or lot
	Incomplete trial.LayoutKey = "incomplete" // more arms than a block has pieces
	Crossed    trial.LayoutKey = "crossed"    // 2x2 and 2^k: every combination
	Half       trial.LayoutKey = "half"       // half of the combinations
	Crossover  trial.LayoutKey = "crossover"  // pits change arms from day to day
	Latin      trial.LayoutKey = "latin"      // each arm once in each place
)

// Offer is a layout fitted to what is at hand.
type Offer struct {
	Key       trial.LayoutKey `json:"key"`
	Name      string          `json:"name"`
	Arms      int             `json:"arms"`
	Blocks    int             `json:"blocks"`
	Cuts      int             `json:"cuts"`       // whole cuts to buy
	Cooks     int             `json:"cooks"`      // at least
	CostCents int             `json:"cost_cents"` // of the meat; 0 is not known
	Units     int             `json:"units"`      // an arm, of the factors' coarsest unit
	Tells     []string        `json:"tells"`
	Cannot    []string        `json:"cannot"`
	Fits      bool            `json:"fits"`
	Lacks     string          `json:"lacks"`  // what is missing at hand
	Scheme    []string        `json:"scheme"` // how arms meet, a line for each block or cook
	Ask       trial.Ask       `json:"ask"`    // the ask laid out so
}

// Offers are the layouts that could answer the ask, those that fit first.
func Offers(a trial.Ask) []Offer {
	if len(a.Arms) == 0 || len(a.Factors) == 0 {
		return []Offer{}
	}
	var out []Offer
	v, h := len(a.Arms), a.Hand
	if v == 2 && setOn(a, trial.UnitCut) {
		out = append(out, a2(a, Halves))
	}
	if v == 2 {
		out = append(out, a2(a, Pairs))
	}
	if v > 2 && h.BlockSize >= v {
		out = append(out, inBlocks(a))
	}
	if v > 2 && h.BlockSize >= 2 && h.BlockSize < v {
		out = append(out, incomplete(a))
	}
	if v > 1 && variedFactors(a) > 1 {
		out = append(out, crossedOffer(a))
		if half, ok := HalfFraction(a); ok {
			out = append(out, halfOffer(half))
		}
	}
	if v > 1 && setOn(a, trial.UnitPitRun) {
		out = append(out, crossover(a))
	}
	if v > 1 && v <= h.Positions {
		out = append(out, latin(a))
	}
	fit, not := []Offer{}, []Offer{}
	for _, o := range out {
		o.finish()
		if o.Fits {
			fit = append(fit, o)
		} else {
			not = append(not, o)
		}
	}
	return append(fit, not...)
}

// variedFactors counts the factors that have more than one level.
func variedFactors(a trial.Ask) int {
	n := 0
	for f := range a.Factors {
		if len(levels(a, f)) > 1 {
			n++
		}
	}
	return n
}

// SetOnPits says whether the arms differ in something that is set on a whole pit run.
func SetOnPits(a trial.Ask) bool { return setOn(a, trial.UnitPitRun) }

// setOn says whether a factor that varies is set on such a unit.
func setOn(a trial.Ask, kind trial.UnitKind) bool {
	for f, factor := range a.Factors {
		if factor.SetOn == kind && len(levels(a, f)) > 1 {
			return true
		}
	}
	return false
}

// offer starts one from the ask as it would be.
func offer(a trial.Ask, key trial.LayoutKey, name string) Offer {
	a = clone(a)
	a.Layout = key
	return Offer{Key: key, Name: name, Arms: len(a.Arms), Ask: a}
}

// mostInFlight is how many samples a taster can keep apart at once.
const mostInFlight = 6

// finish fills in what follows from the arms and the hand.
func (o *Offer) finish() {
	p := PlannedUnits(o.Ask)
	o.Units = p.Coarsest
	if o.Cuts == 0 {
		o.Cuts = p.Cuts
	}
	if o.Blocks == 0 {
		o.Blocks = o.Ask.Hand.Blocks
	}
	o.Cooks = max(o.Cooks, p.Cooks)
	o.CostCents = o.Cuts * o.Ask.Hand.CutCents
	if o.Lacks == "" && o.Cooks > o.Ask.Hand.CookDays {
		o.Lacks = fmt.Sprintf("%s needed, %d at hand", words.Plural(o.Cooks, "cook day"), o.Ask.Hand.CookDays)
	}
	o.Fits = o.Lacks == ""
	for f, factor := range o.Ask.Factors {
		if n := len(levels(o.Ask, f)); n > 1 {
			o.Tells = append(o.Tells, fmt.Sprintf("%s, each level on %s", factor.Name, words.Plural(p.PerLevel[f], string(factor.SetOn))))
		}
	}
	if t := o.Ask.Hand.Tasters; t > 0 && p.Pieces > 0 {
		flights := (p.Pieces + mostInFlight - 1) / mostInFlight
		o.Tells = append(o.Tells, fmt.Sprintf("%s tasting %s in %s", words.Plural(t, "taster"), words.Plural(p.Pieces, "sample"), words.Plural(flights, "flight")))
	}
	if o.Key == Crossed && o.Fits {
		o.Tells = append(o.Tells, "whether "+o.Ask.FactorNames()+" act together")
	}
	if o.Key != Crossed { // every combination leaves nothing to be told from another
		o.Cannot = append(o.Cannot, aliasSentences(o.Ask)...)
	}
	if o.Scheme == nil {
		o.Scheme = []string{}
	}
	if o.Cannot == nil {
		o.Cannot = []string{}
	}
	if o.Tells == nil {
		o.Tells = []string{}
	}
}

func a2(a trial.Ask, key trial.LayoutKey) Offer {
	if key == Halves {
		o := offer(a, key, "Halves of one cut")
		o.Ask.Hand.BlockSize = 1
		o.Cannot = []string{"how long a whole cut takes: halves cook faster"}
		o.Lacks = atLeast(o.Ask.Hand.Blocks, 2, "cut")
		return o
	}
	o := offer(a, key, "Left and right pairs")
	if o.Ask.Hand.BlockSize < 2 {
		o.Lacks = "two alike cuts of one animal or rack needed, one at hand"
	}
	if o.Lacks == "" {
		o.Lacks = atLeast(o.Ask.Hand.Blocks, 2, "pair")
	}
	return o
}

// atLeast says what is lacking of something counted.
func atLeast(have, need int, what string) string {
	if have >= need {
		return ""
	}
	return fmt.Sprintf("%s needed, %d at hand", words.Plural(need, what), have)
}

func inBlocks(a trial.Ask) Offer {
	o := offer(a, Blocks, fmt.Sprintf("Blocks of %d, each arm once", len(a.Arms)))
	o.Ask.Hand.BlockSize = len(a.Arms)
	o.Lacks = atLeast(a.Hand.Blocks, 2, "block")
	return o
}

func incomplete(a trial.Ask) Offer {
	v, k := len(a.Arms), a.Hand.BlockSize
	o := offer(a, Incomplete, fmt.Sprintf("%d arms over blocks of %d", v, k))
	base := IncompleteBlocks(v, k)
	if base == nil {
		o.Lacks = "no balanced plan is known"
		return o
	}
	repeats := a.Hand.Blocks / len(base)
	o.Blocks = max(repeats, 1) * len(base)
	o.Lacks = atLeast(a.Hand.Blocks, len(base), "block")
	o.Ask.Hand.Blocks = o.Blocks
	o.Cuts = o.Blocks * k
	for _, block := range base {
		var tags []string
		for _, arm := range block {
			tags = append(tags, a.Arms[arm].Tag)
		}
		line := strings.Join(tags, " and ")
		if repeats > 1 {
			line += fmt.Sprintf(", %d times", repeats)
		}
		o.Scheme = append(o.Scheme, line)
	}
	return o
}

func crossedOffer(a trial.Ask) Offer {
	crossed, n, ok := Cross(a)
	name := "Every combination"
	if twos := twoLevel(a); twos {
		name = strings.TrimSuffix(strings.Repeat("2x", len(a.Factors)), "x")
	}
	o := offer(crossed, Crossed, name)
	o.Arms = n
	switch {
	case !ok:
		o.Lacks = fmt.Sprintf("%d arms needed, six are the most of a trial", n)
	default:
		o.Ask = blockFor(o.Ask)
		o.Lacks = atLeast(o.Ask.Hand.Blocks*max(1, o.Ask.Hand.BlockSize), 2*n, "cut")
	}
	return o
}

func halfOffer(half trial.Ask) Offer {
	o := offer(half, Half, "Half of the combinations")
	o.Ask = blockFor(o.Ask)
	o.Lacks = atLeast(o.Ask.Hand.Blocks*max(1, o.Ask.Hand.BlockSize), 2*len(half.Arms), "cut")
	return o
}

func twoLevel(a trial.Ask) bool {
	for f := range a.Factors {
		if len(levels(a, f)) != 2 {
			return false
		}
	}
	return true
}

// blockFor cuts blocks to the arms where they are larger.
func blockFor(a trial.Ask) trial.Ask {
	if a.Hand.BlockSize > len(a.Arms) {
		a.Hand.BlockSize = len(a.Arms)
	}
	return a
}

func crossover(a trial.Ask) Offer {
	n := 1 // combinations of what is set on pits: each needs a pit of a day
	for f, factor := range a.Factors {
		if factor.SetOn == trial.UnitPitRun {
			n *= len(levels(a, f))
		}
	}
	o := offer(a, Crossover, "Pits that change arms by the day")
	o.Cooks = n * max(1, a.Hand.CookDays/n)
	o.Lacks = atLeast(a.Hand.Pits, n, "pit")
	if o.Lacks == "" {
		o.Lacks = atLeast(a.Hand.CookDays, n, "cook day")
	}
	if o.Lacks == "" {
		for day := range n {
			var line []string
			for pit := range n {
				line = append(line, fmt.Sprintf("pit %d: %s", pit+1, armLabel(a, (pit+day)%n)))
			}
			o.Scheme = append(o.Scheme, fmt.Sprintf("day %d: %s", day+1, strings.Join(line, ", ")))
		}
	}
	return o
}

// armLabel names the nth combination of what is set on pits by the arms in it.
func armLabel(a trial.Ask, n int) string {
	var keys []string
	tags := map[string][]string{}
	for _, arm := range a.Arms {
		k := pitKey(a, arm)
		if tags[k] == nil {
			keys = append(keys, k)
		}
		tags[k] = append(tags[k], arm.Tag)
	}
	if n >= len(keys) {
		return "-"
	}
	return strings.Join(tags[keys[n]], "+")
}

// pitKey is an arm's combination of what is set on pits.
func pitKey(a trial.Ask, arm trial.Arm) string {
	var k []string
	for f, factor := range a.Factors {
		if factor.SetOn == trial.UnitPitRun {
			k = append(k, factor.LevelIn(arm.Levels[f]))
		}
	}
	return strings.Join(k, "\x00")
}

func latin(a trial.Ask) Offer {
	v := len(a.Arms)
	o := offer(a, Latin, fmt.Sprintf("Each arm once in each of %d places", v))
	o.Cooks = v
	o.Lacks = atLeast(a.Hand.CookDays, v, "cook day")
	for cook := range v {
		var line []string
		for place := range v {
			line = append(line, fmt.Sprintf("%s: %s", PositionName(place, 0), a.Arms[(place+cook)%v].Tag))
		}
		o.Scheme = append(o.Scheme, fmt.Sprintf("cook %d: %s", cook+1, strings.Join(line, ", ")))
	}
	return o
}

// Planned is how many units a layout gives.
type Planned struct {
	Cuts     int   // whole cuts
	Pieces   int   // what is cooked
	Cooks    int   // at least
	PerArm   int   // cuts an arm
	PerLevel []int // units a level, by factor
	Coarsest int   // units an arm of the coarsest kind varied
}

// PlannedUnits counts what the hand and the layout give.
func PlannedUnits(a trial.Ask) Planned {
	h, v := a.Hand, max(1, len(a.Arms))
	p := Planned{Cuts: h.Blocks * max(1, h.BlockSize)}
	p.Pieces = p.Cuts
	if a.Layout == Halves {
		p.Pieces = 2 * h.Blocks
	} else if h.BlockSize > v { // of a larger block each arm gets the same share
		p.Cuts = h.Blocks * (h.BlockSize / v * v)
		p.Pieces = p.Cuts
	}
	p.PerArm = p.Pieces / v
	if room := h.Pits * h.Positions; room > 0 {
		p.Cooks = (p.Pieces + room - 1) / room
	}
	p.Coarsest = p.PerArm
	for f, factor := range a.Factors {
		n := max(1, len(levels(a, f)))
		units := p.Pieces / n
		switch factor.SetOn {
		case trial.UnitPitRun:
			units = h.CookDays * h.Pits / n
		case trial.UnitHolderRun, trial.UnitBatch:
			units = h.CookDays
		}
		p.PerLevel = append(p.PerLevel, units)
		p.Coarsest = min(p.Coarsest, units)
	}
	return p
}
