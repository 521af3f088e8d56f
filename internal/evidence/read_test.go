package evidence_test

import (
	"context"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/evidence"
	"whitebarn/core/trial"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

func TestMain(m *testing.M) { os.Exit(demobarn.Main(m)) }

// demoBarn is the demo at a fixed time, and the numbers of its trials.
func demoBarn(t *testing.T) (*store.Store, []int64, time.Time) {
	t.Helper()
	s := demobarn.Store(t)
	ids, err := s.TrialIDs(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return s, ids, demobarn.Now
}

func TestTrialsReadTogetherAreWhatEachIsAlone(t *testing.T) {
	s, ids, now := demoBarn(t)
	slices.Reverse(ids)
	together, err := reader.Read(t.Context(), s, ids...)
	if err != nil || len(together) != len(ids) {
		t.Fatalf("%d trials read as %d (%v)", len(ids), len(together), err)
	}
	if err := reader.Heat(t.Context(), s, together, now); err != nil {
		t.Fatal(err)
	}
	cuts, scores, acts := 0, 0, 0
	for i, id := range ids {
		alone, err := reader.One(t.Context(), s, id)
		if err != nil {
			t.Fatal(err)
		}
		one := together[slices.IndexFunc(together, func(e evidence.Trial) bool { return e.ID == id })]
		if together[i].ID != id {
			t.Errorf("trial %d is read in place %d as trial %d", id, i, together[i].ID)
		}
		list := []evidence.Trial{alone}
		if err := reader.Heat(t.Context(), s, list, now); err != nil {
			t.Fatal(err)
		}
		if !reflect.DeepEqual(list[0], one) {
			t.Errorf("trial %d read among others differs from itself read alone", id)
		}
		cuts, scores, acts = cuts+len(one.Cuts), scores+len(one.Scores), acts+len(one.Acts)
	}
	if cuts == 0 || scores == 0 || acts == 0 {
		t.Errorf("the demo reads as %d cuts, %d scored outcomes, %d acts", cuts, scores, acts)
	}
}

func TestScoresOfClosedCodesAreNotRead(t *testing.T) {
	s, ids, _ := demoBarn(t)
	all, err := reader.Read(t.Context(), s, ids...)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range all {
		if e.RevealedAt == nil && len(e.Scores) > 0 {
			t.Errorf("trial %d has its codes closed and its scores read", e.ID)
		}
	}
}

// between has something happen once, right before a query with some words.
type between struct {
	words string
	do    func()
}

func (b *between) TraceQueryStart(ctx context.Context, _ *pgx.Conn, q pgx.TraceQueryStartData) context.Context {
	if do := b.do; do != nil && strings.Contains(q.SQL, b.words) {
		b.do = nil
		do()
	}
	return ctx
}

func (*between) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}

// A cook that is planned while a trial is read is seen whole or not at all; within a
// transaction what of it came too late is left out.
func TestACookPlannedWhileATrialIsReadIsWholeOrNotThere(t *testing.T) {
	for _, within := range []bool{false, true} {
		b := &between{words: "where k.trial_id = any($1) order by r.id"}
		s, err := store.OpenTraced(t.Context(), demobarn.URL(t), b)
		if err != nil {
			t.Fatal(err)
		}
		defer s.Close()
		before, err := reader.One(t.Context(), s, 3)
		if err != nil {
			t.Fatal(err)
		}
		runs := before.Runs
		planned := false
		b.do = func() {
			planned = true
			plan := store.CookPlan{ServeAt: demobarn.Now, Runs: []store.PitRun{{PitID: runs[0].PitID, SetPointC: 121, SetPointTyped: "250 F"}}}
			if _, err := s.CreateCook(t.Context(), 1, 3, plan, trial.RealClock(demobarn.Now)); err != nil {
				t.Error(err)
			}
		}
		var during evidence.Trial
		read := func(s *store.Store) (err error) { during, err = reader.One(t.Context(), s, 3); return err }
		if within {
			err = s.InTx(t.Context(), read)
		} else {
			err = read(s)
		}
		if err != nil || !planned {
			t.Fatalf("in a transaction %t: read with %v, planned meanwhile %t", within, err, planned)
		}
		if !reflect.DeepEqual(during, before) {
			t.Errorf("in a transaction %t: a trial read while a cook is planned has %d cooks and %d runs, before %d and %d",
				within, len(during.Cooks), len(during.Runs), len(before.Cooks), len(runs))
		}
		after, err := reader.One(t.Context(), s, 3)
		if err != nil || len(after.Cooks) != len(before.Cooks)+1 || len(after.Runs) != len(runs)+1 {
			t.Errorf("then it has %d cooks and %d runs (%v), want one more of each", len(after.Cooks), len(after.Runs), err)
		}
	}
}

func TestATrialThatIsNotThereIsSaid(t *testing.T) {
	s, _, _ := demoBarn(t)
	if _, err := reader.One(t.Context(), s, 9999); err != store.ErrNotFound {
		t.Errorf("a trial that is not there reads with %v", err)
	}
}

// The heat of a cut is the mean of what its own pit's probe showed while it was on.
func TestHeatIsTheMeanWhileTheCutWasOn(t *testing.T) {
	s, _, now := demoBarn(t)
	all, err := reader.Read(t.Context(), s, 3)
	if err != nil {
		t.Fatal(err)
	}
	if err := reader.Heat(t.Context(), s, all, now); err != nil {
		t.Fatal(err)
	}
	e, known := all[0], 0
	for _, c := range e.Cuts {
		lies, ok := c.Lies()
		if !ok || c.Heat.MeanC == nil {
			continue
		}
		known++
		whole, _ := e.HeatWindows(c, e.Now(lies.CookID, now))
		var sum float64
		var n int
		for _, w := range whole {
			traces, err := reader.Traces(t.Context(), s, []evidence.Probe{w.Probe}, w.From, w.To)
			if err != nil {
				t.Fatal(err)
			}
			for _, p := range traces[0] {
				sum, n = sum+p.C, n+1
			}
		}
		if want := sum / float64(n); n == 0 || !near(*c.Heat.MeanC, want) {
			t.Errorf("%s was in a pit of %.3f C in the mean, its readings say %.3f", c.Name, *c.Heat.MeanC, want)
		}
	}
	if known == 0 {
		t.Error("of no cut in the finished trial is the pit's heat known")
	}
}

func near(a, b float64) bool { return a-b < 1e-6 && b-a < 1e-6 }
