// Package forecast says when a cut under way will be done. It fits the cook
// model to the live log (the pit's trace drives it, the probe's trace is the
// evidence) and runs an ensemble of cuts that agree with the log to each
// coming end condition. THERMAL constants and laws are those of core/thermal.
package forecast

import (
	"math"
	"slices"
	"sort"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/thermal"
)

// Sample is one logged temperature.
type Sample struct {
	Time float64 // s since the cut went on
	C    float64
}

// Stage is what was done to the cut at a moment, and stays so until the next.
type Stage struct {
	From     float64 // s since the cut went on
	Exchange thermal.Exchange
	AirAdd   float64 // C the wrap adds to the air
	Spritz   float64 // kg/m2
	Liquid   float64 // kg
	LiquidAt float64 // C
}

// Log is what is known of a cook so far.
type Log struct {
	Family    thermal.Family
	Mass      float64 // kg
	Thickness float64 // m, whole; 0 when not measured
	Start     float64 // C from the fridge; NaN when not measured
	Pit       []Sample
	Probe     []Sample
	ByHand    bool     // the probe is put in anew for each reading, never quite at the same place
	Stages    []Stage  // the first from 0
	SetPoint  float64  // C, now
	Sets      []Sample // at what its pit was set before, in order: each holds until the next; none is the same throughout
	Now       float64  // s
	Pressure  float64  // Pa; 0 is sea level
}

func (l Log) check() error {
	switch {
	case len(l.Stages) == 0 || l.Stages[0].From != 0:
		return fault.New("stages", "nothing says how the cut went on", "give a first stage from 0 s")
	case !slices.IsSortedFunc(l.Stages, func(a, b Stage) int { return int(math.Copysign(1, a.From-b.From)) }):
		return fault.New("stages", "they are out of order", "give them in order of time")
	case !(l.Now > 0 && l.Now <= 4*24*3600):
		return fault.New("now", "the time is outside the first four days of the cook", "give seconds since the cut went on")
	case !(l.SetPoint >= 30 && l.SetPoint <= 350):
		return fault.New("set_point_C", "the set point is outside 30 to 350 C", "give the pit's set point")
	}
	return l.Family.Check()
}

const (
	block      = 600.0 // s, over which probe readings are taken together
	pitBlock   = 300.0
	blockShare = 1. / 3 // of the usual readings a block needs
	wildPit    = 60.0   // C off its block's median: not the pit
)

// blocks are the medians of readings over stretches of a width, at their
// middles. Thin stretches are left out.
func blocks(in []Sample, width, until float64) []Sample {
	in = usable(in, until)
	if len(in) == 0 {
		return nil
	}
	usual := width / usualGap(in)
	var out []Sample
	for i := 0; i < len(in); {
		k := math.Floor(in[i].Time / width)
		j := i
		for j < len(in) && math.Floor(in[j].Time/width) == k {
			j++
		}
		if (k+1)*width <= until && float64(j-i) >= blockShare*usual {
			out = append(out, Sample{(k + 0.5) * width, MedianC(in[i:j])})
		}
		i = j
	}
	return out
}

// usable drops what is no temperature and puts the rest in order of time.
func usable(in []Sample, until float64) []Sample {
	out := make([]Sample, 0, len(in))
	for _, s := range in {
		if s.Time >= 0 && s.Time <= until && s.C > -40 && s.C < 400 {
			out = append(out, s)
		}
	}
	if !sort.SliceIsSorted(out, func(i, j int) bool { return out[i].Time < out[j].Time }) {
		sort.SliceStable(out, func(i, j int) bool { return out[i].Time < out[j].Time })
	}
	return out
}

// usualGap is the median time between readings in s.
func usualGap(in []Sample) float64 {
	if len(in) < 2 {
		return block
	}
	gaps := make([]float64, len(in)-1)
	for i := range gaps {
		gaps[i] = in[i+1].Time - in[i].Time
	}
	return max(logbook.Median(gaps), 1)
}

// MedianC is the median temperature of samples, C; NaN of none.
func MedianC(in []Sample) float64 {
	if len(in) == 0 {
		return math.NaN()
	}
	v := make([]float64, len(in))
	for i, s := range in {
		v[i] = s.C
	}
	return logbook.Median(v)
}

// pitTrace is the pit as the model is driven by it: means of five minutes,
// carried straight over gaps. Without readings it is the set point.
func (l Log) pitTrace() (*thermal.Trace, []Sample) {
	in := usable(l.Pit, l.Now)
	var means []Sample
	for i := 0; i < len(in); {
		k := math.Floor(in[i].Time / pitBlock)
		j := i
		for j < len(in) && math.Floor(in[j].Time/pitBlock) == k {
			j++
		}
		middle, sum, time, n := MedianC(in[i:j]), 0.0, 0.0, 0.0
		for _, s := range in[i:j] {
			if math.Abs(s.C-middle) <= wildPit {
				sum, time, n = sum+s.C, time+s.Time, n+1
			}
		}
		if n > 0 {
			means = append(means, Sample{time / n, sum / n})
		}
		i = j
	}
	if len(means) == 0 {
		means = l.planned()
	}
	times, values := make([]float64, len(means)), make([]float64, len(means))
	for i, s := range means {
		times[i], values[i] = s.Time, s.C
	}
	trace, err := thermal.NewTrace(times, values)
	if err != nil {
		panic("forecast: means of the pit are no trace: " + err.Error()) // they are in order and in range
	}
	return trace, means
}

// planned is the pit as it was set: what drives the model where nothing was read of it.
func (l Log) planned() []Sample {
	if len(l.Sets) == 0 {
		return []Sample{{0, l.SetPoint}}
	}
	var out []Sample
	for i, s := range l.Sets {
		at := max(s.Time, 0)
		if i > 0 && at > out[len(out)-1].Time {
			out = append(out, Sample{at, out[len(out)-1].C}) // it holds until then
			at++
		}
		if n := len(out); n > 0 && at <= out[n-1].Time {
			out[n-1].C = s.C
			continue
		}
		out = append(out, Sample{at, s.C})
	}
	return out
}

// setAt is at what the pit was set at a time, and since when.
func (l Log) setAt(t float64) (c, since float64) {
	c = l.SetPoint
	for i, s := range l.Sets {
		if i == 0 || s.Time <= t {
			c, since = s.C, s.Time
		}
	}
	return c, since
}

// settling is how long a pit may take to a new set point: it is not off it meanwhile.
const settling = 1800.0

// futureOffset is how far off its set points the pit has been over the last
// two hours, in C.
func (l Log) futureOffset(means []Sample) float64 {
	sum, n := 0.0, 0.0
	for _, s := range means {
		set, since := l.setAt(s.Time)
		if s.Time > l.Now-2*3600 && s.Time > min(settling, l.Now/2) && (since == 0 || s.Time > since+settling) {
			sum, n = sum+s.C-set, n+1
		}
	}
	if n == 0 {
		return 0
	}
	return sum / n
}
