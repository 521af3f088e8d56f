package watch

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// followed is what was read of a cook's probes, and up to which arrival.
type followed struct {
	traces   map[evidence.ProbeKey][]logbook.Point
	received time.Time
}

// A reading that was long on its way into the record bears the time at which it
// set out: so far back arrivals are looked at again. More at once than mostArrived
// are quicker read whole.
const (
	underWay    = 30 * time.Second
	mostArrived = 20_000
)

// follow gives a cook the traces of its probes: read whole once, and then only what
// came in since, however late it came.
func (m *Monitor) follow(ctx context.Context, c *cook) error {
	f := m.followed[c.ID]
	var arrived []store.Arrived
	var err error
	if f != nil {
		if arrived, err = m.store.ArrivedSince(ctx, c.ID, f.received.Add(-underWay), mostArrived); err != nil {
			return err
		}
	}
	if f == nil || len(arrived) == mostArrived {
		now, err := m.store.Now(ctx)
		if err != nil {
			return err
		}
		f = &followed{traces: map[evidence.ProbeKey][]logbook.Point{}, received: now}
		m.followed[c.ID], arrived = f, nil
	}
	var fresh []evidence.Probe // not followed yet
	for _, p := range c.probes {
		trace, there := f.traces[p.Key()]
		if !there {
			fresh = append(fresh, p)
			continue
		}
		for _, a := range arrived {
			if a.ProbeID == p.ID && p.Covers(a.At) {
				trace = insert(trace, logbook.Point{At: a.At, C: a.C})
			}
		}
		f.traces[p.Key()] = trace
	}
	read, err := reader.Traces(ctx, m.store, fresh, time.Time{}, farAhead)
	if err != nil {
		return err
	}
	for i, p := range fresh {
		f.traces[p.Key()] = read[i]
	}
	for _, a := range arrived {
		if a.Received.After(f.received) {
			f.received = a.Received
		}
	}
	c.traces = f.traces
	return nil
}

// farAhead is after all readings: what is not yet by the cook's clock is cut off
// where it is looked at.
var farAhead = time.Date(2100, 1, 1, 0, 0, 0, 0, time.UTC)

// insert puts a reading into a trace in order of time, once.
func insert(trace []logbook.Point, p logbook.Point) []logbook.Point {
	at, there := slices.BinarySearchFunc(trace, p.At, func(q logbook.Point, t time.Time) int { return q.At.Compare(t) })
	if there && trace[at].C == p.C {
		return trace
	}
	return slices.Insert(trace, at, p)
}
