// Package demo fills an empty barn with the made-up harvest supper: one settled
// trial, one about to be lit, one just asked. The seed is fixed.
package demo

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/auth"
	"whitebarn/internal/store"
)

// Password opens every demo account.
const Password = "white barn demo"

// Zone is the demo barn's time zone.
const Zone = "America/New_York"

// crew is the demo crew; the first is the pitmaster.
var crew = []string{"Odalys", "Bram", "Tove", "Ife", "Marisol", "Joren"}

type seeder struct {
	ctx    context.Context
	store  *store.Store
	random *rand.Rand
	zone   *time.Location
	people map[string]int64
	pits   map[string]int64
	err    error
}

// Seed fills the barn, all of it or nothing, unless there is one.
func Seed(ctx context.Context, s *store.Store, cost auth.Cost, now time.Time) error {
	if _, err := s.Barn(ctx); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return s.Together(ctx, func(s *store.Store) error { return seed(ctx, s, cost, now) })
}

func seed(ctx context.Context, s *store.Store, cost auth.Cost, now time.Time) error {
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		return err
	}
	hash, err := auth.Hash(Password, cost)
	if err != nil {
		return err
	}
	d := &seeder{ctx: ctx, store: s, random: rand.New(rand.NewPCG(2026, 919)), zone: zone, people: map[string]int64{}, pits: map[string]int64{}}
	if d.people[crew[0]], err = s.FirstRun(ctx, store.Barn{Name: "White Barn", TimeZone: Zone, ElevationM: 310}, store.Person{Name: crew[0], Role: store.Pitmaster, SignIn: crew[0], PasswordHash: hash}); err != nil {
		return err
	}
	for _, name := range crew[1:] {
		if d.people[name], err = s.AddPerson(ctx, store.Person{Name: name, Role: store.Crew, SignIn: name, PasswordHash: hash}); err != nil {
			return err
		}
	}
	for _, name := range []string{"Brick Pit", "North Drum", "Cabinet"} {
		p, err := s.AddPit(ctx, name)
		if err != nil {
			return err
		}
		d.pits[name] = p.ID
	}
	d.chuckEye()
	d.duckLegs(now)
	d.shoulders(now)
	return d.err
}

// do runs one step unless an earlier one failed.
func (d *seeder) do(f func() error) {
	if d.err == nil {
		d.err = f()
	}
}

func (d *seeder) clock(day string, hour, minute int) time.Time {
	t, err := time.ParseInLocation("2006-01-02", day, d.zone)
	if err != nil {
		panic(err) // days are written in this package
	}
	return t.Add(time.Duration(hour)*time.Hour + time.Duration(minute)*time.Minute).UTC()
}

func (d *seeder) create(a trial.Ask) (id int64, arms []int64) {
	a = a.Tidy()
	d.do(func() (err error) {
		if err := a.Check(); err != nil {
			return err
		}
		if id, err = d.store.CreateTrial(d.ctx, d.people["Odalys"], a); err != nil {
			return err
		}
		t, err := d.store.Trial(d.ctx, id)
		for _, arm := range t.Ask.Arms {
			arms = append(arms, arm.ID)
		}
		return err
	})
	return id, arms
}

func (d *seeder) weigh(cut int64, stage yield.Stage, kg float64, at time.Time) {
	d.do(func() error {
		m, err := units.ParseMass(poundsOunces(kg))
		if err != nil {
			return err
		}
		step, err := units.ParseMass("1/4 oz")
		if err != nil {
			return err
		}
		return d.store.Weigh(d.ctx, d.people["Tove"], store.Weighing{CutID: cut, Stage: stage, Kg: m.Kg, Typed: m.Typed, ResolutionKg: step.Kg, ResolutionTyped: step.Typed, At: at})
	})
}

func (d *seeder) log(by string, act logbook.Act, at time.Time, note string, target store.Event) {
	d.do(func() error {
		id, err := uuid.NewRandomFromReader(randomBytes{d.random})
		target.Act, target.At, target.Note, target.Press = act, at, note, id.String()
		return errors.Join(err, d.store.Log(d.ctx, d.people[by], []store.Event{target}))
	})
}

type randomBytes struct{ r *rand.Rand }

func (b randomBytes) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = byte(b.r.Uint32())
	}
	return len(p), nil
}

func (d *seeder) chuckEye() {
	d.create(trial.Ask{
		Question: "Alder or hornbeam under a chuck-eye roast?", Product: "chuck-eye roast", Cut: "roast", Species: safety.RedMeat, Handling: safety.Intact,
		Factor: "wood", Unit: trial.UnitPitRun,
		Arms:     []trial.Arm{{Tag: "ALDER", Level: "alder splits", Control: true}, {Tag: "HORN", Level: "hornbeam splits"}},
		Held:     []trial.Held{{Name: "pit", Value: "250 F"}, {Name: "wrap", Value: "none"}},
		Outcomes: []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Smoke}},
	})
}

