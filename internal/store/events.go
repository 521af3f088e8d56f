package store

import (
	"context"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/logbook"
)

// Event is one act on one target.
type Event struct {
	ID       int64          `json:"id"`
	Act      logbook.Act    `json:"act"`
	At       time.Time      `json:"at"`
	Note     string         `json:"note"`
	Detail   logbook.Detail `json:"detail"`
	Said     string         `json:"said" db:"-"` // the detail in a few words
	CutID    *int64         `json:"cut_id"`
	PitRunID *int64         `json:"pit_run_id"`
	CookID   *int64         `json:"cook_id"`
	Press    string         `json:"press"`
	By       string         `json:"by"`
	Recorded time.Time      `json:"recorded"`
}

// Target names what an event was done to.
func (e Event) Target() string {
	switch {
	case e.CutID != nil:
		return fmt.Sprintf("cut %d", *e.CutID)
	case e.PitRunID != nil:
		return fmt.Sprintf("pit run %d", *e.PitRunID)
	}
	return "cook"
}

const eventColumns = `select e.id, e.act, e.at, e.note, e.detail, e.cut_id, e.pit_run_id, e.cook_id, e.press::text as press, p.name as by, e.recorded_at as recorded
	from events e join people p on p.id = e.recorded_by where e.voided_at is null and `

// Events lists the events of trials in order of time.
func (s *Store) Events(ctx context.Context, trialIDs ...int64) ([]Event, error) {
	return s.events(ctx, `(e.cut_id = any(array(select id from cuts where trial_id = any($1)))
		or e.cook_id = any(array(select id from cooks where trial_id = any($1)))
		or e.pit_run_id = any(array(select cr.pit_run_id from cook_pit_runs cr join cooks k on k.id = cr.cook_id where k.trial_id = any($1))))
		order by e.at, e.id`, trialIDs)
}

// EventsOfCut lists one cut's events in order of time.
func (s *Store) EventsOfCut(ctx context.Context, cutID int64) ([]Event, error) {
	return s.events(ctx, "e.cut_id = $1 order by e.at, e.id", cutID)
}

// EventsOfPress lists what one press of a pad wrote and still stands.
func (s *Store) EventsOfPress(ctx context.Context, press string) ([]Event, error) {
	return s.events(ctx, "e.press = $1 order by e.id", press)
}

func (s *Store) events(ctx context.Context, where string, args ...any) ([]Event, error) {
	out, err := collect[Event](ctx, s.pool, eventColumns+where, args...)
	for i := range out {
		out[i].Said = out[i].Detail.Describe()
	}
	return out, err
}

// Event reads one event that still counts.
func (s *Store) Event(ctx context.Context, id int64) (Event, error) {
	return one[Event](ctx, s.pool, eventColumns+"e.id = $1", id)
}

// Log records one press of a pad: an event per target. A press sent again
// writes nothing new.
func (s *Store) Log(ctx context.Context, who int64, events []Event) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, e := range events {
			_, err := tx.Exec(ctx, "insert into events (act, at, note, detail, cut_id, pit_run_id, cook_id, press, recorded_by) values ($1, $2, $3, $4, $5, $6, $7, $8, $9) on conflict do nothing",
				e.Act, e.At, e.Note, e.Detail, e.CutID, e.PitRunID, e.CookID, e.Press, who)
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// Correction is what an event is to say instead.
type Correction struct {
	At     time.Time      `json:"at"`
	Note   string         `json:"note"`
	Detail logbook.Detail `json:"detail"`
	Press  string         `json:"press"` // of its own, so that one sent twice corrects once
}

// CorrectEvent puts another time, note or detail in place of an event.
func (s *Store) CorrectEvent(ctx context.Context, who, id int64, to Correction) error {
	return s.correct(ctx, who, "id = $1", id, to)
}

// CorrectPress does so for all that one press wrote.
func (s *Store) CorrectPress(ctx context.Context, who int64, press string, to Correction) error {
	return s.correct(ctx, who, "press = $1", press, to)
}

func (s *Store) correct(ctx context.Context, who int64, where string, what any, to Correction) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		ids, err := collect[struct{ ID int64 }](ctx, tx, "select id from events where voided_at is null and "+where+" order by id for update", what)
		if err == nil && len(ids) == 0 {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		for _, e := range ids {
			if err := void(ctx, tx, "events", e.ID, who, "corrected"); err != nil {
				return err
			}
			_, err := tx.Exec(ctx, `insert into events (act, at, note, detail, cut_id, pit_run_id, holder_run_id, cook_id, press, recorded_by, supersedes)
				select act, $2, $3, $4, cut_id, pit_run_id, holder_run_id, cook_id, $5, $6, id from events where id = $1`, e.ID, to.At, to.Note, to.Detail, to.Press, who)
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// ofTrial are the events of a trial, whose number is the last argument.
const ofTrial = ` and (cut_id in (select id from cuts where trial_id = $%[1]d) or cook_id in (select id from cooks where trial_id = $%[1]d)
	or pit_run_id in (select cr.pit_run_id from cook_pit_runs cr join cooks k on k.id = cr.cook_id where k.trial_id = $%[1]d))`

// VoidPress takes back all that one press wrote in a trial.
func (s *Store) VoidPress(ctx context.Context, who, trialID int64, press, why string) error {
	tag, err := s.pool.Exec(ctx, "update events set voided_at = now(), voided_by = $2, void_reason = $3 where press = $1 and voided_at is null"+fmt.Sprintf(ofTrial, 4), press, who, why, trialID)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}

// PressElsewhere says whether a press wrote anything that is not of a trial.
func (s *Store) PressElsewhere(ctx context.Context, trialID int64, press string) (there bool, err error) {
	err = s.pool.QueryRow(ctx, "select exists (select from events where press = $1 and not coalesce(true"+fmt.Sprintf(ofTrial, 2)+", false))",
		press, trialID).Scan(&there)
	return there, err
}

// TrialOfPress finds the trial that a press belongs to.
func (s *Store) TrialOfPress(ctx context.Context, press string) (int64, error) {
	var id int64
	if err := s.pool.QueryRow(ctx, "select id from events where press = $1 limit 1", press).Scan(&id); err != nil {
		return 0, found(err)
	}
	return s.TrialOf(ctx, "event", id)
}
