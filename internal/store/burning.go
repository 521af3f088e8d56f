package store

import (
	"context"
	"time"
)

// Burning is a probe of a cook under way with the last it showed.
type Burning struct {
	TrialID   int64     `json:"trial_id"`
	CookID    int64     `json:"cook_id"`
	PitRunID  *int64    `json:"pit_run_id"`
	Pit       string    `json:"pit"`
	SetPointC *float64  `json:"set_point_c"`
	CutID     *int64    `json:"cut_id"`
	Cut       string    `json:"cut"`
	ArmID     *int64    `json:"arm_id"`
	C         float64   `json:"c"`
	At        time.Time `json:"at"`
}

// burningFor is how old the last reading of a fire may be.
const burningFor = 20 * time.Minute

// Burning lists the probes of the barn's cooks that showed something lately;
// rehearsals burn nothing, and a cut that was pulled does not burn.
func (s *Store) Burning(ctx context.Context, now time.Time) ([]Burning, error) {
	return collect[Burning](ctx, s.pool, `select k.trial_id, k.id as cook_id, a.pit_run_id, coalesce(p.name, '') as pit, pr.set_point_c, a.cut_id, coalesce(c.name, '') as cut, c.arm_id, r.c, r.at
		from probe_assignments a join cooks k on k.id = a.cook_id and not k.rehearsal
		join lateral (select at, c from readings where probe_id = a.probe_id and at >= a.from_at order by at desc limit 1) r on r.at > $1
		left join pit_runs pr on pr.id = a.pit_run_id left join pits p on p.id = pr.pit_id left join cuts c on c.id = a.cut_id
		where a.to_at is null and a.voided_at is null
		and not exists (select from events e where e.cut_id = a.cut_id and e.act = 'pull' and e.voided_at is null)
		order by k.id, p.name, c.name`, now.Add(-burningFor))
}
