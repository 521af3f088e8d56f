package server

import (
	"context"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// CutView is a cut with all that is known of it.
type CutView struct {
	store.Cut
	Weighings     []store.Weighing     `json:"weighings"`
	Account       yield.Account        `json:"account"`
	GateReason    *store.GateReason    `json:"gate_reason"`
	Placement     *store.Placement     `json:"placement"`
	Dimensions    []store.Dimension    `json:"dimensions"`
	Measures      []store.MeasureValue `json:"measures"`
	TrimMissingKg *float64             `json:"trim_missing_kg"` // of the trim, what went over no scale
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
	AskVersion   int64                   `json:"ask_version"` // to keep another over it
	Findings     []design.Finding        `json:"findings"`    // what stands between it and its answer
	Accepted     []store.AcceptedFinding `json:"accepted"`    // of them, what it is knowingly run with
	CreatedBy    string                  `json:"created_by"`
	CreatedAt    time.Time               `json:"created_at"`
	RevealedAt   *time.Time              `json:"revealed_at"`
	RevealReason string                  `json:"reveal_reason"`
	Rehearses    *int64                  `json:"rehearses"`  // of a rehearsal: the trial it is a copy of
	Rehearsals   []int64                 `json:"rehearsals"` // copies of this trial, newest first
	Steps        []trial.StepState       `json:"steps"`
	Here         trial.Step              `json:"here"`
	Cuts         []CutView               `json:"cuts"`
	Divided      []CutView               `json:"divided"`      // cuts whose parts are among the cuts
	ArmAccounts  []yield.Account         `json:"arm_accounts"` // of each arm, all its cuts together: total out over total in
	HoldsVary    bool                    `json:"holds_vary"`   // a hold, a rest or the age at serving is what is asked about
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
	ID       int64              `json:"id"`
	Question string             `json:"question"`
	Product  string             `json:"product"`
	Arms     []store.ArmLine    `json:"arms"`
	Steps    []trial.StepState  `json:"steps"` // of an open one
	Here     trial.Step         `json:"here"`
	Settled  *store.VerdictLine `json:"settled"` // nil until the codes are open
}

// byID is a path with the number of what it is about.
type byID struct {
	ID int64 `uri:"id" binding:"min=1"`
}

func (s *Server) registerTrials(a *api.Routes, crew, master *gin.RouterGroup) {
	api.Handle(a, crew, "GET", "/trials", "getTrials", 200, s.trials)
	api.Handle(a, crew, "GET", "/trials/:id", "getTrial", 200, func(c *gin.Context, in *byID) (TrialView, error) { return s.view(c, in.ID) })
	api.Handle(a, master, "POST", "/trials", "createTrial", 201, s.createTrial)
	alter(s, a, master, door{of: "trial", kind: guard.Design, what: "changed the ask"}, "PUT", "/trials/:id/ask", "setAsk", 200, (*Server).setAsk)
	api.Handle(a, crew, "GET", "/trials/:id/settle", "getSettle", 200, s.settle)
	api.Handle(a, crew, "GET", "/trials/:id/verdicts", "getVerdicts", 200, func(c *gin.Context, in *byID) ([]store.VerdictVersion,
		error) {
		return s.desk.Versions(c, in.ID)
	})
}

func (s *Server) trials(c *gin.Context, _ *api.None) ([]TrialLine, error) {
	all, err := s.store.TrialLines(c)
	if err != nil {
		return nil, err
	}
	var open, unjudged []int64
	for _, t := range all {
		switch {
		case !t.Revealed:
			open = append(open, t.ID)
		case t.Verdict == nil:
			unjudged = append(unjudged, t.ID)
		}
	}
	steps, err := s.steps(c, open)
	if err != nil {
		return nil, err
	}
	fresh, err := s.desk.Lines(c, unjudged)
	if err != nil {
		return nil, err
	}
	out := make([]TrialLine, len(all))
	for i, t := range all {
		out[i] = TrialLine{ID: t.ID, Question: t.Question, Product: t.Product, Arms: t.Arms, Steps: []trial.StepState{}, Here: trial.StepSettle, Settled: t.Verdict}
		if line, ok := fresh[t.ID]; ok {
			out[i].Settled = &line
		}
		if !t.Revealed {
			out[i].Steps, out[i].Here = steps[t.ID], trial.Here(steps[t.ID])
		}
	}
	return out, nil
}

// steps says how far trials are, with the same few queries for one and many.
func (s *Server) steps(ctx context.Context, ids []int64) (map[int64][]trial.StepState, error) {
	out := map[int64][]trial.StepState{}
	known, err := reader.Read(ctx, s.store, ids...)
	if err != nil {
		return nil, err
	}
	counts, err := s.store.Counts(ctx, ids...)
	for _, t := range known {
		out[t.ID] = stepsOf(t, counts[t.ID])
	}
	return out, err
}

func stepsOf(t evidence.Trial, n store.Counts) []trial.StepState {
	p := t.Progress()
	p.Marked, p.Readings, p.Tasters, p.Ballots, p.Locked = n.Marked, n.Readings, n.Tasters, n.Ballots, n.Locked
	return trial.StepsOf(p)
}

func (s *Server) createTrial(c *gin.Context, in *struct{ Body trial.Ask }) (TrialView, error) {
	ask, err := s.checkAsk(c, in.Body)
	if err != nil {
		return TrialView{}, err
	}
	ask.MeatConfirmed = ask.Meat().Said() && len(ask.Otherwise()) == 0
	id, err := s.store.CreateTrial(c, who(c).ID, ask)
	if err != nil {
		return TrialView{}, err
	}
	return s.view(c, id)
}

// setAsk keeps an ask over the version it was made from; over another it is refused, so
// that nobody's words go unseen.
func (s *Server) setAsk(c *gin.Context, in *struct {
	byID
	Version *int64 `form:"version"` // nil: whatever it is
	Body    trial.Ask
}) (TrialView, error) {
	kept, err := s.store.Trial(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	if in.Version != nil && *in.Version != kept.AskVersion {
		return TrialView{}, guard.Refuse("Somebody kept another ask meanwhile.", "Look at theirs, then keep one of the two.")
	}
	ask, err := s.checkAsk(c, in.Body)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.armsMayGo(c, in.ID, ask); err != nil {
		return TrialView{}, err
	}
	if err := s.gate.CheckAsk(c, in.ID, ask); err != nil {
		return TrialView{}, err
	}
	if err := s.store.SetAsk(c, who(c).ID, in.ID, ask); err != nil {
		return TrialView{}, err
	}
	return s.view(c, in.ID)
}

// checkAsk reads what was asked by the barn's catalogue, and refuses what cannot be
// recorded.
func (s *Server) checkAsk(ctx context.Context, in trial.Ask) (trial.Ask, error) {
	ask, err := s.store.Resolve(ctx, in.Tidy())
	if err != nil {
		return ask, err
	}
	return ask, ask.Check()
}

// look is what was read of a trial: its rows, and what is known from them.
type look struct {
	rows  reader.Rows
	trial evidence.Trial
}

func (s *Server) look(ctx context.Context, id int64) (look, error) {
	rows, err := reader.ReadRows(ctx, s.store, id)
	if err != nil {
		return look{}, err
	}
	if len(rows.Trials) == 0 {
		return look{}, store.ErrNotFound
	}
	return look{rows, rows.Evidence()[0]}, nil
}

// view reads all of a trial.
func (s *Server) view(ctx context.Context, id int64) (TrialView, error) {
	l, err := s.look(ctx, id)
	if err != nil {
		return TrialView{}, err
	}
	return s.viewOf(ctx, l)
}

func (s *Server) viewOf(ctx context.Context, l look) (TrialView, error) {
	t, id := l.rows.Trials[0], l.trial.ID
	v := TrialView{ID: id, Ask: t.Ask, AskVersion: t.AskVersion, CreatedBy: t.CreatedBy, CreatedAt: t.CreatedAt, RevealedAt: t.RevealedAt,
		RevealReason: t.RevealReason, Rehearses: t.RehearsesID,
		Events: l.rows.Events, Clashes: logbook.ClashesOf(loggedBy(l.rows.Events)), HoldsVary: t.Ask.HoldsVary()}
	var err error
	if v.Rehearsals, err = s.store.RehearsalsOf(ctx, id); err != nil {
		return TrialView{}, err
	}
	counts, err := s.store.Counts(ctx, id)
	if err != nil {
		return v, err
	}
	v.Steps = stepsOf(l.trial, counts[id])
	v.Here = trial.Here(v.Steps)
	v.Cuts, v.Divided = cutViews(l)
	v.ArmAccounts = make([]yield.Account, len(t.Ask.Arms))
	for i := range t.Ask.Arms {
		v.ArmAccounts[i] = l.trial.ArmAccount(i)
	}
	v.Cooks = s.cookViews(l.rows)
	if err := s.matchView(ctx, &v, l); err != nil {
		return v, err
	}
	if v.Outline, err = s.planner.Outline(ctx, t); err != nil {
		return v, err
	}
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

// cutViews are the pieces of a trial, and the cuts that were divided, as their
// slips show them.
func cutViews(l look) (pieces, divided []CutView) {
	out := make([]CutView, 0, len(l.rows.Cuts)+len(l.rows.Divided))
	at := map[int64]*CutView{}
	for _, c := range slices.Concat(l.rows.Cuts, l.rows.Divided) {
		out = append(out, CutView{Cut: c, Weighings: []store.Weighing{}, Dimensions: []store.Dimension{}, Measures: []store.MeasureValue{}})
		at[c.ID] = &out[len(out)-1]
	}
	put := func(cut int64, into func(*CutView)) {
		if v := at[cut]; v != nil {
			into(v)
		}
	}
	for _, d := range l.rows.Dimensions {
		put(d.CutID, func(v *CutView) { v.Dimensions = append(v.Dimensions, d) })
	}
	for _, m := range l.rows.Measures {
		put(m.CutID, func(v *CutView) { v.Measures = append(v.Measures, m) })
	}
	for _, w := range l.rows.Weighings {
		put(w.CutID, func(v *CutView) { v.Weighings = append(v.Weighings, w) })
	}
	for _, r := range l.rows.Reasons {
		put(r.CutID, func(v *CutView) { v.GateReason = &r })
	}
	for _, p := range l.rows.Placements {
		if p.PitRunID != nil {
			put(p.CutID, func(v *CutView) { v.Placement = &p })
		}
	}
	for i, c := range slices.Concat(l.trial.Cuts, l.trial.Divided) {
		v := &out[i]
		v.Account, v.TrimMissingKg = l.trial.Account(c), yield.TrimMissing(c.Weighings)
	}
	n := len(l.rows.Cuts)
	return out[:n:n], out[n:]
}

func weighingsOf(rows []store.Weighing) []yield.Weighing {
	out := make([]yield.Weighing, len(rows))
	for i, w := range rows {
		out[i] = yield.Weighing{Stage: w.Stage, Kg: w.Kg, ResolutionKg: w.ResolutionKg}
	}
	return out
}

// armPlaces numbers a trial's arms from 0 by their id.
func armPlaces(a trial.Ask) map[int64]int {
	places := map[int64]int{}
	for i, arm := range a.Arms {
		places[arm.ID] = i
	}
	return places
}

// cookViews are the cooks of a trial with their clocks, pits and holders.
func (s *Server) cookViews(r reader.Rows) []CookView {
	out := make([]CookView, len(r.Cooks))
	for i, k := range r.Cooks {
		out[i] = CookView{ID: k.ID, ServeAt: k.ServeAt, Now: k.Clock.Now(s.now()), Rate: k.Clock.Rate, Played: k.Played, Runs: []store.PitRun{}, Holders: []store.HolderRun{}}
		for _, run := range r.Runs {
			if run.CookID == k.ID {
				out[i].Runs = append(out[i].Runs, run)
			}
		}
		for _, h := range r.Holders {
			if h.CookID == k.ID {
				out[i].Holders = append(out[i].Holders, h)
			}
		}
	}
	return out
}
