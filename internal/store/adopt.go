package store

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// sharedBy names what rows of the barn's own are known again by in another barn, as SQL over
// n, the row that comes in, and h, a row of the house. Devices are not: a gateway of another barn
// that has the name of ours is another one, and its readings must not run into ours.
var sharedBy = map[string]string{
	"people":            "lower(h.name) = lower(n.name)",
	"products":          "lower(h.name) = lower(n.name)",
	"pits":              "lower(h.name) = lower(n.name)",
	"holders":           "lower(h.name) = lower(n.name)",
	"catalogue_factors": "lower(h.name) = lower(n.name)",
	"catalogue_levels":  "lower(h.value) = lower(n.value) and h.factor_id = (select new from came where tbl = 'catalogue_factors' and old = n.factor_id)",
}

// staysBehind are tables of a trial's archive that another barn has its own of, or that speak
// of a moment that is over.
var staysBehind = []string{"barn", "barn_lines", "alarms", "alarm_states", "postponed", "pending_changes"}

// adoptOrder has every table after those that it refers to.
var adoptOrder = strings.Fields(`people products catalogue_factors catalogue_levels pits holders guests trials devices probes calibrations
	arms outcomes trial_factors cuts cooks pit_runs holder_runs cook_pit_runs cook_holder_runs placements events imports readings voided_readings
	probe_assignments weighings weigh_outs dimensions measures prep_marks gate_reasons cut_guesses outlooks leftovers photos allotments accepted_findings
	tasters flights samples struck ballots servings scores looks noted_changes outlines practice_truths verdicts verdict_versions spreads contrasts trial_effects`)

// madeAnew are columns that take another value than the one that comes in, as SQL over n.
var madeAnew = map[string]string{
	"people.sign_in":  "null", // they have no account here
	"people.came_at":  "null",
	"people.left_at":  "null",
	"people.left_by":  "null",
	"people.role":     "'crew'",
	"people.trusts":   "'{}'",
	"people.units":    "'{}'",
	"guests.key_hash": "sha256(convert_to(gen_random_uuid()::text, 'UTF8'))", // opens nothing
	"devices.name": "n.name || case when exists (select from devices h where h.name = n.name) then ' of trial ' || (select " +
		"new from came where tbl = 'trials') else '' end",
	"devices.token_hash":            "null",
	"devices.cook_id":               "null",
	"pits.used":                     "null",
	"catalogue_factors.merged_into": "null",
	"catalogue_levels.merged_into":  "null",
	"trials.follows_id":             "null",
	"trials.rehearses_id":           "null",
	"trials.process_version_id":     "null",
	"servings.phone_id":             "null",
	"readings.received_at":          "now()",
	"arms.level_ids": "array(select (select new from came where tbl = 'catalogue_levels' and old = l) from unnest(n.level_ids) " +
		"with ordinality x (l, k) order by k)",
	"allotments.arms": `(select coalesce(jsonb_object_agg((select new from came where tbl = 'cuts' and old = k::bigint), (select new from came where tbl
		= 'arms' and old = v::bigint)), '{}')
		from jsonb_each_text(n.arms) x (k, v))`,
	"contrasts.first_level":    cameFrom("catalogue_levels", "first_level"),
	"contrasts.second_level":   cameFrom("catalogue_levels", "second_level"),
	"readings.probe_id":        cameFrom("probes", "probe_id"),
	"readings.import_id":       cameFrom("imports", "import_id"),
	"voided_readings.probe_id": cameFrom("probes", "probe_id"),
	"events.detail":            numbered("n.detail", "holder_id", "holders"),
	"outlines.outline":         numbered(numbered(numbered("n.outline", "holder_id", "holders"), "arm_id", "arms"), "recipe_id", "recipes"),
}

func cameFrom(table, column string) string {
	return fmt.Sprintf("(select new from came where tbl = '%s' and old = n.%s)", table, column)
}

