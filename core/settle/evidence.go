package settle

import (
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/safety"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// From reads what is known of a trial for its verdict. Night is by the clock of
// the zone. The house's spreads are added by the caller.
func From(t evidence.Trial, zone *time.Location) (Trial, error) {
	out := Trial{Ask: t.Ask, Scores: t.Scores, Drawn: len(t.Draws) > 0, Moved: t.Moved(), Accepted: t.Accepted}
	minimum, err := safety.MinimumOf(safety.Meat{Species: t.Ask.Species, Handling: t.Ask.Handling})
	if err != nil {
		return out, err
	}
	hands := t.Hands(zone)
	for i, p := range t.Pieces(t.Ask) {
		c := t.Cuts[i]
		if p.Arm < 0 {
			continue
		}
		k := Cut{Piece: p, MayCount: c.MayServe(minimum), Account: yield.Settle(c.Weighings), Weighings: c.Weighings, Measured: c.Measured}
		if w := slices.IndexFunc(t.Divided, func(d evidence.Cut) bool { return d.ID == c.ParentID }); w >= 0 {
			k.Whole = t.Divided[w].Weighings
		}
		if on, pull, ok := c.Cooked(); ok {
			if _, lay := c.Lies(); lay {
				hours, work := pull.Sub(on).Hours(), hands[c.ID]
				k.CookHours, k.HandsMin, k.NightMin, k.PitMeanC = &hours, &work.Minutes, &work.Night, c.Heat.MeanC
			}
		}
		out.Cuts = append(out.Cuts, k)
	}
	return out, nil
}

// InBlocks says whether every cut stands in a block.
func (t Trial) InBlocks() bool {
	return !slices.ContainsFunc(t.Cuts, func(c Cut) bool { return c.Block == "" })
}

// FirstWord is the word of the first pair on the first outcome that is judged; empty
// where nothing is.
func (r Result) FirstWord() verdict.Word {
	for _, row := range r.Rows {
		if len(row.Pairs) > 0 {
			return row.Pairs[0].Process.Word
		}
	}
	return ""
}
