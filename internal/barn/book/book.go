// Package book keeps the House Book: processes as cards with versions, the cooks that follow
// them, what the house knows, and what to try next.
package book

import (
	"context"
	"fmt"
	"time"

	"whitebarn/core/process"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
)

// Desk keeps the House Book of a barn.
type Desk struct {
	store   *store.Store
	desk    *settle.Desk
	planner *plan.Planner
}

// New returns the desk of a barn's record.
func New(s *store.Store, d *settle.Desk, p *plan.Planner) *Desk { return &Desk{s, d, p} }

// CardOverview is a card in the list.
type CardOverview struct {
	ID       int64         `json:"id"`
	Name     string        `json:"name"`
	Product  string        `json:"product"`
	Version  int           `json:"version"` // in force; 0: every one failed
	Versions int           `json:"versions"`
	Title    string        `json:"title"`
	Reach    verdict.Reach `json:"reach"`
	Says     string        `json:"says"`
	Cooks    int           `json:"cooks"` // that followed it
	Signed   []string      `json:"signed"`
	Drifts   string        `json:"drifts"` // what drifts, in a sentence; empty is nothing
}

// Cards are the cards of the barn, with the same few queries for one and many.
func (d *Desk) Cards(ctx context.Context, _ *barn.Barn) ([]CardOverview, error) {
	out := []CardOverview{}
	all, err := d.store.Processes(ctx)
	if err != nil {
		return out, err
	}
	versions, err := d.store.ProcessVersions(ctx, 0)
	if err != nil {
		return out, err
	}
	signed, err := d.store.Signatures(ctx, 0)
	if err != nil {
		return out, err
	}
	cooks, err := d.store.ProcessCooks(ctx, 0)
	if err != nil {
		return out, err
	}
	for _, p := range all {
		c := card{Process: p}
		for _, v := range versions {
			if v.ProcessID == p.ID {
				c.versions = append(c.versions, v)
			}
		}
		line := CardOverview{ID: p.ID, Name: p.Name, Versions: len(c.versions), Signed: []string{}}
		v, ok := c.inForce()
		if !ok {
			out = append(out, line)
			continue
		}
		line.Version, line.Title, line.Product, line.Reach, line.Says = v.Number, v.Title, v.Body.Product, v.Body.Evidence.Reach, v.Body.Evidence.Says
		if v.FailedAt != nil {
			line.Version = 0
		}
		for _, g := range signed {
			if g.VersionID == v.ID {
				line.Signed = append(line.Signed, g.Name)
			}
		}
		for _, k := range cooks {
			if k.VersionID == v.ID {
				c.cooks = append(c.cooks, k)
			}
		}
		line.Cooks = len(c.cooks)
		for _, m := range measures(v, c.cooks) {
			if m.Chart.Drifts && line.Drifts == "" {
				line.Drifts = fmt.Sprintf("%s drifts since cook %d.", m.Name, m.Chart.Since)
			}
		}
		out = append(out, line)
	}
	return out, nil
}

// card is a process with its rows.
type card struct {
	store.Process
	versions []store.ProcessVersion
	cooks    []store.ProcessCook // of the version in force
}

// inForce is the last version that did not fail; where all did, the last.
func (c card) inForce() (v store.ProcessVersion, ok bool) {
	for _, x := range c.versions {
		if x.FailedAt == nil || v.FailedAt != nil || !ok {
			v, ok = x, true
		}
	}
	return v, ok
}

// VersionView is a version as it is shown.
type VersionView struct {
	store.ProcessVersion
	Signed      []store.Signature           `json:"signed"`
	Differences []process.VersionDifference `json:"differences"` // from its parent
	Cooks       int                         `json:"cooks"`
}

// CardView is a card with all its versions, and how its cooks went.
type CardView struct {
	ID       int64         `json:"id"`
	Name     string        `json:"name"`
	State    string        `json:"state"` // its first line
	Watch    bool          `json:"watch"` // something asks to be looked at
	InForce  int64         `json:"in_force"`
	Versions []VersionView `json:"versions"`
	Measures []CardMeasure `json:"measures"` // of the cooks of the version in force
	Cooks    []Followed    `json:"cooks"`
	Open     []int64       `json:"open"`   // trials that are cooked by it now
	Hands    int           `json:"hands"`  // that are wanted under it: two where there are two
	Reopen   *trial.Ask    `json:"reopen"` // the question that a drift asks; nil without one
}

