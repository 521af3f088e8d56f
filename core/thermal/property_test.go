package thermal

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// anyRun is a random cut through random phases, anywhere in the range the model covers.
func anyRun(r *rand.Rand) Run {
	between := func(low, top float64) float64 { return low + r.Float64()*(top-low) }
	fat := between(0, 0.45)
	bone := between(0, 0.2)
	half := 0.0025 * math.Pow(60, r.Float64())
	c := Cut{
		Mass: between(0.1, 8), HalfThickness: half, Shape: between(0, 2), Density: between(950, 1100), Conductivity: between(0.35, 0.5),
		Lean: 1 - fat - bone, Fat: fat, Bone: bone, LeanWater: 0.745, Brine: between(0, 0.2), BrineKept: between(0, 1),
		JuiceTime: between(1000, 5000) * half / 0.04, RenderShare: between(0.2, 0.8), CollagenTime: between(600, 13000),
		StartTemperature: between(-1, 25), ProbeDepth: half * between(0, 1),
	}
	crust := Crust{between(0.5, 1.5), between(5e7, 4e8), between(1.2, 3), between(0.2, 1), between(0.6, 1.6), between(0.7, 1.4), between(0, 1)}
	exchange := func() Exchange {
		x := Exchange{HeatTransfer: between(2, 62), Emissivity: between(0.3, 0.95), RadiantExcess: between(0, 10), DewPoint: between(5, 95)}
		if r.IntN(2) == 0 {
			x.Relative, x.RH = true, []float64{0, 1, r.Float64()}[r.IntN(3)]
		}
		if r.IntN(2) == 0 {
			w := Wraps[r.IntN(len(Wraps))]
			x.WrapResistance, x.VapourResistance = w.Resistance, w.VapourResistance
		}
		return x
	}
	cook := Phase{Name: "cook", Air: between(30, 350), Exchange: exchange(), End: ByTime, Value: between(600, 40000)}
	if r.IntN(3) == 0 {
		cook.Spritz = between(0, 0.3)
	}
	rest := Phase{Name: "rest", Air: between(5, 70), Exchange: exchange(), End: ByTime, Value: between(600, 20000)}
	if r.IntN(3) == 0 {
		rest.Liquid, rest.LiquidAt = between(0.05, 0.5), between(5, 90)
	}
	return Run{Cut: c, Crust: crust, Phases: []Phase{cook, rest}}
}

func TestNoRunLosesMassOrHeatOrItsNumbers(t *testing.T) {
	r := rand.New(rand.NewPCG(20, 4))
	for i := range 600 {
		run := anyRun(r)
		out, err := Simulate(run, Settings{}, 0)
		if err != nil {
			t.Fatalf("run %d was refused: %v", i, err)
		}
		last := out.Ends[len(out.Ends)-1]
		for _, v := range []float64{last.Core, last.Probe, last.Surface, last.Loss, last.Index, last.Dryness, out.Peak, out.Masses.Now} {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Fatalf("run %d ends with %+v", i, last)
			}
		}
		if b := out.Balance; math.Abs(b.Mass) > 1e-3 || math.Abs(b.Energy) > 1e-3 {
			t.Errorf("run %d loses %.2g of its mass and %.2g of its heat, want under a thousandth: %+v", i, b.Mass, b.Energy, run)
		}
		if out.Steps > 4000 {
			t.Errorf("run %d took %d steps", i, out.Steps)
		}
	}
}

// ends is when a changed cook reaches its end.
func ends(t *testing.T, change func(*Run)) PhaseEnd {
	t.Helper()
	run := longCook(nil)
	run.Phases[0].End, run.Phases[0].Value = ByCore, 90
	change(&run)
	out, err := Simulate(run, Settings{Cells: 20}, 0)
	if err != nil {
		t.Fatal(err)
	}
	return out.Ends[len(out.Ends)-1]
}

