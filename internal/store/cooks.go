package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/pit"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// Pit is a smoker of the barn.
type Pit struct {
	ID           int64      `json:"id"`
	Name         string     `json:"name"`
	GrateColumns int        `json:"grate_columns"` // places across, lettered from A
	GrateRows    int        `json:"grate_rows"`    // places along, numbered from 1
	Kind         string     `json:"kind"`          // of the cook model's surroundings
	Burn         plan.Burn  `json:"burn"`
	Used         *pit.InUse `json:"used"` // as it is used; nil is not said
	Vents        []string   `json:"vents"`
	Capacity     []Load     `json:"capacity"`
	// Points are what the columns of a logger measure in it, as they were put last.
	Points map[string]string `json:"points"`
}

// Load is how many pieces a pit takes, loaded one way.
type Load struct {
	Piece  string `json:"piece"`
	Way    string `json:"way"` // flat, hung, on two shelves
	Number int    `json:"number"`
}

const pitColumns = "id, name, grate_columns, grate_rows, kind, burn, used, vents, capacity, points"

// Surroundings is what the pit is to the cook model.
func (r PitRun) Surroundings() thermal.Surroundings { return surroundingsOf(r.Kind) }

// surroundingsOf is a kind of pit; one the model does not know is any smoker.
func surroundingsOf(kind string) thermal.Surroundings {
	if s, err := thermal.SurroundingsOf(kind); err == nil {
		return s
	}
	return thermal.AllSurroundings[0]
}

// Cook is one outing of a trial for one serving.
type Cook struct {
	ID      int64     `json:"id"`
	TrialID int64     `json:"trial_id"`
	ServeAt time.Time `json:"serve_at"`
	Clock   trial.Clock
	Played  bool `json:"played"` // its devices are simulated by the server
}

// PitRun is a pit with its set-up for a cook.
type PitRun struct {
	ID            int64   `json:"id"`
	CookID        int64   `json:"cook_id"`
	PitID         int64   `json:"pit_id"`
	Pit           string  `json:"pit"`
	Setup         string  `json:"setup"`
	SetPointC     float64 `json:"set_point_c"`
	SetPointTyped string  `json:"set_point_typed"`
	GrateColumns  int     `json:"grate_columns"`
	GrateRows     int     `json:"grate_rows"`
	Kind          string  `json:"kind"`          // of the pit
	Levels        string  `json:"levels" db:"-"` // set on the run, of all its cuts

	// Of a trial of set-ups: the one that is burned, and from when to when.
	ArmID  *int64     `json:"arm_id"`
	LitAt  *time.Time `json:"lit_at"`
	OverAt *time.Time `json:"over_at"`

	Used *pit.InUse `json:"used"` // what burns told of the pit as it is used
}

// Placement is where a cut stands.
type Placement struct {
	ID          int64  `json:"id"`
	CutID       int64  `json:"cut_id"`
	CookID      int64  `json:"cook_id"`
	PitRunID    *int64 `json:"pit_run_id"`
	HolderRunID *int64 `json:"holder_run_id"`
	Position    string `json:"position"`
}

// CookPlan is what Plan records of a cook. Runs with an id are changed, those
// without are made; a placement names its run by place in the list.
type CookPlan struct {
	ServeAt    time.Time
	Runs       []PitRun
	Placements []PlannedPlacement
	Outline    *plan.Outline // nil leaves the trial's as it is
	Holds      []PlannedHold // with an outline
}

// PlannedPlacement puts a cut in the nth run of a plan.
type PlannedPlacement struct {
	CutID    int64
	Run      int
	Position string
}

// Pits lists the barn's pits.
func (s *Store) Pits(ctx context.Context) ([]Pit, error) {
	return collect[Pit](ctx, s.pool, "select "+pitColumns+" from pits order by name")
}

// AddPit adds a pit; ErrConflict if the name is taken.
func (s *Store) AddPit(ctx context.Context, name string) (p Pit, err error) {
	p, err = one[Pit](ctx, s.pool, "insert into pits (name) values ($1) returning "+pitColumns, name)
	if IsUnique(err, "") {
		return p, ErrConflict
	}
	return p, err
}

// SetPit changes a pit: its grate, its kind or what it burns.
func (s *Store) SetPit(ctx context.Context, who, id int64, to func(*Pit)) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := one[Pit](ctx, tx, "select "+pitColumns+" from pits where id = $1 for update", id)
		if err != nil {
			return err
		}
		p := before
		to(&p)
		if _, err := tx.Exec(ctx, `update pits set grate_columns = $2, grate_rows = $3, kind = $4, burn = $5, used = $6, vents = $7,
			capacity = $8, points = $9 where id = $1`, id, p.GrateColumns, p.GrateRows, p.Kind, p.Burn, p.Used, p.Vents, p.Capacity,
			p.Points); err != nil {
			return err
		}
		return change(ctx, tx, who, "pit", id, before, p, "")
	})
}

