package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/pit"
)

// Calibration is a covered pan of water in a holder: while it is in, and what it told.
type Calibration struct {
	ID          int64      `json:"id"`
	HolderID    int64      `json:"holder_id"`
	ProbeID     int64      `json:"probe_id"`
	Channel     string     `json:"channel"`
	DialC       float64    `json:"dial_c"`
	DialTyped   string     `json:"dial_typed"`
	TargetC     float64    `json:"target_c"`
	TargetTyped string     `json:"target_typed"`
	Months      int        `json:"months"` // it stands for
	PutIn       time.Time  `json:"put_in_at"`
	Saved       *time.Time `json:"saved_at"` // nil: the pan is in
	SettlesC    *float64   `json:"settles_c"`
	HalfC       *float64   `json:"half_c"` // it is known to, 9 times in 10
	RippleC     *float64   `json:"ripple_c"`
	Passes      *bool      `json:"passes"`
	By          string     `json:"by"`
}

const calibrationColumns = `select k.id, k.holder_id, k.probe_id, pr.channel, k.dial_c, k.dial_typed, k.target_c, k.target_typed,
	k.months, k.put_in_at as put_in,
	k.saved_at as saved, k.settles_c, k.half_c, k.ripple_c, k.passes, p.name as by
	from calibrations k join people p on p.id = k.recorded_by join probes pr on pr.id = k.probe_id where k.voided_at is null and `

// Calibrations lists those of a holder, latest first; 0 is of all.
func (s *Store) Calibrations(ctx context.Context, holderID int64) ([]Calibration, error) {
	return collect[Calibration](ctx, s.pool, calibrationColumns+"(k.holder_id = $1 or $1 = 0) order by k.put_in_at desc, k.id desc", holderID)
}

// Known is what the saved ones of a holder told, in their order.
func Known(all []Calibration, holderID int64) (out []pit.Known) {
	for _, k := range all {
		if k.HolderID == holderID && k.Saved != nil {
			out = append(out, pit.Known{DialC: k.DialC, SettlesC: *k.SettlesC, HalfC: *k.HalfC, RippleC: *k.RippleC, Passes: *k.Passes,
				Saved: *k.Saved, Months: k.Months})
		}
	}
	return out
}

// Calibration finds one.
func (s *Store) Calibration(ctx context.Context, id int64) (Calibration, error) {
	return one[Calibration](ctx, s.pool, calibrationColumns+"k.id = $1", id)
}

// PutIn begins a calibration; ErrConflict if a pan is in that holder already.
func (s *Store) PutIn(ctx context.Context, who int64, k Calibration) error {
	_, err := s.pool.Exec(ctx, `insert into calibrations (holder_id, probe_id, dial_c, dial_typed, target_c, target_typed, months,
		put_in_at, recorded_by)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`, k.HolderID, k.ProbeID, k.DialC, k.DialTyped, k.TargetC, k.TargetTyped, k.Months, k.PutIn,
		who)
	if IsUnique(err, "") {
		return ErrConflict
	}
	return err
}

// SaveCalibration keeps what an open one told.
func (s *Store) SaveCalibration(ctx context.Context, who int64, k Calibration) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `update calibrations set saved_at = $2, settles_c = $3, half_c = $4, ripple_c = $5,
			passes = $6 where id = $1 and saved_at is null and voided_at is null`,
			k.ID, k.Saved, k.SettlesC, k.HalfC, k.RippleC, k.Passes)
		if err == nil && tag.RowsAffected() == 0 {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		return change(ctx, tx, who, "calibration", k.ID, nil, k, "")
	})
}

// VoidCalibration takes one back.
func (s *Store) VoidCalibration(ctx context.Context, who, id int64, why string) error {
	return void(ctx, s.pool, "calibrations", id, who, why)
}

// Hold is a use of a holder for a cook.
type Hold struct {
	TrialID  int64     `json:"trial_id"`
	Question string    `json:"question"`
	CookID   int64     `json:"cook_id"`
	RunID    int64     `json:"run_id"`
	ServeAt  time.Time `json:"serve_at"`
	SetC     float64   `json:"set_c"` // 0 is not said
	SetTyped string    `json:"set_typed"`
}

// HoldsOf lists the uses of a holder, latest table first; rehearsals are none.
func (s *Store) HoldsOf(ctx context.Context, holderID int64) ([]Hold, error) {
	return collect[Hold](ctx, s.pool, `select t.id as trial_id, t.question, k.id as cook_id, r.id as run_id, k.serve_at,
		coalesce(r.set_point_c, 0) as set_c, r.set_point_typed as set_typed
		from holder_runs r join cook_holder_runs cr on cr.holder_run_id = r.id join cooks k on k.id = cr.cook_id join trials t on t.id = k.trial_id
		where r.holder_id = $1 and t.rehearses_id is null order by k.serve_at desc, r.id desc limit 30`, holderID)
}
