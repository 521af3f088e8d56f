package alarm

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
)

// Bands and limits of the barn (ours, but for hot holding and the danger
// range, which core/safety has).
const (
	band       = 11.0 // C, 20 F either side of the set point
	backInBand = 7.0  // C
	lidRest    = 12 * time.Minute
	lately     = 5 * time.Minute
	staleAfter = 6 * time.Minute
	fallOver   = 20 * time.Minute
	fallLeast  = 0.4 // C a minute
	deadBelow  = 11.0
)

// PitSeen is a pit at a moment.
type PitSeen struct {
	Subject, Name string
	SetC          float64
	Trace         []logbook.Point // of its probe, the last half hour at least
	Stood         bool            // it has been at its set point
	Opened        time.Time       // the lid, last
	Fed           time.Time       // with fuel, last
	Cuts          int             // on it
	Planned       []float64       // C it is to be set to in this cook
}

// Pit looks at a pit: out of its band for a while, or its fire dying. It is
// left alone before it stood, with nothing on it, and while the lid was just open.
func Pit(p PitSeen, now time.Time) []Sight {
	if !p.Stood || p.Cuts == 0 || len(p.Trace) == 0 {
		return nil
	}
	c, ok := median(p.Trace, now.Add(-lately), now)
	if !ok {
		return nil
	}
	opened := now.Sub(p.Opened) < lidRest
	off := c - p.SetC
	words := func(what string) string {
		return fmt.Sprintf("%s is {dC:%.1f} %s its set point.", p.Name, math.Abs(off), what)
	}
	high := " Close the vents a little."
	for _, set := range p.Planned { // a step that nobody logged
		if math.Abs(set-p.SetC) > backInBand && math.Abs(c-set) < backInBand {
			high = fmt.Sprintf(" If it was set to {C:%.1f} as planned, log Set to; else close the vents.", set)
		}
	}
	fall, falls := falling(p.Trace, now)
	dead := falls && off < -deadBelow && !opened && now.Sub(p.Fed) > fallOver
	return []Sight{
		// A dying fire is told of as that alone.
		{Kind: PitLow, Subject: p.Subject, Level: Watch, Holds: off < -band && !opened && !dead, Gone: off > -backInBand, Words: words("under") + " Look at the fire and the vents."},
		{Kind: PitHigh, Subject: p.Subject, Level: Watch, Holds: off > band && !opened, Gone: off < backInBand, Words: words("over") + high},
		{Kind: DeadFire, Subject: p.Subject, Level: Grave, Holds: dead, Gone: !falls && off > -deadBelow,
			Words: fmt.Sprintf("%s falls {dC:%.1f} an hour and nothing was done: the fire is dying. Feed it.", p.Name, 60*fall)},
	}
}

// falling says whether a trace fell steadily over the last stretch, and by how
// much a minute: every quarter of it lower than the one before.
func falling(trace []logbook.Point, now time.Time) (perMinute float64, falls bool) {
	var quarter [4]float64
	for i := range quarter {
		from := now.Add(-fallOver + time.Duration(i)*fallOver/4)
		c, ok := median(trace, from, from.Add(fallOver/4))
		if !ok || i > 0 && c >= quarter[i-1] {
			return 0, false
		}
		quarter[i] = c
	}
	perMinute = (quarter[0] - quarter[3]) / (fallOver.Minutes() * 3 / 4)
	return perMinute, perMinute >= fallLeast
}

func median(trace []logbook.Point, from, to time.Time) (float64, bool) {
	var v []float64
	for _, p := range trace {
		if p.At.After(from) && !p.At.After(to) {
			v = append(v, p.C)
		}
	}
	if len(v) == 0 {
		return 0, false
	}
	slices.Sort(v)
	return v[len(v)/2], true
}

// CutSeen is a cut on the fire at a moment.
type CutSeen struct {
	Subject, Name string
	On            time.Time
	Left          time.Time       // the fridge
	Trace         []logbook.Point // of its coldest probe, since it went on
	TargetC       float64         // 0: it is not cooked to a temperature
	Place         string          // where in the cut that is read; empty is the coldest
	AtPlace       []logbook.Point // the trace there
	Range         safety.Range    // the danger clock
	ComeUp        safety.ComeUp
	Absolute      bool       // a come-up that is late shuts the gate for good
	Passes        *time.Time // 140 F, as forecast; nil is not known
	ByTable       *float64   // chance of being done in time; nil is not known
}

// fromTarget is how far under its target a core must fall for the alarm to be over.
const fromTarget = 2.0

