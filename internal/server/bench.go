package server

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/skip2/go-qrcode"

	"whitebarn/core/design"
	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
)

// DivideInput names the parts of a cut. Together, they stay in one arm and
// count as one; else they are alike and go to different arms.
type DivideInput struct {
	Parts    []PartInput `json:"parts" binding:"min=2,max=6,dive"`
	Together bool        `json:"together"`
	Why      string      `json:"why" binding:"max=200"` // under the fire
}

// PartInput is a part of a cut.
type PartInput struct {
	Name    string `json:"name" binding:"required,max=20"`
	Section string `json:"section" binding:"max=40"`
}

// DimensionInput is a length or the fridge temperature as typed; empty takes it back.
type DimensionInput struct {
	Kind  string `json:"kind" binding:"oneof=thickness fat_cap length cold"`
	Typed string `json:"typed" binding:"max=40"`
}

// MeasureInput is the value of an outcome typed for a cut; null takes it back.
type MeasureInput struct {
	Key   string   `json:"key" binding:"required"`
	Value *float64 `json:"value"`
	Why   string   `json:"why,omitempty" binding:"max=200"` // of another value once the codes are open
}

// AcceptInput is the word with which a finding is kept.
type AcceptInput struct {
	Key string `json:"key" binding:"required"`
	Why string `json:"why" binding:"max=200"`
}

func (s *Server) divideCut(c *gin.Context, in *struct {
	byID
	Body DivideInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	l, err := s.mayMove(c, trialID, []int64{in.ID})
	if err != nil {
		return TrialView{}, err
	}
	if cut, _ := l.trial.Cut(in.ID); len(cut.Acts) > 0 {
		return TrialView{}, api.Refuse(http.StatusConflict, "This cut is in the log of the fire already.", "Weigh what comes off it as one, or take its entries back first.")
	}
	whole, err := s.store.Cut(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if whole.ParentID != nil {
		return TrialView{}, fault.New("parts", whole.Name+" is a part already", "take the parts out and divide the whole into more")
	}
	parts := make([]store.Cut, len(in.Body.Parts))
	for i, p := range in.Body.Parts {
		parts[i] = whole
		part := &parts[i]
		part.Name, part.Section, part.ParentID, part.Together, part.PriceCents = strings.TrimSpace(p.Name), strings.TrimSpace(p.Section), &whole.ID, in.Body.Together, nil
		if !in.Body.Together {
			part.Pair, part.ArmID = whole.Name, nil // alike with each other, above all
		}
	}
	err = s.store.Divide(c, who(c).ID, trialID, parts)
	if errors.Is(err, store.ErrConflict) {
		return TrialView{}, fault.New("name", "a part has the name of another cut", "give each its own, for instance "+whole.Name+"a and "+whole.Name+"b")
	}
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) setDimension(c *gin.Context, in *struct {
	byID
	Body DimensionInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	d := store.Dimension{CutID: in.ID, Kind: in.Body.Kind, Typed: strings.TrimSpace(in.Body.Typed)}
	switch {
	case d.Typed == "":
	case d.Kind == "cold":
		t, err := units.ParseTemperature(d.Typed)
		if err != nil {
			return TrialView{}, fault.In("cold", err)
		}
		d.Value, d.Typed = t.C, t.Typed
	default:
		l, err := units.ParseLength(d.Typed)
		if err != nil {
			return TrialView{}, fault.In(d.Kind, err)
		}
		d.Value = l.M
	}
	if err := s.store.SetDimension(c, who(c).ID, d); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) setMeasure(c *gin.Context, in *struct {
	byID
	Body MeasureInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	t, err := s.store.Trial(c, trialID)
	if err != nil {
		return TrialView{}, err
	}
	typed := slices.ContainsFunc(t.Ask.Outcomes, func(o trial.Chosen) bool {
		d, ok := o.Outcome()
		return ok && string(o.Key) == in.Body.Key && d.Kind == trial.FromHand
	})
	if !typed {
		return TrialView{}, fault.New("key", fmt.Sprintf("%q is not typed for each cut in this trial", in.Body.Key), "choose it in Ask first")
	}
	if v := in.Body.Value; v != nil && !(*v > -1e9 && *v < 1e9) {
		return TrialView{}, fault.New("value", fmt.Sprintf("%v is past any measure", *v), "check the number")
	}
	if kept, err := s.store.Measured(c, in.ID, in.Body.Key); err != nil {
		return TrialView{}, err
	} else if kept {
		if err := s.changing.state.MayCorrect(in.Body.Why); err != nil {
			return TrialView{}, err
		}
	}
	if err := s.store.SetMeasure(c, who(c).ID, in.ID, in.Body.Key, in.Body.Value); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

func (s *Server) acceptFinding(c *gin.Context, in *struct {
	byID
	Body AcceptInput
}) (TrialView, error) {
	v, err := s.view(c, in.ID)
	if err != nil {
		return v, err
	}
	at := slices.IndexFunc(v.Findings, func(f design.Finding) bool { return f.Key == in.Body.Key })
	why := strings.TrimSpace(in.Body.Why)
	switch {
	case at < 0:
		return v, fault.New("key", "that does not stand in the way any more", "load the page again")
	case why == "":
		return v, fault.New("why", "nothing is written", "say why it is run like this, for instance only one pit is free")
	}
	if err := s.store.AcceptFinding(c, who(c).ID, in.ID, store.AcceptedFinding{Key: in.Body.Key, Text: v.Findings[at].Text, Why: why}); err != nil {
		return v, err
	}
	return s.view(c, in.ID)
}

func (s *Server) voidAccepted(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	trialID := s.changing.trialID
	if err := s.store.VoidAccepted(c, who(c).ID, in.ID, in.Body.Why); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

// cutQR draws the address of a cut's slip, for its label.
func (s *Server) cutQR(c *gin.Context) {
	var in byID
	if err := c.ShouldBindUri(&in); err != nil {
		api.Fail(c, err)
		return
	}
	trialID, err := s.store.TrialOf(c, "cut", in.ID)
	if err != nil {
		api.Fail(c, err)
		return
	}
	drawQR(c, fmt.Sprintf("/trials/%d/match?cut=%d", trialID, in.ID))
}

// drawQR answers with the code of an address of this barn.
func drawQR(c *gin.Context, path string) { drawCode(c, address(c)+path) }

func drawCode(c *gin.Context, text string) {
	png, err := qrcode.Encode(text, qrcode.Medium, 240)
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "image/png", png)
}
