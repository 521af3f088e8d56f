package demo

import (
	"math"
	"time"

	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/store"
)

// threeArms is matched and drawn for two cook days: twelve shoulders of six
// lambs, so that two of the three arms meet in every lamb.
func (d *seeder) threeArms(now time.Time) {
	id, arms := d.create(trial.Ask{
		Question: "Paper, pan or bare?", Product: "lamb shoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factors:   []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:      []trial.Arm{{Tag: "PAPER", Levels: []string{"paper"}}, {Tag: "PAN", Levels: []string{"covered pan"}}, {Tag: "BARE", Levels: []string{"none"}, Control: true}},
		Held:      []trial.Held{{Name: "pit temperature", Value: "250 F, Brick Pit"}, {Name: "wood", Value: "apricot 2 to alder 1"}, {Name: "salt", Value: "1 %, 24 h"}, {Name: "pull", Value: "203 F"}, {Name: "rest time", Value: "90 min"}},
		Outcomes:  []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Tenderness, SmallestDifference: 0.5}, {Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.HandsOn, SmallestDifference: 15}},
		Contexts:  trial.UsualContexts,
		Allergens: []string{"milk", "mustard"},
		Hand:      trial.Hand{Blocks: 6, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 2, Tasters: 7, CutCents: 4150},
		Layout:    "incomplete",
	})
	cuts := d.hangShoulders(id, 6, d.clock("2026-09-24", 17, 0))
	d.draw(id, arms, cuts, 924)
	for day, cuts := range d.places(arms, cuts, 4, 3, 2, 926) {
		plan := store.CookPlan{ServeAt: d.clock("2026-10-03", 18, 0).AddDate(0, 0, day), Runs: []store.PitRun{{PitID: d.pits["Brick Pit"], Setup: "water trough half full", SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
		for _, c := range cuts {
			plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: c.ID, Position: c.Position})
		}
		d.do(func() error {
			_, err := d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: d.clock("2026-09-25", 9, 0), Start: now, Rate: 1})
			return err
		})
	}
}

// hold follows from the settled shoulders and is only asked.
func (d *seeder) hold() {
	var from store.Trial
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
	if d.err != nil {
		return
	}
	a := from.Ask.FollowOn(from.ID, 0)
	a.Question = "Four hours in the box, or nine?"
	a.Factors = []trial.Factor{{Name: "hold time", Kind: trial.Numeric, Unit: "h", SetOn: trial.UnitHolderRun}}
	a.Arms = []trial.Arm{{Tag: "FOUR", Levels: []string{"4"}, Control: true}, {Tag: "NINE", Levels: []string{"9"}}}
	d.create(a)
}

// roundToQuarterOunce is what a kitchen scale shows.
func roundToQuarterOunce(kg float64) float64 {
	step := units.GramsPerPound / 1000 / 64
	return math.Round(kg/step) * step
}
