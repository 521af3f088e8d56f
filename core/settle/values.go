package settle

import (
	"math"
	"slices"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// scaleStep is the step of the nine points.
const scaleStep = 1.0

// clockStep is the step of what a clock tells, minutes.
const clockStep = 1.0

func sqrt(v float64) float64 { return math.Sqrt(math.Max(0, v)) }

// read is a value with the standard deviation that the step of its scale leaves unsure.
type read struct{ value, floor float64 }

// readers read an outcome off a cut where no panel gives it. A value that somebody
// typed stands over what is read.
var readers = map[trial.OutcomeKey]func(Trial, Cut) (read, bool){
	trial.CookedYield: func(t Trial, c Cut) (read, bool) {
		// One stage for the whole trial: what was weighed after the rest, if anything was.
		if slices.ContainsFunc(t.Cuts, func(c Cut) bool { return t.account(c).CookedYieldRested != nil }) {
			return percent(t.account(c).CookedYieldRested)
		}
		return percent(t.account(c).CookedYield)
	},
	trial.EdibleYield: func(t Trial, c Cut) (read, bool) { return percent(t.account(c).EdibleYield) },
	trial.CookTime:    func(_ Trial, c Cut) (read, bool) { return known(c.CookHours, clockStep/60) },
	trial.KnifeTime:   func(_ Trial, c Cut) (read, bool) { return c.toTheKnife() },
	trial.HandsOn:     func(_ Trial, c Cut) (read, bool) { return known(c.HandsMin, clockStep) },
	trial.NightWork:   func(_ Trial, c Cut) (read, bool) { return known(c.NightMin, clockStep) },
	trial.Cost:        func(t Trial, c Cut) (read, bool) { return t.ofControl(c, func(c Cut) *float64 { return c.CentsKg }) },
	trial.Fuel:        func(t Trial, c Cut) (read, bool) { return t.ofControl(c, func(c Cut) *float64 { return c.FuelKg }) },
}

// ofControl is what a cut took as a share of what the control's cuts took, percent.
func (t Trial) ofControl(c Cut, of func(Cut) *float64) (read, bool) {
	control := slices.IndexFunc(t.Ask.Arms, func(a trial.Arm) bool { return a.Control })
	sum, n := 0.0, 0.0
	for _, k := range t.Cuts {
		if v := of(k); v != nil && k.Arm == control && k.measured() {
			sum, n = sum+*v, n+1
		}
	}
	v := of(c)
	if v == nil || n == 0 || sum <= 0 {
		return read{}, false
	}
	return read{value: 100 * *v * n / sum}, true
}

func percent(m *yield.Measure) (read, bool) {
	if m == nil {
		return read{}, false
	}
	return read{100 * m.Value, 100 * m.U}, true
}

func known(v *float64, step float64) (read, bool) {
	if v == nil {
		return read{}, false
	}
	return read{*v, step / math.Sqrt(12)}, true
}

// toTheKnife is the time from the fire to the knife, holds and rests in it.
func (c Cut) toTheKnife() (read, bool) {
	smoked, on := c.Facts[Smoked]
	rested, carved := c.Facts[RestHours]
	return read{smoked + rested + c.Facts[HoldHours], clockStep / 60 / math.Sqrt(12)}, on && carved
}

// value reads an outcome off a cut; ok is false where nothing says it.
func (t Trial) value(d trial.OutcomeDefault, c Cut, panelMeans map[string]panel.CutMean) (v read, ok bool) {
	if d.Kind == trial.FromPanel {
		m, ok := panelMeans[c.Name]
		return read{m.Value, scaleStep / math.Sqrt(12*float64(max(1, m.Ballots)))}, ok
	}
	if typed, ok := c.Measured[d.Key]; ok {
		return read{value: typed}, true
	}
	if read := readers[d.Key]; read != nil {
		return read(t, c)
	}
	return v, false
}

// measured says whether a cut's weights and times count: what was kept from the table was
// cooked all the same.
func (c Cut) measured() bool { return c.MayCount || c.Cooked }

// counts says whether a cut counts on an outcome.
func (c Cut) counts(d trial.OutcomeDefault) bool {
	if d.Kind == trial.FromPanel {
		return c.MayCount
	}
	return c.measured()
}

// observations are the values of the cuts that count, with their units and
// blocks: the pair for a factor set on cuts, the cook for any other.
func (t Trial) observations(d trial.OutcomeDefault, kind trial.UnitKind) []verdict.Observation {
	panelMeans := t.panelMeans(d)
	var out []verdict.Observation
	for _, c := range t.Cuts {
		if !c.counts(d) {
			continue
		}
		if v, ok := t.value(d, c, panelMeans); ok {
			out = append(out, verdict.Observation{Arm: c.Arm, Unit: c.Unit(kind, t.Ask.Arms[c.Arm].Tag), Block: t.block(c, kind), Cook: c.Cook, Pit: c.Pit,
				Value: v.value, Floor: v.floor})
		}
	}
	return out
}

// panelMeans are the panel's means of the cuts on an outcome; nil for what is measured.
func (t Trial) panelMeans(d trial.OutcomeDefault) map[string]panel.CutMean {
	if d.Kind != trial.FromPanel {
		return nil
	}
	if means, ok := t.fitted[d.Key]; ok {
		return means
	}
	means := panel.CutMeans(t.counted(d))
	if t.fitted != nil {
		t.fitted[d.Key] = means
	}
	return means
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
		case other.Arm != c.Arm || !other.measured():
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

// counted are the scores of an outcome that count: of cuts that may count, and of tasters
// who tasted blind, if any did. On a just-about-right scale the value is how far from just
// right.
func (t Trial) counted(d trial.OutcomeDefault) []panel.Score {
	may := map[string]bool{}
	for _, c := range t.Cuts {
		may[c.Name] = c.MayCount
	}
	var out []panel.Score
	for _, s := range panel.Counted(t.Scores[d.Key]) {
		if !may[s.Cut] {
			continue
		}
		if d.Right {
			s.Value = math.Abs(s.Value - panel.JustRight)
		}
		out = append(out, s)
	}
	return out
}

// openOnly says whether all who tasted an outcome knew the codes.
func (t Trial) openOnly(d trial.OutcomeDefault) bool {
	return d.Kind == trial.FromPanel && panel.OpenAlone(t.Scores[d.Key])
}

// doubt is what keeps all of an outcome at leaning: it was tasted by people who knew the codes,
// or written up later; empty is nothing.
func (t Trial) doubt(d trial.OutcomeDefault) string {
	switch {
	case t.Ask.WrittenUp:
		return "writing it up later"
	case t.openOnly(d):
		return "knowing the codes"
	}
	return ""
}

// tastersOf is how many tasters an outcome rests on.
func (t Trial) tastersOf(d trial.OutcomeDefault) int {
	if d.Kind != trial.FromPanel {
		return 0
	}
	seen := map[string]bool{}
	for _, s := range t.counted(d) {
		seen[s.Taster] = true
	}
	return len(seen)
}

// ArmValues are the values of an arm's cuts that count on an outcome, in order.
func (t Trial) ArmValues(key trial.OutcomeKey, arm int) (out []float64) {
	for _, chosen := range t.Ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok || d.Key != key {
			continue
		}
		for _, o := range t.observations(d, trial.UnitCut) {
			if o.Arm == arm {
				out = append(out, o.Value)
			}
		}
	}
	return out
}
