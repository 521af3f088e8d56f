package settle

import (
	"strings"
	"testing"
)

func TestUnevenFlagsAGapWhileItCanBeMended(t *testing.T) {
	ask := pairsTrial(2, 0).Ask
	arm := func(place int, set, mean, last float64) SoFar {
		return SoFar{Arm: place, Cuts: 2, Hours: 4, SetC: set, MeanC: &mean, LastC: &last}
	}
	silent := SoFar{Arm: 1, SetC: 121}
	for name, c := range map[string]struct {
		arms []SoFar
		says string // empty: nothing
	}{
		"alike":                        {[]SoFar{arm(0, 121, 122, 121), arm(1, 121, 121, 120)}, ""},
		"hotter all along":             {[]SoFar{arm(0, 121, 121, 121), arm(1, 121, 126, 127)}, "BARE has had {dC:5.00} more heat than PAPER, and still has. Pit heat and wrap could not be told apart. Swap"},
		"hotter, but no more":          {[]SoFar{arm(0, 121, 126, 121), arm(1, 121, 121, 121)}, "PAPER has had {dC:5.00} more heat than BARE so far; in the last hour they were alike"},
		"hotter, and now cooler":       {[]SoFar{arm(0, 121, 126, 115), arm(1, 121, 121, 121)}, "PAPER has had {dC:5.00} more heat than BARE so far"},
		"running away now":             {[]SoFar{arm(0, 121, 122, 126), arm(1, 121, 121, 121)}, "In the last hour PAPER ran {dC:5.00} hotter than BARE"},
		"two set points, each kept":    {[]SoFar{arm(0, 107, 108, 107), arm(1, 135, 136, 135)}, ""},
		"two set points, one not kept": {[]SoFar{arm(0, 107, 115, 116), arm(1, 135, 136, 135)}, "PAPER has had {dC:7.00} more"},
		"one of them with no probe":    {[]SoFar{arm(0, 121, 130, 130), silent}, ""},
		"no reading in the last hour":  {[]SoFar{{Arm: 0, SetC: 121, MeanC: arm(0, 0, 127, 0).MeanC}, arm(1, 121, 121, 121)}, "PAPER has had {dC:6.00} more heat than BARE, and still has"},
	} {
		got := Uneven(ask, c.arms)
		if c.says == "" && len(got) != 0 || c.says != "" && (len(got) != 1 || !strings.Contains(got[0], c.says)) {
			t.Errorf("%s: %q, want %q", name, got, c.says)
		}
	}
}
