package plan

import (
	"fmt"
	"time"

	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// ofHands finds tasks with no hand, and work at night.
func (w *work) ofHands() {
	if len(w.in.People) > 0 {
		for i, t := range w.out.Tasks {
			if t.Person >= 0 {
				continue
			}
			text := fmt.Sprintf("At %s nobody is there: %s.", w.clock(t.At.Middle), t.Words)
			for _, o := range w.out.Tasks[:i] {
				if o.Person >= 0 && t.At.Middle.Before(o.At.Middle.Add(seconds(o.ForS))) {
					text = fmt.Sprintf("At %s two things fall together for %s: %s and %s.", w.clock(t.At.Middle), w.in.People[o.Person].Name, o.Words, t.Words)
				}
			}
			w.conflict(FewHands, t.At.Middle, t.At.Middle.Add(seconds(t.ForS)), t.Arm, t.Pit, text, say("Ask one more hand for %s",
				w.clock(t.At.Middle)), say("Let one of the two wait ten minutes"))
		}
	}
	w.ofNight()
}

// night counts the work at night were everything done earlier, but for the slicing.
func (w *work) night(earlier time.Duration) (n int, first, last time.Time, seconds float64) {
	for _, t := range w.out.Tasks {
		at := t.At.Middle.In(w.in.Serve.Location())
		if t.Act != ActSlice {
			at = at.Add(-earlier)
		}
		if !trial.AtNight(at) || w.ahead() && at.Before(w.in.Now) {
			continue
		}
		if n == 0 {
			first = at
		}
		last = at
		n++
		seconds += t.ForS
	}
	return n, first, last, seconds
}

func (w *work) ofNight() {
	n, first, last, now := w.night(0)
	if n == 0 {
		return
	}
	ways := []WayOut{}
	best, least := time.Duration(0), now
	for h := 30 * time.Minute; h <= 12*time.Hour; h += 30 * time.Minute {
		if _, _, _, s := w.night(h); s < least {
			best, least = h, s
		}
	}
	if hold := w.longestHold(); hold > 0 && best > 0 && w.ahead() {
		ways = append(ways, WayOut{Words: fmt.Sprintf("Hold %s: %s of night work is left", span(hold+best.Seconds()), span(least)), Do: SetHolds,
			ForS: hold + best.Seconds()})
	}
	best, least = 0, now
	for h := 30 * time.Minute; h <= 12*time.Hour; h += 30 * time.Minute {
		at := w.in.Serve.Add(h)
		if at.Hour() < mealsFrom || at.Hour() >= mealsTo {
			continue
		}
		if _, _, _, s := w.night(-h); s < least {
			best, least = h, s
		}
	}
	if best > 0 && w.ahead() {
		at := w.in.Serve.Add(best)
		ways = append(ways, WayOut{Words: fmt.Sprintf("Serve at %s: %s of night work is left", w.clock(at), span(least)), Do: MoveMeal, At: at})
	}
	w.conflict(NightWork, first, last, -1, -1, fmt.Sprintf("%s between 23:00 and 06:00, %s of work: the first at %s.",
		words.Capital(words.Plural(n, "task")), span(now), w.clock(first)), ways...)
}

// mealAt is the next time from here on at which people eat.
func mealAt(t time.Time) time.Time {
	t = t.Add(startStep).Truncate(startStep)
	switch {
	case t.Hour() < mealsFrom:
		return time.Date(t.Year(), t.Month(), t.Day(), mealsFrom, 0, 0, 0, t.Location())
	case t.Hour() >= mealsTo:
		return time.Date(t.Year(), t.Month(), t.Day()+1, mealsFrom, 0, 0, 0, t.Location())
	}
	return t
}

// People eat between these hours.
const (
	mealsFrom = 10
	mealsTo   = 22
)

func (w *work) longestHold() float64 {
	most := 0.0
	for _, l := range w.out.Lanes {
		if h := w.in.Arms[l.Arm].hold(); h != nil {
			s, _ := h.Fixed()
			most = max(most, s)
		}
	}
	return most
}
