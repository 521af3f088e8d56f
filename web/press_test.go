package web

import (
	"testing"

	"whitebarn/internal/testkit/script"
)

// A thumb in a glove lies for more than half a second and rolls a dozen pixels: it has pressed, once.
func TestAFingerPressesHoweverLongItLies(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		did  string
		want int
	}{
		"it goes up where it came down":         {"touch(), lift(0, 0)", 1},
		"it rolls a little":                     {"touch(), lift(3, 12)", 1},
		"it wandered off":                       {"touch(), lift(10, 40)", 0},
		"it scrolled":                           {"touch(), f.cancel(), lift(0, 4)", 0},
		"another finger goes up":                {"touch(), f.lift({ id: 2, x: 100, y: 500 }) && n++", 0},
		"it taps twice":                         {"touch(), lift(0, 0), touch(), lift(0, 0)", 2},
		"it goes up where it never came down":   {"lift(0, 0)", 0},
		"it goes up twice, of which one is its": {"touch(), lift(0, 0), lift(0, 0)", 1},
	} {
		p := script.Load(t, noon, "ui/press")
		p.Run(`var f = new m.Finger(), n = 0
			const touch = () => f.touch({ id: 1, x: 100, y: 500 }), lift = (x, y) => f.lift({ id: 1, x: 100 + x, y: 500 + y }) && n++`)
		p.Run(c.did)
		if got := script.Ask[int](p, "n"); got != c.want {
			t.Errorf("%s: %d presses, want %d", name, got, c.want)
		}
	}
}
