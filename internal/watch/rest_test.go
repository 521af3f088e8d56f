package watch

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/units"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

// TestTheDemosNightIsFollowedIntoItsHold: two in the Warm Box, two on the fire.
func TestTheDemosNightIsFollowedIntoItsHold(t *testing.T) {
	s, _, _ := burningBarn(t)
	var cook int64
	if err := s.Pool().QueryRow(t.Context(), "select max(id) from cooks where played").Scan(&cook); err != nil {
		t.Fatal(err)
	}
	w := New(s, planner.New(s, &plans))
	now := demobarn.Now
	v, err := w.Rest(t.Context(), cook, now)
	if err != nil || len(v.Cuts) != 4 {
		t.Fatalf("%d cuts are followed (%v)", len(v.Cuts), err)
	}
	states := map[RestState]int{}
	for _, c := range v.Cuts {
		states[c.State]++
		switch c.State {
		case StillOn:
			if c.Likely == nil || c.RestS == nil || *c.RestS < 3*3600 {
				t.Errorf("on the fire it is seen as %+v", c)
			}
		case InHold:
			if c.Missing != "" || c.NowC == nil || c.PeakC == nil || len(c.Coming) == 0 || c.KnifeC == nil || len(c.Tender) != 4 || c.From == nil {
				t.Fatalf("in the hold it is seen as %+v", c)
			}
			if *c.PeakC < *c.NowC || *c.KnifeC < units.FToC(140) || *c.KnifeC > units.FToC(165) {
				t.Errorf("it peaked at %g, is at %g and will be at %g C at the knife", *c.PeakC, *c.NowC, *c.KnifeC)
			}
			if !c.From.After(*c.Pull) || c.HoldFrom == nil || c.HoldFrom.Sub(*c.Pull) < 30*time.Minute {
				t.Errorf("pulled at %s it slices well from %s, held from %v", c.Pull, c.From, c.HoldFrom)
			}
			first := c.Coming[0]
			if first.Middle-*c.NowC > 1 || *c.NowC-first.Middle > 1 || c.Tender[3] < c.Tender[0] {
				t.Errorf("what is to come begins at %+v, where the probe shows %g; tender %v", first, *c.NowC, c.Tender)
			}
		}
	}
	if states[StillOn] != 2 || states[InHold] != 2 {
		t.Errorf("they are %v", states)
	}
	if v.Even.Uneven {
		t.Errorf("the hold is what is asked about, and is called uneven: %s", v.Even.Words)
	}
	if len(v.Holders) != 1 || v.Holders[0].Cuts != 2 || v.Holders[0].LowC == nil || *v.Holders[0].LowC > units.FToC(150) ||
		*v.Holders[0].LowC < units.FToC(135) {
		t.Errorf("the holders did %+v", v.Holders)
	}
	// Cut up, it is over: nothing more is forecast past the knife.
	cut := v.Cuts[0].CutID
	for _, c := range v.Cuts {
		if c.State == InHold {
			cut = c.CutID
		}
	}
	e := store.Event{Act: logbook.Carve, At: now.Add(-10 * time.Minute), CutID: &cut, Press: "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a0021"}
	if err := s.Log(t.Context(), 1, []store.Event{e}); err != nil {
		t.Fatal(err)
	}
	if v, err = w.Rest(t.Context(), cook, now); err != nil {
		t.Fatal(err)
	}
	for _, c := range v.Cuts {
		if c.CutID == cut && (c.State != IsCut || !c.Cut || !c.Knife.Equal(e.At.Truncate(time.Microsecond)) || len(c.Coming) > 1) {
			t.Errorf("cut up it is %s at %s with %d points to come", c.State, c.Knife, len(c.Coming))
		}
	}
}

// TestTheOtherArmsRestIsSaidWhileItCanBeEvenedOut pulls one arm of the fire early.
func TestTheOtherArmsRestIsSaidWhileItCanBeEvenedOut(t *testing.T) {
	s, cook, _ := burningBarn(t)
	w := New(s, planner.New(s, &plans))
	now := demobarn.Now
	c, err := w.read(t.Context(), cook, now)
	if err != nil {
		t.Fatal(err)
	}
	for i, k := range c.placed {
		if c.trial.Arm(k.ArmID) != 0 {
			continue
		}
		e := store.Event{Act: logbook.Pull, At: now.Add(-time.Hour), CutID: &c.placed[i].ID, Press: "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a0031"}
		if err := s.Log(t.Context(), 1, []store.Event{e}); err != nil {
			t.Fatal(err)
		}
	}
	v, err := w.Rest(t.Context(), cook, now)
	if err != nil || !v.Even.Uneven || v.Even.Table == nil || !v.Even.Table.After(v.Serve) || v.Even.AllowS != 900 {
		t.Errorf("an arm that was pulled hours before the others rests %+v (%v)", v.Even, err)
	}
}

// TestAlarmsGoByTheSetPointOfTheMoment: a step that was logged is no pit that fell.
func TestAlarmsGoByTheSetPointOfTheMoment(t *testing.T) {
	s, cook, look := burningBarn(t)
	var run int64
	if err := s.Pool().QueryRow(t.Context(), "select pit_run_id from cook_pit_runs where cook_id = $1", cook).Scan(&run); err != nil {
		t.Fatal(err)
	}
	set := func(before time.Duration, c float64, press string) {
		t.Helper()
		e := store.Event{Act: logbook.Set, At: demobarn.Now.Add(-before), PitRunID: &run, Press: press, Detail: logbook.Detail{Set: "x", SetC: &c}}
		if err := s.Log(t.Context(), 1, []store.Event{e}); err != nil {
			t.Fatal(err)
		}
	}
	if got := look(40 * time.Minute); got != "" {
		t.Fatalf("a cook that goes well tells %q", got)
	}
	set(30*time.Minute, units.FToC(300), "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a0011")
	look(20 * time.Minute)
	if got := look(10 * time.Minute); got != "" {
		t.Errorf("set to 300 F twenty minutes ago it tells %q", got)
	}
	set(62*time.Minute, units.FToC(300), "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a0012")
	if _, err := s.Pool().Exec(t.Context(), `update events set voided_at = now(),
		voided_by = 1 where press = '0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a0011'`); err != nil {
		t.Fatal(err)
	}
	look(8 * time.Minute)
	if got := look(2 * time.Minute); got != "pit low" {
		t.Errorf("an hour after the step it is still down, and tells %q", got)
	}
}
