package panel

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// PreferenceInput are votes for one of two; who has none is not counted.
type PreferenceInput struct {
	Method string `json:"method"` // paired_preference
	A      int    `json:"prefer_a"`
	B      int    `json:"prefer_b"`
	None   int    `json:"no_preference"`
}

// PreferenceOutput is what they tell. Nil is not defined.
type PreferenceOutput struct {
	N      int        `json:"n_used"`
	P      float64    `json:"p_two_sided"`
	ShareA *float64   `json:"share_a"`
	CI     [2]float64 `json:"ci95"`
	D      *float64   `json:"d_prime"` // signed
	Least  *int       `json:"min_votes_for_significance_05"`
}

// PreferenceOf reads votes, by the exact binomial with its tail doubled.
func PreferenceOf(in PreferenceInput) (out PreferenceOutput, err error) {
	for _, v := range []struct {
		field string
		n     int
	}{{"prefer_a", in.A}, {"prefer_b", in.B}, {"no_preference", in.None}} {
		if v.n < 0 || v.n > mostTests {
			return out, fault.New(v.field, fmt.Sprintf("%d votes", v.n), fmt.Sprintf("give 0 to %d", mostTests))
		}
	}
	out.N, out.P, out.CI = in.A+in.B, 1, [2]float64{0, 1}
	if out.N == 0 {
		return out, nil
	}
	out.P = twoTailed(max(in.A, in.B), out.N)
	share := float64(in.A) / float64(out.N)
	out.ShareA, out.CI = &share, clopperPearson(in.A, out.N)
	if share > 0 && share < 1 {
		d := math.Sqrt2 * distuv.UnitNormal.Quantile(share)
		out.D = &d
	}
	for k := (out.N + 1) / 2; k <= out.N; k++ {
		if twoTailed(k, out.N) <= 0.05 {
			out.Least = &k
			break
		}
	}
	return out, nil
}

// twoTailed is the chance of a split at least so uneven, by tossing a coin.
func twoTailed(more, n int) float64 { return math.Min(1, 2*atLeast(more, n, 0.5)) }
