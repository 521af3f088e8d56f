package thermal

import "testing"

func TestThinCutsRiseFastAndThickOnesSlowly(t *testing.T) {
	wing, _ := FamilyOf("chthigh")
	shoulder, _ := FamilyOf("lambshoulder")
	drum, _ := SurroundingsOf("drum")
	low, high := FastestRise(wing.Cut(0.03, 0.012, 4), drum.Exchange(Wraps[0]), 121), FastestRise(wing.Cut(0.03, 0.012, 4), drum.Exchange(Wraps[0]), 280)
	if slow := FastestRise(shoulder.Cut(2.5, 0, 4), drum.Exchange(Wraps[0]), 280); slow <= 0 || slow > 1.5 || high <= low || high < 3*slow {
		t.Errorf("a shoulder over 280 C rises %.2f C a minute at most, a thin piece %.2f at 121 C and %.2f at 280 C", slow, low, high)
	}
	if v := FastestRise(Cut{}, drum.Exchange(Wraps[0]), 121); v != 0 {
		t.Errorf("no cut at all rises %.2f C a minute", v)
	}
}
