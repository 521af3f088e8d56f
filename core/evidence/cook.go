package evidence

import (
	"time"

	"whitebarn/core/gate"
	"whitebarn/core/panel"
	"whitebarn/core/pit"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// PitRun is a pit with its set-up for a cook.
type PitRun struct {
	ID      int64
	CookID  int64
	PitID   int64
	Pit     string
	SetC    float64    // planned for its start
	Sets    []SetPoint // delivered since, in order of time
	Kind    thermal.Surroundings
	Columns int // of its grate
	Rows    int
	ArmID   int64 // of a trial of set-ups: the one that is burned
	Used    *pit.InUse
}

// SetPoint is at what a pit is kept from a moment on.
type SetPoint struct {
	At time.Time
	C  float64
}

// SetAt is at what the pit was set at a moment.
func (r PitRun) SetAt(t time.Time) float64 {
	c, _ := r.setSince(t)
	return c
}

// setSince is at what the pit was set at a moment, and since when; zero is from its start.
func (r PitRun) setSince(t time.Time) (c float64, since time.Time) {
	c = r.SetC
	for _, s := range r.Sets {
		if !s.At.After(t) {
			c, since = s.C, s.At
		}
	}
	return c, since
}

// LastSet is when the pit was last set otherwise, up to a moment; zero is never.
func (r PitRun) LastSet(t time.Time) time.Time {
	_, since := r.setSince(t)
	return since
}

// MeanSet is the mean of its set points from one moment to another.
func (r PitRun) MeanSet(from, to time.Time) float64 {
	if !to.After(from) {
		return r.SetAt(from)
	}
	sum, at := 0.0, from
	for _, s := range r.Sets {
		if s.At.After(at) && s.At.Before(to) {
			sum += r.SetAt(at) * s.At.Sub(at).Seconds()
			at = s.At
		}
	}
	return (sum + r.SetAt(at)*to.Sub(at).Seconds()) / to.Sub(from).Seconds()
}

// HottestSet is the highest it was set to.
func (r PitRun) HottestSet() float64 {
	most := r.SetC
	for _, s := range r.Sets {
		most = max(most, s.C)
	}
	return most
}

// HolderRun is a holder in use for a cook.
type HolderRun struct {
	ID       int64
	CookID   int64
	HolderID int64
	Holder   string
	SetC     float64 // 0 is not said
	Powered  bool    // it has a dial: it heats by itself
	Reads    bool    // its calibration stood at that when it was used, and passed
}

// Probe is a probe on its target in a cook, over a stretch of time; a To that is
// zero goes on.
type Probe struct {
	ID          int64
	Assigned    int64 // the assignment that says what it measured
	Name        string
	CookID      int64
	CutID       int64
	PitRunID    int64
	HolderRunID int64
	Point       string // on a pit: a grate position, the dial; empty is the whole
	Place       string // on a piece; empty is the whole
	From, To    time.Time
}

// ProbeKey names a probe on its target: one that was moved has several.
type ProbeKey struct {
	ID, Assigned int64
	From         time.Time
}

// Key names the probe on this target.
func (p Probe) Key() ProbeKey { return ProbeKey{p.ID, p.Assigned, p.From} }

// Covers says whether the probe measured this target at a moment.
func (p Probe) Covers(t time.Time) bool {
	return !t.Before(p.From) && (p.To.IsZero() || !t.After(p.To))
}

// Cook is one outing of a trial.
type Cook struct {
	ID      int64
	ServeAt time.Time
	Clock   trial.Clock
	Played  bool
}

// Draw is a recorded draw of arms: the arm by cut.
type Draw map[int64]int64

// Trial is one trial with all that is known of it.
type Trial struct {
	ID         int64
	Ask        trial.Ask
	RevealedAt *time.Time
	Cuts       []Cut // its pieces: cuts that were not divided, and parts of those that were
	Divided    []Cut
	Cooks      []Cook // in order of serving
	Runs       []PitRun
	Holders    []HolderRun
	Acts       []Act // to cuts, pits and cooks, in order of time
	Probes     []Probe
	Draws      []Draw // the last first
	Accepted   map[string]string
	Scores     map[trial.OutcomeKey][]panel.Score // of cuts by name, once the codes are open
	Doses      map[int64][]prep.Dose              // planned for the cuts of an arm
	Gates      map[int64]gate.Ruling              // of each cut, where they were asked for
	Notes      []string                           // of safety, that stay with the trial for good
}

// Arm is an arm's place among the arms, from 0; -1 where there is none of it.
func (t Trial) Arm(id int64) int {
	for i, a := range t.Ask.Arms {
		if a.ID == id {
			return i
		}
	}
	return -1
}

// ArmOf is the arm of a cut; empty where it stands in none.
func (t Trial) ArmOf(c Cut) trial.Arm {
	if i := t.Arm(c.ArmID); i >= 0 {
		return t.Ask.Arms[i]
	}
	return trial.Arm{}
}

// Run is a pit run by its number.
func (t Trial) Run(id int64) (PitRun, bool) {
	for _, r := range t.Runs {
		if r.ID == id {
			return r, true
		}
	}
	return PitRun{}, false
}

// Cut is a piece by its number.
func (t Trial) Cut(id int64) (Cut, bool) {
	for _, c := range t.Cuts {
		if c.ID == id {
			return c, true
		}
	}
	return Cut{}, false
}

// InCook are the pieces that lie, or lay, in the pits of a cook.
func (t Trial) InCook(cookID int64) []Cut {
	var out []Cut
	for _, c := range t.Cuts {
		if s, ok := c.Lies(); ok && s.CookID == cookID {
			out = append(out, c)
		}
	}
	return out
}

// Day numbers a cook among the trial's cooks, from 1; 0 is none of them.
func (t Trial) Day(cookID int64) int {
	for i, k := range t.Cooks {
		if k.ID == cookID {
			return i + 1
		}
	}
	return 0
}

// Moved names the cuts whose arm is not that of the last draw.
func (t Trial) Moved() []string {
	moved := []string{}
	if len(t.Draws) == 0 {
		return moved
	}
	for _, c := range t.Cuts {
		if arm, drawn := t.Draws[0][c.ID]; c.ArmID != 0 && (!drawn || arm != c.ArmID) {
			moved = append(moved, c.Name)
		}
	}
	return moved
}

// ProbeFor is the probe that stands for the heat of a place in a pit: the one at
// its grate position, else that of the whole pit, else any.
func (t Trial) ProbeFor(s Stay) (best Probe, ok bool) {
	rank := 0
	for _, p := range t.Probes {
		if p.PitRunID == 0 || p.PitRunID != s.PitRunID {
			continue
		}
		of := 1
		switch {
		case pit.PlaceOf(p.Point) != pit.Grate:
			continue // the lid and the wet bulb are no heat of the grate
		case pit.IsMiddle(p.Point):
			of = 2
		case p.Point == s.Position:
			of = 3
		}
		if of > rank {
			best, rank = p, of
		}
	}
	return best, rank > 0
}

// InHolder says whether a probe measures the box of a holder run: one box may have several.
func (t Trial) InHolder(p Probe, run int64) bool {
	if p.HolderRunID == 0 || run == 0 {
		return false
	}
	box := func(id int64) (h HolderRun) {
		for _, h = range t.Holders {
			if h.ID == id {
				return h
			}
		}
		return HolderRun{}
	}
	a, b := box(p.HolderRunID), box(run)
	return p.HolderRunID == run || a.HolderID != 0 && a.HolderID == b.HolderID && a.CookID == b.CookID
}

// Window is a probe over a stretch of time, of which a mean is wanted.
type Window struct {
	Probe    Probe
	From, To time.Time
}

// HeatWindows are the stretches over which a cut's heat is read: of each stay in a
// pit while it was on the fire, the probe that stands for that place; and of the last
// hour. Where it never moved there is one of each.
func (t Trial) HeatWindows(c Cut, now time.Time) (whole, last []Window) {
	fires := c.fires(now)
	if len(fires) == 0 {
		return nil, nil
	}
	hour := fires[len(fires)-1].Pull.Add(-time.Hour)
	for _, s := range c.Stays {
		p, ok := t.ProbeFor(s)
		if !ok {
			continue
		}
		for _, f := range fires {
			if w, some := s.within(p, f.On, f.Pull); some {
				whole = append(whole, w)
			}
			if w, some := s.within(p, laterOf(hour, f.On), f.Pull); some {
				last = append(last, w)
			}
		}
	}
	return whole, last
}

func laterOf(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// Part is a stretch of a cut's time on the fire in one pit.
type Part struct {
	Run      PitRun
	From, To time.Time
}

// OnPits are the stretches of a cut's time on the fire up to a moment, pit by pit.
func (t Trial) OnPits(c Cut, until time.Time) (out []Part) {
	for _, f := range c.fires(until) {
		for _, s := range c.Stays {
			run, ok := t.Run(s.PitRunID)
			if !ok {
				continue
			}
			if w, some := s.within(Probe{}, f.On, f.Pull); some {
				out = append(out, Part{run, w.From, w.To})
			}
		}
	}
	return out
}

// MeanSet is the mean of the set points a cut was cooked at up to a moment; ok is false
// while it was not on.
func (t Trial) MeanSet(c Cut, until time.Time) (mean float64, ok bool) {
	sum, all := 0.0, 0.0
	for _, p := range t.OnPits(c, until) {
		s := p.To.Sub(p.From).Seconds()
		sum, all = sum+s*p.Run.MeanSet(p.From, p.To), all+s
	}
	return sum / max(all, 1), all > 0
}

// within is the part of a stretch that a stay covers.
func (s Stay) within(p Probe, from, to time.Time) (w Window, some bool) {
	if s.From.After(from) {
		from = s.From
	}
	if !s.To.IsZero() && s.To.Before(to) {
		to = s.To
	}
	return Window{p, from, to}, to.After(from)
}

// Now is the time of a cook's own clock at a true time.
func (t Trial) Now(cookID int64, now time.Time) time.Time {
	for _, k := range t.Cooks {
		if k.ID == cookID {
			return k.Clock.Now(now)
		}
	}
	return now
}
