// Package settle puts the evidence of one trial together: from cuts, ballots,
// weighings and times to a word for each outcome and reach, and to what the trial does
// not cover.
package settle

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"whitebarn/core/design"
	"whitebarn/core/panel"
	"whitebarn/core/pit"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// Rules is the version of these rules; a verdict is kept with the one it was read by.
const Rules = 4

// Cut is what the record holds of one cut, or of a part of a divided one.
type Cut struct {
	design.Piece
	MayCount  bool   // passed the safety gate: its scores count
	Cooked    bool   // to its own end: its weights and times count, eaten or not
	Shut      string // what shut it, where it did not pass
	Account   yield.Account
	Weighings []yield.Weighing             // of a part, for adding up again
	Whole     []yield.Weighing             // of the cut it is a part of, before it was divided
	Measured  map[trial.OutcomeKey]float64 // typed by hand
	CookHours *float64
	HandsMin  *float64 // as logged
	NightMin  *float64
	CentsKg   *float64         // per edible weight, where every line of it has a price
	FuelKg    *float64         // fuel and wood it took
	Facts     map[Fact]float64 // what was done to it, as far as it is on record
}

// Trial is one trial's evidence.
type Trial struct {
	Ask      trial.Ask
	Cuts     []Cut
	Scores   map[trial.OutcomeKey][]panel.Score // of cuts by name
	House    map[trial.UnitKind]House
	Others   []Contrast // cooks of the house's trials of the same product
	Drawn    bool       // the arms were drawn by lot
	Moved    []string   // cuts moved by hand after the draw
	Accepted map[string]string
	Safety   []string // what stays to be said of how the meat was handled
	Look     Look     // which reading this is

	fitted map[trial.OutcomeKey]map[string]panel.CutMean // of one reading: the panel's cut means, once they are fitted
}

// House is the barn's own spread of each outcome.
type House map[trial.OutcomeKey]verdict.Spread

// Side is one reach of the verdict. Estimate and intervals are first arm minus second, in
// the outcome's unit.
type Side struct {
	Word       verdict.Word      `json:"word,omitempty"` // empty: no verdict
	Why        string            `json:"why"`            // what stands in the way of more
	But        string            `json:"but"`            // what could be the reason, or hide a difference
	Winner     *int              `json:"winner"`         // arm that is better, of clear and leaning
	Estimate   *float64          `json:"estimate"`
	CI90       *verdict.Interval `json:"ci90"`
	CI80       *verdict.Interval `json:"ci80"`
	TooSmall   bool              `json:"too_small"`
	SizeUnsure bool              `json:"size_unsure"` // clear which way, not that it matters
	Exact      bool              `json:"exact"`
	Borrowed   bool              `json:"borrowed"`
	Floored    bool              `json:"floored"` // judged by the step of the scale
	Units      []int             `json:"units"`   // of the two arms; of the next cook, cooks
	Need       string            `json:"need"`    // what would settle it, for cannot tell
}

// Pair is the verdict on two arms, in its reaches.
type Pair struct {
	A      int            `json:"a"`
	B      int            `json:"b"`
	Unit   trial.UnitKind `json:"unit"`   // what counts once
	Varied string         `json:"varied"` // the factors in which the two differ
	Model  verdict.Model  `json:"model"`  // what units were compared within
	Pieces *Side          `json:"pieces"` // did the panel tell these pieces apart; nil for what is measured
	Cooks  Side           `json:"cooks"`  // cut against cut, on the days it was done
	Next   Side           `json:"next"`   // would another day show it
	Reach  verdict.Reach  `json:"reach"`  // the widest that can tell
	Within string         `json:"within"` // in words: in this cook; empty for the next
}

