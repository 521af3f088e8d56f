package thermal

import (
	"math"
	"testing"

	"whitebarn/core/safety"
)

func fahrenheit(f float64) float64 { return (f - 32) / 1.8 }

// TestCooksBehaveAsCooksDo holds the model to what cooks usually take and lose.
func TestCooksBehaveAsCooksDo(t *testing.T) {
	for _, c := range []struct {
		family, wrap   string
		lb, pit        float64 // lb, F
		wrapAt         float64 // F; 0 is bare
		end            Quantity
		value          float64 // F for core
		hours, lossPct [2]float64
	}{
		{"brisket", "", 12, 250, 0, ByCore, 203, [2]float64{10, 15}, [2]float64{35, 45}},
		{"brisket", "foil", 13, 250, 165, ByCore, 203, [2]float64{8, 10.5}, [2]float64{30, 40}},
		{"brisket", "paper", 13, 250, 165, ByCore, 203, [2]float64{9.5, 11.3}, [2]float64{30, 45}},
		{"porkbutt", "", 8, 225, 0, ByCore, 203, [2]float64{12, 18}, [2]float64{35, 45}},
		{"porkbutt", "", 8, 275, 0, ByCore, 203, [2]float64{8, 11}, [2]float64{35, 45}},
		{"spare", "", 3.09, 250, 0, ByTender, 1, [2]float64{4.5, 6.5}, [2]float64{25, 35}},
		{"plate", "", 5.07, 275, 0, ByCore, 203, [2]float64{7, 10}, [2]float64{25, 45}},
		{"chbreast", "", 0.55, 300, 0, ByCore, 150, [2]float64{2. / 3, 1.5}, [2]float64{15, 25}},
		{"turkey", "", 12, 325, 0, ByCore, 150, [2]float64{2.5, 4.5}, [2]float64{15, 25}},
		{"drumstick", "", 0.265, 300, 0, ByCore, 177, [2]float64{1, 1.25}, [2]float64{10, 35}},
	} {
		f, err := FamilyOf(c.family)
		if err != nil {
			t.Fatal(err)
		}
		pit, _ := SurroundingsOf("generic")
		phase := func(wrap string, end Quantity, value float64) Phase {
			if end == ByCore {
				value = fahrenheit(value)
			}
			w, err := WrapOf(wrap)
			if err != nil {
				t.Fatal(err)
			}
			return Phase{Air: fahrenheit(c.pit), Exchange: pit.Exchange(w), End: end, Value: value}
		}
		phases := []Phase{phase("none", c.end, c.value)}
		if c.wrap != "" {
			phases = []Phase{phase("none", ByCore, c.wrapAt), phase(c.wrap, c.end, c.value)}
		}
		out, err := Simulate(Run{Cut: f.Cut(c.lb*0.45359237, 0, 4), Crust: UsualCrust, Phases: phases}, Settings{}, 0)
		if err != nil {
			t.Fatal(err)
		}
		last := out.Ends[len(out.Ends)-1]
		if h := last.Time / 3600; h < c.hours[0] || h > c.hours[1] {
			t.Errorf("%s at %g F takes %.1f h, usual is %v", c.family, c.pit, h, c.hours)
		}
		if l := 100 * last.Loss; l < c.lossPct[0] || l > c.lossPct[1] {
			t.Errorf("%s at %g F loses %.1f %%, usual is %v", c.family, c.pit, l, c.lossPct)
		}
	}
}

