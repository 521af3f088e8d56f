package server

import (
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/trial"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
)

// Home is what the barn has before it.
type Home struct {
	Air    *store.AirNote `json:"air"` // as a hand noted it lately
	Coming []ComingCook   `json:"coming"`
	Waits  []Wait         `json:"waits"`
}

// ComingCook is a cook whose table is still to be set.
type ComingCook struct {
	TrialID  int64     `json:"trial_id"`
	Question string    `json:"question"`
	ServeAt  time.Time `json:"serve_at"`
	Cuts     int       `json:"cuts"` // placed in it
	Pits     []string  `json:"pits"`
	Shares   []string  `json:"shares"` // pits that another cook of the day wants at another heat
}

// Wait is an open question, and whom it waits on.
type Wait struct {
	TrialID int64    `json:"trial_id"`
	On      []string `json:"on"`
}

// notedFor is how long a note of the air says something.
const notedFor = 12 * time.Hour

func (s *Server) registerHome(a *api.Routes, crew *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/home", "getHome", 200, s.home)
}

func (s *Server) home(c *gin.Context, _ *api.None) (Home, error) {
	out := Home{Coming: []ComingCook{}, Waits: []Wait{}}
	var err error
	if out.Air, err = s.store.AirNoted(c, s.now().Add(-notedFor)); err != nil {
		return out, err
	}
	coming, err := s.store.Coming(c, s.now())
	if err != nil {
		return out, err
	}
	zone, err := s.store.Zone(c)
	if err != nil {
		return out, err
	}
	day := func(k store.CookAhead) string { return k.ServeAt.In(zone).Format(time.DateOnly) }
	for _, k := range coming {
		v := ComingCook{TrialID: k.TrialID, Question: k.Question, ServeAt: k.ServeAt, Cuts: k.Cuts, Pits: k.Pits, Shares: []string{}}
		for _, other := range coming {
			if other.ID != k.ID && day(other) == day(k) {
				v.Shares = append(v.Shares, otherHeat(k, other)...)
			}
		}
		out.Coming = append(out.Coming, v)
	}
	out.Waits, err = s.waits(c)
	return out, err
}

// otherHeat are the pits that two cooks want at different set points.
func otherHeat(a, b store.CookAhead) (out []string) {
	for i, pit := range a.Pits {
		for j, other := range b.Pits {
			if pit == other && a.SetC[i] != b.SetC[j] {
				out = append(out, pit)
			}
		}
	}
	return out
}

// waits says of each open question whom its next step waits on.
func (s *Server) waits(c *gin.Context) ([]Wait, error) {
	out := []Wait{}
	people, err := s.store.People(c)
	if err != nil {
		return out, err
	}
	ids, err := s.store.OpenTrialIDs(c)
	if err != nil {
		return out, err
	}
	ballots, err := s.store.OpenBallots(c)
	if err != nil {
		return out, err
	}
	steps, err := s.steps(c, ids)
	if err != nil {
		return out, err
	}
	for _, id := range ids {
		h := trial.Hands{OpenBallots: ballots[id]}
		for _, person := range people {
			if person.Role == store.Pitmaster {
				h.Pitmasters = append(h.Pitmasters, person.Name)
			}
			h.Crew = append(h.Crew, person.Name)
		}
		out = append(out, Wait{TrialID: id, On: trial.WaitsOn(trial.Here(steps[id]), h)})
	}
	return out, nil
}
