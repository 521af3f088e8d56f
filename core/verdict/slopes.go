package verdict

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// slopes is a least squares of y on blocks and some columns: the columns' coefficients with
// their covariance, to be scaled by MS.
type slopes struct {
	beta  []float64
	cov   *mat.Dense
	MS    float64
	DF    int
	known bool // all columns can be told
}

// within fits columns within blocks: both sides less their block's mean.
func (in DoseInput) within(columns ...[]float64) slopes {
	n, blocks := len(in.Values), map[string][]int{}
	for i, b := range in.Blocks {
		blocks[b] = append(blocks[b], i)
	}
	centred := func(v []float64) []float64 {
		out := make([]float64, n)
		for _, rows := range blocks {
			mean := 0.0
			for _, i := range rows {
				mean += v[i] / float64(len(rows))
			}
			for _, i := range rows {
				out[i] = v[i] - mean
			}
		}
		return out
	}
	k := len(columns)
	y := centred(in.Values)
	x := mat.NewDense(n, k, nil)
	scale := make([]float64, k)
	for j, c := range columns {
		col := centred(c)
		for _, v := range col {
			scale[j] += v * v
		}
		scale[j] = math.Sqrt(scale[j])
		for i, v := range col {
			if scale[j] > 0 {
				x.Set(i, j, v/scale[j])
			}
		}
	}
	var svd mat.SVD
	if !svd.Factorize(x, mat.SVDThin) {
		return slopes{}
	}
	s := svd.Values(nil)
	rank := 0
	for rank < len(s) && s[rank] > 1e-9 {
		rank++
	}
	out := slopes{DF: n - len(blocks) - rank, known: rank == k}
	if !out.known {
		return out
	}
	var u, v mat.Dense
	svd.UTo(&u)
	svd.VTo(&v)
	half := mat.NewDense(k, k, nil)
	for i := range k {
		for j := range k {
			half.Set(i, j, v.At(i, j)/s[j]/scale[i])
		}
	}
	var uty, beta mat.VecDense
	uty.MulVec(u.T(), mat.NewVecDense(n, y))
	beta.MulVec(half, &uty)
	out.beta, out.cov = beta.RawVector().Data, mat.NewDense(k, k, nil)
	out.cov.Mul(half, half.T())
	rss, tss := 0.0, 0.0
	for i := range n {
		fitted := 0.0
		for j := range k {
			fitted += x.At(i, j) * scale[j] * out.beta[j]
		}
		rss += (y[i] - fitted) * (y[i] - fitted)
		tss += y[i] * y[i]
	}
	if out.DF > 0 && rss > 1e-20*tss {
		out.MS = rss / float64(out.DF)
	}
	return out
}

// polynomial fits the dose, and its square, about a centre.
func (in DoseInput) polynomial(centre float64, degree int) slopes {
	columns := make([][]float64, degree)
	for d := range columns {
		columns[d] = make([]float64, len(in.Doses))
		for i, x := range in.Doses {
			columns[d][i] = math.Pow(x-centre, float64(d+1))
		}
	}
	return in.within(columns...)
}

// saturated fits each level but the least by itself.
func (in DoseInput) saturated(levels []float64) slopes {
	columns := make([][]float64, len(levels)-1)
	for l := range columns {
		columns[l] = make([]float64, len(in.Doses))
		for i, x := range in.Doses {
			if x == levels[l+1] {
				columns[l][i] = 1
			}
		}
	}
	return in.within(columns...)
}

func (s slopes) at(i int) float64 {
	if i >= len(s.beta) {
		return 0
	}
	return s.beta[i]
}

// along is a combination of the coefficients with its standard error.
func (s slopes) along(c ...float64) (value, se float64) {
	if !s.known {
		return 0, 0
	}
	v := 0.0
	for i := range c {
		value += c[i] * s.beta[i]
		for j := range c {
			v += c[i] * c[j] * s.cov.At(i, j)
		}
	}
	return value, math.Sqrt(math.Max(0, v*s.MS))
}

func (s slopes) se(i int) float64 {
	c := make([]float64, len(s.beta))
	if i >= len(c) {
		return 0
	}
	c[i] = 1
	_, se := s.along(c...)
	return se
}

func (s slopes) p(i int) *float64 {
	se := s.se(i)
	if !(se > 0) || s.DF < 1 {
		return nil
	}
	return ptr(2 * tTail(math.Abs(s.at(i))/se, float64(s.DF)))
}
