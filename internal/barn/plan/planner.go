// Package plan reads what a barn knows into core/plan and works cooks out.
package plan

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/plan"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Planner works out cooks from a barn's record.
type Planner struct {
	store   *store.Store
	plans   *plan.Memory
	longest time.Duration // a plan is worked on; 0 is no end
	*memory
}

// memory is what was worked out of finished cuts, for all planners of a barn.
type memory struct {
	mu    sync.Mutex
	known map[int64]share // what they took over what the model says
}

// share is a finished cut's length over the model's, worked out for this cook of it.
type share struct {
	on, pulled time.Time
	learned    []float64
	of         float64
}

// New returns a planner over a barn's record. What it works out of plans is remembered in
// plans, which planners of other barns may share.
func New(s *store.Store, plans *plan.Memory) *Planner {
	return &Planner{s, plans, 0, &memory{known: map[int64]share{}}}
}

// Within is the planner within a transaction.
func (p *Planner) Within(s *store.Store) *Planner { return &Planner{s, p.plans, p.longest, p.memory} }

// ForUpTo is the planner that gives a plan up with context.DeadlineExceeded once it was worked
// on for so long.
func (p *Planner) ForUpTo(longest time.Duration) *Planner {
	return &Planner{p.store, p.plans, longest, p.memory}
}

// worked is a cook worked out, or found as it was.
func (p *Planner) worked(ctx context.Context, in plan.Input) (plan.Plan, error) {
	if p.longest > 0 {
		var end context.CancelFunc
		ctx, end = context.WithTimeout(ctx, p.longest)
		defer end()
	}
	return p.plans.Of(ctx, in)
}

// Outline is the plan of a trial: the crew's, fitted to the arms there are
// now, or a first guess.
func (p *Planner) Outline(ctx context.Context, t store.Trial) (plan.Outline, error) {
	return outlineOf(ctx, p.store, t)
}

func outlineOf(ctx context.Context, s *store.Store, t store.Trial) (plan.Outline, error) {
	family, err := s.Family(ctx, t.Ask.Family)
	if err != nil {
		return plan.Outline{}, err
	}
	o, err := s.Outline(ctx, t.ID)
	if errors.Is(err, store.ErrNotFound) {
		return plan.UsualOutline(t.Ask, family), nil
	}
	return o.Fit(t.Ask, family), err
}

// Input is everything the cook is planned from. Its arms are the trial's in
// order, its pits the runs of the cook.
func (p *Planner) Input(ctx context.Context, t store.Trial, cookID int64, cook store.CookPlan, o plan.Outline, now time.Time) (in plan.Input, err error) {
	err = p.store.AtOnce(ctx, func(s *store.Store) error {
		known, err := reader.One(ctx, s, t.ID)
		if err != nil {
			return err
		}
		in, err = p.Within(s).inputOf(ctx, t, known, cookID, cook, o, now)
		return err
	})
	return in, err
}

func (p *Planner) inputOf(ctx context.Context, t store.Trial, known evidence.Trial, cookID int64, cook store.CookPlan, o plan.Outline,
	now time.Time) (plan.Input, error) {
	in := plan.Input{Chance: o.Chance, SliceS: o.SliceS, Seed: uint64(t.ID), HoldsVary: t.Ask.HoldsVary()}
	var err error
	if in.Family, err = p.store.Family(ctx, t.Ask.Family); err != nil {
		return in, err
	}
	barn, err := p.store.Barn(ctx)
	if err != nil {
		return in, err
	}
	zone, err := time.LoadLocation(barn.TimeZone)
	if err != nil {
		return in, err
	}
	in.Now, in.Serve, in.Pressure = now.In(zone), cook.ServeAt.In(zone), thermal.PressureAt(barn.ElevationM)
	if cook.ServeAt.IsZero() {
		in.Serve = time.Time{}
	}
	for _, a := range t.Ask.Arms {
		in.Arms = append(in.Arms, plan.Arm{Tag: a.Tag, Phases: o.Of(a.ID).Phases})
	}
	guesses, err := p.store.Guesses(ctx, in.Family.Key)
	if err != nil {
		return in, err
	}
	in.Learned = forecast.Learn(guesses)
	if err := p.pits(ctx, &in, t.Ask, cook); err != nil {
		return in, err
	}
	if err := p.people(ctx, &in, o); err != nil {
		return in, err
	}
	if in.Probes, err = p.probes(ctx, cookID); err != nil {
		return in, err
	}
	cuts(&in, known, cook)
	return in, p.house(ctx, &in)
}