// numbered gives the ids of a table that a document has under a name their new numbers; those
// that did not come are 0, which is none.
func numbered(document, name, table string) string {
	return fmt.Sprintf("renumbered(%s, '%s', '%s')", document, name, table)
}

// renumberedSQL replaces ids within a document, for the length of a session.
const renumberedSQL = `create or replace function pg_temp.renumbered(document jsonb, name text, tbl text) returns jsonb language plpgsql as $f$
declare found record; out text := document::text;
begin
  for found in select distinct (v #>> '{}')::bigint as old from jsonb_path_query(document, ('lax $.**.' || quote_ident(name))::jsonpath, silent => true) v
      where jsonb_typeof(v) = 'number' and (v #>> '{}')::bigint <> 0 loop
    out := replace(replace(out, format('"%s": %s,', name, found.old), format('"%s": #%s,', name, found.old)), format('"%s": %s}', name, found.old),
	format('"%s": #%s}', name, found.old));
  end loop;
  for found in select distinct (v #>> '{}')::bigint as old from jsonb_path_query(document, ('lax $.**.' || quote_ident(name))::jsonpath, silent => true) v
      where jsonb_typeof(v) = 'number' and (v #>> '{}')::bigint <> 0 loop
    out := replace(replace(out, format('"%s": #%s,', name, found.old), format('"%s": %s,', name, coalesce((select c.new from came c where c.tbl =
	renumbered.tbl and c.old = found.old), 0))),
      format('"%s": #%s}', name, found.old), format('"%s": %s}', name, coalesce((select c.new from came c where c.tbl = renumbered.tbl and c.old =
	found.old), 0)));
  end loop;
  return out::jsonb;
end $f$`

// Adopting takes one trial of another barn in.
type Adopting struct {
	tx     pgx.Tx
	tables map[string]Table
	who    int64
}

// Adopt has f bring in the tables of one trial's archive, then gives all rows numbers of this
// barn: what both barns have (people, pits, levels by their names) is known again, the rest is
// new. It returns the trial's number here; ErrConflict where it came before.
func (s *Store) Adopt(ctx context.Context, who int64, f func(*Adopting) error) (trialID int64, err error) {
	err = pgx.BeginFunc(ctx, s.root, func(tx pgx.Tx) error {
		tables, err := tablesOf(ctx, tx)
		if err != nil {
			return err
		}
		a := &Adopting{tx: tx, tables: map[string]Table{}, who: who}
		for _, t := range tables {
			a.tables[t.Name] = t
		}
		setUp := []string{"create temp table came (tbl text, old bigint, new bigint, known boolean, primary key (tbl, old)) on commit drop",
			"set local search_path = public, pg_temp"}
		for _, name := range adoptOrder {
			setUp = append(setUp, fmt.Sprintf("create temp table in_%s (like public.%[1]s) on commit drop", name))
			for _, c := range a.tables[name].Columns {
				setUp = append(setUp, fmt.Sprintf("alter table in_%s alter column %s drop not null", name, quote(c.Name)))
			}
		}
		if _, err := tx.Exec(ctx, strings.Join(append(setUp, renumberedSQL), "; ")); err != nil {
			return fmt.Errorf("make room for the trial: %w", err)
		}
		if err := f(a); err != nil {
			return err
		}
		trialID, err = a.adopt(ctx)
		return err
	})
	return trialID, err
}

// Version is that of the newest migration.
func (a *Adopting) Version(ctx context.Context) (int64, error) { return versionOf(ctx, a.tx) }

// CopyIn brings the rows of a table in, beside the record.
func (a *Adopting) CopyIn(ctx context.Context, table string, columns []string, in io.Reader) (int64, error) {
	if slices.Contains(staysBehind, table) {
		return -1, nil
	}
	if !slices.Contains(adoptOrder, table) {
		return 0, fmt.Errorf("a trial has no table %q", table)
	}
	t := a.tables[table]
	t.Name = "in_" + table
	r := Restoring{tx: a.tx, tables: map[string]Table{t.Name: t}}
	return r.CopyIn(ctx, t.Name, columns, in)
}

