package logbook

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

// stamp is a time as written: an instant, or a wall-clock reading that needs a
// zone. The wall clock is kept as if it were UTC.
type stamp struct {
	instant time.Time
	wall    time.Time
}

// Layouts with an offset name an instant by themselves.
var instantLayouts = []string{
	"2006-01-02T15:04:05Z07:00", "2006-01-02 15:04:05Z07:00", "2006-01-02 15:04:05 -0700", "2006-01-02T15:04:05-0700", "2006-01-02T15:04Z07:00",
}

// Wall-clock layouts; Go reads fractions of a second after any seconds field.
var wallLayouts = []string{
	"2006-01-02 15:04:05", "2006-01-02T15:04:05", "2006-01-02 15:04", "2006-01-02T15:04", "2006/01/02 15:04:05", "2006/01/02 15:04",
	"2006-01-02 3:04:05 PM", "20060102 150405",
}

// Layouts whose first two numbers are a day and a month in either order; D
// stands for the first and M for the second.
var eitherLayouts = []string{
	"D/M/2006 15:04:05", "D/M/2006 15:04", "D/M/2006 3:04:05 PM", "D/M/2006 3:04 PM", "D.M.2006 15:04:05", "D.M.2006 15:04",
	"D-M-2006 15:04:05", "D-M-2006 15:04", "D/M/06 15:04:05", "D/M/06 15:04", "D.M.06 15:04:05", "D.M.06 15:04", "D/M/06 3:04:05 PM", "D/M/06 3:04 PM",
}

func expand(layout, order string) string {
	if order == "mdy" {
		return strings.NewReplacer("D", "1", "M/", "2/", "M.", "2.", "M-", "2-").Replace(layout)
	}
	return strings.NewReplacer("D", "2", "M/", "1/", "M.", "1.", "M-", "1-").Replace(layout)
}

var (
	epoch   = regexp.MustCompile(`^\d{9,13}(\.\d+)?$`)
	timeish = regexp.MustCompile(`^\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}|^\d{8} \d{6}$|^\d{9,13}(\.\d+)?$`)
	dateish = regexp.MustCompile(`^\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}$`)
	clocked = regexp.MustCompile(`(?i)^\d{1,2}:\d{2}(:\d{2}([.,]\d+)?)?( ?[AP]M)?$`)
)

// timeWidth is how many leading fields make up the time: 1, 2 for a date and a
// clock apart, 0 if the line does not begin with a time.
func timeWidth(fields []string) int {
	switch {
	case len(fields) > 1 && dateish.MatchString(fields[0]) && clocked.MatchString(fields[1]):
		return 2
	case len(fields) > 0 && timeish.MatchString(fields[0]) && !dateish.MatchString(fields[0]):
		return 1
	case len(fields) > 1 && clocked.MatchString(fields[0]):
		return 1
	}
	return 0
}

// spell writes Go's reference time the way a person names a layout.
var spell = strings.NewReplacer("2006", "YYYY", "06", "YY", "01", "MM", "02", "DD", "15", "hh", "04", "mm", "05", "ss",
	"Z07:00", "+hh:mm", "-0700", "+hhmm", "PM", "AM/PM", "1", "M", "2", "D", "3", "h")

// reader of times in one layout.
type layout struct {
	name      string // as shown to a person
	parse     func(string) (stamp, error)
	clockOnly bool // it says no day
}

// clockLayouts are times of day alone.
var clockLayouts = []string{"15:04:05", "15:04", "3:04:05 PM", "3:04 PM", "3:04:05PM", "3:04PM"}

// overMidnight gives times of day their days: the first is of the given day, and a clock that
// goes back by half a day or more has passed midnight.
func overMidnight(stamps []stamp, day time.Time) {
	if day.IsZero() {
		day = noDay
	}
	y, m, d := day.Date()
	first := time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
	days := 0
	var last time.Duration
	for i := range stamps {
		w := stamps[i].wall
		clock := time.Duration(w.Hour())*time.Hour + time.Duration(w.Minute())*time.Minute + time.Duration(w.Second())*time.Second + time.Duration(w.Nanosecond())
		if i > 0 && last-clock >= 12*time.Hour {
			days++
		}
		last = clock
		stamps[i].wall = first.AddDate(0, 0, days).Add(clock)
	}
}

func wallLayout(name, l string) layout {
	return layout{name: spell.Replace(name), parse: func(s string) (stamp, error) {
		t, err := time.Parse(l, strings.ToUpper(s))
		return stamp{wall: t}, err
	}}
}

func epochLayout() layout {
	return layout{name: "seconds since 1970", parse: func(s string) (stamp, error) {
		v, err := strconv.ParseFloat(s, 64)
		if v >= 1e11 {
			v /= 1000
		}
		return stamp{instant: time.UnixMicro(int64(v * 1e6)).UTC()}, err
	}}
}

