package gate

import (
	"math"
	"slices"
	"strings"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
)

// How a place passed.
type How string

// The two ways, and none.
const (
	AtOnce How = "at once"
	ByTime How = "by time"
	NotYet How = ""
)

// Values lists the ways.
func (How) Values() []string { return []string{string(NotYet), string(AtOnce), string(ByTime)} }

// Stands is why a place that did not pass by itself does not stop the piece.
type Stands string

// The reasons; empty is none.
const (
	ByColdest Stands = "coldest found" // its probe was taken out, and the coldest that was found later answers for it
	ByCooling Stands = "cooling"       // it was read first after the pull, no colder than a rest leaves what had passed
)

// Values lists them.
func (Stands) Values() []string { return []string{"", string(ByColdest), string(ByCooling)} }

// Shown is what the readings of a place show against the line.
type Shown struct {
	Place     string     `json:"place"`
	Passed    bool       `json:"passed"`
	How       How        `json:"how"`
	At        *time.Time `json:"at"`         // when it passed
	C         float64    `json:"c"`          // of the reading that passed; else the highest
	FromC     float64    `json:"from_c"`     // by time: the lowest while it was held
	HeldS     float64    `json:"held_s"`     // and how long
	Share     float64    `json:"share"`      // of lethality
	Probe     string     `json:"probe"`      // that showed it; empty is by hand
	By        string     `json:"by"`         // who read it
	Suspended bool       `json:"suspended"`  // a hand reading came out lower than what passed it
	UnderC    float64    `json:"under_c"`    // that reading
	OverProbe bool       `json:"over_probe"` // a hand reading far over the probe waits to be read again
	InDoubt   bool       `json:"in_doubt"`   // a hand reading waits until somebody says that it is so
	Readings  int        `json:"readings"`   // that count
	Stands    Stands     `json:"stands"`     // though it did not pass

	calm  []logbook.Point // all of it, for the clocks
	stuck bool            // hot from its first reading and never moved: a probe may stand so by itself
}

// judged reads one place against a minimum.
func (in Input) judged(p course.Place, m safety.Minimum) Shown {
	s := Shown{Place: p.Name, C: -273}
	p.Hand, s.InDoubt = answered(p.Hand)
	probe := in.probe(p, m, &s)
	hand := in.hand(p, probe, m, &s)
	s.calm = merged(calmed(probe), hand)
	if s.Suspended {
		s.Passed, s.How = false, NotYet
	}
	if !s.Passed {
		s.Stands = in.stands(p, s, m)
	}
	return s
}

// stands says why a place that did not pass need not.
func (in Input) stands(p course.Place, s Shown, m safety.Minimum) Stands {
	switch {
	case in.byLater(p, m):
		return ByColdest
	case in.readCooling(s, m):
		return ByCooling
	}
	return ""
}

// byLater says whether the coldest that was found later, read twice a minute apart and both
// at or over the row, answers for a probe that was taken out before.
func (in Input) byLater(p course.Place, m safety.Minimum) bool {
	if len(p.Trace) == 0 || strings.EqualFold(p.Name, ColdestFound) {
		return false
	}
	out := p.Trace[len(p.Trace)-1].At
	for _, c := range in.Places {
		if !strings.EqualFold(c.Name, ColdestFound) {
			continue
		}
		var first time.Time // of those at or over the row, one after the other
		hands, _ := answered(c.Hand)
		for _, h := range hands {
			switch {
			case !h.At.After(out) || h.At.After(in.knife()) || h.C > in.BoilsC+overBoilC:
			case h.C < m.C-alike:
				first = time.Time{}
			case first.IsZero():
				first = h.At
			case h.At.Sub(first) >= time.Minute:
				return true
			}
		}
	}
	return false
}

// readCooling says whether a place was read first after the pull, and never colder than the
// fastest rest could have left it from the row.
func (in Input) readCooling(s Shown, m safety.Minimum) bool {
	if in.Pull.IsZero() || len(s.calm) == 0 || s.calm[0].At.Before(in.Pull) {
		return false
	}
	return !slices.ContainsFunc(s.calm, func(p logbook.Point) bool { return p.C < in.rested(m.C, p.At.Sub(in.Pull))-alike })
}

