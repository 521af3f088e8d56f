package evidence

import (
	"slices"
	"strings"
	"time"

	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// MeatOf is what meat a cut is to the rules: what the ask says, as strict as what its
// arm does to it and as what it went on the fire as.
func (t Trial) MeatOf(c Cut) safety.Meat {
	m := t.ArmMeat(t.ArmOf(c))
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

// GateInput puts together what the gate judges a cut by. Traces are of the probes, one
// each; the holder's is of what it measured while the cut was in it. BoilsC is for the
// height of the barn, now by the clock of the cut's cook.
func (t Trial) GateInput(c Cut, probes []Probe, traces [][]logbook.Point, holder []logbook.Point, lines safety.Lines, boilsC float64,
	now time.Time) gate.Input {
	in := gate.Input{Meat: t.MeatOf(c), Lines: lines, Confirmed: t.Ask.MeatConfirmed, Asked: t.Asked(), WholeBird: t.Ask.WholeBird,
		Kg: c.AtFireOr(0), Holder: holder,
		Left: c.Left(), Out: c.Out(), Plate: t.plate(c, now), BoilsC: boilsC, Reason: c.GateReason}
	in.On, _ = c.On()
	in.Pull, _ = c.Pulled()
	in.Knife, _ = c.Carved()
	in.AirC = t.hottestAir(c, in.Plate)
	for _, a := range c.Acts {
		if a.Act == logbook.Hold {
			in.Boxed = append(in.Boxed, safety.Span{From: a.At, To: in.Knife})
		}
		if slices.Contains(handled, a.Act) {
			in.Handled = append(in.Handled, a.At)
		}
	}
	for i, p := range probes {
		if p.CutID == c.ID && len(traces[i]) > 0 {
			in.Places = append(in.Places, gate.Place{Name: p.Place, Probe: p.Name, Trace: traces[i]})
		}
	}
	in.Places = together(in.Places)
	for _, a := range c.Acts {
		if a.Act != logbook.Probe || a.Detail.C == nil {
			continue
		}
		h := gate.Hand{At: a.At, C: *a.Detail.C, By: a.By}
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
			in.Places = append(in.Places, gate.Place{Name: a.Detail.Place})
			at = len(in.Places) - 1
		}
		in.Places[at].Hand = append(in.Places[at].Hand, h)
	}
	in.ModelC = t.fastest(c)
	return in
}

// handled are the acts at which a piece is taken up, so that it may cool a little.
var handled = []logbook.Act{logbook.Wrap, logbook.Unwrap, logbook.Move, logbook.Pull}

// together joins probes at the same named place, one after the other in time.
func together(places []gate.Place) (out []gate.Place) {
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

// plate is when a cut was served, or now while it may still be. Of a record that does
// not say when, it is the serving time of its cook.
func (t Trial) plate(c Cut, now time.Time) time.Time {
	if !c.Served.IsZero() {
		return c.Served
	}
	pull, pulled := c.Pulled()
	if t.RevealedAt == nil || !pulled {
		return now
	}
	if lies, ok := c.Lies(); ok {
		for _, k := range t.Cooks {
			if k.ID == lies.CookID && k.ServeAt.After(pull) {
				return k.ServeAt
			}
		}
	}
	return pull
}

// aDay is how far back the air of a cut's day is looked for.
const aDay = 12 * time.Hour

// hottestAir is the hottest air that was noted on the day of a cut; nil where none was.
func (t Trial) hottestAir(c Cut, plate time.Time) (air *float64) {
	on, ok := c.On()
	for _, a := range t.Acts {
		if ok && a.Detail.AirC != nil && !a.At.Before(on.Add(-aDay)) && !a.At.After(plate) && (air == nil || *a.Detail.AirC > *air) {
			air = a.Detail.AirC
		}
	}
	return air
}

// thin cuts are those whose core can rise faster than the usual line; in thicker ones
// heat does not get there so fast, however hot the surface.
const thinM = 0.025

// fastest is how fast the cook model lets the core of a thin cut rise in its pit, C a
// minute; 0 where the usual line is over anything it could do.
func (t Trial) fastest(c Cut) float64 {
	family, err := thermal.FamilyOf(t.Ask.Family)
	if err != nil {
		return 0
	}
	thick := 0.0
	if v := c.Dimension("thickness"); v != nil {
		thick = *v
	}
	piece := family.Cut(c.AtFireOr(family.Mass), thick, 0)
	if piece.HalfThickness >= thinM {
		return 0
	}
	lies, ok := c.Lies()
	run, known := t.Run(lies.PitRunID)
	if !ok || !known {
		return 0
	}
	return thermal.FastestRise(piece, run.Kind.Exchange(thermal.Wraps[0]), run.HottestSet())
}

// Judge lets the gate judge every cut: by the lines in force when the codes were opened, else now, for the
// height at which water boils at boilsC, from what the probes showed.
func (t *Trial) Judge(lines func(time.Time) safety.Lines, boilsC float64, traces map[ProbeKey][]logbook.Point, now time.Time) {
	t.Gates = map[int64]gate.Ruling{}
	said := now
	if t.RevealedAt != nil {
		said = *t.RevealedAt
	}
	for _, c := range t.Cuts {
		at := now
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
		in := t.GateInput(c, probes, of, until(t.holderTrace(c, traces), at), lines(said), boilsC, at)
		if t.Gates[c.ID] = gate.Of(in); t.Ask.WrittenUp {
			t.Gates[c.ID] = gate.Past(in)
		}
	}
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
