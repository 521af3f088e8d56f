package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/pit"
)

// Holder is a warm box or cooler of the barn.
type Holder struct {
	ID       int64  `json:"id"`
	Name     string `json:"name"`
	Capacity *int   `json:"capacity"` // cuts it takes; null is not known

	LowestC     *float64 `json:"lowest_c"` // that its dial goes to; null is not known
	LowestTyped string   `json:"lowest_typed"`

	ReadTo *time.Time `json:"read_to"` // its last calibration stands so long; null: there is none
}

const holderColumns = `id, name, capacity, lowest_c, lowest_typed, (select max(saved_at + make_interval(months => months)) from calibrations c
	where c.holder_id = holders.id and saved_at is not null and voided_at is null) as read_to`

// HolderRun is a holder in use for a cook.
type HolderRun struct {
	ID       int64   `json:"id"`
	CookID   int64   `json:"cook_id"`
	HolderID int64   `json:"holder_id"`
	Holder   string  `json:"holder"`
	SetC     float64 `json:"set_c"` // 0 is not said
	SetTyped string  `json:"set_typed"`
	Powered  bool    `json:"-"` // it has a dial, for all that is known
	Reads    bool    `json:"-"` // its last calibration before the table stood then, near its set point, and passed
}

// Holders lists the barn's holders.
func (s *Store) Holders(ctx context.Context) ([]Holder, error) {
	return collect[Holder](ctx, s.pool, "select "+holderColumns+" from holders order by name")
}

// AddHolder adds a holder; ErrConflict if the name is taken.
func (s *Store) AddHolder(ctx context.Context, name string) (h Holder, err error) {
	h.Name = name
	err = s.pool.QueryRow(ctx, "insert into holders (name) values ($1) returning id", name).Scan(&h.ID)
	if IsUnique(err, "") {
		return h, ErrConflict
	}
	return h, err
}

// HolderRuns lists the holder runs of the cooks of trials.
func (s *Store) HolderRuns(ctx context.Context, trialIDs ...int64) ([]HolderRun, error) {
	return collect[HolderRun](ctx, s.pool, `select r.id, k.id as cook_id, r.holder_id, h.name as holder, coalesce(r.set_point_c,
		0) as set_c, coalesce(r.set_point_typed, '') as set_typed,
		r.set_point_c is not null or h.lowest_c is not null or exists (select from calibrations c where c.holder_id = h.id and c.voided_at is null) as powered,
		coalesce((select c.passes and abs(c.settles_c - r.set_point_c) <= $2
			and c.saved_at + make_interval(months => c.months) > k.serve_at from calibrations c
			where c.holder_id = r.holder_id and c.voided_at is null and c.saved_at <= k.serve_at order by c.saved_at desc limit 1), false) as reads
		from holder_runs r join holders h on h.id = r.holder_id join cook_holder_runs cr on cr.holder_run_id = r.id join cooks k on k.id = cr.cook_id
		where k.trial_id = any($1) order by r.id`, trialIDs, pit.PassC)
}

// HolderRunFor is the run of a holder for a cook, begun when there is none.
func (s *Store) HolderRunFor(ctx context.Context, cookID, holderID int64) (id int64, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		id, err = holderRunFor(ctx, tx, cookID, holderID)
		return err
	})
	return id, err
}

func holderRunFor(ctx context.Context, q querier, cookID, holderID int64) (id int64, err error) {
	err = q.QueryRow(ctx, `select r.id from holder_runs r join cook_holder_runs cr on cr.holder_run_id = r.id
		where cr.cook_id = $1 and r.holder_id = $2 order by r.id limit 1`, cookID, holderID).Scan(&id)
	if found(err) != ErrNotFound {
		return id, err
	}
	return beginHolderRun(ctx, q, cookID, holderID)
}

func beginHolderRun(ctx context.Context, q querier, cookID, holderID int64) (id int64, err error) {
	if err := q.QueryRow(ctx, "insert into holder_runs (holder_id) select id from holders where id = $1 returning id", holderID).Scan(&id); err != nil {
		return 0, found(err)
	}
	_, err = q.Exec(ctx, "insert into cook_holder_runs (cook_id, holder_run_id) values ($1, $2)", cookID, id)
	return id, err
}

// SetHolder says how many cuts a holder takes, and how low its dial goes.
func (s *Store) SetHolder(ctx context.Context, who int64, h Holder) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := one[Holder](ctx, tx, "select "+holderColumns+" from holders where id = $1 for update", h.ID)
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "update holders set capacity = $2, lowest_c = $3, lowest_typed = $4 where id = $1", h.ID, h.Capacity,
			h.LowestC, h.LowestTyped); err != nil {
			return err
		}
		return change(ctx, tx, who, "holder", h.ID, before, h, "")
	})
}
