// Package settle reads the verdict of a trial whose codes are open, with the house's
// own spread beside it, and keeps the line that lists show of it.
package settle

import (
	"context"
	"fmt"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/cost"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Desk settles the trials of a barn.
type Desk struct {
	store *store.Store
	now   func() time.Time
}

// New returns the desk of a barn's record; now is the barn's time.
func New(s *store.Store, now func() time.Time) *Desk { return &Desk{s, now} }

// View is a verdict as it was read when the codes were opened, and how it reads since.
type View struct {
	settle.Result
	ReadAt time.Time `json:"read_at"`
	Late   bool      `json:"late"`  // read long after the codes were opened, by the rules of then
	Since  *Since    `json:"since"` // nil where nothing made it read otherwise
	Looks  []Looked  `json:"looks"` // codes of a cook that were opened before

	Standings []settle.Standing `json:"standings"`                 // of each context
	Truths    []TruthTold       `json:"truths,omitempty"`          // of a rehearsal that simulated tasters tasted
	SinceThen []settle.Standing `json:"standings_since,omitempty"` // of the later reading
}

// TruthTold is what was true of an outcome of a rehearsal, beside what was concluded.
type TruthTold struct {
	Key    trial.OutcomeKey `json:"key"`
	Name   string           `json:"name"`
	Values []float64        `json:"values"` // of each arm
	Says   string           `json:"says"`
}

// Since is a later reading; it stands beside the first, never instead.
type Since struct {
	At      time.Time     `json:"at"`
	Because string        `json:"because"`
	Result  settle.Result `json:"result"`
}

// Looked is what the codes of one cook showed.
type Looked struct {
	CookID   int64     `json:"cook_id"`
	At       time.Time `json:"at"`
	Headline string    `json:"headline"`
}

// Read reads the verdict of a trial as it was kept, or refuses while its codes are closed.
func (d *Desk) Read(ctx context.Context, id int64) (View, error) {
	t, err := d.store.Trial(ctx, id)
	if err != nil {
		return View{}, err
	}
	if t.RevealedAt == nil && t.Ask.Kind == trial.OfSetUps {
		return View{}, barn.Refuse("It is not settled yet.", "Burn every set-up with a probe on the grate, then settle it.")
	}
	if t.RevealedAt == nil {
		return View{}, barn.Refuse("The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	if _, err := d.Lines(ctx, []int64{id}); err != nil {
		return View{}, err
	}
	versions, err := d.store.VerdictVersions(ctx, id)
	if err != nil || len(versions) == 0 {
		return View{}, err
	}
	v, err := viewOf(versions)
	if err != nil {
		return v, err
	}
	v.Standings = standings(t.Ask, v.Result)
	if v.Since != nil {
		v.SinceThen = standings(t.Ask, v.Since.Result)
	}
	looks, err := d.store.Looks(ctx, id)
	if err != nil {
		return v, err
	}
	v.Looks = []Looked{}
	for _, l := range looks {
		if l.OpenedAt != nil {
			v.Looks = append(v.Looks, Looked{l.CookID, *l.OpenedAt, l.Headline})
		}
	}
	if t.RehearsesID != nil {
		v.Truths, err = d.told(ctx, t, v.Result)
	}
	return v, err
}

// viewOf puts the versions of a verdict together. Of one that was read before whole
// readings were kept, the sentence stands, over the rows of the first whole one.
func viewOf(versions []store.VerdictVersion) (View, error) {
	first, last := versions[0], versions[len(versions)-1]
	v := View{ReadAt: first.At, Late: first.Late}
	for _, x := range versions {
		if x.Result != nil {
			v.Result = *x.Result
			break
		}
	}
	if v.Rules == 0 {
		return v, fmt.Errorf("no whole reading is kept of this verdict")
	}
	v.Rules, v.Headline = first.Rules, first.Headline
	if len(versions) > 1 && last.Result != nil {
		v.Since = &Since{last.At, last.Because, *last.Result}
	}
	return v, nil
}

// Of reads a trial anew, by the rules and the house's evidence of today.
func (d *Desk) Of(ctx context.Context, id int64) (settle.Result, error) {
	j, err := d.judgement(ctx, id)
	return j.Result, err
}

func (d *Desk) judgement(ctx context.Context, id int64) (store.Judgement, error) {
	known, err := reader.One(ctx, d.store, id)
	if err != nil {
		return store.Judgement{}, err
	}
	if known.Ask.Kind == trial.OfSetUps {
		return d.setUps(ctx, id)
	}
	cases, err := d.cases(ctx, known)
	if err != nil {
		return store.Judgement{}, err
	}
	house, err := d.house(ctx, known.Ask.ProductID)
	if err != nil {
		return store.Judgement{}, err
	}
	return judge(cases[0], known, house), nil
}

// ReadAnew reads every settled trial once that was last read by older rules, and keeps that
// beside what was kept.
func (d *Desk) ReadAnew(ctx context.Context) error {
	ids, err := d.store.ReadByOlderRules(ctx, settle.Rules)
	if err != nil {
		return err
	}
	for _, id := range ids {
		j, err := d.judgement(ctx, id)
		if err != nil {
			return fmt.Errorf("read trial %d by the new rules: %w", id, err)
		}
		if err := d.store.KeepVersion(ctx, j, "the rules changed"); err != nil {
			return err
		}
	}
	return nil
}

// House is the barn's own spread of what an ask cooks, by the kind of unit; one
// trial is left out.
func (d *Desk) House(ctx context.Context, not int64, ask trial.Ask, inBlocks bool) (map[trial.UnitKind]settle.House, error) {
	house, err := d.house(ctx, ask.ProductID)
	if err != nil {
		return nil, err
	}
	return settle.HousesOf(house.but(not, ask.ProductID), ask, inBlocks), nil
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
	if _, err := d.house(ctx, products...); err != nil {
		return nil, err
	}
	if err := d.keepSetUps(ctx, ids); err != nil {
		return nil, err
	}
	if err := d.keepRehearsals(ctx, ids); err != nil {
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
	j, err := d.judgement(ctx, id)
	if err != nil {
		return err
	}
	if err := d.store.KeepVersion(ctx, j, "the record changed"); err != nil {
		return err
	}
	return d.keepCooks(ctx, id)
}

// Versions are how a verdict read when the codes were opened, and how it read since.
func (d *Desk) Versions(ctx context.Context, _ *barn.Barn, id int64) ([]store.VerdictVersion, error) {
	return d.store.VerdictVersions(ctx, id)
}

// evidenceOfHouse is what the settled trials of some products know for others.
type evidenceOfHouse struct {
	pools     []store.Pool
	contrasts []store.HouseContrast
}

// house reads it; trials that have no reading yet are judged before.
func (d *Desk) house(ctx context.Context, products ...int64) (h evidenceOfHouse, err error) {
	missing, err := d.store.Unjudged(ctx, products...)
	if err != nil {
		return h, err
	}
	if len(missing) > 0 {
		if err := d.keep(ctx, missing); err != nil {
			return h, err
		}
	}
	return d.kept(ctx, products...)
}

func (d *Desk) kept(ctx context.Context, products ...int64) (h evidenceOfHouse, err error) {
	if h.pools, err = d.store.Pools(ctx, products...); err != nil {
		return h, err
	}
	h.contrasts, err = d.store.Contrasts(ctx, products...)
	return h, err
}

// keep judges all trials of some products that have no reading yet, and keeps them, with
// the same few queries for one and many. They judge each other: each borrows from all
// the others.
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
	var fresh evidenceOfHouse
	late := true
	for i, t := range known {
		products = append(products, t.Ask.ProductID)
		late = late && d.now().Sub(*t.RevealedAt) > time.Minute
		for _, p := range cases[i].Pools() {
			fresh.pools = append(fresh.pools, store.Pool{TrialID: t.ID, ProductID: t.Ask.ProductID, Pool: p})
		}
		for _, c := range cases[i].Contrasts() {
			fresh.contrasts = append(fresh.contrasts, store.HouseContrast{TrialID: t.ID, ProductID: t.Ask.ProductID, Contrast: c})
		}
	}
	house, err := d.kept(ctx, products...)
	if err != nil {
		return err
	}
	house.pools, house.contrasts = append(house.pools, fresh.pools...), append(house.contrasts, fresh.contrasts...)
	all := make([]store.Judgement, len(known))
	for i, t := range known {
		all[i] = judge(cases[i], t, house)
	}
	if err := d.store.KeepVerdicts(ctx, all, fresh.pools, fresh.contrasts, late); err != nil {
		return err
	}
	if err := d.keepCooks(ctx, ids...); err != nil {
		return err
	}
	return d.tellOthers(ctx, ids, fresh.contrasts)
}

// tellOthers reads the settled trials anew that compared levels which others just compared
// too. Where the sentence comes out otherwise, that stands beside what was kept.
func (d *Desk) tellOthers(ctx context.Context, fresh []int64, contrasts []store.HouseContrast) error {
	ids, err := d.store.Compared(ctx, contrasts, fresh)
	if err != nil {
		return err
	}
	for _, id := range ids {
		versions, err := d.store.VerdictVersions(ctx, id)
		if err != nil {
			return err
		}
		j, err := d.judgement(ctx, id)
		if err != nil {
			return fmt.Errorf("read trial %d beside a later one: %w", id, err)
		}
		if j.Result.Headline == versions[len(versions)-1].Headline {
			continue
		}
		if err := d.store.KeepVersion(ctx, j, "a later trial compared the same"); err != nil {
			return err
		}
	}
	return nil
}

// cases are trials as they are judged.
func (d *Desk) cases(ctx context.Context, known ...evidence.Trial) ([]settle.Trial, error) {
	now := d.now()
	if err := reader.Heat(ctx, d.store, known, now); err != nil {
		return nil, err
	}
	if err := reader.Air(ctx, d.store, known, now); err != nil {
		return nil, err
	}
	if err := reader.Gates(ctx, d.store, known, now); err != nil {
		return nil, err
	}
	zone, err := d.store.Zone(ctx)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(known))
	for i, t := range known {
		ids[i] = t.ID
	}
	plans, err := d.store.ReadPlans(ctx, ids...)
	if err != nil {
		return nil, err
	}
	costs, err := costsOf(ctx, d.store, known, now)
	if err != nil {
		return nil, err
	}
	out := make([]settle.Trial, len(known))
	for i, t := range known {
		out[i] = settle.From(t, zone)
		for j := range out[i].Cuts {
			c := &out[i].Cuts[j]
			if k, ok := costs[c.ID]; ok {
				c.CentsKg = k.CentsPerKg
				if k.FuelKg > 0 {
					c.FuelKg = &k.FuelKg
				}
			}
		}
		out[i].Look = lookOf(plans[t.ID])
	}
	return out, nil
}

// costsOf reckons the cuts of those trials that are decided by what they cost or burned.
func costsOf(ctx context.Context, s *store.Store, known []evidence.Trial, now time.Time) (map[int64]cost.CutCost, error) {
	var of []evidence.Trial
	for _, t := range known {
		if slices.ContainsFunc(t.Ask.Outcomes, func(o trial.Chosen) bool { return o.Key == trial.Cost || o.Key == trial.Fuel }) {
			of = append(of, t)
		}
	}
	if len(of) == 0 {
		return nil, nil
	}
	return cost.Of(ctx, s, of, now)
}

func judge(c settle.Trial, t evidence.Trial, house evidenceOfHouse) store.Judgement {
	c = lend(c, t, house)
	r := settle.Of(c)
	return store.Judgement{TrialID: t.ID, Result: r, House: map[string]any{"spreads": c.House, "cooks": c.Others}, Sizes: c.Sizes(r)}
}

// lend gives a trial what the house's other trials of its product know.
func lend(c settle.Trial, t evidence.Trial, house evidenceOfHouse) settle.Trial {
	c.House = settle.HousesOf(house.but(t.ID, t.Ask.ProductID), t.Ask, c.InBlocks())
	for _, x := range house.contrasts {
		if x.TrialID != t.ID && x.ProductID == t.Ask.ProductID {
			c.Others = append(c.Others, x.Contrast)
		}
	}
	return c
}

// but are the pools of a product's trials but one.
func (h evidenceOfHouse) but(not, product int64) []settle.Pool {
	var out []settle.Pool
	for _, p := range h.pools {
		if p.TrialID != not && p.ProductID == product {
			out = append(out, p.Pool)
		}
	}
	return out
}
