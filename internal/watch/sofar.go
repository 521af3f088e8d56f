package watch

import (
	"context"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/settle"
	"whitebarn/internal/store"
)

// Delivered is what the arms of a cook were given so far, and where that sets
// them apart.
type Delivered struct {
	Arms  []settle.SoFar `json:"arms"`
	Flags []string       `json:"flags"` // numbers in braces
}

// SoFar compares the arms of a cook up to now.
func (w *Watcher) SoFar(ctx context.Context, cookID int64, now time.Time) (Delivered, error) {
	out := Delivered{Arms: []settle.SoFar{}, Flags: []string{}}
	c, err := w.read(ctx, cookID, now)
	if err != nil {
		return out, err
	}
	zone, err := w.store.Zone(ctx)
	if err != nil {
		return out, err
	}
	cuts, err := w.store.Cuts(ctx, c.TrialID)
	if err != nil {
		return out, err
	}
	hands := HandsOf(c.events, c.placed, zone)
	for place, arm := range c.trial.Ask.Arms {
		s := settle.SoFar{Arm: place}
		var mean, last average
		for _, l := range c.placed {
			if !ofArm(cuts, l.CutID, arm.ID) {
				continue
			}
			given, err := w.given(ctx, c, l)
			if err != nil {
				return out, err
			}
			if given.hours == 0 {
				continue
			}
			s.Cuts++
			s.Hours += given.hours
			s.SetC += c.pit[*l.PitRunID].SetPointC
			s.Spritzes += given.spritzes
			s.HandsMin += hands[l.CutID].Minutes
			s.NightMin += hands[l.CutID].Night
			mean.add(given.meanC)
			last.add(given.lastC)
		}
		if s.Cuts == 0 {
			continue
		}
		n := float64(s.Cuts)
		s.Hours, s.SetC, s.Spritzes = s.Hours/n, s.SetC/n, s.Spritzes/n
		s.MeanC, s.LastC = mean.value(), last.value()
		out.Arms = append(out.Arms, s)
	}
	out.Flags = settle.Uneven(c.trial.Ask, out.Arms)
	return out, nil
}

func ofArm(cuts []store.Cut, id, arm int64) bool {
	for _, c := range cuts {
		if c.ID == id {
			return c.ArmID != nil && *c.ArmID == arm
		}
	}
	return false
}

// average is the mean of what was measured.
type average struct{ sum, n float64 }

func (a *average) add(v *float64) {
	if v != nil {
		a.sum, a.n = a.sum+*v, a.n+1
	}
}

func (a average) value() *float64 {
	if a.n == 0 {
		return nil
	}
	v := a.sum / a.n
	return &v
}

// given is what one cut had so far.
type given struct {
	hours, spritzes float64
	meanC, lastC    *float64
}

func (w *Watcher) given(ctx context.Context, c cook, l store.Placement) (g given, err error) {
	var acts []logbook.Event
	for _, e := range c.events {
		if e.CutID != nil && *e.CutID == l.CutID {
			acts = append(acts, logbook.Event{Act: e.Act, At: e.At})
			if e.Act == logbook.Spritz {
				g.spritzes++
			}
		}
	}
	on, pull, done := logbook.CookOf(acts)
	if on.IsZero() || on.After(c.now) {
		return g, nil
	}
	end := c.now
	if done && pull.Before(end) {
		end = pull
	}
	g.hours = end.Sub(on).Hours()
	a, ok := c.probeFor(l)
	if !ok {
		return g, nil
	}
	if g.meanC, err = w.store.MeanBetween(ctx, a, on, end); err != nil {
		return g, err
	}
	from := end.Add(-time.Hour)
	if from.Before(on) {
		from = on
	}
	g.lastC, err = w.store.MeanBetween(ctx, a, from, end)
	return g, err
}

// probeFor is the pit probe that stands for a cut's place: the one there, else
// that of the whole pit, else any.
func (c cook) probeFor(l store.Placement) (best store.Assignment, ok bool) {
	rank := 0
	for _, a := range c.probes {
		if a.PitRunID == nil || l.PitRunID == nil || *a.PitRunID != *l.PitRunID {
			continue
		}
		of := 1
		switch {
		case a.Point == "":
			of = 2
		case a.Point == l.Position:
			of = 3
		}
		if of > rank {
			best, rank = a, of
		}
	}
	return best, rank > 0
}

// HandsOf is the work that hands had with each cut, by the events of its cook.
// What was done to a pit was done for the cuts in it that were not pulled.
func HandsOf(events []store.Event, placed []store.Placement, zone *time.Location) map[int64]plan.Hands {
	pulled := map[int64]time.Time{}
	for _, e := range events {
		if e.CutID != nil && e.Act == logbook.Pull {
			pulled[*e.CutID] = e.At
		}
	}
	var presses []plan.Press
	for _, e := range events {
		p := plan.Press{Act: e.Act, At: e.At, Minutes: e.Detail.Minutes}
		switch {
		case e.CutID != nil:
			p.Cuts = []int64{*e.CutID}
		case e.PitRunID != nil:
			for _, l := range placed {
				if at, gone := pulled[l.CutID]; l.PitRunID != nil && *l.PitRunID == *e.PitRunID && !(gone && at.Before(e.At)) {
					p.Cuts = append(p.Cuts, l.CutID)
				}
			}
		}
		presses = append(presses, p)
	}
	return plan.HandsOn(plan.Presses(presses), zone)
}
