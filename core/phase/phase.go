// Package phase says what an arm's cook is made of: phases, in order, each with
// what ends it, and when two of them are of one kind.
package phase

import (
	"fmt"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/thermal"
	"whitebarn/core/words"
)

// Kind is what happens in a phase.
type Kind string

// The kinds of phase: before the fire, at it, after it.
const (
	Thaw     Kind = "thaw"
	Brine    Kind = "brine"
	DryBrine Kind = "dry brine"
	Inject   Kind = "injection"
	Smoke    Kind = "smoke" // anything in a pit, wrapped or not
	Glaze    Kind = "glaze" // in the pit too, under a glaze or a sauce
	Sear     Kind = "sear"
	Fry      Kind = "fry"   // in hot oil
	Broil    Kind = "broil" // under heat from above
	Coals    Kind = "coals" // over them
	Griddle  Kind = "griddle"
	Rest     Kind = "rest"
	Hold     Kind = "hold"
	Chill    Kind = "chill"
	Reheat   Kind = "reheat"
)

// row is what is known of a kind of phase.
type row struct {
	kind  Kind
	lead  bool   // before the fire
	inPit bool   // in a pit as a smoker is
	cooks bool   // more heat: at the fire, or after the pull
	set   string // at what it is kept, as its field is called; empty: nothing is set
	usual string // where that starts
	must  bool   // it has no sense without
	ends  []Watch
}

var kinds = []row{
	{kind: Thaw, lead: true, ends: []Watch{ByTime}},
	{kind: Brine, lead: true, ends: []Watch{ByTime}},
	{kind: DryBrine, lead: true, ends: []Watch{ByTime}},
	{kind: Inject, lead: true, ends: []Watch{ByTime}},
	{kind: Smoke, inPit: true, set: "Pit at", usual: "250 F", must: true,
		ends: []Watch{ByTime, ByCore, ByFeel, ByBark, ByRendered, ByLoss, GivenUp}},
	{kind: Glaze, inPit: true, set: "Pit at", usual: "250 F", must: true, ends: []Watch{ByTime, ByLook, ByCore, GivenUp}},
	{kind: Sear, cooks: true, set: "Kept at", ends: []Watch{ByTime, ByCore, BySurface, ByLook, GivenUp}},
	{kind: Fry, cooks: true, set: "Oil at", usual: "350 F", must: true, ends: []Watch{ByTime, ByCore, ByOil, ByLook, GivenUp}},
	{kind: Broil, cooks: true, set: "Kept at", ends: []Watch{ByTime, ByCore, BySurface, ByLook, GivenUp}},
	{kind: Coals, cooks: true, set: "Kept at", ends: []Watch{ByTime, ByCore, BySurface, ByLook, GivenUp}},
	{kind: Griddle, cooks: true, set: "Plate at", usual: "400 F", ends: []Watch{ByTime, ByCore, BySurface, ByLook, GivenUp}},
	{kind: Rest, ends: []Watch{ByTime, ByCooling}},
	{kind: Hold, set: "Kept at", usual: "150 F", must: true, ends: []Watch{ByTime}},
	{kind: Chill, set: "Fridge at", usual: "38 F", ends: []Watch{ByTime, ByCooling}},
	{kind: Reheat, set: "Oven at", usual: "275 F", must: true, ends: []Watch{ByTime, ByCore, GivenUp}},
}

func (k Kind) row() row {
	for _, r := range kinds {
		if r.kind == k {
			return r
		}
	}
	return row{}
}

// Values lists the kinds.
func (Kind) Values() []string {
	out := make([]string, len(kinds))
	for i, r := range kinds {
		out[i] = string(r.kind)
	}
	return out
}

// Lead says whether the phase is before the fire.
func (k Kind) Lead() bool { return k.row().lead }

// InPit says whether the phase is in a pit.
func (k Kind) InPit() bool { return k.row().inPit }

// Cooks says whether the phase is more heat that is no smoker's.
func (k Kind) Cooks() bool { return k.row().cooks }

// Set is at what a phase is kept, as its field is called, and where that starts; all
// else has no temperature of its own.
func (k Kind) Set() (field, usual string) { return k.row().set, k.row().usual }

// Fire is the stretch of an arm's phases at the fire: from the first that is not before
// it to the last in a pit, or, where nothing is smoked, as far as one after another cooks.
// What comes after is after the pull.
func Fire(phases []Phase) (from, to int) {
	for from < len(phases) && phases[from].Kind.Lead() {
		from++
	}
	to = from
	for i := from; i < len(phases); i++ {
		if phases[i].Kind.InPit() {
			to = i + 1
		}
	}
	if to > from {
		return from, to
	}
	for to < len(phases) && phases[to].Kind.Cooks() {
		to++
	}
	return from, to
}

// AtFire are an arm's phases at the fire, After those after the pull.
func AtFire(phases []Phase) []Phase {
	from, to := Fire(phases)
	return phases[from:to]
}

// After are the phases after the pull.
func After(phases []Phase) []Phase {
	_, to := Fire(phases)
	return phases[to:]
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
	BySurface  Watch = "surface"  // C, of the crust
	ByOil      Watch = "oil"      // C, that the oil is back at
	ByLook     Watch = "look"     // it looks as it should
	GivenUp    Watch = "given up" // s, after which it is over whatever came of it
)

