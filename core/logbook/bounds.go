package logbook

import (
	"fmt"
	"slices"
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

// Days of a log about a cook's table: what lies outside is asked about.
const (
	daysBefore = 72 * time.Hour
	daysAfter  = 48 * time.Hour
)

// Outside counts the readings of a log that lie far from a cook's table, and says from when
// to when they are.
func (l *Log) Outside(serve time.Time) (n int, from, to time.Time) {
	for _, c := range l.Columns {
		for _, r := range c.Readings {
			if near(r.At, serve) {
				continue
			}
			if n++; n == 1 || r.At.Before(from) {
				from = r.At
			}
			if r.At.After(to) {
				to = r.At
			}
		}
	}
	return n, from, to
}

// LeaveOutside takes the readings out that lie far from a cook's table.
func (l *Log) LeaveOutside(serve time.Time) {
	for i := range l.Columns {
		c := &l.Columns[i]
		c.Readings = slices.DeleteFunc(c.Readings, func(r Reading) bool { return !near(r.At, serve) })
	}
}

func near(t, serve time.Time) bool {
	return !t.Before(serve.Add(-daysBefore)) && !t.After(serve.Add(daysAfter))
}

// Ahead is how far after now a reading may lie: clocks differ by that.
const Ahead = 2 * time.Minute

// After counts the readings of a log that lie after now, and says the last of them.
func (l *Log) After(now time.Time) (n int, last time.Time) {
	for _, c := range l.Columns {
		for i := len(c.Readings) - 1; i >= 0 && c.Readings[i].At.After(now.Add(Ahead)); i-- {
			n++
			if at := c.Readings[i].At; at.After(last) {
				last = at
			}
		}
	}
	return n, last
}

// LeaveAfter takes out the readings that lie after now.
func (l *Log) LeaveAfter(now time.Time) {
	for i := range l.Columns {
		c := &l.Columns[i]
		c.Readings = slices.DeleteFunc(c.Readings, func(r Reading) bool { return r.At.After(now.Add(Ahead)) })
	}
}

// LikelyZone is the zone in which no reading of a log lies after now: UTC, in which many
// loggers write, else the nearest to the east by whole hours. Empty where none is, or where the file
// itself says its zone.
func (l *Log) LikelyZone(zone *time.Location, now time.Time) string {
	n, last := l.After(now)
	if n == 0 || !l.Zoned {
		return ""
	}
	_, used := last.In(zone).Zone()
	ahead := last.Sub(now.Add(Ahead))
	needed := time.Duration(used)*time.Second + ahead // the least offset that will do
	if needed <= 0 {
		return "UTC"
	}
	hours := int((needed + time.Hour - 1) / time.Hour)
	if hours > 14 { // the easternmost place
		return ""
	}
	return fmt.Sprintf("+%02d:00", hours)
}
