package yield

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// Stage is a point in the life of a cut at which it is weighed.
type Stage string

// The stages of a cut, in order.
const (
	Bought  Stage = "bought"
	Trimmed Stage = "trimmed"
	Prepped Stage = "prepped" // after brine, injection and rub
	Off     Stage = "off"     // off the pit
	Rested  Stage = "rested"  // after rest or hold
	Edible  Stage = "edible"  // bones and discards out

	// What came off between bought and trimmed.
	TrimKept   Stage = "trim kept"
	TrimThrown Stage = "trim thrown"
)

// Stages lists the stages in order.
var Stages = []Stage{Bought, Trimmed, Prepped, Off, Rested, Edible}

// Values lists the stages, and the trims.
func (Stage) Values() []string {
	names := make([]string, len(Stages), len(Stages)+2)
	for i, s := range Stages {
		names[i] = string(s)
	}
	return append(names, string(TrimKept), string(TrimThrown))
}

// Weighing is a weight on a tared scale at a stage.
type Weighing struct {
	Stage        Stage
	Kg           float64
	ResolutionKg float64
}

// Account is what the weighings of one cut tell; a share is nil while one of
// its two weights was never taken.
type Account struct {
	TrimShare         *Measure `json:"trim_share"`          // (bought - trimmed) / bought
	PickUp            *Measure `json:"pick_up"`             // (prepped - trimmed) / trimmed
	CookLoss          *Measure `json:"cook_loss"`           // 1 - off / trimmed
	CookLossOfPrepped *Measure `json:"cook_loss_prepped"`   // 1 - off / prepped
	HoldLoss          *Measure `json:"hold_loss"`           // 1 - rested / off
	TotalLoss         *Measure `json:"total_loss"`          // 1 - rested / trimmed
	CookedYield       *Measure `json:"cooked_yield"`        // off / trimmed
	CookedYieldRested *Measure `json:"cooked_yield_rested"` // rested / trimmed
	EdibleYield       *Measure `json:"edible_yield"`        // edible / bought
}

// Settle computes the account of one cut from its weighings, at most one a stage.
func Settle(weighings []Weighing) Account { return SettleParts(nil, [][]Weighing{weighings}) }

// SettleParts adds the parts of a divided cut up again: a share is total out
// over total in, over the parts that were weighed at both stages. Where no part
// was weighed going in, the whole was, before it was divided; then every part
// has to be weighed coming out.
func SettleParts(whole []Weighing, parts [][]Weighing) Account {
	ratio := func(out, in Stage) *Measure {
		var o, i, uo, ui float64
		both, outs := 0, 0
		for _, p := range parts {
			wo, okOut := stageOf(p, out)
			wi, okIn := stageOf(p, in)
			if okOut {
				outs++
			}
			if okOut && (okIn || whole != nil) {
				o, uo = o+wo.Kg, math.Hypot(uo, Uncertainty(wo.ResolutionKg))
			}
			if okOut && okIn {
				both++
				i, ui = i+wi.Kg, math.Hypot(ui, Uncertainty(wi.ResolutionKg))
			}
		}
		if w, ok := stageOf(whole, in); ok && both == 0 && outs == len(parts) {
			i, ui, both = w.Kg, Uncertainty(w.ResolutionKg), 1
		} else if whole != nil && both < outs {
			return nil // some parts lack what went in, and the whole cannot stand for them
		}
		if both == 0 || i <= 0 {
			return nil
		}
		m := Ratio(o, i, uo, ui)
		return &m
	}
	loss := func(m *Measure) *Measure {
		if m == nil {
			return nil
		}
		return &Measure{Value: 1 - m.Value, U: m.U}
	}
	gain := func(m *Measure) *Measure {
		if m == nil {
			return nil
		}
		return &Measure{Value: m.Value - 1, U: m.U}
	}
	return Account{
		TrimShare:         loss(ratio(Trimmed, Bought)),
		PickUp:            gain(ratio(Prepped, Trimmed)),
		CookLoss:          loss(ratio(Off, Trimmed)),
		CookLossOfPrepped: loss(ratio(Off, Prepped)),
		HoldLoss:          loss(ratio(Rested, Off)),
		TotalLoss:         loss(ratio(Rested, Trimmed)),
		CookedYield:       ratio(Off, Trimmed),
		CookedYieldRested: ratio(Rested, Trimmed),
		EdibleYield:       ratio(Edible, Bought),
	}
}

func stageOf(weighings []Weighing, s Stage) (Weighing, bool) {
	for _, w := range weighings {
		if w.Stage == s {
			return w, true
		}
	}
	return Weighing{}, false
}

// TrimMissing is what of the trim went over no scale: bought less trimmed less
// the trims kept and thrown; nil until a trim is weighed beside both.
func TrimMissing(w []Weighing) *float64 {
	bought, okB := stageOf(w, Bought)
	trimmed, okT := stageOf(w, Trimmed)
	kept, okK := stageOf(w, TrimKept)
	thrown, okTh := stageOf(w, TrimThrown)
	if !okB || !okT || !okK && !okTh {
		return nil
	}
	missing := bought.Kg - trimmed.Kg - kept.Kg - thrown.Kg
	return &missing
}

// Check refuses a weighing that contradicts the cut's others: each stage but
// prepped can only weigh less than the stages before it. A slack of one scale
// step on either side is allowed.
func Check(w Weighing, others []Weighing) error {
	if w.Stage == TrimKept || w.Stage == TrimThrown {
		if b, ok := stageOf(others, Bought); ok && w.Kg > b.Kg {
			return fault.New("weight", fmt.Sprintf("%.3f kg of trim is more than the %.3f kg bought", w.Kg, b.Kg), "check the tag and the scale")
		}
		return nil
	}
	order := map[Stage]int{}
	for i, s := range Stages {
		order[s] = i
	}
	if _, ok := order[w.Stage]; !ok {
		return fault.New("stage", fmt.Sprintf("%q is not a stage", w.Stage), "use bought, trimmed, prepped, off, rested or edible")
	}
	prepped := slices.ContainsFunc(others, func(o Weighing) bool { return o.Stage == Prepped })
	for _, o := range others {
		if o.Stage == TrimKept || o.Stage == TrimThrown {
			continue
		}
		first, then := o, w
		if order[o.Stage] > order[w.Stage] {
			first, then = w, o
		}
		// What was injected or brined in is known only where it was weighed.
		mayGain := then.Stage == Prepped || order[first.Stage] < order[Prepped] && order[then.Stage] > order[Prepped] && prepped
		if mayGain || first.Stage == then.Stage {
			continue
		}
		if then.Kg > first.Kg+w.ResolutionKg+o.ResolutionKg+1e-9 {
			return fault.New("weight", fmt.Sprintf("%.3f kg %s is more than %.3f kg %s", then.Kg, then.Stage, first.Kg, first.Stage),
				"check the tag and the scale; void the other weighing if that one is wrong")
		}
	}
	return nil
}
