package fire

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	coreplan "whitebarn/core/plan"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/store"
)

// asked refuses what is in doubt, until somebody says that it is so.
func asked(doubt string) error {
	if doubt == "" {
		return nil
	}
	return fault.New("sure", strings.TrimSuffix(doubt, "."), "if it is so all the same, say so")
}

// doubts asks about a press that does not fit its cook.
func doubts(ctx context.Context, a *barn.Act, p *plan.Planner, k store.Cook, placed []store.Placement, events []store.Event, b EventInput,
	at time.Time) error {
	if slices.ContainsFunc(events, func(e store.Event) bool { return e.Press == b.Press }) {
		return nil // it was taken before
	}
	if err := oddTime(a, k, placed, events, b.Act, at, b.CutIDs, b.Press); err != nil {
		return err
	}
	return tooSoon(ctx, a, p, k, events, b, at)
}

// oddTime asks about the time of an entry of a cook: on a fire that was not lit, or far from all else.
func oddTime(a *barn.Act, k store.Cook, placed []store.Placement, events []store.Event, act logbook.Act, at time.Time, cutIDs []int64,
	press string) error {
	in := logbook.Around{Now: k.Clock.Now(a.Now()), Serve: k.ServeAt}
	mine, under := map[int64]bool{}, map[int64]bool{} // its cuts; the pits under those of the entry
	runs := map[int64]bool{}
	for _, p := range placed {
		if p.CookID != k.ID {
			continue
		}
		mine[p.CutID] = true
		if p.PitRunID != nil {
			runs[*p.PitRunID] = true
			under[*p.PitRunID] = under[*p.PitRunID] || slices.Contains(cutIDs, p.CutID)
		}
	}
	for _, e := range events {
		of := e.CookID != nil && *e.CookID == k.ID || e.CutID != nil && mine[*e.CutID] || e.PitRunID != nil && runs[*e.PitRunID]
		if !of || e.Press == press {
			continue
		}
		in.Others = append(in.Others, e.At)
		if e.Act == logbook.Lit && e.PitRunID != nil && under[*e.PitRunID] && (in.Lit.IsZero() || e.At.Before(in.Lit)) {
			in.Lit = e.At
		}
	}
	return asked(logbook.DoubtTime(logbook.Event{Act: act, At: at}, in))
}

// oddCorrection asks about the time that entries of a press are to have.
func oddCorrection(ctx context.Context, a *barn.Act, k store.Cook, in CorrectionInput, of []store.Event) error {
	if in.Sure || len(of) == 0 || in.At.Equal(of[0].At) {
		return nil
	}
	placed, err := a.Store.Placements(ctx, a.TrialID)
	if err != nil {
		return err
	}
	events, err := a.Store.Events(ctx, a.TrialID)
	if err != nil {
		return err
	}
	var cuts []int64
	for _, e := range of {
		if e.CutID != nil {
			cuts = append(cuts, *e.CutID)
		}
	}
	return oddTime(a, k, placed, events, of[0].Act, in.At, cuts, of[0].Press)
}

// oddReading is what is odd about a reading of a cut, by what else was read by hand of it and of those beside it.
func oddReading(d logbook.Detail, cutID int64, at time.Time, press string, placed []store.Placement, events []store.Event) *logbook.Doubt {
	if d.C == nil {
		return nil
	}
	cook := int64(0)
	for _, p := range placed {
		if p.CutID == cutID {
			cook = p.CookID
		}
	}
	var on time.Time
	var mine, others []logbook.HandRead
	for _, e := range events {
		switch {
		case e.CutID == nil || e.Press == press:
		case *e.CutID == cutID && e.Act == logbook.On && !e.At.After(at):
			on = e.At
		case e.Act != logbook.Probe || e.Detail.C == nil || e.Detail.Doubt != nil:
		case *e.CutID == cutID:
			mine = append(mine, logbook.HandRead{At: e.At, C: *e.Detail.C})
		case stands(placed, *e.CutID, cook):
			others = append(others, logbook.HandRead{At: e.At, C: *e.Detail.C})
		}
	}
	return logbook.DoubtRead(logbook.HandRead{At: at, C: *d.C}, on, mine, others)
}

// stillOdd is what is odd about a reading as it is corrected: what somebody said is so, or said before, is not asked again.
func stillOdd(ctx context.Context, a *barn.Act, was store.Event, in CorrectionInput, to logbook.Detail) (*logbook.Doubt, error) {
	same := was.Detail.C != nil && to.C != nil && *was.Detail.C == *to.C && was.At.Equal(in.At)
	if was.Act != logbook.Probe || in.Sure || same && was.Detail.Doubt == nil {
		return nil, nil
	}
	placed, err := a.Store.Placements(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	events, err := a.Store.Events(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	return oddReading(to, *was.CutID, in.At, was.Press, placed, events), nil
}

// waitForPlan is how long a press waits for its plan to be worked out; its device waits twice as long.
const waitForPlan = 4 * time.Second

// tooSoon asks about an act that turns the course of a piece, pressed hours before the plan has it due. A wrap
// after the pull is for the rest, whose time goes with the pull.
func tooSoon(ctx context.Context, a *barn.Act, p *plan.Planner, k store.Cook, events []store.Event, b EventInput, at time.Time) error {
	act, is := coreplan.ActOf(b.Act)
	pulled := slices.ContainsFunc(events, func(e store.Event) bool {
		return e.Act == logbook.Pull && e.CutID != nil && slices.Contains(b.CutIDs, *e.CutID)
	})
	if row, _ := b.Act.Row(); !is || !row.Turns || pulled && b.Act != logbook.Carve || at.Before(k.Clock.Now(a.Now()).Add(-late)) {
		return nil // what is entered later is of a plan that went on
	}
	v, err := p.Within(a.Store).ForUpTo(waitForPlan).Due(ctx, k.ID, a.Now())
	if errors.Is(err, context.DeadlineExceeded) && ctx.Err() == nil {
		return nil // a press is kept sooner than a question is asked
	}
	if err != nil {
		return err
	}
	var first time.Time
	for _, d := range v.Due {
		if d.Act == act && slices.ContainsFunc(d.Cuts, func(id int64) bool { return slices.Contains(b.CutIDs, id) }) &&
			(first.IsZero() || d.At.Early.Before(first)) {
			first = d.At.Early
		}
	}
	if first.IsZero() {
		return nil
	}
	return asked(logbook.DoubtEarly(b.Act, len(b.CutIDs), at, first))
}

// contradicts refuses an event that the others of its cut, as far as they
// count, do not allow; what is in doubt it refuses until somebody is sure.
func contradicts(ctx context.Context, a *barn.Act, cutID int64, e logbook.Event, sure bool, counts func(store.Event) bool) error {
	rows, err := a.Store.EventsOfCut(ctx, cutID)
	if err != nil {
		return err
	}
	var others []logbook.Event
	for _, r := range rows {
		if counts(r) {
			others = append(others, logbook.Event{Act: r.Act, At: r.At})
		}
	}
	doubt, err := logbook.CheckEvent(e, others)
	if err == nil && !sure {
		return asked(doubt)
	}
	return err
}
