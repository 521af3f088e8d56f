package watch

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn/gate"
	planner "whitebarn/internal/barn/plan"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

// writes keeps the statements that change a store.
type writes struct {
	mu  sync.Mutex
	sql []string
}

func (w *writes) TraceQueryStart(ctx context.Context, _ *pgx.Conn, q pgx.TraceQueryStartData) context.Context {
	verb, _, _ := strings.Cut(strings.TrimSpace(q.SQL), " ")
	if slices.Contains([]string{"insert", "update", "delete"}, verb) || strings.Contains(q.SQL, "pg_notify") {
		w.mu.Lock()
		defer w.mu.Unlock()
		w.sql = append(w.sql, fmt.Sprint(q.SQL, q.Args))
	}
	return ctx
}
func (w *writes) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}

// taken are the statements since the last time.
func (w *writes) taken() []string {
	w.mu.Lock()
	defer w.mu.Unlock()
	out := w.sql
	w.sql = nil
	return out
}

func TestALookThatFindsNothingNewWritesNothing(t *testing.T) {
	var w writes
	s, err := store.OpenTraced(t.Context(), demobarn.URL(t), &w)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	now := demobarn.Now
	// A pit that is too hot is remembered, and told after its minutes.
	if _, err := s.Pool().Exec(t.Context(),
		"update pit_runs set set_point_c = 107 where id in (select pit_run_id from cook_pit_runs join cooks on cooks.id = cook_id where played)"); err != nil {
		t.Fatal(err)
	}
	m := NewMonitor(New(s, planner.New(s, &plans)), gate.New(s, func() time.Time { return now }), func() time.Time { return now })
	look := func(at time.Time) []string {
		t.Helper()
		now = at
		w.taken()
		if err := m.Look(t.Context()); err != nil {
			t.Fatal(err)
		}
		return w.taken()
	}
	start := now.Add(-11 * time.Minute)
	if got := look(start); len(got) == 0 {
		t.Fatal("a pit that is too hot is not remembered")
	}
	look(start.Add(time.Second)) // the clocks of cuts that had passed 140 F are put away, once
	for i := 2; i <= 4; i++ {
		if got := look(start.Add(time.Duration(i) * time.Second)); len(got) > 0 {
			t.Errorf("look %d finds nothing new and writes %q", i+1, got)
		}
	}
	if got := look(start.Add(6 * time.Minute)); len(got) == 0 {
		t.Error("an alarm is told and nothing is written")
	}
}

func TestAReadingThatComesLateIsSeenByTheWatch(t *testing.T) {
	s, id, look := burningBarn(t)
	look(10 * time.Minute)
	now := demobarn.Now
	m := NewMonitor(New(s, planner.New(s, &plans)), gate.New(s, func() time.Time { return now }), func() time.Time { return now })
	followed := func() cook {
		t.Helper()
		c, err := m.read(t.Context(), id, now)
		if err != nil {
			t.Fatal(err)
		}
		if err := m.follow(t.Context(), &c); err != nil {
			t.Fatal(err)
		}
		return c
	}
	c := followed()
	probe := c.probes[0]
	before := len(c.traces[probe.Key()])
	at := c.traces[probe.Key()][before/2].At.Add(time.Second) // the middle of the cook, heard of only now
	if _, err := s.Pool().Exec(t.Context(), "insert into readings (probe_id, at, c, value, scale) values ($1, $2, 77.7, 77.7, 'C')", probe.ID, at); err != nil {
		t.Fatal(err)
	}
	for range 2 { // looked at again, it is there once
		c = followed()
	}
	trace := c.traces[probe.Key()]
	if len(trace) != before+1 || !slices.ContainsFunc(trace, func(p logbook.Point) bool { return p.C == 77.7 }) {
		t.Errorf("of %d readings and a late one the watch knows %d", before, len(trace))
	}
	if !slices.IsSortedFunc(trace, func(a, b logbook.Point) int { return a.At.Compare(b.At) }) {
		t.Error("with the late reading the trace is out of order")
	}
	whole, err := reader.Traces(t.Context(), s, c.probes, time.Time{}, farAhead)
	if err != nil {
		t.Fatal(err)
	}
	for i, p := range c.probes {
		if !slices.EqualFunc(whole[i], c.traces[p.Key()], func(a, b logbook.Point) bool { return a.At.Equal(b.At) && a.C == b.C }) {
			t.Errorf("%s: what is followed is %d readings, the record has %d", p.Name, len(c.traces[p.Key()]), len(whole[i]))
		}
	}
}
