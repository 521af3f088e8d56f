package watch

import (
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/core/units"
	"whitebarn/internal/store"
)

// HolderNow is what a holder did while cuts were in it.
type HolderNow struct {
	RunID  int64    `json:"run_id"`
	Name   string   `json:"name"`
	SetC   float64  `json:"set_c"` // 0 is not said
	LowC   *float64 `json:"low_c"` // the lowest it swung to while it held; nil: not measured
	FloorC float64  `json:"floor_c"`
	Cuts   int      `json:"cuts"`

	HolderID int64        `json:"holder_id"`
	On       pit.Reliance `json:"on"` // the calibration that the hold relies on
}

// Drop is what the oil did as something went in.
type Drop struct {
	PitRunID int64     `json:"pit_run_id"`
	At       time.Time `json:"at"`
	logbook.Oil
}

// holderAir is what a holder keeps: as it measured since, else as it is set, else the usual.
func (c cook) holderAir(k evidence.Cut, from time.Time) float64 {
	run := k.Holder()
	var sum, n float64
	for _, p := range c.probes {
		if !c.trial.InHolder(p, run) {
			continue
		}
		for _, r := range between(c.traces[p.Key()], from, c.now) {
			sum, n = sum+r.C, n+1
		}
	}
	if n > 0 {
		return sum / n
	}
	for _, h := range c.trial.Holders {
		if h.ID == run && h.SetC > 0 {
			return h.SetC
		}
	}
	return units.FToC(150)
}

// holdersNow is what the holders did while cuts of the cook were in them.
func (c cook) holdersNow(read []store.Calibration) []HolderNow {
	out := []HolderNow{}
	for _, h := range c.trial.Holders {
		if h.CookID != c.ID {
			continue
		}
		n := HolderNow{RunID: h.ID, Name: h.Holder, SetC: h.SetC, FloorC: c.house.At(c.trueNow).HoldC, HolderID: h.HolderID}
		n.On = pit.RelyOn(store.Known(read, h.HolderID), h.SetC, n.FloorC, c.trueNow)
		for _, k := range c.placed {
			run, from := k.HeldSince(c.now)
			if run != h.ID {
				continue
			}
			n.Cuts++
			to := c.now
			if at, cut := k.Carved(); cut && at.Before(to) {
				to = at
			}
			for _, p := range c.probes {
				if !c.trial.InHolder(p, h.ID) {
					continue
				}
				for _, r := range between(c.traces[p.Key()], from, to) {
					if n.LowC == nil || r.C < *n.LowC {
						n.LowC = &r.C
					}
				}
			}
		}
		if n.Cuts > 0 {
			out = append(out, n)
		}
	}
	return out
}

// drops are what the oil did, of each fry that was logged in a pit with a probe in it.
func (c cook) drops() []Drop {
	out := []Drop{}
	seen := map[time.Time]bool{}
	for _, a := range c.trial.Acts {
		if a.Act != logbook.Fry || a.At.After(c.now) || seen[a.At] {
			continue
		}
		for _, r := range c.trial.Runs {
			if r.CookID != c.ID || r.Kind.Key != "oil" {
				continue
			}
			for _, p := range c.probes {
				if p.PitRunID == r.ID {
					if o := logbook.OilOf(between(c.traces[p.Key()], a.At.Add(-5*time.Minute), c.now), a.At, r.SetAt(a.At)); o.Watched {
						out, seen[a.At] = append(out, Drop{r.ID, a.At, o}), true
					}
				}
			}
		}
	}
	return out
}
