package watch

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/alarm"
	"whitebarn/core/logbook"
	"whitebarn/internal/barn/gate"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

// burningBarn is the demo barn, its cook under way and a monitor whose clock is set by hand.
func burningBarn(t *testing.T) (s *store.Store, cook int64, look func(before time.Duration) string) {
	t.Helper()
	s = demobarn.Store(t)
	now := demobarn.Now
	if err := s.Pool().QueryRow(t.Context(), "select id from cooks where played order by id limit 1").Scan(&cook); err != nil {
		t.Fatal(err)
	}
	at := now
	k := NewMonitor(New(s, planner.New(s, &plans)), gate.New(s, func() time.Time { return at }), func() time.Time { return at })
	return s, cook, func(before time.Duration) string {
		t.Helper()
		at = now.Add(-before)
		if err := k.Look(t.Context()); err != nil {
			t.Fatal(err)
		}
		all, err := s.Alarms(t.Context(), cook)
		if err != nil {
			t.Fatal(err)
		}
		var out []string
		for _, a := range all {
			text := string(a.Kind)
			if a.OverAt != nil {
				text += " over"
			}
			if a.SeenBy != "" {
				text += " seen by " + a.SeenBy
			}
			out = append(out, text)
		}
		return strings.Join(out, ", ")
	}
}

