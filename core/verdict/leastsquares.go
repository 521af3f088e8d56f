package verdict

import "math"

// Cell is one observation of the two-way layout: the mean of a unit, its arm
// and the block it stands in, both numbered from 0.
type Cell struct {
	Arm, Block int
	Y          float64
}

// Fit is the least squares of y ~ arm + block.
type Fit struct {
	Linear
	arms, blocks int
}

// LeastSquares fits y ~ arm + block, also for tables that leave arms unconnected: what
// cannot be estimated is then said by Contrast and Mean.
func LeastSquares(arms, blocks int, cells []Cell) Fit {
	y, arm, block := make([]float64, len(cells)), make([]int, len(cells)), make([]int, len(cells))
	for i, c := range cells {
		y[i], arm[i], block[i] = c.Y, c.Arm, c.Block
	}
	return Fit{FitTerms(y, Term{arm, arms}, Term{block, blocks}), arms, blocks}
}

// Contrast is the difference of two arms adjusted for blocks; se is 0 when
// the residual is. ok is false when the blocks do not connect the two arms.
func (f Fit) Contrast(a, b int) (diff, se float64, ok bool) {
	diff, root, ok := f.contrast(a, b)
	return diff, root * math.Sqrt(f.MS), ok
}

// Mean is an arm's adjusted mean, averaged equally over all blocks.
func (f Fit) Mean(arm int) (mean, se float64, ok bool) {
	c := make([]float64, f.arms+f.blocks)
	c[arm] = 1
	for b := range f.blocks {
		c[f.arms+b] = 1 / float64(f.blocks)
	}
	mean, root, ok := f.Estimate(c)
	return mean, root * math.Sqrt(f.MS), ok
}
