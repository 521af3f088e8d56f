package panel

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/integrate/quad"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
	"whitebarn/core/verdict"
)

// RankingSource is where the tests of rank sums are from.
const RankingSource = "Friedman, 1937, with midranks; Christensen et al., 2006 (rank sums apart); Tukey's range for all pairs"

// RankingInput are the ranks that each taster gave the samples; ties share the mean of theirs.
type RankingInput struct {
	Method string      `json:"method"` // ranking
	Ranks  [][]float64 `json:"ranks_by_taster"`
}

// RankingOutput is what separates the samples. Nil where all are tied.
type RankingOutput struct {
	RankSums []float64 `json:"rank_sums"`
	Chi2     *float64  `json:"chi2"`
	DF       int       `json:"df"`
	P        *float64  `json:"p"`
	ExactP   *float64  `json:"exact_p"` // nil past ten million ways
	LSD      float64   `json:"lsd_rank_sum_05"`
	HSD      float64   `json:"hsd_rank_sum_05"`
	Pairs    [][2]int  `json:"pairs_apart_by_hsd"` // samples, from 1
}

// The bounds of a ranking.
const (
	mostRanked  = 12
	mostTasters = 500
)

// RankingOf reads rankings.
func RankingOf(in RankingInput) (out RankingOutput, err error) {
	n := len(in.Ranks)
	if n < 2 || n > mostTasters {
		return out, fault.New("ranks_by_taster", fmt.Sprintf("%d tasters", n), fmt.Sprintf("give 2 to %d", mostTasters))
	}
	k := len(in.Ranks[0])
	if k < 2 || k > mostRanked {
		return out, fault.New("ranks_by_taster[0]", fmt.Sprintf("%d samples", k), fmt.Sprintf("give 2 to %d", mostRanked))
	}
	for i, row := range in.Ranks {
		sum := 0.0
		for _, r := range row {
			sum += r
		}
		if len(row) != k || math.Abs(sum-float64(k*(k+1))/2) > 1e-6 {
			return out, fault.New(fmt.Sprintf("ranks_by_taster[%d]", i), "it is no complete ranking",
				fmt.Sprintf("give each of the %d samples its rank, ties the mean of theirs", k))
		}
	}
	f := verdict.FriedmanOf(in.Ranks)
	out = RankingOutput{RankSums: f.RankSums, Chi2: f.Chi2, DF: f.DF, P: f.P, ExactP: f.ExactP, Pairs: [][2]int{}}
	step := math.Sqrt(float64(n*k*(k+1)) / 12)
	out.LSD, out.HSD = twoSided95*math.Sqrt2*step, rangeQuantile(0.95, k)*step
	for a := range k {
		for b := a + 1; b < k; b++ {
			if math.Abs(f.RankSums[a]-f.RankSums[b]) >= out.HSD {
				out.Pairs = append(out.Pairs, [2]int{a + 1, b + 1})
			}
		}
	}
	return out, nil
}

// rangeQuantile is what the range of k standard normal numbers stays under with chance p.
func rangeQuantile(p float64, k int) float64 {
	under := func(q float64) float64 {
		return quad.Fixed(func(x float64) float64 {
			return float64(k) * distuv.UnitNormal.Prob(x) * math.Pow(distuv.UnitNormal.CDF(x)-distuv.UnitNormal.CDF(x-q), float64(k-1))
		}, -9, 9+q, 200, nil, 0)
	}
	low, high := 0.0, 20.0
	for range 60 {
		if mid := (low + high) / 2; under(mid) < p {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2
}
