// Package undo takes voids back for ten minutes.
package undo

import (
	"context"
	"errors"
	"fmt"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// VoidInput names what was voided.
type VoidInput struct {
	Subject barn.Subject `json:"subject" binding:"max=40"`
	ID      int64        `json:"id"`
	Press   string       `json:"press" binding:"omitempty,uuid"` // of a press, instead of a number
}

// Void lets count again what was voided within ten minutes.
var Void = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Undo, What: "undid a void"}, void)

// kinds are what may be undone, and what that touches.
var kinds = map[barn.Subject]barn.Kind{
	barn.Cut: barn.Layout, barn.Weighing: barn.Record, barn.WeighedOut: barn.Record, barn.Taster: barn.Design, barn.Flight: barn.Design,
	barn.Accepted: barn.Design, barn.Press: barn.Record,
}

func void(ctx context.Context, a *barn.Act, in *barn.With[VoidInput]) error {
	b := in.Body
	kind, ok := kinds[b.Subject]
	if !ok {
		return fault.New("subject", fmt.Sprintf("a void of a %q is not undone", b.Subject), "enter it again")
	}
	if err := mine(ctx, a, b); err != nil {
		return err
	}
	// The reason why it is done again is the reason it was undone: it never should have been voided.
	if err := a.State.May(barn.Change{Kind: kind, Who: a.Who, Why: "undone"}); err != nil {
		return err
	}
	var err error
	if b.Subject == barn.Press {
		err = a.Store.UnvoidPress(ctx, a.Who.ID, b.Press)
	} else {
		err = a.Store.Unvoid(ctx, a.Who.ID, string(b.Subject), b.ID)
	}
	if err == nil {
		err = theirs(ctx, a, b)
	}
	switch {
	case errors.Is(err, store.ErrNotFound):
		return barn.Refuse("It was not taken back within the last ten minutes.", "Enter it again.")
	case errors.Is(err, store.ErrConflict):
		return barn.Refuse("Another stands in its place by now.", "Take that one back first.")
	case err != nil:
		return err
	}
	_, err = gate.New(a.Store, a.Now).Recheck(ctx, a.TrialID)
	return err
}

// theirs refuses what only those may take back who may do it.
func theirs(ctx context.Context, a *barn.Act, b VoidInput) error {
	switch b.Subject {
	case barn.Accepted:
		return barn.MayWith(a.Who, store.TrustArms)
	case barn.Cut:
		if cut, err := a.Store.Cut(ctx, b.ID); err != nil || cut.ArmID == nil {
			return err
		}
		return barn.MayWith(a.Who, store.TrustArms)
	case barn.Flight:
		if a.Who.Role != store.Pitmaster {
			return barn.RefuseAs(barn.NotYours, "Only a pitmaster takes a flight back, and brings it back.", "Ask one.")
		}
	}
	return nil
}

// mine refuses what is of another trial.
func mine(ctx context.Context, a *barn.Act, b VoidInput) error {
	of, err := int64(0), error(nil)
	if b.Subject == barn.Press {
		of, err = a.Store.TrialOfPress(ctx, b.Press)
	} else {
		of, err = a.Store.TrialOf(ctx, string(b.Subject), b.ID)
	}
	if err == nil && of != a.TrialID {
		err = store.ErrNotFound
	}
	return err
}
