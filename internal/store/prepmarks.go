package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"
)

// PrepMark says that a dose was given to a cut.
type PrepMark struct {
	ID    int64     `json:"id"`
	CutID int64     `json:"cut_id"`
	Dose  string    `json:"dose"`
	At    time.Time `json:"at"`
	By    string    `json:"by"`
}

// PrepMarks lists what was given to a trial's cuts.
func (s *Store) PrepMarks(ctx context.Context, trialID int64) ([]PrepMark, error) {
	return collect[PrepMark](ctx, s.pool, `select m.id, m.cut_id, m.dose, m.at, p.name as by from prep_marks m join cuts c on c.id = m.cut_id join people p on p.id = m.recorded_by
		where c.trial_id = $1 and m.voided_at is null order by m.id`, trialID)
}

// MarkPrep says that a dose was given to cuts, or takes that back.
func (s *Store) MarkPrep(ctx context.Context, who int64, cutIDs []int64, dose string, done bool, at time.Time) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, cut := range cutIDs {
			var err error
			if done {
				_, err = tx.Exec(ctx, "insert into prep_marks (cut_id, dose, at, recorded_by) values ($1, $2, $3, $4) on conflict (cut_id, dose) where voided_at is null do nothing", cut, dose, at, who)
			} else {
				_, err = tx.Exec(ctx, "update prep_marks set voided_at = now(), voided_by = $3, void_reason = 'taken back' where cut_id = $1 and dose = $2 and voided_at is null", cut, dose, who)
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}
