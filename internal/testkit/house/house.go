// Package house makes a barn that has settled many trials, to count and time what is
// asked of it.
package house

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
)

// Grow copies a settled trial, with all that its verdict rests on but the readings,
// so many times.
func Grow(ctx context.Context, pool *pgxpool.Pool, trial int64, n int) error {
	return pgx.BeginFunc(ctx, pool, func(tx pgx.Tx) error {
		g := grower{ctx, tx}
		if _, err := tx.Exec(ctx, `create temp table m_trials on commit drop as
			select k, $1::bigint as old, nextval(pg_get_serial_sequence('trials', 'id')) as new from generate_series(1, $2::int) k`, trial, n); err != nil {
			return err
		}
		for _, t := range []struct {
			name string
			of   string            // the column by which its rows belong to what is copied
			refs map[string]string // columns that name rows that are copied too
			own  bool              // its rows are named by others
		}{
			{"trials", "id", map[string]string{"id": "trials"}, false},
			{"arms", "trial_id", map[string]string{"trial_id": "trials"}, true},
			{"outcomes", "trial_id", map[string]string{"trial_id": "trials"}, false},
			{"trial_factors", "trial_id", map[string]string{"trial_id": "trials"}, false},
			{"cuts", "trial_id", map[string]string{"trial_id": "trials", "arm_id": "arms"}, true},
			{"weighings", "cut_id", map[string]string{"cut_id": "cuts"}, false},
			{"dimensions", "cut_id", map[string]string{"cut_id": "cuts"}, false},
			{"cooks", "trial_id", map[string]string{"trial_id": "trials"}, true},
			{"placements", "cut_id", map[string]string{"cut_id": "cuts", "cook_id": "cooks"}, false},
			{"cook_pit_runs", "cook_id", map[string]string{"cook_id": "cooks"}, false},
			{"events", "cut_id", map[string]string{"cut_id": "cuts"}, false},
			{"tasters", "trial_id", map[string]string{"trial_id": "trials"}, true},
			{"flights", "trial_id", map[string]string{"trial_id": "trials"}, true},
			{"samples", "flight_id", map[string]string{"flight_id": "flights", "cut_id": "cuts"}, true},
			{"ballots", "flight_id", map[string]string{"flight_id": "flights", "taster_id": "tasters"}, true},
			{"servings", "ballot_id", map[string]string{"ballot_id": "ballots", "sample_id": "samples"}, false},
			{"scores", "ballot_id", map[string]string{"ballot_id": "ballots", "sample_id": "samples"}, false},
		} {
			if err := g.copy(t.name, t.of, t.refs, t.own); err != nil {
				return fmt.Errorf("copy %s: %w", t.name, err)
			}
		}
		return nil
	})
}

type grower struct {
	ctx context.Context
	tx  pgx.Tx
}

func (g grower) copy(table, of string, refs map[string]string, own bool) error {
	rows, err := g.tx.Query(g.ctx, "select column_name::text from information_schema.columns where table_schema = 'public' and table_name = $1 order by ordinal_position", table)
	if err != nil {
		return err
	}
	columns, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil {
		return err
	}
	from := fmt.Sprintf("%s t join m_%s o on o.old = t.%s", table, refs[of], of)
	values := map[string]string{}
	for _, c := range slices.Sorted(maps.Keys(refs)) {
		if c == of {
			values[c] = "o.new"
			continue
		}
		from += fmt.Sprintf(" left join m_%s r_%s on r_%s.k = o.k and r_%s.old = t.%s", refs[c], c, c, c, c)
		values[c] = "r_" + c + ".new"
	}
	switch {
	case own:
		if _, err := g.tx.Exec(g.ctx, fmt.Sprintf(`create temp table m_%[1]s on commit drop as
			select o.k, t.id as old, nextval(pg_get_serial_sequence('%[1]s', 'id')) as new
			from %[1]s t join m_%[2]s o on o.old = t.%[3]s`, table, refs[of], of)); err != nil {
			return err
		}
		if _, err := g.tx.Exec(g.ctx, fmt.Sprintf("create index on m_%s (old, k)", table)); err != nil {
			return err
		}
		from += fmt.Sprintf(" join m_%s me on me.k = o.k and me.old = t.id", table)
		values["id"] = "me.new"
	case values["id"] == "" && slices.Contains(columns, "id"):
		columns = slices.DeleteFunc(columns, func(c string) bool { return c == "id" })
	}
	out := make([]string, len(columns))
	for i, c := range columns {
		if out[i] = values[c]; out[i] == "" {
			out[i] = "t." + c
		}
	}
	_, err = g.tx.Exec(g.ctx, fmt.Sprintf("insert into %s (%s) overriding system value select %s from %s", table, strings.Join(columns, ", "), strings.Join(out, ", "), from))
	return err
}

// Cards copies a card with its versions, without its cooks, so many times.
func Cards(ctx context.Context, pool *pgxpool.Pool, card int64, n int) error {
	_, err := pool.Exec(ctx, `with made as (insert into processes (name, product_id, recorded_by) select p.name || ' ' || k, p.product_id, p.recorded_by
			from processes p, generate_series(1, $2::int) k where p.id = $1 returning id)
		insert into process_versions (process_id, number, title, changed, why, body, trial_id, arm_id, recorded_by)
		select m.id, v.number, v.title, v.changed, v.why, v.body, v.trial_id, v.arm_id, v.recorded_by from made m, process_versions v
		where v.process_id = $1`, card, n)
	return err
}
