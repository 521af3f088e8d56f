package verdict

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// UtilitySource says where the weighing of outcomes comes from.
const UtilitySource = "Additive weighing: Keeney and Raiffa, 1976; linear worth, cut at its ends"

// Criterion is an outcome with its weight and what values are worth 0 and 1; where less is
// better the second is the smaller.
type Criterion struct {
	Name   string  `json:"name"`
	Weight float64 `json:"weight"`
	Zero   float64 `json:"utility_0_at"`
	One    float64 `json:"utility_1_at"`
}

// UtilitiesInput is a value of each arm on each criterion.
type UtilitiesInput struct {
	Arms     []string    `json:"arms"`
	Criteria []Criterion `json:"criteria"`
	Values   [][]float64 `json:"values_by_arm"`
}

// WeightRange is a stretch of a weight with who wins inside it.
type WeightRange struct {
	From    float64  `json:"from"`
	To      float64  `json:"to"`
	Winners []string `json:"winners"`
}

// Sensitivity is what one weight does while the others keep their proportions.
type Sensitivity struct {
	Criterion string        `json:"criterion"`
	Current   float64       `json:"current_weight"`
	Intervals []WeightRange `json:"intervals"`
}

// UtilitiesResult is the arms weighed.
type UtilitiesResult struct {
	Utilities   [][]float64   `json:"utilities"`
	Weights     []float64     `json:"weights_normalized"`
	Scores      []float64     `json:"scores"`
	Winners     []string      `json:"winners"`
	Front       []string      `json:"pareto_front"` // arms that none is better than on every criterion
	Sensitivity []Sensitivity `json:"weight_sensitivity"`
}

// tie is how close scores of one winner lie.
const tie = 1e-9

// Bounds of what can be weighed.
const (
	mostCriteria = 40
	mostValue    = 1e9
)

// Utilities weighs arms by several criteria at once.
func Utilities(in UtilitiesInput) (UtilitiesResult, error) {
	var out UtilitiesResult
	if err := in.check(); err != nil {
		return out, err
	}
	total := 0.0
	for _, c := range in.Criteria {
		total += c.Weight
	}
	for _, c := range in.Criteria {
		out.Weights = append(out.Weights, c.Weight/total)
	}
	for _, values := range in.Values {
		var row []float64
		for k, c := range in.Criteria {
			row = append(row, math.Min(1, math.Max(0, (values[k]-c.Zero)/(c.One-c.Zero))))
		}
		out.Utilities = append(out.Utilities, row)
	}
	out.Scores = scoresOf(out.Utilities, out.Weights)
	out.Winners = in.winners(out.Scores)
	for a := range in.Arms {
		if !slices.ContainsFunc(in.Values, func(other []float64) bool { return in.beats(other, in.Values[a]) }) {
			out.Front = append(out.Front, in.Arms[a])
		}
	}
	for k := range in.Criteria {
		out.Sensitivity = append(out.Sensitivity, in.sensitivity(k, out))
	}
	return out, nil
}

func (in UtilitiesInput) check() error {
	if n := len(in.Arms); n < 1 || n > mostTableArms || len(in.Values) != n {
		return fault.New("arms", fmt.Sprintf("%d arms with %d rows of values", n, len(in.Values)), fmt.Sprintf("give 1 to %d, with a row for each", mostTableArms))
	}
	if n := len(in.Criteria); n < 1 || n > mostCriteria {
		return fault.New("criteria", fmt.Sprintf("%d criteria", n), fmt.Sprintf("give 1 to %d", mostCriteria))
	}
	total := 0.0
	for k, c := range in.Criteria {
		field := fmt.Sprintf("criteria[%d]", k)
		switch {
		case !(c.Weight >= 0 && c.Weight <= mostValue) || c.Weight != 0 && c.Weight < 1e-6:
			return fault.New(field+".weight", fmt.Sprintf("%v is no weight", c.Weight), "give zero or more")
		case !(math.Abs(c.One-c.Zero) > 1e-9) || math.Abs(c.One) > mostValue || math.Abs(c.Zero) > mostValue:
			return fault.New(field+".utility_1_at", fmt.Sprintf("%v is worth 1 and %v worth 0", c.One, c.Zero), "let them differ")
		}
		total += c.Weight
	}
	if total == 0 {
		return fault.New("criteria", "all weights are zero", "give one of them a weight")
	}
	for a, row := range in.Values {
		if len(row) != len(in.Criteria) {
			return fault.New(fmt.Sprintf("values_by_arm[%d]", a), fmt.Sprintf("%d values for %d criteria", len(row), len(in.Criteria)), "give one for each")
		}
		for k, v := range row {
			if !(math.Abs(v) <= mostValue) {
				return fault.New(fmt.Sprintf("values_by_arm[%d][%d]", a, k), fmt.Sprintf("%v is past any scale", v), "check the number")
			}
		}
	}
	return nil
}

func scoresOf(utilities [][]float64, weights []float64) []float64 {
	out := make([]float64, len(utilities))
	for a, row := range utilities {
		for k, u := range row {
			out[a] += weights[k] * u
		}
	}
	return out
}

func (in UtilitiesInput) winners(scores []float64) (out []string) {
	best := slices.Max(scores)
	for a, s := range scores {
		if s >= best-tie {
			out = append(out, in.Arms[a])
		}
	}
	return out
}

// beats says whether one arm is at least as good on every criterion and better on one.
func (in UtilitiesInput) beats(one, other []float64) bool {
	better := false
	for k, c := range in.Criteria {
		d := one[k] - other[k]
		if c.One < c.Zero {
			d = -d
		}
		if d < 0 {
			return false
		}
		better = better || d > 0
	}
	return better
}

// sensitivity moves one weight over 0 to 1 while the others keep their proportions, equal
// where all are zero: stretches between the points at which two arms cross.
func (in UtilitiesInput) sensitivity(k int, r UtilitiesResult) Sensitivity {
	out := Sensitivity{Criterion: in.Criteria[k].Name, Current: r.Weights[k]}
	rest := make([]float64, len(r.Weights))
	sum := 1 - r.Weights[k]
	for i, w := range r.Weights {
		switch {
		case i == k:
		case sum > 1e-12:
			rest[i] = w / sum
		case len(rest) > 1:
			rest[i] = 1 / float64(len(rest)-1)
		}
	}
	others := scoresOf(r.Utilities, rest)
	at := func(v float64) []float64 {
		scores := make([]float64, len(others))
		for a := range scores {
			scores[a] = v*r.Utilities[a][k] + (1-v)*others[a]
		}
		return scores
	}
	points := []float64{0, 1}
	for a := range others {
		for b := range a {
			// v u_a + (1 - v) o_a = v u_b + (1 - v) o_b
			du, do := r.Utilities[a][k]-r.Utilities[b][k], others[a]-others[b]
			if v := do / (do - du); du != do && v > 1e-12 && v < 1-1e-12 {
				points = append(points, v)
			}
		}
	}
	slices.Sort(points)
	for i := 1; i < len(points); i++ {
		from, to := points[i-1], points[i]
		if to-from < 1e-12 {
			continue
		}
		winners := in.winners(at((from + to) / 2))
		if n := len(out.Intervals); n > 0 && slices.Equal(out.Intervals[n-1].Winners, winners) {
			out.Intervals[n-1].To = to
			continue
		}
		out.Intervals = append(out.Intervals, WeightRange{from, to, winners})
	}
	return out
}
