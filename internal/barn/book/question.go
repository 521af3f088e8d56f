package book

import (
	"context"
	"fmt"

	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Against is the start of a trial that holds a version of a card against something else: the
// card is today's practice.
func (d *Desk) Against(ctx context.Context, _ *barn.Barn, id int64) (trial.Ask, error) {
	v, err := d.store.ProcessVersion(ctx, id)
	if err != nil {
		return trial.Ask{}, err
	}
	p, err := d.store.Process(ctx, v.ProcessID)
	if err != nil {
		return trial.Ask{}, err
	}
	ask := d.alone(ctx, p, v)
	ask.Question, ask.Hand, ask.Contexts = "", trial.UsualHand, trial.UsualContexts
	ask.Factors = []trial.Factor{{Kind: trial.Categorical, SetOn: trial.UnitCut}}
	ask.Arms = []trial.Arm{{Tag: "CARD", Levels: trial.Levels(""), Control: true}, {Levels: trial.Levels("")}}
	return ask.Tidy(), nil
}

// Reopen asks why a process changed: the question that its charts ask, with the card as it is
// cooked now as today's practice.
func (d *Desk) Reopen(ctx context.Context, a *barn.Act, in *barn.ByID) (Cooking, error) {
	d = d.within(a.Store)
	c, err := d.Card(ctx, nil, in.ID)
	if err != nil {
		return Cooking{}, err
	}
	if c.Reopen == nil {
		return Cooking{}, barn.Refuse("Nothing of this card stands out.", "Ask a new question of it, if you have one.")
	}
	v, err := a.Store.ProcessVersion(ctx, c.InForce)
	if err != nil {
		return Cooking{}, err
	}
	id, err := d.make(ctx, a, *c.Reopen)
	if err != nil {
		return Cooking{}, err
	}
	return Cooking{id}, d.carry(ctx, a, id, v)
}

// make makes a trial of an ask that nobody typed.
func (d *Desk) make(ctx context.Context, a *barn.Act, ask trial.Ask) (int64, error) {
	ask, err := a.Store.Resolve(ctx, ask.Tidy())
	if err != nil {
		return 0, err
	}
	if err := ask.Check(); err != nil {
		return 0, fmt.Errorf("ask %q: %w", ask.Question, err)
	}
	return a.Store.CreateTrial(ctx, a.Who.ID, ask)
}

// meat says what meat a question is of, as the trial did that a version was written from.
func (d *Desk) meat(ctx context.Context, ask *trial.Ask, v store.ProcessVersion) {
	if v.TrialID == nil {
		return
	}
	if t, err := d.store.Trial(ctx, *v.TrialID); err == nil {
		ask.Species, ask.Handling, ask.WholeBird = t.Ask.Species, t.Ask.Handling, t.Ask.WholeBird
	}
}
