package fire

import (
	"context"
	"fmt"
	"slices"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// ProbeInput says what a probe measures; nothing takes it off.
type ProbeInput struct {
	CutID    *int64 `json:"cut_id"`
	PitRunID *int64 `json:"pit_run_id"`
	HolderID *int64 `json:"holder_id"`              // its run for the cook is begun
	Point    string `json:"point" binding:"max=20"` // on a pit: a grate position, the dial; empty is the whole
	Place    string `json:"place" binding:"max=20"` // on a piece; empty is the whole
	// From when its readings count there; nil is now, or, for one that lay free, since the
	// cut went on or the pit was lit.
	From *time.Time `json:"from"`
}

type probeOfCook struct {
	barn.ByID
	Probe int64 `uri:"probe" binding:"min=1"`
}

// ProbeOf is a probe at a cook, and what it is to measure.
type ProbeOf struct {
	probeOfCook
	Body ProbeInput
}

func assignProbe(ctx context.Context, a *barn.Act, in *ProbeOf) ([]store.ProbeNow, error) {
	k, err := a.Store.Cook(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	now := k.Clock.Now(a.Now())
	is, err := mayMeasure(ctx, a, in.ID, in.Probe)
	if err != nil {
		return nil, err
	}
	m, err := measured(ctx, a, in)
	if err != nil {
		return nil, err
	}
	from := now
	if in.Body.From != nil {
		from = *in.Body.From
		if err := logbook.CheckOfCook("from", from, k.ServeAt, now); err != nil {
			return nil, err
		}
	} else if is.CookID == nil {
		if from, err = since(ctx, a, in, now); err != nil {
			return nil, err
		}
	}
	if _, err := gate.New(a.Store, a.Now).Change(ctx, store.PendingChange{TrialID: a.TrialID, ByID: a.Who.ID, What: "put " + is.Channel + " elsewhere",
		Probe: &store.ProbeMove{CookID: in.ID, ProbeID: in.Probe, Measured: m, From: from}}); err != nil {
		return nil, err
	}
	return a.Store.Probes(ctx, in.ID)
}

// mayMeasure finds a probe that a cook may use, or refuses: not one that lives by another
// cook's clock, nor one that is measuring at another fire.
func mayMeasure(ctx context.Context, a *barn.Act, cookID, probe int64) (store.ProbeNow, error) {
	all, err := a.Store.Probes(ctx, cookID)
	if err != nil {
		return store.ProbeNow{}, err
	}
	i := slices.IndexFunc(all, func(p store.ProbeNow) bool { return p.ID == probe })
	if i < 0 {
		return store.ProbeNow{}, fault.New("probe", fmt.Sprintf("probe %d is none of this cook's", probe), "choose one of the list")
	}
	is := all[i]
	if is.CookID == nil || *is.CookID == cookID {
		return is, nil
	}
	burning, err := a.Store.Burning(ctx, a.Now())
	if err != nil {
		return is, err
	}
	if slices.ContainsFunc(burning, func(b store.Burning) bool { return b.CookID == *is.CookID }) {
		return is, barn.Refuse(is.Channel+" is measuring at another fire.", "Take it off there first.")
	}
	return is, nil
}

// measured is what a probe is to measure.
func measured(ctx context.Context, a *barn.Act, in *ProbeOf) (store.Measured, error) {
	b := in.Body
	m := store.Measured{CutID: b.CutID, PitRunID: b.PitRunID, Point: b.Point, Place: b.Place}
	of := 0
	for _, id := range []*int64{b.CutID, b.PitRunID, b.HolderID} {
		if id != nil {
			of++
		}
	}
	switch {
	case of > 1:
		return m, fault.New("cut_id", "a probe cannot be in two places", "choose one of a cut, a pit and a holder")
	case b.PitRunID != nil:
		return m, checkRuns(ctx, a, in.ID, []int64{*b.PitRunID})
	case b.CutID != nil:
		placed, err := a.Store.Placements(ctx, a.TrialID)
		if err != nil {
			return m, err
		}
		if !stands(placed, *b.CutID, in.ID) {
			return m, fault.New("cut_id", fmt.Sprintf("cut %d is not in this cook", *b.CutID), "give it a pit in Plan first")
		}
	case b.HolderID != nil:
		run, err := a.Store.HolderRunFor(ctx, in.ID, *b.HolderID)
		m.HolderRunID = &run
		return m, err
	}
	return m, nil
}

// since is from when a probe that lay free counts: said late, it has measured since its
// cut went on, or since its pit was lit.
func since(ctx context.Context, a *barn.Act, in *ProbeOf, now time.Time) (time.Time, error) {
	events, err := a.Store.Events(ctx, a.TrialID)
	if err != nil {
		return now, err
	}
	free, err := a.Store.FreeSince(ctx, in.Probe)
	if err != nil {
		return now, err
	}
	from := now
	for _, e := range events {
		on := e.Act == logbook.On && e.CutID != nil && in.Body.CutID != nil && *e.CutID == *in.Body.CutID
		lit := e.Act == logbook.Lit && e.PitRunID != nil && in.Body.PitRunID != nil && *e.PitRunID == *in.Body.PitRunID
		if (on || lit) && e.At.Before(from) {
			from = e.At
		}
	}
	if from.Before(free) {
		from = free
	}
	return from, nil
}

func stands(placed []store.Placement, cut, cook int64) bool {
	for _, l := range placed {
		if l.CutID == cut && l.CookID == cook {
			return true
		}
	}
	return false
}

// SeeAlarm says that somebody saw an alarm.
func SeeAlarm(ctx context.Context, a *barn.Act, in *barn.ByID) ([]store.Alarm, error) {
	cookID, err := a.Store.SeeAlarm(ctx, a.Who.ID, in.ID, a.Now())
	if err != nil {
		return nil, err
	}
	return a.Store.Alarms(ctx, cookID)
}
