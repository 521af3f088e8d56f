package server

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

// stays says where a cut lay, one after the other.
func (b *testBarn) stays(t *testing.T, v trials.TrialView, cut int64) string {
	t.Helper()
	known, err := reader.One(t.Context(), b.store, v.ID)
	if err != nil {
		t.Fatal(err)
	}
	c, _ := known.Cut(cut)
	var out []string
	for _, s := range c.Stays {
		where := "holder"
		if run, ok := known.Run(s.PitRunID); ok {
			where = run.Pit
		}
		text := strings.TrimSpace(where + " " + s.Position)
		if !s.From.IsZero() {
			text += s.From.UTC().Format(" from 15:04")
		}
		out = append(out, text)
	}
	return strings.Join(out, ", ")
}

// TestACutIsFollowedFromPitToPitAndIntoItsHolder moves it, into a cooker that was taken for
// it and into a holder, corrects that and takes it back.
func TestACutIsFollowedFromPitToPitAndIntoItsHolder(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	one, two := v.Cuts[0].ID, v.Cuts[1].ID
	first := v.Cooks[0].Runs[0].Pit
	oven, err := b.store.AddPit(t.Context(), "Oven")
	if err != nil {
		t.Fatal(err)
	}
	box, err := b.store.AddHolder(t.Context(), "Box")
	if err != nil {
		t.Fatal(err)
	}
	path := fmt.Sprintf("/api/cooks/%d/", v.Cooks[0].ID)
	odalys.refused("POST", path+"runs", fire.CookerInput{PitID: 99, SetPoint: "300"}, 422, "there is no such pit")
	for range 2 { // taken twice it is there once
		odalys.must("POST", path+"runs", fire.CookerInput{PitID: oven.ID, SetPoint: "300 F"}, 201, nil)
	}
	v = odalys.again(v)
	if len(v.Cooks[0].Runs) != 2 || v.Cooks[0].Runs[1].SetPointTyped != "300 F" {
		t.Fatalf("the cook has the pits %+v", v.Cooks[0].Runs)
	}
	run := v.Cooks[0].Runs[1].ID
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{To: "B1", Lies: []logbook.Lie{"fat side up"}}, one, two)
	press := odalys.tap(&v, logbook.Move, "2026-09-19T16:00:00Z", logbook.Detail{RunID: run}, one)
	odalys.tap(&v, logbook.Pull, "2026-09-19T18:00:00Z", logbook.Detail{}, one, two)
	odalys.tap(&v, logbook.Hold, "2026-09-19T18:30:00Z", logbook.Detail{HolderID: box.ID}, one)
	want := first + ", " + first + " B1 from 12:00, Oven from 16:00, holder from 18:30"
	if got := b.stays(t, v, one); !strings.HasSuffix(got, want) {
		t.Errorf("it lay in %s, want %s", got, want)
	}
	if got := b.stays(t, v, two); strings.Contains(got, "Oven") || strings.Contains(got, "holder") {
		t.Errorf("the other went along: %s", got)
	}
	at := odalys.clock("2026-09-19T16:10:00Z")
	bad := fire.EventInput{Act: logbook.Move, At: &at, Detail: logbook.Detail{RunID: 999}, CutIDs: []int64{two}, Press: uuid.NewString()}
	odalys.refused("POST", path+"events", bad, 422, "that pit is not in this cook")
	bad.Act, bad.Detail = logbook.Hold, logbook.Detail{HolderID: 99}
	odalys.refused("POST", path+"events", bad, 422, "there is no holder 99")
	to := fire.CorrectionInput{At: odalys.clock("2026-09-19T17:00:00Z"), Detail: logbook.Detail{RunID: run, To: "A1"}, Press: uuid.NewString()}
	odalys.must("PUT", "/api/presses/"+press, to, 200, nil)
	if got := b.stays(t, v, one); !strings.Contains(got, "Oven A1 from 17:00") {
		t.Errorf("corrected, it lay in %s", got)
	}
	odalys.must("POST", "/api/presses/"+to.Press+"/void", barn.Why{Why: "undo"}, 200, nil)
	if got := b.stays(t, v, one); strings.Contains(got, "Oven") {
		t.Errorf("taken back, it lay in %s", got)
	}
}

