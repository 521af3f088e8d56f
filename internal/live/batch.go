// Package live takes readings from devices and hands them on to browsers as
// they come.
package live

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
	"whitebarn/internal/store"
)

// Limits of one batch.
const (
	MostBody     = 4 << 20
	MostReadings = 5000
	mostChannel  = 60
)

// Batch is what a device sent at once, each reading read or refused.
type Batch struct {
	SentAt   time.Time // zero when the device did not say
	Readings []store.LiveReading
	Refused  []store.Refusal
}

// entry is a reading as written.
type entry struct {
	Sequence    int64    `json:"seq"`
	Channel     string   `json:"channel"`
	At          string   `json:"at"`
	Temperature *float64 `json:"temperature"`
	Weight      *float64 `json:"weight"`
	Unit        string   `json:"unit"`
}

// Decode reads a batch in JSON or CSV. now is the device's clock as the barn
// knows it; readings without a time are taken to be of now. An error is of the
// batch as a whole; a bad reading is refused by itself.
func Decode(kind string, body []byte, now time.Time) (Batch, error) {
	if strings.HasPrefix(kind, "text/csv") {
		return decodeCSV(body, now)
	}
	return decodeJSON(body, now)
}

func decodeJSON(body []byte, now time.Time) (Batch, error) {
	var in struct {
		SentAt   string            `json:"sent_at"`
		Readings []json.RawMessage `json:"readings"`
	}
	if err := json.Unmarshal(bareNumbers(body), &in); err != nil {
		return Batch{}, fault.New("", "the batch is not JSON: "+err.Error(), `send {"readings": [...]}`)
	}
	if err := count(len(in.Readings)); err != nil {
		return Batch{}, err
	}
	var b Batch
	if in.SentAt != "" {
		t, err := parseTime(in.SentAt)
		if err != nil {
			return b, fault.In("sent_at", err)
		}
		b.SentAt = t
	}
	for _, raw := range in.Readings {
		var e entry
		if err := json.Unmarshal(raw, &e); err != nil {
			b.refuse(e, string(raw), "it is not a reading: "+plain(err))
			continue
		}
		b.take(e, string(raw), now)
	}
	return b, nil
}

// decodeCSV reads lines of seq, channel, at, value, unit.
func decodeCSV(body []byte, now time.Time) (Batch, error) {
	r := csv.NewReader(bytes.NewReader(body))
	r.FieldsPerRecord, r.TrimLeadingSpace = -1, true
	var b Batch
	for line := 1; ; line++ {
		fields, err := r.Read()
		if errors.Is(err, io.EOF) {
			return b, count(line - 1)
		}
		text := strings.Join(fields, ",")
		if err != nil || len(fields) < 5 {
			if line == 1 && strings.HasPrefix(text, "seq") {
				continue
			}
			b.refuse(entry{Sequence: -int64(line)}, text, fmt.Sprintf("line %d is not seq, channel, at, value, unit", line))
			continue
		}
		if line == 1 && fields[0] == "seq" {
			continue
		}
		e := entry{Channel: fields[1], At: fields[2], Unit: fields[4]}
		seq, err := strconv.ParseInt(fields[0], 10, 64)
		e.Sequence = seq
		v, errV := strconv.ParseFloat(fields[3], 64)
		if err != nil || errV != nil {
			b.refuse(e, text, fmt.Sprintf("line %d has no number where one belongs", line))
			continue
		}
		if _, weight := massUnits[strings.ToLower(e.Unit)]; weight {
			e.Weight = &v
		} else {
			e.Temperature = &v
		}
		b.take(e, text, now)
		if len(b.Readings) > MostReadings {
			return b, count(len(b.Readings))
		}
	}
}

func count(n int) error {
	if n == 0 {
		return fault.New("readings", "the batch is empty", "send one reading or more")
	}
	if n > MostReadings {
		return fault.New("readings", fmt.Sprintf("%d readings at once", n), fmt.Sprintf("send %d at most, and the rest in the next batch", MostReadings))
	}
	return nil
}

const (
	coldest  = -60.0
	hottest  = 700.0
	heaviest = 500.0 // kg
)

var earliest = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

var massUnits = map[string]float64{"kg": 1, "g": 0.001, "lb": units.GramsPerPound / 1000, "oz": units.GramsPerPound / 1000 / units.OuncesPerPound}

func (b *Batch) refuse(e entry, text, why string) {
	b.Refused = append(b.Refused, store.Refusal{Sequence: e.Sequence, Channel: cut(e.Channel, mostChannel), Text: cut(text, 200), Reason: why})
}

func cut(s string, n int) string {
	s = strings.ToValidUTF8(strings.ReplaceAll(s, "\x00", ""), "?")
	if len(s) > n {
		return strings.ToValidUTF8(s[:n], "")
	}
	return s
}