// Followed is a later cook of a card.
type Followed struct {
	CookID   int64     `json:"cook_id"`
	TrialID  int64     `json:"trial_id"`
	ServedAt time.Time `json:"served_at"`
}

// Card reads one card.
func (d *Desk) Card(ctx context.Context, _ *barn.Barn, id int64) (CardView, error) {
	p, err := d.store.Process(ctx, id)
	if err != nil {
		return CardView{}, err
	}
	c := card{Process: p}
	if c.versions, err = d.store.ProcessVersions(ctx, id); err != nil {
		return CardView{}, err
	}
	signed, err := d.store.Signatures(ctx, id)
	if err != nil {
		return CardView{}, err
	}
	cooks, err := d.store.ProcessCooks(ctx, id)
	if err != nil {
		return CardView{}, err
	}
	out := CardView{ID: p.ID, Name: p.Name, Versions: []VersionView{}, Measures: []CardMeasure{}, Cooks: []Followed{}}
	if out.Open, err = d.store.OpenByCard(ctx, id); err != nil {
		return out, err
	}
	people, err := d.store.People(ctx)
	if err != nil {
		return out, err
	}
	out.Hands = min(2, len(people))
	in, ok := c.inForce()
	parents := map[int64]process.CardBody{}
	for _, v := range c.versions {
		x := VersionView{ProcessVersion: v, Signed: []store.Signature{}, Differences: []process.VersionDifference{}}
		for _, g := range signed {
			if g.VersionID == v.ID {
				x.Signed = append(x.Signed, g)
			}
		}
		for _, k := range cooks {
			if k.VersionID == v.ID {
				x.Cooks++
			}
			if k.VersionID == v.ID && v.ID == in.ID {
				c.cooks = append(c.cooks, k)
				out.Cooks = append(out.Cooks, Followed{k.CookID, k.TrialID, k.ServedAt})
			}
		}
		if v.ParentID != nil {
			x.Differences = process.Compare(parents[*v.ParentID], v.Body)
		}
		parents[v.ID] = v.Body
		out.Versions = append(out.Versions, x)
	}
	if !ok {
		out.State = "Nothing is written on it yet."
		return out, nil
	}
	out.InForce = in.ID
	out.Measures = measures(in, c.cooks)
	out.state(in)
	if out.Watch {
		ask := d.reopened(ctx, p, in, out.Measures)
		out.Reopen = &ask
	}
	return out, nil
}

// state is the first line of a card.
func (v *CardView) state(in store.ProcessVersion) {
	if in.FailedAt != nil {
		v.State = fmt.Sprintf("Version %d failed: %s. Nothing is in force.", in.Number, in.Fault)
		return
	}
	said := fmt.Sprintf("Version %d.", in.Number)
	for _, m := range v.Measures {
		switch {
		case m.Chart.Drifts:
			v.State, v.Watch = fmt.Sprintf("%s %s drifts since cook %d: %s before you cook.", said, m.Name, m.Chart.Since, firstCheck(m)), true
			return
		case m.Chart.Since > 0 && !v.Watch:
			v.State, v.Watch = fmt.Sprintf("%s %s stands out at cook %d: %s.", said, m.Name, m.Chart.Since, firstCheck(m)), true
		}
	}
	if v.Watch {
		return
	}
	signed := 0
	for _, x := range v.Versions {
		if x.ID == in.ID {
			signed = len(x.Signed)
		}
	}
	switch {
	case signed < v.Hands:
		v.State = fmt.Sprintf("%s Waits for %d of %d hands.", said, v.Hands-signed, v.Hands)
	case len(v.Cooks) == 0:
		v.State = said + " Signed; not cooked since."
	case len(v.Cooks) < process.Base:
		v.State = fmt.Sprintf("%s Cooked %d times since; its limits stand at six.", said, len(v.Cooks))
	default:
		v.State = fmt.Sprintf("%s Cooked %d times since, and as it was.", said, len(v.Cooks))
	}
}

func firstCheck(m CardMeasure) string {
	for _, c := range m.Causes {
		if c.Check != "" {
			return words.Lower(c.Check)
		}
	}
	return "look at what was different"
}
