package plan

import (
	"math"
	"slices"
	"time"

	"whitebarn/core/phase"
)

// PitPlan is what a pit does, burns and boils off.
type PitPlan struct {
	Pit        int         `json:"pit"`
	Light      time.Time   `json:"light"`
	On         time.Time   `json:"on"` // its first cut
	Out        Moment      `json:"out"`
	FuelKg     float64     `json:"fuel_kg"` // until its last cut is likely off, nine times in ten
	WaterKg    float64     `json:"water_kg"`
	Wood       []time.Time `json:"wood"`
	FuelEveryS float64     `json:"fuel_every_s"` // by its burns; 0 is not known
	Known      bool        `json:"known"`        // from the pit's own burn rate
}

// fedEvery is how often a pit is fed by its burns, s.
func fedEvery(p Pit) float64 {
	if p.Used == nil || p.Used.RefuelMin == nil {
		return 0
	}
	return 60 * *p.Used.RefuelMin
}

// burnsAt is what a pit burns an hour when it stands at the temperature its
// rate was taken at; what it loses grows with how much hotter than outside it is.
const (
	ratedC   = 121.0 // 250 F
	outsideC = 12.0
)

// pits works out lighting, fuel, wood and water.
func (w *work) pits() {
	for p, pit := range w.in.Pits {
		var mine []int
		plan := PitPlan{Pit: p, Known: pit.Known, FuelEveryS: fedEvery(pit), Wood: []time.Time{}}
		var smoky time.Time // until when a cut in it is bare
		for i, c := range w.in.Cuts {
			if c.Pit != p {
				continue
			}
			mine = append(mine, i)
			l := w.laneOf(c.Arm)
			if plan.On.IsZero() || l.On.Before(plan.On) {
				plan.On = l.On
			}
			if to := w.bareUntil(l); to.After(smoky) {
				smoky = to
			}
		}
		if len(mine) == 0 {
			continue
		}
		plan.Light = plan.On.Add(-seconds(pit.WarmS))
		plan.Out = moment(plan.On, w.over(func(m int) float64 {
			out := 0.0
			for _, c := range mine {
				out = max(out, w.laneOf(w.in.Cuts[c].Arm).On.Sub(plan.On).Seconds()+w.wait[c][m]+w.lengths[c].pull(m))
			}
			return out
		}))
		hours := plan.Out.Late.Sub(plan.On).Hours()
		hotter := max(w.meanSet(p)-outsideC, 0) / (ratedC - outsideC)
		plan.FuelKg = pit.LightingKg + hours*pit.FuelKgH*hotter
		plan.WaterKg = hours * pit.WaterKgH
		if pit.WoodEveryS > 0 {
			for at := plan.On; at.Before(smoky); at = at.Add(seconds(pit.WoodEveryS)) {
				plan.Wood = append(plan.Wood, at)
			}
		}
		w.out.Pits = append(w.out.Pits, plan)
	}
}

// meanSet is the mean of what a pit is set to over its usual cuts' phases, C.
func (w *work) meanSet(p int) float64 {
	sum, all := 0.0, 0.0
	for i := range w.out.Lanes {
		l := &w.out.Lanes[i]
		for _, b := range l.Blocks {
			ph := w.in.Arms[l.Arm].Phases[b.Phase]
			if s := b.To.Middle.Sub(b.From).Seconds(); ph.Kind.InPit() && w.stands(l.Arm, p) && w.ownPit(ph, p) {
				sum, all = sum+s*ph.SetC, all+s
			}
		}
	}
	if all == 0 {
		return w.in.Pits[p].SetC
	}
	return sum / all
}

// stands says whether an arm has a cut in a pit, ownPit whether a phase of it is cooked there.
func (w *work) stands(arm, p int) bool {
	return slices.ContainsFunc(w.in.cutsOf(arm), func(c int) bool { return w.in.Cuts[c].Pit == p })
}

func (w *work) ownPit(ph phase.Phase, p int) bool {
	return ph.PitID == 0 || ph.PitID == w.in.Pits[p].ID
}

// bareUntil is when the cuts of a lane take no more smoke: they are wrapped or pulled.
func (w *work) bareUntil(l *Lane) time.Time {
	to := l.On
	for _, b := range l.Blocks {
		p := w.in.Arms[l.Arm].Phases[b.Phase]
		if p.Kind.InPit() && p.Bare() {
			to = b.To.Middle
		}
	}
	return to
}

// woodOf counts how often each pit gets wood for a lane within a stretch from
// the start; it is the least and the most over its pits.
func (w *work) woodOf(l *Lane, stretch time.Duration) (least, most int) {
	least = math.MaxInt
	for _, c := range w.in.cutsOf(l.Arm) {
		for _, plan := range w.out.Pits {
			if plan.Pit != w.in.Cuts[c].Pit {
				continue
			}
			n := 0
			for _, at := range plan.Wood {
				if !at.Before(l.On) && at.Before(l.On.Add(stretch)) {
					n++
				}
			}
			least, most = min(least, n), max(most, n)
		}
	}
	return least, most
}

// late says what happens one time in ten.
func (w *work) late() {
	by := w.over(func(m int) float64 {
		late := 0.0
		for c := range w.in.Cuts {
			late = max(late, w.least(c)-w.slack(c, m))
		}
		return late
	})
	held, holds := math.Inf(1), false
	for _, l := range w.out.Lanes {
		if w.in.Arms[l.Arm].hold() != nil {
			held, holds = min(held, l.HoldS[0]), true
		}
	}
	late := Late{ByS: min(quantile(by, 0.9), phase.Longest)}
	if holds {
		late.HoldS = held
	}
	switch {
	case late.ByS > 0:
		at := w.out.Serve.Add(seconds(late.ByS))
		late.Words = "One time in ten it is " + span(late.ByS) + " late or more: on the table at " + w.clock(at) + "."
	case holds:
		late.Words = "One time in ten the shortest hold is down to " + span(held) + "; the table still waits for nothing."
	default:
		late.Words = "One time in ten it is just in time."
	}
	w.out.Late = late
}
