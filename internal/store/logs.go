package store

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"
	"golang.org/x/sync/errgroup"

	"whitebarn/core/logbook"
)

// Target is what a column of a log measures: a place of a cut, a point of a pit run, or a
// holder.
type Target struct {
	CutID    *int64 `json:"cut_id"`
	PitRunID *int64 `json:"pit_run_id"`
	HolderID *int64 `json:"holder_id"`
	Point    string `json:"point"` // on a pit; empty is the whole
	Place    string `json:"place"` // on a piece; empty is the whole
}

// Import is a log file taken into a cook.
type Import struct {
	ID           int64             `json:"id"`
	CookID       int64             `json:"cook_id"`
	Logger       string            `json:"logger"`
	FileName     string            `json:"file_name"`
	Lines        int               `json:"lines"`
	Added        int               `json:"added"`
	AlreadyThere int               `json:"already_there"`
	Trouble      []logbook.Trouble `json:"trouble"`
	By           string            `json:"by"`
	At           time.Time         `json:"at"`
	VoidedBy     string            `json:"voided_by"` // empty where it stands
	VoidReason   string            `json:"void_reason"`
}

// NewImport is a file to take in. Targets go with the log's columns by name;
// columns without one are kept and belong to nothing yet.
type NewImport struct {
	CookID   int64
	Logger   string
	FileName string
	SHA256   []byte
	Log      *logbook.Log
	Targets  map[string]Target
	Burns    []BurnTime // of one pit, that share the file: each gets what was read in its time
}

// mostTrouble bounds how many bad lines are kept with an import.
const mostTrouble = 1000

// ImportLog writes the readings of a log. One known by its logger, column and
// time is not written again, so a second import of a file adds nothing.
func (s *Store) ImportLog(ctx context.Context, who int64, in NewImport) (added, alreadyThere int, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		var device, importID int64
		err := tx.QueryRow(ctx, "insert into devices (name, kind) values ($1, 'file') on conflict (name) do update set name = excluded.name returning id", in.Logger).Scan(&device)
		if err != nil {
			return fmt.Errorf("record the logger: %w", err)
		}
		trouble := in.Log.Trouble[:min(len(in.Log.Trouble), mostTrouble)]
		if trouble == nil {
			trouble = []logbook.Trouble{}
		}
		err = tx.QueryRow(ctx, `insert into imports (cook_id, device_id, file_name, sha256, lines, added, already_there, trouble, imported_by)
			values ($1, $2, $3, $4, $5, 0, 0, $6, $7) returning id`, in.CookID, device, in.FileName, in.SHA256, in.Log.DataLines, trouble, who).Scan(&importID)
		if err != nil {
			return fmt.Errorf("record the import: %w", err)
		}
		_, err = tx.Exec(ctx, "create temp table if not exists incoming (probe_id bigint, at timestamptz, c float8, value float8, scale char(1)) on commit drop")
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "truncate incoming"); err != nil {
			return err
		}
		for _, col := range in.Log.Columns {
			var probe int64
			err := tx.QueryRow(ctx, "insert into probes (device_id, channel) values ($1, $2) on conflict (device_id, channel) do update set channel = excluded.channel returning id", device, col.Name).Scan(&probe)
			if err != nil {
				return fmt.Errorf("record the probe %s: %w", col.Name, err)
			}
			_, err = tx.CopyFrom(ctx, pgx.Identifier{"incoming"}, []string{"probe_id", "at", "c", "value", "scale"}, pgx.CopyFromSlice(len(col.Readings), func(i int) ([]any, error) {
				r := col.Readings[i]
				return []any{probe, r.At, r.C, r.Value, string(col.Scale)}, nil
			}))
			if err != nil {
				return fmt.Errorf("copy the readings of %s: %w", col.Name, err)
			}
			if t, ok := in.Targets[col.Name]; ok && len(col.Readings) > 0 {
				if err := in.assign(ctx, tx, who, probe, t, col.Readings[0].At, col.Readings[len(col.Readings)-1].At); err != nil {
					return fmt.Errorf("assign the probe %s: %w", col.Name, err)
				}
			}
		}
		tag, err := tx.Exec(ctx, `insert into readings (probe_id, at, c, value, scale, import_id)
			select probe_id, at, c, value, scale, $1 from incoming on conflict do nothing`, importID)
		if err != nil {
			return fmt.Errorf("write the readings: %w", err)
		}
		added = int(tag.RowsAffected())
		alreadyThere = in.Log.Readings() - added
		_, err = tx.Exec(ctx, "update imports set added = $2, already_there = $3 where id = $1", importID, added, alreadyThere)
		return err
	})
	return added, alreadyThere, err
}

