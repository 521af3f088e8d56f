package logbook

import (
	"math"
	"slices"
	"sort"
	"strings"
	"time"
	"unicode"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/fault"
)

// Point is a temperature at a moment, in degrees Celsius.
type Point struct {
	At time.Time
	C  float64
}

// Highest is the highest temperature of a trace after a running median over
// three readings, which no single spike can raise, and when it was reached.
// ok is false for an empty trace.
func Highest(trace []Point) (p Point, ok bool) {
	best := Point{C: math.Inf(-1)}
	for i, x := range trace {
		window := []float64{x.C}
		if i > 0 {
			window = append(window, trace[i-1].C)
		}
		if i+1 < len(trace) {
			window = append(window, trace[i+1].C)
		}
		sort.Float64s(window)
		// With two readings the lower one is the one that is sure.
		if m := window[(len(window)-1)/2]; m > best.C {
			best = Point{At: x.At, C: m}
		}
	}
	return best, len(trace) > 0
}

// Pit is how a pit ran over a stretch of time.
type Pit struct {
	MeanC    float64
	SDC      float64
	Readings int
}

// PitOver takes the readings from one moment to another, both included; ok is
// false when there are none.
func PitOver(trace []Point, from, to time.Time) (Pit, bool) {
	var v []float64
	for _, p := range trace {
		if !p.At.Before(from) && !p.At.After(to) {
			v = append(v, p.C)
		}
	}
	switch len(v) {
	case 0:
		return Pit{}, false
	case 1:
		return Pit{MeanC: v[0], Readings: 1}, true
	}
	mean, sd := stat.MeanStdDev(v, nil)
	return Pit{MeanC: mean, SDC: sd, Readings: len(v)}, true
}

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
)

// Acts lists them in the order of a cook.
var Acts = []Act{Lit, On, Spritz, Wrap, Unwrap, Wood, Fuel, Lid, Vent, Move, Probe, Note, Pull, Hold, Carve}

// Values lists the acts.
func (Act) Values() []string {
	out := make([]string, len(Acts))
	for i, a := range Acts {
		out[i] = string(a)
	}
	return out
}

// OfPit says whether the act is done to a pit and not to a cut.
func (a Act) OfPit() bool { return slices.Contains([]Act{Lit, Wood, Fuel, Lid, Vent}, a) }

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

// SuggestTarget finds which of the names a column most likely measures: the
// one that is the column's name, or stands in it as a word. It returns -1 when
// none or more than one does.
func SuggestTarget(column string, names []string) int {
	found := -1
	words := strings.FieldsFunc(strings.ToLower(column), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	for i, name := range names {
		wanted := strings.Fields(strings.ToLower(name))
		if len(wanted) == 0 || !containsRun(words, wanted) {
			continue
		}
		if found >= 0 {
			return -1
		}
		found = i
	}
	return found
}

func containsRun(words, run []string) bool {
	for i := 0; i+len(run) <= len(words); i++ {
		if slices.Equal(words[i:i+len(run)], run) {
			return true
		}
	}
	return false
}
