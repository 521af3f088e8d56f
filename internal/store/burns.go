package store

import (
	"context"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
)

// PitBurn is a time that a pit was lit.
type PitBurn struct {
	PitID    int64      `json:"pit_id"`
	RunID    int64      `json:"run_id"`
	CookID   int64      `json:"cook_id"`
	TrialID  int64      `json:"trial_id"`
	Question string     `json:"question"`
	Setup    string     `json:"setup"`
	ArmID    *int64     `json:"arm_id"` // of a trial of set-ups
	SetC     float64    `json:"set_c"`
	Lit      time.Time  `json:"lit"`
	Until    *time.Time `json:"until"` // it was lit for another run; nil: not since
	Meat     bool       `json:"meat"`  // cuts were to lie in it
}

// burnRows reads burns. A rehearsal lives by a clock of its own: no other trial's fire ends its burns.
const burnRows = `select distinct on (%s) r.pit_id, r.id as run_id, k.id as cook_id, t.id as trial_id, t.question, r.setup, r.arm_id,
	r.set_point_c as set_c, e.at as lit,
	(select min(n.at) from events n join pit_runs o on o.id = n.pit_run_id join cook_pit_runs oc on oc.pit_run_id = o.id
		join cooks ok on ok.id = oc.cook_id join trials ot on ot.id = ok.trial_id
		where o.pit_id = r.pit_id and o.id <> r.id and n.act = 'lit' and n.voided_at is null and n.at > e.at
		and (ot.id = t.id or ot.rehearses_id is null and t.rehearses_id is null)) as until,
	exists (select from placements l where l.pit_run_id = r.id and l.voided_at is null) as meat
	from pit_runs r join events e on e.pit_run_id = r.id and e.act = 'lit' and e.voided_at is null
	join cook_pit_runs cr on cr.pit_run_id = r.id join cooks k on k.id = cr.cook_id join trials t on t.id = k.trial_id `

// LastBurns lists the last burn of each pit, rehearsals left out.
func (s *Store) LastBurns(ctx context.Context) ([]PitBurn, error) {
	return collect[PitBurn](ctx, s.pool, fmt.Sprintf(burnRows, "r.pit_id")+"where t.rehearses_id is null order by r.pit_id, e.at desc, r.id desc")
}

// BurnsOfArms lists the burns of set-ups, each from when it was first lit.
func (s *Store) BurnsOfArms(ctx context.Context, arms ...int64) ([]PitBurn, error) {
	return collect[PitBurn](ctx, s.pool, fmt.Sprintf(burnRows, "r.id")+"where r.arm_id = any($1) order by r.id, e.at", arms)
}

// EventsOfRuns lists what was done to pits in some of their runs, in order of time.
func (s *Store) EventsOfRuns(ctx context.Context, runs ...int64) ([]Event, error) {
	return s.events(ctx, "e.pit_run_id = any($1) order by e.at, e.id", runs)
}

// AssignmentsOfRuns lists the probes of some pit runs.
func (s *Store) AssignmentsOfRuns(ctx context.Context, runs ...int64) ([]Assignment, error) {
	return collect[Assignment](ctx, s.pool, assignmentColumns+"a.pit_run_id = any($1) order by a.id", runs)
}

// LeftoversOfRuns lists what was left in pits after some of their runs.
func (s *Store) LeftoversOfRuns(ctx context.Context, runs ...int64) ([]Leftover, error) {
	return s.leftovers(ctx, "l.pit_run_id = any($1)", runs)
}

// DropBurn takes a burn out that nothing was logged of; ErrConflict if something was.
func (s *Store) DropBurn(ctx context.Context, who, cookID int64, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := one[PitRun](ctx, tx, runColumns+"where k.id = $1", cookID)
		if err != nil {
			return err
		}
		tag, err := tx.Exec(ctx, `delete from cook_pit_runs where cook_id = $1 and pit_run_id = $2
			and not exists (select from events where cook_id = $1 or pit_run_id = $2)
			and not exists (select from probe_assignments where cook_id = $1) and not exists (select from imports where cook_id = $1)
			and not exists (select from devices where cook_id = $1) and not exists (select from photos where cook_id = $1)`, cookID, before.ID)
		if err != nil {
			return err
		}
		if tag.RowsAffected() == 0 {
			return ErrConflict
		}
		for _, sql := range []string{"delete from alarms where cook_id = $1", "delete from alarm_states where cook_id = $1",
			"delete from postponed where cook_id = $1", "delete from cooks where id = $1"} {
			if _, err := tx.Exec(ctx, sql, cookID); err != nil {
				return err
			}
		}
		if _, err := tx.Exec(ctx, "delete from pit_runs where id = $1", before.ID); err != nil {
			return err
		}
		return change(ctx, tx, who, "cook", cookID, before, nil, why)
	})
}