// Imports lists the logs taken into a trial's cooks, newest first.
func (s *Store) Imports(ctx context.Context, trialID int64) ([]Import, error) {
	return collect[Import](ctx, s.pool,
		`select i.id, i.cook_id, d.name as logger, i.file_name, i.lines, i.added, i.already_there, i.trouble,
		p.name as by, i.imported_at as at, coalesce(v.name, '') as voided_by, i.void_reason
		from imports i join devices d on d.id = i.device_id join people p on p.id = i.imported_by left join people v on v.id = i.voided_by
			join cooks k on k.id = i.cook_id where k.trial_id = $1 order by i.id desc`, trialID)
}

// Assignment is a probe on its target in a cook.
type Assignment struct {
	ID          int64  `json:"-"`
	CookID      int64  `json:"-"`
	ProbeID     int64  `json:"probe_id"`
	Probe       string `json:"probe"`
	CutID       *int64 `json:"cut_id"`
	PitRunID    *int64 `json:"pit_run_id"`
	HolderRunID *int64 `json:"holder_run_id"`
	Point       string `json:"point"` // on a pit: a grate position, the dial
	Place       string `json:"place"` // on a piece
	FromAt      time.Time
	ToAt        *time.Time
}

const assignmentColumns = `select a.id, a.cook_id, a.probe_id, d.name || ' ' || p.channel as probe, a.cut_id,
	a.pit_run_id, a.holder_run_id, a.point, a.place, a.from_at, a.to_at
	from probe_assignments a join probes p on p.id = a.probe_id join devices d on d.id = p.device_id where a.voided_at is null and `

// Assignments lists the probes of a cook, the pits first.
func (s *Store) Assignments(ctx context.Context, cookID int64) ([]Assignment, error) {
	return collect[Assignment](ctx, s.pool, assignmentColumns+"a.cook_id = $1 order by a.pit_run_id is null, a.id", cookID)
}

// AssignmentsOf lists the probes of all cooks of trials, the pits first.
func (s *Store) AssignmentsOf(ctx context.Context, trialIDs ...int64) ([]Assignment, error) {
	return collect[Assignment](ctx, s.pool, assignmentColumns+"a.cook_id in (select id from cooks where trial_id = any($1)) order by a.pit_run_id is null, a.id", trialIDs)
}

// Stretch is a probe over a stretch of time, both ends included.
type Stretch struct {
	ProbeID  int64
	From, To time.Time
}

func asColumns(in []Stretch) (probes []int64, from, to []time.Time) {
	for _, w := range in {
		probes, from, to = append(probes, w.ProbeID), append(from, w.From), append(to, w.To)
	}
	return probes, from, to
}

// Sum is what readings of a stretch add up to.
type Sum struct {
	C float64
	N int64
}

// Sums adds up the readings of many stretches in one query, in their order.
func (s *Store) Sums(ctx context.Context, in []Stretch) ([]Sum, error) {
	if len(in) == 0 {
		return nil, nil
	}
	probes, from, to := asColumns(in)
	return collect[Sum](ctx, s.pool, `select coalesce(r.c, 0) as c, r.n
		from unnest($1::bigint[], $2::timestamptz[], $3::timestamptz[]) with ordinality w (probe, from_at, to_at, k)
		join lateral (select sum(c) as c, count(*) as n from readings where probe_id = w.probe and at between w.from_at and w.to_at) r on true
		order by w.k`, probes, from, to)
}

