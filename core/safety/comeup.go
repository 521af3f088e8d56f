package safety

import (
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// ComeUpSource says where the limit comes from.
const ComeUpSource = "USDA FSIS Cooking Guideline (Revised Appendix A), 2021: the cold point from 50 to 130 F within six hours. Check the current edition and your local code."

var (
	comeUpFromC = units.FToC(50)
	comeUpToC   = units.FToC(130)
)

const comeUpLimit = 6 * time.Hour

// ComeUp is how long a cold point took, or is taking, from 50 to 130 F.
type ComeUp struct {
	Known bool    `json:"known"` // it passed 50 F
	Done  bool    `json:"done"`  // it passed 130 F
	ForS  float64 `json:"for_s"`
	Late  bool    `json:"late"` // more than six hours
}

// ComeUpOf reads it from the trace of a cut's coldest probe. A cut that was
// over 50 F at its first reading counts from when it left the fridge.
func ComeUpOf(trace []logbook.Point, left, now time.Time) ComeUp {
	var from time.Time
	end := now
	c := ComeUp{}
	for _, p := range trace {
		if p.At.Before(left) || p.At.After(now) {
			continue
		}
		if !c.Known && p.C >= comeUpFromC {
			c.Known, from = true, p.At
			if p.At.Equal(first(trace, left)) {
				from = left
			}
		}
		if p.C >= comeUpToC {
			c.Done, end = true, p.At
			break
		}
	}
	if c.Known {
		c.ForS = end.Sub(from).Seconds()
		c.Late = end.Sub(from) > comeUpLimit
	}
	return c
}

func first(trace []logbook.Point, left time.Time) time.Time {
	for _, p := range trace {
		if !p.At.Before(left) {
			return p.At
		}
	}
	return time.Time{}
}
