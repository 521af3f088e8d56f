package panel

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// PlateAnswer is what one taster said of a whole plate: samples in the order of the plate.
type PlateAnswer struct {
	Format  Format
	Flight  string
	Taster  string
	Open    bool
	Reason  string
	Samples []AnsweredSample
}

// AnsweredSample is a sample with its arm, in order from 0, and what was said of it.
type AnsweredSample struct {
	Arm    int
	Cut    string
	Rank   int // 0 is none
	Picked bool
}

// HeardPlates is what was said of plates as one, in one format of one pair of arms, or of all.
type HeardPlates struct {
	Format  Format      `json:"format"`
	Name    string      `json:"name"`
	N       int         `json:"n"`       // answers of who tasted blind
	Open    int         `json:"n_open"`  // and of who knew the codes, which are not counted
	Right   int         `json:"right"`   // of a test of three
	Counts  []int       `json:"counts"`  // by arm: put first, or picked
	None    int         `json:"none"`    // no preference
	Sums    []float64   `json:"sums"`    // of ranks, by arm
	P       *float64    `json:"p"`       // that luck alone does as much
	Said    []string    `json:"said"`    // in sentences
	Reasons []WordsSaid `json:"reasons"` // of who gave one
	Tasters int         `json:"tasters"` // whose answers these are
	Apart   bool        `json:"apart"`   // they can be told apart, or are not liked alike
	Arms    []int       `json:"arms"`    // of a test of two; empty is all
}

// WordsSaid is a reason, and the arm it was for.
type WordsSaid struct {
	Arm    int    `json:"arm"`
	Taster string `json:"taster"`
	Words  string `json:"words"`
}

// HearPlates reads answers about plates, each format by itself and a test of two by its pair
// of arms, over arms of these tags.
func HearPlates(answers []PlateAnswer, tags []string) []HeardPlates {
	type group struct {
		format Format
		pair   [2]int
	}
	by := map[group][]PlateAnswer{}
	var order []group
	for _, a := range answers {
		g := group{a.Format, [2]int{-1, -1}}
		if rule, _ := a.Format.Rule(); rule.Whole && rule.Most == 2 {
			arms := armsOf(a.Samples)
			if len(arms) != 2 {
				continue
			}
			g.pair = [2]int{arms[0], arms[1]}
		}
		if by[g] == nil {
			order = append(order, g)
		}
		by[g] = append(by[g], a)
	}
	out := []HeardPlates{}
	for _, rule := range Formats {
		for _, g := range order {
			if g.format == rule.Format {
				out = append(out, hearGroup(rule, by[g], g.pair, tags))
			}
		}
	}
	return out
}

func armsOf(samples []AnsweredSample) (arms []int) {
	for _, s := range samples {
		if !slices.Contains(arms, s.Arm) {
			arms = append(arms, s.Arm)
		}
	}
	slices.Sort(arms)
	return arms
}

func hearGroup(rule FormatRule, answers []PlateAnswer, pair [2]int, tags []string) HeardPlates {
	h := HeardPlates{Format: rule.Format, Name: rule.Name, Counts: make([]int, len(tags)), Sums: []float64{}, Said: []string{}, Reasons: []WordsSaid{}, Arms: []int{}}
	if rule.Format == ByScores {
		h.Name = "Which to serve"
	}
	if pair[0] >= 0 {
		h.Arms = pair[:]
	}
	var blind []PlateAnswer
	seen := map[string]bool{}
	for _, a := range answers {
		if a.Open {
			h.Open++
			continue
		}
		blind = append(blind, a)
		seen[a.Taster] = true
	}
	h.N, h.Tasters = len(blind), len(seen)
	for _, a := range blind {
		for _, s := range a.Samples {
			if s.Picked {
				h.Counts[s.Arm]++
				if a.Reason != "" {
					h.Reasons = append(h.Reasons, WordsSaid{s.Arm, a.Taster, a.Reason})
				}
			}
		}
	}
	switch {
	case h.N == 0:
		h.Said = append(h.Said, "Only who knew the codes answered: it shows nothing.")
	case rule.Format == ByRanks:
		h.ranked(blind, tags)
	case rule.Format == ByPreference:
		h.preferred(blind, pair, tags)
	case rule.Format == ByScores:
		h.chosen(tags)
	default:
		h.forced(blind, pair, tags)
	}
	if h.Tasters < 3 && h.N > 0 {
		h.Said = append(h.Said, fmt.Sprintf("This is so to %s, and says nothing of others.", words.Plural(h.Tasters, "taster")))
	}
	if h.Open > 0 && h.N > 0 {
		h.Said = append(h.Said, fmt.Sprintf("%s of who knew the codes not counted.", words.Plural(h.Open, "answer")))
	}
	return h
}

