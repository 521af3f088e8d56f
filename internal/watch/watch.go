// Package watch reads the record of a cook under way and forecasts its cuts.
package watch

import (
	"context"
	"errors"
	"math"
	"slices"
	"sync"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	planner "whitebarn/internal/barn/plan"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Outlook is what is to come for one cut.
type Outlook struct {
	CutID   int64    `json:"cut_id"`
	TargetC float64  `json:"target_c"`
	Doubts  []string `json:"doubts"`  // how the log contradicts the model
	Missing string   `json:"missing"` // why there is no forecast; empty when there is one
	Done    *Coming  `json:"done"`    // as it goes on now
	Wrapped *Coming  `json:"wrapped"` // were it wrapped in foil now; nil when it is wrapped
	Fan     []Fan    `json:"fan"`
	Changed string   `json:"changed"` // why it is another than a while ago; empty when it is not
}

// Coming is when a cut will be at its target, and what it will be like.
type Coming struct {
	Low     time.Time `json:"low"`
	Middle  time.Time `json:"middle"`
	High    time.Time `json:"high"` // low to high holds four times in five
	Reached float64   `json:"reached"`
	Loss    float64   `json:"loss"`     // share of its weight
	Index   float64   `json:"index"`    // of tenderness; 1 is tender
	Dryness float64   `json:"dryness"`  // share of its water
	ByTable float64   `json:"by_table"` // chance of being at the target when the table is set
}

// Fan is where the probe will be.
type Fan struct {
	At   time.Time `json:"at"`
	Low  float64   `json:"low"`
	High float64   `json:"high"`
}

// Watcher forecasts cooks. It remembers its last guess of each cut, which
// makes the next one quick.
type Watcher struct {
	store   *store.Store
	planner *planner.Planner
	mu      sync.Mutex
	known   map[int64][]float64 // best guess of each cut
	last    map[int64]*view     // of each cook
	pulled  map[restKey]*forecast.Calibration
}

// view is what was last seen of a cook. Many browsers look at once; one of
// them computes.
type view struct {
	sync.Mutex
	at  time.Time
	out []Outlook
}

// fresh is how long a view serves.
const fresh = 4 * time.Second

// New returns a watcher of a barn's record.
func New(s *store.Store, p *planner.Planner) *Watcher {
	return &Watcher{store: s, planner: p, known: map[int64][]float64{}, last: map[int64]*view{}, pulled: map[restKey]*forecast.Calibration{}}
}

// Forecast looks ahead for every cut of a cook that is on and not pulled.
func (w *Watcher) Forecast(ctx context.Context, cookID int64, now time.Time) ([]Outlook, error) {
	w.mu.Lock()
	v := w.last[cookID]
	if v == nil {
		v = &view{}
		w.last[cookID] = v
	}
	w.mu.Unlock()
	v.Lock()
	defer v.Unlock()
	if v.out != nil && now.Sub(v.at) < fresh {
		return v.out, nil
	}
	out, err := w.compute(ctx, cookID, now)
	if err == nil {
		v.at, v.out = now, out
	}
	return out, err
}

func (w *Watcher) compute(ctx context.Context, cookID int64, now time.Time) ([]Outlook, error) {
	c, err := w.ready(ctx, cookID, now)
	if err != nil {
		return nil, err
	}
	out := make([]Outlook, len(c.burning))
	var work sync.WaitGroup
	for i, cut := range c.burning {
		work.Go(func() { out[i] = w.one(ctx, c, cut) })
	}
	work.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	return out, w.compare(ctx, c, out)
}

// ready reads a cook with what the house has learned.
func (w *Watcher) ready(ctx context.Context, cookID int64, now time.Time) (cook, error) {
	if err := w.learn(ctx); err != nil {
		return cook{}, err
	}
	c, err := w.read(ctx, cookID, now)
	if err != nil {
		return c, err
	}
	guesses, err := w.store.Guesses(ctx, c.family.Key)
	if err != nil {
		return c, err
	}
	c.centre = forecast.Learn(guesses)
	all, err := reader.Traces(ctx, w.store, c.probes, time.Time{}, c.now)
	c.traces = map[evidence.ProbeKey][]logbook.Point{}
	for i, p := range c.probes {
		c.traces[p.Key()] = all[i]
	}
	return c, err
}

// cook is what was read of one.
type cook struct {
	store.Cook
	now     time.Time
	trial   evidence.Trial
	probes  []evidence.Probe // of this cook
	outline plan.Outline
	family  thermal.Family
	placed  []evidence.Cut // in its pits
	burning []burning
	cookers []plan.Pit       // of the barn, where a plan is in another than its cuts stand in
	height  float64          // m, of the barn
	house   reader.Gatehouse // what the gate needs of it
	trueNow time.Time
	centre  []float64                             // what the house has learned of the family
	traces  map[evidence.ProbeKey][]logbook.Point // of its probes, where they were read at once; else nil
}

// burning is a cut that is on and not pulled.
type burning struct {
	evidence.Cut
	on   time.Time
	left time.Time // the fridge; when it went on where nobody said
	stay evidence.Stay
	run  evidence.PitRun
}

func (w *Watcher) read(ctx context.Context, cookID int64, now time.Time) (c cook, err error) {
	if c.Cook, err = w.store.Cook(ctx, cookID); err != nil {
		return c, err
	}
	c.now, c.trueNow = c.Clock.Now(now), now
	rows, err := reader.ReadRows(ctx, w.store, c.TrialID)
	if err != nil {
		return c, err
	}
	c.trial = rows.Evidence()[0]
	for _, p := range c.trial.Probes {
		if p.CookID == cookID {
			c.probes = append(c.probes, p)
		}
	}
	if c.outline, err = w.planner.Outline(ctx, rows.Trials[0]); err != nil {
		return c, err
	}
	if c.cookers, err = w.planner.Cookers(ctx, c.outline); err != nil {
		return c, err
	}
	barn, err := w.store.Barn(ctx)
	if err != nil {
		return c, err
	}
	c.height = barn.ElevationM
	if c.house, err = reader.ReadGatehouse(ctx, w.store); err != nil {
		return c, err
	}
	c.trial.Doses = map[int64][]prep.Dose{}
	for _, a := range c.outline.Arms {
		c.trial.Doses[a.ArmID] = a.Doses
	}
	if c.family, err = w.store.Family(ctx, c.trial.Ask.Family); err != nil {
		return c, err
	}
	c.placed = c.trial.InCook(cookID)
	for _, k := range c.placed {
		if k.Burns() {
			c.burning = append(c.burning, c.burn(k))
		}
	}
	return c, nil
}

// burn is a cut with where it lies and since when.
func (c cook) burn(k evidence.Cut) burning {
	b := burning{Cut: k, left: k.Left()}
	for _, f := range k.Fires() { // on again after a chill it is another fire
		b.on = f.On
	}
	b.stay, _ = k.Lies()
	b.run, _ = c.trial.Run(b.stay.PitRunID)
	return b
}

// log is the record of one cut as the forecast takes it.
func (w *Watcher) log(ctx context.Context, c cook, b burning) (forecast.Log, error) {
	l := forecast.Log{Family: c.family, Mass: b.AtFireOr(c.family.Mass), Start: math.NaN(), SetPoint: b.run.SetAt(c.now), Pressure: thermal.PressureAt(c.height), Now: c.now.Sub(b.on).Seconds()}
	if v := b.Dimension("thickness"); v != nil {
		l.Thickness = *v
	}
	if v := b.Dimension("cold"); v != nil {
		l.Start = *v
	}
	l.Stages, l.Sets = c.stages(b)
	whole, _ := c.trial.HeatWindows(b.Cut, c.now)
	for _, s := range whole {
		trace, err := w.trace(ctx, c, []evidence.Probe{s.Probe}, s.From, s.To)
		if err != nil {
			return l, err
		}
		l.Pit = append(l.Pit, samples(trace[0], b.on)...)
	}
	cores, err := w.cores(ctx, c, b.Cut, b.on.Add(-before), c.now)
	l.Probe = samples(evidence.Deciding(cores, c.pullPlace(b)), b.on)
	l.ByHand = !slices.ContainsFunc(cores, func(k evidence.Core) bool { return !k.ByHand })
	return l, err
}

// stages are how a cut was covered and where it lay since it went on, and at what its pits
// were set.
func (c cook) stages(b burning) (out []forecast.Stage, sets []forecast.Sample) {
	parts := c.trial.OnPits(b.Cut, c.now)
	parts = slices.DeleteFunc(parts, func(p evidence.Part) bool { return p.From.Before(b.on) })
	changes := b.Changes(c.trial.Ask.Said(c.trial.ArmOf(b.Cut), trial.Wrap), c.now)
	wrap := changes[0].Wrap
	for _, k := range changes {
		if !k.At.After(b.on) {
			wrap = k.Wrap // as it went on
		}
	}
	changes = slices.DeleteFunc(changes, func(k evidence.Change) bool { return !k.At.After(b.on) })
	changes = append([]evidence.Change{{At: b.on, Wrap: wrap}}, changes...)
	for i, p := range parts {
		s := func(at time.Time, c float64) {
			sets = append(sets, forecast.Sample{Time: at.Sub(b.on).Seconds(), C: c})
		}
		s(p.From, p.Run.SetAt(p.From))
		for _, x := range p.Run.Sets {
			if x.At.After(p.From) && !x.At.After(p.To) {
				s(x.At, x.C)
			}
		}
		if i == 0 {
			continue
		}
		k := evidence.Change{At: p.From}
		for _, was := range changes {
			if !was.At.After(p.From) {
				k.Wrap = was.Wrap
			}
		}
		changes = append(changes, k)
	}
	slices.SortStableFunc(changes, func(a, b evidence.Change) int { return a.At.Compare(b.At) })
	for _, k := range changes {
		run := b.run
		for _, p := range parts {
			if !p.From.After(k.At) {
				run = p.Run
			}
		}
		s := forecast.Stage{From: k.At.Sub(b.on).Seconds(), Exchange: run.Kind.Exchange(k.Wrap), AirAdd: k.Wrap.AirAdd}
		if k.Spritz {
			s.Spritz = thermal.UsualSpritz
		}
		out = append(out, s)
	}
	return out, sets
}

// before the cut went on, a probe in it tells how cold it was.
const before = time.Hour

func samples(points []logbook.Point, on time.Time) []forecast.Sample {
	out := make([]forecast.Sample, len(points))
	for i, p := range points {
		out[i] = forecast.Sample{Time: p.At.Sub(on).Seconds(), C: p.C}
	}
	return out
}

// trace is what probes of the cook showed between two moments, in one query; of what
// is known already none is read again.
func (w *Watcher) trace(ctx context.Context, c cook, probes []evidence.Probe, from, to time.Time) ([][]logbook.Point, error) {
	if c.traces == nil {
		return reader.Traces(ctx, w.store, probes, from, to)
	}
	out := make([][]logbook.Point, len(probes))
	for i, p := range probes {
		out[i] = between(c.traces[p.Key()], from, to)
	}
	return out, nil
}

// between is the part of a trace from one moment to another, both included.
func between(trace []logbook.Point, from, to time.Time) []logbook.Point {
	first, _ := slices.BinarySearchFunc(trace, from, func(p logbook.Point, t time.Time) int { return p.At.Compare(t) })
	last, _ := slices.BinarySearchFunc(trace, to.Add(1), func(p logbook.Point, t time.Time) int { return p.At.Compare(t) })
	if first >= last {
		return nil
	}
	return trace[first:last]
}

// cores are the traces of a cut by place, between two moments.
func (w *Watcher) cores(ctx context.Context, c cook, k evidence.Cut, from, to time.Time) ([]evidence.Core, error) {
	var mine []evidence.Probe
	for _, p := range c.probes {
		if p.CutID == k.ID {
			mine = append(mine, p)
		}
	}
	traces, err := w.trace(ctx, c, mine, from, to)
	if err != nil {
		return nil, err
	}
	return evidence.CoresOf(k, mine, traces, from, to), nil
}

// phases are what is planned for the arm of a cut.
func (c cook) phases(b burning) []phase.Phase { return c.outline.Of(c.trial.ArmOf(b.Cut).ID).Phases }

// pullPlace is where in the cut its arm's pull is read; empty is the coldest.
func (c cook) pullPlace(b burning) string {
	end, _ := phase.PullEnd(c.phases(b))
	return end.Place
}

// target is the core temperature a cut is planned to be pulled at.
func (c cook) target(b burning) float64 { return plan.Target(c.trial.Ask, c.phases(b)) }

func (w *Watcher) one(ctx context.Context, c cook, b burning) Outlook {
	out := Outlook{CutID: b.ID, TargetC: c.target(b), Doubts: []string{}, Fan: []Fan{}}
	l, err := w.log(ctx, c, b)
	if err == nil {
		err = w.look(ctx, c, b, l, &out)
	}
	var refused *fault.Error
	switch {
	case errors.As(err, &refused):
		out.Missing = refused.Problem
	case err != nil && out.Missing == "":
		out.Missing = "the record could not be read"
	}
	return out
}

func (w *Watcher) look(ctx context.Context, c cook, b burning, l forecast.Log, out *Outlook) error {
	cal, doubts, err := w.calibrate(ctx, c, b, l)
	if err != nil {
		return err
	}
	for _, d := range doubts {
		out.Doubts = append(out.Doubts, d.Words)
	}
	if cal == nil {
		out.Missing = "the log contradicts the model"
		return nil
	}
	f, err := cal.Forecast(ctx, c.planned(b, l))
	if err != nil {
		return err
	}
	out.Done = coming(c, b, f.Coming[len(f.Coming)-1])
	for _, p := range f.Fan {
		out.Fan = append(out.Fan, Fan{after(b.on, p.Time), p.Probe.Low, p.Probe.High})
	}
	now := l.Stages[len(l.Stages)-1]
	if now.Exchange.VapourResistance > 0 {
		return nil
	}
	foil, _ := thermal.WrapOf("foil")
	inFoil := forecast.Ahead{Name: "done", Air: l.SetPoint, InPit: true, Exchange: b.run.Kind.Exchange(foil), AirAdd: foil.AirAdd,
		End: thermal.ByProbe, Value: out.TargetC}
	if f, err = cal.Forecast(ctx, []forecast.Ahead{inFoil}); err != nil {
		return err
	}
	out.Wrapped = coming(c, b, f.Coming[0])
	return nil
}

// calibrate fits the model to the log of a cut. With a doubt that leaves
// nothing to forecast from it returns none.
func (w *Watcher) calibrate(ctx context.Context, c cook, b burning, l forecast.Log) (*forecast.Calibration, []forecast.Doubt, error) {
	stops := func(d []forecast.Doubt) bool {
		return slices.ContainsFunc(d, func(d forecast.Doubt) bool { return d.Stops })
	}
	if early := forecast.Doubts(l); stops(early) {
		return nil, early, nil
	}
	w.mu.Lock()
	guess := w.known[b.ID]
	w.mu.Unlock()
	cal, err := forecast.Calibrate(ctx, l, forecast.Options{Seed: uint64(b.ID), Guess: guess, Centre: c.centre})
	if err != nil {
		return nil, nil, err
	}
	w.mu.Lock()
	w.known[b.ID] = cal.Guess()
	w.mu.Unlock()
	doubts := cal.Doubts()
	if stops(doubts) {
		return nil, doubts, nil
	}
	return cal, doubts, nil
}

func coming(c cook, b burning, k forecast.Coming) *Coming {
	return &Coming{
		Low: after(b.on, k.Time.Low), Middle: after(b.on, k.Time.Middle), High: after(b.on, k.Time.High), Reached: k.Reached,
		Loss: k.Loss.Middle, Index: k.Index.Middle, Dryness: k.Dryness.Middle, ByTable: k.By(c.ServeAt.Sub(b.on).Seconds()),
	}
}

// after is a moment; what is never reached is shown as far away.
func after(on time.Time, s float64) time.Time {
	const farAway = 4 * 24 * 3600
	return on.Add(time.Duration(min(s, farAway) * float64(time.Second)))
}
