package verdict

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Term is a factor of a linear model: the level of each observation, from 0 to N-1.
type Term struct {
	Levels []int
	N      int
}

// Linear is the least squares of y on the levels of some terms, each level with a
// coefficient of its own: what of it can be estimated is said by Estimate.
type Linear struct {
	DF int     // residual degrees of freedom
	MS float64 // residual mean square; 0 when DF is 0

	starts []int // of each term among the coefficients
	beta   []float64
	cov    *mat.Dense // (X'X)+ , to be scaled by MS
	row    *mat.Dense // projector on the row space of X
}

// FitTerms fits by the singular value decomposition, which also holds for tables that
// leave levels unconnected.
func FitTerms(y []float64, terms ...Term) Linear {
	f := Linear{starts: make([]int, len(terms))}
	p := 0
	for i, t := range terms {
		f.starts[i] = p
		p += t.N
	}
	if len(y) == 0 {
		return f
	}
	x := mat.NewDense(len(y), p, nil)
	for k, t := range terms {
		for i, level := range t.Levels {
			x.Set(i, f.starts[k]+level, 1)
		}
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
	scaled := mat.NewDense(p, rank, nil)
	for j := range rank {
		for i := range p {
			scaled.Set(i, j, v.At(i, j)/s[j])
		}
	}
	var uty, beta, fitted mat.VecDense
	uty.MulVec(u.Slice(0, len(y), 0, rank).T(), mat.NewVecDense(len(y), y))
	beta.MulVec(scaled, &uty)
	fitted.MulVec(x, &beta)
	rss, tss := 0.0, 0.0
	for i, v := range y {
		r := v - fitted.AtVec(i)
		rss += r * r
		tss += v * v
	}
	f.beta = beta.RawVector().Data
	f.cov, f.row = mat.NewDense(p, p, nil), mat.NewDense(p, p, nil)
	f.cov.Mul(scaled, scaled.T())
	vr := v.Slice(0, p, 0, rank)
	f.row.Mul(vr, vr.T())
	if f.DF = len(y) - rank; f.DF > 0 && rss > 1e-20*tss {
		f.MS = rss / float64(f.DF)
	}
	return f
}

// Estimate is a linear combination of the coefficients, with the square root of c'(X'X)+c;
// ok is false when the table does not tell it.
func (f Linear) Estimate(c []float64) (value, root float64, ok bool) {
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
	return mat.Dot(v, mat.NewVecDense(len(f.beta), f.beta)), math.Sqrt(math.Max(0, mat.Dot(v, &w))), true
}

// contrast is the difference of two levels of the first term.
func (f Linear) contrast(a, b int) (diff, root float64, ok bool) {
	c := make([]float64, len(f.beta))
	if len(c) > 0 {
		c[f.starts[0]+a]++
		c[f.starts[0]+b]--
	}
	return f.Estimate(c)
}

// mean is that of a level of a term, with every other term averaged over its levels.
func (f Linear) mean(of, level int, terms ...Term) (mean, root float64, ok bool) {
	c := make([]float64, len(f.beta))
	if len(c) == 0 {
		return 0, 0, false
	}
	for k, t := range terms {
		for i := range t.N {
			c[f.starts[k]+i] = 1 / float64(t.N)
			if k == of {
				c[f.starts[k]+i] = 0
			}
		}
	}
	c[f.starts[of]+level] = 1
	return f.Estimate(c)
}

// MeanOf is the mean of a level of the first of some terms, the others averaged over
// their levels; ok is false when the table does not tell it.
func (f Linear) MeanOf(level int, terms ...Term) (mean float64, ok bool) {
	mean, _, ok = f.mean(0, level, terms...)
	return mean, ok
}
