package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/design"
)

// Allotment is a recorded draw of arms.
type Allotment struct {
	TrialID   int64           `json:"-"`
	ID        int64           `json:"id"`
	Seed      int64           `json:"seed"`
	Arms      map[int64]int64 `json:"arms"` // arm by cut
	MaxSMD    float64         `json:"max_smd"`
	BestSMD   float64         `json:"best_smd"`
	Looked    int             `json:"looked"`
	Qualified int             `json:"qualified"`
	DrawnFrom int             `json:"drawn_from"` // allotments; 0 is not known
	AllSeen   bool            `json:"all_seen"`
	By        string          `json:"by"`
	At        time.Time       `json:"at"`
}

// AllotmentOf is a draw by a seed as it is recorded, with no cut in an arm yet.
func AllotmentOf(d design.Allotment, seed int64) Allotment {
	return Allotment{Seed: seed, Arms: map[int64]int64{}, MaxSMD: d.MaxSMD, BestSMD: d.BestSMD, Looked: d.Looked,
		Qualified: d.Qualified, DrawnFrom: d.From, AllSeen: d.All}
}

// Allotments lists the draws of trials, the last first.
func (s *Store) Allotments(ctx context.Context, trialIDs ...int64) ([]Allotment, error) {
	return collect[Allotment](ctx, s.pool,
		`select a.trial_id, a.id, a.seed, a.arms, a.max_smd, a.best_smd, a.looked, a.qualified, a.drawn_from, a.all_seen, p.name as by, a.drawn_at as at
		from allotments a join people p on p.id = a.drawn_by where a.trial_id = any($1) order by a.id desc`, trialIDs)
}

// Allot records a draw and puts the cuts into its arms.
func (s *Store) Allot(ctx context.Context, who, trialID int64, a Allotment) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		// Two hands drawing at the same moment take turns, or the arms of one would stand beside the other's draw.
		if _, err := tx.Exec(ctx, "select 1 from trials where id = $1 for update", trialID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `insert into allotments (trial_id, seed, arms, max_smd, best_smd, looked, qualified, drawn_from, all_seen, drawn_by)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
			trialID, a.Seed, a.Arms, a.MaxSMD, a.BestSMD, a.Looked, a.Qualified, a.DrawnFrom, a.AllSeen, who)
		if err != nil {
			return err
		}
		// What the first draw planned is what the verdict is read at.
		if _, err := tx.Exec(ctx, `update trials set planned_units = $2 / greatest(1, (select count(*) from arms where trial_id = $1 and voided_at is null)),
			planned_cooks = nullif((hand->>'cook_days')::int, 0) where id = $1 and planned_units is null`, trialID, len(a.Arms)); err != nil {
			return err
		}
		return setArms(ctx, tx, who, a.Arms, "drawn by lot")
	})
}

// AcceptedFinding is a finding a trial is run with all the same, and the word given.
type AcceptedFinding struct {
	TrialID int64     `json:"-"`
	ID      int64     `json:"id"`
	Key     string    `json:"key"`
	Text    string    `json:"text"`
	Why     string    `json:"why"`
	By      string    `json:"by"`
	At      time.Time `json:"at"`
}

// AcceptedFindings lists what trials are knowingly run with.
func (s *Store) AcceptedFindings(ctx context.Context, trialIDs ...int64) ([]AcceptedFinding, error) {
	return collect[AcceptedFinding](ctx, s.pool, `select k.trial_id, k.id, k.key, k.text, k.why, p.name as by, k.recorded_at as at
		from accepted_findings k join people p on p.id = k.recorded_by where k.trial_id = any($1) and k.voided_at is null order by k.id`, trialIDs)
}

// AcceptFinding records the word for a finding, in place of an earlier one.
func (s *Store) AcceptFinding(ctx context.Context, who, trialID int64, k AcceptedFinding) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := supersede(ctx, tx, "accepted_findings", "trial_id = $1 and key = $2", who, trialID, k.Key); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, "insert into accepted_findings (trial_id, key, text, why, recorded_by) values ($1, $2, $3, $4, $5)", trialID, k.Key, k.Text, k.Why, who)
		return err
	})
}

// VoidAccepted takes the word back.
func (s *Store) VoidAccepted(ctx context.Context, who, id int64, why string) error {
	return void(ctx, s.pool, "accepted_findings", id, who, why)
}
