// Package course is what a piece of meat went through, from the fridge to the table: where
// it lay and in which air, what was read of it, and when it was cut up and eaten.
package course

import (
	"slices"
	"time"

	"whitebarn/core/logbook"
)

// Course is the history of a piece. Moments that have not come are zero, lists are in
// order of time.
type Course struct {
	Left   time.Time     // out of the fridge, the last time
	Out    time.Duration // out of it in all, before the fire
	On     time.Time
	Pull   time.Time // the last, once it is not on again
	Knife  time.Time
	Served []time.Time // to the table, each time
	Due    time.Time   // the table as it was planned
	Read   bool        // its trial is: nothing of it comes any more

	Stays   []Stay
	Chilled []time.Time // put in the fridge after the fire
	Warmed  []time.Time // taken from it, or put to heat again
	Kept    []time.Time // held, or rescued
	Handled []time.Time // wrapped, unwrapped, moved or pulled

	Places []Place
	Loose  []Hand   // read by hand, and nobody said where
	AirC   *float64 // the hottest of the day
}

// Stay is a stretch of time in one place, a pit or a holder. A To that is zero goes on.
type Stay struct {
	From, To   time.Time
	Holder     bool
	Powered    bool            // it heats by itself
	Calibrated bool            // at what it was set to, and it passed
	Sets       []logbook.Point // what its air was set to, from when on
	Air        []logbook.Point // what was measured of it
}

// Hand is a reading by hand.
type Hand struct {
	At    time.Time
	C     float64
	By    string // who read it
	Doubt Doubt
}

// Doubt is what is odd about a reading, while nobody said that it is so.
type Doubt int

// The doubts.
const (
	None Doubt = iota
	High       // over what could be
	Low        // under it
)

// Place is what was read at one place of a piece. Readings are in order of time.
type Place struct {
	Name  string
	Probe string // empty: none was there
	Trace []logbook.Point
	Hand  []Hand
}

// Covers says whether it lay there at a moment.
func (s Stay) Covers(t time.Time) bool {
	return !t.Before(s.From) && (s.To.IsZero() || t.Before(s.To))
}

// within is how much of a stay lies between two moments.
func (s Stay) within(from, to time.Time) time.Duration {
	if s.From.After(from) {
		from = s.From
	}
	if !s.To.IsZero() && s.To.Before(to) {
		to = s.To
	}
	return max(to.Sub(from), 0)
}

// fresh is how long a measured air stands.
const fresh = 10 * time.Minute

// airAt is the air of a stay at a moment: as it was measured, else as it was set.
func (s Stay) airAt(t time.Time) (c float64, ok bool) {
	if i := last(s.Air, t); i >= 0 && t.Sub(s.Air[i].At) <= fresh {
		return s.Air[i].C, true
	}
	if i := last(s.Sets, t); i >= 0 {
		return s.Sets[i].C, true
	}
	return 0, false
}

// last is the last point up to a moment; -1 is none.
func last(trace []logbook.Point, t time.Time) int {
	i, _ := slices.BinarySearchFunc(trace, t.Add(1), func(p logbook.Point, t time.Time) int { return p.At.Compare(t) })
	return i - 1
}

// AirAt is the air around the piece at a moment, in the pit or holder it lay in; ok is
// false where nothing tells.
func (c Course) AirAt(t time.Time) (air float64, ok bool) {
	for _, s := range c.Stays {
		if s.Covers(t) {
			air, ok = s.airAt(t)
		}
	}
	return air, ok
}

// Boxed is how long it lay in a holder that passes as hot between two moments: one that
// heats by itself for at most so long where nobody calibrated it.
func (c Course) Boxed(from, to time.Time, uncalibrated time.Duration) (sum time.Duration) {
	for _, s := range c.Stays {
		if !s.Holder || !s.Powered {
			continue
		}
		d := s.within(from, to)
		if !s.Calibrated {
			d = min(d, uncalibrated)
		}
		sum += d
	}
	return sum
}

// Closed says whether it lay in a closed cooler, which does not heat, between two moments.
func (c Course) Closed(from, to time.Time) bool {
	return slices.ContainsFunc(c.Stays, func(s Stay) bool { return s.Holder && !s.Powered && s.within(from, to) > 0 })
}

// Holder is what was measured of the holders while it lay in them, up to the knife.
func (c Course) Holder() (out []logbook.Point) {
	for _, s := range c.Stays {
		if !s.Holder {
			continue
		}
		for _, p := range s.Air {
			if s.Covers(p.At) && (c.Knife.IsZero() || !p.At.After(c.Knife)) {
				out = append(out, p)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b logbook.Point) int { return a.At.Compare(b.At) })
	return out
}

// OnFire says whether it was on the fire at a moment, or may have been.
func (c Course) OnFire(at time.Time) bool { return c.Pull.IsZero() || at.Before(c.Pull) }

// Taken says whether it was wrapped, moved or pulled between two moments.
func (c Course) Taken(from, to time.Time) bool {
	return slices.ContainsFunc(c.Handled, func(at time.Time) bool { return !at.Before(from) && !at.After(to) })
}

// LastKnown is the last moment of which anything is on record of it, up to now.
func (c Course) LastKnown(now time.Time) (at time.Time) {
	add := func(t time.Time) {
		if t.After(at) && !t.After(now) {
			at = t
		}
	}
	for _, t := range [][]time.Time{{c.On, c.Pull, c.Knife}, c.Served, c.Chilled, c.Warmed, c.Kept} {
		for _, t := range t {
			add(t)
		}
	}
	for _, p := range c.Places {
		if n := len(p.Trace); n > 0 {
			add(p.Trace[n-1].At)
		}
		for _, h := range p.Hand {
			add(h.At)
		}
	}
	for _, h := range c.Loose {
		add(h.At)
	}
	return at
}

// Times after the knife and after the table (ours).
const (
	toEat    = 30 * time.Minute // from a carving to the last bite, where nobody said
	mealOver = 4 * time.Hour    // after the last that is known of a piece, and the table planned
)

// Eaten is when the last of it went to the table; known is false where a cook is over and
// nobody said. While it may still be served, it is now.
func (c Course) Eaten(now time.Time) (at time.Time, known bool) {
	for _, t := range c.Served {
		if t.After(at) {
			at = t
		}
	}
	if !at.IsZero() {
		return at, true
	}
	seen := c.LastKnown(now)
	if !c.Knife.IsZero() && !seen.After(c.Knife) {
		if at = c.Knife.Add(toEat); at.After(now) {
			at = now
		}
		return at, true
	}
	if c.Over(now) {
		return seen, false
	}
	return now, true
}

// Over says whether its cook is over: the trial was read, or its table is long past and
// nothing more was logged of it.
func (c Course) Over(now time.Time) bool {
	end := c.LastKnown(now)
	if c.Due.After(end) {
		end = c.Due
	}
	return c.Read || !c.Due.IsZero() && now.Sub(end) > mealOver
}
