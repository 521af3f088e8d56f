package store

import (
	"context"
	"encoding/json"
	"time"
)

// Done is something that somebody changed, took back or brought back.
type Done struct {
	At        time.Time       `json:"at"`
	By        string          `json:"by"` // empty: the keeper of the machine
	Subject   string          `json:"subject"`
	Named     string          `json:"named"` // what it is called, where it has a name
	TrialID   *int64          `json:"trial_id"`
	What      string          `json:"what"` // where words say it: of what was taken back, or noted for the verdict
	Why       string          `json:"why"`
	WasArm    string          `json:"-"` // of a cut
	IsArm     string          `json:"-"`
	Before    json.RawMessage `json:"-"`
	After     json.RawMessage `json:"-"`
	SubjectID int64           `json:"-"`
}

// DoneBy is whose, and at which trial, and which of them.
type DoneBy struct {
	PersonID, TrialID *int64
	Accounts          *int64 // whose account alone is told of: passwords, links, passkeys; nil is everybody's
	Skip, Most        int
}

// voids are the tables whose rows are taken back, with what a row is called and its trial.
const voids = `select v.id, v.voided_at as at, v.voided_by as person_id, v.subject, v.id as subject_id, v.named, v.trial_id,
	'taken back' as what, coalesce(v.void_reason, '') as why, null::jsonb as before, null::jsonb as after, '' as was_arm, '' as is_arm from (
	select voided_at, voided_by, void_reason, 'cut' as subject, id, name as named, trial_id from cuts
	union all select w.voided_at, w.voided_by, w.void_reason, 'weighing', w.id, c.name || ', ' || w.stage || ' ' || w.typed, c.trial_id
		from weighings w join cuts c on c.id = w.cut_id
	union all select e.voided_at, e.voided_by, e.void_reason, 'event', e.id, e.act, coalesce(c.trial_id, k.trial_id)
		from events e left join cuts c on c.id = e.cut_id left join cooks k on k.id = e.cook_id
	union all select voided_at, voided_by, void_reason, 'taster', id, name, trial_id from tasters
	union all select voided_at, voided_by, void_reason, 'flight', id, 'flight', trial_id from flights) v where v.voided_at is not null`

// History lists what was done, the latest first.
func (s *Store) History(ctx context.Context, of DoneBy) ([]Done, error) {
	return collect[Done](ctx, s.pool, `with done as (
		select h.id, h.at, h.person_id, h.subject, h.subject_id,
			coalesce(cut.name, pit.name, holder.name, run_pit.name, ingredient.name, recipe.name, product.name,
				factor.name, level.value, somebody.name, '') as named,
			coalesce(cut.trial_id, cook.trial_id, trial.id) as trial_id, '' as what, h.why, h.before, h.after,
			coalesce(was_arm.tag, '') as was_arm, coalesce(is_arm.tag, '') as is_arm
		from changes h
		left join cuts cut on h.subject = 'cut' and cut.id = h.subject_id
		left join arms was_arm on h.subject = 'cut' and was_arm.id = (h.before->>'arm_id')::bigint
		left join arms is_arm on h.subject = 'cut' and is_arm.id = (h.after->>'arm_id')::bigint
		left join cooks cook on h.subject = 'cook' and cook.id = h.subject_id
		left join trials trial on h.subject in ('trial', 'meat') and trial.id = h.subject_id
		left join pits pit on h.subject = 'pit' and pit.id = h.subject_id
		left join holders holder on h.subject = 'holder' and holder.id = h.subject_id
		left join pit_runs run on h.subject = 'pit run' and run.id = h.subject_id left join pits run_pit on run_pit.id = run.pit_id
		left join ingredients ingredient on h.subject = 'ingredient' and ingredient.id = h.subject_id
		left join recipes recipe on h.subject = 'recipe' and recipe.id = h.subject_id
		left join products product on h.subject = 'product' and product.id = h.subject_id
		left join catalogue_factors factor on h.subject = 'factor' and factor.id = h.subject_id
		left join catalogue_levels level on h.subject = 'level' and level.id = h.subject_id
		left join people somebody on h.subject = 'person' and somebody.id = h.subject_id
		union all select n.id, n.changed_at, n.changed_by, 'trial', n.trial_id, '', n.trial_id, n.what, n.why, null, null, '', '' from noted_changes n
		union all `+voids+`)
		select d.at, coalesce(p.name, '') as by, d.subject, d.subject_id, d.named, d.trial_id, d.what, d.why, d.before, d.after, d.was_arm, d.is_arm
		from done d left join people p on p.id = d.person_id
		where ($1::bigint is null or d.person_id = $1) and ($2::bigint is null or d.trial_id = $2)
			and ($5::bigint is null or d.subject <> 'person' or d.subject_id = $5 or d.before <> 'null')
		order by d.at desc, d.trial_id, d.subject, d.subject_id, d.id offset $3 limit $4`, of.PersonID, of.TrialID, of.Skip, of.Most, of.Accounts)
}
