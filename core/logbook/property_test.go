package logbook

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/units"
)

// dialect is one way a logger may write.
type dialect struct {
	delimiter, layout string
	comma             bool
	scale             units.Scale
}

var dialects = []dialect{
	{",", "2006-01-02 15:04:05", false, "F"},
	{";", "02.01.2006 15:04:05", true, "C"},
	{"\t", "2006-01-02T15:04:05", false, "C"},
	{",", "1/2/2006 3:04:05 PM", false, "F"},
	{";", "2006/01/02 15:04:05", false, "F"},
	{"|", "2006-01-02 15:04:05 -0700", false, "C"},
}

func (d dialect) write(zone *time.Location, at []time.Time, c []float64) []byte {
	var b bytes.Buffer
	fmt.Fprintf(&b, "Time%sProbe (%s)\n", d.delimiter, d.scale)
	for i, t := range at {
		v := c[i]
		if d.scale == units.Fahrenheit {
			v = units.CToF(v)
		}
		text := fmt.Sprintf("%.2f", v)
		if d.comma {
			text = strings.Replace(text, ".", ",", 1)
		}
		fmt.Fprintf(&b, "%s%s%s\n", t.In(zone).Format(d.layout), d.delimiter, text)
	}
	return b.Bytes()
}

// TestWhatIsWrittenIsRead writes random cooks in every dialect and zone, many
// of them over a night when the clocks change, and reads them back.
func TestWhatIsWrittenIsRead(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 12))
	nights := []time.Time{ // starts of cooks: over a change back, over a change forward, and of no change
		time.Date(2026, 11, 1, 3, 0, 0, 0, time.UTC), time.Date(2026, 10, 24, 22, 30, 0, 0, time.UTC),
		time.Date(2026, 3, 8, 4, 0, 0, 0, time.UTC), time.Date(2026, 3, 28, 23, 0, 0, 0, time.UTC), time.Date(2026, 9, 19, 11, 0, 0, 0, time.UTC),
	}
	for _, name := range []string{"America/New_York", "Europe/Oslo", "Australia/Lord_Howe", "Asia/Kolkata", "UTC"} {
		z := zone(t, name)
		for _, start := range nights {
			for _, d := range dialects {
				var at []time.Time
				var c []float64
				now := start.Add(time.Duration(r.IntN(3600)) * time.Second)
				for range 120 {
					now = now.Add(time.Duration(60+r.IntN(240)) * time.Second)
					at, c = append(at, now), append(c, math.Round(r.Float64()*10000)/100)
				}
				log, err := Read(d.write(z, at, c), Options{Zone: z})
				if err != nil {
					t.Fatalf("%s in %s: %v", d.layout, name, err)
				}
				got := log.Columns[0].Readings
				if len(got) != len(at) || len(log.Trouble) > 0 || slices.Contains(log.Questions, AskFold) {
					t.Errorf("%s in %s from %s: %d of %d readings, trouble %v, questions %v", d.layout, name, start, len(got), len(at), log.Trouble, log.Questions)
					continue
				}
				for i := range got {
					if !got[i].At.Equal(at[i]) || math.Abs(got[i].C-c[i]) > 0.0051 {
						t.Errorf("%s in %s: reading %d is %v at %v, was written %v at %v", d.layout, name, i, got[i].C, got[i].At, c[i], at[i])
						break
					}
				}
			}
		}
	}
}

// TestOneBadLineCostsOneLine garbles one line at a time and loses no other.
func TestOneBadLineCostsOneLine(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 22))
	start := time.Date(2026, 9, 19, 11, 0, 0, 0, time.UTC)
	var at []time.Time
	var c []float64
	for i := range 40 {
		at, c = append(at, start.Add(time.Duration(i)*time.Minute)), append(c, 60+float64(i)/10)
	}
	lines := strings.Split(strings.TrimSpace(string(dialects[0].write(time.UTC, at, c))), "\n")
	for range 300 {
		n := 1 + r.IntN(len(lines)-1)
		garbled := slices.Clone(lines)
		garbled[n] = []string{"", "\"", "\"\"\"", ",,,,", "2026-09-19 11:00:00", "garbage;more", lines[n] + ",7", "2026-09-19 99:99:99,70", "2026-09-19 11:30:30,hot", "\x01\x02"}[r.IntN(10)]
		log, err := Read([]byte(strings.Join(garbled, "\n")), Options{})
		if err != nil {
			t.Fatalf("line %d as %q: %v", n+1, garbled[n], err)
		}
		if got := log.Readings(); got != len(at)-1 {
			t.Errorf("line %d as %q left %d readings, want %d", n+1, garbled[n], got, len(at)-1)
		}
		if garbled[n] != "" && (len(log.Trouble) != 1 || log.Trouble[0].Line != n+1) {
			t.Errorf("line %d as %q is reported as %v", n+1, garbled[n], log.Trouble)
		}
	}
}

func TestHighestNeverBelowTheMedianNorAboveTheTop(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 32))
	for range 200 {
		n := 1 + r.IntN(40)
		values := make([]float64, n)
		for i := range values {
			values[i] = 100 * r.Float64()
		}
		got, ok := Highest(trace(values...))
		slices.Sort(values)
		if !ok || got.C > values[n-1] || n > 2 && got.C > values[n-1] {
			t.Fatalf("the highest of %v is %v", values, got.C)
		}
		if n >= 3 && got.C < values[0] {
			t.Fatalf("the highest of %v is %v, below all of them", values, got.C)
		}
	}
}
