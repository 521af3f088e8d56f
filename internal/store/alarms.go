package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/alarm"
)

// Alarm is something the crew of a cook was told.
type Alarm struct {
	ID      int64       `json:"id"`
	CookID  int64       `json:"cook_id"`
	Kind    alarm.Kind  `json:"kind"`
	Subject string      `json:"subject"`
	Level   alarm.Level `json:"level"`
	Words   string      `json:"words"`
	At      time.Time   `json:"at"` // of the cook's clock
	OverAt  *time.Time  `json:"over_at"`
	SeenAt  *time.Time  `json:"seen_at"` // true time
	SeenBy  string      `json:"seen_by"`
}

const alarmColumns = `select a.id, a.cook_id, a.kind, a.subject, a.level, a.words, a.raised_at as at, a.over_at, a.seen_at, coalesce(p.name, '') as seen_by
	from alarms a left join people p on p.id = a.seen_by `

// Alarms lists what a cook's crew was told: open and unseen first, then the
// last that are over.
func (s *Store) Alarms(ctx context.Context, cookID int64) ([]Alarm, error) {
	return collect[Alarm](ctx, s.pool, alarmColumns+"where a.cook_id = $1 order by (a.over_at is null and a.seen_at is null) desc, a.over_at is null desc, a.raised_at desc, a.id desc limit 60", cookID)
}

// SeeAlarm says that somebody saw an alarm; the first to see it stays its name.
func (s *Store) SeeAlarm(ctx context.Context, who, id int64, at time.Time) (cookID int64, err error) {
	err = s.pool.QueryRow(ctx, `update alarms set seen_at = coalesce(seen_at, $2), seen_by = coalesce(seen_by, $3) where id = $1 returning cook_id`, id, at, who).Scan(&cookID)
	return cookID, found(err)
}

// AlarmStates is what was remembered of a cook at the last look.
func (s *Store) AlarmStates(ctx context.Context, cookID int64) ([]alarm.State, error) {
	rows, err := s.pool.Query(ctx, "select kind, subject, since, left_at, raised, level from alarm_states where cook_id = $1 order by kind, subject", cookID)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (k alarm.State, err error) {
		var since, left *time.Time
		err = row.Scan(&k.Kind, &k.Subject, &since, &left, &k.Raised, &k.Level)
		if since != nil {
			k.Since = *since
		}
		if left != nil {
			k.Left = *left
		}
		return k, err
	})
}

// KeepAlarms writes down what one look at a cook found otherwise than the last,
// all of it or nothing. An alarm that grew louder is told anew: who saw it before
// did not see this.
func (s *Store) KeepAlarms(ctx context.Context, cookID int64, before, after []alarm.State, changes []alarm.Change, now time.Time) error {
	set, gone := otherwise(before, after)
	if len(set)+len(gone)+len(changes) == 0 {
		return nil
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, k := range gone {
			if _, err := tx.Exec(ctx, "delete from alarm_states where cook_id = $1 and kind = $2 and subject = $3", cookID, k.Kind, k.Subject); err != nil {
				return err
			}
		}
		for _, k := range set {
			if _, err := tx.Exec(ctx, `insert into alarm_states (cook_id, kind, subject, since, left_at, raised, level) values ($1, $2, $3, $4, $5, $6, $7)
				on conflict (cook_id, kind, subject) do update set since = excluded.since, left_at = excluded.left_at, raised = excluded.raised, level = excluded.level`,
				cookID, k.Kind, k.Subject, moment(k.Since), moment(k.Left), k.Raised, k.Level); err != nil {
				return err
			}
		}
		for _, c := range changes {
			var err error
			if c.Raised {
				_, err = tx.Exec(ctx, `insert into alarms (cook_id, kind, subject, level, words, raised_at) values ($1, $2, $3, $4, $5, $6)
					on conflict (cook_id, kind, subject) where over_at is null do update set level = excluded.level, words = excluded.words, seen_at = null, seen_by = null
					where alarms.level <> excluded.level`, cookID, c.Kind, c.Subject, c.Level, c.Words, now)
			} else {
				_, err = tx.Exec(ctx, "update alarms set over_at = $4 where cook_id = $1 and kind = $2 and subject = $3 and over_at is null", cookID, c.Kind, c.Subject, now)
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// otherwise tells states apart: what is to be written, and what is no longer
// worth remembering.
func otherwise(before, after []alarm.State) (set, gone []alarm.State) {
	type name struct{ kind, subject string }
	was := map[name]alarm.State{}
	for _, k := range before {
		was[name{string(k.Kind), k.Subject}] = k
	}
	for _, k := range after {
		if k.Since.IsZero() && k.Left.IsZero() && !k.Raised {
			continue
		}
		if k.Level == "" {
			k.Level = alarm.Note
		}
		of := name{string(k.Kind), k.Subject}
		old, there := was[of]
		delete(was, of)
		if !there || old.Raised != k.Raised || old.Level != k.Level || !old.Since.Equal(k.Since) || !old.Left.Equal(k.Left) {
			set = append(set, k)
		}
	}
	for _, k := range before {
		if _, left := was[name{string(k.Kind), k.Subject}]; left {
			gone = append(gone, k)
		}
	}
	return set, gone
}

func moment(t time.Time) *time.Time {
	if t.IsZero() {
		return nil
	}
	return &t
}

// UnderWay lists the cooks with a cut that is on, or was pulled and not cut up: what rests
// and what is held is watched too. One that was forgotten days ago is left alone.
func (s *Store) UnderWay(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx, `select distinct l.cook_id from placements l join events n on n.cut_id = l.cut_id and n.act = 'on' and n.voided_at is null
		where l.pit_run_id is not null and l.voided_at is null and n.recorded_at > now() - interval '48 hours'
		and not exists (select from events p where p.cut_id = l.cut_id and p.act = 'carve' and p.voided_at is null)
		and not exists (select from events p where p.cut_id = l.cut_id and p.act = 'pull' and p.voided_at is null and (p.recorded_at <= now() - interval '30 hours'
			or exists (select from samples x join flights f on f.id = x.flight_id and f.voided_at is null where x.cut_id = l.cut_id))) order by 1`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}
