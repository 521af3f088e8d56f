package thermal

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Opening is a stretch of a cook with the lid up, in s since its start.
type Opening struct {
	From float64 `json:"from_s"`
	For  float64 `json:"for_s"`
}

// With the lid up the air falls towards a part of the way to the outside, and
// comes back when it is shut (fitted).
const (
	lidShare = 0.45
	lidFalls = 60.0  // s
	lidComes = 300.0 // s
	lidStep  = 15.0  // s, between the nodes of the trace
)

// WithLids is a pit at its set point whose lid is opened, until a time in s.
// The openings are in order and do not overlap.
func WithLids(set, ambient float64, openings []Opening, until float64) (*Trace, error) {
	for i, o := range openings {
		if !(o.For > 0 && o.From >= 0) || i > 0 && o.From < openings[i-1].From+openings[i-1].For {
			return nil, fault.New(fmt.Sprintf("lids[%d]", i), "it overlaps the one before, or is no stretch of time", "give openings in order, each with from_s and for_s")
		}
	}
	air, next := set, 0
	var times, values []float64
	for t := 0.0; t <= until+lidStep; t += lidStep {
		times, values = append(times, t), append(values, air)
		for next < len(openings) && openings[next].From+openings[next].For <= t {
			next++
		}
		toward, constant := set, lidComes
		if next < len(openings) && openings[next].From <= t {
			toward, constant = ambient+lidShare*(set-ambient), lidFalls
		}
		air += (toward - air) * (1 - math.Exp(-lidStep/constant))
	}
	return NewTrace(times, values)
}
