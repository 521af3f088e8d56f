package gate

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// Days that a person could have, each refused or passed as the rules say. Stops are
// the keys of what keeps the gate shut.
func TestEachDayIsPassedOrRefusedAsTheRulesSay(t *testing.T) {
	usual := trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203}, leg{300, 195})              // a cook without fault
	brief := trace(0.5, leg{0, 40}, leg{60, 140}, leg{64, 152}, leg{67, 140}, leg{80, 134}) // up to 152 F for a moment
	bird := trace(0.25, leg{0, 40}, leg{60, 150}, leg{80, 150})
	air := 33.0
	reason := func(in *Input) { in.Reason = "eaters chose it" }
	high := func(in *Input) { in.BoilsC = thermal.BoilingPoint(thermal.PressureAt(1609)) }
	for name, c := range map[string]struct {
		in    Input
		stops string // open where there are none
	}{
		"a shoulder to 203 F":          {day(lamb, 240, 300, []course.Place{probe("thick", usual)}, nil), ""},
		"thighs with nothing chosen":   {day(safety.Meat{}, 60, 90, byHand(60, 180), nil), "meat"},
		"thighs called red meat":       {day(lamb, 60, 90, byHand(60, 180), func(in *Input) { in.Asked = in.Meat.Otherwise("chicken thighs") }), "meat"},
		"a meat that nobody confirmed": {day(lamb, 60, 90, byHand(60, 180), func(in *Input) { in.Confirmed = false }), "meat"},
		"never on the fire":            {day(lamb, 0, 60, byHand(30, 203), func(in *Input) { in.On = time.Time{} }), "on"},
		"not pulled": {day(lamb, 240, 300, []course.Place{probe("thick", usual)},
			func(in *Input) { in.Pull = time.Time{} }), "pull"},
		"nothing read": {day(chicken, 60, 90, nil, nil), "not shown"},
		"nothing read, whole lamb, with a reason": {day(lamb, 60, 90, nil, reason), ""},
		"165 F typed over a log that peaked at 152": {day(chicken, 80, 120, []course.Place{{Probe: "1", Trace: brief, Hand: hand(95, 165)}},
			nil), "over probe"},
		"the same, read once more": {day(chicken, 80, 120, []course.Place{{Probe: "1", Trace: brief, Hand: hand(95, 165, 97,
			166)}}, nil), ""},
		"203 C": {day(chicken, 60, 90, []course.Place{{Hand: []course.Hand{{At: minute(60), C: 203}}}},
			nil), "not shown"},
		"600 C": {day(chicken, 60, 90, []course.Place{{Hand: []course.Hand{{At: minute(60), C: 600}}}},
			nil), "not shown"},
		"900 F":             {day(chicken, 60, 90, byHand(60, 900), nil), "not shown"},
		"206 F at 5,280 ft": {day(chicken, 60, 90, byHand(60, 206), high), ""},
		"210 F at 5,280 ft": {day(chicken, 60, 90, byHand(60, 210), high), "not shown"},
		"a probe on the grate before on": {day(chicken, 60, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{60, 140}), trace(1,
			leg{-30, 190}, leg{-1, 190})...))}, nil), "below"},
		"in the air for ten seconds": {day(chicken, 80, 100, []course.Place{probe("1", with(without(bird, 79.9, 81), point(80, 176),
			point(80.08, 180), point(80.17, 182), point(80.3, 152), point(80.5, 150)))},
			func(in *Input) { in.Places[0].Trace = without(in.Places[0].Trace, 61, 79) }), "below"},
		"one spike": {day(chicken, 60, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{60, 140}), point(50.5,
			190)))}, nil), "below"},
		"one of two lost and the warmer left": {day(chicken, 90, 120, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{50, 130})),
			probe("thigh", trace(1, leg{0, 40}, leg{90, 185}))}, nil), "below"},
		"the breast alone of a whole bird": {day(chicken, 90, 120, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{90, 170}))},
			func(in *Input) { in.WholeBird = true }), "places"},
		"breast and thigh of it": {day(chicken, 90, 120, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{90, 170})),
			{Name: "thigh", Hand: hand(90, 175)}}, func(in *Input) { in.WholeBird = true }), ""},
		"seven pounds in one place": {day(lamb, 240, 300, []course.Place{probe("thick", usual)}, func(in *Input) { in.Kg = 7 * 0.45359237 }), "places"},
		"seven pounds in the coldest found": {day(lamb, 240, 300, []course.Place{{Name: ColdestFound, Hand: hand(230, 203)}},
			func(in *Input) { in.Kg = 7 * 0.45359237 }), ""},
		"pierced poultry 11 h under 140 F": {day(safety.Meat{Species: safety.Poultry, Handling: safety.Pierced}, 760, 800,
			[]course.Place{probe("1", trace(1, leg{0, 40}, leg{660, 139}, leg{760, 175}))}, nil), "come-up"},
		"breast 20 min at 150 F":       {day(chicken, 80, 100, []course.Place{probe("1", bird)}, nil), ""},
		"breast 2 min at 150 F":        {day(chicken, 62, 100, []course.Place{probe("1", without(bird, 62, 90))}, nil), "below"},
		"the same, sold to the public": {day(chicken, 80, 100, []course.Place{probe("1", bird)}, func(in *Input) { in.Lines.Sold = true }), "below"},
		"sold with a variance": {day(chicken, 80, 100, []course.Place{probe("1", bird)}, func(in *Input) {
			in.Lines.Sold,
				in.Lines.Variance = true, "on file since May"
		}), ""},
		"pierced pork 145 F for 3 min": {day(pierced, 124, 150, []course.Place{probe("1", trace(0.5, leg{0, 40}, leg{120, 145}, leg{123.5,
			145.2}))}, nil), ""},
		"pierced pork 145 F for 2 min": {day(pierced, 123, 150, []course.Place{probe("1", trace(0.5, leg{0, 40}, leg{120, 145}, leg{122,
			145.2}))}, nil), "below"},
		"pierced pork 2 h at 144 F": {day(pierced, 240, 250, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 144}, leg{240,
			144}))}, nil), "below"},
		"minced at 160 F": {day(minced, 60, 90, byHand(60, 160), nil), ""},
		"minced at 155 F": {day(minced, 60, 90, byHand(60, 155), nil), "below"},
		"fish at 145 F":   {day(fish, 30, 40, byHand(30, 145), nil), ""},
		"fish an hour at 140 F": {day(fish, 90, 95, []course.Place{probe("1", trace(1, leg{0, 40}, leg{30, 140}, leg{90, 140}))},
			nil), "below"},
		"lamb at 145 F, rested three minutes": {day(lamb, 60, 63.5, byHand(60, 145), nil), ""},
		"lamb at 145 F, two minutes ago":      {day(lamb, 60, 62, byHand(60, 145), nil), "rest"},
		"lamb at 158 F, served at once":       {day(lamb, 60, 60.5, byHand(60, 158), nil), ""},
		"lamb at 145 F, carved at once":       {day(lamb, 60, 90, byHand(60, 145), func(in *Input) { in.Knife = minute(61) }), "rest"},
		"lamb at 139 F":                       {day(lamb, 60, 90, byHand(60, 139), nil), "below"},
		"lamb at 139 F with a reason":         {day(lamb, 60, 90, byHand(60, 139), reason), ""},
		"duck at 160 F with a reason":         {day(chicken, 60, 90, byHand(60, 160), reason), "below"},
		"passed 140, cooled to 60, then 150 F": {day(lamb, 240, 560, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203},
			leg{330, 60}, leg{400, 150}, leg{410, 150}))}, func(in *Input) { in.Served = []time.Time{minute(415)} }), "reheat"},
		"the same, to 165 F": {day(lamb, 240, 420, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203},
			leg{330, 60}, leg{400, 168}, leg{410, 168}))}, nil), ""},
		"two readings far apart, steep": {day(chicken, 62, 90, []course.Place{probe("1", []logbook.Point{point(0, 40), point(52, 100),
			point(57, 130), point(62, 164)})}, nil), "below"},
		"fifty minutes without a reading": {day(chicken, 112, 130, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{60, 148}), trace(1,
			leg{110, 148}, leg{112, 148})...))}, nil), "below"},
		"injected, past 140 F after 4:37": {day(pierced, 600, 660, []course.Place{probe("1", trace(1, leg{0, 40}, leg{277, 140}, leg{600,
			203}))}, nil), ""},
		"13 lb from 40 F in a pit at 180 F": {day(lamb, 1200, 1260, []course.Place{probe("flat", trace(2, leg{0, 40}, leg{60, 50}, leg{430, 130},
			leg{1200, 170})), probe("point", trace(2, leg{0, 40}, leg{60, 52}, leg{400, 130}, leg{1200, 175}))}, nil), "come-up"},
		"the same, with a reason": {day(lamb, 1200, 1260, []course.Place{probe("flat", trace(2, leg{0, 40}, leg{60, 50}, leg{430, 130},
			leg{1200, 170}))}, reason), ""},
		"the same, injected, with a reason": {day(pierced, 1200, 1260, []course.Place{probe("flat", trace(2, leg{0, 40}, leg{60, 50}, leg{430,
			130}, leg{1200, 170}))}, reason), "come-up"},
		"nobody read it cold, 5 h to 130 F": {day(pierced, 420, 460, []course.Place{probe("1", trace(1, leg{240, 110}, leg{300, 130}, leg{420,
			180}))}, nil), ""},
		"nobody read it cold, 7 h to 130 F": {day(pierced, 520, 560, []course.Place{probe("1", trace(1, leg{360, 110}, leg{420, 130}, leg{520,
			180}))}, nil), "come-up"},
		"three hours on the bench": {day(pierced, 240, 300, []course.Place{probe("1", usual)}, func(in *Input) {
			in.Left,
				in.Out = minute(-180), 3*time.Hour
		}), "out"},
		"ninety minutes on it": {day(pierced, 240, 300, []course.Place{probe("1", usual)}, func(in *Input) {
			in.Left,
				in.Out = minute(-90), 90*time.Minute
		}), ""},
		"ninety minutes on a hot day": {day(pierced, 240, 300, []course.Place{probe("1", usual)}, func(in *Input) {
			in.Left, in.Out,
				in.AirC = minute(-90), 90*time.Minute, &air
		}), "out"},
		"held overnight, low swing 148 F": {day(lamb, 240, 900, []course.Place{probe("1", usual)}, func(in *Input) {
			in.Stays = boxed(trace(5, leg{300, 148}, leg{900, 148}))
		}), ""},
		"held overnight, low swing 133 F": {day(lamb, 240, 900, []course.Place{probe("1", usual)}, func(in *Input) {
			in.Stays = boxed(trace(5, leg{300, 133}, leg{900, 133}))
		}), "after"},
		"held overnight, a box that dips": {day(lamb, 240, 900, []course.Place{probe("1", usual)},
			func(in *Input) { in.Stays = boxed(dips(150, 136)) }), "after"},
		"held overnight, nothing measured":     {day(lamb, 240, 900, []course.Place{probe("1", usual)}, nil), "unread"},
		"the same, read ten hours later":       {day(lamb, 240, 900, []course.Place{{Probe: "1", Trace: usual, Hand: hand(890, 150)}}, nil), "unknown"},
		"the same, read four hours later":      {day(lamb, 240, 560, []course.Place{{Probe: "1", Trace: usual, Hand: hand(550, 150)}}, nil), ""},
		"the same, read at 120 F at the knife": {day(lamb, 240, 900, []course.Place{{Probe: "1", Trace: usual, Hand: hand(890, 120)}}, nil), ""},
		"the same, read at 100 F at the knife": {day(lamb, 240, 900, []course.Place{{Probe: "1", Trace: usual, Hand: hand(890, 100)}}, nil), "after"},
		"a roast at 131 F after lethality 1": {day(lamb, 420, 780, []course.Place{probe("1", trace(1, leg{0, 40}, leg{180, 131}, leg{780,
			131}))}, nil), ""},
		"a shoulder at 131 F after 203 F": {day(lamb, 240, 780, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203},
			leg{330, 131}, leg{780, 131}))}, nil), "after"},
		"chilled by the rule, eaten cold": {day(lamb, 240, 640, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203},
			leg{280, 135}, leg{390, 70}, leg{600, 40}, leg{640, 39}))}, nil), ""},
		"chilled too slowly": {day(lamb, 240, 800, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203},
			leg{280, 135}, leg{430, 70}, leg{700, 40}, leg{800, 39}))}, nil), "after"},
		"probe 165 with hand 150": {day(chicken, 90, 110, []course.Place{{Probe: "1", Trace: trace(1, leg{0, 40}, leg{80, 165}, leg{90,
			167}), Hand: hand(85, 150)}}, nil), "suspended"},
		"the same, twice borne out": {day(chicken, 90, 110, []course.Place{{Probe: "1", Trace: trace(1, leg{0, 40}, leg{80, 165},
			leg{100, 167}), Hand: hand(85, 150, 88, 165, 90, 166)}}, nil), ""},
		"the same, once borne out": {day(chicken, 90, 110, []course.Place{{Probe: "1", Trace: trace(1, leg{0, 40}, leg{80, 165},
			leg{100, 167}), Hand: hand(85, 150, 88, 165)}}, nil), "suspended"},
		"rising 2 F a minute, read ten apart": {day(chicken, 70, 100, []course.Place{{Probe: "1", Trace: trace(10, leg{0, 40}, leg{5, 45}, leg{65,
			165}, leg{75, 170}), Hand: hand(50, 135, 60, 155, 70, 167.5)}}, nil), ""},
		"below and not pulled": {day(chicken, 60, 90, byHand(60, 160), func(in *Input) { in.Pull = time.Time{} }), "below,pull"},
		"seven pounds in two places": {day(lamb, 240, 300, []course.Place{probe("thick", usual), probe("thin", usual)},
			func(in *Input) { in.Kg = 7 * 0.45359237 }), ""},
		"600 C at the knife stops no clock": {day(lamb, 240, 900, []course.Place{{Probe: "1", Trace: usual, Hand: []course.Hand{{At: minute(890),
			C: 600}}}}, nil), "unread"},
		"read cold after the plate": {day(lamb, 240, 310, []course.Place{{Probe: "1", Trace: usual, Hand: hand(800, 60)}},
			func(in *Input) { in.Knife = minute(305) }), ""},
		"one reading alone at 170 F": {day(chicken, 60, 90, []course.Place{probe("1", trace(1, leg{59, 170}, leg{59.5, 170}))}, nil), "stuck"},
		"165 F over the log beside 120 F": {day(chicken, 80, 120, []course.Place{{Probe: "1", Trace: brief, Hand: hand(50, 122, 95, 165)}},
			nil), "over probe"},
		"165 F twice in one moment": {day(chicken, 80, 120, []course.Place{{Probe: "1", Trace: brief, Hand: hand(95, 165, 95, 165)}},
			nil), "over probe"},
		"twice borne out by the probe": {day(chicken, 90, 110, []course.Place{{Probe: "1", Trace: trace(1, leg{0, 40}, leg{80, 165},
			leg{100, 167}), Hand: hand(85, 150, 88, 163, 90, 164)}}, nil), ""},
		"98 F, and then 120 and 125 F": {day(chicken, 60, 75, byHand(60, 175, 62, 98, 64, 120, 66, 125), nil), "suspended"},
		"left on the grate after the pull": {day(lamb, 240, 900, []course.Place{probe("1", with(without(usual, 241, 900), trace(1, leg{244,
			225}, leg{900, 225})...))}, nil), "unread"},
		"out, and two steady readings hot": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}), point(59,
			190), point(60, 172), point(61, 171), point(62, 141), point(63, 141)))}, nil), "below"},
		"out, and falling fast": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}), trace(1,
			leg{59, 214}, leg{65, 142})...))}, nil), "below"},
		"out, and steady where it cannot have got to": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}), point(59,
			190), point(60, 168), point(61, 168), point(62, 168), point(63, 168)))}, nil), "below"},
		"the same, borne out by hand": {day(chicken, 70, 90, []course.Place{{Probe: "1", Trace: with(trace(1, leg{0, 40}, leg{58, 140}), point(59,
			190), point(60, 168), point(61, 168), point(62, 168), point(63, 168)), Hand: hand(62.5, 164)}}, nil), ""},
		"out, and steady in the meat again": {day(chicken, 80, 100, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 160}), point(59,
			190), point(60, 163), point(61, 164), point(62, 165), point(63, 166)))}, nil), ""},
		"slipped into the air of a pit at 200 F, and put back": {day(chicken, 140, 160, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}),
			with(trace(1, leg{59, 196}, leg{84, 196}), trace(1, leg{85, 141}, leg{140, 147})...)...))},
			func(in *Input) { in.Pull = minute(140) }), ""},
		"the same, and pulled soon after": {day(chicken, 90, 100, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}),
			with(trace(1, leg{59, 196}, leg{84, 196}), trace(1, leg{85, 141}, leg{89, 142})...)...))}, nil), "below"},
		"it crept out, and showed 30 F less when it was put back": {day(chicken, 120, 140, []course.Place{probe("1", with(trace(1, leg{0, 40},
			leg{60, 140},
			leg{80, 170}), trace(1, leg{81, 138}, leg{84, 138})...))}, nil), "below"},
		"the same, when it was wrapped": {day(chicken, 120, 140, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{60, 140},
			leg{80, 170}), trace(1, leg{81, 138}, leg{84, 138})...))}, func(in *Input) { in.Handled = []time.Time{minute(80.5)} }), ""},
		"it fell slowly as the fire died, with a tear on the way": {day(chicken, 200, 220, []course.Place{probe("1", with(trace(1, leg{0, 40},
			leg{60, 170}),
			with([]logbook.Point{point(61, 200)}, trace(1, leg{62, 170}, leg{200, 142})...)...))}, nil), ""},
		"it crept out and stayed out over a tear": {day(chicken, 120, 140, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{60, 140}, leg{80, 170}),
			with([]logbook.Point{point(81, 230)}, with(trace(1, leg{82, 170}, leg{90, 172}), trace(1, leg{91, 138}, leg{94, 138})...)...)...))},
			nil), "below"},
		"150 F, a colder 144 F, and 166 F at last": {day(chicken, 70, 90, byHand(50, 150, 52, 144, 68, 166), nil), ""},
		"in the air of a shed before, and stuck at 165 F": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{-30, 70}, leg{-1, 70}),
			trace(1, leg{10, 165}, leg{70, 165})...))}, nil), "stuck"},
		"one reading lost on the way": {day(chicken, 90, 110, []course.Place{probe("1", with(without(trace(1, leg{0, 40}, leg{90, 170}), 49.5,
			50.5), point(50,
			60)))}, nil), ""},
		"a probe that stands at 165 F from the first": {day(chicken, 70, 90, []course.Place{probe("1", trace(1, leg{10, 165}, leg{70, 165}))},
			nil), "stuck"},
		"at 160 F": {day(chicken, 70, 90, []course.Place{probe("1", trace(1, leg{10, 160}, leg{70,
			160}))}, nil), "stuck"},
		"the same, borne out at 163 F": {day(chicken, 70, 90, []course.Place{{Probe: "1", Trace: trace(1, leg{10, 165},
			leg{70, 165}), Hand: hand(60, 163)}}, nil), ""},
		"put in hot, and it climbs": {day(chicken, 70, 90, []course.Place{probe("1", trace(1, leg{40, 155}, leg{70,
			172}))}, nil), ""},
		"166 F, and four minutes later 157 F on the fire": {day(chicken, 70, 90, []course.Place{{Name: ColdestFound, Hand: hand(60, 166, 64,
			157)}}, nil), "suspended"},
		"164, 162, 160 and 158 F after 166 F on the fire": {day(chicken, 70, 90, []course.Place{{Name: ColdestFound, Hand: hand(60, 166, 61,
			164, 62, 162, 63, 160)}}, nil), "suspended"},
		"166 F, and 157 F at rest": {day(chicken, 61, 90, []course.Place{{Name: ColdestFound, Hand: hand(60, 166, 70,
			157)}}, nil), ""},
		"slices at 100 F for four hours": {day(chicken, 90, 380, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{90, 170})),
			probe("slices", trace(5, leg{100, 100}, leg{360, 100})), {Name: "breast by hand", Hand: hand(370, 150)}}, func(in *Input) { in.Knife = minute(95) }), "after"},
		"205 F, nothing for fourteen hours, 150 F": {day(chicken, 240, 1090, byHand(235, 205, 1080, 150), nil), "unknown"},
		"the same of whole lamb":                   {day(lamb, 240, 1090, byHand(235, 205, 1080, 150), nil), "unknown"},
		"the same of whole lamb, with a reason":    {day(lamb, 240, 1090, byHand(235, 205, 1080, 150), reason), ""},
		"170 F, nothing for ten hours, 142 F":      {day(chicken, 60, 670, byHand(60, 170, 660, 142), nil), "unknown"},
		"205 F, an hour on the board, 150 F":       {day(chicken, 240, 320, byHand(239, 205, 310, 150), nil), ""},
		"five hours wrapped in a cooler, 158 F":    {day(chicken, 240, 545, byHand(239, 203, 540, 155), nil), ""},
		"a climb of 16 F a minute, every 10 s": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}), trace(1./6,
			leg{59, 141}, leg{61, 173})...))}, nil), "below"},
		"36 F in two minutes": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}), point(60,
			176), point(62, 176)))}, nil), "below"},
		"a thin cut over coals may do so": {day(chicken, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 140}), point(60,
			176), point(62, 176)))}, func(in *Input) { in.Bound.RiseC = 8 }), ""},
		"150 F by hand, and nobody said where": {day(chicken, 90, 110, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{80, 165}, leg{90,
			167})), probe("thigh", trace(1, leg{0, 50}, leg{80, 185}, leg{90, 187}))}, func(in *Input) { in.Loose = hand(85, 150) }), "suspended"},
		"165 F so, beside the breast": {day(chicken, 90, 110, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{80, 165}, leg{90,
			167})), probe("thigh", trace(1, leg{0, 50}, leg{80, 185}, leg{90, 187}))}, func(in *Input) { in.Loose = hand(85, 165) }), ""},
		"170 F so, after both logs had ended": {day(chicken, 70, 110, []course.Place{probe("breast", brief), probe("thigh", trace(1, leg{0, 50},
			leg{70, 175}))}, func(in *Input) { in.Pull, in.Loose = minute(70), hand(95, 152) }), "over probe"},
		"170 F so, with no probe at all": {day(chicken, 90, 110, []course.Place{{Name: "breast", Hand: hand(80, 168)}},
			func(in *Input) { in.Loose = hand(85, 170) }), ""},
		"served, then 98 F":           {day(chicken, 60, 75, byHand(60, 175, 80, 98), nil), "suspended"},
		"carved, then slices at 98 F": {day(chicken, 60, 95, byHand(60, 175, 80, 98), func(in *Input) { in.Knife = minute(65) }), ""},
	} {
		got := Of(c.in)
		var stops []string
		for _, s := range got.Stops {
			if !s.Waived {
				stops = append(stops, s.Key)
			}
			if s.Words == "" || s.Remedy == "" {
				t.Errorf("%s: the stop %s says nothing: %+v", name, s.Key, s)
			}
		}
		if strings.Join(stops, ",") != c.stops || got.Open != (c.stops == "") {
			t.Errorf("%s: stopped by %v (open %v), want [%s]\n%+v", name, stops, got.Open, c.stops, got)
		}
	}
}

