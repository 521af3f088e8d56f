package phase

import "testing"

func TestCooksAreAlikeByWrapHeatAndPull(t *testing.T) {
	by := func(w Watch, value float64) []End { return []End{{Watch: w, Value: value}} }
	base := func() []Phase {
		return []Phase{
			{Kind: DryBrine, Name: "dry brine", Ends: by(ByTime, 24*3600)},
			{Kind: Smoke, Name: "smoke", SetC: 121, Ends: by(ByCore, 74)},
			{Kind: Smoke, Name: "finish", SetC: 121, Wrap: "paper", Ends: by(ByCore, 95)},
			{Kind: Rest, Name: "rest", Wrap: "tent", Ends: by(ByTime, 1800)},
			{Kind: Hold, Name: "hold", SetC: 66, Ends: by(ByTime, 4*3600)},
		}
	}
	for name, c := range map[string]struct {
		change func([]Phase) []Phase
		alike  bool
	}{
		"the same":       {func(p []Phase) []Phase { return p }, true},
		"held longer":    {func(p []Phase) []Phase { p[4].Ends = by(ByTime, 9*3600); return p }, true},
		"a degree more":  {func(p []Phase) []Phase { p[2].SetC += 5; p[2].Ends[0].Value += 1; return p }, true},
		"a hotter pit":   {func(p []Phase) []Phase { p[2].SetC += 14; return p }, false},
		"pulled earlier": {func(p []Phase) []Phase { p[2].Ends[0].Value -= 6; return p }, false},
		"in foil":        {func(p []Phase) []Phase { p[2].Wrap = "foil"; return p }, false},
		"bare":           {func(p []Phase) []Phase { p[2].Wrap = ""; return p }, false},
		"by feel":        {func(p []Phase) []Phase { p[2].Ends[0] = End{Watch: ByFeel}; return p }, false},
		"two ways to end": {func(p []Phase) []Phase {
			p[2].Ends = append(p[2].Ends, End{Watch: ByFeel})
			return p
		}, false},
		"nothing in the pit":  {func(p []Phase) []Phase { return p[:1] }, false},
		"wrapped from the on": {func(p []Phase) []Phase { return p[2:] }, true},
	} {
		if got := Alike(base(), c.change(base())); got != c.alike {
			t.Errorf("%s: alike is %t, want %t", name, got, c.alike)
		}
	}
}
