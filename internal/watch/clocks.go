package watch

import (
	"cmp"
	"context"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	reader "whitebarn/internal/evidence"
)

// Clock is what the clocks of one cut say, on the fire and after it, and its stall so far.
type Clock struct {
	CutID int64 `json:"cut_id"`
	safety.Range
	ComeUp    safety.ComeUp `json:"come_up"`
	After     safety.After  `json:"after"`     // once it was pulled
	Lethality *float64      `json:"lethality"` // share of what is needed, where it is least; nil where there is no table
	ByHand    bool          `json:"by_hand"`   // no probe: what was read by hand
	StallFrom *time.Time    `json:"stall_from"`
	StallTo   *time.Time    `json:"stall_to"`
}

// longestClock is how far from the fridge on a trace is read for its stall.
const longestClock = 12 * time.Hour

// Clocks reads the clocks of every cut that is on, or was pulled and not carved.
func (w *Watcher) Clocks(ctx context.Context, cookID int64, now time.Time) ([]Clock, error) {
	c, err := w.read(ctx, cookID, now)
	if err != nil {
		return nil, err
	}
	traces, err := reader.Traces(ctx, w.store, c.probes, time.Time{}, c.now)
	if err != nil {
		return nil, err
	}
	c.traces = map[evidence.ProbeKey][]logbook.Point{}
	for i, p := range c.probes {
		c.traces[p.Key()] = traces[i]
	}
	out := []Clock{}
	for _, k := range c.placed {
		if _, on := k.On(); !on {
			continue
		}
		if _, carved := k.Carved(); carved {
			continue
		}
		out = append(out, c.clock(k))
	}
	return out, nil
}

// gate is what the gate says of a cut so far.
func (c cook) gate(k evidence.Cut) gate.Ruling {
	return c.house.Gate(c.trial, k, c.traces, c.trueNow)
}

func (c cook) clock(k evidence.Cut) Clock {
	g, b := c.gate(k), c.burn(k)
	out := Clock{CutID: k.ID, Range: g.Range, ComeUp: g.ComeUp, After: g.After}
	if g.Minimum.Timed && len(g.Places) > 0 {
		share := slices.MinFunc(g.Places, func(a, b gate.Shown) int { return cmp.Compare(a.Share, b.Share) }).Share
		out.Lethality = &share
	}
	to := c.now
	if last := b.on.Add(longestClock); to.After(last) {
		to = last
	}
	cores := c.coresKnown(b, b.on)
	out.ByHand = len(cores) > 0 && cores[0].ByHand
	if s, ok := thermal.StallOf(minutes(between(evidence.Deciding(cores, ""), b.on, to), b.on)); ok {
		from, to := after(b.on, s.From), after(b.on, s.To)
		out.StallFrom, out.StallTo = &from, &to
	}
	return out
}

// minutes are the medians of a trace's minutes, with times in s since the cut
// went on: a stall is no matter of seconds, and of spikes still less.
func minutes(trace []logbook.Point, on time.Time) (times, core []float64) {
	var of []float64
	minute := -1
	flush := func() {
		if len(of) > 0 {
			slices.Sort(of)
			times, core = append(times, 60*float64(minute)+30), append(core, of[len(of)/2])
			of = of[:0]
		}
	}
	for _, p := range trace {
		if m := int(p.At.Sub(on).Minutes()); m != minute {
			flush()
			minute = m
		}
		of = append(of, p.C)
	}
	flush()
	return times, core
}
