package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/units"
	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/exchange"
	"whitebarn/internal/planner"
	"whitebarn/internal/store"
)

// WorkInput is a cook as it is being planned; CookID is 0 for a new one.
type WorkInput struct {
	CookID int64     `json:"cook_id"`
	Cook   PlanInput `json:"cook"`
}

// PlanView is a cook worked back from its serving time.
type PlanView struct {
	plan.Plan
	Outline plan.Outline `json:"outline"` // with what was typed read into numbers
	People  []string     `json:"people"`  // of the tasks
	Names   []string     `json:"pit_names"`
	Fuels   []string     `json:"fuels"` // of each pit
}

// PhasesInput asks for an arm's phases by one of the schools.
type PhasesInput struct {
	ArmID  int64       `json:"arm_id"`
	School plan.School `json:"school"`
}

// GrateInput is the grate of a pit.
type GrateInput struct {
	Columns int `json:"columns" binding:"min=1,max=12"`
	Rows    int `json:"rows" binding:"min=1,max=12"`
}

// BurnInput is what a pit is and what it burns. Weights are typed; an empty one
// is the usual of its kind.
type BurnInput struct {
	Kind      string  `json:"kind" binding:"max=20"`
	WarmMin   float64 `json:"warm_min"`
	Fuel      string  `json:"fuel" binding:"max=40"`
	FuelHour  string  `json:"fuel_hour" binding:"max=40"`
	Lighting  string  `json:"lighting" binding:"max=40"`
	WoodMin   float64 `json:"wood_min"`
	WaterHour string  `json:"water_hour" binding:"max=40"`
}

// HolderInput says how many cuts a holder takes; null is not known.
type HolderInput struct {
	Capacity *int `json:"capacity" binding:"omitempty,min=1,max=200"`
}

// CalendarLink is the address a calendar can subscribe to.
type CalendarLink struct {
	URL string `json:"url"`
}

func (s *Server) registerPlan(a *api.Routes, engine *gin.Engine, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "POST", "/trials/:id/plan", "workPlan", 200, s.workPlan)
	api.Handle(a, crew, "POST", "/trials/:id/phases", "usualPhases", 200, s.usualPhases)
	alter(s, a, master, door{of: "trial", kind: guard.Design, what: "planned"}, "PUT", "/trials/:id/outline", "setOutline", 200, (*Server).setOutline)
	api.Handle(a, crew, "PUT", "/pits/:id/grate", "setGrate", 200, s.setGrate)
	api.Handle(a, crew, "PUT", "/pits/:id/burn", "setBurn", 200, s.setBurn)
	api.Handle(a, crew, "PUT", "/holders/:id", "setHolder", 200, s.setHolder)
	api.Handle(a, crew, "GET", "/cooks/:id/calendar", "getCalendarLink", 200, s.calendarLink)
	engine.Group("/api").GET("/calendar/:token", s.calendar)
}

// workPlan works a draft out; nothing is kept.
func (s *Server) workPlan(c *gin.Context, in *struct {
	byID
	Body WorkInput
}) (PlanView, error) {
	t, err := s.store.Trial(c, in.ID)
	if err != nil {
		return PlanView{}, err
	}
	if in.Body.Cook.Outline == nil {
		o, err := s.planner.Outline(c, t)
		if err != nil {
			return PlanView{}, err
		}
		in.Body.Cook.Outline = &o
	}
	cook, err := s.plan(c, in.ID, in.Body.Cook)
	if err != nil {
		return PlanView{}, err
	}
	now := s.now()
	if in.Body.CookID != 0 {
		k, err := s.store.Cook(c, in.Body.CookID)
		if err != nil {
			return PlanView{}, err
		}
		now = k.Clock.Now(now)
	}
	return s.planView(c, t, in.Body.CookID, cook, now)
}

