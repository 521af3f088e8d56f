package verdict

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// MixedSource says where the mixed model comes from.
const MixedSource = "Patterson and Thompson, 1971 (REML); Satterthwaite, 1946, and Giesbrecht and Burns, 1985 (degrees of freedom)"

// MixedInput is one ballot a row: arm, taster, cut and score, in the order that Columns
// names; a score of null is missing. The first arm is the one the others are held against.
type MixedInput struct {
	Arms    []string            `json:"arms"`
	Columns []string            `json:"columns"`
	Rows    [][]json.RawMessage `json:"rows"`
}

// FixedEffect is the intercept or an arm less the first; df and p are nil where a component
// of the model is at zero.
type FixedEffect struct {
	Term     string   `json:"term"`
	Estimate float64  `json:"estimate"`
	SE       float64  `json:"se"`
	DF       *float64 `json:"df_satterthwaite"`
	T        float64  `json:"t"`
	P        *float64 `json:"p"`
}

// MixedFit is one model of the ballots.
type MixedFit struct {
	Kept     []string           `json:"kept,omitempty"` // of a reduced one: the components it keeps
	Variance map[string]float64 `json:"variance"`       // taster, cut, piece, residual
	REML     float64            `json:"reml_criterion"` // -2 log restricted likelihood
	Singular bool               `json:"singular"`       // a component is at zero
	Fixed    []FixedEffect      `json:"fixed"`
}

// PairedRoute averages tasters first and compares arms over the cuts that have every one.
type PairedRoute struct {
	Cuts      int       `json:"cuts_used"`
	ArmMeans  []float64 `json:"arm_means"`
	Diff      *float64  `json:"diff_second_minus_first,omitempty"`
	SE        *float64  `json:"se,omitempty"`
	DF        int       `json:"df,omitempty"`
	T         *float64  `json:"t,omitempty"`
	F         *float64  `json:"f,omitempty"`
	DF1       int       `json:"df1,omitempty"`
	DF2       int       `json:"df2,omitempty"`
	P         *float64  `json:"p,omitempty"`
	SEDiff    *float64  `json:"se_difference,omitempty"`
	SameBasic bool      `json:"estimate_same_as_basic"`
	SESame    bool      `json:"se_same_as_basic"`
	SamePiece *bool     `json:"estimate_same_as_with_piece,omitempty"`
	SEPiece   *bool     `json:"se_same_as_with_piece,omitempty"`
}

// MixedResult holds `score ~ arm + (1|taster) + (1|cut)`, the same without components at
// zero, the same with a term for the piece that was cooked, and the paired way.
type MixedResult struct {
	Ballots   int          `json:"n_ballots"`
	Basic     MixedFit     `json:"basic"`
	Reduced   *MixedFit    `json:"reduced,omitempty"`
	WithPiece *MixedFit    `json:"with_piece,omitempty"`
	Paired    *PairedRoute `json:"paired_route,omitempty"`
}

// MostBallots bounds a mixed model: it works with a table of ballots by ballots.
const MostBallots = 400

// mixedRow is one ballot.
type mixedRow struct {
	arm         int
	taster, cut string
	score       float64
}

// MixedOf fits the models of ballots.
func MixedOf(in MixedInput) (MixedResult, error) {
	rows, err := in.read()
	if err != nil {
		return MixedResult{}, err
	}
	return mixed(in.Arms, rows), nil
}

func (in MixedInput) read() (rows []mixedRow, err error) {
	if n := len(in.Arms); n < 2 || n > mostTableArms {
		return nil, fault.New("arms", fmt.Sprintf("%d arms", n), fmt.Sprintf("give 2 to %d", mostTableArms))
	}
	if len(in.Rows) > MostBallots {
		return nil, fault.New("rows", fmt.Sprintf("%d ballots", len(in.Rows)), fmt.Sprintf("give %d at most", MostBallots))
	}
	at := map[string]int{}
	for i, c := range in.Columns {
		at[c] = i
	}
	for _, c := range []string{"arm", "taster", "cut", "score"} {
		if _, ok := at[c]; !ok {
			return nil, fault.New("columns", "there is no column "+c, "name arm, taster, cut and score")
		}
	}
	there := make([]int, len(in.Arms))
	for i, row := range in.Rows {
		field := fmt.Sprintf("rows[%d]", i)
		if len(row) != len(in.Columns) {
			return nil, fault.New(field, fmt.Sprintf("%d values for %d columns", len(row), len(in.Columns)), "give one for each")
		}
		var r mixedRow
		var arm string
		var score *float64
		for c, into := range map[string]any{"arm": &arm, "taster": &r.taster, "cut": &r.cut, "score": &score} {
			if json.Unmarshal(row[at[c]], into) != nil {
				return nil, fault.New(field, fmt.Sprintf("%s is no %s", row[at[c]], c), "give words for arm, taster and cut, and a number for the score")
			}
		}
		if r.arm = slices.Index(in.Arms, arm); r.arm < 0 {
			return nil, fault.New(field, fmt.Sprintf("%q is none of the arms", arm), "name one of them")
		}
		if score == nil {
			continue
		}
		if r.score = *score; math.Abs(r.score) > 1e6 || r.score != 0 && math.Abs(r.score) < 1e-6 {
			return nil, fault.New(field, fmt.Sprintf("%v is past any scale", *score), "check the number")
		}
		there[r.arm]++
		rows = append(rows, r)
	}
	for a, n := range there {
		if n < 2 {
			return nil, fault.New("rows", in.Arms[a]+" has fewer than two ballots", "give two or more of each arm")
		}
	}
	return rows, nil
}

