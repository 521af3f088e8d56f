// Package settle puts the evidence of one trial together: from cuts, ballots,
// weighings and times to a word for each outcome, and to what the trial does
// not cover.
package settle

import (
	"fmt"
	"slices"

	"whitebarn/core/design"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
	"whitebarn/core/yield"
)

// Cut is what the record holds of one cut, or of a part of a divided one.
type Cut struct {
	design.Piece
	MayCount  bool // passed the safety gate
	Account   yield.Account
	Weighings []yield.Weighing             // of a part, for adding up again
	Whole     []yield.Weighing             // of the cut it is a part of, before it was divided
	Measured  map[trial.OutcomeKey]float64 // typed by hand
	CookHours *float64
	HandsMin  *float64 // as logged
	NightMin  *float64
	PitMeanC  *float64
}

// Trial is one trial's evidence.
type Trial struct {
	Ask      trial.Ask
	Cuts     []Cut
	Scores   map[trial.OutcomeKey][]panel.Score // of cuts by name
	House    map[trial.UnitKind]House
	Drawn    bool     // the arms were drawn by lot
	Moved    []string // cuts moved by hand after the draw
	Accepted map[string]string
	Safety   []string // what stays to be said of how the meat was handled
}

// House is the barn's own spread of each outcome.
type House map[trial.OutcomeKey]verdict.Spread

// Side is one level of the verdict: these pieces, or the process. Estimate and
// intervals are first arm minus second, in the outcome's unit.
type Side struct {
	Word     verdict.Word      `json:"word,omitempty"` // empty: no verdict
	Why      string            `json:"why"`            // what stands in the way of more
	Winner   *int              `json:"winner"`         // arm that is better, of clear and leaning
	Estimate *float64          `json:"estimate"`
	CI90     *verdict.Interval `json:"ci90"`
	CI80     *verdict.Interval `json:"ci80"`
	TooSmall bool              `json:"too_small"`
	Exact    bool              `json:"exact"`
	Borrowed bool              `json:"borrowed"`
	Units    []int             `json:"units"` // of the two arms
	Need     string            `json:"need"`  // what would settle it, for cannot tell
}

// Pair is the verdict on two arms.
type Pair struct {
	A       int            `json:"a"`
	B       int            `json:"b"`
	Unit    trial.UnitKind `json:"unit"`   // what counts once
	Varied  string         `json:"varied"` // the factors in which the two differ
	Process Side           `json:"process"`
	Pieces  *Side          `json:"pieces"` // the panel alone; nil for what is measured
}

// Row is one outcome. Pairs are empty for a description.
type Row struct {
	Outcome            trial.OutcomeDefault `json:"outcome"`
	SmallestDifference float64              `json:"smallest_difference"`
	Means              []*float64           `json:"means"`
	Pairs              []Pair               `json:"pairs"`
}

// Result is the whole reading of a trial.
type Result struct {
	Headline   string  `json:"headline"`
	RestsOn    string  `json:"rests_on"`
	Rows       []Row   `json:"rows"`
	NotCovered string  `json:"not_covered"` // one sentence
	Limits     []Limit `json:"limits"`
}

// Of reads a trial.
func Of(t Trial) Result {
	out := Result{Rows: []Row{}, Limits: limits(t)}
	for _, chosen := range t.Ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok {
			continue
		}
		out.Rows = append(out.Rows, t.row(d, chosen))
	}
	out.Headline = t.headline(out.Rows)
	out.RestsOn = t.restsOn()
	out.NotCovered = t.notCovered(out.Limits)
	return out
}

