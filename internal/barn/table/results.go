package table

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"whitebarn/core/panel"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// PanelResults are what the panel said, attribute by attribute.
type PanelResults struct {
	Named      bool               `json:"named"` // tasters are by name; otherwise by number
	Attributes []HeardOf          `json:"attributes"`
	Faults     []store.FaultCount `json:"faults"` // what tasters ticked, the most first
	Sources    []string           `json:"sources"`
}

// HeardOf is an attribute and what was said of it.
type HeardOf struct {
	Attribute Attribute   `json:"attribute"`
	Heard     panel.Heard `json:"heard"`
}

// Results reads what the panel said once the codes are open. What a taster gave is theirs and
// the pitmaster's: to others tasters are numbers, another order in each attribute.
func Results(ctx context.Context, b *barn.Barn, who store.Person, trialID int64) (out PanelResults, err error) {
	t, err := b.Store.Trial(ctx, trialID)
	if err != nil {
		return out, err
	}
	if t.RevealedAt == nil {
		return out, barn.Refuse("The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	all, err := b.Store.Scores(ctx, trialID)
	if err != nil {
		return out, err
	}
	out = PanelResults{Named: who.Role == store.Pitmaster, Attributes: []HeardOf{}, Sources: []string{panel.ConcordanceSource, panel.PositionSource}}
	tags := make([]string, len(t.Ask.Arms))
	for i, a := range t.Ask.Arms {
		tags[i] = a.Tag
	}
	for _, a := range attributes(t.Ask) {
		scores := all[trialID][a.Key]
		if len(scores) == 0 {
			continue
		}
		if !out.Named {
			scores = numbered(scores)
		}
		out.Attributes = append(out.Attributes, HeardOf{a, panel.Hear(scores, tags)})
	}
	out.Faults, err = b.Store.Faults(ctx, trialID)
	return out, err
}

// numbered puts numbers for names, in the order of what they gave, so that one attribute does
// not tell who is who in another.
func numbered(scores []panel.Score) []panel.Score {
	sums := map[string]float64{}
	for _, s := range scores {
		sums[s.Taster] += s.Value
	}
	names := make([]string, 0, len(sums))
	for name := range sums {
		names = append(names, name)
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Or(cmp.Compare(sums[b], sums[a]), cmp.Compare(a, b)) })
	out := slices.Clone(scores)
	for i := range out {
		out[i].Taster = fmt.Sprintf("Taster %d", slices.Index(names, out[i].Taster)+1)
	}
	return out
}
