package server

import (
	"bytes"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/rest"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// troughAsk asks what a trough does.
func troughAsk() trial.Ask {
	return trial.Ask{Kind: trial.OfSetUps, Question: "What does the trough do?",
		Factors: []trial.Factor{{Name: "water pan", Kind: trial.Categorical, SetOn: trial.UnitPitRun}},
		Arms:    []trial.Arm{{Tag: "TROUGH", Levels: trial.Levels("water"), Control: true}, {Tag: "DRY", Levels: trial.Levels("none")}}}
}

// burnsLog is the file of a logger that lay in a pit over two burns: with spread 4 C to both
// ends the first day, 12 the second, and a fire of 30 and of 20 minutes.
func burnsLog(lit ...time.Time) []byte {
	var b bytes.Buffer
	b.WriteString("Time,fire end (C),middle (C),far end (C),lid dial (C)\n")
	for day, at := range lit {
		spread, warm := 4.0+8*float64(day), 30-10*float64(day)
		for m := range 100 {
			c := 20 + 101*math.Min(1, float64(m)/warm)
			if since := float64(m) - 50; since > 0 && since < 20 {
				c += 9 * math.Sin(math.Pi*since/20)
			}
			fmt.Fprintf(&b, "%s,%.1f,%.1f,%.1f,%.1f\n", at.Add(time.Duration(m)*time.Minute).UTC().Format("2006-01-02T15:04:05Z"), c+spread, c,
				c-spread, c+15)
		}
	}
	return b.Bytes()
}

// burned is a trial of set-ups whose two burns were lit and fed; the pit is "Brick Pit".
func (h hand) burned(t *testing.T) (v trials.TrialView, lit []time.Time, pitID int64) {
	t.Helper()
	var p store.Pit
	h.must("POST", "/api/pits", barn.NamedInput{Name: "Brick Pit"}, 201, &p)
	h.must("POST", "/api/trials", troughAsk(), 201, &v)
	first := time.Now().Add(-50 * time.Hour).Truncate(time.Minute)
	h.must("POST", fmt.Sprintf("/api/trials/%d/burns", v.ID), plan.BurnsInput{PitID: p.ID, SetPoint: "250 F", LitAt: first, Hours: 1.5,
		Each: 1}, 201, &v)
	for i, k := range v.Cooks {
		at := first.AddDate(0, 0, i)
		lit = append(lit, at)
		for _, e := range []struct {
			act    logbook.Act
			after  time.Duration
			detail logbook.Detail
		}{{logbook.Lit, 0, logbook.Detail{Weight: "10 lb"}}, {logbook.Fuel, 50 * time.Minute,
			logbook.Detail{With: "split", Pieces: 1, Weight: "2 lb"}},
			{logbook.Water, time.Minute, logbook.Detail{Amount: "2 l"}}} {
			when := at.Add(e.after)
			h.must("POST", fmt.Sprintf("/api/cooks/%d/events", k.ID), fire.EventInput{Act: e.act, At: &when, Detail: e.detail,
				PitRunIDs: []int64{k.Runs[0].ID}, Press: uuid.NewString()}, 201, nil)
		}
	}
	return h.again(v), lit, p.ID
}

func TestSetUpsAreBurnedAndSettled(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v, lit, pitID := odalys.burned(t)
	if len(v.Steps) != 4 || v.Here != trial.StepFire || len(v.Cooks) != 2 {
		t.Fatalf("the trial stands at %s with steps %+v", v.Here, v.Steps)
	}
	arms := map[int64]bool{}
	for _, k := range v.Cooks {
		arms[*k.Runs[0].ArmID] = true
		if got := k.Runs[0].OverAt.Sub(*k.Runs[0].LitAt); got != 90*time.Minute {
			t.Errorf("a burn of 1.5 h takes %s", got)
		}
	}
	if len(arms) != 2 {
		t.Errorf("the lot burns one set-up twice: %v", arms)
	}
	end := fmt.Sprintf("/api/trials/%d/end", v.ID)
	odalys.refused("POST", end, barn.Why{Why: "its burns were read"}, 409, "Fewer than two set-ups")
	// One file of both days, put to points once.
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	data := burnsLog(lit...)
	var p fire.LogPreview
	odalys.upload(logs+"/preview", data, fire.LogOptions{Outside: "keep"}, &p)
	targets := map[string]store.Target{}
	for _, c := range p.Columns {
		targets[c.Name] = c.Target
	}
	run := v.Cooks[0].Runs[0].ID
	if got := targets["far end (C)"]; got.PitRunID == nil || *got.PitRunID != run || got.Point != "far end" {
		t.Errorf("a column that is called far end is guessed as %+v", got)
	}
	targets["lid dial (C)"] = store.Target{PitRunID: &run, Point: "dial"}
	if status, problem := odalys.upload(logs, data, fire.LogOptions{Outside: "keep", Targets: targets}, nil); status != 201 {
		t.Fatalf("the file is answered with %d %+v", status, problem)
	}
	var s pits.SetUpsView
	read := func() {
		t.Helper()
		s = pits.SetUpsView{}
		odalys.must("GET", fmt.Sprintf("/api/trials/%d/set-ups", v.ID), nil, 200, &s)
	}
	read()
	if len(s.Pairs) != 1 || len(s.SetUps) != 2 {
		t.Fatalf("the burns tell %+v", s)
	}
	for day, k := range v.Cooks {
		for _, u := range s.SetUps {
			if u.ArmID != *k.Runs[0].ArmID {
				continue
			}
			told := u.Burns[0].Told
			if told == nil || len(u.Burns[0].Traces) != 4 {
				t.Fatalf("%s tells nothing: %s", u.Tag, u.Burns[0].Missing)
			}
			if want := 2 * (4 + 8*float64(day)); math.Abs(*told.SpreadC-want) > 0.3 {
				t.Errorf("%s, on day %d, is %g C across, want %g", u.Tag, day+1, *told.SpreadC, want)
			}
			if len(told.Responses) != 1 || !strings.HasPrefix(told.Responses[0].Words, "one split held it ") {
				t.Errorf("its split is told as %+v", told.Responses)
			}
			if told.FuelKgH == nil || math.Abs(*told.FuelKgH-12*0.45359237/(99.0/60)) > 0.05 {
				t.Errorf("12 lb in 99 min are %v kg/h", told.FuelKgH)
			}
			if told.WaterKgH != nil {
				t.Errorf("water is told of, and nobody said what was left: %g", *told.WaterKgH)
			}
		}
	}
	if len(s.Pairs[0].Limits) != 1 || !strings.HasPrefix(s.Pairs[0].Limits[0], "One burn of each") {
		t.Errorf("its limits are %q", s.Pairs[0].Limits)
	}
	// The next file of this logger is known.
	var again fire.LogPreview
	odalys.upload(fmt.Sprintf("/api/cooks/%d/logs/preview", v.Cooks[1].ID), data, fire.LogOptions{Outside: "keep", Logger: "another"}, &again)
	if got := again.Columns[3].Target; got.Point != "dial" || *got.PitRunID != v.Cooks[1].Runs[0].ID {
		t.Errorf("what a column measures in this pit is forgotten: %+v", got)
	}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/left", v.Cooks[0].ID), rest.LeftInput{PitRunID: run, What: "water", Amount: "500 ml"}, 200,
		nil)
	odalys.must("POST", end, barn.Why{Why: "its burns were read"}, 200, &v)
	var kept settle.View
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &kept)
	if !strings.Contains(kept.Headline, "TROUGH: ") || !strings.Contains(kept.Headline, "DRY: ") || len(kept.SetUps) != 1 ||
		kept.RestsOn != "Rests on 1 burn of TROUGH and 1 burn of DRY in the Brick Pit." {
		t.Errorf("it settles as %q, %q", kept.Headline, kept.RestsOn)
	}
	var lines []trials.TrialLine
	odalys.must("GET", "/api/trials", nil, 200, &lines)
	if lines[0].Kind != trial.OfSetUps || lines[0].Settled == nil || lines[0].Settled.Headline != kept.Headline {
		t.Errorf("the list has it as %+v", lines[0])
	}
	b.usesASetUp(odalys, v, pitID)
	// A log that is taken back goes out of all burns it was split over.
	odalys.must("POST", fmt.Sprintf("/api/imports/%d/void", odalys.again(v).Imports[0].ID), barn.Why{Why: "the wrong pit"}, 200, nil)
	read()
	for _, u := range s.SetUps {
		if u.Burns[0].Told != nil || u.Burns[0].Missing == "" {
			t.Errorf("%s still tells of a log that was taken back", u.Tag)
		}
	}
}

