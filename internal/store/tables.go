package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
)

// Table is a table of the record as the database describes it.
type Table struct {
	Name    string
	Columns []Column
	Key     []string // the primary key; empty where it has none
	Refers  []Reference
}

// Column is a column of a table.
type Column struct {
	Name     string
	Type     string // as PostgreSQL names it, for instance timestamp with time zone
	Nullable bool
}

// Reference is a column whose values are ids of another table.
type Reference struct {
	Column string
	Table  string
}

// Column finds a column by its name.
func (t Table) Column(name string) (Column, bool) {
	for _, c := range t.Columns {
		if c.Name == name {
			return c, true
		}
	}
	return Column{}, false
}

// Snapshot is the whole record as it was at one moment.
type Snapshot struct {
	tx      pgx.Tx
	tables  []Table
	version int64
}

// Snapshot has f read the record in one repeatable-read transaction: a cook that goes on
// meanwhile changes nothing of what f sees, and is not held up.
func (s *Store) Snapshot(ctx context.Context, f func(*Snapshot) error) error {
	return s.atOneMoment(ctx, func(tx pgx.Tx) error {
		tables, err := tablesOf(ctx, tx)
		if err != nil {
			return err
		}
		version, err := versionOf(ctx, tx)
		if err != nil {
			return err
		}
		return f(&Snapshot{tx, tables, version})
	})
}

// Tables lists the tables by name, without the one that keeps the version, what is made from others, and what was answered of late.
func (s *Snapshot) Tables() []Table { return s.tables }

// Version is that of the newest migration.
func (s *Snapshot) Version() int64 { return s.version }

// CopyOut writes the rows of a table as CSV with a header, in the order of its key, and
// counts them. NULL is an empty cell and the empty text a quoted one.
func (s *Snapshot) CopyOut(ctx context.Context, t Table, scope Scope, w io.Writer) (int64, error) {
	columns := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		columns[i] = c.written()
		if veil, secret := secrets[t.Name][c.Name]; secret && !scope.Secrets {
			columns[i] = veil + " as " + quote(c.Name)
		}
	}
	sql := "select " + strings.Join(columns, ", ") + " from " + quote(t.Name)
	if scope.Trial != 0 {
		sql += " where " + strings.ReplaceAll(belongs[t.Name], "$1", strconv.FormatInt(scope.Trial, 10))
	}
	var order []string
	for _, c := range t.Columns {
		if len(t.Key) == 0 || slices.Contains(t.Key, c.Name) {
			order = append(order, quote(c.Name))
		}
	}
	tag, err := s.tx.Conn().PgConn().CopyTo(ctx, w, "copy ("+sql+" order by "+strings.Join(order, ", ")+") to stdout (format csv, header true)")
	if err != nil {
		return 0, fmt.Errorf("read the table %s: %w", t.Name, err)
	}
	return tag.RowsAffected(), nil
}

// risky begins a cell that a spreadsheet would compute, or one that was made safe before.
const risky = `^[=+@\t\r''-]`

// written is the column as it is written: moments as ISO 8601 in UTC to the microsecond, and
// text that a spreadsheet would run with an apostrophe before it.
func (c Column) written() string {
	name := quote(c.Name)
	switch c.Type {
	case "timestamp with time zone":
		return fmt.Sprintf(`to_char(%s at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as %[1]s`, name)
	case "text":
		return fmt.Sprintf(`case when %s ~ E'%s' then '''' || %[1]s else %[1]s end as %[1]s`, name, risky)
	}
	return name
}

func quote(name string) string { return pgx.Identifier{name}.Sanitize() }

