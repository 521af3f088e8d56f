package alarm

import (
	"math"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/units"
)

var start = time.Date(2026, 10, 3, 6, 0, 0, 0, time.UTC)

func at(minutes float64) time.Time {
	return start.Add(time.Duration(minutes * float64(time.Minute)))
}

// trace is a minute-by-minute temperature in F up to a time.
func trace(until float64, f func(minute float64) float64) (out []logbook.Point) {
	for m := 0.0; m <= until; m++ {
		out = append(out, logbook.Point{At: at(m), C: units.FToC(f(m))})
	}
	return out
}

func TestAnAlarmIsRaisedOnceAndGoesByAMargin(t *testing.T) {
	see := func(holds, gone bool) []Sight {
		return []Sight{{Kind: PitLow, Subject: "pit run 1", Level: Watch, Holds: holds, Gone: gone, Words: "low"}}
	}
	var known []State
	var told []string
	step := func(minute float64, seen []Sight) {
		var changes []Change
		known, changes = Step(known, seen, at(minute))
		for _, c := range changes {
			told = append(told, map[bool]string{true: "raised", false: "over"}[c.Raised])
		}
	}
	step(0, see(true, false))
	step(2, see(false, true)) // a dip of two minutes is no alarm
	for m := 3.0; m <= 20; m++ {
		step(m, see(true, false))
	}
	if got := strings.Join(told, " "); got != "raised" {
		t.Fatalf("a pit low for a quarter of an hour tells %q, want it raised once", got)
	}
	for m := 21.0; m < 30; m++ { // around the edge: neither low nor well back
		step(m, see(m == 25, false))
	}
	step(30, see(false, true))
	step(31, see(false, true))
	if len(told) != 1 {
		t.Errorf("two minutes back in its band tell %v", told)
	}
	step(33, see(false, true))
	if got := strings.Join(told, " "); got != "raised over" {
		t.Errorf("back in its band for three minutes tells %q", got)
	}
}

func TestAnAlarmGrowsLouderOnceAndEndsWithItsCut(t *testing.T) {
	see := func(l Level) []Sight {
		return []Sight{{Kind: Danger, Subject: "cut 1", Level: l, Holds: true}}
	}
	known, changes := Step(nil, see(Watch), at(0))
	if len(changes) != 1 || changes[0].Level != Watch {
		t.Fatalf("the first look tells %+v", changes)
	}
	known, changes = Step(known, see(Grave), at(45))
	if len(changes) != 1 || changes[0].Level != Grave || !changes[0].Raised {
		t.Errorf("past four hours it tells %+v", changes)
	}
	if known, changes = Step(known, see(Grave), at(46)); len(changes) != 0 {
		t.Errorf("a minute later it tells %+v again", changes)
	}
	after, changes := Step(known, nil, at(50))
	if len(after) != 0 || len(changes) != 1 || changes[0].Raised {
		t.Errorf("with the cut pulled, %+v is left and %+v told", after, changes)
	}
}

// told runs a scene minute by minute and lists the kinds raised.
func told(until float64, look func(minute float64) []Sight) []Kind {
	var known []State
	var out []Kind
	for m := 0.0; m <= until; m++ {
		var changes []Change
		known, changes = Step(known, look(m), at(m))
		for _, c := range changes {
			if c.Raised {
				out = append(out, c.Kind)
			}
		}
	}
	return out
}

