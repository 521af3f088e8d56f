package plan

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// TestAheadOfIsWhatThePlanStillHolds takes cuts at several moments of their cook: what is
// still to come, how each stretch ends, under what cover and at what heat.
func TestAheadOfIsWhatThePlanStillHolds(t *testing.T) {
	core := func(f float64) []phase.End { return []phase.End{{Watch: phase.ByCore, Value: units.FToC(f)}} }
	clock := func(h float64) []phase.End { return []phase.End{{Watch: phase.ByTime, Value: h * 3600}} }
	smoke := func(set float64, wrap string, ends []phase.End) phase.Phase {
		return phase.Phase{Kind: phase.Smoke, Name: "smoke", SetC: units.FToC(set), Wrap: wrap, Ends: ends}
	}
	wrapped := []phase.Phase{
		{Kind: phase.DryBrine, Ends: clock(24)}, smoke(250, "", core(165)),
		{Kind: phase.Smoke, Name: "wrapped", SetC: units.FToC(250), Wrap: "paper", LiquidG: 100, Ends: core(203)}, {Kind: phase.Rest, Ends: clock(1)},
	}
	stepped := []phase.Phase{smoke(225, "", clock(4)), smoke(275, "", core(203))}
	glazed := []phase.Phase{smoke(250, "", core(203)), smoke(250, "", clock(0.5))}
	shone := []phase.Phase{smoke(250, "", clock(6)), {Kind: phase.Glaze, Name: "glaze", SetC: units.FToC(250),
		Ends: []phase.End{{Watch: phase.ByLook}}}}
	threeTwoOne := []phase.Phase{smoke(225, "", clock(3)), smoke(225, "foil", clock(2)), smoke(225, "", clock(1))}
	either := []phase.Phase{smoke(250, "", []phase.End{{Watch: phase.ByBark}, {Watch: phase.ByTime, Value: 5 * 3600}}), smoke(250, "foil", core(203))}
	both := []phase.Phase{{Kind: phase.Smoke, SetC: 121, All: true, Ends: []phase.End{{Watch: phase.ByCore, Value: 74},
		{Watch: phase.ByTime, Value: 5 * 3600}}}, smoke(250, "foil", core(203))}
	place, err := thermal.SurroundingsOf("offset")
	if err != nil {
		t.Fatal(err)
	}
	bare := forecast.Stage{Exchange: place.Exchange(thermal.Wraps[0])}
	foil, _ := thermal.WrapOf("foil")
	paper, _ := thermal.WrapOf("paper")
	inFoil := forecast.Stage{Exchange: place.Exchange(foil), AirAdd: foil.AirAdd}
	for _, c := range []struct {
		name   string
		phases []phase.Phase
		hours  float64
		coreF  float64
		covers []float64 // h of each wrap, below 0 of each unwrap
		lies   forecast.Stage
		want   string
	}{
		{"before the wrap", wrapped, 2, 120, nil, bare, "bare 250 F until probe 165; paper 250 F until probe 203"},
		{"a little past it", wrapped, 5, 167, nil, bare, "bare 250 F until probe 165; paper 250 F until probe 203"},
		{"once it is wrapped", wrapped, 5, 170, []float64{4.5}, forecast.Stage{Exchange: place.Exchange(paper), AirAdd: paper.AirAdd}, "paper 250 F until probe 203"},
		{"wrapped in another", wrapped, 5, 170, []float64{4.5}, inFoil, "foil 250 F until probe 203"},
		{"the wrap was skipped", wrapped, 7, 180, nil, bare, "bare 250 F until probe 203"},
		{"nobody measured yet", wrapped, 0.1, math.NaN(), nil, bare, "bare 250 F until probe 165; paper 250 F until probe 203"},
		{"before the step", stepped, 1, 90, nil, bare, "bare 225 F until time 3; bare 275 F until probe 203"},
		{"as the step is due", stepped, 4.2, 130, nil, bare, "bare 275 F until probe 203"},
		{"the step was skipped", stepped, 5, 150, nil, bare, "bare 225 F until probe 203"}, // the pit says at what it is set
		{"a glaze by the clock", glazed, 6, 190, nil, bare, "bare 250 F until probe 203; bare 250 F until time 0.5"},
		{"in the glaze", glazed, 6, 206, nil, bare, "bare 250 F until time 0.4"},
		{"three, two, one: bare", threeTwoOne, 1, 90, nil, bare, "bare 225 F until time 2; foil 225 F until time 2; bare 225 F until time 1"},
		{"three, two, one: in foil", threeTwoOne, 4, 150, []float64{3}, inFoil, "foil 225 F until time 1; bare 225 F until time 1"},
		{"three, two, one: unwrapped", threeTwoOne, 5.5, 180, []float64{3, -5}, bare, "bare 225 F until time 0.5"},
		{"three, two, one: looked into and closed again", threeTwoOne, 4.5, 150, []float64{3, -4, 4.1}, inFoil,
			"foil 225 F until time 0.5; bare 225 F until time 1"},
		{"looked into, and still open", threeTwoOne, 4, 150, []float64{3, -3.9}, bare, "bare 225 F until time 0.9"},
		{"wrapped twice over", wrapped, 5, 170, []float64{4.5, 4.7}, inFoil, "foil 250 F until probe 203"},
		{"whichever comes first", either, 2, 120, nil, bare, "bare 250 F until crust 1 or time 3; foil 250 F until probe 203"},
		{"glazed until it shines", shone, 6.03, 204, nil, bare, "bare 250 F until time 0.1"},
		{"both of them", both, 2, 120, nil, bare, "bare 250 F until probe 165 and time 3; foil 250 F until probe 203"},
		{"no plan", nil, 2, 120, nil, bare, "bare 250 F until probe 203"},
	} {
		s := Standing{For: c.hours * 3600, AirC: units.FToC(250), Lies: c.lies, Place: place, TargetC: units.FToC(203)}
		if len(c.phases) > 0 && c.phases[0].SetC > 0 {
			s.AirC = c.phases[0].SetC
		}
		if !math.IsNaN(c.coreF) { // it climbs by 30 F an hour
			for m := 0.0; m <= c.hours*60; m++ {
				s.Probe = append(s.Probe, forecast.Sample{Time: m * 60, C: units.FToC(c.coreF - 0.5*(c.hours*60-m))})
			}
			s.Probe[len(s.Probe)-2].C = 300 // a spark in the wire
		}
		for _, h := range c.covers {
			s.Covers = append(s.Covers, Cover{math.Abs(h) * 3600, h < 0})
		}
		var got []string
		for _, a := range AheadOf(c.phases, s) {
			cover := "another"
			for name, x := range map[string]thermal.Exchange{"bare": place.Exchange(thermal.Wraps[0]), "paper": place.Exchange(paper), "foil": place.Exchange(foil)} {
				if a.Exchange == x {
					cover = name
				}
			}
			say := func(q thermal.Quantity, v float64) string {
				switch q {
				case thermal.ByTime:
					v = math.Round(v/360) / 10
				case thermal.ByProbe:
					v = math.Round(units.CToF(v))
				}
				return fmt.Sprintf("%s %g", q, v)
			}
			until := say(a.End, a.Value)
			for _, u := range a.More {
				until += map[bool]string{true: " and ", false: " or "}[a.All] + say(u.Watch, u.Value)
			}
			got = append(got, fmt.Sprintf("%s %.0f F until %s", cover, units.CToF(a.Air), until))
		}
		if text := strings.Join(got, "; "); text != c.want {
			t.Errorf("%s: %s, want %s", c.name, text, c.want)
		}
	}
}

