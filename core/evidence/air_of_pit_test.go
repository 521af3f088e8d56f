package evidence

import (
	"testing"
	"time"

	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// A probe that stands still is asked about by the air its pit was measured to have, not by what it was set to.
func TestAProbeThatStandsIsHeldAgainstTheAirThatWasMeasured(t *testing.T) {
	start := time.Date(2026, 9, 19, 8, 0, 0, 0, time.UTC)
	at := func(min int) time.Time { return start.Add(time.Duration(min) * time.Minute) }
	// It climbs for three hours to 60.5 C (141 F), and stands there for one: twelve minutes of it are enough.
	var core []logbook.Point
	for m := 0; m <= 240; m++ {
		core = append(core, logbook.Point{At: at(m), C: min(4+56.5*float64(m)/180, 60.5)})
	}
	air := func(c float64) (out []logbook.Point) {
		for m := 0; m <= 240; m += 5 {
			out = append(out, logbook.Point{At: at(m), C: c})
		}
		return out
	}
	for name, c := range map[string]struct {
		set      float64
		measured []logbook.Point
		point    string // where the pit was measured
		want     gate.How
	}{
		"set hot, and nobody measured it":     {107, nil, "", gate.NotYet},
		"set hot, and the fire had gone down": {107, air(68), "", gate.ByTime},
		"set low, and it ran hot":             {68, air(107), "", gate.NotYet},
		"set low, and it was so":              {68, air(69), "", gate.ByTime},
		"its lid is no air of the grate":      {68, air(107), "dial", gate.ByTime},
		"measured only long before":           {107, air(68)[:12], "", gate.NotYet},
	} {
		tr := Trial{ID: 1, Ask: trial.Ask{Species: safety.RedMeat, Handling: safety.Intact, MeatConfirmed: true},
			Cooks: []Cook{{ID: 1, ServeAt: at(300), Clock: trial.Clock{Origin: start, Start: start, Rate: 1}}},
			Runs:  []PitRun{{ID: 1, CookID: 1, SetC: c.set}},
			Cuts: []Cut{{ID: 1, Acts: []Act{{Act: logbook.On, At: at(0), CutID: 1}}, Stays: []Stay{{CookID: 1, PitRunID: 1}},
				Weighings: []yield.Weighing{{Stage: yield.Trimmed, Kg: 2}}}},
			Probes: []Probe{{ID: 7, Assigned: 1, Name: "core", CutID: 1, Place: "thick", From: at(0)},
				{ID: 8, Assigned: 2, Name: "air", PitRunID: 1, Point: c.point, From: at(0)}}}
		tr.Acts = tr.Cuts[0].Acts
		traces := map[ProbeKey][]logbook.Point{tr.Probes[0].Key(): core, tr.Probes[1].Key(): c.measured}
		tr.Judge(func(time.Time) safety.Lines { return safety.Usual }, 100, traces, at(240))
		if got := tr.Gates[1].Places[0]; got.How != c.want {
			t.Errorf("%s: it passed %q (share %.2f), want %q", name, got.How, got.Share, c.want)
		}
	}
}
