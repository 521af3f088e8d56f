// Package evidence reads trials of the record into core/evidence, any number of
// them with the same few queries.
package evidence

import (
	"context"
	"time"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/store"
)

// Rows are what the record holds of some trials, as it is kept there.
type Rows struct {
	Trials     []store.Trial
	Cuts       []store.Cut
	Divided    []store.Cut
	Dimensions []store.Dimension
	Measures   []store.MeasureValue
	Weighings  []store.Weighing
	Outs       []store.WeighOut
	Left       []store.Leftover
	Reasons    []store.GateReason
	Placements []store.Placement
	Cooks      []store.Cook
	Runs       []store.PitRun
	Holders    []store.HolderRun
	Events     []store.Event
	Probes     []store.Assignment
	Draws      []store.Allotment
	Accepted   []store.AcceptedFinding
	Served     map[int64]time.Time // of each cut
	Scores     map[int64]map[trial.OutcomeKey][]panel.Score
}

// ReadRows reads the rows of trials by their numbers, one query a table, all as they were at
// one moment. The scores are read of those alone whose codes are open.
func ReadRows(ctx context.Context, s *store.Store, ids ...int64) (r Rows, err error) {
	err = s.AtOnce(ctx, func(s *store.Store) error {
		r, err = readRows(ctx, s, ids)
		return err
	})
	return r, err
}

func readRows(ctx context.Context, s *store.Store, ids []int64) (r Rows, err error) {
	if r.Trials, err = s.Trials(ctx, ids); err != nil {
		return r, err
	}
	var open []int64
	for _, t := range r.Trials {
		if t.RevealedAt != nil {
			open = append(open, t.ID)
		}
	}
	for _, read := range []func() error{
		func() (err error) { r.Cuts, err = s.Cuts(ctx, ids...); return err },
		func() (err error) { r.Divided, err = s.Divided(ctx, ids...); return err },
		func() (err error) { r.Dimensions, err = s.Dimensions(ctx, ids...); return err },
		func() (err error) { r.Measures, err = s.Measures(ctx, ids...); return err },
		func() (err error) { r.Weighings, err = s.Weighings(ctx, ids...); return err },
		func() (err error) { r.Outs, err = s.WeighOuts(ctx, ids...); return err },
		func() (err error) { r.Left, err = s.Leftovers(ctx, ids...); return err },
		func() (err error) { r.Served, err = s.ServedAt(ctx, ids...); return err },
		func() (err error) { r.Reasons, err = s.GateReasons(ctx, ids...); return err },
		func() (err error) { r.Placements, err = s.Placements(ctx, ids...); return err },
		func() (err error) { r.Cooks, err = s.Cooks(ctx, ids...); return err },
		func() (err error) { r.Runs, err = s.PitRuns(ctx, ids...); return err },
		func() (err error) { r.Holders, err = s.HolderRuns(ctx, ids...); return err },
		func() (err error) { r.Events, err = s.Events(ctx, ids...); return err },
		func() (err error) { r.Probes, err = s.AssignmentsOf(ctx, ids...); return err },
		func() (err error) { r.Draws, err = s.Allotments(ctx, ids...); return err },
		func() (err error) { r.Accepted, err = s.AcceptedFindings(ctx, ids...); return err },
		func() (err error) { r.Scores, err = s.Scores(ctx, open...); return err },
	} {
		if err := read(); err != nil {
			return r, err
		}
	}
	return r, nil
}

// Read reads trials by their numbers, in that order.
func Read(ctx context.Context, s *store.Store, ids ...int64) ([]evidence.Trial, error) {
	r, err := ReadRows(ctx, s, ids...)
	return r.Evidence(), err
}

// One reads one trial; store.ErrNotFound if there is none.
func One(ctx context.Context, s *store.Store, id int64) (evidence.Trial, error) {
	t, err := Read(ctx, s, id)
	if err != nil {
		return evidence.Trial{}, err
	}
	if len(t) == 0 {
		return evidence.Trial{}, store.ErrNotFound
	}
	return t[0], nil
}

