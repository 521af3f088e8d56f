package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/trial"
)

// CatalogueFactor is something that can be varied.
type CatalogueFactor struct {
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
	Key      string `json:"key"` // what the rules take it for
	Own      bool   `json:"own"`
	Retired  bool   `json:"retired"`
	Used     int    `json:"used"` // arms that have it
}

// Product is something a barn cooks.
type Product struct {
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	Family string `json:"family"` // of the cook model: what it cooks like; empty is not said
	Used   int    `json:"used"`   // trials of it
}

// Products lists what the barn cooks.
func (s *Store) Products(ctx context.Context) ([]Product, error) {
	return collect[Product](ctx, s.pool, "select id, name, family, (select count(*) from trials t where t.product_id = p.id)::int as used from products p order by lower(name)")
}

// SetProduct says what a product cooks like; what it was stays in the changes.
func (s *Store) SetProduct(ctx context.Context, who, id int64, family string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var was string
		if err := tx.QueryRow(ctx, "select family from products where id = $1 for update", id).Scan(&was); err != nil {
			return found(err)
		}
		if _, err := tx.Exec(ctx, "update products set family = $2 where id = $1", id, family); err != nil {
			return err
		}
		return change(ctx, tx, who, "product", id, map[string]string{"family": was}, map[string]string{"family": family}, "")
	})
}

// Errors of the catalogue.
var (
	ErrUsed   = errors.New("in use")
	ErrSeeded = errors.New("seeded")
)

// Catalogue lists what can be varied, with its levels.
func (s *Store) Catalogue(ctx context.Context) ([]CatalogueFactor, error) {
	return readCatalogue(ctx, s.pool)
}

func readCatalogue(ctx context.Context, q querier) ([]CatalogueFactor, error) {
	factors, err := collect[CatalogueFactor](ctx, q, `select f.id, f.role, f.name, f.kind, f.unit, f.set_on, f.own, f.merged_into, f.retired_at is not null as retired,
		(select count(*) from trial_factors t where t.catalogue_id = f.id and t.voided_at is null)::int as used from catalogue_factors f order by f.id`)
	if err != nil {
		return nil, err
	}
	levels, err := collect[CatalogueLevel](ctx, q, `select l.id, l.factor_id, l.value, l.key, l.own, l.retired_at is not null as retired,
		(select count(*) from arms a where a.level_ids @> array[l.id] and a.voided_at is null)::int as used
		from catalogue_levels l where l.merged_into is null order by l.ordinal, l.id`)
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

// Resolve gives what an ask names the numbers, roles and keys it has in the barn's
// catalogue, by exactly its words; what is new stays without.
func (s *Store) Resolve(ctx context.Context, a trial.Ask) (trial.Ask, error) {
	return resolve(ctx, s.pool, a)
}

func resolve(ctx context.Context, q querier, a trial.Ask) (trial.Ask, error) {
	var names []string
	for _, f := range a.Factors {
		names = append(names, f.Name)
	}
	for _, h := range a.Held {
		names = append(names, h.Name)
	}
	rows, err := collect[struct {
		Said string // lower case
		ID   int64
		Role trial.Role
	}](ctx, q, `select lower(c.name) as said, f.id, f.role from catalogue_factors c join catalogue_factors f on f.id = coalesce(c.merged_into, c.id)
		where lower(c.name) = any(select lower(n) from unnest($1::text[]) n)`, names)
	if err != nil {
		return a, err
	}
	factors, ids := map[string]trial.Factor{}, []int64{}
	for _, r := range rows {
		factors[r.Said] = trial.Factor{ID: r.ID, Role: r.Role}
		ids = append(ids, r.ID)
	}
	levels, err := collect[struct {
		FactorID int64
		Said     string // lower case
		ID       int64
		Key      string
	}](ctx, q, `select c.factor_id, lower(c.value) as said, l.id, l.key from catalogue_levels c
		join catalogue_levels l on l.id = coalesce(c.merged_into, c.id) where c.factor_id = any($1)`, ids)
	if err != nil {
		return a, err
	}
	level := map[string]trial.Level{}
	name := func(factor int64, value string) string { return fmt.Sprint(factor, " ", strings.ToLower(value)) }
	for _, l := range levels {
		level[name(l.FactorID, l.Said)] = trial.Level{ID: l.ID, Key: l.Key}
	}
	a.Factors, a.Held, a.Arms = slices.Clone(a.Factors), slices.Clone(a.Held), slices.Clone(a.Arms)
	for i := range a.Arms {
		a.Arms[i].Levels = slices.Clone(a.Arms[i].Levels)
	}
	for i := range a.Factors {
		f := &a.Factors[i]
		known := factors[strings.ToLower(f.Name)]
		f.ID, f.Role = known.ID, known.Role
		for j := range a.Arms {
			if i >= len(a.Arms[j].Levels) {
				continue
			}
			l := &a.Arms[j].Levels[i]
			found := level[name(f.ID, l.Value)]
			l.ID = found.ID
			if found.Key != "" || found.ID == 0 && f.Role == "" { // a key that a person gives a new level stands until it is kept
				l.Key = found.Key
			}
		}
	}
	for i := range a.Held {
		h := &a.Held[i]
		if known, ok := factors[strings.ToLower(h.Name)]; ok {
			h.Role, h.Key = known.Role, level[name(known.ID, h.Value)].Key
		}
	}
	err = q.QueryRow(ctx, "select id, case when $2 <> '' then $2 else family end from products where lower(name) = lower($1)", a.Product, a.Family).Scan(&a.ProductID, &a.Family)
	if found(err) == ErrNotFound {
		a.ProductID, err = 0, nil
	}
	return a, err
}

// AddLevel adds a level to a factor; one that was retired is offered again.
func (s *Store) AddLevel(ctx context.Context, factorID int64, value string) error {
	_, err := s.pool.Exec(ctx, `insert into catalogue_levels (factor_id, value, ordinal) values ($1, $2, 1000)
		on conflict (factor_id, lower(value)) do update set retired_at = null`, factorID, value)
	if isForeign(err) {
		return ErrNotFound
	}
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
			`insert into catalogue_levels (factor_id, value, key, ordinal) select $2, value, key, 1000 from catalogue_levels where factor_id = $1 and retired_at is null
				on conflict (factor_id, lower(value)) do nothing`,
			`update arms a set level_ids = array(select coalesce(m.id, v.id) from unnest(a.level_ids) with ordinality v (id, n)
				left join catalogue_levels l on l.id = v.id and l.factor_id = $1 left join catalogue_levels m on m.factor_id = $2
				and lower(m.value) = lower(l.value) order by v.n)
				where a.level_ids && array(select id from catalogue_levels where factor_id = $1)`,
		} {
			if _, err := tx.Exec(ctx, sql, id, into); err != nil {
				return err
			}
		}
		return change(ctx, tx, who, "factor", id, nil, map[string]int64{"merged_into": into}, "")
	})
}

