package book

import (
	"context"
	"fmt"
	"strings"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/process"
	"whitebarn/core/trial"
	"whitebarn/core/words"
	"whitebarn/internal/store"
)

// CardMeasure is one thing that every later cook of a card is checked in.
type CardMeasure struct {
	Key    trial.OutcomeKey `json:"key"`
	Name   string           `json:"name"`
	Unit   string           `json:"unit"`
	Chart  process.Chart    `json:"chart"`
	Cooks  []int            `json:"cooks"` // of each point, its number among all cooks, from 1
	Says   string           `json:"says"`  // the rule that fired, in words
	Seen   *float64         `json:"seen"`  // how far what fired lies from the middle
	Causes []process.Cause  `json:"causes"`
}

// measures puts the cooks of a version on charts; a measure with fewer than two values is left
// out.
func measures(v store.ProcessVersion, cooks []store.ProcessCook) []CardMeasure {
	out := []CardMeasure{}
	for _, c := range process.Checked {
		m := CardMeasure{Key: c.Key, Name: c.Name, Unit: c.Unit, Causes: []process.Cause{}, Cooks: []int{}}
		var values []float64
		var with []process.Cooked
		for i, k := range cooks {
			if value, ok := k.Cooked.Values[c.Key]; ok {
				values, with = append(values, value), append(with, k.Cooked)
				m.Cooks = append(m.Cooks, i+1)
			}
		}
		if len(values) < 2 {
			continue
		}
		m.Chart = process.ChartOf(values)
		m.Says = m.Chart.Said()
		if m.Chart.Since > 0 {
			base, apart := with[:process.Base], with[m.Chart.Since-1:]
			seen := stat.Mean(values[m.Chart.Since-1:], nil) - *m.Chart.Middle
			m.Seen, m.Causes = &seen, process.Causes(base, apart, c.Key, seen)
			// Said by the number of the cook, not of its value.
			m.Says = strings.Replace(m.Says, fmt.Sprintf("cook %d", m.Chart.Since), fmt.Sprintf("cook %d", m.Cooks[m.Chart.Since-1]), 1)
		}
		out = append(out, m)
	}
	return out
}

// reopened is the question that a drift asks: what is cooked now against what is held to be
// the reason.
func (d *Desk) reopened(ctx context.Context, p store.Process, v store.ProcessVersion, all []CardMeasure) trial.Ask {
	b := v.Body
	ask := trial.Ask{Question: "Why did " + p.Name + " change?", Product: b.Product, ProductID: b.ProductID, Family: b.Family, Cut: b.Cut, Held: b.Held,
		Factors: []trial.Factor{{Name: "what changed", Kind: trial.Categorical,
			SetOn: trial.UnitCut}}, Hand: trial.UsualHand, Contexts: trial.UsualContexts, Allergens: b.Allergens,
		Arms: []trial.Arm{{Tag: "CARD", Levels: trial.Levels("as now"), Control: true}, {Tag: "CHECK", Levels: trial.Levels("as in the first six cooks")}}}
	for _, m := range all {
		if m.Chart.Since == 0 {
			continue
		}
		ask.Question = words.Short(fmt.Sprintf("Why did the %s of %s move at cook %d?", strings.ToLower(m.Name), p.Name,
			m.Cooks[m.Chart.Since-1]), trial.MostQuestion)
		if d, ok := trial.DefaultOf(m.Key); ok {
			ask.Outcomes = append(ask.Outcomes, trial.Chosen{Key: d.Key, SmallestDifference: d.SmallestDifference, Source: "the barn's usual"})
		}
		if len(m.Causes) > 0 {
			ask.Factors[0].Name = strings.ToLower(m.Causes[0].Name)
		}
		break
	}
	ask.FollowsID = v.TrialID
	d.meat(ctx, &ask, v)
	return ask.Tidy()
}
