package store

import (
	"context"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// Trial is a trial with its ask.
type Trial struct {
	ID           int64
	Ask          trial.Ask
	CreatedBy    string
	CreatedAt    time.Time
	RevealedAt   *time.Time
	RevealReason string
	EndedBy      string // who ended it with nothing tasted; empty if the codes were opened
	RehearsesID  *int64 // of a rehearsal: the trial it is a copy of
	AskVersion   int64  // of the ask as it was kept last; it grows
}

// TrialIDs lists all trials but rehearsals, newest first.
func (s *Store) TrialIDs(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select id from trials where rehearses_id is null order by created_at desc, id desc")
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// ArmLine is an arm in a list.
type ArmLine struct {
	ID  int64  `json:"id"`
	Tag string `json:"tag"`
}

// TrialLine is a trial in a list, with what lists show of its verdict.
type TrialLine struct {
	ID       int64
	Kind     trial.Kind
	Question string
	Product  string
	Revealed bool
	Arms     []ArmLine
	Verdict  *VerdictLine // nil: its codes are closed, or it was not judged yet
}

// TrialLines lists all trials but rehearsals, newest first, with two queries.
func (s *Store) TrialLines(ctx context.Context) ([]TrialLine, error) {
	rows, err := s.pool.Query(ctx, `select t.id, t.kind, t.question, t.product, t.revealed_at is not null, v.word,
		v.headline from trials t left
		join verdicts v on v.trial_id = t.id
		where t.rehearses_id is null and (t.process_version_id is null or t.revealed_at is null) order by t.created_at desc, t.id desc`)
	if err != nil {
		return nil, err
	}
	out, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (l TrialLine, err error) {
		var word, headline *string
		err = row.Scan(&l.ID, &l.Kind, &l.Question, &l.Product, &l.Revealed, &word, &headline)
		if word != nil {
			l.Verdict = &VerdictLine{TrialID: l.ID, Word: verdict.Word(*word), Headline: *headline}
		}
		l.Arms = []ArmLine{}
		return l, err
	})
	if err != nil {
		return nil, err
	}
	at := make(map[int64]*TrialLine, len(out))
	for i := range out {
		at[out[i].ID] = &out[i]
	}
	rows, err = s.pool.Query(ctx, "select trial_id, id, tag from arms where voided_at is null order by ordinal")
	if err != nil {
		return nil, err
	}
	var id int64
	var a ArmLine
	_, err = pgx.ForEachRow(rows, []any{&id, &a.ID, &a.Tag}, func() error {
		if l := at[id]; l != nil { // a rehearsal's are not listed
			l.Arms = append(l.Arms, a)
		}
		return nil
	})
	return out, err
}

// OpenTrialIDs lists those whose codes are still closed, newest first.
func (s *Store) OpenTrialIDs(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select id from trials where rehearses_id is null and revealed_at is null order by created_at desc, id desc")
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// Trial reads one trial.
func (s *Store) Trial(ctx context.Context, id int64) (Trial, error) {
	return readTrial(ctx, s.pool, id)
}

// AtTable reads of a trial what its ballots need: what it is of, what is tasted, its arms by
// tag, and whether its codes are open.
func (s *Store) AtTable(ctx context.Context, id int64) (t Trial, err error) {
	t.ID = id
	a := &t.Ask
	err = s.pool.QueryRow(ctx, `select t.product, t.allergens, t.words, t.revealed_at,
		coalesce((select jsonb_agg(jsonb_build_object('key', o.key, 'smallest_difference', o.smallest_difference, 'own', o.own) order by o.ordinal)
			from outcomes o where o.trial_id = t.id and o.voided_at is null), '[]'),
		coalesce((select jsonb_agg(jsonb_build_object('id', a.id, 'tag', a.tag) order by a.ordinal)
			from arms a where a.trial_id = t.id and a.voided_at is null), '[]')
		from trials t where t.id = $1`, id).Scan(&a.Product, &a.Allergens, &a.Words, &t.RevealedAt, &a.Outcomes, &a.Arms)
	return t, found(err)
}

// Trials reads trials by their numbers, in that order, with the same few queries
// for one and for many. Numbers that are no trial's are left out.
func (s *Store) Trials(ctx context.Context, ids []int64) ([]Trial, error) {
	return readTrials(ctx, s.pool, ids)
}

func readTrial(ctx context.Context, q querier, id int64) (Trial, error) {
	t, err := readTrials(ctx, q, []int64{id})
	if err == nil && len(t) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Trial{ID: id}, err
	}
	return t[0], nil
}

func readTrials(ctx context.Context, q querier, ids []int64) ([]Trial, error) {
	rows, err := q.Query(ctx, `select t.id, t.kind, t.question, t.product, coalesce(t.product_id, 0), coalesce(d.family, ''), t.cut,
		t.species, t.handling, t.held, t.allergens, t.words, t.contexts, t.hand, t.layout,
		t.follows_id, t.written_up, p.name, t.created_at, t.revealed_at, t.reveal_reason,
		case when t.ended then e.name else '' end, t.rehearses_id, t.whole_bird, t.meat_confirmed_at is not null, t.meat_why,
		(select coalesce(max(c.id), 0) from changes c where c.subject = 'trial' and c.subject_id = t.id)
		from unnest($1::bigint[]) with ordinality w (id, n) join trials t on t.id = w.id join people p on p.id = t.created_by
		left join people e on e.id = t.revealed_by left join products d on d.id = t.product_id order by w.n`, ids)
	if err != nil {
		return nil, err
	}
	out, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (t Trial, err error) {
		a := &t.Ask
		err = row.Scan(&t.ID, &a.Kind, &a.Question, &a.Product, &a.ProductID, &a.Family, &a.Cut, &a.Species, &a.Handling, &a.Held, &a.Allergens, &a.Words,
			&a.Contexts, &a.Hand, &a.Layout,
			&a.FollowsID, &a.WrittenUp, &t.CreatedBy, &t.CreatedAt, &t.RevealedAt, &t.RevealReason,
			&t.EndedBy, &t.RehearsesID, &a.WholeBird, &a.MeatConfirmed, &a.MeatWhy, &t.AskVersion)
		a.Factors, a.Arms, a.Outcomes = []trial.Factor{}, []trial.Arm{}, []trial.Chosen{}
		return t, err
	})
	if err != nil {
		return nil, err
	}
	at := map[int64]*trial.Ask{}
	for i := range out {
		at[out[i].ID] = &out[i].Ask
	}
	factors, err := collect[factorRow](ctx, q, `select t.trial_id, coalesce(f.merged_into, f.id) as id, f.role, t.name, t.kind, t.unit, t.set_on from trial_factors t
		join catalogue_factors c on c.id = t.catalogue_id join catalogue_factors f on f.id = coalesce(c.merged_into, c.id)
		where t.trial_id = any($1) and t.voided_at is null order by t.ordinal`, ids)
	if err != nil {
		return nil, err
	}
	for _, f := range factors {
		at[f.TrialID].Factors = append(at[f.TrialID].Factors, f.Factor)
	}
	arms, err := collect[armRow](ctx, q, `select a.trial_id, a.id, a.tag, a.control, a.levels as values, a.level_ids as ids,
		array(select coalesce(l.key, '') from unnest(a.level_ids) with ordinality v (id, n) left join catalogue_levels l on l.id = v.id order by v.n) as keys
		from arms a where a.trial_id = any($1) and a.voided_at is null order by a.ordinal`, ids)
	if err != nil {
		return nil, err
	}
	for _, r := range arms {
		at[r.TrialID].Arms = append(at[r.TrialID].Arms, r.arm())
	}
	outcomes, err := collect[outcomeRow](ctx, q, `select trial_id, key, smallest_difference, source, exact, own from outcomes
		where trial_id = any($1) and voided_at is null order by ordinal`, ids)
	for _, o := range outcomes {
		at[o.TrialID].Outcomes = append(at[o.TrialID].Outcomes, o.Chosen)
	}
	return out, err
}

