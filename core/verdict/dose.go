package verdict

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// DoseSource says where the trend comes from.
const DoseSource = "Least squares over blocks; lack of fit: Draper and Smith, 1998, chapter 2; turning point by the delta method"

// DoseInput is a numeric factor over blocks, a value a unit.
type DoseInput struct {
	Doses  []float64 `json:"doses"`
	Blocks []string  `json:"blocks"`
	Values []float64 `json:"values"`
	// SmallestDifference, where it is given, is what matters, and Better says which way.
	SmallestDifference float64 `json:"smallest_difference,omitempty"`
	LessIsBetter       bool    `json:"less_is_better,omitempty"`
}

// DoseLine is the straight line of y ~ block + x.
type DoseLine struct {
	Slope float64  `json:"slope"`
	SE    float64  `json:"se"`
	DF    int      `json:"df"`
	P     *float64 `json:"p"`
}

// LackOfFit asks whether the levels lie off the line by more than their spread.
type LackOfFit struct {
	F   *float64 `json:"f"`
	DF1 int      `json:"df1"`
	DF2 int      `json:"df2"`
	P   *float64 `json:"p"`
}

// DoseCurve is y ~ block + b1 x + b2 x^2.
type DoseCurve struct {
	B1   float64  `json:"b1"`
	B2   float64  `json:"b2"`
	SEB1 float64  `json:"se_b1"`
	SEB2 float64  `json:"se_b2"`
	DF   int      `json:"df"`
	PB2  *float64 `json:"p_b2"`
}

// TurningPoint is where the curve turns.
type TurningPoint struct {
	Dose float64 `json:"dose"`
	SE   float64 `json:"se"`
}

// DoseGain is what the curve gains over the least dose.
type DoseGain struct {
	Doses []float64 `json:"doses"`
	Gain  []float64 `json:"gain"`
	SE    []float64 `json:"se"`
}

// DoseLevel is one level: its mean over the blocks, what the trend says there with its 90 %
// band, and its greatest loss against any other level, at most, by the level means.
type DoseLevel struct {
	Dose  float64   `json:"dose"`
	Mean  float64   `json:"mean"`
	Trend float64   `json:"trend"`
	Band  *Interval `json:"band"`
	Loss  *float64  `json:"loss_at_most"` // upper 90 % limit; nil: no spread to judge by
	As    string    `json:"against"`      // the level it may lose most to, as a number
}

// DoseResult is the trend.
type DoseResult struct {
	Centre float64       `json:"centre"`
	Linear DoseLine      `json:"linear"`
	Lack   LackOfFit     `json:"lack_of_fit_linear"`
	Curve  *DoseCurve    `json:"quadratic,omitempty"`
	Turns  *TurningPoint `json:"turning_point,omitempty"`
	Gain   *DoseGain     `json:"gain_over_least,omitempty"`
	// With a smallest difference that matters: the levels, whether a curve is what fits,
	// and the least dose that is as good as any; nil: cannot tell.
	Levels []DoseLevel `json:"levels,omitempty"`
	Curved bool        `json:"curved,omitempty"`
	Least  *float64    `json:"least_as_good,omitempty"`
	Within bool        `json:"turns_within,omitempty"` // inside the levels, with its 90 % interval
}

const mostDoses = 400

// DoseOf fits the trend of a numeric factor.
func DoseOf(in DoseInput) (DoseResult, error) {
	var out DoseResult
	if err := in.check(); err != nil {
		return out, err
	}
	levels := distinct(in.Doses)
	for _, x := range levels {
		out.Centre += x / float64(len(levels))
	}
	line, curve := in.polynomial(out.Centre, 1), in.polynomial(out.Centre, 2)
	out.Linear = DoseLine{Slope: line.at(0), SE: line.se(0), DF: line.DF, P: line.p(0)}
	saturated := in.saturated(levels)
	out.Lack = LackOfFit{DF1: line.DF - saturated.DF, DF2: saturated.DF}
	if out.Lack.DF1 > 0 {
		pure := saturated.MS * float64(saturated.DF)
		out.Lack.F, out.Lack.P = fTest(line.MS*float64(line.DF)-pure, float64(out.Lack.DF1), pure, float64(out.Lack.DF2))
	}
	if len(levels) >= 3 {
		out.Curve = &DoseCurve{B1: curve.at(0), B2: curve.at(1), SEB1: curve.se(0), SEB2: curve.se(1), DF: curve.DF, PB2: curve.p(1)}
		out.Turns = curve.turning(out.Centre)
		out.Gain = curve.gain(levels, out.Centre)
	}
	if in.SmallestDifference > 0 {
		out.read(in, levels, line, curve, saturated)
	}
	return out, nil
}

