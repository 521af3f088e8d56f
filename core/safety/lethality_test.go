package safety

import (
	"math"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/units"
)

// held is a trace that stays at a temperature, read every so often.
func held(f, minutes, every float64) (out []Sample) {
	for t := 0.0; t <= minutes*60; t += every {
		out = append(out, Sample{t, units.FToC(f)})
	}
	return out
}

func fahrenheit(every float64, f ...float64) (out []Sample) {
	for i, v := range f {
		out = append(out, Sample{every * float64(i), units.FToC(v)})
	}
	return out
}

func TestTimeAndTemperatureAddUpAsTheTablesSay(t *testing.T) {
	spike := held(120, 60, 15)
	spike[50].C = 95
	gap := append(held(140, 6, 15), Sample{3600, units.FToC(140)}, Sample{3615, units.FToC(140)})
	lastSpike := append(held(120, 10, 60), Sample{660, 95})
	for _, c := range []struct {
		what     string
		species  Species
		handling Handling
		trace    []Sample
		byHand   bool
		share    float64
	}{
		{"130 F for 113 minutes", RedMeat, "", held(130, 113, 30), false, 1},
		{"130 F for 56 minutes", RedMeat, Intact, held(130, 56, 30), false, 0.5},
		{"145 F for 2 minutes", RedMeat, "", held(145, 2, 10), false, 0.5},
		{"129 F for a day", RedMeat, "", held(129, 1440, 60), false, 0},
		{"200 F for 7 s", RedMeat, "", []Sample{{0, 93}, {7, 93}}, false, 0.5},
		{"poultry at 150 F for 2.5 minutes", Poultry, "", held(150, 2.5, 10), false, 0.5},
		{"poultry at 135 F for two hours", Poultry, "", held(135, 120, 30), false, 0},
		{"pierced pork at 145 F for 90 s", RedMeat, Pierced, held(145, 1.5, 10), false, 0.5},
		{"pierced pork between the rows, 147.5 F for 52 s", RedMeat, Pierced, held(147.5, 52./60, 4), false, 0.5},
		{"pierced pork at 144.9 F for a day", RedMeat, Pierced, held(144.9, 1440, 60), false, 0},
		{"minced at 150 F for half a minute", RedMeat, Minced, held(150, 0.5, 5), false, 0.5},
		{"minced at 170 F for 8.5 s", RedMeat, Minced, held(170, 8.5/60, 1.7), false, 0.5},
		{"pierced fish at 155 F for 8.5 s", Fish, Pierced, held(155, 8.5/60, 1.7), false, 0.5},
		{"a single spike", RedMeat, "", spike, false, 0},
		{"a spike at the end", RedMeat, "", lastSpike, false, 0},
		{"an hour without readings", RedMeat, "", gap, false, 0.52},
		{"two readings four minutes apart count as the lower", RedMeat, "", fahrenheit(240, 140, 150), false, 1. / 3},
		{"so do two by hand", RedMeat, "", fahrenheit(240, 140, 150), true, 1. / 3},
		{"and hand readings six minutes apart not at all", RedMeat, "", fahrenheit(360, 140, 140), true, 0},
		{"no readings", RedMeat, "", nil, false, 0},
	} {
		got, err := LethalityOf(LethalityInput{c.species, c.handling, c.trace, c.byHand})
		if err != nil || math.Abs(got.Share-c.share) > 0.006 {
			t.Errorf("%s gives %.3f (%v), want %.2f", c.what, got.Share, err, c.share)
		}
		if (got.Reached != nil) != (c.share == 1) {
			t.Errorf("%s is said to be reached at %v", c.what, got.Reached)
		}
	}
	for _, c := range []struct {
		in   LethalityInput
		want string
	}{
		{LethalityInput{Species: "cheese"}, "not a kind of meat"},
		{LethalityInput{Species: Fish}, "no table of times"},
		{LethalityInput{Species: Poultry, Handling: Stuffed}, "no table of times"},
		{LethalityInput{Species: RedMeat, Handling: "flat"}, "not a handling"},
		{LethalityInput{Species: RedMeat, Trace: []Sample{{60, 70}, {0, 70}}}, "order of time"},
	} {
		if _, err := LethalityOf(c.in); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("the refusal is %v, want %q", err, c.want)
		}
	}
}

// Between two rows a straight climb has an exact integral, which the sum over sparse
// readings must be and the plain mean is far over.
func TestASteepClimbEarnsItsExactIntegral(t *testing.T) {
	m := Meat{RedMeat, Intact}
	exact := 0.0 // 140 to 141 F in 240 s, in small steps
	for i := range 24000 {
		exact += 0.01 * LethalRate(m, units.FToC(140+(float64(i)+0.5)/24000))
	}
	var o LethalityOutput
	a, b := units.FToC(140), units.FToC(141)
	o.add(0, 240, a, b, LethalRate(m, a), LethalRate(m, b), false)
	if math.Abs(o.Share-exact) > 1e-6 {
		t.Errorf("a climb over a row earns %.6f, want %.6f", o.Share, exact)
	}
	var steep LethalityOutput
	r1, r2 := LethalRate(m, units.FToC(131)), LethalRate(m, units.FToC(157))
	steep.add(0, 20, units.FToC(131), units.FToC(157), r1, r2, false)
	if want := (r2 - r1) * 20 / math.Log(r2/r1); math.Abs(steep.Share-want) > 1e-9 || steep.Share > 0.4*(r1+r2)/2*20 {
		t.Errorf("a steep climb earns %.4f, want %.4f, far under the mean's %.4f", steep.Share, want, (r1+r2)/2*20)
	}
	if o.FromC != a || o.ToC != b {
		t.Errorf("it was held from %.1f to %.1f C, want %.1f to %.1f", o.FromC, o.ToC, a, b)
	}
	var reached LethalityOutput
	reached.add(100, 1000, a, b, LethalRate(m, a), LethalRate(m, b), false)
	if reached.Reached == nil {
		t.Fatal("a climb of 1000 s over a row of 12 minutes is not enough")
	}
	var part LethalityOutput
	dt := *reached.Reached - 100
	mid := a + (b-a)*dt/1000
	part.add(100, dt, a, mid, LethalRate(m, a), LethalRate(m, mid), false)
	if math.Abs(part.Share-1) > 1e-6 {
		t.Errorf("up to where it is said to be reached a climb earns %.6f", part.Share)
	}
}

func TestCalmTakesNoSpike(t *testing.T) {
	for _, c := range []struct{ in, want []float64 }{
		{[]float64{1, 9, 1, 1}, []float64{1, 1, 1, 1}},
		{[]float64{9, 1, 1}, []float64{1, 1, 1}},
		{[]float64{1, 2, 3, 9}, []float64{2, 2, 3, 3}},
		{[]float64{5, 4}, []float64{4, 4}},
		{[]float64{7}, []float64{7}},
		{nil, []float64{}},
	} {
		if got := Calm(c.in); !slices.Equal(got, c.want) {
			t.Errorf("%v is calmed to %v, want %v", c.in, got, c.want)
		}
	}
}

func TestHotterIsNeverSlower(t *testing.T) {
	for _, m := range []Meat{{RedMeat, Intact}, {Poultry, Intact}, {RedMeat, Minced}} {
		before := 0.0
		for f := 125.0; f < 180; f += 0.25 {
			if rate := LethalRate(m, units.FToC(f)); rate < before-1e-12 {
				t.Errorf("%v at %.2f F gives %.3g a second, a little cooler %.3g", m, f, rate, before)
			} else {
				before = rate
			}
		}
	}
}