type factorRow struct {
	TrialID int64
	trial.Factor
}

type outcomeRow struct {
	TrialID int64
	trial.Chosen
}

type armRow struct {
	TrialID int64
	ID      int64
	Tag     string
	Control bool
	Values  []string
	IDs     []int64 `db:"ids"`
	Keys    []string
}

func (r armRow) arm() trial.Arm {
	a := trial.Arm{ID: r.ID, Tag: r.Tag, Control: r.Control, Levels: trial.Levels(r.Values...)}
	for i := range min(len(r.Values), len(r.IDs)) {
		a.Levels[i].ID, a.Levels[i].Key = r.IDs[i], r.Keys[i]
	}
	return a
}

func wordsOf(a trial.Ask) []string {
	if a.Words == nil {
		return []string{}
	}
	return a.Words
}

// CreateTrial records a new ask.
func (s *Store) CreateTrial(ctx context.Context, who int64, a trial.Ask) (id int64, err error) {
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, `insert into trials (question, product, cut, species, handling, held, allergens, contexts, hand, layout, follows_id, created_by,
			whole_bird, meat_confirmed_by, meat_confirmed_at, kind, words, written_up)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, case when $14::boolean then $12::bigint end,
				case when $14 then now() end, $15, $16, $17) returning id`,
			a.Question, a.Product, a.Cut, a.Species, a.Handling, a.Held, a.Allergens, a.Contexts, a.Hand, a.Layout, a.FollowsID, who, a.WholeBird,
			a.MeatConfirmed, a.Kind, wordsOf(a), a.WrittenUp).Scan(&id)
		if err != nil {
			return err
		}
		return writeAsk(ctx, tx, id, a)
	})
	return id, err
}

