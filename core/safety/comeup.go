package safety

import (
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// ComeUpSource says where the limit comes from.
const ComeUpSource = "USDA FSIS Cooking Guideline (Revised Appendix A), 2021: the cold point from 50 to 130 F within six hours; out of the fridge two hours at most, one above 90 F. Check the current edition and your local code."

// ComeUpToC ends the way up: 130 F.
var ComeUpToC = units.FToC(130)

var (
	comeUpFromC = units.FToC(50)
	warmAirC    = units.FToC(90)
)

const comeUpLimit = 6 * time.Hour

// ComeUp is how long the slowest place took, or is taking, from 50 to 130 F.
type ComeUp struct {
	Known   bool    `json:"known"` // it passed 50 F, or nobody saw it colder
	Done    bool    `json:"done"`  // every place passed 130 F
	ForS    float64 `json:"for_s"`
	Bounded bool    `json:"bounded"` // its start was not probed: it counts from leaving the fridge
	Late    bool    `json:"late"`    // more than six hours
	// BySlowest says that nobody followed it, and that the slowest piece of its pit, which a
	// probe did follow, shows it.
	BySlowest bool `json:"by_slowest"`
}

// slowestSpare is what a piece may take longer than the slowest of its pit that was followed.
const slowestSpare = 1.25

// Shows says whether the way up of the slowest piece of a pit shows it for the others: it was
// followed from the cold to its end, and a quarter more would still be in time.
func (c ComeUp) Shows() bool {
	return c.Done && !c.Bounded && slowestSpare*c.ForS <= comeUpLimit.Seconds()
}

// ComeUpOf reads it from calm traces of a cut's places, each in order of time. A place
// that was over 50 F when it was read first counts from when the cut left the fridge.
// A crossing between two readings counts as early as it can have begun and as late as
// it can have ended.
func ComeUpOf(places [][]logbook.Point, left, on, now time.Time) ComeUp {
	var worst ComeUp
	done := len(places) > 0
	places = followed(places, on, ComeUpToC)
	for _, trace := range places {
		c := comeUpOf(trace, left, on, now)
		done = done && c.Done
		if c.Known && (!worst.Known || c.ForS > worst.ForS) {
			worst = c
		}
	}
	worst.Done = done && worst.Known
	return worst
}

// followed are the places that were read before they were at c: of one that was read
// only later nothing is known of the way there. Where there is none, the one that was
// read first stands for the piece.
func followed(places [][]logbook.Point, on time.Time, c float64) (out [][]logbook.Point) {
	var first []logbook.Point
	var at time.Time
	for _, trace := range places {
		for _, p := range trace {
			if p.At.Before(on) {
				continue
			}
			if p.C < c {
				out = append(out, trace)
			} else if first == nil || p.At.Before(at) {
				first, at = trace, p.At
			}
			break
		}
	}
	if out == nil && first != nil {
		out = [][]logbook.Point{first}
	}
	return out
}

func comeUpOf(trace []logbook.Point, left, on, now time.Time) (c ComeUp) {
	from := left
	end := now
	seen := false
	for _, p := range trace {
		if p.At.Before(left) || p.At.After(now) {
			continue
		}
		if !c.Known && p.C < comeUpFromC {
			from, seen = p.At, true
			continue
		}
		if p.At.Before(on) {
			continue // in the air of a hot pit, for all that is known
		}
		c.Known = true
		if p.C >= ComeUpToC {
			c.Done, end = true, p.At
			break
		}
	}
	if c.Known {
		c.Bounded = !seen
		c.ForS = max(end.Sub(from), 0).Seconds()
		c.Late = end.Sub(from) > comeUpLimit
	}
	return c
}

// OutLimit is how long meat may be out of the fridge before the fire: two hours, one
// where the air is above 90 F. A nil was not measured.
func OutLimit(airC *float64) time.Duration {
	if airC != nil && *airC > warmAirC {
		return time.Hour
	}
	return 2 * time.Hour
}
