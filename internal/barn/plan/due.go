package plan

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/gate"
	"whitebarn/core/plan"
	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// DueView is what is still to be done at a cook, and by whom.
type DueView struct {
	Due    []plan.Due  `json:"due"`
	People []string    `json:"people"`
	Lanes  []plan.Lane `json:"lanes"` // the plan as it stands
}

// Later puts a task off.
type Later struct {
	Task    string `json:"task" binding:"required,max=80"` // its key
	Minutes int    `json:"minutes" binding:"min=1,max=240"`
}

// Due works the plan of a cook out as it stands, and leaves out what the log
// shows as done. A cook that cannot be planned has nothing due.
func (p *Planner) Due(ctx context.Context, cookID int64, now time.Time) (DueView, error) {
	out := DueView{Due: []plan.Due{}, People: []string{}, Lanes: []plan.Lane{}}
	var is standing
	if err := p.store.AtOnce(ctx, func(s *store.Store) (err error) {
		is, err = p.Within(s).stands(ctx, cookID, now)
		return err
	}); err != nil {
		return out, err
	}
	worked, err := p.worked(ctx, is.input)
	if errors.As(err, new(fault.List)) {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	for _, person := range is.input.People {
		out.People = append(out.People, person.Name)
	}
	out.Due, out.Lanes = plan.DueOf(worked, is.input, is.log, is.off, is.readings...), worked.Lanes
	return out, nil
}

// standing is what the record says of a cook that is to be worked out as it stands.
type standing struct {
	input    plan.Input
	log      []plan.Entry
	off      []plan.PutOff
	readings []plan.Reading
}

func (p *Planner) stands(ctx context.Context, cookID int64, now time.Time) (out standing, err error) {
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
	known, err := reader.One(ctx, p.store, t.ID)
	if err != nil {
		return out, err
	}
	if out.input, err = p.inputOf(ctx, t, known, k.ID, cook, *cook.Outline, k.Clock.Now(now)); err != nil {
		return out, err
	}
	out.log = logOf(known.Acts, cook.Runs)
	if out.off, err = p.store.PutsOff(ctx, k.ID); err != nil {
		return out, err
	}
	out.readings, err = p.readings(ctx, known, k.ID, now)
	return out, err
}

// logOf is the log as a plan is held against it.
func logOf(acts []evidence.Act, runs []store.PitRun) (log []plan.Entry) {
	for _, a := range acts {
		act, is := plan.ActOf(a.Act)
		if !is {
			continue
		}
		l := plan.Entry{Act: act, Pit: -1, At: a.At, Cut: a.CutID}
		if a.PitRunID != 0 {
			l.Pit = slices.IndexFunc(runs, func(r store.PitRun) bool { return r.ID == a.PitRunID })
		}
		if a.Detail.SetC != nil {
			l.SetC = *a.Detail.SetC
		}
		log = append(log, l)
	}
	return log
}

// readings are those that the gate will need of the cuts of a cook, an arm's together.
func (p *Planner) readings(ctx context.Context, known evidence.Trial, cookID int64, now time.Time) (out []plan.Reading, err error) {
	needs, err := reader.Needs(ctx, p.store, known, cookID, now)
	if err != nil {
		return nil, err
	}
	for _, c := range known.Cuts {
		arm := known.Arm(c.ArmID)
		for _, n := range needs[c.ID] {
			if arm < 0 {
				continue
			}
			kind := strings.TrimSpace(string(n.Asked) + " " + n.Where)
			i := slices.IndexFunc(out, func(r plan.Reading) bool { return r.Arm == arm && r.Kind == kind })
			if i < 0 {
				words := fmt.Sprintf("Read %s, %s", known.Ask.Arms[arm].Tag, cmp.Or(n.Where, "where it is coldest"))
				out = append(out, plan.Reading{Kind: kind, Arm: arm, At: n.At, BeforePull: n.Asked == gate.InPlaces, Words: words, Why: n.Why})
				i = len(out) - 1
			}
			out[i].Cuts = append(out[i].Cuts, c.ID)
			if n.At.Before(out[i].At) {
				out[i].At = n.At
			}
		}
	}
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
