package plan

import (
	"context"
	"fmt"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/phase"
	"whitebarn/core/thermal"
)

// WrapKey is a wrap of the cook model by its key.
type WrapKey string

// Values lists the wraps a cut cooks in.
func (WrapKey) Values() []string {
	out := []string{}
	for _, w := range thermal.Wraps {
		if w.Key != "tent" && w.Key != "cooler" {
			out = append(out, w.Key)
		}
	}
	return out
}

// FamilyKey is a family of cuts of the cook model by its key.
type FamilyKey string

// Values lists the families.
func (FamilyKey) Values() []string {
	out := make([]string, len(thermal.Families))
	for i, f := range thermal.Families {
		out[i] = f.Key
	}
	return out
}

// SmokerKey is a kind of smoker by its key.
type SmokerKey string

// Values lists the kinds.
func (SmokerKey) Values() []string {
	out := []string{}
	for _, p := range PitKinds() {
		out = append(out, p.Key)
	}
	return out
}

// StartInput is one cut to be ready at a time: what it is, the pit, the wrap,
// when it is pulled and what comes after.
type StartInput struct {
	Family      FamilyKey `json:"cut"`
	WeightKg    float64   `json:"weight_kg"`
	ThicknessCM *float64  `json:"thickness_cm"`
	Smoker      SmokerKey `json:"smoker"`
	PitC        float64   `json:"pit_C"`
	Wrap        WrapKey   `json:"wrap"`
	WrapAtC     float64   `json:"wrap_at_C"`
	PullC       float64   `json:"pull_C"`
	RestMin     float64   `json:"rest_min"`
	LeastHoldH  float64   `json:"least_hold_h"`
	PlanHoldH   float64   `json:"planned_hold_h"`
	SliceMin    float64   `json:"slice_min"`
	Chance      float64   `json:"wanted_chance"`
}

// StartOutput is how long it takes and when it must go on.
type StartOutput struct {
	LowH      float64 `json:"cook_low_h"` // four times in five it takes from low to high
	MiddleH   float64 `json:"cook_middle_h"`
	HighH     float64 `json:"cook_high_h"`
	LatestH   float64 `json:"latest_start_before_table_h"`
	AdvisedH  float64 `json:"advised_start_before_table_h"`
	Loss      float64 `json:"loss_fraction"`
	Tender    float64 `json:"tenderness_index"` // 1 is tender
	HoldLowH  float64 `json:"hold_low_h"`
	HoldHighH float64 `json:"hold_high_h"`
}

// StartOf works one cut back from the table.
func StartOf(ctx context.Context, in StartInput) (StartOutput, error) {
	family, err := thermal.FamilyOf(string(in.Family))
	if err != nil {
		return StartOutput{}, fault.New("cut", fmt.Sprintf("%q is no kind of cut the model knows", in.Family), "choose one of the list")
	}
	place, err := PitKind(string(in.Smoker))
	if err != nil {
		return StartOutput{}, fault.In("smoker", err)
	}
	if !(in.WeightKg > 0.05 && in.WeightKg < 50) {
		return StartOutput{}, fault.New("weight_kg", fmt.Sprintf("%g kg is no piece to smoke", in.WeightKg), "give 0.05 to 50 kg")
	}
	smoke := phase.Phase{Kind: phase.Smoke, Name: "smoke", SetC: in.PitC, Ends: []phase.End{{Watch: phase.ByCore, Value: in.PullC}}}
	phases := []phase.Phase{smoke}
	if in.Wrap != "" && in.Wrap != "none" {
		wrapped := smoke
		wrapped.Name, wrapped.Wrap = "wrapped", string(in.Wrap)
		phases[0].Ends = []phase.End{{Watch: phase.ByCore, Value: in.WrapAtC}}
		phases = append(phases, wrapped)
	}
	if in.RestMin > 0 {
		phases = append(phases, phase.Phase{Kind: phase.Rest, Name: "rest", Wrap: "tent", Ends: after(60*in.RestMin, "")})
	}
	if in.PlanHoldH > 0 {
		phases = append(phases, phase.Phase{Kind: phase.Hold, Name: "hold", SetC: usualHoldC, HolderID: 1, Ends: after(3600*in.PlanHoldH, ""), LeastS: 3600 * in.LeastHoldH})
	}
	// Any day does: what comes out are hours before the table.
	table := time.Date(2026, 10, 3, 18, 0, 0, 0, time.UTC)
	c := Cut{Name: "the cut", Kg: in.WeightKg, StartC: 4}
	if in.ThicknessCM != nil {
		c.ThicknessM = *in.ThicknessCM / 100
	}
	p, err := Of(ctx, Input{
		Now: table, Serve: table, Chance: in.Chance, SliceS: 60 * in.SliceMin, Family: family, Pressure: thermal.PressureAt(0),
		Arms: []Arm{{"CUT", phases}}, Cuts: []Cut{c}, Pits: []Pit{{Name: "the pit", SetC: in.PitC, Surroundings: place, Positions: 1}}, Members: 200,
	})
	if err != nil {
		return StartOutput{}, err
	}
	l := p.Lanes[0]
	took := func(t time.Time) float64 { return t.Sub(l.On).Hours() }
	return StartOutput{
		took(l.Pull.Early), took(l.Pull.Middle), took(l.Pull.Late), table.Sub(l.Latest).Hours(), table.Sub(l.Advised).Hours(),
		p.Cuts[0].Loss, p.Cuts[0].Tender, l.HoldS[0] / 3600, l.HoldS[2] / 3600,
	}, nil
}

const usualHoldC = 65.5 // C, 150 F
