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
)

// Acts lists them in the order of a cook.
var Acts = []Act{Lit, On, Spritz, Wrap, Unwrap, Wood, Fuel, Lid, Vent, Move, Probe, Note, Pull, Hold, Carve, Water, Bark, Spot, Photo}

// Values lists the acts.
func (Act) Values() []string {
	out := make([]string, len(Acts))
	for i, a := range Acts {
		out[i] = string(a)
	}
	return out
}

// OfPit says whether the act is done to a pit and not to a cut.
func (a Act) OfPit() bool { return slices.Contains([]Act{Lit, Wood, Fuel, Lid, Vent, Water, Spot}, a) }

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
