package verdict

import (
	"math"
)

// Observation is one value of one cut. Unit is the smallest thing the level was set on by
// itself; Block is what units share (a pair, else the cook).
type Observation struct {
	Arm       int
	Unit      string
	Block     string
	Cook, Pit string
	Value     float64
	Floor     float64 // standard deviation that the step of the scale leaves unsure in it
}

// Spread is a standard deviation between units of one arm with its degrees of
// freedom, pooled from earlier trials.
type Spread struct {
	SD float64 `json:"sd"`
	DF int     `json:"df"`
}

// LeastBorrowed is the least degrees of freedom a borrowed spread must have.
const LeastBorrowed = 4

// Units averages everything inside a unit: cuts in one unit are not
// replicates. Units that span blocks keep the block of their first value.
func Units(all []Observation) []Observation {
	type key struct {
		arm  int
		unit string
	}
	sum, unsure, n := map[key]float64{}, map[key]float64{}, map[key]int{}
	var out []Observation
	for _, o := range all {
		k := key{o.Arm, o.Unit}
		if n[k] == 0 {
			out = append(out, o)
		}
		sum[k] += o.Value
		unsure[k] += o.Floor * o.Floor
		n[k]++
	}
	for i := range out {
		k := key{out[i].Arm, out[i].Unit}
		out[i].Value, out[i].Floor = sum[k]/float64(n[k]), math.Sqrt(unsure[k])/float64(n[k])
	}
	return out
}

// Setting says how units are compared.
type Setting struct {
	Arms   int
	OnRuns bool    // the levels were set on runs: their blocks are cooks and pits
	Exact  bool    // ranked or clearly skewed: by relabelling within blocks
	House  *Spread // of earlier trials; nil is none
}

// Outcome is what the units of one outcome show for every pair of arms.
type Outcome struct {
	Means   []*float64 `json:"means"` // adjusted for blocks; nil for an arm with no unit
	Units   []int      `json:"units"`
	Pairs   []ArmPair  `json:"pairs"`
	SD      *float64   `json:"sd"` // of one unit within arm and block, nil when there is none
	DF      int        `json:"df"`
	Floored bool       `json:"floored"` // the spread is what the step of the scale leaves unsure
	Model   Model      `json:"model"`

	along func(weights []float64) (value, root float64, ok bool)
}

// Along is a weighed sum of arms with its t; nil where the units do not tell it, or leave no
// spread to judge it by.
func (o Outcome) Along(weights []float64) *Comparison {
	value, root, ok := o.along(weights)
	if !ok || o.DF < 1 || o.SD == nil || *o.SD*root < 1e-9 {
		return nil
	}
	c := &Comparison{Estimate: roundTie(value), SE: *o.SD * root, DF: o.DF, Floored: o.Floored}
	c.byT()
	return c
}

// Apart is the least difference that is told apart among so many pairs (Holm's first step);
// nil without a spread.
func (c Comparison) Apart(pairs int) *float64 {
	if !(c.SE > 0) || c.DF < 1 || c.Borrowed {
		return nil
	}
	return ptr(tQuantile(1-0.025/float64(max(1, pairs)), float64(c.DF)) * c.SE)
}

// Model is what units were compared within.
type Model string

// The models.
const (
	InBlocks      Model = "blocks"         // arm + block
	InCooks       Model = "cooks"          // arm x cook + block, cooks weighing equal
	InCooksAndPit Model = "cooks and pits" // runs: arm + cook + pit
	InDays        Model = "days"           // runs: arm + cook
	InPits        Model = "pits"           // runs: arm + pit
	AsTheyAre     Model = "as they are"    // runs: days and pits are part of the spread
)

// ArmPair is a pair of arms with its evidence; Why says why there is none.
type ArmPair struct {
	A, B     int
	Evidence *Comparison
	Why      string
}

