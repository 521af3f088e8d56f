package logbook

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/fault"
)

// SlopeSource is where the slopes are from.
const SlopeSource = "Least squares; Theil, 1950, and Sen, 1968 (median of slopes); Mann, 1945 (trend)"

// SlopeInput are readings over time; a reading that failed is missing.
type SlopeInput struct {
	T      []float64  `json:"t"`
	Y      []*float64 `json:"y"`
	Window []float64  `json:"window"` // from, to, both included
}

// SlopeOutput is how fast they go up in the window, by all readings and by the median of
// every two, which one wild reading does not move.
type SlopeOutput struct {
	N         int      `json:"n"`
	Slope     float64  `json:"slope"`
	SE        *float64 `json:"slope_se"`
	Intercept float64  `json:"intercept"`
	R2        *float64 `json:"r_squared"`
	Sen       float64  `json:"theil_sen_slope"`
	SenFrom   float64  `json:"theil_sen_intercept"`
	S         int      `json:"mann_kendall_s"` // rises less falls, over every two readings of different times
}

// SlopeOf works out the slopes; times may come twice.
func SlopeOf(in SlopeInput) (out SlopeOutput, err error) {
	var wrong fault.List
	if len(in.T) != len(in.Y) {
		wrong.Add("y", fmt.Sprintf("there are %d readings at %d times", len(in.Y), len(in.T)), "give a reading or nothing for each time")
	}
	if len(in.Window) != 2 || in.Window[0] > in.Window[1] {
		wrong.Add("window", "it is no stretch of time", "give from and to")
	}
	if err := wrong.Err(); err != nil {
		return out, err
	}
	var t, y []float64
	for i, v := range in.Y {
		if v != nil && in.T[i] >= in.Window[0] && in.T[i] <= in.Window[1] {
			t, y = append(t, in.T[i]), append(y, *v)
		}
	}
	if len(t) < 2 || slices.Min(t) == slices.Max(t) {
		return out, fault.New("window", "there are not two readings at different times in it", "make it wider")
	}
	out.N = len(t)
	out.Intercept, out.Slope = stat.LinearRegression(t, y, nil, false)
	out.judge(t, y)
	out.pairs(t, y)
	return out, nil
}

// judge says how well the straight line holds; nothing of readings that are all the same.
func (o *SlopeOutput) judge(t, y []float64) {
	mt, my := stat.Mean(t, nil), stat.Mean(y, nil)
	var stt, syy, ss float64
	for i := range t {
		r := y[i] - o.Intercept - o.Slope*t[i]
		stt, syy, ss = stt+(t[i]-mt)*(t[i]-mt), syy+(y[i]-my)*(y[i]-my), ss+r*r
	}
	if syy == 0 {
		return
	}
	r2 := 1 - ss/syy
	o.R2 = &r2
	if len(t) > 2 {
		se := math.Sqrt(ss / float64(len(t)-2) / stt)
		o.SE = &se
	}
}

// pairs takes every two readings.
func (o *SlopeOutput) pairs(t, y []float64) {
	var slopes []float64
	for i := range t {
		for j := range i {
			if t[i] == t[j] {
				continue
			}
			slopes = append(slopes, (y[i]-y[j])/(t[i]-t[j]))
			switch {
			case y[i] > y[j]:
				o.S++
			case y[i] < y[j]:
				o.S--
			}
		}
	}
	o.Sen = Median(slopes)
	from := make([]float64, len(t))
	for i := range t {
		from[i] = y[i] - o.Sen*t[i]
	}
	o.SenFrom = Median(from)
}

// Median is that of values, one at least, which it sorts.
func Median(v []float64) float64 {
	slices.Sort(v)
	return (v[(len(v)-1)/2] + v[len(v)/2]) / 2
}
