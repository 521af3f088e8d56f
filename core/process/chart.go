// Package process is what the House Book keeps: a process as a card with versions, written
// from what a winning arm delivered, and how later cooks of it are checked.
package process

import (
	"fmt"
	"math"
)

// Source says where the chart comes from.
const Source = "Individuals and moving range: Shewhart, 1931; Wheeler and Chambers, 1992 (2.66, 3.27); run rules: Western Electric, 1956"

// The chart's numbers. Limits freeze at the first cooks; a mean moving range of so few steps
// is unsure by a third, so a process is said to drift only past limits that much wider: then in
// control it is said falsely in under 2 of 100 cooks (3 of 100 by the limits as they are drawn).
const (
	Base      = 6 // cooks that the limits are set by
	limitOf   = 2.66
	stepOf    = 3.27
	driftOf   = 3.5
	runLength = 8
)

// Sign is what a point tells.
type Sign string

// The signs, by the rule that fired first.
const (
	NoSign     Sign = ""
	OverLimit  Sign = "over a limit"
	RunOfEight Sign = "eight in a row on one side"
	TwoOfThree Sign = "two of three near a limit"
)

// Values lists the signs.
func (Sign) Values() []string {
	return []string{string(NoSign), string(OverLimit), string(RunOfEight), string(TwoOfThree)}
}

// ChartPoint is one cook on a chart.
type ChartPoint struct {
	Value  float64  `json:"value"`
	Step   *float64 `json:"step"`   // from the cook before; nil for the first
	Sign   Sign     `json:"sign"`   // asks what was different
	Drifts bool     `json:"drifts"` // past what so few first cooks leave unsure
}

// Chart is one measure of the cooks of a process in order.
type Chart struct {
	Points []ChartPoint `json:"points"`
	Middle *float64     `json:"middle"`
	Low    *float64     `json:"low"`
	High   *float64     `json:"high"`
	// Near are two thirds of the way to the limits.
	NearLow    *float64 `json:"near_low"`
	NearHigh   *float64 `json:"near_high"`
	StepMiddle *float64 `json:"step_middle"`
	StepLimit  *float64 `json:"step_limit"`
	Frozen     bool     `json:"frozen"` // set by the first six; before, they move
	Since      int      `json:"since"`  // the first cook, from 1, of what fired last; 0 is nothing
	Drifts     bool     `json:"drifts"`
	Up         bool     `json:"up"` // what fired lies over the middle
}

// ChartOf puts values in order on a chart.
func ChartOf(values []float64) Chart {
	c := Chart{Points: make([]ChartPoint, len(values))}
	for i, v := range values {
		c.Points[i].Value = v
		if i > 0 {
			step := math.Abs(v - values[i-1])
			c.Points[i].Step = &step
		}
	}
	base := values[:min(Base, len(values))]
	c.Frozen = len(base) == Base
	if len(base) < 2 {
		return c
	}
	middle, step := 0.0, 0.0
	for i, v := range base {
		middle += v / float64(len(base))
		if i > 0 {
			step += math.Abs(v-base[i-1]) / float64(len(base)-1)
		}
	}
	at := func(v float64) *float64 { return &v }
	reach := limitOf * step
	c.Middle, c.Low, c.High = &middle, at(middle-reach), at(middle+reach)
	c.NearLow, c.NearHigh = at(middle-2*reach/3), at(middle+2*reach/3)
	c.StepMiddle, c.StepLimit = &step, at(stepOf*step)
	if !c.Frozen || step < 1e-12 {
		return c
	}
	for i := Base; i < len(values); i++ {
		sign, from := signAt(values, i, middle, reach)
		c.Points[i].Sign = sign
		wide, _ := signAt(values, i, middle, driftOf*step)
		c.Points[i].Drifts = wide != NoSign
		if sign != NoSign {
			if c.Since == 0 || from < c.Since-1 || i > 0 && c.Points[i-1].Sign == NoSign {
				c.Since = from + 1
			}
			c.Up = values[i] > middle
		}
		c.Drifts = c.Drifts || c.Points[i].Drifts
	}
	return c
}

// signAt is the rule that fires at a cook after the first six, and the cook it began at.
func signAt(values []float64, i int, middle, reach float64) (Sign, int) {
	side := func(j int) float64 { return math.Copysign(1, values[j]-middle) }
	off := math.Abs(values[i] - middle)
	near := func(j int) bool { return side(j) == side(i) && math.Abs(values[j]-middle) > 2*reach/3 }
	if near(i) {
		first, n := i, 0
		for j := max(Base, i-2); j <= i; j++ {
			if near(j) {
				first, n = min(first, j), n+1
			}
		}
		if off <= reach && n >= 2 {
			return TwoOfThree, first
		}
		if off > reach {
			return OverLimit, first
		}
	}
	run := i
	for run > Base && side(run-1) == side(i) && values[run-1] != middle {
		run--
	}
	if i-run+1 >= runLength {
		return RunOfEight, run
	}
	return NoSign, i
}

// Said is the rule that fired last, in words; empty where none did.
func (c Chart) Said() string {
	if c.Since == 0 {
		return ""
	}
	last := NoSign
	n := 0
	for _, p := range c.Points[c.Since-1:] {
		if p.Sign != NoSign {
			last, n = p.Sign, n+1
		}
	}
	side := "low"
	if c.Up {
		side = "high"
	}
	switch last {
	case OverLimit:
		return fmt.Sprintf("Over the %s limit: something changed at cook %d.", side, c.Since)
	case TwoOfThree:
		return fmt.Sprintf("Near the %s limit again and again: something changed at cook %d.", side, c.Since)
	}
	return fmt.Sprintf("Eight in a row on the %s side: something changed at cook %d.", side, c.Since)
}
