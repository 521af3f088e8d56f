package safety

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// AfterSource says where the limits after cooking come from.
const AfterSource = "FDA Food Code 2022, 3-501.14 (cooling), 3-501.16 (hot holding), 3-501.19 (time as a control), 3-403.11 (reheating). Check the current edition and your local code."

var (
	timedHoldC = units.FToC(130) // roasts of red meat that were cooked by time
	coolFromC  = units.FToC(135)
	coolMidC   = units.FToC(70)
	coldC      = units.FToC(41)
	boardC     = units.FToC(70)
	coolerC    = units.FToC(100) // the air in a closed cooler, at least
	warmedC    = units.FToC(90)  // over it what had been cooled is being reheated (ours)
)

// Times after cooking.
const (
	afterWatch     = 2 * time.Hour
	afterWatchWarm = time.Hour // in air above 90 F
	afterLimit     = 4 * time.Hour
	coolMidWithin  = 2 * time.Hour
	coldWithin     = 6 * time.Hour
	reheatWithin   = 2 * time.Hour
	swing          = 30 * time.Minute // over which a holder's lowest counts
	heldOn         = 2 * time.Hour    // for which a holder that was hot before and after counts as hot
	stillCold      = 0.5              // C over 41 F that a fridge's door may let in (ours)
	bestRest       = 10 * time.Hour   // in which a wrapped piece in a closed cooler comes to a third of what it was over 90 F (ours)
	boilsC         = 100.0            // what nobody read was no hotter
	nearAirC       = 0.5              // nobody reads a piece colder than the air around it, but for so much (ours)
)

// After is the time of a cooked piece under the holding limit, up to the plate.
type After struct {
	Known    bool    `json:"known"` // it was cooked
	LimitC   float64 `json:"limit_c"`
	UnderS   float64 `json:"under_s"`   // measured under the limit
	UnknownS float64 `json:"unknown_s"` // between readings, after which it is hotter than it can have stayed
	UnreadS  float64 `json:"unread_s"`  // at the end, of which nothing is known
	ByHolder bool    `json:"by_holder"`
	Warn     bool    `json:"warn"`    // two hours, one in hot air, the unread ones with them
	Over     bool    `json:"over"`    // four hours: thrown away
	Unknown  bool    `json:"unknown"` // with the unknown hours it may be four
	Unread   bool    `json:"unread"`  // with the unread it may be four hours
	Cold     bool    `json:"cold"`    // chilled by the cooling rule, and stayed so
	Slow     string  `json:"slow"`    // how the cooling rule was missed, in words; empty: it was not, or it was not chilled
	Reheat   bool    `json:"reheat"`  // was cooled and warmed up again without reaching the reheating line in time
}

// AfterInput is what is known of a piece once it was cooked. Traces are calm and in
// order of time.
type AfterInput struct {
	Course course.Course
	Places [][]logbook.Point // of the piece, slices included
	From   time.Time         // when it was cooked
	To     time.Time         // when the last of it was eaten, or now
	Timed  bool              // red meat, cooked by time and temperature alone
	Lines  Lines
}

// AfterOf runs the clock. The piece's own coldest place decides; where nothing of it
// was read for over five minutes, the lowest of its holder in each half hour does. A
// gap counts as the worse of its ends, but for one in which it rested by itself.
func AfterOf(in AfterInput) After {
	a := After{Known: true, LimitC: in.Lines.HoldC}
	if in.Timed {
		a.LimitC = timedHoldC
	}
	w := walk{limit: a.LimitC, reheat: in.Lines.ReheatC, between: in.under}
	points, byHolder := coldest(in)
	a.ByHolder = byHolder
	var unknown time.Duration
	for i, p := range points {
		before := points[max(i-1, 0)]
		w.follow(before.Point, p.Point, in.Course.Warmed)
		if i == 0 {
			before = known{Point: logbook.Point{At: in.From, C: boilsC}}
		}
		unknown += in.unknown(before, p, a.LimitC)
	}
	last := logbook.Point{At: in.From, C: a.LimitC}
	if n := len(points); n > 0 {
		last = points[n-1].Point
	}
	if w.cold { // it keeps until it is taken out
		if last.At = leaves(in.Course.Warmed, last.At, in.To); last.At.Before(in.To) {
			w.cold = false
		}
	}
	if tail := in.To.Sub(last.At); tail > 0 && !w.cold {
		if last.C < a.LimitC {
			w.under += tail
		} else {
			a.UnreadS = tail.Seconds()
		}
	}
	a.UnderS, a.UnknownS = w.under.Seconds(), unknown.Seconds()
	worst := a.UnderS + a.UnknownS + a.UnreadS
	watch := afterWatch
	if OutLimit(in.Course.AirC) < 2*time.Hour {
		watch = afterWatchWarm
	}
	a.Slow = w.slow
	a.Cold, a.Reheat = w.cold, w.cooled && w.warmed
	a.Over = w.lost || w.under >= afterLimit
	a.Unknown = !a.Over && a.UnderS+a.UnknownS >= afterLimit.Seconds()
	a.Unread = !a.Over && !a.Unknown && worst >= afterLimit.Seconds()
	a.Warn = worst >= watch.Seconds()
	return a
}