func (s *Server) planView(ctx context.Context, t store.Trial, cookID int64, cook store.CookPlan, now time.Time) (PlanView, error) {
	in, err := s.planner.Input(ctx, t, cookID, cook, *cook.Outline, now)
	if err != nil {
		return PlanView{}, err
	}
	p, err := plan.Of(ctx, in)
	if err != nil {
		return PlanView{}, err
	}
	v := PlanView{Plan: p, Outline: *cook.Outline, People: []string{}, Names: []string{}, Fuels: []string{}}
	for _, person := range in.People {
		v.People = append(v.People, person.Name)
	}
	for _, pit := range in.Pits {
		v.Names = append(v.Names, pit.Name)
		v.Fuels = append(v.Fuels, pit.Fuel)
	}
	return v, nil
}

func (s *Server) usualPhases(c *gin.Context, in *struct {
	byID
	Body PhasesInput
}) ([]phase.Phase, error) {
	t, err := s.store.Trial(c, in.ID)
	if err != nil {
		return nil, err
	}
	family, err := s.store.Family(c, t.Ask.Family)
	if err != nil {
		return nil, err
	}
	for _, a := range t.Ask.Arms {
		if a.ID == in.Body.ArmID {
			return plan.UsualPhases(t.Ask, a, family, in.Body.School), nil
		}
	}
	return nil, fault.New("arm_id", fmt.Sprintf("arm %d is not of this trial", in.Body.ArmID), "choose one of its arms")
}

// setOutline keeps phases and doses while no cook is planned yet.
func (s *Server) setOutline(c *gin.Context, in *struct {
	byID
	Body plan.Outline
}) (TrialView, error) {
	o, err := s.outline(c, in.ID, in.Body)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.store.SetOutline(c, who(c).ID, in.ID, o); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

// outline reads what was typed of an outline, for the arms the trial has.
func (s *Server) outline(ctx context.Context, trialID int64, o plan.Outline) (plan.Outline, error) {
	t, err := s.store.Trial(ctx, trialID)
	if err != nil {
		return o, err
	}
	if err := o.Resolve(); err != nil {
		return o, err
	}
	family, err := s.store.Family(ctx, t.Ask.Family)
	if err != nil {
		return o, err
	}
	o = o.Fit(t.Ask, family)
	return o, s.gate.CheckOutline(ctx, trialID, o)
}

func (s *Server) setGrate(c *gin.Context, in *struct {
	byID
	Body GrateInput
}) ([]store.Pit, error) {
	return s.setPit(c, in.ID, func(p *store.Pit) { p.GrateColumns, p.GrateRows = in.Body.Columns, in.Body.Rows })
}

func (s *Server) setBurn(c *gin.Context, in *struct {
	byID
	Body BurnInput
}) ([]store.Pit, error) {
	b := in.Body
	var wrong fault.List
	mass := func(field, typed string) float64 {
		if strings.TrimSpace(typed) == "" {
			return 0
		}
		m, err := units.ParseMass(typed)
		wrong.Take(field, err)
		return m.Kg
	}
	burn := plan.Burn{WarmS: 60 * b.WarmMin, Fuel: strings.TrimSpace(b.Fuel), WoodEveryS: 60 * b.WoodMin,
		FuelKgH: mass("fuel_hour", b.FuelHour), LightingKg: mass("lighting", b.Lighting), WaterKgH: mass("water_hour", b.WaterHour),
		FuelTyped: strings.TrimSpace(b.FuelHour), LightingTyped: strings.TrimSpace(b.Lighting), WaterTyped: strings.TrimSpace(b.WaterHour)}
	wrong.Take("", burn.Check())
	if b.Kind != "" {
		_, err := plan.PitKind(b.Kind)
		wrong.Take("", err)
	}
	if err := wrong.Err(); err != nil {
		return nil, err
	}
	return s.setPit(c, in.ID, func(p *store.Pit) { p.Kind, p.Burn = b.Kind, burn })
}

// setPit changes a pit and answers with all of them.
func (s *Server) setPit(c *gin.Context, id int64, change func(*store.Pit)) ([]store.Pit, error) {
	if err := s.store.SetPit(c, who(c).ID, id, change); err != nil {
		return nil, err
	}
	return s.store.Pits(c)
}

func (s *Server) setHolder(c *gin.Context, in *struct {
	byID
	Body HolderInput
}) ([]store.Holder, error) {
	if err := s.store.SetHolder(c, who(c).ID, store.Holder{ID: in.ID, Capacity: in.Body.Capacity}); err != nil {
		return nil, err
	}
	return s.store.Holders(c)
}

func (s *Server) calendarLink(c *gin.Context, in *byID) (CalendarLink, error) {
	if _, err := s.store.Cook(c, in.ID); err != nil {
		return CalendarLink{}, err
	}
	barn, err := s.store.Barn(c)
	if err != nil {
		return CalendarLink{}, err
	}
	return CalendarLink{address(c) + "/api/calendar/" + auth.CalendarToken(barn.Secret, in.ID) + ".ics"}, nil
}

// calendar answers with a cook's tasks to whoever has its link: a calendar
// program cannot sign in.
func (s *Server) calendar(c *gin.Context) {
	if !s.links.Allow(c.ClientIP()) {
		api.Fail(c, api.Refuse(http.StatusTooManyRequests, "Too many tries.", "Wait a minute."))
		return
	}
	out, err := s.writeCalendar(c, strings.TrimSuffix(c.Param("token"), ".ics"))
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="cook.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", out)
}

