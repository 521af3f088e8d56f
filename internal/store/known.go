package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// keepSizes keeps what a reading showed of its contrasts, over what an earlier one did.
func keepSizes(ctx context.Context, tx pgx.Tx, j Judgement) error {
	if _, err := tx.Exec(ctx, "delete from trial_effects where trial_id = $1", j.TrialID); err != nil {
		return err
	}
	for _, s := range j.Sizes {
		if _, err := tx.Exec(ctx, `insert into trial_effects (trial_id, first_level, second_level, key, estimate, se, df, units, word,
			reach, smallest, limited, setting)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) on conflict do nothing`, j.TrialID, s.First, s.Second, s.Key, s.Estimate, s.SE, s.DF, s.Units,
			s.Word, s.Reach, s.Smallest, s.Limited, s.Setting); err != nil {
			return err
		}
	}
	return nil
}

// KnownEffect is what a settled trial showed of two levels.
type KnownEffect struct {
	TrialID  int64
	Question string
	At       time.Time // its last cook
	First    int64
	Second   int64
	Key      trial.OutcomeKey
	Estimate float64
	SE       float64 `db:"se"`
	DF       int     `db:"df"`
	Units    float64
	Word     verdict.Word
	Reach    verdict.Reach
	Smallest float64
	Limited  string
	Setting  settle.Setting
}

// KnownEffects lists what settled trials of a product showed of levels of a factor, newest
// first; rehearsals are left out.
func (s *Store) KnownEffects(ctx context.Context, productID, factorID int64) ([]KnownEffect, error) {
	return collect[KnownEffect](ctx, s.pool, `select x.trial_id, t.question, coalesce((select max(k.serve_at) from cooks k where
		k.trial_id = t.id), t.revealed_at) as at, coalesce(a.merged_into, a.id) as first, coalesce(b.merged_into, b.id) as second,
		x.key, x.estimate, x.se, x.df, x.units, x.word, x.reach, x.smallest, x.limited, x.setting
		from trial_effects x join trials t on t.id = x.trial_id join catalogue_levels a on a.id = x.first_level join catalogue_levels b on b.id = x.second_level
		join catalogue_factors f on f.id = a.factor_id
		where t.product_id = $1 and coalesce(f.merged_into, f.id) = $2 and t.rehearses_id is null and t.revealed_at is not null
		order by at desc, x.trial_id desc, x.key`, productID, factorID)
}

// MapRow is one trial on the map of what was tried: a product, a factor, and what became of it.
type MapRow struct {
	TrialID    int64
	Question   string
	Product    string
	ProductID  int64
	Factor     string
	FactorID   int64
	SetOn      trial.UnitKind
	Levels     []string
	RevealedAt *time.Time
	Word       *verdict.Word
	FollowsID  *int64
	Headline   *string
}

// Map lists every trial by the factors it varies, newest first; rehearsals and cooks of a card
// are left out.
func (s *Store) Map(ctx context.Context) ([]MapRow, error) {
	return collect[MapRow](ctx, s.pool, `select t.id as trial_id, t.question, coalesce(d.name, t.product) as product, coalesce(t.product_id, 0) as product_id,
		f.name as factor, f.id as factor_id, x.set_on,
		array(select distinct a.levels[x.ordinal] from arms a where a.trial_id = t.id and a.voided_at is null and a.levels[x.ordinal]
		is not null order by 1) as levels,
		t.revealed_at, v.word, t.follows_id, v.headline
		from trials t join trial_factors x on x.trial_id = t.id and x.voided_at is null join catalogue_factors c on c.id = x.catalogue_id
		join catalogue_factors f on f.id = coalesce(c.merged_into, c.id) left join products d on d.id = t.product_id left join verdicts v on v.trial_id = t.id
		where t.rehearses_id is null and t.process_version_id is null and t.kind = '' order by t.created_at desc, t.id desc, x.ordinal`)
}

// LastResults are the last whole readings of trials.
func (s *Store) LastResults(ctx context.Context, trialIDs ...int64) (map[int64]settle.Result, error) {
	rows, err := collect[struct {
		TrialID int64
		Result  *settle.Result
	}](ctx, s.pool, `select distinct on (trial_id) trial_id, result from (select trial_id, result, recorded_at from verdicts union all
		select trial_id, result, recorded_at from verdict_versions) v where trial_id = any($1) and result is not null order by trial_id, recorded_at desc`, trialIDs)
	out := map[int64]settle.Result{}
	for _, r := range rows {
		if r.Result != nil {
			out[r.TrialID] = *r.Result
		}
	}
	return out, err
}

// OpenCook is a cook whose codes are open.
type OpenCook struct {
	CookID   int64
	TrialID  int64
	Question string
	ServedAt time.Time
}

// OpenCooks lists the cooks of a trial's product whose codes are open, the newest first, and
// those of the trial itself; other rehearsals are left out.
func (s *Store) OpenCooks(ctx context.Context, trialID int64) ([]OpenCook, error) {
	return collect[OpenCook](ctx, s.pool, `select k.id as cook_id, t.id as trial_id, t.question, k.serve_at as served_at from cooks
		k join trials t on t.id = k.trial_id
		join trials o on o.id = $1 where t.product_id = o.product_id and t.revealed_at is not null and (t.rehearses_id is null or t.id = o.id)
		order by k.serve_at desc, k.id desc limit 200`, trialID)
}
