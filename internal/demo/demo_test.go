package demo

import (
	"bytes"
	"os"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/internal/auth"
	"whitebarn/internal/testkit/pgtest"
)

func TestMain(m *testing.M) { os.Exit(pgtest.Main(m)) }

func TestSeedFillsTheBarnOnce(t *testing.T) {
	s := pgtest.Store(t)
	now := time.Date(2026, 11, 1, 12, 0, 0, 0, time.UTC)
	for range 2 {
		if err := Seed(t.Context(), s, auth.Cheap, now); err != nil {
			t.Fatal(err)
		}
	}
	ids, err := s.TrialIDs(t.Context())
	if err != nil || len(ids) != 5 {
		t.Fatalf("the barn holds trials %v (%v), want five", ids, err)
	}
	p, err := s.Progress(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	if p.Cuts != 16 || p.Pulled != 16 || p.Off != 16 || p.FinalTemperatures != 16 || p.Ballots != 20 || p.Locked != 20 || !p.Revealed {
		t.Errorf("the shoulders stand at %+v", p)
	}
	scores, err := s.Scores(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	for key := range effects {
		if n := len(scores[key]); n != 80 {
			t.Errorf("%s has %d scores, want 80", key, n)
		}
	}
}

func TestExampleLogIsTheSeededOne(t *testing.T) {
	fresh, err := DuckLog()
	if err != nil {
		t.Fatal(err)
	}
	shipped, err := os.ReadFile("../../docs/examples/duck-legs-log.csv")
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(fresh, shipped) {
		t.Error("docs/examples/duck-legs-log.csv is stale: write it anew with `whitebarn example-log`")
	}
	log, err := logbook.Read(shipped, logbook.Options{})
	if err != nil || len(log.Columns) != 7 || len(log.Trouble) != 0 {
		t.Errorf("the example log reads as %d columns with trouble %v (%v)", len(log.Columns), log.Trouble, err)
	}
}
