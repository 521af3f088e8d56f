package panel

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
)

// RecordLine is how one taster tasted in one trial, on the attribute that sums up. Nil is what
// cannot be told.
type RecordLine struct {
	Samples int      `json:"samples"`
	Leans   *float64 `json:"leans"`   // points over what the others gave the same samples
	Agrees  *float64 `json:"agrees"`  // Spearman's rank correlation with the mean of the others
	Repeats *float64 `json:"repeats"` // sd of one score, from hidden twins
	First   *float64 `json:"first"`   // points the first sample of a plate got over the later ones
	Said    string   `json:"said"`
}

// RecordOf reads it from the scores of a trial; ok is false where the taster gave none blind.
func RecordOf(scores []Score, taster string) (line RecordLine, ok bool) {
	type sample struct{ flight, cut, place string }
	own, others := map[sample][]float64{}, map[sample][]float64{}
	var first, later []float64
	var order []sample
	for _, s := range scores {
		if s.Open {
			continue
		}
		k := sample{s.Flight, s.Cut, s.Place}
		if s.Taster != taster {
			others[k] = append(others[k], s.Value)
			continue
		}
		if own[k] == nil {
			order = append(order, k)
		}
		own[k] = append(own[k], s.Value)
		line.Samples++
		switch {
		case s.Position == 1:
			first = append(first, s.Value)
		case s.Position > 1:
			later = append(later, s.Value)
		}
	}
	if line.Samples == 0 {
		return line, false
	}
	slices.SortFunc(order, func(a, b sample) int {
		return cmp.Or(cmp.Compare(a.flight, b.flight), cmp.Compare(a.cut, b.cut), cmp.Compare(a.place, b.place))
	})
	var mine, theirs []float64
	square, pairs := 0.0, 0
	for _, k := range order {
		if v := own[k]; len(v) == 2 {
			square += (v[0] - v[1]) * (v[0] - v[1])
			pairs++
		}
		if len(others[k]) > 0 {
			mine, theirs = append(mine, *meanOf(own[k])), append(theirs, *meanOf(others[k]))
		}
	}
	if len(mine) > 0 {
		lean := *meanOf(mine) - *meanOf(theirs)
		line.Leans = &lean
	}
	if len(mine) > 2 {
		line.Agrees = spearman(mine, theirs)
	}
	if pairs > 0 {
		sd := math.Sqrt(square / float64(2*pairs))
		line.Repeats = &sd
	}
	if len(first) > 0 && len(later) > 0 {
		lift := *meanOf(first) - *meanOf(later)
		line.First = &lift
	}
	line.Said = line.say()
	return line, true
}

func (l RecordLine) say() string {
	var parts []string
	if l.Leans != nil {
		switch {
		case *l.Leans >= 0.5:
			parts = append(parts, fmt.Sprintf("%.1f kinder than the others", *l.Leans))
		case *l.Leans <= -0.5:
			parts = append(parts, fmt.Sprintf("%.1f harsher than the others", -*l.Leans))
		default:
			parts = append(parts, "as kind as the others")
		}
	}
	if l.Agrees != nil {
		switch {
		case *l.Agrees >= 0.6:
			parts = append(parts, "in their order")
		case *l.Agrees <= 0.1:
			parts = append(parts, "in an order of one's own")
		}
	}
	if l.Repeats != nil {
		parts = append(parts, fmt.Sprintf("repeats within %.1f", *l.Repeats))
	}
	if l.First != nil && math.Abs(*l.First) >= 0.75 {
		parts = append(parts, fmt.Sprintf("the first sample gets %+.1f", *l.First))
	}
	if len(parts) == 0 {
		return ""
	}
	said := strings.Join(parts, ", ") + "."
	return strings.ToUpper(said[:1]) + said[1:]
}
