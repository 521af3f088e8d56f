package verdict

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// component is a random term: the level of each row.
type component struct {
	name   string
	levels []int
	n      int
}

func componentOf(name string, rows []mixedRow, of func(mixedRow) string) component {
	c := component{name: name, levels: make([]int, len(rows))}
	seen := map[string]int{}
	for i, r := range rows {
		at, ok := seen[of(r)]
		if !ok {
			at = len(seen)
			seen[of(r)] = at
		}
		c.levels[i] = at
	}
	c.n = len(seen)
	return c
}

// remlFit is a linear mixed model fitted by restricted maximum likelihood: the variance of
// each component, the residual's last.
type remlFit struct {
	components []component
	variance   []float64
	at         remlPoint
}

// remlPoint is the restricted likelihood at some variances, with V^-1, the projector P and
// the covariance C of the fixed effects.
type remlPoint struct {
	criterion float64
	ok        bool
	vi, p, c  *mat.Dense
	vix       *mat.Dense // V^-1 X
	beta, py  *mat.VecDense
}

// fitREML maximises the restricted likelihood by Fisher scoring on the variances, each kept
// at zero or above.
func fitREML(arms []string, rows []mixedRow, components ...component) remlFit {
	n := len(rows)
	x, y := mat.NewDense(n, len(arms), nil), mat.NewVecDense(n, nil)
	for i, r := range rows {
		x.Set(i, 0, 1)
		if r.arm > 0 {
			x.Set(i, r.arm, 1)
		}
		y.SetVec(i, r.score)
	}
	f := remlFit{components: components, variance: make([]float64, len(components)+1)}
	start := math.Max(varianceOf(rows), 1e-12) / float64(len(f.variance))
	for i := range f.variance {
		f.variance[i] = start
	}
	f.at = f.point(f.variance, x, y)
	for range 200 {
		gradient, information := f.score(n)
		step := f.step(gradient, information)
		moved := false
		for size := 1.0; size > 1e-10; size /= 2 {
			next := make([]float64, len(f.variance))
			for i, v := range f.variance {
				next[i] = math.Max(0, v+size*step[i])
			}
			next[len(next)-1] = math.Max(next[len(next)-1], 1e-9*start)
			p := f.point(next, x, y)
			if p.ok && p.criterion <= f.at.criterion {
				gain := f.at.criterion - p.criterion
				moved = gain > 1e-13*(1+math.Abs(p.criterion))
				f.variance, f.at = next, p
				break
			}
		}
		if !moved {
			break
		}
	}
	for i, v := range f.variance[:len(components)] {
		if v < 1e-7*f.variance[len(components)] {
			f.variance[i] = 0
		}
	}
	f.at = f.point(f.variance, x, y)
	return f
}

func varianceOf(rows []mixedRow) float64 {
	values := make([]float64, len(rows))
	for i, r := range rows {
		values[i] = r.score
	}
	_, se := meanSE(values)
	return se * se * float64(len(rows))
}

// point works the likelihood out at some variances.
func (f remlFit) point(variance []float64, x *mat.Dense, y *mat.VecDense) (out remlPoint) {
	n, k := x.Dims()
	v := mat.NewSymDense(n, nil)
	for i := range n {
		v.SetSym(i, i, variance[len(f.components)])
	}
	for m, c := range f.components {
		for i := range n {
			for j := i; j < n; j++ {
				if c.levels[i] == c.levels[j] {
					v.SetSym(i, j, v.At(i, j)+variance[m])
				}
			}
		}
	}
	var chol, cholX mat.Cholesky
	if !chol.Factorize(v) {
		return out
	}
	var vi mat.SymDense
	if chol.InverseTo(&vi) != nil {
		return out
	}
	out.vi = mat.DenseCopyOf(&vi)
	out.vix = mat.NewDense(n, k, nil)
	out.vix.Mul(out.vi, x)
	var xvx mat.Dense
	xvx.Mul(x.T(), out.vix)
	if !cholX.Factorize(symmetric(&xvx)) {
		return out
	}
	var c mat.SymDense
	if cholX.InverseTo(&c) != nil {
		return out
	}
	out.c = mat.DenseCopyOf(&c)
	var half, taken mat.Dense
	half.Mul(out.vix, out.c)
	taken.Mul(&half, out.vix.T())
	out.p = mat.NewDense(n, n, nil)
	out.p.Sub(out.vi, &taken)
	out.py, out.beta = mat.NewVecDense(n, nil), mat.NewVecDense(k, nil)
	out.py.MulVec(out.p, y)
	out.beta.MulVec(half.T(), y)
	out.criterion = chol.LogDet() + cholX.LogDet() + mat.Dot(y, out.py) + float64(n-k)*math.Log(2*math.Pi)
	out.ok = !math.IsNaN(out.criterion)
	return out
}

func symmetric(m *mat.Dense) *mat.SymDense {
	n, _ := m.Dims()
	s := mat.NewSymDense(n, nil)
	for i := range n {
		for j := i; j < n; j++ {
			s.SetSym(i, j, (m.At(i, j)+m.At(j, i))/2)
		}
	}
	return s
}