// Row is one outcome. Pairs are empty for a description.
type Row struct {
	Outcome            trial.OutcomeDefault `json:"outcome"`
	SmallestDifference float64              `json:"smallest_difference"`
	Means              []*float64           `json:"means"`
	Pairs              []Pair               `json:"pairs"`
	Tasters            int                  `json:"tasters"` // whose scores count; 0 for what is measured
	Open               bool                 `json:"open"`    // all of them knew the codes
	Bar                *float64             `json:"bar"`     // the least difference of two arms that is told apart
	Ranks              []float64            `json:"ranks"`   // of the arms' means, 1 is best; none for a description
	Effects            []Effect             `json:"effects"` // of crossed factors: each by itself, then what they do together
	Subs               []Sub                `json:"subs"`    // places of the piece, and parts of the trial, as rows
	Trend              *Trend               `json:"trend"`   // of a numeric factor with three levels or more
	GoOn               []Chance             `json:"go_on"`   // what more cooks would settle; none where the next cook is told
	Beside             string               `json:"beside"`  // of juiciness: what was lost as weighed; empty where it was not
}

// Result is the whole reading of a trial.
type Result struct {
	Rules      int             `json:"rules"` // by which it was read
	Headline   string          `json:"headline"`
	RestsOn    string          `json:"rests_on"`
	Cooks      int             `json:"cooks"` // it was cooked in
	Luck       string          `json:"luck"`  // how many clear words luck alone would give
	Read       string          `json:"read"`  // that it was read more than once
	Rows       []Row           `json:"rows"`
	NotCovered string          `json:"not_covered"` // one sentence
	Limits     []Limit         `json:"limits"`
	Delivered  []DeliveredFact `json:"delivered"`
	// SetUps are the first of a trial of set-ups beside each other one; else none.
	SetUps []pit.Comparison `json:"set_ups,omitempty"`
}

// Of reads a trial.
func Of(t Trial) Result {
	t.fitted = map[trial.OutcomeKey]map[string]panel.CutMean{}
	out := Result{Rules: Rules, Rows: []Row{}, Delivered: t.delivered()}
	out.Limits = limits(t, out.Delivered)
	for _, chosen := range t.Ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok {
			continue
		}
		out.Rows = append(out.Rows, t.row(d, chosen, out.Limits, out.Delivered))
	}
	out.Headline = t.headline(out.Rows, out.Limits)
	out.RestsOn = t.restsOn()
	out.Cooks = len(t.distinct(func(c Cut) string { return c.Cook }))
	out.Luck = luck(out.Rows)
	out.Read = t.Look.said()
	out.NotCovered = t.notCovered(out.Limits)
	return out
}

// luck says how many clear words luck alone would give.
func luck(rows []Row) string {
	n := 0
	for _, r := range rows {
		if len(r.Pairs) > 0 {
			n++
		}
	}
	if n < 2 {
		return ""
	}
	trials := 1 / (1 - math.Pow(1-verdict.Plain.Alpha, float64(n)))
	return fmt.Sprintf("%d outcomes: by luck alone one false “clear” in about %.0f such trials.", n, trials)
}

