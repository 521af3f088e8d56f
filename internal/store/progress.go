package store

import (
	"context"

	"whitebarn/core/trial"
)

// Progress counts what the record of a trial holds, for its eight steps.
func (s *Store) Progress(ctx context.Context, trialID int64) (trial.Progress, error) {
	return one[trial.Progress](ctx, s.pool, `with
		c as (select id, arm_id from pieces where trial_id = $1),
		w as (select distinct stage, cut_id from weighings where voided_at is null and cut_id in (select id from c)),
		e as (select distinct act, cut_id from events where voided_at is null and cut_id in (select id from c)),
		b as (select b.locked_at from ballots b join flights f on f.id = b.flight_id where f.trial_id = $1 and f.voided_at is null)
		select (select count(*) from outcomes where trial_id = $1 and voided_at is null)::int as outcomes,
			(select count(*) from c)::int as cuts,
			(select count(*) from c where arm_id is not null)::int as placed,
			(select count(*) from arms where trial_id = $1 and voided_at is null)::int as arms,
			(select count(distinct arm_id) from c)::int as arms_with_cuts,
			(select count(*) from w where stage = 'trimmed')::int as weighed,
			(select count(*) from cooks where trial_id = $1)::int as cooks,
			(select count(distinct cut_id) from placements where voided_at is null and pit_run_id is not null and cut_id in (select id from c))::int as planned,
			(select count(*) from w where stage = 'prepped')::int as prepped,
			(select count(distinct cut_id) from prep_marks where voided_at is null and cut_id in (select id from c))::int as marked,
			(select count(*) from e where act = 'on')::int as "on",
			(select count(*) from e where act = 'pull')::int as pulled,
			(select count(distinct a.probe_id) from probe_assignments a join cooks k on k.id = a.cook_id
				where k.trial_id = $1 and a.voided_at is null and exists (select from readings r where r.probe_id = a.probe_id and r.at >= a.from_at))::int as readings,
			(select count(*) from w where stage = 'off')::int as off,
			(select count(*) from final_temperatures where voided_at is null and cut_id in (select id from c))::int as final_temperatures,
			(select count(*) from tasters where trial_id = $1 and voided_at is null)::int as tasters,
			(select count(*) from b)::int as ballots,
			(select count(*) from b where locked_at is not null)::int as locked,
			(select revealed_at is not null from trials where id = $1) as revealed`, trialID)
}
