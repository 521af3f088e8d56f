package book

import (
	"context"
	"slices"

	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/ask"
	"whitebarn/internal/store"
)

// Ask makes a trial of an ask. One that starts from a card, or follows a trial, takes over its
// phases and doses: each arm is planned as it was, but for what is varied.
func (d *Desk) Ask(ctx context.Context, a *barn.Act, in *ask.NewInput) (int64, error) {
	id, err := ask.Create(ctx, a, in)
	if err != nil {
		return 0, err
	}
	d = d.within(a.Store)
	t, err := a.Store.Trial(ctx, id)
	if err != nil {
		return 0, err
	}
	from, ok, err := d.from(ctx, t, in.Card)
	if err != nil || !ok || len(t.Ask.Arms) == 0 {
		return id, err
	}
	family, err := a.Store.Family(ctx, t.Ask.Family)
	if err != nil {
		return 0, err
	}
	o := plan.UsualOutline(t.Ask, family).Carry(t.Ask, family, from)
	if o.Resolve() != nil {
		return id, nil // what was planned then is not planned that way any more
	}
	return id, a.Store.SetOutline(ctx, a.Who.ID, id, o)
}

// from is what a new trial is planned from: a card, or the arm of the trial it follows that it
// goes on with; ok is false without either.
func (d *Desk) from(ctx context.Context, t store.Trial, card int64) (from plan.ArmPhases, ok bool, err error) {
	if card != 0 {
		v, err := d.store.ProcessVersion(ctx, card)
		return plan.ArmPhases{Phases: v.Body.Phases(), Doses: v.Body.Doses}, err == nil, err
	}
	if t.Ask.FollowsID == nil || t.Ask.Kind != trial.OfMeat {
		return from, false, nil
	}
	was, err := d.store.Trial(ctx, *t.Ask.FollowsID)
	if err != nil || was.Ask.Kind != trial.OfMeat || len(was.Ask.Arms) == 0 {
		return from, false, err
	}
	kept, err := d.store.Outlines(ctx, was.ID)
	o, planned := kept[was.ID]
	if err != nil || !planned {
		return from, false, err
	}
	tag := t.Ask.Arms[t.Ask.GoOnWith()].Tag
	at := slices.IndexFunc(was.Ask.Arms, func(a trial.Arm) bool { return a.Tag == tag })
	if at < 0 {
		at = was.Ask.GoOnWith()
	}
	from = o.Of(was.Ask.Arms[at].ID)
	return from, len(from.Phases) > 0, nil
}
