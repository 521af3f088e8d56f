package verdict

import (
	"slices"
)

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
