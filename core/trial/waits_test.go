package trial

import (
	"strings"
	"testing"
)

func TestWaitsOnTheHandsThatCanGoOn(t *testing.T) {
	h := Hands{Pitmasters: []string{"Odalys"}, Crew: []string{"Odalys", "Tove"}}
	tasting := h
	tasting.OpenBallots = []string{"Ife", "Joren"}
	for _, c := range []struct {
		step Step
		h    Hands
		want string
	}{
		{StepAsk, h, "Odalys"}, {StepPlan, h, "Odalys"}, {StepSettle, tasting, "Odalys"}, {StepTable, h, "Odalys"}, {StepTable, tasting, "Ife Joren"},
		{StepMatch, h, "Odalys Tove"}, {StepPrep, h, "Odalys Tove"}, {StepFire, tasting, "Odalys Tove"}, {StepRest, h, "Odalys Tove"},
	} {
		if got := strings.Join(WaitsOn(c.step, c.h), " "); got != c.want {
			t.Errorf("%s waits on %q, want %q", c.step, got, c.want)
		}
	}
}
