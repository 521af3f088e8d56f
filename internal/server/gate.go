package server

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	core "whitebarn/core/gate"
	"whitebarn/core/safety"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// MeatInput says what meat a trial is of; Why is needed where it gets looser, or the
// words of the product say otherwise.
type MeatInput struct {
	store.TrialMeat
	Why string `json:"why" binding:"max=200"`
}

// LinesInput are the barn's own lines of safety.
type LinesInput struct {
	Lines safety.Lines `json:"lines"`
	Why   string       `json:"why" binding:"required,max=200,reason"`
}

// SignInput signs a change that waits, or refuses it.
type SignInput struct {
	Yes bool `json:"yes"`
}

func (s *Server) registerGate(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/trials/:id/gate", "getGate", 200, func(c *gin.Context, in *byID) (gate.GateView, error) { return s.gate.Of(c, in.ID) })
	alter(s, a, crew, door{of: "trial", kind: guard.Design, what: "said what meat it is"}, "PUT", "/trials/:id/meat", "setMeat", 200, (*Server).setMeat)
	alter(s, a, master, door{of: "cut", kind: guard.Design, what: "gave a reason"}, "POST", "/cuts/:id/gate-reason", "setGateReason", 201, (*Server).setGateReason)
	alter(s, a, crew, door{of: "pending change", kind: guard.Record, what: "signed a change"}, "POST", "/pending-changes/:id/sign",
		"signChange", 200, (*Server).signChange)
	api.Handle(a, crew, "GET", "/safety-lines", "getLines", 200, func(c *gin.Context, _ *api.None) (store.BarnLines, error) { return s.gate.Lines(c) })
	api.Handle(a, master, "POST", "/safety-lines", "setLines", 201, s.setLines)
}

func (s *Server) setMeat(c *gin.Context, in *struct {
	byID
	Body MeatInput
}) (TrialView, error) {
	if err := s.gate.SetMeat(c, who(c), in.ID, in.Body.TrialMeat, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

func (s *Server) setGateReason(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	trialID := s.changing.trialID
	v, err := s.gate.Of(c, trialID)
	if err != nil {
		return TrialView{}, err
	}
	for _, cut := range v.Cuts {
		if cut.CutID != in.ID {
			continue
		}
		for _, stop := range cut.Stops {
			if stop.Hard && stop.Opens != core.ByReason && stop.Opens != core.ByWaiting {
				return TrialView{}, api.Refuse(http.StatusConflict, "No reason opens the table to this cut: "+stop.Words, stop.Remedy+" Source: "+cut.Minimum.Source)
			}
		}
	}
	if err := s.store.SetGateReason(c, who(c).ID, in.ID, strings.TrimSpace(in.Body.Why)); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) signChange(c *gin.Context, in *struct {
	byID
	Body SignInput
}) (TrialView, error) {
	trialID, err := s.gate.Sign(c, who(c), in.ID, in.Body.Yes)
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) setLines(c *gin.Context, in *struct{ Body LinesInput }) (store.BarnLines, error) {
	if err := s.gate.SetLines(c, who(c), in.Body.Lines, strings.TrimSpace(in.Body.Why)); err != nil {
		return store.BarnLines{}, err
	}
	return s.gate.Lines(c)
}
