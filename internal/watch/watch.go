// Package watch reads the record of a cook under way and forecasts its cuts.
package watch

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"sync"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/planner"
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
	return &Watcher{store: s, planner: p, known: map[int64][]float64{}, last: map[int64]*view{}}
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
	c.centre = forecast.Learn(guesses)
	return c, err
}

// cook is what was read of one.
type cook struct {
	store.Cook
	now     time.Time
	trial   store.Trial
	outline plan.Outline
	family  thermal.Family
	pit     map[int64]store.PitRun
	probes  []store.Assignment
	events  []store.Event
	weights []store.Weighing
	sizes   []store.Dimension
	placed  []store.Placement // in its pits
	burning []burning
	height  float64   // m, of the barn
	centre  []float64 // what the house has learned of the family
}

type burning struct {
	store.Placement
	on   time.Time
	left time.Time // the fridge; when it went on where nobody said
}

func (w *Watcher) read(ctx context.Context, cookID int64, now time.Time) (c cook, err error) {
	if c.Cook, err = w.store.Cook(ctx, cookID); err != nil {
		return c, err
	}
	c.now = c.Clock.Now(now)
	t, err := w.store.Trial(ctx, c.TrialID)
	if err != nil {
		return c, err
	}
	c.trial = t
	if c.outline, err = w.planner.Outline(ctx, t); err != nil {
		return c, err
	}
	barn, err := w.store.Barn(ctx)
	if err != nil {
		return c, err
	}
	c.height = barn.ElevationM
	var placed []store.Placement
	runs := []store.PitRun{}
	c.family, err = w.store.FamilyOf(ctx, t.Ask.Product+" "+t.Ask.Cut)
	for _, read := range []func() error{
		func() (err error) { runs, err = w.store.PitRuns(ctx, c.TrialID); return err },
		func() (err error) { c.probes, err = w.store.Assignments(ctx, cookID); return err },
		func() (err error) { c.events, err = w.store.Events(ctx, c.TrialID); return err },
		func() (err error) { c.weights, err = w.store.Weighings(ctx, c.TrialID); return err },
		func() (err error) { c.sizes, err = w.store.Dimensions(ctx, c.TrialID); return err },
		func() (err error) { placed, err = w.store.Placements(ctx, c.TrialID); return err },
	} {
		err = errors.Join(err, read())
	}
	c.pit = map[int64]store.PitRun{}
	for _, r := range runs {
		c.pit[r.ID] = r
	}
	for _, l := range placed {
		if l.CookID != cookID || l.PitRunID == nil {
			continue
		}
		c.placed = append(c.placed, l)
		b := burning{Placement: l}
		pulled := false
		for _, e := range c.events {
			if e.CutID != nil && *e.CutID == l.CutID {
				if e.Act == logbook.On {
					b.on, b.left = e.At, e.At.Add(-time.Duration(e.Detail.OutMin*float64(time.Minute)))
				}
				pulled = pulled || e.Act == logbook.Pull
			}
		}
		if !b.on.IsZero() && !pulled {
			c.burning = append(c.burning, b)
		}
	}
	return c, err
}

