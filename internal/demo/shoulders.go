package demo

import (
	"cmp"
	"crypto/sha256"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"whitebarn/core/design"
	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// shoulders is taken from question to verdict.
func (d *seeder) shoulders(now time.Time) {
	id, arms := d.create(trial.Ask{
		Question: "Paper or bare?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:    []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}},
		Hand:    trial.Hand{Blocks: 8, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 2, Tasters: 5, CutCents: 4150}, Contexts: trial.UsualContexts,
		Held:      []trial.Held{{Name: "pit temperature", Value: "250 F, Brick Pit"}, {Name: "wood", Value: "apricot 2 to alder 1"}, {Name: "dry brine", Value: "1 %, 24 h"}, {Name: "pull", Value: "203 F"}, {Name: "rest time", Value: "90 min"}},
		Allergens: []string{"mustard"},
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}, {Key: trial.Tenderness, SmallestDifference: 0.5},
			{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Smoke}, {Key: trial.SmokeRight, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.CookTime, SmallestDifference: 0.75}},
	})
	for _, name := range []string{"Ife", "Marisol", "Joren", "Bram", "Pell from the mill"} {
		d.seat(id, name)
	}
	lambs := d.hangShoulders(id, 8, d.clock("2026-09-17", 17, 0))
	d.draw(id, arms, lambs, 1019)
	days := d.places(arms, lambs, 4, 3, 2, 920)
	var second []tasted
	for cook, date := range []string{"2026-09-19", "2026-09-20"} {
		cuts := d.cookShoulders(id, days[cook], date, now)
		if cook == 0 {
			d.do(func() error { return d.store.NameLook(d.ctx, id, d.firstCook(id)) })
		}
		for flight := range 2 {
			d.tasteShoulders(id, cuts[4*flight:4*flight+4], d.clock(date, 18, 20*flight))
		}
		if cook == 0 {
			d.look(id)
		}
		second = cuts
	}
	d.afterTheSupper(id, second, d.clock("2026-09-20", 19, 0))
	d.do(func() error { return d.store.Reveal(d.ctx, d.people["Odalys"], id, "") })
	d.judge(id)
}

// judge reads the verdict of trials whose codes just opened.
func (d *seeder) judge(ids ...int64) {
	d.do(func() error {
		_, err := settle.New(d.store, time.Now).Lines(d.ctx, ids)
		return err
	})
}

func (d *seeder) firstCook(trialID int64) int64 {
	cooks, err := d.store.Cooks(d.ctx, trialID)
	if err != nil || len(cooks) == 0 {
		d.err = cmp.Or(err, fmt.Errorf("trial %d has no cook", trialID))
		return 0
	}
	return cooks[0].ID
}

// look opens the codes of the first cook, which was named as the early look.
func (d *seeder) look(trialID int64) {
	d.do(func() error {
		l, err := settle.New(d.store, time.Now).Look(d.ctx, trialID, d.firstCook(trialID))
		if err != nil {
			return err
		}
		return d.store.OpenLook(d.ctx, d.people["Odalys"], trialID, l)
	})
}

// hung is a shoulder on the rail.
type hung struct {
	design.Piece
	boughtKg float64
}

