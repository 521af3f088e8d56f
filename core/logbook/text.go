package logbook

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"whitebarn/core/fault"
)

// torn stands for a byte that was lost on the way, and one in mostNUL may be.
const (
	torn    = "\uFFFD"
	mostNUL = 100
)

// mostlyUTF8 says whether bytes that are no UTF-8 are fewer than letters that only
// UTF-8 has: then they are torn, and the file is not of another encoding.
func mostlyUTF8(data []byte) bool {
	bad, wide := 0, 0
	for len(data) > 0 {
		r, n := utf8.DecodeRune(data)
		switch {
		case r == utf8.RuneError && n == 1:
			bad++
		case n > 1 && r != utf8.RuneError:
			wide++
		}
		data = data[n:]
	}
	return bad < wide
}

const exportRemedy = "export the log from the logger as CSV: a time column, then one column a probe"

// decodeText returns the file as UTF-8 and names its encoding. A file that is
// not text is refused with what it seems to be.
func decodeText(data []byte) (text, encoding string, err error) {
	if len(bytes.TrimSpace(data)) == 0 {
		return "", "", fault.New("file", "the file is empty", exportRemedy)
	}
	for magic, what := range map[string]string{
		"\x89PNG": "a PNG picture", "\xff\xd8\xff": "a JPEG picture", "GIF8": "a GIF picture", "%PDF": "a PDF document",
		"PK\x03\x04": "a ZIP archive or a spreadsheet workbook", "\x1f\x8b": "a compressed file", "\xd0\xcf\x11\xe0": "an old spreadsheet workbook",
	} {
		if bytes.HasPrefix(data, []byte(magic)) {
			return "", "", fault.New("file", "this is "+what+", not a text log", exportRemedy)
		}
	}
	for bom, order := range map[string]binary.ByteOrder{"\xff\xfe": binary.LittleEndian, "\xfe\xff": binary.BigEndian} {
		if bytes.HasPrefix(data, []byte(bom)) {
			wide := make([]uint16, (len(data)-2)/2)
			for i := range wide {
				wide[i] = order.Uint16(data[2+2*i:])
			}
			return string(utf16.Decode(wide)), "UTF-16", nil
		}
	}
	if nul := bytes.Count(data, []byte{0}); nul > len(data)/mostNUL {
		return "", "", fault.New("file", "this is not a text file", exportRemedy)
	}
	if bytes.IndexByte(data, 0) >= 0 {
		data = bytes.ReplaceAll(data, []byte{0}, []byte(torn)) // costs its line, not the log
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if utf8.Valid(data) || mostlyUTF8(data) {
		return strings.ToValidUTF8(string(data), torn), "UTF-8", nil
	}
	runes := make([]rune, len(data))
	for i, b := range data {
		runes[i] = rune(b)
	}
	return string(runes), "Latin-1", nil
}

// line is one line of the file with its number, from 1.
type line struct {
	number int
	text   string
}

// splitLines cuts at line feeds, with or without a carriage return, and at those alone.
func splitLines(text string) []line {
	lines := make([]line, 0, strings.Count(text, "\n")+1)
	for number := 1; text != ""; number++ {
		end := strings.IndexAny(text, "\r\n")
		one := text
		switch {
		case end < 0:
			text = ""
		case text[end] == '\r' && end+1 < len(text) && text[end+1] == '\n':
			one, text = text[:end], text[end+2:]
		default:
			one, text = text[:end], text[end+1:]
		}
		if strings.TrimSpace(one) != "" {
			lines = append(lines, line{number: number, text: one})
		}
	}
	return lines
}

// split cuts one line into fields, in the room that is given. Each line stands alone, so that
// a stray quote costs its own line and not the rest of the file.
func split(text string, delimiter rune, room []string) ([]string, error) {
	fields := room[:0]
	if !strings.Contains(text, `"`) {
		for part := range strings.SplitSeq(text, string(delimiter)) {
			fields = append(fields, strings.TrimSpace(part))
		}
		return fields, nil
	}
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.TrimLeadingSpace = delimiter, delimiter != '\t'
	quoted, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("a quotation mark is not closed")
	}
	for _, part := range quoted {
		fields = append(fields, strings.TrimSpace(part))
	}
	return fields, nil
}

// delimiterOf tries the usual ones on a sample of the file and takes the one
// under which most lines begin with a time and hold a temperature; counts says that the
// times count from the start.
func delimiterOf(lines []line) (delimiter rune, counts bool, err error) {
	sample := lines[:min(len(lines), 400)]
	best, most := rune(0), 0
	usual := []rune{';', '\t', ',', '|'}
	for _, d := range usual {
		n := 0
		for _, l := range sample {
			f, err := split(l.text, d, nil)
			if err == nil && len(f) >= 2 && timeWidth(f) > 0 && len(f) > timeWidth(f) {
				n++
			}
		}
		if n > most {
			best, most = d, n
		}
	}
	if most > 0 {
		return best, false, nil
	}
	for _, d := range usual {
		if countsUp(sample, d) {
			return d, true, nil
		}
	}
	return 0, false, fault.New("file", "no line holds a time and then a temperature", exportRemedy)
}

var numeric = regexp.MustCompile(`(?i)^([+\-−]?\d+(?:[.,]\d+)?)\s*(?:°|º|deg)?\s*([FC])?$`)

// noReading lists what loggers write for a probe that is not there.
var noReading = map[string]bool{
	"": true, "-": true, "--": true, "---": true, "nan": true, "null": true, "none": true, "n/a": true, "na": true,
	"open": true, "err": true, "error": true, "lo": true, "hi": true, "off": true, "disconnected": true,
}

// mostCell is how long a temperature can be written.
const mostCell = 60

// cell is a temperature as written. The decimal mark may be a comma.
type cell struct {
	value   float64
	scale   string // "F", "C" or ""
	missing bool
}

func parseCell(s string) (cell, error) {
	if len(s) > mostCell {
		return cell{}, fmt.Errorf("%.40q is not a temperature", s)
	}
	if v, err := strconv.ParseFloat(s, 64); err == nil && plain(s) {
		return cell{value: v}, nil
	}
	if noReading[strings.ToLower(s)] {
		return cell{missing: true}, nil
	}
	m := numeric.FindStringSubmatch(s)
	if m == nil {
		return cell{}, fmt.Errorf("%.40q is not a temperature", s)
	}
	v, err := strconv.ParseFloat(strings.NewReplacer(",", ".", "−", "-").Replace(m[1]), 64)
	if err != nil {
		return cell{}, fmt.Errorf("%.40q is not a temperature", s)
	}
	return cell{value: v, scale: strings.ToUpper(m[2])}, nil
}

// plain says whether s is digits with at most a sign and a point, the usual
// case; ParseFloat alone would let "Inf" and "0x1p3" pass.
func plain(s string) bool {
	return strings.IndexFunc(s, func(r rune) bool { return (r < '0' || r > '9') && r != '.' && r != '-' }) < 0
}
