package store

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
)

// Taster sits at the table of a trial; no account is needed.
type Taster struct {
	ID      int64  `json:"id"`
	TrialID int64  `json:"-"`
	Name    string `json:"name"`
	Seat    int    `json:"seat"`
}

// Flight is samples served together. Which cut has which code is not in it.
type Flight struct {
	ID       int64     `json:"id"`
	Number   int       `json:"number"`
	CarverID int64     `json:"carver_id"`
	Carver   string    `json:"carver"`
	Samples  int       `json:"samples"`
	Served   time.Time `json:"served"`
	Opened   bool      `json:"opened"` // the codes of its cook are, before those of the trial
}

// BallotState is how far a ballot is, without its scores.
type BallotState struct {
	FlightID int64    `json:"flight_id"`
	TasterID int64    `json:"taster_id"`
	Codes    []string `json:"codes"` // in the order of the plate
	Closed   int      `json:"closed"`
	Locked   bool     `json:"locked"`
}

// KeyLine is a line of the carver's key.
type KeyLine struct {
	Code  string `json:"code"`
	Cut   string `json:"cut"`
	CutID int64  `json:"cut_id"`
	Place string `json:"place"`
}

// NewFlight is a flight to be served: codes[i] goes with cuts[i], and orders
// hold places in that list for each taster.
type NewFlight struct {
	TrialID  int64
	CarverID int64
	At       time.Time // by the cook's clock; zero is not known
	Cuts     []int64
	Places   []string
	Codes    []string
	Advised  []bool // which of the cuts are served by a pitmaster's reason; nil is none
	Tasters  []int64
	Orders   [][]int
}

// Tasters lists a trial's tasters by seat.
func (s *Store) Tasters(ctx context.Context, trialID int64) ([]Taster, error) {
	return collect[Taster](ctx, s.pool, "select id, trial_id, name, seat from tasters where trial_id = $1 and voided_at is null order by seat, id", trialID)
}

// Taster reads one taster.
func (s *Store) Taster(ctx context.Context, id int64) (Taster, error) {
	return one[Taster](ctx, s.pool, "select id, trial_id, name, seat from tasters where id = $1 and voided_at is null", id)
}

// AddTaster gives a taster the next seat; ErrConflict if the name is taken.
func (s *Store) AddTaster(ctx context.Context, who, trialID int64, name string) error {
	_, err := s.pool.Exec(ctx, "insert into tasters (trial_id, name, seat, recorded_by) select $1, $2, 1 + coalesce(max(seat), 0), $3 from tasters where trial_id = $1 and voided_at is null", trialID, name, who)
	if IsUnique(err, "tasters_name") {
		return ErrConflict
	}
	return err
}

// VoidTaster takes a taster off the table; ErrConflict once a flight is served to them.
func (s *Store) VoidTaster(ctx context.Context, who, id int64, why string) error {
	var served bool
	if err := s.pool.QueryRow(ctx, "select exists (select from ballots b join flights f on f.id = b.flight_id where b.taster_id = $1 and f.voided_at is null)", id).Scan(&served); err != nil {
		return err
	}
	if served {
		return ErrConflict
	}
	return void(ctx, s.pool, "tasters", id, who, why)
}

// Flights lists a trial's flights.
func (s *Store) Flights(ctx context.Context, trialID int64) ([]Flight, error) {
	return collect[Flight](ctx, s.pool, flights+" where f.trial_id = $1 and f.voided_at is null order by f.number", trialID)
}

// Flight reads one flight.
func (s *Store) Flight(ctx context.Context, id int64) (Flight, error) {
	return one[Flight](ctx, s.pool, flights+" where f.id = $1 and f.voided_at is null", id)
}

const flights = `select f.id, f.number, f.carver_id, p.name as carver, f.served_at as served,
	(select count(*) from samples where flight_id = f.id)::int as samples,
	exists(select from samples m join placements x on x.cut_id = m.cut_id and x.voided_at is null
		join looks l on l.trial_id = f.trial_id and l.cook_id = x.cook_id and l.opened_at is not null where m.flight_id = f.id) as opened
	from flights f join people p on p.id = f.carver_id`

// BallotStates lists the ballots of a trial.
func (s *Store) BallotStates(ctx context.Context, trialID int64) ([]BallotState, error) {
	return collect[BallotState](ctx, s.pool, `select b.flight_id, b.taster_id, array_agg(m.code order by v.position) as codes,
		(count(*) filter (where v.sealed_at is not null or v.excused or exists (select from struck x
			where x.sample_id = v.sample_id)))::int as closed, b.locked_at is not null as locked
		from ballots b join flights f on f.id = b.flight_id join servings v on v.ballot_id = b.id join samples m on m.id = v.sample_id
		where f.trial_id = $1 and f.voided_at is null group by b.id order by b.flight_id, b.taster_id`, trialID)
}