// usesASetUp says as what a pit is used, and who may.
func (b *testBarn) usesASetUp(odalys hand, v trials.TrialView, pitID int64) {
	b.t.Helper()
	tove, _ := b.join(odalys, "Tove", store.Crew)
	path := fmt.Sprintf("/api/pits/%d/set-up", pitID)
	tove.refused("PUT", path, pits.UseInput{ArmID: v.Ask.Arms[0].ID}, 403, "")
	var other store.Pit
	odalys.must("POST", "/api/pits", barn.NamedInput{Name: "North Drum"}, 201, &other)
	odalys.refused("PUT", fmt.Sprintf("/api/pits/%d/set-up", other.ID), pits.UseInput{ArmID: v.Ask.Arms[0].ID}, 409, "not burned in this pit")
	var all []store.Pit
	odalys.must("PUT", path, pits.UseInput{ArmID: v.Ask.Arms[0].ID}, 200, &all)
	u := all[0].Used
	if u == nil || u.Tag != "TROUGH" || u.Burns != 1 || u.LeadMin == nil || len(u.Places) != 12 {
		b.t.Fatalf("the pit is used as %+v", u)
	}
	if at := u.At("A2"); at == nil || *at < 2 || u.At("Z9") != nil {
		b.t.Errorf("the fire end runs %v off set", at)
	}
	odalys.must("PUT", path, pits.UseInput{}, 200, &all)
	if all[0].Used != nil {
		b.t.Errorf("it is still used as %+v", all[0].Used)
	}
}