// Of works a cook out.
func (p *Planner) Of(ctx context.Context, t store.Trial, cookID int64, cook store.CookPlan, o plan.Outline, now time.Time) (plan.Plan, error) {
	in, err := p.Input(ctx, t, cookID, cook, o, now)
	if err != nil {
		return plan.Plan{}, err
	}
	return p.worked(ctx, in)
}

// Cookers are the barn's pits, where a phase of an outline is in another than its cuts
// stand in; else none.
func (p *Planner) Cookers(ctx context.Context, o plan.Outline) ([]plan.Pit, error) {
	if !slices.ContainsFunc(o.Arms, func(a plan.ArmPhases) bool {
		return slices.ContainsFunc(a.Phases, func(ph phase.Phase) bool { return ph.PitID != 0 })
	}) {
		return nil, nil
	}
	pits, err := p.store.Pits(ctx)
	return cookersOf(pits), err
}

// people are those with a shift, or the whole crew while none is written down.
func (p *Planner) people(ctx context.Context, in *plan.Input, o plan.Outline) error {
	people, err := p.store.People(ctx)
	if err != nil {
		return err
	}
	for _, person := range people {
		if len(o.Shifts) == 0 {
			in.People = append(in.People, plan.Person{ID: person.ID, Name: person.Name})
		}
		for _, s := range o.Shifts {
			if s.PersonID == person.ID {
				in.People = append(in.People, plan.Person{ID: person.ID, Name: person.Name, From: s.From, To: s.To})
			}
		}
	}
	return nil
}

// probes counts the barn's own temperature channels.
func (p *Planner) probes(ctx context.Context, cookID int64) (n int, err error) {
	all, err := p.store.Probes(ctx, cookID)
	for _, pr := range all {
		if pr.Measures == "temperature" {
			n++
		}
	}
	return n, err
}

// usualCold is a fridge, C.
const usualCold = 4.0

func cuts(in *plan.Input, known evidence.Trial, cook store.CookPlan) {
	for _, l := range cook.Placements {
		cut, ok := known.Cut(l.CutID)
		c := plan.Cut{ID: l.CutID, Name: cut.Name, Arm: -1, Pit: l.Run, Position: l.Position,
			OffsetC: in.Pits[l.Run].Used.Over(l.Position)}
		if ok {
			c.Arm = known.Arm(cut.ArmID)
		}
		size(&c, cut, in.Family)
		if on, ok := cut.On(); ok {
			c.On = on
		}
		in.Cuts = append(in.Cuts, c)
	}
}

// size gives a planned cut what is known of its weight, thickness and cold.
func size(c *plan.Cut, known evidence.Cut, family thermal.Family) {
	c.Kg, c.StartC = known.AtFireOr(family.Mass), usualCold
	if v := known.Dimension("thickness"); v != nil {
		c.ThicknessM = *v
	}
	if v := known.Dimension("cold"); v != nil {
		c.StartC = *v
	}
}

// finished is a cut of an earlier cook, with how it was cooked.
type finished struct {
	evidence.Cut
	on, pulled time.Time
	run        evidence.PitRun
	phases     []phase.Phase
}

