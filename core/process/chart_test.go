package process

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// TestLimitsFreezeAtTheFirstSix: by hand, the mean moving range of the six is 0.9.
func TestLimitsFreezeAtTheFirstSix(t *testing.T) {
	six := []float64{46.4, 45.6, 46.8, 45.9, 46.9, 46.1}
	c := ChartOf(six)
	if !c.Frozen || math.Abs(*c.StepMiddle-0.94) > 1e-9 || math.Abs(*c.Middle-46.28333333) > 1e-6 {
		t.Fatalf("the middle is %v and the step %v", *c.Middle, *c.StepMiddle)
	}
	if math.Abs(*c.High-*c.Middle-2.66*0.94) > 1e-9 || math.Abs(*c.StepLimit-3.27*0.94) > 1e-9 {
		t.Errorf("the limits are %v and %v", *c.High, *c.StepLimit)
	}
	if five := ChartOf(six[:5]); five.Frozen || five.High == nil {
		t.Errorf("with five cooks it is frozen %v, with limits %v", five.Frozen, five.High)
	}
	later := ChartOf(append(six, 46, 46.5, 80))
	if *later.High != *c.High {
		t.Errorf("a later cook moved the limit from %v to %v", *c.High, *later.High)
	}
	if one := ChartOf([]float64{4}); one.Middle != nil || len(one.Points) != 1 {
		t.Errorf("one cook has limits: %+v", one)
	}
}

func TestRulesFire(t *testing.T) {
	six := []float64{1, -1, 1, -1, 1, -1} // middle 0, limit 5.32, near 3.55
	for name, c := range map[string]struct {
		more  []float64
		sign  Sign
		since int
	}{
		"inside":                       {[]float64{2, -2, 3}, NoSign, 0},
		"one over a limit":             {[]float64{0, 6}, OverLimit, 8},
		"two of three near":            {[]float64{0, 4, 0, 4}, TwoOfThree, 8},
		"two near on either side":      {[]float64{4, -4}, NoSign, 0},
		"near, too far apart":          {[]float64{4, 0, 0, 4}, NoSign, 0},
		"eight in a row":               {[]float64{.1, .1, .1, .1, .1, .1, .1, .1}, RunOfEight, 7},
		"seven in a row":               {[]float64{.1, .1, .1, .1, .1, .1, .1}, NoSign, 0},
		"the first six are no run":     {[]float64{-.1, -.1, -.1, -.1, -.1, -.1, -.1}, NoSign, 0},
		"three low in a row, the rule": {[]float64{-4, -4.5, -4}, TwoOfThree, 7},
	} {
		got := ChartOf(append(append([]float64{}, six...), c.more...))
		if last := got.Points[len(got.Points)-1].Sign; last != c.sign || got.Since != c.since {
			t.Errorf("%s: the sign is %q since %d, want %q since %d", name, last, got.Since, c.sign, c.since)
		}
	}
	if got := ChartOf(append(append([]float64{}, six...), -4, -4.5, -4)).Said(); got != "Near the low limit again and again: something changed at cook 7." {
		t.Errorf("it is said as %q", got)
	}
}

// falseAlarms is how often in 100 cooks after the first six a process that did not change is
// asked about, and said to drift, up to the first time.
func falseAlarms(charts int) (asked, drifts float64) {
	r := rand.New(rand.NewPCG(20, 66))
	var cooks, ask, drift float64
	for range charts {
		values := make([]float64, Base+20)
		for i := range values {
			values[i] = r.NormFloat64()
		}
		c := ChartOf(values)
		for i, p := range c.Points[Base:] {
			cooks++
			if p.Sign != NoSign && (i == 0 || c.Points[Base+i-1].Sign == NoSign) {
				ask++
			}
			if p.Drifts {
				drift++
				break
			}
		}
	}
	return 100 * ask / cooks, 100 * drift / cooks
}

// TestAProcessInControlSeldomDrifts is the bound of the rules: 2 in 100 cooks.
func TestAProcessInControlSeldomDrifts(t *testing.T) {
	if asked, drifts := falseAlarms(3000); drifts > 2 || asked < drifts {
		t.Errorf("of 100 cooks that did not change %.1f are asked about and %.1f said to drift", asked, drifts)
	}
}

// TestAShiftIsSeen: three moving ranges down is said within a few cooks.
func TestAShiftIsSeen(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	seen := 0
	for range 300 {
		values := make([]float64, Base+6)
		for i := range values {
			values[i] = r.NormFloat64()
			if i >= Base {
				values[i] -= 4
			}
		}
		if ChartOf(values).Drifts {
			seen++
		}
	}
	if seen < 270 {
		t.Errorf("a shift of four standard deviations was seen within six cooks in %d of 300", seen)
	}
}

func BenchmarkCharts(b *testing.B) {
	cards := 5000
	if testing.Short() {
		cards = 20
	}
	for b.Loop() {
		asked, drifts := falseAlarms(cards)
		b.ReportMetric(asked, "asked/100cooks")
		b.ReportMetric(drifts, "drifts/100cooks")
	}
}

func TestCompareSaysWhatChanged(t *testing.T) {
	was := CardBody{Pit: "Brick Pit", Steps: []CardStep{{Phase: smoke(250, "165 F", "")}, {Phase: smoke(250, "203 F", "paper")}}}
	is := CardBody{Pit: "Brick Pit", Steps: []CardStep{{Phase: smoke(250, "165 F", "")}, {Phase: smoke(250, "198 F", "paper")}}}
	d := Compare(was, is)
	if len(d) != 1 || d[0].What != "phase 2" || !strings.Contains(d[0].Was, "203 F") || !strings.Contains(d[0].Is, "198 F") {
		t.Errorf("they differ in %+v", d)
	}
	if d := Compare(was, was); len(d) != 0 {
		t.Errorf("a version differs from itself in %+v", d)
	}
}
