package watch

import (
	"fmt"
	"log/slog"
	"math"
	"os"
	"reflect"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	coreplan "whitebarn/core/plan"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"

	"github.com/google/uuid"
)

// plans is what is remembered of plans, for the barns of all tests.
var plans coreplan.Memory

func TestMain(m *testing.M) {
	slog.SetDefault(slog.New(slog.DiscardHandler))
	os.Exit(demobarn.Main(m))
}

// TestTheDemosFireIsForecast looks ahead for the six shoulders that burn when
// the demo starts, again a little later, and after the pit's probe went wild.
func TestTheDemosFireIsForecast(t *testing.T) {
	s := demobarn.Store(t)
	now := demobarn.Now
	var cook int64
	if err := s.Pool().QueryRow(t.Context(), "select id from cooks where played").Scan(&cook); err != nil {
		t.Fatal(err)
	}
	w := New(s, planner.New(s, &plans))
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
	followsThePlan(t, w, cook, now, again)
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

// followsThePlan looks whether a wrap that is planned and not done yet is in the forecast:
// such cuts are done sooner than if they were left as they are, and
// the others have no plan to leave.
func followsThePlan(t *testing.T, w *Watcher, cook int64, now time.Time, looks []Outlook) {
	t.Helper()
	all, err := w.Ways(t.Context(), cook, now)
	if err != nil || len(all) != len(looks) {
		t.Fatalf("%d cuts have ways (%v), want %d", len(all), err, len(looks))
	}
	wrapped := 0
	for i, o := range all {
		planned, plain := o.Ways[0], o.Ways[1]
		if planned.Name != "As planned" {
			if planned.Name != "Leave it as it is" || looks[i].Done.Middle.Sub(planned.Done.Middle).Abs() > 20*time.Minute {
				t.Errorf("cut %d without a wrap to come begins with %q at %v, and is forecast for %v", o.CutID, planned.Name, planned.Done.Middle, looks[i].Done.Middle)
			}
			continue
		}
		wrapped++
		switch {
		case plain.Name != "Leave it as it is" || !planned.Done.Middle.Before(plain.Done.Middle.Add(-30*time.Minute)):
			t.Errorf("cut %d is done at %v as planned, at %v if it is left, want the wrap to tell", o.CutID, planned.Done.Middle, plain.Done.Middle)
		case looks[i].Done.Middle.Sub(planned.Done.Middle).Abs() > 20*time.Minute:
			t.Errorf("cut %d is forecast for %v, as planned for %v", o.CutID, looks[i].Done.Middle, planned.Done.Middle)
		}
	}
	if wrapped != 4 {
		t.Errorf("%d cuts have a wrap to come, want the four in paper and pan", wrapped)
	}
}

// TestHandsAloneMakeAForecast takes the probes of a cut out and has a hand read it twice:
// it is forecast all the same, less surely, and by its plan.
func TestHandsAloneMakeAForecast(t *testing.T) {
	s, cook, _ := burningBarn(t)
	now := demobarn.Now
	w := New(s, planner.New(s, &plans))
	probed, err := w.Forecast(t.Context(), cook, now)
	if err != nil {
		t.Fatal(err)
	}
	cut := probed[0].CutID
	var reads []store.Event
	for _, ago := range []time.Duration{2 * time.Hour, 12 * time.Minute} {
		var c float64
		if err := s.Pool().QueryRow(t.Context(),
			"select r.c from probe_assignments a join readings r using (probe_id) where a.cut_id = $1 and r.at <= $2 order by r.at desc limit 1", cut, now.Add(-ago)).Scan(&c); err != nil {
			t.Fatal(err)
		}
		reads = append(reads, store.Event{Act: logbook.Probe, At: now.Add(-ago), CutID: &cut, Press: uuid.NewString(),
			Detail: logbook.Detail{Read: fmt.Sprintf("%.1f C", c), C: &c}})
	}
	if _, err := s.Pool().Exec(t.Context(), "delete from probe_assignments where cut_id = $1", cut); err != nil {
		t.Fatal(err)
	}
	if err := s.Log(t.Context(), 1, reads); err != nil {
		t.Fatal(err)
	}
	looks, err := New(s, planner.New(s, &plans)).Forecast(t.Context(), cook, now)
	if err != nil {
		t.Fatal(err)
	}
	hand := looks[0]
	if hand.CutID != cut || hand.Done == nil {
		t.Fatalf("a cut that hands read is forecast as %+v", hand)
	}
	width := func(c *Coming) time.Duration { return c.High.Sub(c.Low) }
	if width(hand.Done) <= width(probed[0].Done) {
		t.Errorf("read twice by hand its end is known to %v, by a probe to %v: want it less sure", width(hand.Done), width(probed[0].Done))
	}
}
