package forecast

import (
	"fmt"
	"math"
)

// Doubt is a way in which the log contradicts the model. One that Stops
// leaves nothing to forecast from until it is mended.
type Doubt struct {
	Kind  DoubtKind
	Words string
	Since float64 // s since the cut went on
	Stops bool
}

// DoubtKind says what is wrong.
type DoubtKind string

const (
	SlippedProbe DoubtKind = "slipped probe"
	DeadFire     DoubtKind = "dead fire"
	WrongCut     DoubtKind = "wrong cut data"
	SilentProbe  DoubtKind = "silent probe"
)

const (
	jump          = 8.0    // C between five-minute medians that no core makes
	coldPit       = 25.0   // C under the set point
	coldFor       = 1200.0 // s
	silentFor     = 1500.0 // s
	farGuess      = 22.0   // squared widths; one log in a hundred of the model's own kind
	strayFit      = 2.0    // root mean square of whitened residuals
	jumpBlock     = 300.0  // s
	tracksPit     = 12.0   // C; a core that near the pit while the pit is hot is no core
	earliestJudge = 2700.0 // s of log before the cut's data are doubted
)

// Doubts looks at a log by itself: what a reader of the traces would see.
func Doubts(l Log) []Doubt {
	var out []Doubt
	probe := blocks(l.Probe, jumpBlock, l.Now)
	_, pit := l.pitTrace()
	out = append(out, slipped(l, probe)...)
	if since, dead := deadFire(l, pit); dead {
		out = append(out, Doubt{DeadFire, fmt.Sprintf("The pit has been %.0f C or more under its set point for %.0f minutes: look at the fire.", coldPit, (l.Now-since)/60), since, true})
	}
	if last := usable(l.Probe, l.Now); len(last) > 0 && l.Now-last[len(last)-1].Time > silentFor {
		since := last[len(last)-1].Time
		out = append(out, Doubt{SilentProbe, fmt.Sprintf("The probe has said nothing for %.0f minutes.", (l.Now-since)/60), since, false})
	}
	return out
}

// slipped finds a jump that stays: a core moves by a degree or two in five minutes.
func slipped(l Log, probe []Sample) []Doubt {
	for i := len(probe) - 1; i > 0; i-- {
		before, after := probe[i-1], probe[i]
		if after.Time-before.Time > 2*jumpBlock || math.Abs(after.C-before.C) < jump {
			continue
		}
		if liquid(l, before.Time, after.Time) || mended(probe[i:], before.C) {
			continue
		}
		how := "up"
		if after.C < before.C {
			how = "down"
		}
		return []Doubt{{SlippedProbe, fmt.Sprintf("The probe jumped %s by %.0f C within five minutes: it slipped, or it was moved. Push it back to the middle.", how, math.Abs(after.C-before.C)), after.Time, true}}
	}
	return nil
}

// liquid is whether something was poured or sprayed on between two times.
func liquid(l Log, from, to float64) bool {
	for _, s := range l.Stages {
		if s.Liquid > 0 && s.From >= from-jumpBlock && s.From <= to {
			return true
		}
	}
	return false
}

// mended is whether a trace came back to where it was.
func mended(after []Sample, before float64) bool {
	last := after[len(after)-1]
	return len(after) > 2 && last.C > before-jump/2 && math.Abs(last.C-after[len(after)-2].C) < jump/2
}

// deadFire is since when the pit has been too cold and not coming back.
func deadFire(l Log, pit []Sample) (float64, bool) {
	cold := func(s Sample) bool {
		set, since := l.setAt(s.Time)
		return s.C < set-coldPit && (since == 0 || s.Time > since+settling)
	}
	i := len(pit)
	for i > 0 && cold(pit[i-1]) {
		i--
	}
	if i == len(pit) || i == 0 { // warm, or never lit: the cut went on a cold pit
		return 0, false
	}
	since, last := pit[i].Time, pit[len(pit)-1]
	rising := len(pit)-i > 1 && last.C > pit[len(pit)-2].C+2
	return since, l.Now-since >= coldFor && !rising
}

// Doubts are those of the log and those of the fit.
func (c *Calibration) Doubts() []Doubt {
	out := Doubts(c.log)
	if c.log.Now < earliestJudge || len(out) > 0 {
		return out
	}
	switch {
	case c.fit.misfit > strayFit:
		out = append(out, Doubt{SlippedProbe, "The probe does not read as the middle of a cut would in this pit: check where it sits.", c.log.Now, true})
	case math.Abs(c.best[thickness]) > 2.6 || c.fit.distance > farGuess:
		faster := "faster"
		if c.best[thickness] > 0 {
			faster = "slower"
		}
		out = append(out, Doubt{WrongCut, fmt.Sprintf("This cut warms %s than its kind, weight and thickness say: check what was written down, and where the probe sits.", faster), c.log.Now, false})
	}
	return out
}
