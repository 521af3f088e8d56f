package store

import (
	"context"

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

// KeepVerdictLines keeps lines of trials that have none yet.
func (s *Store) KeepVerdictLines(ctx context.Context, lines []VerdictLine) error {
	var ids []int64
	var words, headlines []string
	for _, l := range lines {
		ids, words, headlines = append(ids, l.TrialID), append(words, string(l.Word)), append(headlines, l.Headline)
	}
	_, err := s.pool.Exec(ctx, "insert into verdicts (trial_id, word, headline) select * from unnest($1::bigint[], $2::text[], $3::text[]) on conflict do nothing", ids, words, headlines)
	return err
}

// SettledOf lists the settled trials of products, the newest first.
func (s *Store) SettledOf(ctx context.Context, productIDs ...int64) ([]int64, error) {
	rows, err := collect[struct{ ID int64 }](ctx, s.pool, "select id from trials where product_id = any($1) and revealed_at is not null and rehearses_id is null order by created_at desc, id desc", productIDs)
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	return ids, err
}
