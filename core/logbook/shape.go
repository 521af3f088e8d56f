package logbook

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
)

// mostProbes bounds the probes of one long log, mostFields the names in one of objects.
const (
	mostProbes = 200
	mostFields = 500
)

var tooWide = fmt.Sprintf("export the probes alone: a log has %d columns at most", mostFields)

// Heads that say what a field of a long log is.
var (
	saysProbe = []string{"probe", "channel", "sensor", "name", "device", "source", "id", "label", "tag", "position", "measurement"}
	saysValue = []string{"value", "temperature", "temp", "reading", "c", "f", "celsius", "fahrenheit", "degrees"}
	saysScale = []string{"unit", "units", "scale"}
	saysTime  = []string{"time", "timestamp", "at", "ts", "datetime", "date_time", "date", "when", "t", "clock"}
)

// headed finds the field whose head is one of some words, without what stands in brackets.
func (r *reader) headed(words []string) int {
	for i, name := range r.names {
		plain, _, _ := strings.Cut(strings.ToLower(name), "(")
		plain, _, _ = strings.Cut(plain, "[")
		plain = plain[strings.LastIndexByte(plain, '.')+1:] // of a name within a name
		if slices.Contains(words, strings.Trim(plain, " _°")) {
			return i
		}
	}
	return -1
}

// shape finds out whether each line names its probe: by the heads of the fields, or by what
// somebody said.
func (r *reader) shape() {
	probe, value, scale := r.headed(saysProbe), r.headed(saysValue), r.headed(saysScale)
	if r.opts.Shape == Wide {
		return
	}
	if r.opts.Shape == Long && (probe < 0 || value < 0) {
		probe, value = r.guessed(probe, value)
	}
	if probe < 0 || value < 0 || probe == value || r.opts.Shape == "" && r.numbers(probe) && !r.repeats() {
		return
	}
	r.log.Shape = Long
	r.nameAt, r.valueAt, r.scaleAt = r.timeWidth+probe, r.timeWidth+value, -1
	if scale >= 0 {
		r.scaleAt = r.timeWidth + scale
	}
	r.preamble += "[" + r.names[value] + "]" // its scale may stand there
}

// guessed takes the first field of words for the probe and the first of numbers for what it read.
func (r *reader) guessed(probe, value int) (int, int) {
	for i := range r.names {
		switch {
		case value < 0 && i != probe && r.numbers(i):
			value = i
		case probe < 0 && i != value && !r.numbers(i):
			probe = i
		}
	}
	return probe, value
}

// numbers says whether a field is mostly temperatures.
func (r *reader) numbers(field int) bool {
	n, of := 0, 0
	for i := 0; i < len(r.rows); i += max(1, len(r.rows)/200) {
		v, err := parseCell(r.fields(r.rows[i])[r.timeWidth+field])
		if of++; err == nil && !v.missing {
			n++
		}
	}
	return 2*n > of
}

// repeats says whether lines that follow each other have one time, as those of several probes do.
func (r *reader) repeats() bool {
	n := 0
	last := ""
	for _, l := range r.rows[:min(len(r.rows), 400)] {
		at := strings.Join(r.fields(l)[:r.timeWidth], " ")
		if at == last {
			n++
		}
		last = at
	}
	return n > 0
}

// objects says whether the file is an object a line.
func objects(lines []line) bool {
	n := 0
	sample := lines[:min(len(lines), 20)]
	for _, l := range sample {
		if strings.HasPrefix(strings.TrimSpace(l.text), "{") {
			n++
		}
	}
	return n > 0 && 2*n >= len(sample)
}

