// Package store keeps the record of a barn in PostgreSQL.
package store

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/pgxstore"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jackc/puddle/v2"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Migrations are the SQL files in order.
func Migrations() fs.FS {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return sub
}

// Errors a caller can act on.
var (
	ErrNotFound = errors.New("not found")
	ErrConflict = errors.New("conflict")
)

// Store reads and writes the record.
type Store struct {
	pool  db
	root  *pgxpool.Pool
	known *knownProbes
}

// db is the pool, or a transaction that many calls share.
type db interface {
	querier
	Begin(ctx context.Context) (pgx.Tx, error)
}

// leastConnections lets fifty devices and a few browsers in at once.
const leastConnections = 16

// Open connects and brings the schema up to date; several servers may do so at
// the same time.
func Open(ctx context.Context, url string) (*Store, error) { return OpenTraced(ctx, url, nil) }

// OpenTraced is Open with a tracer that hears of every query; nil is none.
func OpenTraced(ctx context.Context, url string, tracer pgx.QueryTracer) (*Store, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("read the database URL: %w", err)
	}
	config.MaxConns = max(config.MaxConns, leastConnections)
	config.ConnConfig.Tracer = tracer
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, fmt.Errorf("connect to the database: %w", err)
	}
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("connect to the database: %w", err)
	}
	if err := Migrate(ctx, pool); err != nil {
		pool.Close()
		return nil, err
	}
	return &Store{pool: pool, root: pool, known: &knownProbes{}}, nil
}

// Migrate brings the schema up to date.
func Migrate(ctx context.Context, pool *pgxpool.Pool) error {
	db := stdlib.OpenDBFromPool(pool)
	defer db.Close()
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db, Migrations(), goose.WithSessionLocker(locker))
	if err != nil {
		return fmt.Errorf("read the migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bring the schema up to date: %w", err)
	}
	return nil
}

// Sessions keeps sessions in a table of their own, by the session library's queries.
func (s *Store) Sessions() *pgxstore.PostgresStore {
	return pgxstore.NewWithCleanupInterval(s.root, time.Hour)
}

// Pool is for what listens to the database, and for tests.
func (s *Store) Pool() *pgxpool.Pool { return s.root }

// Now is the time of the database's clock, which rows are dated by.
func (s *Store) Now(ctx context.Context) (t time.Time, err error) {
	err = s.pool.QueryRow(ctx, "select now()").Scan(&t)
	return t, err
}

// Close ends all connections.
func (s *Store) Close() { s.root.Close() }

// InTx runs f on a store whose calls all count or none.
func (s *Store) InTx(ctx context.Context, f func(*Store) error) error {
	return s.withTx(ctx, func(tx pgx.Tx) error { return f(&Store{pool: tx, root: s.root, known: s.known}) })
}

// AtOnce runs f on a store whose reads all see the record of one moment, whatever is changed
// meanwhile; nothing can be written. Within InTx f reads as the transaction does.
func (s *Store) AtOnce(ctx context.Context, f func(*Store) error) error {
	if s.pool != db(s.root) {
		return f(s)
	}
	return s.atOneMoment(ctx, func(tx pgx.Tx) error { return f(&Store{pool: tx, root: s.root, known: s.known}) })
}

func (s *Store) atOneMoment(ctx context.Context, f func(pgx.Tx) error) error {
	return pgx.BeginTxFunc(ctx, s.root, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}, f)
}

// withTx runs f in a transaction.
func (s *Store) withTx(ctx context.Context, f func(pgx.Tx) error) error {
	return pgx.BeginFunc(ctx, s.pool, f)
}

// querier is a pool or a transaction.
type querier interface {
	Query(ctx context.Context, sql string, args ...any) (pgx.Rows, error)
	QueryRow(ctx context.Context, sql string, args ...any) pgx.Row
	Exec(ctx context.Context, sql string, args ...any) (pgconn.CommandTag, error)
}

