package web

import (
	"testing"
	"time"

	"whitebarn/internal/testkit/script"
)

// The barn's word on the time comes late, by the road it took, and never early.
func TestACooksClockDoesNotGoBackBetweenTwoPresses(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/cookClock")
	p.Run("const clock = new m.CookClock(() => Date.now()), at = s => Date.parse('2026-09-19T20:00:00Z') + 1000 * s, since = () => (clock.now() - at(0)) / 1000")
	for _, step := range []struct {
		heard string
		pass  time.Duration
		want  float64 // s after eight
		why   string
	}{
		{"at(0), 1", 10 * time.Second, 10, "it goes on by itself"},
		{"at(8), 1", 0, 10, "an answer that took two seconds does not set it back"},
		{"at(11), 1", time.Second, 12, "one that puts it ahead is nearer"},
		{"at(-600), 1", time.Second, -599, "ten minutes are not the road: the device's own clock was moved"},
		{"at(0), 600", time.Second, 600, "a rehearsal runs fast"},
		{"at(500), 600", 0, 500, "and is where the barn says it is"},
		{"at(600), 600); clock.slow(60", time.Second, 660, "it slows down at once, before the barn has said so"},
		{"at(650), 60); clock.slow(600", time.Second, 710, "and goes no faster than the barn has said"},
		{"at(500), 0", time.Minute, 500, "a paused one stands"},
	} {
		p.Run("clock.hear(" + step.heard + ")")
		if p.Pass(step.pass); script.Ask[float64](p, "since()") != step.want {
			t.Errorf("after hearing %s and %s it is %v s, want %v: %s", step.heard, step.pass, script.Ask[float64](p, "since()"), step.want, step.why)
		}
	}
}
