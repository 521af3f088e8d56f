package verdict

import (
	"fmt"
	"math"
	"sort"

	"whitebarn/core/fault"
)

// Word is a verdict; there are exactly four.
type Word string

// The four words.
const (
	Clear      Word = "clear winner"
	Same       Word = "same for our purposes"
	Leaning    Word = "leaning"
	CannotTell Word = "cannot tell"
)

// Values lists the words.
func (Word) Values() []string {
	return []string{string(Clear), string(Same), string(Leaning), string(CannotTell)}
}

// leastFlips is the least number of pairs at which a sign flip can reach 0.05.
const leastFlips = 6

// Comparison is the evidence on one pair of arms for one outcome: first minus
// second. P and the intervals are nil where the evidence gives none.
type Comparison struct {
	Estimate float64   `json:"estimate"`
	SE       float64   `json:"se"`
	DF       int       `json:"df"`
	P        *float64  `json:"p,omitempty"`
	CI90     *Interval `json:"ci90,omitempty"`
	CI80     *Interval `json:"ci80,omitempty"`
	Exact    bool      `json:"exact,omitempty"`    // p and intervals by sign flip
	Pairs    int       `json:"pairs,omitempty"`    // pairs behind a sign flip
	Borrowed bool      `json:"borrowed,omitempty"` // spread taken from earlier trials
}

// byT fills p and the intervals from the estimate, its standard error and df.
func (c *Comparison) byT() {
	df := float64(c.DF)
	c.P = ptr(2 * tTail(math.Abs(c.Estimate)/c.SE, df))
	c.CI90, c.CI80 = tInterval(c.Estimate, c.SE, df, 0.90), tInterval(c.Estimate, c.SE, df, 0.80)
}

// Judged is a comparison with its word.
type Judged struct {
	Comparison
	PHolm    *float64 `json:"p_holm"`
	Word     Word     `json:"word"`
	TooSmall bool     `json:"too_small"` // same, and yet different: real, but too small to matter
}

// Judge finds the words for all arm pairs of one outcome, of which d is the
// smallest difference that matters. The first that holds: clear winner
// (Holm-adjusted p at most 0.05 and an estimate of at least d), same for our
// purposes (the plain 90 % interval inside (-d, d)), leaning (the plain 80 %
// interval excludes 0), cannot tell. Borrowed spread, and sign flips over
// fewer than six pairs, stop at leaning.
func Judge(pairs []Comparison, d float64) []Judged {
	ps := make([]*float64, len(pairs))
	for i, c := range pairs {
		ps[i] = c.P
	}
	adjusted := holm(ps)
	out := make([]Judged, len(pairs))
	for i, c := range pairs {
		j := Judged{Comparison: c, PHolm: adjusted[i], Word: CannotTell}
		capped := c.Borrowed || c.Exact && c.Pairs < leastFlips
		switch {
		case !capped && j.PHolm != nil && *j.PHolm <= 0.05 && math.Abs(c.Estimate) >= d:
			j.Word = Clear
		case !capped && c.CI90 != nil && -d < c.CI90[0] && c.CI90[1] < d:
			j.Word, j.TooSmall = Same, excludesZero(c.CI90)
		case excludesZero(c.CI80):
			j.Word = Leaning
		}
		out[i] = j
	}
	return out
}

func excludesZero(i *Interval) bool { return i != nil && (i[0] > 0 || i[1] < 0) }

// holm adjusts p-values for their number (Holm, 1979); nil stays nil and does
// not count.
func holm(ps []*float64) []*float64 {
	var known []int
	for i, p := range ps {
		if p != nil {
			known = append(known, i)
		}
	}
	sort.SliceStable(known, func(a, b int) bool { return *ps[known[a]] < *ps[known[b]] })
	out := make([]*float64, len(ps))
	least := 0.0
	for rank, i := range known {
		least = math.Max(least, math.Min(1, *ps[i]*float64(len(known)-rank)))
		out[i] = ptr(least)
	}
	return out
}

// WordsInput is the evidence on every arm pair of one outcome.
type WordsInput struct {
	Pairs              []Comparison `json:"pairs"`
	SmallestDifference float64      `json:"smallest_difference"`
}

// WordsResult is a word for each pair, in order.
type WordsResult struct {
	Pairs []Judged `json:"pairs"`
}

// WordsOf is Judge for a caller outside: p and intervals that are not given
// are taken from the standard error and its degrees of freedom.
func WordsOf(in WordsInput) (WordsResult, error) {
	if !(in.SmallestDifference > 0) {
		return WordsResult{}, fault.New("smallest_difference", fmt.Sprintf("%v is no difference", in.SmallestDifference), "give more than zero")
	}
	for i := range in.Pairs {
		c := &in.Pairs[i]
		if c.P == nil && c.CI90 == nil && c.CI80 == nil {
			if !(c.SE > 0) || c.DF < 1 {
				return WordsResult{}, fault.New(fmt.Sprintf("pairs[%d].se", i), "no standard error with degrees of freedom", "give se above zero and df of one or more, or p and the intervals")
			}
			c.byT()
		}
	}
	return WordsResult{Pairs: Judge(in.Pairs, in.SmallestDifference)}, nil
}
