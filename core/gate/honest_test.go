package gate

import (
	"strings"
	"testing"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// pit is where a piece lay from minute 0 to the pull, set to F.
func pit(f, pull float64) course.Stay {
	return course.Stay{From: minute(0), To: minute(pull), Sets: []logbook.Point{point(0, f)}}
}

// box is a holder from one minute to another, of which nothing was read.
func box(from, to float64, calibrated bool) course.Stay {
	return course.Stay{From: minute(from), To: minute(to), Holder: true, Powered: true, Calibrated: calibrated}
}

// Days of people who log by hand, the next day, or in a holder; and probes that stand or climb as no meat does.
func TestHonestDaysAreOpenAndTheirLikenessesAreNot(t *testing.T) {
	ribs := BoundOf(0.0125, 0, 121, 25, false)
	shoulder := BoundOf(0.06, 0.5, 121, 25, false)
	usual := trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203}, leg{300, 195})
	toSear := []course.Place{probe("breast", trace(1, leg{0, 40}, leg{60, 130}))}
	seared := func(v ...float64) []course.Place {
		return append(append([]course.Place{}, toSear...), course.Place{Name: ColdestFound, Hand: hand(v...)})
	}
	nextDay := func(change func(*Input)) func(*Input) {
		return func(in *Input) {
			in.Served, in.Now, in.Due = nil, minute(3000), minute(400)
			change(in)
		}
	}
	lies := func(stays ...course.Stay) func(*Input) { return func(in *Input) { in.Stays = stays } }
	chilled := []course.Place{probe("thick", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203}, leg{280, 135}, leg{390, 70}, leg{600, 39})),
		{Name: "by hand", Hand: hand(9100, 167)}}
	wire := func(c float64) []course.Place {
		return []course.Place{probe("breast", trace(1, leg{0, 40}, leg{60, c}, leg{120, c}))}
	}
	for name, c := range map[string]struct {
		in    Input
		stops string
	}{
		"entered the next day, read hot at the knife": {day(chicken, 90, 0, byHand(88, 170, 109, 160),
			nextDay(func(in *Input) { in.Knife = minute(110) })), ""},
		"and nobody said when it was carved": {day(chicken, 90, 0, byHand(88, 170, 109, 160), nextDay(func(*Input) {})), "eaten"},
		"and it was served": {day(chicken, 90, 0, byHand(88, 170, 109, 160),
			nextDay(func(in *Input) { in.Served = []time.Time{minute(120)} })), ""},
		"served twice, five hours apart and not kept hot": {day(chicken, 90, 0, byHand(88, 170, 109, 150, 150, 130),
			nextDay(func(in *Input) { in.Served = []time.Time{minute(120), minute(420)} })), "after"},
		"carved, and slices kept on the board to the evening": {day(chicken, 90, 0, append(byHand(88, 170), course.Place{Name: "slices",
			Hand: hand(120, 100, 380, 70)}),
			nextDay(func(in *Input) { in.Knife = minute(110) })), "after,eaten"},
		"while the table may still come it runs to now": {day(chicken, 90, 0, byHand(88, 170), func(in *Input) {
			in.Served, in.Now,
				in.Due = nil, minute(500), minute(480)
		}), "unread"},
		"the codes are open, and it was left over": {day(chicken, 90, 0, byHand(88, 170),
			func(in *Input) { in.Served, in.Now, in.Due, in.Read = nil, minute(500), minute(1200), true }), "eaten"},
		"the same, carved": {day(chicken, 90, 0, byHand(88, 170),
			func(in *Input) {
				in.Served, in.Now, in.Due, in.Read, in.Knife = nil, minute(500), minute(1200), true, minute(100)
			}), ""},

		"the wire out before the sear":          {day(chicken, 85, 110, seared(75, 165, 77, 168, 80, 170), nil), ""},
		"the same, read once":                   {day(chicken, 85, 110, seared(80, 170), nil), "below"},
		"the same, read twice in half a minute": {day(chicken, 85, 110, seared(80, 170, 80.5, 170), nil), "below"},
		"the same, the second under the row":    {day(chicken, 85, 110, seared(75, 166, 77, 164.5), nil), "below"},
		"the same, at another place than the coldest": {day(chicken, 85, 110, append(toSear, course.Place{Name: "thigh", Hand: hand(75,
			165, 77, 168)}), nil), "below"},
		"read at the coldest before the wire was out": {day(chicken, 85, 110, seared(50, 166, 55, 168), nil), "below"},
		"chilled, and reheated days later": {day(lamb, 240, 9110, chilled,
			func(in *Input) { in.Warmed = []time.Time{minute(9000)} }), ""},
		"the same, and when it came out is not on record": {day(lamb, 240, 9110, chilled, nil), "after,reheat"},
		"the same, three hours after it came out": {day(lamb, 240, 9110, chilled,
			func(in *Input) { in.Warmed = []time.Time{minute(8900)} }), "reheat"},
		"chilled, and eaten cold a day later": {day(lamb, 240, 2000, chilled[:1], nil), ""},
		"chilled, and on the table for five hours": {day(lamb, 240, 2000, chilled[:1],
			func(in *Input) { in.Warmed = []time.Time{minute(1700)} }), "after"},
		"ribs that fell from 192 to 130 F in 27 minutes": {day(lamb, 240, 280, byHand(238, 192, 267, 130), func(in *Input) { in.Bound = ribs }), ""},
		"a shoulder that fell so": {day(lamb, 240, 280, byHand(238, 192, 267, 130),
			func(in *Input) { in.Bound = shoulder }), "suspended"},
		"a thigh first read as it cooled": {day(chicken, 90, 110, append(byHand(88, 168), course.Place{Name: Thigh,
			Hand: hand(96, 160)}), func(in *Input) { in.Bound = ribs }), ""},
		"colder than a rest can have left it": {day(chicken, 90, 110, append(byHand(88, 168), course.Place{Name: Thigh,
			Hand: hand(96, 140)}), func(in *Input) { in.Bound = ribs }), "below"},
		"first read as it cooled, and nothing else was read": {day(chicken, 90, 110, byHand(96, 160), func(in *Input) { in.Bound = ribs }), "below"},
		"five hours in the cold, and first read as it cooled": {day(chicken, 90, 110, append(byHand(60, 120, 88, 168), course.Place{Name: Thigh,
			Hand: hand(96, 125)}), func(in *Input) { in.Bound = ribs }), "below"},

		"fourteen hours in a box that was calibrated": {day(chicken, 240, 1090, byHand(235, 205, 1080, 150), lies(box(245, 1085, true))), ""},
		"fourteen hours in a box that nobody read": {day(chicken, 240, 1090, byHand(235, 205, 1080, 150), lies(box(245, 1085,
			false))), "unknown"},
		"two hours in it, read hot at both ends": {day(lamb, 240, 400, byHand(235, 150, 390, 149), lies(box(260, 395, false))), ""},
		"five hours wrapped in a cooler, 135 F at the knife": {day(chicken, 240, 560, byHand(239, 203, 550, 135),
			lies(course.Stay{From: minute(245), Holder: true})), ""},
		"the same in a box that heats, and let it cool": {day(chicken, 240, 560, byHand(239, 203, 550, 135), lies(box(245, 555, true))), "after"},
		"the same on the board":                         {day(chicken, 240, 560, byHand(239, 203, 550, 95), nil), ""},
		"eight hours on the board, and 85 F":            {day(chicken, 240, 730, byHand(239, 203, 720, 85), nil), "after"},
		"fourteen hours in a cooler, as a good rest leaves": {day(chicken, 240, 1090, byHand(235, 205, 1080, 118),
			lies(course.Stay{From: minute(245), Holder: true})), "after"},

		"a probe that stands at 146 F in a pit at 225 F": {day(chicken, 120, 140, wire(146), lies(pit(225, 120))), "below"},
		"the same, borne out by hand": {day(chicken, 120, 140, []course.Place{{Name: "breast", Probe: "1",
			Trace: wire(146)[0].Trace, Hand: hand(100, 143)}}, lies(pit(225, 120))), ""},
		"the same in air that is near":               {day(chicken, 120, 140, wire(146), lies(pit(160, 120))), ""},
		"the same where nothing is known of the air": {day(chicken, 120, 140, wire(146), nil), ""},
		"it stands at 166 F, where it climbed to":    {day(chicken, 120, 140, wire(166), lies(pit(225, 120))), ""},
		"it stood for nineteen minutes and moved on": {day(chicken, 120, 140, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{60, 146},
			leg{79, 146}, leg{120, 155}))},
			lies(pit(225, 120))), ""},
		"36 F in ten minutes in a shoulder": {day(pierced, 300, 310, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{280, 129}, leg{290,
			165}, leg{300, 165}))}, func(in *Input) { in.Bound = shoulder }), "below"},
		"the same in ribs": {day(pierced, 300, 310, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{280, 129}, leg{290,
			165}, leg{300, 165}))}, func(in *Input) { in.Bound = ribs }), ""},
		"9 F in ten minutes in a shoulder": {day(pierced, 300, 310, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{280, 150}, leg{290,
			159}, leg{300, 162}))}, func(in *Input) { in.Bound = shoulder }), ""},
		"a shoulder to 203 F in its usual time": {day(lamb, 240, 300, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{300, 145}, leg{600,
			203}))}, func(in *Input) {
			in.Pull, in.Served, in.Bound = minute(600), []time.Time{minute(620)}, shoulder
			in.Stays = []course.Stay{pit(250, 600)}
		}), ""},
		"usual, in a pit that is known": {day(lamb, 240, 300, []course.Place{probe("thick", usual)}, lies(pit(250, 240))), ""},
	} {
		got := Of(c.in)
		var stops []string
		for _, s := range got.Stops {
			stops = append(stops, s.Key)
			if s.Words == "" || s.Remedy == "" {
				t.Errorf("%s: the stop %s says nothing: %+v", name, s.Key, s)
			}
		}
		if strings.Join(stops, ",") != c.stops {
			t.Errorf("%s: stopped by %v, want [%s]\n%+v", name, stops, c.stops, got)
		}
	}
	if p := Of(day(chicken, 90, 110, byHand(96, 160), func(in *Input) { in.Bound = ribs })).Places[0]; p.Stands != "" {
		t.Errorf("with nothing that passed a place stands by %q", p.Stands)
	}
	if p := Of(day(chicken, 90, 110, append(byHand(88, 168), course.Place{Name: Thigh, Hand: hand(96, 160)}),
		func(in *Input) { in.Bound = ribs })).Places[1]; p.Stands != ByCooling {
		t.Errorf("first read as it cooled, a place stands by %q", p.Stands)
	}
	late := Of(day(chicken, 90, 800, append(byHand(60, 120, 88, 168), course.Place{Name: Thigh, Hand: hand(96, 160)}),
		func(in *Input) { in.Bound = ribs }))
	if late.Range.Over || late.ComeUp.Late {
		t.Errorf("a place first read as it cooled is asked for its way up: %+v %+v", late.Range, late.ComeUp)
	}
}

