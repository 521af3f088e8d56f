package plan

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/trial"
)

func TestShiftsGoOverMidnight(t *testing.T) {
	at := func(hour, minute int) time.Time { return day(3, hour, minute) }
	for _, c := range []struct {
		from, to string
		at       time.Time
		there    bool
	}{
		{"", "", at(3, 0), true}, {"05:30", "", at(5, 29), false}, {"05:30", "", at(5, 30), true}, {"", "22:00", at(21, 59), true}, {"", "22:00", at(22, 0), false},
		{"06:00", "14:00", at(13, 59), true}, {"06:00", "14:00", at(14, 0), false}, {"22:00", "06:00", at(23, 0), true}, {"22:00", "06:00", at(2, 0), true},
		{"22:00", "06:00", at(6, 0), false}, {"22:00", "06:00", at(12, 0), false},
	} {
		if got := (Person{From: c.from, To: c.to}).there(c.at); got != c.there {
			t.Errorf("from %q to %q, there at %s is %t", c.from, c.to, c.at.Format("15:04"), got)
		}
	}
}

// busy is a plan whose tasks are to be shared out.
func busy(people []Person, tasks ...Task) []int {
	w := &work{in: Input{People: people, Serve: day(3, 18, 0)}, out: &Plan{Tasks: tasks}}
	w.share()
	out := []int{}
	for _, t := range w.out.Tasks {
		out = append(out, t.Person)
	}
	return out
}

func TestWorkGoesToWhoIsFreeAndToWhoDidTheSame(t *testing.T) {
	task := func(minute int, act Act, forMinutes float64) Task {
		return Task{At: sure(day(3, 10, minute)), Act: act, ForS: 60 * forMinutes}
	}
	two := []Person{{Name: "Tove"}, {Name: "Bram"}}
	for name, c := range map[string]struct {
		people []Person
		tasks  []Task
		want   []int
	}{
		"both at once":           {two, []Task{task(0, ActOn, 20), task(0, ActWood, 20)}, []int{0, 1}},
		"the same goes on":       {two, []Task{task(0, ActWood, 5), task(10, ActSpritz, 5), task(20, ActWood, 5), task(30, ActSpritz, 5)}, []int{0, 1, 0, 1}},
		"a wait of five minutes": {two[:1], []Task{task(0, ActOn, 15), task(10, ActWood, 3)}, []int{0, 0}},
		"but not of ten":         {two[:1], []Task{task(0, ActOn, 20), task(10, ActWood, 3)}, []int{0, -1}},
		"nobody there":           {[]Person{{From: "12:00"}}, []Task{task(0, ActOn, 5)}, []int{-1}},
		"too much for one habit": {two, []Task{task(0, ActWood, 50), task(55, ActWood, 5)}, []int{0, 1}},
	} {
		if got := busy(c.people, c.tasks...); !slices.Equal(got, c.want) {
			t.Errorf("%s: the tasks go to %v, want %v", name, got, c.want)
		}
	}
}

func TestNobodyIsAtTwoTasksAtOnce(t *testing.T) {
	in := supper()
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	until := map[int]time.Time{}
	for _, task := range p.Tasks {
		if task.Person < 0 {
			continue
		}
		if late := until[task.Person].Sub(task.At.Middle); late > patience {
			t.Errorf("%s waits %s for %s", task.Words, late, in.People[task.Person].Name)
		}
		begin := task.At.Middle
		if until[task.Person].After(begin) {
			begin = until[task.Person]
		}
		until[task.Person] = begin.Add(seconds(task.ForS))
	}
}

