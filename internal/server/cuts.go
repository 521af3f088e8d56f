package server

import (
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
)

// CutInput is a cut as typed.
type CutInput struct {
	Name   string `json:"name" binding:"required,max=20"`
	Pair   string `json:"pair" binding:"max=20"`
	Animal string `json:"animal" binding:"max=40"`
	Side   string `json:"side" binding:"max=20"`
	Batch  string `json:"batch" binding:"max=40"`
	ArmID  *int64 `json:"arm_id"`

	Lot        string `json:"lot" binding:"max=40"`
	Grade      string `json:"grade" binding:"max=40"`
	Section    string `json:"section" binding:"max=40"`
	Bone       string `json:"bone" binding:"omitempty,oneof=in out"`
	PriceCents *int   `json:"price_cents" binding:"omitempty,min=0,max=1000000"`
}

// WeighingInput is a weight as typed, and the step of the scale.
type WeighingInput struct {
	Stage      yield.Stage `json:"stage"`
	Weight     string      `json:"weight"`
	Resolution string      `json:"resolution"`
}

// Why is the reason of a change that needs one.
type Why struct {
	Why string `json:"why" binding:"required,max=200,reason"`
}

func (s *Server) registerCuts(a *api.Routes, crew *gin.RouterGroup) {
	api.Handle(a, crew, "POST", "/trials/:id/cuts", "addCut", 201, s.addCut)
	api.Handle(a, crew, "PUT", "/cuts/:id", "setCut", 200, s.setCut)
	api.Handle(a, crew, "POST", "/cuts/:id/void", "voidCut", 200, s.voidCut)
	api.Handle(a, crew, "POST", "/cuts/:id/weighings", "weigh", 201, s.weigh)
	api.Handle(a, crew, "POST", "/weighings/:id/void", "voidWeighing", 200, s.voidWeighing)
}

func (in CutInput) cut() store.Cut {
	c := store.Cut{Name: in.Name, Pair: in.Pair, Animal: in.Animal, Side: in.Side, Batch: in.Batch, ArmID: in.ArmID, Lot: in.Lot, Grade: in.Grade, Section: in.Section, Bone: in.Bone, PriceCents: in.PriceCents}
	for _, p := range []*string{&c.Name, &c.Pair, &c.Animal, &c.Side, &c.Batch, &c.Lot, &c.Grade, &c.Section} {
		*p = strings.TrimSpace(*p)
	}
	return c
}

// checkArm refuses an arm of another trial.
func (s *Server) checkArm(c *gin.Context, trialID int64, arm *int64) error {
	if arm == nil {
		return nil
	}
	t, err := s.store.Trial(c, trialID)
	if err != nil {
		return err
	}
	if _, ok := armPlaces(t.Ask)[*arm]; !ok {
		return fault.New("arm_id", fmt.Sprintf("arm %d is not of this trial", *arm), "choose one of its arms")
	}
	return nil
}

func nameTaken(err error, name string) error {
	if errors.Is(err, store.ErrConflict) {
		return fault.New("name", fmt.Sprintf("there is a cut %q already", name), "give each cut its own name, for instance 1L and 1R")
	}
	return err
}

func (s *Server) addCut(c *gin.Context, in *struct {
	byID
	Body CutInput
}) (TrialView, error) {
	if _, err := s.store.Trial(c, in.ID); err != nil {
		return TrialView{}, err
	}
	if err := s.checkArm(c, in.ID, in.Body.ArmID); err != nil {
		return TrialView{}, err
	}
	if _, err := s.store.AddCut(c, who(c).ID, in.ID, in.Body.cut()); err != nil {
		return TrialView{}, nameTaken(err, in.Body.Name)
	}
	return s.view(c, in.ID)
}

// openTrial finds the trial of a cut and refuses when its codes are open: what
// was judged must not change under the verdict.
func (s *Server) openTrial(c *gin.Context, subject string, id int64) (int64, error) {
	trialID, err := s.store.TrialOf(c, subject, id)
	if err != nil {
		return 0, err
	}
	return trialID, s.stillClosed(c, trialID)
}

func (s *Server) stillClosed(c *gin.Context, trialID int64) error {
	t, err := s.store.Trial(c, trialID)
	if err != nil {
		return err
	}
	if t.RevealedAt != nil {
		return api.Refuse(http.StatusConflict, "The codes are open, so this is shut.", "What was judged stays as it was judged.")
	}
	return nil
}

func (s *Server) setCut(c *gin.Context, in *struct {
	byID
	Body CutInput
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "cut", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.checkArm(c, trialID, in.Body.ArmID); err != nil {
		return TrialView{}, err
	}
	if err := s.notServed(c, trialID, in.ID, "moved to another arm or renamed"); err != nil {
		return TrialView{}, err
	}
	cut := in.Body.cut()
	cut.ID = in.ID
	if err := s.store.SetCut(c, who(c).ID, cut); err != nil {
		return TrialView{}, nameTaken(err, cut.Name)
	}
	return s.view(c, trialID)
}

func (s *Server) notServed(c *gin.Context, trialID, cutID int64, what string) error {
	served, err := s.store.ServedCuts(c, trialID)
	if err != nil {
		return err
	}
	for _, id := range served {
		if id == cutID {
			return api.Refuse(http.StatusConflict, "This cut is on the table and cannot be "+what+".", "Take its flight back first, while nothing of it is sealed.")
		}
	}
	return nil
}

func (s *Server) voidCut(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "cut", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.notServed(c, trialID, in.ID, "taken out"); err != nil {
		return TrialView{}, err
	}
	if err := s.store.VoidCut(c, who(c).ID, in.ID, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) weigh(c *gin.Context, in *struct {
	byID
	Body WeighingInput
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "cut", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	var wrong fault.List
	weight, err := units.ParseMass(in.Body.Weight)
	wrong.Take("weight", err)
	resolution, err := units.ParseMass(in.Body.Resolution)
	wrong.Take("resolution", err)
	if err := wrong.Err(); err != nil {
		return TrialView{}, err
	}
	if resolution.Kg >= weight.Kg {
		return TrialView{}, fault.New("resolution", fmt.Sprintf("a step of %s cannot weigh %s", resolution.Typed, weight.Typed), "give the smallest step the scale shows, for instance 5 g or 1/4 oz")
	}
	others, err := s.store.WeighingsOf(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if err := yield.Check(yield.Weighing{Stage: in.Body.Stage, Kg: weight.Kg, ResolutionKg: resolution.Kg}, weighingsOf(others)); err != nil {
		return TrialView{}, err
	}
	err = s.store.Weigh(c, who(c).ID, store.Weighing{CutID: in.ID, Stage: in.Body.Stage, Kg: weight.Kg, Typed: weight.Typed, ResolutionKg: resolution.Kg, ResolutionTyped: resolution.Typed, At: s.now()})
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) voidWeighing(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	trialID, err := s.openTrial(c, "weighing", in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.store.VoidWeighing(c, who(c).ID, in.ID, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}
