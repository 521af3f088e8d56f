package settle

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"sort"
	"strings"

	"whitebarn/core/design"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// Limit is one thing the verdict does not cover. Weights stand in the text as
// {kg:2.41} and temperature differences as {dC:3.2}, for the reader's units.
type Limit struct {
	Text     string `json:"text"`
	Confound bool   `json:"confound"` // moves with the arms, so the two cannot be told apart
	Broken   bool   `json:"broken"`   // a promise of what is held equal

	design bool // of how the trial was laid out, with no figure to it
	arms   []int
}

// pitGateC is how far the mean pits of two arms may lie apart: 5 F.
const pitGateC = 5 / 1.8

// limits are what the verdict does not cover: promises that were broken first.
func limits(t Trial, delivered []DeliveredFact) []Limit {
	out := []Limit{}
	add := func(confound bool, format string, v ...any) {
		out = append(out, Limit{Text: fmt.Sprintf(format, v...), Confound: confound})
	}
	var counted []design.Piece
	for _, c := range t.Cuts {
		if c.MayCount {
			counted = append(counted, c.Piece)
		}
	}
	findings := design.Review(design.Case{Ask: t.Ask, Pieces: counted, Drawn: t.Drawn, Moved: t.Moved})
	for _, weight := range []design.Weight{design.Confound, design.Weakens} {
		for _, f := range findings {
			if f.Weight != weight || len(counted) == 0 {
				continue
			}
			text := f.Text
			if why := t.Accepted[f.Key]; why != "" {
				text += " Known before the fire: " + strings.TrimRight(why, ".") + "."
			}
			add(weight == design.Confound, "%s", text)
		}
	}
	for i := range out {
		out[i].design = true
	}
	out = append(t.apart(delivered), out...)
	left := map[kept][]string{}
	unpaired := 0
	for _, c := range t.Cuts {
		if !c.MayCount {
			k := kept{c.Shut, c.measured()}
			left[k] = append(left[k], c.Name)
		}
		if c.Block == "" {
			unpaired++
		}
	}
	for _, k := range slices.SortedFunc(maps.Keys(left), kept.compare) {
		add(false, "%s", k.say(left[k]))
	}
	for _, text := range t.Safety {
		add(false, "%s", text)
	}
	if unpaired > 0 && slices.ContainsFunc(t.Ask.Factors, func(f trial.Factor) bool { return f.SetOn == trial.UnitCut }) {
		add(false, "%d of %d cuts stand without a pair, so animals count as spread.", unpaired, len(t.Cuts))
	}
	switch n := len(t.tasters()); n {
	case 0:
	case 1, 2:
		add(false, "%s alone: another tongue may say otherwise.", words.Capital(words.Plural(n, "taster")))
	default:
		add(false, "%d tasters of this panel, not the guests at the table.", n)
	}
	for _, text := range t.notBlind() {
		add(false, "%s", text)
	}
	return out
}

// notBlind says who knew the codes, and which arms could be told by sight.
func (t Trial) notBlind() (out []string) {
	open, blind := map[string]bool{}, map[string]bool{}
	arms := map[int]bool{}
	for _, scores := range t.Scores {
		for _, s := range scores {
			if s.Open {
				open[s.Taster] = true
			} else {
				blind[s.Taster] = true
			}
			if s.BySight {
				arms[s.Arm] = true
			}
		}
	}
	switch {
	case t.Ask.WrittenUp:
		out = append(out, "It was written up later from a notebook: nothing of it is more than leaning, and nothing of it counts for another day.")
	case len(open) > 0 && len(blind) == 0:
		out = append(out, "The tasting was open: everybody knew which was which, so nothing of it is more than leaning.")
	case len(open) > 0:
		out = append(out, words.And(sorted(open))+" tasted knowing the codes; that is not counted.")
	}
	if len(arms) > 0 {
		var tags []string
		for i, a := range t.Ask.Arms {
			if arms[i] {
				tags = append(tags, a.Tag)
			}
		}
		out = append(out, "Samples of "+words.And(tags)+" could be told by sight: those tasters may have known.")
	}
	return out
}