// SetAsk changes an ask, all but what meat it is of; what it was stays in the changes.
// Once the codes are open the ask is shut: ErrConflict.
func (s *Store) SetAsk(ctx context.Context, who, id int64, a trial.Ask) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		before, err := readTrial(ctx, tx, id)
		if err != nil {
			return err
		}
		if before.RevealedAt != nil {
			return ErrConflict
		}
		_, err = tx.Exec(ctx, `update trials set question = $2, product = $3, cut = $4, allergens = $5, contexts = $6, hand = $7, layout = $8, follows_id = $9, words = $10
			where id = $1`,
			id, a.Question, a.Product, a.Cut, a.Allergens, a.Contexts, a.Hand, a.Layout, a.FollowsID, wordsOf(a))
		if err != nil {
			return err
		}
		if err := writeAsk(ctx, tx, id, a); err != nil {
			return err
		}
		a.Species, a.Handling, a.WholeBird, a.MeatConfirmed, a.MeatWhy = before.Ask.Species, before.Ask.Handling, before.Ask.WholeBird,
			before.Ask.MeatConfirmed, before.Ask.MeatWhy
		return change(ctx, tx, who, "trial", id, before.Ask, a, "")
	})
}

// writeAsk records what an ask names: first the rows of the catalogue that are
// new to the barn, then all else by their numbers.
func writeAsk(ctx context.Context, q querier, id int64, a trial.Ask) error {
	if err := addToCatalogue(ctx, q, a); err != nil {
		return err
	}
	a, err := resolve(ctx, q, a)
	if err != nil {
		return err
	}
	if err := writeProduct(ctx, q, id, a); err != nil {
		return err
	}
	if _, err := q.Exec(ctx, "update trial_factors set voided_at = now() where trial_id = $1 and voided_at is null", id); err != nil {
		return err
	}
	for i, f := range a.Factors {
		_, err := q.Exec(ctx, "insert into trial_factors (trial_id, ordinal, catalogue_id, name, kind, unit, set_on) values ($1, $2, $3, $4, $5, $6, $7)", id, i+1, f.ID, f.Name, f.Kind, f.Unit, f.SetOn)
		if err != nil {
			return err
		}
	}
	if err := writeArms(ctx, q, id, a.Arms); err != nil {
		return err
	}
	keys := make([]string, len(a.Outcomes))
	for i, o := range a.Outcomes {
		keys[i] = string(o.Key)
		_, err := q.Exec(ctx, `insert into outcomes (trial_id, key, ordinal, smallest_difference, source, exact, own) values ($1, $2, $3, $4, $5, $6, $7)
			on conflict (trial_id, key) do update set ordinal = excluded.ordinal, smallest_difference = excluded.smallest_difference, source = excluded.source, exact = excluded.exact, own = excluded.own, voided_at = null`,
			id, o.Key, i+1, o.SmallestDifference, o.Source, o.Exact, o.Own)
		if err != nil {
			return err
		}
	}
	_, err = q.Exec(ctx, "update outcomes set voided_at = now() where trial_id = $1 and voided_at is null and key <> all($2)", id, keys)
	return err
}

