package evidence

import (
	"slices"
	"strings"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// MeatOf is what meat a cut is to the rules: what the ask says, as strict as what its
// arm does to it and as what it went on the fire as. A dose that was planned once it was
// pulled was never in it.
func (t Trial) MeatOf(c Cut) safety.Meat {
	arm := t.ArmOf(c)
	m := t.ArmMeat(arm)
	if _, pulled := c.Pulled(); pulled && c.OnAs.Said() && m.Said() {
		m.Handling = t.Ask.Handling.Stricter(t.Ask.Does(arm))
	}
	if c.OnAs.Said() && m.Said() {
		m.Handling = m.Handling.Stricter(c.OnAs.Handling)
		if (safety.Meat{Species: m.Species, Handling: c.OnAs.Handling}).LooserThan(c.OnAs) {
			m.Species = c.OnAs.Species
		}
	}
	return m
}

// ArmMeat is what meat an arm is: a dose by needle, tenderising, boning and rolling or
// mincing makes it stricter by itself. What was not said stays so.
func (t Trial) ArmMeat(arm trial.Arm) safety.Meat {
	m := safety.Meat{Species: t.Ask.Species, Handling: t.Ask.Handling}
	if !m.Said() {
		return m
	}
	for _, d := range t.Doses[arm.ID] {
		if d.Kind == prep.Injection {
			m.Handling = m.Handling.Stricter(safety.Pierced)
		}
	}
	m.Handling = m.Handling.Stricter(t.Ask.Does(arm))
	return m
}

// Asked are the words of what is cooked that say otherwise than the ask does, while
// nobody gave a reason.
func (t Trial) Asked() []safety.Hint {
	if t.Ask.MeatWhy != "" {
		return nil
	}
	return t.Ask.Otherwise()
}

// GateInput puts together what the gate judges a cut by: its course, from what its probes, pits and
// holders measured. BoilsC is for the height of the barn, now by the clock of the cut's cook.
func (t Trial) GateInput(c Cut, probes []Probe, traces [][]logbook.Point, air func(Stay) []logbook.Point, lines safety.Lines, boilsC float64,
	now time.Time) gate.Input {
	in := gate.Input{Course: t.courseOf(c, air), Meat: t.MeatOf(c), Lines: lines, Confirmed: t.Ask.MeatConfirmed, Asked: t.Asked(),
		WholeBird: t.Ask.WholeBird, Kg: c.AtFireOr(0), Now: now, BoilsC: boilsC, Bound: t.bound(c), Reason: c.GateReason}
	for i, p := range probes {
		if p.CutID == c.ID && len(traces[i]) > 0 {
			in.Places = append(in.Places, course.Place{Name: p.Place, Probe: p.Name, Trace: traces[i]})
		}
	}
	in.Places = together(in.Places)
	for _, a := range c.Acts {
		if a.Act != logbook.Probe || a.Detail.C == nil || !a.Detail.StandsFor(t.pieces(a)) {
			continue
		}
		h := course.Hand{At: a.At, C: *a.Detail.C, By: a.By}
		if d := a.Detail.Doubt; d != nil {
			if h.Doubt = course.Low; d.High {
				h.Doubt = course.High
			}
		}
		if a.Detail.Place == "" || a.Detail.Place == logbook.AllPlaces {
			in.Loose = append(in.Loose, h)
			continue
		}
		at := -1
		for i := range in.Places {
			if strings.EqualFold(in.Places[i].Name, a.Detail.Place) {
				at = i
			}
		}
		if at < 0 {
			in.Places = append(in.Places, course.Place{Name: a.Detail.Place})
			at = len(in.Places) - 1
		}
		in.Places[at].Hand = append(in.Places[at].Hand, h)
	}
	return in
}

// pieces is of how many cuts one press told.
func (t Trial) pieces(a Act) (n int) {
	for _, other := range t.Acts {
		if other.Press == a.Press && other.CutID != 0 && other.Act == a.Act {
			n++
		}
	}
	return n
}

// courseOf is what a cut went through, but for what was read of it.
func (t Trial) courseOf(c Cut, air func(Stay) []logbook.Point) course.Course {
	out := course.Course{Left: c.Left(), Out: c.Out(), Read: t.RevealedAt != nil}
	out.On, _ = c.On()
	out.Pull, _ = c.Pulled()
	out.Knife, _ = c.Carved()
	if !c.Served.IsZero() {
		out.Served = []time.Time{c.Served}
	}
	if lies, ok := c.Lies(); ok {
		for _, k := range t.Cooks {
			if k.ID == lies.CookID {
				out.Due = k.ServeAt
			}
		}
	}
	out.AirC = t.hottestAir(c)
	for _, a := range c.Acts {
		after := !out.Pull.IsZero() && a.At.After(out.Pull)
		switch {
		case slices.Contains(handled, a.Act):
			out.Handled = append(out.Handled, a.At)
		case a.Act == logbook.Chill && after:
			out.Chilled = append(out.Chilled, a.At)
		case slices.Contains(warms, a.Act) && after:
			out.Warmed = append(out.Warmed, a.At)
		case a.Act == logbook.Hold || a.Act == logbook.Rescue:
			out.Kept = append(out.Kept, a.At)
		}
	}
	for _, s := range c.Stays {
		stay := course.Stay{From: s.From, To: s.To, Holder: s.HolderRunID != 0}
		switch {
		case !stay.Holder:
			run, _ := t.Run(s.PitRunID)
			if run.SetC != 0 {
				stay.Sets = append(stay.Sets, logbook.Point{C: run.SetC})
			}
			for _, set := range run.Sets {
				stay.Sets = append(stay.Sets, logbook.Point{At: set.At, C: set.C})
			}
			stay.Air = air(s)
		case s.From.IsZero():
			continue // planned, and never put there
		default:
			stay.To = earlier(stay.To, out.Knife)
			if i := slices.IndexFunc(t.Holders, func(h HolderRun) bool { return h.ID == s.HolderRunID }); i >= 0 {
				h := t.Holders[i]
				stay.Powered, stay.Calibrated = h.Powered, h.Reads
				if h.SetC != 0 {
					stay.Sets = []logbook.Point{{C: h.SetC}}
				}
			}
			stay.Air = air(s)
		}
		out.Stays = append(out.Stays, stay)
	}
	return out
}

// earlier is the earlier of two moments, of which either may not have come.
func earlier(a, b time.Time) time.Time {
	if a.IsZero() || !b.IsZero() && b.Before(a) {
		return b
	}
	return a
}

// handled are the acts at which a piece is taken up, so that it may cool a little.
var handled = []logbook.Act{logbook.Wrap, logbook.Unwrap, logbook.Move, logbook.Pull}

// warms are the acts that end a stay in the cold.
var warms = []logbook.Act{logbook.Out, logbook.Reheat, logbook.On, logbook.Sear, logbook.Crisp, logbook.Torch, logbook.Fry, logbook.Broil}

// together joins probes at the same named place, one after the other in time.
func together(places []course.Place) (out []course.Place) {
next:
	for _, p := range places {
		for i := range out {
			if p.Name != "" && strings.EqualFold(out[i].Name, p.Name) {
				out[i].Trace = ordered(slices.Concat(out[i].Trace, p.Trace))
				continue next
			}
		}
		out = append(out, p)
	}
	return out
}

func ordered(trace []logbook.Point) []logbook.Point {
	slices.SortStableFunc(trace, func(a, b logbook.Point) int { return a.At.Compare(b.At) })
	return trace
}

// aDay is how far back the air of a cut's day is looked for.
const aDay = 12 * time.Hour

// hottestAir is the hottest air that was noted on the day of a cut; nil where none was.
func (t Trial) hottestAir(c Cut) (air *float64) {
	on, ok := c.On()
	end := on.Add(aDay)
	if !c.Served.IsZero() {
		end = c.Served
	} else if pull, pulled := c.Pulled(); pulled {
		end = pull.Add(aDay)
	}
	for _, a := range t.Acts {
		if ok && a.Detail.AirC != nil && !a.At.Before(on.Add(-aDay)) && !a.At.After(end) && (air == nil || *a.Detail.AirC > *air) {
			air = a.Detail.AirC
		}
	}
	return air
}

// radiates is what walls give besides the air of a pit, W/(m2 K), at most (ours).
const radiates = 12.0

// bound is how fast the core of a cut can move in its pit; nothing where its family is not known.
func (t Trial) bound(c Cut) gate.Bound {
	family, err := thermal.FamilyOf(t.Ask.Family)
	if err != nil {
		return gate.Bound{}
	}
	thick := 0.0
	if v := c.Dimension("thickness"); v != nil {
		thick = *v
	}
	piece := family.Cut(c.AtFireOr(family.Mass), thick, 0)
	lies, ok := c.Lies()
	run, known := t.Run(lies.PitRunID)
	if !ok || !known {
		return gate.Bound{}
	}
	seared := slices.ContainsFunc(c.Acts, func(a Act) bool { return slices.Contains(sears, a.Act) })
	return gate.BoundOf(piece.HalfThickness, piece.Shape, run.HottestSet(), run.Kind.Exchange(thermal.Wraps[0]).HeatTransfer+radiates, seared)
}

// sears are the acts that heat a piece as coals do.
var sears = []logbook.Act{logbook.Sear, logbook.Crisp, logbook.Torch, logbook.Fry, logbook.Broil}

// Judge lets the gate judge every cut: by the lines in force when the codes were opened, else now, for the
// height at which water boils at boilsC, from what the probes showed.
func (t *Trial) Judge(lines func(time.Time) safety.Lines, boilsC float64, traces map[ProbeKey][]logbook.Point, now time.Time) {
	t.Gates = map[int64]gate.Ruling{}
	for _, c := range t.Cuts {
		in := t.input(c, lines, boilsC, traces, now)
		if t.Gates[c.ID] = gate.Of(in); t.Ask.WrittenUp {
			t.Gates[c.ID] = gate.Past(in)
		}
	}
	for _, c := range t.Cuts {
		r := t.Gates[c.ID]
		slow, ok := t.slowest(c)
		if !ok || !r.ComeUp.Late || !r.ComeUp.Bounded || t.Ask.WrittenUp {
			continue
		}
		in, up := t.input(c, lines, boilsC, traces, now), t.Gates[slow].ComeUp
		in.Slowest = &up
		t.Gates[c.ID] = gate.Of(in)
	}
}

// onTogether is how far apart pieces of one pit may have gone on to be compared (ours).
const onTogether = 30 * time.Minute

// slowest is the piece of a cut's pit that no other can have been slower than: none heavier,
// thicker, colder at the start or in a cooler mapped place. ok is false where there is none.
func (t Trial) slowest(c Cut) (id int64, ok bool) {
	lies, lay := c.Lies()
	on, went := c.On()
	run, known := t.Run(lies.PitRunID)
	if !lay || !went || !known {
		return 0, false
	}
	var with []Cut
	for _, o := range t.Cuts {
		l, lay := o.Lies()
		if at, went := o.On(); lay && went && l.PitRunID == lies.PitRunID && at.Sub(on).Abs() <= onTogether {
			with = append(with, o)
		}
	}
	for _, k := range with {
		slower := slices.ContainsFunc(with, func(o Cut) bool { return o.ID != k.ID && !k.slowerThan(o, run) })
		if k.ID != c.ID && !slower {
			return k.ID, true
		}
	}
	return 0, false
}

// slowerThan says whether a cut warms no faster than another in the same pit, by all that is known of both.
func (c Cut) slowerThan(o Cut, run PitRun) bool {
	kg, ok := c.AtFire()
	other, weighed := o.AtFire()
	if !ok || !weighed || kg < other {
		return false
	}
	if a, b := c.Dimension("thickness"), o.Dimension("thickness"); (a == nil) != (b == nil) || a != nil && *a < *b {
		return false
	}
	if a, b := c.Dimension("cold"), o.Dimension("cold"); (a == nil) != (b == nil) || a != nil && *a > *b {
		return false
	}
	mine, _ := c.Lies()
	theirs, _ := o.Lies()
	return run.Used.Over(mine.Position) <= run.Used.Over(theirs.Position)
}

// Needs are the readings that the gate will need of each cut on the fire of a cook.
func (t *Trial) Needs(cookID int64, lines func(time.Time) safety.Lines, boilsC float64, traces map[ProbeKey][]logbook.Point,
	now time.Time) map[int64][]gate.Need {
	out := map[int64][]gate.Need{}
	for _, c := range t.Cuts {
		if lies, ok := c.Lies(); ok && lies.CookID == cookID && c.Burns() {
			out[c.ID] = gate.Needs(t.input(c, lines, boilsC, traces, now))
		}
	}
	return out
}

// input is what the gate judges a cut by.
func (t *Trial) input(c Cut, lines func(time.Time) safety.Lines, boilsC float64, traces map[ProbeKey][]logbook.Point, now time.Time) gate.Input {
	said, at := now, now
	if t.RevealedAt != nil {
		said = *t.RevealedAt
	}
	if lies, ok := c.Lies(); ok {
		at = t.Now(lies.CookID, now)
	}
	var probes []Probe
	var of [][]logbook.Point
	for _, p := range t.Probes {
		if p.CutID == c.ID {
			probes, of = append(probes, p), append(of, until(traces[p.Key()], at))
		}
	}
	air := func(s Stay) []logbook.Point {
		if s.HolderRunID != 0 {
			return until(t.holderTrace(c, traces), at)
		}
		if p, ok := t.ProbeFor(s); ok {
			return until(traces[p.Key()], at)
		}
		return nil
	}
	return t.GateInput(c, probes, of, air, lines(said), boilsC, at)
}

func until(trace []logbook.Point, at time.Time) []logbook.Point {
	n, _ := slices.BinarySearchFunc(trace, at.Add(1), func(p logbook.Point, t time.Time) int { return p.At.Compare(t) })
	return trace[:n]
}

// holderTrace is what its holder measured while a cut was in it.
func (t *Trial) holderTrace(c Cut, traces map[ProbeKey][]logbook.Point) (out []logbook.Point) {
	run := c.Holder()
	var from, to time.Time
	for _, a := range c.Acts {
		switch {
		case a.Act == logbook.Hold && from.IsZero():
			from = a.At
		case a.Act == logbook.Carve && !from.IsZero() && to.IsZero():
			to = a.At
		}
	}
	if run == 0 || from.IsZero() {
		return nil
	}
	for _, p := range t.Probes {
		if !t.InHolder(p, run) {
			continue
		}
		for _, r := range traces[p.Key()] {
			if !r.At.Before(from) && (to.IsZero() || !r.At.After(to)) {
				out = append(out, r)
			}
		}
	}
	return ordered(out)
}
