package watch

import (
	"context"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"whitebarn/core/alarm"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/safety"
	"whitebarn/internal/store"
)

// Monitor watches over all cooks under way and tells their crews. One server
// of the barn does at a time; when it goes, another takes over.
type Monitor struct {
	*Watcher
	now func() time.Time

	stood   map[int64]bool      // pit runs that were at their set point
	passed  map[int64]bool      // cuts that passed 140 F
	foresaw map[int64]lookAhead // of each cook
}

// lookAhead is a forecast and when it was made, true time.
type lookAhead struct {
	at  time.Time
	out []Outlook
}

// Times between looks, true time.
const (
	lookEvery  = 5 * time.Second
	aheadEvery = time.Minute
)

// NewMonitor returns a monitor that looks through a watcher's eyes.
func NewMonitor(w *Watcher, now func() time.Time) *Monitor {
	return &Monitor{Watcher: w, now: now, stood: map[int64]bool{}, passed: map[int64]bool{}, foresaw: map[int64]lookAhead{}}
}

// Run watches until ctx ends.
func (m *Monitor) Run(ctx context.Context) {
	for ctx.Err() == nil {
		release, ok, err := m.store.HoldWatch(ctx)
		if err == nil && ok {
			err = m.watch(ctx)
			release()
		}
		if err != nil && ctx.Err() == nil {
			slog.Warn("the watch over the fires was lost", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(lookEvery):
		}
	}
}

func (m *Monitor) watch(ctx context.Context) error {
	every := time.NewTicker(lookEvery)
	defer every.Stop()
	for {
		if err := m.Look(ctx); err != nil {
			return err
		}
		select {
		case <-ctx.Done():
			return nil
		case <-every.C:
		}
	}
}

// Look looks once at every cook under way.
func (m *Monitor) Look(ctx context.Context) error {
	cooks, err := m.store.UnderWay(ctx)
	if err != nil {
		return err
	}
	if len(cooks) == 0 { // what was remembered of cooks that are over
		clear(m.stood)
		clear(m.passed)
		clear(m.foresaw)
	}
	told := false
	for _, id := range cooks {
		changes, err := m.look(ctx, id)
		if err != nil {
			return fmt.Errorf("look at cook %d: %w", id, err)
		}
		told = told || changes > 0
	}
	if told {
		return m.store.Notify(ctx, "changed")
	}
	return nil
}

func (m *Monitor) look(ctx context.Context, cookID int64) (changes int, err error) {
	c, err := m.read(ctx, cookID, m.now())
	if err != nil {
		return 0, err
	}
	seen, err := m.sights(ctx, c)
	if err != nil {
		return 0, err
	}
	known, err := m.store.AlarmStates(ctx, cookID)
	if err != nil {
		return 0, err
	}
	after, told := alarm.Step(known, seen, c.now)
	return len(told), m.store.KeepAlarms(ctx, cookID, after, told, c.now)
}

// sights gathers what is seen of a cook's pits, cuts, holders and probes.
func (m *Monitor) sights(ctx context.Context, c cook) ([]alarm.Sight, error) {
	var out []alarm.Sight
	for _, look := range []func(context.Context, cook) ([]alarm.Sight, error){m.pits, m.cuts, m.holders, m.probesSeen} {
		s, err := look(ctx, c)
		if err != nil {
			return nil, err
		}
		out = append(out, s...)
	}
	return out, nil
}

// window is how far back a trace is read.
const window = 45 * time.Minute

// nearly is how close to its set point a pit stands, C.
const nearly = 3.0

func (m *Monitor) pits(ctx context.Context, c cook) (out []alarm.Sight, err error) {
	looked := map[int64]bool{} // the first probe of a pit stands for it
	for _, a := range c.probes {
		if a.PitRunID == nil || looked[*a.PitRunID] {
			continue
		}
		looked[*a.PitRunID] = true
		run := c.pit[*a.PitRunID]
		p := alarm.PitSeen{Subject: fmt.Sprintf("pit run %d", run.ID), Name: run.Pit, SetC: run.SetPointC}
		for _, b := range c.burning {
			if *b.PitRunID == run.ID {
				p.Cuts++
			}
		}
		if p.Cuts == 0 {
			continue
		}
		if !m.stood[run.ID] {
			if m.stood[run.ID], err = m.store.Reached(ctx, a, run.SetPointC-nearly); err != nil {
				return nil, err
			}
		}
		p.Stood = m.stood[run.ID]
		for _, e := range c.events {
			if e.PitRunID == nil || *e.PitRunID != run.ID || e.At.After(c.now) {
				continue
			}
			switch e.Act {
			case logbook.Lid:
				p.Opened = e.At
			case logbook.Lit, logbook.Fuel, logbook.Wood, logbook.Vent:
				p.Fed = e.At
			}
		}
		if p.Trace, err = m.store.PointsBetween(ctx, a, c.now.Add(-window), c.now); err != nil {
			return nil, err
		}
		out = append(out, alarm.Pit(p, c.now)...)
	}
	return out, nil
}

func (m *Monitor) cuts(ctx context.Context, c cook) (out []alarm.Sight, err error) {
	ahead := m.ahead(ctx, c)
	for _, b := range c.burning {
		cut, err := m.store.Cut(ctx, b.CutID)
		if err != nil {
			return nil, err
		}
		arm, _ := m.arm(ctx, c, b)
		target, _ := plan.PullCore(c.outline.Of(arm.ID).Phases) // 0 when it is pulled by feel or the clock
		s := alarm.CutSeen{Subject: fmt.Sprintf("cut %d", b.CutID), Name: cut.Name, On: b.on, Left: b.left, TargetC: target, Species: c.trial.Ask.Species, Handling: c.trial.Ask.Handling}
		for _, o := range ahead {
			if o.CutID == b.CutID && o.Done != nil {
				s.ByTable = &o.Done.ByTable
				s.Passes = passes(o.Fan)
			}
		}
		from := b.on
		if m.passed[b.CutID] { // the clock has stopped: only the end is of interest
			from = c.now.Add(-window)
		}
		if s.Trace, err = m.coldest(ctx, c, b.CutID, "", from, c.now); err != nil {
			return nil, err
		}
		if place := m.pullPlace(ctx, c, b); place != "" && target > 0 {
			if s.AtPlace, err = m.coldest(ctx, c, b.CutID, place, c.now.Add(-window), c.now); err != nil {
				return nil, err
			}
			s.Place = place
		}
		sights := alarm.Cut(s, c.now)
		if !m.passed[b.CutID] {
			m.passed[b.CutID] = safety.DangerOf(s.Trace, b.left, c.now, s.Species, s.Handling).Passed
		} else {
			sights = without(sights, alarm.Danger)
		}
		out = append(out, sights...)
	}
	return out, nil
}

// passes is when the middle of a forecast passes 140 F; nil when it does not,
// or has already.
func passes(fan []Fan) *time.Time {
	for i, f := range fan {
		if (f.Low+f.High)/2 >= safety.HotHoldingC {
			if i == 0 {
				return nil
			}
			return &f.At
		}
	}
	return nil
}

// without leaves out the sights of a kind; what was told of it is over.
func without(in []alarm.Sight, kind alarm.Kind) []alarm.Sight {
	var out []alarm.Sight
	for _, s := range in {
		if s.Kind != kind {
			out = append(out, s)
		}
	}
	return out
}

// ahead is the forecast of a cook, made anew once a minute. One that cannot be
// made leaves the other alarms alone.
func (m *Monitor) ahead(ctx context.Context, c cook) []Outlook {
	last := m.foresaw[c.ID]
	if m.now().Sub(last.at) < aheadEvery {
		return last.out
	}
	out, err := m.Forecast(ctx, c.ID, m.now())
	if err != nil && ctx.Err() == nil {
		slog.WarnContext(ctx, "no forecast for the watch", "cook", c.ID, "error", err)
	}
	m.foresaw[c.ID] = lookAhead{m.now(), out}
	return out
}

func (m *Monitor) holders(ctx context.Context, c cook) (out []alarm.Sight, err error) {
	runs, err := m.store.HolderRuns(ctx, c.TrialID)
	if err != nil {
		return nil, err
	}
	held := 0 // cuts that somebody put into a hold
	for _, e := range c.events {
		if e.CutID != nil && e.Act == logbook.Hold && !e.At.After(c.now) {
			held++
		}
	}
	looked := map[int64]bool{}
	for _, a := range c.probes {
		if a.HolderRunID == nil || looked[*a.HolderRunID] {
			continue
		}
		looked[*a.HolderRunID] = true
		for _, r := range runs {
			if r.ID != *a.HolderRunID {
				continue
			}
			trace, err := m.store.PointsBetween(ctx, a, c.now.Add(-window), c.now)
			if err != nil {
				return nil, err
			}
			out = append(out, alarm.Holder(alarm.HolderSeen{Subject: fmt.Sprintf("holder run %d", r.ID), Name: r.Holder, Trace: trace, Cuts: held}, c.now)...)
		}
	}
	return out, nil
}

// probesSeen looks at the live probes that measure a pit or a cut on the fire.
// When all of a device fall silent it is the device, and told of once.
func (m *Monitor) probesSeen(ctx context.Context, c cook) (out []alarm.Sight, err error) {
	probes, err := m.store.Probes(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	byDevice := map[int64][]store.ProbeNow{}
	for _, p := range probes {
		if p.CookID == nil || *p.CookID != c.ID || p.At == nil {
			continue
		}
		burns := p.PitRunID != nil
		for _, b := range c.burning {
			burns = burns || p.CutID != nil && *p.CutID == b.CutID
		}
		if burns {
			byDevice[p.DeviceID] = append(byDevice[p.DeviceID], p)
		}
	}
	for device, of := range byDevice {
		last := slices.MaxFunc(of, func(a, b store.ProbeNow) int { return a.At.Compare(*b.At) })
		whole := alarm.Probe(fmt.Sprintf("device %d", device), fmt.Sprintf("All of %s, %d probes,", last.Device, len(of)), *last.At, c.now)[0]
		if len(of) > 1 {
			out = append(out, whole)
		}
		for _, p := range of {
			s := alarm.Probe(fmt.Sprintf("probe %d", p.ID), fmt.Sprintf("Probe %s of %s", p.Channel, p.Device), *p.At, c.now)[0]
			s.Holds = s.Holds && (len(of) == 1 || !whole.Holds)
			out = append(out, s)
		}
	}
	return out, nil
}