// row judges every pair of arms on one outcome, each by the units of what the
// two differ in; Holm's adjustment runs over all pairs.
func (t Trial) row(d trial.OutcomeDefault, chosen trial.Chosen) Row {
	arms := len(t.Ask.Arms)
	row := Row{Outcome: d, SmallestDifference: chosen.SmallestDifference, Means: make([]*float64, arms), Pairs: []Pair{}}
	fits := map[trial.UnitKind]verdict.Outcome{}
	fit := func(kind trial.UnitKind) verdict.Outcome {
		o, ok := fits[kind]
		if !ok {
			o = verdict.Compare(arms, verdict.Units(t.observations(d, kind)), chosen.Exact, t.spread(kind, d.Key))
			fits[kind] = o
		}
		return o
	}
	finest := trial.UnitPitRun
	for a := range arms {
		for b := a + 1; b < arms; b++ {
			kind := t.Ask.Unit(a, b)
			if kind == trial.UnitCut {
				finest = kind
			}
			row.Pairs = append(row.Pairs, Pair{A: a, B: b, Unit: kind, Varied: t.Ask.Varied(a, b)})
		}
	}
	if len(row.Pairs) == 0 {
		finest = trial.UnitCut
	} else if finest != trial.UnitCut {
		finest = row.Pairs[0].Unit
	}
	row.Means = fit(finest).Means
	if d.Better == trial.Description {
		row.Pairs = []Pair{}
		return row
	}
	process := make([]verdict.ArmPair, len(row.Pairs))
	for i, p := range row.Pairs {
		process[i] = pairOf(fit(p.Unit), p.A, p.B)
	}
	words := judge(process, chosen.SmallestDifference)
	for i := range row.Pairs {
		p := &row.Pairs[i]
		p.Process = sideOf(process[i], words[i], fit(p.Unit).Units, d)
		if p.Process.Word == verdict.CannotTell || p.Process.Word == "" {
			p.Process.Need = t.need(fit(p.Unit), *p, d, chosen.SmallestDifference)
		}
	}
	if d.Kind == trial.FromPanel {
		t.pieces(row.Pairs, d, chosen)
	}
	return row
}

// pieces adds whether the panel told these pieces apart.
func (t Trial) pieces(pairs []Pair, d trial.OutcomeDefault, chosen trial.Chosen) {
	o := verdict.Compare(len(t.Ask.Arms), panel.TasterMeans(t.counted(d.Key)), chosen.Exact, nil)
	words := judge(o.Pairs, chosen.SmallestDifference)
	for i := range pairs {
		a := sideOf(o.Pairs[i], words[i], o.Units, d)
		pairs[i].Pieces = &a
		if b := &pairs[i].Process; b.Word == verdict.CannotTell && b.Estimate != nil && b.CI90 == nil && a.Word == verdict.Clear {
			b.Word, b.Winner, b.Why = verdict.Leaning, a.Winner, "these pieces only: "+b.Why
		}
	}
}

func (t Trial) spread(kind trial.UnitKind, key trial.OutcomeKey) *verdict.Spread {
	if s, ok := t.House[kind][key]; ok {
		return &s
	}
	return nil
}

func pairOf(o verdict.Outcome, a, b int) verdict.ArmPair {
	at := slices.IndexFunc(o.Pairs, func(p verdict.ArmPair) bool { return p.A == a && p.B == b })
	return o.Pairs[at]
}

// judge finds the words of all pairs that have evidence; nil for the others.
func judge(pairs []verdict.ArmPair, smallest float64) []*verdict.Judged {
	var evidence []verdict.Comparison
	for _, p := range pairs {
		if p.Evidence != nil {
			evidence = append(evidence, *p.Evidence)
		}
	}
	judged := verdict.Judge(evidence, smallest)
	out := make([]*verdict.Judged, len(pairs))
	for i, p := range pairs {
		if p.Evidence != nil {
			out[i] = &judged[0]
			judged = judged[1:]
		}
	}
	return out
}

// readers read an outcome off a cut where no panel gives it. A value that somebody
// typed stands over what is read.
var readers = map[trial.OutcomeKey]func(Trial, Cut) (value float64, ok bool){
	trial.CookedYield: func(t Trial, c Cut) (float64, bool) {
		// One stage for the whole trial: what was weighed after the rest, if anything was.
		if slices.ContainsFunc(t.Cuts, func(c Cut) bool { return t.account(c).CookedYieldRested != nil }) {
			return percent(t.account(c).CookedYieldRested)
		}
		return percent(t.account(c).CookedYield)
	},
	trial.EdibleYield: func(t Trial, c Cut) (float64, bool) { return percent(t.account(c).EdibleYield) },
	trial.CookTime:    func(_ Trial, c Cut) (float64, bool) { return known(c.CookHours) },
	trial.HandsOn:     func(_ Trial, c Cut) (float64, bool) { return known(c.HandsMin) },
	trial.NightWork:   func(_ Trial, c Cut) (float64, bool) { return known(c.NightMin) },
}

func percent(m *yield.Measure) (float64, bool) {
	if m == nil {
		return 0, false
	}
	return 100 * m.Value, true
}

func known(v *float64) (float64, bool) {
	if v == nil {
		return 0, false
	}
	return *v, true
}

// value reads an outcome off a cut; ok is false where nothing says it.
func (t Trial) value(d trial.OutcomeDefault, c Cut, panelMeans map[string]float64) (value float64, ok bool) {
	if d.Kind == trial.FromPanel {
		value, ok = panelMeans[c.Name]
		return value, ok
	}
	if value, ok = c.Measured[d.Key]; ok {
		return value, ok
	}
	if read := readers[d.Key]; read != nil {
		return read(t, c)
	}
	return 0, false
}