// The bound is over what the cook model lets a core do, and not so far over that it says nothing.
func TestTheBoundIsOverTheModel(t *testing.T) {
	if b := (BoundOf(0, 0, 121, 25, false)); b != (Bound{}) || (Input{}).rested(70, time.Hour) != 70 {
		t.Errorf("nothing is known of no piece: %+v", b)
	}
	for _, c := range []struct{ half, shape, low, high float64 }{{0.06, 0.5, 0.3, 0.8}, {0.025, 0, 0.8, 2}, {0.0125, 0, 3, 40}} {
		b := BoundOf(c.half, c.shape, 121, 25, false)
		if b.RiseC < c.low || b.RiseC > c.high {
			t.Errorf("half of %v m rises %v C a minute at most, want %v to %v", c.half, b.RiseC, c.low, c.high)
		}
	}
	if BoundOf(0.03, 0, 121, 25, true).RiseC < 2*BoundOf(0.03, 0, 121, 25, false).RiseC {
		t.Error("what was seared rises no faster")
	}
	in := Input{Bound: BoundOf(0.0125, 0, 121, 25, false)}
	if c := in.rested(units.FToC(192), 27*time.Minute); c > units.FToC(130) || c < units.FToC(100) {
		t.Errorf("ribs rest from 192 F to %v F in 27 min at the fastest", units.CToF(c))
	}
	cold := 0.0
	in.AirC = &cold
	if in.rested(70, time.Hour) >= (Input{Bound: in.Bound}).rested(70, time.Hour) {
		t.Error("a cold day cools no faster")
	}
}
