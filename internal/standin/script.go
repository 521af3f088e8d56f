// Package standin plays the barn's outside devices: pits with fires, cuts by
// the cook model with parameters nobody else knows, probes that lag, drop out
// and slip, a warm box, a scale. It talks to White Barn only through the
// device interface, as a real gateway would.
package standin

import (
	"bytes"
	"fmt"
	"slices"
	"time"

	"github.com/goccy/go-yaml"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// Script is a day in the barn. docs/standin.md describes the file.
type Script struct {
	Name    string   `yaml:"name"`
	Seed    uint64   `yaml:"seed"`
	Every   Duration `yaml:"every"` // between readings of a channel
	Length  Duration `yaml:"length"`
	Pits    []Pit    `yaml:"pits"`
	Cuts    []Cut    `yaml:"cuts"`
	Holders []Holder `yaml:"holders"`
	Pans    []Pan    `yaml:"pans"`
	Scale   string   `yaml:"scale"` // its channel
	Events  []Event  `yaml:"events"`
}

// Pit is a smoker of a script.
type Pit struct {
	Name     string   `yaml:"name"`
	Kind     string   `yaml:"kind"` // of thermal.AllSurroundings
	SetPoint string   `yaml:"set_point"`
	Control  string   `yaml:"control"` // fan, vents or splits
	Trough   string   `yaml:"trough"`  // weight of the water in it; empty is none
	Points   []Point  `yaml:"points"`  // probes beside that of the channel
	Fuel     string   `yaml:"fuel"`    // weight in the firebox
	Light    Duration `yaml:"light"`   // since the start of the day
	Ambient  string   `yaml:"ambient"`
	Wind     float64  `yaml:"wind"` // share of heat lost more
	Sun      []Sun    `yaml:"sun"`
	Channel  string   `yaml:"channel"`
	Probe    Probe    `yaml:"probe"`
}

// Point is a probe at a named point of a pit, as White Barn names them.
type Point struct {
	At      string `yaml:"at"`
	Channel string `yaml:"channel"`
	Probe   Probe  `yaml:"probe"`
}

// Sun shines on a lid for a while and warms the pit by so many degrees.
type Sun struct {
	From Duration `yaml:"from"`
	To   Duration `yaml:"to"`
	Adds float64  `yaml:"adds_C"`
}

// Cut is a piece of meat of a script.
type Cut struct {
	Name    string   `yaml:"name"`
	Family  string   `yaml:"family"`
	Weight  string   `yaml:"weight"`
	Thick   string   `yaml:"thickness"` // where it was measured
	Pit     string   `yaml:"pit"`
	Grate   float64  `yaml:"grate_C"` // its place over the pit's probe
	On      Duration `yaml:"on"`
	Wrap    string   `yaml:"wrap"` // of thermal.Wraps
	WrapAt  string   `yaml:"wrap_at"`
	PullAt  string   `yaml:"pull_at"`
	Holder  string   `yaml:"holder"` // where it rests; else the counter
	Channel string   `yaml:"channel"`
	Probe   Probe    `yaml:"probe"`

	Own *thermal.Family `yaml:"-"` // in place of Family
}

// family is what the cut is cooked as.
func (c Cut) family() (thermal.Family, error) {
	if c.Own != nil {
		return *c.Own, c.Own.Check()
	}
	return thermal.FamilyOf(c.Family)
}

// Probe is what is wrong with a probe.
type Probe struct {
	Noise   float64  `yaml:"noise_C"`
	Lag     Duration `yaml:"lag"`
	Dropout float64  `yaml:"dropout"` // share of readings lost
	Offset  float64  `yaml:"offset_C"`
	Slip    Duration `yaml:"slip"` // when it slips half out; 0 is never
}

// Holder is a warm box.
type Holder struct {
	Name    string   `yaml:"name"`
	Low     string   `yaml:"low"`
	High    string   `yaml:"high"`
	Period  Duration `yaml:"period"`
	Channel string   `yaml:"channel"`
}

// Pan is a covered pan of water in a holder, with a probe in it.
type Pan struct {
	Holder  string   `yaml:"holder"`
	Water   string   `yaml:"water"` // weight
	Fill    string   `yaml:"fill"`  // temperature of the water as it goes in
	PutIn   Duration `yaml:"put_in"`
	Channel string   `yaml:"channel"`
	Probe   Probe    `yaml:"probe"`
}

// Event is something done at a moment of the day.
type Event struct {
	At    Duration `yaml:"at"`
	Do    string   `yaml:"do"`
	Pit   string   `yaml:"pit"`
	Cut   string   `yaml:"cut"`
	For   Duration `yaml:"for"`
	With  string   `yaml:"with"` // a wrap
	Fuel  string   `yaml:"fuel"` // a weight
	Heat  string   `yaml:"heat"` // of oil
	SetTo string   `yaml:"set_to"`
	To    string   `yaml:"to"` // of a move: the pit
}

// What can be done.
const (
	doLid    = "lid"
	doFuel   = "fuel"
	doSet    = "set"
	doOn     = "on"
	doWrap   = "wrap"
	doUnwrap = "unwrap"
	doSpritz = "spritz"
	doPull   = "pull"
	doHold   = "hold"
	doSlip   = "slip"
	doMend   = "mend"
	doWeigh  = "weigh"
	doOil    = "oil"
	doTorch  = "torch"
	doMove   = "move"
	doFry    = "fry"
	doChill  = "chill"
	doLight  = "light"
)

// bySplits is a fire that is kept by what is put on it, with no hand on the vents.
const bySplits = "splits"

// Duration is a time.Duration written as 2h20m.
type Duration time.Duration

// Seconds is the duration in s.
func (d Duration) Seconds() float64 { return time.Duration(d).Seconds() }

// UnmarshalYAML reads 2h20m.
func (d *Duration) UnmarshalYAML(text []byte) error {
	s := string(bytes.Trim(bytes.TrimSpace(text), `"'`))
	v, err := time.ParseDuration(s)
	if err != nil {
		return fmt.Errorf("%q is no length of time; write 90s, 40m or 2h20m", s)
	}
	*d = Duration(v)
	return nil
}

// MarshalYAML writes 2h20m0s.
func (d Duration) MarshalYAML() ([]byte, error) { return []byte(time.Duration(d).String()), nil }

// mostScript bounds a script, in bytes.
const mostScript = 1 << 20

// Parse reads a script. The error names the line, or the field.
func Parse(text []byte) (s Script, err error) {
	if len(text) > mostScript {
		return s, fmt.Errorf("read the script: it is over %d kB", mostScript>>10)
	}
	// The library falls over some files that are no YAML; to whoever wrote one that is an error like others.
	defer func() {
		if cause := recover(); cause != nil {
			err = fmt.Errorf("read the script: it is not YAML as a script is written: %.100v", cause)
		}
	}()
	if err := yaml.UnmarshalWithOptions(text, &s, yaml.Strict()); err != nil {
		return s, fmt.Errorf("read the script: %s", yaml.FormatError(err, false, true))
	}
	return s, s.check()
}

func (s Script) check() error {
	var wrong fault.List
	for i, p := range s.Pits {
		field := fmt.Sprintf("pits[%d]", i)
		_, err := thermal.SurroundingsOf(p.Kind)
		wrong.Take(field+".kind", err)
		temperature(&wrong, field+".set_point", p.SetPoint, true)
		temperature(&wrong, field+".ambient", p.Ambient, false)
		if !slices.Contains([]string{"fan", "vents", bySplits}, p.Control) {
			wrong.Add(field+".control", fmt.Sprintf("%q is no control", p.Control), "give fan, vents or splits")
		}
		if p.Trough != "" {
			_, err = units.ParseMass(p.Trough)
			wrong.Take(field+".trough", err)
		}
	}
	for i, c := range s.Cuts {
		field := fmt.Sprintf("cuts[%d]", i)
		_, err := c.family()
		wrong.Take(field+".family", err)
		_, err = units.ParseMass(c.Weight)
		wrong.Take(field+".weight", err)
		if c.Thick != "" {
			_, err = units.ParseLength(c.Thick)
			wrong.Take(field+".thickness", err)
		}
		if c.Wrap != "" {
			_, err = thermal.WrapOf(c.Wrap)
			wrong.Take(field+".wrap", err)
		}
		temperature(&wrong, field+".wrap_at", c.WrapAt, false)
		temperature(&wrong, field+".pull_at", c.PullAt, false)
		if s.pitNamed(c.Pit) < 0 {
			wrong.Add(field+".pit", fmt.Sprintf("there is no pit %q", c.Pit), "give one of the script's pits")
		}
	}
	for i, e := range s.Events {
		if _, known := acts[e.Do]; !known {
			wrong.Add(fmt.Sprintf("events[%d].do", i), fmt.Sprintf("%q cannot be done", e.Do), "see docs/standin.md for what can")
		}
	}
	for i, p := range s.Pans {
		field := fmt.Sprintf("pans[%d]", i)
		if s.holderNamed(p.Holder) < 0 {
			wrong.Add(field+".holder", fmt.Sprintf("there is no holder %q", p.Holder), "give one of the script's holders")
		}
		_, err := units.ParseMass(p.Water)
		wrong.Take(field+".water", err)
		temperature(&wrong, field+".fill", p.Fill, false)
	}
	if len(s.Pits) == 0 && len(s.Pans) == 0 {
		wrong.Add("pits", "there is no pit", "give one, or a pan in a holder")
	}
	return wrong.Err()
}

func (s Script) pitNamed(name string) int {
	for i, p := range s.Pits {
		if p.Name == name {
			return i
		}
	}
	return -1
}

func (s Script) holderNamed(name string) int {
	return slices.IndexFunc(s.Holders, func(h Holder) bool { return h.Name == name })
}

func temperature(wrong *fault.List, field, text string, needed bool) {
	if text == "" && !needed {
		return
	}
	_, err := units.ParseTemperature(text)
	wrong.Take(field, err)
}

// celsius reads a temperature that was checked; missing is the default.
func celsius(text string, missing float64) float64 {
	t, err := units.ParseTemperature(text)
	if err != nil {
		return missing
	}
	return t.C
}

func kilograms(text string, missing float64) float64 {
	m, err := units.ParseMass(text)
	if err != nil {
		return missing
	}
	return m.Kg
}