// forced counts who was right: of a triangle who picked the sample that is alone, of a
// duo-trio who picked the twin of the first.
func (h *HeardPlates) forced(blind []PlateAnswer, pair [2]int, tags []string) {
	for _, a := range blind {
		if right(a) {
			h.Right++
		}
	}
	m, _ := h.Format.Method()
	p := atLeast(h.Right, h.N, m.Guess())
	h.P, h.Apart = &p, p <= tellAlpha
	a, b := tags[pair[0]], tags[pair[1]]
	guessed := fmt.Sprintf("by guessing %.0f would", math.Round(float64(h.N)*m.Guess()))
	switch {
	case h.Apart:
		h.Said = append(h.Said, fmt.Sprintf("%s and %s can be told apart: %d of %d were right; %s.", a, b, h.Right, h.N, guessed))
	case m.Least(h.N, tellAlpha) == 0:
		h.Said = append(h.Said, fmt.Sprintf("%d of %d were right, too few answers to show that %s and %s can be told apart.", h.Right, h.N, a, b))
	default:
		h.Said = append(h.Said, fmt.Sprintf("Not shown that %s and %s can be told apart: %d of %d were right; %s, and %d would show it.", a, b,
			h.Right, h.N, guessed, m.Least(h.N, tellAlpha)))
	}
}

func right(a PlateAnswer) bool {
	if len(a.Samples) != 3 {
		return false
	}
	picked := slices.IndexFunc(a.Samples, func(s AnsweredSample) bool { return s.Picked })
	if picked < 0 {
		return false
	}
	if a.Format == ByDuoTrio {
		return a.Samples[picked].Arm == a.Samples[0].Arm
	}
	n := 0
	for _, s := range a.Samples {
		if s.Arm == a.Samples[picked].Arm {
			n++
		}
	}
	return n == 1
}

func (h *HeardPlates) preferred(blind []PlateAnswer, pair [2]int, tags []string) {
	h.None = h.N - h.Counts[pair[0]] - h.Counts[pair[1]]
	first, second := pair[0], pair[1]
	if h.Counts[second] > h.Counts[first] {
		first, second = second, first
	}
	n := h.Counts[first] + h.Counts[second]
	p := 1.0
	if n > 0 {
		p = twoTailed(h.Counts[first], n)
	}
	h.P, h.Apart = &p, p <= tellAlpha
	said := fmt.Sprintf("%d of %d like %s better than %s", h.Counts[first], n, tags[first], tags[second])
	if h.Counts[first] == h.Counts[second] {
		said = fmt.Sprintf("As many like %s as %s", tags[first], tags[second])
	}
	if h.None > 0 {
		said += fmt.Sprintf("; %d neither", h.None)
	}
	if !h.Apart {
		said += ": no preference is shown"
	}
	h.Said = append(h.Said, said+".")
}

// ranked sums the ranks of each arm: tasters are the rows, each the mean of theirs.
func (h *HeardPlates) ranked(blind []PlateAnswer, tags []string) {
	rows := map[string][][]float64{}
	var names []string
	for _, a := range blind {
		ranks := make([]float64, len(a.Samples))
		for i, s := range a.Samples {
			ranks[i] = float64(s.Rank)
		}
		mid := verdict.Midranks(ranks)
		row := make([][]float64, len(tags))
		for i, s := range a.Samples {
			row[s.Arm] = append(row[s.Arm], mid[i])
		}
		means := make([]float64, len(tags))
		whole := true
		for arm, all := range row {
			if whole = whole && len(all) > 0; !whole {
				break
			}
			means[arm] = *meanOf(all)
		}
		if !whole {
			continue
		}
		if rows[a.Taster] == nil {
			names = append(names, a.Taster)
		}
		rows[a.Taster] = append(rows[a.Taster], means)
	}
	var table [][]float64
	for _, name := range names {
		table = append(table, verdict.Midranks(columnMeans(rows[name])))
	}
	h.Sums = make([]float64, len(tags))
	for _, row := range table {
		best := extreme(row, -1)
		if len(best) == 1 {
			h.Counts[best[0]]++
		}
		for arm, r := range row {
			h.Sums[arm] += r
		}
	}
	if len(table) < 2 {
		h.Said = append(h.Said, "One ranking of every arm shows nothing of others.")
		return
	}
	r, err := RankingOf(RankingInput{Method: "ranking", Ranks: table})
	if err != nil {
		return
	}
	if h.P = r.ExactP; h.P == nil {
		h.P = r.P
	}
	h.Apart = h.P != nil && *h.P <= tellAlpha
	order := make([]int, len(tags))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return int(math.Copysign(1, h.Sums[a]-h.Sums[b]+1e-12)) })
	if !h.Apart {
		h.Said = append(h.Said, fmt.Sprintf("No order is shown: %s put them in orders of their own.", words.Plural(len(table), "taster")))
		return
	}
	var parts []string
	for _, arm := range order {
		parts = append(parts, tags[arm])
	}
	h.Said = append(h.Said, fmt.Sprintf("In this order: %s. %d of %d put %s first.", strings.Join(parts, ", "), h.Counts[order[0]], len(table), tags[order[0]]))
}

func columnMeans(rows [][]float64) []float64 {
	out := make([]float64, len(rows[0]))
	for _, row := range rows {
		for i, v := range row {
			out[i] += v / float64(len(rows))
		}
	}
	return out
}

// chosen counts which arm each taster would serve, at the end of a flight.
func (h *HeardPlates) chosen(tags []string) {
	best := 0
	for arm, n := range h.Counts {
		if n > h.Counts[best] {
			best = arm
		}
	}
	h.Said = append(h.Said, fmt.Sprintf("%d of %d would serve %s.", h.Counts[best], h.N, tags[best]))
}