// tablesOf reads from the database's own catalogue what tables there are, but for what is made from others.
func tablesOf(ctx context.Context, q querier) ([]Table, error) {
	rows, err := q.Query(ctx, `select c.relname, a.attname, format_type(a.atttypid, null), not a.attnotnull,
			coalesce(a.attnum = any(k.conkey), false), coalesce((select f.confrelid::regclass::text from pg_constraint f
				where f.conrelid = c.oid and f.contype = 'f' and f.conkey = array[a.attnum] limit 1), '')
		from pg_class c join pg_namespace n on n.oid = c.relnamespace and n.nspname = 'public'
			join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
			left join pg_constraint k on k.conrelid = c.oid and k.contype = 'p'
		where c.relkind = 'r' and c.relname not in ('goose_db_version', 'reading_parts', 'requests') order by c.relname, a.attnum`)
	if err != nil {
		return nil, fmt.Errorf("list the tables: %w", err)
	}
	var out []Table
	var table, refers string
	var c Column
	var key bool
	_, err = pgx.ForEachRow(rows, []any{&table, &c.Name, &c.Type, &c.Nullable, &key, &refers}, func() error {
		if len(out) == 0 || out[len(out)-1].Name != table {
			out = append(out, Table{Name: table})
		}
		t := &out[len(out)-1]
		t.Columns = append(t.Columns, c)
		if key {
			t.Key = append(t.Key, c.Name)
		}
		if refers != "" {
			t.Refers = append(t.Refers, Reference{c.Name, refers})
		}
		return nil
	})
	return out, err
}

func versionOf(ctx context.Context, q querier) (v int64, err error) {
	err = q.QueryRow(ctx, "select coalesce(max(version_id), 0) from goose_db_version where is_applied").Scan(&v)
	return v, err
}

// ErrNotEmpty is given when a record would be written over another.
var ErrNotEmpty = errors.New("there is a barn here already")

// Restoring writes a whole record into an empty database.
type Restoring struct {
	tx     pgx.Tx
	tables map[string]Table
}

// Restore has f write a record that was kept at a version of the schema, and brings it up to
// date: all of it, or nothing. ErrNotEmpty where there is a barn.
func Restore(ctx context.Context, url string, version int64, f func(*Restoring) error) error {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return fmt.Errorf("connect to the database: %w", err)
	}
	defer pool.Close()
	if err := emptyFor(ctx, pool, version); err != nil {
		return err
	}
	err = pgx.BeginFunc(ctx, pool, func(tx pgx.Tx) error {
		tables, err := tablesOf(ctx, tx)
		if err != nil {
			return err
		}
		r := &Restoring{tx: tx, tables: map[string]Table{}}
		names := make([]string, len(tables))
		for i, t := range tables {
			r.tables[t.Name], names[i] = t, quote(t.Name)
		}
		if _, err := tx.Exec(ctx, "truncate "+strings.Join(names, ", ")); err != nil {
			return fmt.Errorf("make room: %w", err)
		}
		// Tables refer to each other in circles: what holds between them is checked at the end.
		links, err := r.unlink(ctx)
		if err != nil {
			return err
		}
		if err := f(r); err != nil {
			return err
		}
		for _, link := range links {
			if _, err := tx.Exec(ctx, link); err != nil {
				return fmt.Errorf("the tables do not fit each other: %w", err)
			}
		}
		return r.count(ctx)
	})
	if err != nil {
		return err
	}
	return Migrate(ctx, pool)
}

// emptyFor brings an empty database to a version of the schema.
func emptyFor(ctx context.Context, pool *pgxpool.Pool, version int64) error {
	var there bool
	if err := pool.QueryRow(ctx, "select to_regclass('public.barn') is not null").Scan(&there); err != nil {
		return err
	}
	if there {
		if err := pool.QueryRow(ctx, "select exists (select from barn) or exists (select from people)").Scan(&there); err != nil {
			return err
		}
		if there {
			return ErrNotEmpty
		}
		now, err := versionOf(ctx, pool)
		if err != nil || now == version {
			return err
		}
		// Empty, but of another version: from the beginning.
		if _, err := pool.Exec(ctx, "drop schema public cascade; create schema public"); err != nil {
			return err
		}
	}
	db := stdlib.OpenDBFromPool(pool)
	defer db.Close()
	provider, err := goose.NewProvider(goose.DialectPostgres, db, Migrations())
	if err != nil {
		return fmt.Errorf("read the migrations: %w", err)
	}
	_, newest, err := provider.GetVersions(ctx)
	if err == nil {
		sources := provider.ListSources()
		newest = sources[len(sources)-1].Version
	}
	if err != nil {
		return err
	}
	if version > newest {
		return fmt.Errorf("it was kept by a newer White Barn (version %d of the record; this one knows %d): install that one first", version, newest)
	}
	_, err = provider.UpTo(ctx, version)
	return err
}