// unknown are the hours between two readings, both at or over the limit, of which the second
// is hotter than the best rest can have left the piece: something warmed it, and before that
// it may have been cold. What stood hot by itself all the while has none, nor what lay in a
// holder that was measured, or calibrated; one that only heats counts for two hours.
func (in AfterInput) unknown(a, b known, limitC float64) time.Duration {
	off := in.Course.Pull
	from := a.At
	if off.After(from) {
		from = off
	}
	hours := b.At.Sub(from)
	if off.IsZero() || hours <= time.Duration(LongestGapS)*time.Second || min(a.C, b.C) < limitC {
		return 0
	}
	hours -= in.Course.Boxed(from, b.At, heldOn)
	if hours <= 0 || b.holder || a.holder && hours <= heldOn {
		return 0
	}
	if b.C <= warmedC+(a.C-warmedC)*math.Exp(-b.At.Sub(from).Hours()/bestRest.Hours()) {
		return 0
	}
	return hours
}

// under is how much of the time between two readings a piece was under the limit. Where nothing
// warmed it in a gap, it cooled as an exponential through both ends towards the air around it:
//
//	T(t) = A + (a - A) exp(-k t)
func (in AfterInput) under(a, b logbook.Point, limitC float64) time.Duration {
	whole := b.At.Sub(a.At)
	if min(a.C, b.C) >= limitC {
		return 0
	}
	from := a.At
	if in.Course.Pull.After(from) {
		from = in.Course.Pull
	}
	rested := b.At.Sub(from)
	if a.C < limitC || in.Course.Pull.IsZero() || whole <= time.Duration(LongestGapS)*time.Second || rested <= 0 || in.Course.Boxed(from,
		b.At, whole) > 0 {
		return whole
	}
	air := boardC
	if in.Course.AirC != nil {
		air = max(air, *in.Course.AirC)
	}
	if in.Course.Closed(from, b.At) {
		air = max(air, coolerC)
	}
	air = min(air, b.C-nearAirC)
	hot := math.Log((a.C-air)/(limitC-air)) / math.Log((a.C-air)/(b.C-air))
	return time.Duration(float64(rested) * (1 - hot))
}

// walk is the state of a piece as it rests, is held, chilled and reheated.
type walk struct {
	limit, reheat float64
	between       func(a, b logbook.Point, limitC float64) time.Duration // how much of it was under
	under         time.Duration
	fell          time.Time     // last seen at 135 F or over
	before        time.Duration // under the limit, when it fell
	mid           bool          // at 70 F within two hours of it
	cold          bool          // at 41 F within six, and since
	cooled        bool          // at 70 F or under: hot again only by reheating
	leftCold      time.Time     // last seen at 70 F or under
	warmed        bool          // over 90 F since
	lost          bool          // four hours were over before it was reheated
	slow          string        // how a chill missed the rule
}

// follow steps from one reading to the next. What was chilled by the rule keeps until it is
// taken out, or put to heat again, where that is on record.
func (w *walk) follow(a, b logbook.Point, warmed []time.Time) {
	if out := leaves(warmed, a.At, b.At); w.cold && out.Before(b.At) {
		kept := logbook.Point{At: out, C: min(a.C, coldC)}
		w.step(a, kept)
		a = kept
	}
	w.step(a, b)
}

