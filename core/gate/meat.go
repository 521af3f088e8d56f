package gate

import (
	"fmt"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/units"
)

// Times and differences that decide what is evidence.
const (
	gap        = safety.LongestGapS * time.Second
	steady     = 3   // readings before a probe that was out is believed again
	overBoilC  = 3.0 // past the boiling point is not inside meat
	fastestC   = 5.0 // a minute; no faster does a core rise, unless the cook model says so
	noiseC     = 1.0 // two readings may differ by it for no reason (ours)
	risesIn    = time.Minute
	alike      = 0.01 // C that a conversion may lose
	overProbe  = 10 / 1.8
	underProbe = 5 / 1.8
	fallsC     = 1.0              // a minute; no resting piece cools faster (ours)
	between    = 15 * time.Minute // readings of a probe to tell its value between them (ours)
)

// inside cuts the trace of a probe into what was read inside the meat: where it is
// hotter than meat can be or rises faster than meat does it is out, until three readings
// were steady.
func inside(trace []logbook.Point, boilsC, fastest float64) (runs [][]logbook.Point) {
	var run []logbook.Point
	end := func() {
		if len(run) > 0 {
			runs, run = append(runs, run), nil
		}
	}
	calm := steady
	up := climb{trace: trace, fastest: fastest}
	for i, p := range trace {
		rose := up.rises(i)
		switch {
		case p.C > boilsC+overBoilC || rose:
			calm = 0
			end()
			continue
		case calm < steady:
			if calm == 0 || !near(trace[i-1], p, fastest) {
				calm = 0
			}
			if calm++; calm < steady {
				continue
			}
		}
		run = append(run, p)
	}
	end()
	return runs
}

// climb follows a trace, reading by reading, for what rises faster than meat can.
type climb struct {
	trace   []logbook.Point
	fastest float64 // C a minute
	lows    []int   // of the readings to look back on: those that none after undercuts, by what meat could have gained since
}

// gained is a reading less what meat could have gained since the first.
func (c *climb) gained(i int) float64 {
	return c.trace[i].C - c.fastest*c.trace[i].At.Sub(c.trace[0].At).Minutes()
}

// rises says whether a reading is higher than one of the minute before, or the one just before
// it, by more than meat can gain in that time. It is asked of every reading in turn. Only where
// the lowest of them is near enough are they looked at one by one: a log may come each second.
func (c *climb) rises(i int) bool {
	const rounding = 1e-6
	for len(c.lows) > 0 && c.lows[0] < i-1 && c.trace[i].At.Sub(c.trace[c.lows[0]].At) > risesIn {
		c.lows = c.lows[1:]
	}
	now := c.gained(i)
	may := len(c.lows) > 0 && now-noiseC > c.gained(c.lows[0])-rounding
	for len(c.lows) > 0 && c.gained(c.lows[len(c.lows)-1]) >= now {
		c.lows = c.lows[:len(c.lows)-1]
	}
	c.lows = append(c.lows, i)
	return may && rises(c.trace, i, c.fastest)
}

func rises(trace []logbook.Point, i int, fastest float64) bool {
	for j := i - 1; j >= 0 && (j == i-1 || trace[i].At.Sub(trace[j].At) <= risesIn); j-- {
		if trace[i].C-trace[j].C > fastest*trace[i].At.Sub(trace[j].At).Minutes()+noiseC {
			return true
		}
	}
	return false
}

func near(a, b logbook.Point, fastest float64) bool {
	d := b.C - a.C
	return max(d, -d) <= fastest*b.At.Sub(a.At).Minutes()+noiseC
}

// unbroken cuts runs at their gaps.
func unbroken(runs [][]logbook.Point) (out [][]logbook.Point) {
	for _, run := range runs {
		for i, p := range run {
			if i == 0 || p.At.Sub(run[i-1].At) > gap {
				out = append(out, nil)
			}
			out[len(out)-1] = append(out[len(out)-1], p)
		}
	}
	return out
}

// calmed are runs after a running median.
func calmed(runs [][]logbook.Point) (out []logbook.Point) {
	for _, run := range unbroken(runs) {
		c := make([]float64, len(run))
		for i, p := range run {
			c[i] = p.C
		}
		for i, v := range safety.Calm(c) {
			out = append(out, logbook.Point{At: run[i].At, C: v})
		}
	}
	return out
}

// valueAt is what a trace shows at a moment: between two readings not too far apart
// the straight line. After its end it stands for a while: for good once the piece is
// off the fire, else not at all.
func valueAt(trace []logbook.Point, at, pulled time.Time) (c float64, ok bool) {
	if len(trace) == 0 || at.Before(trace[0].At) {
		return 0, false
	}
	last := trace[len(trace)-1]
	if !at.Before(last.At) {
		off := !pulled.IsZero() && !at.Before(pulled)
		return last.C, off || at.Sub(last.At) <= time.Minute
	}
	for i := 1; i < len(trace); i++ {
		a, b := trace[i-1], trace[i]
		if at.After(b.At) {
			continue
		}
		span := b.At.Sub(a.At)
		switch {
		case span > between:
			return 0, false
		case span == 0:
			return b.C, true
		}
		return a.C + (b.C-a.C)*float64(at.Sub(a.At))/float64(span), true
	}
	return 0, false
}

// Plausible refuses a reading that no meat can have where water boils at boilsC.
func Plausible(c, boilsC float64) error {
	if c <= boilsC+overBoilC {
		return nil
	}
	what := fmt.Sprintf("%.0f F (%.0f C) is hotter than meat gets where water boils at %.0f F", units.CToF(c), c, units.CToF(boilsC))
	return fault.New("detail.read", what, "ask the thermometer again")
}
