package server

import (
	"errors"
	"fmt"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Attribute is a rule of nine cells on the ballot.
type Attribute struct {
	Key  trial.OutcomeKey `json:"key"`
	Name string           `json:"name"`
	Low  string           `json:"low"`
	High string           `json:"high"`
}

// PlateSample is one sample of a plate: its code and whether it is closed.
type PlateSample struct {
	Code    string `json:"code"`
	Sealed  bool   `json:"sealed"`
	Excused bool   `json:"excused"`
	Struck  bool   `json:"struck"` // do not eat
}

// PlateView is one flight as its taster sees it.
type PlateView struct {
	Flight      int           `json:"flight"`
	Samples     []PlateSample `json:"samples"`
	Advised     bool          `json:"advised"`     // some of it is below the usual minimum
	Told        bool          `json:"told"`        // and the taster knows
	Susceptible bool          `json:"susceptible"` // and it is not for them
}

// TasteView is all a taster is sent. There is nothing in it that differs
// between arms: no cut, no arm, no hand, nobody else's scores.
type TasteView struct {
	Taster     string      `json:"taster"`
	Product    string      `json:"product"`
	Allergens  []string    `json:"allergens"` // of all samples together
	Attributes []Attribute `json:"attributes"`
	Faults     []string    `json:"faults"`
	Plates     []PlateView `json:"plates"`
	Closed     bool        `json:"closed"` // the codes are open, tasting is over
}

// SealInput closes one sample: a score for every attribute, or an excuse.
type SealInput struct {
	Flight  int            `json:"flight"`
	Scores  map[string]int `json:"scores" binding:"max=100"`
	Faults  []string       `json:"faults" binding:"max=100"`
	Excused bool           `json:"excused"`
}

// ToldInput says that a taster was told of meat below its usual minimum on a plate, and
// whether they are of those who should not eat it.
type ToldInput struct {
	Flight      int  `json:"flight"`
	Susceptible bool `json:"susceptible"`
}

func (s *Server) tell(c *gin.Context, in *struct {
	tasteLink
	Body ToldInput
}) (TasteView, error) {
	err := s.atPlate(c, in.Token, func(s *Server) error {
		plates, _, err := s.plate(c, in.Token)
		for _, p := range plates {
			if p.Flight == in.Body.Flight {
				err = errors.Join(err, s.store.Tell(c, p.BallotID, in.Body.Susceptible))
			}
		}
		return err
	})
	if err != nil {
		return TasteView{}, err
	}
	_, v, err := s.plate(c, in.Token)
	return v, err
}

// faults are what a taster can tick.
var faults = []string{"sour", "bitter", "too salty", "greasy"}

type tasteLink struct {
	Token string `uri:"token" binding:"max=80"`
}

func (s *Server) registerTaste(a *api.Routes, open *gin.RouterGroup) {
	api.Handle(a, open, "GET", "/taste/:token", "getPlate", 200, func(c *gin.Context, in *tasteLink) (TasteView, error) {
		_, v, err := s.plate(c, in.Token)
		return v, err
	})
	api.Handle(a, open, "POST", "/taste/:token/samples/:code/seal", "seal", 200, s.seal)
	api.Handle(a, open, "POST", "/taste/:token/told", "tellTaster", 200, s.tell)
}

// tasterOf finds the taster behind a link.
func (s *Server) tasterOf(c *gin.Context, token string) (store.Taster, error) {
	unknown := api.Refuse(http.StatusNotFound, "This link leads to no plate.", "Scan the code on your place card again.")
	barn, err := s.store.Barn(c)
	if errors.Is(err, store.ErrNotFound) {
		return store.Taster{}, unknown
	}
	if err != nil {
		return store.Taster{}, err
	}
	id, ok := auth.TasterOf(barn.Secret, token)
	if !ok {
		if !s.links.Allow(c.ClientIP()) {
			return store.Taster{}, api.Refuse(http.StatusTooManyRequests, "Too many wrong links.", "Wait a minute, then scan your code again.")
		}
		return store.Taster{}, unknown
	}
	t, err := s.store.Taster(c, id)
	if errors.Is(err, store.ErrNotFound) {
		return t, unknown
	}
	return t, err
}

// atPlate makes a change of a taster's own plate: tasters of a trial follow each other.
func (s *Server) atPlate(c *gin.Context, token string, write func(*Server) error) error {
	t, err := s.tasterOf(c, token)
	if err != nil {
		return err
	}
	return guard.Within(c, s.store, guard.Change{TrialID: t.TrialID, Kind: guard.Design}, func(tx *store.Store, state guard.State) error {
		return write(s.within(tx, changing{t.TrialID, state}))
	})
}

// plate finds the taster behind a link and what they may see.
func (s *Server) plate(c *gin.Context, token string) ([]store.Plate, TasteView, error) {
	var v TasteView
	t, err := s.tasterOf(c, token)
	if err != nil {
		return nil, v, err
	}
	tr, err := s.store.Trial(c, t.TrialID)
	if err != nil {
		return nil, v, err
	}
	plates, err := s.store.Plates(c, t.ID)
	if err != nil {
		return nil, v, err
	}
	v = TasteView{Taster: t.Name, Product: tr.Ask.Product, Allergens: tr.Ask.Allergens, Attributes: attributes(tr.Ask), Faults: faults, Plates: []PlateView{}, Closed: tr.RevealedAt != nil}
	for _, p := range plates {
		pv := PlateView{Flight: p.Flight, Samples: []PlateSample{}, Told: p.Told, Susceptible: p.Susceptible}
		for _, x := range p.Servings {
			pv.Samples = append(pv.Samples, PlateSample{Code: x.Code, Sealed: x.Sealed, Excused: x.Excused, Struck: x.Struck})
			pv.Advised = pv.Advised || x.Advised
		}
		v.Plates = append(v.Plates, pv)
	}
	return plates, v, nil
}

// attributes are the tasted outcomes of a trial, overall last.
func attributes(a trial.Ask) []Attribute {
	out := []Attribute{}
	for _, overall := range []bool{false, true} {
		for _, o := range a.Outcomes {
			d, ok := trial.DefaultOf(o.Key)
			if ok && d.Kind == trial.FromPanel && (d.Key == trial.Overall) == overall {
				out = append(out, Attribute{Key: d.Key, Name: d.Name, Low: d.Low, High: d.High})
			}
		}
	}
	return out
}

func (s *Server) seal(c *gin.Context, in *struct {
	tasteLink
	Code string `uri:"code" binding:"len=3"`
	Body SealInput
}) (TasteView, error) {
	if err := s.atPlate(c, in.Token, func(s *Server) error { return s.sealSample(c, in.Token, in.Code, in.Body) }); err != nil {
		return TasteView{}, err
	}
	_, v, err := s.plate(c, in.Token)
	return v, err
}

// sealSample seals one sample, or leaves it out.
func (s *Server) sealSample(c *gin.Context, token, code string, in SealInput) error {
	plates, v, err := s.plate(c, token)
	if err != nil {
		return err
	}
	var found *store.Serving
	for i, p := range plates {
		if p.Flight == in.Flight && v.Plates[i].Advised && !in.Excused && (!p.Told || p.Susceptible) {
			return api.Refuse(http.StatusConflict, "This plate holds meat below the usual minimum.",
				"Read the advice on your page first; leave the sample out if it is not for you.")
		}
		for i, x := range p.Servings {
			if p.Flight == in.Flight && x.Code == code {
				found = &p.Servings[i]
			}
		}
	}
	if found == nil {
		return api.Refuse(http.StatusNotFound, "There is no "+code+" on your plate.", "Check the code on the cup.")
	}
	sealed := store.Sealed{Scores: in.Scores, Faults: in.Faults, Excused: in.Excused}
	if err := checkSeal(v.Attributes, sealed); err != nil {
		return err
	}
	err = s.store.Seal(c, found.BallotID, found.SampleID, sealed)
	switch {
	case errors.Is(err, store.ErrStruck):
		return api.Refuse(http.StatusConflict, "Do not eat "+code+": it was stopped.", "Set the cup aside and tell the carver.")
	case errors.Is(err, store.ErrConflict):
		return api.Refuse(http.StatusConflict, code+" is sealed with other scores.", "Sealed scores stay shut.")
	}
	return err
}

func checkSeal(attributes []Attribute, v store.Sealed) error {
	var wrong fault.List
	if v.Excused && len(v.Scores) > 0 {
		wrong.Add("scores", "an excused sample has scores", "send either")
	}
	known := map[string]bool{}
	for _, a := range attributes {
		known[string(a.Key)] = true
		value, given := v.Scores[string(a.Key)]
		switch {
		case !given && !v.Excused:
			wrong.Add("scores."+string(a.Key), a.Name+" is unanswered", "tap a number from 1 to 9")
		case given && (value < 1 || value > 9):
			wrong.Add("scores."+string(a.Key), fmt.Sprintf("%d is not on the rule", value), "tap a number from 1 to 9")
		}
	}
	for key := range v.Scores {
		if !known[key] {
			wrong.Add("scores."+key, "that is not asked", "leave it out")
		}
	}
	for _, f := range v.Faults {
		if !slices.Contains(faults, f) {
			wrong.Add("faults", fmt.Sprintf("%q is not on the list", f), "tick one of the list")
		}
	}
	return wrong.Err()
}
