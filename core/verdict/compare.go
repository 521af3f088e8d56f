package verdict

import (
	"math"
	"slices"
	"sort"
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

// model is a linear model of units, with what an arm is in it.
type model struct {
	kind  Model
	y     []float64
	terms []Term
	units []int // of each arm
	arms  int
	cooks int // of arm x cook; 0 where the first term is the arm alone
}

// contrast is one arm less another; with arm x cook, cooks weigh equal.
func (m model) contrast(a, b int) []float64 {
	c := m.zeros()
	m.arm(c, a, 1)
	m.arm(c, b, -1)
	return c
}

// meanOf is an arm's mean, everything else averaged over its levels.
func (m model) meanOf(a int) []float64 {
	c := m.zeros()
	m.arm(c, a, 1)
	at := m.terms[0].N
	for _, t := range m.terms[1:] {
		for i := range t.N {
			c[at+i] = 1 / float64(t.N)
		}
		at += t.N
	}
	return c
}

func (m model) zeros() []float64 {
	n := 0
	for _, t := range m.terms {
		n += t.N
	}
	return make([]float64, n)
}

func (m model) arm(c []float64, a int, weight float64) {
	if m.cooks == 0 {
		c[a] += weight
		return
	}
	for k := range m.cooks {
		c[a*m.cooks+k] += weight / float64(m.cooks)
	}
}

// levelsOf numbers what units share.
func levelsOf(units []Observation, of func(Observation) string) Term {
	seen := map[string]int{}
	t := Term{Levels: make([]int, len(units))}
	for i, u := range units {
		n, ok := seen[of(u)]
		if !ok {
			n = len(seen)
			seen[of(u)] = n
		}
		t.Levels[i] = n
	}
	t.N = len(seen)
	return t
}

// modelOf chooses what units are compared within.
func modelOf(units []Observation, s Setting) model {
	m := model{y: make([]float64, len(units)), units: make([]int, s.Arms), arms: s.Arms, kind: InBlocks}
	arm := Term{Levels: make([]int, len(units)), N: s.Arms}
	for i, u := range units {
		m.y[i], arm.Levels[i] = u.Value, u.Arm
		m.units[u.Arm]++
	}
	cook := levelsOf(units, func(u Observation) string { return u.Cook })
	if s.OnRuns {
		m.kind, m.terms = runModel(arm, cook, levelsOf(units, func(u Observation) string { return u.Pit }), m.y, m.units)
		return m
	}
	block := levelsOf(units, func(u Observation) string { return u.Block })
	m.terms = []Term{arm, block}
	if crossed(arm, cook) {
		both := Term{Levels: make([]int, len(units)), N: s.Arms * cook.N}
		for i := range units {
			both.Levels[i] = arm.Levels[i]*cook.N + cook.Levels[i]
		}
		m.kind, m.cooks, m.terms = InCooks, cook.N, []Term{both, block}
	}
	return m
}

// crossed says whether each of several cooks holds two or more units of every arm.
func crossed(arm, cook Term) bool {
	n := make([]int, arm.N*cook.N)
	for i := range arm.Levels {
		n[arm.Levels[i]*cook.N+cook.Levels[i]]++
	}
	return cook.N > 1 && len(n) > 0 && slices.Min(n) >= 2
}

// runModel takes cook and pit as blocks where each of them holds more than one arm and
// every pair of arms can still be told; it drops the one that does not, and with neither
// compares runs as they are.
func runModel(arm, cook, pit Term, y []float64, units []int) (Model, []Term) {
	for _, try := range []struct {
		kind  Model
		terms []Term
	}{{InCooksAndPit, []Term{cook, pit}}, {InDays, []Term{cook}}, {InPits, []Term{pit}}} {
		usable := true
		for _, t := range try.terms {
			usable = usable && t.N > 1 && holdsArms(t, arm)
		}
		terms := append([]Term{arm}, try.terms...)
		if usable && tellsAll(FitTerms(y, terms...), units) {
			return try.kind, terms
		}
	}
	return AsTheyAre, []Term{arm, {Levels: make([]int, len(y)), N: 1}}
}

// holdsArms says whether each level of a term holds more than one arm.
func holdsArms(t, arm Term) bool {
	first := make([]int, t.N)
	several := make([]bool, t.N)
	for i := range first {
		first[i] = -1
	}
	for i, level := range t.Levels {
		switch a := arm.Levels[i]; {
		case first[level] < 0:
			first[level] = a
		case first[level] != a:
			several[level] = true
		}
	}
	return !slices.Contains(several, false)
}

func tellsAll(fit Linear, units []int) bool {
	for a := range units {
		for b := a + 1; b < len(units); b++ {
			if units[a] == 0 || units[b] == 0 {
				continue
			}
			if _, _, ok := fit.contrast(a, b); !ok {
				return false
			}
		}
	}
	return true
}

func plainMean(arm int, units []Observation) float64 {
	sum, n := 0.0, 0
	for _, u := range units {
		if u.Arm == arm {
			sum, n = sum+u.Value, n+1
		}
	}
	return sum / float64(n)
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

// relabelled are all ways, or a drawn sample of them, to share out the values of two arms
// within their blocks; each gives a sum s - shift x k against the observed one.
type relabelled struct {
	s, k   []float64
	s0, k0 float64
	ways   float64 // in all
	pairs  []float64
}

// mostRelabelled bounds the ways that are walked; beyond, so many are drawn with a fixed seed.
const mostRelabelled = 1 << 16

// relabellings prepares the exact test of two arms; nil where no block holds both.
func relabellings(a, b int, units []Observation) *relabelled {
	type both struct{ a, b []float64 }
	byBlock := map[string]*both{}
	var names []string
	for _, u := range units {
		if u.Arm != a && u.Arm != b {
			continue
		}
		v := byBlock[u.Block]
		if v == nil {
			v = &both{}
			byBlock[u.Block] = v
			names = append(names, u.Block)
		}
		if u.Arm == a {
			v.a = append(v.a, u.Value)
		} else {
			v.b = append(v.b, u.Value)
		}
	}
	sort.Strings(names)
	r := &relabelled{ways: 1}
	var blocks []blockOf
	onlyPairs := true
	for _, name := range names {
		v := byBlock[name]
		if len(v.a) == 0 || len(v.b) == 0 {
			continue
		}
		k := newBlockOf(v.a, v.b)
		blocks = append(blocks, k)
		r.ways *= float64(len(k.ways))
		onlyPairs = onlyPairs && len(v.a) == 1 && len(v.b) == 1
		r.s0 += k.ways[0].s
		r.k0 += k.ways[0].k
		if onlyPairs {
			r.pairs = append(r.pairs, roundTie(v.a[0]-v.b[0]))
		}
	}
	if len(blocks) == 0 {
		return nil
	}
	if !onlyPairs || len(r.pairs) > mostFlips {
		r.pairs = nil
		r.walk(blocks)
	}
	return r
}

// byFlips fills p and the intervals from all signs of differences.
func (c *Comparison) byFlips(d []float64) {
	c.Exact, c.Pairs, c.Capped = true, len(d), len(d) < leastFlips
	c.P = ptr(signFlip(d).PTwoSided)
	c.at = func(level float64) *Interval { return signFlipInterval(d, level) }
	c.CI90, c.CI80 = c.at(0.90), c.at(0.80)
}

// fill gives a comparison its p and intervals.
func (r *relabelled) fill(c *Comparison) {
	if r.pairs != nil {
		c.byFlips(r.pairs)
		return
	}
	c.Exact, c.Capped = true, 2/r.ways > 0.05
	c.P = ptr(r.p(0))
	c.at = r.interval
	c.CI90, c.CI80 = c.at(0.90), c.at(0.80)
}