// row judges every pair of arms on one outcome, each by the units of what the
// two differ in; Holm's adjustment runs over all pairs.
func (t Trial) row(d trial.OutcomeDefault, chosen trial.Chosen, limits []Limit, delivered []DeliveredFact) Row {
	row := Row{Outcome: d, SmallestDifference: chosen.SmallestDifference, Pairs: t.armPairs(), Tasters: t.tastersOf(d), Open: t.openOnly(d)}
	cutFit := t.compare(t.observations(d, trial.UnitCut), trial.UnitCut, d, chosen)
	row.Means = cutFit.Means
	byCuts := func(p Pair) bool { return p.Unit == trial.UnitCut }
	if len(row.Pairs) > 0 && !slices.ContainsFunc(row.Pairs, byCuts) {
		finest := row.Pairs[0].Unit
		row.Means = t.compare(t.observations(d, finest), finest, d, chosen).Means
	}
	row.Effects, row.Subs, row.GoOn = []Effect{}, t.subs(d), []Chance{}
	if d.Better == trial.Description {
		row.Pairs, row.Ranks = []Pair{}, []float64{}
		return row
	}
	row.Ranks = ranksOf(row.Means, d.Better)
	fits, evidence := t.evidence(row.Pairs, cutFit, d, chosen)
	row.Bar = barOf(evidence)
	row.Effects, row.Trend = t.effects(d, chosen), t.trend(d, chosen)
	words := judge(t.atLook(evidence, d.Key), chosen.SmallestDifference, t.Look.levels())
	for i := range row.Pairs {
		p := &row.Pairs[i]
		p.Model = fits[i].Model
		p.Cooks = sideOf(evidence[i], words[i], fits[i].Units, d)
		if p.Cooks.Word == verdict.CannotTell || p.Cooks.Word == "" {
			p.Cooks.Need = t.need(fits[i], *p, d, chosen.SmallestDifference)
		}
	}
	if d.Kind == trial.FromPanel {
		t.pieces(row.Pairs, d, chosen)
	}
	t.next(row.Pairs, d, chosen)
	for i := range row.Pairs {
		p := &row.Pairs[i]
		t.cap(p, d, chosen.SmallestDifference, limits, delivered)
		_, far := p.said()
		p.Reach, p.Within = reaches[far], strings.TrimSpace(t.within(far))
	}
	row.GoOn, row.Beside = t.goOn(row, d), t.moisture(row)
	return row
}

// armPairs are every two arms, with what the two differ in.
func (t Trial) armPairs() []Pair {
	out := []Pair{}
	for a := range t.Ask.Arms {
		for b := a + 1; b < len(t.Ask.Arms); b++ {
			out = append(out, Pair{A: a, B: b, Unit: t.Ask.Unit(a, b), Varied: t.Ask.Varied(a, b)})
		}
	}
	return out
}

// evidence is what each pair of arms shows of these cooks: by the fit of all cuts, or by the
// runs of the two alone, since arms that share a run are no units beside each other.
func (t Trial) evidence(pairs []Pair, cutFit verdict.Outcome, d trial.OutcomeDefault, chosen trial.Chosen) ([]verdict.Outcome, []verdict.ArmPair) {
	fits, evidence := make([]verdict.Outcome, len(pairs)), make([]verdict.ArmPair, len(pairs))
	for i, p := range pairs {
		fits[i] = cutFit
		if p.Unit != trial.UnitCut {
			two := slices.DeleteFunc(t.observations(d, p.Unit), func(o verdict.Observation) bool { return o.Arm != p.A && o.Arm != p.B })
			fits[i] = t.compare(two, p.Unit, d, chosen)
		}
		evidence[i] = pairOf(fits[i], p.A, p.B)
		if e := evidence[i].Evidence; e != nil && d.Kind == trial.FromPanel {
			// Tasters who part on the arms are no replicates of each other.
			e.Widen(panel.Parting(t.counted(d), p.A, p.B)...)
		}
	}
	return fits, evidence
}

// compare fits the units of a kind.
func (t Trial) compare(all []verdict.Observation, kind trial.UnitKind, d trial.OutcomeDefault, chosen trial.Chosen) verdict.Outcome {
	return verdict.Compare(verdict.Units(all), verdict.Setting{Arms: len(t.Ask.Arms), OnRuns: kind != trial.UnitCut,
		Exact: chosen.Exact, House: t.spread(kind, d.Key)})
}