// adopt numbers what was brought in and writes it.
func (a *Adopting) adopt(ctx context.Context) (trialID int64, err error) {
	var n, known int
	err = a.tx.QueryRow(ctx, `select count(*), (select count(*) from trials h join in_trials n on h.question = n.question and h.created_at =
		n.created_at) from in_trials`).Scan(&n, &known)
	if err != nil {
		return 0, err
	}
	if n != 1 {
		return 0, fmt.Errorf("it holds %d trials, not one", n)
	}
	if known > 0 {
		return 0, ErrConflict
	}
	if err := a.onlyNamed(ctx); err != nil {
		return 0, err
	}
	for _, name := range adoptOrder {
		if err := a.write(ctx, name); err != nil {
			return 0, fmt.Errorf("take in the table %s: %w", name, err)
		}
	}
	err = a.tx.QueryRow(ctx, "select new from came where tbl = 'trials'").Scan(&trialID)
	if err != nil {
		return 0, err
	}
	return trialID, change(ctx, a.tx, a.who, "trial", trialID, nil, map[string]time.Time{"taken_in": time.Now().UTC()}, "taken in from another barn")
}

// onlyNamed leaves out the people of the other barn whom the trial does not name.
func (a *Adopting) onlyNamed(ctx context.Context) error {
	var named []string
	for _, name := range adoptOrder {
		for _, r := range a.tables[name].Refers {
			if r.Table == "people" {
				named = append(named, fmt.Sprintf("select %s from in_%s", quote(r.Column), name))
			}
		}
	}
	_, err := a.tx.Exec(ctx, "delete from in_people where id not in (select p from ("+strings.Join(named, " union ")+") x (p) where p is not null)")
	return err
}

// write gives the rows of a table their numbers and writes those that are new.
func (a *Adopting) write(ctx context.Context, name string) error {
	t := a.tables[name]
	hasID := len(t.Key) == 1 && t.Key[0] == "id"
	if name == "calibrations" { // a holder that the barn has is calibrated here
		_, err := a.tx.Exec(ctx, "delete from in_calibrations n using came c where c.tbl = 'holders' and c.old = n.holder_id and c.known")
		if err != nil {
			return err
		}
	}
	same, shared := sharedBy[name]
	if shared {
		if _, err := a.tx.Exec(ctx, fmt.Sprintf("insert into came select distinct on (n.id) '%s', n.id, h.id, true from in_%[1]s n join %[1]s h "+
			"on %s order by n.id, h.id", name, same)); err != nil {
			return err
		}
	}
	if hasID {
		_, err := a.tx.Exec(ctx, fmt.Sprintf(`insert into came select '%s', n.id, nextval(pg_get_serial_sequence('%[1]s', 'id')), false from in_%[1]s n
			where not exists (select from came c where c.tbl = '%[1]s' and c.old = n.id)`, name))
		if err != nil {
			return err
		}
	}
	refers := map[string]string{}
	for _, r := range t.Refers {
		refers[r.Column] = r.Table
	}
	var columns, values []string
	for _, c := range t.Columns {
		value := "n." + quote(c.Name)
		if anew, ok := madeAnew[name+"."+c.Name]; ok {
			value = strings.ReplaceAll(anew, "renumbered(", "pg_temp.renumbered(")
		} else if hasID && c.Name == "id" {
			value = cameFrom(name, "id")
		} else if to := refers[c.Name]; to != "" {
			value = cameFrom(to, c.Name)
		}
		columns, values = append(columns, quote(c.Name)), append(values, value)
	}
	sql := fmt.Sprintf("insert into %s (%s) overriding system value select %s from in_%[1]s n", name, strings.Join(columns, ", "), strings.Join(values, ", "))
	if shared { // those that were known again stand already
		sql += fmt.Sprintf(" where not exists (select from %s h where h.id = %s)", name, cameFrom(name, "id"))
	}
	if name == "readings" {
		sql += " on conflict do nothing"
	}
	_, err := a.tx.Exec(ctx, sql)
	return err
}
