package gate_test

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/safety"
	"whitebarn/core/units"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

func TestMain(m *testing.M) { os.Exit(demobarn.Main(m)) }

var now = demobarn.Now

// ducks are the demo's, cooked, read at 175 F by hand and pulled.
func ducks(t *testing.T) (*store.Store, *gate.Keeper, store.Cook, []store.Cut) {
	t.Helper()
	s := demobarn.Store(t)
	cuts, err := s.Cuts(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	cooks, err := s.Cooks(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	at := cooks[0].Clock.Now(now)
	read, err := logbook.Detail{Read: "175 F", Place: "thick"}.Tidy(logbook.Probe)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range cuts {
		for _, e := range []store.Event{{Act: logbook.On, At: at.Add(-2 * time.Hour)}, {Act: logbook.Probe, At: at.Add(-12 * time.Minute),
			Detail: read}, {Act: logbook.Pull, At: at.Add(-10 * time.Minute)}} {
			e.CutID, e.Press = &c.ID, uuid.NewString()
			if err := s.Log(t.Context(), 1, []store.Event{e}); err != nil {
				t.Fatal(err)
			}
		}
	}
	return s, gate.New(s, func() time.Time { return now }), cooks[0], cuts
}

func serve(t *testing.T, s *store.Store, k store.Cook, cuts []store.Cut) {
	t.Helper()
	tasters, err := s.Tasters(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	carver := int64(2)
	f := store.NewFlight{TrialID: 2, Format: panel.ByScores, CarverID: &carver, At: k.Clock.Now(now), Bites: 2}
	order := []int{}
	for i, c := range cuts {
		f.Samples = append(f.Samples, store.NewSample{CutID: c.ID, Place: "thigh", Code: fmt.Sprint(311 + i)})
		order = append(order, i)
	}
	for _, x := range tasters {
		f.Ballots = append(f.Ballots, store.NewBallot{TasterID: x.ID, Order: order})
	}
	if _, err := s.Serve(t.Context(), 1, f); err != nil {
		t.Fatal(err)
	}
}

// TestALogThatComesLateStopsWhatIsServed imports, after the flight was served, the log of
// a probe that never passed 150 F.
func TestALogThatComesLateStopsWhatIsServed(t *testing.T) {
	s, k, cook, cuts := ducks(t)
	serve(t, s, cook, cuts)
	if err := k.RecheckAll(t.Context()); err != nil {
		t.Fatal(err)
	}
	if struck, _ := s.StruckOf(t.Context(), 2); len(struck) != 0 {
		t.Fatalf("with nothing new %+v is struck", struck)
	}
	var csv strings.Builder
	csv.WriteString("time,1L F\n")
	from := cook.Clock.Now(now).Add(-2 * time.Hour)
	for m := range 110 {
		fmt.Fprintf(&csv, "%s,%.1f\n", from.Add(time.Duration(m)*time.Minute).Format(time.RFC3339), 40+108*float64(m)/110)
	}
	log, err := logbook.Read([]byte(csv.String()), logbook.Options{Zone: time.UTC})
	if err != nil {
		t.Fatal(err)
	}
	_, _, err = s.ImportLog(t.Context(), 1, store.NewImport{CookID: cook.ID, Logger: "drum", FileName: "late.csv", SHA256: []byte("late"),
		Log: log, Targets: map[string]store.Target{log.Columns[0].Name: {CutID: &cuts[0].ID}}})
	if err != nil {
		t.Fatal(err)
	}
	for range 2 { // the second look strikes nothing more
		if err := k.RecheckAll(t.Context()); err != nil {
			t.Fatal(err)
		}
		struck, err := s.StruckOf(t.Context(), 2)
		if err != nil || len(struck) != 1 || struck[0].Code != "311" || !strings.Contains(struck[0].Why, "of {C:73.8889}") {
			t.Fatalf("the late log strikes %+v (%v), want 311", struck, err)
		}
	}
	left, err := s.OnTheTable(t.Context())
	if err != nil || len(left) != 1 || left[0] != 2 {
		t.Errorf("with five samples out the table is %v (%v)", left, err)
	}

	// Taken away, it would open the gate that it shut: a second hand signs.
	imports, err := s.Imports(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	waits, err := k.Change(t.Context(), store.PendingChange{TrialID: 2, ByID: 1, ImportID: &imports[0].ID, What: "take a log back", Why: "it was wrong"})
	if err != nil || !waits {
		t.Errorf("a log that shuts the gate is taken back: waits %v (%v)", waits, err)
	}
	if imports, err = s.Imports(t.Context(), 2); err != nil || imports[0].VoidedBy != "" {
		t.Errorf("while it waits the log is %+v (%v)", imports[0], err)
	}
	pending, err := s.PendingChanges(t.Context(), 2)
	if err != nil || len(pending) != 1 {
		t.Fatalf("%+v waits (%v)", pending, err)
	}
	if _, err := k.Sign(t.Context(), store.Person{ID: 2}, pending[0].ID, true); err != nil {
		t.Fatal(err)
	}
	if imports, err = s.Imports(t.Context(), 2); err != nil || imports[0].VoidedBy == "" {
		t.Errorf("signed by two the log is %+v (%v)", imports[0], err)
	}
}

func TestEachArmHasItsMinimumByTheLinesThatStand(t *testing.T) {
	s, k, _, cuts := ducks(t)
	lines := safety.Usual
	lines.PoultryC = units.FToC(180)
	if err := k.SetLines(t.Context(), store.Person{ID: 1}, lines, "for the fair"); err != nil {
		t.Fatal(err)
	}
	// They hold from when they were set, which is after the test's own now.
	v, err := k.Of(t.Context(), 2)
	if err != nil || len(v.Arms) != 2 || v.Arms[0].Minimum.F < 179 || len(v.Cuts) != len(cuts) || !v.Cuts[0].Open {
		t.Errorf("the gate says %+v (%v)", v, err)
	}
	later := gate.New(s, func() time.Time { return time.Now().Add(time.Minute) })
	if v, err = later.Of(t.Context(), 2); err != nil || v.Cuts[0].Finding != safety.Below {
		t.Errorf("175 F by a line of 180 F is %+v (%v)", v.Cuts[0].Finding, err)
	}
}