// collect reads all rows into structs by column name.
func collect[T any](ctx context.Context, q querier, sql string, args ...any) ([]T, error) {
	rows, err := q.Query(ctx, sql, args...)
	if err != nil {
		return nil, err
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByName[T])
	if out == nil {
		out = []T{}
	}
	return out, err
}

// one reads a single row into a struct by column name.
func one[T any](ctx context.Context, q querier, sql string, args ...any) (T, error) {
	rows, err := q.Query(ctx, sql, args...)
	if err != nil {
		var none T
		return none, err
	}
	v, err := pgx.CollectExactlyOneRow(rows, pgx.RowToStructByName[T])
	return v, found(err)
}

// found turns pgx's word for nothing into ours.
func found(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// IsUnique says whether err is a broken unique index of that name; any, if empty.
func IsUnique(err error, index string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == "23505" && (index == "" || pg.ConstraintName == index)
}

// isForeign says whether err is of a row that refers to one that is not there.
func isForeign(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == "23503"
}

// Unfit says whether the record refused a value for what it is: none of its kind, out of its
// bounds, or of something that is not there. It should have been refused before.
func Unfit(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (strings.HasPrefix(pg.Code, "22") || slices.Contains([]string{"23502", "23503", "23514"}, pg.Code))
}

// OutOfRoom says whether the database could not write for want of room, or of leave.
func OutOfRoom(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "53100" || pg.Code == "25006" || pg.Code == "58030")
}

// Unreachable says whether the database did not answer at all, is just starting or ending, has no
// room for one more, or broke off: the same may go through in a moment.
func Unreachable(err error) bool {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		broken := []string{"53300", "57014", "40001", "40P01"} // too many, cancelled, out of turn, deadlocked
		return strings.HasPrefix(pg.Code, "57P") || strings.HasPrefix(pg.Code, "08") || slices.Contains(broken, pg.Code)
	}
	var connect *pgconn.ConnectError
	var network net.Error
	if errors.As(err, &connect) || errors.As(err, &network) && !errors.Is(err, context.Canceled) {
		return true
	}
	return slices.ContainsFunc([]error{io.ErrUnexpectedEOF, io.EOF, net.ErrClosed, puddle.ErrClosedPool},
		func(of error) bool { return errors.Is(err, of) }) || pgconn.SafeToRetry(err)
}

// change records what was changed in place.
func change(ctx context.Context, q querier, who int64, subject string, id int64, before, after any, why string) error {
	return changeBy(ctx, q, &who, subject, id, before, after, why)
}

// changeBy is change for what a person did, or with none the keeper of the machine.
func changeBy(ctx context.Context, q querier, who *int64, subject string, id int64, before, after any, why string) error {
	b, err := json.Marshal(before)
	if err != nil {
		return err
	}
	a, err := json.Marshal(after)
	if err != nil {
		return err
	}
	_, err = q.Exec(ctx, "insert into changes (subject, subject_id, before, after, person_id, why) values ($1, $2, $3, $4, $5, $6)", subject, id, b, a, who, why)
	return err
}

// recordTables are those whose rows are voided, never deleted.
var recordTables = map[string]bool{
	"cuts": true, "weighings": true, "events": true, "placements": true, "probe_assignments": true,
	"gate_reasons": true, "tasters": true, "flights": true, "imports": true,
	"dimensions": true, "measures": true, "accepted_findings": true, "weigh_outs": true, "leftovers": true,
	"calibrations": true,
}

// void marks a row as not to be counted, with who and why; ErrNotFound if it
// is not there or was voided before.
func void(ctx context.Context, q querier, table string, id, who int64, why string) error {
	if !recordTables[table] {
		return fmt.Errorf("rows of %s cannot be voided", table)
	}
	tag, err := q.Exec(ctx, "update "+table+" set voided_at = now(), voided_by = $2, void_reason = $3 where id = $1 and voided_at is null", id, who, why)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}
