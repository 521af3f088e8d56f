// Package notebook writes up a cook of long ago from a notebook: its arms, cuts, a few times and
// temperatures, weights and scores, all at once. It is marked as written up later: never blind,
// never over leaning, and no evidence of what another day would show.
package notebook

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/fault"
	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Page is a page of a notebook.
type Page struct {
	Question string          `json:"question" binding:"required,max=200"`
	Product  string          `json:"product" binding:"required,max=60"`
	Family   string          `json:"family" binding:"max=40"` // what it cooks like; empty for a product that is known
	Cut      string          `json:"cut" binding:"required,max=40"`
	Species  safety.Species  `json:"species" binding:"required"`
	Handling safety.Handling `json:"handling" binding:"required"`
	Factor   string          `json:"factor" binding:"required,max=60"` // what was varied, of the catalogue or new
	Arms     []PageArm       `json:"arms" binding:"min=2,max=6,dive"`
	Day      string          `json:"day" binding:"required"`   // of the table, 2024-08-17
	Serve    string          `json:"serve" binding:"required"` // 18:00
	Pit      string          `json:"pit" binding:"required,max=40"`
	SetPoint string          `json:"set_point" binding:"required,max=20"`
	Cuts     []PageCut       `json:"cuts" binding:"min=2,max=48,dive"`
	Notes    string          `json:"notes" binding:"max=2000"`
}

// PageArm is an arm as it was.
type PageArm struct {
	Tag     string `json:"tag" binding:"required,max=12"`
	Level   string `json:"level" binding:"required,max=60"`
	Control bool   `json:"control"`
}

// PageCut is a line of the page. What was not noted is empty.
type PageCut struct {
	Name    string                   `json:"name" binding:"required,max=20"`
	Arm     int                      `json:"arm" binding:"min=0,max=5"` // in the order of the arms
	Pair    string                   `json:"pair" binding:"max=20"`
	Trimmed string                   `json:"trimmed" binding:"max=30"`
	Off     string                   `json:"off" binding:"max=30"`
	Edible  string                   `json:"edible" binding:"max=30"`
	On      string                   `json:"on" binding:"max=20"`   // 06:30, the last time it was so before the pull
	Pull    string                   `json:"pull" binding:"max=20"` // 15:45, the last time it was so before the table
	Core    string                   `json:"core" binding:"max=20"` // at the pull
	Scores  map[trial.OutcomeKey]int `json:"scores"`                // 1 to 9, as agreed at the table
}

// WrittenUp is the trial that a page became.
type WrittenUp struct {
	ID int64 `json:"id"`
}

// page is one with its times and weights read.
type page struct {
	Page
	ask      trial.Ask
	serve    time.Time
	setPoint units.Temperature
	cuts     []line
}

type line struct {
	PageCut
	weights  map[yield.Stage]units.Mass
	on, pull time.Time
	core     logbook.Detail
}

// Write writes a page up as a trial whose codes are open.
func Write(ctx context.Context, a *barn.Act, in *barn.Of[Page]) (WrittenUp, error) {
	zone, err := a.Store.Zone(ctx)
	if err != nil {
		return WrittenUp{}, err
	}
	p, err := read(in.Body, zone, a.Now())
	if err != nil {
		return WrittenUp{}, err
	}
	if p.ask, err = a.Store.Resolve(ctx, p.ask.Tidy()); err != nil {
		return WrittenUp{}, err
	}
	p.ask.MeatConfirmed = true // it is said on the page, outright
	if err := p.ask.Check(); err != nil {
		return WrittenUp{}, err
	}
	id, err := a.Store.CreateTrial(ctx, a.Who.ID, p.ask)
	if err != nil {
		return WrittenUp{}, err
	}
	w := writer{ctx: ctx, a: a, id: id, press: uuid.NewString}
	if err := w.record(p); err != nil {
		return WrittenUp{}, err
	}
	return WrittenUp{id}, a.Store.Reveal(ctx, a.Who.ID, id, "written up later from a notebook")
}

