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

// VerdictVersion is how a verdict read at a time.
type VerdictVersion struct {
	Headline string    `json:"headline"`
	At       time.Time `json:"at"`
}

// VerdictVersions lists how a verdict read, the first when the codes were opened.
func (s *Store) VerdictVersions(ctx context.Context, trialID int64) ([]VerdictVersion, error) {
	return collect[VerdictVersion](ctx, s.pool, `select headline, recorded_at as at from verdicts where trial_id = $1
		union all select headline, recorded_at from verdict_versions where trial_id = $1 order by at`, trialID)
}

// KeepVersion keeps how a verdict reads now, unless it reads as it did last.
func (s *Store) KeepVersion(ctx context.Context, l VerdictLine) error {
	_, err := s.pool.Exec(ctx, `insert into verdict_versions (trial_id, word, headline) select $1, $2, $3
		where $3 is distinct from (select headline from (select headline, recorded_at from verdicts where trial_id = $1
		union all select headline, recorded_at from verdict_versions where trial_id = $1) v order by recorded_at desc limit 1)`, l.TrialID, l.Word, l.Headline)
	return err
}

// Pool is what a settled trial adds to the house's spread.
type Pool struct {
	TrialID   int64
	ProductID int64
	settle.Pool
}

// KeepVerdicts keeps the lines of trials that have none yet, and what they add to
// the house's spread.
func (s *Store) KeepVerdicts(ctx context.Context, lines []VerdictLine, pools []Pool) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var ids []int64
		var words, headlines []string
		for _, l := range lines {
			ids, words, headlines = append(ids, l.TrialID), append(words, string(l.Word)), append(headlines, l.Headline)
		}
		_, err := tx.Exec(ctx, "insert into verdicts (trial_id, word, headline) select * from unnest($1::bigint[], $2::text[], $3::text[]) on conflict do nothing", ids, words, headlines)
		if err != nil {
			return err
		}
		var of []int64
		var kinds, keys []string
		var inBlocks []bool
		var ss, df []float64
		for _, p := range pools {
			of, kinds, keys, inBlocks = append(of, p.TrialID), append(kinds, string(p.Kind)), append(keys, string(p.Key)), append(inBlocks, p.InBlocks)
			ss, df = append(ss, p.SS), append(df, p.DF)
		}
		_, err = tx.Exec(ctx, `insert into spreads (trial_id, kind, in_blocks, key, ss, df)
			select * from unnest($1::bigint[], $2::text[], $3::boolean[], $4::text[], $5::float8[], $6::float8[])
			on conflict do nothing`, of, kinds, inBlocks, keys, ss, df)
		return err
	})
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
