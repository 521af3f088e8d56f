// Package design says whether a trial can answer its question: which factors
// move together, which layouts fit what is at hand, how cuts are allotted to
// arms and places, and how many it would take.
package design

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// span is an orthonormal basis that grows column by column (modified
// Gram-Schmidt, twice, which is enough: Giraud and Langou, 2005).
type span struct{ q [][]float64 }

const rankTolerance = 1e-9

// residual is what is left of a column outside the span.
func (s *span) residual(col []float64) []float64 {
	r := append([]float64{}, col...)
	for range 2 {
		for _, q := range s.q {
			d := dot(q, r)
			for i := range r {
				r[i] -= d * q[i]
			}
		}
	}
	return r
}

// add takes a column in; false when the span held it already.
func (s *span) add(col []float64) bool {
	r := s.residual(col)
	n := math.Sqrt(dot(r, r))
	if n <= rankTolerance*math.Max(1, math.Sqrt(dot(col, col))) {
		return false
	}
	for i := range r {
		r[i] /= n
	}
	s.q = append(s.q, r)
	return true
}

func dot(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// rank counts the independent columns.
func rank(cols [][]float64) int {
	var s span
	for _, c := range cols {
		s.add(c)
	}
	return len(s.q)
}

func ones(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = 1
	}
	return out
}

// codes numbers the values of a column from 0 in order of first appearance.
func codes(column []string) (code []int, levels int) {
	seen := map[string]int{}
	code = make([]int, len(column))
	for i, v := range column {
		n, ok := seen[v]
		if !ok {
			n = len(seen)
			seen[v] = n
		}
		code[i] = n
	}
	return code, len(seen)
}

// dummies are the treatment-coded columns of a factor: one for each level but
// the first.
func dummies(code []int, levels int) [][]float64 {
	out := make([][]float64, levels-1)
	for l := range out {
		out[l] = make([]float64, len(code))
		for i, c := range code {
			if c == l+1 {
				out[l][i] = 1
			}
		}
	}
	return out
}

// follows says whether knowing a is knowing b.
func follows(a, b []int) bool {
	of := map[int]int{}
	for i := range a {
		if v, ok := of[a[i]]; ok && v != b[i] {
			return false
		}
		of[a[i]] = b[i]
	}
	return true
}

// MuchTogether is the association from which two things that move together in
// part are warned of: our own line.
const MuchTogether = 0.5

// cramersV is the association of two columns from 0 to 1 (Cramér, 1946); for
// two factors of two levels it is the size of their correlation.
func cramersV(a, b []int, levelsA, levelsB int) float64 {
	if levelsA < 2 || levelsB < 2 {
		return 0
	}
	n := float64(len(a))
	cell := make([][]float64, levelsA)
	rows, cols := make([]float64, levelsA), make([]float64, levelsB)
	for i := range cell {
		cell[i] = make([]float64, levelsB)
	}
	for i := range a {
		cell[a[i]][b[i]]++
		rows[a[i]]++
		cols[b[i]]++
	}
	chi2 := 0.0
	for i := range cell {
		for j := range cell[i] {
			expected := rows[i] * cols[j] / n
			chi2 += (cell[i][j] - expected) * (cell[i][j] - expected) / expected
		}
	}
	return math.Sqrt(chi2 / (n * float64(min(levelsA, levelsB)-1)))
}

// ArmTable is the arms of a trial as rows of factor levels.
type ArmTable struct {
	Factors []string   `json:"factors"`
	Arms    [][]string `json:"arms"`
}

// Estimable says how much of a factor a table can tell.
type Estimable string

// The degrees.
const (
	Full      Estimable = "full"
	Partial   Estimable = "partial"
	Nothing   Estimable = "none"
	NotVaried Estimable = "not varied"
)

// Values lists the degrees.
func (Estimable) Values() []string {
	return []string{string(Full), string(Partial), string(Nothing), string(NotVaried)}
}

// FactorReading is what a table of arms can tell of one factor. GVIF is the
// generalised variance inflation (Fox and Monette, 1992), nil unless the
// factor is fully estimable.
type FactorReading struct {
	Factor      string    `json:"factor"`
	Levels      int       `json:"levels"`
	DF          int       `json:"df"`
	DFEstimable int       `json:"df_estimable"`
	Estimable   Estimable `json:"estimable"`
	GVIF        *float64  `json:"gvif"`
}

// Determined is a factor that follows from another, and not the other way.
type Determined struct {
	Factor       string `json:"factor"`
	DeterminedBy string `json:"determined_by"`
}

