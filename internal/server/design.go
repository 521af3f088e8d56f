package server

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/core/design"
	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
)

// Catalogue is what an Ask is made from.
type Catalogue struct {
	Factors   []store.CatalogueFactor `json:"factors"`
	Outcomes  []trial.OutcomeDefault  `json:"outcomes"`
	Own       []trial.Chosen          `json:"own"` // measures of their own in earlier trials
	Products  []store.Product         `json:"products"`
	Families  []FamilyName            `json:"families"` // what a product may cook like
	Templates []trial.Template        `json:"templates"`
	Start     trial.Ask               `json:"start"`
}

// FamilyName is a family of the cook model by name.
type FamilyName struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// KeyInput says what the rules take a level for.
type KeyInput struct {
	Key string `json:"key" binding:"max=20"`
}

// ReviewInput is an ask as it stands, kept or not. TrialID is 0 for a new one.
type ReviewInput struct {
	Ask     trial.Ask `json:"ask"`
	TrialID int64     `json:"trial_id"`
}

// Reading says what an ask can tell, what not, and what would mend it.
type Reading struct {
	CanAnswer string           `json:"can_answer"` // in a line
	Findings  []design.Finding `json:"findings"`
	Offers    []design.Offer   `json:"offers"`
	Numbers   []design.Number  `json:"numbers"`
}

// DraftInput asks for the start of another trial from this one.
type DraftInput struct {
	byID
	As    string `form:"as" json:"as" binding:"oneof=copy follow"`
	ArmID int64  `form:"arm" json:"arm"` // to go on with; 0 leaves the choice
}

// LevelInput is a level of a factor.
type LevelInput struct {
	Value string `json:"value" binding:"required,max=80"`
}

// MergeInput names the factor that another is counted as.
type MergeInput struct {
	Into int64 `json:"into" binding:"required"`
}

// RetireInput says whether something is no longer offered.
type RetireInput struct {
	Retired bool `json:"retired"`
}

func (s *Server) registerDesign(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/catalogue", "getCatalogue", 200, func(c *gin.Context, _ *api.None) (Catalogue, error) { return s.catalogue(c) })
	api.Handle(a, crew, "POST", "/design/review", "reviewAsk", 200, s.reviewAsk)
	api.Handle(a, crew, "GET", "/trials/:id/draft", "getDraft", 200, s.draft)
	api.Handle(a, master, "POST", "/catalogue/factors", "addFactor", 201, s.addFactor)
	api.Handle(a, master, "POST", "/catalogue/factors/:id/levels", "addLevel", 201, s.addLevel)
	api.Handle(a, master, "POST", "/catalogue/factors/:id/merge", "mergeFactor", 200, s.mergeFactor)
	api.Handle(a, master, "POST", "/catalogue/factors/:id/retire", "retireFactor", 200, s.retireFactor)
	api.Handle(a, master, "POST", "/catalogue/levels/:id/retire", "retireLevel", 200, s.retireLevel)
	api.Handle(a, master, "POST", "/catalogue/levels/:id/merge", "mergeLevel", 200, s.mergeLevel)
	api.Handle(a, master, "PUT", "/catalogue/levels/:id/key", "setLevelKey", 200, s.setLevelKey)
	api.Handle(a, master, "PUT", "/catalogue/products/:id", "setProduct", 200, s.setProduct)
}

func (s *Server) catalogue(c *gin.Context) (Catalogue, error) {
	out := Catalogue{Outcomes: trial.Catalogue, Start: trial.Start(), Families: []FamilyName{}}
	var err error
	if out.Factors, err = s.store.Catalogue(c); err != nil {
		return out, err
	}
	if out.Products, err = s.store.Products(c); err != nil {
		return out, err
	}
	own, err := s.store.OwnFamilies(c)
	if err != nil {
		return out, err
	}
	for _, f := range slices.Concat(own, thermal.Families) {
		out.Families = append(out.Families, FamilyName{f.Key, f.Name})
	}
	for _, t := range trial.Templates {
		if t.Ask, err = s.store.Resolve(c, t.Ask); err != nil {
			return out, err
		}
		out.Templates = append(out.Templates, t)
	}
	out.Own, err = s.store.OwnMeasures(c)
	return out, err
}

// knownLevels are the levels on offer, by factor.
func knownLevels(factors []store.CatalogueFactor) design.Levels {
	out := design.Levels{}
	for _, f := range factors {
		for _, l := range f.Levels {
			if !f.Retired && !l.Retired {
				out[f.ID] = append(out[f.ID], trial.Level{ID: l.ID, Key: l.Key, Value: l.Value})
			}
		}
	}
	return out
}

func (s *Server) reviewAsk(c *gin.Context, in *struct{ Body ReviewInput }) (Reading, error) {
	var out Reading
	ask := in.Body.Ask.Tidy()
	ask.Hand = ask.Hand.Within()
	if len(ask.Arms) > trial.MostArms || len(ask.Factors) > trial.MostFactors {
		return out, ask.Check()
	}
	ask, err := s.store.Resolve(c, ask)
	if err != nil {
		return out, err
	}
	factors, err := s.store.Catalogue(c)
	if err != nil {
		return out, err
	}
	review := design.Case{Ask: ask, Known: knownLevels(factors)}
	if f, ok := thermal.SuggestFamily(ask.Product + " " + ask.Cut); ok && ask.Product != "" {
		review.Like = &f
	}
	var have func(trial.UnitKind) int
	if in.Body.TrialID != 0 {
		l, err := s.look(c, in.Body.TrialID)
		if err != nil {
			return out, err
		}
		review.Drawn, review.Moved = len(l.trial.Draws) > 0, l.trial.Moved()
		// Arms that the ask no longer has leave their cuts without one.
		review.Pieces = l.trial.Pieces(ask)
		if len(review.Pieces) > 0 {
			have = func(kind trial.UnitKind) int { return design.UnitsAnArm(ask, review.Pieces, kind) }
		}
	}
	house, err := s.desk.House(c, in.Body.TrialID, ask, ask.Hand.BlockSize > 1)
	if err != nil {
		return out, err
	}
	out.Findings, out.Offers = design.Review(review), design.Offers(ask)
	out.CanAnswer = design.CanAnswer(ask, out.Findings)
	out.Numbers = design.Numbers(ask, func(kind trial.UnitKind) map[trial.OutcomeKey]verdict.Spread { return house[kind] }, have)
	return out, nil
}

