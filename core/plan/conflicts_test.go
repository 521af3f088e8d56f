package plan

import (
	"slices"
	"strings"
	"testing"

	"whitebarn/core/phase"
	"whitebarn/core/pit"
	"whitebarn/core/thermal"
)

func TestConflictsAreSaidWithTheirWaysOut(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*Input)
		kind   ConflictKind
		says   string
		mend   string
	}{
		"no time":         {func(in *Input) { in.Now = day(3, 12, 0) }, TooLate, "PAPER should be on by", "Serve at"},
		"no time to salt": {func(in *Input) { in.Now = day(2, 12, 0) }, LeadShort, "should have been begun", "Give every arm"},
		"small grate":     {func(in *Input) { in.Pits[0].Positions = 3 }, Crowded, "Brick Pit has 3 places and is asked for 4 cuts", "WayOut 1 cut"},
		"same place":      {func(in *Input) { in.Cuts[2].Position = "A1" }, SamePlace, "1 and 3 both stand at A1", "another place"},
		"two heats": {func(in *Input) { in.Arms[1].Phases[1].SetC, in.Arms[1].Phases[1].SetTyped = 135, "275 F" }, TwoHeats,
			"BARE is to smoke at 275 F", "Smoke it at the pit's set point"},
		"small holder": {func(in *Input) { in.Holders[0].Capacity = 3 }, HolderFull, "Warm Box takes 3 cuts and is to hold 4",
			"second holder"},
		"holder not read": {func(in *Input) { in.Holders[0].FloorC = 60 }, NotRead, "Warm Box is to hold PAPER and BARE at {C:", "covered pan"},
		"hold on the clock": {func(in *Input) { in.Holders[0].FloorC = 60 }, NotRead, "of the hold count on the clock after cooking",
			"covered pan"},
		"low hold, read": {func(in *Input) {
			in.Holders[0].FloorC = 60
			in.Holders[0].Known = []pit.Known{{Saved: in.Serve.AddDate(0, -1, 0), Months: 6, DialC: 66, SettlesC: 58, RippleC: 2}}
			for i := range in.Arms {
				in.Arms[i].Phases[4].SetC = 58
			}
		}, NotRead, "its low swing is {C:57.0}, under {C:60.0}. Until it is shown to stay over {C:60.0}", "covered pan"},
		"no holder": {func(in *Input) { in.Arms[0].Phases[4].HolderID = 0 }, HolderFull, "PAPER is to be held, and it is not said in what",
			"Choose"},
		"few probes": {func(in *Input) { in.Probes = 4 }, FewProbes, "5 probes are wanted", "the thickest"},
		"one hand": {func(in *Input) { in.People = []Person{{Name: "Tove", From: "16:00", To: "20:00"}} }, FewHands, "nobody is there",
			"one more hand"},
		"work at night": {func(in *Input) {}, NightWork, "between 23:00 and 06:00", "night work is left"},
		"unequal hold": {func(in *Input) { in.Arms[0].Phases[4].Ends = after(6*3600, "6 h") }, UnequalHold, "held for different times",
			"Hold every arm 6 h 00"},
		"unequal rest": {func(in *Input) { in.Arms[0].Phases[3].Ends = after(3600, "1 h") }, UnequalHold, "rest differently", "rest alike"},
		"never hot enough": {func(in *Input) { in.Arms[1].Phases[2].SetC, in.Arms[1].Phases[2].SetTyped = 90, "194 F" }, NeverEnds,
			"BARE never comes to", "Raise the pit"},
		"boiling at this height": {func(in *Input) { in.Pressure = thermal.PressureAt(2195) }, Boils, "At this height water boils at {C:92.7}",
			"Lower what it is cooked to"},
		"slow to warm":  {func(in *Input) { coolPit(in, 105, 4) }, SlowWarm, "passes {C:60} about 4 h", "Raise the pit"},
		"far too slow":  {func(in *Input) { coolPit(in, 84, 15) }, SlowWarm, "from {C:10} to {C:54.4}. Over 6 h the gate", "Raise the pit"},
		"hold too long": {func(in *Input) { in.Arms[0].Phases[4].MostS = 4 * 3600 }, LongHold, "longer than the 4 h 00", "Start later"},
	} {
		in := supper()
		c.change(&in)
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		found := false
		for _, k := range p.Conflicts {
			if k.Kind == c.kind && strings.Contains(k.Words, c.says) {
				found = slices.ContainsFunc(k.WaysOut, func(m WayOut) bool { return strings.Contains(m.Words, c.mend) })
			}
		}
		if !found {
			t.Errorf("%s: no %q conflict says %q and mends it by %q; there are %+v", name, c.kind, c.says, c.mend, p.Conflicts)
		}
	}
}

// coolPit has the first arm smoke cool, with heavy pieces.
func coolPit(in *Input, c, kg float64) {
	for i := range in.Arms[0].Phases {
		if p := &in.Arms[0].Phases[i]; p.Kind == phase.Smoke {
			p.SetC = c
		}
	}
	for i := range in.Cuts {
		in.Cuts[i].Kg, in.Cuts[i].ThicknessM = kg, 0
	}
}

func TestUnequalWoodIsFlaggedBetweenPits(t *testing.T) {
	in := supper()
	second := in.Pits[0]
	second.ID, second.Name = 2, "North Drum"
	in.Pits = append(in.Pits, second)
	for i := range in.Cuts {
		in.Cuts[i].Pit = in.Cuts[i].Arm
	}
	flagged := func() bool {
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		return slices.ContainsFunc(p.Conflicts, func(c Conflict) bool { return c.Kind == UnequalWood })
	}
	if flagged() {
		t.Error("two pits with the same burn rate are flagged")
	}
	in.Pits[1].WoodEveryS = 1500
	if !flagged() {
		t.Error("a pit that gets twice the wood is not flagged")
	}
}

func TestAWayOutIsOne(t *testing.T) {
	in := supper()
	in.Now = day(3, 12, 0)
	for range 3 { // moving the meal may take another move for the other arm
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		i := slices.IndexFunc(p.Conflicts, func(c Conflict) bool { return c.Kind == TooLate })
		if i < 0 {
			if p.Ready < in.Chance {
				t.Errorf("moved to %s it is ready %.2f, want %.2f", in.Serve, p.Ready, in.Chance)
			}
			return
		}
		in.Serve = p.Conflicts[i].WaysOut[0].At
	}
	t.Error("serving when it is said still is too late")
}
