package logbook

import (
	"math"
	"slices"
	"sort"
	"strings"
	"time"
	"unicode"

	"gonum.org/v1/gonum/stat"
)

// Point is a temperature at a moment, in degrees Celsius.
type Point struct {
	At time.Time
	C  float64
}

// Highest is the highest temperature of a trace after a running median over
// three readings, which no single spike can raise, and when it was reached.
// ok is false for an empty trace.
func Highest(trace []Point) (p Point, ok bool) {
	best := Point{C: math.Inf(-1)}
	for i, x := range trace {
		window := []float64{x.C}
		if i > 0 {
			window = append(window, trace[i-1].C)
		}
		if i+1 < len(trace) {
			window = append(window, trace[i+1].C)
		}
		sort.Float64s(window)
		// With two readings the lower one is the one that is sure.
		if m := window[(len(window)-1)/2]; m > best.C {
			best = Point{At: x.At, C: m}
		}
	}
	return best, len(trace) > 0
}

// Pit is how a pit ran over a stretch of time.
type Pit struct {
	MeanC    float64
	SDC      float64
	Readings int
}

// PitOver takes the readings from one moment to another, both included; ok is
// false when there are none.
func PitOver(trace []Point, from, to time.Time) (Pit, bool) {
	var v []float64
	for _, p := range trace {
		if !p.At.Before(from) && !p.At.After(to) {
			v = append(v, p.C)
		}
	}
	switch len(v) {
	case 0:
		return Pit{}, false
	case 1:
		return Pit{MeanC: v[0], Readings: 1}, true
	}
	mean, sd := stat.MeanStdDev(v, nil)
	return Pit{MeanC: mean, SDC: sd, Readings: len(v)}, true
}

// SuggestTarget finds which of the names a column most likely measures: the
// one that is the column's name, or stands in it as a word. It returns -1 when
// none or more than one does.
func SuggestTarget(column string, names []string) int {
	found := -1
	words := strings.FieldsFunc(strings.ToLower(column), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	for i, name := range names {
		wanted := strings.Fields(strings.ToLower(name))
		if len(wanted) == 0 || !containsRun(words, wanted) {
			continue
		}
		if found >= 0 {
			return -1
		}
		found = i
	}
	return found
}

func containsRun(words, run []string) bool {
	for i := 0; i+len(run) <= len(words); i++ {
		if slices.Equal(words[i:i+len(run)], run) {
			return true
		}
	}
	return false
}