// pieces adds whether the panel told these pieces apart: tasters are the units, each with
// a contrast of their own.
func (t Trial) pieces(pairs []Pair, d trial.OutcomeDefault, chosen trial.Chosen) {
	scores := t.counted(d)
	means := panel.TasterMeans(scores)
	evidence := make([]verdict.ArmPair, len(pairs))
	units := make([][]int, len(pairs))
	for i, p := range pairs {
		differences, floor := contrasts(means, p.A, p.B)
		c, why := verdict.PairedBy(differences, floor, chosen.Exact)
		evidence[i] = verdict.ArmPair{A: p.A, B: p.B, Evidence: c, Why: why}
		if len(differences) == 1 {
			evidence[i] = ownRepeats(scores, p.A, p.B)
		}
		units[i] = make([]int, len(t.Ask.Arms))
		units[i][p.A], units[i][p.B] = len(differences), len(differences)
	}
	words := judge(evidence, chosen.SmallestDifference, verdict.Plain)
	for i := range pairs {
		a := sideOf(evidence[i], words[i], units[i], d)
		pairs[i].Pieces = &a
		if b := &pairs[i].Cooks; b.Word == verdict.CannotTell && b.Estimate != nil && b.CI90 == nil && a.Word == verdict.Clear {
			b.Word, b.Winner, b.Why = verdict.Leaning, a.Winner, "these pieces only: "+b.Why
		}
	}
}

// ownRepeats is whether the one taster who had both arms tells them apart: by relabelling
// their own samples within each flight.
func ownRepeats(scores []panel.Score, a, b int) verdict.ArmPair {
	var units []verdict.Observation
	n := map[int]int{}
	for i, s := range scores {
		if s.Arm == a || s.Arm == b {
			n[s.Arm]++
			units = append(units, verdict.Observation{Arm: s.Arm, Unit: fmt.Sprint(i), Block: s.Flight, Value: s.Value})
		}
	}
	if min(n[a], n[b]) < panel.LeastRepeats {
		return verdict.ArmPair{A: a, B: b, Why: fmt.Sprintf("one taster alone: it takes %d samples of each arm", panel.LeastRepeats)}
	}
	return pairOf(verdict.Compare(units, verdict.Setting{Arms: max(a, b) + 1, Exact: true}), a, b)
}

// contrasts are each taster's own difference of two arms, and what the step of the scale
// leaves unsure in one.
func contrasts(means []panel.TasterMean, a, b int) (differences []float64, floor float64) {
	at := map[string]map[int]panel.TasterMean{}
	var order []string
	for _, m := range means {
		if at[m.Taster] == nil {
			at[m.Taster] = map[int]panel.TasterMean{}
			order = append(order, m.Taster)
		}
		at[m.Taster][m.Arm] = m
	}
	unsure := 0.0
	for _, taster := range order {
		x, hasX := at[taster][a]
		y, hasY := at[taster][b]
		if !hasX || !hasY {
			continue
		}
		differences = append(differences, x.Value-y.Value)
		unsure += scaleStep * scaleStep / 12 * (1/float64(x.Samples) + 1/float64(y.Samples))
	}
	if len(differences) == 0 {
		return nil, 0
	}
	return differences, sqrt(unsure / float64(len(differences)))
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
func judge(pairs []verdict.ArmPair, smallest float64, by verdict.Levels) []*verdict.Judged {
	var evidence []verdict.Comparison
	for _, p := range pairs {
		if p.Evidence != nil {
			evidence = append(evidence, *p.Evidence)
		}
	}
	judged := verdict.Judge(evidence, smallest, by)
	out := make([]*verdict.Judged, len(pairs))
	for i, p := range pairs {
		if p.Evidence != nil {
			out[i] = &judged[0]
			judged = judged[1:]
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
	s.Word, s.TooSmall, s.SizeUnsure, s.Exact, s.Borrowed, s.Floored = j.Word, j.TooSmall, j.SizeUnsure, j.Exact, j.Borrowed, j.Floored
	s.Estimate, s.CI90, s.CI80 = &j.Estimate, j.CI90, j.CI80
	switch {
	case j.Borrowed:
		s.Why = "one unit an arm; the spread is borrowed from earlier trials, so it can lean at most"
	case j.SizeUnsure:
		s.Why = "clear which way, unsure that it matters"
	case j.Floored && j.Word != verdict.Clear:
		s.Why = "all agree to the step of the scale, which is too coarse to call it the same; half points would tell"
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