func TestTheNightsWayOutLeavesLessOfIt(t *testing.T) {
	in := supper()
	minutes := func(in Input) (s float64, ways []WayOut) {
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		for _, task := range p.Tasks {
			if at := task.At.Middle.In(zone); trial.AtNight(at) && at.After(in.Now) {
				s += task.ForS / 60
			}
		}
		for _, c := range p.Conflicts {
			if c.Kind == NightWork {
				ways = c.WaysOut
			}
		}
		return s, ways
	}
	now, ways := minutes(in)
	if now == 0 || len(ways) == 0 {
		t.Fatalf("%g min of night work have the ways out %+v", now, ways)
	}
	for _, w := range ways {
		other := in
		other.Arms = slices.Clone(in.Arms)
		switch w.Do {
		case MoveMeal:
			other.Serve = w.At
			if w.At.Hour() < mealsFrom || w.At.Hour() >= mealsTo {
				t.Errorf("%s is no time to eat", w.At.Format("15:04"))
			}
		case SetHolds:
			for i := range other.Arms {
				phases := slices.Clone(other.Arms[i].Phases)
				hold := &phases[4]
				hold.LeastS += w.ForS - 4*3600 // the window moves with it
				hold.Ends = after(w.ForS, "")
				other.Arms[i].Phases = phases
			}
		}
		if left, _ := minutes(other); left >= now {
			t.Errorf("%s: %.0f min of night work are left of %.0f", w.Words, left, now)
		}
	}
}

func TestMealsAreNotServedAtNight(t *testing.T) {
	for at, want := range map[time.Time]time.Time{
		day(3, 17, 2): day(3, 17, 5), day(3, 4, 0): day(3, 10, 0), day(3, 22, 30): day(4, 10, 0), day(3, 9, 57): day(3, 10, 0), day(3, 21, 55): day(4, 10, 0),
	} {
		if got := mealAt(at); !got.Equal(want) {
			t.Errorf("from %s on the table is set at %s, want %s", at, got, want)
		}
	}
}

func TestTimesAndChancesAreSaidPlainly(t *testing.T) {
	for s, want := range map[float64]string{0: "0 min", 59: "1 min", 1500: "25 min", 3600: "1 h 00", 9000: "2 h 30", 86400: "24 h 00"} {
		if got := span(s); got != want {
			t.Errorf("%g s is said %q, want %q", s, got, want)
		}
	}
	for p, want := range map[float64]string{0: "hardly ever", 0.03: "less than 1 time in 10", 0.1: "1 time in 10", 0.44: "4 times in 10", 0.9: "9 times in 10", 0.96: "more than 9 times in 10", 1: "nearly always"} {
		if got := Tens(p); got != want {
			t.Errorf("%g is said %q, want %q", p, got, want)
		}
	}
	w := &work{in: Input{Serve: day(3, 18, 0)}}
	if a, b := w.clock(day(3, 5, 15).UTC()), w.clock(day(2, 22, 0)); a != "05:15" || b != "Fri 22:00" {
		t.Errorf("clocks are said %q and %q", a, b)
	}
}

func TestAPitBurnsTheUsualOfItsKindWhereItIsNotKnown(t *testing.T) {
	drum, own := Burn{}.Usual("drum")
	if own || drum.FuelKgH != usualBurns["drum"].FuelKgH || drum.Fuel != "charcoal" {
		t.Errorf("a drum nobody knows burns %+v, its own %t", drum, own)
	}
	mixed, own := Burn{FuelKgH: 1.1, WarmS: 600}.Usual("drum")
	if !own || mixed.FuelKgH != 1.1 || mixed.WarmS != 600 || mixed.WoodEveryS != drum.WoodEveryS {
		t.Errorf("a drum half known burns %+v, its own %t", mixed, own)
	}
	if odd, _ := (Burn{}).Usual("hollow log"); odd != usualBurns["generic"] {
		t.Errorf("a kind nobody knows burns %+v", odd)
	}
	for field, b := range map[string]Burn{"warm_s": {WarmS: -1}, "fuel_kg_h": {FuelKgH: math.NaN()}, "wood_every_s": {WoodEveryS: 60}, "water_kg_h": {WaterKgH: 80}} {
		if err := b.Check(); err == nil {
			t.Errorf("a wrong %s is taken", field)
		}
	}
	if _, err := PitKind("counter"); err == nil {
		t.Error("a counter is taken for a smoker")
	}
}