// dips is a box that is mostly warm enough and dips for five minutes in twenty.
func dips(high, low float64) (out []logbook.Point) {
	for m := 300.0; m <= 900; m += 5 {
		f := high
		if int(m)%20 == 0 {
			f = low
		}
		out = append(out, point(m, f))
	}
	return out
}

func TestAMissedCoolingRuleIsSaid(t *testing.T) {
	for name, c := range map[string]struct {
		legs []leg
		want string
	}{
		"70 F late": {[]leg{{280, 135}, {430, 70}, {700, 40}, {800, 39}}, "from {C:57.2222} to {C:21.1111} it took 2:30, and 2:00 is the most"},
		"41 F late": {[]leg{{280, 135}, {390, 70}, {700, 40}, {800, 39}}, "from {C:57.2222} to {C:5.0000} it took 6:5"},
	} {
		r := Of(day(lamb, 240, 800, []course.Place{probe("1", trace(1, append([]leg{{0, 40}, {120, 145}, {240, 203}}, c.legs...)...))}, nil))
		if s, _ := r.Shut(); s.Key != "after" || !strings.Contains(s.Words, c.want) {
			t.Errorf("%s: %+v, want %q", name, s, c.want)
		}
	}
}

func TestTheGateShowsItsWorking(t *testing.T) {
	r := Of(day(chicken, 80, 100, []course.Place{probe("breast", trace(0.25, leg{0, 40}, leg{60, 150}, leg{80, 150}))}, nil))
	p := r.Places[0]
	if !p.Passed || p.How != ByTime || p.Probe != "probe breast" || p.Share != 1 || math.Abs(minutes(p.At)-62.55) > 0.1 || math.Abs(p.HeldS-603) > 5 || math.Abs(p.FromC-units.FToC(136.2)) > 0.3 || math.Abs(p.C-units.FToC(150)) > 0.1 {
		t.Errorf("breast at 150 F shows %+v (at %.1f min)", p, minutes(p.At))
	}
	r = Of(day(lamb, 240, 300, []course.Place{{Name: "thick", Hand: hand(200, 150, 230, 203)}}, nil))
	if p := r.Places[0]; !p.Passed || p.How != AtOnce || p.By != "Ife" || p.Probe != "" || minutes(p.At) != 200 || p.C != units.FToC(150) {
		t.Errorf("a hand reading shows %+v", p)
	}
	r = Of(day(pierced, 600, 660, []course.Place{probe("1", trace(1, leg{0, 40}, leg{277, 140}, leg{600, 203}))}, nil))
	r2 := Of(day(chicken, 90, 110, []course.Place{{Probe: "1", Trace: trace(1, leg{0, 40}, leg{60, 150}, leg{90, 168}), Hand: hand(61, 166,
		62, 166)}}, nil))
	if p := r2.Places[0]; p.How != AtOnce || minutes(p.At) != 61 || !p.Passed {
		t.Errorf("read by hand at 61 min, and by time some minutes later, it shows %+v", p)
	}
	if p := Of(day(chicken, 90, 110, []course.Place{probe("1", trace(1, leg{0, 40}, leg{60, 150}, leg{90, 168}))},
		nil)).Places[0]; p.How != ByTime || minutes(p.At) > 64 {
		t.Errorf("long before it was at 165 F it had passed by time, and shows %+v", p)
	}
	if p := Of(day(stuffed, 60, 90, []course.Place{probe("1", []logbook.Point{point(58, 40), point(59, 40), point(79, 166), point(80, 168)})},
		nil)).Places[0]; p.How != AtOnce || p.C != units.FToC(166) || minutes(p.At) != 80 {
		t.Errorf("two readings in a row show %+v, want the lower of them", p)
	}
	if p := Of(day(chicken, 60, 90, byHand(50, 150, 60, 160, 70, 155), nil)).Places[0]; p.Passed || p.C != units.FToC(160) {
		t.Errorf("below the line the highest shows: %+v", p)
	}
	back := Of(day(stuffed, 70, 90, []course.Place{probe("1", with(trace(1, leg{0, 40}, leg{58, 156}), point(59, 190), point(60, 160), point(61, 163),
		point(62, 166), point(63, 166), point(64, 166)))}, nil)).Places[0]
	if at := minutes(back.At); !(at > 62 && at < 64) {
		t.Errorf("it passes at %.1f min, want just after the third steady reading", at)
	}
	if !r.Range.Over || len(r.Warnings) != 1 || !strings.Contains(r.Warnings[0], "4:37") {
		t.Errorf("4:37 under 140 F warns of %q", r.Warnings)
	}
	r = Of(day(lamb, 60, 90, byHand(60, 139), func(in *Input) { in.Reason = "eaters chose it" }))
	if !r.Advisory || !r.Counts || r.Finding != safety.Below {
		t.Errorf("a reason opens %+v", r)
	}
	if r = Of(day(lamb, 240, 300, []course.Place{probe("1", trace(1, leg{0, 40}, leg{120, 145}, leg{240, 203}))}, func(in *Input) {
		in.Confirmed,
			in.Pull = false, time.Time{}
	})); !r.Counts || r.Open {
		t.Errorf("what is only not confirmed and not pulled stays out of the verdict: %+v", r)
	}
}

