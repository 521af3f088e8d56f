// Package settle puts the evidence of one trial together: from cuts, ballots,
// weighings and times to a word for each outcome, and to what the trial does
// not cover.
package settle

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// Cut is what the record holds of one cut.
type Cut struct {
	Name      string
	Arm       int    // from 0
	Pair      string // "" when it stands by itself
	Cook      string
	Pit       string
	Unit      string // the unit its level was set on
	MayCount  bool   // passed the safety gate
	TrimmedKg *float64
	Account   yield.Account
	CookHours *float64
	PitMeanC  *float64
}

// Trial is one trial's evidence.
type Trial struct {
	Tags     []string
	Control  bool
	Factor   string
	Unit     trial.UnitKind
	Outcomes []trial.Chosen
	Cuts     []Cut
	Scores   map[trial.OutcomeKey][]panel.Score // of cuts by name
	House    House
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
	Units    []int             `json:"units"`
	Need     string            `json:"need"` // what would settle it, for cannot tell
}

// Row is one outcome.
type Row struct {
	Outcome            trial.OutcomeDefault `json:"outcome"`
	SmallestDifference float64              `json:"smallest_difference"`
	Means              []*float64           `json:"means"`
	Process            *Side                `json:"process"` // nil for a description
	Pieces             *Side                `json:"pieces"`  // the panel alone; nil for what is measured
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
	for _, chosen := range t.Outcomes {
		d, ok := trial.DefaultOf(chosen.Key)
		if !ok {
			continue
		}
		out.Rows = append(out.Rows, t.row(d, chosen))
	}
	out.Headline = t.headline(out.Rows)
	out.RestsOn = t.restsOn()
	out.NotCovered = t.notCovered()
	return out
}

func (t Trial) row(d trial.OutcomeDefault, chosen trial.Chosen) Row {
	observations := t.observations(d)
	var house *verdict.Spread
	if s, ok := t.House[d.Key]; ok {
		house = &s
	}
	units := verdict.Units(observations)
	process := verdict.Compare(len(t.Tags), units, chosen.Exact, house)
	row := Row{Outcome: d, SmallestDifference: chosen.SmallestDifference, Means: process.Means}
	if d.Better == trial.Description {
		return row
	}
	b := t.side(process, d, chosen.SmallestDifference)
	if b.Word == verdict.CannotTell || b.Word == "" {
		b.Need = t.need(process, house, d, chosen.SmallestDifference)
	}
	row.Process = &b
	if d.Kind == trial.FromPanel {
		tasters := verdict.Compare(len(t.Tags), panel.TasterMeans(t.counted(d.Key)), chosen.Exact, nil)
		a := t.side(tasters, d, chosen.SmallestDifference)
		row.Pieces = &a
		if b.Word == verdict.CannotTell && b.Estimate != nil && b.CI90 == nil && a.Word == verdict.Clear {
			b.Word, b.Winner, b.Why = verdict.Leaning, a.Winner, "these pieces only: "+b.Why
		}
	}
	return row
}

// observations are the values of the cuts that count, with their units and
// blocks: the pair for a factor set on cuts, the cook for any other.
func (t Trial) observations(d trial.OutcomeDefault) []verdict.Observation {
	var panelMeans map[string]float64
	if d.Kind == trial.FromPanel {
		panelMeans = panel.CutMeans(t.counted(d.Key))
	}
	// One denominator and one stage for the whole trial: what was weighed after the rest, if anything was.
	rested := slices.ContainsFunc(t.Cuts, func(c Cut) bool { return c.Account.CookedYieldRested != nil })
	var out []verdict.Observation
	for _, c := range t.Cuts {
		if !c.MayCount {
			continue
		}
		value := math.NaN()
		percent := func(m *yield.Measure) {
			if m != nil {
				value = 100 * m.Value
			}
		}
		switch d.Key {
		case trial.CookedYield:
			if rested {
				percent(c.Account.CookedYieldRested)
			} else {
				percent(c.Account.CookedYield)
			}
		case trial.EdibleYield:
			percent(c.Account.EdibleYield)
		case trial.CookTime:
			if c.CookHours != nil {
				value = *c.CookHours
			}
		default:
			if m, ok := panelMeans[c.Name]; ok {
				value = m
			}
		}
		if math.IsNaN(value) {
			continue
		}
		out = append(out, verdict.Observation{Arm: c.Arm, Unit: c.Unit, Block: t.block(c), Value: value})
	}
	return out
}