// hangShoulders hangs left and right of so many lambs, weighed and measured.
func (d *seeder) hangShoulders(trialID int64, lambs int, at time.Time) []hung {
	var out []hung
	for animal := 1; animal <= lambs; animal++ {
		like := 2.62 + 0.09*float64(animal%4)
		for side := range 2 {
			name := fmt.Sprintf("%d%c", animal, "LR"[side])
			kg := roundToQuarterOunce(like + 0.05*d.random.NormFloat64())
			thick := 0.114 + 0.014*(kg-2.7) + 0.0015*d.random.NormFloat64()
			cap := math.Max(3, math.Round(5+2*(kg-2.7)+1.2*d.random.NormFloat64())) / 16
			price := 4150
			c := store.Cut{Name: name, Pair: fmt.Sprint(animal), Animal: fmt.Sprintf("Lamb %d", animal), Side: []string{"left", "right"}[side], Lot: []string{"hill", "water meadow"}[animal%2], Bone: "in", PriceCents: &price}
			h := hung{boughtKg: kg * 1.07, Piece: design.Piece{Name: name, Root: name, Block: c.Pair, Kg: &kg, ThicknessM: &thick, Traits: map[design.Trait]string{design.Lot: c.Lot, design.Side: c.Side}}}
			d.do(func() (err error) {
				h.ID, err = d.store.AddCut(d.ctx, d.people["Bram"], trialID, c)
				return err
			})
			d.weigh(h.ID, yield.Bought, h.boughtKg, at)
			d.weigh(h.ID, yield.Trimmed, kg, at.Add(time.Hour))
			d.weigh(h.ID, yield.TrimKept, kg*0.03, at.Add(time.Hour))
			d.weigh(h.ID, yield.TrimThrown, kg*0.04, at.Add(time.Hour))
			d.measure(h.ID, "thickness", thick, fmt.Sprintf("%.1f in", thick/units.MetresPerInch))
			d.measure(h.ID, "fat_cap", cap*units.MetresPerInch, fmt.Sprintf("%.0f/16 in", cap*16))
			out = append(out, h)
		}
	}
	return out
}

func (d *seeder) measure(cut int64, kind string, value float64, typed string) {
	d.do(func() error {
		return d.store.SetDimension(d.ctx, d.people["Bram"], store.Dimension{CutID: cut, Kind: kind, Value: value, Typed: typed})
	})
}

// draw draws the arms as Match does, with a seed that is always the same.
func (d *seeder) draw(trialID int64, arms []int64, cuts []hung, seed int64) {
	pieces := make([]design.Piece, len(cuts))
	for i, c := range cuts {
		pieces[i] = c.Piece
	}
	drawn := design.DrawArms(pieces, len(arms), seed)
	a := store.AllotmentOf(drawn, seed)
	for i := range cuts {
		cuts[i].Arm = drawn.Arms[i]
		a.Arms[cuts[i].ID] = arms[drawn.Arms[i]]
	}
	d.do(func() error { return d.store.Allot(d.ctx, d.people["Odalys"], trialID, a) })
}

// places deals the cuts to cook days and places of one pit, by lot.
func (d *seeder) places(arms []int64, cuts []hung, columns, rows, days int, seed int64) [][]hung {
	out := make([][]hung, days)
	var runs []design.Run
	for day := range days {
		runs = append(runs, design.Run{CookID: int64(day + 1), Cook: fmt.Sprintf("day %d", day+1), PitRunID: int64(day + 1), Pit: "Brick Pit", Columns: columns, Rows: rows})
	}
	pieces := make([]design.Piece, len(cuts))
	for i, c := range cuts {
		pieces[i] = c.Piece
	}
	places, ok := design.DrawPositions(len(arms), pieces, runs, design.Dealing{}, design.Shuffle(seed))
	if !ok && d.err == nil {
		d.err = errors.New("the shoulders do not fit the pit")
		return out
	}
	for i, p := range places {
		c := cuts[i]
		c.Position = p.Position
		out[p.PitRunID-1] = append(out[p.PitRunID-1], c)
	}
	return out
}

// tasted is a cut with the arm it was in, and what makes it better or worse
// than its arm.
type tasted struct {
	id   int64
	arm  int
	luck float64
}

