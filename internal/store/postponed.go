package store

import (
	"context"
	"time"

	"whitebarn/core/plan"
)

// PutOff puts a task of a cook off, for all who look at it.
func (s *Store) PutOff(ctx context.Context, who, cookID int64, task string, until time.Time) error {
	_, err := s.pool.Exec(ctx, "insert into postponed (cook_id, task, until, recorded_by) values ($1, $2, $3, $4)", cookID, task, until, who)
	return err
}

// PutsOff lists the last word on each task that was put off.
func (s *Store) PutsOff(ctx context.Context, cookID int64) ([]plan.PutOff, error) {
	return collect[plan.PutOff](ctx, s.pool, `select distinct on (o.task) o.task, o.until, p.name as by from postponed o join people p on p.id = o.recorded_by
		where o.cook_id = $1 order by o.task, o.id desc`, cookID)
}