func (t Trial) block(c Cut) string {
	if t.Unit == trial.UnitCut && c.Pair != "" {
		return "pair " + c.Pair
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

// side finds the word for the two arms.
func (t Trial) side(o verdict.Outcome, d trial.OutcomeDefault, smallest float64) Side {
	s := Side{Units: o.Units, Word: verdict.CannotTell}
	pair := o.Pairs[0]
	s.Why = pair.Why
	if o.Units[pair.A] == 0 || o.Units[pair.B] == 0 {
		s.Word = ""
		return s
	}
	if pair.Evidence == nil {
		return s
	}
	j := verdict.Judge([]verdict.Comparison{*pair.Evidence}, smallest)[0]
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

func (t Trial) need(o verdict.Outcome, house *verdict.Spread, d trial.OutcomeDefault, smallest float64) string {
	sd, from := d.SDBetweenCuts, "the barn's usual spread"
	if house != nil {
		sd, from = house.SD, "earlier trials' spread"
	}
	if o.SD != nil && *o.SD > 1e-9 && o.DF >= 2 {
		sd, from = *o.SD, "this trial's spread"
	}
	layout, unit := verdict.Apart, string(t.Unit)+"s an arm"
	if t.Unit == trial.UnitCut && slices.ContainsFunc(t.Cuts, func(c Cut) bool { return c.Pair != "" }) {
		layout, unit = verdict.InPairs, "pairs"
	}
	have := min(o.Units[0], o.Units[1])
	switch n := verdict.UnitsToSettle(sd, smallest, layout); {
	case n == 0:
		return fmt.Sprintf("More than 200 %s would be needed at %s. Look for a larger difference.", unit, from)
	case n <= have:
		return fmt.Sprintf("%d %s should tell it 8 times in 10; one more cook of the same size would help.", n, unit)
	default:
		return fmt.Sprintf("%d more %s would tell it 8 times in 10, at %s.", n-have, unit, from)
	}
}

// HouseOf pools the spread between units of one arm from earlier trials of the
// same product and kind of unit: within pairs when the units at hand are a
// pair, else within cooks.
func HouseOf(earlier []Trial, inPairs bool) House {
	type pool struct{ ss, df float64 }
	pools := map[trial.OutcomeKey]pool{}
	for _, t := range earlier {
		if !inPairs {
			t.Cuts = slices.Clone(t.Cuts)
			for i := range t.Cuts {
				t.Cuts[i].Pair = ""
			}
		}
		for _, d := range trial.Catalogue {
			o := verdict.Compare(len(t.Tags), verdict.Units(t.observations(d)), false, nil)
			if o.SD != nil {
				p := pools[d.Key]
				pools[d.Key] = pool{p.ss + *o.SD**o.SD*float64(o.DF), p.df + float64(o.DF)}
			}
		}
	}
	out := House{}
	for k, p := range pools {
		out[k] = verdict.Spread{SD: math.Sqrt(p.ss / p.df), DF: int(p.df)}
	}
	return out
}

// headline says in one sentence what was found, clear winners first.
func (t Trial) headline(rows []Row) string {
	type found struct{ clear, leaning, same, open []string }
	byArm := make([]found, len(t.Tags))
	var all found
	for _, r := range rows {
		if r.Process == nil {
			continue
		}
		name := strings.ToLower(r.Outcome.Name)
		switch s := r.Process; {
		case s.Word == verdict.Clear:
			byArm[*s.Winner].clear = append(byArm[*s.Winner].clear, name)
		case s.Word == verdict.Leaning:
			byArm[*s.Winner].leaning = append(byArm[*s.Winner].leaning, name)
		case s.Word == verdict.Same:
			all.same = append(all.same, name)
		default:
			all.open = append(all.open, name)
		}
	}
	var parts []string
	for i, f := range byArm {
		if len(f.clear) > 0 {
			parts = append(parts, t.Tags[i]+" is the clear winner on "+list(f.clear)+".")
		}
	}
	for i, f := range byArm {
		if len(f.leaning) > 0 {
			parts = append(parts, list(f.leaning)+" "+verb(f.leaning, "leans", "lean")+" to "+t.Tags[i]+".")
		}
	}
	if len(all.same) > 0 {
		parts = append(parts, "The same for our purposes on "+list(all.same)+".")
	}
	if len(all.open) > 0 {
		parts = append(parts, "Cannot tell on "+list(all.open)+".")
	}
	for i, p := range parts {
		parts[i] = strings.ToUpper(p[:1]) + p[1:]
	}
	if len(parts) == 0 {
		return "Nothing to judge yet."
	}
	return strings.Join(parts, " ")
}

func verb(items []string, one, many string) string {
	if len(items) == 1 {
		return one
	}
	return many
}

func list(items []string) string {
	if len(items) < 2 {
		return strings.Join(items, "")
	}
	return strings.Join(items[:len(items)-1], ", ") + " and " + items[len(items)-1]
}
