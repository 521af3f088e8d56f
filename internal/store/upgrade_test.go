package store_test

import (
	"bytes"
	"compress/gzip"
	"flag"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/trial"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/demo"
	"whitebarn/internal/pgrun"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

var dump = flag.String("dump", "", "write the demo as it is kept now, thinned, to testdata under this name")

// TestDump writes the dump that the next migration is tested on: the demo with
// one reading in ten minutes of each probe. make dump NAME=0007-keys
func TestDump(t *testing.T) {
	if *dump == "" {
		t.Skip("only when a dump is asked for")
	}
	url := pgtest.URL(t)
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := demo.Seed(t.Context(), s, auth.Cheap, time.Date(2026, 10, 1, 15, 0, 0, 0, time.UTC)); err != nil {
		t.Fatal(err)
	}
	_, err = s.Pool().Exec(t.Context(), `delete from readings r using (select probe_id, at, row_number() over (partition by probe_id, date_bin('10 min', at, '2026-01-01') order by at) as n from readings) k
		where k.probe_id = r.probe_id and k.at = r.at and k.n > 1`)
	if err != nil {
		t.Fatal(err)
	}
	program, err := pgrun.Program("pg_dump")
	if err != nil {
		t.Fatal(err)
	}
	text, err := exec.Command(program, "--no-owner", "--no-acl", "--inserts", "--rows-per-insert=500", url).Output()
	if err != nil {
		t.Fatal(err)
	}
	// Lines for a terminal program alone.
	text = regexp.MustCompile(`(?m)^\\.*\n`).ReplaceAll(text, nil)
	var b bytes.Buffer
	z, _ := gzip.NewWriterLevel(&b, gzip.BestCompression)
	if _, err := z.Write(text); err != nil || z.Close() != nil {
		t.Fatal(err)
	}
	if b.Len() > 1<<20 {
		t.Errorf("the dump is %d bytes, more than 1 MB", b.Len())
	}
	if err := os.WriteFile(filepath.Join("testdata", *dump+".sql.gz"), b.Bytes(), 0o644); err != nil {
		t.Fatal(err)
	}
}

// TestEveryEarlierDemoIsBroughtOver opens each dump with today's migrations: all
// that was recorded is still there and can be read.
func TestEveryEarlierDemoIsBroughtOver(t *testing.T) {
	dumps, _ := filepath.Glob("testdata/*.sql.gz")
	if len(dumps) == 0 {
		t.Fatal("there are no dumps to bring over")
	}
	finals := map[string]int{} // temperatures by hand, of each dump that kept them by themselves
	for _, file := range dumps {
		t.Run(filepath.Base(file), func(t *testing.T) {
			url := pgtest.Empty(t)
			before := restore(t, url, file)
			finals[file] = finalsIn(t, url)
			s, err := store.Open(t.Context(), url)
			if err != nil {
				t.Fatal(err)
			}
			defer s.Close()
			for table, n := range before {
				var now int
				if table == "events" {
					n += finals[file] // which are logged as readings now
				}
				if err := s.Pool().QueryRow(t.Context(), "select count(*) from "+table).Scan(&now); err != nil || now != n {
					t.Errorf("of %d rows in %s there are %d (%v)", n, table, now, err)
				}
			}
			ids, err := s.TrialIDs(t.Context())
			want := 5
			for since, n := range map[string]int{"0018": 6, "0020": 18} {
				if filepath.Base(file) >= since {
					want = max(want, n)
				}
			}
			if err != nil || len(ids) != want {
				t.Fatalf("the trials came over as %v (%v), want %d", ids, err, want)
			}
			readAnew(t, s, filepath.Base(file) >= "0013")
			for _, id := range ids {
				v, err := s.Trial(t.Context(), id)
				if err != nil {
					t.Fatal(err)
				}
				if err := v.Ask.Tidy().Check(); err != nil {
					t.Errorf("%q could not be kept again: %v", v.Ask.Question, err)
				}
				if v.Ask.Kind != trial.OfMeat {
					continue
				}
				keyed(t, v.Ask)
				byCard := strings.Contains(v.Ask.Question, "by version") // the card says what meat it is
				if v.Ask.MeatConfirmed != (filepath.Base(file) >= "0010" && !byCard) || !v.Ask.Meat().Said() {
					t.Errorf("what meat %q is of came over as %+v, confirmed %v; want as it was, to be confirmed", v.Ask.Question, v.Ask.Meat(), v.Ask.MeatConfirmed)
				}
				if _, err := s.Outline(t.Context(), id); err != nil && err != store.ErrNotFound {
					t.Errorf("the plan of %q cannot be read: %v", v.Ask.Question, err)
				}
				if _, err := s.Events(t.Context(), id); err != nil {
					t.Errorf("the log of %q cannot be read: %v", v.Ask.Question, err)
				}
			}
		})
	}
}

// readAnew reads the settled trial by today's rules: what was kept of it stays, and the new
// reading stands beside it; one that was never read is said to be read late.
func readAnew(t *testing.T, s *store.Store, read bool) {
	t.Helper()
	if read { // by the rules of then, which kept the sentence alone
		if _, err := s.Pool().Exec(t.Context(), "delete from verdict_versions where trial_id = 3"); err != nil {
			t.Fatal(err)
		}
		if _, err := s.Pool().Exec(t.Context(), `insert into verdicts (trial_id, word, headline) values (3, 'leaning', 'As it was read then.') on conflict (trial_id) do update
			set word = excluded.word, headline = excluded.headline, rules = 1, result = null, house = null`); err != nil {
			t.Fatal(err)
		}
	}
	kept, err := s.VerdictLines(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	desk := settle.New(s, time.Now)
	for range 2 { // the second time there is nothing left to read
		if err := desk.ReadAnew(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	v, err := desk.Read(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	versions, err := s.VerdictVersions(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	line, was := kept[3]
	switch {
	case was != read:
		t.Errorf("a verdict is kept: %v, want %v", was, read)
	case !was && (!v.Late || v.Since != nil || len(versions) != 1):
		t.Errorf("a verdict read for the first time is late: %v, since %+v, %d versions", v.Late, v.Since, len(versions))
	case was && (v.Headline != line.Headline || v.Since == nil || v.Since.Because != "the rules changed" || len(versions) != 2):
		t.Errorf("of %q today's rules make %q, since %+v, %d versions", line.Headline, v.Headline, v.Since, len(versions))
	}
}

// finalsIn counts the final temperatures by hand of a dump.
func finalsIn(t *testing.T, url string) (n int) {
	t.Helper()
	conn, err := pgx.Connect(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(t.Context())
	var there bool
	if err := conn.QueryRow(t.Context(), "select to_regclass('final_temperatures') is not null").Scan(&there); err != nil || !there {
		return 0
	}
	if err := conn.QueryRow(t.Context(), "select count(*) from final_temperatures where source = 'hand'").Scan(&n); err != nil {
		t.Fatal(err)
	}
	return n
}

// keyed checks that what was words got the keys that the words meant.
func keyed(t *testing.T, a trial.Ask) {
	t.Helper()
	cooksLike := map[string]string{"lamb shoulder": "lambshoulder", "duck leg": "chthigh", "chuck-eye roast": "chuck"}
	if a.Family != cooksLike[a.Product] || a.ProductID == 0 {
		t.Errorf("%q cooks %s, product %d, like a %q", a.Question, a.Product, a.ProductID, a.Family)
	}
	keys := map[string]string{"paper": "paper", "covered pan": "pan", "none": "none"}
	for _, arm := range a.Arms {
		for f, l := range arm.Levels {
			factor := a.Factors[f]
			if l.ID == 0 || factor.Role == trial.Wrap && l.Key != keys[l.Value] {
				t.Errorf("%q: level %q of %s came over as %+v", a.Question, l.Value, factor.Name, l)
			}
		}
	}
	roles := map[string]trial.Role{"wood": trial.Wood, "wrap": trial.Wrap, "salt": trial.DryBrine, "pit temperature": trial.PitTemperature}
	for _, h := range a.Held {
		if want, known := roles[h.Name]; known && h.Role != want {
			t.Errorf("%q: what is held of %s has the role %q, want %q", a.Question, h.Name, h.Role, want)
		}
	}
}

// record are the tables that no migration may lose a row of.
var record = []string{"trials", "arms", "cuts", "weighings", "dimensions", "measures", "cooks", "pit_runs", "placements", "events", "readings", "probe_assignments",
	"gate_reasons", "tasters", "flights", "samples", "ballots", "servings", "scores", "allotments", "outlines", "changes", "prep_marks"}

// restore loads a dump and counts what it holds.
func restore(t *testing.T, url, file string) map[string]int {
	t.Helper()
	f, err := os.Open(file)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, err := gzip.NewReader(f)
	if err != nil {
		t.Fatal(err)
	}
	text, err := io.ReadAll(z)
	if err != nil {
		t.Fatal(err)
	}
	conn, err := pgx.Connect(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(t.Context())
	if _, err := conn.PgConn().Exec(t.Context(), string(text)).ReadAll(); err != nil {
		t.Fatalf("%s does not load: %v", file, err)
	}
	out := map[string]int{}
	for _, table := range record {
		var n int
		if err := conn.QueryRow(t.Context(), "select count(*) from public."+table).Scan(&n); err != nil && !strings.Contains(err.Error(), "does not exist") {
			t.Fatal(err)
		} else if err == nil {
			out[table] = n
		}
	}
	return out
}
