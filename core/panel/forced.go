package panel

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"gonum.org/v1/gonum/integrate/quad"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// ForcedSource is where the psychometric functions are from.
const ForcedSource = "Exact binomial; Clopper and Pearson, 1934; d' by Ennis, 1993 (triangle, duo-trio) and Green and Swets, 1966"

// Method is a test whose answer is right or wrong.
type Method string

// The methods.
const (
	Triangle Method = "triangle" // which of three is the odd one
	DuoTrio  Method = "duotrio"  // which of two is the reference
	TwoAFC   Method = "twoafc"   // which of two has more of what is asked for
)

// Values lists the methods.
func (Method) Values() []string {
	return []string{string(Triangle), string(DuoTrio), string(TwoAFC)}
}

// Guess is the share that is right by guessing.
func (m Method) Guess() float64 {
	if m == Triangle {
		return 1.0 / 3
	}
	return 0.5
}

func (m Method) check() error {
	if slices.Contains(m.Values(), string(m)) {
		return nil
	}
	return fault.New("method", fmt.Sprintf("%q is no method", m), "give triangle, duotrio or twoafc")
}

// Correct is the share that is right where two samples lie d apart, in standard deviations
// of what a taster perceives. Under 0 only TwoAFC has a meaning.
func (m Method) Correct(d float64) float64 {
	phi := distuv.UnitNormal.CDF
	switch m {
	case Triangle:
		// Symmetric in the perceived difference x of the two like samples.
		return quad.Fixed(func(x float64) float64 {
			return 2 * distuv.UnitNormal.Prob(x) * (phi(-x*math.Sqrt(3)+d*math.Sqrt(2.0/3)) + phi(-x*math.Sqrt(3)-d*math.Sqrt(2.0/3)))
		}, 0, 10, 120, nil, 0)
	case DuoTrio:
		a, b := phi(d/math.Sqrt2), phi(d/math.Sqrt(6))
		return 1 - a - b + 2*a*b
	}
	return phi(d / math.Sqrt2)
}

// farthest is a d' past which everything is right.
const farthest = 40.0

