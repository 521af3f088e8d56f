package verdict

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"
)

// ANOVA is the two-way analysis of variance without interaction. PermP is the share of all
// permutations within blocks that tell the arms apart at least as far; nil past 400,000.
type ANOVA struct {
	SSArm   float64  `json:"ss_arm"`
	DFArm   int      `json:"df_arm"`
	SSBlock float64  `json:"ss_block"`
	DFBlock int      `json:"df_block"`
	SSResid float64  `json:"ss_resid"`
	DFResid int      `json:"df_resid"`
	MSResid float64  `json:"ms_resid"`
	SSTotal float64  `json:"ss_total"`
	FArm    *float64 `json:"f_arm"`
	PArm    *float64 `json:"p_arm"`
	FBlock  *float64 `json:"f_block"`
	PBlock  *float64 `json:"p_block"`
	PermP   *float64 `json:"perm_p"`
}

// Friedman is the test of ranks within blocks with midranks and tie correction.
type Friedman struct {
	RankSums []float64 `json:"rank_sums"`
	Chi2     *float64  `json:"chi2"`
	DF       int       `json:"df"`
	P        *float64  `json:"p"`
	ExactP   *float64  `json:"exact_p"`
	KendallW *float64  `json:"kendall_w"`
}

// PairedTest is Student's paired t of two arms.
type PairedTest struct {
	Pair  [2]string `json:"pair"`
	Diff  float64   `json:"diff"`
	P     *float64  `json:"p"`
	PHolm *float64  `json:"p_holm,omitempty"`
}

func columnMeans(table [][]float64) []float64 {
	out := make([]float64, len(table[0]))
	for _, row := range table {
		for a, y := range row {
			out[a] += y / float64(len(table))
		}
	}
	return out
}

// fTest is F with its p; nil where the residual is nothing.
func fTest(ss, df, ssResid, dfResid float64) (f, p *float64) {
	if df < 1 || dfResid < 1 || ssResid <= 1e-12 {
		return nil, nil
	}
	v := max(0, ss) / df / (ssResid / dfResid) // a difference of sums may come out a hair under nothing
	return &v, ptr(distuv.F{D1: df, D2: dfResid}.Survival(v))
}

func sumSquares(v []float64, about, weight float64) (ss float64) {
	for _, x := range v {
		ss += weight * (x - about) * (x - about)
	}
	return ss
}

func anovaOf(table [][]float64) *ANOVA {
	blocks, arms := len(table), len(table[0])
	means := columnMeans(table)
	grand, total := 0.0, 0.0
	for _, m := range means {
		grand += m / float64(arms)
	}
	rows := make([]float64, blocks)
	for b, row := range table {
		for _, y := range row {
			rows[b] += y / float64(arms)
			total += (y - grand) * (y - grand)
		}
	}
	out := &ANOVA{DFArm: arms - 1, DFBlock: blocks - 1, DFResid: (arms - 1) * (blocks - 1), SSTotal: total,
		SSArm: sumSquares(means, grand, float64(blocks)), SSBlock: sumSquares(rows, grand, float64(arms))}
	if out.SSResid = total - out.SSArm - out.SSBlock; out.SSResid < 1e-12*math.Max(1, total) {
		out.SSResid = 0
	}
	if out.DFResid > 0 {
		out.MSResid = out.SSResid / float64(out.DFResid)
	}
	out.FArm, out.PArm = fTest(out.SSArm, float64(out.DFArm), out.SSResid, float64(out.DFResid))
	out.FBlock, out.PBlock = fTest(out.SSBlock, float64(out.DFBlock), out.SSResid, float64(out.DFResid))
	out.PermP = permuted(table, 400_000)
	return out
}

// permuted is the share of all permutations within blocks whose column sums are at least as
// far apart; nil where there are more than so many.
func permuted(table [][]float64, most float64) *float64 {
	arms := len(table[0])
	perms := 1.0
	for range table {
		for k := 2; k <= arms; k++ {
			perms *= float64(k)
		}
	}
	if perms > most {
		return nil
	}
	orders := permutations(arms)
	sums := make([]float64, arms)
	apart := func() (ss float64) {
		for _, s := range sums {
			ss += s * s
		}
		return ss
	}
	for _, row := range table {
		for a, y := range row {
			sums[a] += y
		}
	}
	observed := apart()
	for a := range sums {
		sums[a] = 0
	}
	least := observed - 1e-9*math.Max(1, observed)
	hits := 0
	var walk func(b int)
	walk = func(b int) {
		if b == len(table) {
			if apart() >= least {
				hits++
			}
			return
		}
		for _, o := range orders {
			for a, from := range o {
				sums[a] += table[b][from]
			}
			walk(b + 1)
			for a, from := range o {
				sums[a] -= table[b][from]
			}
		}
	}
	walk(0)
	return ptr(float64(hits) / perms)
}

func permutations(n int) (out [][]int) {
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	var place func(k int)
	place = func(k int) {
		if k == n {
			out = append(out, slices.Clone(order))
			return
		}
		for i := k; i < n; i++ {
			order[k], order[i] = order[i], order[k]
			place(k + 1)
			order[k], order[i] = order[i], order[k]
		}
	}
	place(0)
	return out
}

// FriedmanOf tests whether columns differ by the ranks within each row of a table; its exact p
// is over all permutations within rows, nil past ten million. All tied, nothing is told.
func FriedmanOf(table [][]float64) *Friedman {
	blocks, arms := float64(len(table)), float64(len(table[0]))
	out := &Friedman{RankSums: make([]float64, len(table[0])), DF: len(table[0]) - 1}
	ranks := make([][]float64, len(table))
	spread := 0.0 // of the ranks within blocks
	for b, row := range table {
		ranks[b] = Midranks(row)
		for a, r := range ranks[b] {
			out.RankSums[a] += r
		}
		spread += sumSquares(ranks[b], (arms+1)/2, 1)
	}
	if spread <= 1e-12 {
		return out
	}
	chi2 := (arms - 1) * sumSquares(out.RankSums, blocks*(arms+1)/2, 1) / spread
	out.Chi2, out.KendallW = &chi2, ptr(chi2/(blocks*(arms-1)))
	out.P = ptr(distuv.ChiSquared{K: float64(out.DF)}.Survival(chi2))
	out.ExactP = permuted(ranks, 1e7)
	return out
}

func pairedTests(names []string, table [][]float64) []PairedTest {
	var out []PairedTest
	var ps []*float64
	for a := range names {
		for b := a + 1; b < len(names); b++ {
			d := make([]float64, len(table))
			for i, row := range table {
				d[i] = roundTie(row[a] - row[b])
			}
			mean, se := meanSE(d)
			t := PairedTest{Pair: [2]string{names[a], names[b]}, Diff: mean}
			if se > 1e-9 {
				t.P = ptr(2 * tTail(math.Abs(mean/se), float64(len(d)-1)))
			}
			out = append(out, t)
			ps = append(ps, t.P)
		}
	}
	for i, p := range holm(ps) {
		out[i].PHolm = p
	}
	return out
}
