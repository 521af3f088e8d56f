// Package verdict judges arms against each other: the tests and intervals, and
// the four words a verdict is said in.
package verdict

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/fault"
)

// Pair is one block with a value for each arm; nil is missing.
type Pair struct {
	Block string   `json:"block"`
	A     *float64 `json:"a"`
	B     *float64 `json:"b"`
}

// Planning asks for the power of a paired trial.
type Planning struct {
	N     int     `json:"n"`
	Delta float64 `json:"delta"`
	SD    float64 `json:"sd"`
	Power float64 `json:"power"`
	Alpha float64 `json:"alpha"`
}

// PairedInput is a comparison of two arms over blocks.
type PairedInput struct {
	Pairs            []Pair    `json:"pairs"`
	EquivalenceBound *float64  `json:"equivalence_bound,omitempty"`
	Planning         *Planning `json:"planning,omitempty"`
}

// Interval is a low and a high end.
type Interval [2]float64

// PairedResult is the paired comparison a minus b. What is undefined, as with
// one pair or with differences all alike, is nil.
type PairedResult struct {
	NUsed    int           `json:"n_used"`
	NDropped int           `json:"n_dropped"`
	MeanA    *float64      `json:"mean_a"`
	MeanB    *float64      `json:"mean_b"`
	MeanDiff *float64      `json:"mean_diff"`
	SDDiff   *float64      `json:"sd_diff"`
	SEDiff   *float64      `json:"se_diff"`
	T        *float64      `json:"t"`
	DF       *int          `json:"df"`
	PT       *float64      `json:"p_t"`
	CI80     *Interval     `json:"ci80"`
	CI90     *Interval     `json:"ci90"`
	CI95     *Interval     `json:"ci95"`
	SignFlip *SignFlip     `json:"signflip"`
	Wilcoxon *SignedRank   `json:"wilcoxon_zeros_dropped"`
	TOST     *TOST         `json:"tost,omitempty"`
	Power    *PlannedPower `json:"power,omitempty"`
}

// TOST is two one-sided t tests against the bound, 5 % each (Schuirmann, 1987).
type TOST struct {
	TLower     *float64  `json:"t_lower"`
	PLower     *float64  `json:"p_lower"`
	TUpper     *float64  `json:"t_upper"`
	PUpper     *float64  `json:"p_upper"`
	P          *float64  `json:"p"`
	CI90       *Interval `json:"ci90"`
	Equivalent *bool     `json:"equivalent"`
}

// Paired compares two arms over blocks: Student's paired t, the exact sign
// flip, Wilcoxon's signed ranks, equivalence and planned power.
func Paired(in PairedInput) (PairedResult, error) {
	var out PairedResult
	var a, b, d []float64
	for i, p := range in.Pairs {
		for name, v := range map[string]*float64{"a": p.A, "b": p.B} {
			if v != nil && (math.IsNaN(*v) || math.IsInf(*v, 0)) {
				return out, fault.New(fmt.Sprintf("pairs[%d].%s", i, name), "is not a number", "give a number or null")
			}
		}
		if p.A == nil || p.B == nil {
			out.NDropped++
			continue
		}
		a, b = append(a, *p.A), append(b, *p.B)
		d = append(d, roundTie(*p.A-*p.B))
	}
	if e := in.EquivalenceBound; e != nil && !(*e > 0) {
		return out, fault.New("equivalence_bound", fmt.Sprintf("%v is no bound", *e), "give more than zero")
	}
	out.NUsed = len(d)
	if in.Planning != nil {
		p, err := Power(*in.Planning)
		if err != nil {
			return out, fault.In("planning", err)
		}
		out.Power = &p
	}
	if in.EquivalenceBound != nil {
		out.TOST = &TOST{}
	}
	if len(d) == 0 {
		return out, nil
	}
	out.MeanA, out.MeanB, out.MeanDiff = ptr(stat.Mean(a, nil)), ptr(stat.Mean(b, nil)), ptr(stat.Mean(d, nil))
	if len(d) <= mostFlips {
		flip, rank := signFlip(d), signedRank(d)
		out.SignFlip, out.Wilcoxon = &flip, &rank
	}
	if len(d) < 2 {
		return out, nil
	}
	n := float64(len(d))
	sd := stat.StdDev(d, nil)
	se := sd / math.Sqrt(n)
	out.SDDiff, out.SEDiff = &sd, &se
	if sd == 0 {
		return out, nil
	}
	df := n - 1
	mean := *out.MeanDiff
	out.T, out.DF, out.PT = ptr(mean/se), ptr(len(d)-1), ptr(2*tTail(math.Abs(mean/se), df))
	out.CI80, out.CI90, out.CI95 = tInterval(mean, se, df, 0.80), tInterval(mean, se, df, 0.90), tInterval(mean, se, df, 0.95)
	if in.EquivalenceBound != nil {
		out.TOST = tost(mean, se, df, *in.EquivalenceBound)
	}
	return out, nil
}

func tost(mean, se, df, bound float64) *TOST {
	lower, upper := (mean+bound)/se, (mean-bound)/se
	pLower, pUpper := tTail(lower, df), tTail(-upper, df)
	ci := tInterval(mean, se, df, 0.90)
	return &TOST{
		TLower: &lower, PLower: &pLower, TUpper: &upper, PUpper: &pUpper,
		P: ptr(math.Max(pLower, pUpper)), CI90: ci, Equivalent: ptr(-bound < ci[0] && ci[1] < bound),
	}
}

// tInterval is the two-sided interval of the given level.
func tInterval(mean, se, df, level float64) *Interval {
	h := tQuantile(0.5+level/2, df) * se
	return &Interval{mean - h, mean + h}
}

// roundTie rounds to nine decimals, so that equal differences tie.
func roundTie(v float64) float64 { return math.Round(v*1e9) / 1e9 }

func ptr[T any](v T) *T { return &v }

// meanSE is the mean of differences and its standard error; 0 for a single one.
func meanSE(d []float64) (mean, se float64) {
	mean = stat.Mean(d, nil)
	if len(d) > 1 {
		se = stat.StdDev(d, nil) / math.Sqrt(float64(len(d)))
	}
	return mean, se
}