// PointsOf reads the readings of many stretches in one query, each in order of time.
func (s *Store) PointsOf(ctx context.Context, in []Stretch) ([][]logbook.Point, error) {
	return s.pointsBy(ctx, in, "select at, c from readings where probe_id = w.probe and at between w.from_at and w.to_at")
}

// MeansOf is PointsOf in means over intervals of one width, each at its start.
func (s *Store) MeansOf(ctx context.Context, in []Stretch, width time.Duration) ([][]logbook.Point, error) {
	return s.pointsBy(ctx, in, `select date_bin($4, at, 'epoch') as at, avg(c) as c from readings
		where probe_id = w.probe and at between w.from_at and w.to_at group by 1`, width)
}

// pointsBy reads, for each stretch w, what a query gives of it, in order of time.
func (s *Store) pointsBy(ctx context.Context, in []Stretch, query string, more ...any) ([][]logbook.Point, error) {
	out := make([][]logbook.Point, len(in))
	if len(in) == 0 {
		return out, nil
	}
	probes, from, to := asColumns(in)
	rows, err := s.pool.Query(ctx, `select w.k, r.at, r.c
		from unnest($1::bigint[], $2::timestamptz[], $3::timestamptz[]) with ordinality w (probe, from_at, to_at, k)
		join lateral (`+query+`) r on true order by w.k, r.at`, append([]any{probes, from, to}, more...)...)
	if err != nil {
		return nil, err
	}
	var k int64
	var p logbook.Point
	_, err = pgx.ForEachRow(rows, []any{&k, &p.At, &p.C}, func() error {
		out[k-1] = append(out[k-1], p)
		return nil
	})
	return out, err
}

// LastTargets says what the columns of a logger measured in a cook, to offer it
// again.
func (s *Store) LastTargets(ctx context.Context, cookID int64, logger string) (map[string]Target, error) {
	rows, err := s.pool.Query(ctx, `select p.channel, a.cut_id, a.pit_run_id, h.holder_id, a.point, a.place from probe_assignments a
		join probes p on p.id = a.probe_id join devices d on d.id = p.device_id left join holder_runs h on h.id = a.holder_run_id
		where a.cook_id = $1 and d.name = $2 and a.voided_at is null`, cookID, logger)
	if err != nil {
		return nil, err
	}
	out := map[string]Target{}
	var channel string
	var t Target
	_, err = pgx.ForEachRow(rows, []any{&channel, &t.CutID, &t.PitRunID, &t.HolderID, &t.Point, &t.Place}, func() error {
		out[channel] = t
		return nil
	})
	return out, err
}

// Known counts the readings of a log that are there already.
func (s *Store) Known(ctx context.Context, logger string, from, to time.Time) (n int, err error) {
	err = s.pool.QueryRow(ctx, `select count(*) from readings r join probes p on p.id = r.probe_id join devices d on d.id = p.device_id
		where d.name = $1 and r.sequence is null and r.at between $2 and $3`, logger, from, to).Scan(&n)
	return n, err
}

// Bucket is the lowest and highest reading of one column of a picture.
type Bucket struct {
	ProbeID int64
	N       int
	Min     float64
	Max     float64
}

// Span is the first and last reading of the probes of a cook; ok is false when
// there are none.
func (s *Store) Span(ctx context.Context, cookID int64) (from, to time.Time, ok bool, err error) {
	var a, b *time.Time
	err = s.pool.QueryRow(ctx, `select min(x.first), max(x.last) from probe_assignments a,
		lateral (select (select at from readings where probe_id = a.probe_id and at >= a.from_at order by at limit 1) as first,
			(select at from readings where probe_id = a.probe_id and at <= coalesce(a.to_at, 'infinity') order by at desc limit 1) as last) x
		where a.cook_id = $1 and a.voided_at is null`, cookID).Scan(&a, &b)
	if err != nil || a == nil || b == nil {
		return from, to, false, err
	}
	return *a, *b, true, nil
}

// tracesAtOnce is how many probes of a picture are read side by side.
const tracesAtOnce = 4

