package settle

import (
	"context"
	"time"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/store"
)

// setUps reads a trial of set-ups anew.
func (d *Desk) setUps(ctx context.Context, id int64) (j store.Judgement, err error) {
	t, err := d.store.Trial(ctx, id)
	if err != nil {
		return j, err
	}
	read, err := pits.ReadSetUps(ctx, d.store, t)
	if err != nil {
		return j, err
	}
	all := read.Burned(t.Ask)
	if len(all) < 2 {
		return store.Judgement{TrialID: id, Result: settle.NoSetUps(), House: map[string]any{}}, nil
	}
	result, err := settle.OfSetUps(read.Pit.Name, all)
	return store.Judgement{TrialID: id, Result: result, House: map[string]any{}}, err
}

// keepSetUps reads those of trials for the first time that are of set-ups and have no
// reading yet.
func (d *Desk) keepSetUps(ctx context.Context, ids []int64) error {
	trials, err := d.store.Trials(ctx, ids)
	if err != nil {
		return err
	}
	lines, err := d.store.VerdictLines(ctx, ids...)
	if err != nil {
		return err
	}
	for _, t := range trials {
		if _, kept := lines[t.ID]; kept || t.Ask.Kind != trial.OfSetUps || t.RevealedAt == nil {
			continue
		}
		j, err := d.setUps(ctx, t.ID)
		if err != nil {
			return err
		}
		late := d.now().Sub(*t.RevealedAt) > time.Minute
		if err := d.store.KeepVerdicts(ctx, []store.Judgement{j}, nil, nil, late); err != nil {
			return err
		}
	}
	return nil
}

// MayEnd refuses to settle a trial of set-ups of which fewer than two tell anything.
func (d *Desk) MayEnd(ctx context.Context, id int64) error {
	t, err := d.store.Trial(ctx, id)
	if err != nil || t.Ask.Kind != trial.OfSetUps {
		return err
	}
	j, err := d.setUps(ctx, id)
	if err == nil && len(j.Result.SetUps) == 0 {
		err = barn.Refuse(j.Result.Headline, "Burn each at least once, with a probe on the grate.")
	}
	return err
}
