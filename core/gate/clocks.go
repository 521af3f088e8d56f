package gate

import (
	"fmt"
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
)

// clocks run from the fridge to the plate.
func (r *Ruling) clocks(in Input) {
	calm := in.followed(r.Places)
	left := in.Left
	if left.IsZero() {
		left = in.On
	}
	before := in.beforeOn(left)
	until := earliest(in.knife(), in.plate)
	r.ComeUp = safety.ComeUpOf(joined(before, calm), left, in.On, until)
	r.Range = safety.DangerOf(calm, left, until, in.Lines.Window)
	if r.Range.Over {
		r.Warnings = append(r.Warnings, "Under {C:60} for "+clock(r.Range.ForS)+" since it left the fridge: a rule of thumb of the trade says 4:00.")
	}
	if r.ComeUp.Late && r.ComeUp.Bounded && in.Slowest != nil && in.Slowest.Shows() {
		r.ComeUp.Late, r.ComeUp.BySlowest = false, true
		r.Warnings = append(r.Warnings, "Its way up was not followed: that of the slowest piece of its pit shows it.")
	}
	r.comeUp(in)
	if in.Pull.IsZero() {
		return
	}
	from, timed := r.cooked(in, calm)
	after := safety.AfterInput{Course: in.Course, Places: in.toThePlate(), From: from, To: in.plate, Timed: timed, Lines: in.Lines}
	r.After = safety.AfterOf(after)
	r.after(in)
}

// followed are calm traces of the places that were read before the pull: one that was read first
// while it cooled tells nothing of the way up. Where there is none, all are.
func (in Input) followed(places []Shown) [][]logbook.Point {
	var all, early [][]logbook.Point
	for _, p := range places {
		all = append(all, p.calm)
		if in.Pull.IsZero() || len(p.calm) == 0 || p.calm[0].At.Before(in.Pull) {
			early = append(early, p.calm)
		}
	}
	if len(early) == 0 {
		return all
	}
	return early
}

// byReason is what opens whole cuts of red meat and fish.
const byReason = "It is whole meat: the pitmaster may give a reason."

// thrownAway is all that is left where nothing but a wrong entry opens the gate.
const thrownAway = "Throw it away. If an entry is wrong, correct it; a second hand signs."

// comeUp closes the gate on what warmed too slowly, or lay out too long.
func (r *Ruling) comeUp(in Input) {
	opens, remedy := ByReason, byReason
	if r.Minimum.Absolute {
		opens, remedy = ByVoiding, thrownAway
	}
	switch c := r.ComeUp; {
	case c.Late && c.Bounded:
		words := "It is not shown that it came from {C:10} to {C:54.4} within 6:00: nobody read it cold, and " + clock(c.ForS) + " went by since it left the fridge."
		r.stop(Stop{Key: "come-up", Words: words, Remedy: remedy, Opens: opens, Hard: true})
	case c.Late:
		words := "It took " + clock(c.ForS) + " from {C:10} to {C:54.4}; 6:00 is the most."
		r.stop(Stop{Key: "come-up", Words: words, Remedy: remedy, Opens: opens, Hard: true})
	}
	if limit := safety.OutLimit(in.AirC); in.Out > limit {
		words := fmt.Sprintf("It was out of the fridge for %s before the fire; %s is the most.", clock(in.Out.Seconds()), clock(limit.Seconds()))
		r.stop(Stop{Key: "out", Words: words, Remedy: remedy, Opens: opens, Hard: true})
	}
}

