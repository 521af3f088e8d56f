package process

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
)

// Fault is what a method, or a piece, is found wanting in.
type Fault string

// The faults that have a lever.
const (
	Tough       Fault = "tough"
	Dry         Fault = "dry"
	Soft        Fault = "soft bark"
	Greasy      Fault = "greasy"
	UnderRender Fault = "under-rendered"
	TooSalty    Fault = "too salty"
	Bland       Fault = "not salty enough"
	Bitter      Fault = "bitter"
	Sour        Fault = "sour"
	Smoky       Fault = "too smoky"
	NoSmoke     Fault = "not smoky enough"
	Late        Fault = "late"
)

// Lever is something that usually moves a fault, and which way.
type Lever struct {
	Fault Fault      `json:"fault"`
	Role  trial.Role `json:"role"`
	Says  string     `json:"says"`
	// Of the cook model: what a usual cut reads as it is, and with the lever. 0 where the
	// model knows nothing of the fault.
	Was   float64 `json:"was"`
	Is    float64 `json:"is"`
	Hours float64 `json:"hours"` // longer, from the fire to the pull
	Of    string  `json:"of"`    // what is read
	// Phases with the lever pulled; none where it is not of the fire.
	Phases []phase.Phase `json:"phases"`
}

// usual are levers that the cook model has nothing to say of (ours).
var usual = []Lever{
	{Fault: TooSalty, Role: trial.DryBrine, Says: "Less salt: a fifth off the dry brine, or off what is injected"},
	{Fault: TooSalty, Role: trial.Rub, Says: "A rub without salt over a brined cut"},
	{Fault: Bland, Role: trial.DryBrine, Says: "More salt, or a day longer: 1 to 1.5 % of the weight"},
	{Fault: Bitter, Role: trial.Wood, Says: "Less wood, or drier: a clean fire before the meat goes on"},
	{Fault: Bitter, Role: trial.Lighting, Says: "Light the fire longer ahead, until the smoke is thin"},
	{Fault: Sour, Role: trial.Spritz, Says: "Water or stock in place of the vinegar"},
	{Fault: Smoky, Role: trial.WoodAmount, Says: "A third less wood, all of it in the first hours"},
	{Fault: NoSmoke, Role: trial.WoodAmount, Says: "A third more wood, before the wrap"},
	{Fault: NoSmoke, Role: trial.WrapWhen, Says: "Wrap later: smoke takes on bare meat alone"},
}

// reading is what of a simulated cut tells of a fault: the better way is up.
var readings = map[Fault]struct {
	of string
	is func(plan.Foreseen) float64
}{
	Tough:       {"tenderness of its toughest place", func(f plan.Foreseen) float64 { return f.Tender }},
	Dry:         {"water kept", func(f plan.Foreseen) float64 { return 1 - f.Dryness }},
	Soft:        {"crust dried", func(f plan.Foreseen) float64 { return f.Crust }},
	Greasy:      {"fat rendered", func(f plan.Foreseen) float64 { return f.Rendered }},
	UnderRender: {"fat rendered", func(f plan.Foreseen) float64 { return f.Rendered }},
	Late:        {"hours to the pull, less", func(f plan.Foreseen) float64 { return -f.PullS / 3600 }},
}

// otherWords are what tasters call a fault besides its name.
var otherWords = map[string]Fault{"chewy": Tough, "fatty": Greasy, "fat": Greasy, "salty": TooSalty, "soft": Soft, "wet bark": Soft}

// FaultOf finds the fault that a word of a taster names.
func FaultOf(word string) (fault Fault, ok bool) {
	w := strings.ToLower(strings.TrimSpace(word))
	if fault, ok = otherWords[w]; ok {
		return fault, true
	}
	return Fault(w), slices.Contains(Fault("").Values(), w)
}

// Values lists the faults.
func (Fault) Values() []string {
	return []string{string(Tough), string(Dry), string(Soft), string(Greasy), string(UnderRender), string(TooSalty), string(Bland), string(Bitter), string(Sour),
		string(Smoky), string(NoSmoke), string(Late)}
}

