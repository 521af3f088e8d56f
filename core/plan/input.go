package plan

import (
	"fmt"
	"slices"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/phase"
	"whitebarn/core/pit"
	"whitebarn/core/thermal"
)

// Arm is one way of cooking, as its phases.
type Arm struct {
	Tag    string
	Phases []phase.Phase
}

// hold is the arm's planned hold; nil when it has none.
func (a Arm) hold() *phase.Phase {
	for i := range a.Phases {
		if a.Phases[i].Kind == phase.Hold {
			return &a.Phases[i]
		}
	}
	return nil
}

// smokes are its phases at the fire, afters those after the pull.
func (a Arm) smokes() []phase.Phase { return phase.AtFire(a.Phases) }
func (a Arm) afters() []phase.Phase { return phase.After(a.Phases) }

// atFire says whether a phase, by its place, is at the fire.
func (a Arm) atFire(i int) bool {
	from, to := phase.Fire(a.Phases)
	return i >= from && i < to
}

// Cut is a piece and where it goes.
type Cut struct {
	ID         int64
	Name       string
	Arm        int // place in the arms
	Pit        int // place in the pits
	Position   string
	Kg         float64
	ThicknessM float64 // 0 when not measured
	StartC     float64
	OffsetC    float64   // of its place over the pit's probe
	On         time.Time // when it went on; zero while it has not
	// House is how long the barn's own finished cooks of the same kind took, on
	// to pull, as a share of what the model says of them. Three or more replace
	// the model's length.
	House []float64
}

// Pit is a smoker for this cook. What it burns is at its set point.
type Pit struct {
	ID           int64
	Name         string
	SetC         float64
	Surroundings thermal.Surroundings
	Positions    int     // cuts it takes at once
	WarmS        float64 // lit until it stands
	Fuel         string
	FuelKgH      float64
	LightingKg   float64    // of fuel, until it stands
	WoodEveryS   float64    // between additions; 0 is none
	Used         *pit.InUse // what its burns told of it as it is used; nil is nothing
	WaterKgH     float64
	Known        bool // burn rates are the barn's own, not the usual
}

// Holder is a warm box or cooler.
type Holder struct {
	ID       int64
	Name     string
	Capacity int         // cuts it takes; 0 is not known
	Known    []pit.Known // what its calibrations told
	FloorC   float64     // of hot holding; 0: what it really holds is not looked at
}

// Person is a pair of hands, there from one time of the day to another (15:04);
// empty is no limit.
type Person struct {
	ID       int64
	Name     string
	From, To string
}

// Input is everything a cook is planned from.
type Input struct {
	Now       time.Time // in the barn's time zone
	Serve     time.Time
	Chance    float64 // of all being ready, wanted
	SliceS    float64 // for everything together, right before serving
	Family    thermal.Family
	Learned   []float64 // of the family, see forecast.Learn
	Pressure  float64   // Pa
	Arms      []Arm
	Cuts      []Cut
	Pits      []Pit
	Cookers   []Pit // all of the barn: a phase may be in another than its cut stands in
	Holders   []Holder
	People    []Person
	Probes    int  // channels there are; 0 is not known
	HoldsVary bool // the hold is what is asked about
	Seed      uint64
	Members   int // of the ensemble; 0 is as many as are quick
}

// Bounds of a plan.
const (
	LeastChance = 0.5
	MostChance  = 0.98
	mostCuts    = 100
	mostSlice   = 6 * 3600.0 // s
)

// members of the ensemble: as many as answer before a slider is let go, so that
// late starts do not hang on a few unlucky draws.
func (in Input) members() int {
	const runs, least, most = 480, 64, 120
	if in.Members > 0 {
		return in.Members
	}
	return min(max(runs/len(in.Cuts), least), most)
}

// Check refuses what cannot be planned.
func (in Input) Check() error {
	var wrong fault.List
	if in.Serve.IsZero() {
		wrong.Add("serve_at", "no serving time", "give the day and the hour the table is set")
	}
	if !(in.Chance >= LeastChance && in.Chance <= MostChance) {
		wrong.Add("chance", fmt.Sprintf("%g is no chance to plan for", in.Chance), fmt.Sprintf("give %g to %g; 0.9 is nine times in ten", LeastChance, MostChance))
	}
	if !(in.SliceS >= 0 && in.SliceS <= mostSlice) {
		wrong.Add("slice_s", fmt.Sprintf("%g s is no time to slice in", in.SliceS), "give 0 to 6 hours")
	}
	for i, a := range in.Arms {
		wrong.Take(fmt.Sprintf("arms[%d]", i), phase.Check(a.Phases))
	}
	if len(in.Cuts) == 0 || len(in.Cuts) > mostCuts {
		wrong.Add("cuts", fmt.Sprintf("%d cuts stand in this cook", len(in.Cuts)), fmt.Sprintf("give 1 to %d a pit", mostCuts))
	}
	for i, c := range in.Cuts {
		field := fmt.Sprintf("cuts[%d]", i)
		if c.Arm < 0 || c.Arm >= len(in.Arms) {
			wrong.Add(field+".arm", c.Name+" has no arm", "draw the arms in Match")
		}
		if c.Pit < 0 || c.Pit >= len(in.Pits) {
			wrong.Add(field+".pit", c.Name+" has no pit", "give it one")
		}
	}
	return wrong.Err()
}

// cutsOf are the places of an arm's cuts.
func (in Input) cutsOf(arm int) []int {
	var out []int
	for i, c := range in.Cuts {
		if c.Arm == arm {
			out = append(out, i)
		}
	}
	return out
}

// used are the arms that have a cut in this cook, in order.
func (in Input) used() []int {
	var out []int
	for a := range in.Arms {
		if slices.ContainsFunc(in.Cuts, func(c Cut) bool { return c.Arm == a }) {
			out = append(out, a)
		}
	}
	return out
}

// cooker is where a phase of a cut is cooked.
func (in Input) cooker(c Cut, p phase.Phase) Pit {
	if p.PitID != 0 {
		for _, k := range in.Cookers {
			if k.ID == p.PitID {
				return k
			}
		}
	}
	return in.Pits[c.Pit]
}

func seconds(s float64) time.Duration { return time.Duration(s * float64(time.Second)) }
