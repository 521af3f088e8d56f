package verdict

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

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
	CI90     *Interval `json:"ci90,omitempty"`     // plain
	CI80     *Interval `json:"ci80,omitempty"`     // that leaning goes by
	Units    float64   `json:"units,omitempty"`    // effective: of pairs, their number
	Exact    bool      `json:"exact,omitempty"`    // p and intervals by relabelling
	Pairs    int       `json:"pairs,omitempty"`    // pairs behind a sign flip, hands behind a t
	Borrowed bool      `json:"borrowed,omitempty"` // spread taken from earlier trials
	Floored  bool      `json:"floored,omitempty"`  // spread taken from the step of the scale
	Capped   bool      `json:"capped,omitempty"`   // too few ways to reach 0.05

	at func(level float64) *Interval
}

// byT fills p and the intervals from the estimate, its standard error and df.
func (c *Comparison) byT() {
	df := float64(c.DF)
	c.P = ptr(2 * tTail(math.Abs(c.Estimate)/c.SE, df))
	c.at = func(level float64) *Interval { return tInterval(c.Estimate, c.SE, df, level) }
	c.CI90, c.CI80 = c.at(0.90), c.at(0.80)
}

// interval is the plain one of a level; nil where the evidence gives none.
func (c Comparison) interval(level float64) *Interval {
	switch {
	case c.at != nil:
		return c.at(level)
	case level == 0.90:
		return c.CI90
	case c.SE > 0 && c.DF > 0:
		return tInterval(c.Estimate, c.SE, float64(c.DF), level)
	}
	return nil
}

// Levels are what a reading is judged by: clear where the adjusted p is at most Alpha, same
// where the interval of level Same lies inside the difference that matters.
type Levels struct {
	Alpha float64 `json:"alpha"`
	Same  float64 `json:"same"`
}

// The levels of a reading: planned and read once; the one interim look that was named
// before; the planned reading after it; and any other look, by anytime-valid figures.
var (
	Plain        = Levels{0.05, 0.90}
	Interim      = Levels{0.01, 0.98}
	AfterInterim = Levels{0.04, 0.92}
	OtherLook    = Levels{0.01, 0.98}
)

// AtLooks gives a comparison the figures that hold at any number of looks: planned are the
// units that were planned, earlier the looks before this one.
func (c Comparison) AtLooks(planned float64, earlier []Look) Comparison {
	c.Capped = c.Capped || c.Exact || c.Borrowed // these have no anytime-valid form
	if !(c.SE > 0) || c.DF < 1 || !(c.Units > 0) || !(planned > 0) {
		c.P, c.CI80, c.at = nil, nil, func(float64) *Interval { return nil }
		return c
	}
	now := Look{c.Estimate, c.SE, c.DF, c.Units}
	p := 1.0
	for _, l := range append(slices.Clone(earlier), now) {
		p = math.Min(p, math.Exp(-logE(l, planned)))
	}
	c.P, c.CI80 = &p, anytimeInterval(now, planned, 0.20)
	c.at = func(level float64) *Interval { return anytimeInterval(now, planned, 1-level) }
	return c
}

// Judged is a comparison with its word.
type Judged struct {
	Comparison
	PHolm      *float64 `json:"p_holm"`
	Word       Word     `json:"word"`
	TooSmall   bool     `json:"too_small"`   // same, and yet different: real, but too small to matter
	SizeUnsure bool     `json:"size_unsure"` // leaning: the direction is clear, that it matters is not
}

// Judge finds the words for all arm pairs of one outcome, of which d is the
// smallest difference that matters. The first that holds: clear winner
// (Holm-adjusted p at most the level's and an estimate of at least d), same for our
// purposes (the level's interval inside (-d, d)), leaning (the 80 % interval excludes 0,
// or p says clear and the estimate is under d), cannot tell. Borrowed spread, and too few
// ways to relabel, stop at leaning; a spread taken from the step of the scale is not
// called the same.
func Judge(pairs []Comparison, d float64, by Levels) []Judged {
	ps := make([]*float64, len(pairs))
	for i, c := range pairs {
		ps[i] = c.P
	}
	adjusted := holm(ps)
	out := make([]Judged, len(pairs))
	for i, c := range pairs {
		j := Judged{Comparison: c, PHolm: adjusted[i], Word: CannotTell}
		capped := c.Borrowed || c.Capped
		told := !capped && j.PHolm != nil && *j.PHolm <= by.Alpha
		same := c.interval(by.Same)
		switch {
		case told && math.Abs(c.Estimate) >= d:
			j.Word = Clear
		case !capped && !c.Floored && same != nil && -d < same[0] && same[1] < d:
			j.Word, j.TooSmall = Same, excludesZero(same)
		case told || excludesZero(c.CI80):
			j.Word, j.SizeUnsure = Leaning, told
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

// Reach is how far a word holds.
type Reach string

// The reaches: did the panel tell these pieces apart; cut against cut on the days it was
// done; would another day show it.
const (
	ThesePieces Reach = "pieces"
	TheseCooks  Reach = "cooks"
	NextCook    Reach = "next"
)

// Values lists the reaches.
func (Reach) Values() []string {
	return []string{string(ThesePieces), string(TheseCooks), string(NextCook)}
}

// WordsInput is the evidence on every arm pair of one outcome. Reach is cooks where it is
// not given; for the next cook, Cooks are those that were read, and CooksFixed says that
// their number stood before the first.
type WordsInput struct {
	Pairs              []Comparison `json:"pairs"`
	SmallestDifference float64      `json:"smallest_difference"`
	Reach              Reach        `json:"reach,omitempty"`
	Cooks              int          `json:"cooks,omitempty"`
	CooksFixed         bool         `json:"cooks_fixed,omitempty"`
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
	by := Plain
	switch in.Reach {
	case "", TheseCooks, ThesePieces:
	case NextCook:
		if in.Cooks < 1 || in.Cooks > 10_000 {
			return WordsResult{}, fault.New("cooks", fmt.Sprintf("%d cooks", in.Cooks), "say how many cooks were read")
		}
		by = CookLevels(in.Cooks, in.CooksFixed)
	default:
		return WordsResult{}, fault.New("reach", fmt.Sprintf("%q is no reach", in.Reach), "use "+strings.Join(in.Reach.Values(), ", "))
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
	return WordsResult{Pairs: Judge(in.Pairs, in.SmallestDifference, by)}, nil
}

// CookLevels are what the next cook is judged by at n cooks: the plain ones where that number
// was fixed before the first, else ones that hold over all numbers at which it may be read.
// Two lean at most.
func CookLevels(n int, fixed bool) Levels {
	switch {
	case n < 3:
		return Levels{0, 1}
	case fixed:
		return Plain
	}
	alpha := 0.05 / float64((n-2)*(n-1))
	return Levels{alpha, 1 - 2*alpha}
}

// Critical are the quantiles of t that the next cook's words have to pass at a number of
// cooks, for who asks it of many draws.
type Critical struct{ clear, same float64 }

// CookCritical are those of n cooks; fewer than three settle nothing.
func CookCritical(n int) Critical {
	if n < 3 {
		return Critical{math.Inf(1), math.Inf(1)}
	}
	by, df := CookLevels(n, false), float64(n-1)
	return Critical{clear: tQuantile(1-by.Alpha/2, df), same: tQuantile(0.5+by.Same/2, df)}
}

// Settles says whether a mean with its error comes to clear or same.
func (c Critical) Settles(mean, se, smallest float64) bool {
	return math.Abs(mean) >= math.Max(smallest, c.clear*se) || math.Abs(mean)+c.same*se < smallest
}
