package demo

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn/book"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

func TestMain(m *testing.M) { os.Exit(pgtest.Main(m)) }

// noon is the moment from which the tests' barn goes back; it is filled once for them.
var (
	noon   = time.Date(2026, 11, 1, 12, 0, 0, 0, time.UTC)
	filled = pgtest.Seed{Fresh: time.Hour, Fill: func(ctx context.Context, s *store.Store) error { return Seed(ctx, s, auth.Cheap, noon) }}
)

func TestSeedFillsTheBarnOnce(t *testing.T) {
	s := filled.Store(t)
	if err := Seed(t.Context(), s, auth.Cheap, noon); err != nil {
		t.Fatal(err)
	}
	ids, err := s.TrialIDs(t.Context())
	if err != nil || len(ids) != 18 {
		t.Fatalf("the barn holds trials %v (%v), want eighteen: nine are cooks by a card", ids, err)
	}
	shoulders, err := reader.One(t.Context(), s, 3)
	if err != nil {
		t.Fatal(err)
	}
	counts, err := s.Counts(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	if p, n := shoulders.Progress(), counts[3]; p.Cuts != 16 || p.Pulled != 16 || p.Off != 16 || p.Read != 16 || n.Ballots != 32 || n.Locked != 32 || !p.Revealed {
		t.Errorf("the shoulders stand at %+v, %+v", p, n)
	}
	for key := range effects {
		blind := panel.Counted(shoulders.Scores[key])
		if n, open := len(blind), len(shoulders.Scores[key])-len(blind); n != 80 || open != 8 {
			t.Errorf("%s has %d blind scores and %d open, want 80 and 8", key, n, open)
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

// TestThreeArmsHangAsTheyShould looks at the bench of the open trial: two arms
// meet in every lamb, each pair twice, and nothing stands in the way.
func TestThreeArmsHangAsTheyShould(t *testing.T) {
	s := filled.Store(t)
	cuts, err := s.Cuts(t.Context(), 4)
	if err != nil || len(cuts) != 12 {
		t.Fatalf("%d shoulders hang (%v), want 12", len(cuts), err)
	}
	arms, meets := map[string][]int64{}, map[[2]int64]int{}
	for _, c := range cuts {
		arms[c.Pair] = append(arms[c.Pair], *c.ArmID)
	}
	for lamb, a := range arms {
		if len(a) != 2 || a[0] == a[1] {
			t.Errorf("lamb %s is in the arms %v", lamb, a)
			continue
		}
		meets[[2]int64{min(a[0], a[1]), max(a[0], a[1])}]++
	}
	for pair, n := range meets {
		if n != 2 {
			t.Errorf("arms %v meet in %d lambs, want two", pair, n)
		}
	}
	placements, err := s.Placements(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	taken, held := map[string]bool{}, 0
	for _, p := range placements {
		if p.HolderRunID != nil {
			held++
			continue
		}
		taken[fmt.Sprint(*p.PitRunID, p.Position)] = true
	}
	if len(placements) != 24 || len(taken) != 12 || held != 12 {
		t.Errorf("shoulders lie in %d places and %d are to be held, want twelve of their own and twelve", len(taken), held)
	}
	draws, err := s.Allotments(t.Context(), 4)
	if err != nil || len(draws) != 1 || draws[0].Seed != 940 || draws[0].MaxSMD > 0.4 {
		t.Errorf("the draws are %+v (%v)", draws, err)
	}
	hold, err := s.Trial(t.Context(), 5)
	if err != nil || hold.Ask.FollowsID == nil || *hold.Ask.FollowsID != 3 {
		t.Errorf("the hold follows %v (%v), want the settled shoulders", hold.Ask.FollowsID, err)
	}
}

// TestTheHouseKnowsWhatTheScenarioSays: three trials of shoulders with three kinds of verdict,
// pooled; a card in its second version that drifts at the seventh cook.
func TestTheHouseKnowsWhatTheScenarioSays(t *testing.T) {
	s := filled.Store(t)
	desk := book.At(s, time.Now)
	kinds := map[verdict.Word]bool{}
	results, err := s.LastResults(t.Context(), 7, 8, 9)
	if err != nil {
		t.Fatal(err)
	}
	for id, r := range results {
		for _, row := range r.Rows {
			for _, p := range row.Pairs {
				kinds[p.Cooks.Word] = true
			}
			if id == 9 && row.Outcome.Key == trial.Overall && (row.Trend == nil || row.Trend.Least == nil || *row.Trend.Least != 4) {
				t.Errorf("the hold's trend on liking is %+v, want 4 h as the least as good as any", row.Trend)
			}
		}
	}
	for _, word := range []verdict.Word{verdict.Clear, verdict.Same, verdict.CannotTell} {
		if !kinds[word] {
			t.Errorf("no trial says %q", word)
		}
	}
	known, err := desk.Know(t.Context(), nil, &book.KnowQuery{Text: "paper wrap, lamb shoulder, juiciness"})
	if err != nil || known.Answer == nil || len(known.Answer.Trials) != 3 || known.Answer.Pooled == nil || known.Answer.Outcome.Key != trial.Juiciness {
		t.Fatalf("of paper the house knows %+v (%v)", known.Answer, err)
	}
	if apart := known.Answer.Trials[2]; !apart.Apart || apart.Question != "Paper or bare in the Drum?" {
		t.Errorf("the one apart is %+v, want the Drum's", apart)
	}
	card, err := desk.Card(t.Context(), nil, 1)
	if err != nil || len(card.Versions) != 2 || card.Versions[0].FailedAt == nil || card.Versions[0].Lever == "" ||
		len(card.Versions[1].Signed) != 2 || len(card.Cooks) != 9 {
		t.Fatalf("the card is %+v (%v)", card, err)
	}
	if d := card.Versions[1].Differences; len(d) != 1 {
		t.Errorf("version 2 changes %+v, want one thing", d)
	}
	y := card.Measures[0]
	if y.Key != trial.EdibleYield || y.Chart.Since != 7 || !y.Chart.Drifts || y.Chart.Up || len(y.Causes) == 0 || !card.Watch {
		t.Errorf("the yield reads %+v", y)
	}
}
