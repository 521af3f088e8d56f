// Package phase says what an arm's cook is made of: phases, in order, each with
// what ends it, and when two of them are of one kind.
package phase

import (
	"fmt"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/core/words"
)

// Kind is what happens in a phase.
type Kind string

// The kinds of phase, in the order they can follow each other.
const (
	Thaw     Kind = "thaw"
	Brine    Kind = "brine"
	DryBrine Kind = "dry brine"
	Inject   Kind = "injection"
	Smoke    Kind = "smoke" // anything in a pit, wrapped or not
	Rest     Kind = "rest"
	Hold     Kind = "hold"
	Sear     Kind = "sear"
)

var kinds = []Kind{Thaw, Brine, DryBrine, Inject, Smoke, Rest, Hold, Sear}

// Values lists the kinds.
func (Kind) Values() []string {
	out := make([]string, len(kinds))
	for i, k := range kinds {
		out[i] = string(k)
	}
	return out
}

// Lead says whether the phase is before the fire.
func (k Kind) Lead() bool { return slices.Index(kinds, k) < slices.Index(kinds, Smoke) }

// After says whether the phase is after the pull.
func (k Kind) After() bool { return slices.Index(kinds, k) > slices.Index(kinds, Smoke) }

// Set is at what a phase is kept, as its field is called, and where that starts; all
// else has no temperature of its own.
func (k Kind) Set() (field, usual string) {
	switch k {
	case Smoke:
		return "Pit at", "250 F"
	case Hold:
		return "Kept at", "150 F"
	case Sear:
		return "Kept at", ""
	}
	return "", ""
}

// Watch is what an end condition goes by.
type Watch string

// What ends a phase. Feel and look are a cook's judgement: the model stands in
// for it, with a spread of its own.
const (
	ByTime     Watch = "time"     // s
	ByCore     Watch = "core"     // C, rising
	ByCooling  Watch = "cooling"  // C, falling, at the probe
	ByFeel     Watch = "feel"     // probe-tender
	ByBark     Watch = "bark"     // the bark is set
	ByRendered Watch = "rendered" // the fat has rendered
	ByLoss     Watch = "loss"     // share of the weight
)

// Values lists what can end a phase.
func (Watch) Values() []string {
	return []string{string(ByTime), string(ByCore), string(ByCooling), string(ByFeel), string(ByBark), string(ByRendered), string(ByLoss)}
}

// WatchWord is how an end condition is said.
type WatchWord struct {
	Watch Watch  `json:"watch"`
	Words string `json:"words"`
	Usual string `json:"usual"` // typed beside it to start with; empty when nothing is
}

var watches = map[Watch]WatchWord{
	ByTime: {ByTime, "after a time", "4 h"}, ByCore: {ByCore, "at a core of", "203 F"}, ByCooling: {ByCooling, "cooled to", "150 F"}, ByFeel: {ByFeel, "when it feels tender", ""},
	ByBark: {ByBark, "when the bark is set", ""}, ByRendered: {ByRendered, "when the fat has rendered", ""}, ByLoss: {ByLoss, "when it has lost", "35 %"},
}

// Word is how the condition is said.
func (w Watch) Word() WatchWord { return watches[w] }

// Ends lists what can end a phase of the kind: in a pit nothing cools, a rest
// ends by the clock or by cooling, all else by the clock alone.
func (k Kind) Ends() []Watch {
	switch k {
	case Smoke:
		return []Watch{ByTime, ByCore, ByFeel, ByBark, ByRendered, ByLoss}
	case Rest:
		return []Watch{ByTime, ByCooling}
	}
	return []Watch{ByTime}
}

func endWords(k Kind) []string {
	var out []string
	for _, w := range k.Ends() {
		out = append(out, watches[w].Words)
	}
	return out
}

// End is an end condition: one way for a phase to end.
type End struct {
	Watch Watch   `json:"watch"`
	Value float64 `json:"value"`           // s, C or a share; unused for feel and looks
	Typed string  `json:"typed"`           // as the crew wrote it
	Place string  `json:"place,omitempty"` // of a core: where in the cut; empty is the coldest
}

// mostPlace bounds the name of a place.
const mostPlace = 20

// Phase is a stretch of an arm's cook.
type Phase struct {
	Kind         Kind    `json:"kind"`
	Name         string  `json:"name"`  // what the crew calls it
	SetC         float64 `json:"set_C"` // of pit, holder or fire; 0 where nothing is set
	SetTyped     string  `json:"set_typed"`
	Ends         []End   `json:"ends"`
	All          bool    `json:"all"`      // it ends when all of them hold, not at the first
	Wrap         string  `json:"wrap"`     // a wrap of the cook model; empty is bare
	LiquidG      float64 `json:"liquid_g"` // poured in with the wrap
	SpritzEveryS float64 `json:"spritz_every_s"`
	SpritzFromS  float64 `json:"spritz_from_s"`
	LeastS       float64 `json:"least_s"` // of a hold: it may shrink to this
	MostS        float64 `json:"most_s"`  // and may not last longer; 0 is no limit
	HolderID     int64   `json:"holder_id"`
}

// Fixed is how long a phase lasts when it ends by the clock alone.
func (p Phase) Fixed() (s float64, ok bool) {
	if len(p.Ends) == 1 && p.Ends[0].Watch == ByTime {
		return p.Ends[0].Value, true
	}
	return 0, false
}

