package design

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// Our own rules of an allotment: from so many pieces on, standardised differences of the
// arms say something, and must keep the bound; where fewer than FewestToDraw allotments
// qualify, mirror images included, one is drawn from the best quarter.
const (
	SMDFrom      = 8
	SMDBound     = 0.25
	FewestToDraw = 4
)

// AllotPiece is a piece to be drawn into an arm. Traits are what else should
// not follow the arms: lot, grade, section, side.
type AllotPiece struct {
	Block      string
	KG         *float64
	ThicknessM *float64
	Traits     []string
}

// Allotment is a recorded random draw. Arms holds the arm of each piece, from 0.
type Allotment struct {
	Arms      []int   `json:"arms"`
	MaxSMD    float64 `json:"max_smd"`   // largest standardised mean difference of this one
	BestSMD   float64 `json:"best_smd"`  // of the best allotment found
	Looked    int     `json:"looked"`    // allotments looked at, arms unnamed
	Qualified int     `json:"qualified"` // of them that pass the gate of alike, and the bound
	From      int     `json:"from"`      // of how many it was drawn, arms unnamed
	All       bool    `json:"all"`       // all there are were looked at
}

// candidate is an allotment in the running.
type candidate struct {
	arm  []int
	smd  float64
	ties int
}

// Allot draws, with the given randomness, an allotment of pieces to arms that respects the
// blocks: uniformly among those whose arms are alike in weight and thickness by the gates
// of the review (and, from SMDFrom pieces on, within SMDBound standard deviations), or among
// the best quarter where fewer than FewestToDraw do; of these, among the ones in which the
// fewest traits follow the arms. All allotments are looked at up to 12 pieces, and above
// where there are few. Where there are many, random ones are taken until one qualifies, and
// descents by swaps find the best if none does.
func Allot(pieces []AllotPiece, arms int, r *rand.Rand) Allotment {
	p, traits := allotProblem(pieces, arms)
	var out Allotment
	var drawn []int
	if p.few() {
		drawn, out = p.drawOfAll(traits, r)
	} else {
		drawn, out = p.drawOfMany(traits, r)
	}
	// Which arm gets which of the drawn groups is drawn too.
	names := r.Perm(arms)
	out.Arms = make([]int, len(pieces))
	for i, a := range drawn {
		out.Arms[i] = names[a]
	}
	return out
}

func allotProblem(pieces []AllotPiece, arms int) (*problem, []column) {
	n := len(pieces)
	kg, thick, blocks := make([]*float64, n), make([]*float64, n), make([]string, n)
	for i, x := range pieces {
		kg[i], thick[i], blocks[i] = x.KG, x.ThicknessM, x.Block
	}
	p := &problem{block: blocksOf(blocks, n), sizes: evenSizes(n, arms)}
	variables := [][]*float64{kg, thick}
	var sd []float64
	p.values, sd = standardise(variables)
	for v, c := range covariates[:len(variables)] {
		p.gates = append(p.gates, gateOf(c, known(variables[v]))/sd[v])
	}
	for _, s := range p.blockSizes() {
		p.meet = p.meet || s%arms != 0 && arms > 2
	}
	var traits []column
	if n > 0 {
		for t := range pieces[0].Traits {
			values := make([]string, n)
			for i, x := range pieces {
				values[i] = x.Traits[t]
			}
			c := column{}
			if c.code, c.levels = codes(values); c.levels > 1 {
				traits = append(traits, c)
			}
		}
	}
	return p, traits
}

// tiesOf counts the traits that follow the arms by half or more.
func tiesOf(arm []int, arms int, traits []column) int {
	n := 0
	for _, t := range traits {
		if cramersV(arm, t.code, arms, t.levels) >= MuchTogether {
			n++
		}
	}
	return n
}

// qualifies says whether an allotment's arms are alike.
func (p *problem) qualifies(arm []int) bool {
	gaps := p.gaps(arm)
	for v, gap := range gaps {
		if gap > p.gates[v]+1e-9 || len(arm) >= SMDFrom && gap > SMDBound {
			return false
		}
	}
	return true
}

// fewest is how many allotments of unnamed arms make FewestToDraw with their mirror images.
func (p *problem) fewest() int {
	return int(math.Ceil(FewestToDraw / float64(p.namings())))
}

// ticket is a uniform draw among allotments that come one by one.
type ticket struct {
	arm []int
	n   int
}

// add lets the k-th replace the draw with chance 1/k: uniform over all.
func (t *ticket) add(arm []int, r *rand.Rand) {
	if t.n++; r.IntN(t.n) == 0 {
		t.arm = append(t.arm[:0], arm...)
	}
}

// lottery draws among the qualified, and among those of them with the fewest ties.
type lottery struct {
	all, untied ticket
	fewest      int
}

func (l *lottery) add(arm []int, ties int, r *rand.Rand) {
	l.all.add(arm, r)
	if ties < l.fewest {
		l.fewest, l.untied.n = ties, 0
	}
	if ties == l.fewest {
		l.untied.add(arm, r)
	}
}

// drawn is one with the fewest ties, or any where those are too few to draw from.
func (l *lottery) drawn(least int) ([]int, int) {
	if l.untied.n >= least {
		return l.untied.arm, l.untied.n
	}
	return l.all.arm, l.all.n
}

