package ask

import (
	"context"
	"whitebarn/core/design"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/trials"
)

// ReviewInput is an ask as it stands, kept or not. TrialID is 0 for a new one.
type ReviewInput struct {
	Ask     trial.Ask `json:"ask"`
	TrialID int64     `json:"trial_id"`
}

// Reviewed is an ask to be reviewed.
type Reviewed = barn.Of[ReviewInput]

// Reading says what an ask can tell, what not, and what would mend it.
type Reading struct {
	CanAnswer string           `json:"can_answer"` // in a line
	Findings  []design.Finding `json:"findings"`
	Offers    []design.Offer   `json:"offers"`
	Numbers   []design.Number  `json:"numbers"`
}

// DraftInput asks for the start of another trial from this one.
type DraftInput struct {
	barn.ByID
	As    string `form:"as" json:"as" binding:"oneof=copy follow"`
	ArmID int64  `form:"arm" json:"arm"` // to go on with; 0 leaves the choice
}

// Review reads an ask as it stands.
func Review(ctx context.Context, b *barn.Barn, d *settle.Desk, in ReviewInput) (Reading, error) {
	var out Reading
	ask := in.Ask.Tidy()
	ask.Hand = ask.Hand.Within()
	if len(ask.Arms) > trial.MostArms || len(ask.Factors) > trial.MostFactors {
		return out, ask.Check()
	}
	ask, err := b.Store.Resolve(ctx, ask)
	if err != nil {
		return out, err
	}
	factors, err := b.Store.Catalogue(ctx)
	if err != nil {
		return out, err
	}
	here, err := b.Store.Barn(ctx)
	if err != nil {
		return out, err
	}
	review := design.Case{Ask: ask, Known: trials.KnownLevels(factors), BoilsC: thermal.BoilingPoint(thermal.PressureAt(here.ElevationM))}
	if f, ok := thermal.SuggestFamily(ask.Product + " " + ask.Cut); ok && ask.Product != "" {
		review.Like = &f
	}
	var have func(trial.UnitKind) int
	if in.TrialID != 0 {
		l, err := trials.LookAt(ctx, b.Store, in.TrialID)
		if err != nil {
			return out, err
		}
		review.Drawn, review.Moved = len(l.Trial.Draws) > 0, l.Trial.Moved()
		// Arms that the ask no longer has leave their cuts without one.
		review.Pieces = l.Trial.Pieces(ask)
		if len(review.Pieces) > 0 {
			have = func(kind trial.UnitKind) int { return design.UnitsAnArm(ask, review.Pieces, kind) }
		}
	}
	if ask.Kind == trial.OfSetUps {
		out.Findings, out.Offers, out.Numbers = design.Review(review), []design.Offer{}, []design.Number{}
		out.CanAnswer = design.CanAnswer(ask, out.Findings, out.Numbers)
		return out, nil
	}
	house, err := d.House(ctx, in.TrialID, ask, ask.Hand.BlockSize > 1)
	if err != nil {
		return out, err
	}
	out.Findings, out.Offers = design.Review(review), design.Offers(ask)
	out.Numbers = design.Numbers(ask, func(kind trial.UnitKind) map[trial.OutcomeKey]verdict.Spread { return house[kind] }, have)
	out.CanAnswer = design.CanAnswer(ask, out.Findings, out.Numbers)
	return out, nil
}

// Draft is the start of another trial from one.
func Draft(ctx context.Context, b *barn.Barn, in *DraftInput) (trial.Ask, error) {
	t, err := b.Store.Trial(ctx, in.ID)
	if err != nil {
		return trial.Ask{}, err
	}
	if in.As == "copy" {
		return t.Ask.Copy(), nil
	}
	arm, ok := t.Ask.ArmPlaces()[in.ArmID]
	if !ok {
		arm = t.Ask.GoOnWith()
	}
	return t.Ask.FollowOn(t.ID, arm), nil
}
