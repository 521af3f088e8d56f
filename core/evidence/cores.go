package evidence

import (
	"cmp"
	"slices"
	"time"

	"whitebarn/core/logbook"
)

// Core is what was read at one place of a cut by one source.
type Core struct {
	Place  string // on the piece; the probe's name where nobody said
	ByHand bool
	Trace  []logbook.Point
}

// CoresOf sorts the traces of a cut's probes, one each, by place. Readings by hand
// stand only for cuts that no probe shows anything of.
func CoresOf(c Cut, probes []Probe, traces [][]logbook.Point, from, to time.Time) []Core {
	var out []Core
	for i, p := range probes {
		t := traces[i]
		if p.CutID != c.ID || len(t) == 0 {
			continue
		}
		place := cmp.Or(p.Place, p.Name)
		if i := slices.IndexFunc(out, func(o Core) bool { return o.Place == place }); i >= 0 {
			out[i].Trace = append(slices.Clone(out[i].Trace), t...)
			slices.SortStableFunc(out[i].Trace, func(a, b logbook.Point) int { return a.At.Compare(b.At) })
			continue
		}
		out = append(out, Core{Place: place, Trace: t})
	}
	if len(out) > 0 {
		return out
	}
	hand := Core{ByHand: true}
	for _, a := range c.Acts {
		if a.Act == logbook.Probe && a.Detail.C != nil && !a.At.Before(from) && !a.At.After(to) {
			hand.Trace = append(hand.Trace, logbook.Point{At: a.At, C: *a.Detail.C})
		}
	}
	if len(hand.Trace) == 0 {
		return nil
	}
	return []Core{hand}
}

// apart is how much older the last reading of a place may be than that of
// another for it still to count.
const apart = 10 * time.Minute

// Deciding is the trace of a cut that decides: of the place that is asked for, if
// a probe is there, else of the place that shows least now.
func Deciding(cores []Core, place string) []logbook.Point {
	if i := slices.IndexFunc(cores, func(c Core) bool { return place != "" && c.Place == place }); i >= 0 {
		return cores[i].Trace
	}
	var newest time.Time
	for _, c := range cores {
		if last := c.Trace[len(c.Trace)-1].At; last.After(newest) {
			newest = last
		}
	}
	var best []logbook.Point
	for _, c := range cores {
		last := c.Trace[len(c.Trace)-1]
		if newest.Sub(last.At) <= apart && (best == nil || last.C < best[len(best)-1].C) {
			best = c.Trace
		}
	}
	return best
}

// Highest is the highest temperature that every place of a cut reached: the lowest
// of the places' highest. ok is false when nothing was read by a probe.
func Highest(cores []Core) (p logbook.Point, ok bool) {
	for _, c := range cores {
		if h, some := logbook.Highest(c.Trace); some && !c.ByHand && (!ok || h.C < p.C) {
			p, ok = h, true
		}
	}
	return p, ok
}
