// Package demo fills an empty barn with the made-up harvest supper: one settled
// trial, one about to be lit, one just asked. The seed is fixed.
package demo

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/auth"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// Password opens every demo account.
const Password = "white barn demo"

// Zone is the demo barn's time zone.
const Zone = "America/New_York"

// trusted is what the pitmaster trusts them with besides logging and weighing.
var trusted = map[string][]store.Trust{"Bram": {store.TrustArms, store.TrustPits}, "Tove": {store.TrustPits, store.TrustPantry}}

// crew is the demo crew; the first is the pitmaster.
var crew = []string{"Odalys", "Bram", "Tove", "Ife", "Marisol", "Joren"}

type seeder struct {
	last    store.Event // that was logged
	ctx     context.Context
	store   *store.Store
	random  *rand.Rand
	tables  *rand.Rand // of what was served in other ways than scores
	presses *rand.Rand // of what the record grew by later, so that the rest stays as it was
	zone    *time.Location
	people  map[string]int64
	pits    map[string]int64
	recipes map[string]int64
	box     int64 // the Warm Box
	err     error
}

// Seed fills the barn, all of it or nothing, unless there is one.
func Seed(ctx context.Context, s *store.Store, cost auth.Cost, now time.Time) error {
	if _, err := s.Barn(ctx); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return s.InTx(ctx, func(s *store.Store) error { return seed(ctx, s, cost, now) })
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
	d := &seeder{ctx: ctx, store: s, random: rand.New(rand.NewPCG(2026, 919)), presses: rand.New(rand.NewPCG(2026, 1013)),
		tables: rand.New(rand.NewPCG(2026, 1127)), zone: zone,
		people: map[string]int64{}, pits: map[string]int64{}, recipes: map[string]int64{}}
	if d.people[crew[0]], err = s.FirstRun(ctx, store.Barn{Name: "White Barn", TimeZone: Zone, ElevationM: 310}, store.Person{Name: crew[0], Role: store.Pitmaster, SignIn: crew[0], PasswordHash: hash}); err != nil {
		return err
	}
	for _, name := range crew[1:] {
		p := store.Person{Name: name, Role: store.Crew, Trusts: trusted[name], SignIn: name, PasswordHash: hash}
		if d.people[name], err = s.AddPerson(ctx, p); err != nil {
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
	box, err := s.AddHolder(ctx, "Warm Box")
	if err != nil {
		return err
	}
	d.box = box.ID
	d.kitchen()
	d.chuckEye()
	d.duckLegs(now)
	d.shoulders(now)
	d.threeArms(now)
	d.hold(now)
	d.calibrate(now)
	d.brickPit(now)
	d.house(now)
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
	a.MeatConfirmed = true
	for i := range a.Outcomes {
		o := &a.Outcomes[i]
		if usual, _ := trial.DefaultOf(o.Key); o.SmallestDifference == usual.SmallestDifference {
			o.Source = "the barn's usual"
		} else {
			o.Source = "what guests remarked on"
		}
	}
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
	d.press(d.random, by, act, at, note, target)
}

func (d *seeder) press(r *rand.Rand, by string, act logbook.Act, at time.Time, note string, target store.Event) {
	d.do(func() error {
		id, err := uuid.NewRandomFromReader(randomBytes{r})
		// The same done to several at once is one press; each is read by itself.
		if was := d.last; act != logbook.Probe && was.Act == act && was.At.Equal(at) && was.Note == note && was.By == by {
			target.Press = was.Press
		} else {
			target.Press = id.String()
		}
		target.Act, target.At, target.Note = act, at, note
		d.last = target
		d.last.By = by
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
		Question: "Alder or hornbeam under a chuck-eye roast?", Product: "chuck-eye roast", Family: "chuck", Cut: "roast", Species: safety.RedMeat, Handling: safety.Intact,
		Factors: []trial.Factor{{Name: "wood", Kind: trial.Categorical, SetOn: trial.UnitPitRun}},
		Arms:    []trial.Arm{{Tag: "ALDER", Levels: trial.Levels("alder"), Control: true}, {Tag: "HORN", Levels: trial.Levels("hornbeam")}},
		Hand:    trial.Hand{Blocks: 6, BlockSize: 2, Pits: 2, Positions: 6, CookDays: 2, Tasters: 6, CutCents: 2150}, Contexts: trial.UsualContexts,
		Held:     []trial.Held{{Name: "pit temperature", Value: "250 F"}, {Name: "wrap", Value: "none"}},
		Outcomes: []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.Smoke}},
	})
}

// duckLegs is planned and weighed; its log waits in docs/examples.
func (d *seeder) duckLegs(now time.Time) {
	id, arms := d.create(trial.Ask{
		Question: "Does a night uncovered crisp the duck legs?", Product: "duck leg", Family: "chthigh", Cut: "leg", Species: safety.Poultry, Handling: safety.Intact,
		Factors: []trial.Factor{{Name: "skin treatment", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:    []trial.Arm{{Tag: "DRY", Levels: trial.Levels("a night uncovered")}, {Tag: "FRESH", Levels: trial.Levels("none"), Control: true}},
		Hand:    trial.Hand{Blocks: 3, BlockSize: 2, Pits: 1, Positions: 12, CookDays: 1, Tasters: 4, CutCents: 620}, Contexts: trial.UsualContexts,
		Held:     []trial.Held{{Name: "pit temperature", Value: "275 F, North Drum"}, {Name: "wood", Value: "apricot, two chunks"}, {Name: "dry brine", Value: "1 %"}},
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
		d.seat(id, name)
	}
}

// seat puts somebody at the table of a trial, of the crew or a guest.
func (d *seeder) seat(trialID int64, name string) {
	d.do(func() error {
		t := store.NewTaster{TrialID: trialID, Name: name}
		if id, ok := d.people[name]; ok {
			t.PersonID = &id
		}
		_, err := d.store.AddTaster(d.ctx, d.people["Odalys"], t)
		return err
	})
}

// DuckLog is the log of the duck legs, as the example file has it.
func DuckLog() ([]byte, error) {
	zone, err := time.LoadLocation(Zone)
	if err != nil {
		return nil, err
	}
	on := time.Date(2026, 9, 27, 9, 5, 0, 0, zone)
	var pieces []*piece
	for pair := 1; pair <= 3; pair++ {
		for _, side := range "LR" {
			pieces = append(pieces, &piece{name: fmt.Sprintf("%d%c", pair, side), kg: 0.31 + 0.02*float64(pair), pullC: units.FToC(182)})
		}
	}
	run, err := burn(27, on, standin.Pit{Kind: "drum", SetPoint: "275 F", Control: "vents"}, "chthigh", pieces)
	if err != nil {
		return nil, err
	}
	return run.csv(zone, "North Drum"), nil
}
