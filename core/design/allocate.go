package design

import (
	"math"
	"math/rand/v2"
	"slices"
)

// MostEnumerated is the most pieces whose allotments are all looked at.
const MostEnumerated = 12

// problem is an allotment to be made: pieces with values, in blocks, to arms of
// given sizes. The arms' counts in a block differ by one at most.
type problem struct {
	values [][]float64 // by variable, then piece; standardised, a lost value at the mean
	gates  []float64   // by variable: how far two arms' means may lie apart, in standard deviations
	block  []int       // of each piece, -1 for none
	sizes  []int       // of the arms, largest first
	meet   bool        // two arms meet in blocks as often as any other two, to one
}

// standardise divides each variable by its sample standard deviation over all
// pieces; one that does not vary, or is nowhere known, counts nothing. A piece
// without the value stands at the mean, so that it tips nothing.
func standardise(variables [][]*float64) (values [][]float64, sd []float64) {
	for _, v := range variables {
		sum, n := 0.0, 0.0
		for _, x := range v {
			if x != nil {
				sum, n = sum+*x, n+1
			}
		}
		mean, ss := sum/math.Max(n, 1), 0.0
		for _, x := range v {
			if x != nil {
				ss += (*x - mean) * (*x - mean)
			}
		}
		s := 0.0
		if n > 1 {
			s = math.Sqrt(ss / (n - 1))
		}
		row := make([]float64, len(v))
		for i, x := range v {
			if x != nil && s > 1e-12*math.Max(1, math.Abs(mean)) {
				row[i] = (*x - mean) / s
			}
		}
		values, sd = append(values, row), append(sd, s)
	}
	return values, sd
}

// maxSMD is the largest standardised difference between the means of any two
// arms, over all variables.
func (p *problem) maxSMD(arm []int) float64 { return slices.Max(append(p.gaps(arm), 0)) }

// gaps are the largest standardised differences between the means of any two arms, by
// variable.
func (p *problem) gaps(arm []int) []float64 {
	out := make([]float64, len(p.values), len(p.values)+1)
	sums := make([]float64, len(p.sizes))
	count := make([]float64, len(p.sizes))
	for _, a := range arm {
		count[a]++
	}
	for v, values := range p.values {
		clear(sums)
		for i, a := range arm {
			sums[a] += values[i]
		}
		low, high := math.Inf(1), math.Inf(-1)
		for a, s := range sums {
			if count[a] > 0 {
				low, high = math.Min(low, s/count[a]), math.Max(high, s/count[a])
			}
		}
		out[v] = max(high-low, 0)
	}
	return out
}

// meets counts how often each pair of arms meets in a block.
func (p *problem) meets(arm []int) [][]int {
	out := grid(len(p.sizes), len(p.sizes))
	for i := range arm {
		for j := i + 1; j < len(arm); j++ {
			if p.block[i] >= 0 && p.block[i] == p.block[j] && arm[i] != arm[j] {
				out[arm[i]][arm[j]]++
				out[arm[j]][arm[i]]++
			}
		}
	}
	return out
}

// meetSpread is the largest minus the smallest count of meets of two arms.
func (p *problem) meetSpread(arm []int) int {
	m := p.meets(arm)
	low, high := math.MaxInt, 0
	for a := range m {
		for b := a + 1; b < len(m); b++ {
			low, high = min(low, m[a][b]), max(high, m[a][b])
		}
	}
	return max(0, high-low)
}

// blockSizes counts the pieces of each block.
func (p *problem) blockSizes() []int {
	var out []int
	for _, b := range p.block {
		for b >= len(out) {
			out = append(out, 0)
		}
		if b >= 0 {
			out[b]++
		}
	}
	return out
}

// mostMeets is how often two arms may meet when meets are spread evenly.
func (p *problem) mostMeets() int {
	arms, total := len(p.sizes), 0
	for _, s := range p.blockSizes() {
		total += s * (s - 1) / 2
	}
	pairs := arms * (arms - 1) / 2
	return (total + pairs - 1) / max(pairs, 1)
}

