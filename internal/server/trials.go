package server

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/design"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/safety"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
)

// CutView is a cut with all that is known of it.
type CutView struct {
	store.Cut
	Weighings        []store.Weighing        `json:"weighings"`
	Account          yield.Account           `json:"account"`
	FinalTemperature *store.FinalTemperature `json:"final_temperature"`
	GateReason       *store.GateReason       `json:"gate_reason"`
	Finding          safety.Finding          `json:"finding"`
	MayServe         bool                    `json:"may_serve"`
	Placement        *store.Placement        `json:"placement"`
	Dimensions       []store.Dimension       `json:"dimensions"`
	Measures         []store.MeasureValue    `json:"measures"`
	TrimMissingKg    *float64                `json:"trim_missing_kg"` // of the trim, what went over no scale
}

// CookView is a cook with its clock and pits.
type CookView struct {
	ID      int64             `json:"id"`
	ServeAt time.Time         `json:"serve_at"`
	Now     time.Time         `json:"now"` // by the cook's own clock
	Rate    float64           `json:"rate"`
	Played  bool              `json:"played"` // its devices are simulated
	Runs    []store.PitRun    `json:"runs"`
	Holders []store.HolderRun `json:"holders"`
}

// TrialView is a trial as its eight steps show it. It holds nothing that ties
// a sample code to a cut.
type TrialView struct {
	ID           int64                   `json:"id"`
	Ask          trial.Ask               `json:"ask"`
	Findings     []design.Finding        `json:"findings"` // what stands between it and its answer
	Accepted     []store.AcceptedFinding `json:"accepted"` // of them, what it is knowingly run with
	CreatedBy    string                  `json:"created_by"`
	CreatedAt    time.Time               `json:"created_at"`
	RevealedAt   *time.Time              `json:"revealed_at"`
	RevealReason string                  `json:"reveal_reason"`
	Rehearses    *int64                  `json:"rehearses"`  // of a rehearsal: the trial it is a copy of
	Rehearsals   []int64                 `json:"rehearsals"` // copies of this trial, newest first
	Steps        []trial.StepState       `json:"steps"`
	Here         trial.Step              `json:"here"`
	Minimum      safety.Minimum          `json:"minimum"`
	Cuts         []CutView               `json:"cuts"`
	Divided      []CutView               `json:"divided"` // cuts whose parts are among the cuts
	Balance      design.Balance          `json:"balance"`
	Draws        []store.Allotment       `json:"draws"`   // of arms, the last first
	Moved        []string                `json:"moved"`   // cuts moved by hand after the last draw
	Outline      plan.Outline            `json:"outline"` // phases and doses; a first guess while none is kept
	Cooks        []CookView              `json:"cooks"`
	Events       []store.Event           `json:"events"`
	Clashes      []logbook.Clash         `json:"clashes"` // the same, logged by two hands
	Imports      []store.Import          `json:"imports"`
	Tasters      []TasterView            `json:"tasters"`
	Flights      []store.Flight          `json:"flights"`
	Ballots      []store.BallotState     `json:"ballots"`
}

// TrialLine is a trial in a list.
type TrialLine struct {
	ID       int64             `json:"id"`
	Question string            `json:"question"`
	Product  string            `json:"product"`
	Arms     []trial.Arm       `json:"arms"`
	Steps    []trial.StepState `json:"steps"`
	Here     trial.Step        `json:"here"`
	Settled  *settle.Result    `json:"settled"` // nil until the codes are open
}

// byID is a path with the number of what it is about.
type byID struct {
	ID int64 `uri:"id" binding:"min=1"`
}

func (s *Server) registerTrials(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/trials", "getTrials", 200, s.trials)
	api.Handle(a, crew, "GET", "/trials/:id", "getTrial", 200, func(c *gin.Context, in *byID) (TrialView, error) { return s.view(c, in.ID) })
	api.Handle(a, master, "POST", "/trials", "createTrial", 201, s.createTrial)
	api.Handle(a, master, "PUT", "/trials/:id/ask", "setAsk", 200, s.setAsk)
	api.Handle(a, crew, "GET", "/trials/:id/settle", "getSettle", 200, s.settle)
}

