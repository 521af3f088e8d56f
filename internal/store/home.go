package store

import (
	"context"
	"errors"
	"time"
)

// AirNote is the weather as a hand noted it.
type AirNote struct {
	At   time.Time `json:"at"`
	C    float64   `json:"c"`
	Wind string    `json:"wind"`
	By   string    `json:"by"`
}

// AirNoted is the last note of the air at any cook since a moment; nil when
// there is none.
func (s *Store) AirNoted(ctx context.Context, since time.Time) (*AirNote, error) {
	n, err := one[AirNote](ctx, s.pool, `select e.at, (e.detail->>'air_c')::float8 as c, coalesce(e.detail->>'wind', '') as wind, p.name as by
		from events e join people p on p.id = e.recorded_by
		where e.act = 'note' and e.detail ? 'air_c' and e.voided_at is null and e.at > $1 order by e.at desc limit 1`, since)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	return &n, err
}

// CookAhead is a cook whose table is still to be set, with the pits it wants
// and their set points.
type CookAhead struct {
	ID       int64
	TrialID  int64
	Question string
	ServeAt  time.Time
	Cuts     int
	Pits     []string
	SetC     []float64
}

// Coming lists the barn's cooks that are served after a moment, the next first;
// rehearsals feed nobody.
func (s *Store) Coming(ctx context.Context, after time.Time) ([]CookAhead, error) {
	return collect[CookAhead](ctx, s.pool, `select k.id, k.trial_id, t.question, k.serve_at,
		(select count(distinct cut_id) from placements l where l.cook_id = k.id and l.pit_run_id is not null and l.voided_at is null)::int as cuts,
		array(select p.name from cook_pit_runs c join pit_runs r on r.id = c.pit_run_id join pits p on p.id = r.pit_id where c.cook_id = k.id order by r.id) as pits,
		array(select r.set_point_c from cook_pit_runs c join pit_runs r on r.id = c.pit_run_id where c.cook_id = k.id order by r.id) as set_c
		from cooks k join trials t on t.id = k.trial_id where not k.rehearsal and k.serve_at > $1 and t.revealed_at is null order by k.serve_at, k.id`, after)
}

// OpenBallots names the tasters of each trial that have not sealed all they
// were served.
func (s *Store) OpenBallots(ctx context.Context) (map[int64][]string, error) {
	rows, err := collect[struct {
		TrialID int64
		Name    string
	}](ctx, s.pool, `select distinct t.trial_id, t.name from ballots b join tasters t on t.id = b.taster_id join flights f on f.id = b.flight_id
		where b.locked_at is null and t.voided_at is null and f.voided_at is null order by t.name`)
	out := map[int64][]string{}
	for _, r := range rows {
		out[r.TrialID] = append(out[r.TrialID], r.Name)
	}
	return out, err
}