// times is the derivative of V by the m-th variance, times a vector.
func (f remlFit) times(m int, v *mat.VecDense) *mat.VecDense {
	out := mat.NewVecDense(v.Len(), nil)
	if m == len(f.components) {
		out.CopyVec(v)
		return out
	}
	c := f.components[m]
	sums := make([]float64, c.n)
	for i, l := range c.levels {
		sums[l] += v.AtVec(i)
	}
	for i, l := range c.levels {
		out.SetVec(i, sums[l])
	}
	return out
}

// projected is P times the derivative of V by each variance.
func (f remlFit) projected(n int) []*mat.Dense {
	out := make([]*mat.Dense, len(f.variance))
	for m := range out {
		out[m] = mat.NewDense(n, n, nil)
		for i := range n {
			out[m].SetRow(i, f.times(m, mat.NewVecDense(n, f.at.p.RawRowView(i))).RawVector().Data)
		}
	}
	return out
}

// score is the gradient of the criterion by the variances, and its expected curvature.
func (f remlFit) score(n int) (gradient []float64, information *mat.SymDense) {
	pv := f.projected(n)
	gradient, information = make([]float64, len(pv)), mat.NewSymDense(len(pv), nil)
	for a := range pv {
		gradient[a] = mat.Trace(pv[a]) - mat.Dot(f.at.py, f.times(a, f.at.py))
		for b := a; b < len(pv); b++ {
			information.SetSym(a, b, traceOf(pv[a], pv[b]))
		}
	}
	return gradient, information
}

// traceOf is the trace of a product.
func traceOf(a, b *mat.Dense) (sum float64) {
	n, _ := a.Dims()
	for i := range n {
		for j := range n {
			sum += a.At(i, j) * b.At(j, i)
		}
	}
	return sum
}

// step solves for the move of the variances; one at zero that would fall stays.
func (f remlFit) step(gradient []float64, information *mat.SymDense) []float64 {
	var free []int
	for i, v := range f.variance {
		if v > 0 || gradient[i] < 0 {
			free = append(free, i)
		}
	}
	step := make([]float64, len(gradient))
	a, b := mat.NewDense(len(free), len(free), nil), mat.NewVecDense(len(free), nil)
	for i, m := range free {
		b.SetVec(i, -gradient[m])
		for j, l := range free {
			a.Set(i, j, information.At(m, l))
		}
	}
	var out mat.VecDense
	if out.SolveVec(a, b) != nil {
		return step
	}
	for i, m := range free {
		step[m] = out.AtVec(i)
	}
	return step
}

// said puts a fit into words: df by Satterthwaite's way from the curvature at the optimum,
// none where a component is at zero.
func (f remlFit) said(arms []string) MixedFit {
	out := MixedFit{Variance: map[string]float64{"residual": f.variance[len(f.components)]}, REML: f.at.criterion}
	for i, c := range f.components {
		out.Variance[c.name] = f.variance[i]
		out.Singular = out.Singular || f.variance[i] == 0
	}
	covariance, ok := f.ofVariances()
	for k := range arms {
		e := FixedEffect{Term: arms[k], Estimate: f.at.beta.AtVec(k), SE: math.Sqrt(f.at.c.At(k, k))}
		if k == 0 {
			e.Term = "intercept"
		}
		e.T = e.Estimate / e.SE
		if ok && !out.Singular {
			if df, known := f.satterthwaite(k, covariance); known {
				e.DF, e.P = &df, ptr(2*tTail(math.Abs(e.T), df))
			}
		}
		out.Fixed = append(out.Fixed, e)
	}
	return out
}

// ofVariances is the covariance of the estimated variances: twice the inverse of the
// criterion's observed curvature.
func (f remlFit) ofVariances() (*mat.Dense, bool) {
	n := f.at.py.Len()
	pv := f.projected(n)
	h := mat.NewDense(len(pv), len(pv), nil)
	for a := range pv {
		for b := range pv {
			va, vb := f.times(a, f.at.py), f.times(b, f.at.py)
			var pvb mat.VecDense
			pvb.MulVec(f.at.p, vb)
			h.Set(a, b, 2*mat.Dot(va, &pvb)-traceOf(pv[a], pv[b]))
		}
	}
	var out mat.Dense
	if out.Inverse(h) != nil {
		return nil, false
	}
	out.Scale(2, &out)
	return &out, true
}

// satterthwaite are the degrees of freedom of a fixed effect: 2 v^2 over the variance of v.
func (f remlFit) satterthwaite(k int, covariance *mat.Dense) (df float64, ok bool) {
	n, p := f.at.vix.Dims()
	c := mat.NewVecDense(p, nil)
	for i := range p {
		c.SetVec(i, f.at.c.At(i, k))
	}
	w := mat.NewVecDense(n, nil)
	w.MulVec(f.at.vix, c)
	g := mat.NewVecDense(len(f.variance), nil)
	for m := range f.variance {
		g.SetVec(m, mat.Dot(w, f.times(m, w)))
	}
	var ag mat.VecDense
	ag.MulVec(covariance, g)
	v := f.at.c.At(k, k)
	df = 2 * v * v / mat.Dot(g, &ag)
	return df, df > 0 && !math.IsInf(df, 0)
}
