package pit

import (
	"math"
	"strings"
	"testing"

	"whitebarn/core/units"
)

const set = 121.0

// line reads straight lines between corners, one reading a minute.
func line(corners ...[2]float64) (out []Elapsed) {
	for i := 1; i < len(corners); i++ {
		a, b := corners[i-1], corners[i]
		for m := a[0]; m < b[0]; m++ {
			out = append(out, Elapsed{60 * m, a[1] + (b[1]-a[1])*(m-a[0])/(b[0]-a[0])})
		}
	}
	last := corners[len(corners)-1]
	return append(out, Elapsed{60 * last[0], last[1]})
}

// burn warms to its set point in 24 minutes, holds, gets a split at 40 that lasts until 54, falls 8 C
// until 64 and is opened at 70 for two minutes. The far end is 6 C colder, the fire end 4 C hotter.
func burn() Burn {
	corners := [][2]float64{{0, 1}, {24, set}, {40, set}, {46, set + 10}, {54, set}, {64, set - 8}, {66, set}, {80, set}}
	shifted := func(by float64) []Elapsed {
		out := line(corners...)
		for i := range out {
			out[i].C += by
		}
		return out
	}
	return Burn{SetC: set, Traces: []Trace{
		{Point: "fire end", Place: Grate, Readings: shifted(4)},
		{Point: "middle", Place: Grate, Middle: true, Readings: shifted(0)},
		{Point: "far end", Place: Grate, Readings: shifted(-6)},
		{Point: "dial", Place: Dial, Readings: shifted(14)},
	}, Additions: []Addition{{S: 10 * 60, What: "wood", Pieces: 1}, {S: 40 * 60, What: "wood", Pieces: 1}}, FuelKg: 4, WaterKg: 1}
}

func near(t *testing.T, what string, got *float64, want, off float64) {
	t.Helper()
	if got == nil {
		t.Errorf("%s is not told, want %g", what, want)
	} else if math.Abs(*got-want) > off {
		t.Errorf("%s is %g, want %g", what, *got, want)
	}
}

func TestABurnTellsWhatWasDone(t *testing.T) {
	got, err := Tell(burn())
	if err != nil {
		t.Fatal(err)
	}
	// 5 C a minute: the band begins 8.33 C under set, after 22.3 minutes.
	near(t, "warm-up of the middle", got.WarmMin, 23, 0)
	near(t, "warm-up of the last place", got.LastMin, 24, 0)
	near(t, "Plan's lead", got.LeadMin, 35, 0)
	near(t, "spread", got.SpreadC, 10, 1e-9)
	near(t, "worst spread", got.WorstC, 10, 1e-9)
	near(t, "dial less grate", got.DialC, 14, 1e-9)
	near(t, "refuel", got.RefuelMin, 14, 0)
	near(t, "fuel", got.FuelKgH, 3, 1e-9)
	near(t, "water", got.WaterKgH, 0.75, 1e-9)
	if got.Middle != "middle" || got.FromMin != 24 || got.ToMin != 80 {
		t.Errorf("%s is judged from %g to %g min", got.Middle, got.FromMin, got.ToMin)
	}
	if r := got.Responses; !r[0].Warming || r[0].HeldMin != nil {
		t.Errorf("a split while it was warming is read as %+v", r[0])
	}
	second := got.Responses[1]
	near(t, "before the split", second.BeforeC, set, 1e-9)
	near(t, "rise", second.RiseC, 10, 1.8) // the median takes the tip off
	near(t, "to the peak", second.PeakMin, 6, 1)
	near(t, "one split held it", second.HeldMin, 14, 0)
	small := burn()
	small.Additions = append(small.Additions, Addition{S: 70 * 60})
	if more, _ := Tell(small); more.RefuelMin == nil || *more.RefuelMin != *got.RefuelMin {
		t.Errorf("a split that moved nothing makes the refuel %v", more.RefuelMin)
	}
	middle := got.Points[1]
	near(t, "fall in ten minutes", middle.Fall10C, 10, 1.5) // and here
	near(t, "peak", middle.PeakMin, 46, 1)
	if got.Places != 3 || got.Alike != 1 {
		t.Errorf("%d of %d places are within 5 F", got.Alike, got.Places)
	}
}

