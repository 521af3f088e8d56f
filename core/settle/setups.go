package settle

import (
	"fmt"
	"strings"

	"whitebarn/core/pit"
	"whitebarn/core/words"
)

// NoSetUps is the reading of set-ups of which fewer than two tell anything.
func NoSetUps() Result {
	return Result{Rules: Rules, Headline: "Fewer than two set-ups have a burn that tells something.", Rows: []Row{},
		Delivered: []DeliveredFact{}, Limits: []Limit{},
		NotCovered: "Not covered: anything."}
}

// OfSetUps reads a trial of set-ups: each by itself, and the first beside every other. The
// error is that of a burn which tells nothing.
func OfSetUps(pitName string, all []pit.SetUp) (Result, error) {
	out := Result{Rules: Rules, Rows: []Row{}, Delivered: []DeliveredFact{}, Limits: []Limit{},
		NotCovered: "Not covered: other set points, other weather, and a pit full of meat."}
	var sentences, burns []string
	for _, s := range all {
		alone, err := pit.Alone(s)
		if err != nil {
			return out, err
		}
		sentences = append(sentences, alone.Sentence())
		burns = append(burns, fmt.Sprintf("%s of %s", words.Plural(len(s.Burns), "burn"), s.Tag))
	}
	seen := map[string]bool{}
	for _, other := range all[1:] {
		c, err := pit.Compare(all[0], other)
		if err != nil {
			return out, err
		}
		out.SetUps = append(out.SetUps, c)
		for _, text := range c.Limits {
			if !seen[text] {
				seen[text] = true
				out.Limits = append(out.Limits, Limit{Text: text, Confound: true})
			}
		}
	}
	out.Headline = strings.Join(sentences, " ")
	out.RestsOn = fmt.Sprintf("Rests on %s in the %s.", words.And(burns), pitName)
	return out, nil
}
