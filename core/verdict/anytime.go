package verdict

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Look is a reading of one contrast: the estimate, its standard error, the degrees of
// freedom behind it, and its effective units, (sigma/se)^2: of pairs, their number.
type Look struct {
	Estimate float64 `json:"estimate"`
	SE       float64 `json:"se"`
	DF       int     `json:"df"`
	Units    float64 `json:"units"`
}

// AnytimeInput is a contrast that was looked at more than once, in order, and the units
// that were planned before the first look.
type AnytimeInput struct {
	PlannedUnits float64 `json:"planned_units"`
	Looks        []Look  `json:"looks"`
}

// AnytimeLook is what one look shows: p is the running one, and a nil interval holds
// every value.
type AnytimeLook struct {
	LogE float64   `json:"log_e"`
	P    float64   `json:"p"`
	CI99 *Interval `json:"ci99"`
	CI98 *Interval `json:"ci98"`
	CI90 *Interval `json:"ci90"`
	CI80 *Interval `json:"ci80"`
}

// AnytimeResult is a line for each look.
type AnytimeResult struct {
	Looks []AnytimeLook `json:"looks"`
}

// AnytimeSource says where the rule comes from.
const AnytimeSource = "Anytime-valid t: normal prior on the standardised effect, right-Haar on the scale (Pérez-Ortiz et al., 2022; Wang and Ramdas, 2023)"

// precision of the prior on the standardised effect, over the planned units.
const plannedOver = 6.6

// Anytime reads a contrast at any number of looks so that all of them together keep
// their level.
func Anytime(in AnytimeInput) (AnytimeResult, error) {
	out := AnytimeResult{Looks: []AnytimeLook{}}
	if !(in.PlannedUnits > 0 && in.PlannedUnits < 1e6) {
		return out, fault.New("planned_units", fmt.Sprintf("%v is no number of units", in.PlannedUnits), "give the units that were planned, above zero")
	}
	largest := 0.0
	for i, l := range in.Looks {
		field := fmt.Sprintf("looks[%d]", i)
		switch {
		case !(l.SE > 0 && l.SE < 1e150) || math.Abs(l.Estimate) > 1e150:
			return out, fault.New(field+".se", "no estimate with a standard error", "give both, the error above zero")
		case l.DF < 1 || l.DF > 1e6:
			return out, fault.New(field+".df", fmt.Sprintf("%d degrees of freedom", l.DF), "give one or more")
		case !(l.Units > 0 && l.Units < 1e9):
			return out, fault.New(field+".units", fmt.Sprintf("%v units", l.Units), "give more than zero")
		}
		a := AnytimeLook{LogE: logE(l, in.PlannedUnits)}
		largest = math.Max(largest, a.LogE)
		a.P = math.Min(1, math.Exp(-largest))
		a.CI99, a.CI98 = anytimeInterval(l, in.PlannedUnits, 0.01), anytimeInterval(l, in.PlannedUnits, 0.02)
		a.CI90, a.CI80 = anytimeInterval(l, in.PlannedUnits, 0.10), anytimeInterval(l, in.PlannedUnits, 0.20)
		out.Looks = append(out.Looks, a)
	}
	return out, nil
}

// logE is the logarithm of the evidence against no difference.
func logE(l Look, planned float64) float64 {
	k, df := shrink(l, planned), float64(l.DF)
	t2 := l.Estimate / l.SE * (l.Estimate / l.SE)
	return 0.5*math.Log(k) + (df+1)/2*(math.Log1p(t2/df)-math.Log1p(t2/df*k))
}

func shrink(l Look, planned float64) float64 {
	g := planned / plannedOver
	return g / (l.Units + g)
}

// anytimeInterval are all differences that a look does not reject at a level; nil where
// that is all of them.
func anytimeInterval(l Look, planned, alpha float64) *Interval {
	k, df := shrink(l, planned), float64(l.DF)
	a := math.Pow(1/(math.Sqrt(k)*alpha), 2/(df+1))
	if a*k >= 1 {
		return nil
	}
	h := l.SE * math.Sqrt(df*(a-1)/(1-a*k))
	return &Interval{l.Estimate - h, l.Estimate + h}
}