func TestTheLidIsRecoveredFrom(t *testing.T) {
	b := burn()
	b.Additions = nil
	b.Openings = []Opening{{S: 30 * 60, ShutS: 32 * 60}}
	for i, r := range b.Traces[1].Readings {
		if m := r.S / 60; m > 29 && m < 39 {
			b.Traces[1].Readings[i].C -= 20 * (39 - m) / 9 // down by 20 C and back in 9 minutes
		}
	}
	got, err := Tell(b)
	if err != nil {
		t.Fatal(err)
	}
	if len(got.Lids) != 1 {
		t.Fatalf("%d lids are told of", len(got.Lids))
	}
	near(t, "it fell", got.Lids[0].FellC, 17, 4)
	near(t, "it was back", got.Lids[0].BackMin, 5.5, 1.5)
}

func TestOneLoadIsTimed(t *testing.T) {
	b := Burn{SetC: set, Traces: []Trace{{Point: "middle", Place: Grate,
		Readings: line([2]float64{0, 1}, [2]float64{24, set}, [2]float64{90, set}, [2]float64{120, set - 60})}}}
	got, err := Tell(b)
	if err != nil {
		t.Fatal(err)
	}
	// 2 C a minute down: under the band 4 minutes after 90, up at 23.
	near(t, "the load", got.Points[0].LoadAbove, 94-23, 1)
	near(t, "refuel", got.RefuelMin, 94-23, 1)
}

func TestNothingIsToldOfWhatWasNotSeen(t *testing.T) {
	b := burn()
	b.SetC = 200
	got, err := Tell(b)
	if err != nil {
		t.Fatal(err)
	}
	if got.WarmMin != nil || got.LeadMin != nil || got.Responses[1].HeldMin != nil || !got.Responses[1].Warming {
		t.Errorf("a pit that never was hot is told of as %+v", got)
	}
	b = burn()
	b.Additions = []Addition{{S: 40 * 60}, {S: 50 * 60}}
	got, _ = Tell(b)
	if first := got.Responses[0]; first.HeldMin != nil || first.AtLeast == nil || *first.AtLeast != 10 {
		t.Errorf("a split that the next one cut short is read as %+v", first)
	}
	for _, c := range []struct {
		what, says string
		spoil      func(*Burn)
	}{
		{"no grate", "nothing was read on the grate", func(b *Burn) { b.Traces = b.Traces[3:] }},
		{"an empty trace", "middle has 0 readings", func(b *Burn) { b.Traces[1].Readings = nil }},
		{"no set point", "no set point", func(b *Burn) { b.SetC = 0 }},
		{"a trace out of order", "order of time", func(b *Burn) { b.Traces[0].Readings[3].S = 9000 }},
	} {
		b := burn()
		c.spoil(&b)
		if _, err := Tell(b); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s is answered with %v, want %q", c.what, err, c.says)
		}
	}
}

// A spike that lasts a minute moves nothing; a gap is not filled.
func TestReadingsAreSmoothedAndNotInvented(t *testing.T) {
	b := burn()
	want, _ := Tell(b)
	b.Traces[1].Readings[30].C += 80
	got, err := Tell(b)
	if err != nil {
		t.Fatal(err)
	}
	if *got.Points[1].PeakC != *want.Points[1].PeakC || *got.SpreadC != *want.SpreadC {
		t.Errorf("a spike moves the peak to %g and the spread to %g", *got.Points[1].PeakC, *got.SpreadC)
	}
	s := smooth(Trace{Readings: []Elapsed{{0, 100}, {60, 100}, {1200, 120}}})
	if !math.IsNaN(s.at(10)) || s.at(20) != 120 {
		t.Errorf("ten minutes into a gap it is %g", s.at(10))
	}
}

