package store

import (
	"context"
	"time"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// Look is the codes of one cook of a trial: named before serving, or opened, or both.
type Look struct {
	CookID   int64           `json:"cook_id"`
	NamedAt  *time.Time      `json:"named_at"`
	OpenedAt *time.Time      `json:"opened_at"`
	Reason   string          `json:"reason"`
	Kind     settle.LookKind `json:"kind"`
	Headline string          `json:"headline"`
	Result   *settle.Result  `json:"result"`
	Figures  []LookFigure    `json:"-"`
}

// LookFigure is what a look showed of two arms on one outcome.
type LookFigure struct {
	Key  trial.OutcomeKey `json:"key"`
	A    int              `json:"a"`
	B    int              `json:"b"`
	Look verdict.Look     `json:"look"`
}

// Looks lists those of a trial, in the order they were opened.
func (s *Store) Looks(ctx context.Context, trialID int64) ([]Look, error) {
	of, err := s.looksOf(ctx, trialID)
	return of[trialID], err
}

func (s *Store) looksOf(ctx context.Context, trialIDs ...int64) (map[int64][]Look, error) {
	rows, err := collect[struct {
		TrialID, CookID   int64
		NamedAt, OpenedAt *time.Time
		Reason, Headline  string
		Kind              settle.LookKind
		Result            *settle.Result
		Figures           []LookFigure
	}](ctx, s.pool, `select trial_id, cook_id, named_at, opened_at, reason, kind, headline, result, coalesce(figures, '[]') as figures
		from looks where trial_id = any($1) order by opened_at nulls last, id`, trialIDs)
	out := map[int64][]Look{}
	for _, r := range rows {
		out[r.TrialID] = append(out[r.TrialID], Look{CookID: r.CookID, NamedAt: r.NamedAt, OpenedAt: r.OpenedAt, Reason: r.Reason,
			Kind: r.Kind, Headline: r.Headline, Result: r.Result, Figures: r.Figures})
	}
	return out, err
}

// ReadPlan is what was planned at the first draw, and the looks at a trial so far.
type ReadPlan struct {
	Units, Cooks int // 0 is not known
	Looks        []Look
}

// ReadPlans reads them for trials, with the same two queries for one and many.
func (s *Store) ReadPlans(ctx context.Context, trialIDs ...int64) (map[int64]ReadPlan, error) {
	rows, err := collect[struct{ ID, Units, Cooks int64 }](ctx, s.pool, `select id, coalesce(planned_units, 0) as units,
		coalesce(planned_cooks, 0) as cooks from trials where id = any($1)`, trialIDs)
	if err != nil {
		return nil, err
	}
	looks, err := s.looksOf(ctx, trialIDs...)
	out := map[int64]ReadPlan{}
	for _, r := range rows {
		out[r.ID] = ReadPlan{Units: int(r.Units), Cooks: int(r.Cooks), Looks: looks[r.ID]}
	}
	return out, err
}

// FlightCooks are the cooks of the cuts of each flight.
func (s *Store) FlightCooks(ctx context.Context, trialID int64) (map[int64][]int64, error) {
	rows, err := collect[struct{ FlightID, CookID int64 }](ctx, s.pool, `select distinct f.id as flight_id, p.cook_id from flights f
		join samples m on m.flight_id = f.id join placements p on p.cut_id = m.cut_id and p.voided_at is null
		where f.trial_id = $1 and f.voided_at is null order by 1, 2`, trialID)
	out := map[int64][]int64{}
	for _, r := range rows {
		out[r.FlightID] = append(out[r.FlightID], r.CookID)
	}
	return out, err
}

// NameLook keeps that the codes of a cook are going to be opened by themselves.
func (s *Store) NameLook(ctx context.Context, trialID, cookID int64) error {
	_, err := s.pool.Exec(ctx, "insert into looks (trial_id, cook_id, named_at) values ($1, $2, now()) on conflict do nothing", trialID, cookID)
	return err
}

// OpenLook opens the codes of a cook; ErrConflict if they are open.
func (s *Store) OpenLook(ctx context.Context, who, trialID int64, l Look) error {
	tag, err := s.pool.Exec(ctx, `insert into looks (trial_id, cook_id, opened_at, opened_by, reason, kind, headline, result, figures)
		values ($1, $2, now(), $3, $4, $5, $6, $7, $8) on conflict (trial_id, cook_id) do update set opened_at = now(), opened_by = $3, reason = $4, kind = $5,
		headline = $6, result = $7, figures = $8 where looks.opened_at is null`, trialID, l.CookID, who, l.Reason, l.Kind, l.Headline, l.Result, l.Figures)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrConflict
	}
	return err
}