func TestBurnsArePlannedChangedAndTakenOut(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v, _, pitID := odalys.burned(t)
	burns := fmt.Sprintf("/api/trials/%d/burns", v.ID)
	in := plan.BurnsInput{PitID: pitID, SetPoint: "250 F", LitAt: time.Now().Add(24 * time.Hour), Hours: 2, Each: 2}
	for _, c := range []struct {
		spoil func(*plan.BurnsInput)
		field string
	}{{func(b *plan.BurnsInput) { b.Each = 0 }, "each"}, {func(b *plan.BurnsInput) { b.SetPoint = "hot" }, "set_point"},
		{func(b *plan.BurnsInput) { b.Hours = 30 }, "hours"}, {func(b *plan.BurnsInput) { b.PitID = 99 }, "pit_id"},
		{func(b *plan.BurnsInput) { b.LitAt = time.Time{} }, "lit_at"}} {
		bad := in
		c.spoil(&bad)
		odalys.refused("POST", burns, bad, 422, c.field)
	}
	odalys.must("POST", burns, in, 201, &v)
	if len(v.Cooks) != 6 {
		t.Fatalf("2 and 4 burns are %d", len(v.Cooks))
	}
	for i := 2; i < 6; i += 2 {
		a, b := v.Cooks[i].Runs[0], v.Cooks[i+1].Runs[0]
		if *a.ArmID == *b.ArmID || b.LitAt.Sub(*a.LitAt) != 24*time.Hour {
			t.Errorf("burns %d and %d are of set-ups %d and %d, %s apart", i, i+1, *a.ArmID, *b.ArmID, b.LitAt.Sub(*a.LitAt))
		}
	}
	coming := v.Cooks[5]
	change := plan.PlannedBurn{ArmID: v.Ask.Arms[0].ID, PitID: pitID, SetPoint: "275 F", LitAt: in.LitAt.AddDate(0, 0, 9), Hours: 1}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/burn", coming.ID), change, 200, &v)
	if r := v.Cooks[5].Runs[0]; *r.ArmID != change.ArmID || r.SetPointTyped != "275 F" ||
		!r.LitAt.Equal(change.LitAt.Truncate(time.Microsecond)) {
		t.Errorf("the burn is now %+v", r)
	}
	odalys.refused("PUT", fmt.Sprintf("/api/cooks/%d/burn", v.Cooks[0].ID), change, 409, "lit")
	odalys.refused("POST", fmt.Sprintf("/api/cooks/%d/burn/void", v.Cooks[0].ID), barn.Why{Why: "rain"}, 409, "logged")
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/burn/void", coming.ID), barn.Why{Why: "rain"}, 200, &v)
	if len(v.Cooks) != 5 {
		t.Errorf("%d burns are left of 6", len(v.Cooks))
	}
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/cooks", v.ID),
		plan.PlanInput{ServeAt: in.LitAt, Runs: []plan.RunInput{{PitID: pitID, SetPoint: "250 F"}}},
		409, "no meat")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/cuts", v.ID), match.CutInput{Name: "1L"}, 409, "no cuts")
	ask := v.Ask
	ask.Arms = ask.Arms[:1]
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/ask", v.ID), ask, 409, "burn of that set-up")
	meat := lambAsk()
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/ask", v.ID), meat, 422, "kind")
}

