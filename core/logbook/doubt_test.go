package logbook

import (
	"strings"
	"testing"
	"time"
)

// A slip of the hand that puts an act into another hour or another day is asked about; what a cook may do is not.
func TestWhatIsAskedOfATime(t *testing.T) {
	serve := utc("2026-09-19 18:00:00")
	at := func(h float64) time.Time { return serve.Add(time.Duration(h * float64(time.Hour))) }
	for _, c := range []struct {
		name   string
		act    Act
		at     float64 // hours from the table
		now    float64
		lit    *float64
		others []float64
		want   string
	}{
		{"on, before anything", On, -10, -10, nil, nil, ""},
		{"on, an hour after the fire", On, -9, -9, f(-10), nil, ""},
		{"on, as it was lit", On, -10, -9, f(-10), nil, ""},
		{"on, before the fire was lit", On, -10.5, -9, f(-10), nil, "The fire was lit at {time:2026-09-19T08:00:00Z}, after this."},
		{"spritzed, before the fire was lit", Spritz, -10.5, -9, f(-10), nil, "The fire was lit"},
		{"wood laid before the fire was lit", Wood, -10.5, -9, f(-10), nil, ""},
		{"the day after, of the cook's own day", On, -10, 30, nil, nil, ""},
		{"the day after, at the end of the meal", Carve, 5, 30, nil, nil, ""},
		{"three weeks before", On, -27 * 24, -9, nil, nil, "is far from now, from the table and from all else of this cook."},
		{"a week after the table, of an hour ago", Note, 7*24 - 1, 7 * 24, nil, nil, ""},
		{"a week after the table, entered a day later", Note, 7 * 24, 8 * 24, nil, nil, "is far from now"},
		{"two days before the table, beside another entry", Rub, -48, -10, nil, []float64{-50, -10}, ""},
		{"two days before the table, far from the others", Rub, -48, -10, nil, []float64{-12, -10}, "is far from now"},
	} {
		in := Around{Now: at(c.now), Serve: serve}
		if c.lit != nil {
			in.Lit = at(*c.lit)
		}
		for _, h := range c.others {
			in.Others = append(in.Others, at(h))
		}
		if got := DoubtTime(Event{c.act, at(c.at)}, in); got != c.want && (c.want == "" || !strings.Contains(got, c.want)) {
			t.Errorf("%s: it is asked %q, want %q", c.name, got, c.want)
		}
	}
	for hours, want := range map[float64]string{
		6:    "Pull is planned for {time:2026-09-19T18:00:00Z}, in 6:00. It would end the cook of 6.",
		2:    "Pull is planned for {time:2026-09-19T18:00:00Z}, in 2:00. It would end the cook of 6.",
		1.99: "", 0: "", -3: "",
	} {
		if got := DoubtEarly(Pull, 6, at(-hours), serve); got != want {
			t.Errorf("a pull %g hours early is asked %q, want %q", hours, got, want)
		}
	}
	if got := DoubtEarly(Wrap, 6, at(-3), serve); got != "Wrap is planned for {time:2026-09-19T18:00:00Z}, in 3:00." {
		t.Errorf("a wrap three hours early is asked %q", got)
	}
}

func f(v float64) *float64 { return &v }

// A slip of the key among readings is asked about; what meat does, and what a thermometer does in another place, is not.
func TestWhatIsAskedOfAReading(t *testing.T) {
	on := utc("2026-09-19 08:00:00")
	at := func(min float64) time.Time { return on.Add(time.Duration(min * float64(time.Minute))) }
	F := func(min, f float64) HandRead { return HandRead{at(min), (f - 32) / 1.8} }
	for _, c := range []struct {
		name         string
		read         HandRead
		mine, others []HandRead
		want         string
		high         bool
	}{
		{"the first", F(300, 171), nil, nil, "", false},
		{"a stall", F(300, 160), []HandRead{F(240, 160)}, nil, "", false},
		{"another place of it", F(300, 147), []HandRead{F(299, 170)}, nil, "", false},
		{"a digit was lost", F(300, 17), []HandRead{F(270, 165)}, nil, "meat does not move so fast", false},
		{"a digit slipped", F(310, 195), []HandRead{F(307, 145)}, nil, "meat does not move so fast", true},
		{"hours lie between", F(310, 195), []HandRead{F(200, 120)}, nil, "", false},
		{"it was read later, and this is entered now", F(310, 145), []HandRead{F(330, 195)}, nil, "", false},
		{"4 F among 170s", F(300, 4), nil, []HandRead{F(299, 171), F(299, 172), F(301, 175)}, "the others about {C:77.7778}", false},
		{"among two others", F(300, 90), nil, []HandRead{F(299, 171), F(299, 172)}, "", false},
		{"the others were read long before", F(300, 90), nil, []HandRead{F(199, 171), F(199, 172), F(201, 175)}, "", false},
		{"16.5 F on the fire", F(300, 16.5), nil, nil, "on the fire since {time:2026-09-19T08:00:00Z}", false},
		{"frozen as it went on", F(5, 28), nil, nil, "", false},
	} {
		got := DoubtRead(c.read, on, c.mine, c.others)
		if (got == nil) != (c.want == "") || got != nil && (!strings.Contains(got.Words, c.want) || got.High != c.high) {
			t.Errorf("%s: it is asked %+v, want %q, high %v", c.name, got, c.want, c.high)
		}
	}
	if got := DoubtRead(F(300, 16.5), time.Time{}, nil, nil); got != nil {
		t.Errorf("frozen in the fridge it is asked %+v", got)
	}
}
