package evidence

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/internal/store"
)

// Gatehouse is what the gate needs to know of the barn.
type Gatehouse struct {
	Lines  []store.BarnLines // the last first
	BoilsC float64
}

// At are the lines in force at a moment.
func (g Gatehouse) At(t time.Time) safety.Lines {
	for _, l := range g.Lines {
		if !l.At.After(t) {
			return l.Lines
		}
	}
	return safety.Usual
}

// Latest are the lines in force.
func (g Gatehouse) Latest() safety.Lines {
	if len(g.Lines) == 0 {
		return safety.Usual
	}
	return g.Lines[0].Lines
}

// ReadGatehouse reads it.
func ReadGatehouse(ctx context.Context, s *store.Store) (g Gatehouse, err error) {
	barn, err := s.Barn(ctx)
	if err != nil {
		return g, err
	}
	g.BoilsC = thermal.BoilingPoint(thermal.PressureAt(barn.ElevationM))
	g.Lines, err = s.Lines(ctx)
	return g, err
}

// Doses reads what is planned for the arms of trials, in one query.
func Doses(ctx context.Context, s *store.Store, trials []evidence.Trial) error {
	ids := make([]int64, len(trials))
	for i, t := range trials {
		ids[i] = t.ID
	}
	outlines, err := s.Outlines(ctx, ids...)
	for i := range trials {
		trials[i].Doses = map[int64][]prep.Dose{}
		for _, a := range outlines[trials[i].ID].Arms {
			trials[i].Doses[a.ArmID] = a.Doses
		}
	}
	return err
}

// Gates judges every cut of trials before the table, with the same few queries for one
// and many.
func Gates(ctx context.Context, s *store.Store, trials []evidence.Trial, now time.Time) error {
	g, known, err := atHand(ctx, s, trials, now)
	if err != nil {
		return err
	}
	for i := range trials {
		trials[i].Judge(g.At, g.BoilsC, known, now)
	}
	return notes(ctx, s, trials)
}

// Needs are the readings that the gate will need of each cut on the fire of a cook; it reads
// nothing more where none is.
func Needs(ctx context.Context, s *store.Store, t evidence.Trial, cookID int64, now time.Time) (map[int64][]gate.Need, error) {
	if !slices.ContainsFunc(t.Cuts, evidence.Cut.Burns) {
		return nil, nil
	}
	trials := []evidence.Trial{t}
	g, known, err := atHand(ctx, s, trials, now)
	if err != nil {
		return nil, err
	}
	return trials[0].Needs(cookID, g.At, g.BoilsC, known, now), nil
}

// atHand reads what the gate judges trials by: the barn, their doses, and the traces of their probes.
func atHand(ctx context.Context, s *store.Store, trials []evidence.Trial, now time.Time) (g Gatehouse,
	known map[evidence.ProbeKey][]logbook.Point, err error) {
	if g, err = ReadGatehouse(ctx, s); err != nil {
		return g, nil, err
	}
	if err := Doses(ctx, s, trials); err != nil {
		return g, nil, err
	}
	var probes, pits []evidence.Probe
	for _, t := range trials {
		for _, p := range t.Probes {
			switch {
			case p.CutID != 0 || p.HolderRunID != 0:
				probes = append(probes, p)
			case p.PitRunID != 0:
				pits = append(pits, p)
			}
		}
	}
	known = map[evidence.ProbeKey][]logbook.Point{}
	for _, read := range []struct {
		probes []evidence.Probe
		traces func(context.Context, []store.Stretch) ([][]logbook.Point, error)
	}{{probes, s.PointsOf}, {pits, func(ctx context.Context, in []store.Stretch) ([][]logbook.Point, error) {
		return s.MeansOf(ctx, in, airMeans)
	}}} {
		traces, err := stretches(ctx, read.probes, time.Time{}, now.AddDate(1, 0, 0), read.traces)
		if err != nil {
			return g, nil, err
		}
		for i, p := range read.probes {
			known[p.Key()] = traces[i]
		}
	}
	return g, known, nil
}

// airMeans is over how long the air of a pit is a mean.
const airMeans = 5 * time.Minute

// notes are what of the trials' safety stays with them for good.
func notes(ctx context.Context, s *store.Store, trials []evidence.Trial) error {
	ids := make([]int64, len(trials))
	at := map[int64]*evidence.Trial{}
	for i := range trials {
		ids[i], at[trials[i].ID] = trials[i].ID, &trials[i]
	}
	changes, err := s.MeatChanges(ctx, ids...)
	if err != nil {
		return err
	}
	for _, c := range changes {
		if !c.Before.Said() {
			continue // said for the first time
		}
		t := at[c.TrialID]
		t.Notes = append(t.Notes, strings.TrimSuffix(fmt.Sprintf("What meat it is was changed by %s, from %s to %s: %s", c.By, c.Before, c.After, c.Why), ": ")+".")
	}
	struck, err := s.StruckOf(ctx, ids...)
	for _, x := range struck {
		at[x.TrialID].Notes = append(at[x.TrialID].Notes, fmt.Sprintf("Stopped after it was served: %s. %s", x.Code, x.Why))
	}
	if err != nil {
		return err
	}
	noted, err := s.NotedChanges(ctx, ids...)
	for _, n := range noted {
		text := map[string]string{store.UnderFire: "Under the fire", store.AfterReveal: "After the codes were opened"}[n.When] + fmt.Sprintf(" %s %s", n.By, n.What)
		if n.Why != "" {
			text += ": " + strings.TrimRight(n.Why, ".")
		}
		at[n.TrialID].Notes = append(at[n.TrialID].Notes, text+".")
	}
	return err
}

// Gate judges one cut that was read already, with the traces of its probes at hand.
func (g Gatehouse) Gate(t evidence.Trial, c evidence.Cut, known map[evidence.ProbeKey][]logbook.Point, now time.Time) gate.Ruling {
	t.Cuts = slices.Clone([]evidence.Cut{c})
	t.Judge(g.At, g.BoilsC, known, now)
	return t.Gates[c.ID]
}