func TestTwoSetUpsAreComparedAtEqualTime(t *testing.T) {
	hot := burn()
	for i := range hot.Traces {
		for j := range hot.Traces[i].Readings {
			hot.Traces[i].Readings[j].C += []float64{22, 12, -12, 30}[i]
		}
		hot.Traces[i].Readings = append(hot.Traces[i].Readings, Elapsed{200 * 60, 300}) // after the other ended
	}
	even := burn()
	for j := range even.Traces[2].Readings {
		even.Traces[2].Readings[j].C += 4
	}
	got, err := Compare(SetUp{"TROUGH", []Burn{even}}, SetUp{"DRY", []Burn{hot}})
	if err != nil {
		t.Fatal(err)
	}
	if got.SpanMin != 80 {
		t.Errorf("they are compared over %g min", got.SpanMin)
	}
	if got.A.GoodFor != "Many pieces evenly, low and slow" || got.B.GoodFor != "Hot and fast, one line of pieces" {
		t.Errorf("they are good for %q and %q", got.A.GoodFor, got.B.GoodFor)
	}
	if !strings.Contains(got.A.Why, "Hot in 23 min") || !strings.Contains(got.A.Why, "across the grate") {
		t.Errorf("the reason is %q", got.A.Why)
	}
	spread := got.Numbers[2]
	near(t, "difference of spreads", spread.Difference, 6-44, 1)
	if spread.Low != nil {
		t.Errorf("one burn of each gives an interval from %g", *spread.Low)
	}
	if len(got.Limits) != 1 || !strings.Contains(got.Limits[0], "One burn of each") {
		t.Errorf("what cannot be told is %q", got.Limits)
	}
	again := even
	again.Traces = append([]Trace{}, even.Traces...)
	again.Traces[0].Readings = line([2]float64{0, 3}, [2]float64{24, set + 5}, [2]float64{80, set + 5})
	twice := hot
	twice.Traces = append([]Trace{}, hot.Traces...)
	twice.Traces[0].Readings = line([2]float64{0, 3}, [2]float64{20, set + 28}, [2]float64{80, set + 28})
	got, err = Compare(SetUp{"TROUGH", []Burn{even, again}}, SetUp{"DRY", []Burn{hot, twice}})
	if err != nil {
		t.Fatal(err)
	}
	spread = got.Numbers[2]
	if spread.Low == nil || *spread.Low >= *spread.Difference || *spread.High <= *spread.Difference || len(got.Limits) != 0 {
		t.Errorf("two burns of each give %+v, %q", spread, got.Limits)
	}
	if _, err := Compare(SetUp{"A", nil}, SetUp{"B", []Burn{even}}); err == nil {
		t.Error("a set-up without a burn is compared")
	}
}

// pan is a covered pan that comes to rest at e F from 60 F with a ripple of so many F peak to peak.
func pan(e, tau, ripple, hours float64) (t, c []float64) {
	for m := 0.0; m <= hours*60; m++ {
		h := m / 60
		wobble := 0.2 * math.Sin(17*m) // what the probe adds
		t = append(t, h)
		c = append(c, units.FToC(e+(60-e)*math.Exp(-h/tau)+ripple/2*math.Sin(2*math.Pi*m/16)+wobble))
	}
	return t, c
}