// cookShoulders runs one cook of four pairs from the fire to weighing out.
func (d *seeder) cookShoulders(id int64, lambs []hung, date string, now time.Time) []tasted {
	cuts := make([]tasted, len(lambs))
	on := d.clock(date, 5, 0)
	serve := d.clock(date, 18, 0)
	plan := store.CookPlan{ServeAt: serve, Runs: []store.PitRun{{PitID: d.pits["Brick Pit"], Setup: "water trough half full", SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
	pieces := make([]*piece, len(lambs))
	for i, h := range lambs {
		cuts[i] = tasted{id: h.ID, arm: h.Arm, luck: 0.3 * d.random.NormFloat64()}
		p := &piece{name: h.Name, kg: *h.Kg, thickM: *h.ThicknessM, pullC: units.FToC(203)}
		if h.Arm == 0 {
			p.wrapC = units.FToC(165)
		}
		pieces[i] = p
		plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: h.ID, Position: h.Position})
	}
	var cookID int64
	d.do(func() (err error) {
		// The day is long over by its own clock: nothing runs in the demo at start.
		cookID, err = d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: serve.Add(4 * time.Hour), Start: now, Rate: 1})
		return err
	})
	var run *day
	d.do(func() (err error) {
		run, err = burn(uint64(cookID)+2026, on, standin.Pit{Kind: "offset", SetPoint: "250 F", Control: "vents", Fuel: "20 kg"}, "lambshoulder", pieces)
		return err
	})
	if d.err != nil {
		return cuts
	}
	d.importLog(cookID, id, run, cuts, "Brick Pit", "barn-logger "+date+".csv")
	d.shoulderEvents(id, run, cuts)
	for i, c := range cuts {
		p := pieces[i]
		off := p.offKg
		d.weigh(c.id, yield.Off, off, p.pulled.Add(10*time.Minute))
		d.weigh(c.id, yield.Rested, off*(0.985+0.002*d.random.NormFloat64()), p.pulled.Add(100*time.Minute))
		d.weigh(c.id, yield.Edible, off*(0.80+0.01*d.random.NormFloat64()), serve)
		d.read(c.id, "203 F", p.pulled)
		d.read(c.id, "152 F", serve.Add(-12*time.Minute))
		d.press(d.presses, "Tove", logbook.Carve, serve.Add(-10*time.Minute), "", store.Event{CutID: &c.id})
	}
	return cuts
}

// read reads a cut by hand where it is coldest.
func (d *seeder) read(cut int64, typed string, at time.Time) {
	read, err := logbook.Detail{Read: typed, Place: gate.ColdestFound}.Tidy(logbook.Probe)
	d.do(func() error { return err })
	d.press(d.presses, "Ife", logbook.Probe, at, "", store.Event{CutID: &cut, Detail: read})
}

func (d *seeder) importLog(cookID, trialID int64, run *day, cuts []tasted, pit, file string) {
	d.do(func() error {
		data := run.csv(d.zone, pit)
		log, err := logbook.Read(data, logbook.Options{Zone: d.zone})
		if err != nil {
			return err
		}
		runs, err := d.store.PitRuns(d.ctx, trialID)
		if err != nil {
			return err
		}
		targets := map[string]store.Target{}
		for _, r := range runs {
			if r.CookID == cookID {
				targets[log.Columns[0].Name] = store.Target{PitRunID: &r.ID}
			}
		}
		for i, c := range cuts {
			targets[log.Columns[i+1].Name] = store.Target{CutID: &c.id}
		}
		sum := sha256.Sum256(data)
		_, _, err = d.store.ImportLog(d.ctx, d.people["Tove"], store.NewImport{CookID: cookID, Logger: "barn logger", FileName: file, SHA256: sum[:], Log: log, Targets: targets})
		return err
	})
}

func (d *seeder) shoulderEvents(trialID int64, run *day, cuts []tasted) {
	var pitRun int64
	d.do(func() error {
		runs, err := d.store.PitRuns(d.ctx, trialID)
		if err == nil {
			pitRun = runs[len(runs)-1].ID
		}
		return err
	})
	d.log("Bram", logbook.Lit, run.on.Add(-45*time.Minute), "one chimney, two splits", store.Event{PitRunID: &pitRun})
	for _, at := range run.wood {
		d.log("Bram", logbook.Wood, at, "1 split", store.Event{PitRunID: &pitRun})
	}
	for i, c := range cuts {
		p := run.pieces[i]
		d.log("Odalys", logbook.On, run.on.Add(time.Duration(i)*time.Minute/2), "", store.Event{CutID: &c.id})
		for _, at := range run.spritz {
			if p.wraps.IsZero() || at.Before(p.wraps) {
				d.log("Ife", logbook.Spritz, at, "", store.Event{CutID: &c.id})
			}
		}
		if !p.wraps.IsZero() {
			d.log("Odalys", logbook.Wrap, p.wraps, "paper, two turns", store.Event{CutID: &c.id})
		}
		d.log("Bram", logbook.Pull, p.pulled, "", store.Event{CutID: &c.id})
	}
}

