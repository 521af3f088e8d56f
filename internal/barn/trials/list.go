package trials

import (
	"context"

	"whitebarn/core/evidence"
	"whitebarn/core/trial"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// TrialLine is a trial in a list.
type TrialLine struct {
	ID       int64              `json:"id"`
	Kind     trial.Kind         `json:"kind"`
	Question string             `json:"question"`
	Product  string             `json:"product"`
	Arms     []store.ArmLine    `json:"arms"`
	Steps    []trial.StepState  `json:"steps"` // of an open one
	Here     trial.Step         `json:"here"`
	Settled  *store.VerdictLine `json:"settled"` // nil until the codes are open
}

// List lists all trials.
func (r *Reader) List(ctx context.Context) ([]TrialLine, error) {
	all, err := r.barn.Store.TrialLines(ctx)
	if err != nil {
		return nil, err
	}
	var open, unjudged []int64
	for _, t := range all {
		switch {
		case !t.Revealed:
			open = append(open, t.ID)
		case t.Verdict == nil:
			unjudged = append(unjudged, t.ID)
		}
	}
	steps, err := r.steps(ctx, open)
	if err != nil {
		return nil, err
	}
	fresh, err := r.desk.Lines(ctx, unjudged)
	if err != nil {
		return nil, err
	}
	out := make([]TrialLine, len(all))
	for i, t := range all {
		out[i] = TrialLine{ID: t.ID, Kind: t.Kind, Question: t.Question, Product: t.Product, Arms: t.Arms, Steps: []trial.StepState{},
			Here: trial.StepSettle, Settled: t.Verdict}
		if line, ok := fresh[t.ID]; ok {
			out[i].Settled = &line
		}
		if !t.Revealed {
			out[i].Steps, out[i].Here = steps[t.ID], trial.Here(steps[t.ID])
		}
	}
	return out, nil
}

// steps says how far trials are, with the same few queries for one and many.
func (r *Reader) steps(ctx context.Context, ids []int64) (map[int64][]trial.StepState, error) {
	out := map[int64][]trial.StepState{}
	known, err := reader.Read(ctx, r.barn.Store, ids...)
	if err != nil {
		return nil, err
	}
	counts, err := r.barn.Store.Counts(ctx, ids...)
	for _, t := range known {
		out[t.ID] = stepsOf(t, counts[t.ID])
	}
	return out, err
}

func stepsOf(t evidence.Trial, n store.Counts) []trial.StepState {
	p := t.Progress()
	p.Marked, p.Readings, p.Tasters, p.Ballots, p.Locked = n.Marked, n.Readings, n.Tasters, n.Ballots, n.Locked
	return trial.StepsOf(p)
}