// What is only still to be logged, or waited for, is not shut.
func TestShutIsWhatNothingStillToComeOpens(t *testing.T) {
	for name, c := range map[string]struct {
		in  Input
		key string
	}{
		"open":                  {day(chicken, 60, 90, byHand(60, 170), nil), ""},
		"not pulled":            {day(chicken, 60, 90, byHand(60, 170), func(in *Input) { in.Pull = time.Time{} }), ""},
		"not confirmed":         {day(chicken, 60, 90, byHand(60, 170), func(in *Input) { in.Confirmed = false }), ""},
		"to rest a minute more": {day(lamb, 60, 61, byHand(60, 145), nil), ""},
		"opened by a reason":    {day(lamb, 60, 90, byHand(60, 139), func(in *Input) { in.Reason = "they like it so" }), ""},
		"below":                 {day(lamb, 60, 90, byHand(60, 139), nil), "below"},
	} {
		s, shut := Of(c.in).Shut()
		if shut != (c.key != "") || s.Key != c.key {
			t.Errorf("%s is shut by %+v (%v), want %q", name, s, shut, c.key)
		}
	}
	if r := Of(day(chicken, 60, 90, byHand(60, 160), func(in *Input) { in.Pull = time.Time{} })); r.Counts {
		t.Error("what is below and not pulled counts")
	}
}