// allotments calls visit with every allotment, one for each way of naming arms
// of the same size; visit must not keep the slice.
func (p *problem) allotments(visit func(arm []int)) {
	n, arms := len(p.block), len(p.sizes)
	arm, left := make([]int, n), slices.Clone(p.sizes)
	used := make([]bool, arms) // arms that hold a piece
	sizes := p.blockSizes()
	here := grid(max(1, len(sizes)), arms)
	meets, mostMeets := grid(arms, arms), p.mostMeets()
	even := func() bool {
		for b, counts := range here {
			if b < len(sizes) && slices.Max(counts)-slices.Min(counts) > 1 {
				return false
			}
		}
		return true
	}
	var place func(i int)
	try := func(i, a int) {
		b := p.block[i]
		opened := !used[a]
		arm[i], used[a] = a, true
		left[a]--
		ok := true
		if b >= 0 {
			for other, c := range here[b] {
				if c > 0 && other != a {
					meets[a][other] += c
					meets[other][a] += c
					ok = ok && (!p.meet || meets[a][other] <= mostMeets)
				}
			}
			here[b][a]++
		}
		if ok {
			place(i + 1)
		}
		if b >= 0 {
			here[b][a]--
			for other, c := range here[b] {
				if c > 0 && other != a {
					meets[a][other] -= c
					meets[other][a] -= c
				}
			}
		}
		left[a]++
		if opened {
			used[a] = false
		}
	}
	place = func(i int) {
		if i == n {
			if even() && (!p.meet || p.meetSpread(arm) <= 1) {
				visit(arm)
			}
			return
		}
		for a := range arms {
			b := p.block[i]
			switch {
			case left[a] == 0:
			case !used[a] && a > 0 && !used[a-1] && p.sizes[a-1] == p.sizes[a]: // of empty arms of one size only the first is opened
			case b >= 0 && here[b][a] > (sizes[b]-1)/arms:
			default:
				try(i, a)
			}
		}
	}
	place(0)
}

// namings counts the ways of naming arms of the same size.
func (p *problem) namings() int {
	ways, run := 1, 0
	for i := range p.sizes {
		if i > 0 && p.sizes[i] != p.sizes[i-1] {
			run = 0
		}
		run++
		ways *= run
	}
	return ways
}

// evenSizes are arm sizes that differ by one at most, largest first.
func evenSizes(pieces, arms int) []int {
	out := make([]int, arms)
	for i := range out {
		out[i] = pieces / arms
		if i < pieces%arms {
			out[i]++
		}
	}
	return out
}

// few says whether all allotments can be looked at in a moment.
func (p *problem) few() bool {
	n := len(p.block)
	if n <= MostEnumerated {
		return true
	}
	sizes := p.blockSizes()
	ways, loose := 1.0, n
	for _, s := range sizes {
		if s != len(p.sizes) {
			return false
		}
		ways *= factorial(s)
		loose -= s
	}
	ways *= factorial(loose)
	for _, s := range p.sizes {
		ways /= factorial(s - len(sizes))
	}
	return ways/float64(p.namings()) <= 50_000
}

func factorial(n int) float64 {
	v, _ := math.Lgamma(float64(n) + 1)
	return math.Round(math.Exp(v))
}

// draw is a random allotment that respects the blocks. Every arm gets its full
// share of each block; what is over goes to the arms with most room, then to
// those that have met least, ties by lot. Without such rests each allotment is
// as likely as any other.
func (p *problem) draw(r *rand.Rand) []int {
	arms := len(p.sizes)
	arm, left := make([]int, len(p.block)), make([]int, arms)
	for i, at := range r.Perm(arms) {
		left[at] = p.sizes[i]
	}
	meets := grid(arms, arms)
	sizes := p.blockSizes()
	members := make([][]int, len(sizes))
	var loose []int
	for i, b := range p.block {
		if b < 0 {
			loose = append(loose, i)
		} else {
			members[b] = append(members[b], i)
		}
	}
	for _, b := range r.Perm(len(members)) {
		var get []int
		for range sizes[b] / arms {
			for a := range arms {
				get = append(get, a)
			}
		}
		var rest []int
		for len(get)+len(rest) < sizes[b] {
			best, score := -1, 0
			for _, a := range r.Perm(arms) {
				s := 100 * left[a]
				for _, other := range rest {
					s -= 1000 * meets[a][other]
				}
				if !slices.Contains(rest, a) && (best < 0 || s > score) {
					best, score = a, s
				}
			}
			rest = append(rest, best)
		}
		for i, a := range rest {
			for _, other := range rest[:i] {
				meets[a][other]++
				meets[other][a]++
			}
		}
		get = append(get, rest...)
		r.Shuffle(len(get), func(i, j int) { get[i], get[j] = get[j], get[i] })
		for i, piece := range members[b] {
			arm[piece] = get[i]
			left[get[i]]--
		}
	}
	// Arms that took more than their share of the blocks leave the loose pieces to the others.
	var get []int
	for len(get) < len(loose) {
		a := 0
		for i := range left {
			if left[i] > left[a] {
				a = i
			}
		}
		get = append(get, a)
		left[a]--
	}
	r.Shuffle(len(get), func(i, j int) { get[i], get[j] = get[j], get[i] })
	for i, piece := range loose {
		arm[piece] = get[i]
	}
	return arm
}
