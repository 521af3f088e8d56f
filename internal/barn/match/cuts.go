// Package match hangs, measures and divides cuts, and puts them into arms and places.
package match

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// CutInput is a cut as typed.
type CutInput struct {
	Name   string `json:"name" binding:"required,max=20"`
	Pair   string `json:"pair" binding:"max=20"`
	Animal string `json:"animal" binding:"max=40"`
	Side   string `json:"side" binding:"max=20"`
	Batch  string `json:"batch" binding:"max=40"`
	ArmID  *int64 `json:"arm_id"`

	Lot        string `json:"lot" binding:"max=40"`
	Grade      string `json:"grade" binding:"max=40"`
	Section    string `json:"section" binding:"max=40"`
	Bone       string `json:"bone" binding:"omitempty,oneof=in out"`
	PriceCents *int   `json:"price_cents" binding:"omitempty,min=0,max=1000000"`

	Why string `json:"why" binding:"max=200"` // of another arm under the fire
}

func (in CutInput) cut() store.Cut {
	c := store.Cut{Name: in.Name, Pair: in.Pair, Animal: in.Animal, Side: in.Side, Batch: in.Batch, ArmID: in.ArmID, Lot: in.Lot,
		Grade: in.Grade, Section: in.Section, Bone: in.Bone, PriceCents: in.PriceCents}
	for _, p := range []*string{&c.Name, &c.Pair, &c.Animal, &c.Side, &c.Batch, &c.Lot, &c.Grade, &c.Section} {
		*p = strings.TrimSpace(*p)
	}
	return c
}

// checkArm refuses an arm of another trial.
func checkArm(ctx context.Context, a *barn.Act, arm *int64) error {
	if arm == nil {
		return nil
	}
	t, err := a.Store.Trial(ctx, a.TrialID)
	if err != nil {
		return err
	}
	if _, ok := t.Ask.ArmPlaces()[*arm]; !ok {
		return fault.New("arm_id", fmt.Sprintf("arm %d is not of this trial", *arm), "choose one of its arms")
	}
	return nil
}

func nameTaken(err error, name string) error {
	if errors.Is(err, store.ErrConflict) {
		return fault.New("name", fmt.Sprintf("there is a cut %q already", name), "give each cut its own name, for instance 1L and 1R")
	}
	return err
}

func addCut(ctx context.Context, a *barn.Act, in *barn.With[CutInput]) error {
	t, err := a.Store.Trial(ctx, in.ID)
	if err != nil {
		return err
	}
	if t.Ask.Kind == trial.OfSetUps {
		return barn.Refuse("A trial of set-ups has no cuts.", "Ask a question of meat to hang some.")
	}
	if err := MayHang(ctx, a, in.Body.ArmID); err != nil {
		return err
	}
	if _, err := a.Store.AddCut(ctx, a.Who.ID, in.ID, in.Body.cut()); err != nil {
		return nameTaken(err, in.Body.Name)
	}
	return nil
}

func setCut(ctx context.Context, a *barn.Act, in *barn.With[CutInput]) error {
	if err := checkArm(ctx, a, in.Body.ArmID); err != nil {
		return err
	}
	if err := notServed(ctx, a, in.ID, "moved to another arm or renamed"); err != nil {
		return err
	}
	cut := in.Body.cut()
	cut.ID = in.ID
	if err := mayChangeArm(ctx, a, cut, in.Body.Why); err != nil {
		return err
	}
	if err := a.Store.SetCut(ctx, a.Who.ID, cut); err != nil {
		return nameTaken(err, cut.Name)
	}
	return nil
}

// MayHang refuses to hang a cut into an arm that is not of the trial, or by whom it is not
// left to say what goes into which.
func MayHang(ctx context.Context, a *barn.Act, arm *int64) error {
	if arm == nil {
		return nil
	}
	if err := barn.MayWith(a.Who, store.TrustArms); err != nil {
		return err
	}
	return checkArm(ctx, a, arm)
}

// mayChangeArm lets a cut go into another arm, under the fire as it does any move.
func mayChangeArm(ctx context.Context, a *barn.Act, next store.Cut, why string) error {
	was, err := a.Store.Cut(ctx, next.ID)
	if err != nil || was.ArmID == nil && next.ArmID == nil || was.ArmID != nil && next.ArmID != nil && *was.ArmID == *next.ArmID {
		return err
	}
	if err := barn.MayWith(a.Who, store.TrustArms); err != nil || !a.State.Lit {
		return err
	}
	if err := a.State.MayMove(a.Who, why); err != nil {
		return err
	}
	return a.Store.NoteChange(ctx, a.Who.ID, a.TrialID, store.UnderFire, "moved "+was.Name+" to another arm", strings.TrimSpace(why))
}

func notServed(ctx context.Context, a *barn.Act, cutID int64, what string) error {
	served, err := a.Store.ServedCuts(ctx, a.TrialID)
	if err != nil {
		return err
	}
	for _, id := range served {
		if id == cutID {
			return barn.Refuse("This cut is on the table and cannot be "+what+".", "Take its flight back first, while nothing of it is sealed.")
		}
	}
	return nil
}

func voidCut(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	if err := notServed(ctx, a, in.ID, "taken out"); err != nil {
		return err
	}
	cut, err := a.Store.Cut(ctx, in.ID)
	if err == nil && cut.ArmID != nil {
		err = barn.MayWith(a.Who, store.TrustArms)
	}
	if err != nil {
		return err
	}
	return a.Store.VoidCut(ctx, a.Who.ID, in.ID, in.Body.Why)
}

// SlipPath is the path of a cut's slip.
func SlipPath(ctx context.Context, b *barn.Barn, id int64) (string, error) {
	trialID, err := b.Store.TrialOf(ctx, "cut", id)
	return fmt.Sprintf("/trials/%d/match?cut=%d", trialID, id), err
}
