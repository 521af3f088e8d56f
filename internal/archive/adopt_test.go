package archive_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	coresettle "whitebarn/core/settle"
	"whitebarn/internal/archive"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestATrialIsTakenIntoAnotherBarn brings each demo trial into a barn of other people, which
// has a pit of the same name: what was concluded is the same there, read anew too.
func TestATrialIsTakenIntoAnotherBarn(t *testing.T) {
	s := seeded(t)
	other := opened(t, pgtest.URL(t))
	who, err := other.FirstRun(t.Context(), store.Barn{Name: "Low Barn", TimeZone: "Europe/Oslo"}, store.Person{Name: "Signe", Role: store.Pitmaster,
		SignIn: "signe"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := other.Pool().Exec(t.Context(), "insert into pits (name) values ('Kettle'), ('North Drum')"); err != nil {
		t.Fatal(err)
	}
	// A gateway of this barn has the name of one of the other's, and read its own pit meanwhile.
	if _, err := other.Pool().Exec(t.Context(), `with d as (insert into devices (name, kind) select name, kind from (values ('barn logger', 'file'), ('pit logger', 'file')) v (name, kind) returning id),
		p as (insert into probes (device_id, channel) select id, 'pit' from d returning id) insert into readings (probe_id, at, c, value, scale) select id, $1, 100, 100, 'C' from p`, at); err != nil {
		t.Fatal(err)
	}
	desk, there := settle.New(s, time.Now), settle.New(other, time.Now)
	for _, id := range []int64{3, 4, 5, 6, 7, 9} {
		was := read(t, written(t, s, archive.Trial, id))
		now, err := was.Adopt(t.Context(), other, who)
		if err != nil {
			t.Fatalf("trial %d: %v", id, err)
		}
		if _, err := was.Adopt(t.Context(), other, who); !errors.Is(err, store.ErrConflict) {
			t.Errorf("trial %d is taken in twice: %v", id, err)
		}
		back := read(t, written(t, other, archive.Trial, now))
		for i, r := range was.Resources {
			skipped := slices.Contains([]string{"barn", "barn_lines", "people", "alarms", "alarm_states", "postponed"}, r.Name)
			if got := back.Resources[i].Rows; got != r.Rows && !skipped {
				t.Errorf("trial %d: of %d rows of %s there are %d", id, r.Rows, r.Name, got)
			}
		}
		a, err := desk.Read(t.Context(), id)
		var closed *barn.Refusal
		if errors.As(err, &closed) {
			continue // nothing is concluded yet
		}
		if err != nil {
			t.Fatal(err)
		}
		b, err := there.Read(t.Context(), now)
		if err != nil || a.Headline != b.Headline {
			t.Errorf("trial %d: %q is %q there (%v)", id, a.Headline, b.Headline, err)
		}
		if err := there.Anew(t.Context(), now); err != nil {
			t.Fatalf("trial %d is not read anew: %v", id, err)
		}
		again, err := there.Read(t.Context(), now)
		if err != nil {
			t.Fatal(err)
		}
		if was, now := first(a.Result), first(again.Result); was != now {
			t.Errorf("trial %d: its first difference is %s, and was %s", id, now, was)
		}
		if again.Since != nil && first(again.Since.Result) != first(a.Result) {
			t.Errorf("trial %d: read anew, its first difference is %s, and was %s", id, first(again.Since.Result), first(a.Result))
		}
	}
	for _, c := range []struct {
		says, sql string
		want      int
	}{
		{"plans name arms of this barn", `select count(*) from outlines o, jsonb_array_elements(o.outline->'arms') x where exists (select from arms a where a.id = (x->>'arm_id')::bigint and a.trial_id = o.trial_id)`, 0},
		{"North Drums", "select count(*) from pits where name = 'North Drum'", 1},
		{"readings of this barn's own probes", "select count(*) from readings r join probes p on p.id = r.probe_id join devices d on d.id = " +
			"p.device_id where d.name in ('barn logger', 'pit logger')", 2},
		{"people with a password", "select count(*) from people where password_hash <> ''", 0},
	} {
		var n int
		if err := other.Pool().QueryRow(t.Context(), c.sql).Scan(&n); err != nil {
			t.Fatal(err)
		}
		if c.want == 0 && strings.HasPrefix(c.says, "plans") {
			var all int
			if err := other.Pool().QueryRow(t.Context(), "select coalesce(sum(jsonb_array_length(outline->'arms')), 0) from outlines").Scan(&all); err != nil {
				t.Fatal(err)
			}
			c.want = all
		}
		if n != c.want {
			t.Errorf("%s: %d, want %d", c.says, n, c.want)
		}
	}
}

// first is the first difference of a verdict in words.
func first(r coresettle.Result) string {
	for _, row := range r.Rows {
		for _, p := range row.Pairs {
			if p.Cooks.Estimate != nil {
				return fmt.Sprintf("%s %.9g", row.Outcome.Key, *p.Cooks.Estimate)
			}
		}
	}
	return "none"
}
