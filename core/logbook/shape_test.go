package logbook

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"
)

// told is a log in a few words: its columns, each with its readings.
func told(l *Log) string {
	var out []string
	for _, c := range l.Columns {
		text := c.Name + " " + string(c.Scale) + ":"
		for _, r := range c.Readings {
			text += fmt.Sprintf(" %s=%g", r.At.Format("2 15:04"), r.Value)
		}
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

func TestReadKnowsEveryShape(t *testing.T) {
	oslo := zone(t, "Europe/Oslo")
	day := time.Date(2026, 9, 19, 0, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		name, file, want string
		opts             Options
		ask              []Question
	}{
		{"a line a reading", "time,probe,temperature,unit\n2026-09-19 08:00,pit,250,F\n2026-09-19 08:00,core,41,F\n2026-09-19 08:10,pit,252,F\n",
			"pit F: 19 08:00=250 19 08:10=252; core F: 19 08:00=41", Options{Zone: time.UTC}, nil},
		{"units that differ by line", "Time;Sensor;Value;Unit\n19.09.2026 08:00;pit;121,5;C\n19.09.2026 08:00;core;41;C\n",
			"pit C: 19 08:00=121.5; core C: 19 08:00=41",
			Options{Zone: time.UTC}, nil},
		{"numbered channels", "time,channel,temp (C)\n2026-09-19 08:00:00,1,120\n2026-09-19 08:00:00,2,5\n2026-09-19 08:01:00,1,121\n",
			"1 C: 19 08:00=120 19 08:01=121; 2 C: 19 08:00=5",
			Options{Zone: time.UTC}, nil},
		{"a wide log with an id", "time,id,temp (F)\n2026-09-19 08:00:00,1,250\n2026-09-19 08:01:00,2,251\n2026-09-19 08:02:00,3,251\n",
			"id F: 19 08:00=1 19 08:01=2 19 08:02=3; temp (F) F: 19 08:00=250 19 08:01=251 19 08:02=251",
			Options{Zone: time.UTC}, nil},
		{"long, as somebody says", "2026-09-19 08:00:00,Brick,250\n2026-09-19 08:00:00,Drum,240\n", "Brick F: 19 08:00=250; Drum F: 19 08:00=240",
			Options{Zone: time.UTC, Shape: Long, Scale: "F"}, nil},
		{"an object a line", `{"ts": 1789804800, "pit_F": 250, "core_F": 41.5, "state": "ok"}` + "\n" + `{"ts": 1789805400, "pit_F": 252, "core_F": null}` + "\n",
			"core_F F: 19 08:00=41.5; pit_F F: 19 08:00=250 19 08:10=252", Options{Zone: time.UTC}, nil},
		{"objects in objects, one torn", `{"time":"2026-09-19T08:00:00Z","probe":{"name":"pit"},"value":121,"unit":"C"}` + "\n{torn\n" + `{"time":"2026-09-19T08:05:00Z","probe":{"name":"pit"},"value":122,"unit":"C"}`,
			"pit C: 19 08:00=121 19 08:05=122", Options{Zone: time.UTC}, nil},
		{"times of day over midnight", "clock,pit F\n23:50,250\n23:55,251\n00:05,252\n12:30,253\n00:10,254\n",
			"pit F F: 19 21:50=250 19 21:55=251 19 22:05=252 20 10:30=253 20 22:10=254",
			Options{Zone: oslo, Day: day}, nil},
		{"times of day of a day that nobody said", "08:00,250 F\n08:05,251 F\n", "Column 2 F: 1 08:00=250 1 08:05=251", Options{Zone: time.UTC}, []Question{AskDay}},
		{"a JSON array over many lines", "[\n  {\"at\": \"2026-09-19 08:00\",\n   \"pit\": \"250 F\"},\n  {\"at\": \"2026-09-19 08:10\", \"pit\": \"251 F\"}\n]\n",
			"pit F: 19 08:00=250 19 08:10=251", Options{Zone: time.UTC}, nil},
		{"a JSON array of lists", `[["2026-09-19T08:00:00Z",121.5,4],["2026-09-19T08:10:00Z",122,5]]`,
			"Column 2 C: 19 08:00=121.5 19 08:10=122; Column 3 C: 19 08:00=4 19 08:10=5", Options{Scale: "C"}, nil},
		{"a JSON array that breaks off", `[{"ts": 1789804800, "pit C": 120}, {"ts": 1789805400, "pit C": 121}, {"ts": 17898`,
			"pit C C: 19 08:00=120 19 08:10=121", Options{}, nil},
		{"a preamble in brackets", "[Log]\ntime,pit C\n2026-09-19 08:00,120\n2026-09-19 08:10,121\n", "pit C C: 19 08:00=120 19 08:10=121", Options{}, nil},
		{"minutes since a start", "Minutes,pit C\n0,20\n0.5,60\n600,121\n", "pit C C: 19 05:50=20 19 05:50=60 19 15:50=121",
			Options{Zone: oslo, Start: time.Date(2026, 9, 19, 7, 50, 0, 0, time.UTC)}, nil},
		{"seconds over the change of clocks", "elapsed (s);pit C\n0;20\n7200;121\n", "pit C C: 24 23:30=20 25 01:30=121",
			Options{Zone: oslo, Start: time.Date(2026, 10, 25, 1, 30, 0, 0, time.UTC)}, nil},
		{"a count of nothing", "t,pit C\n0,20\n5,60\n10,121\n", "pit C C: 1 00:00=20 1 00:05=60 1 00:10=121", Options{}, []Question{AskElapsed, AskStart}},
		{"a count of what somebody says", "t,pit C\n0,20\n5,60\n", "pit C C: 19 08:00=20 19 13:00=60", Options{Elapsed: Hours, Start: day.Add(8 * time.Hour)}, nil},
		{"a long count of nothing", "t,pit C\n0,20\n5,60\n36000,121\n", "pit C C: 19 00:00=20 19 00:00=60 19 10:00=121", Options{Start: day}, []Question{AskElapsed}},
		{"a clock that begins at nought", "clock,pit C\n00:00:00,20\n00:10:00,60\n", "pit C C: 1 00:00=20 1 00:10=60", Options{}, []Question{AskDay, AskStart}},
		{"a clock that was started then", "clock,pit C\n00:00:00,20\n00:10:00,60\n", "pit C C: 19 08:00=20 19 08:10=60", Options{Start: day.Add(8 * time.Hour)}, nil},
		{"a clock at midnight of a day", "clock,pit C\n00:00:00,20\n00:10:00,60\n", "pit C C: 19 00:00=20 19 00:10=60", Options{Day: day}, nil},
		{"times of day with AM and PM", "11:58 PM,120 C\n12:02 AM,121 C\n", "Column 2 C: 19 23:58=120 20 00:02=121", Options{Zone: time.UTC, Day: day}, nil},
	} {
		l, err := Read([]byte(c.file), c.opts)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if got := told(l); got != c.want || !slices.Equal(l.Questions, c.ask) {
			t.Errorf("%s is read as\n%s (asks %v), want\n%s (asks %v)", c.name, got, l.Questions, c.want, c.ask)
		}
	}
}

func TestObjectsKeepTheirLineNumbers(t *testing.T) {
	l, err := Read([]byte("{\"at\":\"2026-09-19 08:00\",\"pit\":\"250 F\"}\n{torn\n\n{\"at\":\"2026-09-19 "+
		"08:10\",\"pit\":\"warm\"}\n{\"at\":\"2026-09-19 08:20\",\"pit\":\"251 F\"}\n"), Options{})
	if err != nil {
		t.Fatal(err)
	}
	var got []string
	for _, x := range l.Trouble {
		got = append(got, fmt.Sprint(x.Line, " ", x.Problem))
	}
	if want := "2 is not one JSON object|4 pit: \"warm\" is not a temperature"; strings.Join(got, "|") != want {
		t.Errorf("the trouble is %q, want %q", strings.Join(got, "|"), want)
	}
	if _, err := Read([]byte("{\"pit\": 1}\n{\"pit\": 2}\n"), Options{}); err == nil || !strings.Contains(err.Error(), "name it time") {
		t.Errorf("objects without a time are refused with %v", err)
	}
}

func TestALongLogHasAnEndOfProbes(t *testing.T) {
	var b strings.Builder
	b.WriteString("time,probe,value\n")
	for i := range mostProbes + 5 {
		fmt.Fprintf(&b, "2026-09-19 08:00:00,p%d,%d\n", i, 100+i%20)
	}
	l, err := Read([]byte(b.String()), Options{Scale: "F"})
	if err != nil || len(l.Columns) != mostProbes || len(l.Trouble) != 5 {
		t.Errorf("%d probes came in with %d lines of trouble (%v)", len(l.Columns), len(l.Trouble), err)
	}
}
