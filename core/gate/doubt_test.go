package gate

import (
	"slices"
	"testing"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/safety"
)

// A reading in doubt counts at once where it shuts the gate, and after an answer, or another that agrees, where it opens it.
func TestAReadingInDoubtCountsAgainstAPieceAtOnceAndForItOnceAnswered(t *testing.T) {
	in := func(doubt course.Doubt, min, f float64) course.Hand {
		h := hand(min, f)[0]
		h.Doubt = doubt
		return h
	}
	up := hand(0, 38, 150, 135)
	for _, c := range []struct {
		name        string
		more        []course.Hand
		pull, plate float64
		stops       []string
	}{
		{"165 F, of which nobody doubts", []course.Hand{in(course.None, 200, 170)}, 205, 230, nil},
		{"170 F, which no meat reaches so soon", []course.Hand{in(course.High, 200, 170)}, 205, 230, []string{"in doubt"}},
		{"the same, read again", []course.Hand{in(course.High, 200, 170), in(course.None, 203, 172)}, 205, 230, nil},
		{"the same, and another far under it", []course.Hand{in(course.High, 200, 170), in(course.None, 203, 150)}, 205, 230, []string{"in doubt"}},
		{"4 F after 170 F", []course.Hand{in(course.None, 200, 170), in(course.Low, 203, 4)}, 205, 230, []string{"suspended"}},
		{"4 F before it was read at 172 F twice", []course.Hand{in(course.None, 200, 170), in(course.Low, 201, 4), in(course.None, 202, 171),
			in(course.None, 204, 172)}, 205, 230, nil},
		{"150 F after hours on the board", []course.Hand{in(course.None, 200, 170), in(course.None, 250, 100), in(course.High, 470, 150)}, 205, 500,
			[]string{"after"}},
	} {
		d := day(chicken, c.pull, c.plate, []course.Place{{Hand: slices.Concat(up, c.more)}}, nil)
		var keys []string
		for _, s := range Of(d).Stops {
			keys = append(keys, s.Key)
		}
		if !slices.Equal(keys, c.stops) {
			t.Errorf("%s: it is stopped by %v, want %v", c.name, keys, c.stops)
		}
	}
	// A start that somebody mistyped as frozen shortens no way up, and shows no chill.
	slow := []course.Place{{Hand: slices.Concat(hand(0, 60), []course.Hand{in(course.Low, 300, 4)}, hand(420, 132, 500, 170))}}
	if up := Of(day(chicken, 505, 520, slow, nil)).ComeUp; !up.Late {
		t.Errorf("a doubtful 4 F five hours in, and 130 F after seven, take %+v", up)
	}
	lay := []course.Place{{Hand: slices.Concat(up, hand(200, 170), []course.Hand{in(course.Low, 215, 15)}, hand(520, 60))}}
	if a := Of(day(chicken, 205, 530, lay, nil)).After; !a.Over {
		t.Errorf("a doubtful 15 F ten minutes after the pull, and 60 F after five hours, are %+v after cooking", a)
	}
}

// Two hours out of the fridge are the most there may be, and one where it is hot; the lines are the usual ones where none are given.
func TestTimeOutOfTheFridgeIsShutOnlyPastItsLimit(t *testing.T) {
	hot := 35.0
	for name, c := range map[string]struct {
		out  time.Duration
		air  *float64
		shut bool
	}{
		"two hours": {2 * time.Hour, nil, false}, "a minute more": {121 * time.Minute, nil, true},
		"an hour on a hot day": {time.Hour, &hot, false}, "a minute more of it": {61 * time.Minute, &hot, true},
	} {
		in := day(chicken, 205, 230, byHand(0, 38, 150, 135, 200, 170), func(in *Input) { in.Out, in.AirC = c.out, c.air })
		in.Lines = safety.Lines{}
		if got := slices.ContainsFunc(Of(in).Stops, func(s Stop) bool { return s.Key == "out" }); got != c.shut {
			t.Errorf("%s: it is shut out %v, want %v", name, got, c.shut)
		}
		in.Pull, in.Served, in.Now = time.Time{}, nil, minute(5)
		in.Places = nil
		if needs := Needs(in); len(needs) != 2 || needs[0].Asked != AtStart {
			t.Errorf("%s: with no lines given %+v are needed", name, needs)
		}
	}
}
