package plan

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/phase"
	"whitebarn/core/thermal"
)

var zone = time.FixedZone("hill", -4*3600)

func day(d, hour, minute int) time.Time { return time.Date(2026, 10, d, hour, minute, 0, 0, zone) }

// supper is a small cook: shoulders bare and in paper, held and sliced.
func supper() Input {
	family, _ := thermal.FamilyOf("lambshoulder")
	brick, _ := thermal.SurroundingsOf("offset")
	phases := func(wrap string) []phase.Phase {
		return []phase.Phase{
			{Kind: phase.DryBrine, Name: "dry brine", Ends: after(24*3600, "24 h")},
			{Kind: phase.Smoke, Name: "smoke", SetC: 121, SetTyped: "250 F", Ends: []phase.End{{Watch: phase.ByCore, Value: 74, Typed: "165 F"}}},
			{Kind: phase.Smoke, Name: "finish", SetC: 121, SetTyped: "250 F", Wrap: wrap, Ends: []phase.End{{Watch: phase.ByCore, Value: 95, Typed: "203 F"}}},
			{Kind: phase.Rest, Name: "rest", Wrap: "tent", Ends: after(1800, "30 min")},
			{Kind: phase.Hold, Name: "hold", SetC: 66, SetTyped: "150 F", HolderID: 1, Ends: after(4*3600, "4 h"), LeastS: 3600},
		}
	}
	in := Input{
		Now: day(1, 9, 0), Serve: day(3, 18, 0), Chance: 0.9, SliceS: 900, Family: family, Pressure: thermal.PressureAt(300), Seed: 7,
		Arms:    []Arm{{"PAPER", phases("paper")}, {"BARE", phases("")}},
		Pits:    []Pit{{ID: 1, Name: "Brick Pit", SetC: 121, Surroundings: brick, Positions: 12, WarmS: 3600, FuelKgH: 2, LightingKg: 3, WoodEveryS: 3000, WaterKgH: 0.4}},
		Holders: []Holder{{ID: 1, Name: "Warm Box", Capacity: 8}},
		People:  []Person{{ID: 1, Name: "Tove"}, {ID: 2, Name: "Bram"}},
	}
	for i := range 4 {
		in.Cuts = append(in.Cuts, Cut{ID: int64(i + 1), Name: fmt.Sprint(i + 1), Arm: i % 2, Position: fmt.Sprintf("A%d", i+1), Kg: 2.5, StartC: 4})
	}
	return in
}

// drawn are made-up lengths, so that the scheduling is tested by itself.
func drawn(in Input, random *rand.Rand, members int) []length {
	out := make([]length, len(in.Cuts))
	for i, c := range in.Cuts {
		arm := in.Arms[c.Arm]
		l := &out[i]
		l.reached = true
		for range arm.smokes() {
			l.ends = append(l.ends, make([]float64, members))
		}
		for _, p := range arm.afters() {
			s, _ := p.Fixed()
			row := make([]float64, members)
			for m := range row {
				row[m] = s
			}
			l.afters = append(l.afters, row)
		}
		for m := range members {
			at := 0.0
			for s := range l.ends {
				at += 3600 * (2 + 4*random.Float64())
				l.ends[s][m] = at
			}
		}
		l.usual.Ends = make([]thermal.PhaseEnd, len(l.ends)+len(l.afters))
	}
	return out
}

func TestLatestStartIsTheLastThatGivesTheChance(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for range 60 {
		in := supper()
		in.Arms = in.Arms[:1]
		in.Chance = 0.5 + 0.45*random.Float64()
		for i := range in.Cuts {
			in.Cuts[i].Arm = 0
		}
		lengths := drawn(in, random, 5+random.IntN(30))
		got := schedule(in, lengths).Lanes[0].Latest
		ready := func(on time.Time) float64 { // by looking at every member
			n, members := 0, len(lengths[0].ends[0])
			for m := range members {
				last := 0.0
				for _, l := range lengths {
					last = max(last, l.pull(m)+1800+3600)
				}
				if !on.Add(seconds(last)).After(in.Serve.Add(-15 * time.Minute)) {
					n++
				}
			}
			return float64(n) / float64(members)
		}
		var want time.Time
		for at := in.Serve.Truncate(startStep); want.IsZero(); at = at.Add(-startStep) {
			if ready(at) >= in.Chance {
				want = at
			}
		}
		if !got.Equal(want) {
			t.Fatalf("for a chance of %.2f the latest start is %s, by trying every one it is %s", in.Chance, got.Format("15:04"), want.Format("15:04"))
		}
	}
}

