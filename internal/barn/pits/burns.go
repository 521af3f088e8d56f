package pits

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// longestBurn is how long after lighting a pit is read at most.
const longestBurn = 24 * time.Hour

// lidMinute is how long a lid is taken to be open, since one press tells of it (ours).
const lidMinute = time.Minute

// BurnView is the last burn of a pit and what it tells.
type BurnView struct {
	store.PitBurn
	Told    *pit.Told `json:"told"`
	Missing string    `json:"missing"` // why nothing is told; empty where it is
}

// LastBurns reads the last burn of each pit, up to when it was set anew.
func LastBurns(ctx context.Context, b *barn.Barn) ([]BurnView, error) {
	burns, err := b.Store.LastBurns(ctx)
	if err != nil {
		return nil, err
	}
	runs := make([]int64, len(burns))
	for i, k := range burns {
		runs[i] = k.RunID
	}
	events, err := b.Store.EventsOfRuns(ctx, runs...)
	if err != nil {
		return nil, err
	}
	assigned, err := b.Store.AssignmentsOfRuns(ctx, runs...)
	if err != nil {
		return nil, err
	}
	out := []BurnView{}
	for _, k := range burns {
		v := BurnView{PitBurn: k}
		burn, err := burnOf(ctx, b.Store, k, events, assigned)
		if err != nil {
			return nil, err
		}
		if len(burn.Traces) == 0 {
			v.Missing = "No probe lay in it."
		} else if told, err := pit.Tell(burn); err != nil {
			v.Missing = err.Error()
		} else {
			v.Told = &told
		}
		out = append(out, v)
	}
	return out, nil
}

// burnOf is a burn as the log has it.
func burnOf(ctx context.Context, s *store.Store, k store.PitBurn, events []store.Event, assigned []store.Assignment) (pit.Burn, error) {
	out := pit.Burn{SetC: k.SetC}
	end := k.Lit.Add(longestBurn)
	for _, e := range events {
		if e.Act == logbook.Set && *e.PitRunID == k.RunID && e.At.After(k.Lit) && e.At.Before(end) {
			end = e.At
		}
	}
	for _, e := range events {
		if *e.PitRunID != k.RunID || e.At.Before(k.Lit) || e.At.After(end) {
			continue
		}
		since := e.At.Sub(k.Lit).Seconds()
		switch e.Act {
		case logbook.Wood, logbook.Fuel:
			out.Additions = append(out.Additions, pit.Addition{S: since, What: string(e.Act), Pieces: e.Detail.Pieces})
		case logbook.Lid:
			out.Openings = append(out.Openings, pit.Opening{S: since, ShutS: since + lidMinute.Seconds()})
		}
	}
	var stretches []store.Stretch
	var points []string
	for _, a := range assigned {
		if *a.PitRunID != k.RunID {
			continue
		}
		from, to := a.FromAt, end
		if from.Before(k.Lit) {
			from = k.Lit
		}
		if a.ToAt != nil && a.ToAt.Before(to) {
			to = *a.ToAt
		}
		if to.After(from) {
			stretches, points = append(stretches, store.Stretch{ProbeID: a.ProbeID, From: from, To: to}), append(points, a.Point)
		}
	}
	traces, err := s.PointsOf(ctx, stretches)
	if err != nil {
		return out, err
	}
	for i, trace := range traces {
		if len(trace) < 2 {
			continue
		}
		t := pit.Trace{Point: points[i], Place: pit.Grate}
		if points[i] == string(pit.Dial) {
			t.Place = pit.Dial
		}
		for _, p := range trace {
			t.Readings = append(t.Readings, pit.Elapsed{S: p.At.Sub(k.Lit).Seconds(), C: p.C})
		}
		// Two probes at one point, or one that came back, are read as one.
		if at := slices.IndexFunc(out.Traces, func(o pit.Trace) bool { return o.Point == t.Point }); at >= 0 {
			if last := out.Traces[at].Readings; last[len(last)-1].S < t.Readings[0].S {
				out.Traces[at].Readings = append(last, t.Readings...)
			}
			continue
		}
		out.Traces = append(out.Traces, t)
	}
	return out, nil
}
