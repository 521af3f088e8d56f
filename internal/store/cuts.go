package store

import (
	"context"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/safety"
	"whitebarn/core/yield"
)

// Cut is one piece of meat, whole or a part of a divided one.
type Cut struct {
	ID         int64  `json:"id"`
	TrialID    int64  `json:"-"`
	Name       string `json:"name"`
	Pair       string `json:"pair"` // its block: what it is alike with
	Animal     string `json:"animal"`
	Side       string `json:"side"`
	Batch      string `json:"batch"`
	ArmID      *int64 `json:"arm_id"`
	Lot        string `json:"lot"`
	Grade      string `json:"grade"`
	Section    string `json:"section"` // end, middle, point, flat
	Bone       string `json:"bone"`    // in, out or not said
	PriceCents *int   `json:"price_cents"`
	ParentID   *int64 `json:"parent_id"` // of a part: the cut it was divided from
	Together   bool   `json:"together"`  // of a part: goes into one arm with the others

	OnSpecies  safety.Species  `json:"-"` // what it went on the fire as; empty is not known
	OnHandling safety.Handling `json:"-"`
}

// Dimension is a length or the fridge temperature of a cut as typed, in metres
// or degrees Celsius.
type Dimension struct {
	CutID int64   `json:"cut_id"`
	Kind  string  `json:"kind"`
	Value float64 `json:"value"`
	Typed string  `json:"typed"`
}

// MeasureValue is the typed value of an outcome on a cut.
type MeasureValue struct {
	CutID int64   `json:"cut_id"`
	Key   string  `json:"key"`
	Value float64 `json:"value"`
}

// Weighing is a weight as typed, with its canonical value.
type Weighing struct {
	ID              int64       `json:"id"`
	CutID           int64       `json:"cut_id"`
	Stage           yield.Stage `json:"stage"`
	Kg              float64     `json:"kg"`
	Typed           string      `json:"typed"`
	ResolutionKg    float64     `json:"resolution_kg"`
	ResolutionTyped string      `json:"resolution_typed"`
	At              time.Time   `json:"at"`
	By              string      `json:"by"`
}

// GateReason is a pitmaster's reason to serve a cut.
type GateReason struct {
	CutID  int64     `json:"cut_id"`
	Reason string    `json:"reason"`
	By     string    `json:"by"`
	At     time.Time `json:"at"`
}

const cutColumns = "select id, trial_id, name, pair, animal, side, batch, arm_id, lot, grade, section, bone, price_cents, parent_id, together, on_species, on_handling from "

// Cuts lists the pieces of trials, blocks together: cuts that were not divided and
// the parts of those that were.
func (s *Store) Cuts(ctx context.Context, trialIDs ...int64) ([]Cut, error) {
	return collect[Cut](ctx, s.pool, cutColumns+`pieces where trial_id = any($1)
		order by pair = '', length(pair), pair, length(name), name, id`, trialIDs)
}

// Divided lists the cuts of trials that were divided.
func (s *Store) Divided(ctx context.Context, trialIDs ...int64) ([]Cut, error) {
	return collect[Cut](ctx, s.pool, cutColumns+`cuts c where trial_id = any($1) and voided_at is null
		and exists (select from cuts part where part.parent_id = c.id and part.voided_at is null) order by length(name), name, id`, trialIDs)
}

// Cut reads one cut.
func (s *Store) Cut(ctx context.Context, id int64) (Cut, error) {
	return one[Cut](ctx, s.pool, cutColumns+"cuts where id = $1 and voided_at is null", id)
}

// AddCut hangs a cut; ErrConflict if the name is taken.
func (s *Store) AddCut(ctx context.Context, who, trialID int64, c Cut) (id int64, err error) {
	return addCut(ctx, s.pool, who, trialID, c)
}

func addCut(ctx context.Context, q querier, who, trialID int64, c Cut) (id int64, err error) {
	err = q.QueryRow(ctx, `insert into cuts (trial_id, name, pair, animal, side, batch, arm_id, lot, grade, section, bone, price_cents, parent_id, together, recorded_by)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) returning id`,
		trialID, c.Name, c.Pair, c.Animal, c.Side, c.Batch, c.ArmID, c.Lot, c.Grade, c.Section, c.Bone, c.PriceCents, c.ParentID, c.Together, who).Scan(&id)
	if IsUnique(err, "cuts_name") {
		return 0, ErrConflict
	}
	return id, err
}

// Divide makes parts of a cut, which inherit what it is.
func (s *Store) Divide(ctx context.Context, who, trialID int64, parts []Cut) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, p := range parts {
			if _, err := addCut(ctx, tx, who, trialID, p); err != nil {
				return err
			}
		}
		// A whole that is no longer cooked stands in no pit.
		return voidPlacements(ctx, tx, who, *parts[0].ParentID, "divided")
	})
}

