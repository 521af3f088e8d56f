package store

import (
	"context"
	"errors"
)

// Answered is what was answered to a person's request of that number, and of which trial; false
// when it was not made yet. Until the transaction ends no other request of the number gets here.
func (s *Store) Answered(ctx context.Context, who int64, number string) (trialID int64, answer []byte, done bool, err error) {
	if _, err := s.pool.Exec(ctx, "select pg_advisory_xact_lock(hashtextextended($1, 0))", number); err != nil {
		return 0, nil, false, err
	}
	var of int64
	err = found(s.pool.QueryRow(ctx, "select person_id, trial_id, answer from requests where number = $1", number).Scan(&of, &trialID, &answer))
	switch {
	case errors.Is(err, ErrNotFound):
		return 0, nil, false, nil
	case err == nil && of != who:
		return 0, nil, false, ErrConflict
	}
	return trialID, answer, err == nil, err
}

// KeepAnswer keeps what a request is answered, and lets go of those of more than a week ago.
func (s *Store) KeepAnswer(ctx context.Context, who int64, number string, trialID int64, answer []byte) error {
	_, err := s.pool.Exec(ctx, `with old as (delete from requests where made_at < now() - interval '7 days')
		insert into requests (number, person_id, trial_id, answer) values ($1, $2, $3, $4)`, number, who, trialID, answer)
	return err
}