// Levers ranks what moves a fault of an arm: by the cook model where it knows of it, the
// most first, else as they usually are.
func Levers(fault Fault, phases []phase.Phase, family thermal.Family, pit thermal.Surroundings, pressure, kg, thicknessM float64) ([]Lever, error) {
	out := []Lever{}
	for _, l := range usual {
		if l.Fault == fault {
			out = append(out, l)
		}
	}
	read, known := readings[fault]
	if !known || len(phases) == 0 {
		return out, nil
	}
	was, err := plan.Foresee(family, pit, pressure, kg, thicknessM, phases)
	if err != nil {
		return nil, err
	}
	var modelled []Lever
	for _, t := range tries(phases) {
		is, err := plan.Foresee(family, pit, pressure, kg, thicknessM, t.phases)
		if err != nil {
			continue // a lever that leads out of what can be cooked
		}
		l := Lever{Fault: fault, Role: t.role, Says: t.says, Was: read.is(was), Is: read.is(is), Hours: (is.PullS - was.PullS) / 3600, Of: read.of, Phases: t.phases}
		if l.Is > l.Was+1e-3 {
			modelled = append(modelled, l)
		}
	}
	slices.SortStableFunc(modelled, func(a, b Lever) int { return cmp.Compare(b.Is-b.Was, a.Is-a.Was) })
	return append(modelled, out...), nil
}

// try is one lever pulled.
type try struct {
	role   trial.Role
	says   string
	phases []phase.Phase
}

// tries pull each lever of the fire by a step that a cook would take.
func tries(phases []phase.Phase) (out []try) {
	_, to := phase.Fire(phases)
	with := func(role trial.Role, says string, change func([]phase.Phase) bool) {
		next := make([]phase.Phase, len(phases))
		for i, p := range phases {
			p.Ends = slices.Clone(p.Ends)
			next[i] = p
		}
		if change(next) {
			out = append(out, try{role, says, next})
		}
	}
	shiftCore := func(f float64) func([]phase.Phase) bool {
		return func(p []phase.Phase) (done bool) {
			for i, e := range p[to-1].Ends {
				if e.Watch == phase.ByCore {
					at := math.Round(units.CToF(e.Value) + f)
					p[to-1].Ends[i] = phase.End{Watch: phase.ByCore, Value: units.FToC(at), Typed: fmt.Sprintf("%.0f F", at), Place: e.Place}
					done = true
				}
			}
			return done
		}
	}
	heat := func(f float64) func([]phase.Phase) bool {
		return func(p []phase.Phase) (done bool) {
			for i := range p {
				if p[i].Kind.InPit() {
					at := math.Round(units.CToF(p[i].SetC) + f)
					p[i].SetC, p[i].SetTyped, done = units.FToC(at), fmt.Sprintf("%.0f F", at), true
				}
			}
			return done
		}
	}
	with(trial.PullTemperature, "Pull it 5 F later", shiftCore(5))
	with(trial.PullTemperature, "Pull it 5 F sooner", shiftCore(-5))
	with(trial.PitTemperature, "A pit 25 F hotter", heat(25))
	with(trial.PitTemperature, "A pit 25 F cooler", heat(-25))
	with(trial.Finish, "End it by the core at 203 F, not by the clock", func(p []phase.Phase) bool {
		if s, fixed := p[to-1].Fixed(); !fixed || s == 0 {
			return false
		}
		p[to-1].Ends = []phase.End{{Watch: phase.ByCore, Value: units.FToC(203), Typed: "203 F"}}
		return true
	})
	with(trial.HoldTime, "Hold it two hours longer", func(p []phase.Phase) bool {
		for i := range p {
			if s, fixed := p[i].Fixed(); fixed && p[i].Kind == phase.Hold {
				p[i].Ends = []phase.End{{Watch: phase.ByTime, Value: s + 7200, Typed: fmt.Sprintf("%g h", (s+7200)/3600)}}
				if p[i].MostS > 0 {
					p[i].MostS += 7200
				}
				return true
			}
		}
		return false
	})
	if wrapped, ok := wrapBare(phases, to); ok {
		out = append(out, try{trial.Wrap, "Wrap it in paper at 165 F", wrapped})
	}
	if open, ok := plan.Combined(phases, 8/1.8); ok {
		out = append(out, try{trial.Wrap, "Unwrap it for the last 8 F", open})
	}
	return out
}

// wrapBare puts a paper phase behind a bare one; ok is false where it is wrapped already.
func wrapBare(phases []phase.Phase, to int) (out []phase.Phase, ok bool) {
	last := phases[to-1]
	if !last.Bare() || !last.Kind.InPit() || len(phases) >= phase.MostPhases {
		return nil, false
	}
	bare := last
	bare.Ends = []phase.End{{Watch: phase.ByCore, Value: units.FToC(165), Typed: "165 F"}}
	last.Name, last.Wrap, last.SpritzEveryS = "paper", "paper", 0
	return append(append(slices.Clone(phases[:to-1]), bare, last), phases[to:]...), true
}
