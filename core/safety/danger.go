package safety

import (
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// DangerSource says where the clock comes from: it is stricter than nothing and
// not a standard.
const DangerSource = "A rule of thumb of the trade: from leaving the fridge until the cold point passes 140 F, a look at 3:15, 4:00 at most for pierced, minced or poultry meat. Public advice for food standing out is 2 h. Check your local code."

// HotHoldingC is the least temperature of a hot holder, 140 F.
var HotHoldingC = units.FToC(140)

// The clock's two marks.
const (
	dangerWatch = 3*time.Hour + 15*time.Minute
	dangerLimit = 4 * time.Hour
)

// Range is the clock of the danger range of one cut.
type Range struct {
	Known  bool          `json:"known"`  // there is a reading to judge by
	For    time.Duration `json:"-"`      // under 140 F since it left the fridge
	ForS   float64       `json:"for_s"`  // the same in s
	Passed bool          `json:"passed"` // its cold point passed 140 F: the clock has stopped
	Watch  bool          `json:"watch"`
	Over   bool          `json:"over"`  // past four hours
	Grave  bool          `json:"grave"` // over is an alarm, not a caution: pierced, minced or poultry
	Words  string        `json:"words"`
}

// LateAhead says whether a cut that is forecast to pass 140 F at a moment will
// have been out for too long by then.
func LateAhead(passes, left time.Time) bool { return passes.Sub(left) > dangerLimit }

// DangerOf reads the clock from the trace of a cut's coldest probe, since it
// left the fridge. A single spike does not stop it: the running median of three does.
func DangerOf(trace []logbook.Point, left, now time.Time, species Species, handling Handling) Range {
	r := Range{Grave: species == Poultry || handling != Intact}
	end := now
	for i, p := range trace {
		if p.At.Before(left) || p.At.After(now) {
			continue
		}
		r.Known = true
		window := []float64{p.C}
		if i > 0 {
			window = append(window, trace[i-1].C)
		}
		if i+1 < len(trace) {
			window = append(window, trace[i+1].C)
		}
		slices.Sort(window)
		if window[(len(window)-1)/2] >= HotHoldingC {
			r.Passed, end = true, p.At
			break
		}
	}
	r.For = max(end.Sub(left), 0)
	r.ForS = r.For.Seconds()
	r.Watch = r.For >= dangerWatch && !r.Passed
	r.Over = r.For >= dangerLimit && !r.Passed
	switch {
	case !r.Known:
		r.Words = "No reading yet: measure it."
	case r.Passed && r.For >= dangerLimit:
		r.Words = "It passed 140 F late, after more than four hours."
	case r.Passed:
		r.Words = "It passed 140 F in time."
	case r.Over && r.Grave:
		r.Words = "Over four hours: do not serve it unless your local code lets you."
	case r.Over:
		r.Words = "Over four hours: whole muscle, so a caution. Raise the pit."
	case r.Watch:
		r.Words = "Raise the pit, or finish it hotter."
	default:
		r.Words = "The clock runs."
	}
	return r
}
