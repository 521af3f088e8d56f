package settle

import (
	"context"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// WeighInput is a context as a hand moved its weights.
type WeighInput = barn.With[WeighBody]

// WeighBody are weights of outcomes in a context.
type WeighBody struct {
	Context string                       `json:"context"`
	Weights map[trial.OutcomeKey]float64 `json:"weights"`
	Since   bool                         `json:"since"` // of the last reading, not the first
}

// Weigh reads a kept verdict by weights that were moved; nothing is kept of them.
func (d *Desk) Weigh(ctx context.Context, _ *barn.Barn, in *WeighInput) (settle.Standing, error) {
	t, result, err := d.Kept(ctx, in.ID, in.Body.Since)
	if err != nil {
		return settle.Standing{}, err
	}
	for key, w := range in.Body.Weights {
		if !(w >= 0 && w <= 1000) {
			return settle.Standing{}, fault.New("weights", string(key)+" has no weight", "give zero or more")
		}
	}
	context := trial.Context{Name: in.Body.Context, Weights: in.Body.Weights}
	for _, c := range t.Ask.Contexts {
		if c.Name == in.Body.Context {
			context.Condition = c.Condition
		}
	}
	return settle.Weigh(t.Ask, result, context), nil
}

// Kept is a trial with its reading as it is kept: the first, or the last.
func (d *Desk) Kept(ctx context.Context, id int64, last bool) (t store.Trial, r settle.Result, err error) {
	v, err := d.Read(ctx, id)
	if err != nil {
		return t, r, err
	}
	r = v.Result
	if last && v.Since != nil {
		r = v.Since.Result
	}
	t, err = d.store.Trial(ctx, id)
	return t, r, err
}

// standings are what each context makes of a verdict; without contexts all outcomes weigh
// alike.
func standings(ask trial.Ask, r settle.Result) []settle.Standing {
	out := []settle.Standing{}
	for _, c := range ContextsOf(ask) {
		out = append(out, settle.Weigh(ask, r, c))
	}
	return out
}

// ContextsOf are the contexts of an ask; without any, all outcomes weigh alike.
func ContextsOf(ask trial.Ask) []trial.Context {
	if len(ask.Contexts) > 0 {
		return ask.Contexts
	}
	all := trial.Context{Name: "all alike", Weights: map[trial.OutcomeKey]float64{}}
	for _, o := range ask.Outcomes {
		all.Weights[o.Key] = 1
	}
	return []trial.Context{all}
}

// WorkQuery asks for the working of a number.
type WorkQuery struct {
	barn.ByID
	Outcome trial.OutcomeKey `form:"outcome" binding:"required"`
	A       int              `form:"a"`
	B       int              `form:"b"`
	Reach   verdict.Reach    `form:"reach" binding:"required"`
}

// Worked is a working beside the number that is kept.
type Worked struct {
	settle.Working
	Kept    *float64 `json:"kept"`    // the estimate as it was read
	Changed bool     `json:"changed"` // the record of today makes it another
}

// Work shows where a number of a verdict comes from: it is worked out again from the record.
func (d *Desk) Work(ctx context.Context, _ *barn.Barn, in *WorkQuery) (Worked, error) {
	v, err := d.Read(ctx, in.ID)
	if err != nil {
		return Worked{}, err
	}
	_, c, err := d.Case(ctx, in.ID)
	if err != nil {
		return Worked{}, err
	}
	w, ok := c.Work(in.Outcome, in.A, in.B, in.Reach)
	if !ok {
		return Worked{}, barn.RefuseAs(barn.NotThere, "There is no such number.", "Open the working from a number of the verdict.")
	}
	out := Worked{Working: w}
	for _, row := range v.Rows {
		for _, p := range row.Pairs {
			if row.Outcome.Key == in.Outcome && p.A == in.A && p.B == in.B {
				side := map[verdict.Reach]*settle.Side{verdict.ThesePieces: p.Pieces, verdict.TheseCooks: &p.Cooks, verdict.NextCook: &p.Next}[in.Reach]
				if side != nil {
					out.Kept = side.Estimate
				}
			}
		}
	}
	out.Changed = (out.Kept == nil) != (w.Side.Estimate == nil) || out.Kept != nil && abs(*out.Kept-*w.Side.Estimate) > 1e-6
	return out, nil
}

func abs(v float64) float64 { return max(v, -v) }

// Case is what is known of a trial, and how it is judged, with what the house knows beside it.
func (d *Desk) Case(ctx context.Context, id int64) (known evidence.Trial, c settle.Trial, err error) {
	if known, err = reader.One(ctx, d.store, id); err != nil {
		return known, c, err
	}
	of := []evidence.Trial{known}
	if err := reader.Doses(ctx, d.store, of); err != nil {
		return known, c, err
	}
	cases, err := d.cases(ctx, of...)
	if err != nil {
		return known, c, err
	}
	house, err := d.house(ctx, known.Ask.ProductID)
	if err != nil {
		return known, c, err
	}
	return of[0], lend(cases[0], of[0], house), nil
}

// Within is the desk within a transaction.
func (d *Desk) Within(s *store.Store) *Desk { return &Desk{s, d.now} }