// PartPair is two factors that move together in part.
type PartPair struct {
	Pair     [2]string `json:"pair"`
	CramersV float64   `json:"cramers_v"`
}

// Confounding is what moves together in a table of arms.
type Confounding struct {
	ModelColumns int             `json:"model_columns"`
	ModelRank    int             `json:"model_rank"`
	DFLeft       int             `json:"df_left"`
	Factors      []FactorReading `json:"factors"`
	Completely   [][2]string     `json:"completely_confounded_pairs"`
	Determined   []Determined    `json:"determined"`
	Partly       []PartPair      `json:"partly_confounded_pairs"`
}

// column is one factor of a table, coded.
type column struct {
	name   string
	code   []int
	levels int
}

func (t ArmTable) columns() []column {
	out := make([]column, len(t.Factors))
	for f, name := range t.Factors {
		values := make([]string, len(t.Arms))
		for i, arm := range t.Arms {
			values[i] = arm[f]
		}
		out[f].name = name
		out[f].code, out[f].levels = codes(values)
	}
	return out
}

// ConfoundingOf reads the main effects of a table of arms under treatment coding: a
// factor is estimable as far as entering it last raises the rank.
func ConfoundingOf(t ArmTable) (Confounding, error) {
	for i, arm := range t.Arms {
		if len(arm) != len(t.Factors) {
			return Confounding{}, fault.New(fmt.Sprintf("arms[%d]", i), fmt.Sprintf("%d levels for %d factors", len(arm), len(t.Factors)), "give each arm one level of each factor")
		}
	}
	if len(t.Arms) == 0 || len(t.Factors) == 0 {
		return Confounding{}, fault.New("arms", "no arm or no factor", "give at least one of each")
	}
	cols := t.columns()
	out := Confounding{ModelColumns: 1, Completely: [][2]string{}, Determined: []Determined{}, Partly: []PartPair{}}
	all := span{}
	all.add(ones(len(t.Arms)))
	for _, c := range cols {
		out.ModelColumns += c.levels - 1
		for _, d := range dummies(c.code, c.levels) {
			all.add(d)
		}
	}
	out.ModelRank = len(all.q)
	out.DFLeft = len(t.Arms) - out.ModelRank
	for i := range cols {
		out.Factors = append(out.Factors, reading(cols, i))
	}
	for i, a := range cols {
		for _, b := range cols[i+1:] {
			if a.levels < 2 || b.levels < 2 {
				continue
			}
			ab, ba := follows(a.code, b.code), follows(b.code, a.code)
			switch v := cramersV(a.code, b.code, a.levels, b.levels); {
			case ab && ba:
				out.Completely = append(out.Completely, [2]string{a.name, b.name})
			case ab:
				out.Determined = append(out.Determined, Determined{b.name, a.name})
			case ba:
				out.Determined = append(out.Determined, Determined{a.name, b.name})
			case v > 1e-9:
				out.Partly = append(out.Partly, PartPair{[2]string{a.name, b.name}, v})
			}
		}
	}
	return out, nil
}

func reading(cols []column, which int) FactorReading {
	c := cols[which]
	r := FactorReading{Factor: c.name, Levels: c.levels, DF: c.levels - 1, Estimable: NotVaried}
	if c.levels < 2 {
		return r
	}
	var rest, mean span
	rest.add(ones(len(c.code)))
	mean.add(ones(len(c.code)))
	for i, other := range cols {
		if i == which || other.levels < 2 {
			continue
		}
		for _, d := range dummies(other.code, other.levels) {
			rest.add(d)
		}
	}
	own := dummies(c.code, c.levels)
	alone, adjusted := make([][]float64, len(own)), make([][]float64, len(own))
	for i, d := range own {
		alone[i], adjusted[i] = mean.residual(d), rest.residual(d)
	}
	grown := rest
	for _, d := range own {
		if grown.add(d) {
			r.DFEstimable++
		}
	}
	switch r.DFEstimable {
	case r.DF:
		r.Estimable = Full
		v := gram(alone) / gram(adjusted)
		r.GVIF = &v
	case 0:
		r.Estimable = Nothing
	default:
		r.Estimable = Partial
	}
	return r
}

// gram is the determinant of the columns' inner products: the squared volume
// they span.
func gram(cols [][]float64) float64 {
	var s span
	volume := 1.0
	for _, c := range cols {
		r := s.residual(c)
		volume *= dot(r, r)
		s.add(c)
	}
	return volume
}