// TestTheLiquidOfAWrapIsPouredWithIt and not once more when it lies in it.
func TestTheLiquidOfAWrapIsPouredWithIt(t *testing.T) {
	phases := []phase.Phase{{Kind: phase.Smoke, SetC: 121, Ends: []phase.End{{Watch: phase.ByCore, Value: 74}}},
		{Kind: phase.Smoke, SetC: 121, Wrap: "foil", LiquidG: 100, Ends: []phase.End{{Watch: phase.ByCore, Value: 95}}}}
	if a := AheadOf(phases, Standing{For: 3600, Probe: []forecast.Sample{{Time: 3600, C: 40}}, AirC: 121, TargetC: 95}); len(a) != 2 ||
		a[0].Liquid != 0 || a[1].Liquid != 0.1 {
		t.Errorf("before the wrap there is to come %+v", a)
	}
	if a := AheadOf(phases, Standing{For: 4 * 3600, Probe: []forecast.Sample{{Time: 4 * 3600, C: 80}}, AirC: 121, TargetC: 95,
		Covers: []Cover{{At: 3 * 3600}}}); len(a) != 1 || a[0].Liquid != 0 {
		t.Errorf("in the wrap there is to come %+v", a)
	}
}

// TestAheadOfFollowsWhatThePitWasSetTo: early, late, to another than planned, and into
// another cooker.
func TestAheadOfFollowsWhatThePitWasSetTo(t *testing.T) {
	f := units.FToC
	place, _ := thermal.SurroundingsOf("offset")
	oven, _ := thermal.SurroundingsOf("oven")
	bare := forecast.Stage{Exchange: place.Exchange(thermal.Wraps[0])}
	clock := func(h float64) []phase.End { return []phase.End{{Watch: phase.ByTime, Value: h * 3600}} }
	stepped := []phase.Phase{{Kind: phase.Smoke, SetC: f(225), Ends: clock(4)}, {Kind: phase.Smoke, SetC: f(275), Ends: clock(2)}}
	moved := []phase.Phase{{Kind: phase.Smoke, SetC: f(225), Ends: clock(4)}, {Kind: phase.Smoke, SetC: f(300), PitID: 9, Ends: clock(1)}}
	for _, c := range []struct {
		name       string
		phases     []phase.Phase
		hours, air float64
		setH       float64
		pit        int64
		movedH     float64
		want       string
	}{
		{"before the step", stepped, 1, 225, 0, 4, 0, "225 until 3; 275 until 2"},
		{"ten degrees over all the way", stepped, 1, 235, 0, 4, 0, "235 until 3; 285 until 2"},
		{"set early", stepped, 3, 275, 2.5, 4, 0, "275 until 1.5"},
		{"set a little hotter", stepped, 5, 280, 4, 4, 0, "280 until 1"},
		{"still to be moved", moved, 1, 225, 0, 4, 0, "225 until 3; 300 until 1 in the oven"},
		{"moved", moved, 4.5, 300, 0, 9, 4.25, "300 until 0.75"},
	} {
		s := Standing{For: c.hours * 3600, AirC: f(c.air), SetS: c.setH * 3600, PitID: c.pit, MovedS: c.movedH * 3600, Lies: bare, Place: place,
			TargetC: 95,
			Cookers: []Pit{{ID: 4, Surroundings: place}, {ID: 9, Surroundings: oven}}}
		var got []string
		for _, a := range AheadOf(c.phases, s) {
			text := fmt.Sprintf("%.0f until %g", units.CToF(a.Air), math.Round(a.Value/36)/100)
			if a.Exchange == oven.Exchange(thermal.Wraps[0]) {
				text += " in the oven"
			}
			got = append(got, text)
		}
		if text := strings.Join(got, "; "); text != c.want {
			t.Errorf("%s: %s, want %s", c.name, text, c.want)
		}
	}
}
