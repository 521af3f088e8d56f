package watch

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
)

// Clock is the safety clock of one cut, and its stall so far.
type Clock struct {
	CutID int64 `json:"cut_id"`
	safety.Range
	ComeUp    safety.ComeUp `json:"come_up"`
	Lethality *float64      `json:"lethality"` // share of what is needed, by the cold point; nil where there is no table
	ByHand    bool          `json:"by_hand"`   // no probe: what was read by hand
	StallFrom *time.Time    `json:"stall_from"`
	StallTo   *time.Time    `json:"stall_to"`
}

// longestClock is how far from the fridge on a trace is read for its clock.
const longestClock = 12 * time.Hour

// Clocks reads the danger-range clock of every cut that is on, by its coldest probe.
func (w *Watcher) Clocks(ctx context.Context, cookID int64, now time.Time) ([]Clock, error) {
	c, err := w.read(ctx, cookID, now)
	if err != nil {
		return nil, err
	}
	out := []Clock{}
	for _, b := range c.burning {
		end := c.now
		if last := b.on.Add(longestClock); end.After(last) {
			end = last
		}
		cores, err := w.cores(ctx, c, b.Cut, b.on, end)
		if err != nil {
			return nil, err
		}
		trace := evidence.Deciding(cores, "")
		k := Clock{CutID: b.ID, ByHand: len(cores) > 0 && cores[0].ByHand, Range: safety.DangerOf(trace, b.left, c.now, c.trial.Ask.Species, c.trial.Ask.Handling), ComeUp: safety.ComeUpOf(trace, b.left, c.now)}
		if got, err := safety.LethalityOf(safety.LethalityInput{Species: c.trial.Ask.Species, Trace: sinceOn(trace, b.on)}); err == nil {
			k.Lethality = &got.Share
		}
		if s, ok := thermal.StallOf(minutes(trace, b.on)); ok {
			from, to := after(b.on, s.From), after(b.on, s.To)
			k.StallFrom, k.StallTo = &from, &to
		}
		out = append(out, k)
	}
	return out, nil
}

// sinceOn is a trace with times in s since the cut went on.
func sinceOn(trace []logbook.Point, on time.Time) []safety.Sample {
	out := make([]safety.Sample, len(trace))
	for i, p := range trace {
		out[i] = safety.Sample{Seconds: p.At.Sub(on).Seconds(), C: p.C}
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