// MergeLevel counts a level of the team's own as another of its factor from now
// on: arms that have it point there, in the words they were asked with. ErrSeeded
// for one that was not the team's own.
func (s *Store) MergeLevel(ctx context.Context, who, id, into int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var own, alike bool
		err := tx.QueryRow(ctx, `select l.own, l.id <> m.id and l.factor_id = m.factor_id and m.merged_into is null from catalogue_levels l, catalogue_levels m
			where l.id = $1 and m.id = $2 and l.merged_into is null for update of l`, id, into).Scan(&own, &alike)
		switch {
		case err != nil:
			return found(err)
		case !own:
			return ErrSeeded
		case !alike:
			return ErrConflict
		}
		if _, err := tx.Exec(ctx, "update catalogue_levels set merged_into = $2, retired_at = now() where id = $1 or merged_into = $1", id, into); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "update arms set level_ids = array_replace(level_ids, $1::bigint, $2::bigint) where level_ids @> array[$1::bigint]", id, into); err != nil {
			return err
		}
		return change(ctx, tx, who, "level", id, nil, map[string]int64{"merged_into": into}, "")
	})
}

// SetLevelKey says what the rules take a level of the team's own for.
func (s *Store) SetLevelKey(ctx context.Context, who, id int64, key string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var was string
		var own bool
		if err := tx.QueryRow(ctx, "select key, own from catalogue_levels where id = $1 for update", id).Scan(&was, &own); err != nil {
			return found(err)
		}
		if !own {
			return ErrSeeded
		}
		if _, err := tx.Exec(ctx, "update catalogue_levels set key = $2 where id = $1", id, key); err != nil {
			return err
		}
		return change(ctx, tx, who, "level", id, map[string]string{"key": was}, map[string]string{"key": key}, "")
	})
}

// OwnMeasures lists the measures of their own that trials decided by, for the
// next one.
func (s *Store) OwnMeasures(ctx context.Context) ([]trial.Chosen, error) {
	return collect[trial.Chosen](ctx, s.pool, `select distinct on (key) key, smallest_difference, source, exact, own from outcomes where own is not null order by key, id desc`)
}