func TestAPanTellsWhereTheBoxComesToRest(t *testing.T) {
	f := units.FToC
	at := func(hours float64) PanInput {
		h, c := pan(157, 1.7, 8, hours)
		return PanInput{DialC: f(160), TargetC: f(150), FloorC: f(140), Hours: h, C: c}
	}
	early, err := PanOf(at(0.2))
	if err != nil || early.StopNow {
		t.Errorf("after 12 minutes it says %+v (%v)", early.Words, err)
	}
	got, err := PanOf(at(5))
	if err != nil || !got.Known || !got.StopNow {
		t.Fatalf("after five hours it says %+v (%v)", got, err)
	}
	near(t, "the rest", &got.Settles.C, f(157), 0.3)
	near(t, "ripple", got.RippleC, 8/1.8, 0.5)
	near(t, "its period", got.PeriodMin, 16, 0.3)
	near(t, "low swing", got.LowC, f(153), 0.5)
	near(t, "off the dial", got.OffDialC, -3/1.8, 0.3)
	near(t, "next dial", got.NextC, f(153), 0.3)
	if got.Passes || got.GainKnown || !strings.Contains(strings.Join(got.Words, " "), "one on the dial counts as one") {
		t.Errorf("at 157 for 150 it passes %v: %q", got.Passes, got.Words)
	}
	if n := len(got.Hourly); n < 3 || got.Hourly[0].Half <= got.Hourly[n-1].Half {
		t.Errorf("what was known by the hour does not narrow: %+v", got.Hourly)
	}

	// Two dials are known: 160 gave 157, 150 gives 149, so one on the dial counts as 0.8.
	h, c := pan(149, 1.7, 8, 6)
	got, err = PanOf(PanInput{DialC: f(150), TargetC: f(150), FloorC: f(140), Hours: h, C: c, Before: []Setting{{f(160), f(157)}}})
	if err != nil || !got.Passes || !got.GainKnown {
		t.Fatalf("at 149 for 150 it says %+v (%v)", got, err)
	}
	near(t, "gain", &got.Gain, 0.8, 0.05)
	near(t, "next dial", got.NextC, f(151.25), 0.3)

	// The same rest with a swing that goes under the floor does not pass.
	h, c = pan(149, 1.7, 20, 6)
	lowest := f(155)
	got, err = PanOf(PanInput{DialC: f(155), TargetC: f(142), FloorC: f(140), Hours: h, C: c, LowestC: &lowest})
	if err != nil || got.Passes || !got.TooLow {
		t.Errorf("a dial that cannot go lower says %+v (%v)", got, err)
	}
	if all := strings.Join(got.Words, " "); !strings.Contains(all, "under the floor") || !strings.Contains(all, "open a vent") {
		t.Errorf("it says %q", all)
	}
}

// "You can stop now" is right: what it says holds the truth nine times in ten, noise and ripple
// as they come.
func TestStopNowIsSaidWhenItIsSo(t *testing.T) {
	random := uint64(7)
	next := func() float64 { // uniform, by a linear congruence
		random = random*6364136223846793005 + 1442695040888963407
		return float64(random>>11) / (1 << 53)
	}
	held, said := 0, 0
	for range 60 {
		e, tau, ripple := 140+30*next(), 1+2*next(), 10*next()
		period := 10 + 20*next()
		for hours := 2.0; hours <= 9; hours++ {
			var in PanInput
			in.DialC, in.TargetC, in.FloorC = 70, 66, 60
			for m := 0.0; m <= hours*60; m++ {
				noise := next() + next() + next() - 1.5
				in.Hours = append(in.Hours, m/60)
				in.C = append(in.C, units.FToC(e+(60-e)*math.Exp(-m/60/tau)+ripple/2*math.Sin(2*math.Pi*m/period)+noise))
			}
			got, err := PanOf(in)
			if err != nil {
				t.Fatal(err)
			}
			if !got.StopNow {
				continue
			}
			said++
			if math.Abs(got.Settles.C-units.FToC(e)) <= got.Settles.Half {
				held++
			}
			break
		}
	}
	if said < 55 {
		t.Errorf("of 60 pans %d are ever enough", said)
	}
	t.Logf("%d of %d", held, said)
	if share := float64(held) / float64(said); share < 0.8 {
		t.Errorf("what is said holds the truth in %.0f %% of %d", 100*share, said)
	}
}
