package plan

import (
	"context"
	"math"
	"strings"
	"testing"
	"time"

	"whitebarn/core/phase"
)

// took is how long the middle case of a cook's arms lasts, h, and its spread.
func took(t *testing.T, in Input) (middle, spread []float64) {
	t.Helper()
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range p.Lanes {
		middle = append(middle, l.Pull.Middle.Sub(l.On).Hours())
		spread = append(spread, l.Pull.Late.Sub(l.Pull.Early).Hours())
	}
	return middle, spread
}

func TestCooksLastAsTheyShould(t *testing.T) {
	usual, _ := took(t, supper())
	if usual[0] >= usual[1] {
		t.Errorf("in paper it takes %.1f h, bare %.1f h", usual[0], usual[1])
	}
	for name, c := range map[string]struct {
		change func(*Input)
		longer bool
	}{
		"a heavier cut":    {func(in *Input) { each(in, func(c *Cut) { c.Kg = 3.5 }) }, true},
		"a thicker cut":    {func(in *Input) { each(in, func(c *Cut) { c.ThicknessM = 0.14 }) }, true},
		"a colder cut":     {func(in *Input) { each(in, func(c *Cut) { c.StartC = 0 }) }, true},
		"a hotter place":   {func(in *Input) { each(in, func(c *Cut) { c.OffsetC = 8 }) }, false},
		"a hotter pit":     {func(in *Input) { smokeAt(in, 135) }, false},
		"a cooler pit":     {func(in *Input) { smokeAt(in, 107) }, true},
		"pulled earlier":   {func(in *Input) { ends(in, phase.End{Watch: phase.ByCore, Value: 88, Typed: ""}) }, false},
		"pulled by a loss": {func(in *Input) { ends(in, phase.End{Watch: phase.ByLoss, Value: 0.25, Typed: ""}) }, false},
		"core or 6 h": {func(in *Input) {
			ends(in, phase.End{Watch: phase.ByCore, Value: 95, Typed: ""}, phase.End{Watch: phase.ByTime, Value: 3600, Typed: ""})
		}, false},
		"spritzed": {func(in *Input) { in.Arms[1].Phases[1].SpritzEveryS = 1800; in.Arms[0].Phases[1].SpritzEveryS = 1800 }, true},
	} {
		in := supper()
		c.change(&in)
		got, _ := took(t, in)
		for arm := range got {
			if longer := got[arm] > usual[arm]; longer != c.longer {
				t.Errorf("%s: arm %d takes %.2f h, usually %.2f h", name, arm, got[arm], usual[arm])
			}
		}
	}
}

func each(in *Input, change func(*Cut)) {
	for i := range in.Cuts {
		change(&in.Cuts[i])
	}
}

func smokeAt(in *Input, c float64) {
	in.Pits[0].SetC = c
	for _, a := range in.Arms {
		for i := range a.Phases {
			if a.Phases[i].Kind == phase.Smoke {
				a.Phases[i].SetC = c
			}
		}
	}
}

// ends lets the last smoke of every arm end otherwise.
func ends(in *Input, conditions ...phase.End) {
	for _, a := range in.Arms {
		a.Phases[2].Ends = conditions
	}
}

