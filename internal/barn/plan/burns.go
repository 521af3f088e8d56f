package plan

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// What Plan changes of a trial of set-ups.
var (
	PlanBurns = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "planned burns"}, planBurns)
	SetBurn   = barn.Writes(barn.Door{Of: barn.Cook, Kind: barn.Design, What: "planned a burn"}, setBurn)
	DropBurn  = barn.Writes(barn.Door{Of: barn.Cook, Kind: barn.Design, What: "took a burn out"}, dropBurn)
)

// The bounds of a burn, and of how many are planned at once.
const (
	shortestBurn = 0.25 // h
	longestBurn  = 24.0
	mostEach     = 6
)

// PlannedBurn is one burn as planned.
type PlannedBurn struct {
	ArmID    int64     `json:"arm_id"`
	PitID    int64     `json:"pit_id"`
	SetPoint string    `json:"set_point"`
	LitAt    time.Time `json:"lit_at"`
	Hours    float64   `json:"hours"` // from the lighting until it is over
}

// BurnsInput plans burns of every set-up at once, one a day at the same hour: Each of each.
// The lot says which comes first on each turn, so that no set-up has all the better days.
type BurnsInput struct {
	PitID    int64     `json:"pit_id"`
	SetPoint string    `json:"set_point"`
	LitAt    time.Time `json:"lit_at"` // the first
	Hours    float64   `json:"hours"`
	Each     int       `json:"each"`
}

func planBurns(ctx context.Context, a *barn.Act, in *barn.With[BurnsInput]) error {
	b := in.Body
	if b.Each < 1 || b.Each > mostEach {
		return fault.New("each", fmt.Sprintf("%d burns of each", b.Each), fmt.Sprintf("give 1 to %d; two tell the day apart", mostEach))
	}
	t, err := a.Store.Trial(ctx, in.ID)
	if err != nil {
		return err
	}
	day := 0
	for range b.Each {
		for _, i := range rand.Perm(len(t.Ask.Arms)) {
			p, err := burn(ctx, a.Store, t, PlannedBurn{t.Ask.Arms[i].ID, b.PitID, b.SetPoint, b.LitAt.AddDate(0, 0, day), b.Hours})
			if err != nil {
				return err
			}
			if _, err := a.Store.CreateCook(ctx, a.Who.ID, in.ID, p, trial.RealClock(a.Now())); err != nil {
				return err
			}
			day++
		}
	}
	return nil
}

func setBurn(ctx context.Context, a *barn.Act, in *barn.With[PlannedBurn]) error {
	t, err := a.Store.Trial(ctx, a.TrialID)
	if err != nil {
		return err
	}
	p, err := burn(ctx, a.Store, t, in.Body)
	if err != nil {
		return err
	}
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	for _, r := range runs {
		if r.CookID == in.ID {
			p.Runs[0].ID = r.ID
		}
	}
	events, err := a.Store.EventsOfRuns(ctx, p.Runs[0].ID)
	if err != nil {
		return err
	}
	for _, e := range events {
		if e.Act == logbook.Lit {
			return barn.Refuse("It is lit, so what it burns stays.", "Plan another burn, or correct the press that lit it.")
		}
	}
	return a.Store.SetCook(ctx, a.Who.ID, in.ID, p)
}

func dropBurn(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	t, err := a.Store.Trial(ctx, a.TrialID)
	if err != nil {
		return err
	}
	if t.Ask.Kind != trial.OfSetUps {
		return cooksMeat
	}
	err = a.Store.DropBurn(ctx, a.Who.ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("Something was logged of this burn, so it stays.", "What was read counts; void what is wrong in its log.")
	}
	return err
}

var cooksMeat = barn.Refuse("This trial cooks meat.", "Plan a cook; a burn without meat is a trial of set-ups.")

// burn checks a planned burn and brings it into the store's form.
func burn(ctx context.Context, s *store.Store, t store.Trial, in PlannedBurn) (store.CookPlan, error) {
	var wrong fault.List
	if t.Ask.Kind != trial.OfSetUps {
		return store.CookPlan{}, cooksMeat
	}
	place, known := t.Ask.ArmPlaces()[in.ArmID]
	if !known {
		wrong.Add("arm_id", "there is no such set-up", "choose one of the trial's")
	}
	pits, err := s.Pits(ctx)
	if err != nil {
		return store.CookPlan{}, err
	}
	there := false
	for _, p := range pits {
		there = there || p.ID == in.PitID
	}
	if !there {
		wrong.Add("pit_id", "there is no such pit", "choose one of the list")
	}
	set, err := units.ParseTemperature(setPoint(t.Ask, place, in.SetPoint))
	wrong.Take("set_point", err)
	if in.LitAt.IsZero() {
		wrong.Add("lit_at", "no time to light it", "give the day and the hour")
	} else {
		wrong.Take("", logbook.CheckTime("lit_at", in.LitAt))
	}
	if !(in.Hours >= shortestBurn && in.Hours <= longestBurn) {
		wrong.Add("hours", fmt.Sprintf("%g h is no length of a burn", in.Hours), fmt.Sprintf("give %g to %g h", shortestBurn, longestBurn))
	}
	if err := wrong.Err(); err != nil {
		return store.CookPlan{}, err
	}
	over := in.LitAt.Add(time.Duration(in.Hours * float64(time.Hour)))
	return store.CookPlan{ServeAt: over, Runs: []store.PitRun{{PitID: in.PitID, Setup: t.Ask.Arms[place].Name(), SetPointC: set.C,
		SetPointTyped: set.Typed, ArmID: &in.ArmID, LitAt: &in.LitAt, OverAt: &over}}}, nil
}

// setPoint is at what a burn is set: as its arm says where that is varied, else as typed.
func setPoint(ask trial.Ask, arm int, typed string) string {
	for f, factor := range ask.Factors {
		if factor.Role == trial.PitTemperature && factor.Kind == trial.Numeric {
			return ask.Arms[arm].Levels[f].Value + " " + factor.Unit
		}
	}
	return typed
}
