package pit

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/fault"
)

// HolderSource is whose rules a calibration goes by.
const HolderSource = "Covered pan of water as a stand-in for meat; first order lag with on/off ripple by least squares; this barn's rules of passing"

const (
	// EnoughC is how well the rest must be known to stop: 2 F, 9 times in 10.
	EnoughC = 2 / 1.8
	// PassC is how far from its target a holder may come to rest: 3 F.
	PassC = 3 / 1.8

	withinC     = 1 / 1.8 // it is as good as there
	sure        = 0.90
	worthless   = 0.25 // a time constant known no better tells nothing
	mostHours   = 72.0
	leastGain   = 0.3
	mostGain    = 3.0
	shortRipple = 4.0 / 60 // h, the periods that are looked for
	longRipple  = 1.5
)

// Setting is a dial and where it came to rest.
type Setting struct {
	DialC    float64 `json:"dial_c"`
	SettlesC float64 `json:"settles_c"`
}

// PanInput is a covered pan of water in a holder, read since it was put in.
type PanInput struct {
	DialC   float64   `json:"dial_c"`
	TargetC float64   `json:"target_c"`
	FloorC  float64   `json:"floor_c"` // the hot-holding limit
	Hours   []float64 `json:"t_hours"`
	C       []float64 `json:"pan_c"`
	Before  []Setting `json:"before"`                // known settings, latest last
	LowestC *float64  `json:"lowest_dial_c"`         // that the dial goes to; nil is not known
	StepC   float64   `json:"dial_step_c,omitempty"` // 0 is any
}

// Estimate is where the pan comes to rest, as known after so many hours.
type Estimate struct {
	Hours float64 `json:"hours"`
	C     float64 `json:"c"`
	Half  float64 `json:"plus_minus_c"` // 9 times in 10
}

// PanOutput is what is known so far. What cannot be told yet is nil.
type PanOutput struct {
	Known     bool       `json:"known"`
	Why       string     `json:"why"` // it is not
	Settles   *Estimate  `json:"settles"`
	Hourly    []Estimate `json:"hourly"`
	NowC      float64    `json:"now_c"`
	ClimbC    *float64   `json:"climb_c_per_h"`
	TauH      *float64   `json:"tau_h"`
	FromC     *float64   `json:"begins_c"` // where the fitted curve begins
	RippleC   *float64   `json:"ripple_c"` // peak to peak
	PeriodMin *float64   `json:"ripple_min"`
	LowC      *float64   `json:"low_c"`   // the rest less half the ripple
	WorstC    *float64   `json:"worst_c"` // and less what is not known
	OffDialC  *float64   `json:"off_dial_c"`
	WithinH   *float64   `json:"within_1_f_after_h"`
	StopNow   bool       `json:"stop_now"`
	Passes    bool       `json:"passes"` // at this dial, for the target
	Gain      float64    `json:"gain"`
	GainKnown bool       `json:"gain_known"`
	NextC     *float64   `json:"next_dial_c"`
	TooLow    bool       `json:"dial_too_low"` // the next would be under the lowest
	Words     []string   `json:"words"`
}

// PanOf tells where a holder comes to rest, while the pan is still warming.
func PanOf(in PanInput) (PanOutput, error) {
	var wrong fault.List
	for _, c := range []struct {
		field string
		c     float64
	}{{"dial_c", in.DialC}, {"target_c", in.TargetC}, {"floor_c", in.FloorC}} {
		if !(c.c >= 20 && c.c <= 150) {
			wrong.Add(c.field, fmt.Sprintf("%g C is no temperature of a holder", c.c), "give 20 to 150 C")
		}
	}
	if len(in.Hours) != len(in.C) || len(in.C) == 0 {
		wrong.Add("pan_c", fmt.Sprintf("there are %d readings at %d times", len(in.C), len(in.Hours)), "give each with its time")
	}
	for i, h := range in.Hours {
		if !(h >= 0 && h <= mostHours) || i > 0 && h < in.Hours[i-1] || i < len(in.C) && !(in.C[i] > -60 && in.C[i] < 200) {
			wrong.Add(fmt.Sprintf("t_hours[%d]", i), "it is no reading of a pan, or out of order",
				"give -60 to 200 C, at 0 to 72 h after it was put in")
			break
		}
	}
	if err := wrong.Err(); err != nil {
		return PanOutput{}, err
	}
	out := PanOutput{Gain: 1, Hourly: []Estimate{}, Words: []string{}, NowC: in.C[len(in.C)-1]}
	last := in.Hours[len(in.Hours)-1]
	for h := 1.0; h < last; h++ {
		n, _ := slices.BinarySearch(in.Hours, h+1e-9)
		if r, ok := settle(in.Hours[:n], in.C[:n]); ok {
			out.Hourly = append(out.Hourly, r.estimate(h))
		}
	}
	r, ok := settle(in.Hours, in.C)
	if !ok {
		out.Why = "It does not bend yet: leave the pan in."
		return out, nil
	}
	out.Known = true
	out.tell(in, r, last)
	return out, nil
}

// rest is a fit with the ripple taken out of it.
type rest struct {
	Fit
	peakToPeak, period float64 // C, h; period 0: none is told apart from noise
}

func (r rest) estimate(h float64) Estimate { return Estimate{h, r.E, r.HalfWidth(sure)} }