// probe reads what a probe shows, on the fire and after it.
func (in Input) probe(p course.Place, m safety.Minimum, s *Shown) [][]logbook.Point {
	runs := in.inside(within(p.Trace, in.On, in.knife()), p.Hand)
	if len(runs) == 0 {
		return runs
	}
	runs = in.takenBack(runs)
	first := moved(runs[0], p.Hand)
	s.stuck = len(first) == 0
	counts := append([][]logbook.Point{first}, runs[1:]...)
	timed := in.paused(counts, p.Hand)
	for _, run := range runs {
		s.Readings += len(run)
		for _, r := range run {
			s.highest(r.C, p.Probe, "")
		}
	}
	for _, run := range counts {
		for i, r := range run {
			if i > 0 && r.C >= m.C-alike && run[i-1].C >= m.C-alike {
				s.pass(AtOnce, r.At, min(r.C, run[i-1].C), p.Probe, "")
				break
			}
		}
	}
	if m.Timed {
		s.earn(safety.Earned(in.Meat, in.samples(unbroken(timed)), false), in.On, p.Probe, "")
	}
	return runs
}

// hand reads what was read by hand, against the probe at the same place.
func (in Input) hand(p course.Place, runs [][]logbook.Point, m safety.Minimum, s *Shown) (counted []logbook.Point) {
	var believed []course.Hand
	trace := calmed(runs)
	var read []course.Hand
	for _, h := range p.Hand {
		if h.C <= in.BoilsC+overBoilC && !h.At.Before(in.On) && !h.At.After(in.knife()) {
			read = append(read, h)
		}
	}
	over := func(h course.Hand) bool {
		c, ok := valueAt(trace, h.At, in.Pull)
		return ok && h.C-c >= overProbe-alike
	}
	for i, h := range read {
		again := false
		for j, other := range read {
			again = again || i != j && !other.At.Equal(h.At) && max(other.C-h.C, h.C-other.C) < underProbe
		}
		if over(h) && !again {
			s.OverProbe = true
			continue
		}
		believed = append(believed, h)
	}
	for i, h := range believed {
		counted = append(counted, logbook.Point{At: h.At, C: h.C})
		s.highest(h.C, "", h.By)
		if h.C >= m.C-alike {
			s.pass(AtOnce, h.At, h.C, "", h.By)
		}
		if in.under(h, believed[:i], trace, m) && !agreed(believed[i+1:], trace, m) {
			s.Suspended, s.UnderC = true, h.C
		}
	}
	s.Readings += len(believed)
	if m.Timed && len(counted) > 1 {
		by := believed[len(believed)-1].By
		s.earn(safety.Earned(in.Meat, in.samples(unbroken([][]logbook.Point{counted})), true), in.On, "", by)
	}
	return counted
}

// under says whether a hand reading contradicts what passed before it: it is well under
// the probe, or under the line and lower than a piece can have cooled to; on the fire none cools.
func (in Input) under(h course.Hand, before []course.Hand, trace []logbook.Point, m safety.Minimum) bool {
	if c, ok := valueAt(trace, h.At, time.Time{}); ok && c-h.C >= underProbe-alike {
		return true
	}
	fell := func(at time.Time, c float64) bool {
		rested := h.At.Sub(at)
		if c >= m.C-alike { // what passed cools from the pull alone
			rested = 0
			if !in.OnFire(h.At) {
				rested = h.At.Sub(later(at, in.Pull))
			}
		}
		return h.C < m.C-alike && c-h.C > max(fallsC*rested.Minutes(), c-in.rested(c, rested))+underProbe
	}
	if n := len(trace); n > 0 && !trace[n-1].At.After(h.At) && fell(trace[n-1].At, trace[n-1].C) {
		return true
	}
	return slices.ContainsFunc(before, func(b course.Hand) bool { return fell(b.At, b.C) })
}

