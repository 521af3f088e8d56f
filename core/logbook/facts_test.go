package logbook

import (
	"math"
	"strings"
	"testing"
	"time"
)

func trace(c ...float64) []Point {
	out := make([]Point, len(c))
	for i, v := range c {
		out[i] = Point{At: utc("2026-09-19 08:00:00").Add(time.Duration(i) * time.Minute), C: v}
	}
	return out
}

func TestHighestIsNotRaisedByOneSpike(t *testing.T) {
	for _, c := range []struct {
		trace []Point
		want  float64
	}{
		{trace(60, 70, 95, 72, 73, 74, 73), 74 - 1}, {trace(60, 61, 62, 63, 63), 63}, {trace(60), 60}, {trace(60, 90), 60}, {trace(200, 60, 61), 61},
	} {
		if got, ok := Highest(c.trace); !ok || got.C != c.want {
			t.Errorf("the highest of %v is %v, want %v", c.trace, got.C, c.want)
		}
	}
	if p, ok := Highest(nil); ok {
		t.Errorf("an empty trace has the highest %v", p)
	}
}

func TestPitOverTakesOnlyItsStretch(t *testing.T) {
	x := trace(20, 100, 110, 120, 20)
	p, ok := PitOver(x, x[1].At, x[3].At)
	if !ok || p.MeanC != 110 || math.Abs(p.SDC-10) > 1e-9 || p.Readings != 3 {
		t.Errorf("the pit ran %+v, want 110 ± 10 over 3 readings", p)
	}
	if p, ok := PitOver(x, x[4].At.Add(time.Hour), x[4].At.Add(2*time.Hour)); ok {
		t.Errorf("an hour without readings has the mean %v", p.MeanC)
	}
}

func TestCookOf(t *testing.T) {
	at := func(m int) time.Time { return utc("2026-09-19 08:00:00").Add(time.Duration(m) * time.Minute) }
	for _, c := range []struct {
		name   string
		events []Event
		hours  float64
		ok     bool
	}{
		{"on and pull", []Event{{Pull, at(90)}, {On, at(0)}, {Wrap, at(40)}}, 1.5, true},
		{"the first of each", []Event{{On, at(0)}, {On, at(30)}, {Pull, at(60)}, {Pull, at(90)}}, 1, true},
		{"never pulled", []Event{{On, at(0)}}, 0, false},
		{"pulled before it was on", []Event{{On, at(50)}, {Pull, at(20)}}, 0, false},
		{"on again after it was pulled", []Event{{On, at(0)}, {Pull, at(60)}, {On, at(120)}}, 0, false},
		{"and pulled again", []Event{{On, at(0)}, {Pull, at(60)}, {On, at(120)}, {Pull, at(180)}}, 3, true},
	} {
		on, pull, ok := CookOf(c.events)
		if ok != c.ok || ok && pull.Sub(on).Hours() != c.hours {
			t.Errorf("%s: %v to %v (%v), want %v hours (%v)", c.name, on, pull, ok, c.hours, c.ok)
		}
	}
}

func TestCheckEventRefusesContradictionsAndAsksAboutTheRest(t *testing.T) {
	at := func(m int) time.Time { return utc("2026-09-19 08:00:00").Add(time.Duration(m) * time.Minute) }
	cooked := []Event{{On, at(10)}, {Pull, at(100)}}
	chilled := append(cooked[:2:2], Event{Chill, at(130)})
	for _, c := range []struct {
		name   string
		event  Event
		others []Event
		want   string // ok, asked, or what the refusal says
	}{
		{"on first", Event{On, at(0)}, nil, "ok"},
		{"on again", Event{On, at(50)}, cooked, "it is on since {time:2026-09-19T08:10:00Z}"},
		{"on before the on that stands", Event{On, at(5)}, cooked, "it is on since {time:2026-09-19T08:10:00Z}"},
		{"on again after the pull", Event{On, at(150)}, cooked, "asked: It was pulled at {time:2026-09-19T09:40:00Z} and not chilled since"},
		{"on again after a chill", Event{On, at(150)}, chilled, "ok"},
		{"on of what was only pulled", Event{On, at(120)}, cooked[1:], "it was pulled at {time:2026-09-19T09:40:00Z}"},
		{"pull after on", Event{Pull, at(90)}, cooked[:1], "ok"},
		{"pull before on", Event{Pull, at(5)}, cooked[:1], "it went on at {time:2026-09-19T08:10:00Z}"},
		{"pull as it went on", Event{Pull, at(10)}, cooked[:1], "it went on at {time:2026-09-19T08:10:00Z}"},
		{"pull again", Event{Pull, at(120)}, cooked, "it was pulled at {time:2026-09-19T09:40:00Z}"},
		{"pull of the second fire", Event{Pull, at(200)}, append(chilled[:3:3], Event{On, at(150)}), "ok"},
		{"spritz while on", Event{Spritz, at(60)}, cooked, "ok"},
		{"spritz after the pull", Event{Spritz, at(101)}, cooked, "asked: It was pulled at {time:2026-09-19T09:40:00Z}"},
		{"turned before it went on", Event{Turn, at(5)}, cooked, "asked: It went on at {time:2026-09-19T08:10:00Z}"},
		{"wrapped before it went on", Event{Wrap, at(5)}, cooked, "ok"},
		{"wrapped to hold", Event{Wrap, at(101)}, cooked, "ok"},
		{"wrapped for the first time", Event{Wrap, at(60)}, cooked, "ok"},
		{"wrapped once more", Event{Wrap, at(60)}, append(cooked[:2:2], Event{Wrap, at(40)}), "asked: It is wrapped since {time:2026-09-19T08:40:00Z}"},
		{"wrapped after it was unwrapped", Event{Wrap, at(60)}, append(cooked[:2:2], Event{Wrap, at(40)}, Event{Unwrap, at(50)}), "ok"},
		{"wrapped before the wrap that stands", Event{Wrap, at(30)}, append(cooked[:2:2], Event{Wrap, at(40)}), "ok"},
		{"seared after the pull", Event{Sear, at(140)}, cooked, "ok"},
		{"note at any time", Event{Note, at(300)}, cooked, "ok"},
	} {
		got := "ok"
		doubt, err := CheckEvent(c.event, c.others)
		if doubt != "" {
			got = "asked: " + doubt
		}
		if err != nil {
			got = err.Error()
		}
		if got != c.want && (c.want == "ok" || !strings.Contains(got, c.want)) {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

func TestSuggestTarget(t *testing.T) {
	names := []string{"1L", "11L", "Brick Pit", "Brick"}
	for column, want := range map[string]int{"1L": 0, "probe 1L (F)": 0, "11l_core": 1, "21L": -1, "Pit": -1, "BRICK": 3, "Brick Pit F": -1, "": -1} {
		if got := SuggestTarget(column, names); got != want {
			t.Errorf("column %q is taken for %d, want %d", column, got, want)
		}
	}
}
