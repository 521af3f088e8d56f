package server

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
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

	Why string `json:"why" binding:"max=200"` // of another arm under the fire
}

// WeighingInput is a weight as typed, and the step of the scale.
type WeighingInput struct {
	Stage      yield.Stage `json:"stage"`
	Weight     string      `json:"weight"`
	Resolution string      `json:"resolution"`
	Why        string      `json:"why,omitempty" binding:"max=200"` // of another weight once the codes are open
}

// Why is the reason of a change that needs one.
type Why struct {
	Why string `json:"why" binding:"required,max=200,reason"`
}

func (s *Server) registerCuts(a *api.Routes, crew *gin.RouterGroup) {
	alter(s, a, crew, door{of: "trial", kind: guard.Design, what: "hung a cut"}, "POST", "/trials/:id/cuts", "addCut", 201, (*Server).addCut)
	alter(s, a, crew, door{of: "cut", kind: guard.Design, what: "changed a cut"}, "PUT", "/cuts/:id", "setCut", 200, (*Server).setCut)
	alter(s, a, crew, door{of: "cut", kind: guard.Layout, what: "took a cut out"}, "POST", "/cuts/:id/void", "voidCut", 200, (*Server).voidCut)
	alter(s, a, crew, door{of: "cut", kind: guard.Record, what: "weighed a cut"}, "POST", "/cuts/:id/weighings", "weigh", 201, (*Server).weigh)
	alter(s, a, crew, door{of: "weighing", kind: guard.Record, what: "took a weighing back", corrects: true}, "POST", "/weighings/:id/void",
		"voidWeighing", 200, (*Server).voidWeighing)
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

func (s *Server) setCut(c *gin.Context, in *struct {
	byID
	Body CutInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	if err := s.checkArm(c, trialID, in.Body.ArmID); err != nil {
		return TrialView{}, err
	}
	if err := s.notServed(c, trialID, in.ID, "moved to another arm or renamed"); err != nil {
		return TrialView{}, err
	}
	cut := in.Body.cut()
	cut.ID = in.ID
	if err := s.mayChangeArm(c, trialID, cut, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	if err := s.store.SetCut(c, who(c).ID, cut); err != nil {
		return TrialView{}, nameTaken(err, cut.Name)
	}
	return s.view(c, trialID)
}

// mayChangeArm lets a cut go into another arm under the fire as it does any move.
func (s *Server) mayChangeArm(c *gin.Context, trialID int64, next store.Cut, why string) error {
	was, err := s.store.Cut(c, next.ID)
	if err != nil || !s.changing.state.Lit {
		return err
	}
	if was.ArmID == nil && next.ArmID == nil || was.ArmID != nil && next.ArmID != nil && *was.ArmID == *next.ArmID {
		return nil
	}
	if err := s.changing.state.MayMove(who(c), why); err != nil {
		return err
	}
	return s.store.NoteChange(c, who(c).ID, trialID, store.UnderFire, "moved "+was.Name+" to another arm", strings.TrimSpace(why))
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
	trialID := s.changing.trialID
	if err := s.notServed(c, trialID, in.ID, "taken out"); err != nil {
		return TrialView{}, err
	}
	if err := s.store.VoidCut(c, who(c).ID, in.ID, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

// coarsestStep of a scale that cuts are weighed on, kg; two ounces are a little more.
const coarsestStep = 0.0568

func (s *Server) weigh(c *gin.Context, in *struct {
	byID
	Body WeighingInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	var wrong fault.List
	weight, err := units.ParseMass(in.Body.Weight)
	wrong.Take("weight", err)
	resolution, err := units.ParseMass(in.Body.Resolution)
	wrong.Take("resolution", err)
	if resolution.Kg > coarsestStep {
		wrong.Add("resolution", fmt.Sprintf("a scale that shows steps of %s is too coarse", resolution.Typed), "give the smallest step it shows, 50 g (2 oz) at most")
	}
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
	if slices.ContainsFunc(others, func(w store.Weighing) bool { return w.Stage == in.Body.Stage }) {
		if err := s.changing.state.MayCorrect(in.Body.Why); err != nil {
			return TrialView{}, err
		}
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
	trialID := s.changing.trialID
	if err := s.store.VoidWeighing(c, who(c).ID, in.ID, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}
