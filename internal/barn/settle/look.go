package settle

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/evidence"
	"whitebarn/core/panel"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// lookOf says which reading of a trial the next is.
func lookOf(p store.ReadPlan) settle.Look {
	l := settle.Look{Planned: float64(p.Units), Cooks: p.Cooks, Times: 1, Earlier: map[trial.OutcomeKey]map[[2]int][]verdict.Look{}}
	interim := 0
	for _, x := range p.Looks {
		if x.OpenedAt == nil {
			continue
		}
		l.Times++
		if x.Kind == settle.Interim {
			interim++
		}
		for _, f := range x.Figures {
			if l.Earlier[f.Key] == nil {
				l.Earlier[f.Key] = map[[2]int][]verdict.Look{}
			}
			at := [2]int{f.A, f.B}
			l.Earlier[f.Key][at] = append(l.Earlier[f.Key][at], f.Look)
		}
	}
	switch {
	case l.Times == 1:
	case l.Times == 2 && interim == 1:
		l.Kind = settle.AfterInterim
	default:
		l.Kind = settle.Other
	}
	return l
}

// Look reads the cuts of one cook of a trial whose codes are still closed. It is the
// interim look if it was named before anything was served, and nothing else was opened.
func (d *Desk) Look(ctx context.Context, trialID, cookID int64) (store.Look, error) {
	out := store.Look{CookID: cookID, Kind: settle.Other}
	t, err := reader.One(ctx, d.store, trialID)
	if err != nil {
		return out, err
	}
	scores, err := d.store.Scores(ctx, trialID)
	if err != nil {
		return out, err
	}
	t = ofCook(t, cookID, scores[trialID])
	cases, err := d.cases(ctx, t)
	if err != nil {
		return out, err
	}
	looks, err := d.store.Looks(ctx, trialID)
	if err != nil {
		return out, err
	}
	named := func(l store.Look) bool { return l.CookID == cookID && l.NamedAt != nil }
	opened := func(l store.Look) bool { return l.OpenedAt != nil }
	if slices.ContainsFunc(looks, named) && !slices.ContainsFunc(looks, opened) {
		out.Kind = settle.Interim
	}
	c := cases[0]
	c.Look.Kind = out.Kind
	house, err := d.house(ctx, t.Ask.ProductID)
	if err != nil {
		return out, err
	}
	r := judge(c, t, house).Result
	out.Result, out.Headline = &r, r.Headline
	for key, pairs := range c.Looks() {
		for at, look := range pairs {
			out.Figures = append(out.Figures, store.LookFigure{Key: key, A: at[0], B: at[1], Look: look})
		}
	}
	slices.SortFunc(out.Figures, func(a, b store.LookFigure) int {
		return strings.Compare(fmt.Sprint(a.Key, a.A, a.B), fmt.Sprint(b.Key, b.A, b.B))
	})
	return out, nil
}

// ofCook is a trial with the cuts of one cook alone, and their scores.
func ofCook(t evidence.Trial, cookID int64, scores map[trial.OutcomeKey][]panel.Score) evidence.Trial {
	t.Cuts = t.InCook(cookID)
	names := map[string]bool{}
	for _, c := range t.Cuts {
		names[c.Name] = true
	}
	t.Scores = map[trial.OutcomeKey][]panel.Score{}
	for key, all := range scores {
		for _, s := range all {
			if names[s.Cut] {
				t.Scores[key] = append(t.Scores[key], s)
			}
		}
	}
	return t
}
