package store

import (
	"context"
	"errors"
	"maps"
	"slices"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/panel"
)

// Plate is one ballot as its taster sees it.
type Plate struct {
	BallotID    int64
	TasterID    int64
	FlightID    int64
	Flight      int
	Format      panel.Format
	Bites       int
	WaterS      int
	SecondLook  bool
	Choice      bool
	Open        bool // the taster knows the codes
	Told        bool // of meat below its usual minimum
	Susceptible bool // and it is not for them
	Ended       bool
	Paused      bool
	Opened      bool      // the codes of its cook are, before those of the trial
	Servings    []Serving `db:"-"`
}

// Serving is one sample on a plate.
type Serving struct {
	BallotID int64
	SampleID int64
	Code     string
	Sealed   bool
	Excused  bool
	Struck   bool // must not be eaten
	Advised  bool // served by a pitmaster's reason, below its usual minimum
	WarmUp   bool
}

const plates = `select b.id as ballot_id, b.taster_id, f.id as flight_id, f.number as flight, f.format, f.bites, f.water_s, f.second_look, f.choice, b.open,
	b.told_at is not null as told, b.susceptible, b.locked_at is not null or b.ended_at is not null as ended, f.paused, ` + opened + `
	from ballots b join flights f on f.id = b.flight_id where f.voided_at is null`

// Plates lists a taster's plates in order of flights.
func (s *Store) Plates(ctx context.Context, tasterID int64) ([]Plate, error) {
	return s.platesWhere(ctx, " and b.taster_id = $1 order by f.number", tasterID)
}

// FlightPlates lists the plates of a flight by taster.
func (s *Store) FlightPlates(ctx context.Context, flightID int64) ([]Plate, error) {
	return s.platesWhere(ctx, " and f.id = $1 order by b.id", flightID)
}

func (s *Store) platesWhere(ctx context.Context, where string, arg int64) ([]Plate, error) {
	out, err := collect[Plate](ctx, s.pool, plates+where, arg)
	if err != nil || len(out) == 0 {
		return out, err
	}
	ids := make([]int64, len(out))
	at := map[int64]int{}
	for i, p := range out {
		ids[i], at[p.BallotID] = p.BallotID, i
	}
	servings, err := collect[Serving](ctx, s.pool, `select v.ballot_id, m.id as sample_id, m.code, v.sealed_at is not null as sealed, v.excused,
		exists (select from struck x where x.sample_id = m.id) as struck, m.advised, m.warm_up
		from servings v join samples m on m.id = v.sample_id where v.ballot_id = any($1) order by v.ballot_id, v.position`, ids)
	for _, v := range servings {
		p := &out[at[v.BallotID]]
		p.Servings = append(p.Servings, v)
	}
	return out, err
}

// Origin is where a seal came from: a taster's phone, or a person who typed a paper ballot.
type Origin struct {
	PhoneID *int64
	TypedBy *int64
}

// Sealed is what a taster seals of one sample: scores, or an excuse.
type Sealed struct {
	Scores  map[string]int
	Faults  []string
	Excused bool
	Origin
}

// ErrStruck is a sample that must not be eaten.
var ErrStruck = errors.New("struck")

