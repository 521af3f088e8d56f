package verdict

import (
	"math"
	"sort"
)

// Observation is one value of one cut, or of one taster on the pieces of an
// arm. Unit is the smallest thing the level was set on by itself; Block is
// what the units share (a pair, else the cook).
type Observation struct {
	Arm   int
	Unit  string
	Block string
	Value float64
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
	sum, n := map[key]float64{}, map[key]int{}
	var out []Observation
	for _, o := range all {
		k := key{o.Arm, o.Unit}
		if n[k] == 0 {
			out = append(out, o)
		}
		sum[k] += o.Value
		n[k]++
	}
	for i := range out {
		k := key{out[i].Arm, out[i].Unit}
		out[i].Value = sum[k] / float64(n[k])
	}
	return out
}

// Outcome is what the units of one outcome show for every pair of arms.
type Outcome struct {
	Means []*float64 `json:"means"` // adjusted for blocks; nil for an arm with no unit
	Units []int      `json:"units"`
	Pairs []ArmPair  `json:"pairs"`
	SD    *float64   `json:"sd"` // of one unit within arm and block, nil when there is none
	DF    int        `json:"df"`
}

// ArmPair is a pair of arms with its evidence; Why says why there is none.
type ArmPair struct {
	A, B     int
	Evidence *Comparison
	Why      string
}

// Compare fits `unit mean ~ arm + block` and compares every pair of arms. With
// exact set, or where all differences are alike, two arms in pairs are compared
// by the exact sign flip. With no residual spread the house's is borrowed, if
// there is one with four degrees of freedom or more.
func Compare(arms int, units []Observation, exact bool, house *Spread) Outcome {
	out := Outcome{Means: make([]*float64, arms), Units: make([]int, arms)}
	blocks := map[string]int{}
	cells := make([]Cell, len(units))
	for i, u := range units {
		b, known := blocks[u.Block]
		if !known {
			b = len(blocks)
			blocks[u.Block] = b
		}
		cells[i] = Cell{Arm: u.Arm, Block: b, Y: u.Value}
		out.Units[u.Arm]++
	}
	fit := LeastSquares(arms, len(blocks), cells)
	out.DF = fit.DF
	if fit.DF > 0 {
		out.SD = ptr(math.Sqrt(fit.MS))
	}
	for a := range arms {
		if mean, _, ok := fit.Mean(a); ok && out.Units[a] > 0 {
			out.Means[a] = &mean
		} else if out.Units[a] > 0 {
			out.Means[a] = ptr(plainMean(a, cells))
		}
	}
	for a := range arms {
		for b := a + 1; b < arms; b++ {
			out.Pairs = append(out.Pairs, comparePair(a, b, out, fit, cells, exact, house))
		}
	}
	return out
}

func comparePair(a, b int, o Outcome, fit Fit, cells []Cell, exact bool, house *Spread) ArmPair {
	p := ArmPair{A: a, B: b}
	if o.Units[a] == 0 || o.Units[b] == 0 {
		p.Why = "an arm has no value left to compare"
		return p
	}
	diff, se, ok := fit.Contrast(a, b)
	if !ok {
		p.Why = "no block holds both arms"
		return p
	}
	c := &Comparison{Estimate: roundTie(diff), SE: se, DF: fit.DF}
	p.Evidence = c
	noSpread := fit.DF > 0 && se < 1e-9
	switch d := pairedDifferences(a, b, cells); {
	case (exact || noSpread) && len(d) > 0 && len(d) <= mostFlips:
		c.Exact, c.Pairs = true, len(d)
		c.P = ptr(signFlip(d).PTwoSided)
		c.CI90, c.CI80 = signFlipInterval(d, 0.90), signFlipInterval(d, 0.80)
		if noSpread {
			p.Why = "every pair differs by the same, so there is no spread to judge by but exact sign flips"
		}
	case noSpread:
		p.Why = "every value is alike, so there is no spread to judge by"
	case fit.DF > 0:
		c.byT()
	case house != nil && house.DF >= LeastBorrowed && house.SD > 0:
		c.Borrowed, c.DF = true, house.DF
		c.SE = house.SD * math.Sqrt(1/float64(o.Units[a])+1/float64(o.Units[b]))
		c.byT()
	default:
		p.Why = "one unit an arm, and no earlier trial to borrow a spread from"
	}
	return p
}

// pairedDifferences are the differences over blocks that hold each of the two
// arms exactly once; nil if any block holds an arm twice.
func pairedDifferences(a, b int, cells []Cell) []float64 {
	type both struct{ a, b []float64 }
	byBlock := map[int]both{}
	for _, c := range cells {
		v := byBlock[c.Block]
		switch c.Arm {
		case a:
			v.a = append(v.a, c.Y)
		case b:
			v.b = append(v.b, c.Y)
		}
		byBlock[c.Block] = v
	}
	var order []int
	for k := range byBlock {
		order = append(order, k)
	}
	sort.Ints(order)
	var d []float64
	for _, k := range order {
		switch v := byBlock[k]; {
		case len(v.a) > 1 || len(v.b) > 1:
			return nil
		case len(v.a) == 1 && len(v.b) == 1:
			d = append(d, roundTie(v.a[0]-v.b[0]))
		}
	}
	return d
}

func plainMean(arm int, cells []Cell) float64 {
	sum, n := 0.0, 0
	for _, c := range cells {
		if c.Arm == arm {
			sum, n = sum+c.Y, n+1
		}
	}
	return sum / float64(n)
}
