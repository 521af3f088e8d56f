package logbook

import (
	"slices"
	"time"

	"whitebarn/core/fault"
)

// Act is a kind of event.
type Act string

// What a hand can log at the fire.
const (
	Lit    Act = "lit"
	On     Act = "on" // on the grate: the cook of a cut begins
	Spritz Act = "spritz"
	Wrap   Act = "wrap"
	Unwrap Act = "unwrap"
	Wood   Act = "wood"
	Fuel   Act = "fuel"
	Lid    Act = "lid"
	Vent   Act = "vent"
	Move   Act = "move"
	Probe  Act = "probe"
	Note   Act = "note"
	Pull   Act = "pull" // off the pit: the cook of a cut ends
	Hold   Act = "hold"
	Carve  Act = "carve"
	Water  Act = "water" // to the pan or trough of a pit
	Bark   Act = "bark"  // a look at it
	Spot   Act = "spot"  // a reading of something other than a core
	Photo  Act = "photo"
	Out    Act = "out"   // of the fridge
	Chill  Act = "chill" // into the fridge, or back into it
	Other  Act = "other" // of an earlier record, which had no key for it
)

// Pad is where an act is pressed.
type Pad string

// The pads at hand, those behind More, and none.
const (
	PadFirst Pad = "first"
	PadMore  Pad = "more"
	PadNone  Pad = "none"
)

// Values lists the pads.
func (Pad) Values() []string { return []string{string(PadFirst), string(PadMore), string(PadNone)} }

// ActRow is all that is known of an act: one row here is all that a new act needs
// of the core. Minutes are what it takes a pair of hands, by itself and for each
// cut (ours); an act taken in passing says so.
type ActRow struct {
	Act       Act      `json:"act"`
	Name      string   `json:"name"`
	Letter    string   `json:"letter"` // the key, the pad and the flag in the lane
	Pad       Pad      `json:"pad"`
	OfPit     bool     `json:"of_pit"`     // done to a pit and not to a cut
	Says      []string `json:"says"`       // fields of its detail, in the order they are asked
	AsksFirst bool     `json:"asks_first"` // it says nothing without a word or a number
	Begins    string   `json:"begins"`     // the stretch of a cut's day that begins with it
	Ends      bool     `json:"ends"`       // the last stretch ends with it
	Minutes   float64  `json:"-"`
	PerCut    float64  `json:"-"`
	InPassing bool     `json:"-"`
	Many      bool     `json:"-"` // the same twice at once is no clash of two hands
}

// rows are the acts, in the order of a cook; pads are shown in this order.
var rows = []ActRow{
	{Act: Lit, Name: "Lit", Letter: "F", Pad: PadFirst, OfPit: true, Says: []string{"with"}, Minutes: 20},
	{Act: On, Name: "On", Letter: "O", Pad: PadFirst, Says: []string{"out_min"}, Begins: "smoke", Minutes: 3, PerCut: 1},
	{Act: Spritz, Name: "Spritz", Letter: "S", Pad: PadFirst, Says: []string{"with", "amount"}, Minutes: 1, PerCut: 0.5},
	{Act: Wood, Name: "Wood", Letter: "A", Pad: PadFirst, OfPit: true, Says: []string{"pieces", "with"}, Minutes: 3},
	{Act: Lid, Name: "Lid", Letter: "L", Pad: PadFirst, OfPit: true, Minutes: 1},
	{Act: Wrap, Name: "Wrap", Letter: "W", Pad: PadFirst, Says: []string{"wrap", "with", "liquid", "amount"}, Begins: "wrapped", Minutes: 2, PerCut: 3},
	{Act: Probe, Name: "Read", Letter: "R", Pad: PadFirst, Says: []string{"read", "place", "feel"}, AsksFirst: true, Minutes: 1, PerCut: 0.5, Many: true},
	{Act: Pull, Name: "Pull", Letter: "P", Pad: PadFirst, Begins: "rest", Minutes: 2, PerCut: 1},
	{Act: Note, Name: "Note", Letter: "N", Pad: PadFirst, Says: []string{"air", "wind", "sun", "rain"}, AsksFirst: true, InPassing: true, Many: true},
	{Act: Fuel, Name: "Fuel", Letter: "E", Pad: PadMore, OfPit: true, Says: []string{"pieces", "with"}, Minutes: 5},
	{Act: Vent, Name: "Vent", Letter: "V", Pad: PadMore, OfPit: true, Says: []string{"damper", "open"}, Minutes: 1},
	{Act: Water, Name: "Water", Letter: "D", Pad: PadMore, OfPit: true, Says: []string{"with", "amount"}, Minutes: 3},
	{Act: Unwrap, Name: "Unwrap", Letter: "Z", Pad: PadMore, Begins: "smoke", Minutes: 2, PerCut: 1},
	{Act: Move, Name: "Move", Letter: "M", Pad: PadMore, Says: []string{"turn", "to"}, Minutes: 1, PerCut: 1},
	{Act: Bark, Name: "Bark", Letter: "B", Pad: PadMore, Says: []string{"look"}, Minutes: 1, PerCut: 0.25},
	{Act: Spot, Name: "Spot read", Letter: "T", Pad: PadMore, OfPit: true, Says: []string{"of", "read"}, AsksFirst: true, Minutes: 1, Many: true},
	{Act: Photo, Name: "Photo", Letter: "J", Pad: PadMore, Says: []string{"photo_id"}, InPassing: true, Many: true},
	{Act: Out, Name: "Out of fridge", Letter: "U", Pad: PadMore, InPassing: true},
	{Act: Chill, Name: "Chill", Letter: "K", Pad: PadMore, Minutes: 1, PerCut: 0.5},
	{Act: Hold, Name: "Hold", Letter: "H", Pad: PadMore, Begins: "hold", Minutes: 1, PerCut: 0.5},
	{Act: Carve, Name: "Carve", Letter: "C", Pad: PadMore, Ends: true, Minutes: 5, PerCut: 2},
	{Act: Other, Name: "Other", Letter: "?", Pad: PadNone, InPassing: true},
}