// duckLegs is planned and weighed; its log waits in docs/examples.
func (d *seeder) duckLegs(now time.Time) {
	id, arms := d.create(trial.Ask{
		Question: "Does a night uncovered crisp the duck legs?", Product: "duck leg", Cut: "leg", Species: safety.Poultry, Handling: safety.Intact,
		Factor: "skin treatment", Unit: trial.UnitCut,
		Arms:     []trial.Arm{{Tag: "DRY", Level: "a night uncovered in the cold"}, {Tag: "FRESH", Level: "straight from the pack", Control: true}},
		Held:     []trial.Held{{Name: "pit", Value: "275 F, North Drum"}, {Name: "wood", Value: "apricot, two chunks"}, {Name: "salt", Value: "1 %"}},
		Outcomes: []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}, {Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Tenderness, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.CookTime, SmallestDifference: 0.5}},
	})
	plan := store.CookPlan{ServeAt: d.clock("2026-09-27", 13, 0), Runs: []store.PitRun{{PitID: d.pits["North Drum"], Setup: "drum, charcoal basket low", SetPointC: units.FToC(275), SetPointTyped: "275 F"}}}
	for pair := 1; pair <= 3; pair++ {
		for side := range 2 {
			name := fmt.Sprintf("%d%c", pair, "LR"[side])
			kg := 0.31 + 0.02*float64(pair) + 0.008*d.random.NormFloat64()
			d.do(func() error {
				cut, err := d.store.AddCut(d.ctx, d.people["Bram"], id, store.Cut{Name: name, Pair: fmt.Sprint(pair), Animal: fmt.Sprintf("Duck %d", pair), Side: []string{"left", "right"}[side], ArmID: &arms[(pair+side)%2]})
				plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: cut})
				return err
			})
			if d.err == nil {
				d.weigh(plan.Placements[len(plan.Placements)-1].CutID, yield.Trimmed, kg, d.clock("2026-09-26", 17, 0))
			}
		}
	}
	d.do(func() error {
		_, err := d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: d.clock("2026-09-27", 13, 0), Start: now, Rate: 1})
		return err
	})
	for _, name := range []string{"Ife", "Marisol", "Joren", "Tove"} {
		d.do(func() error { return d.store.AddTaster(d.ctx, d.people["Odalys"], id, name) })
	}
}

// DuckLog is the log of the duck legs, as the example file has it.
func DuckLog() ([]byte, error) {
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		return nil, err
	}
	r := rand.New(rand.NewPCG(27, 9))
	on := time.Date(2026, 9, 27, 9, 5, 0, 0, zone)
	var pieces []*piece
	for pair := 1; pair <= 3; pair++ {
		for _, side := range "LR" {
			pieces = append(pieces, &piece{name: fmt.Sprintf("%d%c", pair, side), tauH: 1.55 + 0.06*float64(pair) + 0.03*r.NormFloat64(), evapC: 10, pullC: units.FToC(182), coreC: 4})
		}
	}
	return burn(r, on, units.FToC(275), pieces).csv(zone, "North Drum"), nil
}

// shoulders is taken from question to verdict.
func (d *seeder) shoulders(now time.Time) {
	id, arms := d.create(trial.Ask{
		Question: "Paper or bare?", Product: "lamb shoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factor: "wrap", Unit: trial.UnitCut,
		Arms:      []trial.Arm{{Tag: "PAPER", Level: "butcher paper at 165 F"}, {Tag: "BARE", Level: "no wrap to 203 F", Control: true}},
		Held:      []trial.Held{{Name: "pit", Value: "250 F, Brick Pit"}, {Name: "wood", Value: "apricot 2 to alder 1"}, {Name: "salt", Value: "1 %, 24 h"}, {Name: "pull", Value: "203 F"}, {Name: "rest", Value: "90 min"}},
		Allergens: []string{"mustard"},
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}, {Key: trial.Tenderness, SmallestDifference: 0.5},
			{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Smoke}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.CookTime, SmallestDifference: 0.75}},
	})
	for _, name := range []string{"Ife", "Marisol", "Joren", "Bram", "Pell from the mill"} {
		d.do(func() error { return d.store.AddTaster(d.ctx, d.people["Odalys"], id, name) })
	}
	for cook, date := range []string{"2026-09-19", "2026-09-20"} {
		cuts := d.cookShoulders(id, arms, cook, date, now)
		for flight := range 2 {
			d.tasteShoulders(id, cuts[4*flight:4*flight+4])
		}
	}
	d.do(func() error { return d.store.Reveal(d.ctx, d.people["Odalys"], id, "") })
}

// tasted is a cut with the arm it was in, and what makes it better or worse
// than its arm.
type tasted struct {
	id   int64
	arm  int
	luck float64
}

