package plan_test

import (
	"context"
	"errors"
	"math"
	"os"
	"slices"
	"testing"
	"time"

	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/demo"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

func TestMain(m *testing.M) { os.Exit(demobarn.Main(m)) }

// supper is the demo barn and its second cook of "Paper, pan or bare?".
func supper(t *testing.T) (*store.Store, *planner.Planner, store.Trial, store.CookPlan) {
	t.Helper()
	s := demobarn.Store(t)
	tr, err := s.Trial(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	cooks, err := s.Cooks(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	k := cooks[1]
	cook := store.CookPlan{ServeAt: k.ServeAt}
	runs, err := s.PitRuns(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range runs {
		if r.CookID == k.ID {
			cook.Runs = append(cook.Runs, r)
		}
	}
	placed, err := s.Placements(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range placed {
		if l.CookID == k.ID && l.PitRunID != nil {
			cook.Placements = append(cook.Placements, store.PlannedPlacement{CutID: l.CutID, Position: l.Position})
		}
	}
	return s, planner.New(s, new(plan.Memory)), tr, cook
}

// TestAPlanThatTakesTooLongIsGivenUp for a press, which waits no longer; who asks for it without a bound gets it.
func TestAPlanThatTakesTooLongIsGivenUp(t *testing.T) {
	s, p, _, _ := supper(t)
	cooks, err := s.Cooks(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := p.ForUpTo(time.Nanosecond).Due(t.Context(), cooks[0].ID, demobarn.Now); !errors.Is(err, context.DeadlineExceeded) {
		t.Errorf("within no time a plan ends with %v", err)
	}
	v, err := p.Due(t.Context(), cooks[0].ID, demobarn.Now)
	if err != nil || len(v.Due) == 0 {
		t.Errorf("without a bound %d things are due (%v)", len(v.Due), err)
	}
}

func TestTheInputHoldsWhatTheBarnKnows(t *testing.T) {
	_, p, tr, cook := supper(t)
	o, err := p.Outline(t.Context(), tr)
	if err != nil {
		t.Fatal(err)
	}
	in, err := p.Input(t.Context(), tr, 0, cook, o, demobarn.Now)
	if err != nil {
		t.Fatal(err)
	}
	if in.Family.Key != "lambshoulder" || len(in.Arms) != 3 || len(in.Cuts) != 6 || len(in.People) != 6 || in.HoldsVary || !o.Planned {
		t.Errorf("the supper is read as %d arms, %d cuts and %d people of %s", len(in.Arms), len(in.Cuts), len(in.People), in.Family.Key)
	}
	if in.Serve.Hour() != 18 || in.Serve.Location().String() != demo.Zone {
		t.Errorf("it is served at %s", in.Serve)
	}
	if in.Pressure > 98500 || in.Pressure < 97000 {
		t.Errorf("310 m up the air weighs %g Pa", in.Pressure)
	}
	pit := in.Pits[0]
	// The finished cooks were lit three quarters of an hour before, and got wood every 50 min.
	if pit.Name != "Brick Pit" || pit.Surroundings.Key != "offset" || pit.Positions != 12 || !pit.Known || math.Abs(pit.FuelKgH-2.27) > 1e-9 || math.Abs(pit.WoodEveryS-3000) > 400 || pit.WarmS < 900 || pit.WarmS > 3*3600 {
		t.Errorf("the pit is read as %+v", pit)
	}
	// Its burns with the trough say when it is lit, and how long a split lasts.
	if lead := pit.WarmS / 60; math.Mod(lead, 5) != 0 || pit.Used == nil || *pit.Used.RefuelMin < 15 || *pit.Used.RefuelMin > 40 {
		t.Errorf("by its burns it is lit %g min before and used as %+v", lead, pit.Used)
	}
	for _, c := range in.Cuts {
		if over := pit.Used.Over(c.Position); c.OffsetC != over || c.Position[0] == 'A' && over <= 0 {
			t.Errorf("%s at %s is planned %g C over the pit's middle, want %g", c.Name, c.Position, c.OffsetC, over)
		}
		tag := in.Arms[c.Arm].Tag
		if want := map[string]int{"PAPER": 59, "BARE": 47, "PAN": 0}[tag]; len(c.House) != want {
			t.Errorf("%s in %s is reckoned from %d cooks of the barn, want %d", c.Name, tag, len(c.House), want)
		}
		for _, r := range c.House {
			if r < 0.5 || r > 2 {
				t.Errorf("%s in %s: a finished cook took %.2f times what the model says", c.Name, tag, r)
			}
		}
		if c.ThicknessM < 0.09 || c.Kg < 2 || c.Kg > 3.5 || !c.On.IsZero() || c.Position == "" {
			t.Errorf("%s is read as %+v", c.Name, c)
		}
	}
	if h := in.Holders; len(h) != 1 || h[0].Capacity != 12 {
		t.Errorf("the holders are %+v", h)
	}
	work, err := p.Of(t.Context(), tr, 0, cook, o, demobarn.Now)
	if err != nil || work.Ready < 0.85 {
		t.Errorf("the supper is ready %.2f of the time (%v)", work.Ready, err)
	}
}

func TestAShiftLeavesTheOthersAtHome(t *testing.T) {
	s, p, tr, cook := supper(t)
	o, err := p.Outline(t.Context(), tr)
	if err != nil {
		t.Fatal(err)
	}
	people, err := s.People(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	o.Shifts = []plan.Shift{{PersonID: people[1].ID, From: "05:00", To: "22:00"}}
	in, err := p.Input(t.Context(), tr, 0, cook, o, demobarn.Now)
	if err != nil || len(in.People) != 1 || in.People[0].Name != people[1].Name || in.People[0].From != "05:00" {
		t.Errorf("there are %+v (%v)", in.People, err)
	}
}

func TestACutOnTheFireKeepsItsTime(t *testing.T) {
	s, p, tr, _ := supper(t)
	cooks, err := s.Cooks(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	placed, err := s.Placements(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	first := store.CookPlan{ServeAt: cooks[0].ServeAt, Runs: []store.PitRun{{PitID: 1, SetPointC: 121}}}
	for _, l := range placed {
		if l.CookID == cooks[0].ID && l.PitRunID != nil {
			first.Placements = append(first.Placements, store.PlannedPlacement{CutID: l.CutID})
		}
	}
	o, err := p.Outline(t.Context(), tr)
	if err != nil {
		t.Fatal(err)
	}
	in, err := p.Input(t.Context(), tr, cooks[0].ID, first, o, demobarn.Now)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range in.Cuts {
		if age := demobarn.Now.Sub(c.On); age < 3*time.Hour || age > 4*time.Hour {
			t.Errorf("%s went on %s ago", c.Name, age)
		}
	}
	if in.Probes == 0 {
		t.Error("a cook whose probes report has none")
	}
}

func TestHoldsAreTheRunsOfAHolder(t *testing.T) {
	arm := func(id int64, hours string, holder int64) plan.ArmPhases {
		return plan.ArmPhases{ArmID: id, Phases: []phase.Phase{{Kind: phase.Smoke}, {Kind: phase.Hold, HolderID: holder, SetC: 65, SetTyped: "149 F", Ends: []phase.End{{Watch: phase.ByTime, Typed: hours}}}}}
	}
	ids := []int64{1, 2, 3}
	tr := store.Trial{}
	cuts, cook := []store.Cut{}, store.CookPlan{}
	for i := range ids {
		tr.Ask.Arms = append(tr.Ask.Arms, trial.Arm{ID: ids[i]})
		for n := range 2 {
			id := int64(10*i + n)
			cuts = append(cuts, store.Cut{ID: id, ArmID: &ids[i]})
			cook.Placements = append(cook.Placements, store.PlannedPlacement{CutID: id})
		}
	}
	got := planner.Holds(tr, cuts, cook, plan.Outline{Arms: []plan.ArmPhases{arm(1, "4 h", 7), arm(2, "9 h", 7), arm(3, "4 h", 7)}})
	if len(got) != 2 || !slices.Equal(got[0].CutIDs, []int64{0, 1, 20, 21}) || got[0].Setup != "4 h" || !slices.Equal(got[1].CutIDs, []int64{10, 11}) || got[1].Set != (units.Temperature{C: 65, Typed: "149 F"}) {
		t.Errorf("four and nine hours in one box are the runs %+v", got)
	}
	if got := planner.Holds(tr, cuts, cook, plan.Outline{Arms: []plan.ArmPhases{arm(1, "4 h", 0)}}); len(got) != 0 {
		t.Errorf("a hold in nothing makes the runs %+v", got)
	}
}
