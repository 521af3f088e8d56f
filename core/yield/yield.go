// Package yield turns weighings into yields and losses, each with what the
// scale's resolution does to it.
package yield

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Uncertainty is the standard uncertainty of one scale reading with the given
// resolution: the true weight is uniform within the step (JCGM 100:2008,
// 4.3.7).
func Uncertainty(resolution float64) float64 { return resolution / math.Sqrt(12) }

// Part is one piece of a divided cut, in grams. A weight that was never taken
// is nil, and the part is then left out on both sides.
type Part struct {
	RawG    *float64 `json:"raw_g"`
	CookedG *float64 `json:"cooked_g"`
}

// CombinedInput is the parts of one cut or batch, weighed on one scale.
type CombinedInput struct {
	Parts            []Part  `json:"parts"`
	ScaleResolutionG float64 `json:"scale_resolution_g"`
	Tared            bool    `json:"tared"` // false: each weight is gross minus tare, two readings
}

// CombinedYield is total cooked over total raw, with the yields of the parts
// beside it. The fields are fractions of one.
type CombinedYield struct {
	PartsUsed        int        `json:"parts_used"`
	PartYields       []*float64 `json:"part_yields"`
	CombinedYield    *float64   `json:"combined_yield"`
	MeanOfPartYields *float64   `json:"mean_of_part_yields"`
	Loss             *float64   `json:"loss"`
	UWeightG         float64    `json:"u_weight_g"`
	UPartYields      []*float64 `json:"u_part_yields"`
	UCombined        *float64   `json:"u_combined"`
	WorstCaseLow     *float64   `json:"worst_case_low"`
	WorstCaseHigh    *float64   `json:"worst_case_high"`
}

// Combined adds up the parts that were weighed on both sides. A negative
// weight or resolution is an error.
func Combined(in CombinedInput) (CombinedYield, error) {
	if !(in.ScaleResolutionG >= 0) || math.IsInf(in.ScaleResolutionG, 0) {
		return CombinedYield{}, fault.New("scale_resolution_g", fmt.Sprintf("%v is not a resolution", in.ScaleResolutionG), "give zero or more")
	}
	readings := 2.0
	if in.Tared {
		readings = 1
	}
	out := CombinedYield{
		PartYields:  make([]*float64, len(in.Parts)),
		UPartYields: make([]*float64, len(in.Parts)),
		UWeightG:    Uncertainty(in.ScaleResolutionG) * math.Sqrt(readings),
	}
	var raw, cooked, sum float64
	for i, p := range in.Parts {
		for name, w := range map[string]*float64{"raw_g": p.RawG, "cooked_g": p.CookedG} {
			if w != nil && (!(*w >= 0) || math.IsInf(*w, 0)) {
				return CombinedYield{}, fault.New(fmt.Sprintf("parts[%d].%s", i, name), fmt.Sprintf("%v is not a weight", *w), "give zero or more, or null if it was never weighed")
			}
		}
		if p.RawG == nil || p.CookedG == nil || *p.RawG == 0 {
			continue
		}
		m := Ratio(*p.CookedG, *p.RawG, out.UWeightG, out.UWeightG)
		out.PartYields[i], out.UPartYields[i] = &m.Value, &m.U
		raw, cooked, sum = raw+*p.RawG, cooked+*p.CookedG, sum+m.Value
		out.PartsUsed++
	}
	if out.PartsUsed == 0 {
		return out, nil
	}
	n := float64(out.PartsUsed)
	total := Ratio(cooked, raw, out.UWeightG*math.Sqrt(n), out.UWeightG*math.Sqrt(n))
	mean, loss := sum/n, 1-total.Value
	off := n * readings * in.ScaleResolutionG / 2
	low, high := (cooked-off)/(raw+off), (cooked+off)/(raw-off)
	out.CombinedYield, out.UCombined = &total.Value, &total.U
	out.MeanOfPartYields, out.Loss = &mean, &loss
	out.WorstCaseLow, out.WorstCaseHigh = &low, &high
	return out, nil
}

// Measure is a computed share with its standard uncertainty.
type Measure struct {
	Value float64 `json:"value"`
	U     float64 `json:"u"`
}

// Ratio is out/in, both weighed independently with the standard uncertainties
// uOut and uIn (first-order propagation, JCGM 100:2008, 5.1.2).
func Ratio(out, in, uOut, uIn float64) Measure {
	y := out / in
	return Measure{Value: y, U: math.Hypot(uOut, y*uIn) / in}
}

// StepsInput is one cut weighed at each step, first to last, in grams.
type StepsInput struct {
	WeightsG []float64 `json:"weights_g"`
}

// StepYields is the share kept at each step and over all.
type StepYields struct {
	StepYields []float64 `json:"step_yields"`
	Overall    float64   `json:"overall"`
}

// Steps divides each weight by the one before. It needs two weights or more,
// all above zero but the last.
func Steps(in StepsInput) (StepYields, error) {
	n := len(in.WeightsG)
	if n < 2 {
		return StepYields{}, fault.New("weights_g", fmt.Sprintf("%d weights", n), "give at least two, in the order they were taken")
	}
	for i, w := range in.WeightsG {
		if math.IsInf(w, 0) || !(w > 0) && (w != 0 || i < n-1) {
			return StepYields{}, fault.New(fmt.Sprintf("weights_g[%d]", i), fmt.Sprintf("%v is not a weight to divide by", w), "give more than zero")
		}
	}
	out := StepYields{Overall: in.WeightsG[n-1] / in.WeightsG[0]}
	for i := 1; i < n; i++ {
		out.StepYields = append(out.StepYields, in.WeightsG[i]/in.WeightsG[i-1])
	}
	return out, nil
}