// SetCut changes a cut; what it was stays in the changes.
func (s *Store) SetCut(ctx context.Context, who int64, c Cut) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := one[Cut](ctx, tx, cutColumns+"cuts where id = $1 and voided_at is null for update", c.ID)
		if err != nil {
			return err
		}
		c.ParentID, c.Together = before.ParentID, before.Together
		_, err = tx.Exec(ctx, `update cuts set name = $2, pair = $3, animal = $4, side = $5, batch = $6, arm_id = $7, lot = $8, grade = $9, section = $10, bone = $11, price_cents = $12
			where id = $1`, c.ID, c.Name, c.Pair, c.Animal, c.Side, c.Batch, c.ArmID, c.Lot, c.Grade, c.Section, c.Bone, c.PriceCents)
		if IsUnique(err, "cuts_name") {
			return ErrConflict
		}
		if err != nil {
			return err
		}
		return change(ctx, tx, who, "cut", c.ID, before, c, "")
	})
}

// SetArms puts cuts into arms, all or none.
func (s *Store) SetArms(ctx context.Context, who int64, arms map[int64]int64, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error { return setArms(ctx, tx, who, arms, why) })
}

func setArms(ctx context.Context, q querier, who int64, arms map[int64]int64, why string) error {
	for id, arm := range arms {
		before, err := one[Cut](ctx, q, cutColumns+"cuts where id = $1 and voided_at is null for update", id)
		if err != nil {
			return err
		}
		if before.ArmID != nil && *before.ArmID == arm {
			continue
		}
		if _, err := q.Exec(ctx, "update cuts set arm_id = $2 where id = $1", id, arm); err != nil {
			return err
		}
		after := before
		after.ArmID = &arm
		if err := change(ctx, q, who, "cut", id, before, after, why); err != nil {
			return err
		}
	}
	return nil
}

// SetBlocks writes the blocks of cuts.
func (s *Store) SetBlocks(ctx context.Context, who int64, blocks map[int64]string, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for id, block := range blocks {
			before, err := one[Cut](ctx, tx, cutColumns+"cuts where id = $1 and voided_at is null for update", id)
			if err != nil {
				return err
			}
			if _, err := tx.Exec(ctx, "update cuts set pair = $2 where id = $1", id, block); err != nil {
				return err
			}
			after := before
			after.Pair = block
			if err := change(ctx, tx, who, "cut", id, before, after, why); err != nil {
				return err
			}
		}
		return nil
	})
}

func voidPlacements(ctx context.Context, q querier, who, cutID int64, why string) error {
	_, err := q.Exec(ctx, "update placements set voided_at = now(), voided_by = $2, void_reason = $3 where cut_id = $1 and voided_at is null", cutID, who, why)
	return err
}

// VoidCut takes a cut out of the trial, with its placements.
func (s *Store) VoidCut(ctx context.Context, who, id int64, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if err := void(ctx, tx, "cuts", id, who, why); err != nil {
			return err
		}
		return voidPlacements(ctx, tx, who, id, why)
	})
}

const weighingColumns = `select w.id, w.cut_id, w.stage, w.kg, w.typed, w.resolution_kg, w.resolution_typed, w.at, p.name as by
	from weighings w join people p on p.id = w.recorded_by join cuts c on c.id = w.cut_id where w.voided_at is null and `

// Weighings lists the current weighings of trials.
func (s *Store) Weighings(ctx context.Context, trialIDs ...int64) ([]Weighing, error) {
	return collect[Weighing](ctx, s.pool, weighingColumns+"c.trial_id = any($1) order by w.id", trialIDs)
}

// WeighingsOf lists the current weighings of a cut.
func (s *Store) WeighingsOf(ctx context.Context, cutID int64) ([]Weighing, error) {
	return collect[Weighing](ctx, s.pool, weighingColumns+"c.id = $1 order by w.id", cutID)
}

// supersede voids the current row of a table that matches where, and returns
// its id for the row that takes its place; nil if there was none.
func supersede(ctx context.Context, q querier, table, where string, who int64, args ...any) (*int64, error) {
	var id int64
	err := q.QueryRow(ctx, "select id from "+table+" where voided_at is null and "+where+" for update", args...).Scan(&id)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return &id, void(ctx, q, table, id, who, "superseded")
}

