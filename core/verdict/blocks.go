package verdict

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// BlocksInput is a table of arms within blocks: a row a block, a column an arm, null
// where there is nothing.
type BlocksInput struct {
	Arms   []string     `json:"arms"`
	Blocks []string     `json:"blocks"`
	Scores [][]*float64 `json:"scores_by_block"`
}

// BlocksResult compares the arms. Means, the analysis of variance and Friedman's test are of
// complete tables; what is undefined is nil.
type BlocksResult struct {
	Means        []float64     `json:"means,omitempty"`
	ANOVA        *ANOVA        `json:"anova,omitempty"`
	Friedman     *Friedman     `json:"friedman,omitempty"`
	Paired       []PairedTest  `json:"pairwise_paired,omitempty"`
	LeastSquares *SquaresTable `json:"least_squares"`
}

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

// SquaresTable is the least squares of y ~ block + arm over what is there.
type SquaresTable struct {
	Cells     int           `json:"n_cells"`
	Connected bool          `json:"connected"`
	ArmGroups [][]string    `json:"arm_groups"`
	DFResid   int           `json:"df_resid"`
	MSResid   *float64      `json:"ms_resid"`
	Means     []float64     `json:"adjusted_means,omitempty"`
	SE        []float64     `json:"adjusted_se,omitempty"`
	SSArm     *float64      `json:"ss_arm_adjusted,omitempty"`
	DFArm     int           `json:"df_arm,omitempty"`
	FArm      *float64      `json:"f_arm,omitempty"`
	PArm      *float64      `json:"p_arm,omitempty"`
	Pairs     []SquaresPair `json:"pairs,omitempty"`
}

// SquaresPair is the difference of two arms, adjusted for blocks.
type SquaresPair struct {
	Pair  [2]string `json:"pair"`
	Diff  float64   `json:"diff"`
	SE    float64   `json:"se"`
	T     float64   `json:"t"`
	P     float64   `json:"p"`
	PHolm float64   `json:"p_holm"`
}

// A table is no larger than any trial.
const (
	mostTableArms   = 12
	mostTableBlocks = 200
)

// BlocksOf compares arms within blocks.
func BlocksOf(in BlocksInput) (BlocksResult, error) {
	var out BlocksResult
	arms, blocks := len(in.Arms), len(in.Scores)
	switch {
	case arms < 2 || arms > mostTableArms:
		return out, fault.New("arms", fmt.Sprintf("%d arms", arms), fmt.Sprintf("give 2 to %d", mostTableArms))
	case blocks < 1 || blocks > mostTableBlocks:
		return out, fault.New("scores_by_block", fmt.Sprintf("%d blocks", blocks), fmt.Sprintf("give 1 to %d", mostTableBlocks))
	case len(in.Blocks) != 0 && len(in.Blocks) != blocks:
		return out, fault.New("blocks", fmt.Sprintf("%d names for %d rows", len(in.Blocks), blocks), "name every row, or none")
	}
	complete := true
	var cells []Cell
	for b, row := range in.Scores {
		if len(row) != arms {
			return out, fault.New(fmt.Sprintf("scores_by_block[%d]", b), fmt.Sprintf("%d values for %d arms", len(row), arms), "give a value or null for each arm")
		}
		for a, y := range row {
			switch {
			case y == nil:
				complete = false
			case math.Abs(*y) > 1e9 || math.IsNaN(*y):
				return out, fault.New(fmt.Sprintf("scores_by_block[%d][%d]", b, a), fmt.Sprintf("%v is past any scale", *y), "check the number")
			default:
				cells = append(cells, Cell{a, b, *y})
			}
		}
	}
	if len(cells) == 0 {
		return out, fault.New("scores_by_block", "there is no value", "give some")
	}
	out.LeastSquares = squaresOf(in.Arms, blocks, cells)
	if !complete {
		return out, nil
	}
	table := make([][]float64, blocks)
	for b, row := range in.Scores {
		for _, y := range row {
			table[b] = append(table[b], *y)
		}
	}
	out.Means = columnMeans(table)
	out.ANOVA, out.Friedman, out.Paired = anovaOf(table), friedmanOf(table), pairedTests(in.Arms, table)
	return out, nil
}

