package forecast

import (
	"context"
	"fmt"
	"math"
	"runtime"
	"slices"
	"sort"
	"sync"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
)

const (
	pitBias     = 2.0       // C, sd of the pit's mean from now on
	lastMemory  = 2 * 3600  // s, how long the last residual lasts
	wanderError = 0.8       // C, sd of the model error to come
	farthest    = 30 * 3600 // s from now
	aheadStep   = 600.0     // s
	beyond      = 9.0       // C past the value a probe is followed, for the error to come
	remaining   = 0.10      // sd of the logarithm of the time that remains
	slower      = 0.03      // of the same logarithm: synthetic cooks end a little later than the model has it
)

// Ahead is a coming phase: what it will be like and how it is to end.
type Ahead struct {
	Name     string
	Air      float64 // C, set point
	InPit    bool    // the pit's own offset and errors go with it
	Exchange thermal.Exchange
	AirAdd   float64
	Spritz   float64
	Liquid   float64
	LiquidAt float64
	End      thermal.Quantity
	Value    float64
	More     []thermal.Until // further ends; the last phase has none
	All      bool            // it ends once all hold, not at the first
}

// Spread is a number with an interval around it that holds four times in five.
type Spread struct {
	Low, Middle, High float64
}

// Coming is one end condition in the forecast.
type Coming struct {
	Name    string
	Time    Spread  // s since the cut went on
	Reached float64 // share of the ensemble that gets there within 30 h
	Core    Spread  // C, at that time
	Loss    Spread
	Index   Spread
	Dryness Spread
	times   []float64 // of each member; +Inf when not reached
}

// By is the chance that the condition is met by a time in s.
func (c Coming) By(t float64) float64 {
	n := sort.SearchFloat64s(c.times, math.Nextafter(t, math.Inf(1)))
	return float64(n) / float64(len(c.times))
}

// Forecast is what is to come.
type Forecast struct {
	Coming []Coming
	Fan    []FanPoint
}

// FanPoint is where the probe will be, and how tender the cut.
type FanPoint struct {
	Time  float64
	Probe Spread
	Index Spread
}

// path is what one member does from now on.
type path struct {
	ends  []float64 // s; +Inf when not reached
	state []thermal.Reading
	probe []float64 // C, every aheadStep from now until it ends
	index []float64 // of tenderness, likewise
	err   error
}

// Forecast runs the ensemble through coming phases. The members share out
// over the processors; the answer does not depend on how many there are.
func (c *Calibration) Forecast(ctx context.Context, ahead []Ahead) (Forecast, error) {
	if len(ahead) == 0 {
		return Forecast{}, fault.New("ahead", "nothing is to come", "give the coming phases")
	}
	paths := make([]path, len(c.members))
	var work sync.WaitGroup
	workers := min(runtime.GOMAXPROCS(0), len(paths))
	for w := range workers {
		work.Go(func() {
			r := runner{c: c}
			for i := w; i < len(paths) && ctx.Err() == nil; i += workers {
				paths[i] = c.follow(&r, c.members[i], ahead)
			}
		})
	}
	work.Wait()
	if err := ctx.Err(); err != nil {
		return Forecast{}, err
	}
	for _, p := range paths {
		if p.err != nil {
			return Forecast{}, p.err
		}
	}
	return c.gather(ahead, paths), nil
}