// TestAHotterPitIsBurnedAsItsArmSays takes the set point from the arm where it is what varies.
func TestAHotterPitIsBurnedAsItsArmSays(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	var p store.Pit
	odalys.must("POST", "/api/pits", barn.NamedInput{Name: "North Drum"}, 201, &p)
	ask := troughAsk()
	ask.Factors = []trial.Factor{{Name: "pit temperature", Kind: trial.Numeric, Unit: "F", SetOn: trial.UnitPitRun}}
	ask.Arms = []trial.Arm{{Tag: "LOW", Levels: trial.Levels("225"), Control: true}, {Tag: "HOT", Levels: trial.Levels("300")}}
	var v trials.TrialView
	odalys.must("POST", "/api/trials", ask, 201, &v)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/burns", v.ID), plan.BurnsInput{PitID: p.ID, LitAt: time.Now(), Hours: 2, Each: 1}, 201, &v)
	for _, k := range v.Cooks {
		want := map[int64]string{v.Ask.Arms[0].ID: "225 F", v.Ask.Arms[1].ID: "300 F"}[*k.Runs[0].ArmID]
		if k.Runs[0].SetPointTyped != want {
			t.Errorf("an arm of %s is burned at %s", want, k.Runs[0].SetPointTyped)
		}
	}
}

func TestAPitSaysWhatItTakesAndItsVents(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	path := fmt.Sprintf("/api/pits/%d/burn", v.Cooks[0].Runs[0].PitID)
	in := pits.BurnInput{Kind: "offset", Piece: "2 lb", Vents: []string{"intake left", " intake right ", ""},
		Capacity: []store.Load{{Piece: v.Ask.Cut, Way: "flat", Number: 3}, {Piece: v.Ask.Cut, Way: "hung", Number: 9}, {}}}
	var all []store.Pit
	odalys.must("PUT", path, in, 200, &all)
	if p := all[0]; p.Burn.PieceTyped != "2 lb" || len(p.Vents) != 2 || p.Vents[1] != "intake right" || len(p.Capacity) != 2 {
		t.Errorf("the pit is kept as %+v", p)
	}
	d := draft(v)
	d.Cook.Runs[0].Setup = "one shelf, flat"
	var p plan.PlanView
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/plan", v.ID), d, 200, &p)
	crowded := false
	for _, c := range p.Conflicts {
		crowded = crowded || strings.Contains(c.Words, "has 3 places and is asked for 4 cuts")
	}
	if !crowded {
		t.Errorf("four pieces in a pit that takes three flat: %+v", p.Conflicts)
	}
	in.Vents = []string{"intake", "intake"}
	odalys.refused("PUT", path, in, 422, "vents[1]")
	in.Vents, in.Capacity = nil, []store.Load{{Piece: "leg"}}
	odalys.refused("PUT", path, in, 422, "capacity[0].number")
}