// Evidence puts the rows together.
func (r Rows) Evidence() []evidence.Trial {
	out := make([]evidence.Trial, len(r.Trials))
	b := builder{trials: map[int64]*evidence.Trial{}, cuts: map[int64]*evidence.Cut{}, trialOf: map[int64]int64{}, cooks: map[int64]int64{}, runs: map[int64]int64{}}
	for i, t := range r.Trials {
		out[i] = evidence.Trial{ID: t.ID, Ask: t.Ask, RevealedAt: t.RevealedAt, Accepted: map[string]string{}, Scores: r.Scores[t.ID]}
		b.trials[t.ID] = &out[i]
	}
	b.pieces(r)
	b.ofCuts(r)
	b.ofCooks(r)
	b.acts(r.Events)
	for _, c := range b.cuts {
		c.Stays = evidence.Follow(c.Stays, c.Acts)
	}
	for _, d := range r.Draws {
		b.trials[d.TrialID].Draws = append(b.trials[d.TrialID].Draws, d.Arms)
	}
	for _, k := range r.Accepted {
		b.trials[k.TrialID].Accepted[k.Key] = k.Why
	}
	return out
}

// builder finds where a row belongs.
type builder struct {
	trials  map[int64]*evidence.Trial
	cuts    map[int64]*evidence.Cut
	trialOf map[int64]int64 // of a cut
	cooks   map[int64]int64 // the trial of a cook
	runs    map[int64]int64 // the trial of a pit run
}

func (b *builder) pieces(r Rows) {
	for _, group := range []struct {
		rows []store.Cut
		into func(*evidence.Trial) *[]evidence.Cut
	}{{r.Cuts, func(t *evidence.Trial) *[]evidence.Cut { return &t.Cuts }}, {r.Divided, func(t *evidence.Trial) *[]evidence.Cut { return &t.Divided }}} {
		for _, c := range group.rows {
			list := group.into(b.trials[c.TrialID])
			*list = append(*list, cut(c))
			b.trialOf[c.ID] = c.TrialID
		}
	}
	for _, t := range b.trials { // once the lists grow no more
		for _, list := range [][]evidence.Cut{t.Cuts, t.Divided} {
			for i := range list {
				b.cuts[list[i].ID] = &list[i]
			}
		}
	}
}

func cut(c store.Cut) evidence.Cut {
	return evidence.Cut{
		ID: c.ID, Name: c.Name, Block: c.Pair, Batch: c.Batch, ArmID: number(c.ArmID), ParentID: number(c.ParentID), Together: c.Together,
		PriceCents: c.PriceCents,
		Traits:     map[design.Trait]string{design.Lot: c.Lot, design.Grade: c.Grade, design.Section: c.Section, design.Side: c.Side, design.Bone: c.Bone},
		Dimensions: map[string]float64{}, Measured: map[trial.OutcomeKey]float64{}, OnAs: safety.Meat{Species: c.OnSpecies, Handling: c.OnHandling},
	}
}

func (b *builder) ofCuts(r Rows) {
	of := func(id int64, put func(*evidence.Cut)) {
		if c := b.cuts[id]; c != nil { // of a cut that was taken out nothing counts
			put(c)
		}
	}
	for _, d := range r.Dimensions {
		of(d.CutID, func(c *evidence.Cut) { c.Dimensions[d.Kind] = d.Value })
	}
	for _, m := range r.Measures {
		of(m.CutID, func(c *evidence.Cut) { c.Measured[trial.OutcomeKey(m.Key)] = m.Value })
	}
	for _, w := range r.Weighings {
		of(w.CutID, func(c *evidence.Cut) {
			c.Weighings = append(c.Weighings, yield.Weighing{Stage: w.Stage, Kg: w.Kg, ResolutionKg: w.ResolutionKg})
		})
	}
	for id, at := range r.Served {
		of(id, func(c *evidence.Cut) { c.Served = at })
	}
	for _, g := range r.Reasons {
		of(g.CutID, func(c *evidence.Cut) { c.GateReason = g.Reason })
	}
	for _, l := range r.Placements {
		of(l.CutID, func(c *evidence.Cut) {
			c.Stays = append(c.Stays, evidence.Stay{CookID: l.CookID, PitRunID: number(l.PitRunID), HolderRunID: number(l.HolderRunID), Position: l.Position})
		})
	}
}

