package evidence

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// Eight injected shoulders overnight with one wire: the slowest piece of the pit shows the way up of the others.
func TestTheSlowestPieceOfAPitShowsTheWayUpOfTheOthers(t *testing.T) {
	start := time.Date(2026, 9, 19, 22, 0, 0, 0, time.UTC)
	at := func(h float64) time.Time { return start.Add(time.Duration(h * float64(time.Hour))) }
	cut := func(id int64, kg, on float64, more ...Act) Cut {
		c := Cut{ID: id, Acts: append([]Act{{Act: logbook.On, At: at(on), CutID: id}}, more...), Stays: []Stay{{CookID: 1, PitRunID: 1}}}
		if kg > 0 {
			c.Weighings = []yield.Weighing{{Stage: yield.Trimmed, Kg: kg}}
		}
		c.Acts = append(c.Acts, Act{Act: logbook.Pull, At: at(10), CutID: id})
		return c
	}
	c95 := 95.0
	// The others were read once, before the pull.
	read := func(id int64) Act {
		return Act{Act: logbook.Probe, At: at(9.9), CutID: id, Press: time.Duration(id).String(), Detail: logbook.Detail{C: &c95, Read: "203 F",
			Place: "coldest found"}}
	}
	// The wire passes 130 F after so many hours, and goes on to 203 F.
	wire := func(up float64) (out []logbook.Point) {
		for h := 0.0; h <= 10; h += 1. / 60 {
			c := 4 + (54.5-4)*h/up
			if h > up {
				c = 54.5 + (95-54.5)*(h-up)/(10-up)
			}
			out = append(out, logbook.Point{At: at(h), C: c})
		}
		return out
	}
	each := func(kind string, of ...float64) (out [3]map[string]float64) {
		for i, v := range of {
			if v != 0 {
				out[i] = map[string]float64{kind: v}
			}
		}
		return out
	}
	for name, c := range map[string]struct {
		kgs   [3]float64 // of the wired piece, and two others
		up    float64
		late  float64 // h after the wired one that the second went on
		stops [3]bool
		sizes [3]map[string]float64
	}{
		"the heaviest has the wire":          {[3]float64{4, 3.6, 3.2}, 4.5, 0, [3]bool{}, [3]map[string]float64{}},
		"one is heavier":                     {[3]float64{3.6, 4, 3.2}, 4.5, 0, [3]bool{false, true, true}, [3]map[string]float64{}},
		"one was not weighed":                {[3]float64{4, 0, 3.2}, 4.5, 0, [3]bool{false, true, true}, [3]map[string]float64{}},
		"a quarter more is not in time":      {[3]float64{4, 3.6, 3.2}, 5.6, 0, [3]bool{false, true, true}, [3]map[string]float64{}},
		"one went on an hour later":          {[3]float64{4, 3.6, 3.2}, 4.5, 1, [3]bool{false, true, false}, [3]map[string]float64{}},
		"one went on twenty minutes later":   {[3]float64{4, 3.6, 3.2}, 4.5, 1. / 3, [3]bool{}, [3]map[string]float64{}},
		"the wire was itself over the limit": {[3]float64{4, 3.6, 3.2}, 7.5, 0, [3]bool{true, true, true}, [3]map[string]float64{}},
		"it is the thickest too":             {[3]float64{4, 3.6, 3.2}, 4.5, 0, [3]bool{}, each("thickness", 0.12, 0.11, 0.12)},
		"one is thicker":                     {[3]float64{4, 3.6, 3.2}, 4.5, 0, [3]bool{false, true, true}, each("thickness", 0.11, 0.12, 0.1)},
		"one's thickness was not taken":      {[3]float64{4, 3.6, 3.2}, 4.5, 0, [3]bool{false, true, true}, each("thickness", 0.11, 0, 0.1)},
		"it is the coldest too":              {[3]float64{4, 3.6, 3.2}, 4.5, 0, [3]bool{}, each("cold", 2, 3, 2)},
		"one began colder":                   {[3]float64{4, 3.6, 3.2}, 4.5, 0, [3]bool{false, true, true}, each("cold", 3, 2, 4)},
	} {
		tr := Trial{ID: 1, Ask: trial.Ask{Species: safety.RedMeat, Handling: safety.Pierced, MeatConfirmed: true}, Cooks: []Cook{{ID: 1,
			ServeAt: at(11), Clock: trial.Clock{Origin: at(0), Start: at(0), Rate: 1}}},
			Runs:   []PitRun{{ID: 1, CookID: 1}},
			Probes: []Probe{{ID: 7, Assigned: 1, Name: "wire", CutID: 1, Place: "thick", From: at(0)}}}
		tr.Cuts = []Cut{cut(1, c.kgs[0], 0), cut(2, c.kgs[1], c.late, read(2)), cut(3, c.kgs[2], 0, read(3))}
		for i, x := range tr.Cuts {
			tr.Cuts[i].Dimensions = c.sizes[i]
			tr.Acts = append(tr.Acts, x.Acts...)
		}
		tr.Judge(func(time.Time) safety.Lines { return safety.Usual }, 100, map[ProbeKey][]logbook.Point{tr.Probes[0].Key(): wire(c.up)}, at(10.5))
		for i, want := range c.stops {
			got := false
			for _, s := range tr.Gates[int64(i+1)].Stops {
				got = got || s.Key == "come-up"
			}
			if up := tr.Gates[int64(i+1)].ComeUp; got != want || up.BySlowest != (i > 0 && !want) {
				t.Errorf("%s: piece %d is stopped by its way up: %v, want %v (%+v)", name, i+1, got, want, up)
			}
		}
	}
}