// finished are the barn's finished cuts of a family, the last first.
func (p *Planner) finished(ctx context.Context, family thermal.Family) ([]finished, error) {
	ids, err := p.store.CookedTrials(ctx, family.Key)
	if err != nil || len(ids) == 0 {
		return nil, err
	}
	trials, err := reader.Read(ctx, p.store, ids...)
	if err != nil {
		return nil, err
	}
	outlines, err := p.store.Outlines(ctx, ids...)
	if err != nil {
		return nil, err
	}
	var out []finished
	for _, t := range trials {
		o, planned := outlines[t.ID]
		if !planned {
			o = plan.UsualOutline(t.Ask, family)
		}
		o = o.Fit(t.Ask, family)
		for _, c := range t.Cuts {
			on, pulled, ok := c.Cooked()
			lay, there := c.Pit(on)
			if !ok || !there || c.ArmID == 0 {
				continue
			}
			run, _ := t.Run(lay.PitRunID)
			out = append(out, finished{c, on, pulled, run, o.Of(c.ArmID).Phases})
		}
	}
	slices.SortStableFunc(out, func(a, b finished) int { return cmp.Or(b.pulled.Compare(a.pulled), cmp.Compare(a.ID, b.ID)) })
	return out, nil
}

// house gives each cut what the barn's finished cooks of its kind took.
func (p *Planner) house(ctx context.Context, in *plan.Input) error {
	known, err := p.finished(ctx, in.Family)
	if err != nil {
		return err
	}
	for _, k := range known {
		for i := range in.Cuts {
			c := &in.Cuts[i]
			if c.Arm < 0 || c.ID == k.ID || !phase.Alike(k.phases, in.Arms[c.Arm].Phases) {
				continue
			}
			r, err := p.share(k, *in)
			if err != nil {
				return err
			}
			c.House = append(c.House, r)
		}
	}
	return nil
}

// share is how long a finished cut took over what the model says of it.
func (p *Planner) share(k finished, in plan.Input) (float64, error) {
	p.mu.Lock()
	was, ok := p.known[k.ID]
	p.mu.Unlock()
	if ok && was.on.Equal(k.on) && was.pulled.Equal(k.pulled) && slices.Equal(was.learned, in.Learned) {
		return was.of, nil
	}
	c := plan.Cut{}
	size(&c, k.Cut, in.Family)
	one := plan.Input{Family: in.Family, Learned: in.Learned, Pressure: in.Pressure, Arms: []plan.Arm{{Phases: k.phases}}, Cuts: []plan.Cut{c}, Pits: []plan.Pit{{SetC: k.run.SetC, Surroundings: k.run.Kind}}}
	usual, err := plan.UsualLength(one, 0)
	if err != nil {
		return 0, err
	}
	r := k.pulled.Sub(k.on).Seconds() / usual
	p.mu.Lock()
	p.known[k.ID] = share{k.on, k.pulled, in.Learned, r}
	p.mu.Unlock()
	return r, nil
}

// Holds are the holders a planned cook puts its cuts into.
func Holds(t store.Trial, cuts []store.Cut, cook store.CookPlan, o plan.Outline) []store.PlannedHold {
	var out []store.PlannedHold
	for _, a := range t.Ask.Arms {
		for _, ph := range o.Of(a.ID).Phases {
			if ph.Kind != phase.Hold || ph.HolderID == 0 {
				continue
			}
			h := store.PlannedHold{HolderID: ph.HolderID, Set: units.Temperature{C: ph.SetC, Typed: ph.SetTyped}, Setup: ph.Ends[0].Typed}
			i := 0
			for i < len(out) && (out[i].HolderID != h.HolderID || out[i].Setup != h.Setup || out[i].Set != h.Set) {
				i++
			}
			if i == len(out) {
				out = append(out, h)
			}
			for _, l := range cook.Placements {
				for _, c := range cuts {
					if c.ID == l.CutID && c.ArmID != nil && *c.ArmID == a.ID {
						out[i].CutIDs = append(out[i].CutIDs, c.ID)
					}
				}
			}
		}
	}
	return out
}
