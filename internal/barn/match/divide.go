package match

import (
	"context"
	"errors"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// DivideInput names the parts of a cut. Together, they stay in one arm and
// count as one; else they are alike and go to different arms.
type DivideInput struct {
	Parts    []PartInput `json:"parts" binding:"min=2,max=6,dive"`
	Together bool        `json:"together"`
	Why      string      `json:"why" binding:"max=200"` // under the fire
}

// PartInput is a part of a cut.
type PartInput struct {
	Name    string `json:"name" binding:"required,max=20"`
	Section string `json:"section" binding:"max=40"`
}

// DimensionInput is a length or the fridge temperature as typed; empty takes it back.
type DimensionInput struct {
	Kind  string `json:"kind" binding:"oneof=thickness fat_cap length cold"`
	Typed string `json:"typed" binding:"max=40"`
}

func divideCut(ctx context.Context, a *barn.Act, in *barn.With[DivideInput]) error {
	l, err := mayMove(ctx, a, []int64{in.ID})
	if err != nil {
		return err
	}
	if cut, _ := l.Trial.Cut(in.ID); len(cut.Acts) > 0 {
		return barn.Refuse("This cut is in the log of the fire already.", "Weigh what comes off it as one, or take its entries back first.")
	}
	whole, err := a.Store.Cut(ctx, in.ID)
	if err != nil {
		return err
	}
	if whole.ParentID != nil {
		return fault.New("parts", whole.Name+" is a part already", "take the parts out and divide the whole into more")
	}
	parts := make([]store.Cut, len(in.Body.Parts))
	for i, p := range in.Body.Parts {
		parts[i] = whole
		part := &parts[i]
		part.Name, part.Section = strings.TrimSpace(p.Name), strings.TrimSpace(p.Section)
		part.ParentID, part.Together, part.PriceCents = &whole.ID, in.Body.Together, nil
		if !in.Body.Together {
			part.Pair, part.ArmID = whole.Name, nil // alike with each other, above all
		}
	}
	err = a.Store.Divide(ctx, a.Who.ID, a.TrialID, parts)
	if errors.Is(err, store.ErrConflict) {
		return fault.New("name", "a part has the name of another cut", "give each its own, for instance "+whole.Name+"a and "+whole.Name+"b")
	}
	if err != nil {
		return err
	}
	return nil
}

func setDimension(ctx context.Context, a *barn.Act, in *barn.With[DimensionInput]) error {
	d := store.Dimension{CutID: in.ID, Kind: in.Body.Kind, Typed: strings.TrimSpace(in.Body.Typed)}
	switch {
	case d.Typed == "":
	case d.Kind == "cold":
		t, err := units.ParseTemperature(d.Typed)
		if err != nil {
			return fault.In("cold", err)
		}
		d.Value, d.Typed = t.C, t.Typed
	default:
		l, err := units.ParseLength(d.Typed)
		if err != nil {
			return fault.In(d.Kind, err)
		}
		d.Value = l.M
	}
	return a.Store.SetDimension(ctx, a.Who.ID, d)
}