// arrayOf cuts the elements of a JSON array, which stand for lines: objects or lists.
func arrayOf(text string) (elements []line, is bool) {
	inside, is := strings.CutPrefix(strings.TrimSpace(text), "[")
	if first := strings.TrimSpace(inside); !is || !strings.HasPrefix(first, "{") && !strings.HasPrefix(first, "[") {
		return nil, false
	}
	d := json.NewDecoder(strings.NewReader(text))
	_, _ = d.Token() // the bracket
	number, counted := 1, 0
	for d.More() {
		var raw json.RawMessage
		if err := d.Decode(&raw); err != nil {
			rest := text[d.InputOffset():]
			return append(elements, line{number, rest[:min(len(rest), 200)]}), true
		}
		end := int(d.InputOffset())
		start := end - len(raw)
		number += strings.Count(text[counted:start], "\n")
		counted = start
		elements = append(elements, line{number, text[start:end]})
	}
	return elements, true
}

// object reads what stands on a line as fields by name: names within names are joined by a
// point, and those of a list are its time and its columns.
func object(l line, into map[string]string) bool {
	clear(into)
	var v any
	d := json.NewDecoder(strings.NewReader(strings.TrimSuffix(strings.TrimSpace(l.text), ",")))
	d.UseNumber()
	if err := d.Decode(&v); err != nil || d.More() {
		return false
	}
	switch v := v.(type) {
	case map[string]any:
		flatten("", v, into, 0)
	case []any:
		for i, x := range v[:min(len(v), mostFields)] {
			name := "time"
			if i > 0 {
				name = fmt.Sprintf("Column %d", i+1)
			}
			flatten("", map[string]any{name: x}, into, 0)
		}
	default:
		return false
	}
	return true
}

// tabled writes objects as lines of fields under a head, with their numbers kept, so that they
// are read as any log is. They are read twice: all of them at once would take many times the file.
func (r *reader) tabled(lines []line) ([]line, error) {
	var names []string
	known := map[string]bool{}
	row := map[string]string{}
	read := 0
	for i, l := range lines {
		if i == firstLines {
			if oneInTen*read < i {
				return nil, fault.New("file", fmt.Sprintf("of its first %d lines %d are JSON objects", i, read), exportRemedy)
			}
			if !slices.ContainsFunc(names, isTime) {
				return nil, noTime
			}
		}
		if !object(l, row) {
			r.trouble(l, "is not one JSON object")
			continue
		}
		read++
		for name := range row {
			if !known[name] {
				known[name] = true
				names = append(names, name)
			}
		}
		if len(names) > mostFields {
			return nil, fault.New("file", fmt.Sprintf("its objects have over %d names", mostFields), tooWide)
		}
	}
	slices.SortStableFunc(names, func(a, b string) int {
		x, y := timeRank(a), timeRank(b)
		if x != y {
			return x - y
		}
		return strings.Compare(a, b)
	})
	if len(names) < 2 || !isTime(names[0]) {
		return nil, noTime
	}
	out := []line{{0, strings.Join(names, "\t")}}
	fields := make([]string, len(names))
	for _, l := range lines {
		if !object(l, row) {
			continue
		}
		for k, name := range names {
			fields[k] = row[name]
		}
		out = append(out, line{l.number, strings.Join(fields, "\t")})
	}
	return out, nil
}

var noTime = fault.New("file", "its objects have no time", "name it time, timestamp or at")

func isTime(name string) bool { return timeRank(name) < len(saysTime) }

func timeRank(name string) int {
	if i := slices.Index(saysTime, strings.ToLower(name)); i >= 0 {
		return i
	}
	return len(saysTime)
}

// flatten writes an object's values under their names; lists are left out.
func flatten(prefix string, o map[string]any, into map[string]string, depth int) {
	for name, v := range o {
		name = prefix + strings.Join(strings.Fields(name), " ")
		switch v := v.(type) {
		case map[string]any:
			if depth < 3 {
				flatten(name+".", v, into, depth+1)
			}
		case nil:
			into[name] = ""
		case []any:
		default:
			into[name] = strings.Join(strings.Fields(fmt.Sprint(v)), " ")
		}
	}
}
