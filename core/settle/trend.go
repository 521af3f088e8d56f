package settle

import (
	"fmt"
	"strconv"
	"strings"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// score is one of the panel.
type score = panel.Score

// dosesOf are the numbers of the arms' one factor; ok is false where one is no number.
func dosesOf(ask trial.Ask) (out []float64, ok bool) {
	for _, arm := range ask.Arms {
		v, err := strconv.ParseFloat(strings.TrimSpace(arm.Levels[0].Value), 64)
		if err != nil {
			return nil, false
		}
		out = append(out, v)
	}
	return out, len(out) > 0
}

// said is what a trend comes to, in one sentence.
func (t Trend) said(d trial.OutcomeDefault) string {
	dose := func(v float64) string { return strings.TrimSpace(fmt.Sprintf("%g %s", v, t.Unit)) }
	name := strings.ToLower(d.Name)
	switch {
	case t.Least != nil:
		for _, l := range t.Levels {
			if l.Dose != *t.Least {
				continue
			}
			if l.Dose == t.Levels[0].Dose {
				return fmt.Sprintf("%s is as good as any on %s: it loses at most %.2g to %s.", dose(l.Dose), name, max(0, *l.Loss), l.As+" "+t.Unit)
			}
			return fmt.Sprintf("%s is the least that is as good as any on %s: it loses at most %.2g to %s.", dose(l.Dose), name, max(0, *l.Loss), l.As+" "+t.Unit)
		}
	case t.Within && t.Turns != nil:
		return fmt.Sprintf("%s turns near %.2g %s, but which is the least that is as good as any cannot be told.", words.Capital(name), t.Turns.Dose, t.Unit)
	}
	return "Which is the least that is as good as any on " + name + " cannot be told."
}