// More evidence that is colder never opens a gate that was shut, and a stricter meat never does.
func TestColderNeverOpens(t *testing.T) {
	for f := 130.0; f <= 205; f += 2.5 {
		for name, m := range map[string]safety.Meat{"lamb": lamb, "pierced": pierced, "minced": minced, "chicken": chicken, "fish": fish} {
			base := trace(1, leg{0, 40}, leg{90, f}, leg{120, f})
			open := Of(day(m, 120, 140, []course.Place{probe("thick", base)}, nil)).Open
			if colder := Of(day(m, 120, 140, []course.Place{probe("thick", base), probe("thin", trace(1, leg{0, 40}, leg{90, f - 15}, leg{120, f - 15}))},
				nil)).Open; colder && !open {
				t.Errorf("%s at %.1f F is opened by a colder place", name, f)
			}
			if hotter := Of(day(m, 120, 140, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{90, f + 5}, leg{120, f + 5}))},
				nil)).Open; open && !hotter && f < 200 {
				t.Errorf("%s passes at %.1f F and not at 5 F more", name, f)
			}
		}
	}
}

func TestADayInNumbersIsJudged(t *testing.T) {
	plate := 100.0
	got, err := OfNumbers(Numbers{Species: safety.Poultry, Handling: safety.Intact, PlateMin: plate, PullMin: &plate,
		Places: []PlaceNumbers{{Place: "thigh", Hand: []Reading{{90, 75}}}}})
	if err != nil || !got.Open || got.Places[0].C != 75 {
		t.Errorf("a thigh at 75 C is judged %+v (%v)", got, err)
	}
	for _, c := range []struct {
		n    Numbers
		want string
	}{
		{Numbers{Reason: "-"}, "no reason"},
		{Numbers{ElevationM: 9000}, "height"},
		{Numbers{Places: []PlaceNumbers{{Probe: []Reading{{5, 40}, {4, 40}}}}}, "earlier"},
		{Numbers{Places: []PlaceNumbers{{Hand: []Reading{{5, 40}, {4, 40}}}}}, "earlier"},
		{Numbers{Holder: []Reading{{5, 40}, {4, 40}}}, "earlier"},
	} {
		if _, err := OfNumbers(c.n); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%+v is refused with %v, want %q", c.n, err, c.want)
		}
	}
	if got, _ := OfNumbers(Numbers{Species: safety.RedMeat, Handling: safety.Intact, Product: "chicken thighs",
		NeverOn: true}); !slices.ContainsFunc(got.Stops, func(s Stop) bool { return s.Key == "meat" }) {
		t.Errorf("chicken thighs as red meat are not asked about: %+v", got)
	}
}
