package server

import (
	"context"
	crand "crypto/rand"
	"encoding/binary"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	core "whitebarn/core/gate"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// TasterView is a taster with the path of their own page.
type TasterView struct {
	store.Taster
	Path string `json:"path"`
}

// FlightInput is a flight to be served: its cuts go on the table in one place
// on the piece, to the tasters named, in drawn orders under drawn codes.
type FlightInput struct {
	CarverID int64   `json:"carver_id"`
	CutIDs   []int64 `json:"cut_ids" binding:"max=100"`
	Place    string  `json:"place" binding:"required,max=40"`
	Tasters  []int64 `json:"tasters" binding:"max=200"`
}

// RevealInput opens the codes; Reason is needed while ballots are open.
type RevealInput struct {
	Reason string `json:"reason" binding:"max=200"`
}

// Table sizes: more samples than six tire a tongue; fewer than three tasters
// tell nothing.
const (
	mostSamples  = 6
	leastTasters = 3
)

func (s *Server) registerTable(a *api.Routes, crew, master *gin.RouterGroup) {
	alter(s, a, crew, door{of: "trial", kind: guard.Design, what: "seated a taster"}, "POST", "/trials/:id/tasters", "addTaster", 201, (*Server).addTaster)
	alter(s, a, crew, door{of: "taster", kind: guard.Design, what: "a taster left"}, "POST", "/tasters/:id/void", "voidTaster", 200, (*Server).voidTaster)
	alter(s, a, master, door{of: "trial", kind: guard.Design, what: "served a flight"}, "POST", "/trials/:id/flights", "serveFlight", 201, (*Server).serveFlight)
	alter(s, a, master, door{of: "flight", kind: guard.Design, what: "took a flight back"}, "POST", "/flights/:id/void", "voidFlight", 200, (*Server).voidFlight)
	api.Handle(a, crew, "GET", "/flights/:id/key", "getKey", 200, s.key)
	alter(s, a, master, door{of: "trial", kind: guard.Design, what: "opened the codes"}, "POST", "/trials/:id/reveal", "reveal", 200, (*Server).reveal)
	crew.GET("/tasters/:id/qr.png", s.qr)
}

func (s *Server) tasters(ctx context.Context, id int64) ([]TasterView, error) {
	barn, err := s.store.Barn(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Tasters(ctx, id)
	if err != nil {
		return nil, err
	}
	out := make([]TasterView, len(rows))
	for i, t := range rows {
		out[i] = TasterView{Taster: t, Path: "/taste/" + auth.TasterToken(barn.Secret, t.ID)}
	}
	return out, nil
}

func (s *Server) addTaster(c *gin.Context, in *struct {
	byID
	Body NamedInput
}) (TrialView, error) {
	name := strings.TrimSpace(in.Body.Name)
	err := s.store.AddTaster(c, who(c).ID, in.ID, name)
	if errors.Is(err, store.ErrConflict) {
		return TrialView{}, fault.New("name", fmt.Sprintf("%q sits at the table already", name), "add a letter of the family name")
	}
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

func (s *Server) voidTaster(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	trialID := s.changing.trialID
	err := s.store.VoidTaster(c, who(c).ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return TrialView{}, api.Refuse(http.StatusConflict, "This taster has a plate already.", "Let them press Can't score for what they do not taste.")
	}
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

// qr draws the link of a taster for a phone's camera.
func (s *Server) qr(c *gin.Context) {
	var in byID
	if err := c.ShouldBindUri(&in); err != nil {
		noRoute(c)
		return
	}
	t, err := s.store.Taster(c, in.ID)
	if err != nil {
		api.Fail(c, err)
		return
	}
	barn, err := s.store.Barn(c)
	if err != nil {
		api.Fail(c, err)
		return
	}
	drawQR(c, "/taste/"+auth.TasterToken(barn.Secret, t.ID))
}

func (s *Server) serveFlight(c *gin.Context, in *struct {
	byID
	Body FlightInput
}) (TrialView, error) {
	v, err := s.view(c, in.ID)
	if err != nil {
		return v, err
	}
	g, err := s.gate.Of(c, in.ID)
	if err != nil {
		return v, err
	}
	if err := s.checkFlight(c, v, g, in.Body); err != nil {
		return v, err
	}
	used, err := s.store.UsedCodes(c, in.ID)
	if err != nil {
		return v, err
	}
	r, err := newRand()
	if err != nil {
		return v, err
	}
	b := in.Body
	codes, err := panel.DrawCodes(r, len(b.CutIDs), used)
	if err != nil {
		return v, err
	}
	places := make([]string, len(b.CutIDs))
	for i := range places {
		places[i] = strings.TrimSpace(b.Place)
	}
	flight := store.NewFlight{TrialID: in.ID, CarverID: b.CarverID, At: s.cookTime(v, b.CutIDs[0]), Cuts: b.CutIDs, Places: places,
		Codes: codes, Tasters: b.Tasters, Orders: panel.Orders(r, len(b.CutIDs), len(b.Tasters))}
	for _, id := range b.CutIDs {
		flight.Advised = append(flight.Advised, gateOf(g, id).Advisory)
	}
	if _, err = s.store.Serve(c, who(c).ID, flight); err != nil {
		return v, err
	}
	return s.view(c, in.ID)
}

// gateOf is what the gate says of one cut; shut where it is none of the trial's.
func gateOf(g gate.GateView, cut int64) core.Ruling {
	for _, c := range g.Cuts {
		if c.CutID == cut {
			return c.Ruling
		}
	}
	return core.Ruling{}
}

// cookTime is now, by the clock of the cook a cut lies in.
func (s *Server) cookTime(v TrialView, cut int64) time.Time {
	for _, c := range v.Cuts {
		if c.ID != cut || c.Placement == nil {
			continue
		}
		for _, k := range v.Cooks {
			if k.ID == c.Placement.CookID {
				return k.Now
			}
		}
	}
	return s.now()
}

// newRand is seeded from the system, so that nobody can know the codes before.
func newRand() (*rand.Rand, error) {
	var seed [16]byte
	if _, err := crand.Read(seed[:]); err != nil {
		return nil, err
	}
	return rand.New(rand.NewPCG(binary.LittleEndian.Uint64(seed[:8]), binary.LittleEndian.Uint64(seed[8:]))), nil
}

// checkFlight is the gate before the table.
func (s *Server) checkFlight(c *gin.Context, v TrialView, g gate.GateView, f FlightInput) error {
	var wrong fault.List
	if n := len(f.CutIDs); n < 2 || n > mostSamples {
		wrong.Add("cut_ids", fmt.Sprintf("%d samples", n), fmt.Sprintf("serve 2 to %d in one flight; the rest go into another", mostSamples))
	}
	cuts, arms, twice := map[int64]CutView{}, map[int64]bool{}, map[int64]bool{}
	for _, cut := range v.Cuts {
		cuts[cut.ID] = cut
	}
	for i, id := range f.CutIDs {
		field := fmt.Sprintf("cut_ids[%d]", i)
		cut, ok := cuts[id]
		switch {
		case !ok:
			wrong.Add(field, "that cut is not of this trial", "choose one of its cuts")
		case twice[id]:
			wrong.Add(field, cut.Name+" is there twice", "serve each cut once in a flight")
		case cut.ArmID == nil:
			wrong.Add(field, cut.Name+" has no arm", "give it one in Match")
		case !gateOf(g, id).Open:
			for _, stop := range gateOf(g, id).Stops {
				if !stop.Waived {
					wrong.Add(field, cut.Name+": "+stop.Words, stop.Remedy)
				}
			}
		default:
			arms[*cut.ArmID] = true
		}
		twice[id] = true
	}
	if len(arms) < 2 && wrong.Err() == nil {
		wrong.Add("cut_ids", "all samples are of one arm", "serve both arms side by side")
	}
	if n := len(f.Tasters); n < leastTasters {
		wrong.Add("tasters", fmt.Sprintf("%d tasters", n), fmt.Sprintf("seat %d or more", leastTasters))
	}
	carver, err := s.store.Person(c, f.CarverID)
	if err != nil {
		wrong.Add("carver_id", "no carver is named", "name the one person who sees the key and does not taste")
	}
	seated := map[int64]string{}
	for _, t := range v.Tasters {
		seated[t.ID] = t.Name
	}
	for i, id := range f.Tasters {
		name, ok := seated[id]
		switch {
		case !ok:
			wrong.Add(fmt.Sprintf("tasters[%d]", i), "that taster is not at this table", "add them first")
		case err == nil && strings.EqualFold(name, carver.Name):
			wrong.Add("carver_id", carver.Name+" carves and tastes", "a carver knows the key: leave them off this flight's tasters")
		}
	}
	ballot := false
	for _, o := range v.Ask.Outcomes {
		d, _ := trial.DefaultOf(o.Key)
		ballot = ballot || d.Kind == trial.FromPanel
	}
	if !ballot {
		wrong.Add("outcomes", "no outcome of this trial is tasted", "add one in Ask")
	}
	return wrong.Err()
}

func (s *Server) voidFlight(c *gin.Context, in *struct {
	byID
	Body Why
}) (TrialView, error) {
	trialID := s.changing.trialID
	err := s.store.VoidFlight(c, who(c).ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return TrialView{}, api.Refuse(http.StatusConflict, "Samples of this flight are sealed.", "Let it stand; serve another flight beside it.")
	}
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

// key is for the flight's carver alone, pitmaster or not, until the codes are
// open.
func (s *Server) key(c *gin.Context, in *byID) ([]store.KeyLine, error) {
	f, err := s.store.Flight(c, in.ID)
	if err != nil {
		return nil, err
	}
	trialID, err := s.store.TrialOf(c, "flight", in.ID)
	if err != nil {
		return nil, err
	}
	t, err := s.store.Trial(c, trialID)
	if err != nil {
		return nil, err
	}
	if t.RevealedAt == nil && f.CarverID != who(c).ID {
		return nil, api.Refuse(http.StatusForbidden, "Only the carver sees this key before the codes are opened.", "Ask "+f.Carver+" to carve.")
	}
	return s.store.Key(c, in.ID)
}

func (s *Server) reveal(c *gin.Context, in *struct {
	byID
	Body RevealInput
}) (TrialView, error) {
	v, err := s.view(c, in.ID)
	if err != nil {
		return v, err
	}
	open := 0
	for _, b := range v.Ballots {
		if !b.Locked {
			open++
		}
	}
	reason := strings.TrimSpace(in.Body.Reason)
	switch {
	case len(v.Ballots) == 0 && reason == "":
		return v, api.Refuse(http.StatusConflict, "Nothing has been tasted.", "Serve a flight first, or say why the trial is read without one.")
	case open > 0 && reason == "":
		return v, api.Refuse(http.StatusConflict, fmt.Sprintf("%d of %d ballots are still open.", open, len(v.Ballots)), "Wait for them, or say why the codes are opened now. The trial keeps the reason for good.")
	}
	err = s.store.Reveal(c, who(c).ID, in.ID, reason)
	if errors.Is(err, store.ErrConflict) {
		return v, api.Refuse(http.StatusConflict, "The codes are open already.", "Load the page again.")
	}
	if err != nil {
		return v, err
	}
	if _, err := s.desk.Lines(c, []int64{in.ID}); err != nil {
		return v, err
	}
	return s.view(c, in.ID)
}
