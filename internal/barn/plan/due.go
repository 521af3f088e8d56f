package plan

import (
	"context"
	"errors"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/plan"
	"whitebarn/internal/barn"
)

// DueView is what is still to be done at a cook, and by whom.
type DueView struct {
	Due    []plan.Due  `json:"due"`
	People []string    `json:"people"`
	Lanes  []plan.Lane `json:"lanes"` // the plan as it stands
}

// Later puts a task off.
type Later struct {
	Task    string `json:"task" binding:"required,max=40"` // its key
	Minutes int    `json:"minutes" binding:"min=1,max=240"`
}

// Due works the plan of a cook out as it stands, and leaves out what the log
// shows as done. A cook that cannot be planned has nothing due.
func (p *Planner) Due(ctx context.Context, cookID int64, now time.Time) (DueView, error) {
	out := DueView{Due: []plan.Due{}, People: []string{}, Lanes: []plan.Lane{}}
	k, err := p.store.Cook(ctx, cookID)
	if err != nil {
		return out, err
	}
	t, err := p.store.Trial(ctx, k.TrialID)
	if err != nil {
		return out, err
	}
	cook, err := p.CookPlan(ctx, t, k)
	if err != nil {
		return out, err
	}
	input, err := p.Input(ctx, t, k.ID, cook, *cook.Outline, k.Clock.Now(now))
	if err != nil {
		return out, err
	}
	worked, err := p.plans.Of(ctx, input)
	if errors.As(err, new(fault.List)) {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	events, err := p.store.Events(ctx, t.ID)
	if err != nil {
		return out, err
	}
	var log []plan.Entry
	for _, e := range events {
		act, known := plan.ActOf(e.Act)
		if !known {
			continue
		}
		l := plan.Entry{Act: act, Pit: -1, At: e.At}
		switch {
		case e.CutID != nil:
			l.Cut = *e.CutID
		case e.PitRunID != nil:
			for i, r := range cook.Runs {
				if r.ID == *e.PitRunID {
					l.Pit = i
				}
			}
		}
		if e.Detail.SetC != nil {
			l.SetC = *e.Detail.SetC
		}
		log = append(log, l)
	}
	off, err := p.store.PutsOff(ctx, k.ID)
	if err != nil {
		return out, err
	}
	for _, person := range input.People {
		out.People = append(out.People, person.Name)
	}
	out.Due, out.Lanes = plan.DueOf(worked, input, log, off), worked.Lanes
	return out, nil
}

// PutOff puts a task off from when it is due, or from now where that has passed.
func (p *Planner) PutOff() barn.Case[barn.With[Later], DueView] {
	return barn.Gives(barn.Door{Of: barn.Cook, Kind: barn.Design, What: "put a task off"},
		func(ctx context.Context, a *barn.Act, in *barn.With[Later]) (DueView, error) {
			return p.Within(a.Store).putOff(ctx, a, in)
		})
}

func (p *Planner) putOff(ctx context.Context, a *barn.Act, in *barn.With[Later]) (DueView, error) {
	k, err := a.Store.Cook(ctx, in.ID)
	if err != nil {
		return DueView{}, err
	}
	v, err := p.Due(ctx, in.ID, a.Now())
	if err != nil {
		return v, err
	}
	until := k.Clock.Now(a.Now())
	for _, d := range v.Due {
		if d.Key == in.Body.Task && d.At.Middle.After(until) {
			until = d.At.Middle
		}
	}
	if err := a.Store.PutOff(ctx, a.Who.ID, in.ID, in.Body.Task, until.Add(time.Duration(in.Body.Minutes)*time.Minute)); err != nil {
		return v, err
	}
	return p.Due(ctx, in.ID, a.Now())
}
