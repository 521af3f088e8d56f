package process

import (
	"strings"
	"testing"

	"whitebarn/core/phase"
	"whitebarn/core/settle"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
)

// smoke is a phase in a pit, in F, that ends by the core.
func smoke(setF float64, core, wrap string) phase.Phase {
	t, _ := units.ParseTemperature(core)
	return phase.Phase{Kind: phase.Smoke, Name: "smoke", SetC: units.FToC(setF), SetTyped: "250 F", Wrap: wrap,
		Ends: []phase.End{{Watch: phase.ByCore, Value: t.C, Typed: t.Typed}}}
}

func lamb(t *testing.T) (thermal.Family, thermal.Surroundings) {
	t.Helper()
	f, err := thermal.FamilyOf("lambshoulder")
	if err != nil {
		t.Fatal(err)
	}
	s, err := thermal.SurroundingsOf("offset")
	if err != nil {
		t.Fatal(err)
	}
	return f, s
}

func TestTheModelRanksLeversOfAFault(t *testing.T) {
	family, pit := lamb(t)
	clock := []phase.Phase{{Kind: phase.Smoke, Name: "smoke", SetC: units.FToC(250), SetTyped: "250 F",
		Ends: []phase.End{{Watch: phase.ByTime, Value: 6 * 3600, Typed: "6 h"}}}}
	levers, err := Levers(UnderRender, clock, family, pit, 101325, 2.7, 0.114)
	if err != nil || len(levers) < 2 {
		t.Fatalf("%d levers: %v", len(levers), err)
	}
	if first := levers[0]; first.Is <= first.Was || first.Of != "fat rendered" || len(first.Phases) == 0 {
		t.Errorf("the first lever is %+v", first)
	}
	for i := 1; i < len(levers); i++ {
		if levers[i].Is > levers[i-1].Is {
			t.Errorf("%q moves more than %q before it", levers[i].Says, levers[i-1].Says)
		}
	}
	found := false
	for _, l := range levers {
		found = found || strings.HasPrefix(l.Says, "End it by the core")
	}
	if !found {
		t.Error("a cook by the clock is not told to end by the core")
	}
	salty, err := Levers(TooSalty, clock, family, pit, 101325, 0, 0)
	if err != nil || len(salty) != 2 || salty[0].Of != "" {
		t.Errorf("of salt the model says %+v: %v", salty, err)
	}
}

func TestAWrappedBarkIsSoftAndUnwrappingDriesIt(t *testing.T) {
	family, pit := lamb(t)
	wrapped := []phase.Phase{smoke(250, "165 F", ""), smoke(250, "203 F", "paper")}
	levers, err := Levers(Soft, wrapped, family, pit, 101325, 2.7, 0.114)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range levers {
		if l.Says == "Unwrap it for the last 8 F" && l.Is > l.Was && phase.Check(l.Phases) == nil {
			return
		}
	}
	t.Errorf("unwrapping at the end is no lever of a soft bark: %+v", levers)
}

func TestCausesAreRankedByWhatTheyCouldMove(t *testing.T) {
	facts := func(heat, rest float64) map[settle.Fact]float64 {
		return map[settle.Fact]float64{settle.PitHeat: heat, settle.RestHours: rest, settle.CoreAtPull: 95}
	}
	var base, apart []Cooked
	for range 6 {
		base = append(base, Cooked{Facts: facts(121, 1.5), Kg: 2.7, Things: map[string]string{"pit": "Brick Pit", "pit probe": "old"}})
	}
	for range 3 {
		apart = append(apart, Cooked{Facts: facts(129, 1.5), Kg: 2.4, Things: map[string]string{"pit": "Brick Pit", "pit probe": "new"}})
	}
	got := Causes(base, apart, trial.CookedYield, -2.2)
	if len(got) != 3 {
		t.Fatalf("the causes are %+v", got)
	}
	if got[0].Name != "Pit, mean" || *got[0].Could > -1 || got[1].Name != "Another pit probe" || got[1].Could != nil || got[2].Name != "Lighter cuts" {
		t.Errorf("they are ranked %s (%v), %s, %s (%v)", got[0].Name, *got[0].Could, got[1].Name, got[2].Name, *got[2].Could)
	}
	if got[1].Minutes != 10 || !strings.Contains(got[1].Text, "new since; before, old") {
		t.Errorf("the probe is said as %+v", got[1])
	}
	if same := Causes(base, base, trial.CookedYield, -1); len(same) != 0 {
		t.Errorf("cooks that are alike differ in %+v", same)
	}
}

// TestTheHousesOwnSlopeStandsBeforeTheUsual: cooks whose yield follows the pit tell it.
func TestTheHousesOwnSlopeStandsBeforeTheUsual(t *testing.T) {
	var base []Cooked
	for i, heat := range []float64{118, 119, 121, 122, 124, 125, 127} {
		base = append(base, Cooked{Facts: map[settle.Fact]float64{settle.PitHeat: heat},
			Values: map[trial.OutcomeKey]float64{trial.CookedYield: 60 - 0.5*(heat-121) + 0.05*float64(i%2)}})
	}
	hot := []Cooked{{Facts: map[settle.Fact]float64{settle.PitHeat: 131}}}
	got := Causes(base, hot, trial.CookedYield, -5)
	if len(got) != 1 || !got[0].Measured || *got[0].Could > -4 || *got[0].Could < -5.5 {
		t.Errorf("by the house's own cooks it is %+v", got)
	}
}

func TestFaultsAreFoundByTheirWords(t *testing.T) {
	for word, want := range map[string]Fault{"Too salty": TooSalty, "chewy": Tough, "bitter": Bitter} {
		if got, ok := FaultOf(word); !ok || got != want {
			t.Errorf("%q is %q (%v), want %q", word, got, ok, want)
		}
	}
	if got, ok := FaultOf("lovely"); ok {
		t.Errorf("lovely is the fault %q", got)
	}
}
