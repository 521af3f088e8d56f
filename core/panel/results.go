package panel

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// ConcordanceSource is where the measure of a panel's agreement is from.
const ConcordanceSource = "Kendall and Babington Smith, 1939, corrected for ties"

// Heard is what tasters said of one attribute, each for themselves. Arms are in order from 0.
type Heard struct {
	Tasters  []HeardTaster `json:"tasters"` // who put the first arm highest come first
	Means    []*float64    `json:"means"`   // of the whole tasters: each counts once
	Whole    int           `json:"whole"`   // tasters who scored every arm
	Ranks    [][]int       `json:"ranks"`   // by arm and rank from 0: tasters who put it there; ties share the better
	W        *float64      `json:"kendall_w"`
	P        *float64      `json:"p"` // that luck alone mixes ranks so far; exact where that can be counted
	First    *Lift         `json:"first_sample"`
	Reliable *float64      `json:"reliability"` // ICC(2,k) of the mean of those who tasted every cut; nil where it cannot be told
	Flights  []HeardFlight `json:"flights"`
	Said     []string      `json:"said"` // in sentences
}

// HeardTaster is one of them: the mean each arm got, nil where it got none.
type HeardTaster struct {
	Taster string     `json:"taster"`
	Means  []*float64 `json:"means"`
	First  int        `json:"first"` // the arm put first alone; -1 is none
	Open   bool       `json:"open"`  // they knew the codes, and are not counted while others did not
}

// HeardFlight is one sitting: the mean each arm got of its tasters.
type HeardFlight struct {
	Flight string     `json:"flight"`
	Means  []*float64 `json:"means"`
}

// Lift is how much higher the first sample of a plate scored than the others, arm and taster
// in their flight taken off. P is nil where it cannot be told.
type Lift struct {
	Points float64  `json:"points"`
	P      *float64 `json:"p"`
}

// hardly is how close a taster's arms lie who hardly tells them apart, in points.
const hardly = 0.5

// Hear reads the scores of one attribute over arms of these tags.
func Hear(scores []Score, tags []string) Heard {
	h := Heard{Tasters: []HeardTaster{}, Means: make([]*float64, len(tags)), Ranks: make([][]int, len(tags)), Said: []string{}}
	for i := range h.Ranks {
		h.Ranks[i] = make([]int, len(tags))
	}
	all := scores
	scores = Counted(all)
	h.Tasters = heardOf(scores, len(tags))
	var whole [][]float64
	for _, t := range h.Tasters {
		if row, ok := t.whole(); ok {
			whole = append(whole, row)
		}
	}
	if h.Whole = len(whole); h.Whole > 0 {
		h.Means = meansOf(whole)
		for _, row := range whole {
			for arm, rank := range ranksDown(row) {
				h.Ranks[arm][rank]++
			}
		}
	}
	if len(whole) > 1 && len(tags) > 1 {
		f := verdict.FriedmanOf(whole)
		h.W, h.P = f.KendallW, f.ExactP
		if h.P == nil {
			h.P = f.P
		}
	}
	h.First = liftOf(scores, len(tags))
	h.Reliable = reliabilityOf(scores)
	h.Flights = flightsOf(scores, len(tags))
	if len(tags) > 1 {
		h.Said = h.sentences(tags)
	}
	if OpenAlone(all) {
		h.Said = append(h.Said, "Everybody knew which was which.")
		for i := range h.Tasters {
			h.Tasters[i].Open = true
		}
		return h
	}
	knew := slices.DeleteFunc(slices.Clone(all), func(s Score) bool { return !s.Open })
	for _, t := range heardOf(knew, len(tags)) {
		t.Open = true
		h.Tasters = append(h.Tasters, t)
	}
	return h
}

