package store

import (
	"context"
	"errors"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/trial"
)

// CatalogueFactor is something that can be varied.
type CatalogueFactor struct {
	ID int64 `json:"id"`
	trial.Factor
	Own        bool             `json:"own"` // the team's, not seeded
	MergedInto *int64           `json:"merged_into"`
	Retired    bool             `json:"retired"` // no longer offered
	Used       int              `json:"used"`    // trials that vary it
	Levels     []CatalogueLevel `json:"levels" db:"-"`
}

// CatalogueLevel is a level that a factor can have.
type CatalogueLevel struct {
	ID       int64  `json:"id"`
	FactorID int64  `json:"factor_id"`
	Value    string `json:"value"`
	Own      bool   `json:"own"`
	Retired  bool   `json:"retired"`
	Used     int    `json:"used"` // arms that have it
}

// Errors of the catalogue.
var (
	ErrUsed   = errors.New("in use")
	ErrSeeded = errors.New("seeded")
)

// Catalogue lists what can be varied, with its levels.
func (s *Store) Catalogue(ctx context.Context) ([]CatalogueFactor, error) {
	factors, err := collect[CatalogueFactor](ctx, s.pool, `select f.id, f.name, f.kind, f.unit, f.set_on, f.own, f.merged_into, f.retired_at is not null as retired,
		(select count(*) from trial_factors t where t.catalogue_id = f.id and t.voided_at is null)::int as used from catalogue_factors f order by f.id`)
	if err != nil {
		return nil, err
	}
	levels, err := collect[CatalogueLevel](ctx, s.pool, `select l.id, l.factor_id, l.value, l.own, l.retired_at is not null as retired,
		(select count(*) from trial_factors t join arms a on a.trial_id = t.trial_id and a.voided_at is null
			where t.catalogue_id = l.factor_id and t.voided_at is null and lower(a.levels[t.ordinal]) = lower(l.value))::int as used
		from catalogue_levels l order by l.ordinal, l.id`)
	if err != nil {
		return nil, err
	}
	at := map[int64]int{}
	for i := range factors {
		factors[i].Levels = []CatalogueLevel{}
		at[factors[i].ID] = i
	}
	for _, l := range levels {
		f := &factors[at[l.FactorID]]
		f.Levels = append(f.Levels, l)
	}
	return factors, nil
}

// AddLevel adds a level to a factor; one that was retired is offered again.
func (s *Store) AddLevel(ctx context.Context, factorID int64, value string) error {
	_, err := s.pool.Exec(ctx, `insert into catalogue_levels (factor_id, value, ordinal) values ($1, $2, 1000)
		on conflict (factor_id, lower(value)) do update set retired_at = null`, factorID, value)
	return err
}

// AddFactor adds a factor of the team's own; ErrConflict if the name is taken.
func (s *Store) AddFactor(ctx context.Context, f trial.Factor) error {
	_, err := s.pool.Exec(ctx, "insert into catalogue_factors (name, kind, unit, set_on) values ($1, $2, $3, $4)", f.Name, f.Kind, f.Unit, f.SetOn)
	if IsUnique(err, "catalogue_factors_name") {
		return ErrConflict
	}
	return err
}

// RetireFactor stops offering a factor, or offers it again.
func (s *Store) RetireFactor(ctx context.Context, who, id int64, retired bool) error {
	return s.retire(ctx, who, "catalogue_factors", "factor", id, retired)
}

// RetireLevel stops offering a level, or offers it again.
func (s *Store) RetireLevel(ctx context.Context, who, id int64, retired bool) error {
	return s.retire(ctx, who, "catalogue_levels", "level", id, retired)
}

func (s *Store) retire(ctx context.Context, who int64, table, subject string, id int64, retired bool) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var was bool
		if err := tx.QueryRow(ctx, "select retired_at is not null from "+table+" where id = $1 for update", id).Scan(&was); err != nil {
			return found(err)
		}
		if _, err := tx.Exec(ctx, "update "+table+" set retired_at = case when $2 then now() end where id = $1", id, retired); err != nil {
			return err
		}
		return change(ctx, tx, who, subject, id, map[string]bool{"retired": was}, map[string]bool{"retired": retired}, "")
	})
}

// MergeFactor counts a factor as another from now on: its trials point there,
// in the words they were asked with, and its levels are offered there.
// ErrSeeded for one that was not the team's own.
func (s *Store) MergeFactor(ctx context.Context, who, id, into int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var own bool
		if err := tx.QueryRow(ctx, "select own from catalogue_factors where id = $1 and merged_into is null for update", id).Scan(&own); err != nil {
			return found(err)
		}
		if !own {
			return ErrSeeded
		}
		var merged bool
		if err := tx.QueryRow(ctx, "select merged_into is not null from catalogue_factors where id = $1", into).Scan(&merged); err != nil {
			return found(err)
		}
		if merged || id == into {
			return ErrConflict
		}
		for _, sql := range []string{
			"update catalogue_factors set merged_into = $2, retired_at = now() where id = $1",
			"update trial_factors set catalogue_id = $2 where catalogue_id = $1",
			`insert into catalogue_levels (factor_id, value, ordinal) select $2, value, 1000 from catalogue_levels where factor_id = $1 and retired_at is null
				on conflict (factor_id, lower(value)) do nothing`,
		} {
			if _, err := tx.Exec(ctx, sql, id, into); err != nil {
				return err
			}
		}
		return change(ctx, tx, who, "factor", id, nil, map[string]int64{"merged_into": into}, "")
	})
}

// OwnMeasures lists the measures of their own that trials decided by, for the
// next one.
func (s *Store) OwnMeasures(ctx context.Context) ([]trial.Chosen, error) {
	return collect[trial.Chosen](ctx, s.pool, `select distinct on (key) key, smallest_difference, source, exact, own from outcomes where own is not null order by key, id desc`)
}
