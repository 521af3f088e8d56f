package store

import (
	"context"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/trial"
)

// Trial is a trial with its ask.
type Trial struct {
	ID           int64
	Ask          trial.Ask
	CreatedBy    string
	CreatedAt    time.Time
	RevealedAt   *time.Time
	RevealReason string
}

// TrialIDs lists all trials, newest first.
func (s *Store) TrialIDs(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select id from trials order by created_at desc, id desc")
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Trial reads one trial.
func (s *Store) Trial(ctx context.Context, id int64) (Trial, error) {
	return readTrial(ctx, s.pool, id)
}

func readTrial(ctx context.Context, q querier, id int64) (Trial, error) {
	t := Trial{ID: id}
	a := &t.Ask
	err := q.QueryRow(ctx, `select t.question, t.product, t.cut, t.species, t.handling, t.factor, t.unit, t.held, t.allergens, p.name, t.created_at, t.revealed_at, t.reveal_reason
		from trials t join people p on p.id = t.created_by where t.id = $1`, id).
		Scan(&a.Question, &a.Product, &a.Cut, &a.Species, &a.Handling, &a.Factor, &a.Unit, &a.Held, &a.Allergens, &t.CreatedBy, &t.CreatedAt, &t.RevealedAt, &t.RevealReason)
	if err != nil {
		return t, found(err)
	}
	if a.Arms, err = collect[trial.Arm](ctx, q, "select id, tag, level, control from arms where trial_id = $1 order by place", id); err != nil {
		return t, err
	}
	a.Outcomes, err = collect[trial.Chosen](ctx, q, "select key, smallest_difference, exact from outcomes where trial_id = $1 and voided_at is null order by place", id)
	return t, err
}

// CreateTrial records a new ask.
func (s *Store) CreateTrial(ctx context.Context, who int64, a trial.Ask) (id int64, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, `insert into trials (question, product, cut, species, handling, factor, unit, held, allergens, created_by)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) returning id`,
			a.Question, a.Product, a.Cut, a.Species, a.Handling, a.Factor, a.Unit, a.Held, a.Allergens, who).Scan(&id)
		if err != nil {
			return err
		}
		return writeAsk(ctx, tx, id, a)
	})
	return id, err
}

// SetAsk changes an ask; what it was stays in the changes. Once the codes are
// open the ask is shut: ErrConflict.
func (s *Store) SetAsk(ctx context.Context, who, id int64, a trial.Ask) error {
	return s.inTx(ctx, func(tx pgx.Tx) error {
		before, err := readTrial(ctx, tx, id)
		if err != nil {
			return err
		}
		if before.RevealedAt != nil {
			return ErrConflict
		}
		_, err = tx.Exec(ctx, `update trials set question = $2, product = $3, cut = $4, species = $5, handling = $6, factor = $7, unit = $8, held = $9, allergens = $10 where id = $1`,
			id, a.Question, a.Product, a.Cut, a.Species, a.Handling, a.Factor, a.Unit, a.Held, a.Allergens)
		if err != nil {
			return err
		}
		if err := writeAsk(ctx, tx, id, a); err != nil {
			return err
		}
		return change(ctx, tx, who, "trial", id, before.Ask, a, "")
	})
}

func writeAsk(ctx context.Context, q querier, id int64, a trial.Ask) error {
	for i, arm := range a.Arms {
		_, err := q.Exec(ctx, `insert into arms (trial_id, place, tag, level, control) values ($1, $2, $3, $4, $5)
			on conflict (trial_id, place) do update set tag = excluded.tag, level = excluded.level, control = excluded.control`, id, i+1, arm.Tag, arm.Level, arm.Control)
		if err != nil {
			return err
		}
	}
	keys := make([]string, len(a.Outcomes))
	for i, o := range a.Outcomes {
		keys[i] = string(o.Key)
		_, err := q.Exec(ctx, `insert into outcomes (trial_id, key, place, smallest_difference, exact) values ($1, $2, $3, $4, $5)
			on conflict (trial_id, key) do update set place = excluded.place, smallest_difference = excluded.smallest_difference, exact = excluded.exact, voided_at = null`,
			id, o.Key, i+1, o.SmallestDifference, o.Exact)
		if err != nil {
			return err
		}
	}
	_, err := q.Exec(ctx, "update outcomes set voided_at = now() where trial_id = $1 and voided_at is null and key <> all($2)", id, keys)
	return err
}

// Reveal opens the codes of a trial for good.
func (s *Store) Reveal(ctx context.Context, who, id int64, reason string) error {
	tag, err := s.pool.Exec(ctx, "update trials set revealed_at = now(), revealed_by = $2, reveal_reason = $3 where id = $1 and revealed_at is null", id, who, reason)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrConflict
	}
	return err
}

// TrialOf finds the trial that a record belongs to, for rights and answers.
func (s *Store) TrialOf(ctx context.Context, subject string, id int64) (trialID int64, err error) {
	sql, ok := map[string]string{
		"cut":    "select trial_id from cuts where id = $1",
		"cook":   "select trial_id from cooks where id = $1",
		"taster": "select trial_id from tasters where id = $1",
		"flight": "select trial_id from flights where id = $1",
		"event": `select coalesce(c.trial_id, k.trial_id, kp.trial_id) from events e left join cuts c on c.id = e.cut_id left join cooks k on k.id = e.cook_id
			left join cook_pit_runs cp on cp.pit_run_id = e.pit_run_id left join cooks kp on kp.id = cp.cook_id where e.id = $1 limit 1`,
		"weighing": "select c.trial_id from weighings w join cuts c on c.id = w.cut_id where w.id = $1",
	}[subject]
	if !ok {
		return 0, errors.New("no such subject: " + subject)
	}
	return trialID, found(s.pool.QueryRow(ctx, sql, id).Scan(&trialID))
}