// Cooks lists the cooks of trials in order of serving.
func (s *Store) Cooks(ctx context.Context, trialIDs ...int64) ([]Cook, error) {
	return s.cooks(ctx, "trial_id = any($1)", trialIDs)
}

// Cook reads one cook.
func (s *Store) Cook(ctx context.Context, id int64) (Cook, error) {
	c, err := s.cooks(ctx, "id = $1", id)
	if err == nil && len(c) == 0 {
		return Cook{}, ErrNotFound
	}
	if err != nil {
		return Cook{}, err
	}
	return c[0], nil
}

func (s *Store) cooks(ctx context.Context, where string, arg any) ([]Cook, error) {
	rows, err := s.pool.Query(ctx, "select id, trial_id, serve_at, clock_origin, clock_start, clock_rate, played from cooks where "+where+" order by serve_at, id", arg)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (c Cook, err error) {
		err = row.Scan(&c.ID, &c.TrialID, &c.ServeAt, &c.Clock.Origin, &c.Clock.Start, &c.Clock.Rate, &c.Played)
		return c, err
	})
}

const runColumns = `select r.id, k.id as cook_id, r.pit_id, p.name as pit, r.setup, r.set_point_c, r.set_point_typed, p.grate_columns,
	p.grate_rows, p.kind,
	r.arm_id, r.from_at as lit_at, r.to_at as over_at, p.used
	from pit_runs r join pits p on p.id = r.pit_id join cook_pit_runs cr on cr.pit_run_id = r.id join cooks k on k.id = cr.cook_id `

// PitRuns lists the pit runs of the cooks of trials.
func (s *Store) PitRuns(ctx context.Context, trialIDs ...int64) ([]PitRun, error) {
	return collect[PitRun](ctx, s.pool, runColumns+"where k.trial_id = any($1) order by r.id", trialIDs)
}

// Placements lists where the cuts of trials stand.
func (s *Store) Placements(ctx context.Context, trialIDs ...int64) ([]Placement, error) {
	return collect[Placement](ctx, s.pool, `select l.id, l.cut_id, l.cook_id, l.pit_run_id, l.holder_run_id, l.position
		from placements l join cooks k on k.id = l.cook_id where k.trial_id = any($1) and l.voided_at is null order by l.id`, trialIDs)
}

// CreateCook plans a new cook, with a clock of its own.
func (s *Store) CreateCook(ctx context.Context, who, trialID int64, p CookPlan, c trial.Clock) (id int64, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, "insert into cooks (trial_id, serve_at, clock_origin, clock_start, clock_rate, created_by) values ($1, $2, $3, $4, $5, $6) returning id",
			trialID, p.ServeAt, c.Origin, c.Start, c.Rate, who).Scan(&id)
		if err != nil {
			return err
		}
		return writePlan(ctx, tx, who, trialID, id, p)
	})
	return id, err
}

// SetCook changes the plan of a cook; what it was stays in the record.
func (s *Store) SetCook(ctx context.Context, who, id int64, p CookPlan) error {
	before, err := s.Cook(ctx, id)
	if err != nil {
		return err
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "update cooks set serve_at = $2 where id = $1", id, p.ServeAt); err != nil {
			return err
		}
		if err := change(ctx, tx, who, "cook", id, before, p, ""); err != nil {
			return err
		}
		return writePlan(ctx, tx, who, before.TrialID, id, p)
	})
}

func writePlan(ctx context.Context, q querier, who, trialID, cookID int64, p CookPlan) error {
	ids := make([]int64, len(p.Runs))
	for i, r := range p.Runs {
		if r.ID == 0 {
			err := q.QueryRow(ctx, `insert into pit_runs (pit_id, setup, set_point_c, set_point_typed, arm_id, from_at, to_at)
				values ($1, $2, $3, $4, $5, $6, $7) returning id`, r.PitID, r.Setup, r.SetPointC, r.SetPointTyped, r.ArmID, r.LitAt,
				r.OverAt).Scan(&r.ID)
			if err != nil {
				return err
			}
			if _, err := q.Exec(ctx, "insert into cook_pit_runs (cook_id, pit_run_id) values ($1, $2)", cookID, r.ID); err != nil {
				return err
			}
		} else {
			tag, err := q.Exec(ctx, `update pit_runs set pit_id = $3, setup = $4, set_point_c = $5, set_point_typed = $6, arm_id = $7,
				from_at = $8, to_at = $9
				where id = $2 and exists (select from cook_pit_runs where cook_id = $1 and pit_run_id = $2)`, cookID, r.ID, r.PitID, r.Setup,
				r.SetPointC,
				r.SetPointTyped, r.ArmID, r.LitAt, r.OverAt)
			if err != nil {
				return err
			}
			if tag.RowsAffected() == 0 {
				return ErrNotFound
			}
		}
		ids[i] = r.ID
	}
	kept := []int64{}
	for _, l := range p.Placements {
		kept = append(kept, l.CutID)
		if err := putCut(ctx, q, who, l.CutID, cookID, ids[l.Run], l.Position); err != nil {
			return err
		}
	}
	if _, err := q.Exec(ctx, `update placements set voided_at = now(), voided_by = $2, void_reason = 'taken out of the cook'
		where cook_id = $1 and pit_run_id is not null and voided_at is null and cut_id <> all($3)`, cookID, who, kept); err != nil {
		return err
	}
	if p.Outline == nil {
		return nil
	}
	if err := keepOutline(ctx, q, who, trialID, *p.Outline); err != nil {
		return err
	}
	return writeHolds(ctx, q, who, cookID, p.Holds)
}

