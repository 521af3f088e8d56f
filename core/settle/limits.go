package settle

import (
	"fmt"
	"slices"
	"sort"
	"strings"

	"whitebarn/core/trial"
)

// Limit is one thing the verdict does not cover. Weights stand in the text as
// {kg:2.41} and temperature differences as {dC:3.2}, for the reader's units.
type Limit struct {
	Text     string `json:"text"`
	Confound bool   `json:"confound"` // moves with the arms, so the two cannot be told apart
}

// pitGateC is how far the mean pits of two arms may lie apart: 5 F.
const pitGateC = 5 / 1.8

func limits(t Trial) []Limit {
	out := []Limit{}
	add := func(confound bool, format string, v ...any) {
		out = append(out, Limit{Text: fmt.Sprintf(format, v...), Confound: confound})
	}
	if gap, heavier, ok := t.gap(func(c Cut) *float64 { return c.TrimmedKg }); ok && gap > trial.GateKg {
		add(true, "%s's cuts were heavier by {kg:%.4f} on average. Weight and %s cannot be told apart.", heavier, gap, t.Factor)
	}
	if gap, hotter, ok := t.gap(func(c Cut) *float64 { return c.PitMeanC }); ok && gap > pitGateC {
		add(true, "%s's pit ran hotter by {dC:%.2f}. Pit heat and %s cannot be told apart.", hotter, gap, t.Factor)
	}
	if t.Unit == trial.UnitCut && t.pitFollowsArm() {
		add(true, "Each arm had a pit of its own. The pit and %s cannot be told apart.", t.Factor)
	}
	units := t.unitsPerArm()
	for i, tag := range t.Tags {
		if units[i] == 1 {
			add(false, "%s stands on one %s. What the next one would do is not shown.", tag, t.Unit)
		}
	}
	var left []string
	unpaired := 0
	for _, c := range t.Cuts {
		if !c.MayCount {
			left = append(left, c.Name)
		}
		if c.Pair == "" {
			unpaired++
		}
	}
	if len(left) > 0 {
		add(false, "Left out, since the minimum temperature was not shown: %s.", strings.Join(left, ", "))
	}
	if unpaired > 0 && t.Unit == trial.UnitCut {
		add(false, "%d of %d cuts stand without a pair, so animals count as spread.", unpaired, len(t.Cuts))
	}
	if !t.Control {
		add(false, "No arm is today's practice.")
	}
	if n := len(t.tasters()); n > 0 {
		add(false, "%d tasters of this panel, not the guests at the table.", n)
	}
	return out
}

// gap is the difference between the two arms' means of a covariate, and the
// tag of the arm that has more of it.
func (t Trial) gap(of func(Cut) *float64) (gap float64, more string, ok bool) {
	sum, n := make([]float64, len(t.Tags)), make([]float64, len(t.Tags))
	for _, c := range t.Cuts {
		if v := of(c); v != nil && c.MayCount {
			sum[c.Arm] += *v
			n[c.Arm]++
		}
	}
	if len(t.Tags) != 2 || n[0] == 0 || n[1] == 0 {
		return 0, "", false
	}
	d := sum[0]/n[0] - sum[1]/n[1]
	if d < 0 {
		return -d, t.Tags[1], true
	}
	return d, t.Tags[0], true
}

// pitFollowsArm says whether knowing the pit is knowing the arm.
func (t Trial) pitFollowsArm() bool {
	arms := map[string]map[int]bool{}
	for _, c := range t.Cuts {
		if c.Pit == "" {
			continue
		}
		if arms[c.Pit] == nil {
			arms[c.Pit] = map[int]bool{}
		}
		arms[c.Pit][c.Arm] = true
	}
	for _, a := range arms {
		if len(a) > 1 {
			return false
		}
	}
	return len(arms) > 1
}

func (t Trial) unitsPerArm() []int {
	seen := make([]map[string]bool, len(t.Tags))
	out := make([]int, len(t.Tags))
	for i := range seen {
		seen[i] = map[string]bool{}
	}
	for _, c := range t.Cuts {
		if c.MayCount && !seen[c.Arm][c.Unit] {
			seen[c.Arm][c.Unit] = true
			out[c.Arm]++
		}
	}
	return out
}

func (t Trial) tasters() []string {
	return t.distinctScores(func(taster, _ string) string { return taster })
}

func (t Trial) distinctScores(of func(taster, cut string) string) []string {
	seen := map[string]bool{}
	for _, scores := range t.Scores {
		for _, s := range scores {
			seen[of(s.Taster, s.Cut)] = true
		}
	}
	return sorted(seen)
}

func (t Trial) distinct(of func(Cut) string) []string {
	seen := map[string]bool{}
	for _, c := range t.Cuts {
		if v := of(c); v != "" {
			seen[v] = true
		}
	}
	return sorted(seen)
}

func sorted(set map[string]bool) []string {
	var out []string
	for v := range set {
		out = append(out, v)
	}
	sort.Strings(out)
	return out
}

// notCovered is the one sentence that every verdict carries.
func (t Trial) notCovered() string {
	var parts []string
	if pits := t.distinct(func(c Cut) string { return c.Pit }); len(pits) > 0 {
		parts = append(parts, "other pits than "+list(pits))
	}
	switch cooks := len(t.distinct(func(c Cut) string { return c.Cook })); {
	case cooks == 1:
		parts = append(parts, "days other than this one cook")
	case cooks > 1:
		parts = append(parts, fmt.Sprintf("days other than these %d cooks", cooks))
	}
	var kg []float64
	for _, c := range t.Cuts {
		if c.TrimmedKg != nil {
			kg = append(kg, *c.TrimmedKg)
		}
	}
	if len(kg) > 0 {
		parts = append(parts, fmt.Sprintf("pieces outside {kg:%.4f} to {kg:%.4f}", slices.Min(kg), slices.Max(kg)))
	}
	if len(parts) == 0 {
		return "Nothing is recorded yet, so it covers nothing."
	}
	sentence := "It does not cover " + list(parts)
	for _, l := range limits(t) {
		if l.Confound {
			return sentence + ", and something moved together with the arms."
		}
	}
	return sentence + "."
}

func (t Trial) restsOn() string {
	pairs := len(t.distinct(func(c Cut) string { return c.Pair }))
	ballots := t.distinctScores(func(taster, cut string) string { return taster + "\x00" + cut })
	say := func(n int, what string) string {
		if n == 1 {
			return "1 " + what
		}
		return fmt.Sprintf("%d %ss", n, what)
	}
	parts := []string{say(len(t.Cuts), "cut")}
	if pairs > 0 {
		parts = append(parts, say(pairs, "pair"))
	}
	parts = append(parts, say(len(t.distinct(func(c Cut) string { return c.Cook })), "cook"))
	parts = append(parts, say(len(t.tasters()), "taster"), say(len(ballots), "sealed sample"))
	return strings.Join(parts, ", ") + "."
}
