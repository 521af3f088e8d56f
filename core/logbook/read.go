package logbook

import (
	"fmt"
	"slices"
	"sort"
	"strings"
	"time"

	"whitebarn/core/fault"
)

// Read recognises a log: a time column, or a date and a clock column, then one column a probe,
// or a column that names the probe and one with what it read; or an object a line. Delimiter,
// encoding, decimal comma, header, shape, time layout and scale are found in the file; opts
// overrules. A bad line or cell is reported by its line number and costs nothing else. A file
// that is no log at all is an error.
func Read(data []byte, opts Options) (*Log, error) {
	text, encoding, err := decodeText(data)
	if err != nil {
		return nil, err
	}
	lines := splitLines(text)
	r := reader{opts: opts, log: &Log{Encoding: encoding, Shape: Wide}, nameAt: -1}
	if r.opts.Zone == nil {
		r.opts.Zone = time.UTC
	}
	switch elements, isArray := arrayOf(text); {
	case isArray:
		r.log.Objects, r.log.Delimiter = true, '\t'
		lines, err = r.tabled(elements)
	case objects(lines):
		r.log.Objects, r.log.Delimiter = true, '\t'
		lines, err = r.tabled(lines)
	default:
		r.log.Delimiter, r.counts, err = delimiterOf(lines)
	}
	if err != nil {
		return nil, err
	}
	if err := r.structure(lines); err != nil {
		return nil, err
	}
	if err := r.times(); err != nil {
		return nil, err
	}
	r.cells()
	if r.log.Readings() == 0 {
		return nil, fault.New("file", fmt.Sprintf("none of its %d lines holds a reading that can be used", len(lines)), exportRemedy)
	}
	r.scales()
	r.settle()
	sort.SliceStable(r.log.Trouble, func(i, j int) bool { return r.log.Trouble[i].Line < r.log.Trouble[j].Line })
	return r.log, nil
}

type reader struct {
	opts      Options
	log       *Log
	rows      []line // lines that begin with a time and have the right width
	at        []time.Time
	timeWidth int
	counts    bool             // its times count from its start
	names     []string         // of the fields after the time
	nameAt    int              // the field that names the probe, of a long log; -1 in a wide one
	valueAt   int              // the field with what it read
	scaleAt   int              // the field with its scale; -1 where there is none
	cellScale []map[string]int // per column, how many cells carry F or C
	preamble  string
	buffer    []string // fields of the line at hand
}

func (r *reader) trouble(l line, problem string) {
	const most = 120
	if r.log.TroubleCount++; len(r.log.Trouble) == mostTrouble {
		return
	}
	text := l.text
	if runes := []rune(text); len(runes) > most {
		text = string(runes[:most]) + "…"
	}
	r.log.Trouble = append(r.log.Trouble, Trouble{Line: l.number, Text: text, Problem: problem})
}

// mostTrouble bounds what is told of the lines that have trouble: the first found.
const mostTrouble = 10_000

// A file that begins with so many lines of which fewer than one in ten begins with a time is no log.
const (
	firstLines = 5000
	oneInTen   = 10
)

// fields cuts a line; they hold until the next line is cut. A line is cut anew whenever it is
// looked at: of a large file all fields would take many times its size.
func (r *reader) fields(l line) []string {
	f, err := split(l.text, r.log.Delimiter, r.buffer)
	if err != nil {
		return nil
	}
	r.buffer = f
	return f
}

