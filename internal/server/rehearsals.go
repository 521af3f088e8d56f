package server

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
)

// RehearsalInput starts a rehearsal of a cook at a speed.
type RehearsalInput struct {
	Rate float64 `json:"rate"`
}

// Rehearsal names the copy that is played.
type Rehearsal struct {
	TrialID int64 `json:"trial_id"`
}

func (s *Server) registerRehearsals(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "POST", "/cooks/:id/rehearse", "rehearse", 201, s.rehearse)
	api.Handle(a, crew, "PUT", "/cooks/:id/rate", "setRate", 200, s.setRate)
	api.Handle(a, crew, "POST", "/cooks/:id/stop", "stopRehearsal", 200, s.stopRehearsal)
}

func (s *Server) rehearse(c *gin.Context, in *struct {
	byID
	Body RehearsalInput
}) (Rehearsal, error) {
	if _, err := s.store.TrialOf(c, "cook", in.ID); err != nil {
		return Rehearsal{}, err
	}
	rate := max(in.Body.Rate, 1)
	id, err := s.player.Rehearse(c, who(c).ID, in.ID, rate)
	return Rehearsal{id}, err
}

// rehearsal is the trial of a cook that is a rehearsal; others are refused.
func (s *Server) rehearsal(c *gin.Context, cookID int64) (int64, error) {
	id, err := s.store.TrialOf(c, "cook", cookID)
	if err != nil {
		return 0, err
	}
	t, err := s.store.Trial(c, id)
	if err == nil && t.RehearsesID == nil {
		return 0, api.Refuse(http.StatusConflict, "This cook is no rehearsal: it goes by the true time.", "Rehearse it from Fire.")
	}
	return id, err
}

func (s *Server) setRate(c *gin.Context, in *struct {
	byID
	Body RehearsalInput
}) (TrialView, error) {
	id, err := s.rehearsal(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.player.SetRate(c, in.ID, in.Body.Rate); err != nil {
		return TrialView{}, err
	}
	return s.view(c, id)
}

func (s *Server) stopRehearsal(c *gin.Context, in *byID) (TrialView, error) {
	id, err := s.rehearsal(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.player.Stop(c, in.ID); err != nil {
		return TrialView{}, err
	}
	return s.view(c, id)
}
