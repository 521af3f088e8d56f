package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/safety"
)

// BarnLines are the barn's lines of safety as somebody set them.
type BarnLines struct {
	Lines safety.Lines `json:"lines"`
	Why   string       `json:"why"`
	By    string       `json:"by"`
	At    *time.Time   `json:"at"` // nil: the guidance's own, never set
}

// Lines are all the lines the barn ever had, the last first.
func (s *Store) Lines(ctx context.Context) ([]BarnLines, error) {
	return collect[BarnLines](ctx, s.pool,
		`select l.lines, l.why, p.name as by, l.set_at as at from barn_lines l join people p on p.id = l.set_by order by l.id desc`)
}

// SetLines sets the barn's lines from now on.
func (s *Store) SetLines(ctx context.Context, who int64, l safety.Lines, why string) error {
	_, err := s.pool.Exec(ctx, "insert into barn_lines (lines, why, set_by) values ($1, $2, $3)", l, why, who)
	return err
}

// TrialMeat is what a trial says it cooks, as far as safety is concerned.
type TrialMeat struct {
	safety.Meat
	WholeBird bool `json:"whole_bird"`
}

// String says it in a few words.
func (m TrialMeat) String() string {
	if m.WholeBird {
		return fmt.Sprintf("%s, %s, a whole bird", m.Species, m.Handling)
	}
	return fmt.Sprintf("%s, %s", m.Species, m.Handling)
}

// SetMeat says what meat a trial is of; what it was stays in the changes. Confirmed
// says that a person said it outright.
func (s *Store) SetMeat(ctx context.Context, who, trialID int64, m TrialMeat, confirmed bool, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := readTrial(ctx, tx, trialID)
		if err != nil {
			return err
		}
		if before.RevealedAt != nil {
			return ErrConflict
		}
		var by *int64
		if confirmed {
			by = &who
		}
		_, err = tx.Exec(ctx, `update trials set species = $2, handling = $3, whole_bird = $4, meat_confirmed_by = $5, meat_confirmed_at = case when $5::bigint is null then null else now() end,
			meat_why = $6 where id = $1`, trialID, m.Species, m.Handling, m.WholeBird, by, why)
		if err != nil {
			return err
		}
		was := TrialMeat{before.Ask.Meat(), before.Ask.WholeBird}
		if was == m {
			return nil
		}
		return change(ctx, tx, who, "meat", trialID, was, m, why)
	})
}

// MeatChange is how what a trial cooks was said otherwise.
type MeatChange struct {
	TrialID int64     `json:"-"`
	Before  TrialMeat `json:"before"`
	After   TrialMeat `json:"after"`
	Why     string    `json:"why"`
	By      string    `json:"by"`
	At      time.Time `json:"at"`
}

// MeatChanges lists them, in order of time.
func (s *Store) MeatChanges(ctx context.Context, trialIDs ...int64) ([]MeatChange, error) {
	rows, err := s.pool.Query(ctx, `select c.subject_id, c.before, c.after, c.why, p.name, c.at from changes c join people p on p.id = c.person_id
		where c.subject = 'meat' and c.subject_id = any($1) order by c.id`, trialIDs)
	if err != nil {
		return nil, err
	}
	out, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (m MeatChange, err error) {
		var before, after []byte
		if err := row.Scan(&m.TrialID, &before, &after, &m.Why, &m.By, &m.At); err != nil {
			return m, err
		}
		return m, errors.Join(json.Unmarshal(before, &m.Before), json.Unmarshal(after, &m.After))
	})
	if out == nil {
		out = []MeatChange{}
	}
	return out, err
}

// StampMeat keeps what cuts go on the fire as.
func (s *Store) StampMeat(ctx context.Context, cuts map[int64]safety.Meat) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for id, m := range cuts {
			if _, err := tx.Exec(ctx, "update cuts set on_species = $2, on_handling = $3 where id = $1", id, m.Species, m.Handling); err != nil {
				return err
			}
		}
		return nil
	})
}

// ServedAt says when cuts of trials were served, the last time, by the cook's clock.
func (s *Store) ServedAt(ctx context.Context, trialIDs ...int64) (map[int64]time.Time, error) {
	rows, err := s.pool.Query(ctx, `select m.cut_id, max(f.at) from samples m join flights f on f.id = m.flight_id
		where f.trial_id = any($1) and f.voided_at is null and f.at is not null group by m.cut_id`, trialIDs)
	if err != nil {
		return nil, err
	}
	out := map[int64]time.Time{}
	var id int64
	var at time.Time
	_, err = pgx.ForEachRow(rows, []any{&id, &at}, func() error {
		out[id] = at
		return nil
	})
	return out, err
}

// Struck is a sample that must not be eaten any more.
type Struck struct {
	TrialID  int64     `json:"-"`
	FlightID int64     `json:"flight_id"`
	CutID    int64     `json:"-"` // before the codes are open it tells what the code is
	Code     string    `json:"code"`
	Why      string    `json:"why"`
	At       time.Time `json:"at"`
}

// StruckOf lists the struck samples of trials.
func (s *Store) StruckOf(ctx context.Context, trialIDs ...int64) ([]Struck, error) {
	return collect[Struck](ctx, s.pool,
		`select f.trial_id, m.flight_id, m.cut_id, m.code, x.why, x.struck_at as at from struck x join samples m on m.id = x.sample_id
		join flights f on f.id = m.flight_id where f.trial_id = any($1) order by x.struck_at, m.code`, trialIDs)
}

