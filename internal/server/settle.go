package server

import (
	"context"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/core/logbook"
	"whitebarn/core/plan"
	"whitebarn/core/safety"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

func (s *Server) settle(c *gin.Context, in *byID) (settle.Result, error) {
	t, err := s.store.Trial(c, in.ID)
	if err != nil {
		return settle.Result{}, err
	}
	if t.RevealedAt == nil {
		return settle.Result{}, api.Refuse(http.StatusConflict, "The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	return s.verdict(c, t)
}

// verdict reads a revealed trial, with the house's spread beside it.
func (s *Server) verdict(ctx context.Context, t store.Trial) (settle.Result, error) {
	evidence, err := s.evidence(ctx, t.ID, true)
	if err != nil {
		return settle.Result{}, err
	}
	inBlocks := true
	for _, c := range evidence.Cuts {
		inBlocks = inBlocks && c.Block != ""
	}
	if evidence.House, err = s.house(ctx, t.ID, t.Ask, inBlocks); err != nil {
		return settle.Result{}, err
	}
	return settle.Of(evidence), nil
}

// evidence gathers what a revealed trial rests on; the pits' traces, which are
// long, only where they are asked for.
func (s *Server) evidence(ctx context.Context, id int64, traces bool) (settle.Trial, error) {
	t, err := s.store.Trial(ctx, id)
	if err != nil {
		return settle.Trial{}, err
	}
	out := settle.Trial{Ask: t.Ask, Accepted: map[string]string{}}
	minimum, err := safety.MinimumOf(safety.Meat{Species: t.Ask.Species, Handling: t.Ask.Handling})
	if err != nil {
		return out, err
	}
	cuts, divided, err := s.cuts(ctx, id, minimum)
	if err != nil {
		return out, err
	}
	cooks, err := s.cooks(ctx, id)
	if err != nil {
		return out, err
	}
	pieces, err := s.pieces(ctx, id, t.Ask, cuts, divided, cooks)
	if err != nil {
		return out, err
	}
	cooked, err := s.cookedCuts(ctx, id, traces)
	if err != nil {
		return out, err
	}
	for i, v := range cuts {
		if v.ArmID == nil {
			continue
		}
		k := cooked[v.ID]
		c := settle.Cut{Piece: pieces[i], MayCount: v.MayServe, Account: v.Account, Weighings: weighingsOf(v.Weighings), Measured: map[trial.OutcomeKey]float64{}, CookHours: k.hours, PitMeanC: k.pitMeanC}
		for _, w := range divided {
			if v.ParentID != nil && w.ID == *v.ParentID {
				c.Whole = weighingsOf(w.Weighings)
			}
		}
		if k.hands != nil { // what somebody typed at the weigh-out stands over it
			c.Measured[trial.HandsOn], c.Measured[trial.NightWork] = k.hands.Minutes, k.hands.Night
		}
		for _, m := range v.Measures {
			c.Measured[trial.OutcomeKey(m.Key)] = m.Value
		}
		out.Cuts = append(out.Cuts, c)
	}
	draws, err := s.store.Allotments(ctx, id)
	if err != nil {
		return out, err
	}
	out.Drawn, out.Moved = len(draws) > 0, movedSince(draws, cuts)
	kept, err := s.store.AcceptedFindings(ctx, id)
	if err != nil {
		return out, err
	}
	for _, k := range kept {
		out.Accepted[k.Key] = k.Why
	}
	out.Scores, err = s.store.Scores(ctx, id)
	return out, err
}

// cookedCut is how long and how hot a cut was cooked, and with how much work.
type cookedCut struct {
	hours    *float64
	pitMeanC *float64
	hands    *plan.Hands
}

func (s *Server) cookedCuts(ctx context.Context, id int64, traces bool) (map[int64]cookedCut, error) {
	placements, err := s.store.Placements(ctx, id)
	if err != nil {
		return nil, err
	}
	events, err := s.store.Events(ctx, id)
	if err != nil {
		return nil, err
	}
	acts := map[int64][]logbook.Event{}
	for _, e := range events {
		if e.CutID != nil {
			acts[*e.CutID] = append(acts[*e.CutID], logbook.Event{Act: e.Act, At: e.At})
		}
	}
	pits := map[int64][]logbook.Point{}
	if traces {
		if pits, err = s.pitTraces(ctx, id); err != nil {
			return nil, err
		}
	}
	zone, err := s.store.Zone(ctx)
	if err != nil {
		return nil, err
	}
	hands := watch.HandsOf(events, placements, zone)
	out := map[int64]cookedCut{}
	for _, l := range placements {
		on, pull, ok := logbook.CookOf(acts[l.CutID])
		if l.PitRunID == nil || !ok {
			continue
		}
		hours := pull.Sub(on).Hours()
		work := hands[l.CutID]
		k := cookedCut{hours: &hours, hands: &work}
		if p, ok := logbook.PitOver(pits[*l.PitRunID], on, pull); ok {
			k.pitMeanC = &p.MeanC
		}
		out[l.CutID] = k
	}
	return out, nil
}

// pitTraces reads the pit probes of all cooks of a trial, by pit run.
func (s *Server) pitTraces(ctx context.Context, id int64) (map[int64][]logbook.Point, error) {
	cooks, err := s.store.Cooks(ctx, id)
	if err != nil {
		return nil, err
	}
	out := map[int64][]logbook.Point{}
	for _, k := range cooks {
		assigned, err := s.store.Assignments(ctx, k.ID)
		if err != nil {
			return nil, err
		}
		for _, a := range assigned {
			if a.PitRunID == nil {
				continue
			}
			points, err := s.store.Points(ctx, a)
			if err != nil {
				return nil, err
			}
			out[*a.PitRunID] = append(out[*a.PitRunID], points...)
		}
	}
	return out, nil
}

// house pools the spread of the barn's other settled trials of the same
// product, by the kind of unit.
func (s *Server) house(ctx context.Context, not int64, ask trial.Ask, inBlocks bool) (map[trial.UnitKind]settle.House, error) {
	ids, err := s.store.TrialIDs(ctx)
	if err != nil {
		return nil, err
	}
	var earlier []settle.Trial
	for _, id := range ids {
		other, err := s.store.Trial(ctx, id)
		if err != nil {
			return nil, err
		}
		if id == not || other.RevealedAt == nil || !strings.EqualFold(other.Ask.Product, ask.Product) {
			continue
		}
		evidence, err := s.evidence(ctx, id, false)
		if err != nil {
			return nil, err
		}
		earlier = append(earlier, evidence)
	}
	out := map[trial.UnitKind]settle.House{}
	for _, f := range ask.Factors {
		if out[f.SetOn] == nil {
			out[f.SetOn] = settle.HouseOf(earlier, f.SetOn, inBlocks && f.SetOn == trial.UnitCut)
		}
	}
	return out, nil
}
