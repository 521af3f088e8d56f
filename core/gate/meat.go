package gate

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/units"
)

// Times and differences that decide what is evidence.
const (
	gap        = safety.LongestGapS * time.Second
	steady     = 3    // readings before a probe that was out is believed again
	overBoilC  = 3.0  // past the boiling point is not inside meat
	fastestC   = 5.0  // a minute; no faster does a core rise, unless the cook model says so
	reachC     = 1.0  // a minute: how far a core gets where no probe in it was believed, in a thick cut (ours)
	tearC      = 5.0  // over where it could have got to a stretch is not of the meat; under what was shown it takes that back
	agreesC    = 3.0  // a hand reading this near bears a probe out
	movesC     = 2.0  // a probe that moved so much is not stuck (ours)
	noiseC     = 1.0  // two readings may differ by it for no reason (ours)
	tenC       = 5.0  // in ten minutes; no slower is a tear, unless the bound says more
	farC       = 20.0 // between the air and a reading: meat would move
	flatFor    = 20 * time.Minute
	coarsestC  = 1.0 // steps of devices (ours)
	finestC    = 0.1
	risesIn    = time.Minute
	alike      = 0.01 // C that a conversion may lose
	overProbe  = 10 / 1.8
	underProbe = 5 / 1.8
	fallsC     = 1.0              // a minute; no resting piece cools faster (ours)
	between    = 15 * time.Minute // readings of a probe to tell its value between them (ours)
)

// inside cuts the trace of a probe into the stretches that were read inside the meat. It is
// torn where it is hotter than meat can be, or steps up or down faster than meat does; after
// a tear three readings in a row must be steady. A stretch counts if it begins where the
// meat could have got to since the last that counted, or lower, or if a hand reading bears
// it out; else it is out, however steady, to the next tear.
func (in Input) inside(trace []logbook.Point, hands []course.Hand) (runs [][]logbook.Point) {
	var run []logbook.Point
	end := func() {
		if len(run) > 0 && in.ofTheMeat(run, runs, hands) {
			runs = append(runs, run)
		}
		run = nil
	}
	fastest := in.Bound.step()
	calm := steady
	up := climb{trace: trace, fastest: fastest}
	far := lookback{trace: trace}
	for i, p := range trace {
		rose := up.rises(i)
		if low := far.low(i); p.C-trace[low].C > in.Bound.inTen()+noiseC {
			run, rose = within(run, time.Time{}, trace[low].At), true // all of that rise is out
		}
		switch {
		case p.C > in.BoilsC+overBoilC || rose:
			calm = 0
			end()
			continue
		case len(run) > 0 && !near(trace[i-1], p, fastest):
			calm = 1
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

// ofTheMeat says whether a stretch between two tears counts after those that did.
func (in Input) ofTheMeat(run []logbook.Point, before [][]logbook.Point, hands []course.Hand) bool {
	if len(before) == 0 {
		return true
	}
	counted := before[len(before)-1]
	last := counted[len(counted)-1]
	reach := max(reachC, in.Bound.RiseC) * run[0].At.Sub(last.At).Minutes()
	return run[0].C <= last.C+reach+tearC || borneOut(run, hands)
}

// borneOut says whether a hand reading agrees with a stretch of a probe at its place.
func borneOut(run []logbook.Point, hands []course.Hand) bool {
	for _, h := range hands {
		if c, ok := valueAt(run, h.At, time.Time{}); ok && max(c-h.C, h.C-c) <= agreesC {
			return true
		}
	}
	return false
}

// takenBack are stretches without what was shown to be no reading of the meat's coldest: one
// that begins well under the one before it, on the fire and with no hand at it, takes back
// what that one showed above it, and those before with it.
func (in Input) takenBack(runs [][]logbook.Point) (out [][]logbook.Point) {
	most := math.Inf(1)
	for i, run := range slices.Backward(runs) {
		if i+1 < len(runs) {
			last, begins := run[len(run)-1], runs[i+1][0]
			if in.OnFire(begins.At) && last.C-begins.C > tearC && !in.Taken(last.At.Add(-gap), begins.At) {
				most = min(most, begins.C)
			}
		}
		var kept []logbook.Point
		for _, p := range run {
			if p.C <= most {
				kept = append(kept, p)
			}
		}
		if len(kept) > 0 {
			out = append(out, kept)
		}
	}
	slices.Reverse(out)
	return out
}

// moved is a first stretch without what a probe showed that was hot from its first reading,
// while nothing tells that it was not stuck: until it moves, or a hand reading agrees.
func moved(run []logbook.Point, hands []course.Hand) []logbook.Point {
	if run[0].C <= safety.ComeUpToC || borneOut(run, hands) {
		return run
	}
	for i, p := range run {
		if max(p.C-run[0].C, run[0].C-p.C) >= movesC {
			return run[i:]
		}
	}
	return nil
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
