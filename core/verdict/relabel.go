package verdict

import (
	"math"
	"math/rand/v2"
	"sort"
)

// blockOf are the values of two arms in a block, with all ways to share them out.
type blockOf struct{ ways []way }

// way is what one sharing gives: the weighted difference s, and how it moves with a shift
// of the first arm's values, k. The first way is the observed one.
type way struct{ s, k float64 }

// mostInBlock bounds the units of two arms in a block whose ways are walked one by one.
const mostInBlock = 16

// newBlockOf walks all ways to share out the values of a block.
func newBlockOf(a, b []float64) blockOf {
	values := append(append([]float64{}, a...), b...)
	na, nb := float64(len(a)), float64(len(b))
	weight := na * nb / (na + nb) // what the block tells of a difference
	give := func(in func(i int) bool) way {
		var w way
		for i, v := range values {
			sign, first := -1/nb, 0.0
			if in(i) {
				sign = 1 / na
			}
			if i < len(a) {
				first = 1
			}
			w.s += weight * sign * v
			w.k += weight * sign * first
		}
		return w
	}
	out := blockOf{ways: []way{give(func(i int) bool { return i < len(a) })}}
	if len(values) > mostInBlock {
		r := rand.New(rand.NewPCG(uint64(len(values)), uint64(len(a))))
		for range mostRelabelled / 64 {
			order := r.Perm(len(values))
			at := make([]bool, len(values))
			for _, i := range order[:len(a)] {
				at[i] = true
			}
			out.ways = append(out.ways, give(func(i int) bool { return at[i] }))
		}
		return out
	}
	for set := uint(1); set < 1<<len(values); set++ {
		n, observed := 0, true
		for i := range values {
			in := set>>i&1 == 1
			if in {
				n++
			}
			observed = observed && in == (i < len(a))
		}
		if n == len(a) && !observed {
			out.ways = append(out.ways, give(func(i int) bool { return set>>i&1 == 1 }))
		}
	}
	return out
}

// walk goes through all ways of all blocks together, or draws so many of them.
func (r *relabelled) walk(blocks []blockOf) {
	if r.ways <= mostRelabelled {
		var step func(b int, s, k float64)
		step = func(b int, s, k float64) {
			if b == len(blocks) {
				r.s, r.k = append(r.s, s), append(r.k, k)
				return
			}
			for _, w := range blocks[b].ways {
				step(b+1, s+w.s, k+w.k)
			}
		}
		step(0, 0, 0)
		return
	}
	rng := rand.New(rand.NewPCG(1, uint64(len(blocks))))
	r.s, r.k = append(r.s, r.s0), append(r.k, r.k0) // the observed one counts
	for range mostRelabelled / 4 {
		s, k := 0.0, 0.0
		for _, b := range blocks {
			w := b.ways[rng.IntN(len(b.ways))]
			s, k = s+w.s, k+w.k
		}
		r.s, r.k = append(r.s, s), append(r.k, k)
	}
}

// p is the share of ways that lie at least as far from a shift as what was observed.
func (r *relabelled) p(shift float64) float64 {
	far := math.Abs(r.s0-shift*r.k0) - 1e-9
	n := 0
	for i, s := range r.s {
		if math.Abs(s-shift*r.k[i]) >= far {
			n++
		}
	}
	return float64(n) / float64(len(r.s))
}

// interval are the shifts that are not rejected at a level; nil where so few ways reject none.
func (r *relabelled) interval(level float64) *Interval {
	alpha := 1 - level
	if 2/r.ways > alpha {
		return nil
	}
	middle := r.s0 / r.k0
	scale := 1.0
	for _, s := range r.s {
		scale = math.Max(scale, math.Abs(s)/r.k0)
	}
	edge := func(sign float64) float64 {
		in, out := 0.0, 4*scale
		if r.p(middle+sign*out) > alpha {
			return math.Inf(int(sign))
		}
		for range 60 {
			if mid := (in + out) / 2; r.p(middle+sign*mid) > alpha {
				in = mid
			} else {
				out = mid
			}
		}
		return roundTie(middle + sign*in)
	}
	i := Interval{edge(-1), edge(1)}
	if math.IsInf(i[0], 0) || math.IsInf(i[1], 0) {
		return nil
	}
	return &i
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
