package table

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
)

// LookInput names a cook; Reason is needed while ballots of it are open.
type LookInput struct {
	CookID int64  `json:"cook_id" binding:"required"`
	Reason string `json:"reason" binding:"max=200"`
}

// nameLook says beforehand that the codes of a cook are going to be opened by themselves.
// Named before anything is served, it is the one early look that costs little.
func nameLook(ctx context.Context, a *barn.Act, in *barn.With[LookInput]) error {
	if _, err := otherCooks(ctx, a, in.Body.CookID); err != nil {
		return err
	}
	flights, err := a.Store.Flights(ctx, in.ID)
	if err != nil {
		return err
	}
	looks, err := a.Store.Looks(ctx, in.ID)
	if err != nil {
		return err
	}
	switch {
	case len(flights) > 0:
		return barn.Refuse("A flight is served, so it is too late to name a look.", "Opened all the same, a look speaks only by what holds at any number of looks.")
	case slices.ContainsFunc(looks, func(l store.Look) bool { return l.CookID != in.Body.CookID }):
		return barn.Refuse("Another look is named already.", "One early look can be named for a trial.")
	}
	return a.Store.NameLook(ctx, in.ID, in.Body.CookID)
}

// otherCooks are the cooks of the trial but one, which must be of it.
func otherCooks(ctx context.Context, a *barn.Act, cookID int64) ([]store.Cook, error) {
	cooks, err := a.Store.Cooks(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(cooks, func(k store.Cook) bool { return k.ID == cookID })
	switch {
	case i < 0:
		return nil, fault.New("cook_id", fmt.Sprintf("cook %d is not of this trial", cookID), "choose one of its cooks")
	case len(cooks) < 2:
		return nil, barn.Refuse("This trial has one cook.", "Open all its codes once it is tasted.")
	}
	return slices.Delete(slices.Clone(cooks), i, i+1), nil
}

// openCook opens the codes of one cook of a trial over several.
func openCook(ctx context.Context, a *barn.Act, in *barn.With[LookInput]) error {
	cookID := in.Body.CookID
	if _, err := otherCooks(ctx, a, cookID); err != nil {
		return err
	}
	of, err := a.Store.FlightCooks(ctx, in.ID)
	if err != nil {
		return err
	}
	ballots, err := a.Store.BallotStates(ctx, in.ID)
	if err != nil {
		return err
	}
	mine, open, closed := 0, 0, 0
	for _, b := range ballots {
		cooks := of[b.FlightID]
		if !slices.Contains(cooks, cookID) {
			continue
		}
		if len(cooks) > 1 {
			return barn.Refuse("A flight holds cuts of this cook beside those of another.", "Its codes can only be opened with all others.")
		}
		mine++
		closed += b.Closed
		if !b.Locked {
			open++
		}
	}
	switch {
	case closed == 0:
		return barn.Refuse("Nothing of this cook has been tasted, so there are no codes to open.", "Serve a flight of it first.")
	case open > 0 && strings.TrimSpace(in.Body.Reason) == "":
		return barn.Refuse(fmt.Sprintf("%d of %d ballots of this cook are still open.", open, mine), "Wait for them, or say why the codes are opened now.")
	}
	l, err := settle.New(a.Store, a.Now).Look(ctx, in.ID, cookID)
	if err != nil {
		return err
	}
	l.Reason = strings.TrimSpace(in.Body.Reason)
	err = a.Store.OpenLook(ctx, a.Who.ID, in.ID, l)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("The codes of this cook are open already.", "Load the page again.")
	}
	return err
}
