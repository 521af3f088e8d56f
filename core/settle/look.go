package settle

import (
	"fmt"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// LookKind says which reading of a trial this is.
type LookKind string

// The kinds of looks: the planned reading, read once; the one look that was named before
// serving; the planned reading after it; and any other.
const (
	Planned      LookKind = ""
	Interim      LookKind = "interim"
	AfterInterim LookKind = "after interim"
	Other        LookKind = "other"
)

// Look is which reading of a trial this is, and what earlier ones showed.
type Look struct {
	Kind    LookKind
	Times   int     // so far, this one included; 0 counts as 1
	Planned float64 // units an arm, from the first draw
	Cooks   int     // that were planned before the first; 0 was not fixed
	Earlier map[trial.OutcomeKey]map[[2]int][]verdict.Look
}

func (l Look) levels() verdict.Levels {
	switch l.Kind {
	case Interim:
		return verdict.Interim
	case AfterInterim:
		return verdict.AfterInterim
	case Other:
		return verdict.OtherLook
	}
	return verdict.Plain
}

// said tells that a trial was read more than once.
func (l Look) said() string {
	switch {
	case l.Kind == Interim:
		return "An early look that was named before: clear only where p is 0.01 or less."
	case l.Kind == AfterInterim:
		return fmt.Sprintf("Read %d times, as planned: clear where p is 0.04 or less.", max(2, l.Times))
	case l.Kind == Other:
		return fmt.Sprintf("Read %d times, or not as planned: only what holds at any number of looks is said.", max(1, l.Times))
	}
	return ""
}

// atLook gives the evidence the figures of the look; a planned one keeps its own.
func (t Trial) atLook(pairs []verdict.ArmPair, key trial.OutcomeKey) []verdict.ArmPair {
	if t.Look.Kind != Other {
		return pairs
	}
	out := make([]verdict.ArmPair, len(pairs))
	for i, p := range pairs {
		out[i] = p
		if p.Evidence != nil {
			at := p.Evidence.AtLooks(t.Look.Planned, t.Look.Earlier[key][[2]int{p.A, p.B}])
			out[i].Evidence = &at
		}
	}
	return out
}

// Looks are what a reading showed of each pair of arms, for the looks to come.
func (t Trial) Looks() map[trial.OutcomeKey]map[[2]int]verdict.Look {
	t.fitted = map[trial.OutcomeKey]map[string]panel.CutMean{}
	out := map[trial.OutcomeKey]map[[2]int]verdict.Look{}
	for _, chosen := range t.Ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok || d.Better == trial.Description {
			continue
		}
		out[d.Key] = map[[2]int]verdict.Look{}
		cutFit := t.compare(t.observations(d, trial.UnitCut), trial.UnitCut, d, chosen)
		_, evidence := t.evidence(t.armPairs(), cutFit, d, chosen)
		for _, p := range evidence {
			if e := p.Evidence; e != nil && e.SE > 0 && e.DF > 0 && !e.Borrowed {
				out[d.Key][[2]int{p.A, p.B}] = verdict.Look{Estimate: e.Estimate, SE: e.SE, DF: e.DF, Units: e.Units}
			}
		}
	}
	return out
}