func TestArmsShareTheirBadLuck(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	for range 30 {
		in := supper()
		in.Chance = 0.6 + 0.35*random.Float64()
		lengths := drawn(in, random, 20)
		plan := schedule(in, lengths)
		latest := func(share int) (on [2]time.Time, chance float64) { // both arms at their share-th worst
			var worst [2][]float64
			for a := range worst {
				for m := range 20 {
					worst[a] = append(worst[a], max(lengths[a].pull(m), lengths[a+2].pull(m)))
				}
			}
			n := 0
			for m := range 20 {
				all := true
				for a := range worst {
					all = all && worst[a][m] <= slices.Sorted(slices.Values(worst[a]))[share]
				}
				if all {
					n++
				}
			}
			for a := range worst {
				on[a] = plan.Deadline.Add(-seconds(slices.Sorted(slices.Values(worst[a]))[share] + 1800 + 3600)).Truncate(startStep)
			}
			return on, float64(n) / 20
		}
		for share := range 20 {
			on, chance := latest(share)
			if chance < in.Chance {
				continue
			}
			for a := range on {
				// Between two members the start is in between.
				if plan.Lanes[a].Latest.Before(on[a].Add(-startStep)) {
					t.Errorf("arm %d may start at %s, by trying every share it is %s", a, plan.Lanes[a].Latest.Format("15:04"), on[a].Format("15:04"))
				}
			}
			break
		}
	}
}

func TestAnEarlierTableNeverMeansALaterStart(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	in := supper()
	lengths := drawn(in, random, 40)
	for _, now := range []time.Time{day(1, 9, 0), day(2, 23, 0), day(3, 9, 0)} {
		in.Now = now
		var last []time.Time
		for minutes := 0; minutes < 26*60; minutes += 35 {
			in.Serve = day(4, 20, 0).Add(-time.Duration(minutes) * time.Minute)
			if !in.Serve.After(now) {
				break
			}
			p := schedule(in, lengths)
			var at []time.Time
			for _, l := range p.Lanes {
				at = append(at, l.On, l.Latest, l.Advised, l.Begin)
			}
			for i := range last {
				if at[i].After(last[i]) {
					t.Fatalf("served %d min earlier, a start moves from %s to %s", 35, last[i], at[i])
				}
			}
			last = at
		}
	}
}

func TestAConflictNeverRaisesTheChance(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 8))
	for range 100 {
		in := supper()
		in.Serve = in.Serve.Add(-time.Duration(random.IntN(40)) * time.Hour)
		lengths := drawn(in, random, 30)
		was := schedule(in, lengths)
		for name, with := range map[string]func(*Input){
			"a smaller grate":    func(in *Input) { in.Pits[0].Positions = random.IntN(4) },
			"one place for two":  func(in *Input) { in.Cuts[random.IntN(3)].Position = "A4" },
			"two temperatures":   func(in *Input) { in.Arms[1].Phases[1].SetC = 135 },
			"a pit slow to warm": func(in *Input) { in.Pits[0].WarmS += 7200 },
		} {
			other := supper()
			other.Serve = in.Serve
			with(&other)
			now := schedule(other, lengths)
			if now.Ready > was.Ready {
				t.Errorf("%s raises the chance from %.2f to %.2f", name, was.Ready, now.Ready)
			}
			for i := range now.Cuts {
				if now.Cuts[i].Ready > was.Cuts[i].Ready {
					t.Errorf("%s raises the chance of cut %d from %.2f to %.2f", name, i+1, was.Cuts[i].Ready, now.Cuts[i].Ready)
				}
			}
		}
	}
}

func TestWaitsAreThoseOfAQueue(t *testing.T) {
	random := rand.New(rand.NewPCG(9, 10))
	for range 300 {
		stays, positions := make([]stay, 1+random.IntN(6)), 1+random.IntN(4)
		for i := range stays {
			stays[i] = stay{want: float64(random.IntN(8)), takes: float64(1 + random.IntN(6)), place: []string{"", "A1", "B2"}[random.IntN(3)], set: []float64{107, 121}[random.IntN(2)]}
		}
		got := waits(stays, positions)
		// By the clock: every tick the next in line goes on if it can.
		line := make([]int, len(stays))
		for i := range line {
			line[i] = i
		}
		slices.SortStableFunc(line, func(a, b int) int { return int(stays[a].want - stays[b].want) })
		until := map[int]float64{}
		for tick := 0.0; len(line) > 0; tick++ {
			for len(line) > 0 && stays[line[0]].want <= tick {
				on, blocked := 0, false
				for i, end := range until {
					if end > tick {
						on++
						blocked = blocked || stays[i].set != stays[line[0]].set || stays[i].place != "" && stays[i].place == stays[line[0]].place
					}
				}
				if on >= positions || blocked {
					break
				}
				i := line[0]
				if want := tick - stays[i].want; got[i] != want {
					t.Fatalf("%+v on %d places: number %d waits %g, want %g", stays, positions, i, got[i], want)
				}
				until[i] = tick + stays[i].takes
				line = line[1:]
			}
		}
	}
}

