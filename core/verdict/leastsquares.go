package verdict

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Cell is one observation of the two-way layout: the mean of a unit, its arm
// and the block it stands in, both numbered from 0.
type Cell struct {
	Arm, Block int
	Y          float64
}

// Fit is the least squares of y ~ arm + block.
type Fit struct {
	DF int     // residual degrees of freedom
	MS float64 // residual mean square; 0 when DF is 0

	arms, blocks int
	beta         []float64
	cov          *mat.Dense // (X'X)+ , to be scaled by MS
	row          *mat.Dense // projector on the row space of X, for what can be estimated
}

// LeastSquares fits y ~ arm + block by the singular value decomposition, which
// also holds for tables that leave arms unconnected: what cannot be estimated
// is then said by Contrast and Mean.
func LeastSquares(arms, blocks int, cells []Cell) Fit {
	f := Fit{arms: arms, blocks: blocks}
	p := arms + blocks
	if len(cells) == 0 {
		return f
	}
	x := mat.NewDense(len(cells), p, nil)
	y := mat.NewVecDense(len(cells), nil)
	for i, c := range cells {
		x.Set(i, c.Arm, 1)
		x.Set(i, arms+c.Block, 1)
		y.SetVec(i, c.Y)
	}
	var svd mat.SVD
	if !svd.Factorize(x, mat.SVDThin) {
		return f
	}
	var u, v mat.Dense
	svd.UTo(&u)
	svd.VTo(&v)
	s := svd.Values(nil)
	rank := 0
	for rank < len(s) && s[rank] > 1e-9*s[0] {
		rank++
	}
	vr := v.Slice(0, p, 0, rank)
	scaled := mat.NewDense(p, rank, nil)
	for j := range rank {
		for i := range p {
			scaled.Set(i, j, v.At(i, j)/s[j])
		}
	}
	var uty, beta, fitted mat.VecDense
	uty.MulVec(u.Slice(0, len(cells), 0, rank).T(), y)
	beta.MulVec(scaled, &uty)
	fitted.MulVec(x, &beta)
	rss := 0.0
	for i, c := range cells {
		r := c.Y - fitted.AtVec(i)
		rss += r * r
	}
	f.beta = beta.RawVector().Data
	f.cov, f.row = mat.NewDense(p, p, nil), mat.NewDense(p, p, nil)
	f.cov.Mul(scaled, scaled.T())
	f.row.Mul(vr, vr.T())
	if f.DF = len(cells) - rank; f.DF > 0 {
		f.MS = rss / float64(f.DF)
	}
	return f
}

// Contrast is the difference of two arms adjusted for blocks; se is 0 when
// the residual is. ok is false when the blocks do not connect the two arms.
func (f Fit) Contrast(a, b int) (diff, se float64, ok bool) {
	c := make([]float64, f.arms+f.blocks)
	c[a]++
	c[b]--
	return f.estimate(c)
}

// Mean is an arm's adjusted mean, averaged equally over all blocks.
func (f Fit) Mean(arm int) (mean, se float64, ok bool) {
	c := make([]float64, f.arms+f.blocks)
	c[arm] = 1
	for b := range f.blocks {
		c[f.arms+b] = 1 / float64(f.blocks)
	}
	return f.estimate(c)
}

func (f Fit) estimate(c []float64) (value, se float64, ok bool) {
	if f.beta == nil {
		return 0, 0, false
	}
	v := mat.NewVecDense(len(c), c)
	var onRow, w mat.VecDense
	onRow.MulVec(f.row, v)
	onRow.SubVec(v, &onRow)
	if mat.Norm(&onRow, 2) > 1e-7 {
		return 0, 0, false
	}
	w.MulVec(f.cov, v)
	return mat.Dot(v, mat.NewVecDense(len(f.beta), f.beta)), math.Sqrt(math.Max(0, mat.Dot(v, &w)*f.MS)), true
}