// after closes it on what stood too long under the holding limit.
func (r *Ruling) after(in Input) {
	a := r.After
	stop := func(key string, opens Opens, remedy, format string, v ...any) {
		r.stop(Stop{Key: key, Words: fmt.Sprintf(format, v...), Remedy: remedy, Opens: opens, Hard: true})
	}
	switch {
	case a.Over && a.Slow != "":
		words := "It was not chilled by the cooling rule: " + a.Slow + ". "
		stop("after", ByVoiding, thrownAway, "%sSo it was under {C:%.4f} for %s after cooking; 4:00 is thrown away, whatever the meat.",
			words, a.LimitC, clock(a.UnderS))
	case a.Over:
		stop("after", ByVoiding, thrownAway, "Under {C:%.4f} for %s after cooking; 4:00 is thrown away, whatever the meat.", a.LimitC, clock(a.UnderS))
	case a.Unknown:
		opens, remedy := ByReason, byReason
		if r.Minimum.Absolute {
			opens, remedy = ByRecord, "Say where it lay: what was read there and is entered later counts, and is marked so."
		}
		stop("unknown", opens, remedy, "Nobody read it for %s after cooking, and it reads hotter than it can have stayed by itself: with those hours it may have been under {C:%.4f} for 4:00.",
			clock(a.UnknownS), a.LimitC)
	case a.Unread:
		stop("unread", ByReading, "Read it now.",
			"Nothing was read of it for %s after cooking; with that it may have been under {C:%.4f} for 4:00.", clock(a.UnreadS), a.LimitC)
	case a.Warn:
		r.Warnings = append(r.Warnings, fmt.Sprintf("Up to %s under {C:%.4f} after cooking. At 4:00 it is thrown away.", clock(a.UnderS+a.UnknownS+a.UnreadS), a.LimitC))
	}
	if a.Reheat {
		stop("reheat", ByReading, "Heat it on and read it again, or leave it out.",
			"It had cooled and was warmed up again, and {C:%.4f} within 2:00 is not shown.", in.Lines.ReheatC)
	}
}

// cooked is when the first clock ended: every place at 140 F, or red meat held long
// enough under it; else the pull. Timed says it was held.
func (r *Ruling) cooked(in Input, calm [][]logbook.Point) (at time.Time, timed bool) {
	if hot := safety.DangerOf(calm, in.On, forever, safety.Under140); hot.Passed {
		return in.On.Add(hot.For), false
	}
	held := len(r.Places) > 0 && in.Meat == (safety.Meat{Species: safety.RedMeat, Handling: safety.Intact})
	for _, p := range r.Places {
		held = held && p.Share >= 1
		if held {
			at = later(at, *p.At)
		}
	}
	if held {
		return at, true
	}
	return in.Pull, false
}

// toThePlate are calm traces up to the plate: what was read of slices counts too, whatever
// their place is called and though nothing was read there before the knife.
func (in Input) toThePlate() [][]logbook.Point {
	var out [][]logbook.Point
	for _, p := range in.Places {
		p.Hand, _ = answered(p.Hand)
		trace := calmed(in.inside(within(p.Trace, in.On, in.plate), p.Hand))
		var hand []logbook.Point
		for _, h := range p.Hand {
			if h.C <= in.BoilsC+overBoilC && !h.At.Before(in.On) && !h.At.After(in.plate) {
				hand = append(hand, logbook.Point{At: h.At, C: h.C})
			}
		}
		out = append(out, merged(trace, hand))
	}
	return out
}

// beforeOn are the last readings of the places before the fire, which tell that they
// were cold then.
func (in Input) beforeOn(left time.Time) (out []logbook.Point) {
	for _, p := range in.Places {
		out = append(out, within(p.Trace, left, in.On.Add(-1))...)
	}
	return out
}

// joined puts the readings before the fire in front of every place.
func joined(before []logbook.Point, places [][]logbook.Point) [][]logbook.Point {
	slices.SortStableFunc(before, func(a, b logbook.Point) int { return a.At.Compare(b.At) })
	out := make([][]logbook.Point, len(places))
	for i, p := range places {
		out[i] = append(slices.Clone(before), p...)
	}
	return out
}

// merged puts two traces in order of time.
func merged(a, b []logbook.Point) []logbook.Point {
	out := append(slices.Clone(a), b...)
	slices.SortStableFunc(out, func(a, b logbook.Point) int { return a.At.Compare(b.At) })
	return out
}

func earliest(a, b time.Time) time.Time {
	if b.Before(a) {
		return b
	}
	return a
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// clock is a length of time as people say it: 4:05.
func clock(s float64) string {
	d := time.Duration(s * float64(time.Second)).Round(time.Minute)
	return fmt.Sprintf("%d:%02d", int(d.Hours()), int(d.Minutes())%60)
}
