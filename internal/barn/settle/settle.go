// Package settle reads the verdict of a trial whose codes are open, with the house's
// own spread beside it, and keeps the line that lists show of it.
package settle

import (
	"context"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Desk settles the trials of a barn.
type Desk struct{ store *store.Store }

// New returns the desk of a barn's record.
func New(s *store.Store) *Desk { return &Desk{s} }

// Read reads the verdict of a trial, or refuses while its codes are closed.
func (d *Desk) Read(ctx context.Context, id int64) (settle.Result, error) {
	t, err := d.store.Trial(ctx, id)
	if err != nil {
		return settle.Result{}, err
	}
	if t.RevealedAt == nil {
		return settle.Result{}, barn.Refuse("The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	return d.Of(ctx, id)
}

// Of reads the verdict of a trial; its codes must be open.
func (d *Desk) Of(ctx context.Context, id int64) (settle.Result, error) {
	known, err := reader.One(ctx, d.store, id)
	if err != nil {
		return settle.Result{}, err
	}
	cases, err := d.cases(ctx, known)
	if err != nil {
		return settle.Result{}, err
	}
	pools, err := d.pools(ctx, known.Ask.ProductID)
	if err != nil {
		return settle.Result{}, err
	}
	return judge(cases[0], known, pools), nil
}

// House is the barn's own spread of what an ask cooks, by the kind of unit; one
// trial is left out.
func (d *Desk) House(ctx context.Context, not int64, ask trial.Ask, inBlocks bool) (map[trial.UnitKind]settle.House, error) {
	pools, err := d.pools(ctx, ask.ProductID)
	if err != nil {
		return nil, err
	}
	return settle.HousesOf(but(pools, not, ask.ProductID), ask, inBlocks), nil
}

// Lines reads what lists show of settled trials. One that has no line yet is
// judged, and the line kept.
func (d *Desk) Lines(ctx context.Context, ids []int64) (map[int64]store.VerdictLine, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	lines, err := d.store.VerdictLines(ctx, ids...)
	if err != nil {
		return nil, err
	}
	if len(lines) == len(ids) {
		return lines, nil
	}
	products, err := d.store.ProductsOf(ctx, ids...)
	if err != nil {
		return nil, err
	}
	if _, err := d.pools(ctx, products...); err != nil {
		return nil, err
	}
	return d.store.VerdictLines(ctx, ids...)
}

// Anew reads the verdict of a trial again after its record changed. Where it comes out
// otherwise, that stands beside what was read when the codes were opened. A trial whose
// codes are closed has none.
func (d *Desk) Anew(ctx context.Context, id int64) error {
	t, err := d.store.Trial(ctx, id)
	if err != nil || t.RevealedAt == nil {
		return err
	}
	r, err := d.Of(ctx, id)
	if err != nil {
		return err
	}
	return d.store.KeepVersion(ctx, store.VerdictLine{TrialID: id, Word: r.FirstWord(), Headline: r.Headline})
}

// Versions are how a verdict read when the codes were opened, and how it read since.
func (d *Desk) Versions(ctx context.Context, _ *barn.Barn, id int64) ([]store.VerdictVersion, error) {
	return d.store.VerdictVersions(ctx, id)
}

// pools are what the settled trials of products know of spreads; those that have no
// line yet are judged before.
func (d *Desk) pools(ctx context.Context, products ...int64) ([]store.Pool, error) {
	missing, err := d.store.Unjudged(ctx, products...)
	if err != nil {
		return nil, err
	}
	if len(missing) > 0 {
		if err := d.keep(ctx, missing); err != nil {
			return nil, err
		}
	}
	return d.store.Pools(ctx, products...)
}

// keep judges all trials of some products that have no line yet, and keeps the
// lines, with the same few queries for one and many. They judge each other: each
// borrows from all the others.
func (d *Desk) keep(ctx context.Context, ids []int64) error {
	known, err := reader.Read(ctx, d.store, ids...)
	if err != nil {
		return err
	}
	cases, err := d.cases(ctx, known...)
	if err != nil {
		return err
	}
	var products []int64
	var fresh []store.Pool
	for i, t := range known {
		products = append(products, t.Ask.ProductID)
		for _, p := range cases[i].Pools() {
			fresh = append(fresh, store.Pool{TrialID: t.ID, ProductID: t.Ask.ProductID, Pool: p})
		}
	}
	pools, err := d.store.Pools(ctx, products...)
	if err != nil {
		return err
	}
	pools = append(pools, fresh...)
	lines := make([]store.VerdictLine, len(known))
	for i, t := range known {
		r := judge(cases[i], t, pools)
		lines[i] = store.VerdictLine{TrialID: t.ID, Word: r.FirstWord(), Headline: r.Headline}
	}
	return d.store.KeepVerdicts(ctx, lines, fresh)
}

// cases are trials as they are judged.
func (d *Desk) cases(ctx context.Context, known ...evidence.Trial) ([]settle.Trial, error) {
	now := time.Now()
	if err := reader.Heat(ctx, d.store, known, now); err != nil {
		return nil, err
	}
	if err := reader.Gates(ctx, d.store, known, now); err != nil {
		return nil, err
	}
	zone, err := d.store.Zone(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]settle.Trial, len(known))
	for i, t := range known {
		out[i] = settle.From(t, zone)
	}
	return out, nil
}

func judge(c settle.Trial, t evidence.Trial, pools []store.Pool) settle.Result {
	c.House = settle.HousesOf(but(pools, t.ID, t.Ask.ProductID), t.Ask, c.InBlocks())
	return settle.Of(c)
}

// but are the pools of a product's trials but one.
func but(pools []store.Pool, not, product int64) []settle.Pool {
	var out []settle.Pool
	for _, p := range pools {
		if p.TrialID != not && p.ProductID == product {
			out = append(out, p.Pool)
		}
	}
	return out
}
