package verdict

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// PooledSource says where the pooling of trials comes from.
const PooledSource = "Paule and Mandel, 1982 (between trials); Hartung and Knapp, 2001 (error); Higgins, Thompson and Spiegelhalter, 2009 (next trial)"

// PooledInput is one contrast in several trials: an estimate of each with its standard
// error.
type PooledInput struct {
	Estimates []float64 `json:"estimates"`
	SEs       []float64 `json:"ses"`
}

// PooledResult is the mean of trials that may differ: tau2 is the variance between them,
// prediction what the next trial may show.
type PooledResult struct {
	Estimate   float64  `json:"estimate"`
	SE         float64  `json:"se"`
	DF         int      `json:"df"`
	Tau2       float64  `json:"tau2"`
	Q          float64  `json:"q"`
	PQ         float64  `json:"p_q"`
	I2         float64  `json:"i2_percent"`
	CI90       Interval `json:"ci90"`
	CI80       Interval `json:"ci80"`
	Prediction Interval `json:"prediction80"`
}

// mostPooled bounds the trials of one contrast.
const mostPooled = 500

// Pooled pools trials by random effects.
func Pooled(in PooledInput) (PooledResult, error) {
	var out PooledResult
	n := len(in.Estimates)
	if n < 2 || n > mostPooled {
		return out, fault.New("estimates", fmt.Sprintf("%d trials", n), fmt.Sprintf("give 2 to %d", mostPooled))
	}
	if len(in.SEs) != n {
		return out, fault.New("ses", fmt.Sprintf("%d errors for %d estimates", len(in.SEs), n), "give one for each")
	}
	for i, se := range in.SEs {
		if !(se > 1e-9 && se < 1e9) || math.Abs(in.Estimates[i]) > 1e9 {
			return out, fault.New(fmt.Sprintf("ses[%d]", i), fmt.Sprintf("%v with an error of %v", in.Estimates[i], se),
				"give an estimate with a standard error above zero")
		}
	}
	out.DF = n - 1
	_, out.Q, _ = weighed(in, 0)
	out.PQ = distuv.ChiSquared{K: float64(out.DF)}.Survival(out.Q)
	out.Tau2 = betweenTrials(in, out.DF)
	mean, spread, sum := weighed(in, out.Tau2)
	out.Estimate, out.SE = mean, math.Sqrt(spread/(float64(out.DF)*sum))
	out.I2 = 100 * out.Tau2 / (out.Tau2 + typicalVariance(in))
	df := float64(out.DF)
	out.CI90, out.CI80 = *tInterval(mean, out.SE, df, 0.90), *tInterval(mean, out.SE, df, 0.80)
	out.Prediction = *tInterval(mean, math.Hypot(out.SE, math.Sqrt(out.Tau2)), df, 0.80)
	return out, nil
}

// weighed is the mean of trials with a variance between them, the weighed squares about it,
// and the sum of weights.
func weighed(in PooledInput, tau2 float64) (mean, squares, sum float64) {
	for i, y := range in.Estimates {
		w := 1 / (in.SEs[i]*in.SEs[i] + tau2)
		sum += w
		mean += w * y
	}
	mean /= sum
	for i, y := range in.Estimates {
		squares += (y - mean) * (y - mean) / (in.SEs[i]*in.SEs[i] + tau2)
	}
	return mean, squares, sum
}

// betweenTrials is the variance at which the weighed squares come to their degrees of
// freedom; 0 where they are under them without any.
func betweenTrials(in PooledInput, df int) float64 {
	excess := func(tau2 float64) float64 {
		_, squares, _ := weighed(in, tau2)
		return squares - float64(df)
	}
	if excess(0) <= 0 {
		return 0
	}
	high := 1e-12
	for excess(high) > 0 {
		high *= 4
	}
	low := 0.0
	for range 200 {
		mid := (low + high) / 2
		if excess(mid) > 0 {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2
}

// typicalVariance is that within a trial, as I2 is reckoned with (Higgins and Thompson, 2002).
func typicalVariance(in PooledInput) float64 {
	sum, squares := 0.0, 0.0
	for _, se := range in.SEs {
		w := 1 / (se * se)
		sum += w
		squares += w * w
	}
	return float64(len(in.SEs)-1) * sum / (sum*sum - squares)
}