// take keeps a reading or says why not.
func (b *Batch) take(e entry, text string, now time.Time) {
	r := store.LiveReading{Sequence: e.Sequence, Channel: strings.TrimSpace(e.Channel), At: now, Untimed: e.At == ""}
	switch {
	case e.Sequence <= 0:
		b.refuse(e, text, "seq is missing: number the readings from 1 up, and never twice")
		return
	case r.Channel == "" || len(r.Channel) > mostChannel || cut(r.Channel, mostChannel) != r.Channel:
		b.refuse(e, text, fmt.Sprintf("channel %q is no name: give one of up to %d letters", cut(r.Channel, mostChannel), mostChannel))
		return
	}
	if e.At != "" {
		at, err := parseTime(e.At)
		if err != nil {
			b.refuse(e, text, "at: "+err.Error())
			return
		}
		r.At = at
	}
	switch {
	case r.At.Before(earliest):
		b.refuse(e, text, "the time is of "+r.At.UTC().Format("2006")+": the device's clock is not set")
		return
	case r.At.After(now.Add(logbook.Ahead)):
		b.refuse(e, text, fmt.Sprintf("the time is %s ahead of the cook's clock: set the device's clock", r.At.Sub(now).Round(time.Second)))
		return
	}
	if why := measure(e, &r); why != "" {
		b.refuse(e, text, why)
		return
	}
	b.Readings = append(b.Readings, r)
}

// measure fills in the number of a reading, or says what is wrong with it.
func measure(e entry, r *store.LiveReading) string {
	switch {
	case (e.Temperature == nil) == (e.Weight == nil):
		return "there is no number: give temperature or weight"
	case e.Weight != nil:
		factor, known := massUnits[strings.ToLower(e.Unit)]
		if !known {
			return fmt.Sprintf("unit %q is no weight: give kg, g, lb or oz", e.Unit)
		}
		r.Weight, r.Value, r.Unit, r.Canonical = true, *e.Weight, strings.ToLower(e.Unit), *e.Weight*factor
		if !(math.Abs(r.Canonical) <= heaviest) {
			return fmt.Sprintf("%g %s is no weight a scale here could show", r.Value, r.Unit)
		}
		return ""
	}
	r.Value, r.Unit, r.Canonical = *e.Temperature, strings.ToUpper(e.Unit), *e.Temperature
	switch r.Unit {
	case "F":
		r.Canonical = units.FToC(r.Value)
	case "C":
	default:
		return fmt.Sprintf("unit %q is no temperature: give C or F", e.Unit)
	}
	if !(r.Canonical >= coldest && r.Canonical <= hottest) {
		return fmt.Sprintf("%g %s is no temperature a probe could see: look at its plug", r.Value, r.Unit)
	}
	return ""
}

// parseTime reads RFC 3339 or seconds since 1970.
func parseTime(s string) (time.Time, error) {
	if t, err := time.Parse(time.RFC3339Nano, s); err == nil {
		return t.UTC(), nil
	}
	if v, err := strconv.ParseFloat(s, 64); err == nil && math.Abs(v) < 1e11 {
		return time.UnixMicro(int64(v * 1e6)).UTC(), nil
	}
	return time.Time{}, fault.New("", fmt.Sprintf("%q is no time", cut(s, 40)), "give 2026-10-03T14:05:00Z, or seconds since 1970")
}

// plain says a JSON error without Go's words.
func plain(err error) string {
	var wrong *json.UnmarshalTypeError
	if errors.As(err, &wrong) {
		return fmt.Sprintf("%s cannot be a %s", wrong.Field, wrong.Value)
	}
	return err.Error()
}

// bareNumbers turns NaN and infinities, which small devices print and JSON has
// no word for, into null, so that only their own readings are lost.
func bareNumbers(body []byte) []byte {
	quoted := false
	var out []byte
	for i := 0; i < len(body); i++ {
		switch ch := body[i]; {
		case ch == '\\' && quoted:
			if out != nil {
				out = append(out, ch)
			}
			if i++; i < len(body) && out != nil {
				out = append(out, body[i])
			}
			continue
		case ch == '"':
			quoted = !quoted
		case !quoted:
			if n := notANumber(body[i:]); n > 0 {
				if out == nil {
					out = append(out, body[:i]...)
				}
				out = append(out, "null"...)
				i += n - 1
				continue
			}
		}
		if out != nil {
			out = append(out, body[i])
		}
	}
	if out == nil {
		return body
	}
	return out
}

func notANumber(s []byte) int {
	n := 0
	if len(s) > 0 && (s[0] == '-' || s[0] == '+') {
		n = 1
	}
	for _, word := range []string{"infinity", "inf", "nan"} {
		if len(s) >= n+len(word) && strings.EqualFold(string(s[n:n+len(word)]), word) {
			return n + len(word)
		}
	}
	return 0
}
