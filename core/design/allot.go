package design

import (
	"math"
	"math/rand/v2"
	"slices"
)

// Our own rules of an allotment: the bound that qualifies, and how many of the
// best are drawn from where too few keep it.
const (
	SMDBound   = 0.25
	BestToDraw = 20
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
	Qualified int     `json:"qualified"` // of them within the bound
	All       bool    `json:"all"`       // all there are were looked at
}

// candidate is an allotment in the running.
type candidate struct {
	arm  []int
	smd  float64
	ties int
}

// Allot draws, with the given randomness, an allotment of pieces to arms that
// respects the blocks: uniformly among those whose largest standardised mean
// difference in weight and thickness is at most SMDBound, or among the best
// BestToDraw if fewer qualify; of these, among the ones in which the fewest
// traits follow the arms. All allotments are looked at up to 12 pieces, and
// above where there are few. Where there are many, random ones are taken until
// one qualifies, and descents by swaps find the best if none does.
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
	p.values, _ = standardise([][]*float64{kg, thick})
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

// drawOfAll keeps, in one pass, a uniform draw among the qualified with fewest
// ties, and the best few for when too few qualify.
func (p *problem) drawOfAll(traits []column, r *rand.Rand) ([]int, Allotment) {
	out := Allotment{All: true, BestSMD: math.Inf(1)}
	var best []candidate // the best BestToDraw by balance
	var drawn []int
	fewest, among := math.MaxInt, 0
	p.allotments(func(arm []int) {
		out.Looked++
		smd := p.maxSMD(arm)
		out.BestSMD = math.Min(out.BestSMD, smd)
		if len(best) < BestToDraw || smd < best[len(best)-1].smd {
			best = insert(best, candidate{arm: slices.Clone(arm), smd: smd})
		}
		if smd > SMDBound {
			return
		}
		out.Qualified++
		ties := tiesOf(arm, len(p.sizes), traits)
		if ties < fewest {
			fewest, among = ties, 0
		}
		if ties > fewest {
			return
		}
		// The k-th of its kind replaces the draw with chance 1/k: uniform over all.
		if among++; r.IntN(among) == 0 {
			drawn = append(drawn[:0], arm...)
		}
	})
	if out.Looked == 0 { // blocks and sizes that cannot be kept at once
		drawn = p.draw(r)
		out.All, out.Looked, out.BestSMD = false, 1, p.maxSMD(drawn)
	} else if out.Qualified < BestToDraw {
		drawn = pick(best, p, traits, r)
	}
	out.MaxSMD = p.maxSMD(drawn)
	return drawn, out
}

// insert keeps the best BestToDraw in order.
func insert(best []candidate, c candidate) []candidate {
	at := len(best)
	for at > 0 && best[at-1].smd > c.smd {
		at--
	}
	best = slices.Insert(best, at, c)
	return best[:min(len(best), BestToDraw)]
}

// pick draws among candidates with the fewest traits tied to the arms.
func pick(best []candidate, p *problem, traits []column, r *rand.Rand) []int {
	fewest := math.MaxInt
	for i := range best {
		best[i].ties = tiesOf(best[i].arm, len(p.sizes), traits)
		fewest = min(fewest, best[i].ties)
	}
	best = slices.DeleteFunc(best, func(c candidate) bool { return c.ties > fewest })
	return best[r.IntN(len(best))].arm
}

// randomTries is how many random allotments are looked at for those that qualify.
const randomTries = 2000

func (p *problem) drawOfMany(traits []column, r *rand.Rand) ([]int, Allotment) {
	out := Allotment{BestSMD: math.Inf(1)}
	var drawn []int
	fewest, among := math.MaxInt, 0
	for range randomTries {
		arm := p.draw(r)
		out.Looked++
		smd := p.maxSMD(arm)
		out.BestSMD = math.Min(out.BestSMD, smd)
		if smd > SMDBound || p.meet && p.meetSpread(arm) > 1 {
			continue
		}
		out.Qualified++
		ties := tiesOf(arm, len(p.sizes), traits)
		if ties < fewest {
			fewest, among = ties, 0
		}
		if ties == fewest {
			if among++; r.IntN(among) == 0 {
				drawn = arm
			}
		}
	}
	found := p.search(r)
	out.BestSMD = math.Min(out.BestSMD, p.maxSMD(found[0]))
	if out.Qualified < BestToDraw {
		var best []candidate
		for _, arm := range found[:min(len(found), BestToDraw)] {
			best = append(best, candidate{arm: arm, smd: p.maxSMD(arm)})
		}
		drawn = pick(best, p, traits, r)
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
