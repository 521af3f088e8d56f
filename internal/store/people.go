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
	ID           int64  `json:"id"`
	Name         string `json:"name"`
	Role         Role   `json:"role"`
	SignIn       string `json:"sign_in"`
	PasswordHash string `json:"-"`
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
	err = q.QueryRow(ctx, "insert into people (name, role, sign_in, password_hash) values ($1, $2, lower($3), $4) returning id", p.Name, p.Role, p.SignIn, p.PasswordHash).Scan(&id)
	if IsUnique(err, "") {
		return 0, ErrConflict
	}
	return id, err
}

const personColumns = "select id, name, role, sign_in, password_hash from people"

// People lists the crew.
func (s *Store) People(ctx context.Context) ([]Person, error) {
	return collect[Person](ctx, s.pool, personColumns+" order by role = 'crew', name")
}

// Person finds somebody by id.
func (s *Store) Person(ctx context.Context, id int64) (Person, error) {
	return one[Person](ctx, s.pool, personColumns+" where id = $1", id)
}

// PersonBySignIn finds somebody by their sign-in name.
func (s *Store) PersonBySignIn(ctx context.Context, signIn string) (Person, error) {
	return one[Person](ctx, s.pool, personColumns+" where sign_in = lower($1)", signIn)
}

// SetPassword changes the hash of somebody's password.
func (s *Store) SetPassword(ctx context.Context, id int64, hash string) error {
	_, err := s.pool.Exec(ctx, "update people set password_hash = $2 where id = $1", id, hash)
	return err
}
