package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/settle"
	"whitebarn/core/verdict"
)

// VerdictLine is what lists show of a settled trial.
type VerdictLine struct {
	TrialID  int64        `json:"-"`
	Word     verdict.Word `json:"word,omitempty"` // none where nothing is judged
	Headline string       `json:"headline"`
}

// VerdictLines reads those of trials; ones that were not judged yet are left out.
func (s *Store) VerdictLines(ctx context.Context, trialIDs ...int64) (map[int64]VerdictLine, error) {
	rows, err := collect[VerdictLine](ctx, s.pool, "select trial_id, word, headline from verdicts where trial_id = any($1)", trialIDs)
	out := map[int64]VerdictLine{}
	for _, r := range rows {
		out[r.TrialID] = r
	}
	return out, err
}

// VerdictVersion is how a verdict read at a time, by which rules; Result is nil where only
// the sentence was kept.
type VerdictVersion struct {
	Word     verdict.Word   `json:"word,omitempty"`
	Headline string         `json:"headline"`
	At       time.Time      `json:"at"`
	Rules    int            `json:"rules"`
	Late     bool           `json:"late"`    // read for the first time long after the codes were opened
	Because  string         `json:"because"` // of a later one
	Result   *settle.Result `json:"result"`
}

// VerdictVersions lists how a verdict read, the first when the codes were opened.
func (s *Store) VerdictVersions(ctx context.Context, trialID int64) ([]VerdictVersion, error) {
	return collect[VerdictVersion](ctx, s.pool, `select word, headline, recorded_at as at, rules, late, '' as because, result from verdicts where trial_id = $1
		union all select word, headline, recorded_at, rules, false, because, result from verdict_versions where trial_id = $1 order by at`, trialID)
}

// Judgement is a reading of a trial with the evidence of the house that it used.
type Judgement struct {
	TrialID int64
	Result  settle.Result
	House   any
	Sizes   []settle.Sized // of its contrasts; none of a rehearsal
}

// KeepVersion keeps how a verdict reads now, and because of what, unless it reads as it did
// last.
func (s *Store) KeepVersion(ctx context.Context, j Judgement, because string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `insert into verdict_versions (trial_id, word, headline, rules, result, house, because) select $1, $2, $3, $4, $5, $6, $7
			where ($4::int, $5::jsonb) is distinct from (select (rules, result) from (select rules, result, recorded_at from verdicts
			where trial_id = $1 union all select rules, result, recorded_at from verdict_versions where trial_id = $1) v order by recorded_at desc limit 1)`,
			j.TrialID, j.Result.FirstWord(), j.Result.Headline, j.Result.Rules, j.Result, j.House, because)
		if err != nil {
			return err
		}
		return keepSizes(ctx, tx, j)
	})
}

// ReadByOlderRules lists the settled trials that were last read by rules older than these.
func (s *Store) ReadByOlderRules(ctx context.Context, rules int) ([]int64, error) {
	rows, err := s.pool.Query(ctx, `select v.trial_id from verdicts v join trials t on t.id = v.trial_id and t.rehearses_id is null
		where greatest(v.rules, coalesce((select max(rules) from verdict_versions x where x.trial_id = v.trial_id), 0)) < $1 order by 1`, rules)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Pool is what a settled trial adds to the house's spread.
type Pool struct {
	TrialID   int64
	ProductID int64
	settle.Pool
}

// KeepVerdicts keeps the first readings of trials that have none yet, and what they add to
// the house's spread and to other trials of the same contrasts. Late says that their codes
// were opened long before.
func (s *Store) KeepVerdicts(ctx context.Context, all []Judgement, pools []Pool, contrasts []HouseContrast, late bool) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, j := range all {
			_, err := tx.Exec(ctx, `insert into verdicts (trial_id, word, headline, rules, result, house, late) values ($1, $2, $3, $4, $5, $6, $7)
				on conflict do nothing`, j.TrialID, j.Result.FirstWord(), j.Result.Headline, j.Result.Rules, j.Result, j.House, late)
			if err != nil {
				return err
			}
			if err := keepSizes(ctx, tx, j); err != nil {
				return err
			}
		}
		if err := keepPools(ctx, tx, pools); err != nil {
			return err
		}
		return keepContrasts(ctx, tx, contrasts)
	})
}

