package store

import (
	"context"
	"time"
)

// PitBurn is the last time that a pit was lit.
type PitBurn struct {
	PitID    int64     `json:"pit_id"`
	RunID    int64     `json:"run_id"`
	TrialID  int64     `json:"trial_id"`
	Question string    `json:"question"`
	Setup    string    `json:"setup"`
	SetC     float64   `json:"set_c"`
	Lit      time.Time `json:"lit"`
	Meat     bool      `json:"meat"` // cuts were to lie in it
}

// LastBurns lists the last burn of each pit, rehearsals left out.
func (s *Store) LastBurns(ctx context.Context) ([]PitBurn, error) {
	return collect[PitBurn](ctx, s.pool, `select distinct on (r.pit_id) r.pit_id, r.id as run_id, t.id as trial_id, t.question, r.setup,
		r.set_point_c as set_c, e.at as lit,
		exists (select 1 from placements l where l.pit_run_id = r.id and l.voided_at is null) as meat
		from pit_runs r join events e on e.pit_run_id = r.id and e.act = 'lit' and e.voided_at is null
		join cook_pit_runs cr on cr.pit_run_id = r.id join cooks k on k.id = cr.cook_id join trials t on t.id = k.trial_id
		where t.rehearses_id is null order by r.pit_id, e.at desc, r.id desc`)
}

// EventsOfRuns lists what was done to pits in some of their runs, in order of time.
func (s *Store) EventsOfRuns(ctx context.Context, runs ...int64) ([]Event, error) {
	return s.events(ctx, "e.pit_run_id = any($1) order by e.at, e.id", runs)
}

// AssignmentsOfRuns lists the probes of some pit runs.
func (s *Store) AssignmentsOfRuns(ctx context.Context, runs ...int64) ([]Assignment, error) {
	return collect[Assignment](ctx, s.pool, assignmentColumns+"a.pit_run_id = any($1) order by a.id", runs)
}
