package demo

import (
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"fmt"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// dryBurn is one burn of the Brick Pit without meat.
type dryBurn struct {
	arm     int
	day     int // before now
	air     float64
	fed     []int // min after it was lit, a split each
	fuel    string
	left    string
	water   string
	drained string
}

// burnedFor is how long each was read.
const burnedFor = 100 * time.Minute

// points are the columns of the logger that lay in it.
var points = []string{"fire end", "middle", "far end", "dial", "wet bulb"}

// brickPit burns the Brick Pit with its trough and without, two days each, and settles what
// each is good for; it is used with the trough since.
func (d *seeder) brickPit(now time.Time) {
	id, arms := d.create(trial.Ask{Kind: trial.OfSetUps, Question: "What does the trough do to the Brick Pit?",
		Factors: []trial.Factor{{Name: "water pan", Kind: trial.Categorical, SetOn: trial.UnitPitRun}},
		Arms:    []trial.Arm{{Tag: "TROUGH", Levels: trial.Levels("water"), Control: true}, {Tag: "DRY", Levels: trial.Levels("none")}},
		Held:    []trial.Held{{Name: "fuel", Value: "hornbeam splits"}, {Name: "pit temperature", Value: "250 F"}},
	})
	if d.err != nil {
		return
	}
	burns := []dryBurn{
		{arm: 0, day: 12, air: 58, fed: []int{30, 52, 76}, fuel: "14 lb", left: "3 lb", water: "6 qt", drained: "4.5 qt"},
		{arm: 1, day: 11, air: 61, fed: []int{28, 56, 82}, fuel: "14 lb", left: "4 lb"},
		{arm: 1, day: 10, air: 57, fed: []int{26, 52, 80}, fuel: "14 lb", left: "3 lb 8 oz"},
		{arm: 0, day: 9, air: 60, fed: []int{32, 56, 80}, fuel: "14 lb", left: "2 lb 12 oz", water: "6 qt", drained: "4 qt"},
	}
	log := &bytes.Buffer{}
	w := csv.NewWriter(log)
	header := []string{"Time"}
	for _, p := range points {
		header = append(header, p+" (F)")
	}
	_ = w.Write(header) // a buffer does not fail
	var times []store.BurnTime
	for i, b := range burns {
		lit := d.clock(now.In(d.zone).AddDate(0, 0, -b.day).Format(time.DateOnly), 9, 0)
		run := d.planBurn(id, arms[b.arm], []string{"water", "none"}[b.arm], lit)
		d.logBurn(b, run, lit)
		d.do(func() error { return b.play(uint64(60+i), lit, d.zone, w) })
		times = append(times, store.BurnTime{CookID: run.CookID, RunID: run.ID, PitID: run.PitID, From: lit, To: lit.Add(24 * time.Hour)})
	}
	w.Flush()
	d.importBurns(log.Bytes(), times)
	d.do(func() error { return d.store.End(d.ctx, d.people["Odalys"], id, "its burns were read") })
	d.do(func() error {
		act := &barn.Act{Store: d.store, Who: store.Person{ID: d.people["Odalys"], Name: "Odalys", Role: store.Pitmaster},
			Now: func() time.Time { return now }}
		in := barn.With[pits.UseInput]{ByID: barn.ByID{ID: d.pits["Brick Pit"]}, Body: pits.UseInput{ArmID: arms[0]}}
		_, err := pits.Use(d.ctx, act, &in)
		return err
	})
	d.judge(id)
}

// planBurn plans one burn of a set-up.
func (d *seeder) planBurn(id, arm int64, setup string, lit time.Time) (run store.PitRun) {
	over := lit.Add(burnedFor)
	d.do(func() error {
		cook, err := d.store.CreateCook(d.ctx, d.people["Odalys"], id, store.CookPlan{ServeAt: over, Runs: []store.PitRun{{
			PitID: d.pits["Brick Pit"], Setup: setup, SetPointC: units.FToC(250), SetPointTyped: "250 F", ArmID: &arm, LitAt: &lit, OverAt: &over}}},
			trial.RealClock(lit))
		if err != nil {
			return err
		}
		runs, err := d.store.PitRuns(d.ctx, id)
		for _, r := range runs {
			if r.CookID == cook {
				run = r
			}
		}
		return err
	})
	return run
}

// logBurn logs what was done: lit, fed, and what was left.
func (d *seeder) logBurn(b dryBurn, run store.PitRun, lit time.Time) {
	pit := store.Event{PitRunID: &run.ID}
	log := func(act logbook.Act, at time.Time, to store.Event, detail logbook.Detail) {
		d.do(func() (err error) { to.Detail, err = detail.Tidy(act); return err })
		d.press(d.presses, "Joren", act, at, "", to)
	}
	log(logbook.Note, lit.Add(-5*time.Minute), store.Event{CookID: &run.CookID},
		logbook.Detail{Air: fmt.Sprintf("%g F", b.air), Wind: "breeze"})
	if b.water != "" {
		log(logbook.Water, lit, pit, logbook.Detail{With: "water", Amount: b.water})
	}
	log(logbook.Lit, lit, pit, logbook.Detail{With: "hornbeam splits", Weight: b.fuel})
	for _, m := range b.fed {
		log(logbook.Fuel, lit.Add(time.Duration(m)*time.Minute), pit, logbook.Detail{With: "split", Pieces: 1, Weight: "2 lb"})
	}
	d.leave(run.ID, "fuel", b.left)
	if b.drained != "" {
		d.leave(run.ID, "water", b.drained)
	}
}

func (d *seeder) leave(run int64, what store.Left, typed string) {
	d.do(func() error {
		l := store.Leftover{PitRunID: run, What: what, Typed: typed}
		if what == "water" {
			v, err := units.ParseVolume(typed)
			l.ML = &v.ML
			if err != nil {
				return err
			}
		} else {
			m, err := units.ParseMass(typed)
			l.Kg = &m.Kg
			if err != nil {
				return err
			}
		}
		return d.store.Leave(d.ctx, d.people["Joren"], l)
	})
}

// play burns it in the simulated barn and writes what its logger read, minute by minute.
func (b dryBurn) play(seed uint64, lit time.Time, zone *time.Location, w *csv.Writer) error {
	p := standin.Pit{Name: "pit", Kind: "offset", SetPoint: "250 F", Control: "splits", Fuel: "12 kg", Ambient: fmt.Sprintf("%g F", b.air)}
	if b.water != "" {
		p.Trough = "12 lb"
	}
	for _, at := range points {
		p.Points = append(p.Points, standin.Point{At: at, Channel: at, Probe: standin.Probe{Noise: 0.3}})
	}
	script := standin.Script{Seed: seed, Every: standin.Duration(time.Minute), Pits: []standin.Pit{p}}
	for _, m := range b.fed {
		script.Events = append(script.Events, standin.Event{At: standin.Duration(time.Duration(m) * time.Minute), Do: "fuel", Pit: "pit"})
	}
	burning, err := standin.New(script, lit)
	if err != nil {
		return err
	}
	last := map[string]float64{}
	for at := lit.Add(time.Minute); !at.After(lit.Add(burnedFor)); at = at.Add(time.Minute) {
		if err := burning.Advance(at, func(r standin.Reading) { last[r.Channel] = r.Value }); err != nil {
			return err
		}
		row := []string{at.In(zone).Format(time.DateTime)}
		for _, p := range points {
			row = append(row, fmt.Sprintf("%.1f", units.CToF(last[p])))
		}
		if err := w.Write(row); err != nil {
			return err
		}
	}
	return nil
}

// importBurns takes the one file of all burns in: each gets what was read in its time.
func (d *seeder) importBurns(data []byte, burns []store.BurnTime) {
	d.do(func() error {
		log, err := logbook.Read(data, logbook.Options{Zone: d.zone})
		if err != nil {
			return err
		}
		targets, known := map[string]store.Target{}, map[string]string{}
		for i, c := range log.Columns {
			targets[c.Name] = store.Target{PitRunID: &burns[0].RunID, Point: points[i]}
			known[c.Name] = points[i]
		}
		sum := sha256.Sum256(data)
		_, _, err = d.store.ImportLog(d.ctx, d.people["Joren"], store.NewImport{CookID: burns[0].CookID, Logger: "pit logger",
			FileName: "brick-pit-burns.csv", SHA256: sum[:], Log: log, Targets: targets, Burns: burns})
		if err != nil {
			return err
		}
		return d.store.SetPit(d.ctx, d.people["Joren"], d.pits["Brick Pit"], func(p *store.Pit) { p.Points = known })
	})
}
