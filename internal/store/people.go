package store

import (
	"context"
	"crypto/rand"
	"time"

	"github.com/jackc/pgx/v5"
)

// Role is what a person may do.
type Role string

// The roles of people with an account; tasters have none.
const (
	Pitmaster Role = "pitmaster"
	Crew      Role = "crew"
)

// Values lists the roles.
func (Role) Values() []string { return []string{string(Pitmaster), string(Crew)} }

// Trust is what the pitmaster trusts somebody of the crew with besides logging and weighing.
type Trust string

// What there is to trust somebody with.
const (
	TrustArms   Trust = "arms"   // drawing, arms, pairs, places, dividing
	TrustPits   Trust = "pits"   // pits and holders, their grates, set-ups and calibrations
	TrustPantry Trust = "pantry" // ingredients and recipes
)

// Values lists them.
func (Trust) Values() []string {
	return []string{string(TrustArms), string(TrustPits), string(TrustPantry)}
}

// Barn is the barn's own row.
type Barn struct {
	Name       string  `json:"name"`
	TimeZone   string  `json:"time_zone"`
	ElevationM float64 `json:"elevation_m"`
	Guests     bool    `json:"guests"` // their phones come in without a certificate, to ballots alone
	Secret     []byte  `json:"-"`
}

// Person is a member of the crew.
type Person struct {
	ID           int64      `json:"id"`
	Name         string     `json:"name"`
	Role         Role       `json:"role"`
	Trusts       []Trust    `json:"trusts"`
	SignIn       string     `json:"sign_in"` // empty: no account
	CameAt       *time.Time `json:"came_at"` // null: was asked to come, and has not yet
	LeftAt       *time.Time `json:"left_at"`
	Units        OwnUnits   `json:"units"`
	PasswordHash string     `json:"-"`
	SignedOutAt  *time.Time `json:"-"` // of all devices
}

// OwnUnits are how somebody has numbers and clocks shown; what is empty is as on the device.
type OwnUnits struct {
	Temperatures string `json:"temperatures" binding:"omitempty,oneof=F C"`
	Weights      string `json:"weights" binding:"omitempty,oneof=lb kg"`
	Hours        string `json:"hours" binding:"omitempty,oneof=12 24"`
	Mark         string `json:"mark" binding:"omitempty,oneof=. 0x2C"` // of decimals
}

// Barn returns the barn, or ErrNotFound before the first run.
func (s *Store) Barn(ctx context.Context) (Barn, error) {
	return one[Barn](ctx, s.pool, "select name, time_zone, elevation_m, guests, secret from barn")
}

// Zone is the barn's time zone.
func (s *Store) Zone(ctx context.Context) (*time.Location, error) {
	b, err := s.Barn(ctx)
	if err != nil {
		return nil, err
	}
	return time.LoadLocation(b.TimeZone)
}

// FirstRun makes the barn and its pitmaster; ErrConflict if there is a barn.
func (s *Store) FirstRun(ctx context.Context, barn Barn, p Person) (id int64, err error) {
	secret := make([]byte, 32)
	if _, err := rand.Read(secret); err != nil {
		return 0, err
	}
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, "insert into barn (name, time_zone, elevation_m, secret) values ($1, $2, $3, $4)", barn.Name, barn.TimeZone, barn.ElevationM, secret)
		if IsUnique(err, "") {
			return ErrConflict
		}
		if err != nil {
			return err
		}
		id, err = addPerson(ctx, tx, p)
		return err
	})
	return id, err
}

// SetBarn changes what the barn is.
func (s *Store) SetBarn(ctx context.Context, who int64, b Barn) error {
	before, err := s.Barn(ctx)
	if err != nil {
		return err
	}
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "update barn set name = $1, time_zone = $2, elevation_m = $3, guests = $4", b.Name, b.TimeZone,
			b.ElevationM, b.Guests); err != nil {
			return err
		}
		return change(ctx, tx, who, "barn", 1, before, b, "")
	})
}

// AddPerson makes an account; ErrConflict if name or sign-in is taken.
func (s *Store) AddPerson(ctx context.Context, p Person) (int64, error) {
	return addPerson(ctx, s.pool, p)
}

func addPerson(ctx context.Context, q querier, p Person) (id int64, err error) {
	err = q.QueryRow(ctx, `insert into people (name, role, trusts, sign_in, password_hash, came_at, password_at)
		values ($1, $2, $3, lower(nullif($4, '')), $5, case when $5 <> '' then now() end, case when $5 <> '' then now() end) returning id`,
		p.Name, p.Role, trustsOf(p), p.SignIn, p.PasswordHash).Scan(&id)
	if IsUnique(err, "") {
		return 0, ErrConflict
	}
	return id, err
}

