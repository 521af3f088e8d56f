package verdict

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// PlannedPower is the power of the two-sided paired t, both tails counted.
type PlannedPower struct {
	NRequired            int     `json:"n_required"`
	PowerAtNRequired     float64 `json:"power_at_n_required"`
	PowerAtN             float64 `json:"power_at_n"`
	PowerAtNOneTail      float64 `json:"power_at_n_one_tail"`
	DetectableDifference float64 `json:"detectable_difference_at_n"`
}

// mostPlanned bounds the search for a number of pairs.
const mostPlanned = 100_000

// Power plans a paired trial by the noncentral t. It refuses n below 2, a
// spread of zero and powers or levels outside (0, 1).
func Power(p Planning) (PlannedPower, error) {
	var wrong fault.List
	if p.N < 2 {
		wrong.Add("n", fmt.Sprintf("%d pairs", p.N), "give two or more")
	}
	if !(p.SD > 0) || math.IsInf(p.SD, 0) {
		wrong.Add("sd", fmt.Sprintf("%v is no spread", p.SD), "give more than zero")
	}
	if p.Delta == 0 || math.IsNaN(p.Delta) || math.IsInf(p.Delta, 0) {
		wrong.Add("delta", fmt.Sprintf("%v is no difference to find", p.Delta), "give the smallest difference that matters")
	}
	for name, v := range map[string]float64{"power": p.Power, "alpha": p.Alpha} {
		if !(v > 0 && v < 1) {
			wrong.Add(name, fmt.Sprintf("%v is not between 0 and 1", v), "give for instance 0.8 or 0.05")
		}
	}
	if err := wrong.Err(); err != nil {
		return PlannedPower{}, err
	}
	delta := math.Abs(p.Delta)
	out := PlannedPower{PowerAtN: pairedPower(p.N, delta, p.SD, p.Alpha)}
	crit := tQuantile(1-p.Alpha/2, float64(p.N-1))
	out.PowerAtNOneTail = 1 - noncentralT(crit, float64(p.N-1), delta/p.SD*math.Sqrt(float64(p.N)))
	out.NRequired = leastN(mostPlanned, func(n int) bool { return pairedPower(n, delta, p.SD, p.Alpha) >= p.Power })
	if out.NRequired == 0 {
		return out, fault.New("delta", fmt.Sprintf("%v against a spread of %v would need more than %d pairs", p.Delta, p.SD, mostPlanned), "look for a larger difference")
	}
	out.PowerAtNRequired = pairedPower(out.NRequired, delta, p.SD, p.Alpha)
	low, high := 0.0, p.SD
	for pairedPower(p.N, high, p.SD, p.Alpha) < p.Power {
		high *= 2
	}
	for range 200 {
		mid := (low + high) / 2
		if pairedPower(p.N, mid, p.SD, p.Alpha) < p.Power {
			low = mid
		} else {
			high = mid
		}
	}
	out.DetectableDifference = (low + high) / 2
	return out, nil
}

func pairedPower(n int, delta, sd, alpha float64) float64 {
	df := float64(n - 1)
	crit := tQuantile(1-alpha/2, df)
	ncp := delta / sd * math.Sqrt(float64(n))
	return 1 - noncentralT(crit, df, ncp) + noncentralT(-crit, df, ncp)
}

// leastN is the least n from 2 to most that is enough, 0 if none is. enough
// must not turn false again as n grows.
func leastN(most int, enough func(n int) bool) int {
	low, high := 1, 2
	for !enough(high) {
		if high >= most {
			return 0
		}
		low, high = high, min(2*high, most)
	}
	for high-low > 1 {
		mid := (low + high) / 2
		if enough(mid) {
			high = mid
		} else {
			low = mid
		}
	}
	return high
}
