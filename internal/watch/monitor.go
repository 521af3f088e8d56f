package watch

import (
	"context"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"whitebarn/core/alarm"
	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/safety"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// Monitor watches over all cooks under way and tells their crews. One server
// of the barn does at a time; when it goes, another takes over.
type Monitor struct {
	*Watcher
	now  func() time.Time
	gate *gate.Keeper

	followed map[int64]*followed // of each cook
	foresaw  map[int64]lookAhead // of each cook
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

// NewMonitor returns a monitor that looks through a watcher's eyes, and has the keeper
// of the gate look at what is on the table.
func NewMonitor(w *Watcher, k *gate.Keeper, now func() time.Time) *Monitor {
	return &Monitor{Watcher: w, now: now, gate: k, followed: map[int64]*followed{}, foresaw: map[int64]lookAhead{}}
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
		clear(m.followed)
		clear(m.foresaw)
	}
	if err := m.gate.RecheckAll(ctx); err != nil {
		return fmt.Errorf("look at what is served: %w", err)
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
		return m.store.NotifyChange(ctx, 0, "alarms")
	}
	return nil
}

func (m *Monitor) look(ctx context.Context, cookID int64) (changes int, err error) {
	c, err := m.read(ctx, cookID, m.now())
	if err != nil {
		return 0, err
	}
	if err := m.follow(ctx, &c); err != nil {
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
	return len(told), m.store.KeepAlarms(ctx, cookID, known, after, told, c.now)
}

// sights gathers what is seen of a cook's pits, cuts, holders and probes.
func (m *Monitor) sights(ctx context.Context, c cook) ([]alarm.Sight, error) {
	out := append(m.pits(c), m.cuts(ctx, c)...)
	out = append(out, m.holders(c)...)
	probes, err := m.probesSeen(ctx, c)
	return append(out, probes...), err
}

// window is how far back a trace is read.
const window = 45 * time.Minute

// toStand is how long a pit may take from one set point to the next (ours).
const toStand = 45 * time.Minute

// nearly is how close to its set point a pit stands, C.
const nearly = 3.0

func (m *Monitor) pits(c cook) (out []alarm.Sight) {
	looked := map[int64]bool{} // the first probe of a pit stands for it
	for _, probe := range c.probes {
		if probe.PitRunID == 0 || looked[probe.PitRunID] {
			continue
		}
		looked[probe.PitRunID] = true
		run, _ := c.trial.Run(probe.PitRunID)
		p := alarm.PitSeen{Subject: fmt.Sprintf("pit run %d", run.ID), Name: run.Pit, SetC: run.SetAt(c.now)}
		for _, b := range c.burning {
			if b.run.ID != run.ID {
				continue
			}
			p.Cuts++
			for _, ph := range phase.AtFire(c.phases(b)) {
				if ph.Kind.InPit() && (ph.PitID == 0 || ph.PitID == run.PitID) {
					p.Planned = append(p.Planned, ph.SetC)
				}
			}
		}
		if p.Cuts == 0 {
			continue
		}
		trace := c.traces[probe.Key()]
		set := run.LastSet(c.now)
		p.Stood = c.now.Sub(set) > toStand && !set.IsZero() || slices.ContainsFunc(trace, func(r logbook.Point) bool {
			return r.At.After(set) && (r.C >= p.SetC-nearly && (set.IsZero() || r.C <= p.SetC+nearly))
		})
		for _, e := range c.trial.Acts {
			if e.PitRunID != run.ID || e.At.After(c.now) {
				continue
			}
			switch e.Act {
			case logbook.Lid:
				p.Opened = e.At
			case logbook.Lit, logbook.Fuel, logbook.Wood, logbook.Vent:
				p.Fed = e.At
			}
		}
		p.Trace = between(trace, c.now.Add(-window), c.now)
		out = append(out, alarm.Pit(p, c.now)...)
	}
	return out
}

func (m *Monitor) cuts(ctx context.Context, c cook) (out []alarm.Sight) {
	ahead := m.ahead(ctx, c)
	for _, b := range c.burning {
		target, _ := phase.PullCore(c.phases(b)) // 0 when it is pulled by feel or the clock
		s := alarm.CutSeen{Subject: fmt.Sprintf("cut %d", b.ID), Name: b.Name, On: b.on, Left: b.left, TargetC: target}
		g := c.gate(b.Cut)
		s.Range, s.ComeUp, s.Absolute = g.Range, g.ComeUp, g.Minimum.Absolute
		for _, o := range ahead {
			if o.CutID == b.ID && o.Done != nil {
				s.ByTable = &o.Done.ByTable
				s.Passes = passes(o.Fan)
			}
		}
		s.Trace = evidence.Deciding(c.coresKnown(b, b.on), "")
		if place := c.pullPlace(b); place != "" && target > 0 {
			s.AtPlace, s.Place = evidence.Deciding(c.coresKnown(b, c.now.Add(-window)), place), place
		}
		out = append(out, alarm.Cut(s, c.now)...)
	}
	for _, k := range c.placed {
		_, pulled := k.Pulled()
		if _, carved := k.Carved(); pulled && !carved && k.Served.IsZero() {
			out = append(out, alarm.Resting(fmt.Sprintf("cut %d", k.ID), k.Name, c.gate(k).After)...)
		}
	}
	return out
}

// coresKnown are the cores of a cut from a moment on, of a cook that is followed.
func (c cook) coresKnown(b burning, from time.Time) []evidence.Core {
	traces := make([][]logbook.Point, len(c.probes))
	for i, p := range c.probes {
		traces[i] = between(c.traces[p.Key()], from, c.now)
	}
	return evidence.CoresOf(b.Cut, c.probes, traces, from, c.now)
}

// passes is when the middle of a forecast passes 140 F; nil when it does not,
// or has already.
func passes(fan []Fan) *time.Time {
	for i, f := range fan {
		if (f.Low+f.High)/2 >= safety.Usual.HoldC {
			if i == 0 {
				return nil
			}
			return &f.At
		}
	}
	return nil
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

func (m *Monitor) holders(c cook) (out []alarm.Sight) {
	held := map[int64]int{} // cuts that somebody put into a hold, and that were not carved
	for _, k := range c.placed {
		if _, carved := k.Carved(); !carved && k.Held(c.now) > 0 {
			held[k.Holder()]++
		}
	}
	looked := map[int64]bool{}
	for _, p := range c.probes {
		if p.HolderRunID == 0 || looked[p.HolderRunID] {
			continue
		}
		looked[p.HolderRunID] = true
		for _, r := range c.trial.Holders {
			if r.ID == p.HolderRunID {
				trace := between(c.traces[p.Key()], c.now.Add(-window), c.now)
				out = append(out, alarm.Holder(alarm.HolderSeen{Subject: fmt.Sprintf("holder run %d", r.ID), Name: r.Holder,
					HoldC: c.house.At(c.trueNow).HoldC, Trace: trace, Cuts: held[r.ID]}, c.now)...)
			}
		}
	}
	return out
}

// probesSeen looks at the live probes that measure a pit or a cut on the fire, or the holder
// of what is held.
// When all of a device fall silent it is the device, and told of once.
func (m *Monitor) probesSeen(ctx context.Context, c cook) (out []alarm.Sight, err error) {
	probes, err := m.store.Probes(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	held := slices.ContainsFunc(c.placed, func(k evidence.Cut) bool { _, cut := k.Carved(); return !cut && k.Held(c.now) > 0 })
	byDevice := map[int64][]store.ProbeNow{}
	for _, p := range probes {
		if p.CookID == nil || *p.CookID != c.ID || p.At == nil {
			continue
		}
		burns := p.PitRunID != nil && len(c.burning) > 0 || p.HolderID != nil && held
		for _, b := range c.burning {
			burns = burns || p.CutID != nil && *p.CutID == b.ID
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