// TestWhatDoesNotFitIsAskedAbout refuses a spritz of a pulled cut until somebody is sure.
func TestWhatDoesNotFitIsAskedAbout(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cut := v.Cuts[0].ID
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{}, cut)
	odalys.tap(&v, logbook.Pull, "2026-09-19T18:00:00Z", logbook.Detail{}, cut)
	at := odalys.clock("2026-09-19T18:05:00Z")
	e := fire.EventInput{Act: logbook.Spritz, At: &at, CutIDs: []int64{cut}, Press: uuid.NewString()}
	path := fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID)
	odalys.refused("POST", path, e, 422, "It was pulled at {time:2026-09-19T18:00:00Z}")
	e.Sure = true
	odalys.must("POST", path, e, 201, nil)
	for _, act := range []logbook.Act{logbook.Wrap, logbook.Sear, logbook.Sauce, logbook.Torch, logbook.Chill} { // at any time
		e.Act, e.Sure, e.Press = act, false, uuid.NewString()
		odalys.must("POST", path, e, 201, nil)
	}
	again := odalys.clock("2026-09-19T19:00:00Z")
	e.Act, e.At, e.Press = logbook.On, &again, uuid.NewString() // it was chilled: another fire
	odalys.must("POST", path, e, 201, nil)
	e.Press = uuid.NewString()
	e.Sure = true
	odalys.refused("POST", path, e, 422, "it is on since")
}

// TestTheSetPointOfTheMomentIsWhatArmsAreComparedBy steps a pit half way.
func TestTheSetPointOfTheMomentIsWhatArmsAreComparedBy(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{}, v.Cuts[0].ID, v.Cuts[1].ID)
	press := odalys.tap(&v, logbook.Set, "2026-09-19T14:00:00Z", logbook.Detail{Set: "300 F"})
	odalys.tap(&v, logbook.Pull, "2026-09-19T16:00:00Z", logbook.Detail{}, v.Cuts[0].ID, v.Cuts[1].ID)
	set := func() float64 {
		var got watch.Delivered
		odalys.must("GET", fmt.Sprintf("/api/cooks/%d/so-far", v.Cooks[0].ID), nil, 200, &got)
		return got.Arms[0].SetC
	}
	from, stepped := v.Cooks[0].Runs[0].SetPointC, (300-32)/1.8
	if got := set(); got < (from+stepped)/2-0.01 || got > (from+stepped)/2+0.01 {
		t.Errorf("half at %g C and half at %g, its set point is %g", from, stepped, got)
	}
	odalys.must("POST", "/api/presses/"+press+"/void", barn.Why{Why: "undo"}, 200, nil)
	if got := set(); got != from {
		t.Errorf("taken back it is %g", got)
	}
}

func TestTheMealIsMovedWithTheReasonOnRecord(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/cooks/%d/meal", v.Cooks[0].ID)
	later := time.Now().Add(3 * time.Hour).Truncate(time.Minute).UTC()
	odalys.must("PUT", path, plan.MealInput{ServeAt: later}, 200, nil)
	if v = odalys.again(v); !v.Cooks[0].ServeAt.Equal(later) {
		t.Errorf("the table is set at %s, want %s", v.Cooks[0].ServeAt, later)
	}
	odalys.refused("PUT", path, plan.MealInput{ServeAt: later.AddDate(0, 0, -3)}, 422, "before now")
	var kept int
	err := b.store.Pool().QueryRow(t.Context(), "select count(*) from changes where subject = 'cook' and why = 'the meal was moved'").Scan(&kept)
	if err != nil || kept != 1 {
		t.Errorf("the record has %d of it (%v)", kept, err)
	}
	tove, _ := b.join(odalys, "Tove", store.Crew)
	tove.refused("PUT", path, plan.MealInput{ServeAt: later}, 403, "")
}