// heardOf is each taster's mean of each arm, in the order of the first arm's.
func heardOf(scores []Score, arms int) []HeardTaster {
	out := []HeardTaster{}
	for _, m := range TasterMeans(scores) {
		if n := len(out); n == 0 || out[n-1].Taster != m.Taster {
			out = append(out, HeardTaster{Taster: m.Taster, Means: make([]*float64, arms), First: -1})
		}
		v := m.Value
		out[len(out)-1].Means[m.Arm] = &v
	}
	for i := range out {
		row, ok := out[i].whole()
		if !ok {
			continue
		}
		if top := extreme(row, 1); len(top) == 1 {
			out[i].First = top[0]
		}
	}
	high := func(t HeardTaster) float64 {
		if t.Means[0] == nil {
			return math.Inf(-1)
		}
		return *t.Means[0]
	}
	slices.SortStableFunc(out, func(a, b HeardTaster) int { return cmp.Compare(high(b), high(a)) })
	return out
}

// Firsts is the arm that each taster puts first alone; -1 is none.
func Firsts(scores []Score, arms int) (out []int) {
	for _, t := range heardOf(scores, arms) {
		out = append(out, t.First)
	}
	return out
}

// whole is a taster's row, if every arm has its mean.
func (t HeardTaster) whole() ([]float64, bool) {
	row := make([]float64, len(t.Means))
	for i, m := range t.Means {
		if m == nil {
			return nil, false
		}
		row[i] = *m
	}
	return row, true
}

func meansOf(rows [][]float64) []*float64 {
	out := make([]*float64, len(rows[0]))
	for arm := range out {
		sum := 0.0
		for _, row := range rows {
			sum += row[arm]
		}
		m := sum / float64(len(rows))
		out[arm] = &m
	}
	return out
}

// same: means of the same scores may differ in their last bits.
const same = 1e-9

// ranksDown are ranks from 0 for the highest; ties share the better.
func ranksDown(row []float64) []int {
	out := make([]int, len(row))
	for i, v := range row {
		for _, o := range row {
			if o > v+same {
				out[i]++
			}
		}
	}
	return out
}

// extreme are the arms that lie highest (sign 1) or lowest (sign -1).
func extreme(row []float64, sign float64) (arms []int) {
	for i, v := range row {
		if !slices.ContainsFunc(row, func(o float64) bool { return sign*(o-v) > same }) {
			arms = append(arms, i)
		}
	}
	return arms
}

// liftOf is what the first place on a plate gives.
func liftOf(scores []Score, arms int) *Lift {
	var y []float64
	var later, arm, seat []int
	seats := map[string]int{}
	var ballots []plated
	for _, s := range scores {
		if s.Position < 1 {
			continue
		}
		after := min(s.Position-1, 1)
		y, later, arm = append(y, s.Value), append(later, after), append(arm, s.Arm)
		sitting := number(seats, s.seat())
		seat = append(seat, sitting)
		ballots = append(ballots, plated{of: [3]int{s.Arm, sitting, after}, score: s.Value})
	}
	if len(y) == 0 {
		return nil
	}
	terms := []verdict.Term{{Levels: later, N: 2}, {Levels: arm, N: arms}, {Levels: seat, N: len(seats)}}
	fit := verdict.FitTerms(y, terms...)
	first, ok := fit.MeanOf(0, terms...)
	rest, too := fit.MeanOf(1, terms...)
	if !ok || !too {
		return nil
	}
	out := Lift{Points: first - rest}
	if effect, ok := effectOf(ballots, [3]int{arms, len(seats), 2}); ok {
		out.P = &effect.Position.P
	}
	return &out
}

// reliabilityOf is how far the mean of the tasters who scored every cut would come out the
// same with others like them.
func reliabilityOf(scores []Score) *float64 {
	cuts, by := map[string]int{}, map[string]map[string][]float64{}
	for _, s := range scores {
		number(cuts, s.Cut)
		if by[s.Taster] == nil {
			by[s.Taster] = map[string][]float64{}
		}
		by[s.Taster][s.Cut] = append(by[s.Taster][s.Cut], s.Value)
	}
	table := make([][]*float64, len(cuts))
	for _, name := range slices.Sorted(maps.Keys(by)) {
		if of := by[name]; len(of) == len(cuts) {
			for cut, row := range cuts {
				table[row] = append(table[row], meanOf(of[cut]))
			}
		}
	}
	out, err := ReliabilityOf(ReliabilityInput{Scores: table})
	if err != nil {
		return nil
	}
	return out.Mean
}