// settle fits the curve and the ripple in turn: each is told from what the other leaves.
func settle(t, y []float64) (r rest, ok bool) {
	clean := slices.Clone(y)
	for range 3 {
		f, err := FitEquilibrium(t, clean, false)
		if err != nil || !f.Converged || !(f.TauSE/f.Tau <= worthless) {
			return rest{}, false
		}
		r.Fit = f
		left := make([]float64, len(y))
		for i := range y {
			left[i] = y[i] - f.At(t[i])
		}
		r.peakToPeak = swing(left)
		w, a, b := ripple(t, left)
		if r.period = 0; w == 0 {
			break
		}
		r.period = 2 * math.Pi / w
		for i := range y {
			clean[i] = y[i] - a*math.Sin(w*t[i]) - b*math.Cos(w*t[i])
		}
	}
	return r, true
}

// swing is the range of 19 in 20 of the residuals.
func swing(left []float64) float64 {
	s := slices.Clone(left)
	slices.Sort(s)
	return stat.Quantile(0.975, stat.Empirical, s, nil) - stat.Quantile(0.025, stat.Empirical, s, nil)
}

// ripple is the sine that takes most out of residuals; none where it takes less than half.
func ripple(t, left []float64) (w, a, b float64) {
	hours := t[len(t)-1] - t[0]
	// At least two periods are seen, and four readings of each.
	shortest := math.Max(shortRipple, 4*hours/float64(len(t)))
	longest := math.Min(longRipple, hours/2)
	if shortest >= longest {
		return 0, 0, 0
	}
	var total float64
	for _, v := range left {
		total += v * v
	}
	step := 0.1 / hours
	best, at := 0.0, 0.0
	for f := 1 / longest; f <= 1/shortest; f += step {
		if took, _, _ := sine(t, left, 2*math.Pi*f); took > best {
			best, at = took, f
		}
	}
	if best < 0.5*total {
		return 0, 0, 0
	}
	w = 2 * math.Pi * golden(at-step, at+step, func(f float64) float64 {
		took, _, _ := sine(t, left, 2*math.Pi*f)
		return -took
	})
	_, a, b = sine(t, left, w)
	return w, a, b
}

// sine is how much of the residuals' squares a sin(w t) + b cos(w t) takes.
func sine(t, left []float64, w float64) (took, a, b float64) {
	var ss, cc, sc, sy, cy float64
	for i, x := range t {
		s, c := math.Sincos(w * x)
		ss, cc, sc, sy, cy = ss+s*s, cc+c*c, sc+s*c, sy+s*left[i], cy+c*left[i]
	}
	det := ss*cc - sc*sc
	if det <= 0 {
		return 0, 0, 0
	}
	a, b = (sy*cc-cy*sc)/det, (cy*ss-sy*sc)/det
	return a*sy + b*cy, a, b
}

func (o *PanOutput) tell(in PanInput, r rest, now float64) {
	e := r.estimate(now)
	low := e.C - r.peakToPeak/2
	o.Settles, o.TauH, o.FromC, o.RippleC = &e, ptr(r.Tau), ptr(r.Y0), ptr(r.peakToPeak)
	o.LowC, o.WorstC, o.OffDialC = &low, ptr(low-e.Half), ptr(e.C-in.DialC)
	o.ClimbC = ptr((r.E - r.At(now)) / r.Tau)
	if r.period > 0 {
		o.PeriodMin = ptr(60 * r.period)
	}
	if gap := math.Abs(r.Y0 - r.E); gap > withinC {
		o.WithinH = ptr(r.Tau * math.Log(gap/withinC))
	}
	o.StopNow = e.Half <= EnoughC
	o.Passes = math.Abs(e.C-in.TargetC) <= PassC && low >= in.FloorC
	o.next(in, e.C)
	o.say(in, e, low)
}

// next is the dial that should bring it to its target. What one on the dial does is known
// from two settings; until then it counts as one.
func (o *PanOutput) next(in PanInput, settles float64) {
	for _, s := range slices.Backward(in.Before) {
		if math.Abs(s.DialC-in.DialC) < 0.5 {
			continue
		}
		if g := (settles - s.SettlesC) / (in.DialC - s.DialC); g >= leastGain && g <= mostGain {
			o.Gain, o.GainKnown = g, true
		}
		break
	}
	next := in.DialC + (in.TargetC-settles)/o.Gain
	if in.StepC > 0 {
		next = in.StepC * math.Round(next/in.StepC)
	}
	o.TooLow = in.LowestC != nil && next < *in.LowestC
	o.NextC = &next
}

func (o *PanOutput) say(in PanInput, e Estimate, low float64) {
	say := func(format string, args ...any) { o.Words = append(o.Words, fmt.Sprintf(format, args...)) }
	if o.StopNow {
		say("You can stop now: it settles at {C:%.2f}, give or take {dC:%.2f}.", e.C, e.Half)
	} else {
		say("It will settle at {C:%.2f}, give or take {dC:%.2f}. Leave the pan in.", e.C, e.Half)
	}
	switch {
	case o.Passes:
		say("At this dial it holds {C:%.2f}, and its low swing of {C:%.2f} is over the floor.", in.TargetC, low)
	case o.TooLow:
		say("The dial does not go so low as {C:%.2f}. Make the target {C:%.2f}, open a vent, put a spacer in the door, or take another holder.",
			*o.NextC, e.C)
	default:
		say("Set the dial to {C:%.2f} for {C:%.2f}.", *o.NextC, in.TargetC)
		if !o.GainKnown {
			say("Until it is read there, one on the dial counts as one.")
		}
	}
	if low < in.FloorC {
		say("Its low swing is {C:%.2f}, under the floor of {C:%.2f}: do not hold at this dial.", low, in.FloorC)
	}
}