// Cut looks at a cut: at its target, too late for the table, too long in the
// danger range.
func Cut(c CutSeen, now time.Time) []Sight {
	var out []Sight
	at, name := c.Trace, c.Name
	if c.Place != "" {
		at, name = c.AtPlace, c.Name+" "+where(c.Place)
	}
	core, ok := median(at, now.Add(-lately), now)
	if ok && c.TargetC > 0 {
		out = append(out, Sight{Kind: AtTarget, Subject: c.Subject, Level: Watch, Holds: core >= c.TargetC, Gone: core < c.TargetC-fromTarget,
			Words: fmt.Sprintf("%s is at {C:%.1f}, and pulled at {C:%.1f}. Probe it in two places.", name, core, c.TargetC)})
	}
	if c.ByTable != nil {
		out = append(out, Sight{Kind: TooLate, Subject: c.Subject, Level: Watch, Holds: *c.ByTable < 0.5, Gone: *c.ByTable > 0.65,
			Words: fmt.Sprintf("%s is done in time less than 5 times in 10. See what wrapping or a hotter pit would change.", c.Name)})
	}
	if d := c.Range; d.Known {
		ahead := !d.Passed && c.Passes != nil && safety.LateAhead(*c.Passes, c.Left)
		told := d.Words
		if ahead && !d.Watch && !d.Over {
			told = fmt.Sprintf("As it goes on it passes only after %s. Raise the pit, or finish it hotter.", hoursMinutes(c.Passes.Sub(c.Left)))
		}
		since := map[bool]string{true: "left the fridge", false: "went on"}[c.Left.Before(c.On)]
		out = append(out, Sight{Kind: Danger, Subject: c.Subject, Level: map[bool]Level{true: Grave, false: Watch}[d.Over],
			Holds: !d.Passed && (d.Watch || d.Over || ahead), Gone: d.Passed,
			Words: fmt.Sprintf("%s has been under {C:%.4g} for %s since it %s. %s", c.Name, d.ToC, hoursMinutes(d.For), since, told)})
	}
	return append(out, comeUp(c)...)
}

// comeUpWatch is when a slow come-up is told of, an hour before it shuts the gate.
const comeUpWatch = 5 * 3600.0

func comeUp(c CutSeen) []Sight {
	u := c.ComeUp
	if !u.Known {
		return nil
	}
	words := fmt.Sprintf("%s takes %s from {C:10} to {C:54.4} so far; 6:00 is the most.", c.Name, hoursMinutes(time.Duration(u.ForS*float64(time.Second))))
	switch {
	case u.Late && c.Absolute:
		words += " It cannot be served."
	case u.Late:
		words += " Only the pitmaster's reason opens the table to it."
	default:
		words += " Raise the pit."
	}
	return []Sight{{Kind: ComeUp, Subject: c.Subject, Level: map[bool]Level{true: Grave, false: Watch}[u.Late],
		Holds: !u.Done && u.ForS >= comeUpWatch || u.Late, Gone: u.Done && !u.Late, Words: words}}
}

// Resting looks at a cut that was pulled and not served: too long under the holding
// limit, or nothing read of it for long.
func Resting(subject, name string, a safety.After) []Sight {
	if !a.Known {
		return nil
	}
	total := time.Duration((a.UnderS + a.UnreadS) * float64(time.Second))
	words := fmt.Sprintf("%s may have been under {C:%.4g} for %s after cooking. ", name, a.LimitC, hoursMinutes(total))
	switch {
	case a.Over:
		words = fmt.Sprintf("%s was under {C:%.4g} for four hours after cooking: throw it away.", name, a.LimitC)
	case a.UnreadS > a.UnderS:
		words += "Nothing was read of it: read it now."
	default:
		words += "At 4:00 it is thrown away: serve it, heat it or chill it."
	}
	return []Sight{{Kind: Cooling, Subject: subject, Level: map[bool]Level{true: Grave, false: Watch}[a.Over || a.Unread], Holds: a.Warn,
		Gone: !a.Warn, Words: words}}
}

func hoursMinutes(d time.Duration) string {
	return fmt.Sprintf("%d:%02d", int(d.Hours()), int(d.Minutes())%60)
}

// where says a place in a cut within a sentence.
func where(place string) string {
	switch place {
	case logbook.AllPlaces:
		return "at every place"
	case "thick", "thin":
		return "at its " + place + " end"
	}
	return place
}

// HolderSeen is a holder at a moment.
type HolderSeen struct {
	Subject, Name string
	HoldC         float64 // the barn's line of hot holding
	Trace         []logbook.Point
	Cuts          int
}

// Holder looks at a holder: its low swing counts, not its mean.
func Holder(h HolderSeen, now time.Time) []Sight {
	if h.Cuts == 0 {
		return nil
	}
	low := math.Inf(1)
	for _, p := range h.Trace {
		if p.At.After(now.Add(-30*time.Minute)) && !p.At.After(now) {
			low = min(low, p.C)
		}
	}
	if math.IsInf(low, 1) {
		return nil
	}
	return []Sight{{Kind: HolderLow, Subject: h.Subject, Level: Grave, Holds: low < h.HoldC, Gone: low >= h.HoldC+1,
		Words: fmt.Sprintf("%s swings down to {C:%.1f}; hot holding is {C:%.4g} or over. Turn it up and measure.", h.Name, low, h.HoldC)}}
}

// Probe looks at a probe: silent for too long.
func Probe(subject, name string, last, now time.Time) []Sight {
	silent := now.Sub(last)
	return []Sight{{Kind: Silent, Subject: subject, Level: Watch, Holds: silent > staleAfter, Gone: silent < lately,
		Words: fmt.Sprintf("%s has been silent for %d min. Look at its plug and its battery, and read by hand.", name, int(silent.Minutes()))}}
}