func tooSlow(took time.Duration, c float64, within time.Duration) string {
	hours := func(d time.Duration) string { return fmt.Sprintf("%d:%02d", int(d.Hours()), int(d.Minutes())%60) }
	return fmt.Sprintf("from {C:%.4f} to {C:%.4f} it took %s, and %s is the most", coolFromC, c, hours(took.Round(time.Minute)), hours(within))
}

// leaves is when a piece left the cold after a moment; where it is not on record, the end.
func leaves(warmed []time.Time, after, end time.Time) time.Time {
	for _, t := range warmed {
		if t.After(after) && t.Before(end) {
			return t
		}
	}
	return end
}

func (w *walk) step(a, b logbook.Point) {
	if w.fell.IsZero() {
		w.fell = a.At
	}
	w.cold = w.cold && b.C <= coldC+stillCold
	if !w.cold {
		w.under += w.between(a, b, w.limit)
	}
	if b.C >= coolFromC {
		w.fell, w.before, w.mid = b.At, w.under, false
	}
	took := b.At.Sub(w.fell)
	if b.C <= coolMidC {
		w.mid = w.mid || took <= coolMidWithin
		if !w.mid && w.slow == "" {
			w.slow = tooSlow(took, coolMidC, coolMidWithin)
		}
		w.cooled, w.warmed, w.leftCold = true, false, b.At
	}
	if b.C <= coldC && w.mid && took <= coldWithin && !w.cold {
		w.cold, w.under = true, w.before
	}
	if b.C <= coldC && took > coldWithin && !w.cold && w.slow == "" {
		w.slow = tooSlow(took, coldC, coldWithin)
	}
	if !w.cooled {
		return
	}
	w.warmed = w.warmed || b.C > warmedC
	if b.C >= w.reheat-sameC && b.At.Sub(w.leftCold) <= reheatWithin {
		*w = walk{limit: w.limit, reheat: w.reheat, between: w.between, fell: b.At, lost: w.lost || w.under >= afterLimit}
	}
}

// known is what is known of a piece at a moment: of itself, or of the holder it lay in.
type known struct {
	logbook.Point
	holder bool
}

// coldest puts the places of a piece together: at each reading the lowest of what was
// read within five minutes; in gaps longer than that, the holder's.
func coldest(in AfterInput) (merged []known, byHolder bool) {
	gap := time.Duration(LongestGapS) * time.Second
	type reading struct {
		logbook.Point
		place int
	}
	var all []reading
	for i, trace := range in.Places {
		for _, p := range trace {
			if !p.At.Before(in.From) && !p.At.After(in.To) {
				all = append(all, reading{p, i})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b reading) int { return a.At.Compare(b.At) })
	var out []known
	latest := map[int]logbook.Point{}
	for _, r := range all {
		latest[r.place] = r.Point
		c := r.C
		for _, p := range latest {
			if r.At.Sub(p.At) <= gap {
				c = min(c, p.C)
			}
		}
		out = append(out, known{Point: logbook.Point{At: r.At, C: c}})
	}
	lows := lowest(in.Course.Holder(), in.From, in.To)
	before := in.From
	for i := range len(out) + 1 {
		to := in.To
		if i < len(out) {
			to = out[i].At
		}
		if to.Sub(before) > gap {
			for _, p := range lows {
				if p.At.After(before) && p.At.Before(to) || i == len(out) && p.At.Equal(to) {
					merged, byHolder = append(merged, known{p, true}), true
				}
			}
		}
		if i < len(out) {
			merged, before = append(merged, out[i]), out[i].At
		}
	}
	return merged, byHolder
}

// lowest is the low swing of a holder: the lowest of every half hour, at its end.
func lowest(trace []logbook.Point, from, to time.Time) (out []logbook.Point) {
	var begun time.Time
	for _, p := range trace {
		if p.At.Before(from) || p.At.After(to) {
			continue
		}
		if n := len(out); n > 0 && p.At.Sub(begun) < swing {
			out[n-1] = logbook.Point{At: p.At, C: min(out[n-1].C, p.C)}
			continue
		}
		begun = p.At
		out = append(out, p)
	}
	return out
}
