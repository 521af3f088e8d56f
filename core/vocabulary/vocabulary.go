// Package vocabulary puts the keys that the rules go by together with their words:
// what the front end offers, shows and sends. What has a row in a table of the core
// appears here by itself.
package vocabulary

import (
	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/phase"
	"whitebarn/core/pit"
	"whitebarn/core/plan"
	"whitebarn/core/process"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// Word is a key and how it is said.
type Word struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// Planned is an act that a plan sees coming.
type Planned struct {
	Act    plan.Act    `json:"act"`
	Letter string      `json:"letter"`
	Logs   logbook.Act `json:"logs,omitempty"` // what a pad logs it as; none: it is not logged
}

// Kind is a kind of phase.
type Kind struct {
	Kind  phase.Kind    `json:"kind"`
	Lead  bool          `json:"lead"`   // before the fire
	InPit bool          `json:"in_pit"` // as a smoker is: wrapped, spritzed, turned there
	Cooks bool          `json:"cooks"`  // more heat that is no smoker's
	Ends  []phase.Watch `json:"ends"`   // what may end it
	Set   string        `json:"set"`    // at what it is kept, as its field is called; empty: nothing is set
	Usual string        `json:"usual"`
}

// Role is what a factor is to the rules, with what its levels may count as.
type Role struct {
	Role trial.Role `json:"role"`
	Keys []Word     `json:"keys"`
}

// Tender is a word for how tender a cut is: that of the first row whose bound its
// index is under.
type Tender struct {
	Under float64 `json:"under"`
	Words string  `json:"words"`
}

// Night is when it is night, from hour to hour, local time.
type Night struct {
	From int `json:"from"`
	To   int `json:"to"`
}

// Cooker is a kind of pit, and what begins with a cut that goes on in it; empty is smoke.
type Cooker struct {
	Word
	Begins string `json:"begins"`
}

// Vocabulary is all of it.
type Vocabulary struct {
	Acts      []logbook.ActRow   `json:"acts"`
	Fields    []logbook.FieldRow `json:"fields"`
	Planned   []Planned          `json:"planned"`
	Kinds     []Kind             `json:"kinds"`
	Watches   []phase.WatchWord  `json:"watches"`
	Repeated  []logbook.Act      `json:"repeated"`   // acts that a phase may have again and again
	Places    []Word             `json:"places"`     // of the piece, at which a core is read
	EndPlaces []Word             `json:"end_places"` // at which an end condition may ask for it
	Wraps     []Word             `json:"wraps"`      // that a phase in the pit may have; the first is bare
	PitKinds  []Cooker           `json:"pit_kinds"`
	Points    []Word             `json:"points"` // of a pit, that have a name; the first is the whole
	SetOn     []Word             `json:"set_on"`
	Factors   []Word             `json:"factor_kinds"`
	Roles     []Role             `json:"roles"` // whose levels the rules go by
	Tender    []Tender           `json:"tender"`
	Shares    []yield.ShareRow   `json:"shares"` // what a cut comes apart into
	WhyThrown []string           `json:"why_thrown"`
	Looks     []trial.Look       `json:"looks"`
	Night     Night              `json:"night"`
	Formats   []panel.FormatRule `json:"formats"` // of a flight, the usual one first
	Faults    []string           `json:"faults"`  // that have a lever
}

// Of is the vocabulary.
func Of() Vocabulary {
	v := Vocabulary{
		Acts: logbook.Rows(), Repeated: phase.Repeated, Shares: yield.Shares(), WhyThrown: yield.WhyThrown, Looks: trial.Looks, Formats: panel.Formats,
		Fields: logbook.Fields(), Wraps: []Word{{"", logbook.Material("").Word()}},
		EndPlaces: []Word{{"", "at its coldest"}, {logbook.AllPlaces, "at every place"}},
		SetOn:     []Word{{string(trial.UnitCut), "on each cut"}, {string(trial.UnitPitRun), "on a pit run"}, {string(trial.UnitHolderRun), "on a holder run"}, {string(trial.UnitBatch), "on a batch"}},
		Factors:   []Word{{string(trial.Categorical), "in words"}, {string(trial.Ordered), "in order"}, {string(trial.Numeric), "a number"}},
		Night:     Night{trial.NightFrom, trial.NightTo},
		Faults:    process.Fault("").Values(),
	}
	for i := range v.Acts {
		v.Acts[i].Says = append([]string{}, v.Acts[i].Says...)
		v.Acts[i].Caution.Words = append([]string{}, v.Acts[i].Caution.Words...)
	}
	letters := map[logbook.Act]string{}
	for _, a := range v.Acts {
		letters[a.Act] = a.Letter
	}
	for _, name := range plan.Act("").Values() {
		p := Planned{Act: plan.Act(name), Letter: plan.Act(name).Letter()}
		if act, ok := p.Act.Logs(); ok {
			p.Letter, p.Logs = letters[act], act
		}
		v.Planned = append(v.Planned, p)
	}
	for _, name := range phase.Kind("").Values() {
		k := phase.Kind(name)
		set, usual := k.Set()
		v.Kinds = append(v.Kinds, Kind{Kind: k, Lead: k.Lead(), InPit: k.InPit(), Cooks: k.Cooks(), Ends: k.Ends(), Set: set, Usual: usual})
	}
	for _, name := range phase.Watch("").Values() {
		v.Watches = append(v.Watches, phase.Watch(name).Word())
	}
	for _, place := range logbook.Places {
		v.Places, v.EndPlaces = append(v.Places, Word{place, place}), append(v.EndPlaces, Word{place, place})
	}
	for _, key := range logbook.Material("").Values() {
		if key != "" && logbook.Material(key) != logbook.OtherMaterial {
			v.Wraps = append(v.Wraps, Word{key, logbook.Material(key).Word()})
		}
	}
	for _, s := range plan.PitKinds() {
		v.PitKinds = append(v.PitKinds, Cooker{Word{s.Key, s.Name}, plan.Begins(s.Key)})
	}
	for _, p := range pit.Points() {
		v.Points = append(v.Points, Word{p.Key, p.Words})
	}
	for _, name := range trial.Role("").Values() {
		r := Role{Role: trial.Role(name)}
		for _, key := range trial.LevelKeys(r.Role) {
			r.Keys = append(r.Keys, Word{key, trial.LevelName(r.Role, key)})
		}
		if len(r.Keys) > 0 {
			v.Roles = append(v.Roles, r)
		}
	}
	for _, t := range thermal.TenderWords {
		v.Tender = append(v.Tender, Tender{t.Under, t.Words})
	}
	return v
}
