package store

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/panel"
)

// Taster sits at the table of a trial; no account is needed.
type Taster struct {
	ID       int64  `json:"id"`
	TrialID  int64  `json:"-"`
	Name     string `json:"name"`
	Seat     int    `json:"seat"`
	PersonID *int64 `json:"person_id"` // of the crew
	GuestID  *int64 `json:"-"`
	Bound    bool   `json:"bound"` // their page is open on a phone
}

// Flight is samples served together. Which cut has which code is not in it.
type Flight struct {
	ID          int64        `json:"id"`
	Number      int          `json:"number"`
	Format      panel.Format `json:"format"`
	CarverID    *int64       `json:"carver_id"` // nil: nobody knows the key, or all do
	Carver      string       `json:"carver"`
	Samples     int          `json:"samples"`
	Bites       int          `json:"bites"`
	WaterS      int          `json:"water_s"`
	SecondLook  bool         `json:"second_look"`
	Choice      bool         `json:"choice"`
	Shuffled    bool         `json:"shuffled"` // nobody knows which cup holds what
	Turned      bool         `json:"turned"`   // until they are turned over
	Paused      bool         `json:"paused"`   // tasters wait
	Served      time.Time    `json:"served"`
	Closed      bool         `json:"closed"` // before every ballot was locked
	CloseReason string       `json:"close_reason"`
	Opened      bool         `json:"opened"` // the codes of its cook are, before those of the trial
}

// BallotState is how far a ballot is, without its scores.
type BallotState struct {
	FlightID int64    `json:"flight_id"`
	TasterID int64    `json:"taster_id"`
	Codes    []string `json:"codes"` // in the order of the plate
	Closed   int      `json:"closed"`
	Locked   bool     `json:"locked"`
	Open     bool     `json:"open"`  // the codes are known to its taster
	Paper    bool     `json:"paper"` // it was typed in
}

// KeyLine is a line of the carver's key.
type KeyLine struct {
	SampleID int64  `json:"sample_id"`
	Code     string `json:"code"`
	Cut      string `json:"cut"`
	CutID    int64  `json:"cut_id"`
	Place    string `json:"place"`
	Carving  string `json:"carving"`
	BySight  bool   `json:"by_sight"`
	WarmUp   bool   `json:"warm_up"`
	Plated   bool   `json:"plated"`
}

// NewSample is a sample of a flight to be served.
type NewSample struct {
	CutID   int64
	Place   string
	Code    string
	Carving string // how it is cut and dressed
	BySight bool   // it looks like what it is
	WarmUp  bool   // not counted
	Advised bool   // served by a pitmaster's reason
}

// NewBallot is the plate of a taster: places in the flight's samples, in order.
type NewBallot struct {
	TasterID int64
	Open     bool
	Order    []int
}

// NewFlight is a flight to be served.
type NewFlight struct {
	TrialID    int64
	Format     panel.Format
	CarverID   *int64
	At         time.Time // by the cook's clock; zero is not known
	Bites      int
	WaterS     int
	SecondLook bool
	Choice     bool
	Shuffled   bool
	Samples    []NewSample
	Ballots    []NewBallot
}

const tasters = `select t.id, t.trial_id, t.name, t.seat, t.person_id, t.guest_id,
	exists (select from taster_phones h where h.taster_id = t.id and h.freed_at is null) as bound from tasters t where t.voided_at is null`

// Tasters lists a trial's tasters by seat.
func (s *Store) Tasters(ctx context.Context, trialID int64) ([]Taster, error) {
	return collect[Taster](ctx, s.pool, tasters+" and t.trial_id = $1 order by t.seat, t.id", trialID)
}

// Taster reads one taster.
func (s *Store) Taster(ctx context.Context, id int64) (Taster, error) {
	return one[Taster](ctx, s.pool, tasters+" and t.id = $1", id)
}

// NewTaster is somebody to be seated: of the crew, a guest who is known again, or neither.
type NewTaster struct {
	TrialID  int64
	Name     string
	PersonID *int64
	GuestID  *int64
}

