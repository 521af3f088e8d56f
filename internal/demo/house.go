package demo

import (
	"crypto/sha256"
	"fmt"
	"math/rand/v2"
	"time"

	"whitebarn/core/design"
	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/phase"
	"whitebarn/core/process"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/book"
	"whitebarn/internal/store"
)

// earlier is a trial of shoulders that was cooked before, by its hand-written record: weights,
// times, readings by hand and scores.
type earlier struct {
	ask    trial.Ask
	seed   uint64
	pit    string
	setUp  string
	days   []string
	lambs  int
	kg     float64 // lighter or heavier than usual
	guests []string
	truth  []map[trial.OutcomeKey]float64 // of each arm, on the panel's scale
	hours  []float64                      // of each arm, to the pull
	kept   []float64                      // share of the weight that each arm keeps
	holds  []float64                      // h in the box; none is none
	swing  float64                        // sd between days of what an arm does
	coarse bool                           // halves of shoulders: a lamb holds four arms
	luck   float64                        // sd between cuts of an arm
}

// house is what the barn knew before the harvest: three more trials of shoulders, and a card
// that was written, mended and followed.
func (d *seeder) house(now time.Time) {
	wrap := func(question string, pit string, lambs int) trial.Ask {
		return trial.Ask{
			Question: question, Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
			Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
			Arms:    []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}},
			Hand:    trial.Hand{Blocks: lambs, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 3, Tasters: 6, CutCents: 4150}, Contexts: trial.UsualContexts,
			Held:      []trial.Held{{Name: "pit temperature", Value: "250 F, " + pit}, {Name: "pull", Value: "203 F"}, {Name: "rest time", Value: "90 min"}},
			Allergens: []string{"mustard"},
			Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5},
				{Key: trial.Overall, SmallestDifference: 0.5},
				{Key: trial.EdibleYield, SmallestDifference: 2.5}, {Key: trial.CookTime, SmallestDifference: 0.75}},
		}
	}
	score := func(juicy, bark, overall float64) map[trial.OutcomeKey]float64 {
		return map[trial.OutcomeKey]float64{trial.Juiciness: juicy, trial.Bark: bark, trial.Overall: overall}
	}
	d.cookEarlier(earlier{ask: wrap("Paper or bare, equal rest?", "Brick Pit", 9), seed: 71, pit: "Brick Pit", setUp: "water trough half full",
		days: []string{"2026-08-15", "2026-08-16", "2026-08-22"}, lambs: 9, guests: []string{"Ife", "Marisol", "Joren", "Bram", "Pell from the mill", "Wenna"},
		truth: []map[trial.OutcomeKey]float64{score(7.3, 6.5, 7.1), score(6.0, 7.2, 6.4)}, hours: []float64{9.0,
			9.9}, kept: []float64{0.57, 0.52}, swing: 0.1, luck: 0.25}, now)
	d.cookEarlier(earlier{ask: wrap("Paper or bare in the Drum?", "North Drum", 6), seed: 72, pit: "North Drum", setUp: "water trough full",
		days: []string{"2026-07-18", "2026-07-19"}, lambs: 6, kg: -0.4, guests: []string{"Ife", "Marisol", "Joren", "Tansy"},
		truth: []map[trial.OutcomeKey]float64{score(6.9, 6.9, 6.7), score(6.6, 7.0, 6.6)}, hours: []float64{8.2,
			8.8}, kept: []float64{0.58, 0.565}, swing: 0.15, luck: 0.25}, now)
	long := wrap("How long in the Warm Box?", "Cabinet", 6)
	long.Factors = []trial.Factor{{Name: "hold time", Kind: trial.Numeric, Unit: "h", SetOn: trial.UnitCut}}
	long.Arms = []trial.Arm{{Tag: "TWO", Levels: trial.Levels("2")}, {Tag: "FOUR", Levels: trial.Levels("4"), Control: true},
		{Tag: "NINE", Levels: trial.Levels("9")},
		{Tag: "NIGHT", Levels: trial.Levels("14")}}
	long.Hand.Blocks, long.Hand.BlockSize = 6, 4
	long.Outcomes = []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Overall, SmallestDifference: 0.5},
		{Key: trial.CookedYield, SmallestDifference: 2}}
	d.cookEarlier(earlier{ask: long, seed: 73, pit: "Cabinet", setUp: "two shelves", days: []string{"2026-06-20", "2026-06-27"}, lambs: 6, coarse: true,
		guests: []string{"Ife", "Marisol", "Joren", "Bram", "Wenna", "Tansy", "Pell from the mill"},
		truth:  []map[trial.OutcomeKey]float64{score(6.1, 0, 6.2), score(7.0, 0, 7.05), score(7.05, 0, 7.05), score(6.4, 0, 6.5)},
		hours:  []float64{6.9, 6.9, 6.9, 6.9}, kept: []float64{0.6, 0.595, 0.59, 0.57}, holds: []float64{2, 4, 9, 14}, swing: 0.03, luck: 0.08}, now)
	d.card(now)
}