func trustsOf(p Person) []Trust { return append([]Trust{}, p.Trusts...) }

const personColumns = `select id, name, role, trusts, coalesce(sign_in, '') as sign_in, came_at, left_at, units, password_hash, signed_out_at
	from people`

// People lists who is and was of the crew, those who left last.
func (s *Store) People(ctx context.Context) ([]Person, error) {
	return collect[Person](ctx, s.pool, personColumns+" order by left_at is not null, role = 'crew', name")
}

// Crew lists who is of the crew.
func (s *Store) Crew(ctx context.Context) ([]Person, error) {
	return collect[Person](ctx, s.pool, personColumns+" where left_at is null order by role = 'crew', name")
}

// Person finds somebody by id.
func (s *Store) Person(ctx context.Context, id int64) (Person, error) {
	return one[Person](ctx, s.pool, personColumns+" where id = $1", id)
}

// PersonBySignIn finds somebody by their sign-in name.
func (s *Store) PersonBySignIn(ctx context.Context, signIn string) (Person, error) {
	return one[Person](ctx, s.pool, personColumns+" where sign_in = lower($1)", signIn)
}

// SetPerson changes what somebody is called and may do; ErrConflict if the name is taken.
func (s *Store) SetPerson(ctx context.Context, who int64, p Person) error {
	return s.changePerson(ctx, who, p.ID, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, "update people set name = $2, role = $3, trusts = $4 where id = $1", p.ID, p.Name, p.Role, trustsOf(p))
		return err
	}, "")
}

// LeaveCrew ends what somebody may do; their name stays in the record.
func (s *Store) LeaveCrew(ctx context.Context, who, id int64, why string) error {
	return s.changePerson(ctx, who, id, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `with l as (update entry_links set voided_at = now() where person_id = $1 and used_at is null and voided_at is null),
			k as (update passkeys set voided_at = now() where person_id = $1 and voided_at is null),
			t as (update script_tokens set voided_at = now(), voided_by = $2 where person_id = $1 and voided_at is null)
			update people set left_at = now(), left_by = $2, signed_out_at = now(), password_hash = '' where id = $1`, id, who)
		return err
	}, why)
}

// ReturnToCrew has somebody who left be of the crew again; they come by a link.
func (s *Store) ReturnToCrew(ctx context.Context, who, id int64) error {
	return s.changePerson(ctx, who, id, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, "update people set left_at = null, left_by = null, came_at = null where id = $1", id)
		return err
	}, "")
}

// changePerson changes somebody and keeps what they were.
func (s *Store) changePerson(ctx context.Context, who, id int64, f func(pgx.Tx) error, why string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := one[Person](ctx, tx, personColumns+" where id = $1 for update", id)
		if err != nil {
			return err
		}
		if err := f(tx); err != nil {
			if IsUnique(err, "") {
				err = ErrConflict
			}
			return err
		}
		after, err := one[Person](ctx, tx, personColumns+" where id = $1", id)
		if err != nil {
			return err
		}
		return change(ctx, tx, who, "person", id, kept(before), kept(after), why)
	})
}

// kept is what is kept of a person that changed: how they have things shown is nobody's.
func kept(p Person) map[string]any {
	return map[string]any{"name": p.Name, "role": p.Role, "trusts": p.Trusts, "left": p.LeftAt}
}

// Pitmasters counts who of the crew may do all, and have an account.
func (s *Store) Pitmasters(ctx context.Context) (n int, err error) {
	err = s.pool.QueryRow(ctx, "select count(*) from people where role = 'pitmaster' and left_at is null and came_at is not null").Scan(&n)
	return n, err
}

// SetUnits keeps how somebody has numbers and clocks shown.
func (s *Store) SetUnits(ctx context.Context, id int64, units OwnUnits) error {
	_, err := s.pool.Exec(ctx, "update people set units = $2 where id = $1", id, units)
	return err
}

// SetPassword changes the hash of somebody's password, and ends the sessions from before.
func (s *Store) SetPassword(ctx context.Context, who *int64, id int64, hash string) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `with l as (update entry_links set voided_at = now() where person_id = $1 and used_at is null and voided_at is null)
			update people set password_hash = $2, password_at = now(), signed_out_at = now(), came_at = coalesce(came_at, now()) where id = $1`, id, hash)
		if err != nil {
			return err
		}
		return changeBy(ctx, tx, who, "person", id, nil, map[string]string{"password": "set"}, "")
	})
}

// SignOutAll ends all sessions of somebody from before now.
func (s *Store) SignOutAll(ctx context.Context, who, id int64) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "update people set signed_out_at = now() where id = $1", id); err != nil {
			return err
		}
		return change(ctx, tx, who, "person", id, nil, map[string]string{"sessions": "ended"}, "")
	})
}