// BeginRun takes another pit for a cook.
func (s *Store) BeginRun(ctx context.Context, cookID int64, r PitRun) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, "insert into pit_runs (pit_id, setup, set_point_c, set_point_typed) values ($1, $2, $3, $4) returning id",
			r.PitID, r.Setup, r.SetPointC, r.SetPointTyped).Scan(&r.ID)
		if err != nil {
			return err
		}
		_, err = tx.Exec(ctx, "insert into cook_pit_runs (cook_id, pit_run_id) values ($1, $2)", cookID, r.ID)
		return err
	})
}

// putCut puts a cut into a place, unless it stands there already.
func putCut(ctx context.Context, q querier, who, cutID, cookID, runID int64, position string) error {
	old, err := one[Placement](ctx, q, "select id, cut_id, cook_id, pit_run_id, holder_run_id, position from placements where cut_id = $1 and pit_run_id is not null and voided_at is null", cutID)
	if err != nil && err != ErrNotFound {
		return err
	}
	if err == nil && old.CookID == cookID && *old.PitRunID == runID && old.Position == position {
		return nil
	}
	var supersedes *int64
	if err == nil {
		supersedes = &old.ID
		if err := void(ctx, q, "placements", old.ID, who, "superseded"); err != nil {
			return err
		}
	}
	_, err = q.Exec(ctx, "insert into placements (cut_id, cook_id, pit_run_id, position, recorded_by, supersedes) values ($1, $2, $3, $4, $5, $6)", cutID, cookID, runID, position, who, supersedes)
	return err
}

// RunArm is an arm that has a cut on a pit run.
type RunArm struct {
	RunID int64
	Pit   string
	ArmID int64
}

// RunArms lists them for a trial.
func (s *Store) RunArms(ctx context.Context, trialID int64) ([]RunArm, error) {
	return collect[RunArm](ctx, s.pool, `select distinct x.pit_run_id as run_id, p.name as pit, c.arm_id from placements x
		join cuts c on c.id = x.cut_id and c.voided_at is null join pit_runs r on r.id = x.pit_run_id join pits p on p.id = r.pit_id
		where c.trial_id = $1 and c.arm_id is not null and x.voided_at is null order by 1, 3`, trialID)
}

// SwapPits lets two pit runs change pits; levels, cuts and places stay with the run.
func (s *Store) SwapPits(ctx context.Context, who, a, b int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var first, second int64
		if err := tx.QueryRow(ctx, "select x.pit_id, y.pit_id from pit_runs x, pit_runs y where x.id = $1 and y.id = $2", a, b).Scan(&first, &second); err != nil {
			return err
		}
		for _, c := range [][3]int64{{a, first, second}, {b, second, first}} {
			if _, err := tx.Exec(ctx, "update pit_runs set pit_id = $2 where id = $1", c[0], c[2]); err != nil {
				return err
			}
			err := change(ctx, tx, who, "pit run", c[0], map[string]int64{"pit_id": c[1]}, map[string]int64{"pit_id": c[2]}, "set-ups swapped")
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// MoveMeal sets the table of a cook at another time.
func (s *Store) MoveMeal(ctx context.Context, who, cookID int64, at time.Time) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var before time.Time
		if err := tx.QueryRow(ctx, "select serve_at from cooks where id = $1 for update", cookID).Scan(&before); err != nil {
			return found(err)
		}
		if _, err := tx.Exec(ctx, "update cooks set serve_at = $2 where id = $1", cookID, at); err != nil {
			return err
		}
		return change(ctx, tx, who, "cook", cookID, map[string]time.Time{"serve_at": before}, map[string]time.Time{"serve_at": at},
			"the meal was moved")
	})
}

// PutCuts puts cuts into places of pit runs, all or none.
func (s *Store) PutCuts(ctx context.Context, who int64, places []Placement) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, l := range places {
			if err := putCut(ctx, tx, who, l.CutID, l.CookID, *l.PitRunID, l.Position); err != nil {
				return err
			}
		}
		return nil
	})
}
