package forecast

import (
	"context"
	"math"
	"math/rand/v2"

	"gonum.org/v1/gonum/mat"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
)

const (
	cells         = 14
	tolerance     = 0.3  // C
	modelError    = 0.6  // C, sd of what the model gets wrong
	modelMemory   = 3600 // s
	readingError  = 0.12 // C, sd of a block's median
	handError     = 2.0  // C, sd of one by hand: another place, a probe not come to rest (ours)
	huber         = 2.5
	mostRounds    = 7
	nudge         = 0.15
	Members       = 60
	spreadOfGuess = 0.85
)

var settings = thermal.Settings{Cells: cells, Tolerance: tolerance}

// Calibration is an ensemble of cuts that agree with a log so far.
type Calibration struct {
	log      Log
	prior    prior
	trace    *thermal.Trace
	pitAhead float64 // C over the set point from now on
	probe    []Sample
	best     point
	members  []member
	fit      fit
	seed     uint64
}

// member is one cut of the ensemble.
type member struct {
	z        point
	bias     float64 // C, of the pit from now on
	last     float64 // C by which the probe reads over the model now
	error    float64 // C, of the model in hours to come
	slowness float64 // factor on the time that remains
}

// fit is how well the best guess agrees with the log.
type fit struct {
	residuals []float64 // whitened
	misfit    float64   // root mean square of them
	distance  float64   // squared widths of the best guess from the usual
}

// Options of a calibration.
type Options struct {
	Seed   uint64
	Guess  []float64 // of an earlier calibration of the same cook, to start from
	Centre []float64 // what the house has learned of the family, from Learn
}

// A first reading within firstWithin s tells how cold a cut went on; else it came from a
// fridge, at fridgeC.
const (
	firstWithin = 1800.0
	fridgeC     = 4.0
)

// Calibrate fits the model to the log. It needs twenty minutes of probe
// readings; it is deterministic for a seed and stops with the context.
func Calibrate(ctx context.Context, l Log, o Options) (*Calibration, error) {
	if err := l.check(); err != nil {
		return nil, err
	}
	probe := blocks(l.Probe, block, l.Now)
	if len(probe) < 2 {
		return nil, fault.New("probe", "there are not yet twenty minutes of readings", "wait, or check the probe")
	}
	c := &Calibration{log: l, probe: probe, seed: o.Seed}
	var means []Sample
	c.trace, means = l.pitTrace()
	c.pitAhead = l.futureOffset(means)
	c.prior = prior{log: l, first: probe[0].C, known: l.Start}
	if in := usable(l.Probe, l.Now); len(in) > 0 {
		c.prior.first = MedianC(in[:min(len(in), 5)])
		if in[0].Time > firstWithin {
			c.prior.first = fridgeC // what is read later says nothing of how it went on
		}
	}
	copy(c.prior.centre[:], o.Centre)
	copy(c.best[:], o.Guess)
	r := runner{c: c}
	h, err := c.search(ctx, &r)
	if err != nil {
		return nil, err
	}
	return c, c.draw(&r, h)
}

// runner simulates guesses, reusing one body and one result.
type runner struct {
	c      *Calibration
	body   *thermal.Body
	out    thermal.Result
	phases []thermal.Phase
}

// begin sets the body to a guess and lists the phases that were.
func (r *runner) begin(z point) error {
	cut, crust, off := r.c.prior.cut(z)
	set := settings
	set.Pressure = r.c.log.Pressure
	if r.body == nil {
		b, err := thermal.NewBody(cut, crust, set)
		if err != nil {
			return err
		}
		r.body = b
	} else if err := r.body.Reset(cut, crust, set); err != nil {
		return err
	}
	r.phases = r.phases[:0]
	stages := r.c.log.Stages
	for i, s := range stages {
		until := r.c.log.Now
		if i+1 < len(stages) {
			until = min(stages[i+1].From, until)
		}
		r.phases = append(r.phases, thermal.Phase{
			Log: r.c.trace, Offset: off + s.AirAdd, Exchange: s.Exchange,
			Spritz: s.Spritz, Liquid: s.Liquid, LiquidAt: s.LiquidAt, End: thermal.ByTime, Value: max(until-s.From, 0),
		})
	}
	return nil
}

