package store

import "context"

// Counts are what the record of a trial holds beside its cuts and its log.
type Counts struct {
	TrialID  int64
	Marked   int // cuts that got a dose
	Readings int // probes that showed something
	Tasters  int
	Ballots  int
	Locked   int
}

// Counts counts for many trials at once.
func (s *Store) Counts(ctx context.Context, trialIDs ...int64) (map[int64]Counts, error) {
	rows, err := collect[Counts](ctx, s.pool, `select t.id as trial_id,
		(select count(distinct m.cut_id) from prep_marks m join pieces c on c.id = m.cut_id where m.voided_at is null and c.trial_id = t.id)::int as marked,
		(select count(distinct a.probe_id) from cooks k join probe_assignments a on a.cook_id = k.id and a.voided_at is null
			where k.trial_id = t.id and exists (select from readings r where r.probe_id = a.probe_id and r.at >= a.from_at))::int as readings,
		(select count(*) from tasters x where x.trial_id = t.id and x.voided_at is null)::int as tasters,
		(select count(*) from ballots b join flights f on f.id = b.flight_id where f.trial_id = t.id and f.voided_at is null)::int as ballots,
		(select count(b.locked_at) from ballots b join flights f on f.id = b.flight_id where f.trial_id = t.id and f.voided_at is null)::int as locked
		from trials t where t.id = any($1)`, trialIDs)
	out := map[int64]Counts{}
	for _, r := range rows {
		out[r.TrialID] = r
	}
	return out, err
}
