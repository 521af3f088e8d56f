package evidence

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
)

func TestThePlaceThatIsAskedForDecides(t *testing.T) {
	at := day(3, 12, 0)
	trace := func(last float64, ago time.Duration) []logbook.Point {
		return []logbook.Point{{At: at.Add(-time.Hour), C: 40}, {At: at.Add(-ago), C: last}}
	}
	cores := []Core{{Place: "thick", Trace: trace(70, 0)}, {Place: "thin", Trace: trace(80, 0)}, {Place: "near bone", Trace: trace(50, 30*time.Minute)}}
	for place, want := range map[string]float64{"": 70, "thin": 80, "near bone": 50, "nowhere": 70} {
		if got := Deciding(cores, place)[1].C; got != want {
			t.Errorf("of 70, 80 and a probe that fell silent at 50, with %q asked for %g decides, want %g", place, got, want)
		}
	}
	if Deciding(nil, "") != nil {
		t.Error("without a probe something decides")
	}
}

// TestReadingsByHandStandWhereNoProbeIs also puts two probes at one place together.
func TestReadingsByHandStandWhereNoProbeIs(t *testing.T) {
	at := day(3, 12, 0)
	read := 61.0
	c := Cut{ID: 7, Acts: []Act{{Act: logbook.Probe, At: at, Detail: logbook.Detail{C: &read}}, {Act: logbook.Probe, At: at.Add(-3 * time.Hour), Detail: logbook.Detail{C: &read}}, {Act: logbook.Probe, At: at}}}
	got := CoresOf(c, nil, nil, at.Add(-time.Hour), at)
	if len(got) != 1 || !got[0].ByHand || len(got[0].Trace) != 1 || got[0].Trace[0].C != 61 {
		t.Errorf("without a probe, what was read by hand in the last hour is %+v", got)
	}
	probes := []Probe{{ID: 1, Name: "A", CutID: 7, Place: "thick"}, {ID: 2, Name: "B", CutID: 7, Place: "thick"}, {ID: 3, Name: "C", CutID: 8}, {ID: 4, Name: "D", CutID: 7}}
	traces := [][]logbook.Point{{{At: at, C: 50}}, {{At: at.Add(-time.Minute), C: 49}}, {{At: at, C: 20}}, {{At: at, C: 44}, {At: at, C: 45}, {At: at, C: 46}}}
	got = CoresOf(c, probes, traces, at.Add(-time.Hour), at)
	if len(got) != 2 || got[0].Place != "thick" || len(got[0].Trace) != 2 || got[0].Trace[0].C != 49 || got[1].Place != "D" {
		t.Errorf("two probes in the thick end and one that nobody placed are %+v", got)
	}
	if p, ok := Highest(got); !ok || p.C != 45 {
		t.Errorf("every place of it reached %+v, want 45 after a median of three", p)
	}
}
