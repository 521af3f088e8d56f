package plan

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
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
	ArmID  int64       `json:"arm_id"`
	Phases []Phase     `json:"phases"`
	Doses  []prep.Dose `json:"doses"`
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

// said is what a trial says of a thing in an arm: the arm's own level, or
// what is held equal. A name that is the thing goes before one that begins so.
func said(a trial.Ask, arm trial.Arm, names ...string) string {
	exact := func(name, of string) bool { return strings.EqualFold(name, of) }
	begins := func(name, of string) bool { return strings.HasPrefix(strings.ToLower(name), of) }
	for _, is := range []func(string, string) bool{exact, begins} {
		for _, of := range names {
			for i, f := range a.Factors {
				if is(f.Name, of) && i < len(arm.Levels) {
					return strings.TrimSpace(arm.Levels[i] + " " + f.Unit)
				}
			}
			for _, h := range a.Held {
				if is(h.Name, of) {
					return h.Value
				}
			}
		}
	}
	return ""
}

// OfHold says whether a factor is about holding or resting.
func OfHold(factor string) bool {
	name := strings.ToLower(factor)
	return strings.HasPrefix(name, "hold") || strings.HasPrefix(name, "rest") || strings.HasPrefix(name, "serving age")
}

var (
	someHeat = regexp.MustCompile(`(?i)\d+(?:\.\d+)?\s*°?\s*[FC]\b`)
	someTime = regexp.MustCompile(`(?i)\d+(?:\.\d+)?\s*(?:h|hours?|min|minutes?|d|days?)\b`)
)

// heatIn finds a temperature among words.
func heatIn(text string) (c float64, typed string, ok bool) {
	t, err := units.ParseTemperature(someHeat.FindString(text))
	return t.C, t.Typed, err == nil
}

// timeIn finds a length of time among words.
func timeIn(text string) (s float64, typed string, ok bool) {
	t, err := units.ParseSpan(someTime.FindString(text))
	return t.S, t.Typed, err == nil
}

func none(text string) bool { return text == "" || strings.EqualFold(text, "none") || text == "0 h" }

func after(s float64, typed string) []Condition {
	return []Condition{{Watch: ByTime, Value: s, Typed: typed}}
}

// UsualPhases is a first guess at an arm's phases, by one of the schools.
func UsualPhases(a trial.Ask, arm trial.Arm, family thermal.Family, school School) []Phase {
	out := leadsSaid(a, arm)
	set, typed, ok := heatIn(said(a, arm, "pit temperature", "pit"))
	if !ok {
		set, typed = usualPitC, usualPit
	}
	smoke := Phase{Kind: Smoke, Name: "smoke", SetC: set, SetTyped: typed}
	if s, _, ok := timeIn(said(a, arm, "spritz")); ok {
		smoke.SpritzEveryS, smoke.SpritzFromS = s, 2*3600
	} else if strings.Contains(said(a, arm, "spritz"), "every hour") {
		smoke.SpritzEveryS, smoke.SpritzFromS = 3600, 2*3600
	}
	end := pullSaid(a, arm, school)
	if wrap := thermal.WrapFor(said(a, arm, "wrap")); wrap.Key != "none" {
		smoke.Ends = wrapSaid(a, arm, school)
		wrapped := Phase{Kind: Smoke, Name: "wrapped", SetC: set, SetTyped: typed, Wrap: wrap.Key, Ends: end}
		if liquid := said(a, arm, "wrap liquid"); wrap.Key == "pan" || !none(liquid) {
			wrapped.LiquidG = 250
		}
		if school == ByClock {
			wrapped.Ends = after(4*3600, "4 h")
		}
		out = append(out, smoke, wrapped)
	} else {
		smoke.Ends = end
		out = append(out, smoke)
	}
	return append(out, aftersSaid(a, arm)...)
}