// drawOfAll draws uniformly among the qualified with fewest ties, or among the best quarter
// where too few qualify.
func (p *problem) drawOfAll(traits []column, r *rand.Rand) ([]int, Allotment) {
	out := Allotment{All: true, BestSMD: math.Inf(1)}
	lot := lottery{fewest: math.MaxInt}
	p.allotments(func(arm []int) {
		out.Looked++
		out.BestSMD = math.Min(out.BestSMD, p.maxSMD(arm))
		if p.qualifies(arm) {
			lot.add(arm, tiesOf(arm, len(p.sizes), traits), r)
		}
	})
	var drawn []int
	drawn, out.From = lot.drawn(p.fewest())
	out.Qualified = lot.all.n
	switch {
	case out.Looked == 0: // blocks and sizes that cannot be kept at once
		drawn = p.draw(r)
		out.All, out.Looked, out.From, out.BestSMD = false, 1, 1, p.maxSMD(drawn)
	case out.Qualified < p.fewest():
		all := make([]candidate, 0, out.Looked)
		p.allotments(func(arm []int) { all = append(all, candidate{arm: slices.Clone(arm), smd: p.maxSMD(arm)}) })
		slices.SortStableFunc(all, func(a, b candidate) int { return cmp.Compare(a.smd, b.smd) })
		drawn, out.From = pick(p.bestQuarter(all), p, traits, r)
	}
	out.MaxSMD = p.maxSMD(drawn)
	return drawn, out
}

// bestQuarter cuts candidates, best first, to their best quarter, but not below fewest.
func (p *problem) bestQuarter(all []candidate) []candidate {
	return all[:min(len(all), max(p.fewest(), (len(all)+3)/4))]
}

// pick draws among candidates with the fewest traits tied to the arms, and says among how
// many.
func pick(best []candidate, p *problem, traits []column, r *rand.Rand) ([]int, int) {
	fewest := math.MaxInt
	for i := range best {
		best[i].ties = tiesOf(best[i].arm, len(p.sizes), traits)
		fewest = min(fewest, best[i].ties)
	}
	if few := slices.DeleteFunc(slices.Clone(best), func(c candidate) bool { return c.ties > fewest }); len(few) >= p.fewest() {
		best = few
	}
	return best[r.IntN(len(best))].arm, len(best)
}

// randomTries is how many random allotments are looked at for those that qualify.
const randomTries = 2000

func (p *problem) drawOfMany(traits []column, r *rand.Rand) ([]int, Allotment) {
	out := Allotment{BestSMD: math.Inf(1)}
	lot := lottery{fewest: math.MaxInt}
	for range randomTries {
		arm := p.draw(r)
		out.Looked++
		out.BestSMD = math.Min(out.BestSMD, p.maxSMD(arm))
		if p.qualifies(arm) && (!p.meet || p.meetSpread(arm) <= 1) {
			lot.add(arm, tiesOf(arm, len(p.sizes), traits), r)
		}
	}
	var drawn []int
	drawn, out.From = lot.drawn(p.fewest())
	out.Qualified = lot.all.n
	found := p.search(r)
	out.BestSMD = math.Min(out.BestSMD, p.maxSMD(found[0]))
	if out.Qualified < p.fewest() {
		var ends []candidate
		for _, arm := range found {
			ends = append(ends, candidate{arm: arm, smd: p.maxSMD(arm)})
		}
		drawn, out.From = pick(p.bestQuarter(ends), p, traits, r)
	}
	out.MaxSMD = p.maxSMD(drawn)
	return drawn, out
}

// DrawArms draws the arms of a trial's pieces by a recorded seed: the same
// pieces and seed give the same arms. Parts that stay together are drawn as one.
func DrawArms(pieces []Piece, arms int, seed int64) Allotment {
	var groups [][]int
	at := map[string]int{}
	for i, p := range pieces {
		if n, ok := at[p.Root]; ok && p.Together {
			groups[n] = append(groups[n], i)
			continue
		}
		at[p.Root] = len(groups)
		groups = append(groups, []int{i})
	}
	drawn := make([]AllotPiece, len(groups))
	for g, members := range groups {
		first := pieces[members[0]]
		drawn[g] = AllotPiece{Block: first.Block, KG: first.Kg, ThicknessM: first.ThicknessM}
		for _, t := range Traits {
			drawn[g].Traits = append(drawn[g].Traits, first.Traits[t])
		}
		for _, i := range members[1:] {
			if kg := pieces[i].Kg; kg != nil && drawn[g].KG != nil {
				sum := *drawn[g].KG + *kg
				drawn[g].KG = &sum
			}
		}
	}
	out := Allot(drawn, arms, Shuffle(seed))
	byGroup := out.Arms
	out.Arms = make([]int, len(pieces))
	for g, members := range groups {
		for _, i := range members {
			out.Arms[i] = byGroup[g]
		}
	}
	return out
}

// Shuffle is the randomness of a recorded seed.
func Shuffle(seed int64) *rand.Rand { return rand.New(rand.NewPCG(uint64(seed), 0x5747)) }
