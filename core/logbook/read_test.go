package logbook

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"
	"unicode/utf16"

	"whitebarn/core/units"
)

func zone(t *testing.T, name string) *time.Location {
	t.Helper()
	z, err := time.LoadLocation(name)
	if err != nil {
		t.Fatal(err)
	}
	return z
}

func utc(s string) time.Time {
	t, err := time.Parse("2006-01-02 15:04:05", s)
	if err != nil {
		panic(err)
	}
	return t
}

func TestReadRecognisesHowLoggersWrite(t *testing.T) {
	for _, c := range []struct {
		name, text string
		opts       Options
		columns    []string
		scale      units.Scale
		from       string
		first      time.Time
		c          float64 // first reading of the first column
		readings   int
	}{
		{"plain", "time,Pit,1L\n2026-09-19 08:00:00,250,40\n2026-09-19 08:01:00,251,41\n", Options{}, []string{"Pit", "1L"}, "F", "values", utc("2026-09-19 08:00:00"), 250.0/1.8 - 32/1.8, 4},
		{"scale in the header", "Time,Pit (°C),1L (°C)\n2026-09-19T08:00:00Z,121,4\n2026-09-19T08:01:00Z,122,5\n", Options{}, []string{"Pit (°C)", "1L (°C)"}, "C", "header", utc("2026-09-19 08:00:00"), 121, 4},
		{"decimal commas, day first", "Zeit;Grube;1L\n19.09.2026 08:00;121,5;4,5\n19.09.2026 08:01;122,0;4,6\n", Options{}, []string{"Grube", "1L"}, "C", "values", utc("2026-09-19 08:00:00"), 121.5, 4},
		{"date and clock apart, month first, offset of the barn", "Date,Clock,Pit\n09/19/2026,8:00:00 AM,250F\n09/19/2026,8:00:30 AM,--\n09/19/2026,8:01:00 AM,251F\n", Options{Zone: zone(t, "America/New_York")}, []string{"Pit"}, "F", "cells", utc("2026-09-19 12:00:00"), 250.0/1.8 - 32/1.8, 2},
		{"tabs and lines above the header", "Logger 7\nUnit: Celsius\n\ntime\tPit\n2026-09-19 08:00:00\t110\n2026-09-19 08:00:05\t111\n", Options{}, []string{"Pit"}, "C", "header", utc("2026-09-19 08:00:00"), 110, 2},
		{"seconds since 1970, no header", "1789804800,250,100\n1789804860,251,101\n", Options{Scale: "F"}, []string{"Column 2", "Column 3"}, "F", "chosen", time.Unix(1789804800, 0).UTC(), 250.0/1.8 - 32/1.8, 4},
		{"newest first", "time,Pit C\n2026-09-19 08:02,3\n2026-09-19 08:01,2\n2026-09-19 08:00,1\n", Options{}, []string{"Pit C"}, "C", "header", utc("2026-09-19 08:00:00"), 1, 3},
		{"quoted, trailing comma, a column of words", "\"time\",\"Pit, north\",\"state\",\n\"2026-09-19 08:00\",\"251\",\"ok\",\n\"2026-09-19 08:01\",\"252\",\"ok\",\n", Options{}, []string{"Pit, north"}, "F", "values", utc("2026-09-19 08:00:00"), 251.0/1.8 - 32/1.8, 2},
		{"two columns of one name", "time,Probe,Probe\n2026-09-19 08:00,200,210\n", Options{}, []string{"Probe", "Probe (2)"}, "F", "values", utc("2026-09-19 08:00:00"), 200.0/1.8 - 32/1.8, 2},
	} {
		log, err := Read([]byte(c.text), c.opts)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		var names []string
		for _, col := range log.Columns {
			names = append(names, col.Name)
		}
		if strings.Join(names, "|") != strings.Join(c.columns, "|") {
			t.Errorf("%s: columns %q, want %q", c.name, names, c.columns)
			continue
		}
		col := log.Columns[0]
		if col.Scale != c.scale || col.ScaleFrom != c.from {
			t.Errorf("%s: scale %s from %s, want %s from %s", c.name, col.Scale, col.ScaleFrom, c.scale, c.from)
		}
		if r := col.Readings[0]; !r.At.Equal(c.first) || r.C-c.c > 1e-9 || c.c-r.C > 1e-9 {
			t.Errorf("%s: first reading %v C at %v, want %v at %v", c.name, r.C, r.At, c.c, c.first)
		}
		if strings.ContainsAny(log.TimeLayout, "12456") && !strings.Contains(log.TimeLayout, "1970") {
			t.Errorf("%s: the layout is shown as %q, which only a programmer reads", c.name, log.TimeLayout)
		}
		if log.Readings() != c.readings || len(log.Trouble) != 0 {
			t.Errorf("%s: %d readings and trouble %v, want %d and none", c.name, log.Readings(), log.Trouble, c.readings)
		}
	}
}