// unlink takes the foreign keys away and returns what puts them back.
func (r *Restoring) unlink(ctx context.Context) ([]string, error) {
	rows, err := r.tx.Query(ctx, `select format('alter table %s drop constraint %I', conrelid::regclass, conname),
			format('alter table %s add constraint %I %s', conrelid::regclass, conname, pg_get_constraintdef(oid))
		from pg_constraint where contype = 'f' and connamespace = 'public'::regnamespace order by conrelid::regclass::text, conname`)
	if err != nil {
		return nil, err
	}
	var drops, adds []string
	var drop, add string
	_, err = pgx.ForEachRow(rows, []any{&drop, &add}, func() error {
		drops, adds = append(drops, drop), append(adds, add)
		return nil
	})
	if err != nil {
		return nil, err
	}
	_, err = r.tx.Exec(ctx, strings.Join(drops, "; "))
	return adds, err
}

// CopyIn reads rows that CopyOut wrote; columns are those of their header. Moments and numbers
// are read as they stand, and the apostrophes before what a spreadsheet would run taken away.
func (r *Restoring) CopyIn(ctx context.Context, table string, columns []string, in io.Reader) (int64, error) {
	t, ok := r.tables[table]
	if !ok {
		return 0, fmt.Errorf("this record has no table %q", table)
	}
	names := make([]string, len(columns))
	var texts []string
	for i, name := range columns {
		c, ok := t.Column(name)
		if !ok {
			return 0, fmt.Errorf("the table %s has no column %q", table, name)
		}
		if names[i] = quote(name); c.Type == "text" {
			texts = append(texts, names[i])
		}
	}
	tag, err := r.tx.Conn().PgConn().CopyFrom(ctx, in, fmt.Sprintf("copy %s (%s) from stdin (format csv, header true)", quote(table), strings.Join(names, ", ")))
	if err != nil {
		return 0, fmt.Errorf("write the table %s: %w", table, err)
	}
	for _, name := range texts {
		if _, err := r.tx.Exec(ctx, fmt.Sprintf(`update %s set %s = substr(%[2]s, 2) where %[2]s ~ E'^''%s'`, quote(table), name, risky[1:])); err != nil {
			return 0, fmt.Errorf("write the table %s: %w", table, err)
		}
	}
	return tag.RowsAffected(), nil
}

// Set gives a column that was left out of an archive its value in all rows.
func (r *Restoring) Set(ctx context.Context, table, column string, value any) error {
	_, err := r.tx.Exec(ctx, fmt.Sprintf("update %s set %s = $1", quote(table), quote(column)), value)
	return err
}

// count has every identity go on after the ids that were written.
func (r *Restoring) count(ctx context.Context) error {
	for _, t := range r.tables {
		if len(t.Key) != 1 || t.Key[0] != "id" || t.Name == "barn" {
			continue
		}
		if _, err := r.tx.Exec(ctx, fmt.Sprintf("select setval(pg_get_serial_sequence('%s', 'id'), coalesce(max(id), 0) + 1, false) from %s", t.Name,
			quote(t.Name))); err != nil {
			return fmt.Errorf("count on in %s: %w", t.Name, err)
		}
	}
	return nil
}