// Seal closes a sample for a taster and locks the ballot with its last one.
// The same seal sent again is accepted; another one is ErrConflict, unless the flight allows a
// second look and the ballot is not ended: then both values are kept. Scores of a struck
// sample are ErrStruck.
func (s *Store) Seal(ctx context.Context, ballotID, sampleID int64, v Sealed) error {
	if v.Faults == nil {
		v.Faults = []string{}
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var closed, struck, again bool
		err := tx.QueryRow(ctx, `select v.sealed_at is not null or v.excused, exists (select from struck x where x.sample_id = v.sample_id),
			f.second_look and v.sealed_at is not null and b.ended_at is null and b.locked_at is null
			from servings v join ballots b on b.id = v.ballot_id join flights f on f.id = b.flight_id
			where v.ballot_id = $1 and v.sample_id = $2 for update of b, v`, ballotID, sampleID).Scan(&closed, &struck, &again)
		if err != nil {
			return found(err)
		}
		if struck && !closed && !v.Excused {
			return ErrStruck
		}
		if closed {
			err := sameSeal(ctx, tx, ballotID, sampleID, v)
			if !again || v.Excused || !errors.Is(err, ErrConflict) {
				return err
			}
		}
		if err := writeScores(ctx, tx, ballotID, sampleID, v.Scores); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update servings set sealed_at = case when $3 then null else coalesce(sealed_at, now()) end, excused = $3, faults = $4,
			phone_id = $5, typed_by = $6 where ballot_id = $1 and sample_id = $2`, ballotID, sampleID, v.Excused, v.Faults, v.PhoneID, v.TypedBy)
		if err != nil {
			return err
		}
		return lockBallots(ctx, tx, "b.id = $1", ballotID)
	})
}

// writeScores puts scores in place of others that differ, which are kept.
func writeScores(ctx context.Context, q querier, ballotID, sampleID int64, scores map[string]int) error {
	for _, attribute := range slices.Sorted(maps.Keys(scores)) {
		_, err := q.Exec(ctx, `with old as (update scores set voided_at = now(), void_reason = 'second look'
			where ballot_id = $1 and sample_id = $2 and attribute = $3 and voided_at is null and value <> $4 returning id)
			insert into scores (ballot_id, sample_id, attribute, value, supersedes)
			select $1, $2, $3, $4, (select id from old) where not exists (select from scores k where k.ballot_id = $1 and k.sample_id = $2
				and k.attribute = $3 and k.voided_at is null and k.value = $4)`, ballotID, sampleID, attribute, scores[attribute])
		if err != nil {
			return err
		}
	}
	return nil
}

// What is said of a whole plate, as scores of its samples.
const (
	rankOf   = "rank"
	pickedOf = "picked"
)

// Answer ends a ballot with what its taster says of the plate, samples by code. The same
// answer sent again is accepted, another one is ErrConflict.
func (s *Store) Answer(ctx context.Context, p Plate, a panel.Answer, from Origin) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var ended bool
		var reason string
		err := tx.QueryRow(ctx, "select ended_at is not null, reason from ballots where id = $1 for update", p.BallotID).Scan(&ended, &reason)
		if err != nil {
			return found(err)
		}
		rule, _ := p.Format.Rule()
		for _, v := range p.Servings {
			scores := map[string]int{}
			if rank, ok := a.Ranks[v.Code]; ok {
				scores[rankOf] = rank
			}
			if a.Picked == v.Code {
				scores[pickedOf] = 1
			}
			switch {
			case ended:
				if err := sameAnswer(ctx, tx, p.BallotID, v.SampleID, scores); err != nil {
					return err
				}
				continue
			case v.Excused || v.Struck:
				continue
			}
			if err := writeScores(ctx, tx, p.BallotID, v.SampleID, scores); err != nil {
				return err
			}
			if rule.Whole {
				if _, err := tx.Exec(ctx, "update servings set sealed_at = now(), phone_id = $3, typed_by = $4 where ballot_id = $1 and sample_id = $2",
					p.BallotID, v.SampleID, from.PhoneID, from.TypedBy); err != nil {
					return err
				}
			}
		}
		if ended {
			if reason != a.Reason {
				return ErrConflict
			}
			return nil
		}
		if _, err := tx.Exec(ctx, "update ballots set ended_at = now(), reason = $2 where id = $1", p.BallotID, a.Reason); err != nil {
			return err
		}
		return lockBallots(ctx, tx, "b.id = $1", p.BallotID)
	})
}

func sameAnswer(ctx context.Context, q querier, ballotID, sampleID int64, want map[string]int) error {
	rows, err := q.Query(ctx, "select attribute, value from scores where ballot_id = $1 and sample_id = $2 and voided_at is null and attribute in ($3, $4)",
		ballotID, sampleID, rankOf, pickedOf)
	if err != nil {
		return err
	}
	return sameScores(rows, want)
}

// sameScores says ErrConflict where rows of attribute and value are not what is wanted.
func sameScores(rows pgx.Rows, want map[string]int) error {
	got := map[string]int{}
	var attribute string
	var value int
	_, err := pgx.ForEachRow(rows, []any{&attribute, &value}, func() error {
		got[attribute] = value
		return nil
	})
	if err == nil && !maps.Equal(got, want) {
		err = ErrConflict
	}
	return err
}

// lockBallots locks those of which every sample is sealed, excused or struck, and that are
// ended where their flight ends with a word of the taster.
func lockBallots(ctx context.Context, q querier, where string, arg any) error {
	_, err := q.Exec(ctx, `update ballots b set locked_at = now() from flights f where f.id = b.flight_id and b.locked_at is null and `+where+`
		and not exists (select from servings v where v.ballot_id = b.id
			and v.sealed_at is null and not v.excused and not exists (select from struck x where x.sample_id = v.sample_id))
		and (b.ended_at is not null or not (f.choice or f.second_look)
			or not exists (select from servings v where v.ballot_id = b.id and v.sealed_at is not null))`, arg)
	return err
}

func sameSeal(ctx context.Context, q querier, ballotID, sampleID int64, v Sealed) error {
	var excused bool
	if err := q.QueryRow(ctx, "select excused from servings where ballot_id = $1 and sample_id = $2", ballotID, sampleID).Scan(&excused); err != nil {
		return err
	}
	rows, err := q.Query(ctx, "select attribute, value from scores where ballot_id = $1 and sample_id = $2 and voided_at is null and attribute not in ($3, $4)",
		ballotID, sampleID, rankOf, pickedOf)
	if err != nil {
		return err
	}
	want := v.Scores
	if want == nil {
		want = map[string]int{}
	}
	if err := sameScores(rows, want); err != nil {
		return err
	}
	if excused != v.Excused {
		return ErrConflict
	}
	return nil
}

// LeftOut says which samples that are still open are left out: of a taster, of a code, or all
// of a flight.
type LeftOut struct {
	FlightID int64
	TasterID *int64
	Code     string // empty is every one
	Why      string
}

// LeaveOut excuses samples that are still open, by the host and with a reason, and ends the
// ballots that were left whole. It returns how many samples it was.
func (s *Store) LeaveOut(ctx context.Context, who int64, l LeftOut) (n int64, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `update servings v set excused = true, excuse = $4, excused_by = $5 from ballots b, samples m
			where b.id = v.ballot_id and m.id = v.sample_id and b.flight_id = $1 and ($2::bigint is null or b.taster_id = $2) and ($3 = '' or m.code = $3)
			and v.sealed_at is null and not v.excused`, l.FlightID, l.TasterID, l.Code, l.Why, who)
		if err != nil {
			return err
		}
		n = tag.RowsAffected()
		if l.Code == "" {
			if _, err := tx.Exec(ctx, "update ballots set ended_at = now() where flight_id = $1 and ($2::bigint is null or taster_id = $2) and ended_at is null",
				l.FlightID, l.TasterID); err != nil {
				return err
			}
		}
		return lockBallots(ctx, tx, "b.flight_id = $1", l.FlightID)
	})
	return n, err
}

// CloseFlight keeps that a flight was closed before every ballot was locked; ErrConflict if it
// is closed.
func (s *Store) CloseFlight(ctx context.Context, who, id int64, why string) error {
	tag, err := s.pool.Exec(ctx, "update flights set closed_at = now(), closed_by = $2, close_reason = $3 where id = $1 and closed_at is null and voided_at is null", id, who, why)
	if err == nil && tag.RowsAffected() == 0 {
		err = ErrConflict
	}
	return err
}

// MarkPlated keeps that a sample is on its plates, or is not yet.
func (s *Store) MarkPlated(ctx context.Context, sampleID int64, plated bool) error {
	_, err := s.pool.Exec(ctx, "update samples set plated_at = case when $2 then coalesce(plated_at, now()) end where id = $1", sampleID, plated)
	return err
}

// MarkPaper keeps that a ballot was typed in by somebody.
func (s *Store) MarkPaper(ctx context.Context, who, ballotID int64) error {
	_, err := s.pool.Exec(ctx, "update ballots set typed_by = coalesce(typed_by, $2) where id = $1", ballotID, who)
	return err
}

// OpenPlate is a sample that a taster has not sealed yet, with what it is of.
type OpenPlate struct {
	BallotID, TasterID, SampleID, CutID, ArmID, CookID int64
}

// OpenPlates lists those of the scored flights of a trial, by ballot and place. Callers must
// see to it that nobody who tastes blind learns of them.
func (s *Store) OpenPlates(ctx context.Context, trialID int64) ([]OpenPlate, error) {
	return collect[OpenPlate](ctx, s.pool, `select b.id as ballot_id, b.taster_id, v.sample_id, m.cut_id, c.arm_id,
		coalesce((select p.cook_id from placements p where p.cut_id = c.id and p.voided_at is null order by p.id limit 1), 0) as cook_id
		from servings v join ballots b on b.id = v.ballot_id join flights f on f.id = b.flight_id join samples m on m.id = v.sample_id join cuts c on c.id = m.cut_id
		where f.trial_id = $1 and f.voided_at is null and f.closed_at is null and f.format = 'scores' and v.sealed_at is null and not
		v.excused and c.arm_id is not null
		order by b.id, v.position`, trialID)
}