func TestMoreHeatIsNeverLaterAndMoreMeatNeverSooner(t *testing.T) {
	for _, c := range []struct {
		what   string
		change func(*Run, float64)
		values []float64 // each is to be later than the one before
	}{
		{"a cooler pit", func(r *Run, v float64) { r.Phases[0].Air = v }, []float64{160, 140, 121, 107, 100}},
		{"less moving air", func(r *Run, v float64) { r.Phases[0].Exchange.HeatTransfer = v }, []float64{16, 11, 7, 5}},
		{"a thicker cut", func(r *Run, v float64) { r.Cut.HalfThickness, r.Cut.JuiceTime = v, v*90000 }, []float64{0.03, 0.045, 0.054, 0.07}},
		{"a colder start", func(r *Run, v float64) { r.Cut.StartTemperature = v }, []float64{20, 10, 4, 0}},
		{"drier air late in the stall", func(r *Run, v float64) { r.Phases[0].Exchange.DewPoint = v }, []float64{95, 90, 80}},
	} {
		before := 0.0
		for _, v := range c.values {
			end := ends(t, func(r *Run) { c.change(r, v) })
			if !end.Reached || end.Time <= before {
				t.Errorf("%s (%g) ends at %.0f s, the one before at %.0f", c.what, v, end.Time, before)
			}
			before = end.Time
		}
	}
}

func TestATighterWrapEvaporatesLess(t *testing.T) {
	evaporated := func(resistance float64) float64 {
		run := longCook(nil)
		bare := run.Phases[0]
		bare.End, bare.Value = ByCore, 71
		wrapped := run.Phases[0]
		wrapped.Exchange.VapourResistance, wrapped.Value = resistance, 4*3600
		run.Phases = []Phase{bare, wrapped}
		out, err := Simulate(run, Settings{Cells: 20}, 0)
		if err != nil {
			t.Fatal(err)
		}
		return out.Masses.Evaporated
	}
	before := math.Inf(1)
	for _, r := range []float64{0, 1e8, 2.5e8, 5e8, 4e9, 8e9} {
		if e := evaporated(r); e >= before {
			t.Errorf("a wrap of %.2g lets %.4f kg go, a looser one %.4f", r, e, before)
		} else {
			before = e
		}
	}
}

func TestThinAirCoolsAWetSurfaceMore(t *testing.T) {
	at := func(pressure float64) Result {
		run := longCook(nil)
		run.Crust.Resistance = 0 // a wet bulb
		run.Phases[0].Value = 4 * 3600
		out, err := Simulate(run, Settings{Pressure: pressure}, 0)
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	low, high := at(0), at(80e3)
	if l, h := low.Ends[0].Surface, high.Ends[0].Surface; h >= l-0.5 {
		t.Errorf("the surface is at %.1f C under 80 kPa and %.1f at sea level, want it lower", h, l)
	}
	for height, want := range map[float64]float64{0: 101325, 300: 97772.57, 2400: 75625.66} {
		if got := PressureAt(height); math.Abs(got-want) > 1 {
			t.Errorf("at %g m the air presses with %.1f Pa, want %.1f", height, got, want)
		}
	}
	if b := BoilingPoint(80e3); math.Abs(b-93.5) > 0.2 {
		t.Errorf("water boils at %.2f C under 80 kPa, want 93.5", b)
	}
}

func TestWhatTheModelDoesNotCoverIsRefused(t *testing.T) {
	for _, c := range []struct {
		want   string
		change func(*Run)
	}{
		{"frozen", func(r *Run) { r.Cut.StartTemperature = -3 }},
		{"half_thickness_m", func(r *Run) { r.Cut.HalfThickness = 0.4 }},
		{"half_thickness_m", func(r *Run) { r.Cut.HalfThickness = math.NaN() }},
		{"add up", func(r *Run) { r.Cut.Fat = 0.5 }},
		{"phases.1.air_C", func(r *Run) { r.Phases[0].Air = 900 }},
		{"phases.1.hc", func(r *Run) { r.Phases[0].Exchange.HeatTransfer = 0 }},
		{"phases.1.rh", func(r *Run) { r.Phases[0].Exchange.Relative, r.Phases[0].Exchange.RH = true, 1.2 }},
		{"phases.1.end", func(r *Run) { r.Phases[0].End = "mood" }},
		{"liquid_C", func(r *Run) { r.Phases[0].Liquid, r.Phases[0].LiquidAt = 1, 150 }},
		{"surface.eta", func(r *Run) { r.Crust.JuiceOut = 1.5 }},
	} {
		run := longCook(nil)
		c.change(&run)
		if _, err := Simulate(run, Settings{}, 0); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("the refusal is %v, want one that names %s", err, c.want)
		}
	}
}

