package logbook

import (
	"regexp"
	"strconv"
	"strings"
	"time"
)

// Elapsed is what a log counts its time in from its start.
type Elapsed string

// What a log can count in.
const (
	Seconds Elapsed = "s"
	Minutes Elapsed = "min"
	Hours   Elapsed = "h"
)

// Values lists them.
func (Elapsed) Values() []string { return []string{string(Seconds), string(Minutes), string(Hours)} }

func (e Elapsed) step() time.Duration {
	return map[Elapsed]time.Duration{Seconds: time.Second, Minutes: time.Minute, Hours: time.Hour}[e]
}

func (e Elapsed) word() string {
	return map[Elapsed]string{Seconds: "seconds", Minutes: "minutes", Hours: "hours"}[e]
}

// countsUp says whether the first fields of lines are numbers from near nothing that never fall, as
// the seconds or minutes of a logger with no clock are.
func countsUp(lines []line, delimiter rune) bool {
	n, last := 0, 0.0
	for _, l := range lines {
		f, err := split(l.text, delimiter, nil)
		if err != nil || !counted(f) {
			continue
		}
		v, _ := strconv.ParseFloat(f[0], 64) // counted read it
		if v < last || n == 0 && v > mostAtStart {
			return false
		}
		n, last = n+1, v
	}
	return n > 1 && 5*n >= 4*(len(lines)-mostHead)
}

const (
	mostAtStart = 86400 // its first reading
	mostHead    = 10    // lines above the data
)

var countish = regexp.MustCompile(`^\d{1,8}(\.\d+)?$`)

// counted says whether a line begins with a number that can be a time since the start.
func counted(fields []string) bool { return len(fields) > 1 && countish.MatchString(fields[0]) }

var countHeads = map[string]Elapsed{
	"s": Seconds, "sec": Seconds, "secs": Seconds, "second": Seconds, "seconds": Seconds,
	"min": Minutes, "mins": Minutes, "minute": Minutes, "minutes": Minutes,
	"h": Hours, "hr": Hours, "hrs": Hours, "hour": Hours, "hours": Hours,
}

// countedIn finds what a log counts in: as its head says, else seconds where it goes
// past the minutes of a long day, else minutes. known is false for a guess.
func countedIn(head string, last float64) (e Elapsed, known bool) {
	for _, word := range strings.FieldsFunc(strings.ToLower(head), func(r rune) bool { return r < 'a' || r > 'z' }) {
		if e, ok := countHeads[word]; ok {
			return e, true
		}
	}
	if last > longestDay.Minutes() {
		return Seconds, false
	}
	return Minutes, false
}

const longestDay = 48 * time.Hour

// since reads times counted from a start, in the zone whose clock showed it.
func (r *reader) since(text func(line) string) {
	e := r.opts.Elapsed
	last, _ := strconv.ParseFloat(text(r.rows[len(r.rows)-1]), 64)
	if e == "" {
		known := false
		if e, known = countedIn(r.log.TimeColumns[0], last); !known {
			r.log.Questions = append(r.log.Questions, AskElapsed)
		}
	}
	r.log.TimeLayout = e.word() + " since its start"
	start := r.startOf()
	rows := r.rows[:0]
	for _, l := range r.rows {
		v, err := strconv.ParseFloat(text(l), 64)
		if err != nil || v*e.step().Hours() > mostPassed.Hours() {
			r.trouble(l, "is more than a month after its start")
			continue
		}
		rows = append(rows, l)
		r.at = append(r.at, start.Add(time.Duration(v*float64(e.step()))))
	}
	r.rows = rows
}

const mostPassed = 31 * 24 * time.Hour

// startOf is when a log that counts from its start began, as was said, else a day of no meaning.
func (r *reader) startOf() time.Time {
	if r.opts.Start.IsZero() {
		r.log.Questions = append(r.log.Questions, AskStart)
		return noDay
	}
	r.log.Zoned = true
	if at := instants(r.opts.Start, r.opts.Zone); len(at) > 0 {
		return at[0]
	}
	return r.opts.Start.UTC() // in the hour that the clocks leave out
}

// noDay is the day of a log that does not say its own.
var noDay = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

// fromNought takes times of day that begin at nought for times since a start that was said; where it was
// not, it is asked for beside the day.
func (r *reader) fromNought(stamps []stamp) bool {
	if len(stamps) == 0 || !r.opts.Day.IsZero() {
		return false
	}
	first := stamps[0].wall
	if first.Sub(noDay) >= time.Minute && r.opts.Start.IsZero() {
		return false
	}
	start := r.startOf()
	if r.opts.Start.IsZero() {
		return false
	}
	for _, s := range stamps {
		r.at = append(r.at, start.Add(s.wall.Sub(noDay)))
	}
	r.log.TimeLayout += " since its start"
	return true
}