// AddTaster gives a taster the next seat; ErrConflict if the name is taken or the person sits.
func (s *Store) AddTaster(ctx context.Context, who int64, t NewTaster) (id int64, err error) {
	err = s.pool.QueryRow(ctx, `insert into tasters (trial_id, name, seat, recorded_by, person_id, guest_id)
		select $1, $2, 1 + coalesce(max(seat), 0), $3, $4, $5 from tasters where trial_id = $1 and voided_at is null returning id`,
		t.TrialID, t.Name, who, t.PersonID, t.GuestID).Scan(&id)
	if IsUnique(err, "tasters_name") || IsUnique(err, "tasters_person") {
		return 0, ErrConflict
	}
	return id, err
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

// opened says of a flight whether the codes of its cook are.
const opened = `exists (select from samples m join placements x on x.cut_id = m.cut_id and x.voided_at is null
	join looks l on l.trial_id = f.trial_id and l.cook_id = x.cook_id and l.opened_at is not null where m.flight_id = f.id) as opened`

const flights = `select f.id, f.number, f.format, f.carver_id, coalesce(p.name, '') as carver, f.served_at as served,
	f.bites, f.water_s, f.second_look, f.choice, f.shuffled, f.turned_at is not null as turned, f.paused, f.closed_at is not null as closed, f.close_reason,
	(select count(*) from samples where flight_id = f.id)::int as samples, ` + opened + `
	from flights f left join people p on p.id = f.carver_id`

// BallotStates lists the ballots of a trial.
func (s *Store) BallotStates(ctx context.Context, trialID int64) ([]BallotState, error) {
	return collect[BallotState](ctx, s.pool, `select b.flight_id, b.taster_id, array_agg(m.code order by v.position) as codes,
		(count(*) filter (where v.sealed_at is not null or v.excused or exists (select from struck x
			where x.sample_id = v.sample_id)))::int as closed, b.locked_at is not null as locked, b.open, b.typed_by is not null as paper
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
	byCode := make([]int, len(f.Samples))
	for i := range byCode {
		byCode[i] = i
	}
	slices.SortFunc(byCode, func(a, b int) int { return cmp.Compare(f.Samples[a].Code, f.Samples[b].Code) })
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		var at *time.Time
		if !f.At.IsZero() {
			at = &f.At
		}
		err := tx.QueryRow(ctx, `insert into flights (trial_id, number, format, carver_id, served_by, at, bites, water_s, second_look, choice, shuffled)
			select $1, 1 + coalesce(max(number), 0), $2, $3, $4, $5, $6, $7, $8, $9, $10 from flights where trial_id = $1 and voided_at is null returning id`,
			f.TrialID, f.Format, f.CarverID, who, at, f.Bites, f.WaterS, f.SecondLook, f.Choice, f.Shuffled).Scan(&id)
		if err != nil {
			return err
		}
		samples := make([]int64, len(f.Samples))
		for _, i := range byCode {
			m := f.Samples[i]
			err := tx.QueryRow(ctx, `insert into samples (flight_id, cut_id, place, code, advised, carving, by_sight, warm_up)
				values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`, id, m.CutID, m.Place, m.Code, m.Advised, m.Carving, m.BySight, m.WarmUp).Scan(&samples[i])
			if err != nil {
				return err
			}
		}
		for _, b := range f.Ballots {
			plate := make([]int64, len(b.Order))
			for i, at := range b.Order {
				plate[i] = samples[at]
			}
			if err := addBallot(ctx, tx, id, b.TasterID, b.Open, plate); err != nil {
				return err
			}
		}
		return nil
	})
	return id, err
}

// AddBallot gives somebody a plate of a flight that is served: its samples in order.
func (s *Store) AddBallot(ctx context.Context, flightID, tasterID int64, open bool, samples []int64) error {
	err := s.withTx(ctx, func(tx pgx.Tx) error { return addBallot(ctx, tx, flightID, tasterID, open, samples) })
	if IsUnique(err, "ballots_flight_id_taster_id_key") {
		return ErrConflict
	}
	return err
}

// addBallot writes a plate. A warm-up has place 0, so that the first that counts is first.
func addBallot(ctx context.Context, tx pgx.Tx, flightID, tasterID int64, open bool, samples []int64) error {
	_, err := tx.Exec(ctx, `with ballot as (insert into ballots (flight_id, taster_id, open) values ($1, $2, $3) returning id)
		insert into servings (ballot_id, sample_id, position)
		select ballot.id, m.id, p.at - case when exists (select from samples w where w.id = $4[1] and w.warm_up) then 1 else 0 end
		from ballot, unnest($4::bigint[]) with ordinality as p(sample_id, at) join samples m on m.id = p.sample_id`, flightID, tasterID, open, samples)
	return err
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
	return collect[KeyLine](ctx, s.pool, `select m.id as sample_id, m.code, c.name as cut, c.id as cut_id, m.place, m.carving, m.by_sight,
		m.warm_up, m.plated_at is not null as plated from samples m join cuts c on c.id = m.cut_id where m.flight_id = $1 order by m.code`, flightID)
}

// FaceDown says whether a trial has a shuffled flight whose cups are not turned over.
func (s *Store) FaceDown(ctx context.Context, trialID int64) (bool, error) {
	return exists(ctx, s.pool, "select exists (select from flights where trial_id = $1 and shuffled and turned_at is null and voided_at is null)", trialID)
}

// TurnCups keeps which cut lay in which cup of a shuffled flight; ErrConflict if that is kept.
func (s *Store) TurnCups(ctx context.Context, flightID int64, cuts map[string]int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, "update flights set turned_at = now() where id = $1 and shuffled and turned_at is null", flightID)
		if err != nil {
			return err
		}
		if tag.RowsAffected() == 0 {
			return ErrConflict
		}
		for code, cut := range cuts {
			if _, err := tx.Exec(ctx, "update samples set cut_id = $3 where flight_id = $1 and code = $2", flightID, code, cut); err != nil {
				return err
			}
		}
		return nil
	})
}

// SetPace has the tasters of a flight wait or go on, and sets how long water takes.
func (s *Store) SetPace(ctx context.Context, flightID int64, paused bool, waterS int) error {
	_, err := s.pool.Exec(ctx, "update flights set paused = $2, water_s = $3 where id = $1", flightID, paused, waterS)
	return err
}
