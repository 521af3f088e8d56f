package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/yield"
)

// WeighOut is one thing a cut came apart into.
type WeighOut struct {
	ID              int64       `json:"id"`
	CutID           int64       `json:"cut_id"`
	Share           yield.Share `json:"share"`
	Kg              float64     `json:"kg"`
	Typed           string      `json:"typed"`
	ResolutionKg    float64     `json:"resolution_kg"`
	ResolutionTyped string      `json:"resolution_typed"`
	Why             string      `json:"why"` // it was thrown away
	At              time.Time   `json:"at"`
	By              string      `json:"by"`
}

const weighOutColumns = `select w.id, w.cut_id, w.share, w.kg, w.typed, w.resolution_kg, w.resolution_typed, w.why, w.at, p.name as by
	from weigh_outs w join people p on p.id = w.recorded_by join cuts c on c.id = w.cut_id where w.voided_at is null and `

// WeighOuts lists what the cuts of trials came apart into.
func (s *Store) WeighOuts(ctx context.Context, trialIDs ...int64) ([]WeighOut, error) {
	return collect[WeighOut](ctx, s.pool, weighOutColumns+"c.trial_id = any($1) order by w.id", trialIDs)
}

// WeighOutsOf lists what one cut came apart into.
func (s *Store) WeighOutsOf(ctx context.Context, cutID int64) ([]WeighOut, error) {
	return collect[WeighOut](ctx, s.pool, weighOutColumns+"c.id = $1 order by w.id", cutID)
}

// WeighOut records a share in place of the cut's earlier one.
func (s *Store) WeighOut(ctx context.Context, who int64, w WeighOut) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select 1 from cuts where id = $1 for update", w.CutID); err != nil {
			return err
		}
		old, err := supersede(ctx, tx, "weigh_outs", "cut_id = $1 and share = $2", who, w.CutID, w.Share)
		if err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `insert into weigh_outs (cut_id, share, kg, typed, resolution_kg, resolution_typed, why, at, recorded_by,
			supersedes) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
			w.CutID, w.Share, w.Kg, w.Typed, w.ResolutionKg, w.ResolutionTyped, w.Why, w.At, who, old)
		return err
	})
}

// VoidWeighOut takes a share back; the cut it was of.
func (s *Store) VoidWeighOut(ctx context.Context, who, id int64, why string) (cutID int64, err error) {
	if err := s.pool.QueryRow(ctx, "select cut_id from weigh_outs where id = $1 and voided_at is null", id).Scan(&cutID); err != nil {
		return 0, found(err)
	}
	return cutID, void(ctx, s.pool, "weigh_outs", id, who, why)
}

// Leftover is what was left in a pit.
type Leftover struct {
	ID       int64    `json:"id"`
	PitRunID int64    `json:"pit_run_id"`
	What     Left     `json:"what"`
	Typed    string   `json:"typed"`
	Kg       *float64 `json:"kg"`
	ML       *float64 `json:"ml"`
	Share    *float64 `json:"share"` // of full
	State    string   `json:"state"`
	By       string   `json:"by"`
}

// Left is of what something was left.
type Left string

// Values lists them.
func (Left) Values() []string { return []string{"fuel", "wood", "water", "pan"} }

// Leftovers lists what was left in the pits of trials.
func (s *Store) Leftovers(ctx context.Context, trialIDs ...int64) ([]Leftover, error) {
	return s.leftovers(ctx, `l.pit_run_id = any(array(select cr.pit_run_id from cook_pit_runs cr join cooks k on k.id = cr.cook_id
		where k.trial_id = any($1)))`, trialIDs)
}

func (s *Store) leftovers(ctx context.Context, where string, ids []int64) ([]Leftover, error) {
	return collect[Leftover](ctx, s.pool, `select l.id, l.pit_run_id, l.what, l.typed, l.kg, l.ml, l.share, l.state, p.name as by
		from leftovers l join people p on p.id = l.recorded_by where l.voided_at is null and `+where+" order by l.id", ids)
}

// Leave records what was left in place of what was said before; nothing typed takes it back.
func (s *Store) Leave(ctx context.Context, who int64, l Leftover) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		old, err := supersede(ctx, tx, "leftovers", "pit_run_id = $1 and what = $2", who, l.PitRunID, l.What)
		if err != nil || l.Typed == "" {
			return err
		}
		_, err = tx.Exec(ctx, `insert into leftovers (pit_run_id, what, typed, kg, ml, share, state, recorded_by, supersedes) values ($1, $2,
			$3, $4, $5, $6, $7, $8, $9)`,
			l.PitRunID, l.What, l.Typed, l.Kg, l.ML, l.Share, l.State, who, old)
		return err
	})
}