func keepPools(ctx context.Context, q querier, pools []Pool) error {
	var of []int64
	var kinds, keys []string
	var inBlocks []bool
	var ss, df []float64
	for _, p := range pools {
		of, kinds, keys, inBlocks = append(of, p.TrialID), append(kinds, string(p.Kind)), append(keys, string(p.Key)), append(inBlocks, p.InBlocks)
		ss, df = append(ss, p.SS), append(df, p.DF)
	}
	_, err := q.Exec(ctx, `insert into spreads (trial_id, kind, in_blocks, key, ss, df)
		select * from unnest($1::bigint[], $2::text[], $3::boolean[], $4::text[], $5::float8[], $6::float8[])
		on conflict do nothing`, of, kinds, inBlocks, keys, ss, df)
	return err
}

// HouseContrast is what a cook of a settled trial showed of two levels.
type HouseContrast struct {
	TrialID   int64
	ProductID int64
	settle.Contrast
}

func keepContrasts(ctx context.Context, q querier, all []HouseContrast) error {
	var of, first, second []int64
	var keys, cooks []string
	var differences []float64
	for _, c := range all {
		of, first, second = append(of, c.TrialID), append(first, c.First), append(second, c.Second)
		keys, cooks, differences = append(keys, string(c.Key)), append(cooks, c.Cook), append(differences, c.Difference)
	}
	_, err := q.Exec(ctx, `insert into contrasts (trial_id, first_level, second_level, key, cook, difference)
		select * from unnest($1::bigint[], $2::bigint[], $3::bigint[], $4::text[], $5::text[], $6::float8[])
		on conflict do nothing`, of, first, second, keys, cooks, differences)
	return err
}

// Contrasts reads what the cooks of settled trials of products showed of two levels.
func (s *Store) Contrasts(ctx context.Context, productIDs ...int64) ([]HouseContrast, error) {
	return collect[HouseContrast](ctx, s.pool, `select x.trial_id, t.product_id, x.first_level as first, x.second_level as second,
		x.key, x.cook, x.difference from contrasts x join trials t on t.id = x.trial_id
		where t.product_id = any($1) and t.rehearses_id is null order by x.trial_id, x.cook`, productIDs)
}

// Compared lists the settled trials, but some, that compared two levels as contrasts do.
func (s *Store) Compared(ctx context.Context, contrasts []HouseContrast, but []int64) ([]int64, error) {
	if len(contrasts) == 0 {
		return nil, nil
	}
	var products, first, second []int64
	for _, c := range contrasts {
		products, first, second = append(products, c.ProductID), append(first, c.First), append(second, c.Second)
	}
	rows, err := s.pool.Query(ctx, `select distinct x.trial_id from contrasts x join trials t on t.id = x.trial_id and t.rehearses_id is null
		join unnest($1::bigint[], $2::bigint[], $3::bigint[]) as w(product, one, other) on w.product = t.product_id
		and (x.first_level, x.second_level) in ((w.one, w.other), (w.other, w.one)) where x.trial_id <> all($4) order by 1`,
		products, first, second, but)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Pools reads what settled trials of products add to the house's spread.
func (s *Store) Pools(ctx context.Context, productIDs ...int64) ([]Pool, error) {
	return collect[Pool](ctx, s.pool, `select x.trial_id, t.product_id, x.kind, x.in_blocks, x.key, x.ss, x.df from spreads x join trials t on t.id = x.trial_id
		where t.product_id = any($1) and t.rehearses_id is null order by x.trial_id`, productIDs)
}

// Unjudged lists the settled trials of products that have no line yet.
func (s *Store) Unjudged(ctx context.Context, productIDs ...int64) ([]int64, error) {
	rows, err := s.pool.Query(ctx, `select id from trials t where product_id = any($1) and revealed_at is not null and rehearses_id is null
		and not exists (select from verdicts v where v.trial_id = t.id) order by id`, productIDs)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// ProductsOf lists what trials cook.
func (s *Store) ProductsOf(ctx context.Context, trialIDs ...int64) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select distinct product_id from trials where id = any($1) and product_id is not null order by 1", trialIDs)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}
