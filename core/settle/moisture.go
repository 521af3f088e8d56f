package settle

import (
	"fmt"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/trial"
)

// moisture says beside juiciness as tasted what was lost as weighed: the two are different
// outcomes and often disagree, so both are shown and neither is explained away.
func (t Trial) moisture(row Row) string {
	if row.Outcome.Key != trial.Juiciness {
		return ""
	}
	weighed, ok := trial.DefaultOf(trial.CookedYield)
	if !ok {
		return ""
	}
	kept := make([][]float64, len(t.Ask.Arms))
	for _, o := range t.observations(weighed, trial.UnitCut) {
		kept[o.Arm] = append(kept[o.Arm], o.Value)
	}
	var said []string
	juiciest, heaviest, least := -1, -1, 0.0
	for i, values := range kept {
		if len(values) == 0 || row.Means[i] == nil {
			continue
		}
		lost := 100 - stat.Mean(values, nil)
		said = append(said, fmt.Sprintf("%s lost %.1f %%", t.Ask.Arms[i].Tag, lost))
		if juiciest < 0 || *row.Means[i] > *row.Means[juiciest] {
			juiciest = i
		}
		if heaviest < 0 || lost < least {
			heaviest, least = i, lost
		}
	}
	if len(said) < 2 {
		return ""
	}
	beside := "As weighed " + strings.Join(said, ", ") + ". "
	told := slices.ContainsFunc(row.Pairs, func(p Pair) bool { return p.Widest().Winner != nil })
	switch {
	case !told:
		return beside + "That is another outcome than juiciness as tasted."
	case juiciest == heaviest:
		return beside + fmt.Sprintf("Here both speak for %s.", t.Ask.Arms[juiciest].Tag)
	}
	return beside + fmt.Sprintf("%s tastes juicier, %s kept more: both stand.", t.Ask.Arms[juiciest].Tag, t.Ask.Arms[heaviest].Tag)
}