func (s *Server) writeCalendar(c *gin.Context, token string) ([]byte, error) {
	barn, err := s.store.Barn(c)
	if err != nil {
		return nil, err
	}
	id, ok := auth.CalendarOf(barn.Secret, token)
	if !ok {
		return nil, store.ErrNotFound
	}
	k, err := s.store.Cook(c, id)
	if err != nil {
		return nil, err
	}
	t, err := s.store.Trial(c, k.TrialID)
	if err != nil {
		return nil, err
	}
	cook, err := s.cookPlan(c, t, k)
	if err != nil {
		return nil, err
	}
	v, err := s.planView(c, t, id, cook, k.Clock.Now(s.now()))
	if err != nil && !errors.As(err, new(fault.List)) {
		return nil, err
	}
	if err != nil { // nothing to plan yet: the table alone
		v.Serve = k.ServeAt
	}
	var b bytes.Buffer
	err = exchange.WriteCalendar(&b, exchange.Calendar{
		Name: t.Ask.Question, CookID: id, Link: fmt.Sprintf("%s/trials/%d/plan", address(c), t.ID), Stamped: cook.Outline.KeptAt, Plan: v.Plan, People: v.People, Pits: v.Names,
	})
	return b.Bytes(), err
}

// cookPlan reads a kept cook back as it was planned.
func (s *Server) cookPlan(ctx context.Context, t store.Trial, k store.Cook) (store.CookPlan, error) {
	p := store.CookPlan{ServeAt: k.ServeAt}
	o, err := s.planner.Outline(ctx, t)
	if err != nil {
		return p, err
	}
	p.Outline = &o
	runs, err := s.store.PitRuns(ctx, t.ID)
	if err != nil {
		return p, err
	}
	place := map[int64]int{}
	for _, r := range runs {
		if r.CookID == k.ID {
			place[r.ID] = len(p.Runs)
			p.Runs = append(p.Runs, r)
		}
	}
	placed, err := s.store.Placements(ctx, t.ID)
	for _, l := range placed {
		if l.CookID == k.ID && l.PitRunID != nil {
			p.Placements = append(p.Placements, store.PlannedPlacement{CutID: l.CutID, Run: place[*l.PitRunID], Position: l.Position})
		}
	}
	return p, err
}

// address is how this barn was reached.
func address(c *gin.Context) string {
	scheme := "http"
	if c.Request.TLS != nil {
		scheme = "https"
	}
	return scheme + "://" + c.Request.Host
}

// holds puts a plan's cuts into its holders.
func (s *Server) holds(ctx context.Context, t store.Trial, p *store.CookPlan) error {
	cuts, err := s.store.Cuts(ctx, t.ID)
	if err != nil {
		return err
	}
	holders, err := s.store.Holders(ctx)
	if err != nil {
		return err
	}
	p.Holds = planner.Holds(t, cuts, *p, *p.Outline)
	for _, h := range p.Holds {
		known := false
		for _, have := range holders {
			known = known || have.ID == h.HolderID
		}
		if !known {
			return fault.New("outline.holder_id", fmt.Sprintf("there is no holder %d", h.HolderID), "choose one of the list")
		}
	}
	return nil
}