// cookEarlier writes the record of an earlier trial, and opens its codes.
func (d *seeder) cookEarlier(e earlier, now time.Time) {
	r := rand.New(rand.NewPCG(2026, e.seed))
	id, arms := d.create(e.ask)
	for _, name := range e.guests {
		d.seat(id, name)
	}
	if d.err != nil {
		return
	}
	weights := map[int64]float64{}
	var cuts []hung
	for lamb := 1; lamb <= e.lambs; lamb++ {
		for piece := range arms {
			kg := roundToQuarterOunce(2.7 + e.kg + 0.08*r.NormFloat64())
			if e.coarse {
				kg /= 2
			}
			h := d.hand(id, fmt.Sprintf("%d%c", lamb, "LRXY"[piece]), lamb, kg, d.clock(e.days[0], -9, 0))
			weights[h.ID] = kg
			cuts = append(cuts, h)
		}
	}
	d.draw(id, arms, cuts, int64(e.seed))
	for n, of := range d.places(arms, cuts, 4, 3, len(e.days), int64(e.seed)) {
		plan := store.CookPlan{ServeAt: d.clock(e.days[n], 18, 0), Runs: []store.PitRun{{PitID: d.pits[e.pit], Setup: e.setUp,
			SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
		var day []tasted
		for _, h := range of {
			plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: h.ID, Position: h.Position})
			day = append(day, tasted{id: h.ID, arm: h.Arm, luck: e.luck * r.NormFloat64()})
		}
		var cook int64
		d.do(func() (err error) {
			cook, err = d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: plan.ServeAt.Add(4 * time.Hour), Start: now, Rate: 1})
			return err
		})
		swings := make([]float64, len(arms))
		for i := range swings {
			swings[i] = e.swing * r.NormFloat64()
		}
		for i, c := range day {
			held := 0.0
			if e.holds != nil {
				held = e.holds[c.arm]
			}
			d.byHand(cook, c, weights[c.id], e.hours[c.arm]+0.25*r.NormFloat64(), e.kept[c.arm]+0.008*r.NormFloat64(), held, plan.ServeAt,
				e.ask.Arms[c.arm].Levels[0].Value == "paper")
			day[i].luck += swings[c.arm]
		}
		for from := 0; from < len(day); from += 4 {
			d.tasteEarlier(id, e, day[from:min(from+4, len(day))], plan.ServeAt.Add(time.Duration(5*from)*time.Minute), r)
		}
	}
	d.do(func() error { return d.store.Reveal(d.ctx, d.people["Odalys"], id, "") })
	d.judge(id)
}

// hand hangs a cut by hand, weighed.
func (d *seeder) hand(trialID int64, name string, lamb int, kg float64, at time.Time) hung {
	price := 4150
	c := store.Cut{Name: name, Pair: fmt.Sprint(lamb), Animal: fmt.Sprintf("Lamb %d", lamb), Lot: "hill", Bone: "in", PriceCents: &price}
	h := hung{Piece: design.Piece{Name: name, Root: name, Block: c.Pair, Kg: &kg, Traits: map[design.Trait]string{design.Lot: c.Lot}}}
	d.do(func() (err error) {
		h.ID, err = d.store.AddCut(d.ctx, d.people["Bram"], trialID, c)
		return err
	})
	d.weigh(h.ID, yield.Bought, kg*1.07, at)
	d.weigh(h.ID, yield.Trimmed, kg, at.Add(time.Hour))
	return h
}

