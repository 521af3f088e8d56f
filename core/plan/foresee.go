package plan

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
	"whitebarn/core/phase"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// Foreseen is what the cook model says of a usual cut through an arm's phases.
type Foreseen struct {
	PullS    float64 `json:"pull_s"`   // from on to the pull
	KnifeS   float64 `json:"knife_s"`  // from on to the end of the last phase
	CoreC    float64 `json:"core_c"`   // at the pull
	Loss     float64 `json:"loss"`     // share of the weight, at the end
	Tender   float64 `json:"tender"`   // index of the least tender place; 1 is tender
	Dryness  float64 `json:"dryness"`  // share of the water gone from the meat
	Rendered float64 `json:"rendered"` // share of the fat
	Crust    float64 `json:"crust"`    // kg/m2 of water the crust has lost
}

// CrustSet is the crust of a bark that is set, kg/m2.
const CrustSet = barkSet

// Foresee takes a cut of a family through phases in a pit; a weight or thickness of 0 is the
// family's own.
func Foresee(family thermal.Family, pit thermal.Surroundings, pressure, kg, thicknessM float64, phases []phase.Phase) (Foreseen, error) {
	var out Foreseen
	if len(phase.AtFire(phases)) == 0 {
		return out, fault.New("phases", "nothing is cooked", "give the arm a phase in a pit, or over another fire")
	}
	if kg == 0 {
		kg = family.Mass
	}
	in := Input{Family: family, Pressure: pressure, Arms: []Arm{{Phases: phases}}, Pits: []Pit{{Surroundings: pit}},
		Cuts: []Cut{{Kg: kg, ThicknessM: thicknessM, StartC: usualColdC}}}
	smokes := in.Arms[0].smokes()
	r, err := in.simulate(in.Cuts[0], [allUnknowns]float64{}, append(smokes[:len(smokes):len(smokes)], in.Arms[0].afters()...), coarse, 0)
	if err != nil {
		return out, err
	}
	pull, end := r.Ends[len(smokes)-1], r.Ends[len(r.Ends)-1]
	return Foreseen{PullS: pull.Time, KnifeS: end.Time, CoreC: pull.Core, Loss: end.Loss, Tender: end.Index, Dryness: end.Dryness,
		Rendered: end.Rendered, Crust: math.Max(0, -end.Film)}, nil
}

// Combined takes the phases of an arm with the last degrees of its core cooked unwrapped again,
// so that its crust dries as a bare one does; ok is false where its last phase in the pit is
// not wrapped, or does not end by the core.
func Combined(phases []phase.Phase, lastC float64) (out []phase.Phase, ok bool) {
	_, to := phase.Fire(phases)
	if to < 1 || phases[to-1].Bare() || !phases[to-1].Kind.InPit() {
		return nil, false
	}
	end, byCore := phase.PullEnd(phases[to-1 : to])
	if !byCore {
		return nil, false
	}
	wrapped, open := phases[to-1], phases[to-1]
	at := math.Round(units.CToF(end.Value - lastC))
	wrapped.Ends = []phase.End{{Watch: phase.ByCore, Value: units.FToC(at), Typed: fmt.Sprintf("%.0f F", at)}}
	open.Name, open.Wrap, open.LiquidG, open.Parcel, open.Moves = "unwrapped", "", 0, nil, nil
	out = append(out, phases[:to-1]...)
	out = append(out, wrapped, open)
	return append(out, phases[to:]...), true
}

// usualColdC is a cut out of the fridge.
const usualColdC = 4.0