func TestWhatAPitTells(t *testing.T) {
	steady := func(m float64) float64 { return 250 + 6*math.Sin(m/7) }
	for name, c := range map[string]struct {
		temperature func(float64) float64
		opened, fed float64
		want        string
	}{
		"a steady pit":           {steady, -100, 0, ""},
		"a lid opened":           {func(m float64) float64 { return steady(m) - 70*math.Exp(-math.Abs(m-40)/3) }, 38, 0, ""},
		"the sun on the lid":     {func(m float64) float64 { return steady(m) + max(0, min(m-30, 40)) }, -100, 0, "pit high"},
		"a fire left alone":      {func(m float64) float64 { return 250 - 1.2*max(0, m-30) }, -100, -100, "dead fire"},
		"a fire fed in time":     {func(m float64) float64 { return 250 - 1.2*max(0, min(m, 50)-30) }, -100, 45, "pit low"},
		"a slow sag of a degree": {func(m float64) float64 { return 250 - 0.2*m }, -100, 0, ""},
	} {
		all := trace(120, c.temperature)
		got := told(85, func(m float64) []Sight {
			p := PitSeen{Subject: "pit run 1", Name: "Brick Pit", SetC: units.FToC(250), Stood: true, Cuts: 4, Fed: at(c.fed)}
			if m >= c.opened {
				p.Opened = at(c.opened)
			}
			for _, x := range all {
				if !x.At.After(at(m)) {
					p.Trace = append(p.Trace, x)
				}
			}
			return Pit(p, at(m))
		})
		words := []string{}
		for _, k := range got {
			words = append(words, string(k))
		}
		if strings.Join(words, ", ") != c.want {
			t.Errorf("%s tells %q, want %q", name, strings.Join(words, ", "), c.want)
		}
	}
	cold := PitSeen{Trace: trace(60, func(float64) float64 { return 90 }), SetC: units.FToC(250)}
	for _, p := range []PitSeen{{Trace: cold.Trace, SetC: cold.SetC, Cuts: 4}, {Trace: cold.Trace, SetC: cold.SetC, Stood: true}, {SetC: cold.SetC, Stood: true, Cuts: 4}} {
		if got := Pit(p, at(60)); len(got) != 0 {
			t.Errorf("a pit that warms up, is empty or has no probe tells %+v", got)
		}
	}
}

func TestWhatACutTells(t *testing.T) {
	low, fine := 0.3, 0.9
	late, early := start.Add(260*time.Minute), start.Add(200*time.Minute)
	climb := trace(400, func(m float64) float64 { return 40 + m*0.42 }) // 140 F after 3 h 58
	for name, c := range map[string]struct {
		minute float64
		seen   CutSeen
		want   Kind
		level  Level
		says   string
		out    time.Duration // of the fridge, before it went on
	}{
		"at its target":  {388, CutSeen{TargetC: units.FToC(202)}, AtTarget, Watch, "1L is at {C:9", 0},
		"too late":       {100, CutSeen{ByTable: &low}, TooLate, Watch, "less than 5 times in 10", 0},
		"long in danger": {200, CutSeen{}, Danger, Watch, "1L has been under {C:60} for 3:20 since it went on", 0},
		"too long":       {250, CutSeen{Trace: trace(400, func(m float64) float64 { return 40 + m*0.3 })}, Danger, Grave, "4:10", 0},
		"late ahead":     {100, CutSeen{Passes: &late}, Danger, Watch, "1:40 since it went on. As it goes on it passes only after 4:20", 0},
		"out before":     {180, CutSeen{}, Danger, Watch, "3:30 since it left the fridge", 30 * time.Minute},
		"slow to warm": {100, CutSeen{ComeUp: safety.ComeUp{Known: true, ForS: 5.2 * 3600}}, ComeUp, Watch,
			"takes 5:12 from {C:10} to {C:54.4} so far; 6:00 is the most. Raise the pit.", 0},
		"too slow":       {100, CutSeen{ComeUp: safety.ComeUp{Known: true, ForS: 6.2 * 3600, Late: true}}, ComeUp, Grave, "Only the pitmaster's reason", 0},
		"too slow, fowl": {100, CutSeen{ComeUp: safety.ComeUp{Known: true, ForS: 6.2 * 3600, Late: true}, Absolute: true}, ComeUp, Grave, "It cannot be served.", 0},
	} {
		c.seen.Subject, c.seen.Name, c.seen.On = "cut 1", "1L", start
		if c.seen.Trace == nil {
			c.seen.Trace = climb
		}
		c.seen.Left = start.Add(-c.out)
		c.seen.Range = safety.DangerOf([][]logbook.Point{c.seen.Trace}, c.seen.Left, at(c.minute), safety.Under140)
		found := false
		for _, s := range Cut(c.seen, at(c.minute)) {
			if s.Kind == c.want {
				found = s.Holds && s.Level == c.level && strings.Contains(s.Words, c.says)
			} else if s.Holds && s.Kind != Danger {
				t.Errorf("%s also tells %s", name, s.Words)
			}
		}
		if !found {
			t.Errorf("%s is not told of: %+v", name, Cut(c.seen, at(c.minute)))
		}
	}
	// The thin end is there before the cold point is: the one that is asked for tells.
	warm := trace(500, func(float64) float64 { return 204.8 })
	for place, want := range map[string]string{"thin": "1L at its thin end is at {C:96.0}", "near bone": "1L near bone is at {C:96.0}", logbook.AllPlaces: "1L at every place is at {C:96.0}", "": ""} {
		told := ""
		for _, s := range Cut(CutSeen{Subject: "cut 1", Name: "1L", On: start, Left: start, Trace: climb, AtPlace: warm, Place: place, TargetC: 95}, at(150)) {
			if s.Kind == AtTarget && s.Holds {
				told = s.Words
			}
		}
		if !strings.HasPrefix(told, want) || want == "" && told != "" {
			t.Errorf("pulled by %q it tells %q, want %q", place, told, want)
		}
	}
	quiet := Cut(CutSeen{Subject: "cut 1", On: start, Left: start, Trace: climb, TargetC: units.FToC(203), ByTable: &fine, Passes: &early,
		Range: safety.DangerOf([][]logbook.Point{climb}, start, at(150), safety.Under140), ComeUp: safety.ComeUp{Known: true, ForS: 3600}}, at(150))
	for _, s := range quiet {
		if s.Holds {
			t.Errorf("a cut that does well tells %s", s.Words)
		}
	}
}

