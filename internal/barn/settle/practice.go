package settle

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"whitebarn/core/panel"
	"whitebarn/core/practice"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// keepRehearsals reads rehearsals whose codes are open: each by itself, and nothing of it goes
// to the house.
func (d *Desk) keepRehearsals(ctx context.Context, ids []int64) error {
	trials, err := d.store.Trials(ctx, ids)
	if err != nil {
		return err
	}
	lines, err := d.store.VerdictLines(ctx, ids...)
	if err != nil {
		return err
	}
	for _, t := range trials {
		if _, kept := lines[t.ID]; kept || t.RehearsesID == nil || t.RevealedAt == nil || t.Ask.Kind != trial.OfMeat {
			continue
		}
		known, err := reader.One(ctx, d.store, t.ID)
		if err != nil {
			return err
		}
		cases, err := d.cases(ctx, known)
		if err != nil {
			return err
		}
		r := settle.Of(cases[0])
		if err := d.store.KeepVerdicts(ctx, []store.Judgement{{TrialID: t.ID, Result: r, House: map[string]any{}}}, nil, nil, false); err != nil {
			return err
		}
	}
	return nil
}

// told is what was true of a rehearsal, once its codes are open.
func (d *Desk) told(ctx context.Context, t store.Trial, r settle.Result) ([]TruthTold, error) {
	truths, err := d.store.PracticeTruths(ctx, t.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	out := []TruthTold{}
	for _, row := range r.Rows {
		if len(row.Pairs) == 0 {
			continue
		}
		x := TruthTold{Key: row.Outcome.Key, Name: row.Outcome.Name}
		for _, truth := range truths {
			v := practice.Truth(truth).Of(row.Outcome)
			if row.Outcome.Right {
				v = math.Abs(v - panel.JustRight)
			}
			x.Values = append(x.Values, v)
		}
		x.Says = concluded(t.Ask, row, x.Values)
		out = append(out, x)
	}
	return out, nil
}

// concluded sets the truth beside what was concluded, of the arms that truly lie furthest apart.
func concluded(ask trial.Ask, row settle.Row, truth []float64) string {
	low, high := slices.Index(truth, slices.Min(truth)), slices.Index(truth, slices.Max(truth))
	if low == high || high >= len(ask.Arms) {
		return "Truly the same in every arm."
	}
	better, worse := high, low
	if row.Outcome.Better == trial.Down {
		better, worse = low, high
	}
	said := fmt.Sprintf("Truly %s is better by %.1f.", ask.Arms[better].Tag, truth[high]-truth[low])
	for _, p := range row.Pairs {
		if p.A != min(better, worse) || p.B != max(better, worse) {
			continue
		}
		s := p.Widest()
		switch {
		case s.Winner != nil && *s.Winner == better && s.Word == verdict.Clear:
			return said + " You found it."
		case s.Winner != nil && *s.Winner == better:
			return said + " You lean the right way."
		case s.Winner != nil:
			return said + " You went wrong: chance did that."
		case s.Word == verdict.Same && truth[high]-truth[low] < row.SmallestDifference:
			return said + " Too little to matter, as you said."
		}
	}
	return said + " You could not tell."
}