func TestAnAlarmIsToldSeenAndNotRepeated(t *testing.T) {
	s, cook, look := burningBarn(t)
	set := func(f float64) {
		if _, err := s.Pool().Exec(t.Context(), "update pit_runs set set_point_c = $1 where id in (select pit_run_id from cook_pit_runs where cook_id = $2)", (f-32)/1.8, cook); err != nil {
			t.Fatal(err)
		}
	}
	if got := look(12 * time.Minute); got != "" {
		t.Fatalf("a cook that goes well tells %q", got)
	}
	set(225)
	if got := look(11 * time.Minute); got != "" {
		t.Errorf("a pit 25 F over for one look tells %q", got)
	}
	if got := look(5 * time.Minute); got != "pit high" {
		t.Fatalf("a pit 25 F over for six minutes tells %q", got)
	}
	all, err := s.Alarms(t.Context(), cook)
	if err != nil || !strings.Contains(all[0].Words, "Brick Pit is") || all[0].Level != alarm.Watch {
		t.Errorf("it is told as %+v (%v)", all, err)
	}
	for range 2 { // seen twice is seen once
		if _, err := s.SeeAlarm(t.Context(), 3, all[0].ID, demobarn.Now); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := s.SeeAlarm(t.Context(), 2, all[0].ID, demobarn.Now); err != nil {
		t.Fatal(err)
	}
	if got := look(5 * time.Minute); got != "pit high seen by Tove" {
		t.Errorf("seen, it tells %q", got)
	}
	// Told again as grave as before it stays seen; graver, nobody has seen it.
	for _, c := range []struct {
		level alarm.Level
		want  string
	}{{alarm.Watch, "pit high seen by Tove"}, {alarm.Grave, "pit high"}} {
		again := []alarm.Change{{Sight: alarm.Sight{Kind: all[0].Kind, Subject: all[0].Subject, Level: c.level, Words: all[0].Words}, Raised: true}}
		if err := s.KeepAlarms(t.Context(), cook, nil, nil, again, demobarn.Now); err != nil {
			t.Fatal(err)
		}
		if got := look(5 * time.Minute); got != c.want {
			t.Errorf("told again as %s it tells %q, want %q", c.level, got, c.want)
		}
	}
	if _, err := s.SeeAlarm(t.Context(), 3, all[0].ID, demobarn.Now); err != nil {
		t.Fatal(err)
	}
	set(250)
	look(4 * time.Minute)
	if got := look(0); got != "pit high over seen by Tove" {
		t.Errorf("back in its band it tells %q", got)
	}
}

func TestAnotherKeeperGoesOnFromThere(t *testing.T) {
	s, cook, look := burningBarn(t)
	if _, err := s.Pool().Exec(t.Context(), "update pit_runs set set_point_c = 107 where id in (select pit_run_id from cook_pit_runs where cook_id = $1)", cook); err != nil {
		t.Fatal(err)
	}
	look(11 * time.Minute) // the lid was open not long before
	// The server is gone; the next one remembers since when the pit is too hot.
	at := demobarn.Now.Add(-5 * time.Minute)
	other := NewMonitor(New(s, planner.New(s, &plans)), gate.New(s, func() time.Time { return at }), func() time.Time { return at })
	if err := other.Look(t.Context()); err != nil {
		t.Fatal(err)
	}
	all, err := s.Alarms(t.Context(), cook)
	if err != nil || len(all) != 1 || all[0].Kind != alarm.PitHigh {
		t.Errorf("the next monitor tells %+v (%v)", all, err)
	}
	release, ok, err := s.HoldWatch(t.Context())
	if err != nil || !ok {
		t.Fatalf("nobody watches and the watch cannot be had: %v", err)
	}
	if _, second, _ := s.HoldWatch(t.Context()); second {
		t.Error("two servers watch at once")
	}
	release()
}

func TestADeviceThatFallsSilentIsToldOfOnce(t *testing.T) {
	_, _, look := burningBarn(t)
	if got := look(-8 * time.Minute); got != "probe silent" {
		t.Errorf("eight minutes without a reading of seven probes tell %q, want it told once", got)
	}
}

func TestAPulledCutTellsNothing(t *testing.T) {
	s, cook, look := burningBarn(t)
	placed, err := s.Placements(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	for i, l := range placed {
		if l.CookID != cook || l.PitRunID == nil {
			continue
		}
		press := fmt.Sprintf("0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a%04d", i)
		if err := s.Log(t.Context(), 1, []store.Event{{Act: logbook.Pull, At: demobarn.Now, CutID: &l.CutID, Press: press}}); err != nil {
			t.Fatal(err)
		}
	}
	if got := look(-8 * time.Minute); got != "" {
		t.Errorf("with every cut pulled it tells %q", got)
	}
	if under, err := s.UnderWay(t.Context()); err != nil || !slices.Contains(under, cook) {
		t.Errorf("at rest it is watched no more: %v (%v)", under, err)
	}
	for i, l := range placed {
		press := fmt.Sprintf("0b7d3c1e-6d1c-4f35-9a53-0d6f9e2b%04d", i)
		if err := s.Log(t.Context(), 1, []store.Event{{Act: logbook.Carve, At: demobarn.Now, CutID: &l.CutID, Press: press}}); err != nil {
			t.Fatal(err)
		}
	}
	if under, err := s.UnderWay(t.Context()); err != nil || slices.Contains(under, cook) {
		t.Errorf("cut up it is under way: %v (%v)", under, err)
	}
}

func TestClocksRunUntilTheColdPointIsWarm(t *testing.T) {
	s, cook, _ := burningBarn(t)
	w := New(s, planner.New(s, &plans))
	clocks := func(ago time.Duration) []Clock {
		t.Helper()
		out, err := w.Clocks(t.Context(), cook, demobarn.Now.Add(-ago))
		if err != nil || len(out) != 6 {
			t.Fatalf("%d clocks run (%v), want six", len(out), err)
		}
		return out
	}
	for _, k := range clocks(2 * time.Hour) { // an hour and a half on
		if !k.Known || k.Passed || k.For < 85*time.Minute || k.For > 95*time.Minute || k.Watch {
			t.Errorf("after an hour and a half the clock of cut %d is %+v", k.CutID, k.Range)
		}
	}
	for _, k := range clocks(0) {
		if !k.Passed || k.ForS < 2*3600 || k.ForS > 3.4*3600 {
			t.Errorf("now the clock of cut %d is %+v", k.CutID, k.Range)
		}
		if !k.ComeUp.Known || !k.ComeUp.Done || k.ComeUp.ForS < 3600 || k.ComeUp.Late || k.Lethality == nil || *k.Lethality <= 0 || k.ByHand {
			t.Errorf("cut %d came up as %+v, with the lethality %v", k.CutID, k.ComeUp, k.Lethality)
		}
	}
}

func TestAMinuteIsItsMedian(t *testing.T) {
	on := time.Date(2026, 10, 3, 6, 0, 0, 0, time.UTC)
	var trace []logbook.Point
	for s := range 180 {
		c := 60 + float64(s/60)
		if s%60 == 7 {
			c = 95 // a spike in every minute
		}
		trace = append(trace, logbook.Point{At: on.Add(time.Duration(s) * time.Second), C: c})
	}
	times, core := minutes(trace, on)
	if fmt.Sprint(times) != "[30 90 150]" || fmt.Sprint(core) != "[60 61 62]" {
		t.Errorf("three minutes are %v at %v", core, times)
	}
	if times, core = minutes(nil, on); len(times) != 0 || len(core) != 0 {
		t.Errorf("nothing is %v at %v", core, times)
	}
}
