package pits

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/core/thermal"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// lidMinute is how long a lid is taken to be open, since one press tells of it (ours).
const lidMinute = time.Minute

// BurnView is the last burn of a pit and what it tells.
type BurnView struct {
	store.PitBurn
	Told    *pit.Told   `json:"told"`
	Missing string      `json:"missing"` // why nothing is told; empty where it is
	Traces  []BurnTrace `json:"traces"`
	Map     []pit.Spot  `json:"map"`
}

// LastBurns reads the last burn of each pit, up to when it was set anew.
func LastBurns(ctx context.Context, b *barn.Barn) ([]BurnView, error) {
	burns, err := b.Store.LastBurns(ctx)
	if err != nil {
		return nil, err
	}
	read, err := readBurns(ctx, b.Store, burns)
	if err != nil {
		return nil, err
	}
	pits, err := b.Store.Pits(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]BurnView, len(burns))
	for i, k := range burns {
		out[i] = BurnView{PitBurn: k, Traces: tracesOf(read[i]), Map: []pit.Spot{}}
		if out[i].Told, out[i].Missing = tell(read[i]); out[i].Told == nil {
			continue
		}
		for _, p := range pits {
			if p.ID == k.PitID {
				out[i].Map = pit.MapOf([]pit.Told{*out[i].Told}, p.GrateColumns, p.GrateRows)
			}
		}
	}
	return out, nil
}

// mostPoints of one trace in a picture.
const mostPoints = 240

// tracesOf are the traces of a burn as a picture shows them.
func tracesOf(b pit.Burn) []BurnTrace {
	out := []BurnTrace{}
	for _, t := range b.Traces {
		out = append(out, BurnTrace{t.Point, t.Place, t.Smoothed(mostPoints)})
	}
	return out
}

// tell is what a burn tells, or why it tells nothing.
func tell(b pit.Burn) (*pit.Told, string) {
	if !slices.ContainsFunc(b.Traces, func(t pit.Trace) bool { return t.Place == pit.Grate }) {
		return nil, "No probe lay in it."
	}
	told, err := pit.Tell(b)
	if err != nil {
		return nil, err.Error()
	}
	return &told, ""
}

// ends is when a burn is over: it was set anew, lit for another run, or a day has passed.
func ends(k store.PitBurn, events []store.Event) time.Time {
	end := k.Lit.Add(pit.ReadFor)
	if k.Until != nil && !k.Until.After(end) {
		end = k.Until.Add(-time.Second) // what is read as it is lit is of that one
	}
	for _, e := range events {
		if e.Act == logbook.Set && *e.PitRunID == k.RunID && e.At.After(k.Lit) && e.At.Before(end) {
			end = e.At
		}
	}
	return end
}

// readBurns reads burns as the log has them, with the same few queries for one and many.
func readBurns(ctx context.Context, s *store.Store, burns []store.PitBurn) ([]pit.Burn, error) {
	runs := make([]int64, len(burns))
	for i, k := range burns {
		runs[i] = k.RunID
	}
	events, err := s.EventsOfRuns(ctx, runs...)
	if err != nil {
		return nil, err
	}
	assigned, err := s.AssignmentsOfRuns(ctx, runs...)
	if err != nil {
		return nil, err
	}
	left, err := s.LeftoversOfRuns(ctx, runs...)
	if err != nil {
		return nil, err
	}
	pits, err := s.Pits(ctx)
	if err != nil {
		return nil, err
	}
	house, err := s.Barn(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]pit.Burn, len(burns))
	var stretches []store.Stretch
	var of []int // burn of a stretch
	var points []string
	for i, k := range burns {
		end := ends(k, events)
		out[i] = pit.Burn{SetC: k.SetC, Pressure: thermal.PressureAt(house.ElevationM) / 100}
		during := slices.DeleteFunc(slices.Clone(events), func(e store.Event) bool {
			return *e.PitRunID != k.RunID || e.At.Before(k.Lit) || e.At.After(end)
		})
		done(&out[i], k, during)
		burned(&out[i], during, left, k, pits)
		for _, a := range assigned {
			if w, ok := within(a, k, end); ok {
				stretches, of, points = append(stretches, w), append(of, i), append(points, a.Point)
			}
		}
	}
	traces, err := s.PointsOf(ctx, stretches)
	if err != nil {
		return nil, err
	}
	for i, trace := range traces {
		add(&out[of[i]], points[i], burns[of[i]].Lit, trace)
	}
	return out, nil
}

