package plan

import (
	"testing"
	"time"

	"whitebarn/core/phase"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

func TestTheHousesOwnCooksReplaceTheModelsLength(t *testing.T) {
	middle := func(house []float64) (took, width time.Duration) {
		in := supper()
		for i := range in.Cuts {
			in.Cuts[i].House = house
		}
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		return p.Cuts[0].Pull.Middle.Sub(p.Cuts[0].On), p.Cuts[0].Pull.Late.Sub(p.Cuts[0].Pull.Early)
	}
	model, wide := middle(nil)
	if two, _ := middle([]float64{1.5, 1.5}); two != model {
		t.Errorf("two cooks of its own move the length from %s to %s", model, two)
	}
	slow, narrow := middle([]float64{1.24, 1.25, 1.26, 1.25, 1.25, 1.25, 1.24, 1.26})
	if r := slow.Seconds() / model.Seconds(); r < 1.18 || r > 1.32 {
		t.Errorf("eight cooks a quarter longer make it %.2f times as long", r)
	}
	if narrow.Seconds()/slow.Seconds() > 0.7*wide.Seconds()/model.Seconds() {
		t.Errorf("eight cooks that agree leave an interval of %s, the model alone has %s", narrow, wide)
	}
}

func TestAllThreeSchoolsCanBePlanned(t *testing.T) {
	family, _ := thermal.FamilyOf("lambshoulder")
	ask := catalogued(trial.Ask{
		Species: safety.RedMeat, Arms: []trial.Arm{{ID: 5, Tag: "PAPER", Levels: trial.Levels("paper")}}, Factors: []trial.Factor{{Name: "wrap"}},
		Held: []trial.Held{{Name: "pit temperature", Value: "275 F, Brick Pit"}, {Name: "dry brine", Value: "1 %, 24 h"}, {Name: "pull",
			Value: "203 F"}, {Name: "rest time", Value: "90 min"}, {Name: "hold time", Value: "4 h at 150 F"}},
	})
	took := map[School]time.Duration{}
	for _, school := range []School{ByClock, ByHeat, ByTheHands} {
		phases := UsualPhases(ask, ask.Arms[0], family, school)
		in := supper()
		in.Arms = []Arm{{"PAPER", phases}}
		for i := range in.Cuts {
			in.Cuts[i].Arm = 0
		}
		if phases[1].SetTyped != "275 F" || phases[0].Kind != phase.DryBrine || phases[len(phases)-1].SetTyped != "150 F" {
			t.Errorf("by %s the phases are %+v", school, phases)
		}
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Errorf("by %s: %v", school, err)
			continue
		}
		took[school] = p.Lanes[0].Pull.Middle.Sub(p.Lanes[0].On)
		if spread := p.Lanes[0].Pull.Late.Sub(p.Lanes[0].Pull.Early); (spread == 0) != (school == ByClock) {
			t.Errorf("by %s the end is uncertain by %s", school, spread)
		}
	}
	if took[ByClock] != 8*time.Hour || took[ByTheHands] < took[ByHeat] {
		t.Errorf("the schools take %v; core and feel together cannot be done before the core is", took)
	}
}
