package panel

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"whitebarn/core/words"
)

// HeardRight is what tasters said of one arm on a just-about-right scale.
type HeardRight struct {
	Arm     int           `json:"arm"`
	Penalty PenaltyOutput `json:"penalty"`
	Said    string        `json:"said"`
	Costs   float64       `json:"costs"` // the heavier side, weighed by its share; 0 is none
}

// HearRight reads the scores of a just-about-right scale beside how much each sample was
// liked, arm by arm, the costliest first. Who knew the codes is not counted while others
// tasted blind.
func HearRight(a Attribute, scores, liking []Score, tags []string) []HeardRight {
	type sample struct {
		taster, flight, cut, place string
		position                   int
	}
	key := func(s Score) sample { return sample{s.Taster, s.Flight, s.Cut, s.Place, s.Position} }
	liked := map[sample]float64{}
	for _, s := range liking {
		liked[key(s)] = s.Value
	}
	ballots := make([][]JAR, len(tags))
	for _, s := range Counted(scores) {
		v := s.Value
		j := JAR{JAR: &v}
		if l, ok := liked[key(s)]; ok {
			j.Liking = &l
		}
		ballots[s.Arm] = append(ballots[s.Arm], j)
	}
	out := []HeardRight{}
	for arm, all := range ballots {
		if len(all) == 0 {
			continue
		}
		p, err := PenaltyOf(PenaltyInput{Ballots: all})
		if err != nil {
			continue
		}
		h := HeardRight{Arm: arm, Penalty: p}
		h.say(a, tags[arm])
		out = append(out, h)
	}
	slices.SortStableFunc(out, func(x, y HeardRight) int { return cmp.Compare(y.Costs, x.Costs) })
	return out
}

// say puts the heavier side into words: how many, and what it costs them.
func (h *HeardRight) say(a Attribute, tag string) {
	p := h.Penalty
	if p.N == 0 {
		h.Said = fmt.Sprintf("%s: nobody also said how much they liked it.", tag)
		return
	}
	side, word := p.Little, a.Low
	if p.Much.N > p.Little.N {
		side, word = p.Much, a.High
	}
	if side.Weighted != nil && *side.Weighted > 0 {
		h.Costs = *side.Weighted
	}
	switch {
	case side.N == 0:
		h.Said = fmt.Sprintf("%s is just right for all %d.", tag, p.N)
	case side.Drop == nil:
		h.Said = fmt.Sprintf("%s is %s for %s of you; it is just right for nobody, so what that costs cannot be told.", tag, word, share(side.Share))
	case *side.Drop >= 0.05:
		h.Said = fmt.Sprintf("%s is %s for %s of you: costs %.1f points.", tag, word, share(side.Share), *side.Drop)
	default:
		h.Said = fmt.Sprintf("%s is %s for %s of you, who like it no less.", tag, word, share(side.Share))
	}
}

// share is a part of a table as people say it.
func share(s float64) string {
	switch {
	case s >= 0.995:
		return "all"
	case s >= 0.45 && s <= 0.55:
		return "half"
	case s >= 0.3 && s <= 0.36:
		return "a third"
	case s >= 0.64 && s <= 0.7:
		return "two thirds"
	case s >= 0.23 && s <= 0.27:
		return "a quarter"
	}
	return fmt.Sprintf("%.0f in 10", max(1, 10*s))
}

// Counted are the scores that count: of who tasted blind, or all where nobody did.
func Counted(scores []Score) []Score {
	blind := slices.DeleteFunc(slices.Clone(scores), func(s Score) bool { return s.Open })
	if len(blind) == 0 {
		return scores
	}
	return blind
}

// OpenAlone says whether scores are all of tasters who knew the codes.
func OpenAlone(scores []Score) bool {
	return len(scores) > 0 && !slices.ContainsFunc(scores, func(s Score) bool { return !s.Open })
}

// HeardRepeat is how far a taster's two scores of one piece lie apart.
type HeardRepeat struct {
	Taster string  `json:"taster"`
	Pairs  int     `json:"pairs"`
	SD     float64 `json:"sd"` // of one score
	Said   string  `json:"said"`
}

// HearRepeats reads hidden duplicates: two samples of one place of a cut in one flight.
func HearRepeats(scores []Score) []HeardRepeat {
	type piece struct{ taster, flight, cut, place string }
	by := map[piece][]float64{}
	for _, s := range Counted(scores) {
		k := piece{s.Taster, s.Flight, s.Cut, s.Place}
		by[k] = append(by[k], s.Value)
	}
	square, n := map[string]float64{}, map[string]int{}
	for k, v := range by {
		if len(v) == 2 {
			square[k.taster] += (v[0] - v[1]) * (v[0] - v[1])
			n[k.taster]++
		}
	}
	out := []HeardRepeat{}
	for taster, pairs := range n {
		sd := math.Sqrt(square[taster] / float64(2*pairs))
		h := HeardRepeat{Taster: taster, Pairs: pairs, SD: sd}
		switch {
		case sd <= 0.75:
			h.Said = fmt.Sprintf("%s repeats within %.1f: a trained tongue.", taster, sd)
		case sd <= 1.5:
			h.Said = fmt.Sprintf("%s repeats within %.1f, as most do.", taster, sd)
		default:
			h.Said = fmt.Sprintf("%s gave one piece twice %.1f apart on average, in %s: it weighs little.", taster, sd*1.13, words.Plural(pairs, "pair"))
		}
		out = append(out, h)
	}
	slices.SortFunc(out, func(a, b HeardRepeat) int { return cmp.Or(cmp.Compare(a.SD, b.SD), cmp.Compare(a.Taster, b.Taster)) })
	return out
}