// TestAPlanSeesEveryHandItNeeds: steps of the pit once for all arms, moves, what is put
// into a wrap, turns that repeat, and what is done after the pull.
func TestAPlanSeesEveryHandItNeeds(t *testing.T) {
	in := supper()
	in.Cookers = append([]Pit{{ID: 40, Name: "Oven", SetC: 150, Surroundings: in.Pits[0].Surroundings}}, in.Pits...)
	core := func(c float64) []phase.End { return []phase.End{{Watch: phase.ByCore, Value: c}} }
	clock := func(s float64) []phase.End { return []phase.End{{Watch: phase.ByTime, Value: s}} }
	set := in.Pits[0].SetC
	for i := range in.Arms {
		in.Arms[i].Phases = []phase.Phase{
			{Kind: phase.Smoke, Name: "smoke", SetC: set, Ends: clock(3 * 3600),
				Moves: []phase.Repeat{{Act: logbook.Turn, EveryS: 2400}, {Act: logbook.Flip, FromS: 5400}}},
			{Kind: phase.Smoke, Name: "hotter", SetC: set + 20, SetTyped: "286 F", Wrap: "foil",
				Parcel: []logbook.PutIn{{What: "tallow", Typed: "45 g", G: 45}}, LiquidG: 45, Ends: core(85)},
			{Kind: phase.Smoke, Name: "oven", SetC: 150, PitID: 40, Wrap: "foil", Ends: core(95)},
			{Kind: phase.Rest, Name: "rest", Ends: clock(1800)}, {Kind: phase.Fry, Name: "fry", SetC: 177, Ends: clock(240)},
		}
	}
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	count := map[string]int{}
	var wrap, step, move Task
	for _, x := range p.Tasks {
		count[x.Words]++
		switch x.Act {
		case ActWrap:
			wrap = x
		case ActSet:
			step = x
		case ActMove:
			move = x
		}
	}
	pit := in.Pits[0].Name
	for words, want := range map[string]int{pit + " to 286 F": 1, "Turn PAPER": 4, "Flip PAPER": 1, "Wrap BARE": 1, "PAPER to Oven": 1,
		"Fry PAPER": 1, "Unwrap PAPER": 0} {
		if count[words] != want {
			t.Errorf("%s is to be done %d times, want %d of %v", words, count[words], want, count)
		}
	}
	if wrap.Detail.Wrap != "foil" || len(wrap.Detail.Parcel) != 1 || step.Detail.Set != "286 F" || move.PitID != 40 {
		t.Errorf("what is logged with them is %+v, %+v, %+v", wrap.Detail, step.Detail, move)
	}
	for _, c := range p.Conflicts {
		if c.Kind == TwoHeats {
			t.Errorf("a step is no clash: %s", c.Words)
		}
	}
	// Set, it is due no more; to another, it still is. Flipped once, it is flipped.
	on := p.Lanes[0].On
	due := func(log ...Entry) string { return strings.Join(dueWords(DueOf(p, in, log, nil)), "; ") }
	if got := due(Entry{Act: ActSet, Pit: 0, At: on.Add(3 * time.Hour), SetC: set + 20.4}); strings.Contains(got, pit+" to 286 F") {
		t.Errorf("set, it is still due: %s", got)
	}
	if got := due(Entry{Act: ActSet, Pit: 0, At: on.Add(3 * time.Hour), SetC: set + 10}); !strings.Contains(got, pit+" to 286 F") {
		t.Errorf("set to another it is no longer due: %s", got)
	}
	var flipped, fried []Entry
	for _, id := range p.Tasks[slices.IndexFunc(p.Tasks, func(x Task) bool { return x.Words == "Flip PAPER" })].Cuts {
		flipped = append(flipped, Entry{Act: ActFlip, Cut: id, Pit: -1, At: on.Add(2 * time.Hour)})
		fried = append(fried, Entry{Act: ActPull, Cut: id, Pit: -1, At: on.Add(9 * time.Hour)})
	}
	if got := due(flipped...); strings.Contains(got, "Flip PAPER") || !strings.Contains(got, "Flip BARE") {
		t.Errorf("flipped, there is due %s", got)
	}
	if got := due(fried...); !strings.Contains(got, "Fry PAPER") || strings.Contains(got, "Turn PAPER") {
		t.Errorf("pulled, there is due %s", got)
	}
}