// byHand logs a cut from the fire to the plate, and weighs it out.
func (d *seeder) byHand(cook int64, c tasted, kg, hours, kept, held float64, serve time.Time, wrapped bool) {
	pull := serve.Add(-time.Duration((held + 1.75) * float64(time.Hour)))
	on := pull.Add(-time.Duration(hours * float64(time.Hour)))
	of := store.Event{CutID: &c.id}
	d.press(d.presses, "Odalys", logbook.On, on, "", of)
	if wrapped {
		d.press(d.presses, "Odalys", logbook.Wrap, on.Add(time.Duration(0.55*hours*float64(time.Hour))), "", store.Event{CutID: &c.id,
			Detail: logbook.Detail{Wrap: "paper"}})
	}
	d.press(d.presses, "Bram", logbook.Pull, pull, "", of)
	if held > 0 {
		var run int64
		d.do(func() (err error) {
			run, err = d.store.HolderRunFor(d.ctx, cook, d.box)
			return err
		})
		d.press(d.presses, "Bram", logbook.Hold, pull.Add(30*time.Minute), "",
			store.Event{CutID: &c.id, Detail: logbook.Detail{HolderID: d.box, HolderRunID: run}})
	}
	d.read(c.id, "38 F", on)
	d.read(c.id, "142 F", on.Add(3*time.Hour+20*time.Minute))
	d.read(c.id, "203 F", pull)
	for h := 2.0; h < held; h += 2 { // nobody had calibrated the box yet
		d.read(c.id, fmt.Sprintf("%.0f F", max(154, 203-15*h)), pull.Add(time.Duration((h+0.5)*float64(time.Hour))))
	}
	d.read(c.id, "152 F", serve.Add(-12*time.Minute))
	d.press(d.presses, "Tove", logbook.Carve, serve.Add(-10*time.Minute), "", of)
	off := kg * kept / 0.985
	d.weigh(c.id, yield.Off, off, pull.Add(10*time.Minute))
	d.weigh(c.id, yield.Rested, kg*kept, pull.Add(100*time.Minute))
	d.weigh(c.id, yield.Edible, kg*kept*0.87, serve)
}

