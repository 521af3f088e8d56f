package server

import (
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/internal/api"
)

// Families are the kinds of cuts the cook model knows.
type Families struct {
	Source string           `json:"source"`
	Model  []thermal.Family `json:"model"`
	Own    []thermal.Family `json:"own"`
}

type byKey struct {
	Key string `uri:"key" binding:"required,max=60"`
}

func (s *Server) registerFamilies(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/families", "getFamilies", 200, s.families)
	api.Handle(a, master, "POST", "/families", "keepFamily", 200, s.keepFamily)
	api.Handle(a, master, "POST", "/families/:key/retire", "retireFamily", 200, func(c *gin.Context, in *byKey) (Families, error) {
		if err := s.store.RetireFamily(c, in.Key); err != nil {
			return Families{}, err
		}
		return s.families(c, nil)
	})
}

func (s *Server) families(c *gin.Context, _ *api.None) (Families, error) {
	own, err := s.store.OwnFamilies(c)
	if own == nil {
		own = []thermal.Family{}
	}
	return Families{thermal.FamilySource, thermal.Families, own}, err
}

// keepFamily keeps a family under its name; those of the model stay as they are.
func (s *Server) keepFamily(c *gin.Context, in *struct{ Body thermal.Family }) (Families, error) {
	f := in.Body
	f.Name = strings.TrimSpace(f.Name)
	f.Key, f.Checked = "own "+strings.ToLower(f.Name), false
	for _, known := range thermal.Families {
		if strings.EqualFold(known.Name, f.Name) {
			return Families{}, fault.New("name", "the model has a family of that name", "give yours another name")
		}
	}
	if f.Name == "" {
		return Families{}, fault.New("name", "the family has no name", "call it as its product is called, such as goat shoulder")
	}
	if err := f.Check(); err != nil {
		return Families{}, err
	}
	if err := s.store.KeepFamily(c, who(c).ID, f); err != nil {
		return Families{}, err
	}
	return s.families(c, nil)
}
