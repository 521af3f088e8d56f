package watch

import (
	"testing"
	"time"

	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/rehearse"
)

// TestAForecastNarrowsOverTheDay plays the demo's fire on to its end, with no hand at it, and
// looks ahead when the last core passed 55 C and again when it passed 88 C.
func TestAForecastNarrowsOverTheDay(t *testing.T) {
	s, cook, _ := burningBarn(t)
	if err := rehearse.Backfill(t.Context(), s, cook, time.Date(2026, 10, 2, 6, 0, 0, 0, time.UTC)); err != nil {
		t.Fatal(err)
	}
	passed := func(c float64) map[int64]time.Time {
		t.Helper()
		rows, err := s.Pool().Query(t.Context(), `select a.cut_id, min(r.at) from probe_assignments a join readings r using (probe_id)
			where a.cook_id = $1 and a.cut_id is not null and r.c >= $2 group by 1`, cook, c)
		if err != nil {
			t.Fatal(err)
		}
		defer rows.Close()
		out := map[int64]time.Time{}
		for rows.Next() {
			var id int64
			var at time.Time
			if err := rows.Scan(&id, &at); err != nil {
				t.Fatal(err)
			}
			out[id] = at
		}
		if len(out) != 6 {
			t.Fatalf("%d of six cores pass %g C", len(out), c)
		}
		return out
	}
	forecast := func(c float64) map[int64]Coming {
		t.Helper()
		var at time.Time
		for _, one := range passed(c) {
			if one.After(at) {
				at = one
			}
		}
		looks, err := New(s, planner.New(s, &plans)).Forecast(t.Context(), cook, at)
		if err != nil {
			t.Fatal(err)
		}
		out := map[int64]Coming{}
		for _, o := range looks {
			if o.Done == nil {
				t.Fatalf("cut %d at %g C has no forecast: %s %v", o.CutID, c, o.Missing, o.Doubts)
			}
			out[o.CutID] = *o.Done
		}
		return out
	}
	early, late, done := forecast(55), forecast(88), passed(95)
	narrower, within := 0, 0
	for id, e := range early {
		if l := late[id]; l.High.Sub(l.Low) < e.High.Sub(e.Low) {
			narrower++
		}
		if !done[id].Before(e.Low) && !done[id].After(e.High) {
			within++
		}
	}
	// An interval holds four times in five.
	if narrower < 5 || within < 3 {
		t.Errorf("of six forecasts %d are narrower near the end and %d held: %+v, then %+v; done %v", narrower, within, early, late, done)
	}
}
