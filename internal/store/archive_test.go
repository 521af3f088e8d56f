package store_test

import (
	"bytes"
	"errors"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5/pgxpool"

	"whitebarn/internal/archive"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestABackupOfAnEarlierVersionIsBroughtOver takes backups of the kept demos as their own
// versions left them, and restores them with this one.
func TestABackupOfAnEarlierVersionIsBroughtOver(t *testing.T) {
	dumps, _ := filepath.Glob("testdata/*.sql.gz")
	for _, file := range dumps[len(dumps)-3:] {
		t.Run(filepath.Base(file), func(t *testing.T) {
			url := pgtest.Empty(t)
			before := restore(t, url, file)
			pool, err := pgxpool.New(t.Context(), url)
			if err != nil {
				t.Fatal(err)
			}
			defer pool.Close()
			var b bytes.Buffer
			if err := archive.Write(t.Context(), store.AsIs(pool), archive.Backup, 0, time.Now(), &b); err != nil {
				t.Fatal(err)
			}
			a, err := archive.Open(bytes.NewReader(b.Bytes()), int64(b.Len()))
			if err != nil {
				t.Fatal(err)
			}
			if newest := int64(len(mustMigrations(t))); a.Version >= newest {
				t.Fatalf("the backup is of version %d, and %d is the newest", a.Version, newest)
			}
			to := pgtest.Empty(t)
			if err := a.Restore(t.Context(), to); err != nil {
				t.Fatal(err)
			}
			s, err := store.Open(t.Context(), to)
			if err != nil {
				t.Fatal(err)
			}
			defer s.Close()
			for table, n := range before {
				var now int
				if err := s.Pool().QueryRow(t.Context(), "select count(*) from "+table).Scan(&now); err != nil || now != n {
					t.Errorf("of %d rows in %s there are %d (%v)", n, table, now, err)
				}
			}
			if _, err := a.Adopt(t.Context(), s, 1); !errors.Is(err, archive.ErrKind) {
				t.Errorf("a whole barn is taken for a trial: %v", err)
			}
		})
	}
}

func mustMigrations(t *testing.T) []string {
	t.Helper()
	files, err := filepath.Glob("migrations/*.sql")
	if err != nil || len(files) == 0 {
		t.Fatalf("no migrations: %v", err)
	}
	return files
}

// TestATrialOfAnotherVersionIsRefusedWithAWay: its tables may have other columns.
func TestATrialOfAnotherVersionIsRefusedWithAWay(t *testing.T) {
	url := pgtest.Empty(t)
	dumps, _ := filepath.Glob("testdata/*.sql.gz")
	restore(t, url, dumps[len(dumps)-1])
	pool, err := pgxpool.New(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer pool.Close()
	var b bytes.Buffer
	if err := archive.Write(t.Context(), store.AsIs(pool), archive.Trial, 3, time.Now(), &b); err != nil {
		t.Fatal(err)
	}
	a, err := archive.Open(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	s := pgtest.Store(t)
	who, err := s.FirstRun(t.Context(), store.Barn{Name: "Low Barn", TimeZone: "UTC"}, store.Person{Name: "Signe", Role: store.Pitmaster, SignIn: "signe"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := a.Adopt(t.Context(), s, who); err == nil || !strings.Contains(err.Error(), "bring both barns to the same version") {
		t.Errorf("it is refused with %v", err)
	}
	if ids, err := s.TrialIDs(t.Context()); err != nil || len(ids) != 0 {
		t.Errorf("of it %d trials are left (%v)", len(ids), err)
	}
}

// TestThinnedReadingsKeepWhatIsLookedAt: of each stretch the first, the lowest and the highest
// stay, and what is younger stays whole.
func TestThinnedReadingsKeepWhatIsLookedAt(t *testing.T) {
	s := pgtest.Store(t)
	day := time.Date(2025, 6, 1, 8, 0, 0, 0, time.UTC)
	_, err := s.Pool().Exec(t.Context(), `with d as (insert into devices (name, kind) values ('old box', 'file') returning id),
		p as (insert into probes (device_id, channel) select id, 'pit' from d returning id)
		insert into readings (probe_id, at, c, value, scale) select p.id, $1::timestamptz + make_interval(secs => n * 5), 120 + case n when 7 then 40 when 9 then -40 else n % 3 end, 0, 'C' from p, generate_series(0, 35) n`, day)
	if err != nil {
		t.Fatal(err)
	}
	gone, err := s.ThinReadings(t.Context(), day.Add(2*time.Minute), 60)
	if err != nil {
		t.Fatal(err)
	}
	var left, young int
	var low, high float64
	if err := s.Pool().QueryRow(t.Context(), "select count(*), min(c), max(c), count(*) filter (where at >= $1) "+
		"from readings", day.Add(2*time.Minute)).Scan(&left, &low, &high, &young); err != nil {
		t.Fatal(err)
	}
	if left+int(gone) != 36 || young != 12 || low != 80 || high != 160 || left > 12+6 {
		t.Errorf("of 36 readings %d went; %d are left from %g to %g, %d of them young", gone, left, low, high, young)
	}
	if _, _, err := s.Thinning(t.Context()); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("how a barn thins that is not there: %v", err)
	}
}
