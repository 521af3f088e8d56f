package store

import (
	"context"
	"time"
)

// LockTrial lets the changes of a trial follow each other until the transaction ends; those
// beside each other follow all but their kind. It says whether its codes are open, whether those of one of its cooks are, and whether a cut
// of it is, or was, on the fire, which those beside each other need not know.
func (s *Store) LockTrial(ctx context.Context, id int64, beside bool) (revealed *time.Time, looked, lit bool, err error) {
	how := "update"
	if beside {
		how = "share"
	}
	err = s.pool.QueryRow(ctx, `select revealed_at, exists (select from looks where trial_id = $1 and opened_at is not null) from trials where id = $1
		for `+how, id).Scan(&revealed, &looked)
	if err != nil || beside {
		return revealed, looked, false, found(err)
	}
	err = s.pool.QueryRow(ctx, `select exists (select from events e join cuts c on c.id = e.cut_id
		where c.trial_id = $1 and c.voided_at is null and e.act = 'on' and e.voided_at is null)`, id).Scan(&lit)
	return revealed, looked, lit, err
}

// When a change was made that the verdict names.
const (
	AfterReveal = "after reveal"
	UnderFire   = "under fire"
)

// NotedChange is a change that the verdict names.
type NotedChange struct {
	TrialID int64
	When    string `db:"noted_when"`
	What    string
	Why     string
	By      string
	At      time.Time
}

// NoteChange keeps that one was made.
func (s *Store) NoteChange(ctx context.Context, who, trialID int64, when, what, why string) error {
	_, err := s.pool.Exec(ctx, "insert into noted_changes (trial_id, noted_when, what, why, changed_by) values ($1, $2, $3, $4, $5)", trialID,
		when, what, why, who)
	return err
}

// NotedChanges lists those of trials, in order of time.
func (s *Store) NotedChanges(ctx context.Context, trialIDs ...int64) ([]NotedChange, error) {
	return collect[NotedChange](ctx, s.pool, `select n.trial_id, n.noted_when, n.what, n.why, p.name as by, n.changed_at as at
		from noted_changes n join people p on p.id = n.changed_by where n.trial_id = any($1) order by n.id`, trialIDs)
}