func TestWhatARestingCutTells(t *testing.T) {
	for name, c := range map[string]struct {
		after safety.After
		level Level
		holds bool
		says  string
	}{
		"an hour":       {safety.After{Known: true, LimitC: 60, UnderS: 3600}, Watch, false, "1:00"},
		"two and a bit": {safety.After{Known: true, LimitC: 60, UnderS: 7500, Warn: true}, Watch, true, "for 2:05 after cooking. At 4:00 it is thrown away"},
		"unread":        {safety.After{Known: true, LimitC: 60, UnreadS: 14500, Warn: true, Unread: true}, Grave, true, "Nothing was read of it: read it now."},
		"over":          {safety.After{Known: true, LimitC: 60, UnderS: 14500, Warn: true, Over: true}, Grave, true, "throw it away"},
	} {
		got := Resting("cut 1", "1L", c.after)
		if len(got) != 1 || got[0].Level != c.level || got[0].Holds != c.holds || !strings.Contains(got[0].Words, c.says) {
			t.Errorf("%s under the limit tells %+v, want %q", name, got, c.says)
		}
	}
	if got := Resting("cut 1", "1L", safety.After{}); got != nil {
		t.Errorf("a cut that was not cooked tells %+v", got)
	}
}

func TestWhatHoldersAndProbesTell(t *testing.T) {
	swing := func(low float64) []logbook.Point {
		return trace(60, func(m float64) float64 { return low + 6 + 6*math.Sin(m/4) })
	}
	for _, c := range []struct {
		low   float64
		cuts  int
		holds int
	}{{145, 2, 0}, {136, 2, 1}, {136, 0, 0}} {
		n := 0
		for _, s := range Holder(HolderSeen{Subject: "holder run 1", Name: "Warm Box", HoldC: 60, Trace: swing(c.low), Cuts: c.cuts}, at(60)) {
			if s.Holds {
				n++
			}
		}
		if n != c.holds {
			t.Errorf("a box that swings down to %.0f F with %d cuts tells %d things, want %d", c.low, c.cuts, n, c.holds)
		}
	}
	if got := Holder(HolderSeen{Cuts: 2}, at(0)); len(got) != 0 {
		t.Errorf("a holder with no probe tells %+v", got)
	}
	for minutes, holds := range map[float64]bool{1: false, 5.5: false, 7: true} {
		if got := Probe("probe 4", "core 1L", at(0), at(minutes)); got[0].Holds != holds {
			t.Errorf("silent for %g min, it tells %+v", minutes, got)
		}
	}
}
