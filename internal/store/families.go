package store

import (
	"context"
	"strings"

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
	return s.inTx(ctx, func(tx pgx.Tx) error {
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

// FamilyOf is the family a product is cooked as: one of the barn's own that is
// called so, else the model's guess.
func (s *Store) FamilyOf(ctx context.Context, product string) (thermal.Family, error) {
	own, err := s.OwnFamilies(ctx)
	if err != nil {
		return thermal.Family{}, err
	}
	for _, f := range own {
		if strings.Contains(strings.ToLower(product), strings.ToLower(f.Name)) {
			return f, nil
		}
	}
	f, _ := thermal.FamilyFor(product)
	return f, nil
}