// observations are the values of the cuts that count, with their units and
// blocks: the pair for a factor set on cuts, the cook for any other.
func (t Trial) observations(d trial.OutcomeDefault, kind trial.UnitKind) []verdict.Observation {
	var panelMeans map[string]float64
	if d.Kind == trial.FromPanel {
		panelMeans = panel.CutMeans(t.counted(d.Key))
	}
	var out []verdict.Observation
	for _, c := range t.Cuts {
		if !c.MayCount {
			continue
		}
		if value, ok := t.value(d, c, panelMeans); ok {
			out = append(out, verdict.Observation{Arm: c.Arm, Unit: c.Unit(kind, t.Ask.Arms[c.Arm].Tag), Block: t.block(c, kind), Value: value})
		}
	}
	return out
}

// account is a cut's account; parts of one cut in one arm add up again.
func (t Trial) account(c Cut) yield.Account {
	if c.Root == c.Name {
		return c.Account
	}
	var parts [][]yield.Weighing
	all := true
	for _, other := range t.Cuts {
		switch {
		case other.Root != c.Root:
		case other.Arm != c.Arm || !other.MayCount:
			all = false
		default:
			parts = append(parts, other.Weighings)
		}
	}
	if !all {
		return yield.SettleParts(nil, parts)
	}
	return yield.SettleParts(c.Whole, parts)
}

// block is what units share: for levels set on cuts the pair or the divided
// cut, else the cook.
func (t Trial) block(c Cut, kind trial.UnitKind) string {
	if kind == trial.UnitCut && c.Block != "" {
		return "block " + c.Block
	}
	return "cook " + c.Cook
}

func (t Trial) counted(k trial.OutcomeKey) []panel.Score {
	may := map[string]bool{}
	for _, c := range t.Cuts {
		may[c.Name] = c.MayCount
	}
	var out []panel.Score
	for _, s := range t.Scores[k] {
		if may[s.Cut] {
			out = append(out, s)
		}
	}
	return out
}

// sideOf puts the word of a pair of arms into the outcome's terms.
func sideOf(pair verdict.ArmPair, j *verdict.Judged, units []int, d trial.OutcomeDefault) Side {
	s := Side{Units: []int{units[pair.A], units[pair.B]}, Word: verdict.CannotTell, Why: pair.Why}
	if s.Units[0] == 0 || s.Units[1] == 0 {
		s.Word = ""
		return s
	}
	if j == nil {
		return s
	}
	s.Word, s.TooSmall, s.Exact, s.Borrowed = j.Word, j.TooSmall, j.Exact, j.Borrowed
	s.Estimate, s.CI90, s.CI80 = &j.Estimate, j.CI90, j.CI80
	if j.Borrowed {
		s.Why = "one unit an arm; the spread is borrowed from earlier trials, so it can lean at most"
	}
	if j.Word == verdict.Clear || j.Word == verdict.Leaning {
		winner := pair.A
		if (j.Estimate < 0) != (d.Better == trial.Down) {
			winner = pair.B
		}
		s.Winner = &winner
	}
	return s
}

func (t Trial) need(o verdict.Outcome, p Pair, d trial.OutcomeDefault, smallest float64) string {
	sd, from := d.SDBetweenCuts, "the barn's usual spread"
	if s := t.spread(p.Unit, d.Key); s != nil {
		sd, from = s.SD, "earlier trials' spread"
	}
	if o.SD != nil && *o.SD > 1e-9 && o.DF >= 2 {
		sd, from = *o.SD, "this trial's spread"
	}
	arms := len(t.Ask.Arms)
	layout, unit, each := verdict.Layout{Arms: arms}, string(p.Unit), " an arm"
	if p.Unit == trial.UnitCut && slices.ContainsFunc(t.Cuts, func(c Cut) bool { return c.Block != "" }) {
		if layout.BlockSize = arms; arms == 2 {
			unit, each = "pair", ""
		}
	}
	have := min(o.Units[p.A], o.Units[p.B])
	switch n := verdict.UnitsToSettle(sd, smallest, layout); {
	case n == 0:
		return fmt.Sprintf("More than %s%s would be needed at %s. Look for a larger difference.", words.Plural(200, unit), each, from)
	case n <= have:
		return fmt.Sprintf("%s%s should tell it 8 times in 10; one more cook of the same size would help.", words.Plural(n, unit), each)
	default:
		return fmt.Sprintf("%s%s more would tell it 8 times in 10, at %s.", words.Plural(n-have, unit), each, from)
	}
}
