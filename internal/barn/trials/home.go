package trials

import (
	"context"
	"time"

	"whitebarn/core/trial"
	"whitebarn/internal/store"
)

// Home is what the barn has before it.
type Home struct {
	Air    *store.AirNote `json:"air"` // as a hand noted it lately
	Coming []ComingCook   `json:"coming"`
	Waits  []Wait         `json:"waits"`
}

// ComingCook is a cook whose table is still to be set.
type ComingCook struct {
	TrialID  int64     `json:"trial_id"`
	Question string    `json:"question"`
	ServeAt  time.Time `json:"serve_at"`
	Cuts     int       `json:"cuts"` // placed in it
	Pits     []string  `json:"pits"`
	Shares   []string  `json:"shares"` // pits that another cook of the day wants at another heat
}

// Wait is an open question, and whom it waits on.
type Wait struct {
	TrialID int64    `json:"trial_id"`
	On      []string `json:"on"`
}

// notedFor is how long a note of the air says something.
const notedFor = 12 * time.Hour

// Home reads what the barn has before it.
func (r *Reader) Home(ctx context.Context) (Home, error) {
	out := Home{Coming: []ComingCook{}, Waits: []Wait{}}
	var err error
	if out.Air, err = r.barn.Store.AirNoted(ctx, r.barn.Now().Add(-notedFor)); err != nil {
		return out, err
	}
	coming, err := r.barn.Store.Coming(ctx, r.barn.Now())
	if err != nil {
		return out, err
	}
	zone, err := r.barn.Store.Zone(ctx)
	if err != nil {
		return out, err
	}
	day := func(k store.CookAhead) string { return k.ServeAt.In(zone).Format(time.DateOnly) }
	for _, k := range coming {
		v := ComingCook{TrialID: k.TrialID, Question: k.Question, ServeAt: k.ServeAt, Cuts: k.Cuts, Pits: k.Pits, Shares: []string{}}
		for _, other := range coming {
			if other.ID != k.ID && day(other) == day(k) {
				v.Shares = append(v.Shares, otherHeat(k, other)...)
			}
		}
		out.Coming = append(out.Coming, v)
	}
	out.Waits, err = r.waits(ctx)
	return out, err
}

// otherHeat are the pits that two cooks want at different set points.
func otherHeat(a, b store.CookAhead) (out []string) {
	for i, pit := range a.Pits {
		for j, other := range b.Pits {
			if pit == other && a.SetC[i] != b.SetC[j] {
				out = append(out, pit)
			}
		}
	}
	return out
}

// waits says of each open question whom its next step waits on.
func (r *Reader) waits(ctx context.Context) ([]Wait, error) {
	out := []Wait{}
	people, err := r.barn.Store.Crew(ctx)
	if err != nil {
		return out, err
	}
	ids, err := r.barn.Store.OpenTrialIDs(ctx)
	if err != nil {
		return out, err
	}
	ballots, err := r.barn.Store.OpenBallots(ctx)
	if err != nil {
		return out, err
	}
	steps, err := r.steps(ctx, ids)
	if err != nil {
		return out, err
	}
	for _, id := range ids {
		h := trial.Hands{OpenBallots: ballots[id]}
		for _, person := range people {
			if person.Role == store.Pitmaster {
				h.Pitmasters = append(h.Pitmasters, person.Name)
			}
			h.Crew = append(h.Crew, person.Name)
		}
		out = append(out, Wait{TrialID: id, On: trial.WaitsOn(trial.Here(steps[id]), h)})
	}
	return out, nil
}
