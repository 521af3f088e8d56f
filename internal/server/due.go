package server

import (
	"errors"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/plan"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
)

// DueView is what is still to be done at a cook, and by whom.
type DueView struct {
	Due    []plan.Due  `json:"due"`
	People []string    `json:"people"`
	Lanes  []plan.Lane `json:"lanes"` // the plan as it stands
}

// Later puts a task off.
type Later struct {
	Task    string `json:"task" binding:"required,max=40"` // its key
	Minutes int    `json:"minutes" binding:"min=1,max=240"`
}

func (s *Server) registerDue(a *api.Routes, crew *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/cooks/:id/due", "getDue", 200, s.due)
	alter(s, a, crew, door{of: "cook", kind: guard.Design, what: "put a task off"}, "POST", "/cooks/:id/due/later", "putOff", 200, (*Server).putOff)
}

// due works the plan of a cook out as it stands, and leaves out what the log
// shows as done. A cook that cannot be planned has nothing due.
func (s *Server) due(c *gin.Context, in *byID) (DueView, error) {
	out := DueView{Due: []plan.Due{}, People: []string{}, Lanes: []plan.Lane{}}
	k, err := s.store.Cook(c, in.ID)
	if err != nil {
		return out, err
	}
	t, err := s.store.Trial(c, k.TrialID)
	if err != nil {
		return out, err
	}
	cook, err := s.cookPlan(c, t, k)
	if err != nil {
		return out, err
	}
	input, err := s.planner.Input(c, t, k.ID, cook, *cook.Outline, k.Clock.Now(s.now()))
	if err != nil {
		return out, err
	}
	p, err := plan.Of(c, input)
	if errors.As(err, new(fault.List)) {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	events, err := s.store.Events(c, t.ID)
	if err != nil {
		return out, err
	}
	var log []plan.Entry
	for _, e := range events {
		act, known := plan.ActOf(e.Act)
		if !known {
			continue
		}
		l := plan.Entry{Act: act, Pit: -1, At: e.At}
		switch {
		case e.CutID != nil:
			l.Cut = *e.CutID
		case e.PitRunID != nil:
			for i, r := range cook.Runs {
				if r.ID == *e.PitRunID {
					l.Pit = i
				}
			}
		}
		log = append(log, l)
	}
	off, err := s.store.PutsOff(c, k.ID)
	if err != nil {
		return out, err
	}
	for _, person := range input.People {
		out.People = append(out.People, person.Name)
	}
	out.Due, out.Lanes = plan.DueOf(p, input, log, off), p.Lanes
	return out, nil
}

// putOff puts a task off from when it is due, or from now where that has passed.
func (s *Server) putOff(c *gin.Context, in *struct {
	byID
	Body Later
}) (DueView, error) {
	k, err := s.store.Cook(c, in.ID)
	if err != nil {
		return DueView{}, err
	}
	v, err := s.due(c, &in.byID)
	if err != nil {
		return v, err
	}
	until := k.Clock.Now(s.now())
	for _, d := range v.Due {
		if d.Key == in.Body.Task && d.At.Middle.After(until) {
			until = d.At.Middle
		}
	}
	if err := s.store.PutOff(c, who(c).ID, in.ID, in.Body.Task, until.Add(time.Duration(in.Body.Minutes)*time.Minute)); err != nil {
		return v, err
	}
	return s.due(c, &in.byID)
}
