package server

import (
	"fmt"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/rest"
	"whitebarn/internal/store"
)

// PlanInput is a cook as planned.
type PlanInput struct {
	ServeAt    time.Time        `json:"serve_at"`
	Runs       []RunInput       `json:"runs"`
	Placements []PlacementInput `json:"placements"`
	Outline    *plan.Outline    `json:"outline,omitempty"` // nil leaves phases and doses as they are
}

// RunInput is a pit with its set point; ID is 0 for a new one.
type RunInput struct {
	ID       int64  `json:"id"`
	PitID    int64  `json:"pit_id"`
	Setup    string `json:"setup"`
	SetPoint string `json:"set_point"`
}

// PlacementInput puts a cut in the nth run, from 0.
type PlacementInput struct {
	CutID    int64  `json:"cut_id"`
	Run      int    `json:"run"`
	Position string `json:"position"`
}

// NamedInput is something that has just a name.
type NamedInput struct {
	Name string `json:"name" binding:"required,max=40"`
}

// EventInput is one press of a pad: an act on cuts, on pit runs or on the cook.
type EventInput struct {
	Act       logbook.Act `json:"act"`
	At        *time.Time  `json:"at"` // nil: now, by the cook's clock
	Note      string      `json:"note" binding:"max=400"`
	CutIDs    []int64     `json:"cut_ids"`
	PitRunIDs []int64     `json:"pit_run_ids"`
	Press     string      `json:"press" binding:"required,uuid"`
}

// Correction is another time or note for an event.
type Correction struct {
	At   time.Time `json:"at"`
	Note string    `json:"note" binding:"max=400"`
}

type pressID struct {
	Press string `uri:"press" binding:"uuid"`
}

func (s *Server) registerCooks(a *rest.API, crew, master *gin.RouterGroup) {
	rest.Handle(a, crew, "GET", "/pits", "getPits", 200, func(c *gin.Context, _ *rest.None) ([]store.Pit, error) { return s.store.Pits(c) })
	rest.Handle(a, crew, "POST", "/pits", "addPit", 201, s.addPit)
	rest.Handle(a, crew, "GET", "/holders", "getHolders", 200, func(c *gin.Context, _ *rest.None) ([]store.Holder, error) { return s.store.Holders(c) })
	rest.Handle(a, crew, "POST", "/holders", "addHolder", 201, s.addHolder)
	rest.Handle(a, master, "POST", "/trials/:id/cooks", "createCook", 201, s.createCook)
	rest.Handle(a, master, "PUT", "/cooks/:id", "setCook", 200, s.setCook)
	rest.Handle(a, crew, "POST", "/cooks/:id/events", "logEvent", 201, s.logEvent)
	rest.Handle(a, crew, "PUT", "/events/:id", "correctEvent", 200, s.correctEvent)
	rest.Handle(a, crew, "POST", "/presses/:press/void", "voidPress", 200, s.voidPress)
}

func (s *Server) addPit(c *gin.Context, in *struct{ Body NamedInput }) (store.Pit, error) {
	p, err := s.store.AddPit(c, strings.TrimSpace(in.Body.Name))
	if err == store.ErrConflict {
		return p, fault.New("name", fmt.Sprintf("there is a pit %q already", in.Body.Name), "choose it from the list")
	}
	return p, err
}

func (s *Server) addHolder(c *gin.Context, in *struct{ Body NamedInput }) (store.Holder, error) {
	h, err := s.store.AddHolder(c, strings.TrimSpace(in.Body.Name))
	if err == store.ErrConflict {
		return h, fault.New("name", fmt.Sprintf("there is a holder %q already", in.Body.Name), "give this one another name")
	}
	return h, err
}

// plan checks a planned cook and brings it into the store's form.
func (s *Server) plan(c *gin.Context, trialID int64, in PlanInput) (store.CookPlan, error) {
	p := store.CookPlan{ServeAt: in.ServeAt}
	var wrong fault.List
	if in.Outline != nil {
		o, err := s.outline(c, trialID, *in.Outline)
		wrong.Take("outline", err)
		p.Outline = &o
	}
	if in.ServeAt.IsZero() {
		wrong.Add("serve_at", "no serving time", "give the day and the hour the table is set")
	}
	if len(in.Runs) == 0 {
		wrong.Add("runs", "no pit", "choose the pit it is cooked in")
	}
	pits, err := s.store.Pits(c)
	if err != nil {
		return p, err
	}
	for i, r := range in.Runs {
		field := fmt.Sprintf("runs[%d]", i)
		t, err := units.ParseTemperature(r.SetPoint)
		wrong.Take(field+".set_point", err)
		known := false
		for _, pit := range pits {
			known = known || pit.ID == r.PitID
		}
		if !known {
			wrong.Add(field+".pit_id", "there is no such pit", "choose one of the list")
		}
		p.Runs = append(p.Runs, store.PitRun{ID: r.ID, PitID: r.PitID, Setup: strings.TrimSpace(r.Setup), SetPointC: t.C, SetPointTyped: t.Typed})
	}
	cuts, err := s.store.Cuts(c, trialID)
	if err != nil {
		return p, err
	}
	mine := map[int64]bool{}
	for _, cut := range cuts {
		mine[cut.ID] = true
	}
	for i, l := range in.Placements {
		field := fmt.Sprintf("placements[%d]", i)
		if !mine[l.CutID] {
			wrong.Add(field+".cut_id", "that cut is not of this trial", "choose one of its cuts")
		}
		if l.Run < 0 || l.Run >= len(in.Runs) {
			wrong.Add(field+".run", "there is no such pit in this cook", "choose one of its pits")
		}
		p.Placements = append(p.Placements, store.PlannedPlacement{CutID: l.CutID, Run: l.Run, Position: strings.TrimSpace(l.Position)})
	}
	if err := wrong.Err(); err != nil || p.Outline == nil {
		return p, err
	}
	t, err := s.store.Trial(c, trialID)
	if err != nil {
		return p, err
	}
	return p, s.holds(c, t, &p)
}