func (in DoseInput) check() error {
	n := len(in.Values)
	if n < 3 || n > mostDoses {
		return fault.New("values", fmt.Sprintf("%d values", n), fmt.Sprintf("give 3 to %d", mostDoses))
	}
	if len(in.Doses) != n || len(in.Blocks) != n {
		return fault.New("doses", fmt.Sprintf("%d doses and %d blocks for %d values", len(in.Doses), len(in.Blocks), n), "give one of each for every value")
	}
	if !(in.SmallestDifference >= 0 && in.SmallestDifference < 1e9) {
		return fault.New("smallest_difference", fmt.Sprintf("%v is no difference", in.SmallestDifference), "give more than zero, or none")
	}
	for i, v := range in.Values {
		if math.Abs(v) > 1e6 || math.Abs(in.Doses[i]) > 1e6 || in.Doses[i] != 0 && math.Abs(in.Doses[i]) < 1e-6 {
			return fault.New(fmt.Sprintf("values[%d]", i), fmt.Sprintf("%v at a dose of %v is past any scale", v, in.Doses[i]), "check the numbers")
		}
	}
	levels := distinct(in.Doses)
	if len(levels) < 2 {
		return fault.New("doses", "all doses are one", "give two levels or more")
	}
	for i := 1; i < len(levels); i++ {
		if levels[i]-levels[i-1] < 1e-6*(levels[len(levels)-1]-levels[0]) {
			return fault.New("doses", fmt.Sprintf("%v and %v are too close beside the others", levels[i-1], levels[i]), "write equal doses alike")
		}
	}
	if line := in.polynomial(0, 1); line.DF < 1 || !line.known {
		return fault.New("blocks", "nothing is left to tell the spread by", "give blocks that hold several doses, and more than one of them")
	}
	return nil
}

func distinct(v []float64) []float64 {
	out := slices.Clone(v)
	slices.Sort(out)
	return slices.Compact(out)
}

// turning is where the curve turns; nil where it is a line.
func (s slopes) turning(centre float64) *TurningPoint {
	b1, b2 := s.at(0), s.at(1)
	if !s.known || b2 == 0 {
		return nil
	}
	at := -b1 / (2 * b2)
	_, se := s.along(-1/(2*b2), b1/(2*b2*b2))
	if math.IsInf(at, 0) || math.IsNaN(at) || math.IsInf(se, 0) || math.IsNaN(se) {
		return nil
	}
	return &TurningPoint{at + centre, se}
}

func (s slopes) gain(levels []float64, centre float64) *DoseGain {
	if !s.known {
		return nil
	}
	out := &DoseGain{Doses: levels}
	least := levels[0] - centre
	for _, l := range levels {
		x := l - centre
		value, se := s.along(x-least, x*x-least*least)
		out.Gain, out.SE = append(out.Gain, value), append(out.SE, se)
	}
	return out
}

// read says what the trend comes to: the levels with their band, and the least dose whose
// loss against every other has its upper 90 % limit under what matters.
func (r *DoseResult) read(in DoseInput, levels []float64, line, curve, saturated slopes) {
	sign := 1.0
	if in.LessIsBetter {
		sign = -1
	}
	r.Curved = r.Curve != nil && r.Curve.PB2 != nil && *r.Curve.PB2 <= 0.05
	trend := line
	if r.Curved {
		trend = curve
	}
	if r.Turns != nil && r.Curved {
		half := tQuantile(0.95, float64(curve.DF)) * r.Turns.SE
		r.Within = r.Turns.Dose-half >= levels[0] && r.Turns.Dose+half <= levels[len(levels)-1]
	}
	grand := 0.0
	for _, v := range in.Values {
		grand += v / float64(len(in.Values))
	}
	// A level's place above the mean of all: what the fit says of it, less that of the units.
	above := func(s slopes, of func(x float64) []float64) func(x float64) (float64, float64) {
		mean := make([]float64, len(s.beta))
		for _, x := range in.Doses {
			for i, c := range of(x) {
				mean[i] += c / float64(len(in.Doses))
			}
		}
		return func(x float64) (float64, float64) {
			c := of(x)
			for i := range c {
				c[i] -= mean[i]
			}
			return s.along(c...)
		}
	}
	powers := func(x float64) []float64 {
		c := []float64{x - r.Centre}
		if r.Curved {
			c = append(c, c[0]*c[0])
		}
		return c
	}
	which := func(x float64) []float64 {
		c := make([]float64, len(levels)-1)
		if i := slices.Index(levels, x); i > 0 {
			c[i-1] = 1
		}
		return c
	}
	smooth, own := above(trend, powers), above(saturated, which)
	for _, x := range levels {
		fit, se := smooth(x)
		mean, _ := own(x)
		l := DoseLevel{Dose: x, Mean: grand + mean, Trend: grand + fit}
		if se > 0 {
			// The mean of all is unsure by itself.
			l.Band = tInterval(l.Trend, math.Hypot(se, math.Sqrt(trend.MS/float64(len(in.Values)))), float64(trend.DF), 0.90)
		}
		l.Loss, l.As = lossOf(x, levels, which, saturated, sign)
		r.Levels = append(r.Levels, l)
		if r.Least == nil && l.Loss != nil && *l.Loss < in.SmallestDifference {
			r.Least = ptr(x)
		}
	}
}

// lossOf is what a level may lose to any other, at most.
func lossOf(x float64, levels []float64, which func(float64) []float64, s slopes, sign float64) (loss *float64, against string) {
	if !s.known || s.DF < 1 || s.MS <= 0 {
		return nil, ""
	}
	for _, other := range levels {
		if other == x {
			continue
		}
		c, own := which(other), which(x)
		for i := range c {
			c[i] = sign * (c[i] - own[i])
		}
		value, se := s.along(c...)
		if upper := value + tQuantile(0.95, float64(s.DF))*se; loss == nil || upper > *loss {
			loss, against = ptr(upper), fmt.Sprintf("%g", other)
		}
	}
	return loss, against
}
