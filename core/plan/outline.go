package plan

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/phase"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// Outline is what a crew writes down of a trial's plan: the same for all its
// cooks, so that a second day repeats the first.
type Outline struct {
	Chance  float64     `json:"chance"`
	SliceS  float64     `json:"slice_s"`
	Arms    []ArmPhases `json:"arms"`
	Shifts  []Shift     `json:"shifts"`  // none: the whole crew, around the clock
	Planned bool        `json:"planned"` // kept by the crew; else it is a first guess
	KeptAt  time.Time   `json:"kept_at"`
}

// ArmPhases are the phases of one arm, and what each of its cuts gets before the fire.
type ArmPhases struct {
	ArmID  int64         `json:"arm_id"`
	Phases []phase.Phase `json:"phases"`
	Doses  []prep.Dose   `json:"doses"`
}

// Of is what the outline has of an arm.
func (o Outline) Of(armID int64) ArmPhases {
	for _, a := range o.Arms {
		if a.ArmID == armID {
			return a
		}
	}
	return ArmPhases{ArmID: armID}
}

// Fit brings an outline to the arms a trial has now: arms that are gone are
// left out, new ones get a first guess.
func (o Outline) Fit(a trial.Ask, family thermal.Family) Outline {
	kept := o.Arms
	o.Arms = nil
	for _, arm := range a.Arms {
		i := slices.IndexFunc(kept, func(p ArmPhases) bool { return p.ArmID == arm.ID })
		if i < 0 {
			o.Arms = append(o.Arms, ArmPhases{arm.ID, UsualPhases(a, arm, family, ByHeat), usualDoses(a, arm)})
		} else {
			o.Arms = append(o.Arms, kept[i])
		}
	}
	return o
}

// Shift is when a person lends a hand, local time; empty is no limit. A shift
// that ends before it begins goes over midnight.
type Shift struct {
	PersonID int64  `json:"person_id"`
	From     string `json:"from"` // 15:04
	To       string `json:"to"`
}

// School is what a crew goes by when it ends a phase.
type School string

// The three schools.
const (
	ByClock    School = "clock"       // fixed hours at fixed temperatures
	ByHeat     School = "temperature" // of the core
	ByTheHands School = "feel"
)

// Values lists the schools.
func (School) Values() []string { return []string{string(ByClock), string(ByHeat), string(ByTheHands)} }

// Where an outline starts when the trial says nothing.
const (
	UsualChance = 0.9
	usualSlice  = 15 * 60.0
	usualPitC   = 121.111111111111 // 250 F
	usualPit    = "250 F"
)

// UsualOutline is a first guess from what the trial varies and holds equal.
func UsualOutline(a trial.Ask, family thermal.Family) Outline {
	return Outline{Chance: UsualChance, SliceS: usualSlice, Shifts: []Shift{}}.Fit(a, family)
}

// usualDoses are what a trial says goes on or into a cut.
func usualDoses(a trial.Ask, arm trial.Arm) []prep.Dose {
	out := []prep.Dose{}
	if l := a.Said(arm, trial.WetBrine); !l.Nothing() {
		if v, ok := shareIn(l.Value); ok { // strength by water, as much water as meat
			out = append(out, prep.Dose{Kind: prep.WetBrine, Name: "brine", Share: v / 2, Water: 1, Salt: prep.FineSalt})
		}
	}
	if l := a.Said(arm, trial.DryBrine); !l.Nothing() {
		if v, ok := shareIn(l.Value); ok {
			out = append(out, prep.Dose{Kind: prep.DrySalt, Name: "salt", Share: v, Salt: prep.FineSalt})
		}
	}
	if l := a.Said(arm, trial.Injection); !l.Nothing() {
		out = append(out, prep.Dose{Kind: prep.Injection, Name: l.Value, Share: 0.1, Strength: 0.05, SpacingCM: 3})
	}
	if l := a.Said(arm, trial.Binder); !l.Nothing() {
		out = append(out, prep.Dose{Kind: prep.Binder, Name: l.Value, GM2: prep.UsualBinderGM2})
	}
	if l := a.Said(arm, trial.Rub); !l.Nothing() {
		out = append(out, prep.Dose{Kind: prep.Rub, Name: l.Value, GM2: prep.UsualRubGM2})
	}
	return out
}

var someShare = regexp.MustCompile(`(\d+(?:\.\d+)?)\s*%`)

// shareIn finds a share of the weight among words.
func shareIn(text string) (share float64, ok bool) {
	m := someShare.FindStringSubmatch(text)
	if m == nil {
		return 0, false
	}
	v, err := strconv.ParseFloat(m[1], 64)
	return v / 100, err == nil && v > 0 && v <= 10
}

// Resolve reads what was typed of an outline into numbers, and refuses what
// cannot be planned.
func (o *Outline) Resolve() error {
	var wrong fault.List
	if !(o.Chance >= LeastChance && o.Chance <= MostChance) {
		wrong.Add("chance", fmt.Sprintf("%g is no chance to plan for", o.Chance), fmt.Sprintf("give %g to %g; 0.9 is nine times in ten", LeastChance, MostChance))
	}
	if !(o.SliceS >= 0 && o.SliceS <= mostSlice) {
		wrong.Add("slice_s", fmt.Sprintf("%g s is no time to slice in", o.SliceS), "give 0 to 6 hours")
	}
	for i := range o.Arms {
		field := fmt.Sprintf("arms[%d]", i)
		resolved := true
		for j := range o.Arms[i].Phases {
			err := o.Arms[i].Phases[j].Resolve()
			resolved = resolved && err == nil
			wrong.Take(fmt.Sprintf("%s.phases[%d]", field, j), err)
		}
		if resolved {
			wrong.Take(field, phase.Check(o.Arms[i].Phases))
		}
		for j, d := range o.Arms[i].Doses {
			wrong.Take(fmt.Sprintf("%s.doses[%d]", field, j), d.Check())
		}
	}
	for i, s := range o.Shifts {
		for field, text := range map[string]string{"from": s.From, "to": s.To} {
			if _, ok := hourOf(text); text != "" && !ok {
				wrong.Add(fmt.Sprintf("shifts[%d].%s", i, field), fmt.Sprintf("%q is no time of the day", text), `write it like "05:30"`)
			}
		}
	}
	return wrong.Err()
}

// Target is the core temperature an arm is pulled at, or the usual one when
// its last phase in the pit does not end by one.
func Target(a trial.Ask, phases []phase.Phase) float64 {
	c, ok := phase.PullCore(phases)
	if !ok {
		c, _ = usualPull(a)
	}
	return c
}