// scored are the outcomes that the page has scores of, in the order of the catalogue.
func (p Page) scored() (out []trial.Chosen) {
	for _, d := range trial.Catalogue {
		has := slices.ContainsFunc(p.Cuts, func(c PageCut) bool { _, ok := c.Scores[d.Key]; return ok })
		weighed := d.Key == trial.CookedYield && slices.ContainsFunc(p.Cuts, func(c PageCut) bool { return c.Off != "" && c.Trimmed != "" })
		timed := d.Key == trial.CookTime && slices.ContainsFunc(p.Cuts, func(c PageCut) bool { return c.On != "" && c.Pull != "" })
		if has || weighed || timed {
			out = append(out, trial.Chosen{Key: d.Key, SmallestDifference: d.SmallestDifference, Source: "the barn's usual"})
		}
	}
	return out
}

// read checks a page whole, and names every field that is wrong.
func read(in Page, zone *time.Location, now time.Time) (page, error) {
	p := page{Page: in}
	var wrong fault.List
	day, err := time.ParseInLocation(time.DateOnly, strings.TrimSpace(in.Day), zone)
	if err != nil {
		wrong.Add("day", fmt.Sprintf("%.20q is not a day", in.Day), "give it as 2024-08-17")
	}
	clock, err := time.Parse("15:04", strings.TrimSpace(in.Serve))
	if err != nil {
		wrong.Add("serve", fmt.Sprintf("%.20q is not a time of day", in.Serve), "give it as 18:00")
	}
	p.serve = time.Date(day.Year(), day.Month(), day.Day(), clock.Hour(), clock.Minute(), 0, 0, zone)
	if err := wrong.Err(); err != nil {
		return p, err
	}
	if !logbook.InYears(p.serve) || p.serve.After(now) {
		wrong.Add("day", in.Day+" is not a day of the past", "a cook that is to come begins at Ask")
	}
	p.setPoint, err = units.ParseTemperature(in.SetPoint)
	wrong.Take("set_point", err)
	names := map[string]bool{}
	for i, c := range in.Cuts {
		l := line{PageCut: c, weights: map[yield.Stage]units.Mass{}}
		field := func(name string) string { return fmt.Sprintf("cuts[%d].%s", i, name) }
		if l.Name = strings.TrimSpace(c.Name); names[strings.ToLower(l.Name)] {
			wrong.Add(field("name"), l.Name+" is there twice", "give each cut a name of its own")
		}
		names[strings.ToLower(l.Name)] = true
		if c.Arm >= len(in.Arms) {
			wrong.Add(field("arm"), fmt.Sprintf("there is no arm %d", c.Arm+1), "choose one of the arms above")
		}
		for _, w := range []struct {
			name, typed string
			stage       yield.Stage
		}{{"trimmed", c.Trimmed, yield.Trimmed}, {"off", c.Off, yield.Off}, {"edible", c.Edible, yield.Edible}} {
			if strings.TrimSpace(w.typed) == "" {
				continue
			}
			m, err := units.ParseMass(w.typed)
			wrong.Take(field(w.name), err)
			l.weights[w.stage] = m
		}
		if l.pull, err = before(c.Pull, p.serve, zone); err != nil {
			wrong.Take(field("pull"), err)
		}
		last := l.pull
		if last.IsZero() {
			last = p.serve
		}
		if l.on, err = before(c.On, last, zone); err != nil {
			wrong.Take(field("on"), err)
		}
		if strings.TrimSpace(c.Core) != "" {
			if _, err := units.ParseTemperature(c.Core); err != nil {
				wrong.Take(field("core"), err)
			} else {
				l.core, err = logbook.Detail{Read: c.Core, Place: gate.ColdestFound}.Tidy(logbook.Probe)
				wrong.Take(field("core"), err)
			}
			if c.Pull == "" {
				wrong.Add(field("pull"), "the core was read at the pull, and no pull is noted", "give the time of the pull, or leave the core out")
			}
		}
		for key, v := range c.Scores {
			if d, ok := trial.DefaultOf(key); !ok || d.Kind != trial.FromPanel || d.Right || v < 1 || v > 9 {
				wrong.Add(field("scores."+string(key)), fmt.Sprintf("%d is not a score", v), "give whole points from 1 to 9")
			}
		}
		p.cuts = append(p.cuts, l)
	}
	for i := range in.Arms {
		if !slices.ContainsFunc(in.Cuts, func(c PageCut) bool { return c.Arm == i }) {
			wrong.Add(fmt.Sprintf("arms[%d]", i), "no cut was in it", "put a cut into it, or take the arm out")
		}
	}
	p.ask = in.asked()
	if len(p.ask.Outcomes) == 0 {
		wrong.Add("cuts", "nothing was weighed, timed or scored", "give weights, times or scores of the cuts")
	}
	return p, wrong.Err()
}