// squaresOf fits the cells that are there.
func squaresOf(names []string, blocks int, cells []Cell) *SquaresTable {
	arms := len(names)
	fit := LeastSquares(arms, blocks, cells)
	out := &SquaresTable{Cells: len(cells), DFResid: fit.DF}
	if fit.DF > 0 && fit.MS > 0 {
		out.MSResid = ptr(fit.MS)
	}
	for _, g := range connected(arms, blocks, cells) {
		var group []string
		for _, a := range g {
			group = append(group, names[a])
		}
		out.ArmGroups = append(out.ArmGroups, group)
	}
	if out.Connected = len(out.ArmGroups) == 1; !out.Connected {
		return out
	}
	blockMean := withData(blocks, cells)
	for a := range arms {
		mean, se := fit.meanOver(a, blockMean)
		out.Means, out.SE = append(out.Means, mean), append(out.SE, se)
	}
	if out.MSResid == nil {
		out.SE = nil
		return out
	}
	only := LeastSquares(1, blocks, noArms(cells))
	out.SSArm = ptr(math.Max(0, only.MS*float64(only.DF)-fit.MS*float64(fit.DF)))
	out.DFArm = arms - 1
	out.FArm, out.PArm = fTest(*out.SSArm, float64(out.DFArm), fit.MS*float64(fit.DF), float64(fit.DF))
	var ps []*float64
	for a := range arms {
		for b := a + 1; b < arms; b++ {
			diff, se, _ := fit.Contrast(a, b)
			p := SquaresPair{Pair: [2]string{names[a], names[b]}, Diff: diff, SE: se, T: diff / se}
			p.P = 2 * tTail(math.Abs(p.T), float64(fit.DF))
			out.Pairs = append(out.Pairs, p)
			ps = append(ps, &p.P)
		}
	}
	for i, p := range holm(ps) {
		out.Pairs[i].PHolm = *p
	}
	return out
}

// meanOver is an arm's adjusted mean over some blocks, each with equal weight.
func (f Fit) meanOver(arm int, blocks []int) (mean, se float64) {
	c := make([]float64, f.arms+f.blocks)
	c[arm] = 1
	for _, b := range blocks {
		c[f.arms+b] = 1 / float64(len(blocks))
	}
	mean, root, _ := f.Estimate(c)
	return mean, root * math.Sqrt(f.MS)
}

func withData(blocks int, cells []Cell) (out []int) {
	for b := range blocks {
		if slices.ContainsFunc(cells, func(c Cell) bool { return c.Block == b }) {
			out = append(out, b)
		}
	}
	return out
}

func noArms(cells []Cell) []Cell {
	out := slices.Clone(cells)
	for i := range out {
		out[i].Arm = 0
	}
	return out
}

// connected are the groups of arms that blocks tie together; an arm without a value is
// a group of its own.
func connected(arms, blocks int, cells []Cell) [][]int {
	group := make([]int, arms)
	for a := range group {
		group[a] = a
	}
	for b := range blocks {
		first := -1
		for _, c := range cells {
			switch {
			case c.Block != b:
			case first < 0:
				first = c.Arm
			default:
				from, to := group[c.Arm], group[first]
				for a := range group {
					if group[a] == from {
						group[a] = to
					}
				}
			}
		}
	}
	var out [][]int
	seen := map[int]int{}
	for a, g := range group {
		if _, ok := seen[g]; !ok {
			seen[g] = len(out)
			out = append(out, nil)
		}
		out[seen[g]] = append(out[seen[g]], a)
	}
	return out
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
	v := ss / df / (ssResid / dfResid)
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

func friedmanOf(table [][]float64) *Friedman {
	blocks, arms := float64(len(table)), float64(len(table[0]))
	out := &Friedman{RankSums: make([]float64, len(table[0])), DF: len(table[0]) - 1}
	ranks := make([][]float64, len(table))
	spread := 0.0 // of the ranks within blocks
	for b, row := range table {
		ranks[b] = midranks(row)
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
