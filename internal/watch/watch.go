// Package watch reads the record of a cook under way and forecasts its cuts.
package watch

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	"whitebarn/core/thermal"
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