// apart are the differences of what arms were given that are beyond their tolerance, and
// not what was varied: broken promises first.
func (t Trial) apart(delivered []DeliveredFact) (out []Limit) {
	for _, promised := range []bool{true, false} {
		for _, d := range delivered {
			if !d.Apart || d.Promised != promised {
				continue
			}
			row := rowOf(d.Fact)
			for a := range t.Ask.Arms {
				for b := a + 1; b < len(t.Ask.Arms); b++ {
					gap, ok := d.gap(a, b)
					if !ok || math.Abs(gap) <= row.tolerance || t.varied(a, b, row.roles) {
						continue
					}
					more := a
					if gap < 0 {
						more = b
					}
					text := fmt.Sprintf(row.more, t.Ask.Arms[more].Tag, row.said(math.Abs(gap))) + "."
					if promised {
						text = "It was to be held equal, and was not: " + text
					} else if d.Fact == PitHeat {
						text += fmt.Sprintf(" Pit heat and %s cannot be told apart.", t.Ask.Varied(a, b))
					}
					out = append(out, Limit{Text: text, Confound: t.couldMatter(d.Fact, gap), Broken: promised, arms: []int{a, b}})
				}
			}
		}
	}
	return out
}

// couldMatter says whether a gap could move any outcome of the trial by half of what matters.
func (t Trial) couldMatter(f Fact, gap float64) bool {
	return slices.ContainsFunc(t.Ask.Outcomes, func(o trial.Chosen) bool {
		by, ok := slopes[f][o.Key]
		return ok && o.SmallestDifference > 0 && math.Abs(gap)*by.by >= o.SmallestDifference/2
	})
}

// tasters are whose scores count.
func (t Trial) tasters() []string {
	return t.distinctScores(func(taster, _ string) string { return taster })
}

func (t Trial) distinctScores(of func(taster, cut string) string) []string {
	seen := map[string]bool{}
	for _, scores := range t.Scores {
		for _, s := range panel.Counted(scores) {
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
func (t Trial) notCovered(limits []Limit) string {
	var parts []string
	if pits := t.distinct(func(c Cut) string { return c.Pit }); len(pits) > 0 {
		parts = append(parts, "other pits than "+words.And(pits))
	}
	switch cooks := len(t.distinct(func(c Cut) string { return c.Cook })); {
	case cooks == 1:
		parts = append(parts, "days other than this one cook")
	case cooks > 1:
		parts = append(parts, fmt.Sprintf("days other than these %d cooks", cooks))
	}
	var kg []float64
	for _, c := range t.Cuts {
		if c.Kg != nil {
			kg = append(kg, *c.Kg)
		}
	}
	if len(kg) > 0 {
		parts = append(parts, fmt.Sprintf("pieces outside {kg:%.4f} to {kg:%.4f}", slices.Min(kg), slices.Max(kg)))
	}
	if len(parts) == 0 {
		return "Nothing is recorded yet, so it covers nothing."
	}
	sentence := "It does not cover " + words.And(parts)
	for _, l := range limits {
		if l.Confound {
			return sentence + ", and something moved together with the arms."
		}
	}
	return sentence + "."
}

func (t Trial) restsOn() string {
	pairs := len(t.distinct(func(c Cut) string { return c.Block }))
	ballots := t.distinctScores(func(taster, cut string) string { return taster + "\x00" + cut })
	parts := []string{words.Plural(len(t.Cuts), "cut")}
	if pairs > 0 {
		parts = append(parts, words.Plural(pairs, blockWord(len(t.Ask.Arms))))
	}
	parts = append(parts, words.Plural(len(t.distinct(func(c Cut) string { return c.Cook })), "cook"))
	parts = append(parts, words.Plural(len(t.tasters()), "taster"), words.Plural(len(ballots), "sealed sample"))
	return strings.Join(parts, ", ") + "."
}

// blockWord is what blocks are called: pairs, for two arms.
func blockWord(arms int) string {
	if arms == 2 {
		return "pair"
	}
	return "block"
}

// kept is why cuts were kept from the table, and whether their weights and times count.
type kept struct {
	why      string
	measured bool
}

func (k kept) compare(other kept) int {
	if k.measured != other.measured {
		return map[bool]int{false: -1, true: 1}[k.measured]
	}
	return strings.Compare(k.why, other.why)
}

func (k kept) say(cuts []string) string {
	what := "Dropped"
	if k.measured {
		what = "Kept from the table, and their weights and times count"
		if len(cuts) == 1 {
			what = "Kept from the table, and its weights and times count"
		}
	}
	why := "The safety gate is shut to them"
	if k.why != "" {
		why = strings.TrimRight(k.why, ".")
	}
	return what + ": " + strings.Join(cuts, ", ") + ". " + why + "."
}
