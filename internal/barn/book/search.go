package book

import (
	"math"
	"slices"
	"strings"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/store"
)

// tokens are the words of a question.
func tokens(text string) []string {
	return strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return strings.ContainsRune(" ,.;?!/", r) })
}

// match is the choice most of whose words are among some; 0 for none.
func match(words []string, of []MapChoice) int64 {
	best, id := 0, int64(0)
	for _, c := range of {
		n := 0
		for _, w := range tokens(c.Name) {
			if slices.Contains(words, w) {
				n++
			}
		}
		if n > best {
			best, id = n, c.ID
		}
	}
	return id
}

// factorIn is the factor that words name, by its name or by one of its levels.
func factorIn(words []string, of []MapChoice, catalogue []store.CatalogueFactor) int64 {
	if id := match(words, of); id != 0 {
		return id
	}
	for _, f := range catalogue {
		if !slices.ContainsFunc(of, func(c MapChoice) bool { return c.ID == f.ID }) {
			continue
		}
		for _, l := range f.Levels {
			if slices.ContainsFunc(tokens(l.Value), func(w string) bool { return slices.Contains(words, w) }) {
				return f.ID
			}
		}
	}
	return 0
}

// named are the levels of a factor that words name.
func named(words []string, factor int64, catalogue []store.CatalogueFactor) map[int64]bool {
	out := map[int64]bool{}
	for _, f := range catalogue {
		for _, l := range f.Levels {
			if f.ID == factor && slices.ContainsFunc(tokens(l.Value), func(w string) bool { return slices.Contains(words, w) }) {
				out[l.ID] = true
			}
		}
	}
	return out
}

// ofNamed weighs a level that was named over any number of trials.
const ofNamed = 1 << 20

// pair is the contrast of the levels that were named, with most trials, of which most was told
// and by most, where none was chosen.
func (q *KnowChosen) pair(effects []store.KnownEffect, named map[int64]bool) {
	if q.First != 0 && q.Second != 0 {
		return
	}
	count := map[[2]int64]map[int64]bool{}
	for _, e := range effects {
		key := [2]int64{min(e.First, e.Second), max(e.First, e.Second)}
		if count[key] == nil {
			count[key] = map[int64]bool{}
		}
		count[key][e.TrialID] = true
	}
	told := []verdict.Word{verdict.CannotTell, verdict.Leaning, verdict.Same, verdict.Clear}
	best, furthest := 0, 0.0
	for _, e := range effects {
		key := [2]int64{min(e.First, e.Second), max(e.First, e.Second)}
		n, far := len(told)*len(count[key])+max(0, slices.Index(told, e.Word)), math.Abs(e.Estimate)/e.SE
		for _, level := range key {
			if named[level] {
				n += ofNamed
			}
		}
		if n > best || n == best && far > furthest {
			best, furthest, q.First, q.Second = n, far, e.First, e.Second
		}
	}
}

// outcome is what words name, else liking, else the first.
func (q *KnowChosen) outcome(words []string, of []trial.OutcomeDefault) {
	known := func(key trial.OutcomeKey) bool {
		return slices.ContainsFunc(of, func(o trial.OutcomeDefault) bool { return o.Key == key })
	}
	if known(q.Outcome) {
		return
	}
	q.Outcome = ""
	for _, o := range of {
		if slices.ContainsFunc(tokens(o.Name), func(w string) bool { return slices.Contains(words, w) }) {
			q.Outcome = o.Key
			return
		}
	}
	switch {
	case known(trial.Overall):
		q.Outcome = trial.Overall
	case len(of) > 0:
		q.Outcome = of[0].Key
	}
}