// part is how long the stretches are of which the lowest and the highest reading are kept.
const part = 20 * time.Second

// Traces reads the probes of a cook between two moments, reduced to the lowest
// and highest reading in each of columns equal stretches.
func (s *Store) Traces(ctx context.Context, assigned []Assignment, from, to time.Time, columns int) ([]Bucket, error) {
	// Each probe by itself, on the machine's processors, with whole intervals: a
	// million rows in one sorted group by take several times as long.
	width := max(to.Sub(from)/time.Duration(columns), time.Millisecond)
	parts := make([][]Bucket, len(assigned))
	work, ctx := errgroup.WithContext(ctx)
	work.SetLimit(tracesAtOnce)
	for i, a := range assigned {
		work.Go(func() (err error) {
			first, last := from, to
			if a.FromAt.After(first) {
				first = a.FromAt
			}
			if a.ToAt != nil && a.ToAt.Before(last) {
				last = *a.ToAt
			}
			begin, end := wholeParts(first, last, width)
			parts[i], err = collect[Bucket](ctx, s.pool, `select $1::bigint as probe_id, least((extract(epoch from start - $2)::float8 / $5)::int, $6 - 1) as n, min(low) as min, max(high) as max
				from (select date_bin($7, at, $2) as start, min(low) as low, max(high) as high from reading_parts where probe_id = $1 and at >= $8 and at < $9 group by 1
					union all
					select date_bin($7, at, $2), min(c), max(c) from readings where probe_id = $1 and at between $3 and $4 and (at < $8 or at >= $9) group by 1) b
				group by 2 order by 2`,
				a.ProbeID, from, first, last, width.Seconds(), columns, width, begin, end)
			return err
		})
	}
	if err := work.Wait(); err != nil {
		return nil, err
	}
	return slices.Concat(parts...), nil
}

// wholeParts is from where to where the kept stretches stand for the readings of a picture: those that lie whole in
// it, where its columns are no narrower. Else there is nothing between the two.
func wholeParts(first, last time.Time, width time.Duration) (begin, end time.Time) {
	begin, end = first.Add(part-1).Truncate(part), last.Truncate(part)
	if width < part || !begin.Before(end) {
		return first, first
	}
	return begin, end
}

// Points reads one assignment's readings in order of time.
func (s *Store) Points(ctx context.Context, a Assignment) ([]logbook.Point, error) {
	return collect[logbook.Point](ctx, s.pool, "select at, c from readings where probe_id = $1 and at >= $2 and ($3::timestamptz is null or at <= $3) order by at", a.ProbeID, a.FromAt, a.ToAt)
}

// PointsBetween reads one assignment's readings between two moments, both included.
func (s *Store) PointsBetween(ctx context.Context, a Assignment, from, to time.Time) ([]logbook.Point, error) {
	if from.Before(a.FromAt) {
		from = a.FromAt
	}
	if a.ToAt != nil && a.ToAt.Before(to) {
		to = *a.ToAt
	}
	return collect[logbook.Point](ctx, s.pool, "select at, c from readings where probe_id = $1 and at between $2 and $3 order by at", a.ProbeID, from, to)
}

// MeanBetween is the mean of one assignment's readings between two moments, nil
// when there are none.
func (s *Store) MeanBetween(ctx context.Context, a Assignment, from, to time.Time) (mean *float64, err error) {
	err = s.pool.QueryRow(ctx, "select avg(c) from readings where probe_id = $1 and at >= greatest($2, $4::timestamptz) and at <= least($3, coalesce($5::timestamptz, 'infinity'))", a.ProbeID, from, to, a.FromAt, a.ToAt).Scan(&mean)
	return mean, err
}

// Reached says whether an assignment's probe ever showed a temperature or more.
func (s *Store) Reached(ctx context.Context, a Assignment, c float64) (yes bool, err error) {
	err = s.pool.QueryRow(ctx, "select exists (select from readings where probe_id = $1 and at >= $2 and ($3::timestamptz is null or at <= $3) and c >= $4)", a.ProbeID, a.FromAt, a.ToAt, c).Scan(&yes)
	return yes, err
}
