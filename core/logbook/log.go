// Package logbook reads the temperature logs that loggers write, and finds in
// readings and events the facts of a cook.
package logbook

import (
	"time"

	"whitebarn/core/units"
)

// Reading is a temperature at a moment, as read and in degrees Celsius.
type Reading struct {
	At    time.Time // UTC
	Value float64   // as the file has it
	C     float64
}

// Column is one probe of a wide log.
type Column struct {
	Name      string
	Scale     units.Scale
	ScaleFrom string // "header", "cells", "values" (a guess) or "chosen"
	Readings  []Reading
	Empty     int // cells without a reading
}

// Trouble is a line, or a cell of one, that could not be used.
type Trouble struct {
	Line    int    `json:"line"`
	Text    string `json:"text"`
	Problem string `json:"problem"`
}

// Question is something the file leaves open and a person must say.
type Question string

// What a file can leave open.
const (
	AskFold      Question = "fold"       // first or second pass of a repeated hour
	AskDateOrder Question = "date_order" // day or month first
	AskScale     Question = "scale"      // F or C, guessed from the values
	AskOutside   Question = "outside"    // readings far from the days of the cook
	AskDay       Question = "day"        // of the first reading: the file has times of day alone
	AskStart     Question = "start"      // when the file began: its times count from there
	AskElapsed   Question = "elapsed"    // in what they count
	AskFuture    Question = "future"     // readings of after now
)

// Values lists the questions.
func (Question) Values() []string {
	return []string{string(AskFold), string(AskDateOrder), string(AskScale), string(AskOutside), string(AskDay),
		string(AskStart), string(AskElapsed), string(AskFuture)}
}

// Shape is how a log lies.
type Shape string

// The shapes.
const (
	Wide Shape = "wide" // one column a probe
	Long Shape = "long" // one line a reading, which names its probe
)

// Values lists the shapes.
func (Shape) Values() []string { return []string{string(Wide), string(Long)} }

// Log is what was recognised in a file. Readings are in order of time and none
// is there twice.
type Log struct {
	Encoding     string // "UTF-8", "UTF-16" or "Latin-1"
	Delimiter    rune
	Objects      bool // an object a line (JSON), not fields
	Shape        Shape
	DecimalComma bool
	TimeColumns  []string
	TimeLayout   string
	Zoned        bool // its times are of a clock on a wall, in the zone that was given
	HeaderLine   int  // 0 when there is none
	DataLines    int
	Repeated     int // lines of the same time and values as one before
	Columns      []Column
	Trouble      []Trouble // some of them
	TroubleCount int       // of all
	Questions    []Question
}

// Readings counts the readings of all columns.
func (l *Log) Readings() int {
	n := 0
	for _, c := range l.Columns {
		n += len(c.Readings)
	}
	return n
}

// Span is the first and the last moment of the log.
func (l *Log) Span() (from, to time.Time) {
	for _, c := range l.Columns {
		if len(c.Readings) == 0 {
			continue
		}
		first, last := c.Readings[0].At, c.Readings[len(c.Readings)-1].At
		if from.IsZero() || first.Before(from) {
			from = first
		}
		if last.After(to) {
			to = last
		}
	}
	return from, to
}

// Options are a person's answers; the zero value of each leaves it to be
// recognised.
type Options struct {
	Zone      *time.Location // for times without an offset; UTC if nil
	Scale     units.Scale
	DateOrder string // "dmy" or "mdy"
	Fold      string // "first" or "second"
	Shape     Shape
	Day       time.Time // of the first reading, where the file has times of day alone
	Start     time.Time // on a clock on the wall, where the file counts from its start
	Elapsed   Elapsed   // in what it counts
}