// flightsOf are the means of each flight, every taster counting once.
func flightsOf(scores []Score, arms int) []HeardFlight {
	by := map[string][]Score{}
	var names []string
	for _, s := range scores {
		if by[s.Flight] == nil {
			names = append(names, s.Flight)
		}
		by[s.Flight] = append(by[s.Flight], s)
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Or(cmp.Compare(len(a), len(b)), cmp.Compare(a, b)) })
	out := []HeardFlight{}
	for _, name := range names {
		f := HeardFlight{Flight: name, Means: make([]*float64, arms)}
		values := make([][]float64, arms)
		for _, m := range TasterMeans(by[name]) {
			values[m.Arm] = append(values[m.Arm], m.Value)
		}
		for arm, all := range values {
			if len(all) > 0 {
				m := stat.Mean(all, nil)
				f.Means[arm] = &m
			}
		}
		out = append(out, f)
	}
	return out
}

// sentences say what the whole tasters agree on, or how they part, and who tells little.
func (h Heard) sentences(tags []string) (out []string) {
	if h.Whole == 0 {
		return []string{"Nobody tasted every arm."}
	}
	out = append(out, h.mind(tags))
	var dull []string
	for _, t := range h.Tasters {
		if row, ok := t.whole(); ok && slices.Max(row)-slices.Min(row) <= hardly+same {
			dull = append(dull, t.Taster)
		}
	}
	if len(dull) > 0 && len(dull) < h.Whole {
		tell := "tells"
		if len(dull) > 1 {
			tell = "tell"
		}
		out = append(out, fmt.Sprintf("%s hardly %s them apart: half a point or less.", words.And(dull), tell))
	}
	if h.Whole < 3 {
		out = append(out, fmt.Sprintf("This is so to %s, and says nothing of others.", words.Plural(h.Whole, "taster")))
	}
	return out
}

// mind is one sentence: nobody tells them apart, all of one mind, or parted.
func (h Heard) mind(tags []string) string {
	last := make([]int, len(tags)) // tasters who have the arm lowest, alone or level
	alone := make([][]string, len(tags))
	apart := false
	for _, t := range h.Tasters {
		row, ok := t.whole()
		if !ok {
			continue
		}
		lowest := extreme(row, -1)
		for _, arm := range lowest {
			last[arm]++
		}
		apart = apart || len(lowest) < len(tags)
		if t.First >= 0 {
			alone[t.First] = append(alone[t.First], t.Taster)
		}
	}
	if !apart {
		return "Nobody puts one over another."
	}
	for arm, tag := range tags {
		if h.Ranks[arm][0] == h.Whole {
			return h.all(tag, "first", len(alone[arm]))
		}
	}
	for arm, tag := range tags {
		if last[arm] == h.Whole {
			return h.all(tag, "last", h.Ranks[arm][len(tags)-1])
		}
	}
	order := make([]int, len(tags))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(len(alone[b]), len(alone[a])) })
	var parts []string
	for _, arm := range order {
		if len(alone[arm]) > 0 {
			parts = append(parts, fmt.Sprintf("%s for %s", tags[arm], words.And(alone[arm])))
		}
	}
	if len(parts) == 0 {
		return "Nobody puts one arm first alone."
	}
	return "First comes " + strings.Join(parts, "; ") + "."
}

// all says that every taster put an arm first or last, so many of them alone.
func (h Heard) all(tag, where string, alone int) string {
	if alone < h.Whole {
		where += " or level " + where
	}
	if h.Whole == 1 {
		return tag + " comes " + where + "."
	}
	return fmt.Sprintf("All %d put %s %s.", h.Whole, tag, where)
}