func TestATraceAddsUpExactly(t *testing.T) {
	log, err := NewTrace([]float64{0, 60, 180, 200}, []float64{100, 130, 100, 140})
	if err != nil {
		t.Fatal(err)
	}
	near := 0
	for _, c := range []struct{ from, to, mean float64 }{
		{0, 60, 115}, {30, 60, 122.5}, {0, 200, (115*60 + 115*120 + 120*20) / 200.0}, {190, 400, (130*10 + 140*200) / 210.0}, {-10, 0, 100}, {60, 120, 122.5},
	} {
		if got := (log.areaUntil(c.to, &near) - log.areaUntil(c.from, &near)) / (c.to - c.from); math.Abs(got-c.mean) > 1e-9 {
			t.Errorf("the mean from %g to %g s is %g, want %g", c.from, c.to, got, c.mean)
		}
	}
	if got := log.At(120); got != 115 {
		t.Errorf("at 120 s it is %g, want 115", got)
	}
	for _, bad := range [][2][]float64{{{0, 0}, {1, 2}}, {{0}, {math.NaN()}}, {{}, {}}, {{0, 1}, {5}}} {
		if _, err := NewTrace(bad[0], bad[1]); err == nil {
			t.Errorf("a log of %v at %v was taken", bad[1], bad[0])
		}
	}
}

func TestALidThatIsLiftedCoolsThePitAndCostsTime(t *testing.T) {
	trace, err := WithLids(121, 14, []Opening{{3600, 120}, {7200, 60}}, 9000)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ at, low, high float64 }{{3500, 121, 121}, {3720, 68, 74}, {4020, 97, 105}, {6900, 120.9, 121}, {7260, 80, 90}} {
		if got := trace.At(c.at); got < c.low-1e-9 || got > c.high {
			t.Errorf("at %g s the air is %.1f C, want %g to %g", c.at, got, c.low, c.high)
		}
	}
	var lids []Opening
	for i := range 12 {
		lids = append(lids, Opening{float64(i) * 1800, 120})
	}
	often, err := WithLids(121, 14, lids, 12*1800)
	if err != nil {
		t.Fatal(err)
	}
	shut, lifted := ends(t, func(*Run) {}), ends(t, func(r *Run) { r.Phases[0].Log = often })
	if late := lifted.Time - shut.Time; late < 600 || late > 2*3600 {
		t.Errorf("a lid lifted every half hour makes it %.0f s later", late)
	}
	if _, err := WithLids(121, 14, []Opening{{100, 60}, {120, 60}}, 900); err == nil {
		t.Error("openings that overlap are taken")
	}
}