func (s *Server) createCook(c *gin.Context, in *struct {
	byID
	Body PlanInput
}) (TrialView, error) {
	if err := s.stillClosed(c, in.ID); err != nil {
		return TrialView{}, err
	}
	p, err := s.plan(c, in.ID, in.Body)
	if err != nil {
		return TrialView{}, err
	}
	if _, err := s.store.CreateCook(c, who(c).ID, in.ID, p, trial.RealClock(s.now())); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

func (s *Server) setCook(c *gin.Context, in *struct {
	byID
	Body PlanInput
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "cook", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	p, err := s.plan(c, trialID, in.Body)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.store.SetCook(c, who(c).ID, in.ID, p); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) logEvent(c *gin.Context, in *struct {
	byID
	Body EventInput
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "cook", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	k, err := s.store.Cook(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	b := in.Body
	at, err := s.eventTime(k, b.At)
	if err != nil {
		return TrialView{}, err
	}
	known := false
	for _, a := range logbook.Acts {
		known = known || a == b.Act
	}
	if !known {
		return TrialView{}, fault.New("act", fmt.Sprintf("%q is not an act", b.Act), "press one of the pads")
	}
	placed, err := s.store.Placements(c, trialID)
	if err != nil {
		return TrialView{}, err
	}
	events := []store.Event{}
	add := func(e store.Event) {
		e.Act, e.At, e.Note, e.Press = b.Act, at, strings.TrimSpace(b.Note), b.Press
		events = append(events, e)
	}
	if b.Act.OfPit() {
		for _, id := range b.PitRunIDs {
			add(store.Event{PitRunID: &id})
		}
	} else {
		for _, id := range b.CutIDs {
			if err := s.checkCutEvent(c, id, in.ID, placed, logbook.Event{Act: b.Act, At: at}, b.Press); err != nil {
				return TrialView{}, err
			}
			add(store.Event{CutID: &id})
		}
	}
	if len(events) == 0 {
		if b.Act != logbook.Note {
			return TrialView{}, fault.New("cut_ids", "nothing is picked for this act", "pick an arm or a cut first; its pit goes with it")
		}
		add(store.Event{CookID: &in.ID})
	}
	if b.Act.OfPit() {
		if err := s.checkRuns(c, trialID, in.ID, b.PitRunIDs); err != nil {
			return TrialView{}, err
		}
	}
	if err := s.store.Log(c, who(c).ID, events); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

// eventTime is the time of an event, which must not be ahead of the cook's clock.
func (s *Server) eventTime(k store.Cook, at *time.Time) (time.Time, error) {
	now := k.Clock.Now(s.now())
	if at == nil {
		return now, nil
	}
	if at.After(now.Add(time.Minute)) {
		return *at, fault.New("at", at.UTC().Format("2 Jan 15:04")+" UTC is still to come", "give a time up to now")
	}
	return *at, nil
}

func (s *Server) checkCutEvent(c *gin.Context, id, cookID int64, placed []store.Placement, e logbook.Event, press string) error {
	if !stands(placed, id, cookID) {
		return fault.New("cut_ids", fmt.Sprintf("cut %d is not in this cook", id), "give it a pit in Plan first")
	}
	rows, err := s.store.EventsOfCut(c, id)
	if err != nil {
		return err
	}
	var others []logbook.Event
	for _, r := range rows {
		if r.Press != press { // a resend does not contradict itself
			others = append(others, logbook.Event{Act: r.Act, At: r.At})
		}
	}
	return logbook.CheckEvent(e, others)
}

func (s *Server) checkRuns(c *gin.Context, trialID, cookID int64, ids []int64) error {
	runs, err := s.store.PitRuns(c, trialID)
	if err != nil {
		return err
	}
	mine := map[int64]bool{}
	for _, r := range runs {
		mine[r.ID] = mine[r.ID] || r.CookID == cookID
	}
	for _, id := range ids {
		if !mine[id] {
			return fault.New("pit_run_ids", fmt.Sprintf("pit run %d is not in this cook", id), "pick a pit of this cook")
		}
	}
	return nil
}

func (s *Server) correctEvent(c *gin.Context, in *struct {
	byID
	Body Correction
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "event", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	e, err := s.store.Event(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	cooks, err := s.store.Cooks(c, trialID)
	if err != nil {
		return TrialView{}, err
	}
	for _, k := range cooks {
		if _, err := s.eventTime(k, &in.Body.At); err != nil {
			return TrialView{}, err
		}
	}
	if e.CutID != nil {
		rows, err := s.store.EventsOfCut(c, *e.CutID)
		if err != nil {
			return TrialView{}, err
		}
		var others []logbook.Event
		for _, r := range rows {
			if r.ID != e.ID {
				others = append(others, logbook.Event{Act: r.Act, At: r.At})
			}
		}
		if err := logbook.CheckEvent(logbook.Event{Act: e.Act, At: in.Body.At}, others); err != nil {
			return TrialView{}, err
		}
	}
	if err := s.store.CorrectEvent(c, who(c).ID, in.ID, in.Body.At, strings.TrimSpace(in.Body.Note)); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) voidPress(c *gin.Context, in *struct {
	pressID
	Body Why
}) (TrialView, error) {
	trialID, err := s.store.TrialOfPress(c, in.Press)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.stillClosed(c, trialID); err != nil {
		return TrialView{}, err
	}
	if err := s.store.VoidPress(c, who(c).ID, in.Press, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}