func (s *Server) draft(c *gin.Context, in *DraftInput) (trial.Ask, error) {
	t, err := s.store.Trial(c, in.ID)
	if err != nil {
		return trial.Ask{}, err
	}
	if in.As == "copy" {
		return t.Ask.Copy(), nil
	}
	arm, ok := armPlaces(t.Ask)[in.ArmID]
	if !ok {
		arm = t.Ask.GoOnWith()
	}
	return t.Ask.FollowOn(t.ID, arm), nil
}

func (s *Server) addFactor(c *gin.Context, in *struct{ Body trial.Factor }) (Catalogue, error) {
	f := in.Body
	f.Name, f.Unit = strings.TrimSpace(f.Name), strings.TrimSpace(f.Unit)
	if err := trial.CheckFactors([]trial.Factor{f}); err != nil {
		return Catalogue{}, err
	}
	if err := s.store.AddFactor(c, f); errors.Is(err, store.ErrConflict) {
		return Catalogue{}, fault.New("name", fmt.Sprintf("%s is in the catalogue already", f.Name), "use that one")
	} else if err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

func (s *Server) addLevel(c *gin.Context, in *struct {
	byID
	Body LevelInput
}) (Catalogue, error) {
	value := strings.TrimSpace(in.Body.Value)
	if value == "" {
		return Catalogue{}, fault.New("value", "nothing is written", "say what the level is")
	}
	if err := s.store.AddLevel(c, in.ID, value); err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

func (s *Server) mergeFactor(c *gin.Context, in *struct {
	byID
	Body MergeInput
}) (Catalogue, error) {
	if err := noMerge(s.store.MergeFactor(c, who(c).ID, in.ID, in.Body.Into)); err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

func (s *Server) retireFactor(c *gin.Context, in *struct {
	byID
	Body RetireInput
}) (Catalogue, error) {
	if err := s.store.RetireFactor(c, who(c).ID, in.ID, in.Body.Retired); err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

func (s *Server) retireLevel(c *gin.Context, in *struct {
	byID
	Body RetireInput
}) (Catalogue, error) {
	if err := s.store.RetireLevel(c, who(c).ID, in.ID, in.Body.Retired); err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

// noMerge says in words why something is not merged.
func noMerge(err error) error {
	switch {
	case errors.Is(err, store.ErrSeeded):
		return api.Refuse(http.StatusConflict, "That one came with the barn and is not merged away.", "Merge your own into it, or retire it.")
	case errors.Is(err, store.ErrConflict):
		return api.Refuse(http.StatusConflict, "That one is merged already, or is the same.", "Choose another.")
	}
	return err
}

func (s *Server) mergeLevel(c *gin.Context, in *struct {
	byID
	Body MergeInput
}) (Catalogue, error) {
	if err := noMerge(s.store.MergeLevel(c, who(c).ID, in.ID, in.Body.Into)); err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

// setLevelKey says what the rules take a level of the team's own for.
func (s *Server) setLevelKey(c *gin.Context, in *struct {
	byID
	Body KeyInput
}) (Catalogue, error) {
	factors, err := s.store.Catalogue(c)
	if err != nil {
		return Catalogue{}, err
	}
	for _, f := range factors {
		if !slices.ContainsFunc(f.Levels, func(l store.CatalogueLevel) bool { return l.ID == in.ID }) {
			continue
		}
		keys := trial.LevelKeys(f.Role)
		if in.Body.Key != "" && !slices.Contains(keys, in.Body.Key) {
			return Catalogue{}, fault.New("key", fmt.Sprintf("a level of %s does not count as %q", f.Name, in.Body.Key), "choose one of the list")
		}
	}
	err = s.store.SetLevelKey(c, who(c).ID, in.ID, in.Body.Key)
	if errors.Is(err, store.ErrSeeded) {
		return Catalogue{}, api.Refuse(http.StatusConflict, "That one came with the barn and counts as what it is.", "Add a level of your own.")
	}
	if err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}

// setProduct says what a product cooks like.
func (s *Server) setProduct(c *gin.Context, in *struct {
	byID
	Body struct {
		Family string `json:"family" binding:"required,max=60"`
	}
}) (Catalogue, error) {
	f, err := s.store.Family(c, in.Body.Family)
	if err != nil {
		return Catalogue{}, err
	}
	if f.Key != in.Body.Family {
		return Catalogue{}, fault.New("family", fmt.Sprintf("there is no family %q", in.Body.Family), "choose one of the list, or add your own under Pits")
	}
	if err := s.store.SetProduct(c, who(c).ID, in.ID, f.Key); err != nil {
		return Catalogue{}, err
	}
	return s.catalogue(c)
}