// asked is the ask that a page answers.
func (p Page) asked() trial.Ask {
	ask := trial.Ask{
		Question: p.Question, Product: p.Product, Family: p.Family, Cut: p.Cut, Species: p.Species, Handling: p.Handling, WrittenUp: true,
		Factors: []trial.Factor{{Name: p.Factor, Kind: trial.Categorical, SetOn: trial.UnitCut}}, Outcomes: p.scored(), Contexts: trial.UsualContexts,
		Held: []trial.Held{{Name: "pit temperature", Value: p.SetPoint + ", " + p.Pit}},
		Hand: trial.Hand{Blocks: max(1, len(p.Cuts)/max(1, len(p.Arms))), BlockSize: len(p.Arms), Pits: 1, Positions: max(len(p.Cuts), 1), CookDays: 1, Tasters: 1},
	}
	for _, arm := range p.Arms {
		ask.Arms = append(ask.Arms, trial.Arm{Tag: strings.ToUpper(strings.TrimSpace(arm.Tag)), Levels: trial.Levels(arm.Level), Control: arm.Control})
	}
	return ask
}

// before reads a time of day as the last one before a moment, or a whole moment; nothing is none.
func before(typed string, end time.Time, zone *time.Location) (time.Time, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return time.Time{}, nil
	}
	if t, err := time.ParseInLocation("2006-01-02 15:04", typed, zone); err == nil {
		if !t.Before(end) || end.Sub(t) > 8*24*time.Hour {
			return t, fault.New("", typed+" is not in the week before what followed it", "look at the day again")
		}
		return t, nil
	}
	clock, err := time.Parse("15:04", typed)
	if err != nil {
		return time.Time{}, fault.New("", fmt.Sprintf("%.20q is not a time", typed), "give it as 06:30, or with its day as 2024-08-16 22:00")
	}
	end = end.In(zone)
	t := time.Date(end.Year(), end.Month(), end.Day(), clock.Hour(), clock.Minute(), 0, 0, zone)
	if !t.Before(end) {
		t = time.Date(end.Year(), end.Month(), end.Day()-1, clock.Hour(), clock.Minute(), 0, 0, zone)
	}
	return t, nil
}

// writer writes a page's record.
type writer struct {
	ctx   context.Context
	a     *barn.Act
	id    int64
	press func() string
}

func (w writer) record(p page) error {
	t, err := w.a.Store.Trial(w.ctx, w.id)
	if err != nil {
		return err
	}
	ids, err := w.cuts(p, t.Ask.Arms)
	if err != nil {
		return err
	}
	pit, err := w.pit(p.Pit)
	if err != nil {
		return err
	}
	plan := store.CookPlan{ServeAt: p.serve, Runs: []store.PitRun{{PitID: pit, SetPointC: p.setPoint.C, SetPointTyped: p.setPoint.Typed}}}
	for _, id := range ids {
		plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: id})
	}
	cook, err := w.a.Store.CreateCook(w.ctx, w.a.Who.ID, w.id, plan, trial.Clock{Origin: p.serve.Add(4 * time.Hour), Start: w.a.Now(), Rate: 1})
	if err != nil {
		return err
	}
	if err := w.log(p, ids, cook); err != nil {
		return err
	}
	return w.table(p, ids)
}