// layoutOf finds the layout that reads most of the sample. ask is set when day
// and month could be either and nothing in the sample decides.
func layoutOf(sample []string, dateOrder string) (l layout, ask, ok bool) {
	reads := func(l layout) int {
		n := 0
		for _, s := range sample {
			if _, err := l.parse(s); err == nil {
				n++
			}
		}
		return n
	}
	best, most := layout{}, 0
	take := func(l layout) bool {
		n := reads(l)
		if n > most {
			best, most = l, n
			return true
		}
		return false
	}
	if slices.ContainsFunc(sample, epoch.MatchString) {
		take(epochLayout())
	}
	for _, name := range instantLayouts {
		take(layout{name: spell.Replace(name), parse: func(s string) (stamp, error) {
			t, err := time.Parse(name, s)
			return stamp{instant: t.UTC()}, err
		}})
	}
	for _, name := range wallLayouts {
		take(wallLayout(name, name))
	}
	for _, name := range clockLayouts {
		l := wallLayout(name, name)
		l.clockOnly = true
		take(l)
	}
	for _, name := range eitherLayouts {
		first, second := "dmy", "mdy"
		if strings.Contains(name, "/") {
			first, second = second, first
		}
		a, b := wallLayout(expand(name, first), expand(name, first)), wallLayout(expand(name, second), expand(name, second))
		switch dateOrder {
		case first:
			take(a)
		case second:
			take(b)
		default:
			na, nb := reads(a), reads(b)
			if na == nb && na > most && distinct(sample, a, b) {
				ask = true
			}
			if nb > na {
				a = b
			}
			take(a)
		}
	}
	return best, ask, most > 0
}

// distinct says whether the two layouts read the sample differently.
func distinct(sample []string, a, b layout) bool {
	for _, s := range sample {
		x, errX := a.parse(s)
		y, errY := b.parse(s)
		if errX == nil && errY == nil && !x.wall.Equal(y.wall) {
			return true
		}
	}
	return false
}

// instants returns the one or two moments at which the zone's clocks show the
// wall time, earlier first; none where the clocks skip it.
func instants(wall time.Time, zone *time.Location) []time.Time {
	var out []time.Time
	for _, probe := range []time.Duration{-26 * time.Hour, 26 * time.Hour} {
		_, offset := wall.Add(probe).In(zone).Zone()
		t := wall.Add(-time.Duration(offset) * time.Second)
		_, there := t.In(zone).Zone()
		if there == offset && !slices.ContainsFunc(out, t.Equal) {
			out = append(out, t)
		}
	}
	slices.SortFunc(out, time.Time.Compare)
	return out
}

// resolve turns wall times in file order into instants. A repeated hour is
// told apart by the clock going back in the file, or by its neighbours; what
// neither decides is taken as fold says, and ask is set when fold is empty.
// Skipped times come back zero.
func resolve(walls []time.Time, zone *time.Location, fold string) (out []time.Time, ask bool) {
	out = make([]time.Time, len(walls))
	for i := 0; i < len(walls); {
		choice := instants(walls[i], zone)
		if len(choice) == 0 {
			i++
			continue
		}
		if len(choice) == 1 {
			out[i] = choice[0]
			i++
			continue
		}
		j := i
		back := -1
		for j < len(walls) && len(instants(walls[j], zone)) == 2 {
			if j > i && back < 0 && walls[j-1].Sub(walls[j]) > 10*time.Minute {
				back = j
			}
			j++
		}
		second := false
		switch {
		case back >= 0:
		case fold != "":
			second = fold == "second"
		default:
			var known bool
			second, known = byNeighbours(walls, out, i, j, zone)
			ask = ask || !known
		}
		for k := i; k < j; k++ {
			c := instants(walls[k], zone)
			if second || back >= 0 && k >= back {
				out[k] = c[1]
			} else {
				out[k] = c[0]
			}
		}
		i = j
	}
	return out, ask
}

// byNeighbours decides a single pass through a repeated hour by the readings
// just before and after it: the side that joins without a hole is right.
func byNeighbours(walls, out []time.Time, i, j int, zone *time.Location) (second, known bool) {
	const hole = 20 * time.Minute
	joinsBefore, joinsAfter := false, false
	if i > 0 && !out[i-1].IsZero() {
		joinsBefore = instants(walls[i], zone)[0].Sub(out[i-1]) < hole
	}
	if j < len(walls) {
		if next := instants(walls[j], zone); len(next) > 0 {
			joinsAfter = next[0].Sub(instants(walls[j-1], zone)[1]) < hole
		}
	}
	return joinsAfter, joinsBefore != joinsAfter
}
