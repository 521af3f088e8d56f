package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"
)

// VoidImport takes the readings of an imported log out of all traces. They stay on record
// beside it; what its columns were said to measure goes with them where nothing else was
// read there, and is said anew where something was, so that no trace is kept from before.
func (s *Store) VoidImport(ctx context.Context, who, id int64, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if err := void(ctx, tx, "imports", id, who, why); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `with gone as (delete from readings r using imports i, probes p
				where i.id = $1 and p.device_id = i.device_id and r.probe_id = p.id and r.import_id = i.id returning r.probe_id, r.at, r.c, r.value, r.scale)
			insert into voided_readings (probe_id, at, c, value, scale, import_id) select probe_id, at, c, value, scale, $1 from gone`, id)
		if err != nil {
			return fmt.Errorf("set the readings aside: %w", err)
		}
		_, err = tx.Exec(ctx, `with of as (select a.* from probe_assignments a join imports i on i.id = $1
			join cooks own on own.id = i.cook_id join cooks k on k.id = a.cook_id and k.trial_id = own.trial_id
			join probes p on p.id = a.probe_id and p.device_id = i.device_id
				where a.voided_at is null and exists (select from voided_readings v where v.probe_id = a.probe_id and v.import_id = i.id)),
			gone as (update probe_assignments a set voided_at = now(), voided_by = $2, void_reason = 'its log was taken back' from of where a.id = of.id)
			insert into probe_assignments (probe_id, cook_id, cut_id, pit_run_id, holder_run_id, point, place, from_at, to_at, recorded_by)
			select probe_id, cook_id, cut_id, pit_run_id, holder_run_id, point, place, from_at, to_at, $2 from of
				where exists (select from readings r where r.probe_id = of.probe_id and r.at >= of.from_at and (of.to_at is null or r.at <= of.to_at))`, id, who)
		if err != nil {
			return fmt.Errorf("end what its columns measured: %w", err)
		}
		return nil
	})
}
