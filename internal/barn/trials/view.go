// Package trials reads a trial as its eight steps show it, whole or in parts, the list
// of trials, and what the barn has before it.
package trials

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/design"
	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/store"
)

// Part is a part of a trial's view.
type Part string

// The parts.
const (
	Ask     Part = "ask"
	Steps   Part = "steps"
	Cuts    Part = "cuts"
	Cooks   Part = "cooks"
	Log     Part = "log"
	Imports Part = "imports"
	Table   Part = "table"
)

// All are all parts.
var All = []Part{Ask, Steps, Cuts, Cooks, Log, Imports, Table}

// TrialView is a trial as its eight steps show it. It holds nothing that ties
// a sample code to a cut.
type TrialView struct {
	ID int64 `json:"id"`
	AskPart
	StepsPart
	CutsPart
	CooksPart
	LogPart
	ImportsPart
	TablePart
}

// TrialParts are the parts of a trial that were asked for, or that a change touched.
type TrialParts struct {
	ID int64 `json:"id"`
	*AskPart
	*StepsPart
	*CutsPart
	*CooksPart
	*LogPart
	*ImportsPart
	*TablePart
}

// AskPart is what is asked, and what became of the trial.
type AskPart struct {
	Ask          trial.Ask  `json:"ask"`
	AskVersion   int64      `json:"ask_version"` // to keep another over it
	CreatedBy    string     `json:"created_by"`
	CreatedAt    time.Time  `json:"created_at"`
	RevealedAt   *time.Time `json:"revealed_at"`
	RevealReason string     `json:"reveal_reason"`
	EndedBy      string     `json:"ended_by"`   // who ended it with nothing tasted; empty if codes were opened
	Rehearses    *int64     `json:"rehearses"`  // of a rehearsal: the trial it is a copy of
	Rehearsals   []int64    `json:"rehearsals"` // copies of this trial, newest first
	HoldsVary    bool       `json:"holds_vary"` // a hold, a rest or the age at serving is what is asked about
}

// StepsPart is how far a trial is.
type StepsPart struct {
	Steps []trial.StepState `json:"steps"`
	Here  trial.Step        `json:"here"`
}

// CutsPart is the cuts of a trial, how they are matched, and what is found in that.
type CutsPart struct {
	Cuts        []CutView               `json:"cuts"`
	Divided     []CutView               `json:"divided"`      // cuts whose parts are among the cuts
	ArmAccounts []yield.Account         `json:"arm_accounts"` // of each arm, all its cuts together: total out over total in
	Balance     design.Balance          `json:"balance"`
	Draws       []store.Allotment       `json:"draws"`    // of arms, the last first
	Moved       []string                `json:"moved"`    // cuts moved by hand after the last draw
	Findings    []design.Finding        `json:"findings"` // what stands between it and its answer
	Accepted    []store.AcceptedFinding `json:"accepted"` // of them, what it is knowingly run with
}

// CooksPart is the cooks of a trial and what is planned for them.
type CooksPart struct {
	Cooks   []CookView   `json:"cooks"`
	Outline plan.Outline `json:"outline"` // phases and doses; a first guess while none is kept
	// Suggested are the pits of a first cook: those of the card, or of the trial it follows.
	Suggested []store.PitRun `json:"suggested"`
	Card      *CardLine      `json:"card"` // that it is cooked by; nil is none
}

// CardLine is the version of a card that a trial is cooked by.
type CardLine struct {
	ProcessID int64  `json:"process_id"`
	Name      string `json:"name"`
	Number    int    `json:"number"`
}

// LogPart is the log of a trial's cooks.
type LogPart struct {
	Events  []store.Event   `json:"events"`
	Clashes []logbook.Clash `json:"clashes"` // the same, logged by two hands
}

// ImportsPart is the log files of a trial.
type ImportsPart struct {
	Imports []store.Import `json:"imports"`
}

// TablePart is who tastes, what was served, and how far the ballots are.
type TablePart struct {
	Tasters []store.Taster      `json:"tasters"`
	Flights []store.Flight      `json:"flights"`
	Ballots []store.BallotState `json:"ballots"`
	Looks   []LookLine          `json:"looks"` // codes of one cook that are to be opened, or are
}

// LookLine is a look as Table and Settle show it.
type LookLine struct {
	CookID   int64      `json:"cook_id"`
	NamedAt  *time.Time `json:"named_at"`
	OpenedAt *time.Time `json:"opened_at"`
	Headline string     `json:"headline"`
}

// CutView is a cut with all that is known of it.
type CutView struct {
	store.Cut
	Weighings     []store.Weighing     `json:"weighings"`
	Account       yield.Account        `json:"account"`
	GateReason    *store.GateReason    `json:"gate_reason"`
	Placement     *store.Placement     `json:"placement"`
	Dimensions    []store.Dimension    `json:"dimensions"`
	Measures      []store.MeasureValue `json:"measures"`
	Shares        []store.WeighOut     `json:"shares"` // what it came apart into
	Apart         yield.Apart          `json:"apart"`
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
	Left    []store.Leftover  `json:"left"`    // in its pits
	Version string            `json:"version"` // of its plan, which a change names
}

// Of reads all of a trial.
func (r *Reader) Of(ctx context.Context, id int64) (TrialView, error) {
	p, err := r.Parts(ctx, id, All...)
	if err != nil {
		return TrialView{}, err
	}
	return TrialView{p.ID, *p.AskPart, *p.StepsPart, *p.CutsPart, *p.CooksPart, *p.LogPart, *p.ImportsPart, *p.TablePart}, nil
}

// Parts reads some parts of a trial, with no more queries than they need.
func (r *Reader) Parts(ctx context.Context, id int64, parts ...Part) (TrialParts, error) {
	out := TrialParts{ID: id}
	for _, want := range []struct {
		parts []Part
		read  func(context.Context, *TrialParts, []Part) error
	}{
		{[]Part{Steps, Cuts, Cooks}, r.ofEvidence}, {[]Part{Ask}, r.ask}, {[]Part{Log}, r.log}, {[]Part{Imports}, r.imports}, {[]Part{Table}, r.table},
	} {
		if !slices.ContainsFunc(want.parts, func(p Part) bool { return slices.Contains(parts, p) }) {
			continue
		}
		if err := want.read(ctx, &out, parts); err != nil {
			return out, err
		}
	}
	return out, nil
}
