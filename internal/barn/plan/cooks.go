package plan

import (
	"context"
	"fmt"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// What Plan changes.
var (
	CreateCook = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "planned a cook", Lays: true}, createCook)
	SetCook    = barn.Writes(barn.Door{Of: barn.Cook, Kind: barn.Design, What: "planned a cook", Lays: true}, setCook)
	MoveMeal   = barn.Writes(barn.Door{Of: barn.Cook, Kind: barn.Design, What: "moved the meal"}, moveMeal)
	SetOutline = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "planned"}, setOutline)
)

// PlanInput is a cook as planned.
type PlanInput struct {
	ServeAt    time.Time        `json:"serve_at"`
	Runs       []RunInput       `json:"runs" binding:"max=50,dive"`
	Placements []PlacementInput `json:"placements" binding:"max=500"`
	Outline    *plan.Outline    `json:"outline,omitempty"`                  // nil leaves phases and doses as they are
	Version    string           `json:"version,omitempty" binding:"max=40"` // of the cook it was made from; none writes over any
}

// RunInput is a pit with its set point; ID is 0 for a new one.
type RunInput struct {
	ID       int64  `json:"id"`
	PitID    int64  `json:"pit_id"`
	Setup    string `json:"setup"`
	SetPoint string `json:"set_point"`
}

// PlacementInput puts a cut in the nth run, from 0.
type PlacementInput struct {
	CutID    int64  `json:"cut_id"`
	Run      int    `json:"run"`
	Position string `json:"position"`
}

// check checks a planned cook and brings it into the store's form.
func check(ctx context.Context, s *store.Store, now func() time.Time, trialID int64, in PlanInput) (store.CookPlan, error) {
	p := store.CookPlan{ServeAt: in.ServeAt}
	t, err := s.Trial(ctx, trialID)
	if err != nil {
		return p, err
	}
	if t.Ask.Kind == trial.OfSetUps {
		return p, barn.Refuse("This trial has no meat to serve.", "Plan its burns.")
	}
	var wrong fault.List
	if in.Outline != nil {
		o, err := outline(ctx, s, now, trialID, *in.Outline)
		wrong.Take("outline", err)
		p.Outline = &o
	}
	if in.ServeAt.IsZero() {
		wrong.Add("serve_at", "no serving time", "give the day and the hour the table is set")
	} else {
		wrong.Take("", logbook.CheckTime("serve_at", in.ServeAt))
	}
	if len(in.Runs) == 0 {
		wrong.Add("runs", "no pit", "choose the pit it is cooked in")
	}
	pits, err := s.Pits(ctx)
	if err != nil {
		return p, err
	}
	for i, r := range in.Runs {
		field := fmt.Sprintf("runs[%d]", i)
		t, err := units.ParseTemperature(r.SetPoint)
		wrong.Take(field+".set_point", err)
		known := false
		for _, pit := range pits {
			known = known || pit.ID == r.PitID
		}
		if !known {
			wrong.Add(field+".pit_id", "there is no such pit", "choose one of the list")
		}
		p.Runs = append(p.Runs, store.PitRun{ID: r.ID, PitID: r.PitID, Setup: strings.TrimSpace(r.Setup), SetPointC: t.C, SetPointTyped: t.Typed})
	}
	cuts, err := s.Cuts(ctx, trialID)
	if err != nil {
		return p, err
	}
	mine := map[int64]bool{}
	for _, cut := range cuts {
		mine[cut.ID] = true
	}
	for i, l := range in.Placements {
		field := fmt.Sprintf("placements[%d]", i)
		if !mine[l.CutID] {
			wrong.Add(field+".cut_id", "that cut is not of this trial", "choose one of its cuts")
		}
		if l.Run < 0 || l.Run >= len(in.Runs) {
			wrong.Add(field+".run", "there is no such pit in this cook", "choose one of its pits")
		}
		p.Placements = append(p.Placements, store.PlannedPlacement{CutID: l.CutID, Run: l.Run, Position: strings.TrimSpace(l.Position)})
	}
	if err := wrong.Err(); err != nil || p.Outline == nil {
		return p, err
	}
	return p, holds(ctx, s, t, &p)
}

func createCook(ctx context.Context, a *barn.Act, in *barn.With[PlanInput]) error {
	p, err := check(ctx, a.Store, a.Now, in.ID, in.Body)
	if err != nil {
		return err
	}
	_, err = a.Store.CreateCook(ctx, a.Who.ID, in.ID, p, trial.RealClock(a.Now()))
	return err
}

func setCook(ctx context.Context, a *barn.Act, in *barn.With[PlanInput]) error {
	if in.Body.Version != "" {
		if err := asItWas(ctx, a.Store, in.ID, in.Body.Version); err != nil {
			return err
		}
	}
	p, err := check(ctx, a.Store, a.Now, a.TrialID, in.Body)
	if err != nil {
		return err
	}
	return a.Store.SetCook(ctx, a.Who.ID, in.ID, p)
}

// MealInput is when the table is set.
type MealInput struct {
	ServeAt time.Time `json:"serve_at"`
}

func moveMeal(ctx context.Context, a *barn.Act, in *barn.With[MealInput]) error {
	k, err := a.Store.Cook(ctx, in.ID)
	if err != nil {
		return err
	}
	if err := logbook.CheckTime("serve_at", in.Body.ServeAt); err != nil {
		return err
	}
	if now := k.Clock.Now(a.Now()); in.Body.ServeAt.Before(now) {
		return fault.New("serve_at", "the table would have been set before now", "give a later time")
	}
	return a.Store.MoveMeal(ctx, a.Who.ID, in.ID, in.Body.ServeAt)
}
