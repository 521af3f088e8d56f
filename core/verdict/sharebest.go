package verdict

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// ShareSource says where the resampling comes from.
const ShareSource = "Bootstrap of whole blocks: Efron, 1979; all resamples enumerated"

// ShareInput is a score of each arm in each block.
type ShareInput struct {
	Arms   []string    `json:"arms"`
	Scores [][]float64 `json:"scores_by_block"`
}

// ShareResult is how often each arm comes out best over all resamples of the blocks: ties
// split, and alone.
type ShareResult struct {
	Resamples int       `json:"resamples"`
	Means     []float64 `json:"means"`
	Best      []float64 `json:"share_best"`
	Sole      []float64 `json:"share_sole_best"`
}

// mostResampled is how many blocks are enumerated: their multisets stay under a million.
const mostResampled = 10

// ShareBest resamples whole blocks, all n^n ways, by the multinomial weight of each multiset.
func ShareBest(in ShareInput) (ShareResult, error) {
	var out ShareResult
	n, arms := len(in.Scores), len(in.Arms)
	if arms < 2 || arms > mostTableArms {
		return out, fault.New("arms", fmt.Sprintf("%d arms", arms), fmt.Sprintf("give 2 to %d", mostTableArms))
	}
	if n < 1 || n > mostResampled {
		return out, fault.New("scores_by_block", fmt.Sprintf("%d blocks", n), fmt.Sprintf("give 1 to %d", mostResampled))
	}
	for b, row := range in.Scores {
		if len(row) != arms {
			return out, fault.New(fmt.Sprintf("scores_by_block[%d]", b), fmt.Sprintf("%d values for %d arms", len(row), arms), "give one for each")
		}
		for a, v := range row {
			if !(math.Abs(v) <= mostValue) {
				return out, fault.New(fmt.Sprintf("scores_by_block[%d][%d]", b, a), fmt.Sprintf("%v is past any scale", v), "check the number")
			}
		}
	}
	out = ShareResult{Resamples: int(math.Round(math.Pow(float64(n), float64(n)))), Means: columnMeans(in.Scores),
		Best: make([]float64, arms), Sole: make([]float64, arms)}
	sums := make([]float64, arms)
	var deal func(block, left int, weight float64)
	deal = func(block, left int, weight float64) {
		if block == n-1 {
			out.count(in.Scores[block], sums, left, weight/factorial(left))
			return
		}
		for k := 0; k <= left; k++ {
			for a := range sums {
				sums[a] += float64(k) * in.Scores[block][a]
			}
			deal(block+1, left-k, weight/factorial(k))
			for a := range sums {
				sums[a] -= float64(k) * in.Scores[block][a]
			}
		}
	}
	deal(0, n, factorial(n)/math.Pow(float64(n), float64(n)))
	return out, nil
}

// count adds one multiset, whose last block comes so many times.
func (r *ShareResult) count(last, sums []float64, times int, weight float64) {
	scores := make([]float64, len(sums))
	for a := range sums {
		scores[a] = roundTie(sums[a] + float64(times)*last[a])
	}
	best := slices.Max(scores)
	tied := 0.0
	for _, s := range scores {
		if s == best {
			tied++
		}
	}
	for a, s := range scores {
		if s == best {
			r.Best[a] += weight / tied
			if tied == 1 {
				r.Sole[a] += weight
			}
		}
	}
}

func factorial(n int) float64 { return math.Gamma(float64(n) + 1) }