// UsedCodes lists every code a trial ever used, voided flights too.
func (s *Store) UsedCodes(ctx context.Context, trialID int64) ([]string, error) {
	rows, err := s.pool.Query(ctx, "select m.code from samples m join flights f on f.id = m.flight_id where f.trial_id = $1", trialID)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[string])
}

// ServedCuts lists the cuts of a trial that are in a flight.
func (s *Store) ServedCuts(ctx context.Context, trialID int64) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select distinct m.cut_id from samples m join flights f on f.id = m.flight_id where f.trial_id = $1 and f.voided_at is null", trialID)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Serve records a flight with its samples, ballots and plate orders. Samples
// are stored in the order of their codes, so that their numbers tell nothing.
func (s *Store) Serve(ctx context.Context, who int64, f NewFlight) (id int64, err error) {
	byCode := make([]int, len(f.Codes))
	for i := range byCode {
		byCode[i] = i
	}
	slices.SortFunc(byCode, func(a, b int) int {
		if f.Codes[a] < f.Codes[b] {
			return -1
		}
		return 1
	})
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		var at *time.Time
		if !f.At.IsZero() {
			at = &f.At
		}
		err := tx.QueryRow(ctx, `insert into flights (trial_id, number, carver_id, served_by, at)
			select $1, 1 + coalesce(max(number), 0), $2, $3, $4 from flights where trial_id = $1 and voided_at is null returning id`, f.TrialID,
			f.CarverID, who, at).Scan(&id)
		if err != nil {
			return err
		}
		samples := make([]int64, len(f.Codes))
		for _, i := range byCode {
			advised := i < len(f.Advised) && f.Advised[i]
			err := tx.QueryRow(ctx, "insert into samples (flight_id, cut_id, place, code, advised) values ($1, $2, $3, $4, $5) returning id", id,
				f.Cuts[i], f.Places[i], f.Codes[i], advised).Scan(&samples[i])
			if err != nil {
				return err
			}
		}
		for t, taster := range f.Tasters {
			var ballot int64
			if err := tx.QueryRow(ctx, "insert into ballots (flight_id, taster_id) values ($1, $2) returning id", id, taster).Scan(&ballot); err != nil {
				return err
			}
			for position, i := range f.Orders[t] {
				if _, err := tx.Exec(ctx, "insert into servings (ballot_id, sample_id, position) values ($1, $2, $3)", ballot, samples[i], position+1); err != nil {
					return err
				}
			}
		}
		return nil
	})
	return id, err
}

// VoidFlight takes a flight back; ErrConflict once a sample of it is sealed.
func (s *Store) VoidFlight(ctx context.Context, who, id int64, why string) error {
	var sealed bool
	if err := s.pool.QueryRow(ctx, "select exists (select from ballots b join servings v on v.ballot_id = b.id where b.flight_id = $1 and v.sealed_at is not null)", id).Scan(&sealed); err != nil {
		return err
	}
	if sealed {
		return ErrConflict
	}
	return void(ctx, s.pool, "flights", id, who, why)
}

// Key is the carver's key of a flight. Callers must see to it who asks.
func (s *Store) Key(ctx context.Context, flightID int64) ([]KeyLine, error) {
	return collect[KeyLine](ctx, s.pool, "select m.code, c.name as cut, c.id as cut_id, m.place from samples m join cuts c on c.id = m.cut_id where m.flight_id = $1 order by m.code", flightID)
}

// Plate is one ballot as its taster sees it.
type Plate struct {
	BallotID    int64
	Flight      int
	Told        bool // of meat below its usual minimum
	Susceptible bool // and it is not for them
	Servings    []Serving
}

// Serving is one sample on a plate.
type Serving struct {
	BallotID int64
	SampleID int64
	FlightID int64
	Flight   int
	Code     string
	Sealed   bool
	Excused  bool
	Struck   bool // must not be eaten
	Advised  bool // served by a pitmaster's reason, below its usual minimum

	Told, Susceptible bool // of the plate
}

// Plates lists a taster's plates in order of flights.
func (s *Store) Plates(ctx context.Context, tasterID int64) ([]Plate, error) {
	servings, err := collect[Serving](ctx, s.pool,
		`select b.id as ballot_id, m.id as sample_id, f.id as flight_id, f.number as flight, m.code, v.sealed_at is not null as sealed, v.excused,
		exists (select from struck x where x.sample_id = m.id) as struck, m.advised,
		b.told_at is not null as told, b.susceptible
		from ballots b join flights f on f.id = b.flight_id join servings v on v.ballot_id = b.id join samples m on m.id = v.sample_id
		where b.taster_id = $1 and f.voided_at is null order by f.number, v.position`, tasterID)
	var plates []Plate
	for _, v := range servings {
		if n := len(plates); n == 0 || plates[n-1].BallotID != v.BallotID {
			plates = append(plates, Plate{BallotID: v.BallotID, Flight: v.Flight, Told: v.Told, Susceptible: v.Susceptible})
		}
		p := &plates[len(plates)-1]
		p.Servings = append(p.Servings, v)
	}
	return plates, err
}