// Strike stops all samples of a cut for good, and says how many were not stopped yet. Of
// shuffled cups nobody knows which hold it: all of them are stopped.
func (s *Store) Strike(ctx context.Context, cutID int64, why string) (n int, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `insert into struck (sample_id, why) select m.id, $2 from samples m join flights f on f.id = m.flight_id
			where f.voided_at is null and (m.cut_id = $1 or f.shuffled and f.turned_at is null
				and exists (select from samples o where o.flight_id = f.id and o.cut_id = $1)) on conflict do nothing`, cutID, why)
		if err != nil {
			return err
		}
		n = int(tag.RowsAffected())
		return lockBallots(ctx, tx, "b.flight_id in (select flight_id from samples where cut_id = $1)", cutID)
	})
	return n, err
}

// OnTheTable lists the trials whose codes are closed and that have samples out that
// are not struck.
func (s *Store) OnTheTable(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx,
		`select distinct t.id from trials t join flights f on f.trial_id = t.id and f.voided_at is null join samples m on m.flight_id = f.id
		where t.revealed_at is null and not exists (select from struck x where x.sample_id = m.id) order by t.id`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Tell keeps that a taster was told of meat below its usual minimum on a plate.
func (s *Store) Tell(ctx context.Context, ballotID int64, susceptible bool) error {
	_, err := s.pool.Exec(ctx, "update ballots set told_at = coalesce(told_at, now()), susceptible = susceptible or $2 where id = $1", ballotID, susceptible)
	return err
}

// PendingChange is a change that would open a gate that was shut, or weaken what shut it,
// waiting for a second hand. It is of a press, unless one of the others is there.
type PendingChange struct {
	ID         int64       `json:"id"`
	TrialID    int64       `json:"-"`
	Press      *string     `json:"press"`
	EventID    *int64      `json:"event_id"`   // of the press that one alone; nil: all of it
	Correction *Correction `json:"correction"` // nil: the press is to be voided
	ImportID   *int64      `json:"-"`          // a log to be taken back
	Probe      *ProbeMove  `json:"-"`          // what a probe is to measure instead
	Entries    []Event     `json:"-"`          // to be logged, of an earlier time
	What       string      `json:"what"`       // in words, where it is of no press
	Why        string      `json:"why"`
	By         string      `json:"by"`
	ByID       int64       `json:"by_id"`
	At         time.Time   `json:"at"`
}

// ProbeMove is what a probe is to measure from a moment on.
type ProbeMove struct {
	CookID  int64
	ProbeID int64
	Measured
	From time.Time
}

const pendingColumns = `select c.id, c.trial_id, c.press::text as press, c.event_id, c.correction, c.import_id, c.probe, c.entries, c.what, c.why,
	p.name as by, c.asked_by as by_id, c.asked_at as at
	from pending_changes c join people p on p.id = c.asked_by where c.signed_at is null and c.refused_at is null and `

// PendingChanges lists those of a trial.
func (s *Store) PendingChanges(ctx context.Context, trialID int64) ([]PendingChange, error) {
	return collect[PendingChange](ctx, s.pool, pendingColumns+"c.trial_id = $1 order by c.id", trialID)
}

// PendingChange reads one that still waits.
func (s *Store) PendingChange(ctx context.Context, id int64) (PendingChange, error) {
	return one[PendingChange](ctx, s.pool, pendingColumns+"c.id = $1", id)
}

// AskSecond lets a change wait for a second hand; one that waits already stays.
func (s *Store) AskSecond(ctx context.Context, c PendingChange) error {
	var entries any // null, where there are none
	if c.Entries != nil {
		entries = c.Entries
	}
	_, err := s.pool.Exec(ctx, `insert into pending_changes (trial_id, press, event_id, correction, import_id, probe, entries, what, why, asked_by)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) on conflict do nothing`,
		c.TrialID, c.Press, c.EventID, c.Correction, c.ImportID, c.Probe, entries, c.What, c.Why, c.ByID)
	return err
}

// Make makes a change in the name of who asked for it.
func (s *Store) Make(ctx context.Context, c PendingChange) error {
	switch {
	case c.ImportID != nil:
		return s.VoidImport(ctx, c.ByID, *c.ImportID, c.Why)
	case c.Probe != nil:
		return s.AssignProbe(ctx, c.ByID, c.Probe.CookID, c.Probe.ProbeID, c.Probe.Measured, c.Probe.From)
	case c.Entries != nil:
		return s.Log(ctx, c.ByID, c.Entries)
	case c.Correction == nil:
		return s.VoidPress(ctx, c.ByID, c.TrialID, *c.Press, c.Why)
	case c.EventID != nil:
		return s.CorrectEvent(ctx, c.ByID, *c.EventID, *c.Correction)
	}
	return s.CorrectPress(ctx, c.ByID, *c.Press, *c.Correction)
}

// Sign makes a waiting change, or refuses it; ErrConflict if somebody did before.
func (s *Store) Sign(ctx context.Context, who int64, c PendingChange, yes bool) error {
	return s.InTx(ctx, func(s *Store) error {
		column := map[bool]string{true: "signed", false: "refused"}[yes]
		tag, err := s.pool.Exec(ctx, "update pending_changes set "+column+"_by = $2, "+column+"_at = now() where id = $1 and signed_at is null and refused_at is null", c.ID, who)
		if err == nil && tag.RowsAffected() == 0 {
			err = ErrConflict
		}
		if err != nil || !yes {
			return err
		}
		return s.Make(ctx, c)
	})
}