func (w writer) cuts(p page, arms []trial.Arm) ([]int64, error) {
	step, err := units.ParseMass("1 oz") // of a notebook: what kitchen scales told then
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(p.cuts))
	for i, c := range p.cuts {
		arm := arms[c.Arm].ID
		if ids[i], err = w.a.Store.AddCut(w.ctx, w.a.Who.ID, w.id, store.Cut{Name: c.Name, Pair: strings.TrimSpace(c.Pair), ArmID: &arm}); err != nil {
			return nil, fmt.Errorf("add the cut %s: %w", c.Name, err)
		}
		for stage, m := range c.weights {
			err := w.a.Store.Weigh(w.ctx, w.a.Who.ID, store.Weighing{CutID: ids[i], Stage: stage, Kg: m.Kg, Typed: m.Typed, ResolutionKg: step.Kg,
				ResolutionTyped: step.Typed, At: p.serve})
			if err != nil {
				return nil, fmt.Errorf("weigh the cut %s: %w", c.Name, err)
			}
		}
	}
	return ids, nil
}

// pit finds the pit of that name, or adds it.
func (w writer) pit(name string) (int64, error) {
	pits, err := w.a.Store.Pits(w.ctx)
	if err != nil {
		return 0, err
	}
	name = strings.TrimSpace(name)
	if i := slices.IndexFunc(pits, func(p store.Pit) bool { return strings.EqualFold(p.Name, name) }); i >= 0 {
		return pits[i].ID, nil
	}
	made, err := w.a.Store.AddPit(w.ctx, name)
	return made.ID, err
}

// log writes what was noted at the fire.
func (w writer) log(p page, ids []int64, cook int64) error {
	var all []store.Event
	for i, c := range p.cuts {
		at := func(act logbook.Act, when time.Time, d logbook.Detail) {
			if !when.IsZero() {
				all = append(all, store.Event{Act: act, At: when, CutID: &ids[i], Press: w.press(), Detail: d})
			}
		}
		at(logbook.On, c.on, logbook.Detail{})
		at(logbook.Pull, c.pull, logbook.Detail{})
		if c.core.Read != "" {
			at(logbook.Probe, c.pull, c.core)
		}
	}
	if note := strings.TrimSpace(p.Notes); note != "" {
		all = append(all, store.Event{Act: logbook.Note, At: p.serve, Note: note, CookID: &cook, Press: w.press()})
	}
	return w.a.Store.Log(w.ctx, w.a.Who.ID, all)
}

// table writes the scores as the one open ballot of those who were there.
func (w writer) table(p page, ids []int64) error {
	if !slices.ContainsFunc(p.cuts, func(c line) bool { return len(c.Scores) > 0 }) {
		return nil
	}
	taster, err := w.a.Store.AddTaster(w.ctx, w.a.Who.ID, store.NewTaster{TrialID: w.id, Name: "The notebook"})
	if err != nil {
		return err
	}
	// The codes are of no use to anybody; the trial and its cuts make the same ones each time.
	codes, err := panel.DrawCodes(rand.New(rand.NewPCG(uint64(w.id), 1)), len(ids), nil)
	if err != nil {
		return err
	}
	f := store.NewFlight{TrialID: w.id, Format: panel.ByScores, At: p.serve, Bites: 2, WaterS: 60}
	order := make([]int, len(ids))
	for i, id := range ids {
		f.Samples, order[i] = append(f.Samples, store.NewSample{CutID: id, Place: "as noted", Code: codes[i]}), i
	}
	f.Ballots = []store.NewBallot{{TasterID: taster, Open: true, Order: order}}
	if _, err := w.a.Store.Serve(w.ctx, w.a.Who.ID, f); err != nil {
		return err
	}
	plates, err := w.a.Store.Plates(w.ctx, taster)
	if err != nil {
		return err
	}
	by := store.Origin{TypedBy: &w.a.Who.ID}
	for _, plate := range plates {
		for _, s := range plate.Servings {
			c := p.cuts[slices.Index(codes, s.Code)]
			if len(c.Scores) == 0 {
				err := w.a.Store.Seal(w.ctx, plate.BallotID, s.SampleID, store.Sealed{Excused: true, Origin: by})
				if err != nil {
					return err
				}
				continue
			}
			scores := map[string]int{}
			for key, v := range c.Scores {
				scores[string(key)] = v
			}
			if err := w.a.Store.Seal(w.ctx, plate.BallotID, s.SampleID, store.Sealed{Scores: scores, Origin: by}); err != nil {
				return err
			}
		}
	}
	return nil
}
