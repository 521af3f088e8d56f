package store_test

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestAPictureIsAsItsReadingsAre puts readings in and takes them out, in any order and sent twice, and draws a probe between
// moments that lie anywhere: of every column the lowest and the highest are those of the readings in it.
func TestAPictureIsAsItsReadingsAre(t *testing.T) {
	s := pgtest.Store(t)
	q := func(sql string, a ...any) {
		t.Helper()
		if _, err := s.Pool().Exec(t.Context(), sql, a...); err != nil {
			t.Fatal(err)
		}
	}
	q("insert into devices (name, kind) values ('two', 'file')")
	q("insert into probes (device_id, channel) select d.id, n from devices d, unnest(array['a', 'b']) n where d.name = 'two'")
	var probe int64
	if err := s.Pool().QueryRow(t.Context(), "select min(p.id) from probes p join devices d on d.id = p.device_id where d.name = 'two'").Scan(&probe); err != nil {
		t.Fatal(err)
	}
	start := time.Date(2026, 9, 19, 8, 0, 0, 0, time.UTC)
	r := rand.New(rand.NewPCG(24, 1))
	there := map[int]float64{} // of probe a, by its second
	for round := range 30 {
		switch r.IntN(3) {
		case 0, 1:
			var at []time.Time
			var c []float64
			for range 1 + r.IntN(400) {
				sec := r.IntN(7200)
				v := math.Round(r.Float64()*1000) / 10
				at, c = append(at, start.Add(time.Duration(sec)*time.Second)), append(c, v)
				if _, known := there[sec]; !known {
					there[sec] = v
				}
			}
			q(`insert into readings (probe_id, at, c, value, scale) select distinct on (p, at) p, at, case when p = $1::bigint then c else -99 end, 0, 'C'
				from unnest($2::timestamptz[], $3::float8[]) with ordinality x (at, c, n), unnest(array[$1::bigint, $1::bigint + 1]) p order by p, at, n
				on conflict do nothing`, probe, at, c)
		case 2:
			from := r.IntN(7200)
			to := from + r.IntN(900)
			q("delete from readings where probe_id = $1 and at >= $2 and at < $3", probe, start.Add(time.Duration(from)*time.Second),
				start.Add(time.Duration(to)*time.Second))
			for sec := range there {
				if sec >= from && sec < to {
					delete(there, sec)
				}
			}
		}
		// From a whole part on, in columns of whole parts; the probe was put there and taken out at any second.
		width := []int{5, 20, 60, 140}[r.IntN(4)]
		columns := 50
		from := 20 * r.IntN(60)
		a := store.Assignment{ProbeID: probe, FromAt: start.Add(time.Duration(r.IntN(3000)) * time.Second)}
		out := a.FromAt.Add(time.Duration(r.IntN(6000)) * time.Second)
		a.ToAt = &out
		end := from + width*columns
		type span struct{ low, high float64 }
		want := map[int]span{}
		for sec, v := range there {
			at := start.Add(time.Duration(sec) * time.Second)
			if sec < from || sec > end || at.Before(a.FromAt) || at.After(out) {
				continue
			}
			n := min((sec-from)/width, columns-1)
			w, ok := want[n]
			if !ok {
				w = span{v, v}
			}
			want[n] = span{min(w.low, v), max(w.high, v)}
		}
		got, err := s.Traces(t.Context(), []store.Assignment{a}, start.Add(time.Duration(from)*time.Second), start.Add(time.Duration(end)*time.Second), columns)
		if err != nil {
			t.Fatal(err)
		}
		if len(got) != len(want) {
			t.Errorf("round %d: %d columns of %d s have readings, want %d", round, len(got), width, len(want))
		}
		for _, b := range got {
			if w := want[b.N]; b.Min != w.low || b.Max != w.high {
				t.Errorf("round %d: column %d of %d s goes from %v to %v, want %v to %v", round, b.N, width, b.Min, b.Max, w.low, w.high)
			}
		}
	}
}
