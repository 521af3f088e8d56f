package verdict

import (
	"math"
	"math/bits"
	"sort"
)

// mostFlips bounds the exact tests: 2^20 sign vectors.
const mostFlips = 20

// SignFlip is the exact test over all sign vectors of the differences
// (Fisher, 1935), zeros included.
type SignFlip struct {
	CountExtreme int     `json:"count_extreme"`
	CountTotal   int     `json:"count_total"`
	PTwoSided    float64 `json:"p_two_sided"`
}

// eachSignedSum calls f with the sum of d under every vector of signs. The
// vectors come in Gray order, so each sum is one addition from the last.
func eachSignedSum(d []float64, f func(sum float64)) {
	sum := 0.0
	sign := make([]float64, len(d))
	for i, v := range d {
		sum += v
		sign[i] = 1
	}
	f(sum)
	for k := uint(1); k < 1<<len(d); k++ {
		i := bits.TrailingZeros(k)
		sum -= 2 * sign[i] * d[i]
		sign[i] = -sign[i]
		f(sum)
	}
}

func signFlip(d []float64) SignFlip {
	observed := 0.0
	for _, v := range d {
		observed += v
	}
	out := SignFlip{CountTotal: 1 << len(d)}
	eachSignedSum(d, func(sum float64) {
		if math.Abs(sum) >= math.Abs(observed)-1e-9 {
			out.CountExtreme++
		}
	})
	out.PTwoSided = float64(out.CountExtreme) / float64(out.CountTotal)
	return out
}

// signFlipInterval inverts the sign-flip test: its ends are order statistics
// of the means of all nonempty subsets of the differences (Hartigan, 1969).
// It is nil where so few pairs reach no such level.
func signFlipInterval(d []float64, level float64) *Interval {
	k := int(math.Floor((1 - level) / 2 * float64(int(1)<<len(d))))
	if k < 1 {
		return nil
	}
	means := make([]float64, 0, 1<<len(d)-1)
	sum, in := 0.0, make([]bool, len(d))
	size := 0
	for g := uint(1); g < 1<<len(d); g++ {
		i := bits.TrailingZeros(g)
		if in[i] {
			sum, size = sum-d[i], size-1
		} else {
			sum, size = sum+d[i], size+1
		}
		in[i] = !in[i]
		means = append(means, sum/float64(size))
	}
	sort.Float64s(means)
	return &Interval{roundTie(means[k-1]), roundTie(means[len(means)-k])}
}

// SignedRank is Wilcoxon's signed-rank test with zeros dropped, midranks for
// ties and the exact distribution over sign vectors.
type SignedRank struct {
	NNonzero  int     `json:"n_nonzero"`
	WPlus     float64 `json:"w_plus"`
	WMinus    float64 `json:"w_minus"`
	PTwoSided float64 `json:"p_two_sided"`
}

func signedRank(d []float64) SignedRank {
	var size []float64
	var positive []bool
	for _, v := range d {
		if v != 0 {
			size, positive = append(size, math.Abs(v)), append(positive, v > 0)
		}
	}
	out := SignedRank{NNonzero: len(size), PTwoSided: 1}
	ranks := Midranks(size)
	for i, r := range ranks {
		if positive[i] {
			out.WPlus += r
		} else {
			out.WMinus += r
		}
	}
	if len(ranks) == 0 {
		return out
	}
	observed := math.Min(out.WPlus, out.WMinus) - math.Max(out.WPlus, out.WMinus)
	tail := 0
	eachSignedSum(ranks, func(sum float64) {
		if sum <= observed+1e-9 {
			tail++
		}
	})
	out.PTwoSided = math.Min(1, 2*float64(tail)/float64(int(1)<<len(ranks)))
	return out
}

// Midranks ranks from 1, equal values sharing the mean of their ranks.
func Midranks(v []float64) []float64 {
	order := make([]int, len(v))
	for i := range order {
		order[i] = i
	}
	sort.Slice(order, func(i, j int) bool { return v[order[i]] < v[order[j]] })
	ranks := make([]float64, len(v))
	for i := 0; i < len(order); {
		j := i
		for j < len(order) && v[order[j]] == v[order[i]] {
			j++
		}
		for k := i; k < j; k++ {
			ranks[order[k]] = float64(i+j+1) / 2
		}
		i = j
	}
	return ranks
}