// addToCatalogue adds the factors and levels that the barn does not know yet; a
// key that a person gave a level of their own stays with it.
func addToCatalogue(ctx context.Context, q querier, a trial.Ask) error {
	for i, f := range a.Factors {
		var id int64
		err := q.QueryRow(ctx, `insert into catalogue_factors (name, kind, unit, set_on) values ($1, $2, $3, $4)
			on conflict (lower(name)) do update set name = catalogue_factors.name returning coalesce(merged_into, id)`, f.Name, f.Kind, f.Unit, f.SetOn).Scan(&id)
		if err != nil {
			return err
		}
		for _, arm := range a.Arms {
			_, err := q.Exec(ctx, `insert into catalogue_levels (factor_id, value, key, ordinal) values ($1, $2, $3, 1000)
				on conflict (factor_id, lower(value)) do update set key = excluded.key where catalogue_levels.key = ''
				and excluded.key <> ''`, id, arm.Levels[i].Value, arm.Levels[i].Key)
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// writeProduct finds the row of the barn for what is cooked, or makes it. What it
// cooks like is said once and goes for all trials of it. Of set-ups nothing is cooked.
func writeProduct(ctx context.Context, q querier, id int64, a trial.Ask) error {
	if a.Kind == trial.OfSetUps {
		_, err := q.Exec(ctx, "update trials set held = $2 where id = $1", id, a.Held)
		return err
	}
	_, err := q.Exec(ctx, `with p as (insert into products (name, family) values ($2, $3)
		on conflict (lower(name)) do update set family = case when excluded.family <> '' then excluded.family else products.family end returning id)
		update trials set product_id = (select id from p), held = $4 where id = $1`, id, a.Product, a.Family, a.Held)
	return err
}

// writeArms keeps arms by id; one that is no longer there is voided and its
// cuts stand without an arm.
func writeArms(ctx context.Context, q querier, id int64, arms []trial.Arm) error {
	kept := make([]int64, 0, len(arms))
	for i, arm := range arms {
		values, ids := []string{}, []int64{}
		for _, l := range arm.Levels {
			values, ids = append(values, l.Value), append(ids, l.ID)
		}
		if arm.ID == 0 {
			err := q.QueryRow(ctx, "insert into arms (trial_id, ordinal, tag, levels, level_ids, control) values ($1, $2, $3, $4, $5, $6) returning id", id, i+1, arm.Tag, values, ids, arm.Control).Scan(&arm.ID)
			if err != nil {
				return err
			}
		} else {
			tag, err := q.Exec(ctx, "update arms set ordinal = $3, tag = $4, levels = $5, level_ids = $6, control = $7 where trial_id = $1 and id = $2 and voided_at is null", id, arm.ID, i+1, arm.Tag, values, ids, arm.Control)
			if err != nil {
				return err
			}
			if tag.RowsAffected() == 0 {
				return ErrNotFound
			}
		}
		kept = append(kept, arm.ID)
	}
	if _, err := q.Exec(ctx, "update cuts set arm_id = null where trial_id = $1 and arm_id <> all($2)", id, kept); err != nil {
		return err
	}
	_, err := q.Exec(ctx, "update arms set voided_at = now() where trial_id = $1 and voided_at is null and id <> all($2)", id, kept)
	return err
}

// Reveal opens the codes of a trial for good.
func (s *Store) Reveal(ctx context.Context, who, id int64, reason string) error {
	tag, err := s.pool.Exec(ctx, "update trials set revealed_at = now(), revealed_by = $2, reveal_reason = $3 where id = $1 and revealed_at is null", id, who, reason)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrConflict
	}
	return err
}

// TrialOf finds the trial that a record belongs to, for rights and answers.
func (s *Store) TrialOf(ctx context.Context, subject string, id int64) (trialID int64, err error) {
	sql, ok := map[string]string{
		"cut":    "select trial_id from cuts where id = $1",
		"arm":    "select trial_id from arms where id = $1",
		"cook":   "select trial_id from cooks where id = $1",
		"taster": "select trial_id from tasters where id = $1",
		"flight": "select trial_id from flights where id = $1",
		"event": `select coalesce(c.trial_id, k.trial_id, kp.trial_id) from events e left join cuts c on c.id = e.cut_id left join cooks k on k.id = e.cook_id
			left join cook_pit_runs cp on cp.pit_run_id = e.pit_run_id left join cooks kp on kp.id = cp.cook_id where e.id = $1 limit 1`,
		"pending change":   "select trial_id from pending_changes where id = $1",
		"import":           "select k.trial_id from imports i join cooks k on k.id = i.cook_id where i.id = $1",
		"weighing":         "select c.trial_id from weighings w join cuts c on c.id = w.cut_id where w.id = $1",
		"weigh out":        "select c.trial_id from weigh_outs w join cuts c on c.id = w.cut_id where w.id = $1",
		"accepted finding": "select trial_id from accepted_findings where id = $1",
	}[subject]
	if !ok {
		return 0, errors.New("no such subject: " + subject)
	}
	return trialID, found(s.pool.QueryRow(ctx, sql, id).Scan(&trialID))
}