func TestTheHoldIsTheBuffer(t *testing.T) {
	in := supper()
	start := func() (on [2]time.Time) {
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		for i, l := range p.Lanes {
			on[i] = l.On
			last := l.Blocks[len(l.Blocks)-1]
			if !last.To.Middle.Equal(p.Deadline) {
				t.Errorf("the hold of arm %d ends at %s, the slicing begins at %s", i, last.To.Middle, p.Deadline)
			}
			if !l.Begin.Equal(l.On.Add(-24 * time.Hour)) {
				t.Errorf("the salt goes on at %s, want a day before %s", l.Begin, l.On)
			}
		}
		return on
	}
	four := start()
	for i := range in.Arms {
		in.Arms[i].Phases[4].Ends, in.Arms[i].Phases[4].LeastS = after(8*3600, "8 h"), 5*3600
	}
	eight := start()
	for i := range four {
		if d := four[i].Sub(eight[i]); d != 4*time.Hour {
			t.Errorf("with the whole window of the hold 4 h longer, arm %d starts %s earlier", i, d)
		}
	}
	in.SliceS += 3600
	for i, on := range start() {
		if d := eight[i].Sub(on); d != time.Hour {
			t.Errorf("with an hour more to slice, arm %d starts %s earlier", i, d)
		}
	}
}

func TestPitsBurnAndHandsAreShared(t *testing.T) {
	p, err := Of(t.Context(), supper())
	if err != nil {
		t.Fatal(err)
	}
	pit := p.Pits[0]
	hours := pit.Out.Late.Sub(pit.On).Hours()
	if !pit.Light.Equal(pit.On.Add(-time.Hour)) || pit.FuelKg < 3+1.9*hours || pit.FuelKg > 3+2.1*hours || pit.WaterKg < 0.39*hours || pit.WaterKg > 0.41*hours {
		t.Errorf("in %.1f h the pit burns %.1f kg and boils off %.1f kg, lit %s for %s", hours, pit.FuelKg, pit.WaterKg, pit.Light, pit.On)
	}
	load := map[int]int{}
	acts := map[Act]int{}
	for i, task := range p.Tasks {
		load[task.Person]++
		acts[task.Act]++
		if i > 0 && task.At.Middle.Before(p.Tasks[i-1].At.Middle) {
			t.Errorf("%s at %s comes after %s", task.Words, task.At.Middle, p.Tasks[i-1].Words)
		}
	}
	if load[-1] > 0 || load[0] == 0 || load[1] == 0 {
		t.Errorf("the tasks are shared out as %v", load)
	}
	if acts[ActPrepare] != 2 || acts[ActLight] != 1 || acts[ActOn] != 2 || acts[ActWrap] != 1 || acts[ActPull] != 2 || acts[ActHold] != 2 || acts[ActSlice] != 1 || acts[ActWood] != len(pit.Wood) {
		t.Errorf("the tasks are %v", acts)
	}
}

func TestImpossiblePlansAreRefusedByField(t *testing.T) {
	for field, change := range map[string]func(*Input){
		"chance":                  func(in *Input) { in.Chance = 1 },
		"serve_at":                func(in *Input) { in.Serve = time.Time{} },
		"slice_s":                 func(in *Input) { in.SliceS = -1 },
		"cuts":                    func(in *Input) { in.Cuts = nil },
		"cuts[1].arm":             func(in *Input) { in.Cuts[1].Arm = -1 },
		"cuts[0].pit":             func(in *Input) { in.Cuts[0].Pit = 4 },
		"arms[0].phases[1].set_C": func(in *Input) { in.Arms[0].Phases[1].SetC = 0 },
		"arms[0].phases[3].kind":  func(in *Input) { in.Arms[0].Phases[3].Kind = phase.Thaw },
		"arms[0].phases[2].wrap":  func(in *Input) { in.Arms[0].Phases[2].Wrap = "hay" },
		"arms[0].phases[1].ends[0].place": func(in *Input) {
			in.Arms[0].Phases[1].Ends = []phase.End{{Watch: phase.ByFeel, Place: "thick"}}
		},
		"arms[1].phases[4].ends[0]":  func(in *Input) { in.Arms[1].Phases[4].Ends = []phase.End{{Watch: phase.ByFeel}} },
		"arms[1].phases[4].least_s":  func(in *Input) { in.Arms[1].Phases[4].LeastS = 9 * 3600 },
		"arms[1].phases":             func(in *Input) { in.Arms[1].Phases = in.Arms[1].Phases[3:] },
		"arms[1].phases[2].liquid_g": func(in *Input) { in.Arms[1].Phases[2].LiquidG = -3 },
	} {
		in := supper()
		change(&in)
		if _, err := Of(t.Context(), in); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("a wrong %s ends with %v", field, err)
		}
	}
}