// past simulates a guess until now; the readings come every half block.
func (r *runner) past(z point) error {
	if err := r.begin(z); err != nil {
		return err
	}
	return r.body.Follow(r.phases, block/2, &r.out)
}

// residuals are probe less model, block by block, as errors that do not
// depend on each other: the model's own error remembers for an hour.
func (r *runner) residuals(z point, into []float64) error {
	if err := r.past(z); err != nil {
		return err
	}
	before, at := 0.0, math.Inf(-1)
	reading := readingError
	if r.c.log.ByHand {
		reading = handError
	}
	for i, s := range r.c.probe {
		d := s.C - r.probeAt(s.Time)
		keep := math.Exp(-(s.Time - at) / modelMemory)
		sd := math.Sqrt(modelError*modelError*(1-keep*keep) + reading*reading)
		into[i] = (d - keep*before) / sd
		before, at = d, s.Time
	}
	return nil
}

// probeAt is the model's probe at a time that readings were kept at.
func (r *runner) probeAt(t float64) float64 {
	i := min(int(t/(block/2)+0.5), len(r.out.Readings)-1)
	return r.out.Readings[i].Probe
}

// cost of residuals and guess; far-off residuals count linearly.
func cost(res []float64, z point) float64 {
	sum := 0.0
	for _, e := range res {
		if a := math.Abs(e); a <= huber {
			sum += e * e / 2
		} else {
			sum += huber * (a - huber/2)
		}
	}
	for _, v := range z {
		sum += v * v / 2
	}
	return sum
}

// search finds the most likely guess by Levenberg and Marquardt's method and
// returns the curvature there.
func (c *Calibration) search(ctx context.Context, r *runner) (*mat.SymDense, error) {
	n := len(c.probe)
	res, trial := make([]float64, n), make([]float64, n)
	slope := mat.NewDense(n, unknowns, nil)
	if err := r.residuals(c.best, res); err != nil {
		return nil, err
	}
	now, damp := cost(res, c.best), 0.01
	var h *mat.SymDense
	for range mostRounds {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := c.slopes(r, res, trial, slope); err != nil {
			return nil, err
		}
		var down *mat.VecDense
		h, down = curvature(res, slope, c.best)
		gained := false
		for range 4 {
			next, ok := step(h, down, c.best, damp)
			if !ok {
				damp *= 10
				continue
			}
			if err := r.residuals(next, trial); err != nil {
				return nil, err
			}
			if then := cost(trial, next); then < now {
				gained = now-then > 0.02
				c.best, now = next, then
				res, trial = trial, res
				damp = max(damp/5, 1e-4)
				break
			}
			damp *= 6
		}
		if !gained {
			break
		}
	}
	if err := c.slopes(r, res, trial, slope); err != nil {
		return nil, err
	}
	h, _ = curvature(res, slope, c.best)
	c.fit = measure(res, c.best)
	return h, nil
}

func measure(res []float64, z point) fit {
	f := fit{residuals: res}
	for _, e := range res {
		f.misfit += e * e / float64(len(res))
	}
	f.misfit = math.Sqrt(f.misfit)
	for _, v := range z {
		f.distance += v * v
	}
	return f
}

// slopes fills in how each residual changes with each unknown.
func (c *Calibration) slopes(r *runner, res, trial []float64, slope *mat.Dense) error {
	for k := range unknowns {
		z, by := c.best, nudge
		if z[k] > 0 {
			by = -nudge // towards the usual, away from the edge
		}
		z[k] += by
		if err := r.residuals(z, trial); err != nil {
			return err
		}
		for i := range res {
			slope.Set(i, k, (trial[i]-res[i])/by)
		}
	}
	return nil
}