// Apart is how far apart two samples lie that are told apart in so great a share; 0 at or
// under guessing, infinite at 1.
func (m Method) Apart(share float64) float64 {
	if share <= m.Guess() {
		return 0
	}
	if share >= 1 {
		return math.Inf(1)
	}
	low, high := 0.0, farthest
	for range 80 {
		if mid := (low + high) / 2; m.Correct(mid) < share {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2
}

// atLeast is the chance of so many or more right of n.
func atLeast(correct, n int, share float64) float64 {
	if correct <= 0 {
		return 1
	}
	return distuv.Binomial{N: float64(n), P: share}.Survival(float64(correct) - 1)
}

// Least is the least number right of n that guessing reaches with a chance of alpha at most;
// 0 where none does.
func (m Method) Least(n int, alpha float64) int {
	// The chance falls with the number.
	k := 1 + sort.Search(n, func(i int) bool { return atLeast(i+1, n, m.Guess()) <= alpha })
	if k > n {
		return 0
	}
	return k
}

// mostTests bounds how many answers a forced choice has.
const mostTests = 5000

// ForcedInput is a forced choice: so many right of n.
type ForcedInput struct {
	Method  Method `json:"method"`
	Correct int    `json:"correct"`
	N       int    `json:"n"`
}

// ForcedOutput is what it tells. Nil is not defined; an upper bound that is nil is infinite.
type ForcedOutput struct {
	Share        float64     `json:"proportion_correct"`
	P            float64     `json:"p_exact"` // by guessing, so many or more
	Least        *int        `json:"min_correct_05"`
	Significant  bool        `json:"significant_05"`
	ShareCI      [2]float64  `json:"pc_ci95"`
	Tell         float64     `json:"proportion_discriminators"` // who can tell, guessing taken off
	TellCI       [2]float64  `json:"pd_ci95"`
	D            *float64    `json:"d_prime"`
	Infinite     bool        `json:"d_prime_infinite"`
	SE           *float64    `json:"d_prime_se"`
	DCI          [2]*float64 `json:"d_prime_ci95"`
	DCIUnbounded bool        `json:"d_prime_ci_upper_infinite"`
}

// ForcedOf reads a forced choice.
func ForcedOf(in ForcedInput) (out ForcedOutput, err error) {
	if err := in.Method.check(); err != nil {
		return out, err
	}
	if in.N < 1 || in.N > mostTests {
		return out, fault.New("n", fmt.Sprintf("%d answers", in.N), fmt.Sprintf("give 1 to %d", mostTests))
	}
	if in.Correct < 0 || in.Correct > in.N {
		return out, fault.New("correct", fmt.Sprintf("%d right of %d", in.Correct, in.N), "give 0 to all of them")
	}
	guess := in.Method.Guess()
	tell := func(share float64) float64 { return math.Max(0, (share-guess)/(1-guess)) }
	out.Share = float64(in.Correct) / float64(in.N)
	out.P = atLeast(in.Correct, in.N, guess)
	out.Significant = out.P <= 0.05
	if least := in.Method.Least(in.N, 0.05); least > 0 {
		out.Least = &least
	}
	out.ShareCI = clopperPearson(in.Correct, in.N)
	out.Tell, out.TellCI = tell(out.Share), [2]float64{tell(out.ShareCI[0]), tell(out.ShareCI[1])}
	if d := in.Method.Apart(out.Share); math.IsInf(d, 1) {
		out.Infinite = true
	} else {
		out.D = &d
		if d > 0 {
			const step = 1e-4
			slope := (in.Method.Correct(d+step) - in.Method.Correct(d-step)) / (2 * step)
			se := math.Sqrt(out.Share*(1-out.Share)/float64(in.N)) / slope
			out.SE = &se
		}
	}
	low := in.Method.Apart(out.ShareCI[0])
	out.DCI[0] = &low
	if high := in.Method.Apart(out.ShareCI[1]); math.IsInf(high, 1) {
		out.DCIUnbounded = true
	} else {
		out.DCI[1] = &high
	}
	return out, nil
}

// clopperPearson holds the share 95 times in 100 or more.
func clopperPearson(k, n int) [2]float64 {
	x, m := float64(k), float64(n)
	out := [2]float64{0, 1}
	if k > 0 {
		out[0] = distuv.Beta{Alpha: x, Beta: m - x + 1}.Quantile(0.025)
	}
	if k < n {
		out[1] = distuv.Beta{Alpha: x + 1, Beta: m - x}.Quantile(0.975)
	}
	return out
}

// LeastInput asks how many must be right of each number of answers.
type LeastInput struct {
	Method Method  `json:"method"`
	Alpha  float64 `json:"alpha"`
	N      []int   `json:"n"`
}

// LeastOutput has them; nil where all right would not do.
type LeastOutput struct {
	Least []*int `json:"min_correct"`
}

// LeastOf is a table of them.
func LeastOf(in LeastInput) (out LeastOutput, err error) {
	if err := in.Method.check(); err != nil {
		return out, err
	}
	if err := checkAlpha(in.Alpha); err != nil {
		return out, err
	}
	for i, n := range in.N {
		if n < 1 || n > mostTests {
			return out, fault.New(fmt.Sprintf("n[%d]", i), fmt.Sprintf("%d answers", n), fmt.Sprintf("give 1 to %d", mostTests))
		}
		out.Least = append(out.Least, nil)
		if k := in.Method.Least(n, in.Alpha); k > 0 {
			out.Least[i] = &k
		}
	}
	return out, nil
}

func checkAlpha(a float64) error {
	if a > 0 && a < 0.5 {
		return nil
	}
	return fault.New("alpha", fmt.Sprintf("%g is no chance of a false alarm", a), "give more than 0 and less than 0.5, usually 0.05")
}

// ApartInput are distances between samples, in standard deviations of what is perceived.
type ApartInput struct {
	Method Method    `json:"method"`
	D      []float64 `json:"d_prime"`
}

// ApartOutput is the share that is right at each.
type ApartOutput struct {
	Share []float64 `json:"proportion_correct"`
}

// CorrectOf is a table of them.
func CorrectOf(in ApartInput) (out ApartOutput, err error) {
	if err := in.Method.check(); err != nil {
		return out, err
	}
	for i, d := range in.D {
		if !(math.Abs(d) <= farthest) || d < 0 && in.Method != TwoAFC {
			return out, fault.New(fmt.Sprintf("d_prime[%d]", i), fmt.Sprintf("%g is no distance", d), "give 0 to 40")
		}
		out.Share = append(out.Share, in.Method.Correct(d))
	}
	return out, nil
}

// ForcedPowerInput asks how many answers tell a distance with a chance.
type ForcedPowerInput struct {
	Method Method  `json:"method"`
	N      int     `json:"n"`
	D      float64 `json:"d_prime"`
	Alpha  float64 `json:"alpha"`
	Power  float64 `json:"power"`
}

// ForcedPowerOutput has them. The chance jumps with n: past the last number every one reaches it.
type ForcedPowerOutput struct {
	Share    float64 `json:"proportion_correct"`
	Critical *int    `json:"critical_correct"`
	Power    float64 `json:"power_at_n"`
	First    *int    `json:"first_n_reaching_power"`
	Always   *int    `json:"n_always_reaching_power"`
}

// mostPlanned is how far numbers are looked through.
const mostPlanned = 2000

// ForcedPowerOf plans a forced choice.
func ForcedPowerOf(in ForcedPowerInput) (out ForcedPowerOutput, err error) {
	if err := in.Method.check(); err != nil {
		return out, err
	}
	if err := checkAlpha(in.Alpha); err != nil {
		return out, err
	}
	switch {
	case in.N < 1 || in.N > mostPlanned:
		return out, fault.New("n", fmt.Sprintf("%d answers", in.N), fmt.Sprintf("give 1 to %d", mostPlanned))
	case !(in.D > 0 && in.D <= farthest):
		return out, fault.New("d_prime", fmt.Sprintf("%g is no distance to find", in.D), "give more than 0")
	case !(in.Power > 0.5 && in.Power < 1):
		return out, fault.New("power", fmt.Sprintf("%g is no chance to plan for", in.Power), "give 0.5 to 1, usually 0.8")
	}
	out.Share = in.Method.Correct(in.D)
	if k := in.Method.Least(in.N, in.Alpha); k > 0 {
		out.Critical, out.Power = &k, atLeast(k, in.N, out.Share)
	}
	last := 0 // number that does not reach it
	for n := 1; n <= mostPlanned; n++ {
		if k := in.Method.Least(n, in.Alpha); k > 0 && atLeast(k, n, out.Share) >= in.Power {
			if out.First == nil {
				out.First = &n
			}
		} else {
			last = n
		}
		// Far enough past the first, the jumps are over.
		if out.First != nil && n > last+100 {
			break
		}
	}
	if always := last + 1; out.First != nil && always <= mostPlanned {
		out.Always = &always
	}
	return out, nil
}
