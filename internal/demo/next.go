package demo

import (
	"math"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/rehearse"
	"whitebarn/internal/store"
)

// threeArms is matched and drawn for two cook days: twelve shoulders of six
// lambs, so that two of the three arms meet in every lamb.
func (d *seeder) threeArms(now time.Time) {
	id, arms := d.create(trial.Ask{
		Question: "Paper, pan or bare?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factors:   []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:      []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "PAN", Levels: trial.Levels("covered pan")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}},
		Held:      []trial.Held{{Name: "pit temperature", Value: "250 F, Brick Pit"}, {Name: "wood", Value: "apricot 2 to alder 1"}, {Name: "dry brine", Value: "1 %, 24 h"}, {Name: "pull", Value: "203 F"}, {Name: "rest time", Value: "90 min"}},
		Outcomes:  []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Tenderness, SmallestDifference: 0.5}, {Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.HandsOn, SmallestDifference: 15}},
		Contexts:  trial.UsualContexts,
		Allergens: []string{"milk", "mustard"},
		Hand:      trial.Hand{Blocks: 6, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 2, Tasters: 7, CutCents: 4150},
		Layout:    "incomplete",
	})
	cuts := d.hangShoulders(id, 6, d.clock("2026-09-24", 17, 0))
	d.draw(id, arms, cuts, 940)
	today := now.Truncate(time.Minute)
	outline := d.outline(id)
	for day, cuts := range d.places(arms, cuts, 4, 3, 2, 926) {
		serve := today.Add(served)
		if day > 0 { // the supper
			serve = d.clock(today.In(d.zone).AddDate(0, 0, 2*day).Format("2006-01-02"), 18, 0)
		}
		plan := store.CookPlan{ServeAt: serve, Runs: []store.PitRun{{PitID: d.pits["Brick Pit"], Setup: "water trough half full", SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
		for _, c := range cuts {
			plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: c.ID, Position: c.Position})
		}
		plan.Outline = outline
		var cook int64
		d.do(func() (err error) {
			plan.Holds = []store.PlannedHold{{HolderID: d.box, Set: units.Temperature{C: units.FToC(150), Typed: "150 F"}, Setup: "2 h"}}
			for _, c := range cuts {
				plan.Holds[0].CutIDs = append(plan.Holds[0].CutIDs, c.ID)
			}
			cook, err = d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: today.Add(-lit), Start: today.Add(-lit), Rate: 1})
			return err
		})
		if day == 0 {
			d.burning(id, cook, cuts, today, now)
		}
	}
}

// The cook that burns when the demo starts: how long ago its pit was lit and
// its cuts went on, and when the table is set.
const (
	lit    = 4*time.Hour + 20*time.Minute
	on     = 3*time.Hour + 30*time.Minute
	served = 11 * time.Hour
)

// runOf is the one pit run of a cook.
func (d *seeder) runOf(trialID, cook int64) (run int64) {
	d.do(func() error {
		runs, err := d.store.PitRuns(d.ctx, trialID)
		for _, r := range runs {
			if r.CookID == cook {
				run = r.ID
			}
		}
		return err
	})
	return run
}

// burning lights the pit of a cook and plays it up to now; the server plays on.
func (d *seeder) burning(trialID, cook int64, cuts []hung, today, now time.Time) {
	run := d.runOf(trialID, cook)
	at := func(after time.Duration) time.Time { return today.Add(-lit).Add(after) }
	d.log("Bram", logbook.Lit, at(0), "", store.Event{PitRunID: &run})
	for _, c := range cuts {
		d.log("Tove", logbook.On, at(lit-on), "", store.Event{CutID: &c.ID})
	}
	for _, after := range []time.Duration{lit - on + 5*time.Minute, 100 * time.Minute, 155 * time.Minute, 210 * time.Minute} {
		d.log("Bram", logbook.Wood, at(after), "apricot", store.Event{PitRunID: &run})
		d.log("Bram", logbook.Lid, at(after), "", store.Event{PitRunID: &run})
	}
	for _, after := range []time.Duration{180 * time.Minute, 235 * time.Minute} {
		for _, c := range cuts {
			d.log("Joren", logbook.Spritz, at(after), "", store.Event{CutID: &c.ID})
		}
		d.log("Joren", logbook.Lid, at(after), "", store.Event{PitRunID: &run})
	}
	// A wick that is wetted and read by hand, twice.
	for i, read := range []string{"141 F", "146 F"} {
		d.do(func() error {
			detail, err := logbook.Detail{Of: logbook.OfWetBulb, Read: read}.Tidy(logbook.Spot)
			d.press(d.presses, "Ife", logbook.Spot, at(time.Duration(110+60*i)*time.Minute), "", store.Event{PitRunID: &run, Detail: detail})
			return err
		})
	}
	d.do(func() error {
		if err := d.store.Play(d.ctx, cook, true); err != nil {
			return err
		}
		return rehearse.Backfill(d.ctx, d.store, cook, now)
	})
}

// roundToQuarterOunce is what a kitchen scale shows.
func roundToQuarterOunce(kg float64) float64 {
	step := units.GramsPerPound / 1000 / 64
	return math.Round(kg/step) * step
}
