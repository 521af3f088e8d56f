package store

import (
	"context"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
)

// Scores reads all sealed scores of trials by trial and attribute, with cuts by
// name and arms in order from 0. Callers must see to it that the codes are open.
func (s *Store) Scores(ctx context.Context, trialIDs ...int64) (map[int64]map[trial.OutcomeKey][]panel.Score, error) {
	rows, err := s.pool.Query(ctx, `select f.trial_id, x.attribute, t.name, c.name, f.number::text, a.ordinal - 1, x.value::float8, m.place, v.position, b.open, m.by_sight
		from scores x join servings v on v.ballot_id = x.ballot_id and v.sample_id = x.sample_id join ballots b on b.id = x.ballot_id join flights f on f.id = b.flight_id join tasters t on t.id = b.taster_id
		join samples m on m.id = x.sample_id join cuts c on c.id = m.cut_id join arms a on a.id = c.arm_id
		where f.trial_id = any($1) and f.voided_at is null and x.voided_at is null and c.voided_at is null
		and not m.warm_up order by x.id`, trialIDs)
	if err != nil {
		return nil, err
	}
	out := map[int64]map[trial.OutcomeKey][]panel.Score{}
	var id int64
	var key trial.OutcomeKey
	var v panel.Score
	_, err = pgx.ForEachRow(rows, []any{&id, &key, &v.Taster, &v.Cut, &v.Flight, &v.Arm, &v.Value, &v.Place, &v.Position, &v.Open, &v.BySight}, func() error {
		if out[id] == nil {
			out[id] = map[trial.OutcomeKey][]panel.Score{}
		}
		out[id][key] = append(out[id][key], v)
		return nil
	})
	return out, err
}

// Faults counts what tasters ticked, by arm and fault, the most first. Callers must see to
// it that the codes are open.
func (s *Store) Faults(ctx context.Context, trialID int64) ([]FaultCount, error) {
	return collect[FaultCount](ctx, s.pool, `select a.ordinal - 1 as arm, x.fault, count(*)::int as n
		from servings v join ballots b on b.id = v.ballot_id join flights f on f.id = b.flight_id join samples m on m.id = v.sample_id
		join cuts c on c.id = m.cut_id join arms a on a.id = c.arm_id, unnest(v.faults) as x(fault)
		where f.trial_id = $1 and f.voided_at is null and c.voided_at is null and not m.warm_up and not b.open group by 1, 2 order by 3 desc, 1, 2`, trialID)
}

// FaultCount is how often a fault was ticked on the samples of an arm, in order from 0.
type FaultCount struct {
	Arm   int    `json:"arm"`
	Fault string `json:"fault"`
	N     int    `json:"n"`
}

// AnsweredSample is a sample of a plate that was answered as one: what it was, and what was
// said of it.
type AnsweredSample struct {
	BallotID int64
	Flight   int
	Format   panel.Format
	Taster   string
	Open     bool
	Reason   string
	Code     string
	Cut      string
	Arm      int // in order from 0
	Rank     *int
	Picked   bool
}

// Answers reads the plates of a trial that their tasters ended with a word of the whole, by
// flight, ballot and place on the plate; samples that were left out are not among them.
// Callers must see to it that the codes are open.
func (s *Store) Answers(ctx context.Context, trialID int64) ([]AnsweredSample, error) {
	return collect[AnsweredSample](ctx, s.pool, `select b.id as ballot_id, f.number as flight, f.format, t.name as taster, b.open, b.reason,
		m.code, c.name as cut, a.ordinal - 1 as arm,
		(select x.value from scores x where x.ballot_id = b.id and x.sample_id = m.id and x.attribute = 'rank' and x.voided_at is null) as rank,
		exists (select from scores x where x.ballot_id = b.id and x.sample_id = m.id and x.attribute = 'picked' and x.voided_at is null) as picked
		from ballots b join flights f on f.id = b.flight_id join tasters t on t.id = b.taster_id join servings v on v.ballot_id = b.id
		join samples m on m.id = v.sample_id join cuts c on c.id = m.cut_id join arms a on a.id = c.arm_id
		where f.trial_id = $1 and f.voided_at is null and b.ended_at is not null and v.sealed_at is not null and not m.warm_up and c.voided_at is null
		and (f.format <> 'scores' or f.choice) order by f.number, b.id, v.position`, trialID)
}

// Given is what a taster gave one sample on one attribute, and what it was.
type Given struct {
	Flight    int
	Code      string
	Cut       string
	Arm       int // in order from 0
	Attribute string
	Value     int
}

// GivenBy lists what a taster gave, by flight and place on the plate. Callers must see to it
// that the codes are open.
func (s *Store) GivenBy(ctx context.Context, tasterID int64) ([]Given, error) {
	return collect[Given](ctx, s.pool, `select f.number as flight, m.code, c.name as cut, a.ordinal - 1 as arm, x.attribute, x.value
		from scores x join ballots b on b.id = x.ballot_id join flights f on f.id = b.flight_id join samples m on m.id = x.sample_id
		join servings v on v.ballot_id = b.id and v.sample_id = m.id join cuts c on c.id = m.cut_id join arms a on a.id = c.arm_id
		where b.taster_id = $1 and f.voided_at is null and x.voided_at is null order by f.number, v.position, x.id`, tasterID)
}

// ArmsOfCuts is the arm, in order from 0, of each cut that is in a flight.
func (s *Store) ArmsOfCuts(ctx context.Context, flightID int64) (map[int64]int, error) {
	rows, err := s.pool.Query(ctx, `select distinct c.id, a.ordinal - 1 from samples m join cuts c on c.id = m.cut_id join arms a on a.id = c.arm_id
		where m.flight_id = $1`, flightID)
	if err != nil {
		return nil, err
	}
	out := map[int64]int{}
	var cut int64
	var arm int
	_, err = pgx.ForEachRow(rows, []any{&cut, &arm}, func() error { out[cut] = arm; return nil })
	return out, err
}
