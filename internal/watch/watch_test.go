package watch

import (
	"log/slog"
	"math"
	"os"
	"reflect"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/auth"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/demo"
	"whitebarn/internal/testkit/pgtest"
)

func TestMain(m *testing.M) {
	slog.SetDefault(slog.New(slog.DiscardHandler))
	os.Exit(pgtest.Main(m))
}

// TestTheDemosFireIsForecast looks ahead for the six shoulders that burn when
// the demo starts, again a little later, and after the pit's probe went wild.
func TestTheDemosFireIsForecast(t *testing.T) {
	s := pgtest.Store(t)
	now := time.Now()
	if err := demo.Seed(t.Context(), s, auth.Cheap, now); err != nil {
		t.Fatal(err)
	}
	var cook int64
	if err := s.Pool().QueryRow(t.Context(), "select id from cooks where played").Scan(&cook); err != nil {
		t.Fatal(err)
	}
	w := New(s, planner.New(s))
	looks, err := w.Forecast(t.Context(), cook, now)
	if err != nil || len(looks) != 6 {
		t.Fatalf("%d cuts are forecast (%v), want six", len(looks), err)
	}
	for _, o := range looks {
		switch {
		case o.Missing != "" || o.Done == nil || len(o.Doubts) > 0:
			t.Errorf("cut %d has no forecast: %s %v", o.CutID, o.Missing, o.Doubts)
		case math.Abs(o.TargetC-95) > 0.1:
			t.Errorf("cut %d is cooked to %.1f C, the trial holds 203 F", o.CutID, o.TargetC)
		case !o.Done.Low.After(now) || !o.Done.High.After(o.Done.Low) || o.Done.Middle.After(now.Add(14*time.Hour)):
			t.Errorf("cut %d is to be done between %v and %v", o.CutID, o.Done.Low, o.Done.High)
		case o.Wrapped == nil || !o.Wrapped.Middle.Before(o.Done.Middle) || o.Wrapped.Loss >= o.Done.Loss:
			t.Errorf("cut %d in foil: %+v, bare: %+v; want it sooner and losing less", o.CutID, o.Wrapped, o.Done)
		case len(o.Fan) == 0 || o.Done.ByTable < 0 || o.Done.ByTable > 1:
			t.Errorf("cut %d has the fan %v and the chance %g", o.CutID, o.Fan, o.Done.ByTable)
		}
	}
	now = now.Add(10 * time.Second)
	again, err := w.Forecast(t.Context(), cook, now)
	if err != nil {
		t.Fatal(err)
	}
	if d := again[0].Done.Middle.Sub(looks[0].Done.Middle).Abs(); d > 20*time.Minute {
		t.Errorf("looked at again the end moves by %v", d)
	}
	// Each look learned from two of the sixteen finished shoulders.
	var learned, unknowns int
	if err := s.Pool().QueryRow(t.Context(), "select count(*), max(cardinality(guess)) from cut_guesses where family = 'lambshoulder'").Scan(&learned, &unknowns); err != nil || learned != 4 || unknowns < 10 {
		t.Errorf("two looks learned from %d finished cuts, %d numbers each (%v), want four", learned, unknowns, err)
	}
	// The pit's last half hour reads as a dead fire: nothing is forecast, and it is said why.
	_, err = s.Pool().Exec(t.Context(), `update readings set c = 40 where at > $1 and probe_id in
		(select probe_id from probe_assignments where cook_id = $2 and pit_run_id is not null)`, now.Add(-40*time.Minute), cook)
	if err != nil {
		t.Fatal(err)
	}
	if same, err := w.Forecast(t.Context(), cook, now.Add(time.Second)); err != nil || !reflect.DeepEqual(same, again) {
		t.Errorf("a second later it is computed anew (%v)", err)
	}
	dead, err := w.Forecast(t.Context(), cook, now.Add(10*time.Second))
	if err != nil {
		t.Fatal(err)
	}
	if o := dead[0]; o.Done != nil || len(o.Doubts) == 0 || !strings.Contains(o.Doubts[0], "look at the fire") {
		t.Errorf("with a dead fire cut %d is told %+v", o.CutID, o)
	}
}