// Compare compares every pair of arms over units: `unit mean ~ arm + block`, or what of
// cooks and pits the runs allow. With Exact set, two arms are compared by relabelling
// within blocks. A spread is never taken under what the step of the scale leaves unsure;
// where there is no spread at all the house's is borrowed, if it has four degrees of
// freedom or more.
func Compare(units []Observation, s Setting) Outcome {
	m := modelOf(units, s)
	fit := FitTerms(m.y, m.terms...)
	out := Outcome{Means: make([]*float64, s.Arms), Units: m.units, DF: fit.DF, Model: m.kind}
	sd := math.Sqrt(fit.MS)
	out.along = func(weights []float64) (float64, float64, bool) {
		c := m.zeros()
		for a, w := range weights {
			m.arm(c, a, w)
		}
		return fit.Estimate(c)
	}
	if fit.DF > 0 {
		if floor := floorOf(units); floor > sd {
			sd, out.Floored = floor, true
		}
		out.SD = ptr(sd)
	}
	for a := range s.Arms {
		if out.Units[a] == 0 {
			continue
		}
		if mean, _, ok := fit.Estimate(m.meanOf(a)); ok {
			out.Means[a] = &mean
		} else {
			out.Means[a] = ptr(plainMean(a, units))
		}
	}
	for a := range s.Arms {
		for b := a + 1; b < s.Arms; b++ {
			out.Pairs = append(out.Pairs, m.pair(a, b, out, fit, sd, units, s))
		}
	}
	return out
}

// floorOf is the standard deviation that the steps of the scales leave unsure in a unit.
func floorOf(units []Observation) float64 {
	sum := 0.0
	for _, u := range units {
		sum += u.Floor * u.Floor
	}
	return math.Sqrt(sum / float64(max(1, len(units))))
}

func (m model) pair(a, b int, o Outcome, fit Linear, sd float64, units []Observation, s Setting) ArmPair {
	p := ArmPair{A: a, B: b}
	if o.Units[a] == 0 || o.Units[b] == 0 {
		p.Why = "an arm has no value left to compare"
		return p
	}
	diff, root, ok := fit.Estimate(m.contrast(a, b))
	if !ok {
		p.Why = "no block holds both arms"
		return p
	}
	c := &Comparison{Estimate: roundTie(diff), SE: sd * root, DF: fit.DF, Units: 2 / (root * root), Floored: o.Floored}
	p.Evidence = c
	noSpread := fit.DF > 0 && c.SE < 1e-9
	switch flips := relabellings(a, b, units); {
	case (s.Exact || noSpread) && flips != nil:
		flips.fill(c)
		if noSpread {
			p.Why = "every pair differs by the same, so there is no spread to judge by but relabelling"
		}
	case noSpread:
		p.Why = "every value is alike, so there is no spread to judge by"
	case fit.DF > 0:
		c.byT()
	case s.House != nil && s.House.DF >= LeastBorrowed && s.House.SD > 0:
		c.Borrowed, c.DF = true, s.House.DF
		c.SE = s.House.SD * math.Sqrt(1/float64(o.Units[a])+1/float64(o.Units[b]))
		c.byT()
	default:
		p.Why = "one unit an arm, and no earlier trial to borrow a spread from"
	}
	return p
}

// PairedBy compares two arms by what each of several hands, tasters or cooks, shows by
// itself: the t over their own differences. floor is the standard deviation that the step
// of the scale leaves unsure in a difference.
func PairedBy(differences []float64, floor float64, exact bool) (*Comparison, string) {
	n := len(differences)
	if n == 0 {
		return nil, "nobody has both"
	}
	d := make([]float64, n)
	for i, v := range differences {
		d[i] = roundTie(v)
	}
	mean, se := meanSE(d)
	c := &Comparison{Estimate: roundTie(mean), SE: se, DF: n - 1, Units: float64(n), Pairs: n}
	if least := floor / math.Sqrt(float64(n)); n > 1 && least > se {
		c.SE, c.Floored = least, true
	}
	switch {
	case n > 1 && exact && n <= mostFlips || n > 1 && c.SE < 1e-9 && n <= mostFlips:
		c.byFlips(d)
	case n > 1 && c.SE >= 1e-9:
		c.byT()
	case n == 1:
		return c, "one alone"
	}
	return c, ""
}
