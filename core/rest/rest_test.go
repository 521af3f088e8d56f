package rest

import (
	"math"
	"strings"
	"testing"
	"time"

	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// cooling is a fan that climbs by 3 C for half an hour and falls by 12 C an hour then.
func cooling() (fan []forecast.FanPoint) {
	for t := 0.0; t <= 4*3600; t += 600 {
		c := 95 + math.Min(t, 1800)/600 - 12*math.Max(0, t-1800)/3600
		i := 0.5 + t/(4*3600)
		fan = append(fan, forecast.FanPoint{Time: t, Probe: forecast.Spread{Low: c - 2, Middle: c, High: c + 2},
			Index: forecast.Spread{Low: i - 0.25, Middle: i, High: i + 0.25}})
	}
	return fan
}

func TestAPeakAndAWindowAreReadOffThePath(t *testing.T) {
	path := Path([]Point{{Time: 0, C: 95}, {Time: 300, C: 95.4}}, cooling())
	peak, ok := Peak(path)
	if !ok || peak.C != 98 || peak.Time != 1800 {
		t.Errorf("the peak is %+v", peak)
	}
	from, to, ok := Within(path, Window{HighC: 86, LowC: 74})
	if !ok || math.Abs(from-(1800+3600)) > 1 || math.Abs(to-(1800+2*3600)) > 1 {
		t.Errorf("it can be sliced from %g to %g s", from, to)
	}
	if _, to, ok := Within(path, Window{HighC: 86, LowC: 20}); !ok || !math.IsInf(to, 1) {
		t.Errorf("it stays in the window until %g", to)
	}
	if _, _, ok := Within(path, Window{HighC: 30, LowC: 20}); ok {
		t.Error("it comes into a window that it never reaches")
	}
}

func TestAForecastFollowsWhatIsRead(t *testing.T) {
	fan := Followed(cooling(), 3600, 95) // where 92 was forecast
	if fan[0].Time != 3600 || math.Abs(fan[0].Probe.Middle-95) > 1e-9 || fan[0].Probe.High-fan[0].Probe.Low > 1 {
		t.Errorf("now it is at %+v", fan[0])
	}
	last := fan[len(fan)-1]
	if off := last.Probe.Middle - cooling()[len(cooling())-1].Probe.Middle; off < 0.5 || off > 0.8 || last.Probe.High-last.Probe.Low < 4 {
		t.Errorf("three hours on it is off by %g, as wide as %g", off, last.Probe.High-last.Probe.Low)
	}
	if fan := Followed(cooling(), 3600, math.NaN()); fan[0].Probe.Middle != 92 {
		t.Errorf("with nothing read it is at %+v", fan[0])
	}
}

func TestWhenAHoldIsEnough(t *testing.T) {
	e := Enough(cooling())
	if math.Abs(e.Middle-2*3600) > 1 || math.Abs(e.Low-3600) > 1 || math.Abs(e.High-3*3600) > 1 {
		t.Errorf("it is tender after %+v s", e)
	}
	if e := Enough(cooling()[:3]); !math.IsInf(e.High, 1) {
		t.Errorf("a forecast that ends before says %+v", e)
	}
	if Tender(0) != 1 || math.Abs(Tender(1)-7) > 0.01 || Tender(3) > 9 {
		t.Errorf("on nine points raw is %g, tender %g", Tender(0), Tender(1))
	}
}

func TestTheWindowFollowsWhatItWasCookedTo(t *testing.T) {
	sear := []phase.Phase{{Kind: phase.Rest}, {Kind: phase.Sear}}
	for _, c := range []struct {
		pullF     float64
		species   safety.Species
		after     []phase.Phase
		high, low float64
		is        string
	}{
		{203, safety.RedMeat, nil, 180, 150, "slice"}, {125, safety.RedMeat, nil, 130, 120, "slice"},
		{165, safety.Poultry, nil, 165, 140, "slice"},
		{125, safety.RedMeat, sear, 115, 80, "sear"},
	} {
		w := WindowOf(units.FToC(c.pullF), c.species, safety.Usual, c.after)
		if math.Abs(units.CToF(w.HighC)-c.high) > 0.01 || math.Abs(units.CToF(w.LowC)-c.low) > 0.01 || w.For != c.is {
			t.Errorf("pulled at %g F (%s) the window is %+v, want %g to %g F to %s", c.pullF, c.species, w, c.high, c.low, c.is)
		}
	}
}

func TestAStricterLineForPoultryMovesItsWindow(t *testing.T) {
	strict := safety.Usual
	strict.PoultryC = units.FToC(170)
	if w := WindowOf(units.FToC(172), safety.Poultry, strict, nil); w.HighC != strict.PoultryC {
		t.Errorf("by a line of 170 F a bird is sliced from %v C", w.HighC)
	}
}

func TestWhatIsStillPlannedOfARest(t *testing.T) {
	clock := func(s float64) []phase.End { return []phase.End{{Watch: phase.ByTime, Value: s}} }
	phases := []phase.Phase{{Kind: phase.Smoke, Ends: clock(3600)}, {Kind: phase.Rest, Wrap: "tent", Ends: clock(1800)},
		{Kind: phase.Hold, SetC: 66, Ends: clock(7200)}}
	say := func(stays []Stay) string {
		var out []string
		for _, s := range stays {
			out = append(out, strings.TrimSpace(s.Place.Key+" "+s.Wrap.Key+" "+time.Duration(s.S*1e9).String()))
		}
		return strings.Join(out, "; ")
	}
	bare := thermal.Wraps[0]
	for _, c := range []struct {
		since, until float64
		held         bool
		want         string
	}{
		{0, 7200, false, "counter tent 30m0s; box none 1h30m0s"}, {600, 7200, false, "counter tent 20m0s; box none 1h40m0s"},
		{2400, 3600, false, "box none 1h0m0s"}, {0, 900, false, "counter tent 15m0s"}, {4000, 3600, true, ""}, {0, 0, false, ""},
	} {
		if got := say(Planned(phases, c.since, c.until, bare, c.held)); got != c.want {
			t.Errorf("off for %g s, %g s before the knife: %q, want %q", c.since, c.until, got, c.want)
		}
	}
	if a := Ahead(Planned(phases, 0, 7200, bare, false)); len(a) != 2 || a[1].Air != 66 || a[0].End != thermal.ByTime || a[0].Value != 1800 {
		t.Errorf("to come is %+v", a)
	}
}

func TestHowEvenlyPiecesRest(t *testing.T) {
	at := func(h, m int) time.Time { return time.Date(2026, 9, 26, h, m, 0, 0, time.UTC) }
	p := func(name string, arm int, pull, knife time.Time, cut bool) Piece {
		return Piece{name, arm, pull, knife, cut}
	}
	bare, paper := p("BARE 3L", 2, at(16, 28), at(17, 40), true), p("PAPER 2R", 0, at(17, 58), at(18, 18), false)
	e := EvenOf([]Piece{bare, p("BARE 2L", 2, at(16, 40), at(17, 40), true), paper}, 15*time.Minute, 0)
	if !e.Uneven || e.ApartS != 52*60 || e.Words != "BARE 3L 1 h 12, PAPER 2R 20 min" || !e.Table.Equal(at(19, 10)) {
		t.Errorf("they rest %+v, table %v", e, e.Table)
	}
	if e := EvenOf([]Piece{bare, p("PAPER 1L", 0, at(16, 20), at(17, 35), true)}, 15*time.Minute, 0); e.Uneven || e.Table != nil {
		t.Errorf("three minutes apart is %+v", e)
	}
	if e := EvenOf([]Piece{bare, p("BARE 1L", 2, at(17, 20), at(17, 35), true)}, 15*time.Minute, 0); e.Uneven {
		t.Errorf("within an arm nothing is tied to it: %+v", e)
	}
	if e := EvenOf(nil, 0, 0); e.Uneven {
		t.Error("nothing rests unevenly")
	}
}