func (s *Server) trials(c *gin.Context, _ *api.None) ([]TrialLine, error) {
	ids, err := s.store.TrialIDs(c)
	if err != nil {
		return nil, err
	}
	out := make([]TrialLine, len(ids))
	for i, id := range ids {
		t, err := s.store.Trial(c, id)
		if err != nil {
			return nil, err
		}
		p, err := s.store.Progress(c, id)
		if err != nil {
			return nil, err
		}
		steps := trial.StepsOf(p)
		out[i] = TrialLine{ID: id, Question: t.Ask.Question, Product: t.Ask.Product, Arms: t.Ask.Arms, Steps: steps, Here: trial.Here(steps)}
		if t.RevealedAt != nil {
			r, err := s.verdict(c, t)
			if err != nil {
				return nil, err
			}
			out[i].Settled = &r
		}
	}
	return out, nil
}

func (s *Server) createTrial(c *gin.Context, in *struct{ Body trial.Ask }) (TrialView, error) {
	ask := in.Body.Tidy()
	if err := ask.Check(); err != nil {
		return TrialView{}, err
	}
	id, err := s.store.CreateTrial(c, who(c).ID, ask)
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, id)
}

func (s *Server) setAsk(c *gin.Context, in *struct {
	byID
	Body trial.Ask
}) (TrialView, error) {
	ask := in.Body.Tidy()
	if err := ask.Check(); err != nil {
		return TrialView{}, err
	}
	if err := s.armsMayGo(c, in.ID, ask); err != nil {
		return TrialView{}, err
	}
	err := s.store.SetAsk(c, who(c).ID, in.ID, ask)
	if errors.Is(err, store.ErrConflict) {
		return TrialView{}, api.Refuse(http.StatusConflict, "The codes are open, so the ask is shut.", "Follow on from it with a new question.")
	}
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

// view reads all of a trial.
func (s *Server) view(ctx context.Context, id int64) (TrialView, error) {
	t, err := s.store.Trial(ctx, id)
	if err != nil {
		return TrialView{}, err
	}
	v := TrialView{ID: id, Ask: t.Ask, CreatedBy: t.CreatedBy, CreatedAt: t.CreatedAt, RevealedAt: t.RevealedAt, RevealReason: t.RevealReason, Rehearses: t.RehearsesID}
	if v.Rehearsals, err = s.store.RehearsalsOf(ctx, id); err != nil {
		return TrialView{}, err
	}
	if v.Minimum, err = safety.MinimumOf(safety.Meat{Species: t.Ask.Species, Handling: t.Ask.Handling}); err != nil {
		return v, err
	}
	p, err := s.store.Progress(ctx, id)
	if err != nil {
		return v, err
	}
	v.Steps = trial.StepsOf(p)
	v.Here = trial.Here(v.Steps)
	if v.Cuts, v.Divided, err = s.cuts(ctx, id, v.Minimum); err != nil {
		return v, err
	}
	if v.Cooks, err = s.cooks(ctx, id); err != nil {
		return v, err
	}
	if err := s.matchView(ctx, &v); err != nil {
		return v, err
	}
	if v.Outline, err = s.planner.Outline(ctx, t); err != nil {
		return v, err
	}
	if v.Events, err = s.store.Events(ctx, id); err != nil {
		return v, err
	}
	v.Clashes = logbook.ClashesOf(loggedBy(v.Events))
	if v.Imports, err = s.store.Imports(ctx, id); err != nil {
		return v, err
	}
	if v.Tasters, err = s.tasters(ctx, id); err != nil {
		return v, err
	}
	if v.Flights, err = s.store.Flights(ctx, id); err != nil {
		return v, err
	}
	v.Ballots, err = s.store.BallotStates(ctx, id)
	return v, err
}

// loggedBy are events as a clash sees them.
func loggedBy(events []store.Event) []logbook.Entry {
	out := make([]logbook.Entry, len(events))
	for i, e := range events {
		out[i] = logbook.Entry{ID: e.ID, Act: e.Act, At: e.At, Target: e.Target(), By: e.By, Press: e.Press}
	}
	return out
}

// cuts gathers what is known of each piece of a trial, and of the cuts that
// were divided.
func (s *Server) cuts(ctx context.Context, id int64, minimum safety.Minimum) (pieces, divided []CutView, err error) {
	cuts, err := s.store.Cuts(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	wholes, err := s.store.Divided(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	out := make([]CutView, 0, len(cuts)+len(wholes))
	at := map[int64]*CutView{}
	for _, c := range append(cuts, wholes...) {
		out = append(out, CutView{Cut: c, Weighings: []store.Weighing{}, Finding: safety.NotShown, Dimensions: []store.Dimension{}, Measures: []store.MeasureValue{}})
		at[c.ID] = &out[len(out)-1]
	}
	dimensions, err := s.store.Dimensions(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	for _, d := range dimensions {
		if v := at[d.CutID]; v != nil {
			v.Dimensions = append(v.Dimensions, d)
		}
	}
	measures, err := s.store.Measures(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	for _, m := range measures {
		if v := at[m.CutID]; v != nil {
			v.Measures = append(v.Measures, m)
		}
	}
	weighings, err := s.store.Weighings(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	for _, w := range weighings {
		if v := at[w.CutID]; v != nil {
			v.Weighings = append(v.Weighings, w)
		}
	}
	temperatures, err := s.store.FinalTemperatures(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	for _, f := range temperatures {
		if v := at[f.CutID]; v != nil {
			v.FinalTemperature, v.Finding = &f, minimum.Judge(&f.C)
		}
	}
	reasons, err := s.store.GateReasons(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	for _, r := range reasons {
		if v := at[r.CutID]; v != nil {
			v.GateReason = &r
		}
	}
	placements, err := s.store.Placements(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	for _, l := range placements {
		if v := at[l.CutID]; v != nil && l.PitRunID != nil {
			v.Placement = &l
		}
	}
	for i := range out {
		v := &out[i]
		reason := ""
		if v.GateReason != nil {
			reason = v.GateReason.Reason
		}
		v.MayServe = minimum.MayServe(v.Finding, reason)
		v.Account = yield.Settle(weighingsOf(v.Weighings))
		v.TrimMissingKg = yield.TrimMissing(weighingsOf(v.Weighings))
	}
	for i := len(cuts); i < len(out); i++ {
		var parts [][]yield.Weighing
		for _, part := range out[:len(cuts)] {
			if part.ParentID != nil && *part.ParentID == out[i].ID {
				parts = append(parts, weighingsOf(part.Weighings))
			}
		}
		out[i].Account = yield.SettleParts(weighingsOf(out[i].Weighings), parts)
	}
	return out[:len(cuts):len(cuts)], out[len(cuts):], nil
}

func weighingsOf(rows []store.Weighing) []yield.Weighing {
	out := make([]yield.Weighing, len(rows))
	for i, w := range rows {
		out[i] = yield.Weighing{Stage: w.Stage, Kg: w.Kg, ResolutionKg: w.ResolutionKg}
	}
	return out
}

// trimmedKg is a cut's trimmed weight, nil when never weighed.
func (v CutView) trimmedKg() *float64 {
	for _, w := range v.Weighings {
		if w.Stage == yield.Trimmed {
			return &w.Kg
		}
	}
	return nil
}

// armPlaces numbers a trial's arms from 0 by their id.
func armPlaces(a trial.Ask) map[int64]int {
	places := map[int64]int{}
	for i, arm := range a.Arms {
		places[arm.ID] = i
	}
	return places
}

func (s *Server) cooks(ctx context.Context, id int64) ([]CookView, error) {
	cooks, err := s.store.Cooks(ctx, id)
	if err != nil {
		return nil, err
	}
	runs, err := s.store.PitRuns(ctx, id)
	if err != nil {
		return nil, err
	}
	holders, err := s.store.HolderRuns(ctx, id)
	if err != nil {
		return nil, err
	}
	out := make([]CookView, len(cooks))
	for i, k := range cooks {
		out[i] = CookView{ID: k.ID, ServeAt: k.ServeAt, Now: k.Clock.Now(s.now()), Rate: k.Clock.Rate, Played: k.Played, Runs: []store.PitRun{}, Holders: []store.HolderRun{}}
		for _, r := range runs {
			if r.CookID == k.ID {
				out[i].Runs = append(out[i].Runs, r)
			}
		}
		for _, h := range holders {
			if h.CookID == k.ID {
				out[i].Holders = append(out[i].Holders, h)
			}
		}
	}
	return out, nil
}
