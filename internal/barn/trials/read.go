package trials

import (
	"context"
	"errors"
	"slices"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	plans "whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/settle"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Reader reads trials as they are shown.
type Reader struct {
	barn    *barn.Barn
	planner *plans.Planner
	desk    *settle.Desk
}

// NewReader returns one of a barn.
func NewReader(b *barn.Barn, p *plans.Planner, d *settle.Desk) *Reader { return &Reader{b, p, d} }

// Look is what was read of a trial: its rows, and what is known from them.
type Look struct {
	Rows  reader.Rows
	Trial evidence.Trial
}

// LookAt reads a trial; store.ErrNotFound if there is none.
func LookAt(ctx context.Context, s *store.Store, id int64) (Look, error) {
	rows, err := reader.ReadRows(ctx, s, id)
	if err != nil {
		return Look{}, err
	}
	if len(rows.Trials) == 0 {
		return Look{}, store.ErrNotFound
	}
	return Look{rows, rows.Evidence()[0]}, nil
}

// ofEvidence reads the parts that rest on all that is known of a trial.
func (r *Reader) ofEvidence(ctx context.Context, out *TrialParts, parts []Part) error {
	s := r.barn.Store
	l, err := LookAt(ctx, s, out.ID)
	if err != nil {
		return err
	}
	if slices.Contains(parts, Steps) {
		counts, err := s.Counts(ctx, out.ID)
		if err != nil {
			return err
		}
		steps := stepsOf(l.Trial, counts[out.ID])
		out.StepsPart = &StepsPart{Steps: steps, Here: trial.Here(steps)}
	}
	if slices.Contains(parts, Cuts) {
		if out.CutsPart, err = CutsOf(ctx, s, l); err != nil {
			return err
		}
	}
	if slices.Contains(parts, Cooks) {
		out.CooksPart = &CooksPart{Cooks: r.cooks(l.Rows), Suggested: []store.PitRun{}}
		if err := r.started(ctx, l.Rows.Trials[0], out.CooksPart); err != nil {
			return err
		}
		if out.Outline, err = r.planner.Outline(ctx, l.Rows.Trials[0]); err != nil {
			return err
		}
		for i, k := range l.Rows.Cooks {
			if out.Cooks[i].Version, err = plans.VersionOf(k, l.Rows.Runs, l.Rows.Placements, out.Outline); err != nil {
				return err
			}
		}
	}
	return nil
}

// CutsOf reads what Match shows of a trial.
func CutsOf(ctx context.Context, s *store.Store, l Look) (*CutsPart, error) {
	ask := l.Rows.Trials[0].Ask
	v := &CutsPart{ArmAccounts: make([]yield.Account, len(ask.Arms)), Draws: l.Rows.Draws, Moved: l.Trial.Moved(), Accepted: l.Rows.Accepted}
	v.Cuts, v.Divided = cutViews(l)
	for i := range ask.Arms {
		v.ArmAccounts[i] = l.Trial.ArmAccount(i)
	}
	factors, err := s.Catalogue(ctx)
	if err != nil {
		return v, err
	}
	pieces := l.Trial.Pieces(ask)
	v.Balance = design.BalanceOf(len(ask.Arms), pieces)
	v.Findings = design.Review(design.Case{Ask: ask, Pieces: pieces, Known: KnownLevels(factors), Drawn: len(v.Draws) > 0, Moved: v.Moved})
	return v, nil
}

// KnownLevels are the levels on offer, by factor.
func KnownLevels(factors []store.CatalogueFactor) design.Levels {
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

func (r *Reader) ask(ctx context.Context, out *TrialParts, _ []Part) error {
	t, err := r.barn.Store.Trial(ctx, out.ID)
	if err != nil {
		return err
	}
	out.AskPart = &AskPart{Ask: t.Ask, AskVersion: t.AskVersion, CreatedBy: t.CreatedBy, CreatedAt: t.CreatedAt, RevealedAt: t.RevealedAt,
		RevealReason: t.RevealReason, EndedBy: t.EndedBy, Rehearses: t.RehearsesID, HoldsVary: t.Ask.HoldsVary()}
	out.Rehearsals, err = r.barn.Store.RehearsalsOf(ctx, out.ID)
	return err
}

func (r *Reader) log(ctx context.Context, out *TrialParts, _ []Part) error {
	events, err := r.barn.Store.Events(ctx, out.ID)
	out.LogPart = &LogPart{Events: events, Clashes: ClashesOf(events)}
	return err
}

// ClashesOf are the acts that two hands logged.
func ClashesOf(events []store.Event) []logbook.Clash {
	entries := make([]logbook.Entry, len(events))
	for i, e := range events {
		entries[i] = logbook.Entry{ID: e.ID, Act: e.Act, At: e.At, Target: e.Target(), By: e.By, Press: e.Press}
	}
	return logbook.ClashesOf(entries)
}

func (r *Reader) imports(ctx context.Context, out *TrialParts, _ []Part) (err error) {
	out.ImportsPart = &ImportsPart{}
	out.Imports, err = r.barn.Store.Imports(ctx, out.ID)
	return err
}

func (r *Reader) table(ctx context.Context, out *TrialParts, _ []Part) error {
	s := r.barn.Store
	out.TablePart = &TablePart{}
	var err error
	if out.Tasters, err = s.Tasters(ctx, out.ID); err != nil {
		return err
	}
	if out.Flights, err = s.Flights(ctx, out.ID); err != nil {
		return err
	}
	if out.Ballots, err = s.BallotStates(ctx, out.ID); err != nil {
		return err
	}
	looks, err := s.Looks(ctx, out.ID)
	out.Looks = make([]LookLine, len(looks))
	for i, l := range looks {
		out.Looks[i] = LookLine{l.CookID, l.NamedAt, l.OpenedAt, l.Headline}
	}
	return err
}

// TastePath is the path of a taster's own page.
func TastePath(secret []byte, taster int64) string {
	return "/taste/" + auth.TasterToken(secret, taster)
}

// cutViews are the pieces of a trial, and the cuts that were divided, as their
// slips show them.
func cutViews(l Look) (pieces, divided []CutView) {
	out := make([]CutView, 0, len(l.Rows.Cuts)+len(l.Rows.Divided))
	at := map[int64]*CutView{}
	for _, c := range slices.Concat(l.Rows.Cuts, l.Rows.Divided) {
		out = append(out, CutView{Cut: c, Weighings: []store.Weighing{}, Dimensions: []store.Dimension{}, Measures: []store.MeasureValue{},
			Shares: []store.WeighOut{}})
		at[c.ID] = &out[len(out)-1]
	}
	put := func(cut int64, into func(*CutView)) {
		if v := at[cut]; v != nil {
			into(v)
		}
	}
	for _, d := range l.Rows.Dimensions {
		put(d.CutID, func(v *CutView) { v.Dimensions = append(v.Dimensions, d) })
	}
	for _, m := range l.Rows.Measures {
		put(m.CutID, func(v *CutView) { v.Measures = append(v.Measures, m) })
	}
	for _, w := range l.Rows.Weighings {
		put(w.CutID, func(v *CutView) { v.Weighings = append(v.Weighings, w) })
	}
	for _, r := range l.Rows.Reasons {
		put(r.CutID, func(v *CutView) { v.GateReason = &r })
	}
	for _, p := range l.Rows.Placements {
		if p.PitRunID != nil {
			put(p.CutID, func(v *CutView) { v.Placement = &p })
		}
	}
	for _, w := range l.Rows.Outs {
		put(w.CutID, func(v *CutView) { v.Shares = append(v.Shares, w) })
	}
	for i, c := range slices.Concat(l.Trial.Cuts, l.Trial.Divided) {
		v := &out[i]
		var outs []yield.Out
		for _, w := range v.Shares {
			outs = append(outs, yield.Out{Share: w.Share, Kg: w.Kg, ResolutionKg: w.ResolutionKg})
		}
		v.Apart = yield.ApartOf(c.Weighings, outs)
		v.Account, v.TrimMissingKg = l.Trial.Account(c), yield.TrimMissing(c.Weighings)
	}
	n := len(l.Rows.Cuts)
	return out[:n:n], out[n:]
}

// levelsOfRuns are what the pit runs of a trial carry.
func levelsOfRuns(rows reader.Rows) map[int64]design.RunLevels {
	ask := rows.Trials[0].Ask
	places, armOf, armsOn := ask.ArmPlaces(), map[int64]int{}, map[int64][]int{}
	for _, c := range rows.Cuts {
		if c.ArmID != nil {
			armOf[c.ID] = places[*c.ArmID]
		}
	}
	for _, p := range rows.Placements {
		if arm, ok := armOf[p.CutID]; ok && p.PitRunID != nil {
			armsOn[*p.PitRunID] = append(armsOn[*p.PitRunID], arm)
		}
	}
	return design.LevelsOfRuns(ask, armsOn)
}

// cooks are the cooks of a trial with their clocks, pits and holders.
func (r *Reader) cooks(rows reader.Rows) []CookView {
	out := make([]CookView, len(rows.Cooks))
	levels := levelsOfRuns(rows)
	for i, k := range rows.Cooks {
		out[i] = CookView{ID: k.ID, ServeAt: k.ServeAt, Now: k.Clock.Now(r.barn.Now()), Rate: k.Clock.Rate, Played: k.Played,
			Runs: []store.PitRun{}, Holders: []store.HolderRun{}, Left: []store.Leftover{}}
		for _, run := range rows.Runs {
			if run.CookID == k.ID {
				run.Levels = levels[run.ID].Levels
				out[i].Runs = append(out[i].Runs, run)
				for _, left := range rows.Left {
					if left.PitRunID == run.ID {
						out[i].Left = append(out[i].Left, left)
					}
				}
			}
		}
		for _, h := range rows.Holders {
			if h.CookID == k.ID {
				out[i].Holders = append(out[i].Holders, h)
			}
		}
	}
	return out
}

// started says what a trial starts from: its card, and the pits that a first cook would use.
func (r *Reader) started(ctx context.Context, t store.Trial, out *CooksPart) error {
	s := r.barn.Store
	card, err := s.CardOf(ctx, t.ID)
	switch {
	case err == nil:
		out.Card = &CardLine{card.ProcessID, card.Name, card.Number}
		if len(out.Cooks) == 0 && card.Body.PitID != 0 {
			run := store.PitRun{PitID: card.Body.PitID, Pit: card.Body.Pit, Setup: card.Body.SetUp}
			for _, p := range card.Body.Steps {
				if p.Kind.InPit() {
					run.SetPointC, run.SetPointTyped = p.SetC, p.SetTyped
					break
				}
			}
			out.Suggested = append(out.Suggested, run)
		}
		return nil
	case !errors.Is(err, store.ErrNotFound):
		return err
	case t.Ask.FollowsID == nil || len(out.Cooks) > 0:
		return nil
	}
	runs, err := s.PitRuns(ctx, *t.Ask.FollowsID)
	if err != nil || len(runs) == 0 {
		return err
	}
	last := runs[len(runs)-1].CookID
	for _, run := range runs {
		if run.CookID == last && run.ArmID == nil {
			out.Suggested = append(out.Suggested, run)
		}
	}
	return nil
}