// structure finds header and data lines, and names the columns.
func (r *reader) structure(lines []line) error {
	widths := map[int]int{}
	cut := make([]struct {
		width  int32 // -1 where a quotation mark is not closed
		isData bool
	}, len(lines))
	top, data := len(lines), 0
	for i, l := range lines {
		if i == firstLines && oneInTen*data < i {
			return fault.New("file", fmt.Sprintf("of its first %d lines %d begin with a time", i, data), exportRemedy)
		}
		f, err := split(l.text, r.log.Delimiter, r.buffer)
		if err != nil {
			r.trouble(l, err.Error())
			cut[i].width = -1
			continue
		}
		r.buffer = f
		w := r.widthOfTime(f)
		cut[i].width, cut[i].isData = int32(len(f)), w > 0
		if w > 0 {
			top = min(top, i)
			data++
			if len(f) > w {
				widths[len(f)]++
				r.timeWidth = max(r.timeWidth, w)
			}
		}
	}
	width := 0
	for w, n := range widths {
		if n > widths[width] || n == widths[width] && w > width {
			width = w
		}
	}
	if top == len(lines) {
		top = -1
	}
	if width > mostFields {
		return fault.New("file", fmt.Sprintf("its lines have %d columns", width), tooWide)
	}
	// The header is the last line before the data that can be one; what stands
	// above it is a preamble.
	var header *line
	var heads []string
	for i := range lines[:max(top, 0)] {
		if f := r.fields(lines[i]); names(f, width) {
			header, heads = &lines[i], slices.Clone(f)
		}
	}
	for i, l := range lines {
		c := cut[i]
		switch {
		case c.width < 0:
		case c.isData && int(c.width) == width:
			r.rows = append(r.rows, l)
		case c.isData && int(c.width) == width+1 && r.fields(l)[width] == "":
			r.rows = append(r.rows, l)
		case c.isData:
			r.trouble(l, fmt.Sprintf("%d fields where the others have %d", c.width, width))
		case i < top && (header == nil || l.number <= header.number):
			r.preamble += l.text + "\n"
		case header != nil && l.text == header.text:
			// A logger that was restarted writes its header again.
		default:
			r.trouble(l, "does not begin with a time")
		}
	}
	if len(r.rows) == 0 {
		return fault.New("file", "no line holds a time and then a temperature", exportRemedy)
	}
	r.log.DataLines = len(r.rows)
	name := func(i int, fallback string) string {
		if header == nil || heads[i] == "" {
			return fallback
		}
		return heads[i]
	}
	if header != nil {
		r.log.HeaderLine = header.number
	}
	for i := range r.timeWidth {
		r.log.TimeColumns = append(r.log.TimeColumns, name(i, "time"))
	}
	used := map[string]bool{}
	for i := r.timeWidth; i < width; i++ {
		n := name(i, fmt.Sprintf("Column %d", i+1))
		for k := 2; used[n]; k++ {
			n = fmt.Sprintf("%s (%d)", name(i, "Column"), k)
		}
		used[n] = true
		r.names = append(r.names, n)
	}
	r.shape()
	return nil
}

// widthOfTime is how many leading fields of a line make up its time.
func (r *reader) widthOfTime(fields []string) int {
	switch {
	case !r.counts:
		return timeWidth(fields)
	case counted(fields):
		return 1
	}
	return 0
}

// names says whether a line can head a table of that width: as many fields,
// more than half of them filled.
func names(fields []string, width int) bool {
	filled := 0
	for _, f := range fields {
		if f != "" {
			filled++
		}
	}
	return width > 1 && len(fields) >= width && 2*filled > width
}

// times reads the time of every row; rows without one are reported and dropped.
func (r *reader) times() error {
	text := func(l line) string { return strings.Join(r.fields(l)[:r.timeWidth], " ") }
	if r.counts {
		r.since(text)
		return nil
	}
	var sample []string
	for i := 0; i < len(r.rows); i += max(1, len(r.rows)/500) {
		sample = append(sample, text(r.rows[i]))
	}
	layout, ask, ok := layoutOf(sample, r.opts.DateOrder)
	if !ok {
		return fault.New("file", fmt.Sprintf("the times are written in a way this barn cannot read, for instance %.40q", sample[0]), "export with times like 2026-09-19 08:05:00")
	}
	if ask {
		r.log.Questions = append(r.log.Questions, AskDateOrder)
	}
	r.log.TimeLayout = layout.name
	if layout.clockOnly && r.opts.Day.IsZero() && r.opts.Start.IsZero() {
		r.log.Questions = append(r.log.Questions, AskDay)
	}
	stamps := make([]stamp, 0, len(r.rows))
	rows := r.rows[:0]
	for _, l := range r.rows {
		s, err := layout.parse(text(l))
		if err != nil {
			r.trouble(l, fmt.Sprintf("%.40q is not a time like the others", text(l)))
			continue
		}
		if !layout.clockOnly && !InYears(s.wall) && !InYears(s.instant) {
			r.trouble(l, fmt.Sprintf("%.40q is not a time from 2000 to 2100", text(l)))
			continue
		}
		rows, stamps = append(rows, l), append(stamps, s)
	}
	r.rows = rows
	if layout.clockOnly {
		overMidnight(stamps, r.opts.Day)
		if r.fromNought(stamps) {
			return nil
		}
	} else if falling(stamps) {
		slices.Reverse(r.rows)
		slices.Reverse(stamps)
	}
	r.at = make([]time.Time, len(stamps))
	if len(stamps) > 0 && stamps[0].wall.IsZero() {
		for i, s := range stamps {
			r.at[i] = s.instant
		}
		return nil
	}
	r.log.Zoned = true
	walls := make([]time.Time, len(stamps))
	for i, s := range stamps {
		walls[i] = s.wall
	}
	var askFold bool
	if r.at, askFold = resolve(walls, r.opts.Zone, r.opts.Fold); askFold {
		r.log.Questions = append(r.log.Questions, AskFold)
	}
	for i, t := range r.at {
		if t.IsZero() {
			r.trouble(r.rows[i], fmt.Sprintf("%s does not exist in %s: the clocks go forward then", walls[i].Format("2006-01-02 15:04"), r.opts.Zone))
		}
	}
	return nil
}