// Bare says whether nothing lies around the cut.
func (p Phase) Bare() bool { return p.Wrap == "" || p.Wrap == "none" }

// Bounds of what can be planned.
const (
	MostPhases = 12
	Longest    = 4 * 24 * 3600.0 // s, of any phase
	Hottest    = 400.0           // C
	mostEnds   = 3
)

// Check refuses an arm's phases that cannot be worked out.
func Check(phases []Phase) error {
	var wrong fault.List
	smoked, last := false, Thaw
	if len(phases) == 0 || len(phases) > MostPhases {
		wrong.Add("phases", fmt.Sprintf("the arm has %d phases", len(phases)), fmt.Sprintf("give 1 to %d", MostPhases))
	}
	for i, p := range phases {
		field := fmt.Sprintf("phases[%d]", i)
		if slices.Index(kinds, p.Kind) < 0 {
			wrong.Add(field+".kind", fmt.Sprintf("%q is no kind of phase", p.Kind), "choose one of the list")
			continue
		}
		swap := (last == Sear || last == Hold || last == Rest) && p.Kind.After() || last.Lead() && p.Kind.Lead()
		if slices.Index(kinds, p.Kind) < slices.Index(kinds, last) && !swap {
			wrong.Add(field+".kind", fmt.Sprintf("a %s cannot come after a %s", p.Kind, last), "put the phases in the order of the work")
		}
		last = p.Kind
		smoked = smoked || p.Kind == Smoke
		wrong.Take(field, p.check())
	}
	if len(phases) > 0 && !smoked {
		wrong.Add("phases", "nothing is smoked", "give the arm a phase in a pit")
	}
	return wrong.Err()
}

func (p Phase) check() error {
	var wrong fault.List
	if p.Name == "" {
		wrong.Add("name", "the phase has no name", "say what the crew calls it")
	}
	if len(p.Ends) == 0 || len(p.Ends) > mostEnds {
		wrong.Add("ends", fmt.Sprintf("%s ends in %d ways", p.Name, len(p.Ends)), fmt.Sprintf("say when it is over, in 1 to %d ways", mostEnds))
	}
	for j, c := range p.Ends {
		wrong.Take(fmt.Sprintf("ends[%d]", j), c.check(p))
	}
	if p.Kind == Smoke || p.Kind == Hold {
		if !(p.SetC > 0 && p.SetC <= Hottest) {
			wrong.Add("set_C", fmt.Sprintf("%s has no temperature to be kept at", p.Name), fmt.Sprintf("give more than 0, up to %.0f C", Hottest))
		}
	}
	if p.Wrap != "" {
		if _, err := thermal.WrapOf(p.Wrap); err != nil {
			wrong.Take("", err)
		}
	}
	for field, v := range map[string]float64{"spritz_every_s": p.SpritzEveryS, "spritz_from_s": p.SpritzFromS, "least_s": p.LeastS, "most_s": p.MostS} {
		if !(v >= 0 && v <= Longest) {
			wrong.Add(field, fmt.Sprintf("%g s is no stretch of time to plan with", v), "give up to four days")
		}
	}
	if p.SpritzEveryS > 0 && p.SpritzEveryS < 300 {
		wrong.Add("spritz_every_s", fmt.Sprintf("a spritz every %.0f s keeps the lid open", p.SpritzEveryS), "give 5 minutes or more")
	}
	if !(p.LiquidG >= 0 && p.LiquidG <= 5000) {
		wrong.Add("liquid_g", fmt.Sprintf("%g g is not poured into a wrap", p.LiquidG), "give 0 to 5000 g")
	}
	if s, fixed := p.Fixed(); fixed && p.Kind == Hold && (p.LeastS > s || p.MostS > 0 && p.MostS < s) {
		wrong.Add("least_s", "the planned hold is outside its own window", "let least, planned and most rise")
	}
	return wrong.Err()
}

func (c End) check(p Phase) error {
	low, top, what := 0.0, Longest, "s"
	switch c.Watch {
	case ByTime:
		low = 60
	case ByCore, ByCooling:
		low, top, what = -1, Hottest, "C"
	case ByLoss:
		low, top, what = 0.01, 0.8, "of the weight"
	case ByFeel, ByBark, ByRendered:
		low, top = c.Value, c.Value
	default:
		return fault.New("watch", fmt.Sprintf("%q is no way for a phase to end", c.Watch), "choose one of the list")
	}
	switch {
	case c.Place != "" && c.Watch != ByCore || len(c.Place) > mostPlace:
		return fault.New("place", fmt.Sprintf("%q is no place where a %s is read", c.Place, c.Watch), "name a place in the cut in up to 20 letters, of a core temperature alone")
	case !(c.Value >= low && c.Value <= top):
		return fault.New("value", fmt.Sprintf("%s cannot end at %g %s", p.Name, c.Value, what), fmt.Sprintf("give %g to %g %s", low, top, what))
	case !slices.Contains(p.Kind.Ends(), c.Watch):
		return fault.New("watch", fmt.Sprintf("a %s does not end %s", p.Kind, watches[c.Watch].Words), "choose one of: "+words.Or(endWords(p.Kind)))
	}
	return nil
}
