package design

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"sort"

	"whitebarn/core/fault"
)

// PositionsInput is which arm stood where: a row for each cook, a column for
// each position of the pit.
type PositionsInput struct {
	Arms [][]string `json:"arms_by_cook_and_position"`
}

// Positions says how arms and positions met. The variance of a difference of
// two arms is in units of one cut's variance, in arm + cook + position; nil
// when the arms cannot be told from the positions.
type Positions struct {
	Arms           []string `json:"arms"`
	IsLatinSquare  bool     `json:"is_latin_square"`
	ArmByPosition  [][]int  `json:"arm_by_position"`
	ArmByCook      [][]int  `json:"arm_by_cook"`
	PositionSpread int      `json:"position_spread"`
	CookSpread     int      `json:"cook_spread"`
	ArmsEstimable  bool     `json:"arms_estimable"`
	MeanVariance   *float64 `json:"mean_variance_of_difference_over_sigma2"`
}

// A barn's grates and seasons are smaller than this.
const (
	mostCooks  = 30
	mostPlaces = 50
)

// PositionsOf reads a plan of positions over cooks.
func PositionsOf(in PositionsInput) (Positions, error) {
	out := Positions{Arms: []string{}}
	if len(in.Arms) == 0 || len(in.Arms[0]) == 0 {
		return out, fault.New("arms_by_cook_and_position", "no cook or no position", "give a row for each cook")
	}
	places := len(in.Arms[0])
	if len(in.Arms) > mostCooks || places > mostPlaces {
		return out, fault.New("arms_by_cook_and_position", fmt.Sprintf("%d cooks of %d positions", len(in.Arms), places),
			fmt.Sprintf("give %d cooks of %d positions at most", mostCooks, mostPlaces))
	}
	for i, row := range in.Arms {
		if len(row) != places {
			return out, fault.New(fmt.Sprintf("arms_by_cook_and_position[%d]", i), fmt.Sprintf("%d positions, the first cook has %d", len(row), places), "give every cook the same positions")
		}
		for _, a := range row {
			if !slices.Contains(out.Arms, a) {
				out.Arms = append(out.Arms, a)
			}
		}
	}
	sort.Strings(out.Arms)
	cooks := len(in.Arms)
	out.ArmByPosition, out.ArmByCook = grid(len(out.Arms), places), grid(len(out.Arms), cooks)
	var cols [][]float64 // arms, then cooks, then positions
	for range len(out.Arms) + cooks + places {
		cols = append(cols, make([]float64, cooks*places))
	}
	for c, row := range in.Arms {
		for p, arm := range row {
			a := slices.Index(out.Arms, arm)
			out.ArmByPosition[a][p]++
			out.ArmByCook[a][c]++
			cell := c*places + p
			cols[a][cell], cols[len(out.Arms)+c][cell], cols[len(out.Arms)+cooks+p][cell] = 1, 1, 1
		}
	}
	out.PositionSpread, out.CookSpread = spreadOf(out.ArmByPosition), spreadOf(out.ArmByCook)
	out.IsLatinSquare = cooks == places && places == len(out.Arms) && out.PositionSpread == 0 && out.CookSpread == 0
	out.MeanVariance = meanVariance(cols[:len(out.Arms)], cols[len(out.Arms):])
	out.ArmsEstimable = out.MeanVariance != nil
	return out, nil
}

func grid(rows, cols int) [][]int {
	out := make([][]int, rows)
	for i := range out {
		out[i] = make([]int, cols)
	}
	return out
}

func spreadOf(counts [][]int) int {
	low, high := counts[0][0], counts[0][0]
	for _, row := range counts {
		low, high = min(low, slices.Min(row)), max(high, slices.Max(row))
	}
	return high - low
}

// meanVariance is the mean variance of the difference of two arms, adjusted
// for the nuisance columns; nil if one cannot be estimated. With the arms'
// columns swept of the nuisance, G = A'A is their information, and
// var(a - b) = g+aa + g+bb - 2 g+ab.
func meanVariance(arms, nuisance [][]float64) *float64 {
	k := len(arms)
	if k < 2 {
		return nil
	}
	var rest span
	for _, c := range nuisance {
		rest.add(c)
	}
	// One arm is the base; the others' swept columns are then independent.
	swept := make([][]float64, k-1)
	for i := range swept {
		swept[i] = rest.residual(arms[i+1])
	}
	if rank(swept) < k-1 {
		return nil
	}
	inverse := invert(swept)
	sum, pairs := 0.0, 0.0
	for a := range k {
		for b := a + 1; b < k; b++ {
			pairs++
			if a == 0 {
				sum += inverse[b-1][b-1]
			} else {
				sum += inverse[a-1][a-1] + inverse[b-1][b-1] - 2*inverse[a-1][b-1]
			}
		}
	}
	mean := sum / pairs
	return &mean
}

// invert is the inverse of the columns' inner products, by Gauss and Jordan.
func invert(cols [][]float64) [][]float64 {
	n := len(cols)
	m := make([][]float64, n)
	for i := range m {
		m[i] = make([]float64, 2*n)
		for j := range n {
			m[i][j] = dot(cols[i], cols[j])
		}
		m[i][n+i] = 1
	}
	for i := range m {
		best := i
		for r := i + 1; r < n; r++ {
			if abs(m[r][i]) > abs(m[best][i]) {
				best = r
			}
		}
		m[i], m[best] = m[best], m[i]
		pivot := m[i][i]
		for j := range m[i] {
			m[i][j] /= pivot
		}
		for r := range m {
			if r == i {
				continue
			}
			f := m[r][i]
			for j := range m[r] {
				m[r][j] -= f * m[i][j]
			}
		}
	}
	for i := range m {
		m[i] = m[i][n:]
	}
	return m
}

func abs(v float64) float64 { return max(v, -v) }

// LatinSquare is a random k x k square: each arm once in each row (cook) and
// once in each column (position). It shuffles the rows, columns and letters of
// the cyclic square.
func LatinSquare(r *rand.Rand, k int) [][]int {
	rows, cols, letters := r.Perm(k), r.Perm(k), r.Perm(k)
	out := grid(k, k)
	for i := range out {
		for j := range out[i] {
			out[i][j] = letters[(rows[i]+cols[j])%k]
		}
	}
	return out
}
