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
	RehearsesID  *int64 // of a rehearsal: the trial it is a copy of
}

// TrialIDs lists all trials but rehearsals, newest first.
func (s *Store) TrialIDs(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select id from trials where rehearses_id is null order by created_at desc, id desc")
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
	err := q.QueryRow(ctx, `select t.question, t.product, t.cut, t.species, t.handling, t.held, t.allergens, t.contexts, t.hand, t.layout, t.follows_id, p.name, t.created_at, t.revealed_at, t.reveal_reason, t.rehearses_id
		from trials t join people p on p.id = t.created_by where t.id = $1`, id).
		Scan(&a.Question, &a.Product, &a.Cut, &a.Species, &a.Handling, &a.Held, &a.Allergens, &a.Contexts, &a.Hand, &a.Layout, &a.FollowsID, &t.CreatedBy, &t.CreatedAt, &t.RevealedAt, &t.RevealReason, &t.RehearsesID)
	if err != nil {
		return t, found(err)
	}
	if a.Factors, err = collect[trial.Factor](ctx, q, "select name, kind, unit, set_on from trial_factors where trial_id = $1 and voided_at is null order by ordinal", id); err != nil {
		return t, err
	}
	if a.Arms, err = collect[trial.Arm](ctx, q, "select id, tag, levels, control from arms where trial_id = $1 and voided_at is null order by ordinal", id); err != nil {
		return t, err
	}
	a.Outcomes, err = collect[trial.Chosen](ctx, q, "select key, smallest_difference, source, exact, own from outcomes where trial_id = $1 and voided_at is null order by ordinal", id)
	return t, err
}

// CreateTrial records a new ask.
func (s *Store) CreateTrial(ctx context.Context, who int64, a trial.Ask) (id int64, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, `insert into trials (question, product, cut, species, handling, held, allergens, contexts, hand, layout, follows_id, created_by)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) returning id`,
			a.Question, a.Product, a.Cut, a.Species, a.Handling, a.Held, a.Allergens, a.Contexts, a.Hand, a.Layout, a.FollowsID, who).Scan(&id)
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
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := readTrial(ctx, tx, id)
		if err != nil {
			return err
		}
		if before.RevealedAt != nil {
			return ErrConflict
		}
		_, err = tx.Exec(ctx, `update trials set question = $2, product = $3, cut = $4, species = $5, handling = $6, held = $7, allergens = $8, contexts = $9, hand = $10, layout = $11, follows_id = $12 where id = $1`,
			id, a.Question, a.Product, a.Cut, a.Species, a.Handling, a.Held, a.Allergens, a.Contexts, a.Hand, a.Layout, a.FollowsID)
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
	if err := writeFactors(ctx, q, id, a); err != nil {
		return err
	}
	if err := writeArms(ctx, q, id, a.Arms); err != nil {
		return err
	}
	keys := make([]string, len(a.Outcomes))
	for i, o := range a.Outcomes {
		keys[i] = string(o.Key)
		_, err := q.Exec(ctx, `insert into outcomes (trial_id, key, ordinal, smallest_difference, source, exact, own) values ($1, $2, $3, $4, $5, $6, $7)
			on conflict (trial_id, key) do update set ordinal = excluded.ordinal, smallest_difference = excluded.smallest_difference, source = excluded.source, exact = excluded.exact, own = excluded.own, voided_at = null`,
			id, o.Key, i+1, o.SmallestDifference, o.Source, o.Exact, o.Own)
		if err != nil {
			return err
		}
	}
	_, err := q.Exec(ctx, "update outcomes set voided_at = now() where trial_id = $1 and voided_at is null and key <> all($2)", id, keys)
	return err
}

// writeFactors records the factors; a name or level that the catalogue does not
// know is added to it, for the next trial.
func writeFactors(ctx context.Context, q querier, id int64, a trial.Ask) error {
	if _, err := q.Exec(ctx, "update trial_factors set voided_at = now() where trial_id = $1 and voided_at is null", id); err != nil {
		return err
	}
	for i, f := range a.Factors {
		var catalogue int64
		err := q.QueryRow(ctx, `insert into catalogue_factors (name, kind, unit, set_on) values ($1, $2, $3, $4)
			on conflict (lower(name)) do update set name = catalogue_factors.name returning coalesce(catalogue_factors.merged_into, catalogue_factors.id)`, f.Name, f.Kind, f.Unit, f.SetOn).Scan(&catalogue)
		if err != nil {
			return err
		}
		_, err = q.Exec(ctx, "insert into trial_factors (trial_id, ordinal, catalogue_id, name, kind, unit, set_on) values ($1, $2, $3, $4, $5, $6, $7)", id, i+1, catalogue, f.Name, f.Kind, f.Unit, f.SetOn)
		if err != nil {
			return err
		}
		for _, arm := range a.Arms {
			_, err := q.Exec(ctx, `insert into catalogue_levels (factor_id, value, ordinal) values ($1, $2, 1000) on conflict (factor_id, lower(value)) do nothing`, catalogue, arm.Levels[i])
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// writeArms keeps arms by id; one that is no longer there is voided and its
// cuts stand without an arm.
func writeArms(ctx context.Context, q querier, id int64, arms []trial.Arm) error {
	kept := make([]int64, 0, len(arms))
	for i, arm := range arms {
		if arm.ID == 0 {
			err := q.QueryRow(ctx, "insert into arms (trial_id, ordinal, tag, levels, control) values ($1, $2, $3, $4, $5) returning id", id, i+1, arm.Tag, arm.Levels, arm.Control).Scan(&arm.ID)
			if err != nil {
				return err
			}
		} else {
			tag, err := q.Exec(ctx, "update arms set ordinal = $3, tag = $4, levels = $5, control = $6 where trial_id = $1 and id = $2 and voided_at is null", id, arm.ID, i+1, arm.Tag, arm.Levels, arm.Control)
			if err != nil {
				return err
			}
			if tag.RowsAffected() == 0 {
				return ErrNotFound
			}
		}
		kept = append(kept, arm.ID)
	}
	if _, err := q.Exec(ctx, "update cuts set arm_id = null where trial_id = $1 and arm_id <> all($2)", id, kept); err != nil {
		return err
	}
	_, err := q.Exec(ctx, "update arms set voided_at = now() where trial_id = $1 and voided_at is null and id <> all($2)", id, kept)
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
		"weighing":         "select c.trial_id from weighings w join cuts c on c.id = w.cut_id where w.id = $1",
		"accepted finding": "select trial_id from accepted_findings where id = $1",
	}[subject]
	if !ok {
		return 0, errors.New("no such subject: " + subject)
	}
	return trialID, found(s.pool.QueryRow(ctx, sql, id).Scan(&trialID))
}