// cookShoulders runs one cook of four pairs from weighing to weighing out.
func (d *seeder) cookShoulders(id int64, arms []int64, cook int, date string, now time.Time) []tasted {
	cuts := make([]tasted, 8)
	if d.err != nil {
		return cuts
	}
	on := d.clock(date, 7, 30)
	serve := d.clock(date, 18, 0)
	plan := store.CookPlan{ServeAt: serve, Runs: []store.PitRun{{PitID: d.pits["Brick Pit"], Setup: "water trough half full", SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
	pieces := make([]*piece, 8)
	for i := range cuts {
		animal, side := cook*4+i/2+1, i%2
		arm := (animal + side + animal/3) % 2
		name := fmt.Sprintf("%d%c", animal, "LR"[side])
		kg := 2.62 + 0.09*float64(animal%4) + 0.05*d.random.NormFloat64()
		d.do(func() (err error) {
			cuts[i].id, err = d.store.AddCut(d.ctx, d.people["Bram"], id, store.Cut{Name: name, Pair: fmt.Sprint(animal), Animal: fmt.Sprintf("Lamb %d", animal), Side: []string{"left", "right"}[side], ArmID: &arms[arm]})
			return err
		})
		cuts[i].arm, cuts[i].luck = arm, 0.3*d.random.NormFloat64()
		d.weigh(cuts[i].id, yield.Bought, kg*1.07, on.Add(-38*time.Hour))
		d.weigh(cuts[i].id, yield.Trimmed, kg, on.Add(-37*time.Hour))
		p := &piece{name: name, kg: kg, tauH: 3.1 + 0.5*(kg-2.7) + 0.05*d.random.NormFloat64(), evapC: 10.5 + 0.4*d.random.NormFloat64(), pullC: units.FToC(203), coreC: 4}
		if arm == 0 {
			p.wrapC = units.FToC(165)
		}
		pieces[i] = p
		plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: cuts[i].id, Position: fmt.Sprintf("%c%d", "AB"[i%2], i/2+1)})
	}
	var cookID int64
	d.do(func() (err error) {
		// The day is long over by its own clock: nothing runs in the demo at start.
		cookID, err = d.store.CreateCook(d.ctx, d.people["Odalys"], id, plan, trial.Clock{Origin: serve.Add(4 * time.Hour), Start: now, Rate: 1})
		return err
	})
	run := burn(d.random, on, units.FToC(250), pieces)
	d.importLog(cookID, id, run, cuts, "Brick Pit", "barn-logger "+date+".csv")
	d.shoulderEvents(id, run, cuts)
	for i, c := range cuts {
		p := pieces[i]
		off := p.kg * (1 - p.loss)
		d.weigh(c.id, yield.Off, off, p.pulled.Add(10*time.Minute))
		d.weigh(c.id, yield.Rested, off*(0.985+0.002*d.random.NormFloat64()), p.pulled.Add(100*time.Minute))
		d.weigh(c.id, yield.Edible, off*(0.80+0.01*d.random.NormFloat64()), serve)
		d.do(func() error {
			return d.store.SetFinalTemperature(d.ctx, d.people["Ife"], store.FinalTemperature{CutID: c.id, C: p.pullC, Typed: "203 F", Source: "hand", At: p.pulled})
		})
	}
	return cuts
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
	trial.Juiciness: {5.9, 1.3}, trial.Bark: {7.1, -1.2}, trial.Tenderness: {6.7, -0.25}, trial.Overall: {6.6, 0.35}, trial.Smoke: {5.2, -0.2},
}

// tasteShoulders serves one flight of two pairs and fills its ballots.
func (d *seeder) tasteShoulders(trialID int64, cuts []tasted) {
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
		f := store.NewFlight{TrialID: trialID, CarverID: d.people["Tove"], Codes: codes, Orders: panel.Orders(d.random, len(cuts), len(tasters))}
		byCode := map[string]tasted{}
		for i, c := range cuts {
			f.Cuts, f.Places = append(f.Cuts, c.id), append(f.Places, "middle of the blade")
			byCode[codes[i]] = c
		}
		for _, t := range tasters {
			f.Tasters = append(f.Tasters, t.ID)
		}
		if _, err := d.store.Serve(d.ctx, d.people["Odalys"], f); err != nil {
			return err
		}
		for i, t := range tasters {
			if err := d.fillBallot(t.ID, float64(i%3)-1, byCode); err != nil {
				return err
			}
		}
		return nil
	})
}

// fillBallot seals every open sample of a taster, who is kinder or harsher by
// the given lean.
func (d *seeder) fillBallot(taster int64, lean float64, byCode map[string]tasted) error {
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
			v := store.Sealed{Scores: map[string]int{}}
			for _, key := range []trial.OutcomeKey{trial.Juiciness, trial.Bark, trial.Tenderness, trial.Overall, trial.Smoke} {
				e := effects[key]
				score := e.base + 0.4*lean + c.luck + 0.8*d.random.NormFloat64()
				if c.arm == 0 {
					score += e.paper
				}
				v.Scores[string(key)] = int(math.Max(1, math.Min(9, math.Round(score))))
			}
			if err := d.store.Seal(d.ctx, x.BallotID, x.SampleID, v); err != nil {
				return err
			}
		}
	}
	return nil
}
