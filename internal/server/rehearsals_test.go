package server

import (
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/trials"
)

// TestARehearsalIsPlayedApart rehearses a planned cook at full speed: cuts
// that are put on warm up, and nothing of it reaches the trial itself.
func TestARehearsalIsPlayedApart(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	v.Outline.Arms[1].Phases[0].Name = "slow smoke"
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), v.Outline, 200, &v)
	var r Rehearsal
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/rehearse", v.Cooks[0].ID), RehearsalInput{Rate: 600}, 201, &r)
	var copied trials.TrialView
	path := fmt.Sprintf("/api/trials/%d", r.TrialID)
	odalys.must("GET", path, nil, 200, &copied)
	k := copied.Cooks[0]
	if copied.Rehearses == nil || *copied.Rehearses != v.ID || !k.Played || len(copied.Cuts) != 4 || copied.Cuts[0].Weighings == nil || copied.Cuts[0].ID == v.Cuts[0].ID {
		t.Fatalf("the rehearsal is %+v", copied)
	}
	if o := copied.Outline; !o.Planned || o.Arms[1].ArmID != copied.Ask.Arms[1].ID || o.Arms[1].Phases[0].Name != "slow smoke" {
		t.Errorf("the rehearsal's plan is %+v", o)
	}
	act := func(act logbook.Act, pits []int64, cuts ...int64) {
		odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", k.ID), fire.EventInput{Act: act, CutIDs: cuts, PitRunIDs: pits, Press: uuid.NewString()}, 201, nil)
	}
	act(logbook.On, nil, copied.Cuts[0].ID, copied.Cuts[1].ID)
	last := func() map[string]float64 {
		var tr fire.Traces
		odalys.must("GET", fmt.Sprintf("/api/cooks/%d/traces?columns=300", k.ID), nil, 200, &tr)
		out := map[string]float64{}
		for _, p := range tr.Traces {
			name := "pit"
			for _, c := range copied.Cuts {
				if p.CutID != nil && *p.CutID == c.ID {
					name = c.Name
				}
			}
			if len(p.Points) == 0 {
				continue
			}
			out[name] = p.Points[len(p.Points)-1][1]
		}
		return out
	}
	for end := time.Now().Add(30 * time.Second); last()["1L"] < 8; time.Sleep(100 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("the cut that went on is at %v", last())
		}
	}
	if now := last(); now["pit"] < 60 || now["2L"] != 0 {
		t.Errorf("the pit and the cut still in the fridge show %v", now)
	}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d/rate", k.ID), RehearsalInput{Rate: 1}, 200, &copied)
	slow := copied.Cooks[0].Now
	if copied.Cooks[0].Rate != 1 {
		t.Errorf("the rate is %g, want 1", copied.Cooks[0].Rate)
	}
	odalys.refused("PUT", fmt.Sprintf("/api/cooks/%d/rate", k.ID), RehearsalInput{Rate: 5000}, 422, "no speed")
	odalys.refused("PUT", fmt.Sprintf("/api/cooks/%d/rate", v.Cooks[0].ID), RehearsalInput{Rate: 2}, 409, "no rehearsal")
	odalys.must("GET", path, nil, 200, &copied)
	if passed := copied.Cooks[0].Now.Sub(slow); passed > 10*time.Second {
		t.Errorf("at the true speed the clock ran on by %v", passed)
	}
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/stop", k.ID), nil, 200, &copied)
	if copied.Cooks[0].Played {
		t.Error("the rehearsal goes on after its end")
	}
	if copied.Cooks[0].Rate != 1 {
		t.Errorf("after its end the clock runs %g times as fast", copied.Cooks[0].Rate)
	}

	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	if len(v.Events) != 0 || len(v.Rehearsals) != 1 || v.Rehearsals[0] != r.TrialID {
		t.Errorf("the trial itself has the events %+v and the rehearsals %v", v.Events, v.Rehearsals)
	}
	var lines []trials.TrialLine
	odalys.must("GET", "/api/trials", nil, 200, &lines)
	if len(lines) != 1 {
		t.Errorf("the list has %d trials, want the real one alone", len(lines))
	}
	if n := b.count("select count(*) from readings r join probe_assignments a using (probe_id) where a.cook_id = " + fmt.Sprint(v.Cooks[0].ID)); n != 0 {
		t.Errorf("%d simulated readings are in the real cook", n)
	}
}

// TestARehearsedDayEndsByItself sets the clock close to the end of the day.
func TestARehearsedDayEndsByItself(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	var r Rehearsal
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/rehearse", v.Cooks[0].ID), RehearsalInput{Rate: 600}, 201, &r)
	if _, err := b.store.Pool().Exec(t.Context(), "update cooks set clock_origin = day_start + interval '35 h 55 min', clock_start = now() where played"); err != nil {
		t.Fatal(err)
	}
	path := fmt.Sprintf("/api/trials/%d", r.TrialID)
	for end := time.Now().Add(30 * time.Second); ; time.Sleep(100 * time.Millisecond) {
		odalys.must("GET", path, nil, 200, &v)
		if !v.Cooks[0].Played {
			return
		}
		if time.Now().After(end) {
			t.Fatal("the day does not end")
		}
	}
}

// TestARehearsalGoesOnAfterARestart: another server plays on from where the
// first stopped, and no reading is there twice.
func TestARehearsalGoesOnAfterARestart(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	first, _ := New(servicesOf(b.store), Options{})
	id, err := first.Player.Rehearse(t.Context(), b.id, v.Cooks[0].ID, 300)
	if err != nil {
		t.Fatal(err)
	}
	pit := func() int { return b.count("select count(*) from readings") }
	grows := func() {
		t.Helper()
		for before, end := pit(), time.Now().Add(20*time.Second); pit() <= before+20; time.Sleep(50 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("the rehearsal of trial %d stands still at %d readings", id, pit())
			}
		}
	}
	grows()
	first.Close()
	still := pit()
	second, _ := New(servicesOf(b.store), Options{})
	defer second.Close()
	if err := second.Play(t.Context()); err != nil {
		t.Fatal(err)
	}
	grows()
	// The first server is told to stop what the second one plays.
	third, _ := New(servicesOf(b.store), Options{})
	defer third.Close()
	var cook int64
	if err := b.store.Pool().QueryRow(t.Context(), "select id from cooks where played").Scan(&cook); err != nil {
		t.Fatal(err)
	}
	if err := third.Player.Stop(t.Context(), cook); err != nil {
		t.Fatal(err)
	}
	// It is told within a second or so; then it is silent for as long as it brought some before.
	for before, end := pit(), time.Now().Add(time.Minute); ; before = pit() {
		time.Sleep(700 * time.Millisecond)
		if pit() == before {
			break
		}
		if time.Now().After(end) {
			t.Fatal("stopped through another server it goes on")
		}
	}
	if twice := b.count("select count(*) from (select 1 from readings group by probe_id, at having count(*) > 1) x"); twice != 0 {
		t.Errorf("%d moments are there twice after the restart at %d readings", twice, still)
	}
}
