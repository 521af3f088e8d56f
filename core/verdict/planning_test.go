package verdict

import (
	"math"
	"testing"
)

// TestPlanningPassesHolmOverAllPairs: with many units t is the normal, and a difference of as
// many standard errors as the first step of Holm asks for is called clear every second time.
func TestPlanningPassesHolmOverAllPairs(t *testing.T) {
	const n = 20_000
	se := math.Sqrt(2.0 / n)
	for _, c := range []struct {
		arms int
		z    float64 // of 0.05 over one, three, six pairs, two-sided
	}{{2, 1.959964}, {3, 2.393980}, {4, 2.638257}} {
		p := Planner{SD: 1, D: 1e-6, Layout: Layout{Arms: c.arms}}
		if got := p.Clear(n, c.z*se); math.Abs(got-0.5) > 0.005 {
			t.Errorf("%d arms, %.3f standard errors apart: clear in %.3f, want 0.500", c.arms, c.z, got)
		}
	}
}