// curvature is that of the cost (Gauss and Newton), and the way down.
func curvature(res []float64, slope *mat.Dense, z point) (*mat.SymDense, *mat.VecDense) {
	h, down := mat.NewSymDense(unknowns, nil), mat.NewVecDense(unknowns, nil)
	for a := range unknowns {
		h.SetSym(a, a, 1)
		down.SetVec(a, -z[a])
	}
	for i, e := range res {
		w := min(1, huber/max(math.Abs(e), 1e-9))
		for a := range unknowns {
			sa := w * slope.At(i, a)
			down.SetVec(a, down.AtVec(a)-sa*e)
			for b := a; b < unknowns; b++ {
				h.SetSym(a, b, h.At(a, b)+sa*slope.At(i, b))
			}
		}
	}
	return h, down
}

func step(h *mat.SymDense, down *mat.VecDense, z point, damp float64) (point, bool) {
	damped := mat.NewSymDense(unknowns, nil)
	damped.CopySym(h)
	for a := range unknowns {
		damped.SetSym(a, a, h.At(a, a)*(1+damp))
	}
	var ch mat.Cholesky
	var by mat.VecDense
	if !ch.Factorize(damped) || ch.SolveVecTo(&by, down) != nil {
		return z, false
	}
	for a := range z {
		z[a] = min(max(z[a]+by.AtVec(a), -clip), clip)
	}
	return z, true
}

// draw makes the ensemble: guesses around the best as far as the log leaves
// them open, each with its own errors to come.
func (c *Calibration) draw(r *runner, h *mat.SymDense) error {
	var ch mat.Cholesky
	if !ch.Factorize(h) {
		return fault.New("log", "the fit is not determined", "wait for more readings")
	}
	var upper mat.TriDense
	ch.UTo(&upper)
	random := rand.New(rand.NewPCG(c.seed, 0x5eed))
	for range Members {
		var m member
		noise := mat.NewVecDense(unknowns, nil)
		for a := range unknowns {
			noise.SetVec(a, spreadOfGuess*random.NormFloat64())
		}
		var away mat.VecDense
		if err := away.SolveVec(&upper, noise); err != nil {
			return fault.New("log", "the fit is not determined", "wait for more readings")
		}
		for a := range unknowns {
			m.z[a] = min(max(c.best[a]+away.AtVec(a), -clip), clip)
		}
		m.bias = pitBias * random.NormFloat64()
		m.slowness = random.NormFloat64()
		m.error = wanderError * random.NormFloat64()
		if err := r.past(m.z); err != nil {
			return err
		}
		m.last = c.lastResidual(r)
		c.members = append(c.members, m)
	}
	return nil
}

// lastResidual is by how much the probe now reads over the model: the mean of
// the last two blocks.
func (c *Calibration) lastResidual(r *runner) float64 {
	last := c.probe[max(0, len(c.probe)-2):]
	sum := 0.0
	for _, s := range last {
		sum += s.C - r.probeAt(s.Time)
	}
	return sum / float64(len(last))
}

// Guess is the best one, to start the next calibration of the same cook from
// and, when the cook is finished, to Learn from.
func (c *Calibration) Guess() []float64 {
	out := make([]float64, unknowns)
	for i := range out {
		out[i] = c.best[i]
	}
	return out
}

// learnedFrom is how many cooks weigh as much as knowing nothing.
const learnedFrom = 4.0

// Learn takes what finished cooks of a family had in common: the mean of
// their best guesses, drawn towards the usual while there are few.
func Learn(guesses [][]float64) []float64 {
	out := make([]float64, unknowns)
	for _, g := range guesses {
		for i := range min(len(g), unknowns) {
			out[i] += g[i] / (float64(len(guesses)) + learnedFrom)
		}
	}
	return out
}