func (b *builder) ofCooks(r Rows) {
	for _, k := range r.Cooks {
		t := b.trials[k.TrialID]
		t.Cooks = append(t.Cooks, evidence.Cook{ID: k.ID, ServeAt: k.ServeAt, Clock: k.Clock, Played: k.Played})
		b.cooks[k.ID] = k.TrialID
	}
	of := func(cookID int64, put func(*evidence.Trial)) {
		if t := b.trials[b.cooks[cookID]]; t != nil { // within a transaction others may plan a cook between two reads
			put(t)
		}
	}
	for _, p := range r.Runs {
		of(p.CookID, func(t *evidence.Trial) {
			t.Runs = append(t.Runs, evidence.PitRun{ID: p.ID, CookID: p.CookID, PitID: p.PitID, Pit: p.Pit, SetC: p.SetPointC, Kind: p.Surroundings(),
				Columns: p.GrateColumns, Rows: p.GrateRows, ArmID: number(p.ArmID), Used: p.Used})
			b.runs[p.ID] = t.ID
		})
	}
	for _, h := range r.Holders {
		of(h.CookID, func(t *evidence.Trial) {
			t.Holders = append(t.Holders, evidence.HolderRun{ID: h.ID, CookID: h.CookID, HolderID: h.HolderID, Holder: h.Holder, SetC: h.SetC,
				Powered: h.Powered, Reads: h.Reads})
		})
	}
	for _, a := range r.Probes {
		p := evidence.Probe{ID: a.ProbeID, Assigned: a.ID, Name: a.Probe, CookID: a.CookID, CutID: number(a.CutID), PitRunID: number(a.PitRunID),
			HolderRunID: number(a.HolderRunID), Point: a.Point, Place: a.Place, From: a.FromAt}
		if a.ToAt != nil {
			p.To = *a.ToAt
		}
		of(a.CookID, func(t *evidence.Trial) { t.Probes = append(t.Probes, p) })
	}
}

func (b *builder) acts(events []store.Event) {
	for _, e := range events {
		a := evidence.Act{ID: e.ID, Act: e.Act, At: e.At, Note: e.Note, Detail: e.Detail, By: e.By, Press: e.Press, CutID: number(e.CutID), PitRunID: number(e.PitRunID), CookID: number(e.CookID)}
		id := b.cooks[a.CookID]
		switch {
		case a.CutID != 0:
			id = b.trialOf[a.CutID]
			if c := b.cuts[a.CutID]; c != nil {
				c.Acts = append(c.Acts, a)
			}
		case a.PitRunID != 0:
			id = b.runs[a.PitRunID]
			b.set(a, id)
		}
		if t := b.trials[id]; t != nil {
			t.Acts = append(t.Acts, a)
		}
	}
}

// set gives a pit run what it was set to.
func (b *builder) set(a evidence.Act, trialID int64) {
	t := b.trials[trialID]
	if t == nil || a.Act != logbook.Set || a.Detail.SetC == nil {
		return
	}
	for i := range t.Runs {
		if t.Runs[i].ID == a.PitRunID {
			t.Runs[i].Sets = append(t.Runs[i].Sets, evidence.SetPoint{At: a.At, C: *a.Detail.SetC})
		}
	}
}

func number(id *int64) int64 {
	if id == nil {
		return 0
	}
	return *id
}

