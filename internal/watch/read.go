package watch

import (
	"context"
	"math"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

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
	l := forecast.Log{Family: c.family, Mass: b.AtFireOr(c.family.Mass), Start: math.NaN(), SetPoint: b.run.SetAt(c.now),
		Pressure: thermal.PressureAt(c.height), Now: c.now.Sub(b.on).Seconds()}
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
