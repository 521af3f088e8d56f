package panel

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"whitebarn/core/fault"
)

// Serving is how a flight is laid out: which pieces become samples, in what order each taster
// has them.
type Serving struct {
	Format    Format
	Pieces    int  // to compare
	Duplicate bool // one of them twice, drawn by lot, so that a taster's own spread shows
	Repeats   int  // each piece so many times, for a taster alone; 0 is once
	WarmUp    bool // a sample before the first, which is not counted
	Tasters   int
}

// Laid are the samples of a flight. Samples holds the piece of each; the warm-up, where there
// is one, is the last and has piece -1. Orders holds each taster's plate: places in Samples.
type Laid struct {
	Samples []int
	WarmUp  int // its place in Samples; -1 is none
	Orders  [][]int
}

// Check refuses a flight that its format cannot be served by.
func (s Serving) Check() error {
	var wrong fault.List
	rule, ok := s.Format.Rule()
	if !ok {
		return fault.New("format", fmt.Sprintf("%q is no format", s.Format), "choose scores, ranking, preference, triangle or duo-trio")
	}
	between := fmt.Sprintf("serve %d to %d in one flight; the rest go into another", rule.Least, rule.Most)
	if rule.Least == rule.Most {
		between = fmt.Sprintf("a %s compares %d", rule.Name, rule.Most)
	}
	if s.Pieces < rule.Least || s.Pieces > rule.Most {
		wrong.Add("pieces", fmt.Sprintf("%d samples", s.Pieces), between)
	}
	switch repeats := max(1, s.Repeats); {
	case s.Format != ByScores && (s.Duplicate || repeats > 1):
		wrong.Add("format", "only scores take a hidden duplicate or repeats", "serve the flight again instead")
	case repeats > 1 && s.Tasters != 1:
		wrong.Add("repeats", fmt.Sprintf("%d tasters with repeats", s.Tasters), "repeats are for a taster who is alone")
	case repeats > 1 && s.Duplicate:
		wrong.Add("duplicate", "every piece is repeated already", "leave the duplicate out")
	case repeats > 1 && s.Pieces*repeats > MostRepeats:
		wrong.Add("repeats", fmt.Sprintf("%d samples", s.Pieces*repeats), fmt.Sprintf("keep to %d on a plate", MostRepeats))
	case s.Duplicate && s.Pieces+1 > MostSamples:
		wrong.Add("duplicate", fmt.Sprintf("%d samples", s.Pieces+1), fmt.Sprintf("keep to %d: a hidden one must lie beside its twin", MostSamples))
	}
	return wrong.Err()
}

// Lay lays a flight out.
func (s Serving) Lay(r *rand.Rand) Laid {
	out := Laid{WarmUp: -1}
	if s.Format == ByTriangle || s.Format == ByDuoTrio {
		out.Samples = []int{0, 0, 1, 1}
		out.Orders = turns(r, s.rows(), s.Tasters)
	} else {
		for range max(1, s.Repeats) {
			for i := range s.Pieces {
				out.Samples = append(out.Samples, i)
			}
		}
		if s.Duplicate {
			out.Samples = append(out.Samples, r.IntN(s.Pieces))
		}
		switch {
		case s.Repeats > 1:
			out.Orders = [][]int{r.Perm(len(out.Samples))}
		default:
			// More than a plate holds: the first places of a Williams design keep every sample
			// equally often in each of them.
			out.Orders = Orders(r, len(out.Samples), s.Tasters)
			for t, o := range out.Orders {
				out.Orders[t] = o[:min(len(o), MostSamples)]
			}
		}
	}
	if s.WarmUp {
		out.WarmUp = len(out.Samples)
		out.Samples = append(out.Samples, -1)
		for t := range out.Orders {
			out.Orders[t] = append([]int{out.WarmUp}, out.Orders[t]...)
		}
	}
	return out
}

// rows are the plates that balance a test of three: each piece is the odd one, or the first,
// equally often and in every place. Samples 0 and 1 are of one piece, 2 and 3 of the other.
func (s Serving) rows() [][]int {
	if s.Format == ByTriangle {
		return [][]int{{0, 1, 2}, {0, 2, 1}, {2, 0, 1}, {2, 3, 0}, {2, 0, 3}, {0, 2, 3}}
	}
	return [][]int{{0, 1, 2}, {0, 2, 1}, {2, 3, 0}, {2, 0, 3}}
}

// turns deals rows to tasters, each once before any again.
func turns(r *rand.Rand, rows [][]int, tasters int) (out [][]int) {
	for len(out) < tasters {
		for _, i := range r.Perm(len(rows)) {
			if len(out) < tasters {
				out = append(out, slices.Clone(rows[i]))
			}
		}
	}
	return out
}

// LateOrder is the plate of somebody who comes when others are served: the order that leaves
// places and neighbours most even; among equals by lot. Served are the plates of the others.
func (s Serving) LateOrder(r *rand.Rand, samples int, served [][]int) []int {
	best, least := []int(nil), math.Inf(1)
	for _, row := range s.candidates(r, samples) {
		uneven := float64(unevenness(append(slices.Clone(served), row), samples)) + 0.5*r.Float64()
		if uneven < least {
			best, least = row, uneven
		}
	}
	return best
}

// mostPermuted bounds how many samples are put in every order; of more, orders are drawn.
const mostPermuted = 6

// candidates are the orders a late plate may have.
func (s Serving) candidates(r *rand.Rand, samples int) (out [][]int) {
	if s.Format == ByTriangle || s.Format == ByDuoTrio {
		return s.rows()
	}
	if samples > mostPermuted {
		for range 1000 {
			out = append(out, r.Perm(samples)[:MostSamples])
		}
		return out
	}
	var put func(order, left []int)
	put = func(order, left []int) {
		if len(left) == 0 {
			out = append(out, order)
		}
		for i, x := range left {
			put(append(slices.Clone(order), x), slices.Delete(slices.Clone(left), i, i+1))
		}
	}
	put(nil, r.Perm(samples))
	return out
}

// unevenness is the sum of squares of how often each sample stands where, and after which.
func unevenness(orders [][]int, samples int) (sum int) {
	places, after := table(samples), table(samples)
	for _, o := range orders {
		for i, x := range o {
			if i < samples {
				places[x][i]++
			}
			if i > 0 {
				after[o[i-1]][x]++
			}
		}
	}
	for i := range samples {
		for j := range samples {
			sum += places[i][j]*places[i][j] + after[i][j]*after[i][j]
		}
	}
	return sum
}