// tasteEarlier serves a flight and fills its ballots.
func (d *seeder) tasteEarlier(trialID int64, e earlier, cuts []tasted, at time.Time, r *rand.Rand) {
	d.do(func() error {
		tasters, err := d.store.Tasters(d.ctx, trialID)
		if err != nil {
			return err
		}
		used, err := d.store.UsedCodes(d.ctx, trialID)
		if err != nil {
			return err
		}
		codes, err := panel.DrawCodes(r, len(cuts), used)
		if err != nil {
			return err
		}
		carver := d.people["Tove"]
		f := store.NewFlight{TrialID: trialID, Format: panel.ByScores, CarverID: &carver, At: at, Bites: 2, WaterS: 60}
		of := map[string]tasted{}
		for i, c := range cuts {
			f.Samples = append(f.Samples, store.NewSample{CutID: c.id, Place: "middle of the blade", Code: codes[i]})
			of[codes[i]] = c
		}
		for i, order := range panel.Orders(r, len(cuts), len(tasters)) {
			f.Ballots = append(f.Ballots, store.NewBallot{TasterID: tasters[i].ID, Order: order})
		}
		if _, err := d.store.Serve(d.ctx, d.people["Odalys"], f); err != nil {
			return err
		}
		for i, t := range tasters {
			err := d.sealEach(t.ID, of, func(c tasted) map[string]int {
				scores := map[string]int{}
				for _, o := range e.ask.Outcomes {
					if row, _ := trial.DefaultOf(o.Key); row.Kind == trial.FromPanel {
						scores[string(o.Key)] = onScale(e.truth[c.arm][o.Key] + 0.4*(float64(i%3)-1) + c.luck + 0.8*r.NormFloat64())
					}
				}
				return scores
			})
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// yields of the nine later cooks of the card, % of bought; the seventh was read by another probe
// over lighter lambs.
var yields = []float64{46.4, 45.6, 46.8, 45.9, 46.9, 46.1, 44.0, 43.3, 43.6}

// card is written from the settled shoulders: by the clock at first, which failed, then by the
// core; signed by two hands, and followed.
func (d *seeder) card(now time.Time) {
	from := d.settled()
	if d.err != nil {
		return
	}
	desk := book.At(d.store, time.Now)
	act := &barn.Act{Store: d.store, Now: func() time.Time { return now }, Who: store.Person{ID: d.people["Odalys"], Name: "Odalys", Role: store.Pitmaster}}
	paper := from.Ask.Arms[0].ID
	var written book.Written
	d.do(func() error {
		body, err := desk.Body(d.ctx, from.ID, paper)
		if err != nil {
			return err
		}
		last := &body.Steps[d.lastInPit(body)]
		last.Ends = []phase.End{{Watch: phase.ByTime, Value: 2.5 * 3600, Typed: "2 h 30"}}
		last.EndC = nil
		body.Evidence.Reach, body.Evidence.Says, body.Evidence.Size = "", "Not shown to be better than another way; kept as it was cooked.", ""
		id, err := d.store.CreateProcess(d.ctx, d.people["Odalys"], "Lamb shoulder, paper at 165", body.ProductID)
		if err != nil {
			return err
		}
		first, err := d.store.AddVersion(d.ctx, d.people["Odalys"], store.ProcessVersion{ProcessID: id, Number: 1,
			Title: "Pull two and a half hours after the wrap", Body: body,
			TrialID: &from.ID, ArmID: &paper})
		if err != nil {
			return err
		}
		if _, err := desk.Fail(d.ctx, act, &barn.With[book.FailInput]{ByID: barn.ByID{ID: first},
			Body: book.FailInput{Fault: "under-rendered", Why: "Under-rendered in 3 of 5 cooks"}}); err != nil {
			return err
		}
		written, err = desk.Write(d.ctx, act, &barn.Of[book.WriteInput]{Body: book.WriteInput{TrialID: from.ID, ArmID: paper,
			ProcessID: id, Changed: "Ends by the core, not by the clock",
			Why: "The time to 203 F runs over an hour and a half apart, so one clock leaves the slow shoulders tight"}})
		return err
	})
	for _, name := range []string{"Odalys", "Bram"} {
		d.do(func() error { return d.store.SignVersion(d.ctx, d.people[name], written.VersionID) })
	}
	var trials []int64
	for i, y := range yields {
		trials = append(trials, d.followed(desk, act, written.VersionID, i, y, now))
	}
	d.judge(trials...)
}

func (d *seeder) lastInPit(b process.CardBody) (at int) {
	for i, s := range b.Steps {
		if s.Kind.InPit() {
			at = i
		}
	}
	return at
}

// followed is one later cook of a card, ended with nothing tasted.
func (d *seeder) followed(desk *book.Desk, act *barn.Act, version int64, n int, percent float64, now time.Time) (id int64) {
	d.do(func() error {
		c, err := desk.Cook(d.ctx, act, &barn.With[book.CookInput]{ByID: barn.ByID{ID: version}})
		id = c.TrialID
		return err
	})
	if d.err != nil {
		return id
	}
	r := rand.New(rand.NewPCG(2026, uint64(900+n)))
	t, err := d.store.Trial(d.ctx, id)
	if err != nil {
		d.err = err
		return id
	}
	serve := d.clock(now.In(d.zone).AddDate(0, 0, -7*(len(yields)-n)).Format("2006-01-02"), 18, 0)
	plan := store.CookPlan{ServeAt: serve, Runs: []store.PitRun{{PitID: d.pits["Brick Pit"], Setup: "water trough half full",
		SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
	lighter, sooner := 0.0, 0.0
	if n >= process.Base {
		lighter, sooner = 0.25, 0.6
	}
	weights := map[int64]float64{}
	var hung []hung
	var cuts []tasted
	for i := range 4 {
		kg := roundToQuarterOunce(2.72 - lighter + 0.06*r.NormFloat64())
		h := d.hand(id, fmt.Sprintf("%dL", i+1), i+1, kg, serve.Add(-20*time.Hour))
		weights[h.ID] = kg
		hung = append(hung, h)
		cuts = append(cuts, tasted{id: h.ID})
		plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: h.ID, Position: design.PositionName(i, 0)})
	}
	d.draw(id, []int64{t.Ask.Arms[0].ID}, hung, int64(n))
	var cook int64
	d.do(func() (err error) {
		cook, err = d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: serve.Add(4 * time.Hour), Start: now, Rate: 1})
		return err
	})
	for _, c := range cuts {
		// Edible over bought comes to the percentage: bought is 1.07 of what is weighed at the fire.
		kept := percent / 100 * 1.07 / 0.87
		d.byHand(cook, c, weights[c.id], 9.2-sooner+0.2*r.NormFloat64(), kept+0.002*r.NormFloat64(), 0, serve, true)
	}
	d.pitLog(id, cook, serve, []string{"barn logger", "new logger"}[min(1, n/process.Base)], r)
	d.do(func() error { return d.store.End(d.ctx, d.people["Odalys"], id, "cooked by the card, for the table") })
	return id
}

// pitLog imports what a logger read of the pit of a cook, every twenty minutes; its name is that
// of the logger's probe.
func (d *seeder) pitLog(trialID, cook int64, serve time.Time, logger string, r *rand.Rand) {
	d.do(func() error {
		text := "Time,pit (F)\n"
		for at := serve.Add(-10 * time.Hour); at.Before(serve.Add(-time.Hour)); at = at.Add(20 * time.Minute) {
			text += fmt.Sprintf("%s,%.1f\n", at.In(d.zone).Format("2006-01-02 15:04:05"), 250+2.5*r.NormFloat64())
		}
		data := []byte(text)
		log, err := logbook.Read(data, logbook.Options{Zone: d.zone})
		if err != nil {
			return err
		}
		run := d.runOf(trialID, cook)
		sum := sha256.Sum256(data)
		_, _, err = d.store.ImportLog(d.ctx, d.people["Tove"], store.NewImport{CookID: cook, Logger: logger,
			FileName: fmt.Sprintf("%s %d.csv", logger, cook), SHA256: sum[:], Log: log,
			Targets: map[string]store.Target{log.Columns[0].Name: {PitRunID: &run}}})
		return err
	})
}
