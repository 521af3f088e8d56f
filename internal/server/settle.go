package server

import (
	"context"
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/rest"
	"whitebarn/internal/store"
)

func (s *Server) settle(c *gin.Context, in *byID) (settle.Result, error) {
	t, err := s.store.Trial(c, in.ID)
	if err != nil {
		return settle.Result{}, err
	}
	if t.RevealedAt == nil {
		return settle.Result{}, rest.Refuse(http.StatusConflict, "The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	return s.verdict(c, t)
}

// verdict reads a revealed trial, with the house's spread beside it.
func (s *Server) verdict(ctx context.Context, t store.Trial) (settle.Result, error) {
	evidence, err := s.evidence(ctx, t.ID)
	if err != nil {
		return settle.Result{}, err
	}
	if evidence.House, err = s.house(ctx, t, evidence); err != nil {
		return settle.Result{}, err
	}
	return settle.Of(evidence), nil
}

// evidence gathers what a revealed trial rests on.
func (s *Server) evidence(ctx context.Context, id int64) (settle.Trial, error) {
	t, err := s.store.Trial(ctx, id)
	if err != nil {
		return settle.Trial{}, err
	}
	out := settle.Trial{Tags: tags(t.Ask), Factor: t.Ask.Factor, Unit: t.Ask.Unit, Outcomes: t.Ask.Outcomes}
	for _, arm := range t.Ask.Arms {
		out.Control = out.Control || arm.Control
	}
	minimum, err := safety.MinimumOf(safety.Meat{Species: t.Ask.Species, Handling: t.Ask.Handling})
	if err != nil {
		return out, err
	}
	cuts, err := s.cuts(ctx, id, minimum)
	if err != nil {
		return out, err
	}
	cooked, err := s.cookedCuts(ctx, id)
	if err != nil {
		return out, err
	}
	places := armPlaces(t.Ask)
	for _, v := range cuts {
		if v.ArmID == nil {
			continue
		}
		k := cooked[v.ID]
		out.Cuts = append(out.Cuts, settle.Cut{
			Name: v.Name, Arm: places[*v.ArmID], Pair: v.Pair, Cook: k.cook, Pit: k.pit, Unit: unitOf(t.Ask.Unit, v, k),
			MayCount: v.MayServe, TrimmedKg: v.trimmedKg(), Account: v.Account, CookHours: k.hours, PitMeanC: k.pitMeanC,
		})
	}
	out.Scores, err = s.store.Scores(ctx, id)
	return out, err
}

// unitOf names the unit that a cut's level was set on. Where no run or batch
// is recorded, the whole arm counts as one.
func unitOf(kind trial.UnitKind, v CutView, k cookedCut) string {
	switch {
	case kind == trial.UnitCut:
		return v.Name
	case kind == trial.UnitPitRun && k.run != 0:
		return fmt.Sprintf("pit run %d", k.run)
	case kind == trial.UnitHolderRun && k.holder != 0:
		return fmt.Sprintf("holder run %d", k.holder)
	case kind == trial.UnitBatch && v.Batch != "":
		return "batch " + v.Batch
	}
	return fmt.Sprintf("arm %d", *v.ArmID)
}

// cookedCut is where and how long a cut was cooked.
type cookedCut struct {
	cook, pit   string
	run, holder int64
	hours       *float64
	pitMeanC    *float64
}

func (s *Server) cookedCuts(ctx context.Context, id int64) (map[int64]cookedCut, error) {
	placements, err := s.store.Placements(ctx, id)
	if err != nil {
		return nil, err
	}
	runs, err := s.store.PitRuns(ctx, id)
	if err != nil {
		return nil, err
	}
	pits := map[int64]string{}
	for _, r := range runs {
		pits[r.ID] = r.Pit
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
	traces, err := s.pitTraces(ctx, id)
	if err != nil {
		return nil, err
	}
	out := map[int64]cookedCut{}
	for _, l := range placements {
		k := out[l.CutID]
		k.cook = fmt.Sprint(l.CookID)
		switch {
		case l.HolderRunID != nil:
			k.holder = *l.HolderRunID
		default:
			k.run, k.pit = *l.PitRunID, pits[*l.PitRunID]
			if on, pull, ok := logbook.CookOf(acts[l.CutID]); ok {
				hours := pull.Sub(on).Hours()
				k.hours = &hours
				if p, ok := logbook.PitOver(traces[k.run], on, pull); ok {
					k.pitMeanC = &p.MeanC
				}
			}
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
// product and kind of unit.
func (s *Server) house(ctx context.Context, t store.Trial, now settle.Trial) (settle.House, error) {
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
		if id == t.ID || other.RevealedAt == nil || other.Ask.Product != t.Ask.Product || other.Ask.Unit != t.Ask.Unit {
			continue
		}
		evidence, err := s.evidence(ctx, id)
		if err != nil {
			return nil, err
		}
		earlier = append(earlier, evidence)
	}
	paired := t.Ask.Unit == trial.UnitCut
	for _, c := range now.Cuts {
		paired = paired && c.Pair != ""
	}
	return settle.HouseOf(earlier, paired), nil
}
