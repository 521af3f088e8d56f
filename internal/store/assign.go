package store

import (
	"context"
	"errors"
	"slices"
	"time"
)

// BurnTime is a burn of a pit, from when it was lit to when the next one was.
type BurnTime struct {
	CookID   int64
	RunID    int64
	PitID    int64
	From, To time.Time
}

// assign says what an imported column measured, from its first reading to its last: one of
// a pit that burned more than once in that time, each burn in its own.
func (in NewImport) assign(ctx context.Context, q querier, who, probe int64, t Target, from, to time.Time) error {
	m := Measured{CutID: t.CutID, PitRunID: t.PitRunID, Place: t.Place, Point: t.Point}
	if t.HolderID != nil {
		run, err := holderRunFor(ctx, q, in.CookID, *t.HolderID)
		if err != nil {
			return err
		}
		m.HolderRunID = &run
	}
	own := -1
	if t.PitRunID != nil {
		own = slices.IndexFunc(in.Burns, func(b BurnTime) bool { return b.RunID == *t.PitRunID })
	}
	if own < 0 {
		return assign(ctx, q, who, in.CookID, probe, m, from, to)
	}
	for _, b := range in.Burns {
		if b.PitID != in.Burns[own].PitID {
			continue
		}
		first, last := from, to
		if b.From.After(first) {
			first = b.From
		}
		if b.To.Before(last) {
			last = b.To
		}
		if !last.After(first) {
			continue
		}
		m.PitRunID = &b.RunID
		if err := assign(ctx, q, who, b.CookID, probe, m, first, last); err != nil {
			return err
		}
	}
	return nil
}

// assign says what a probe measured over a stretch of time. An assignment of this cook that
// says less, or otherwise, is voided and another added: none is ever rewritten.
func assign(ctx context.Context, q querier, who, cookID, probe int64, m Measured, from, to time.Time) error {
	old, err := one[struct {
		ID          int64
		CutID       *int64
		PitRunID    *int64
		HolderRunID *int64
		Point       string
		Place       string
		FromAt      time.Time
		ToAt        *time.Time
	}](ctx, q, `select id, cut_id, pit_run_id, holder_run_id, point, place, from_at, to_at from probe_assignments
		where probe_id = $1 and cook_id = $2 and voided_at is null`, probe, cookID)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	if err == nil {
		if equal(old.CutID, m.CutID) && equal(old.PitRunID, m.PitRunID) && equal(old.HolderRunID, m.HolderRunID) && old.Point == m.Point &&
			old.Place == m.Place {
			if !old.FromAt.After(from) && (old.ToAt == nil || !old.ToAt.Before(to)) {
				return nil
			}
			if old.FromAt.Before(from) {
				from = old.FromAt
			}
			if old.ToAt != nil && old.ToAt.After(to) {
				to = *old.ToAt
			}
		}
		if err := void(ctx, q, "probe_assignments", old.ID, who, "assigned anew"); err != nil {
			return err
		}
	}
	_, err = q.Exec(ctx, `insert into probe_assignments (probe_id, cook_id, cut_id, pit_run_id, holder_run_id, point, place, from_at, to_at,
		recorded_by)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`, probe, cookID, m.CutID, m.PitRunID, m.HolderRunID, m.Point, m.Place, from, to, who)
	return err
}

func equal(a, b *int64) bool { return a == b || a != nil && b != nil && *a == *b }
