// Package rest weighs cuts and keeps what else was measured of them.
package rest

import (
	"context"
	"fmt"
	"slices"
	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// What is weighed and measured.
var (
	Weigh        = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Record, What: "weighed a cut"}, weigh)
	VoidWeighing = barn.Writes(barn.Door{Of: barn.Weighing, Kind: barn.Record, What: "took a weighing back", Corrects: true}, voidWeighing)
	WeighOut     = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Record, What: "weighed out a cut"}, weighOut)
	VoidWeighOut = barn.Writes(barn.Door{Of: barn.WeighedOut, Kind: barn.Record, What: "took a weight back", Corrects: true}, voidWeighOut)
	Leave        = barn.Writes(barn.Door{Of: barn.Cook, Kind: barn.Record, What: "said what was left"}, leave)
	SetMeasure   = barn.Writes(barn.Door{Of: barn.Cut, Kind: barn.Record, What: "measured an outcome"}, setMeasure)
)

// WeighingInput is a weight as typed, and the step of the scale.
type WeighingInput struct {
	Stage      yield.Stage `json:"stage"`
	Weight     string      `json:"weight"`
	Resolution string      `json:"resolution"`
	Why        string      `json:"why,omitempty" binding:"max=200"` // of another weight once the codes are open
}

// MeasureInput is the value of an outcome typed for a cut; null takes it back.
type MeasureInput struct {
	Key   string   `json:"key" binding:"required"`
	Value *float64 `json:"value"`
	Why   string   `json:"why,omitempty" binding:"max=200"` // of another value once the codes are open
}

// coarsestStep of a scale that cuts are weighed on, kg; two ounces are a little more.
const coarsestStep = 0.0568

func weigh(ctx context.Context, a *barn.Act, in *barn.With[WeighingInput]) error {
	weight, resolution, err := onScale(in.Body.Weight, in.Body.Resolution)
	if err != nil {
		return err
	}
	others, err := a.Store.WeighingsOf(ctx, in.ID)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(others, func(w store.Weighing) bool { return w.Stage == in.Body.Stage }) {
		if err := a.State.MayCorrect(in.Body.Why); err != nil {
			return err
		}
	}
	if err := yield.Check(yield.Weighing{Stage: in.Body.Stage, Kg: weight.Kg, ResolutionKg: resolution.Kg}, weighingsOf(others)); err != nil {
		return err
	}
	err = a.Store.Weigh(ctx, a.Who.ID, store.Weighing{CutID: in.ID, Stage: in.Body.Stage, Kg: weight.Kg, Typed: weight.Typed,
		ResolutionKg: resolution.Kg, ResolutionTyped: resolution.Typed, At: a.Now()})
	if err != nil {
		return err
	}
	return nil
}

// onScale reads a weight and the step of the scale it was weighed on.
func onScale(typed, step string) (weight, resolution units.Mass, err error) {
	var wrong fault.List
	weight, err = units.ParseMass(typed)
	wrong.Take("weight", err)
	resolution, err = units.ParseMass(step)
	wrong.Take("resolution", err)
	if resolution.Kg > coarsestStep {
		wrong.Add("resolution", fmt.Sprintf("a scale that shows steps of %s is too coarse", resolution.Typed),
			"give the smallest step it shows, 50 g (2 oz) at most")
	}
	if err := wrong.Err(); err != nil {
		return weight, resolution, err
	}
	if resolution.Kg >= weight.Kg {
		err = fault.New("resolution", fmt.Sprintf("a step of %s cannot weigh %s", resolution.Typed, weight.Typed),
			"give the smallest step the scale shows, for instance 5 g or 1/4 oz")
		return weight, resolution, err
	}
	return weight, resolution, nil
}

func voidWeighing(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	return a.Store.VoidWeighing(ctx, a.Who.ID, in.ID, in.Body.Why)
}
func setMeasure(ctx context.Context, a *barn.Act, in *barn.With[MeasureInput]) error {
	t, err := a.Store.Trial(ctx, a.TrialID)
	if err != nil {
		return err
	}
	typed := slices.ContainsFunc(t.Ask.Outcomes, func(o trial.Chosen) bool {
		d, ok := o.Outcome()
		return ok && string(o.Key) == in.Body.Key && d.Kind == trial.FromHand
	})
	look := slices.IndexFunc(trial.Looks, func(l trial.Look) bool { return string(l.Key) == in.Body.Key })
	if v := in.Body.Value; look >= 0 && v != nil && !(*v >= 0 && *v <= trial.Looks[look].Most) {
		return fault.New("value", fmt.Sprintf("%v is no value of %s", *v, trial.Looks[look].Name), fmt.Sprintf("give %s", trial.Looks[look].Unit))
	}
	if !typed && look < 0 {
		return fault.New("key", fmt.Sprintf("%q is not typed for each cut in this trial", in.Body.Key), "choose it in Ask first")
	}
	if v := in.Body.Value; v != nil && !(*v > -1e9 && *v < 1e9) {
		return fault.New("value", fmt.Sprintf("%v is past any measure", *v), "check the number")
	}
	if kept, err := a.Store.Measured(ctx, in.ID, in.Body.Key); err != nil {
		return err
	} else if kept {
		if err := a.State.MayCorrect(in.Body.Why); err != nil {
			return err
		}
	}
	return a.Store.SetMeasure(ctx, a.Who.ID, in.ID, in.Body.Key, in.Body.Value)
}

func weighingsOf(rows []store.Weighing) []yield.Weighing {
	out := make([]yield.Weighing, len(rows))
	for i, w := range rows {
		out[i] = yield.Weighing{Stage: w.Stage, Kg: w.Kg, ResolutionKg: w.ResolutionKg}
	}
	return out
}
