package book

import (
	"context"
	"slices"

	"whitebarn/core/phase"
	"whitebarn/core/process"
	"whitebarn/core/settle"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	desk "whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
)

// Proposed is what could be next after a trial.
type Proposed struct {
	Proposals []process.Proposal `json:"proposals"`
}

// ProposedQuery asks what could be next, for a context.
type ProposedQuery struct {
	barn.ByID
	Context string `form:"context"`
}

// Proposed works out what could be next: confounds first, then what cannot be told, phases
// combined by the cook model, levers of faults, the next dose.
func (d *Desk) Proposed(ctx context.Context, _ *barn.Barn, in *ProposedQuery) (Proposed, error) {
	out := Proposed{Proposals: []process.Proposal{}}
	t, result, err := d.desk.Kept(ctx, in.ID, true)
	if err != nil || t.Ask.Kind != trial.OfMeat || t.RehearsesID != nil {
		return out, err
	}
	a, err := d.after(ctx, t, result)
	if err != nil {
		return out, err
	}
	contexts := desk.ContextsOf(t.Ask)
	a.Context = contexts[max(0, slices.IndexFunc(contexts, func(c trial.Context) bool { return c.Name == in.Context }))]
	out.Proposals, err = process.Proposals(a)
	return out, err
}

// after gathers what a proposal needs of a trial.
func (d *Desk) after(ctx context.Context, t store.Trial, result settle.Result) (process.After, error) {
	a := process.After{TrialID: t.ID, Ask: t.Ask, Result: result}
	var err error
	if a.Family, a.Pit, a.Pressure, err = d.model(ctx, t); err != nil {
		return a, err
	}
	if a.Phases, _, err = d.phases(ctx, t); err != nil {
		return a, err
	}
	ticked, err := d.store.Faults(ctx, t.ID)
	if err != nil {
		return a, err
	}
	a.Words = make([]map[string]int, len(t.Ask.Arms))
	for i := range a.Words {
		a.Words[i] = map[string]int{}
	}
	for _, w := range ticked {
		if w.Arm >= 0 && w.Arm < len(a.Words) {
			a.Words[w.Arm][w.Fault] += w.N
		}
	}
	a.Kg = a.Family.Mass
	return a, nil
}

// phases are those of a trial's arms, with the whole outline.
func (d *Desk) phases(ctx context.Context, t store.Trial) (out [][]phase.Phase, doses map[int64]process.CardBody, err error) {
	o, err := d.planner.Outline(ctx, t)
	if err != nil {
		return nil, nil, err
	}
	doses = map[int64]process.CardBody{}
	for _, arm := range t.Ask.Arms {
		of := o.Of(arm.ID)
		out = append(out, of.Phases)
		doses[arm.ID] = process.CardBody{Doses: of.Doses}
	}
	return out, doses, nil
}

// model is what the cook model needs of a trial: what it cooks like, in what, and how high up.
func (d *Desk) model(ctx context.Context, t store.Trial) (family thermal.Family, pit thermal.Surroundings, pressure float64, err error) {
	if family, err = d.store.Family(ctx, t.Ask.Family); err != nil {
		return family, pit, 0, err
	}
	b, err := d.store.Barn(ctx)
	if err != nil {
		return family, pit, 0, err
	}
	runs, err := d.store.PitRuns(ctx, t.ID)
	pit = thermal.AllSurroundings[0]
	if len(runs) > 0 {
		pit = runs[0].Surroundings()
	}
	return family, pit, thermal.PressureAt(b.ElevationM), err
}

// StartInput starts a proposed trial, or asks again from a card.
type StartInput struct {
	Kind    process.ProposalKind `json:"kind" binding:"required"`
	Context string               `json:"context"`
}

// Start makes the trial of a proposal, with what is held, its layout, its size and its phases.
func (d *Desk) Start(ctx context.Context, a *barn.Act, in *barn.With[StartInput]) (Cooking, error) {
	d = d.within(a.Store)
	all, err := d.Proposed(ctx, nil, &ProposedQuery{barn.ByID{ID: in.ID}, in.Body.Context})
	if err != nil {
		return Cooking{}, err
	}
	at := slices.IndexFunc(all.Proposals, func(p process.Proposal) bool { return p.Kind == in.Body.Kind })
	if at < 0 {
		return Cooking{}, barn.Refuse("That is not proposed any more.", "Look at what is proposed now.")
	}
	p := all.Proposals[at]
	id, err := d.make(ctx, a, p.Ask)
	if err != nil {
		return Cooking{}, err
	}
	return Cooking{id}, d.plan(ctx, a, id, in.ID, p.Phases)
}

// plan plans a trial by phases of its arms, with the doses of the trial it follows; an arm
// without keeps its first guess.
func (d *Desk) plan(ctx context.Context, a *barn.Act, trialID, from int64, phases [][]phase.Phase) error {
	t, err := a.Store.Trial(ctx, trialID)
	if err != nil {
		return err
	}
	was, err := a.Store.Trial(ctx, from)
	if err != nil {
		return err
	}
	o, err := d.planner.Outline(ctx, t)
	if err != nil {
		return err
	}
	before, err := d.planner.Outline(ctx, was)
	if err != nil {
		return err
	}
	for i := range o.Arms {
		if i < len(phases) && len(phases[i]) > 0 {
			o.Arms[i].Phases = phases[i]
		}
		if i < len(before.Arms) {
			o.Arms[i].Doses = before.Arms[i].Doses
		} else if len(before.Arms) > 0 {
			o.Arms[i].Doses = before.Arms[0].Doses
		}
	}
	if err := o.Resolve(); err != nil {
		return err
	}
	return a.Store.SetOutline(ctx, a.Who.ID, trialID, o)
}
