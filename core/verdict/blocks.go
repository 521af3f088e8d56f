package verdict

import (
	"fmt"
	"math"
	"slices"

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
	out.ANOVA, out.Friedman, out.Paired = anovaOf(table), FriedmanOf(table), pairedTests(in.Arms, table)
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
