package server

import (
	"fmt"
	"math"
	"testing"
	"time"

	"whitebarn/core/pit"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/store"
)

// panLog is what a device sends of a pan that warms from 60 F to e F.
func panLog(from time.Time, e float64, minutes int) (lines string) {
	for m := range minutes {
		f := e + (60-e)*math.Exp(-float64(m)/60/1.7) + 0.3*math.Sin(float64(17*m))
		lines += fmt.Sprintf("%d,pan,%s,%.2f,F\n", m+1, from.Add(time.Duration(m)*time.Minute).UTC().Format(time.RFC3339), f)
	}
	return lines
}

// TestAHolderIsCalibrated puts a pan in, is told when it is enough, saves it, and finds the
// holds that rely on it.
func TestAHolderIsCalibrated(t *testing.T) {
	b, odalys := newBarn(t)
	var box store.Holder
	odalys.must("POST", "/api/holders", barn.NamedInput{Name: "Warm Box"}, 201, &box)
	logger := b.device(odalys, "Box logger", nil)
	now := time.Now()
	from := now.Add(-5 * time.Hour).Truncate(time.Second)
	hours := func(n int) {
		t.Helper()
		if status, r := logger.post("text/csv", panLog(from, 157, 60*n)); status != 200 {
			t.Fatalf("the readings are answered with %d %+v", status, r)
		}
	}
	hours(1)
	path := fmt.Sprintf("/api/holders/%d", box.ID)
	var v pits.HolderView
	odalys.must("GET", path, nil, 200, &v)
	if len(v.Probes) != 1 || v.Pan != nil || len(v.Calibrations) != 0 || v.FloorC != units.FToC(140) {
		t.Fatalf("a new holder is %+v", v)
	}
	probe := v.Probes[0].ID
	put := func(dial string, at time.Time, status int) {
		t.Helper()
		odalys.must("POST", path+"/calibrations", pits.PanInput{ProbeID: probe, Dial: dial, Target: "150 F", PutIn: &at}, status, &v)
	}
	put("9000 F", from, 422)
	put("160 F", now.Add(-100*time.Hour), 422)
	put("160 F", from, 201)
	put("160 F", from, 409) // a pan is in it
	if v.Pan == nil || v.Pan.Told.StopNow {
		t.Fatalf("after an hour the pan says %+v", v.Pan)
	}
	open := v.Calibrations[0].ID
	hours(5)
	odalys.must("GET", path, nil, 200, &v)
	if told := v.Pan.Told; !told.StopNow || told.Passes || math.Abs(told.Settles.C-units.FToC(157)) > 0.5 || math.Abs(*told.NextC-units.FToC(153)) > 0.5 {
		t.Fatalf("after five hours the pan says %+v", told)
	}
	odalys.must("POST", fmt.Sprintf("/api/calibrations/%d/save", open), nil, 200, &v)
	if k := v.Calibrations[0]; k.Saved == nil || *k.Passes || len(v.Ends) != 1 || v.Ends[0].Before(now.AddDate(0, 5, 0)) {
		t.Errorf("it is saved as %+v until %v", k, v.Ends)
	}
	odalys.must("POST", fmt.Sprintf("/api/calibrations/%d/save", open), nil, 409, nil)

	// A hold at 155 F relies on it; so does one at 145, on what one on the dial does.
	for _, h := range []struct {
		set  string
		want pit.Standing
	}{{"155 F", pit.Stands}, {"145 F", pit.OtherDial}, {"140 F", pit.BelowFloor}} {
		held, err := units.ParseTemperature(h.set)
		if err != nil {
			t.Fatal(err)
		}
		if got := pit.RelyOn(store.Known(v.Calibrations, box.ID), held.C, v.FloorC, now.Add(time.Hour)); got.Standing != h.want {
			t.Errorf("a hold at %s %s: %s", h.set, got.Standing, got.Words)
		}
	}
	if got := pit.RelyOn(store.Known(v.Calibrations, box.ID), 65, v.FloorC, now.AddDate(1, 0, 0)); got.Standing != pit.NoneStands {
		t.Errorf("after a year it still %s", got.Standing)
	}
	odalys.must("POST", fmt.Sprintf("/api/calibrations/%d/void", open), barn.Why{Why: "the probe lay on the floor"}, 200, &v)
	if len(v.Calibrations) != 0 || v.Pan != nil {
		t.Errorf("taken back, there are %+v", v.Calibrations)
	}
	// A dial that goes no lower is kept with the holder.
	odalys.must("PUT", path, pits.HolderInput{Lowest: "150 F"}, 200, nil)
	odalys.must("PUT", path, pits.HolderInput{Lowest: "warm"}, 422, nil)
	odalys.must("GET", path, nil, 200, &v)
	if v.Holder.LowestC == nil || v.Holder.LowestTyped != "150 F" {
		t.Errorf("the holder is %+v", v.Holder)
	}
	odalys.must("GET", "/api/holders/999", nil, 404, nil)
}
