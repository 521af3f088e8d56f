package logbook

import (
	"fmt"
	"slices"
	"time"

	"whitebarn/core/fault"
)

// Event is an act on one cut.
type Event struct {
	Act Act
	At  time.Time
}

// Fire is a stretch of a cut on the fire; a moment that has not come, or was not
// logged, is zero.
type Fire struct{ On, Pull time.Time }

// FiresOf are the stretches of a cut on the fire, in order: on again after it was pulled
// is another fire. What two hands logged of the same counts once, the first.
func FiresOf(events []Event) []Fire {
	var of []Event
	for _, e := range events {
		if e.Act == On || e.Act == Pull {
			of = append(of, e)
		}
	}
	slices.SortStableFunc(of, func(a, b Event) int { return a.At.Compare(b.At) })
	var out []Fire
	open := false
	for _, e := range of {
		switch {
		case e.Act == On && !open:
			out, open = append(out, Fire{On: e.At}), true
		case e.Act == Pull && open:
			out[len(out)-1].Pull, open = e.At, false
		case e.Act == Pull && len(out) == 0:
			out = append(out, Fire{Pull: e.At})
		}
	}
	return out
}

// CookOf is the time from first on the grate to last pulled. ok is false until both are
// there, in order.
func CookOf(events []Event) (on, pull time.Time, ok bool) {
	for _, f := range FiresOf(events) {
		if on.IsZero() {
			on = f.On
		}
		pull = f.Pull
	}
	return on, pull, !on.IsZero() && pull.After(on)
}

// CheckEvent refuses an act on a cut that contradicts its other events: a second on while
// it is on, a pull of what is not on. What may well be meant and does not fit, as a spritz
// of what was pulled, is a doubt in words: a person says whether it is so.
func CheckEvent(e Event, others []Event) (doubt string, err error) {
	fires := FiresOf(others)
	var was Fire // the last that began before it
	for _, f := range fires {
		if begin := f.On; !begin.After(e.At) && !(begin.IsZero() && f.Pull.After(e.At)) {
			was = f
		}
	}
	on := !was.On.IsZero() && (was.Pull.IsZero() || was.Pull.After(e.At))
	switch {
	case e.Act == On && on:
		return "", fault.New("act", "it is on since "+moment(was.On), "correct that entry, or void it first")
	case e.Act == On && !was.Pull.IsZero() && was.On.IsZero():
		return "", fault.New("at", "it was pulled at "+moment(was.Pull)+", before this", "give an earlier time, or correct the pull")
	case e.Act == On && was == (Fire{}) && len(fires) > 0 && !fires[0].On.IsZero():
		return "", fault.New("act", "it is on since "+moment(fires[0].On), "correct that entry, or void it first")
	case e.Act == Pull && len(fires) > 0 && !fires[0].On.IsZero() && was == (Fire{}):
		return "", fault.New("at", "it went on at "+moment(fires[0].On)+", not before this", "give a later time, or correct the on")
	case e.Act == Pull && e.At.Equal(was.On):
		return "", fault.New("at", "it went on at "+moment(was.On)+", not before this", "give a later time, or correct the on")
	case e.Act == Pull && !was.Pull.IsZero():
		return "", fault.New("act", "it was pulled at "+moment(was.Pull), "correct that entry, or void it first")
	case e.Act == On && !was.Pull.IsZero() && !chilled(others, was.Pull, e.At):
		return fmt.Sprintf("It was pulled at %s and not chilled since: back on the fire?", moment(was.Pull)), nil
	}
	if e.Act == Wrap && on {
		if at, wrapped := wrappedAt(others, was.On, e.At); wrapped {
			return fmt.Sprintf("It is wrapped since %s: another wrap around it?", moment(at)), nil
		}
	}
	if row, _ := e.Act.Row(); row.OnFire && !on && len(fires) > 0 {
		if was.Pull.IsZero() {
			return fmt.Sprintf("It went on at %s, after this.", moment(fires[0].On)), nil
		}
		return fmt.Sprintf("It was pulled at %s.", moment(was.Pull)), nil
	}
	return "", nil
}

// wrappedAt is when what went on at a moment was wrapped last, if it still is at another.
func wrappedAt(events []Event, on, at time.Time) (since time.Time, wrapped bool) {
	for _, e := range events {
		if (e.Act == Wrap || e.Act == Unwrap) && !e.At.Before(on) && !e.At.After(at) && !e.At.Before(since) {
			since, wrapped = e.At, e.Act == Wrap
		}
	}
	return since, wrapped
}

func chilled(events []Event, from, to time.Time) bool {
	return slices.ContainsFunc(events, func(e Event) bool { return e.Act == Chill && !e.At.Before(from) && !e.At.After(to) })
}