// Weigh records a weighing in place of the cut's earlier one at that stage.
func (s *Store) Weigh(ctx context.Context, who int64, w Weighing) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		// Two hands weighing one cut at the same moment take turns.
		if _, err := tx.Exec(ctx, "select 1 from cuts where id = $1 for update", w.CutID); err != nil {
			return err
		}
		old, err := supersede(ctx, tx, "weighings", "cut_id = $1 and stage = $2", who, w.CutID, w.Stage)
		if err != nil {
			return err
		}
		_, err = tx.Exec(ctx, "insert into weighings (cut_id, stage, kg, typed, resolution_kg, resolution_typed, at, recorded_by, supersedes) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
			w.CutID, w.Stage, w.Kg, w.Typed, w.ResolutionKg, w.ResolutionTyped, w.At, who, old)
		return err
	})
}

// VoidWeighing takes a weighing back.
func (s *Store) VoidWeighing(ctx context.Context, who, id int64, why string) error {
	return void(ctx, s.pool, "weighings", id, who, why)
}

// GateReasons lists the current ones of trials.
func (s *Store) GateReasons(ctx context.Context, trialIDs ...int64) ([]GateReason, error) {
	return collect[GateReason](ctx, s.pool, `select g.cut_id, g.reason, p.name as by, g.recorded_at as at
		from gate_reasons g join people p on p.id = g.recorded_by join cuts c on c.id = g.cut_id where g.voided_at is null and c.trial_id = any($1)`, trialIDs)
}

// SetGateReason records a pitmaster's reason for cuts.
func (s *Store) SetGateReason(ctx context.Context, who int64, reason string, cutIDs ...int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, id := range cutIDs {
			if _, err := supersede(ctx, tx, "gate_reasons", "cut_id = $1", who, id); err != nil {
				return err
			}
		}
		_, err := tx.Exec(ctx, "insert into gate_reasons (cut_id, reason, recorded_by) select unnest($1::bigint[]), $2, $3", cutIDs, reason, who)
		return err
	})
}

// UndoGateReason takes a reason back that was given for cuts within ten minutes;
// ErrNotFound if there is none.
func (s *Store) UndoGateReason(ctx context.Context, who int64, cutIDs ...int64) error {
	tag, err := s.pool.Exec(ctx, `update gate_reasons set voided_at = now(), voided_by = $2, void_reason = 'undone'
		where cut_id = any($1) and voided_at is null and recorded_at > now() - `+undoFor, cutIDs, who)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}

// Dimensions lists the current ones of trials.
func (s *Store) Dimensions(ctx context.Context, trialIDs ...int64) ([]Dimension, error) {
	return collect[Dimension](ctx, s.pool, `select d.cut_id, d.kind, d.value, d.typed from dimensions d join cuts c on c.id = d.cut_id
		where d.voided_at is null and c.trial_id = any($1) order by d.id`, trialIDs)
}

// SetDimension records one in place of an earlier one; an empty text takes it back.
func (s *Store) SetDimension(ctx context.Context, who int64, d Dimension) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select 1 from cuts where id = $1 for update", d.CutID); err != nil {
			return err
		}
		old, err := supersede(ctx, tx, "dimensions", "cut_id = $1 and kind = $2", who, d.CutID, d.Kind)
		if err != nil || d.Typed == "" {
			return err
		}
		_, err = tx.Exec(ctx, "insert into dimensions (cut_id, kind, value, typed, recorded_by, supersedes) values ($1, $2, $3, $4, $5, $6)", d.CutID, d.Kind, d.Value, d.Typed, who, old)
		return err
	})
}

// Measures lists the current typed values of outcomes of trials.
func (s *Store) Measures(ctx context.Context, trialIDs ...int64) ([]MeasureValue, error) {
	return collect[MeasureValue](ctx, s.pool, `select m.cut_id, m.key, m.value from measures m join cuts c on c.id = m.cut_id
		where m.voided_at is null and c.trial_id = any($1) order by m.id`, trialIDs)
}

// Measured says whether an outcome of a cut was typed.
func (s *Store) Measured(ctx context.Context, cutID int64, key string) (there bool, err error) {
	err = s.pool.QueryRow(ctx, "select exists (select from measures where cut_id = $1 and key = $2 and voided_at is null)", cutID, key).Scan(&there)
	return there, err
}

// SetMeasure records one in place of an earlier one; nil takes it back.
func (s *Store) SetMeasure(ctx context.Context, who, cutID int64, key string, value *float64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select 1 from cuts where id = $1 for update", cutID); err != nil {
			return err
		}
		old, err := supersede(ctx, tx, "measures", "cut_id = $1 and key = $2", who, cutID, key)
		if err != nil || value == nil {
			return err
		}
		_, err = tx.Exec(ctx, "insert into measures (cut_id, key, value, recorded_by, supersedes) values ($1, $2, $3, $4, $5)", cutID, key, *value, who, old)
		return err
	})
}
