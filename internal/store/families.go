package store

import (
	"context"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/thermal"
)

// OwnFamilies lists the families of cuts the barn added.
func (s *Store) OwnFamilies(ctx context.Context) ([]thermal.Family, error) {
	rows, err := s.pool.Query(ctx, "select family from cut_families where retired_at is null order by family->>'name'")
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[thermal.Family])
}

// KeepFamily adds a family of the barn's own, or changes it.
func (s *Store) KeepFamily(ctx context.Context, who int64, f thermal.Family) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var before *thermal.Family
		err := tx.QueryRow(ctx, "select family from cut_families where key = $1 for update", f.Key).Scan(&before)
		if err != nil && found(err) != ErrNotFound {
			return err
		}
		if _, err := tx.Exec(ctx, `insert into cut_families (key, family, recorded_by) values ($1, $2, $3)
			on conflict (key) do update set family = excluded.family, retired_at = null`, f.Key, f, who); err != nil {
			return err
		}
		return change(ctx, tx, who, "cut family", 0, before, f, f.Key)
	})
}

// RetireFamily no longer offers a family of the barn's own.
func (s *Store) RetireFamily(ctx context.Context, key string) error {
	tag, err := s.pool.Exec(ctx, "update cut_families set retired_at = now() where key = $1 and retired_at is null", key)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}

// Family is what the cook model makes of a product that cooks like the family of
// a key; of one nobody said it of, the usual.
func (s *Store) Family(ctx context.Context, key string) (thermal.Family, error) {
	if f, err := thermal.FamilyOf(key); err == nil {
		return f, nil
	}
	own, err := s.OwnFamilies(ctx)
	if err != nil {
		return thermal.Family{}, err
	}
	if i := slices.IndexFunc(own, func(f thermal.Family) bool { return f.Key == key }); i >= 0 {
		return own[i], nil
	}
	return thermal.FamilyOf(thermal.UsualFamily)
}

// Finished is a cut whose cook is over.
type Finished struct {
	CutID  int64
	CookID int64
	On     time.Time
	Pulled time.Time
}

// Unlearned lists finished cuts of real cooks from which nothing was learned
// yet, the last first.
func (s *Store) Unlearned(ctx context.Context, most int) ([]Finished, error) {
	return collect[Finished](ctx, s.pool, `select c.id as cut_id, l.cook_id, n.at as on, p.at as pulled
		from cuts c join placements l on l.cut_id = c.id and l.pit_run_id is not null and l.voided_at is null
		join cooks k on k.id = l.cook_id and not k.rehearsal
		join events n on n.cut_id = c.id and n.act = 'on' and n.voided_at is null
		join events p on p.cut_id = c.id and p.act = 'pull' and p.voided_at is null
		where c.voided_at is null and exists (select from probe_assignments a where a.cut_id = c.id and a.voided_at is null)
		and not exists (select from cut_guesses g where g.cut_id = c.id)
		order by p.at desc, c.id limit $1`, most)
}

// KeepGuess keeps what a fit found of a finished cut.
func (s *Store) KeepGuess(ctx context.Context, cutID int64, family string, guess []float64) error {
	if guess == nil {
		guess = []float64{}
	}
	_, err := s.pool.Exec(ctx, "insert into cut_guesses (cut_id, family, guess) values ($1, $2, $3) on conflict do nothing", cutID, family, guess)
	return err
}

// Guesses lists what fits found of a family's finished cuts.
func (s *Store) Guesses(ctx context.Context, family string) ([][]float64, error) {
	rows, err := s.pool.Query(ctx, `select g.guess from cut_guesses g join cuts c on c.id = g.cut_id
		where g.family = $1 and c.voided_at is null and cardinality(g.guess) > 0 order by g.cut_id`, family)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[[]float64])
}