func TestTypedPhasesAreReadIntoNumbers(t *testing.T) {
	o := Outline{Chance: 0.9, Arms: []ArmPhases{{Phases: []phase.Phase{
		{Kind: phase.Smoke, Name: "smoke", SetTyped: "250 F", Ends: []phase.End{{Watch: phase.ByCore, Typed: "165 F"}, {Watch: phase.ByTime, Typed: "6 h 30"}, {Watch: phase.ByLoss, Typed: "35 %"}}},
		{Kind: phase.Rest, Name: "rest", Ends: []phase.End{{Watch: phase.ByCooling, Typed: "60 C"}}},
	}}}, Shifts: []Shift{{From: "05:30", To: "22:00"}}}
	if err := o.Resolve(); err != nil {
		t.Fatal(err)
	}
	p := o.Arms[0].Phases[0]
	if p.SetC < 121.1 || p.SetC > 121.12 || p.Ends[0].Value < 73.8 || p.Ends[0].Value > 73.9 || p.Ends[1].Value != 23400 || p.Ends[2].Value != 0.35 {
		t.Errorf("the phase is read as %+v", p)
	}
	o.Arms[0].Phases[0].Ends[1].Typed, o.Shifts[0].To = "when the owl calls", "late"
	err := o.Resolve()
	for _, says := range []string{"arms[0].phases[0].ends[1].typed", "shifts[0].to"} {
		if err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("the refusal is %v, want it to name %s", err, says)
		}
	}
}

func BenchmarkPlanOfSixArmsFourCutsThreePits(b *testing.B) {
	in := supper()
	for _, name := range []string{"North Drum", "Cabinet"} {
		pit := in.Pits[0]
		pit.Name = name
		in.Pits = append(in.Pits, pit)
	}
	in.Arms, in.Cuts = nil, nil
	for a := range 6 {
		arm := supper().Arms[a%2]
		arm.Phases[2].Wrap = []string{"paper", "", "foil", "pan", "boat", "perfpaper"}[a]
		in.Arms = append(in.Arms, arm)
		for i := range 4 {
			in.Cuts = append(in.Cuts, Cut{ID: int64(4*a + i), Arm: a, Pit: i % 3, Kg: 2.4 + 0.1*float64(i), StartC: 4})
		}
	}
	for b.Loop() {
		if _, err := Of(b.Context(), in); err != nil {
			b.Fatal(err)
		}
	}
}

// TestWhatBurnsWithoutAFireNeedsNone: gas and electricity want no wood, no water and no hour
// of lighting, unless somebody says so.
func TestWhatBurnsWithoutAFireNeedsNone(t *testing.T) {
	for name, c := range map[string]struct {
		kind string
		burn Burn
		want Burn
	}{
		"a drum on gas":                 {"drum", Burn{Fuel: "Gas bottle"}, Burn{WarmS: 900, Fuel: "Gas bottle"}},
		"an electric offset":            {"offset", Burn{Fuel: "electric element"}, Burn{WarmS: 900, Fuel: "electric element"}},
		"wood chips in it all the same": {"drum", Burn{Fuel: "gas", WoodEveryS: 1800}, Burn{WarmS: 900, Fuel: "gas", WoodEveryS: 1800}},
		"a griddle":                     {"griddle", Burn{}, Burn{WarmS: 900, Fuel: "gas"}},
		"a kettle of oil":               {"oil", Burn{}, Burn{WarmS: 1800, Fuel: "gas"}},
		"an electric smoker smokes":     {"cabinet", Burn{}, Burn{WarmS: 2700, Fuel: "electricity", WoodEveryS: 2700, WaterKgH: 0.15}},
		"a drum on charcoal":            {"drum", Burn{}, usualBurns["drum"]},
	} {
		if got, _ := c.burn.Usual(c.kind); got != c.want {
			t.Errorf("%s burns %+v, want %+v", name, got, c.want)
		}
	}
}