func TestReadKeepsTheGoodLines(t *testing.T) {
	log, err := Read([]byte(strings.Join([]string{
		"time,Pit F,1L F",            // 1
		"2026-09-19 08:00:00,250,40", // 2
		"2026-09-19 08:01:00,warm,41",
		"2026-09-19 08:02:00,252", // 4: too short
		"rubbish",
		`2026-09-19 08:03:00,"253,42`, // 6: quote not closed
		"2026-09-19 08:04:00,9999,43",
		"2026-13-19 08:05:00,255,44", // 8: no such month
		"",
		"time,Pit F,1L F", // 10: restarted logger, no trouble
		"2026-09-19 08:06:00,256,45",
		"2026-09-19 08:06:00,257,45", // 12: another value at the same time
		"2026-09-19 08:07:00,258,46",
	}, "\n")), Options{})
	if err != nil {
		t.Fatal(err)
	}
	var lines []int
	for _, x := range log.Trouble {
		lines = append(lines, x.Line)
	}
	if got, want := fmt.Sprint(lines), "[3 4 5 6 7 8 12]"; got != want {
		t.Errorf("trouble on lines %s, want %s: %v", got, want, log.Trouble)
	}
	if pit, cut := len(log.Columns[0].Readings), len(log.Columns[1].Readings); pit != 3 || cut != 5 {
		t.Errorf("%d pit and %d cut readings were kept, want 3 and 5", pit, cut)
	}
	if log.Columns[0].Readings[1].Value != 256 {
		t.Errorf("of two values at one time %v was kept, want the first", log.Columns[0].Readings[1].Value)
	}
}

func TestReadRefusesWhatIsNoLog(t *testing.T) {
	for _, c := range []struct{ name, data, want string }{
		{"empty", "", "empty"},
		{"blank", " \r\n\n", "empty"},
		{"a picture", "\x89PNG\r\n\x1a\n....", "PNG picture"},
		{"a workbook", "PK\x03\x04....", "spreadsheet"},
		{"binary", "abc\x00def", "not a text file"},
		{"prose", "Dear barn,\nthe log is in the post.\n", "no line holds a time"},
		{"a header alone", "time,Pit,1L\n", "no line holds a time"},
		{"no readings", "time,Pit\n2026-09-19 08:00,--\n2026-09-19 08:01,--\n", "can be used"},
	} {
		if log, err := Read([]byte(c.data), Options{}); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: read as %+v, error %v; want a refusal with %q", c.name, log, err, c.want)
		}
	}
}

// TestReadIsDoneWithWhatIsNoLogQuickly: each of four megabytes took over a minute, or more.
func TestReadIsDoneWithWhatIsNoLogQuickly(t *testing.T) {
	good := "2026-09-19 08:00:00,225\n"
	wide := "time" + strings.Repeat(",a", 10_000) + "\n" + strings.Repeat("2026-09-19 08:00:00"+strings.Repeat(",1", 10_000)+"\n", 20)
	var names strings.Builder
	for i := range 40_000 {
		fmt.Fprintf(&names, "{\"time\":\"2026-09-19 08:00:00\",\"a%d\":1}\n", i)
	}
	for name, c := range map[string]struct{ file, want string }{
		"lines of words":       {good + strings.Repeat("no line\n", 500_000), "of its first 5000 lines 1 begin with a time"},
		"quotes not closed":    {good + strings.Repeat("2026-09-19 08:00:00,\"22\n", 180_000), "of its first 5000 lines 1 begin"},
		"many columns":         {wide, "has 500 columns at most"},
		"objects of nothing":   {strings.Repeat("{\"a\":1}\n", 500_000), "have no time"},
		"torn objects":         {"{\"time\":\"2026-09-19 08:00:00\",\"a\":1}\n" + strings.Repeat("{\"a\":}\n", 500_000), "1 are JSON objects"},
		"objects of all names": {names.String(), "over 500 names"},
		"words for readings":   {good + strings.Repeat("2026-09-19 08:00:00,wet\n", 170_000), "none of its 170001 lines"},
	} {
		if _, err := Read([]byte(c.file), Options{}); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s are refused with %v, want %q", name, err, c.want)
		}
	}
	l, err := Read([]byte(good+strings.Repeat("2026-99-19 08:00:00,225\n", 170_000)), Options{})
	if err != nil || l.TroubleCount != 170_000 || len(l.Trouble) != 10_000 {
		t.Errorf("times that are none make %v", err)
	}
}

