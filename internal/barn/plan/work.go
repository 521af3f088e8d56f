package plan

import (
	"context"
	"errors"
	"fmt"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// WorkInput is a cook as it is being planned; CookID is 0 for a new one.
type WorkInput struct {
	CookID int64     `json:"cook_id"`
	Cook   PlanInput `json:"cook"`
}

// PlanView is a cook worked back from its serving time.
type PlanView struct {
	plan.Plan
	Outline plan.Outline `json:"outline"` // with what was typed read into numbers
	People  []string     `json:"people"`  // of the tasks
	Names   []string     `json:"pit_names"`
	Fuels   []string     `json:"fuels"` // of each pit
}

// PhasesInput asks for an arm's phases by one of the schools.
type PhasesInput struct {
	ArmID  int64       `json:"arm_id"`
	School plan.School `json:"school"`
}

// Work works a draft out; nothing is kept.
func (p *Planner) Work(ctx context.Context, b *barn.Barn, in *barn.With[WorkInput]) (PlanView, error) {
	t, err := p.store.Trial(ctx, in.ID)
	if err != nil {
		return PlanView{}, err
	}
	if in.Body.Cook.Outline == nil {
		o, err := p.Outline(ctx, t)
		if err != nil {
			return PlanView{}, err
		}
		in.Body.Cook.Outline = &o
	}
	cook, err := check(ctx, p.store, b.Now, in.ID, in.Body.Cook)
	if err != nil {
		return PlanView{}, err
	}
	now := b.Now()
	if in.Body.CookID != 0 {
		k, err := p.store.Cook(ctx, in.Body.CookID)
		if err != nil {
			return PlanView{}, err
		}
		now = k.Clock.Now(now)
	}
	return p.View(ctx, t, in.Body.CookID, cook, now)
}

// View works a cook out as it is shown.
func (p *Planner) View(ctx context.Context, t store.Trial, cookID int64, cook store.CookPlan, now time.Time) (PlanView, error) {
	in, err := p.Input(ctx, t, cookID, cook, *cook.Outline, now)
	if err != nil {
		return PlanView{}, err
	}
	worked, err := p.worked(ctx, in)
	if err != nil {
		return PlanView{}, err
	}
	v := PlanView{Plan: worked, Outline: *cook.Outline, People: []string{}, Names: []string{}, Fuels: []string{}}
	for _, person := range in.People {
		v.People = append(v.People, person.Name)
	}
	for _, pit := range in.Pits {
		v.Names = append(v.Names, pit.Name)
		v.Fuels = append(v.Fuels, pit.Fuel)
	}
	return v, nil
}

// UsualPhases are an arm's phases by a school.
func UsualPhases(ctx context.Context, b *barn.Barn, in *barn.With[PhasesInput]) ([]phase.Phase, error) {
	t, err := b.Store.Trial(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	family, err := b.Store.Family(ctx, t.Ask.Family)
	if err != nil {
		return nil, err
	}
	for _, a := range t.Ask.Arms {
		if a.ID == in.Body.ArmID {
			return plan.UsualPhases(t.Ask, a, family, in.Body.School), nil
		}
	}
	return nil, fault.New("arm_id", fmt.Sprintf("arm %d is not of this trial", in.Body.ArmID), "choose one of its arms")
}

// OutlineInput are phases and doses, and of when the outline was that they were made from; none writes over any.
type OutlineInput struct {
	barn.ByID
	From string `form:"from" binding:"max=40"`
	Body plan.Outline
}

// setOutline keeps phases and doses while no cook is planned yet.
func setOutline(ctx context.Context, a *barn.Act, in *OutlineInput) error {
	if in.From != "" {
		from, err := time.Parse(time.RFC3339Nano, in.From)
		if err != nil {
			return fault.New("from", fmt.Sprintf("%q is no time", in.From), "give the kept_at of the outline it was made from")
		}
		stands, err := a.Store.Outline(ctx, in.ID)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		if !stands.KeptAt.Equal(from) {
			return otherPlan
		}
	}
	o, err := outline(ctx, a.Store, a.Now, in.ID, in.Body)
	if err != nil {
		return err
	}
	return a.Store.SetOutline(ctx, a.Who.ID, in.ID, o)
}

// outline reads what was typed of an outline, for the arms the trial has.
func outline(ctx context.Context, s *store.Store, now func() time.Time, trialID int64, o plan.Outline) (plan.Outline, error) {
	t, err := s.Trial(ctx, trialID)
	if err != nil {
		return o, err
	}
	if err := o.Resolve(); err != nil {
		return o, err
	}
	family, err := s.Family(ctx, t.Ask.Family)
	if err != nil {
		return o, err
	}
	o = o.Fit(t.Ask, family)
	return o, gate.New(s, now).CheckOutline(ctx, trialID, o)
}

// CookPlan reads a kept cook back as it was planned.
func (p *Planner) CookPlan(ctx context.Context, t store.Trial, k store.Cook) (store.CookPlan, error) {
	out := store.CookPlan{ServeAt: k.ServeAt}
	o, err := p.Outline(ctx, t)
	if err != nil {
		return out, err
	}
	out.Outline = &o
	runs, err := p.store.PitRuns(ctx, t.ID)
	if err != nil {
		return out, err
	}
	place := map[int64]int{}
	for _, r := range runs {
		if r.CookID == k.ID {
			place[r.ID] = len(out.Runs)
			out.Runs = append(out.Runs, r)
		}
	}
	placed, err := p.store.Placements(ctx, t.ID)
	for _, l := range placed {
		if l.CookID == k.ID && l.PitRunID != nil {
			out.Placements = append(out.Placements, store.PlannedPlacement{CutID: l.CutID, Run: place[*l.PitRunID], Position: l.Position})
		}
	}
	return out, err
}

// holds puts a plan's cuts into its holders.
func holds(ctx context.Context, s *store.Store, t store.Trial, p *store.CookPlan) error {
	cuts, err := s.Cuts(ctx, t.ID)
	if err != nil {
		return err
	}
	holders, err := s.Holders(ctx)
	if err != nil {
		return err
	}
	p.Holds = Holds(t, cuts, *p, *p.Outline)
	for _, h := range p.Holds {
		known := false
		for _, have := range holders {
			known = known || have.ID == h.HolderID
		}
		if !known {
			return fault.New("outline.holder_id", fmt.Sprintf("there is no holder %d", h.HolderID), "choose one of the list")
		}
	}
	return nil
}
