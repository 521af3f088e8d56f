package thermal

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// SimulationInput is a run written out in numbers.
type SimulationInput struct {
	Cells     int            `json:"cells,omitempty"`
	Pressure  float64        `json:"pressure_Pa,omitempty"`
	Cut       CutNumbers     `json:"cut"`
	Surface   SurfaceNumbers `json:"surface"`
	Phases    []PhaseNumbers `json:"phases"`
	PitLog    *PitLog        `json:"pit_log,omitempty"`
	Switches  []string       `json:"switches,omitempty"`
	ReadEvery float64        `json:"read_every_s,omitempty"`
}

// CutNumbers is a Cut with its units in the names.
type CutNumbers struct {
	Mass             float64 `json:"mass_kg"`
	HalfThickness    float64 `json:"half_thickness_m"`
	Shape            float64 `json:"shape"`
	Density          float64 `json:"rho"`
	Conductivity     float64 `json:"k0"`
	Lean             float64 `json:"lean"`
	Fat              float64 `json:"fat"`
	Bone             float64 `json:"bone"`
	LeanWater        float64 `json:"c0"`
	Brine            float64 `json:"brine_per_lean"`
	BrineKept        float64 `json:"brine_kept"`
	JuiceTime        float64 `json:"tau_w_s"`
	RenderShare      float64 `json:"chi"`
	CollagenTime     float64 `json:"index_ref_s"`
	StartTemperature float64 `json:"T0_C"`
	ProbeDepth       float64 `json:"probe_depth_m"`
	HeldShift        float64 `json:"held_shift_C,omitempty"`
}

// SurfaceNumbers is a Crust.
type SurfaceNumbers struct {
	Evaporation  float64 `json:"e"`
	Resistance   float64 `json:"r_c"`
	Power        float64 `json:"p_c"`
	JuiceOut     float64 `json:"eta"`
	HeatTransfer float64 `json:"f_h"`
	Surface      float64 `json:"area_factor,omitempty"`
	Lift         float64 `json:"lift,omitempty"`
}

// PhaseNumbers is a Phase; dew_C or rh gives the humidity, and air is
// "pit_log" or air_C is given.
type PhaseNumbers struct {
	Name             string    `json:"name"`
	Air              *float64  `json:"air_C,omitempty"`
	From             string    `json:"air,omitempty"`
	Lids             []Opening `json:"lids,omitempty"`      // openings, in s since the start of the cook
	Ambient          float64   `json:"ambient_C,omitempty"` // outside, for the lids
	Offset           float64   `json:"air_offset_C"`
	HeatTransfer     float64   `json:"hc"`
	Emissivity       float64   `json:"eps_eff"`
	RadiantExcess    float64   `json:"dT_rad"`
	DewPoint         *float64  `json:"dew_C,omitempty"`
	RH               *float64  `json:"rh,omitempty"`
	WrapResistance   float64   `json:"R_h"`
	VapourResistance float64   `json:"R_v"`
	Liquid           float64   `json:"liquid_kg,omitempty"`
	LiquidAt         float64   `json:"liquid_C,omitempty"`
	Spritz           float64   `json:"spritz_kg_m2,omitempty"`
	SpritzFrom       float64   `json:"spritz_from_s,omitempty"`
	SpritzEvery      float64   `json:"spritz_every_s,omitempty"`
	End              Quantity  `json:"end"`
	Value            float64   `json:"value"`
	More             []Until   `json:"more,omitempty"` // further end conditions
	All              bool      `json:"all,omitempty"`  // ends once all hold, not at the first
	Longest          float64   `json:"max_s"`
}

// PitLog is what the pit did, evenly spaced from the start of the cook.
type PitLog struct {
	Step          float64   `json:"dt_s"`
	Interpolation string    `json:"interpolation"`
	Nodes         []float64 `json:"nodes_C"`
}

// PhaseOutcome is the state at the end of a phase.
type PhaseOutcome struct {
	Name    string  `json:"name"`
	Reached bool    `json:"reached"`
	End     float64 `json:"end_s"`
	Core    float64 `json:"core_C"`
	Probe   float64 `json:"probe_C"`
	Surface float64 `json:"surface_C"`
	Loss    float64 `json:"loss"`
	Index   float64 `json:"index_min"`
}

// Moment is one reading of a series.
type Moment struct {
	Time    float64 `json:"t_s"`
	Air     float64 `json:"air_C"`
	Core    float64 `json:"core_C"`
	Probe   float64 `json:"probe_C"`
	Surface float64 `json:"surface_C"`
	Loss    float64 `json:"loss"`
}

// SimulationOutput is what the run came to.
type SimulationOutput struct {
	Phases        []PhaseOutcome `json:"phases"`
	Area          float64        `json:"area_m2"`
	Evaporated    float64        `json:"evap_kg"`
	Drip          float64        `json:"drip_kg"`
	Fat           float64        `json:"fat_kg"`
	Index         float64        `json:"index_min"`
	IndexMean     float64        `json:"index_mean"`
	Rendered      float64        `json:"fat_rendered"`
	Dryness       float64        `json:"dryness"`
	Peak          float64        `json:"peak_probe_C"`
	LethalityRed  float64        `json:"lethality_red_meat"`
	LethalityFowl float64        `json:"lethality_poultry"`
	MassMissing   float64        `json:"mass_residual"`
	EnergyMissing float64        `json:"energy_residual"`
	Steps         int            `json:"steps"`
	Series        []Moment       `json:"series,omitempty"`
}