// follow takes one member from the start through now to the end.
func (c *Calibration) follow(r *runner, m member, ahead []Ahead) path {
	if err := r.begin(m.z); err != nil {
		return path{err: err}
	}
	if err := r.body.Follow(r.phases, 0, &r.out); err != nil {
		return path{err: err}
	}
	_, _, off := c.prior.cut(m.z)
	errors := wander{c.log.Now, m.last, m.error}
	p := path{ends: make([]float64, len(ahead)), state: make([]thermal.Reading, len(ahead))}
	now, at := c.log.Now, c.log.Now
	for i, a := range ahead {
		phase := thermal.Phase{
			Name: a.Name, Air: a.Air + a.AirAdd, Exchange: a.Exchange, Spritz: a.Spritz, Liquid: a.Liquid, LiquidAt: a.LiquidAt,
			End: a.End, Value: a.Value, More: slices.Clone(a.More), All: a.All, Longest: max(farthest-(at-now), 0),
		}
		if a.InPit {
			phase.Air += c.pitAhead + off + m.bias
		}
		phase.Air = min(max(phase.Air, -30), 380)
		probed := a.End == thermal.ByProbe || a.End == thermal.ByProbeBelow
		final := i == len(ahead)-1
		switch {
		case probed && final:
			phase.Value += math.Copysign(beyond, sign(a.End)) // the reading may cross before or after the model
		case probed:
			phase.Value -= errors.at(at)
		}
		for k, u := range phase.More {
			if u.Watch == thermal.ByProbe || u.Watch == thermal.ByProbeBelow {
				phase.More[k].Value -= errors.at(at)
			}
		}
		if err := r.body.Follow([]thermal.Phase{phase}, aheadStep, &r.out); err != nil {
			return path{err: fault.In(fmt.Sprintf("ahead.%d", i+1), err)}
		}
		end := r.out.Ends[0]
		p.ends[i], p.state[i] = end.Time, end.Reading
		if probed && final {
			p.ends[i], p.state[i] = errors.crossing(r.out.Readings, end, a)
		} else if !end.Reached {
			p.ends[i] = math.Inf(1)
		}
		for _, s := range r.out.Readings {
			if s.Time < min(p.ends[i], end.Time) {
				p.probe, p.index = append(p.probe, s.Probe+errors.at(s.Time)), append(p.index, s.Index)
			}
		}
		at = end.Time
		if math.IsInf(p.ends[i], 1) {
			for k := i + 1; k < len(ahead); k++ {
				p.ends[k], p.state[k] = math.Inf(1), p.state[i]
			}
			break
		}
	}
	for i := range p.ends {
		p.ends[i] = now + (p.ends[i]-now)*math.Exp(slower+remaining*m.slowness)
	}
	return p
}

func sign(q thermal.Quantity) float64 {
	if q == thermal.ByProbeBelow {
		return -1
	}
	return 1
}

// wander is the error of the model to come: the last one dying away, and one
// of the member's own growing to its full size. It is smooth, as real misfits
// are; a jagged one would cross any value too soon.
type wander struct{ from, last, own float64 }

// at is the error at a time in s.
func (w wander) at(t float64) float64 {
	d := max(t-w.from, 0)
	return w.last*math.Exp(-d/lastMemory) + w.own*math.Sqrt(1-math.Exp(-2*d/modelMemory))
}

// crossing is when the reading, errors and all, first meets the value.
func (w wander) crossing(in []thermal.Reading, end thermal.PhaseEnd, a Ahead) (float64, thermal.Reading) {
	up := sign(a.End)
	over := func(r thermal.Reading) float64 { return up * (r.Probe + w.at(r.Time) - a.Value) }
	all := append(in[:len(in):len(in)], end.Reading)
	for i, r := range all {
		o := over(r)
		if o < 0 {
			continue
		}
		if i == 0 {
			return r.Time, r
		}
		was := over(all[i-1])
		return all[i-1].Time + (r.Time-all[i-1].Time)*(-was)/(o-was), r
	}
	return math.Inf(1), end.Reading
}

func (c *Calibration) gather(ahead []Ahead, paths []path) Forecast {
	var out Forecast
	for k, a := range ahead {
		var cores, losses, indices, dry []float64
		co := Coming{Name: a.Name}
		for _, p := range paths {
			co.times = append(co.times, p.ends[k])
			s := p.state[k]
			cores, losses, indices, dry = append(cores, s.Core), append(losses, s.Loss), append(indices, s.Index), append(dry, s.Dryness)
			if !math.IsInf(p.ends[k], 1) {
				co.Reached += 1 / float64(len(paths))
			}
		}
		sort.Float64s(co.times)
		co.Time, co.Core, co.Loss, co.Index, co.Dryness = spreadOf(co.times), spreadOf(cores), spreadOf(losses), spreadOf(indices), spreadOf(dry)
		out.Coming = append(out.Coming, co)
	}
	for k := 0; ; k++ {
		var at, index []float64
		for _, p := range paths {
			if k < len(p.probe) {
				at, index = append(at, p.probe[k]), append(index, p.index[k])
			}
		}
		if len(at) < len(paths)/2 {
			return out
		}
		out.Fan = append(out.Fan, FanPoint{c.log.Now + float64(k)*aheadStep, spreadOf(at), spreadOf(index)})
	}
}

// spreadOf is the tenth, half and nine tenths of numbers.
func spreadOf(v []float64) Spread {
	sort.Float64s(v)
	at := func(q float64) float64 {
		x := q * float64(len(v)-1)
		i := min(int(x), len(v)-2)
		if math.IsInf(v[i+1], 1) && x > float64(i) {
			return v[i+1]
		}
		return v[i] + (x-float64(i))*(v[i+1]-v[i])
	}
	return Spread{at(0.1), at(0.5), at(0.9)}
}