// log is the record of one cut as the forecast takes it.
func (w *Watcher) log(ctx context.Context, c cook, b burning) (forecast.Log, error) {
	run := c.pit[*b.PitRunID]
	l := forecast.Log{Family: c.family, Mass: c.family.Mass, Start: math.NaN(), SetPoint: run.SetPointC, Pressure: thermal.PressureAt(c.height), Now: c.now.Sub(b.on).Seconds()}
	for _, v := range c.weights {
		if v.CutID == b.CutID && (v.Stage == yield.Trimmed || v.Stage == yield.Prepped) {
			l.Mass = v.Kg
		}
	}
	for _, d := range c.sizes {
		switch {
		case d.CutID != b.CutID:
		case d.Kind == "thickness":
			l.Thickness = d.Value
		case d.Kind == "cold":
			l.Start = d.Value
		}
	}
	place := run.Surroundings()
	wrap := thermal.Wraps[0]
	l.Stages = []forecast.Stage{{Exchange: place.Exchange(wrap)}}
	for _, e := range c.events {
		if e.CutID == nil || *e.CutID != b.CutID || !e.At.After(b.on) || e.At.After(c.now) {
			continue
		}
		s := forecast.Stage{From: e.At.Sub(b.on).Seconds()}
		switch e.Act {
		case logbook.Wrap:
			if wrap = thermal.WrapFor(e.Detail.With + " " + e.Note + " " + w.armWrap(ctx, c, b)); wrap.Key == "none" {
				wrap, _ = thermal.WrapOf("foil")
			}
		case logbook.Unwrap:
			wrap = thermal.Wraps[0]
		case logbook.Spritz:
			s.Spritz = thermal.UsualSpritz
		default:
			continue
		}
		s.Exchange, s.AirAdd = place.Exchange(wrap), wrap.AirAdd
		l.Stages = append(l.Stages, s)
	}
	if a, ok := c.probeFor(b.Placement); ok {
		points, err := w.store.Points(ctx, a)
		if err != nil {
			return l, err
		}
		l.Pit = samples(points, b.on)
	}
	core, err := w.coldest(ctx, c, b.CutID, w.pullPlace(ctx, c, b), b.on.Add(-before), c.now)
	l.Probe = samples(core, b.on)
	return l, err
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

// armWrap is what the cut's arm is wrapped in, in the trial's words.
func (w *Watcher) armWrap(ctx context.Context, c cook, b burning) string {
	arm, _ := w.arm(ctx, c, b)
	return strings.Join(arm.Levels, " ")
}

// arm is that of a cut; false when it has none.
func (w *Watcher) arm(ctx context.Context, c cook, b burning) (trial.Arm, bool) {
	cut, err := w.store.Cut(ctx, b.CutID)
	if err != nil || cut.ArmID == nil {
		return trial.Arm{}, false
	}
	for _, a := range c.trial.Ask.Arms {
		if a.ID == *cut.ArmID {
			return a, true
		}
	}
	return trial.Arm{}, false
}

// target is the core temperature a cut is planned to be pulled at.
func (w *Watcher) target(ctx context.Context, c cook, b burning) float64 {
	arm, _ := w.arm(ctx, c, b)
	return plan.Target(c.trial.Ask, c.outline.Of(arm.ID).Phases)
}

func (w *Watcher) one(ctx context.Context, c cook, b burning) Outlook {
	out := Outlook{CutID: b.CutID, TargetC: w.target(ctx, c, b), Doubts: []string{}, Fan: []Fan{}}
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
	now := l.Stages[len(l.Stages)-1]
	ahead := forecast.Ahead{Name: "done", Air: l.SetPoint, InPit: true, Exchange: now.Exchange, AirAdd: now.AirAdd, End: thermal.ByProbe, Value: out.TargetC}
	f, err := cal.Forecast(ctx, []forecast.Ahead{ahead})
	if err != nil {
		return err
	}
	out.Done = coming(c, b, f.Coming[0])
	for _, p := range f.Fan {
		out.Fan = append(out.Fan, Fan{after(b.on, p.Time), p.Probe.Low, p.Probe.High})
	}
	if now.Exchange.VapourResistance > 0 {
		return nil
	}
	foil, _ := thermal.WrapOf("foil")
	run := c.pit[*b.PitRunID]
	ahead.Exchange = run.Surroundings().Exchange(foil)
	if f, err = cal.Forecast(ctx, []forecast.Ahead{ahead}); err != nil {
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
	guess := w.known[b.CutID]
	w.mu.Unlock()
	cal, err := forecast.Calibrate(ctx, l, forecast.Options{Seed: uint64(b.CutID), Guess: guess, Centre: c.centre})
	if err != nil {
		return nil, nil, err
	}
	w.mu.Lock()
	w.known[b.CutID] = cal.Guess()
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