// SimulationOf runs one cut through its phases.
func SimulationOf(in SimulationInput) (SimulationOutput, error) {
	run := Run{Cut: Cut(in.Cut), Crust: Crust(in.Surface)}
	var log *Trace
	if in.PitLog != nil {
		var err error
		if log, err = in.PitLog.trace(); err != nil {
			return SimulationOutput{}, err
		}
	}
	if len(in.Phases) == 0 || len(in.Phases) > 50 {
		return SimulationOutput{}, fault.New("phases", fmt.Sprintf("there are %d", len(in.Phases)), "give 1 to 50")
	}
	for i, p := range in.Phases {
		phase, err := p.phase(log)
		if err != nil {
			return SimulationOutput{}, fault.In(fmt.Sprintf("phases.%d", i+1), err)
		}
		run.Phases = append(run.Phases, phase)
	}
	if in.ReadEvery != 0 { // at least a minute, which bounds the series
		if err := within([]bound{{"read_every_s", in.ReadEvery, 60, longestPhase, " s"}}); err != nil {
			return SimulationOutput{}, err
		}
	}
	set := Settings{Cells: in.Cells, Pressure: in.Pressure, Off: Switches{
		NoEvaporation: slices.Contains(in.Switches, "no_evaporation"),
		NoJuice:       slices.Contains(in.Switches, "no_juice"),
		NoRadiation:   slices.Contains(in.Switches, "no_radiation"),
	}}
	r, err := Simulate(run, set, in.ReadEvery)
	if err != nil {
		return SimulationOutput{}, err
	}
	return r.output(run.Cut), nil
}

func (l PitLog) trace() (*Trace, error) {
	if l.Interpolation != "" && l.Interpolation != "linear" {
		return nil, fault.New("pit_log.interpolation", fmt.Sprintf("%q is not known", l.Interpolation), "give linear")
	}
	times := make([]float64, len(l.Nodes))
	for i := range times {
		times[i] = float64(i) * l.Step
	}
	return NewTrace(times, l.Nodes)
}

func (p PhaseNumbers) phase(log *Trace) (Phase, error) {
	out := Phase{
		Name: p.Name, Offset: p.Offset, Liquid: p.Liquid, LiquidAt: p.LiquidAt, Spritz: p.Spritz, SpritzFrom: p.SpritzFrom, SpritzEvery: p.SpritzEvery,
		End: p.End, Value: p.Value, More: p.More, All: p.All, Longest: p.Longest,
		Exchange: Exchange{
			HeatTransfer: p.HeatTransfer, Emissivity: p.Emissivity, RadiantExcess: p.RadiantExcess,
			WrapResistance: p.WrapResistance, VapourResistance: p.VapourResistance,
		},
	}
	switch {
	case p.From == "pit_log" && log != nil:
		out.Log = log
	case p.From == "" && p.Air != nil && len(p.Lids) > 0:
		last := p.Lids[len(p.Lids)-1]
		if err := within([]bound{{"air_C", *p.Air, lowestAir, hottestAir, " C"}, {"ambient_C", p.Ambient, -40, 60, " C"}, {"lids", last.From + last.For, 0, longestPhase, " s"}}); err != nil {
			return out, err
		}
		var err error
		if out.Log, err = WithLids(*p.Air, p.Ambient, p.Lids, last.From+last.For+10*lidComes); err != nil {
			return out, err
		}
	case p.From == "" && p.Air != nil:
		out.Air = *p.Air
	default:
		return out, fault.New("air_C", "there is no air temperature", "give air_C, or air \"pit_log\" and a pit_log")
	}
	switch {
	case p.RH != nil && p.DewPoint == nil:
		out.Exchange.Relative, out.Exchange.RH = true, *p.RH
	case p.DewPoint != nil && p.RH == nil:
		out.Exchange.DewPoint = *p.DewPoint
	default:
		return out, fault.New("dew_C", "the humidity is not given, or twice", "give either dew_C or rh")
	}
	return out, nil
}

func (r Result) output(c Cut) SimulationOutput {
	last := r.Ends[len(r.Ends)-1]
	out := SimulationOutput{
		Area: c.Area(), Evaporated: r.Masses.Evaporated, Drip: r.Masses.Drip, Fat: r.Masses.Fat,
		Index: last.Index, IndexMean: r.IndexMean, Rendered: last.Rendered, Dryness: last.Dryness,
		Peak: r.Peak, LethalityRed: r.Lethality[0], LethalityFowl: r.Lethality[1], MassMissing: math.Abs(r.Balance.Mass), EnergyMissing: math.Abs(r.Balance.Energy), Steps: r.Steps,
	}
	for _, e := range r.Ends {
		out.Phases = append(out.Phases, PhaseOutcome{e.Name, e.Reached, e.Time, e.Core, e.Probe, e.Surface, e.Loss, e.Index})
	}
	for _, m := range r.Readings {
		out.Series = append(out.Series, Moment{m.Time, m.Air, m.Core, m.Probe, m.Surface, m.Loss})
	}
	return out
}