// within is what of a burn a probe measured.
func within(a store.Assignment, k store.PitBurn, end time.Time) (store.Stretch, bool) {
	from, to := a.FromAt, end
	if from.Before(k.Lit) {
		from = k.Lit
	}
	if a.ToAt != nil && a.ToAt.Before(to) {
		to = *a.ToAt
	}
	return store.Stretch{ProbeID: a.ProbeID, From: from, To: to}, *a.PitRunID == k.RunID && to.After(from)
}

// done is what was put on and opened during a burn.
func done(b *pit.Burn, k store.PitBurn, during []store.Event) {
	for _, e := range during {
		since := e.At.Sub(k.Lit).Seconds()
		switch e.Act {
		case logbook.Wood, logbook.Fuel:
			b.Additions = append(b.Additions, pit.Addition{S: since, What: string(e.Act), With: e.Detail.With, Pieces: e.Detail.Pieces})
		case logbook.Lid:
			b.Openings = append(b.Openings, pit.Opening{S: since, ShutS: since + lidMinute.Seconds()})
		}
	}
}

// burned is what a burn used, where all that went in was weighed or counted in pieces of a
// known weight: what was left goes off it. Water counts only where what was left is said.
func burned(b *pit.Burn, during []store.Event, left []store.Leftover, k store.PitBurn, pits []store.Pit) {
	piece := 0.0
	if i := slices.IndexFunc(pits, func(p store.Pit) bool { return p.ID == k.PitID }); i >= 0 {
		piece = pits[i].Burn.PieceKg
	}
	fuel, water, known := 0.0, 0.0, true
	for _, e := range during {
		switch d := e.Detail; e.Act {
		case logbook.Lit, logbook.Wood, logbook.Fuel:
			kg := d.WeightKg
			if kg == 0 {
				kg = piece * float64(d.Pieces+d.Unlit)
			}
			fuel, known = fuel+kg, known && kg > 0
		case logbook.Water:
			water += d.AmountML / 1000
		}
	}
	drained := false
	for _, l := range left {
		if l.PitRunID != k.RunID {
			continue
		}
		switch l.What {
		case "fuel", "wood":
			fuel -= remains(l, fuel)
		case "water":
			water, drained = water-remains(l, water), true
		}
	}
	if known {
		b.FuelKg = max(fuel, 0)
	}
	if drained {
		b.WaterKg = max(water, 0)
	}
}

// remains is what was left, kg, of so much that went in.
func remains(l store.Leftover, in float64) float64 {
	switch {
	case l.Kg != nil:
		return *l.Kg
	case l.ML != nil:
		return *l.ML / 1000
	case l.Share != nil:
		return *l.Share * in
	}
	return 0
}

// add puts what a probe showed into a burn. Two probes at one point, or one that came back,
// are read as one.
func add(b *pit.Burn, point string, lit time.Time, trace []logbook.Point) {
	if len(trace) < 2 {
		return
	}
	t := pit.Trace{Point: point, Place: pit.PlaceOf(point), Middle: pit.IsMiddle(point)}
	for _, p := range trace {
		t.Readings = append(t.Readings, pit.Elapsed{S: p.At.Sub(lit).Seconds(), C: p.C})
	}
	at := slices.IndexFunc(b.Traces, func(o pit.Trace) bool { return o.Point == point })
	if at < 0 {
		b.Traces = append(b.Traces, t)
		return
	}
	if last := b.Traces[at].Readings; last[len(last)-1].S < t.Readings[0].S {
		b.Traces[at].Readings = append(last, t.Readings...)
	}
}
