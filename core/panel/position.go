package panel

import (
	"encoding/json"
	"fmt"
	"slices"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// PositionSource is where the test of the order of a plate is from.
const PositionSource = "Fisher, 1935: least squares, each term after the others"

// PositionInput are ballots: arm, taster, position from 1, and score; a null score is left out.
type PositionInput struct {
	Columns []string            `json:"columns"`
	Rows    [][]json.RawMessage `json:"rows"`
}

// PositionTerm is what one thing explains after the two others.
type PositionTerm struct {
	SS float64 `json:"ss"`
	DF int     `json:"df"`
	F  float64 `json:"f"`
	P  float64 `json:"p"`
}

// PositionOutput says whether scores hang on the place on the plate. Terms are nil where it
// cannot be told: everybody had one order, or nothing is left to judge by.
type PositionOutput struct {
	Ballots    int           `json:"n_ballots"`
	DF         int           `json:"df_resid"`
	SS         float64       `json:"ss_resid"`
	Testable   bool          `json:"testable"`
	Arm        *PositionTerm `json:"arm"`
	Taster     *PositionTerm `json:"taster"`
	Position   *PositionTerm `json:"position"`
	Means      []float64     `json:"position_means"`
	Orthogonal bool          `json:"orthogonal"` // every two of them meet equally often
}

var positionColumns = []string{"arm", "taster", "position", "score"}

// plated is one ballot, its words as numbers from 0.
type plated struct {
	of    [3]int // arm, taster, position
	score float64
}

// PositionEffect reads ballots.
func PositionEffect(in PositionInput) (out PositionOutput, err error) {
	ballots, levels, err := platedOf(in)
	if err != nil {
		return out, err
	}
	out, _ = effectOf(ballots, levels)
	return out, nil
}

// effectOf reads ballots; ok is false where it cannot be told.
func effectOf(ballots []plated, levels [3]int) (out PositionOutput, ok bool) {
	out.Ballots = len(ballots)
	whole, rank := residual(ballots, levels, -1)
	wanted := 1
	for _, n := range levels {
		wanted += n - 1
	}
	out.SS, out.DF = whole, len(ballots)-rank
	out.Means, out.Orthogonal = positionMeans(ballots, levels[2]), orthogonal(ballots, levels)
	out.Testable = rank == wanted && out.DF > 0 && whole > 1e-12
	if !out.Testable {
		return out, false
	}
	for i, to := range []**PositionTerm{&out.Arm, &out.Taster, &out.Position} {
		without, less := residual(ballots, levels, i)
		t := PositionTerm{SS: max(without-whole, 0), DF: rank - less}
		t.F = t.SS / float64(t.DF) / (whole / float64(out.DF))
		t.P = distuv.F{D1: float64(t.DF), D2: float64(out.DF)}.Survival(t.F)
		*to = &t
	}
	return out, true
}

// platedOf reads the rows.
func platedOf(in PositionInput) (out []plated, levels [3]int, err error) {
	if !slices.Equal(in.Columns, positionColumns) {
		return nil, levels, fault.New("columns", fmt.Sprintf("%q", in.Columns), "give arm, taster, position, score")
	}
	if len(in.Rows) > mostCells {
		return nil, levels, fault.New("rows", fmt.Sprintf("%d ballots", len(in.Rows)), fmt.Sprintf("give %d at most", mostCells))
	}
	var known [2]map[string]int
	known[0], known[1] = map[string]int{}, map[string]int{}
	for i, row := range in.Rows {
		at := fmt.Sprintf("rows[%d]", i)
		var words [2]string
		var position int
		var score *float64
		if len(row) != len(positionColumns) || json.Unmarshal(row[0], &words[0]) != nil || json.Unmarshal(row[1], &words[1]) != nil ||
			json.Unmarshal(row[2], &position) != nil || json.Unmarshal(row[3], &score) != nil || position < 1 || position > mostRanked {
			return nil, levels, fault.New(at, "it is no ballot", "give the arm and the taster in words, the position from 1, the score or null")
		}
		if score == nil {
			continue
		}
		b := plated{score: *score}
		for k, w := range words {
			n, ok := known[k][w]
			if !ok {
				n = len(known[k])
				known[k][w] = n
			}
			b.of[k] = n
		}
		b.of[2] = position - 1
		levels[2] = max(levels[2], position)
		out = append(out, b)
	}
	levels[0], levels[1] = len(known[0]), len(known[1])
	if len(out) == 0 || levels[0] < 2 || levels[1] < 2 || levels[2] < 2 {
		return nil, levels, fault.New("rows", "too little to compare", "give ballots of two arms, tasters and positions or more")
	}
	return out, levels, nil
}

// residual is what the least squares leave without one term (-1: with all), and their rank.
func residual(ballots []plated, levels [3]int, without int) (ss float64, rank int) {
	columns := 1
	var from [3]int
	for k, n := range levels {
		if from[k] = columns; k != without {
			columns += n - 1
		}
	}
	x, y := mat.NewDense(len(ballots), columns, nil), mat.NewVecDense(len(ballots), nil)
	for i, b := range ballots {
		x.Set(i, 0, 1)
		y.SetVec(i, b.score)
		for k, level := range b.of {
			if k != without && level > 0 {
				x.Set(i, from[k]+level-1, 1)
			}
		}
	}
	var svd mat.SVD
	if !svd.Factorize(x, mat.SVDThin) {
		return 0, 0
	}
	rank = svd.Rank(1e-9)
	// What is left is y less its part in the space of the columns.
	var u mat.Dense
	svd.UTo(&u)
	ss = mat.Dot(y, y)
	for j := range rank {
		p := mat.Dot(u.ColView(j), y)
		ss -= p * p
	}
	return max(ss, 0), rank
}

func positionMeans(ballots []plated, n int) []float64 {
	sum, count := make([]float64, n), make([]float64, n)
	for _, b := range ballots {
		sum[b.of[2]] += b.score
		count[b.of[2]]++
	}
	for i := range sum {
		sum[i] /= max(count[i], 1)
	}
	return sum
}

// orthogonal says whether every level of each meets every level of the others in proportion.
func orthogonal(ballots []plated, levels [3]int) bool {
	for a := range 3 {
		for b := range a {
			meet := make([][]int, levels[a])
			for i := range meet {
				meet[i] = make([]int, levels[b])
			}
			rows, columns := make([]int, levels[a]), make([]int, levels[b])
			for _, p := range ballots {
				meet[p.of[a]][p.of[b]]++
				rows[p.of[a]]++
				columns[p.of[b]]++
			}
			for i := range meet {
				for j, n := range meet[i] {
					if n*len(ballots) != rows[i]*columns[j] {
						return false
					}
				}
			}
		}
	}
	return true
}