func TestReadDecodesOtherEncodings(t *testing.T) {
	text := "Zeit;Grube °C\n19.09.2026 08:00;121,5\n"
	latin := []byte(strings.ReplaceAll(text, "°", "\xb0"))
	wide := []byte{0xff, 0xfe}
	for _, u := range utf16.Encode([]rune(text)) {
		wide = append(wide, byte(u), byte(u>>8))
	}
	for want, data := range map[string][]byte{"Latin-1": latin, "UTF-16": wide, "UTF-8": append([]byte("\xef\xbb\xbf"), text...)} {
		log, err := Read(data, Options{})
		if err != nil {
			t.Errorf("%s: %v", want, err)
			continue
		}
		if log.Encoding != want || log.Columns[0].Name != "Grube °C" || log.Columns[0].Readings[0].C != 121.5 || !log.DecimalComma {
			t.Errorf("%s was read as %s: %+v", want, log.Encoding, log.Columns[0])
		}
	}
}

func TestReadAcrossTheChangeOfClocks(t *testing.T) {
	york := zone(t, "America/New_York") // back at 02:00 on 1 Nov 2026 = 06:00 UTC; forward on 8 Mar 2026
	log := func(opts Options, clocks ...string) *Log {
		var b bytes.Buffer
		b.WriteString("time,Pit F\n")
		for i, c := range clocks {
			fmt.Fprintf(&b, "2026-11-01 %s,%d\n", c, 250+i)
		}
		opts.Zone = york
		l, err := Read(b.Bytes(), opts)
		if err != nil {
			t.Fatal(err)
		}
		return l
	}
	hours := func(l *Log) string {
		var s []string
		for _, r := range l.Columns[0].Readings {
			s = append(s, r.At.Format("15:04"))
		}
		return strings.Join(s, " ")
	}
	for _, c := range []struct {
		name   string
		opts   Options
		clocks []string
		want   string
		asks   bool
	}{
		{"both passes, told apart by order", Options{}, []string{"00:45", "01:15", "01:45", "01:15", "01:45", "02:15"}, "04:45 05:15 05:45 06:15 06:45 07:15", false},
		{"first pass joins what came before", Options{}, []string{"00:50", "01:05", "01:20"}, "04:50 05:05 05:20", false},
		{"second pass joins what comes after", Options{}, []string{"01:40", "01:50", "02:05"}, "06:40 06:50 07:05", false},
		{"nothing decides", Options{}, []string{"01:10", "01:20"}, "05:10 05:20", true},
		{"a person decides", Options{Fold: "second"}, []string{"01:10", "01:20"}, "06:10 06:20", false},
	} {
		l := log(c.opts, c.clocks...)
		asked := false
		for _, q := range l.Questions {
			asked = asked || q == AskFold
		}
		if got := hours(l); got != c.want || asked != c.asks {
			t.Errorf("%s: %s UTC (asks: %v), want %s (%v)", c.name, got, asked, c.want, c.asks)
		}
	}
	spring, err := Read([]byte("time,Pit F\n2026-03-08 01:30,250\n2026-03-08 02:30,251\n2026-03-08 03:30,252\n"), Options{Zone: york})
	if err != nil {
		t.Fatal(err)
	}
	if len(spring.Trouble) != 1 || spring.Trouble[0].Line != 3 || hours(spring) != "06:30 07:30" {
		t.Errorf("the skipped hour gave %s and %v, want line 3 reported", hours(spring), spring.Trouble)
	}
}

func TestReadAsksForTheOrderOfDayAndMonth(t *testing.T) {
	const text = "time,Pit F\n05/09/2026 08:00,250\n05/09/2026 08:01,251\n"
	for order, want := range map[string]time.Month{"": time.May, "mdy": time.May, "dmy": time.September} {
		l, err := Read([]byte(text), Options{DateOrder: order})
		if err != nil {
			t.Fatal(err)
		}
		if got := l.Columns[0].Readings[0].At.Month(); got != want || (order == "") != (len(l.Questions) == 1) {
			t.Errorf("order %q reads month %v with questions %v, want %v", order, got, l.Questions, want)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("time,Pit\n2026-09-19 08:00:00,250\n"))
	f.Add([]byte("Zeit;\"Grube\n19.09.2026 08:00;121,5\n;;;\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		l, err := Read(data, Options{})
		if err != nil {
			return
		}
		for _, c := range l.Columns {
			for i, r := range c.Readings {
				if r.C < units.LeastC || r.C > units.MostC || i > 0 && !r.At.After(c.Readings[i-1].At) {
					t.Fatalf("reading %d of %s is %v", i, c.Name, r)
				}
			}
		}
	})
}

func BenchmarkRead100000(b *testing.B) {
	var log bytes.Buffer
	log.WriteString("time,Pit F,1L F,1R F,2L F\n")
	at := utc("2026-09-19 08:00:00")
	for i := range 25_000 {
		fmt.Fprintf(&log, "%s,%d,%d,%d,%d\n", at.Add(time.Duration(i)*time.Second).Format("2006-01-02 15:04:05"), 250+i%7, 40+i/200, 41+i/200, 42+i/200)
	}
	b.SetBytes(int64(log.Len()))
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Read(log.Bytes(), Options{}); err != nil {
			b.Fatal(err)
		}
	}
}
