package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// Outline is the plan a crew kept of a trial; ErrNotFound while there is none.
func (s *Store) Outline(ctx context.Context, trialID int64) (o plan.Outline, err error) {
	var at time.Time
	err = s.pool.QueryRow(ctx, "select outline, recorded_at from outlines where trial_id = $1", trialID).Scan(&o, &at)
	o.Planned, o.KeptAt = err == nil, at
	return o, found(err)
}

// SetOutline keeps the plan of a trial; what it was stays in the record.
func (s *Store) SetOutline(ctx context.Context, who, trialID int64, o plan.Outline) error {
	return s.withTx(ctx, func(tx pgx.Tx) error { return keepOutline(ctx, tx, who, trialID, o) })
}

func keepOutline(ctx context.Context, q querier, who, trialID int64, o plan.Outline) error {
	o.Planned, o.KeptAt = true, time.Time{} // the row has its own
	var before *plan.Outline
	err := q.QueryRow(ctx, "select outline from outlines where trial_id = $1 for update", trialID).Scan(&before)
	if err != nil && found(err) != ErrNotFound {
		return err
	}
	if _, err := q.Exec(ctx, `insert into outlines (trial_id, outline, recorded_by) values ($1, $2, $3)
		on conflict (trial_id) do update set outline = excluded.outline, recorded_by = excluded.recorded_by, recorded_at = now()`, trialID, o, who); err != nil {
		return err
	}
	return change(ctx, q, who, "outline", trialID, before, o, "")
}

// PlannedHold is a holder in use for some cuts of a cook, as planned.
type PlannedHold struct {
	HolderID int64
	Set      units.Temperature
	Setup    string // for how long
	CutIDs   []int64
}

// writeHolds puts the cuts of a cook into its holders. Cuts that are held
// differently have runs of their own, in one box too.
func writeHolds(ctx context.Context, q querier, who, cookID int64, holds []PlannedHold) error {
	kept := []int64{}
	for _, h := range holds {
		var run int64
		err := q.QueryRow(ctx, `select r.id from holder_runs r join cook_holder_runs cr on cr.holder_run_id = r.id
			where cr.cook_id = $1 and r.holder_id = $2 and (r.setup = $3 or r.setup = '') order by r.setup desc, r.id limit 1 for update`, cookID, h.HolderID, h.Setup).Scan(&run)
		switch {
		case found(err) == ErrNotFound:
			if run, err = beginHolderRun(ctx, q, cookID, h.HolderID); err != nil {
				return err
			}
		case err != nil:
			return err
		}
		if _, err := q.Exec(ctx, "update holder_runs set setup = $2, set_point_c = $3, set_point_typed = $4 where id = $1", run, h.Setup, h.Set.C, h.Set.Typed); err != nil {
			return err
		}
		for _, cut := range h.CutIDs {
			kept = append(kept, cut)
			if err := holdCut(ctx, q, who, cut, cookID, run); err != nil {
				return err
			}
		}
	}
	_, err := q.Exec(ctx, `update placements set voided_at = now(), voided_by = $2, void_reason = 'taken out of the holder'
		where cook_id = $1 and holder_run_id is not null and voided_at is null and cut_id <> all($3)`, cookID, who, kept)
	return err
}

func holdCut(ctx context.Context, q querier, who, cutID, cookID, runID int64) error {
	old, err := one[Placement](ctx, q, "select id, cut_id, cook_id, pit_run_id, holder_run_id, position from placements where cut_id = $1 and holder_run_id is not null and voided_at is null", cutID)
	if err != nil && err != ErrNotFound {
		return err
	}
	var supersedes *int64
	if err == nil {
		if old.CookID == cookID && *old.HolderRunID == runID {
			return nil
		}
		supersedes = &old.ID
		if err := void(ctx, q, "placements", old.ID, who, "superseded"); err != nil {
			return err
		}
	}
	_, err = q.Exec(ctx, "insert into placements (cut_id, cook_id, holder_run_id, recorded_by, supersedes) values ($1, $2, $3, $4, $5)", cutID, cookID, runID, who, supersedes)
	return err
}

// mostCooked bounds how many trials the barn looks back over.
const mostCooked = 60

// CookedTrials lists the trials of what cooks like a family that have finished cuts,
// the last first; rehearsals teach nothing.
func (s *Store) CookedTrials(ctx context.Context, family string) ([]int64, error) {
	rows, err := s.pool.Query(ctx, `select t.id from trials t left join products d on d.id = t.product_id
		where t.rehearses_id is null and coalesce(nullif(d.family, ''), $2) = $1 and exists (select from cuts c join events e on e.cut_id = c.id
		and e.act = 'pull' and e.voided_at is null where c.trial_id = t.id and c.voided_at is null)
		order by t.id desc limit $3`, family, thermal.UsualFamily, mostCooked)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Outlines are the plans that crews kept of trials; those without are left out.
func (s *Store) Outlines(ctx context.Context, trialIDs ...int64) (map[int64]plan.Outline, error) {
	rows, err := s.pool.Query(ctx, "select trial_id, outline, recorded_at from outlines where trial_id = any($1)", trialIDs)
	if err != nil {
		return nil, err
	}
	out := map[int64]plan.Outline{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (id int64, err error) {
		var o plan.Outline
		err = row.Scan(&id, &o, &o.KeptAt)
		o.Planned = true
		out[id] = o
		return id, err
	})
	return out, err
}

// PitRecord is what the log of a pit says of it.
type PitRecord struct {
	PitID      int64
	WarmS      *float64 // median, lit until it stood
	WoodEveryS *float64 // median, between additions of wood
}

// PitRecords reads what the logs say of the barn's pits. A pit stands once its
// probe is within 5 F of the set point.
func (s *Store) PitRecords(ctx context.Context) ([]PitRecord, error) {
	return collect[PitRecord](ctx, s.pool, `with runs as (
			select r.id, r.pit_id, r.set_point_c from pit_runs r where r.arm_id is null and exists (
				select from cook_pit_runs cr join cooks k on k.id = cr.cook_id and not k.rehearsal where cr.pit_run_id = r.id)
		), warm as (
			select r.pit_id, extract(epoch from min(stood.at) - e.at)::float8 as s
			from runs r join events e on e.pit_run_id = r.id and e.act = 'lit' and e.voided_at is null
			join probe_assignments a on a.pit_run_id = r.id and a.voided_at is null and a.point = ''
			join lateral (select at from readings d where d.probe_id = a.probe_id and d.at >= e.at and d.at < e.at + interval '4 hours' and d.c >= r.set_point_c - 2.8 order by at limit 1) stood on true
			group by r.pit_id, r.id, e.at
		), added as (
			select e.pit_run_id, e.at - lag(e.at) over (partition by e.pit_run_id order by e.at) as gap from events e
			where e.act = 'wood' and e.voided_at is null
		), wood as (select r.pit_id, extract(epoch from a.gap)::float8 as s from added a join runs r on r.id = a.pit_run_id where a.gap > interval '5 minutes')
		select p.id as pit_id, (select percentile_cont(0.5) within group (order by s) from warm w where w.pit_id = p.id and w.s > 0) as warm_s,
			(select percentile_cont(0.5) within group (order by s) from wood w where w.pit_id = p.id) as wood_every_s
		from pits p order by p.id`)
}
