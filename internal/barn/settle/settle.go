// Package settle reads the verdict of a trial whose codes are open, with the house's
// own spread beside it, and keeps the line that lists show of it.
package settle

import (
	"context"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Desk settles the trials of a barn.
type Desk struct{ store *store.Store }

// New returns the desk of a barn's record.
func New(s *store.Store) *Desk { return &Desk{s} }

// Of reads the verdict of a trial; its codes must be open.
func (d *Desk) Of(ctx context.Context, id int64) (settle.Result, error) {
	known, err := reader.Read(ctx, d.store, id)
	if err != nil {
		return settle.Result{}, err
	}
	if len(known) == 0 {
		return settle.Result{}, store.ErrNotFound
	}
	results, err := d.judge(ctx, known)
	if err != nil {
		return settle.Result{}, err
	}
	return results[0], nil
}

// House pools the spread of the barn's settled trials of what an ask cooks, by the
// kind of unit; one trial is left out.
func (d *Desk) House(ctx context.Context, not int64, ask trial.Ask, inBlocks bool) (map[trial.UnitKind]settle.House, error) {
	h, err := d.houses(ctx, ask.ProductID)
	if err != nil {
		return nil, err
	}
	return settle.HousesOf(h.but(not, ask.ProductID), ask, inBlocks), nil
}

// Lines reads what lists show of settled trials. One that has no line yet is
// judged, and the line kept.
func (d *Desk) Lines(ctx context.Context, ids []int64) (map[int64]store.VerdictLine, error) {
	lines, err := d.store.VerdictLines(ctx, ids...)
	if err != nil {
		return nil, err
	}
	var missing []int64
	for _, id := range ids {
		if _, there := lines[id]; !there {
			missing = append(missing, id)
		}
	}
	if len(missing) == 0 {
		return lines, nil
	}
	known, err := reader.Read(ctx, d.store, missing...)
	if err != nil {
		return nil, err
	}
	results, err := d.judge(ctx, known)
	if err != nil {
		return nil, err
	}
	fresh := make([]store.VerdictLine, len(known))
	for i, t := range known {
		fresh[i] = store.VerdictLine{TrialID: t.ID, Word: results[i].FirstWord(), Headline: results[i].Headline}
		lines[t.ID] = fresh[i]
	}
	return lines, d.store.KeepVerdictLines(ctx, fresh)
}

// judge reads the verdicts of trials, with the same few queries for one and many.
func (d *Desk) judge(ctx context.Context, known []evidence.Trial) ([]settle.Result, error) {
	if err := reader.Heat(ctx, d.store, known, time.Now()); err != nil {
		return nil, err
	}
	zone, err := d.store.Zone(ctx)
	if err != nil {
		return nil, err
	}
	var products []int64
	for _, t := range known {
		products = append(products, t.Ask.ProductID)
	}
	h, err := d.houses(ctx, products...)
	if err != nil {
		return nil, err
	}
	out := make([]settle.Result, len(known))
	for i, t := range known {
		s, err := settle.From(t, zone)
		if err != nil {
			return nil, err
		}
		s.House = settle.HousesOf(h.but(t.ID, t.Ask.ProductID), t.Ask, s.InBlocks())
		out[i] = settle.Of(s)
	}
	return out, nil
}

// past are the settled trials of some products.
type past []struct {
	id, product int64
	settle.Trial
}

func (p past) but(not, product int64) []settle.Trial {
	var out []settle.Trial
	for _, t := range p {
		if t.id != not && t.product == product {
			out = append(out, t.Trial)
		}
	}
	return out
}

func (d *Desk) houses(ctx context.Context, products ...int64) (past, error) {
	ids, err := d.store.SettledOf(ctx, products...)
	if err != nil || len(ids) == 0 {
		return nil, err
	}
	known, err := reader.Read(ctx, d.store, ids...)
	if err != nil {
		return nil, err
	}
	zone, err := d.store.Zone(ctx)
	if err != nil {
		return nil, err
	}
	out := make(past, len(known))
	for i, t := range known {
		out[i].id, out[i].product = t.ID, t.Ask.ProductID
		if out[i].Trial, err = settle.From(t, zone); err != nil {
			return nil, err
		}
	}
	return out, nil
}