// Sealed is what a taster seals of one sample: scores, or an excuse.
type Sealed struct {
	Scores  map[string]int
	Faults  []string
	Excused bool
}

// ErrStruck is a sample that must not be eaten.
var ErrStruck = errors.New("struck")

// Seal closes a sample for a taster and locks the ballot with its last one.
// The same seal sent again is accepted; another one is ErrConflict, scores of a struck
// sample ErrStruck.
func (s *Store) Seal(ctx context.Context, ballotID, sampleID int64, v Sealed) error {
	if v.Faults == nil {
		v.Faults = []string{}
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		var closed, struck bool
		err := tx.QueryRow(ctx, `select sealed_at is not null or excused, exists (select from struck x where x.sample_id = v.sample_id)
			from servings v where ballot_id = $1 and sample_id = $2 for update`, ballotID, sampleID).Scan(&closed, &struck)
		if err != nil {
			return found(err)
		}
		if struck && !closed && !v.Excused {
			return ErrStruck
		}
		if closed {
			return sameSeal(ctx, tx, ballotID, sampleID, v)
		}
		for attribute, value := range v.Scores {
			if _, err := tx.Exec(ctx, "insert into scores (ballot_id, sample_id, attribute, value) values ($1, $2, $3, $4)", ballotID, sampleID, attribute, value); err != nil {
				return err
			}
		}
		_, err = tx.Exec(ctx, "update servings set sealed_at = case when $3 then null else now() end, excused = $3, faults = $4 where ballot_id = $1 and sample_id = $2", ballotID, sampleID, v.Excused, v.Faults)
		if err != nil {
			return err
		}
		return lockBallots(ctx, tx, "b.id = $1", ballotID)
	})
}

// lockBallots locks those of which every sample is sealed, excused or struck.
func lockBallots(ctx context.Context, q querier, where string, arg any) error {
	_, err := q.Exec(ctx, `update ballots b set locked_at = now() where b.locked_at is null and `+where+` and not exists (select
		from servings v where v.ballot_id = b.id
		and v.sealed_at is null and not v.excused and not exists (select from struck x where x.sample_id = v.sample_id))`, arg)
	return err
}

func sameSeal(ctx context.Context, q querier, ballotID, sampleID int64, v Sealed) error {
	var excused bool
	if err := q.QueryRow(ctx, "select excused from servings where ballot_id = $1 and sample_id = $2", ballotID, sampleID).Scan(&excused); err != nil {
		return err
	}
	rows, err := q.Query(ctx, "select attribute, value from scores where ballot_id = $1 and sample_id = $2 and voided_at is null", ballotID, sampleID)
	if err != nil {
		return err
	}
	n := 0
	var attribute string
	var value int
	_, err = pgx.ForEachRow(rows, []any{&attribute, &value}, func() error {
		if got, ok := v.Scores[attribute]; !ok || got != value {
			return ErrConflict
		}
		n++
		return nil
	})
	if err == nil && (n != len(v.Scores) || excused != v.Excused) {
		err = ErrConflict
	}
	if errors.Is(err, ErrConflict) {
		return ErrConflict
	}
	return err
}

// Scores reads all sealed scores of trials by trial and attribute, with cuts by
// name and arms in order from 0. Callers must see to it that the codes are open.
func (s *Store) Scores(ctx context.Context, trialIDs ...int64) (map[int64]map[trial.OutcomeKey][]panel.Score, error) {
	rows, err := s.pool.Query(ctx, `select f.trial_id, x.attribute, t.name, c.name, f.number::text, a.ordinal - 1, x.value::float8, m.place, v.position
		from scores x join servings v on v.ballot_id = x.ballot_id and v.sample_id = x.sample_id join ballots b on b.id = x.ballot_id join flights f on f.id = b.flight_id join tasters t on t.id = b.taster_id
		join samples m on m.id = x.sample_id join cuts c on c.id = m.cut_id join arms a on a.id = c.arm_id
		where f.trial_id = any($1) and f.voided_at is null and x.voided_at is null and c.voided_at is null order by x.id`, trialIDs)
	if err != nil {
		return nil, err
	}
	out := map[int64]map[trial.OutcomeKey][]panel.Score{}
	var id int64
	var key trial.OutcomeKey
	var v panel.Score
	_, err = pgx.ForEachRow(rows, []any{&id, &key, &v.Taster, &v.Cut, &v.Flight, &v.Arm, &v.Value, &v.Place, &v.Position}, func() error {
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
		where f.trial_id = $1 and f.voided_at is null and c.voided_at is null group by 1, 2 order by 3 desc, 1, 2`, trialID)
}

// FaultCount is how often a fault was ticked on the samples of an arm, in order from 0.
type FaultCount struct {
	Arm   int    `json:"arm"`
	Fault string `json:"fault"`
	N     int    `json:"n"`
}
