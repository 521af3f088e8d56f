package safety

import (
	"math"
	"slices"
	"testing"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

func TestTheClockAfterCookingRunsToThePlate(t *testing.T) {
	read := func(v ...float64) (out []logbook.Point) { // hour, F, hour, F
		for i := 0; i < len(v); i += 2 {
			out = append(out, logbook.Point{At: hours(v[i]), C: units.FToC(v[i+1])})
		}
		return out
	}
	steadily := func(from, to, f float64) (out []logbook.Point) {
		for h := from; h <= to+1e-9; h += 1. / 30 {
			out = append(out, logbook.Point{At: hours(h), C: units.FToC(f)})
		}
		return out
	}
	warm := units.FToC(95)
	for name, c := range map[string]struct {
		in            AfterInput
		under, unread float64 // h
		warn, over    bool
	}{
		"hot all along":   {AfterInput{Places: [][]logbook.Point{steadily(0, 3, 150)}, To: hours(3)}, 0, 0, false, false},
		"two hours under": {AfterInput{Places: [][]logbook.Point{steadily(0, 2, 120)}, To: hours(2)}, 2, 0, true, false},
		"an hour under on a hot day": {AfterInput{Places: [][]logbook.Point{steadily(0, 1, 120)}, To: hours(1),
			Course: course.Course{AirC: &warm}}, 1, 0, true, false},
		"four hours under":               {AfterInput{Places: [][]logbook.Point{steadily(0, 4, 139)}, To: hours(4)}, 4, 0, true, true},
		"the colder of two places":       {AfterInput{Places: [][]logbook.Point{steadily(0, 4, 150), steadily(0, 4, 130)}, To: hours(4)}, 4, 0, true, true},
		"a gap counts as the worse end":  {AfterInput{Places: [][]logbook.Point{read(0, 200, 3, 130)}, To: hours(3)}, 3, 0, true, false},
		"a gap between hot ends is none": {AfterInput{Places: [][]logbook.Point{read(0, 200, 3, 150)}, To: hours(3)}, 0, 0, false, false},
		"cold at the end goes on":        {AfterInput{Places: [][]logbook.Point{read(0, 200, 1, 150, 1.05, 130)}, To: hours(5)}, 4, 0, true, true},
		"hot at the end is not known":    {AfterInput{Places: [][]logbook.Point{read(0, 200)}, To: hours(3)}, 0, 3, true, false},
		"the holder's stands in the gap": {AfterInput{Places: [][]logbook.Point{read(0, 200, 5, 145)},
			Course: course.Course{Stays: boxed(steadily(1, 5, 130))},
			To:     hours(5)}, 5, 0, true, true},
		"the piece's own probe decides": {AfterInput{Places: [][]logbook.Point{steadily(0, 5, 150)},
			Course: course.Course{Stays: boxed(steadily(1, 5, 130))},
			To:     hours(5)}, 0, 0, false, false},
		"only in the piece's own gap": {AfterInput{Places: [][]logbook.Point{append(steadily(0, 2, 150), steadily(3, 5, 150)...)},
			Course: course.Course{Stays: boxed(steadily(0, 5, 130))}, To: hours(5)}, 1, 0, false, false},
		"a holder before the piece went in": {AfterInput{Places: [][]logbook.Point{read(0, 200, 3, 150)},
			Course: course.Course{Stays: boxed(append(steadily(-2, -0.1, 100), append(steadily(1, 3, 150), steadily(3.2, 4, 100)...)...))},
			To:     hours(3)}, 0, 0, false, false},
		"a roast held at 131 F":             {AfterInput{Places: [][]logbook.Point{steadily(0, 5, 131)}, To: hours(5), Timed: true}, 0, 0, false, false},
		"a roast held at 129 F":             {AfterInput{Places: [][]logbook.Point{steadily(0, 5, 129)}, To: hours(5), Timed: true}, 5, 0, true, true},
		"chilled: 70 F in 2 h, 41 F in 6 h": {AfterInput{Places: [][]logbook.Point{read(0, 135, 1.9, 70, 5.9, 41, 20, 38)}, To: hours(20)}, 0, 0, false, false},
		"70 F took longer":                  {AfterInput{Places: [][]logbook.Point{read(0, 135, 2.1, 70, 5.9, 41)}, To: hours(5.9)}, 5.9, 0, true, true},
		"41 F took longer":                  {AfterInput{Places: [][]logbook.Point{read(0, 135, 1.9, 70, 6.1, 41)}, To: hours(6.1)}, 6.1, 0, true, true},
		"reheated in time starts anew": {AfterInput{Places: [][]logbook.Point{read(0, 135, 1.9, 70, 5.9, 40, 20, 38, 21.9, 166, 23, 150)},
			To: hours(23)}, 0, 0, false, false},
		"what was lost stays lost, reheated": {AfterInput{Places: [][]logbook.Point{read(0, 200, 1, 130, 6, 65, 7, 170)}, To: hours(7)}, 0, 0, false, true},
	} {
		c.in.From, c.in.Lines = left, Usual
		got := AfterOf(c.in)
		if math.Abs(got.UnderS/3600-c.under) > 0.05 || math.Abs(got.UnreadS/3600-c.unread) > 0.05 || got.Warn != c.warn || got.Over != c.over {
			t.Errorf("%s: %+v, want %.1f h under, %.1f h unread", name, got, c.under, c.unread)
		}
	}
	// Hours under the limit, of which nobody knows, and not read since, warn together. 205 F, and hotter after two hours than a rest leaves it.
	parts := AfterInput{From: left, Lines: Usual, To: hours(4), Course: course.Course{Pull: left},
		Places: [][]logbook.Point{read(0, 205, 0.05, 139, 0.55, 139, 0.6, 150, 2, 204)}}
	got := AfterOf(parts)
	if sum := (got.UnderS + got.UnknownS + got.UnreadS) / 3600; got.UnderS == 0 || got.UnknownS == 0 || got.UnreadS == 0 || math.Abs(sum-4) > 0.15 ||
		!got.Warn || !got.Unread {
		t.Errorf("half an hour under, an hour and a half not known and two not read are %+v", got)
	}
	hotDay := units.FToC(95)
	for name, c := range map[string]struct {
		course course.Course
		endF   float64 // six hours after it was pulled at 200 F
		under  float64 // h
	}{
		"on the board, to 100 F": {course.Course{}, 100, 6 * (1 - math.Log(130./70)/math.Log(130./30))},
		"to 135 F":               {course.Course{}, 135, 6 * (1 - math.Log(130./70)/math.Log(130./65))},
		"on a hot day, to 100 F": {course.Course{AirC: &hotDay}, 100, 6 * (1 - math.Log(105./45)/math.Log(105./5))},
		"in a closed cooler, to 120 F": {course.Course{Stays: []course.Stay{{From: hours(0.5), Holder: true}}}, 120,
			6 * (1 - math.Log(100./40)/math.Log(100./20))},
		"under the air there":             {course.Course{Stays: []course.Stay{{From: hours(0.5), Holder: true}}}, 95, 4.95},
		"in a box that heats, to 135 F":   {course.Course{Stays: []course.Stay{{From: hours(0.5), Holder: true, Powered: true}}}, 135, 6},
		"on the board, and still at 141F": {course.Course{}, 141, 0},
	} {
		c.course.Pull = left
		got := AfterOf(AfterInput{Course: c.course, Places: [][]logbook.Point{read(0, 200, 6, c.endF)}, From: left, To: hours(6), Lines: Usual})
		if math.Abs(got.UnderS/3600-c.under) > 0.02 {
			t.Errorf("%s: %.2f h under, want %.2f", name, got.UnderS/3600, c.under)
		}
	}
	kept := course.Course{Warmed: []time.Time{hours(138)}}
	chilled := read(0, 135, 1.9, 70, 5.9, 39)
	for name, c := range map[string]struct {
		read  []logbook.Point
		to    float64
		under float64
		cold  bool
	}{
		"kept cold, and nobody read it again":               {chilled, 137, 0, true},
		"reheated in time, read hot":                        {append(slices.Clone(chilled), read(139.9, 167)...), 140, 0, false},
		"taken out, and not read since":                     {chilled, 141, 3, false},
		"taken out, and read when it had been out an hour":  {append(slices.Clone(chilled), read(139, 60)...), 139, 1, false},
		"put in the fridge hot, and never seen under 135 F": {read(0, 200), 137, 0, false},
	} {
		got := AfterOf(AfterInput{Course: kept, Places: [][]logbook.Point{c.read}, From: left, To: hours(c.to), Lines: Usual})
		if math.Abs(got.UnderS/3600-c.under) > 0.01 || got.Cold != c.cold || got.Over {
			t.Errorf("%s: %+v, want %.1f h under, cold %v", name, got, c.under, c.cold)
		}
	}
	slow := AfterOf(AfterInput{Places: [][]logbook.Point{read(0, 135, 1.9, 70, 5.9, 40, 20, 38, 23, 166)}, From: left, To: hours(23), Lines: Usual})
	if !slow.Reheat || slow.Cold {
		t.Errorf("reheating that took three hours is %+v", slow)
	}
	half := AfterOf(AfterInput{Places: [][]logbook.Point{read(0, 135, 1.9, 70, 5.9, 40, 20, 38, 21, 150)}, From: left, To: hours(21), Lines: Usual})
	if !half.Reheat {
		t.Errorf("reheating to 150 F is %+v", half)
	}
	dips := AfterOf(AfterInput{Course: course.Course{Stays: boxed(read(0.1, 150, 0.2, 136, 0.3, 150, 0.4, 150, 0.5, 150, 0.7, 150, 0.8, 138,
		0.9, 150, 1.1, 150))},
		From: left, To: hours(1.2), Lines: Usual})
	if !dips.ByHolder || dips.UnderS < 0.4*3600 || dips.Over {
		t.Errorf("a box that dips is judged by its low swing: %+v", dips)
	}
	if never := AfterOf(AfterInput{From: left, To: left.Add(5 * time.Hour), Lines: Usual}); !never.Unread || never.Over {
		t.Errorf("five hours of which nothing is known are %+v", never)
	}
}

// boxed is a holder that measured itself while the piece lay in it.
func boxed(air []logbook.Point) []course.Stay {
	return []course.Stay{{Holder: true, Powered: true, Air: air}}
}