func mixed(arms []string, rows []mixedRow) MixedResult {
	out := MixedResult{Ballots: len(rows)}
	taster := componentOf("taster", rows, func(r mixedRow) string { return r.taster })
	cut := componentOf("cut", rows, func(r mixedRow) string { return r.cut })
	piece := componentOf("piece", rows, func(r mixedRow) string { return fmt.Sprint(r.cut, "\x00", r.arm) })
	basic := fitREML(arms, rows, taster, cut)
	out.Basic = basic.said(arms)
	if out.Basic.Singular {
		out.Reduced = basic.reduced(arms, rows)
	}
	if piece.n < len(rows) && piece.n > cut.n {
		with := fitREML(arms, rows, taster, cut, piece).said(arms)
		out.WithPiece = &with
	}
	out.Paired = pairedRoute(len(arms), rows)
	if out.Paired != nil {
		out.Paired.compare(out.Basic, out.WithPiece)
	}
	return out
}

// reduced is the fit without the components that are at zero.
func (f remlFit) reduced(arms []string, rows []mixedRow) *MixedFit {
	var kept []component
	var names []string
	for i, c := range f.components {
		if f.variance[i] > 0 {
			kept, names = append(kept, c), append(names, c.name)
		}
	}
	out := fitREML(arms, rows, kept...).said(arms)
	out.Kept = names
	return &out
}

// pairedRoute averages tasters within cut and arm; nil where fewer than two cuts hold every
// arm.
func pairedRoute(arms int, rows []mixedRow) *PairedRoute {
	var cuts []string
	sum, n := map[string][]float64{}, map[string][]float64{}
	for _, r := range rows {
		if sum[r.cut] == nil {
			cuts = append(cuts, r.cut)
			sum[r.cut], n[r.cut] = make([]float64, arms), make([]float64, arms)
		}
		sum[r.cut][r.arm] += r.score
		n[r.cut][r.arm]++
	}
	var table [][]float64
	for _, c := range cuts {
		if slices.Min(n[c]) == 0 {
			continue
		}
		row := make([]float64, arms)
		for a := range row {
			row[a] = sum[c][a] / n[c][a]
		}
		table = append(table, row)
	}
	if len(table) < 2 {
		return nil
	}
	out := &PairedRoute{Cuts: len(table), ArmMeans: columnMeans(table)}
	if arms > 2 {
		a := anovaOf(table)
		out.DF1, out.DF2, out.F, out.P = arms-1, (arms-1)*(len(table)-1), a.FArm, a.PArm
		out.SEDiff = ptr(math.Sqrt(2 * a.MSResid / float64(len(table))))
		return out
	}
	differences := make([]float64, len(table))
	for i, row := range table {
		differences[i] = roundTie(row[1] - row[0])
	}
	mean, se := meanSE(differences)
	out.Diff, out.SE, out.DF = &mean, &se, len(table)-1
	if se > 0 {
		out.T = ptr(mean / se)
		out.P = ptr(2 * tTail(math.Abs(*out.T), float64(out.DF)))
	}
	return out
}

// compare says whether the paired way comes to what the models say.
func (p *PairedRoute) compare(basic MixedFit, with *MixedFit) {
	se := p.SE
	if se == nil {
		se = p.SEDiff
	}
	same := func(f MixedFit) (estimate, error bool) {
		estimate, error = true, true
		for i, e := range f.Fixed[1:] {
			estimate = estimate && math.Abs(p.ArmMeans[i+1]-p.ArmMeans[0]-e.Estimate) < 1e-4
			error = error && math.Abs(*se-e.SE) < 2e-4*math.Max(*se, e.SE)
		}
		return estimate, error
	}
	p.SameBasic, p.SESame = same(basic)
	if with != nil {
		e, s := same(*with)
		p.SamePiece, p.SEPiece = &e, &s
	}
}