// TestALogAssignsToHolders puts a column of a file to the box.
func TestALogAssignsToHolders(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	var box store.Holder
	odalys.must("POST", "/api/holders", barn.NamedInput{Name: "Warm Box"}, 201, &box)
	data := []byte(strings.Replace(string(barnLog(60)), "1R (F)", "Warm Box (F)", 1))
	var p fire.LogPreview
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	odalys.upload(logs+"/preview", data, fire.LogOptions{Outside: "keep"}, &p)
	got := p.Columns[2].Target
	if got.HolderID == nil || *got.HolderID != box.ID {
		t.Fatalf("a column of the box's name is guessed as %+v", got)
	}
	if status, problem := odalys.upload(logs, data, fire.LogOptions{Outside: "keep", Targets: map[string]store.Target{"Warm Box (F)": got}},
		nil); status != 201 {
		t.Fatalf("it is answered with %d %+v", status, problem)
	}
	if n := b.count("select count(*) from probe_assignments where holder_run_id is not null and voided_at is null"); n != 1 {
		t.Errorf("%d probes measure the box", n)
	}
	none := int64(99)
	if status, problem := odalys.upload(logs, data, fire.LogOptions{Outside: "keep",
		Targets: map[string]store.Target{"Warm Box (F)": {HolderID: &none}}},
		nil); status != 422 || !strings.Contains(problem.Errors[0].Problem, "no holder") {
		t.Errorf("a holder there is not is answered with %d %+v", status, problem)
	}
}

// TestTheWetBulbIsToldByStretch reads a wick by hand before and after a wrap.
func TestTheWetBulbIsToldByStretch(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	v = odalys.log(v, logbook.On, 300, logbook.Detail{}, v.Cuts[0].ID, v.Cuts[1].ID)
	run := v.Cooks[0].Runs[0].ID
	spot := func(hours float64, read string) {
		t.Helper()
		at := time.Now().Add(-time.Duration(hours * float64(time.Hour)))
		odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), fire.EventInput{Act: logbook.Spot, Press: uuid.NewString(),
			At: &at, PitRunIDs: []int64{run}, Detail: logbook.Detail{Of: logbook.OfWetBulb, Read: read}}, 201, nil)
	}
	spot(4, "140 F")
	spot(3.5, "144 F")
	v = odalys.log(v, logbook.Wrap, 180, logbook.Detail{Wrap: "paper"}, v.Cuts[0].ID)
	spot(1, "150 F")
	var far struct {
		Arms []struct {
			Arm int `json:"arm"`
			Air []struct {
				Stretch string   `json:"stretch"`
				WetC    float64  `json:"wet_bulb_c"`
				RH      *float64 `json:"rh"`
			} `json:"air"`
		} `json:"arms"`
	}
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/so-far", v.Cooks[0].ID), nil, 200, &far)
	f := func(c float64) float64 { return math.Round(1.8*c + 32) }
	for _, a := range far.Arms {
		switch {
		case a.Arm == 0 && (len(a.Air) != 2 || a.Air[0].Stretch != "bare" || f(a.Air[0].WetC) != 142 || f(a.Air[1].WetC) != 150):
			t.Errorf("wrapped after three hours its air was %+v", a.Air)
		case a.Arm == 1 && (len(a.Air) != 1 || f(a.Air[0].WetC) != 145 || a.Air[0].RH != nil):
			t.Errorf("bare all along its air was %+v", a.Air)
		}
	}
}