func TestFollowingInTwoPartsIsFollowingOnce(t *testing.T) {
	run := longCook(nil)
	whole, err := Simulate(run, Settings{}, 3600)
	if err != nil {
		t.Fatal(err)
	}
	b, err := NewBody(run.Cut, run.Crust, Settings{})
	if err != nil {
		t.Fatal(err)
	}
	var part Result
	for range 18 {
		p := run.Phases[0]
		p.Value = 3600
		if err := b.Follow([]Phase{p}, 0, &part); err != nil {
			t.Fatal(err)
		}
	}
	if got, want := part.Ends[0], whole.Ends[0]; math.Abs(got.Core-want.Core) > 0.05 || math.Abs(got.Loss-want.Loss) > 5e-4 {
		t.Errorf("hour by hour it ends at %.3f C and %.4f lost, at once at %.3f and %.4f", got.Core, got.Loss, want.Core, want.Loss)
	}
	if len(whole.Readings) != 19 {
		t.Errorf("%d hourly readings were kept, want 19", len(whole.Readings))
	}
}

func ExampleSimulate() {
	family, _ := FamilyOf("lambshoulder")
	pit, _ := SurroundingsOf("offset")
	paper, _ := WrapOf("paper")
	bare, _ := WrapOf("none")
	run := Run{
		Cut: family.Cut(2.4, 0, 4), Crust: UsualCrust,
		Phases: []Phase{
			{Name: "smoke", Air: 121, Exchange: pit.Exchange(bare), End: ByCore, Value: 74},
			{Name: "paper", Air: 121, Exchange: pit.Exchange(paper), End: ByCore, Value: 95},
		},
	}
	out, _ := Simulate(run, Settings{}, 0)
	for _, e := range out.Ends {
		fmt.Printf("%s ends after %.1f h with %.0f %% lost\n", e.Name, e.Time/3600, 100*e.Loss)
	}
	// Output:
	// smoke ends after 4.5 h with 22 % lost
	// paper ends after 6.8 h with 32 % lost
}

func TestAPhaseEndsByTheFirstOrByAllOfItsConditions(t *testing.T) {
	family, _ := FamilyOf("lambshoulder")
	pit, _ := SurroundingsOf("offset")
	end := func(all bool, until ...Until) float64 {
		p := Phase{Air: 121, Exchange: pit.Exchange(Wraps[0]), End: until[0].Watch, Value: until[0].Value, More: until[1:], All: all}
		r, err := Simulate(Run{Cut: family.Cut(2.5, 0, 4), Crust: UsualCrust, Phases: []Phase{p}}, Settings{}, 0)
		if err != nil || !r.Ends[0].Reached {
			t.Fatalf("%v ends with %+v, %v", until, r.Ends, err)
		}
		return r.Ends[0].Time
	}
	conditions := []Until{{ByCore, 90}, {ByLoss, 0.3}, {ByTime, 6 * 3600}, {ByCrust, 1.2}, {ByRendered, 0.4}}
	for i, a := range conditions {
		for _, b := range conditions[:i] {
			ta, tb := end(false, a), end(false, b)
			for name, c := range map[string]struct{ got, want float64 }{
				"the first of": {end(false, a, b), min(ta, tb)}, "all of": {end(true, b, a), max(ta, tb)},
			} {
				if math.Abs(c.got-c.want) > 5 {
					t.Errorf("%s %v and %v ends after %.0f s, want %.0f s", name, a, b, c.got, c.want)
				}
			}
		}
	}
}

func TestSpritzesComeAtTheirInterval(t *testing.T) {
	family, _ := FamilyOf("lambshoulder")
	pit, _ := SurroundingsOf("offset")
	p := Phase{Air: 121, Exchange: pit.Exchange(Wraps[0]), End: ByTime, Value: 5 * 3600, Spritz: UsualSpritz, SpritzFrom: 2 * 3600, SpritzEvery: 3600}
	cut := family.Cut(2.5, 0, 4)
	r, err := Simulate(Run{Cut: cut, Crust: UsualCrust, Phases: []Phase{p}}, Settings{}, 0)
	if want := 3 * UsualSpritz * cut.Area(); err != nil || math.Abs(r.Masses.Spritzed-want) > 1e-9 { // at 2, 3 and 4 h
		t.Errorf("%.4f kg were spritzed (%v), want %.4f", r.Masses.Spritzed, err, want)
	}
}
