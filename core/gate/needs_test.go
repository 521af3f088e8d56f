package gate

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
)

// What the gate will need is asked for while it can still be read.
func TestReadingsAreAskedForInTime(t *testing.T) {
	onFire := func(now float64, places []course.Place, change func(*Input)) Input {
		return day(chicken, 0, now, places, func(in *Input) {
			in.Pull, in.Served = time.Time{}, nil
			if change != nil {
				change(in)
			}
		})
	}
	jumped := with(trace(1, leg{0, 40}, leg{58, 120}), trace(1, leg{59, 196}, leg{70, 196})...)
	for name, c := range map[string]struct {
		in   Input
		want string // kind at its minute, and where
	}{
		"nothing read": {onFire(5, nil, nil), "start 0 , come-up 240 "},
		"read cold":    {onFire(5, byHand(0, 38), nil), "come-up 240 "},
		"read cold before the fire": {onFire(5, []course.Place{{Name: "breast", Trace: []logbook.Point{point(-3, 38)}}},
			func(in *Input) { in.Left = minute(-10) }), "come-up 240 "},
		"a probe follows it":       {onFire(60, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{60, 120}))}, nil), ""},
		"a probe that fell silent": {onFire(90, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{60, 120}))}, nil), "come-up 240 "},
		"over 130 F by hand":       {onFire(300, byHand(0, 38, 240, 133), nil), ""},
		"a probe that jumped":      {onFire(70, []course.Place{probe("breast", jumped)}, nil), "tear 61 breast"},
		"answered by hand":         {onFire(70, []course.Place{{Name: "breast", Probe: "1", Trace: jumped, Hand: hand(63, 125)}}, nil), ""},
		"an hour ago":              {onFire(125, []course.Place{probe("breast", with(jumped, trace(1, leg{71, 196}, leg{125, 196})...))}, nil), ""},
		"it was wrapped just then": {onFire(70, []course.Place{probe("breast", jumped)},
			func(in *Input) { in.Handled = []time.Time{minute(58.5)} }), ""},
		"stuck from the first": {onFire(70, []course.Place{probe("breast", trace(1, leg{10, 160}, leg{70, 160}))}, nil), "stuck 70 breast"},
		"a whole bird, nearly there": {onFire(90, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{90, 160}))},
			func(in *Input) { in.WholeBird = true }), "places 90 thigh"},
		"a whole bird, far from it": {onFire(60, []course.Place{probe("breast", trace(1, leg{0, 40}, leg{60, 120}))},
			func(in *Input) { in.WholeBird = true }), ""},
		"seven pounds, nearly there": {onFire(90, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{90, 162}))},
			func(in *Input) { in.Kg = 3.2 }), "places 90 coldest found"},
		"pulled":          {day(chicken, 60, 90, nil, nil), ""},
		"not on the fire": {onFire(5, nil, func(in *Input) { in.On = time.Time{} }), ""},
		"seven pounds in two places": {onFire(90, []course.Place{probe("thick", trace(1, leg{0, 40}, leg{90, 162})), probe("thin", trace(1,
			leg{0, 40}, leg{90, 170}))}, func(in *Input) { in.Kg = 3.2 }), ""},
		"five hours, and nobody read it": {onFire(300, nil, nil), "start 0 , come-up 240 "},
	} {
		var got []string
		for _, n := range Needs(c.in) {
			got = append(got, fmt.Sprintf("%s %.0f %s", n.Asked, n.At.Sub(start).Minutes(), n.Where))
			if n.Why == "" {
				t.Errorf("%s: %s says not why", name, n.Asked)
			}
		}
		if strings.Join(got, ", ") != c.want {
			t.Errorf("%s: asked for %q, want %q", name, got, c.want)
		}
	}
}
