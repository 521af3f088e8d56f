package book

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"

	"whitebarn/core/fault"
	"whitebarn/core/plan"
	"whitebarn/core/practice"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// SimulateInput asks for so many simulated trials of a trial's layout.
type SimulateInput struct {
	Trials int              `json:"trials" binding:"min=1,max=50"`
	Seed   uint64           `json:"seed" binding:"max=1000000"`
	SoFar  *practice.Trials `json:"so_far"` // of batches before, which these are added to
}

// Simulate runs trials of an ask as it is laid out, with truths from the cook model: what its
// layout would have said, and how often wrongly.
func (d *Desk) Simulate(ctx context.Context, b *barn.Barn, in *barn.With[SimulateInput]) (practice.Trials, error) {
	t, err := d.store.Trial(ctx, in.ID)
	if err != nil {
		return practice.Trials{}, err
	}
	if t.Ask.Kind != trial.OfMeat || len(t.Ask.Arms) < 2 {
		return practice.Trials{}, barn.Refuse("There is nothing to compare.", "Ask of two ways to cook something.")
	}
	truths, err := d.truths(ctx, t)
	if err != nil {
		return practice.Trials{}, err
	}
	out, err := practice.Run(ctx, t.Ask, truths, in.Body.Trials, in.Body.Seed)
	if was := in.Body.SoFar; err == nil && was != nil {
		if len(was.Shares) != len(out.Shares) {
			return out, fault.New("so_far", "it is of another question", "begin again")
		}
		was.Add(out, t.Ask)
		out = *was
	}
	return out, err
}

// truths are what the cook model makes of each arm.
func (d *Desk) truths(ctx context.Context, t store.Trial) ([]practice.Truth, error) {
	family, pit, pressure, err := d.model(ctx, t)
	if err != nil {
		return nil, err
	}
	phases, doses, err := d.phases(ctx, t)
	if err != nil {
		return nil, err
	}
	out := make([]practice.Truth, len(t.Ask.Arms))
	for i, arm := range t.Ask.Arms {
		f, err := plan.Foresee(family, pit, pressure, 0, 0, phases[i])
		if err != nil {
			return nil, fault.In(fmt.Sprintf("arms[%d]", i), err)
		}
		out[i] = practice.TruthOf(f, doses[arm.ID].Doses)
	}
	return out, nil
}

// Taste lets simulated tasters fill every open ballot of a rehearsal. What is true is kept and
// hidden until its codes open.
var Taste = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Record, What: "let simulated tasters taste"}, taste)

func taste(ctx context.Context, a *barn.Act, in *barn.ByID) error {
	t, err := a.Store.Trial(ctx, in.ID)
	if err != nil {
		return err
	}
	if t.RehearsesID == nil {
		return barn.Refuse("This is no rehearsal.", "What people taste is what they taste. Rehearse the cook from Fire.")
	}
	if t.RevealedAt != nil {
		return barn.Refuse("Its codes are open.", "Rehearse it again.")
	}
	d := At(a.Store, a.Now)
	truths, err := d.truths(ctx, t)
	if err != nil {
		return err
	}
	kept := make([]map[trial.OutcomeKey]float64, len(truths))
	for i, x := range truths {
		kept[i] = x
	}
	if err := a.Store.KeepPracticeTruths(ctx, t.ID, kept); err != nil {
		return err
	}
	open, err := a.Store.OpenPlates(ctx, t.ID)
	if err != nil {
		return err
	}
	if len(open) == 0 {
		return barn.Refuse("No ballot is open.", "Serve a flight to seats at the table first.")
	}
	return fill(ctx, a.Store, t, truths, open)
}

// fill seals every open sample by what its cut became.
func fill(ctx context.Context, s *store.Store, t store.Trial, truths []practice.Truth, open []store.OpenPlate) error {
	r := rand.New(rand.NewPCG(uint64(t.ID), 20))
	seats := map[int64]int{}
	for _, p := range open {
		if _, ok := seats[p.TasterID]; !ok {
			seats[p.TasterID] = len(seats)
		}
	}
	p := practice.NewPanel(r, len(seats))
	places := t.Ask.ArmPlaces()
	for _, x := range open {
		arm, ok := places[x.ArmID]
		if !ok {
			continue
		}
		v := store.Sealed{Scores: map[string]int{}}
		for _, chosen := range t.Ask.Outcomes {
			d, ok := chosen.Outcome()
			if !ok || d.Kind != trial.FromPanel {
				continue
			}
			value := p.Value(d, truths[arm].Of(d), fmt.Sprint(x.CutID), fmt.Sprint(x.CookID), fmt.Sprint(arm))
			v.Scores[string(d.Key)] = p.Score(d, seats[x.TasterID], value)
		}
		if err := s.Seal(ctx, x.BallotID, x.SampleID, v); err != nil && !errors.Is(err, store.ErrConflict) {
			return err
		}
	}
	return nil
}