// TestCarryoverIsWhatCooksSee holds how far a centre climbs off the fire to what is usual.
// Rib roasts are out of range whatever lies around them: see docs/cook-model.md.
func TestCarryoverIsWhatCooksSee(t *testing.T) {
	pit, _ := SurroundingsOf("generic")
	counter, _ := SurroundingsOf("counter")
	for _, c := range []struct {
		family          string
		lb, pitF, pullF float64
		wrap, restWrap  string
		low, high       float64 // F
	}{
		{"brisket", 13, 250, 203, "foil", "cooler", 3, 10},
		{"porkbutt", 8, 275, 195, "foil", "cooler", 3, 10},
		{"turkey", 12, 300, 150, "", "tent", 3, 10},
		{"ribroast", 7, 250, 125, "", "tent", 3, 13},  // 10 is usual
		{"ribroast", 7, 200, 125, "", "tent", 0, 7.5}, // 3 is usual
	} {
		f, _ := FamilyOf(c.family)
		rest, _ := WrapOf(c.restWrap)
		phases := []Phase{{Air: fahrenheit(c.pitF), Exchange: pit.Exchange(Wraps[0]), End: ByProbe, Value: fahrenheit(c.pullF)}}
		if c.wrap != "" {
			w, _ := WrapOf(c.wrap)
			phases[0].Value = fahrenheit(165)
			phases = append(phases, Phase{Air: fahrenheit(c.pitF), Exchange: pit.Exchange(w), End: ByProbe, Value: fahrenheit(c.pullF)})
		}
		phases = append(phases, Phase{Air: 22, Exchange: counter.Exchange(rest), End: ByTime, Value: 2 * 3600})
		out, err := Simulate(Run{f.Cut(c.lb*0.45359237, 0, 4), UsualCrust, phases}, Settings{}, 60)
		if err != nil {
			t.Fatal(err)
		}
		pull := out.Ends[len(out.Ends)-2]
		most := pull.Probe
		for _, r := range out.Readings {
			if r.Time > pull.Time {
				most = max(most, r.Probe)
			}
		}
		if rise := 1.8 * (most - pull.Probe); rise < c.low || rise > c.high {
			t.Errorf("%s of %g lb pulled at %g F from %g F climbs %.1f F, want %g to %g", c.family, c.lb, c.pullF, c.pitF, rise, c.low, c.high)
		}
	}
}

func TestABareBrisketStallsForHours(t *testing.T) {
	run := longCook(nil)
	run.Phases[0].Air, run.Phases[0].End, run.Phases[0].Value = fahrenheit(250), ByCore, fahrenheit(203)
	out, err := Simulate(run, Settings{}, 60)
	if err != nil {
		t.Fatal(err)
	}
	var times, core []float64
	for _, r := range out.Readings {
		times, core = append(times, r.Time), append(core, r.Core)
	}
	s, found := StallOf(times, core)
	if hours := (s.To - s.From) / 3600; !found || hours < 2 || hours > 6 || s.Core < fahrenheit(145) || s.Core > fahrenheit(160) {
		t.Errorf("the stall is %+v (%.1f h), want 2 to 6 h from 145 to 160 F", s, hours)
	}
	steady := make([]float64, len(times))
	for i := range steady {
		steady[i] = 4 + times[i]/3600*12
	}
	if s, found := StallOf(times, steady); found {
		t.Errorf("a steady rise is said to stall: %+v", s)
	}
}

// TestLethalityIsCountedAtTheColdestPoint compares the sum within the steps
// with the rule on the trace.
func TestLethalityIsCountedAtTheColdestPoint(t *testing.T) {
	family, _ := FamilyOf("turkey")
	pit, _ := SurroundingsOf("generic")
	run := Run{family.Cut(5.4, 0, 4), UsualCrust, []Phase{{Air: 150, Exchange: pit.Exchange(Wraps[0]), End: ByCore, Value: fahrenheit(147)}}}
	out, err := Simulate(run, Settings{}, 10)
	if err != nil {
		t.Fatal(err)
	}
	for i, species := range []safety.Species{safety.RedMeat, safety.Poultry} {
		in := safety.LethalityInput{Species: species}
		for _, r := range out.Readings {
			in.Trace = append(in.Trace, safety.Sample{Seconds: r.Time, C: r.Core})
		}
		want, err := safety.LethalityOf(in)
		if err != nil || math.Abs(out.Lethality[i]-want.Share) > 0.02 || want.Share == 0 {
			t.Errorf("%s: the run counts %.3f, its trace %.3f (%v)", species, out.Lethality[i], want.Share, err)
		}
	}
}

func TestEveryFamilyWrapAndPlaceCanCook(t *testing.T) {
	for _, f := range Families {
		if err := f.Check(); err != nil {
			t.Errorf("%s: %v", f.Key, err)
		}
		for _, s := range AllSurroundings {
			for _, w := range Wraps {
				p := Phase{Air: 120, Exchange: s.Exchange(w), End: ByTime, Value: 3600}
				if _, err := Simulate(Run{f.Cut(f.Mass, 0, 4), UsualCrust, []Phase{p}}, Settings{Cells: 14, Tolerance: 0.3}, 0); err != nil {
					t.Errorf("%s in %s, %s: %v", f.Key, w.Key, s.Key, err)
				}
			}
		}
	}
	if _, err := FamilyOf("unicorn"); err == nil {
		t.Error("an unknown family is found")
	}
}
