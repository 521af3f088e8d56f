package server

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/store"

	"github.com/google/uuid"
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
	t.Parallel()
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
	if told := v.Pan.Told; !told.StopNow || told.Passes || math.Abs(told.Settles.C-units.FToC(157)) > 0.5 ||
		math.Abs(*told.NextC-units.FToC(153)) > 0.5 {
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

// TestTheLastBurnOfAPitIsTold lights a pit with two probes on its grate, puts one split on,
// and reads what the burn tells.
func TestTheLastBurnOfAPitIsTold(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cook := v.Cooks[0]
	run := cook.Runs[0].ID
	var burns []pits.BurnView
	odalys.must("GET", "/api/burns", nil, 200, &burns)
	if len(burns) != 0 {
		t.Errorf("before anything was lit there are %+v", burns)
	}
	lit := time.Now().Add(-100 * time.Minute).Truncate(time.Second)
	did := func(act logbook.Act, minutes int) {
		t.Helper()
		at := lit.Add(time.Duration(minutes) * time.Minute)
		odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", cook.ID),
			fire.EventInput{Act: act, At: &at, PitRunIDs: []int64{run}, Press: uuid.NewString()}, 201, nil)
	}
	did(logbook.Lit, 0)
	odalys.must("GET", "/api/burns", nil, 200, &burns)
	if len(burns) != 1 || burns[0].Told != nil || !strings.Contains(burns[0].Missing, "No probe") || !burns[0].Meat {
		t.Errorf("without a probe the burn is %+v", burns)
	}
	did(logbook.Wood, 50)
	var sent strings.Builder
	for m := range 100 {
		c := math.Min(1+4*float64(m), 121)
		switch {
		case m > 50 && m <= 56:
			c += float64(m-50) / 6 * 10
		case m > 56 && m < 70: // back where it was 64 minutes after it was lit, and on
			c += 10 - float64(m-56)/8*10
		}
		at := lit.Add(time.Duration(m) * time.Minute).UTC().Format(time.RFC3339)
		fmt.Fprintf(&sent, "%d,middle,%s,%.2f,C\n%d,far,%s,%.2f,C\n", 2*m+1, at, c, 2*m+2, at, c-6)
	}
	if status, r := b.device(odalys, "gateway", nil).post("text/csv", sent.String()); status != 200 {
		t.Fatalf("the readings are answered with %d %+v", status, r)
	}
	var probes []store.ProbeNow
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/probes", cook.ID), nil, 200, &probes)
	for _, p := range probes {
		odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/probes/%d", cook.ID, p.ID),
			fire.ProbeInput{PitRunID: &run, Point: map[string]string{"middle": "B2", "far": "D2"}[p.Channel]}, 200, nil)
	}
	odalys.must("GET", "/api/burns", nil, 200, &burns)
	told := burns[0].Told
	if told == nil {
		t.Fatalf("the burn is %+v", burns[0])
	}
	if told.SpreadC == nil || math.Abs(*told.SpreadC-6) > 0.01 || told.Places != 2 || told.LastMin == nil || *told.LastMin != 30 {
		t.Errorf("it tells %+v", told)
	}
	if held := told.Responses[0].HeldMin; held == nil || *held != 14 || told.RefuelMin == nil || *told.RefuelMin != 14 {
		t.Errorf("the split held it %v min: %+v", held, told.Responses[0])
	}
	// What comes after the pit is set anew is another matter.
	at := lit.Add(45 * time.Minute)
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", cook.ID),
		fire.EventInput{Act: logbook.Set, At: &at, Detail: logbook.Detail{Set: "275 F"}, PitRunIDs: []int64{run}, Press: uuid.NewString()}, 201,
		nil)
	odalys.must("GET", "/api/burns", nil, 200, &burns)
	if told := burns[0].Told; told == nil || told.ToMin != 45 || len(told.Responses) != 0 {
		t.Errorf("set anew after 45 minutes it tells %+v", told)
	}
}