// TestAnActHoursBeforeItsTimeIsAskedAbout: a thumb that was aimed at another pad pulls both pieces of a cook that has
// hardly begun, lights the fire after the meat, or mistypes the day. Said to be so, it is taken.
func TestAnActHoursBeforeItsTimeIsAskedAbout(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cook := v.Cooks[0]
	serve := time.Now().Add(14 * time.Hour)
	in := plan.PlanInput{ServeAt: serve, Runs: []plan.RunInput{{ID: cook.Runs[0].ID, PitID: cook.Runs[0].PitID, SetPoint: "250 F"}}}
	ids := []int64{v.Cuts[0].ID, v.Cuts[1].ID}
	for _, id := range ids {
		in.Placements = append(in.Placements, plan.PlacementInput{CutID: id})
	}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d", cook.ID), in, 200, nil)
	path := fmt.Sprintf("/api/cooks/%d/events", cook.ID)
	press := func(act logbook.Act, ago time.Duration, sure bool) fire.EventInput {
		e := fire.EventInput{Act: act, CutIDs: ids, Press: uuid.NewString(), Sure: sure}
		if ago != 0 {
			at := time.Now().Add(-ago)
			e.At = &at
		}
		if act.OfPit() {
			e.CutIDs, e.PitRunIDs = nil, []int64{cook.Runs[0].ID}
		}
		return e
	}
	odalys.must("POST", path, press(logbook.Lit, 20*time.Minute, false), 201, nil)
	odalys.refused("POST", path, press(logbook.On, 40*time.Minute, false), 422, "The fire was lit at")
	odalys.refused("POST", path, press(logbook.On, 20*24*time.Hour, false), 422, "The fire was lit at")
	odalys.refused("POST", path, press(logbook.Wood, 20*24*time.Hour, false), 422, "is far from now, from the table and from all else of this cook")
	odalys.must("POST", path, press(logbook.On, 10*time.Minute, false), 201, nil)
	pull := press(logbook.Pull, 0, false)
	odalys.refused("POST", path, pull, 422, "It would end the cook of 2")
	odalys.must("POST", path, press(logbook.Spritz, 0, false), 201, nil)
	var made fire.Logged
	odalys.must("POST", path, press(logbook.Wrap, 0, true), 201, &made)
	odalys.refused("POST", path, press(logbook.Wrap, 0, false), 422, "another wrap around it?")
	to := fire.CorrectionInput{At: time.Now().AddDate(0, 0, -20), Press: uuid.NewString()}
	odalys.refused("PUT", "/api/presses/"+made.Events[0].Press, to, 422, "is far from now")
	to.At = time.Now().Add(-5 * time.Minute)
	odalys.must("PUT", "/api/presses/"+made.Events[0].Press, to, 200, nil)
	// Being sure of its time answers nothing of what was read.
	for _, read := range []string{"150 F", "60 F"} {
		e := press(logbook.Probe, 0, true)
		e.CutIDs, e.Detail = ids[:1], logbook.Detail{Read: read}
		made = fire.Logged{}
		odalys.must("POST", path, e, 201, &made)
	}
	if d := made.Events[0].Detail.Doubt; d == nil || d.High {
		t.Errorf("60 F just after 150 F is in doubt as %+v, want as too low", d)
	}
	pull.Sure = true
	odalys.must("POST", path, pull, 201, nil)
	pull.Sure = false // it is sent again, as a device does that had no answer
	odalys.must("POST", path, pull, 201, nil)
	if got := len(odalys.again(v).Events); got != 11 {
		t.Errorf("the log holds %d entries, want one of each cut and pit for what was taken", got)
	}
}