// Heat reads, in one query, what the pits did that the cuts of trials were in, up to
// now by the true time where a cook goes on.
func Heat(ctx context.Context, s *store.Store, trials []evidence.Trial, now time.Time) error {
	var all []store.Stretch
	type want struct {
		cut         *evidence.Cut
		whole, last int // how many stretches
	}
	var wants []want
	eachLying(trials, now, func(t *evidence.Trial, c *evidence.Cut, now time.Time) {
		whole, last := t.HeatWindows(*c, now)
		wants = append(wants, want{c, len(whole), len(last)})
		for _, w := range append(whole, last...) {
			all = append(all, stretch(w.Probe, w.From, w.To))
		}
	})
	sums, err := s.Sums(ctx, all)
	if err != nil {
		return err
	}
	for _, w := range wants {
		w.cut.Heat.MeanC, sums = mean(sums, w.whole)
		w.cut.Heat.LastC, sums = mean(sums, w.last)
	}
	return nil
}

// Air reads, in one query, how wet the air was that the cuts of trials lay in, where a wet
// bulb was read.
func Air(ctx context.Context, s *store.Store, trials []evidence.Trial, now time.Time) error {
	var all []store.Stretch
	type want struct {
		cut *evidence.Cut
		of  evidence.AirWindows
	}
	var wants []want
	eachLying(trials, now, func(t *evidence.Trial, c *evidence.Cut, now time.Time) {
		for _, w := range t.AirOf(*c, now) {
			wants = append(wants, want{c, w})
			for _, x := range append(w.Dry, w.Wet...) {
				all = append(all, stretch(x.Probe, x.From, x.To))
			}
		}
	})
	sums, err := s.Sums(ctx, all)
	if err != nil {
		return err
	}
	for _, w := range wants {
		a := evidence.Air{Stretch: w.of.Stretch}
		a.DryC, sums = mean(sums, len(w.of.Dry))
		a.WetC, sums = mean(sums, len(w.of.Wet))
		if a.WetC == nil && len(w.of.Spots) > 0 {
			v := stat.Mean(w.of.Spots, nil)
			a.WetC = &v
		}
		w.cut.Air = append(w.cut.Air, a)
	}
	return nil
}

// eachLying visits the cuts that lie in a cook, with the true time of that cook up to now.
func eachLying(trials []evidence.Trial, now time.Time, visit func(t *evidence.Trial, c *evidence.Cut, now time.Time)) {
	for i := range trials {
		t := &trials[i]
		for j := range t.Cuts {
			if lies, ok := t.Cuts[j].Lies(); ok {
				visit(t, &t.Cuts[j], t.Now(lies.CookID, now))
			}
		}
	}
}

// mean takes the mean of the first sums together.
func mean(sums []store.Sum, first int) (*float64, []store.Sum) {
	var all store.Sum
	for _, x := range sums[:first] {
		all.C, all.N = all.C+x.C, all.N+x.N
	}
	if all.N == 0 {
		return nil, sums[first:]
	}
	v := all.C / float64(all.N)
	return &v, sums[first:]
}

// stretch is what of a stretch of time a probe measured its target.
func stretch(p evidence.Probe, from, to time.Time) store.Stretch {
	if p.From.After(from) {
		from = p.From
	}
	if !p.To.IsZero() && p.To.Before(to) {
		to = p.To
	}
	return store.Stretch{ProbeID: p.ID, From: from, To: to}
}

// Traces reads, in one query, what probes showed between two moments.
func Traces(ctx context.Context, s *store.Store, probes []evidence.Probe, from, to time.Time) ([][]logbook.Point, error) {
	return stretches(ctx, probes, from, to, s.PointsOf)
}

// stretches reads what probes showed between two moments of the time they were on their targets.
func stretches(ctx context.Context, probes []evidence.Probe, from, to time.Time,
	read func(context.Context, []store.Stretch) ([][]logbook.Point, error)) ([][]logbook.Point, error) {
	in := make([]store.Stretch, len(probes))
	for i, p := range probes {
		in[i] = stretch(p, from, to)
	}
	return read(ctx, in)
}

// Mean is the mean of a probe over a stretch of time; nil when it showed nothing.
func Mean(ctx context.Context, s *store.Store, w evidence.Window) (*float64, error) {
	sums, err := s.Sums(ctx, []store.Stretch{stretch(w.Probe, w.From, w.To)})
	if err != nil {
		return nil, err
	}
	m, _ := mean(sums, 1)
	return m, nil
}
