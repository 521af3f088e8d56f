package safety

import (
	"fmt"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// DangerSource says where the clock comes from: it warns, and is no standard.
const DangerSource = "A rule of thumb of the trade: from leaving the fridge until the cold point passes 140 F, a look at 3:15, 4:00 at most. It only warns; the come-up of the guideline closes the gate. Public advice for food standing out is 2 h. Check your local code."

// The clock's two marks.
const (
	dangerWatch = 3*time.Hour + 15*time.Minute
	dangerLimit = 4 * time.Hour
)

var (
	foodCodeFromC = units.FToC(41)
	foodCodeToC   = units.FToC(135)
	under140C     = units.FToC(140)
)

// Range is the clock of the danger range of one cut, before it is cooked.
type Range struct {
	Known  bool          `json:"known"` // there is a reading to judge by
	For    time.Duration `json:"-"`     // in the range since it left the fridge
	ForS   float64       `json:"for_s"` // the same in s
	ToC    float64       `json:"to_c"`  // where the range ends
	Passed bool          `json:"passed"`
	Watch  bool          `json:"watch"`
	Over   bool          `json:"over"` // past four hours: an alarm, and a limit on the verdict
	Words  string        `json:"words"`
}

// LateAhead says whether a cut that is forecast to pass 140 F at a moment will
// have been out for too long by then.
func LateAhead(passes, left time.Time) bool { return passes.Sub(left) > dangerLimit }

// DangerOf reads the clock from calm traces of a cut's places, since it left the
// fridge. Every place that was followed must have passed.
func DangerOf(places [][]logbook.Point, left, now time.Time, window Window) Range {
	r := Range{ToC: under140C}
	from := left
	if window == FoodCode {
		r.ToC = foodCodeToC
	}
	places = followed(places, left, r.ToC)
	if window == FoodCode {
		from = firstAt(places, left, now, foodCodeFromC)
	}
	end := now
	r.Passed = true
	var last time.Time
	for _, trace := range places {
		at := firstAt([][]logbook.Point{trace}, left, now, r.ToC)
		r.Known = r.Known || !firstAt([][]logbook.Point{trace}, left, now, -273).IsZero()
		r.Passed = r.Passed && !at.IsZero()
		if at.After(last) {
			last = at
		}
	}
	r.Passed = r.Passed && r.Known
	if r.Passed {
		end = last
	}
	if !from.IsZero() {
		r.For = max(end.Sub(from), 0)
	}
	r.ForS = r.For.Seconds()
	r.Watch = r.For >= dangerWatch && !r.Passed
	r.Over = r.For >= dangerLimit
	r.Words = r.say()
	return r
}

func (r Range) say() string {
	to := fmt.Sprintf("{C:%.4f}", r.ToC)
	switch {
	case !r.Known:
		return "No reading yet: measure it."
	case r.Passed && r.Over:
		return "It passed " + to + " late, after more than four hours."
	case r.Passed:
		return "It passed " + to + " in time."
	case r.Over:
		return "Over four hours: the verdict names it. Raise the pit."
	case r.Watch:
		return "Raise the pit, or finish it hotter."
	}
	return "The clock runs."
}

// firstAt is the first moment from one time to another at which any trace is at a
// temperature or over; zero when there is none.
func firstAt(traces [][]logbook.Point, from, to time.Time, c float64) (at time.Time) {
	for _, trace := range traces {
		for _, p := range trace {
			if p.C >= c && !p.At.Before(from) && !p.At.After(to) {
				if at.IsZero() || p.At.Before(at) {
					at = p.At
				}
				break
			}
		}
	}
	return at
}
