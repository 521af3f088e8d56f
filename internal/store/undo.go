package store

import (
	"context"

	"github.com/jackc/pgx/v5"
)

// UndoFor is how long a void or an end can be undone, by the clock of the database.
const undoFor = "interval '10 minutes'"

// undone are the tables whose voids can be undone, by what they are called.
var undone = map[string]string{
	"cut": "cuts", "weighing": "weighings", "taster": "tasters", "flight": "flights", "accepted finding": "accepted_findings",
	"weigh out": "weigh_outs",
}

// Unvoid lets a row count again that was voided within ten minutes; ErrNotFound if it was
// not, ErrConflict if another stands in its place.
func (s *Store) Unvoid(ctx context.Context, who int64, subject string, id int64) error {
	table, ok := undone[subject]
	if !ok {
		return ErrNotFound
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if subject == "cut" {
			_, err := tx.Exec(ctx, `update placements p set voided_at = null, voided_by = null, void_reason = '' from cuts c
				where c.id = $1 and p.cut_id = c.id and p.voided_at = c.voided_at and c.voided_at > now() - `+undoFor, id)
			if err != nil {
				return err
			}
		}
		tag, err := tx.Exec(ctx, "update "+table+" set voided_at = null, voided_by = null, void_reason = '' where id = $1 and voided_at > now() - "+undoFor, id)
		if err := unvoided(tag.RowsAffected(), err); err != nil {
			return err
		}
		return change(ctx, tx, who, subject, id, "voided", "counts", "undone")
	})
}

// UnvoidPress lets the entries of a press count again that was taken back within ten minutes.
func (s *Store) UnvoidPress(ctx context.Context, who int64, press string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `update events set voided_at = null, voided_by = null, void_reason = '' where press = $1
			and void_reason <> 'corrected' and voided_at > now() - `+undoFor+" returning id", press)
		if err != nil {
			return err
		}
		ids, err := pgx.CollectRows(rows, pgx.RowTo[int64])
		if err := unvoided(int64(len(ids)), err); err != nil {
			return err
		}
		for _, id := range ids {
			if err := change(ctx, tx, who, "event", id, "voided", "counts", "undone"); err != nil {
				return err
			}
		}
		return nil
	})
}

func unvoided(n int64, err error) error {
	switch {
	case IsUnique(err, ""):
		return ErrConflict
	case err == nil && n == 0:
		return ErrNotFound
	}
	return err
}

// End closes a trial of which nothing was tasted; ErrConflict if it was closed before.
func (s *Store) End(ctx context.Context, who, id int64, reason string) error {
	tag, err := s.pool.Exec(ctx, `update trials set revealed_at = now(), revealed_by = $2, reveal_reason = $3, ended = true
		where id = $1 and revealed_at is null`, id, who, reason)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrConflict
	}
	return err
}

// Unend opens a trial again that was ended within ten minutes, and forgets how it was
// judged; ErrNotFound if it was not.
func (s *Store) Unend(ctx context.Context, who, id int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `update trials set revealed_at = null, revealed_by = null, reveal_reason = '', ended = false
			where id = $1 and ended and revealed_at > now() - `+undoFor, id)
		if err == nil && tag.RowsAffected() == 0 {
			return ErrNotFound
		}
		for _, table := range []string{"verdict_versions", "verdicts", "spreads"} {
			if err == nil {
				_, err = tx.Exec(ctx, "delete from "+table+" where trial_id = $1", id)
			}
		}
		if err != nil {
			return err
		}
		return change(ctx, tx, who, "trial", id, "ended", "open", "undone")
	})
}

// Tasted says whether any sample of a trial was scored.
func (s *Store) Tasted(ctx context.Context, trialID int64) (tasted bool, err error) {
	err = s.pool.QueryRow(ctx, `select exists (select from servings v join ballots b on b.id = v.ballot_id join flights f on f.id = b.flight_id
		where f.trial_id = $1 and f.voided_at is null and v.sealed_at is not null and not v.excused)`, trialID).Scan(&tasted)
	return tasted, err
}
