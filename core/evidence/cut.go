// Package evidence is what is known of a cut, a pit run and a cook over time, as
// typed values: one definition of each fact. What reads the record fills it; what
// judges, plans and forecasts asks it.
package evidence

import (
	"slices"
	"time"

	"whitebarn/core/design"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// Act is one thing that was done, to a cut, to a pit run, or at the cook.
type Act struct {
	ID       int64
	Act      logbook.Act
	At       time.Time
	Note     string
	Detail   logbook.Detail
	By       string
	Press    string
	CutID    int64 // 0: not to a cut
	PitRunID int64 // 0: not to a pit
	CookID   int64 // 0: not at the cook as a whole
}

// Stay is a stretch of a cut's time in one place: on a grate, or in a holder.
// A From that is zero is as long as it goes back, a To that is zero goes on.
type Stay struct {
	CookID      int64
	PitRunID    int64 // 0: in a holder
	HolderRunID int64 // 0: in a pit
	Position    string
	From, To    time.Time
}

// at says whether the stay holds at a moment.
func (s Stay) at(t time.Time) bool {
	return (s.From.IsZero() || !t.Before(s.From)) && (s.To.IsZero() || t.Before(s.To))
}

// Heat is what the pit that a cut was in did while it was on. A nil was not measured.
type Heat struct {
	MeanC *float64 // from on to the pull, or to now
	LastC *float64 // of the last hour of it
}

// Cut is all that is known of a piece, whole or a part of a divided one.
type Cut struct {
	ID       int64
	Name     string
	Block    string // what it is alike with
	Batch    string
	ArmID    int64 // 0: in no arm
	ParentID int64 // of a part: the cut it was divided from
	Together bool
	// PriceCents is what it cost as it was bought; nil is not known.
	PriceCents *int
	Traits     map[design.Trait]string

	Weighings  []yield.Weighing // current, one a stage
	Dimensions map[string]float64
	Measured   map[trial.OutcomeKey]float64 // typed by hand
	Acts       []Act                        // done to it, in order of time
	Stays      []Stay                       // where it lay, in order
	GateReason string                       // a pitmaster's, to serve it all the same
	OnAs       safety.Meat                  // what meat it went on the fire as; empty is not known
	Served     time.Time                    // to the table, the last time, by its cook's clock; zero is not
	Heat       Heat
	Air        []Air // of its pits while it was on, where a wet bulb was read
}

// Kg is the weight at a stage; ok is false when it was never weighed there.
func (c Cut) Kg(stage yield.Stage) (kg float64, ok bool) {
	for _, w := range c.Weighings {
		if w.Stage == stage {
			return w.Kg, true
		}
	}
	return 0, false
}

// AtFire is the weight with which it went to the fire: after brine, injection and
// rub where it was weighed then, else as it was trimmed.
func (c Cut) AtFire() (kg float64, ok bool) {
	if kg, ok = c.Kg(yield.Prepped); ok {
		return kg, true
	}
	return c.Kg(yield.Trimmed)
}

// AtFireOr is that weight, or the usual where it was never weighed.
func (c Cut) AtFireOr(usual float64) float64 {
	if kg, ok := c.AtFire(); ok {
		return kg
	}
	return usual
}

// Dimension is a length in m, or the fridge's temperature in C, and nil when it
// was never measured.
func (c Cut) Dimension(kind string) *float64 {
	if v, ok := c.Dimensions[kind]; ok {
		return &v
	}
	return nil
}

// Fires are its stretches on the fire, in order.
func (c Cut) Fires() []logbook.Fire {
	events := make([]logbook.Event, len(c.Acts))
	for i, a := range c.Acts {
		events[i] = logbook.Event{Act: a.Act, At: a.At}
	}
	return logbook.FiresOf(events)
}

// cook is when it first went on and was last pulled; zero for what has not happened.
func (c Cut) cook() (on, pull time.Time, done bool) {
	events := make([]logbook.Event, len(c.Acts))
	for i, a := range c.Acts {
		events[i] = logbook.Event{Act: a.Act, At: a.At}
	}
	return logbook.CookOf(events)
}

// On is when it went on the grate; ok is false while it has not.
func (c Cut) On() (at time.Time, ok bool) {
	at, _, _ = c.cook()
	return at, !at.IsZero()
}

// Pulled is when it came off, the last time; ok is false while it has not, or is on again.
func (c Cut) Pulled() (at time.Time, ok bool) {
	_, at, _ = c.cook()
	return at, !at.IsZero()
}

// Cooked is the time from on to pulled; ok is false until both are there, in order.
func (c Cut) Cooked() (on, pull time.Time, ok bool) { return c.cook() }

// OnFire is how long it was on the fire up to a moment, its fires together.
func (c Cut) OnFire(until time.Time) (sum time.Duration) {
	for _, f := range c.fires(until) {
		sum += f.Pull.Sub(f.On)
	}
	return sum
}

// fires are its fires up to a moment; one that is under way ends there.
func (c Cut) fires(until time.Time) (out []logbook.Fire) {
	for _, f := range c.Fires() {
		if f.On.IsZero() || f.On.After(until) {
			continue
		}
		if f.Pull.IsZero() || f.Pull.After(until) {
			f.Pull = until
		}
		out = append(out, f)
	}
	return out
}

// Burns says whether it is on and was not pulled.
func (c Cut) Burns() bool {
	on, pull, _ := c.cook()
	return !on.IsZero() && pull.IsZero()
}

// Left is when it left the fridge for the fire: as it was logged, else so long before
// it went on as somebody said, else as it went on. It is zero while it has not.
func (c Cut) Left() time.Time {
	left, _ := c.outOfTheFridge()
	return left
}

// Out is how long it was out of the fridge in all before it went on.
func (c Cut) Out() time.Duration {
	_, out := c.outOfTheFridge()
	return out
}

func (c Cut) outOfTheFridge() (left time.Time, out time.Duration) {
	on, ok := c.On()
	if !ok {
		return time.Time{}, 0
	}
	left = on
	logged := false
	var since time.Time // out, and not back in
	for _, a := range c.Acts {
		switch {
		case a.Act == logbook.On && !logged:
			if l := a.At.Add(-time.Duration(a.Detail.OutMin * float64(time.Minute))); l.Before(left) {
				left = l
			}
		case a.At.After(on):
		case a.Act == logbook.Out && since.IsZero():
			since, logged = a.At, true
		case a.Act == logbook.Chill && !since.IsZero():
			out += a.At.Sub(since)
			since = time.Time{}
		}
	}
	switch {
	case !logged:
		return left, on.Sub(left)
	case since.IsZero():
		return on, out
	}
	return since, out + on.Sub(since)
}

// OnTheFire is the stretch of its cook so far: from on to the last pull, or to now. ok is
// false while it has not gone on.
func (c Cut) OnTheFire(now time.Time) (from, to time.Time, ok bool) {
	on, pull, done := c.cook()
	if on.IsZero() || on.After(now) {
		return on, on, false
	}
	if done && pull.Before(now) {
		return on, pull, true
	}
	return on, now, true
}

// Held is how long it was held: from into the hold until it was carved, or now;
// 0 where nobody put it there.
func (c Cut) Held(now time.Time) time.Duration {
	var from time.Time
	to := now
	for _, a := range c.Acts {
		switch {
		case a.Act == logbook.Hold && from.IsZero():
			from = a.At
		case a.Act == logbook.Carve && !from.IsZero() && a.At.Before(to):
			to = a.At
		}
	}
	if from.IsZero() || to.Before(from) {
		return 0
	}
	return to.Sub(from)
}

// HeldSince is the run of the holder it is in, or was when it was cut up, and since when;
// 0 where it is in none.
func (c Cut) HeldSince(now time.Time) (run int64, from time.Time) {
	until := now
	if at, cut := c.Carved(); cut && at.Before(until) {
		until = at
	}
	for _, s := range c.Stays {
		if s.HolderRunID != 0 && !s.From.IsZero() && !s.From.After(until) && (s.To.IsZero() || s.To.After(until)) {
			run, from = s.HolderRunID, s.From
		}
	}
	return run, from
}

// Carved is when it was cut up; ok is false while it was not.
func (c Cut) Carved() (at time.Time, ok bool) {
	for _, a := range c.Acts {
		if a.Act == logbook.Carve && (!ok || a.At.Before(at)) {
			at, ok = a.At, true
		}
	}
	return at, ok
}

// Read says whether a temperature was read in it by hand.
func (c Cut) Read() bool {
	return slices.ContainsFunc(c.Acts, func(a Act) bool { return a.Act == logbook.Probe && a.Detail.C != nil })
}

// ServingAge is the time from the pull to a bite; ok is false while it is not pulled.
func (c Cut) ServingAge(bite time.Time) (age time.Duration, ok bool) {
	pull, ok := c.Pulled()
	return bite.Sub(pull), ok && !bite.Before(pull)
}

// Count is how often an act was done to it up to a moment.
func (c Cut) Count(act logbook.Act, until time.Time) int {
	n := 0
	for _, a := range c.Acts {
		if a.Act == act && !a.At.After(until) {
			n++
		}
	}
	return n
}

// Pit is where it lay in a pit at a moment; ok is false when it lay in none.
func (c Cut) Pit(at time.Time) (s Stay, ok bool) {
	for _, stay := range c.Stays {
		if stay.PitRunID != 0 && stay.at(at) {
			s, ok = stay, true
		}
	}
	return s, ok
}

// Lies is where it lies now, or lay last, in a pit: of its stays the last.
func (c Cut) Lies() (s Stay, ok bool) {
	for _, stay := range c.Stays {
		if stay.PitRunID != 0 {
			s, ok = stay, true
		}
	}
	return s, ok
}

// Holder is the run of the holder it was put into; 0 is none.
func (c Cut) Holder() int64 {
	for i := len(c.Stays) - 1; i >= 0; i-- {
		if c.Stays[i].HolderRunID != 0 {
			return c.Stays[i].HolderRunID
		}
	}
	return 0
}
