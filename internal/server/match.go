package server

import (
	"context"
	"crypto/rand"
	"encoding/binary"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// ArmsInput moves cuts into arms by hand.
type ArmsInput struct {
	Moves []design.Move `json:"moves" binding:"required,max=500"`
	Why   string        `json:"why" binding:"max=200"` // under the fire
}

// DrawInput asks for a draw; Why is needed under the fire.
type DrawInput struct {
	Why string `json:"why" binding:"max=200"`
}

type drawOf struct {
	byID
	Body DrawInput
}

// BackInput names a draw that the arms go back to.
type BackInput struct {
	DrawID int64 `json:"draw_id" binding:"required"`
}

// PositionsInput puts cuts into places of pit runs.
type PositionsInput struct {
	Positions []design.GratePosition `json:"positions" binding:"required,max=500"`
	Why       string                 `json:"why" binding:"max=200"` // under the fire
}

func (s *Server) registerMatch(a *api.Routes, crew *gin.RouterGroup) {
	alter(s, a, crew, door{of: "trial", kind: guard.Layout, what: "drew the arms"}, "POST", "/trials/:id/allotment", "drawArms", 201, (*Server).drawArms)
	alter(s, a, crew, door{of: "trial", kind: guard.Layout, what: "went back to an earlier draw"}, "POST", "/trials/:id/allotment/back",
		"backToDraw", 201, (*Server).backToDraw)
	alter(s, a, crew, door{of: "trial", kind: guard.Layout, what: "moved cuts between arms"}, "PUT", "/trials/:id/arms", "setArms", 200, (*Server).setArms)
	alter(s, a, crew, door{of: "trial", kind: guard.Layout, what: "paired cuts"}, "POST", "/trials/:id/blocks", "pairUp", 201, (*Server).pairUp)
	alter(s, a, crew, door{of: "trial", kind: guard.Layout, what: "moved cuts on the grate"}, "PUT", "/trials/:id/positions", "setPositions",
		200, (*Server).setPositions)
	alter(s, a, crew, door{of: "trial", kind: guard.Layout, what: "drew the places"}, "POST", "/trials/:id/positions/draw", "drawPositions",
		201, (*Server).drawPositions)
	alter(s, a, crew, door{of: "cut", kind: guard.Layout, what: "divided a cut"}, "POST", "/cuts/:id/divide", "divideCut", 201, (*Server).divideCut)
	alter(s, a, crew, door{of: "cut", kind: guard.Design, what: "measured a cut"}, "PUT", "/cuts/:id/dimensions", "setDimension", 200, (*Server).setDimension)
	alter(s, a, crew, door{of: "cut", kind: guard.Record, what: "measured an outcome"}, "PUT", "/cuts/:id/measures", "setMeasure", 200, (*Server).setMeasure)
	alter(s, a, crew, door{of: "trial", kind: guard.Design, what: "kept a finding"}, "POST", "/trials/:id/accepted", "acceptFinding", 201, (*Server).acceptFinding)
	alter(s, a, crew, door{of: "accepted finding", kind: guard.Design, what: "took a word back"}, "POST", "/accepted/:id/void", "voidAccepted",
		200, (*Server).voidAccepted)
	crew.GET("/cuts/:id/qr.png", s.cutQR)
}

// matchView adds to a trial what Match shows.
func (s *Server) matchView(ctx context.Context, v *TrialView, l look) error {
	v.Draws, v.Moved, v.Accepted = l.rows.Draws, l.trial.Moved(), l.rows.Accepted
	factors, err := s.store.Catalogue(ctx)
	if err != nil {
		return err
	}
	pieces := l.trial.Pieces(v.Ask)
	v.Balance = design.BalanceOf(len(v.Ask.Arms), pieces)
	v.Findings = design.Review(design.Case{Ask: v.Ask, Pieces: pieces, Known: knownLevels(factors), Drawn: len(v.Draws) > 0, Moved: v.Moved})
	return nil
}

// mayMove reads an open trial none of whose given cuts is on the table.
func (s *Server) mayMove(c *gin.Context, id int64, cuts []int64) (look, error) {
	l, err := s.look(c, id)
	if err != nil {
		return l, err
	}
	served, err := s.store.ServedCuts(c, id)
	if err != nil {
		return l, err
	}
	for _, id := range cuts {
		cut, ok := l.trial.Cut(id)
		if !ok {
			return l, fault.New("cut_id", fmt.Sprintf("cut %d is not of this trial", id), "choose one of its cuts")
		}
		if slices.Contains(served, id) {
			return l, api.Refuse(http.StatusConflict, cut.Name+" is on the table and cannot be moved.", "Take its flight back first, while nothing of it is sealed.")
		}
	}
	return l, nil
}

// armsMayGo refuses to take an arm out whose cuts are on the table.
func (s *Server) armsMayGo(c *gin.Context, id int64, ask trial.Ask) error {
	t, err := s.store.Trial(c, id)
	if err != nil || t.RevealedAt != nil { // then the whole ask is shut
		return err
	}
	served, err := s.store.ServedCuts(c, id)
	if err != nil {
		return err
	}
	cuts, err := s.store.Cuts(c, id)
	if err != nil {
		return err
	}
	kept := armPlaces(ask)
	for _, cut := range cuts {
		if cut.ArmID == nil || !slices.Contains(served, cut.ID) {
			continue
		}
		if _, ok := kept[*cut.ArmID]; !ok {
			return api.Refuse(http.StatusConflict, cut.Name+" of that arm is on the table, so the arm stays.", "Take its flight back first, while nothing of it is sealed.")
		}
	}
	return nil
}

// newSeed is a number that a browser can show whole.
func newSeed() (int64, error) {
	var b [8]byte
	if _, err := rand.Read(b[:]); err != nil {
		return 0, err
	}
	return int64(binary.LittleEndian.Uint64(b[:]) >> 12), nil
}

// mayMoveAll reads an open trial none of whose cuts is on the table.
func (s *Server) mayMoveAll(c *gin.Context, id int64) (look, error) {
	cuts, err := s.store.Cuts(c, id)
	if err != nil {
		return look{}, err
	}
	ids := make([]int64, len(cuts))
	for i, cut := range cuts {
		ids[i] = cut.ID
	}
	return s.mayMove(c, id, ids)
}

func (s *Server) drawArms(c *gin.Context, in *drawOf) (TrialView, error) {
	l, err := s.mayMoveAll(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	arms, cuts := len(l.trial.Ask.Arms), len(l.trial.Cuts)
	switch {
	case arms < 2:
		return TrialView{}, fault.New("arms", "one arm leaves nothing to draw", "add a second arm in Ask")
	case cuts < arms:
		return TrialView{}, fault.New("cuts", fmt.Sprintf("%d cuts for %d arms", cuts, arms), "hang at least one for each arm")
	}
	pieces := l.trial.Pieces(l.trial.Ask)
	seed, err := newSeed()
	if err != nil {
		return TrialView{}, err
	}
	d := design.DrawArms(pieces, arms, seed)
	draw := store.Allotment{Seed: seed, Arms: map[int64]int64{}, MaxSMD: d.MaxSMD, BestSMD: d.BestSMD, Looked: d.Looked, Qualified: d.Qualified, AllSeen: d.All}
	for i, p := range pieces {
		draw.Arms[p.ID] = l.trial.Ask.Arms[d.Arms[i]].ID
	}
	if err := s.store.Allot(c, who(c).ID, in.ID, draw); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

// backToDraw puts the cuts into the arms of an earlier draw; it stands on record as
// a draw of the same seed. It takes no reason, so the guard refuses it under the fire.
func (s *Server) backToDraw(c *gin.Context, in *struct {
	byID
	Body BackInput
}) (TrialView, error) {
	l, err := s.mayMoveAll(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	i := slices.IndexFunc(l.rows.Draws, func(d store.Allotment) bool { return d.ID == in.Body.DrawID })
	if i < 0 {
		return TrialView{}, fault.New("draw_id", fmt.Sprintf("%d is no draw of this trial", in.Body.DrawID), "choose one of those on record")
	}
	draw, arms := l.rows.Draws[i], armPlaces(l.trial.Ask)
	fits := len(draw.Arms) == len(l.trial.Cuts)
	for _, cut := range l.trial.Cuts {
		_, stands := arms[draw.Arms[cut.ID]]
		fits = fits && stands
	}
	if !fits {
		return TrialView{}, api.Refuse(http.StatusConflict, "The cuts or arms are others than at that draw.", "Draw again.")
	}
	if err := s.store.Allot(c, who(c).ID, in.ID, draw); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

func (s *Server) setArms(c *gin.Context, in *struct {
	byID
	Body ArmsInput
}) (TrialView, error) {
	ids, arms := make([]int64, len(in.Body.Moves)), map[int64]int64{}
	for i, m := range in.Body.Moves {
		ids[i], arms[m.CutID] = m.CutID, m.ArmID
		if err := s.checkArm(c, in.ID, &m.ArmID); err != nil {
			return TrialView{}, err
		}
	}
	if _, err := s.mayMove(c, in.ID, ids); err != nil {
		return TrialView{}, err
	}
	if err := s.store.SetArms(c, who(c).ID, arms, "moved by hand"); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

// pairUp puts cuts that have no block into blocks of alike ones, as many in
// each as there are arms.
func (s *Server) pairUp(c *gin.Context, in *drawOf) (TrialView, error) {
	l, err := s.mayMove(c, in.ID, nil)
	if err != nil {
		return TrialView{}, err
	}
	taken := map[string]bool{}
	var alone []evidence.Cut
	for _, cut := range l.trial.Cuts {
		if cut.Block == "" {
			alone = append(alone, cut)
		}
		taken[strings.ToLower(cut.Block)] = true
	}
	size := len(l.trial.Ask.Arms)
	if len(alone) < size || size < 2 {
		return TrialView{}, fault.New("cuts", fmt.Sprintf("%d cuts without a block for %d arms", len(alone), size), "hang more, or clear the blocks of some")
	}
	kg, thick := make([]*float64, len(alone)), make([]*float64, len(alone))
	for i, cut := range alone {
		if v, ok := cut.Kg(yield.Trimmed); ok {
			kg[i] = &v
		}
		thick[i] = cut.Dimension("thickness")
	}
	variables := [][]*float64{kg}
	if slices.ContainsFunc(thick, func(v *float64) bool { return v != nil }) {
		variables = append(variables, thick)
	}
	names, next := map[int]string{}, 0
	blocks := map[int64]string{}
	for i, set := range design.PairUp(variables, len(alone), size) {
		if set < 0 {
			continue
		}
		for names[set] == "" {
			if next++; !taken[fmt.Sprint(next)] {
				names[set] = fmt.Sprint(next)
			}
		}
		blocks[alone[i].ID] = names[set]
	}
	if err := s.store.SetBlocks(c, who(c).ID, blocks, "matched by weight and thickness"); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

func (s *Server) setPositions(c *gin.Context, in *struct {
	byID
	Body PositionsInput
}) (TrialView, error) {
	ids := make([]int64, len(in.Body.Positions))
	for i, p := range in.Body.Positions {
		ids[i] = p.CutID
	}
	l, err := s.mayMove(c, in.ID, ids)
	if err != nil {
		return TrialView{}, err
	}
	placed, err := placementsOf(l.trial, in.Body.Positions)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.store.PutCuts(c, who(c).ID, placed); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

// placementsOf checks places against the runs of a trial: no two cuts in one.
func placementsOf(t evidence.Trial, places []design.GratePosition) ([]store.Placement, error) {
	stands, names := map[int64]string{}, map[int64]string{}
	key := func(run int64, position string) string { return fmt.Sprint(run, " ", strings.ToUpper(position)) }
	for _, cut := range t.Cuts {
		names[cut.ID] = cut.Name
		if lies, ok := cut.Lies(); ok && lies.Position != "" {
			stands[cut.ID] = key(lies.PitRunID, lies.Position)
		}
	}
	var out []store.Placement
	for i, p := range places {
		position := strings.ToUpper(strings.TrimSpace(p.Position))
		run, ok := t.Run(p.PitRunID)
		if !ok {
			return nil, fault.New(fmt.Sprintf("positions[%d].pit_run_id", i), "there is no such pit in this trial's cooks", "choose one of its pits")
		}
		if len(position) > 20 {
			return nil, fault.New(fmt.Sprintf("positions[%d].position", i), "the place has a long name", "keep it to 20 letters, for instance A1")
		}
		delete(stands, p.CutID)
		if position != "" {
			stands[p.CutID] = key(p.PitRunID, position)
		}
		out = append(out, store.Placement{CutID: p.CutID, CookID: run.CookID, PitRunID: &p.PitRunID, Position: position})
	}
	in := map[string]int64{}
	for cut, place := range stands {
		if other, taken := in[place]; taken {
			return nil, fault.New("position", fmt.Sprintf("%s and %s are both at %s", names[min(cut, other)], names[max(cut, other)], place[strings.LastIndex(place, " ")+1:]), "give each cut a place of its own")
		}
		in[place] = cut
	}
	return out, nil
}

func (s *Server) drawPositions(c *gin.Context, in *drawOf) (TrialView, error) {
	l, err := s.mayMove(c, in.ID, nil)
	if err != nil {
		return TrialView{}, err
	}
	var runs []design.Run
	for i, k := range l.trial.Cooks {
		for _, r := range l.trial.Runs {
			if r.CookID == k.ID {
				runs = append(runs, design.Run{CookID: k.ID, Cook: fmt.Sprintf("day %d", i+1), PitRunID: r.ID, Pit: r.Pit, Columns: r.Columns, Rows: r.Rows, SetPoint: r.SetC})
			}
		}
	}
	if len(runs) == 0 {
		return TrialView{}, fault.New("cooks", "there is no cook day with a pit yet", "add one below or in Plan")
	}
	pieces := l.trial.Pieces(l.trial.Ask)
	if slices.ContainsFunc(pieces, func(p design.Piece) bool { return p.Arm < 0 }) {
		return TrialView{}, fault.New("cuts", "some cuts have no arm yet", "draw the arms first")
	}
	seed, err := newSeed()
	if err != nil {
		return TrialView{}, err
	}
	places, ok := design.DrawPositions(len(l.trial.Ask.Arms), pieces, runs, design.DealingOf(l.trial.Ask), design.Shuffle(seed))
	if !ok {
		return TrialView{}, fault.New("positions", fmt.Sprintf("%d cuts do not fit the grates of the cook days", len(pieces)), "add a cook day, or more places to a pit's grate")
	}
	placed, err := placementsOf(l.trial, places)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.store.PutCuts(c, who(c).ID, placed); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}