// Values lists what can end a phase.
func (Watch) Values() []string {
	return []string{string(ByTime), string(ByCore), string(ByCooling), string(ByFeel), string(ByBark), string(ByRendered), string(ByLoss),
		string(BySurface), string(ByOil), string(ByLook), string(GivenUp)}
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
	BySurface: {BySurface, "at a surface of", "320 F"}, ByOil: {ByOil, "when the oil is back at", "350 F"},
	ByLook: {ByLook, "when it looks right", ""}, GivenUp: {GivenUp, "given up after", "2 h"},
}

// Word is how the condition is said.
func (w Watch) Word() WatchWord { return watches[w] }

// Ends lists what can end a phase of the kind.
func (k Kind) Ends() []Watch { return k.row().ends }

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
	Kind         Kind            `json:"kind"`
	Name         string          `json:"name"`  // what the crew calls it
	SetC         float64         `json:"set_C"` // of pit, holder or fire; 0 where nothing is set
	SetTyped     string          `json:"set_typed"`
	Ends         []End           `json:"ends"`
	All          bool            `json:"all"`      // it ends when all of them hold, not at the first
	Wrap         string          `json:"wrap"`     // a wrap of the cook model; empty is bare
	LiquidG      float64         `json:"liquid_g"` // what goes into the wrap with it, all together
	Parcel       []logbook.PutIn `json:"parcel,omitempty"`
	SpritzEveryS float64         `json:"spritz_every_s"`
	SpritzFromS  float64         `json:"spritz_from_s"`
	Moves        []Repeat        `json:"moves,omitempty"`
	PitID        int64           `json:"pit_id,omitempty"` // another cooker than the one it stands in
	LeastS       float64         `json:"least_s"`          // of a hold: it may shrink to this
	MostS        float64         `json:"most_s"`           // and may not last longer; 0 is no limit
	HolderID     int64           `json:"holder_id"`
}

// Repeat is something that is done again and again in a phase: turned every 40 min,
// flipped once after 90, checked every 20 min near its end.
type Repeat struct {
	Act    logbook.Act `json:"act"`
	EveryS float64     `json:"every_s"` // 0: once
	FromS  float64     `json:"from_s"`  // since the phase began; of a check it is near the end
}

// Repeated are the acts that may come again.
var Repeated = []logbook.Act{logbook.Turn, logbook.Flip, logbook.Rotate, logbook.Baste, logbook.Sauce, logbook.Probe}

// MostMoves bounds how many a phase may have.
const MostMoves = 4

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
	if len(phases) == 0 || len(phases) > MostPhases {
		wrong.Add("phases", fmt.Sprintf("the arm has %d phases", len(phases)), fmt.Sprintf("give 1 to %d", MostPhases))
	}
	_, to := Fire(phases)
	for i, p := range phases {
		field := fmt.Sprintf("phases[%d]", i)
		if p.Kind.row().kind == "" {
			wrong.Add(field+".kind", fmt.Sprintf("%q is no kind of phase", p.Kind), "choose one of the list")
			continue
		}
		if i > 0 && p.Kind.Lead() && !phases[i-1].Kind.Lead() || i < to && slices.Contains([]Kind{Rest, Hold, Chill, Reheat}, p.Kind) {
			wrong.Add(field+".kind", fmt.Sprintf("a %s cannot stand there", p.Kind),
				"put the phases in the order of the work: before the fire, at the fire, after it")
		}
		wrong.Take(field, p.check())
	}
	if len(phases) > 0 && len(AtFire(phases)) == 0 {
		wrong.Add("phases", "nothing is cooked", "give the arm a phase in a pit, or over another fire")
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
	if p.Kind.row().must && !(p.SetC > 0) || p.SetC > Hottest {
		wrong.Add("set_C", fmt.Sprintf("%s has no temperature to be kept at", p.Name), fmt.Sprintf("give more than 0, up to %.0f C", Hottest))
	}
	for j, m := range p.Moves {
		field := fmt.Sprintf("moves[%d]", j)
		if !slices.Contains(Repeated, m.Act) {
			wrong.Add(field+".act", fmt.Sprintf("%q is not done again and again", m.Act), "choose one of the list")
		}
		if !(m.EveryS == 0 || m.EveryS >= 300 && m.EveryS <= Longest) || !(m.FromS >= 0 && m.FromS <= Longest) {
			wrong.Add(field+".every_s", fmt.Sprintf("every %g s from %g s", m.EveryS, m.FromS), "give 5 minutes or more, or nothing for once")
		}
	}
	if len(p.Moves) > MostMoves || len(p.Parcel) > logbook.MostPutIn {
		wrong.Add("moves", fmt.Sprintf("%s has more to it than is planned", p.Name),
			fmt.Sprintf("give up to %d moves and %d things in a wrap", MostMoves, logbook.MostPutIn))
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
	case ByTime, GivenUp:
		low = 60
	case ByCore, ByCooling, BySurface, ByOil:
		low, top, what = -1, Hottest, "C"
	case ByLoss:
		low, top, what = 0.01, 0.8, "of the weight"
	case ByFeel, ByBark, ByRendered, ByLook:
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
