package store_test

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

func TestMain(m *testing.M) { os.Exit(demobarn.Main(m)) }

// longLog is four probes with 25,000 readings each.
func longLog(start time.Time) *logbook.Log {
	log := &logbook.Log{DataLines: 25_000}
	for p := range 4 {
		c := logbook.Column{Name: fmt.Sprint("probe ", p), Scale: "C"}
		for i := range 25_000 {
			c.Readings = append(c.Readings, logbook.Reading{At: start.Add(time.Duration(i) * time.Second), Value: float64(60 + i%9), C: float64(60 + i%9)})
		}
		log.Columns = append(log.Columns, c)
	}
	return log
}

func duckCook(tb testing.TB) (*store.Store, store.Cook) {
	tb.Helper()
	s := demobarn.Store(tb)
	cooks, err := s.Cooks(tb.Context(), 2)
	if err != nil {
		tb.Fatal(err)
	}
	return s, cooks[0]
}

func BenchmarkImport100000(b *testing.B) {
	s, cook := duckCook(b)
	start := time.Date(2026, 9, 27, 9, 0, 0, 0, time.UTC)
	b.ReportAllocs()
	for i := 0; b.Loop(); i++ {
		log := longLog(start.AddDate(0, 0, i))
		if _, _, err := s.ImportLog(b.Context(), 1, store.NewImport{CookID: cook.ID, Logger: "bench", FileName: "bench.csv", SHA256: []byte{1}, Log: log}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkTracesOf100000(b *testing.B) {
	s, cook := duckCook(b)
	runs, err := s.PitRuns(b.Context(), 2)
	if err != nil {
		b.Fatal(err)
	}
	start := time.Date(2026, 9, 27, 9, 0, 0, 0, time.UTC)
	log := longLog(start)
	targets := map[string]store.Target{}
	for _, c := range log.Columns {
		targets[c.Name] = store.Target{PitRunID: &runs[0].ID}
	}
	if _, _, err := s.ImportLog(b.Context(), 1, store.NewImport{CookID: cook.ID, Logger: "bench", FileName: "bench.csv", SHA256: []byte{1}, Log: log, Targets: targets}); err != nil {
		b.Fatal(err)
	}
	assigned, err := s.Assignments(b.Context(), cook.ID)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		got, err := s.Traces(b.Context(), assigned, start, start.Add(7*time.Hour), 1000)
		if err != nil || len(got) < 3900 {
			b.Fatalf("%d stretches: %v", len(got), err)
		}
	}
}

func TestFailedImportLeavesNothing(t *testing.T) {
	s, cook := duckCook(t)
	missing := int64(99_999)
	log := longLog(time.Date(2026, 9, 27, 9, 0, 0, 0, time.UTC))
	_, _, err := s.ImportLog(t.Context(), 1, store.NewImport{CookID: cook.ID, Logger: "broken", FileName: "x.csv", SHA256: []byte{1}, Log: log, Targets: map[string]store.Target{"probe 3": {CutID: &missing}}})
	if err == nil || !strings.Contains(err.Error(), "assign the probe probe 3") {
		t.Fatalf("assigning a probe to a cut that is not there gave %v", err)
	}
	if n, err := s.Known(t.Context(), "broken", time.Time{}, time.Now().AddDate(10, 0, 0)); err != nil || n != 0 {
		t.Errorf("the failed import left %d readings (%v)", n, err)
	}
}

func TestAskKeepsItsHistory(t *testing.T) {
	s, _ := duckCook(t)
	before, err := s.Trial(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	ask := before.Ask
	ask.Question = "Is one night enough?"
	ask.Outcomes = ask.Outcomes[:2]
	ask.Arms[0].Tag, ask.Arms[1].Tag = ask.Arms[1].Tag, ask.Arms[0].Tag
	if err := s.SetAsk(t.Context(), 1, 2, ask); err != nil {
		t.Fatal(err)
	}
	ask.Outcomes = before.Ask.Outcomes
	if err := s.SetAsk(t.Context(), 1, 2, ask); err != nil {
		t.Fatal(err)
	}
	after, err := s.Trial(t.Context(), 2)
	if err != nil || after.Ask.Question != "Is one night enough?" || len(after.Ask.Outcomes) != 6 || after.Ask.Arms[0].Tag != "FRESH" {
		t.Errorf("the ask is now %+v (%v)", after.Ask, err)
	}
	var first trial.Ask
	if err := s.Pool().QueryRow(t.Context(), "select before from changes where subject = 'trial' and subject_id = 2 order by id limit 1").Scan(&first); err != nil || first.Question != before.Ask.Question {
		t.Errorf("the history begins with %q (%v), want %q", first.Question, err, before.Ask.Question)
	}
}