// agreed says whether two later readings bear out what the place passed with.
func agreed(later []course.Hand, trace []logbook.Point, m safety.Minimum) bool {
	n := 0
	for _, h := range later {
		c, ok := valueAt(trace, h.At, time.Time{})
		if h.C >= m.C-alike || ok && c-h.C < underProbe-alike {
			n++
		}
	}
	return n >= 2
}

func (s *Shown) highest(c float64, probe, by string) {
	if !s.Passed && c > s.C {
		s.C, s.Probe, s.By = c, probe, by
	}
}

// pass keeps the earliest way a place passed.
func (s *Shown) pass(how How, at time.Time, c float64, probe, by string) {
	if s.Passed && !at.Before(*s.At) {
		return
	}
	s.Passed, s.How, s.At, s.C, s.Probe, s.By = true, how, &at, c, probe, by
}

func (s *Shown) earn(l safety.LethalityOutput, on time.Time, probe, by string) {
	s.Share = max(s.Share, l.Share)
	if l.Reached == nil {
		return
	}
	at := on.Add(time.Duration(*l.Reached * float64(time.Second)))
	if s.Passed && !at.Before(*s.At) {
		return
	}
	s.pass(ByTime, at, l.ToC, probe, by)
	s.HeldS, s.FromC = l.HeldS, l.FromC
}

// samples are stretches with times in s since the piece went on.
func (in Input) samples(runs [][]logbook.Point) [][]safety.Sample {
	out := make([][]safety.Sample, len(runs))
	for i, run := range runs {
		for _, p := range run {
			out[i] = append(out[i], safety.Sample{Seconds: p.At.Sub(in.On).Seconds(), C: p.C})
		}
	}
	return out
}

// within is the part of a trace between two moments, both included.
func within(trace []logbook.Point, from, to time.Time) (out []logbook.Point) {
	for _, p := range trace {
		if !p.At.Before(from) && !p.At.After(to) {
			out = append(out, p)
		}
	}
	return out
}

// neverChilled is over what the cooling rule asks, C: what is in doubt is cold, and shows no chill.
const neverChilled = 22.0

// answered are readings as they count while some are in doubt: a high one not before another agrees with
// it, a low one as cold, though it shows neither a cold start nor a chill. It says whether one waits.
func answered(hands []course.Hand) (out []course.Hand, waits bool) {
	for _, h := range hands {
		again := slices.ContainsFunc(hands, func(o course.Hand) bool {
			return !o.At.Equal(h.At) && max(o.C-h.C, h.C-o.C) < underProbe
		})
		switch {
		case h.Doubt == course.High && !again:
			waits = true
			continue
		case h.Doubt == course.Low && !again:
			h.C = max(h.C, neverChilled)
		}
		out = append(out, h)
	}
	return out, waits
}

// placed gives every reading by hand of which nobody said the place to the probe that
// was nearest to it then; where none tells, to the one that was coldest at its end.
func (in Input) placed() []course.Place {
	out := make([]course.Place, len(in.Places))
	for i, p := range in.Places {
		p.Hand = slices.Clone(p.Hand)
		out[i] = p
	}
	loose := course.Place{}
	for _, h := range in.Loose {
		best, off := -1, math.Inf(1)
		for i, p := range in.Places {
			if len(p.Trace) == 0 {
				continue
			}
			by := 1e6 + p.Trace[len(p.Trace)-1].C
			if c, ok := valueAt(p.Trace, h.At, in.Pull); ok {
				by = math.Abs(c - h.C)
			}
			if by < off {
				best, off = i, by
			}
		}
		if best < 0 {
			loose.Hand = append(loose.Hand, h)
			continue
		}
		out[best].Hand = append(out[best].Hand, h)
	}
	if len(loose.Hand) > 0 {
		out = append(out, loose)
	}
	for _, p := range out {
		slices.SortStableFunc(p.Hand, func(a, b course.Hand) int { return a.At.Compare(b.At) })
	}
	return out
}
