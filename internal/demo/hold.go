package demo

import (
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/rehearse"
	"whitebarn/internal/store"
)

// The night of the hold: when its pit was lit, its arms went on, were wrapped, and the
// first was pulled and put into the box, before now; and when the table is set, after.
const (
	heldLit     = 14*time.Hour + 30*time.Minute
	heldServe   = 6 * time.Hour
	heldBoxed   = 3*time.Hour + 30*time.Minute
	heldPulled  = 4*time.Hour + 10*time.Minute
	heldWrapped = 4*time.Hour + 30*time.Minute // after it went on
)

// hold follows from the settled shoulders: held for nine hours or for four before the
// same table. The first of them are in the Warm Box, the others still on the fire.
func (d *seeder) hold(now time.Time) {
	from := d.settled()
	if d.err != nil {
		return
	}
	a := from.Ask.FollowOn(from.ID, 0)
	a.Question = "Four hours in the box, or nine?"
	a.Factors = []trial.Factor{{Name: "hold time", Kind: trial.Numeric, Unit: "h", SetOn: trial.UnitHolderRun}}
	a.Arms = []trial.Arm{{Tag: "FOUR", Levels: trial.Levels("4"), Control: true}, {Tag: "NINE", Levels: trial.Levels("9")}}
	a.Hand = trial.Hand{Blocks: 2, BlockSize: 2, Pits: 1, Positions: 6, CookDays: 1, Tasters: 5, CutCents: 4150}
	id, arms := d.create(a)
	if d.err != nil {
		return
	}
	cuts := d.hangShoulders(id, 2, d.clock(now.In(d.zone).AddDate(0, 0, -2).Format("2006-01-02"), 17, 0))
	d.draw(id, arms, cuts, 950)
	today := now.Truncate(time.Minute)
	outline := d.heldOutline(id)
	p := store.CookPlan{ServeAt: today.Add(heldServe), Outline: outline,
		Runs: []store.PitRun{{PitID: d.pits["Cabinet"], Setup: "two shelves", SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
	holds := []store.PlannedHold{{HolderID: d.box, Set: units.Temperature{C: units.FToC(150), Typed: "150 F"}, Setup: "4 h"},
		{HolderID: d.box, Set: units.Temperature{C: units.FToC(150), Typed: "150 F"}, Setup: "9 h"}}
	for i, c := range cuts {
		p.Placements = append(p.Placements, store.PlannedPlacement{CutID: c.ID, Position: []string{"A1", "B1", "A2", "B2"}[i]})
		holds[c.Arm].CutIDs = append(holds[c.Arm].CutIDs, c.ID)
	}
	p.Holds = holds
	var cook int64
	d.do(func() (err error) {
		cook, err = d.store.CreateCook(d.ctx, d.people["Odalys"], id, p,
			trial.Clock{Origin: today.Add(-heldLit), Start: today.Add(-heldLit), Rate: 1})
		return err
	})
	d.night(id, cook, cuts, today, now)
}

// settled is the trial of the demo whose codes are open.
func (d *seeder) settled() (from store.Trial) {
	d.do(func() error {
		ids, err := d.store.TrialIDs(d.ctx)
		if err != nil {
			return err
		}
		for _, id := range ids {
			t, err := d.store.Trial(d.ctx, id)
			if err != nil {
				return err
			}
			if t.RevealedAt != nil {
				from = t
			}
		}
		return nil
	})
	return from
}

// heldOutline wraps every arm in paper at 165 F, rests it for half an hour and holds it as
// its arm says.
func (d *seeder) heldOutline(trialID int64) *plan.Outline {
	o := d.outline(trialID)
	if o == nil {
		return nil
	}
	core := func(f string) []phase.End {
		t, _ := units.ParseTemperature(f)
		return []phase.End{{Watch: phase.ByCore, Value: t.C, Typed: f}}
	}
	clock := func(h float64, typed string) []phase.End {
		return []phase.End{{Watch: phase.ByTime, Value: h * 3600, Typed: typed}}
	}
	set := units.FToC(250)
	for i := range o.Arms {
		hours, typed := 4.0, "4 h"
		if i == 1 {
			hours, typed = 9, "9 h"
		}
		o.Arms[i].Phases = []phase.Phase{
			{Kind: phase.Smoke, Name: "smoke", SetC: set, SetTyped: "250 F", Ends: core("165 F")},
			{Kind: phase.Smoke, Name: "paper", SetC: set, SetTyped: "250 F", Wrap: "paper", Ends: core("198 F")},
			{Kind: phase.Rest, Name: "rest", Ends: clock(0.5, "30 min")},
			{Kind: phase.Hold, Name: "hold", Wrap: "paper", SetC: units.FToC(150), SetTyped: "150 F", HolderID: d.box, Ends: clock(hours, typed),
				LeastS: (hours - 1) * 3600},
		}
	}
	return o
}

// night logs what was done so far, and plays it; the server plays on.
func (d *seeder) night(trialID, cook int64, cuts []hung, today, now time.Time) {
	run := d.runOf(trialID, cook)
	at := func(before time.Duration) time.Time { return today.Add(-before) }
	each := func(arm int, by string, act logbook.Act, when time.Time, detail logbook.Detail) {
		for _, c := range cuts {
			if c.Arm == arm {
				d.log(by, act, when, "", store.Event{CutID: &c.ID, Detail: detail})
			}
		}
	}
	const onNine, onFour = 13*time.Hour + 40*time.Minute, 8*time.Hour + 30*time.Minute
	d.log("Bram", logbook.Lit, at(heldLit), "", store.Event{PitRunID: &run})
	each(1, "Tove", logbook.On, at(onNine), logbook.Detail{})
	each(1, "Tove", logbook.Wrap, at(onNine-heldWrapped), logbook.Detail{Wrap: "paper"})
	each(0, "Tove", logbook.On, at(onFour), logbook.Detail{})
	each(1, "Joren", logbook.Pull, at(heldPulled), logbook.Detail{})
	each(0, "Joren", logbook.Wrap, at(onFour-heldWrapped), logbook.Detail{Wrap: "paper"})
	each(1, "Joren", logbook.Hold, at(heldBoxed), logbook.Detail{HolderID: d.box})
	for before := onNine; before > 0; before -= 45 * time.Minute {
		d.log("Bram", logbook.Wood, at(before), "", store.Event{PitRunID: &run, Detail: logbook.Detail{With: "apricot chunks", Pieces: 1}})
	}
	each(0, "Ife", logbook.Probe, at(20*time.Minute), logbook.Detail{Feel: logbook.Giving})
	d.do(func() error {
		if err := d.store.Play(d.ctx, cook, true); err != nil {
			return err
		}
		return rehearse.Backfill(d.ctx, d.store, cook, now)
	})
}