// TestCutsOfAnArmDifferAsTheyUsuallyDo keeps the share of the variance that is
// one cut's own: cuts of one arm differ by about 0.7 h.
func TestCutsOfAnArmDifferAsTheyUsuallyDo(t *testing.T) {
	in := supper()
	in.Members = 200
	lengths, err := lengthsOf(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	sum := 0.0
	for m := range in.Members {
		d := (lengths[0].pull(m) - lengths[2].pull(m)) / 3600 // both in paper
		sum += d * d / 2
	}
	if sd := math.Sqrt(sum / float64(in.Members)); sd < 0.45 || sd > 1 {
		t.Errorf("two cuts of one arm differ with a spread of %.2f h, want about 0.7", sd)
	}
}

// TestFewMembersSayWhatManySay bounds what the small ensemble costs.
func TestFewMembersSayWhatManySay(t *testing.T) {
	few := supper()
	many := supper()
	many.Members = 600
	a, err := Of(t.Context(), few)
	if err != nil {
		t.Fatal(err)
	}
	b, err := Of(t.Context(), many)
	if err != nil {
		t.Fatal(err)
	}
	for i := range a.Lanes {
		x, y := a.Lanes[i], b.Lanes[i]
		if d := x.Pull.Middle.Sub(x.On) - y.Pull.Middle.Sub(y.On); d.Abs() > 25*time.Minute {
			t.Errorf("arm %d takes %s longer with few members", i, d)
		}
		if d := x.Latest.Sub(y.Latest); d.Abs() > time.Hour {
			t.Errorf("the latest start of arm %d is %s later with few members", i, d)
		}
	}
	if again, _ := Of(t.Context(), few); again.Lanes[0].Latest != a.Lanes[0].Latest || again.Ready != a.Ready {
		t.Error("the same plan is worked out twice with two results")
	}
}

func TestAMoreCertainSupperStartsEarlier(t *testing.T) {
	in := supper()
	var last time.Time
	for _, chance := range []float64{0.5, 0.7, 0.9, 0.98} {
		in.Chance = chance
		p, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		if on := p.Lanes[1].Latest; !last.IsZero() && on.After(last) {
			t.Errorf("for %g it may start at %s, for less at %s", chance, on, last)
		}
		if p.Ready < chance-1e-9 {
			t.Errorf("wanted %g, it is ready %g", chance, p.Ready)
		}
		last = p.Lanes[1].Latest
	}
}

func TestACutThatIsOnIsReckonedFromThen(t *testing.T) {
	in := supper()
	on := day(3, 7, 20)
	in.Now = day(3, 11, 0)
	each(&in, func(c *Cut) { c.On = on })
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range p.Lanes {
		if !l.On.Equal(on) || l.Pull.Middle.Before(on.Add(5*time.Hour)) {
			t.Errorf("on at %s, the plan has it on at %s and pulled at %s", on, l.On, l.Pull.Middle)
		}
	}
	for _, c := range p.Conflicts {
		if c.Kind == TooLate || c.Kind == LeadShort {
			t.Errorf("a cut that is on is told: %s", c.Words)
		}
	}
}

func TestAPlanCanBeCalledOff(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := Of(ctx, supper()); err == nil {
		t.Error("a plan nobody waits for is worked out")
	}
}

func TestStartOfOneCut(t *testing.T) {
	in := StartInput{Family: "porkbutt", WeightKg: 3.6, Smoker: "offset", PitC: 121, Wrap: "foil", WrapAtC: 74, PullC: 95, RestMin: 60, LeastHoldH: 1, PlanHoldH: 3, SliceMin: 20, Chance: 0.9}
	got, err := StartOf(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	if got.LowH >= got.MiddleH || got.MiddleH >= got.HighH || got.MiddleH < 6 || got.MiddleH > 14 || got.Tender < 0.8 {
		t.Errorf("a pork butt takes %+v", got)
	}
	if least := got.HighH + 1 + 1 + 1./3; got.LatestH < least-0.5 || got.LatestH > least+0.5 {
		t.Errorf("it must be on %.2f h before, want about %.2f", got.LatestH, least)
	}
	if got.AdvisedH < got.LatestH || got.HoldLowH < 0.9 {
		t.Errorf("advised %.2f h before, latest %.2f; one time in ten it is held %.2f h", got.AdvisedH, got.LatestH, got.HoldLowH)
	}
	for field, change := range map[string]func(*StartInput){
		"cut": func(in *StartInput) { in.Family = "oak" }, "smoker": func(in *StartInput) { in.Smoker = "counter" }, "weight_kg": func(in *StartInput) { in.WeightKg = 0 },
		"wrap": func(in *StartInput) { in.Wrap = "hay" }, "chance": func(in *StartInput) { in.Chance = 2 }, "set_C": func(in *StartInput) { in.PitC = 900 },
	} {
		wrong := in
		change(&wrong)
		if _, err := StartOf(t.Context(), wrong); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("a wrong %s ends with %v", field, err)
		}
	}
}
