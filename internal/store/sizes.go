package store

import (
	"context"
	"io/fs"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// Growth keeps the size of the database, an hour apart at the least, and says by how many
// bytes a day it grew over the last week; 0 before a day is known.
func (s *Store) Growth(ctx context.Context) (perDay int64, err error) {
	_, err = s.pool.Exec(ctx, `insert into sizes (bytes) select pg_database_size(current_database())
		where not exists (select from sizes where at > now() - interval '55 minutes')`)
	if err != nil {
		return 0, err
	}
	err = s.pool.QueryRow(ctx, `select coalesce((select case when max(at) - min(at) > interval '20 hours'
		then greatest(0, regr_slope(bytes, extract(epoch from at)) * 86400) end from sizes where at > now() - interval '7 days'), 0)::bigint`).Scan(&perDay)
	return perDay, err
}

// Migration is a change of the record's schema that was made.
type Migration struct {
	Version int64     `json:"version"`
	Name    string    `json:"name"`
	At      time.Time `json:"at"`
}

// KeptAs says what database the record is in, how large it is, and how it came to its schema.
func (s *Store) KeptAs(ctx context.Context) (server string, bytes int64, made []Migration, err error) {
	if err = s.pool.QueryRow(ctx, "select 'PostgreSQL ' || current_setting('server_version'), pg_database_size(current_database())").Scan(&server,
		&bytes); err != nil {
		return "", 0, nil, err
	}
	made, err = collect[Migration](ctx, s.pool, "select version_id as version, '' as name, tstamp at time zone 'UTC' as at from "+
		"goose_db_version where is_applied and version_id > 0 order by version_id desc")
	if err != nil {
		return "", 0, nil, err
	}
	files, err := fs.Glob(Migrations(), "*.sql")
	for _, file := range files {
		number, name, _ := strings.Cut(strings.TrimSuffix(file, ".sql"), "_")
		for i := range made {
			if n, _ := strconv.ParseInt(number, 10, 64); n == made[i].Version {
				made[i].Name = name
			}
		}
	}
	return server, bytes, made, err
}

// ClosedTrials names the trials with flights whose codes are closed; of one trial, or of all
// with 0.
func (s *Store) ClosedTrials(ctx context.Context, trial int64) ([]string, error) {
	rows, err := s.pool.Query(ctx, `select t.question from trials t where t.revealed_at is null and ($1::bigint = 0 or t.id = $1)
		and exists (select from flights f where f.trial_id = t.id and f.voided_at is null) order by t.id`, trial)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[string])
}

// Thinning is how raw readings are thinned: none are where it is nil.
func (s *Store) Thinning(ctx context.Context) (afterDays, toSeconds *int, err error) {
	err = s.pool.QueryRow(ctx, "select thin_after_days, thin_to_s from barn").Scan(&afterDays, &toSeconds)
	return afterDays, toSeconds, found(err)
}

// SetThinning changes it.
func (s *Store) SetThinning(ctx context.Context, who int64, afterDays, toSeconds *int) error {
	was, to, err := s.Thinning(ctx)
	if err != nil {
		return err
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "update barn set thin_after_days = $1, thin_to_s = $2", afterDays, toSeconds); err != nil {
			return err
		}
		return change(ctx, tx, who, "barn", 1, map[string]*int{"thin_after_days": was, "thin_to_s": to}, map[string]*int{"thin_after_days": afterDays,
			"thin_to_s": toSeconds}, "")
	})
}

// ThinReadings keeps one reading in each stretch of so many seconds of what is older than so
// many days, and of each stretch its lowest and highest too: what the gate and the traces go
// by. Stretches are under the five minutes that count as a gap. It says how many went.
func (s *Store) ThinReadings(ctx context.Context, olderThan time.Time, seconds int) (int64, error) {
	tag, err := s.pool.Exec(ctx, `delete from readings r using (select probe_id, at, sequence, row_number() over w as n, row_number() over (w2 order by
		c, at) as low, row_number() over (w2 order by c desc, at) as high
			from readings where at < $1 window w as (partition by probe_id, date_bin(make_interval(secs => $2), at, '2000-01-01') order by at), w2 as
				(partition by probe_id, date_bin(make_interval(secs => $2), at, '2000-01-01'))) k
		where k.probe_id = r.probe_id and k.at = r.at and k.sequence is not distinct from r.sequence and k.n > 1 and k.low > 1 and k.high > 1`, olderThan, seconds)
	return tag.RowsAffected(), err
}