// falling says whether the file runs from newest to oldest.
func falling(s []stamp) bool {
	down := 0
	for i := 1; i < len(s); i++ {
		if s[i].wall.Before(s[i-1].wall) || s[i].instant.Before(s[i-1].instant) {
			down++
		}
	}
	return down > len(s)/2
}

// cells reads the temperatures of every row that has a time.
func (r *reader) cells() {
	columns := make([]*column, 0, len(r.names))
	byName := map[string]*column{}
	column := func(name string, room int) *column {
		c := &column{name: name, scales: map[string]int{}, readings: make([]Reading, 0, room)}
		columns, byName[name] = append(columns, c), c
		return c
	}
	if r.nameAt < 0 {
		for _, name := range r.names {
			column(name, len(r.rows))
		}
	}
	for i, l := range r.rows {
		if r.at[i].IsZero() {
			continue
		}
		f := r.fields(l)
		if r.nameAt < 0 {
			for j, c := range columns {
				r.cell(c, l, r.at[i], f[r.timeWidth+j], "")
			}
			continue
		}
		name, scale := f[r.nameAt], ""
		if name == "" {
			r.trouble(l, "does not say which probe")
			continue
		}
		c := byName[name]
		if c == nil {
			if len(columns) >= mostProbes {
				r.trouble(l, fmt.Sprintf("%.40q is more than the %d probes that one log may have", name, mostProbes))
				continue
			}
			c = column(strings.Clone(name), 0)
		}
		if r.scaleAt >= 0 {
			scale = strings.ToUpper(strings.Trim(f[r.scaleAt], "°º "))
		}
		r.cell(c, l, r.at[i], f[r.valueAt], scale)
	}
	// A column mostly of words is no probe (a note, an alarm state): it is left out as a whole.
	for _, c := range columns {
		if len(c.readings) == 0 || len(c.faults) > len(c.readings) {
			continue
		}
		for _, f := range c.faults {
			r.trouble(f.line, f.problem)
		}
		r.log.Columns = append(r.log.Columns, Column{Name: c.name, Readings: c.readings, Empty: c.empty})
		r.cellScale = append(r.cellScale, c.scales)
	}
}

// column is a probe while its cells are read.
type column struct {
	name     string
	readings []Reading
	empty    int
	scales   map[string]int
	faults   []cellFault
}

// cellFault is a cell that is no temperature.
type cellFault struct {
	line    line
	problem string
}

// mostFaults bounds what is kept of a column of words, of which nothing is told.
const mostFaults = 100_000

func (r *reader) cell(c *column, l line, at time.Time, text, scale string) {
	v, err := parseCell(text)
	switch {
	case err != nil && len(c.faults) < mostFaults:
		c.faults = append(c.faults, cellFault{l, c.name + ": " + err.Error()})
	case err != nil:
	case v.missing:
		c.empty++
	default:
		if scale == "F" || scale == "C" {
			v.scale = scale
		}
		c.scales[v.scale]++
		r.log.DecimalComma = r.log.DecimalComma || strings.Contains(text, ",")
		c.readings = append(c.readings, Reading{At: at, Value: v.value})
	}
}
