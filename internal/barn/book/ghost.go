package book

import (
	"context"
	"errors"
	"time"

	"gonum.org/v1/gonum/stat"

	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Ghost is a cook that could be laid over another of its product.
type Ghost struct {
	CookID   int64     `json:"cook_id"`
	TrialID  int64     `json:"trial_id"`
	Question string    `json:"question"`
	ServedAt time.Time `json:"served_at"`
}

// Ghosts are the cooks of a trial's product whose codes are open, its own among them, the newest
// first.
type Ghosts struct {
	Cooks []Ghost `json:"cooks"`
}

// Ghosts lists them.
func (d *Desk) Ghosts(ctx context.Context, _ *barn.Barn, id int64) (Ghosts, error) {
	all, err := d.store.OpenCooks(ctx, id)
	out := Ghosts{Cooks: []Ghost{}}
	for _, k := range all {
		out.Cooks = append(out.Cooks, Ghost(k))
	}
	return out, err
}

// ArmShape is how an arm went in a cook: the mean core of its cuts over the hours since they
// went on, the time to the pull, and the cooked yield.
type ArmShape struct {
	ArmID  int64        `json:"arm_id"`
	Tag    string       `json:"tag"`
	Cuts   int          `json:"cuts"`
	Points [][2]float64 `json:"points"` // h, C
	Hours  *float64     `json:"hours"`
	Kept   *float64     `json:"kept"` // %
}

// Shape is how a cook went, arm by arm.
type Shape struct {
	CookID int64      `json:"cook_id"`
	Arms   []ArmShape `json:"arms"`
}

// shapeStep is how far apart its points are, h.
const shapeStep = 0.25

// Shape reads how a cook went. Its codes must be open: which cut is of which arm is said.
func (d *Desk) Shape(ctx context.Context, _ *barn.Barn, cookID int64) (Shape, error) {
	out := Shape{CookID: cookID, Arms: []ArmShape{}}
	trialID, err := d.store.TrialOf(ctx, "cook", cookID)
	if err != nil {
		return out, err
	}
	known, err := reader.One(ctx, d.store, trialID)
	if err != nil {
		return out, err
	}
	if known.RevealedAt == nil {
		return out, barn.Refuse("The codes of that cook are closed.", "Open them on the Table first.")
	}
	traces, err := d.cores(ctx, cookID)
	if err != nil {
		return out, err
	}
	cuts := known.InCook(cookID)
	for _, arm := range known.Ask.Arms {
		s := ArmShape{ArmID: arm.ID, Tag: arm.Tag, Points: [][2]float64{}}
		var hours, kept []float64
		sums, n := map[int]float64{}, map[int]float64{}
		last := 0
		for _, c := range cuts {
			if c.ArmID != arm.ID {
				continue
			}
			s.Cuts++
			on, pull, ok := c.Cooked()
			if !ok {
				continue
			}
			hours = append(hours, c.OnFire(pull).Hours())
			account := known.Account(c)
			if y := account.CookedYieldRested; y != nil {
				kept = append(kept, 100*y.Value)
			} else if y := account.CookedYield; y != nil {
				kept = append(kept, 100*y.Value)
			}
			for _, p := range traces[c.ID] {
				if h := p.at.Sub(on).Hours(); h >= 0 && !p.at.After(pull) {
					i := int(h / shapeStep)
					sums[i], n[i] = sums[i]+p.c, n[i]+1
					last = max(last, i)
				}
			}
		}
		for i := 0; i <= last; i++ {
			if n[i] > 0 {
				s.Points = append(s.Points, [2]float64{(float64(i) + 0.5) * shapeStep, sums[i] / n[i]})
			}
		}
		s.Hours, s.Kept = meanOf(hours), meanOf(kept)
		out.Arms = append(out.Arms, s)
	}
	return out, nil
}

func meanOf(v []float64) *float64 {
	if len(v) == 0 {
		return nil
	}
	m := stat.Mean(v, nil)
	return &m
}

type reading struct {
	at time.Time
	c  float64
}

// cores are the readings of the cuts of a cook, thinned.
func (d *Desk) cores(ctx context.Context, cookID int64) (map[int64][]reading, error) {
	out := map[int64][]reading{}
	first, last, ok, err := d.store.Span(ctx, cookID)
	if err != nil || !ok {
		if errors.Is(err, store.ErrNotFound) {
			err = nil
		}
		return out, err
	}
	assigned, err := d.store.Assignments(ctx, cookID)
	if err != nil {
		return out, err
	}
	columns := max(1, int(last.Sub(first).Hours()/shapeStep))
	buckets, err := d.store.Traces(ctx, assigned, first, last.Add(time.Second), columns)
	if err != nil {
		return out, err
	}
	cut := map[int64]int64{}
	for _, a := range assigned {
		if a.CutID != nil {
			cut[a.ProbeID] = *a.CutID
		}
	}
	width := last.Sub(first) / time.Duration(columns)
	for _, b := range buckets {
		if id, ok := cut[b.ProbeID]; ok {
			out[id] = append(out[id], reading{first.Add(time.Duration(b.N)*width + width/2), (b.Min + b.Max) / 2})
		}
	}
	return out, nil
}