// effects are the true differences of PAPER from BARE on the panel's scale.
var effects = map[trial.OutcomeKey]struct{ base, paper float64 }{
	trial.Juiciness: {5.9, 1.3}, trial.Bark: {7.1, -0.75}, trial.Tenderness: {6.7, -0.15}, trial.Overall: {6.6, 0.6}, trial.Smoke: {5.2, -0.2},
}

// tasteShoulders serves one flight of two pairs and fills its ballots.
func (d *seeder) tasteShoulders(trialID int64, cuts []tasted, at time.Time) {
	d.do(func() error {
		tasters, err := d.store.Tasters(d.ctx, trialID)
		if err != nil {
			return err
		}
		used, err := d.store.UsedCodes(d.ctx, trialID)
		if err != nil {
			return err
		}
		codes, err := panel.DrawCodes(d.random, len(cuts), used)
		if err != nil {
			return err
		}
		carver := d.people["Tove"]
		f := store.NewFlight{TrialID: trialID, Format: panel.ByScores, CarverID: &carver, At: at, Bites: 2, WaterS: 60}
		byCode := map[string]tasted{}
		for i, c := range cuts {
			f.Samples = append(f.Samples, store.NewSample{CutID: c.id, Place: "middle of the blade", Code: codes[i]})
			byCode[codes[i]] = c
		}
		for i, order := range panel.Orders(d.random, len(cuts), len(tasters)) {
			f.Ballots = append(f.Ballots, store.NewBallot{TasterID: tasters[i].ID, Order: order})
		}
		if _, err := d.store.Serve(d.ctx, d.people["Odalys"], f); err != nil {
			return err
		}
		for i, t := range tasters {
			if err := d.fillBallot(t.ID, float64(i%3)-1, byCode, d.random); err != nil {
				return err
			}
		}
		return nil
	})
}

// fillBallot seals every open sample of a taster, who is kinder or harsher by
// the given lean.
func (d *seeder) fillBallot(taster int64, lean float64, byCode map[string]tasted, luck *rand.Rand) error {
	return d.sealEach(taster, byCode, func(c tasted) map[string]int {
		scores := map[string]int{}
		for _, key := range []trial.OutcomeKey{trial.Juiciness, trial.Bark, trial.Tenderness, trial.Overall, trial.Smoke} {
			e := effects[key]
			score := e.base + 0.4*lean + c.luck + 0.8*luck.NormFloat64()
			if c.arm == 0 {
				score += e.paper
			}
			scores[string(key)] = onScale(score)
		}
		scores[string(trial.SmokeRight)] = d.justRight(c.arm, scores[string(trial.Overall)])
		return scores
	})
}

// sealEach seals every open sample of a taster with the scores of what it is of.
func (d *seeder) sealEach(taster int64, byCode map[string]tasted, scores func(tasted) map[string]int) error {
	plates, err := d.store.Plates(d.ctx, taster)
	if err != nil {
		return err
	}
	for _, p := range plates {
		for _, x := range p.Servings {
			c, ours := byCode[x.Code]
			if !ours || x.Sealed {
				continue
			}
			if err := d.store.Seal(d.ctx, p.BallotID, x.SampleID, store.Sealed{Scores: scores(c)}); err != nil {
				return err
			}
		}
	}
	return nil
}

// onScale is a score as a taster gives it: whole points of nine.
func onScale(score float64) int { return int(math.Max(1, math.Min(9, math.Round(score)))) }
