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
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// PlanInput is a cook as planned.
type PlanInput struct {
	ServeAt    time.Time        `json:"serve_at"`
	Runs       []RunInput       `json:"runs" binding:"max=50,dive"`
	Placements []PlacementInput `json:"placements" binding:"max=500"`
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

func (s *Server) registerCooks(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/pits", "getPits", 200, func(c *gin.Context, _ *api.None) ([]store.Pit, error) { return s.store.Pits(c) })
	api.Handle(a, crew, "POST", "/pits", "addPit", 201, s.addPit)
	api.Handle(a, crew, "GET", "/holders", "getHolders", 200, func(c *gin.Context, _ *api.None) ([]store.Holder, error) { return s.store.Holders(c) })
	api.Handle(a, crew, "POST", "/holders", "addHolder", 201, s.addHolder)
	alter(s, a, master, door{of: "trial", kind: guard.Design, what: "planned a cook"}, "POST", "/trials/:id/cooks", "createCook", 201, (*Server).createCook)
	alter(s, a, master, door{of: "cook", kind: guard.Design, what: "planned a cook"}, "PUT", "/cooks/:id", "setCook", 200, (*Server).setCook)
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
	} else {
		wrong.Take("", logbook.CheckTime("serve_at", in.ServeAt))
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
	trialID := s.changing.trialID
	p, err := s.plan(c, trialID, in.Body)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.store.SetCook(c, who(c).ID, in.ID, p); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}
