package evidence

import (
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// shoulder went on at 12:00, out of the fridge for half an hour before, was wrapped
// at 15:00, pulled at 20:00, held from 21:00 and carved at 23:00.
func shoulder() Cut {
	act := func(a logbook.Act, hour int, d logbook.Detail) Act {
		return Act{Act: a, At: day(3, hour, 0), Detail: d}
	}
	return Cut{
		ID: 1, Name: "1L", ArmID: 10, Weighings: []yield.Weighing{{Stage: yield.Trimmed, Kg: 3}, {Stage: yield.Off, Kg: 1.9}},
		Acts: []Act{act(logbook.On, 12, logbook.Detail{OutMin: 30}), act(logbook.Spritz, 13, logbook.Detail{}), act(logbook.Spritz, 14, logbook.Detail{}),
			act(logbook.Wrap, 15, logbook.Detail{}), act(logbook.Unwrap, 18, logbook.Detail{}), act(logbook.Pull, 20, logbook.Detail{}), act(logbook.Hold, 21, logbook.Detail{}), act(logbook.Carve, 23, logbook.Detail{})},
		Stays: []Stay{{CookID: 5, PitRunID: 7, Position: "A1"}, {CookID: 5, HolderRunID: 9}},
	}
}

func TestTheWeightAtTheFireIsThatOfTheLastPrep(t *testing.T) {
	c := shoulder()
	if kg, ok := c.AtFire(); !ok || kg != 3 {
		t.Errorf("trimmed alone it goes to the fire with %g kg", kg)
	}
	// In whatever order it was typed.
	c.Weighings = append([]yield.Weighing{{Stage: yield.Prepped, Kg: 3.2}}, c.Weighings...)
	if kg := c.AtFireOr(9); kg != 3.2 {
		t.Errorf("injected it goes to the fire with %g kg, want 3.2", kg)
	}
	if kg := (Cut{}).AtFireOr(2.5); kg != 2.5 {
		t.Errorf("never weighed it is taken for %g kg, want the usual", kg)
	}
}

func TestTimesOfACut(t *testing.T) {
	c := shoulder()
	on, pull, ok := c.Cooked()
	if !ok || !on.Equal(day(3, 12, 0)) || !pull.Equal(day(3, 20, 0)) || c.Burns() {
		t.Errorf("it cooked from %s to %s (%t)", on, pull, ok)
	}
	if left := c.Left(); !left.Equal(day(3, 11, 30)) {
		t.Errorf("it left the fridge at %s", left)
	}
	for now, want := range map[int]time.Duration{22: time.Hour, 23: 2 * time.Hour} {
		if got := c.Held(day(3, now, 0)); got != want {
			t.Errorf("at %d:00 it was held for %s, want %s", now, got, want)
		}
	}
	if got := c.Held(day(4, 9, 0)); got != 2*time.Hour {
		t.Errorf("the morning after it was held for %s, want until it was carved", got)
	}
	if age, ok := c.ServingAge(day(3, 23, 30)); !ok || age != 3*time.Hour+30*time.Minute {
		t.Errorf("at the table it is %s old", age)
	}
	if from, to, ok := c.OnTheFire(day(3, 14, 0)); !ok || to.Sub(from) != 2*time.Hour {
		t.Errorf("at 14:00 it is on since %s", from)
	}
	if _, _, ok := c.OnTheFire(day(3, 11, 0)); ok {
		t.Error("before it went on it is on the fire")
	}
	if n := c.Count(logbook.Spritz, day(3, 13, 30)); n != 1 {
		t.Errorf("by half past one it was spritzed %d times", n)
	}
	if !(Cut{Acts: c.Acts[:3]}).Burns() {
		t.Error("on and not pulled, it does not burn")
	}
}

// TestACutIsCoveredAsItsActsSay: what was said at the wrap, else its arm's wrap.
func TestACutIsCoveredAsItsActsSay(t *testing.T) {
	c := shoulder()
	keys := func(arm trial.Level, now int) (out []string) {
		for _, k := range c.Changes(arm, day(3, now, 0)) {
			out = append(out, k.Wrap.Key)
		}
		return out
	}
	for name, x := range map[string]struct {
		said logbook.Material
		arm  trial.Level
		want string
	}{
		"as it was said":      {"pan", trial.Level{Key: "paper"}, "pan"},
		"as its arm is":       {"", trial.Level{Key: "paper", Value: "our paper"}, "paper"},
		"another wrap":        {logbook.OtherMaterial, trial.Level{}, "foil"},
		"of an arm left bare": {"", trial.Level{Key: trial.None}, "foil"},
		"words tell nothing":  {"", trial.Level{Value: "covered pan"}, "foil"},
	} {
		c.Acts[3].Detail.Wrap = x.said
		got := keys(x.arm, 19)
		if len(got) != 5 || got[0] != "none" || got[2] != "none" || got[3] != x.want || got[4] != "none" {
			t.Errorf("%s: from bare over the spritzes to the unwrap it was in %v, want %s", name, got, x.want)
		}
	}
	if got := keys(trial.Level{}, 14); len(got) != 3 {
		t.Errorf("by two it was covered %v", got)
	}
}

// TestHeatIsReadWhereTheCutWas moves it from one pit to another half way.
func TestHeatIsReadWhereTheCutWas(t *testing.T) {
	c := shoulder()
	trial := Trial{Probes: []Probe{{ID: 1, PitRunID: 7}, {ID: 2, PitRunID: 7, Point: "A1"}, {ID: 3, PitRunID: 8, Point: "B2"}, {ID: 4, PitRunID: 8}, {ID: 5, CutID: 1}}}
	whole, last := trial.HeatWindows(c, day(4, 0, 0))
	if len(whole) != 1 || whole[0].Probe.ID != 2 || !whole[0].From.Equal(day(3, 12, 0)) || !whole[0].To.Equal(day(3, 20, 0)) || len(last) != 1 || !last[0].From.Equal(day(3, 19, 0)) {
		t.Errorf("at A1 its heat is read over %+v, the last hour %+v", whole, last)
	}
	c.Stays = []Stay{{PitRunID: 7, Position: "A1", To: day(3, 16, 0)}, {PitRunID: 8, Position: "C1", From: day(3, 16, 0)}}
	whole, last = trial.HeatWindows(c, day(4, 0, 0))
	if len(whole) != 2 || whole[0].Probe.ID != 2 || !whole[0].To.Equal(day(3, 16, 0)) || whole[1].Probe.ID != 4 || !whole[1].From.Equal(day(3, 16, 0)) || len(last) != 1 || last[0].Probe.ID != 4 {
		t.Errorf("moved at four its heat is read over %+v, the last hour %+v", whole, last)
	}
	if s, ok := c.Pit(day(3, 15, 0)); !ok || s.PitRunID != 7 {
		t.Errorf("at three it lay in %+v", s)
	}
	if s, ok := c.Lies(); !ok || s.PitRunID != 8 || c.Holder() != 0 || shoulder().Holder() != 9 {
		t.Errorf("last it lay in %+v", s)
	}
}

// TestAnArmsYieldIsTotalOutOverTotalIn weighs a large cut that lost much beside a small
// one that lost little: the mean of the shares would say 60 %.
func TestAnArmsYieldIsTotalOutOverTotalIn(t *testing.T) {
	weighed := func(id, arm int64, in, out float64) Cut {
		c := Cut{ID: id, ArmID: arm, Weighings: []yield.Weighing{{Stage: yield.Trimmed, Kg: in}}}
		if out > 0 {
			c.Weighings = append(c.Weighings, yield.Weighing{Stage: yield.Off, Kg: out})
		}
		return c
	}
	x := Trial{Ask: trial.Ask{Arms: []trial.Arm{{ID: 10}, {ID: 11}}}, Cuts: []Cut{weighed(1, 10, 9, 4.5), weighed(2, 10, 1, 0.7), weighed(3, 10, 5, 0), weighed(4, 11, 2, 1)}}
	if got := x.ArmAccount(0).CookedYield; got == nil || got.Value < 0.5199 || got.Value > 0.5201 {
		t.Errorf("5.2 of 10 kg is a yield of %+v", got)
	}
	if got := x.ArmAccount(1); got.CookedYield.Value != 0.5 || got.EdibleYield != nil {
		t.Errorf("the other arm has %+v", got)
	}
}

func TestTheStepsCountWhatIsKnown(t *testing.T) {
	c := shoulder()
	read := 95.0
	c.Acts = append(c.Acts, Act{Act: logbook.Probe, At: day(3, 20, 0), Detail: logbook.Detail{C: &read}})
	x := Trial{Ask: trial.Ask{Arms: []trial.Arm{{ID: 10}}, Outcomes: []trial.Chosen{{Key: trial.Overall}}}, Cuts: []Cut{c, {ID: 2}}, Cooks: []Cook{{ID: 5}}}
	p := x.Progress()
	if p.Cuts != 2 || p.Placed != 1 || p.ArmsWithCuts != 1 || p.Weighed != 1 || p.Planned != 1 || p.On != 1 || p.Pulled != 1 || p.Off != 1 || p.Read != 1 || p.Prepped != 0 || p.Revealed {
		t.Errorf("one of two cuts is done, and the steps count %+v", p)
	}
}
