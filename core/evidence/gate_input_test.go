package evidence

import (
	"testing"
	"time"

	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// What the gate is told of a piece: its probes joined by their place, its holder from when it lay in it, the hottest air of its
// day, how fast a piece so thick can move, and what the words of the product say otherwise.
func TestWhatTheGateIsToldOfAPiece(t *testing.T) {
	start := time.Date(2026, 9, 19, 8, 0, 0, 0, time.UTC)
	at := func(h float64) time.Time { return start.Add(time.Duration(h * float64(time.Hour))) }
	points := func(h ...float64) (out []logbook.Point) {
		for _, v := range h {
			out = append(out, logbook.Point{At: at(v), C: 60 + v})
		}
		return out
	}
	air := func(h, c float64) Act { return Act{Act: logbook.Note, At: at(h), Detail: logbook.Detail{AirC: &c}} }
	tr := Trial{ID: 1, Ask: trial.Ask{Species: safety.RedMeat, Handling: safety.Intact, Product: "duck thigh", Family: "chicken", MeatConfirmed: true},
		Cooks:   []Cook{{ID: 1, ServeAt: at(9), Clock: trial.Clock{Origin: at(0), Start: at(0), Rate: 1}}},
		Runs:    []PitRun{{ID: 1, CookID: 1, SetC: 121}},
		Holders: []HolderRun{{ID: 4, CookID: 1, HolderID: 2, Powered: true}},
		Cuts: []Cut{{ID: 1, Dimensions: map[string]float64{}, Weighings: []yield.Weighing{{Stage: yield.Trimmed, Kg: 2}},
			Acts:  []Act{{Act: logbook.On, At: at(0), CutID: 1}, {Act: logbook.Pull, At: at(5), CutID: 1}, {Act: logbook.Hold, At: at(5.5), CutID: 1}},
			Stays: []Stay{{CookID: 1, PitRunID: 1, To: at(5.5)}, {CookID: 1, HolderRunID: 4, From: at(5.5)}}}},
		Probes: []Probe{{ID: 1, Assigned: 1, Name: "a", CutID: 1, Place: "Breast"}, {ID: 2, Assigned: 2, Name: "b", CutID: 1, Place: "breast"},
			{ID: 3, Assigned: 3, Name: "c", CutID: 1}, {ID: 4, Assigned: 4, Name: "d", CutID: 1}, {ID: 5, Assigned: 5, Name: "box", HolderRunID: 4}},
	}
	tr.Acts = append(tr.Cuts[0].Acts, air(-13, 45), air(1, 31), air(2, 36), air(3, 33), air(30, 50))
	traces := map[ProbeKey][]logbook.Point{tr.Probes[0].Key(): points(3, 4), tr.Probes[1].Key(): points(1, 2), tr.Probes[2].Key(): points(1),
		tr.Probes[3].Key(): points(2), tr.Probes[4].Key(): points(4, 5, 6, 7)}
	told := func() gate.Input {
		return tr.input(tr.Cuts[0], func(time.Time) safety.Lines { return safety.Usual }, 100, traces, at(8))
	}
	in := told()
	if len(in.Places) != 3 || len(in.Places[0].Trace) != 4 || !in.Places[0].Trace[0].At.Equal(at(1)) {
		t.Errorf("two probes in the breast and two without a place make %+v", in.Places)
	}
	if box := in.Holder(); len(box) != 2 || !box[0].At.Equal(at(6)) {
		t.Errorf("of the holder that it lay in from 5.5 h it is told %v", box)
	}
	if in.AirC == nil || *in.AirC != 36 {
		t.Errorf("the hottest air of its day is %v, want 36 C: not the day before, and not the one after", in.AirC)
	}
	if len(in.Asked) == 0 {
		t.Error("a duck's thigh that is said to be red meat asks nothing")
	}
	tr.Ask.MeatWhy = "boned by nobody"
	if in = told(); len(in.Asked) != 0 {
		t.Errorf("with a reason %v is asked still", in.Asked)
	}
	usual := in.Bound
	tr.Cuts[0].Dimensions["thickness"] = 0.02
	if thin := told().Bound; thin.RiseC <= usual.RiseC || thin.RestS >= usual.RestS {
		t.Errorf("a piece of 2 cm may rise %v C a minute, the usual one %v", thin.RiseC, usual.RiseC)
	}
}

// A piece stays as strict as it went on, whatever the ask says since; a dose that was planned once it was pulled was never in it.
func TestWhatMeatAPieceIs(t *testing.T) {
	red := func(h safety.Handling) safety.Meat { return safety.Meat{Species: safety.RedMeat, Handling: h} }
	dose := map[int64][]prep.Dose{1: {{Kind: prep.Injection}}}
	for name, c := range map[string]struct {
		ask    safety.Meat
		onAs   safety.Meat
		doses  map[int64][]prep.Dose
		pulled bool
		want   safety.Meat
	}{
		"as it is asked":                 {red(safety.Intact), safety.Meat{}, nil, false, red(safety.Intact)},
		"a dose by needle":               {red(safety.Intact), red(safety.Intact), dose, false, red(safety.Pierced)},
		"a dose planned after the pull":  {red(safety.Intact), red(safety.Intact), dose, true, red(safety.Intact)},
		"it went on pierced":             {red(safety.Intact), red(safety.Pierced), nil, true, red(safety.Pierced)},
		"it went on as poultry":          {red(safety.Intact), safety.Meat{Species: safety.Poultry, Handling: safety.Intact}, nil, false, safety.Meat{Species: safety.Poultry, Handling: safety.Intact}},
		"nobody said what it is":         {safety.Meat{}, red(safety.Pierced), dose, false, safety.Meat{}},
		"nobody said as what it went on": {red(safety.Minced), safety.Meat{}, dose, true, red(safety.Minced)},
	} {
		tr := Trial{Ask: trial.Ask{Species: c.ask.Species, Handling: c.ask.Handling, Arms: []trial.Arm{{ID: 1}}}, Doses: c.doses}
		cut := Cut{ID: 1, ArmID: 1, OnAs: c.onAs, Acts: []Act{{Act: logbook.On, At: time.Unix(0, 0)}}}
		if c.pulled {
			cut.Acts = append(cut.Acts, Act{Act: logbook.Pull, At: time.Unix(3600, 0)})
		}
		if got := tr.MeatOf(cut); got != c.want {
			t.Errorf("%s: it is %v, want %v", name, got, c.want)
		}
	}
}
