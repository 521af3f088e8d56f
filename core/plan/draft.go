package plan

import (
	"regexp"
	"strings"

	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
)

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

func after(s float64, typed string) []phase.End {
	return []phase.End{{Watch: phase.ByTime, Value: s, Typed: typed}}
}

// UsualPhases is a first guess at an arm's phases, by one of the schools. It goes
// by the keys of what the trial says; only quantities are read out of words.
func UsualPhases(a trial.Ask, arm trial.Arm, family thermal.Family, school School) []phase.Phase {
	out := leadsSaid(a, arm)
	if main, ok := elsewhereSaid(a, arm, school); ok {
		return append(append(out, main), aftersSaid(a, arm)...)
	}
	heat := heatsSaid(a, arm)
	smoke := phase.Phase{Kind: phase.Smoke, Name: "smoke", SetC: heat.setC, SetTyped: heat.set}
	smoke.SpritzEveryS = spritzSaid(a.Said(arm, trial.Spritz))
	if smoke.SpritzEveryS > 0 {
		smoke.SpritzFromS = 2 * 3600
	}
	end := pullSaid(a, arm, school)
	if wrap, err := thermal.WrapOf(a.Said(arm, trial.Wrap).Key); err == nil && wrap.Key != trial.None {
		smoke.Ends = wrapSaid(a, arm, school)
		wrapped := phase.Phase{Kind: phase.Smoke, Name: "wrapped", SetC: smoke.SetC, SetTyped: smoke.SetTyped, Wrap: wrap.Key, Ends: end}
		wrapped.Parcel = parcelSaid(a.Said(arm, trial.WrapLiquid))
		wrapped.LiquidG = logbook.ParcelG(wrapped.Parcel)
		if wrapped.LiquidG == 0 && (wrap.Key == "pan" || !a.Said(arm, trial.WrapLiquid).Nothing()) {
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
	out = heat.stepped(out)
	return append(out, aftersSaid(a, arm)...)
}

// heats are the set points that a trial says: one, or one and a step.
type heats struct {
	set, step, at    string // as typed; at is the core at which it is stepped
	setC, stepC, atC float64
}

// stepCoreC is the core at which a pit is stepped where nobody said, 150 F (ours).
var stepCoreC = units.FToC(150)

// heatsSaid reads "250 F", or "225 F then 275 F at 160 F".
func heatsSaid(a trial.Ask, arm trial.Arm) heats {
	said := a.Said(arm, trial.PitTemperature).Value
	first, then, stepped := strings.Cut(said, "then")
	h := heats{set: usualPit, setC: usualPitC}
	if a.Species == safety.Poultry {
		h.set, h.setC = "300 F", units.FToC(300)
	}
	if c, typed, ok := heatIn(first); ok {
		h.setC, h.set = c, typed
	}
	if !stepped {
		return h
	}
	found := someHeat.FindAllString(then, 2)
	if len(found) == 0 {
		return h
	}
	h.stepC, h.step, _ = heatIn(found[0])
	h.atC, h.at = stepCoreC, "150 F"
	if len(found) > 1 {
		h.atC, h.at, _ = heatIn(found[1])
	}
	return h
}

// stepped puts the step into phases: the first in the pit is divided at the core it comes
// at, and all after it are at the higher set point.
func (h heats) stepped(phases []phase.Phase) []phase.Phase {
	if h.step == "" {
		return phases
	}
	from, _ := phase.Fire(phases)
	out := append([]phase.Phase{}, phases[:from]...)
	first := phases[from]
	rest := phases[from:]
	core, byCore := phase.PullCore(rest[:1])
	if !byCore || core > h.atC { // it comes before the first ends
		hot := first
		first.Ends = []phase.End{{Watch: phase.ByCore, Value: h.atC, Typed: h.at}}
		hot.Name, hot.SpritzFromS = "hotter", 0
		rest = append([]phase.Phase{first, hot}, rest[1:]...)
	}
	for i := range rest {
		if i > 0 && rest[i].Kind.InPit() {
			rest[i].SetC, rest[i].SetTyped = h.stepC, h.step
		}
	}
	return append(out, rest...)
}

// cookedBy are the kinds of phase of what is cooked or crisped other than in a smoker.
var cookedBy = map[string]phase.Kind{trial.OnGriddle: phase.Griddle, trial.OverCoals: phase.Coals, trial.InOil: phase.Fry,
	trial.UnderBroil: phase.Broil,
	trial.InOven:     phase.Reheat, trial.ByTorch: phase.Sear}

// heatSaid is a phase of hard heat that a level speaks of, by its key and numbers: "hot
// oil, 350 F, 4 min".
func heatSaid(l trial.Level, name string) (phase.Phase, bool) {
	kind, ok := cookedBy[l.Key]
	if !ok {
		return phase.Phase{}, false
	}
	_, usual := kind.Set()
	p := phase.Phase{Kind: kind, Name: name, SetTyped: usual, Ends: []phase.End{{Watch: phase.ByLook}}}
	p.SetC, _, _ = heatIn(usual)
	if c, typed, ok := heatIn(l.Value); ok {
		p.SetC, p.SetTyped = c, typed
	}
	s, typed, timed := timeIn(l.Value)
	switch {
	case timed:
		p.Ends = after(s, typed)
	case kind == phase.Reheat:
		p.Ends = after(15*60, "15 min")
	}
	return p, true
}

// elsewhereSaid is the cook of an arm that is not smoked.
func elsewhereSaid(a trial.Ask, arm trial.Arm, school School) (phase.Phase, bool) {
	l := a.Said(arm, trial.SmokerSetUp)
	if l.Key == trial.InOven { // an oven cooks as a pit does
		heat := heatsSaid(a, arm)
		return phase.Phase{Kind: phase.Smoke, Name: "oven", SetC: heat.setC, SetTyped: heat.set, Ends: pullSaid(a, arm, school)}, true
	}
	p, ok := heatSaid(l, "cook")
	if ok && len(p.Ends) == 1 && p.Ends[0].Watch == phase.ByLook {
		if ends := pullSaid(a, arm, ByHeat); ends[0].Watch == phase.ByCore {
			p.Ends = ends
		}
	}
	return p, ok
}

var someAmount = regexp.MustCompile(`(?i)\d+(?:[.,/]\d+)?\s*(?:ml|cl|l|cups?|fl oz|oz|tsp|tbsp|spoons?|g|kg)\b`)

// parcelSaid is what goes into a wrap: "100 ml whey and 45 g tallow".
func parcelSaid(l trial.Level) (out []logbook.PutIn) {
	if l.Nothing() || l.Value == trial.SameInEveryArm {
		return nil
	}
	for _, part := range regexp.MustCompile(`,|\band\b`).Split(l.Value, -1) {
		amount := someAmount.FindString(part)
		p := logbook.PutIn{What: strings.TrimSpace(strings.Replace(part, amount, "", 1)), Typed: amount}
		if p.Resolve() == nil && len(out) < logbook.MostPutIn {
			out = append(out, p)
		}
	}
	return out
}

// spritzSaid is how often a trial says to spritz, s; 0 is never.
func spritzSaid(l trial.Level) float64 {
	if l.Nothing() {
		return 0
	}
	if l.Key == trial.Hourly {
		return 3600
	}
	s, _, _ := timeIn(l.Value)
	return s
}

// leadsSaid are the phases before the fire that a trial speaks of.
func leadsSaid(a trial.Ask, arm trial.Arm) []phase.Phase {
	var out []phase.Phase
	lead := func(kind phase.Kind, name string, role trial.Role, usual float64, typed string) {
		l := a.Said(arm, role)
		if l.Nothing() || l.Value == trial.SameInEveryArm { // a plan adds nothing that nobody asked for
			return
		}
		s, t, ok := timeIn(l.Value)
		if !ok {
			s, t = usual, typed
		}
		if s > 0 {
			out = append(out, phase.Phase{Kind: kind, Name: name, Ends: after(s, t)})
		}
	}
	lead(phase.Brine, "brine", trial.WetBrine, 12*3600, "12 h")
	lead(phase.DryBrine, "dry brine", trial.DryBrine, 24*3600, "24 h")
	lead(phase.DryBrine, "uncovered in the fridge", trial.Skin, 12*3600, "12 h")
	lead(phase.Inject, "injection", trial.Injection, 3600, "1 h")
	return out
}

// wrapSaid is when a trial says to wrap.
func wrapSaid(a trial.Ask, arm trial.Arm, school School) []phase.End {
	when := a.Said(arm, trial.WrapWhen)
	if own := a.Said(arm, trial.Wrap); when.Value == "" {
		when = trial.Level{Key: own.Key, Value: own.Value} // "foil, at 160 F"
	}
	c, typed, ok := heatIn(when.Value)
	s, typedS, timed := timeIn(when.Value)
	switch {
	case ok:
		return []phase.End{{Watch: phase.ByCore, Value: c, Typed: typed}}
	case timed:
		return after(s, typedS)
	case when.Key == trial.WhenBark, a.Said(arm, trial.WrapWhen).Value == "" && school == ByTheHands:
		return []phase.End{{Watch: phase.ByBark}}
	case school == ByClock:
		return after(4*3600, "4 h")
	}
	return []phase.End{{Watch: phase.ByCore, Value: units.FToC(165), Typed: "165 F"}}
}

// pullSaid is when a trial says to pull.
func pullSaid(a trial.Ask, arm trial.Arm, school School) []phase.End {
	finish := a.Said(arm, trial.Finish).Key
	c, typed, ok := heatIn(a.Said(arm, trial.PullTemperature).Value)
	switch {
	case finish == trial.ToFeel, school == ByTheHands && !ok:
		return []phase.End{{Watch: phase.ByFeel}}
	case school == ByTheHands:
		return []phase.End{{Watch: phase.ByCore, Value: c, Typed: typed}, {Watch: phase.ByFeel}}
	case school == ByClock:
		return after(8*3600, "8 h")
	case finish == trial.EarlyAndHeld:
		return []phase.End{{Watch: phase.ByCore, Value: units.FToC(187), Typed: "187 F"}}
	case ok:
		return []phase.End{{Watch: phase.ByCore, Value: c, Typed: typed}}
	}
	c, typed = usualPull(a)
	return []phase.End{{Watch: phase.ByCore, Value: c, Typed: typed}}
}

// aftersSaid are the phases after the pull that a trial speaks of.
func aftersSaid(a trial.Ask, arm trial.Arm) []phase.Phase {
	s, typed, ok := timeIn(a.Said(arm, trial.RestTime).Value)
	if !ok {
		s, typed = 30*60, "30 min"
		if a.Species == safety.Poultry {
			s, typed = 15*60, "15 min"
		}
	}
	out := []phase.Phase{{Kind: phase.Rest, Name: "rest", Wrap: "tent", Ends: after(s, typed)}}
	if s, typed, ok := timeIn(a.Said(arm, trial.HoldTime).Value); ok && s > 0 {
		c, heat, ok := heatIn(a.Said(arm, trial.HoldTemperature, trial.HoldTime).Value)
		if !ok {
			c, heat = units.FToC(150), "150 F"
		}
		out = append(out, phase.Phase{Kind: phase.Hold, Name: "hold", SetC: c, SetTyped: heat, Ends: after(s, typed), LeastS: min(s, 3600),
			Wrap: "foil"})
	}
	if p, ok := heatSaid(a.Said(arm, trial.Crisping), "crisp"); ok {
		out = append(out, p)
	}
	return out
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