// usualDoses are what a trial says goes on or into a cut.
func usualDoses(a trial.Ask, arm trial.Arm) []prep.Dose {
	out := []prep.Dose{}
	if text := said(a, arm, "wet brine", "brine"); !none(text) {
		if v, ok := shareIn(text); ok { // strength by water, as much water as meat
			out = append(out, prep.Dose{Kind: prep.WetBrine, Name: "brine", Share: v / 2, Water: 1, Salt: prep.FineSalt})
		}
	}
	if text := said(a, arm, "dry brine", "salt"); !none(text) {
		if v, ok := shareIn(text); ok {
			out = append(out, prep.Dose{Kind: prep.DrySalt, Name: "salt", Share: v, Salt: prep.FineSalt})
		}
	}
	if text := said(a, arm, "injection"); !none(text) {
		out = append(out, prep.Dose{Kind: prep.Injection, Name: text, Share: 0.1, Strength: 0.05, SpacingCM: 3})
	}
	if text := said(a, arm, "binder"); !none(text) {
		out = append(out, prep.Dose{Kind: prep.Binder, Name: text, GM2: prep.UsualBinderGM2})
	}
	if text := said(a, arm, "rub"); !none(text) {
		out = append(out, prep.Dose{Kind: prep.Rub, Name: text, GM2: prep.UsualRubGM2})
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

// leadsSaid are the phases before the fire that a trial speaks of.
func leadsSaid(a trial.Ask, arm trial.Arm) []Phase {
	var out []Phase
	lead := func(kind Kind, name, text string, usual float64, typed string) {
		if none(text) {
			return
		}
		s, t, ok := timeIn(text)
		if !ok {
			s, t = usual, typed
		}
		out = append(out, Phase{Kind: kind, Name: name, Ends: after(s, t)})
	}
	lead(Brine, "brine", said(a, arm, "wet brine", "brine"), 12*3600, "12 h")
	lead(DryBrine, "dry brine", said(a, arm, "dry brine", "salt"), 24*3600, "24 h")
	lead(DryBrine, "uncovered in the fridge", said(a, arm, "skin treatment"), 12*3600, "12 h")
	lead(Inject, "injection", said(a, arm, "injection"), 3600, "1 h")
	return out
}

// wrapSaid is when a trial says to wrap.
func wrapSaid(a trial.Ask, arm trial.Arm, school School) []Condition {
	when := said(a, arm, "wrap when")
	c, typed, ok := heatIn(when)
	s, typedS, timed := timeIn(when)
	switch {
	case ok:
		return []Condition{{Watch: ByCore, Value: c, Typed: typed}}
	case timed:
		return after(s, typedS)
	case strings.Contains(when, "bark"), when == "" && school == ByTheHands:
		return []Condition{{Watch: ByBark}}
	case school == ByClock:
		return after(4*3600, "4 h")
	}
	return []Condition{{Watch: ByCore, Value: units.FToC(165), Typed: "165 F"}}
}

// pullSaid is when a trial says to pull.
func pullSaid(a trial.Ask, arm trial.Arm, school School) []Condition {
	pull, finish := said(a, arm, "pull"), said(a, arm, "finish")
	c, typed, ok := heatIn(pull)
	switch {
	case strings.Contains(finish, "feel"), school == ByTheHands && !ok:
		return []Condition{{Watch: ByFeel}}
	case school == ByTheHands:
		return []Condition{{Watch: ByCore, Value: c, Typed: typed}, {Watch: ByFeel}}
	case school == ByClock:
		return after(8*3600, "8 h")
	case strings.Contains(finish, "early"):
		return []Condition{{Watch: ByCore, Value: units.FToC(187), Typed: "187 F"}}
	case ok:
		return []Condition{{Watch: ByCore, Value: c, Typed: typed}}
	}
	c, typed = usualPull(a)
	return []Condition{{Watch: ByCore, Value: c, Typed: typed}}
}

// aftersSaid are the phases after the pull that a trial speaks of.
func aftersSaid(a trial.Ask, arm trial.Arm) []Phase {
	s, typed, ok := timeIn(said(a, arm, "rest"))
	if !ok {
		s, typed = 30*60, "30 min"
	}
	out := []Phase{{Kind: Rest, Name: "rest", Wrap: "tent", Ends: after(s, typed)}}
	if s, typed, ok := timeIn(said(a, arm, "hold time", "hold")); ok && s > 0 {
		c, heat, ok := heatIn(said(a, arm, "hold temperature", "hold"))
		if !ok {
			c, heat = units.FToC(150), "150 F"
		}
		out = append(out, Phase{Kind: Hold, Name: "hold", SetC: c, SetTyped: heat, Ends: after(s, typed), LeastS: min(s, 3600), Wrap: "foil"})
	}
	return out
}

// Resolve reads what was typed of a phase into numbers.
func (p *Phase) Resolve() error {
	var wrong fault.List
	if p.SetTyped != "" {
		t, err := units.ParseTemperature(p.SetTyped)
		wrong.Take("set_typed", err)
		p.SetC, p.SetTyped = t.C, t.Typed
	}
	for i := range p.Ends {
		e := &p.Ends[i]
		var err error
		switch e.Watch {
		case ByTime:
			var s units.Span
			s, err = units.ParseSpan(e.Typed)
			e.Value, e.Typed = s.S, s.Typed
		case ByCore, ByCooling:
			var t units.Temperature
			t, err = units.ParseTemperature(e.Typed)
			e.Value, e.Typed = t.C, t.Typed
		case ByLoss:
			var v float64
			if v, err = strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(e.Typed), "%")), 64); err != nil {
				err = fault.New("", fmt.Sprintf("%q is no share of the weight", e.Typed), `write it like "35 %"`)
			}
			e.Value = v / 100
		default:
			e.Value, e.Typed = 0, ""
		}
		wrong.Take(fmt.Sprintf("ends[%d].typed", i), err)
	}
	return wrong.Err()
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
			wrong.Take(field, Check(o.Arms[i].Phases))
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

// usualPull is the core temperature a cut is cooked to where the trial does not say.
func usualPull(a trial.Ask) (c float64, typed string) {
	typed = "203 F"
	switch a.Species {
	case safety.Poultry:
		typed = "175 F"
	case safety.Fish:
		typed = "145 F"
	}
	t, err := units.ParseTemperature(typed)
	if err != nil {
		panic(err) // written above
	}
	return t.C, typed
}

// PullEnd is the core temperature at which an arm's last phase in the pit
// ends, and where it is read; ok is false when it ends by something else.
func PullEnd(phases []Phase) (end Condition, ok bool) {
	for _, p := range phases {
		if p.Kind != Smoke {
			continue
		}
		end, ok = Condition{}, false
		for _, e := range p.Ends {
			if e.Watch == ByCore && e.Value >= end.Value {
				end, ok = e, true
			}
		}
	}
	return end, ok
}

// PullCore is that temperature alone.
func PullCore(phases []Phase) (c float64, ok bool) {
	end, ok := PullEnd(phases)
	return end.Value, ok
}

// Target is the core temperature an arm is pulled at, or the usual one when
// its last phase in the pit does not end by one.
func Target(a trial.Ask, phases []Phase) float64 {
	c, ok := PullCore(phases)
	if !ok {
		c, _ = usualPull(a)
	}
	return c
}
