package logbook

import (
	"fmt"
	"time"

	"whitebarn/core/fault"
)

// The years in which anything can have happened: a time outside is a clock that is not
// set, or a slip of the key.
var (
	firstTime = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)
	lastTime  = time.Date(2100, 1, 1, 0, 0, 0, 0, time.UTC)
)

// Room is how long before its table an act can belong to a cook.
const Room = 30 * 24 * time.Hour

// InYears says whether a time can have happened.
func InYears(t time.Time) bool { return !t.Before(firstTime) && t.Before(lastTime) }

// CheckTime refuses a time that cannot have happened, in the field of that name.
func CheckTime(field string, t time.Time) error {
	if InYears(t) {
		return nil
	}
	return fault.New(field, fmt.Sprintf("%s is no time of a cook", t.UTC().Format("2 Jan 2006 15:04")), "give a time from 2000 to 2100")
}

// CheckOfCook refuses a time that does not belong to a cook: not in its own days before
// the table, or still to come by its clock.
func CheckOfCook(field string, t, serve, now time.Time) error {
	if err := CheckTime(field, t); err != nil {
		return err
	}
	first := serve
	if now.Before(first) {
		first = now
	}
	switch {
	case t.After(now.Add(time.Minute)):
		return fault.New(field, t.UTC().Format("2 Jan 15:04")+" UTC is still to come", "give a time up to now")
	case t.Before(first.Add(-Room)):
		return fault.New(field, t.UTC().Format("2 Jan 2006 15:04")+" UTC is long before this cook",
			"give a time in the month before its table, or choose the right cook")
	}
	return nil
}