// Rows lists the acts.
func Rows() []ActRow { return slices.Clone(rows) }

// Row is what is known of an act; ok is false where it is none.
func (a Act) Row() (ActRow, bool) {
	for _, r := range rows {
		if r.Act == a {
			return r, true
		}
	}
	return ActRow{}, false
}

// Values lists the acts.
func (Act) Values() []string {
	out := make([]string, len(rows))
	for i, r := range rows {
		out[i] = string(r.Act)
	}
	return out
}

// OfPit says whether the act is done to a pit and not to a cut.
func (a Act) OfPit() bool {
	r, _ := a.Row()
	return r.OfPit
}

// Takes is how many minutes an act on so many cuts takes a pair of hands.
func (a Act) Takes(cuts int) float64 {
	r, _ := a.Row()
	return r.Minutes + r.PerCut*float64(cuts)
}

// Event is an act on one cut.
type Event struct {
	Act Act
	At  time.Time
}

// CookOf is the time from on the grate to pulled: the first of each. ok is
// false until both are there in order.
func CookOf(events []Event) (on, pull time.Time, ok bool) {
	for _, e := range events {
		switch {
		case e.Act == On && (on.IsZero() || e.At.Before(on)):
			on = e.At
		case e.Act == Pull && (pull.IsZero() || e.At.Before(pull)):
			pull = e.At
		}
	}
	return on, pull, !on.IsZero() && pull.After(on)
}

// CheckEvent refuses an act on a cut that contradicts its other events: a
// second on, a pull before it was on, a spritz after it was pulled.
func CheckEvent(e Event, others []Event) error {
	on, pull, _ := CookOf(others)
	at := func(t time.Time) string { return t.Format("2 Jan 15:04") + " UTC" }
	switch {
	case e.Act == On && !on.IsZero():
		return fault.New("act", "it is on since "+at(on), "correct that entry, or void it first")
	case e.Act == Pull && !pull.IsZero():
		return fault.New("act", "it was pulled at "+at(pull), "correct that entry, or void it first")
	case e.Act == On && !pull.IsZero() && !e.At.Before(pull):
		return fault.New("at", "it was pulled at "+at(pull)+", before this", "give an earlier time, or correct the pull")
	case e.Act == Pull && !on.IsZero() && !e.At.After(on):
		return fault.New("at", "it went on at "+at(on)+", not before this", "give a later time, or correct the on")
	}
	if slices.Contains([]Act{Spritz, Wrap, Unwrap, Move}, e.Act) {
		switch {
		case !pull.IsZero() && e.At.After(pull):
			return fault.New("at", "it was pulled at "+at(pull), "give an earlier time")
		case !on.IsZero() && e.At.Before(on):
			return fault.New("at", "it went on at "+at(on), "give a later time")
		}
	}
	return nil
}
