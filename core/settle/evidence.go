package settle

import (
	"slices"
	"strings"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/gate"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// From reads what is known of a trial for its verdict. Night is by the clock of
// the zone. The gates must have been read; the house's spreads are added by the caller.
func From(t evidence.Trial, zone *time.Location) Trial {
	out := Trial{Ask: t.Ask, Scores: t.Scores, Drawn: len(t.Draws) > 0, Moved: t.Moved(), Accepted: t.Accepted, Safety: safetyLimits(t)}
	hands := t.Hands(zone)
	for i, p := range t.Pieces(t.Ask) {
		c := t.Cuts[i]
		if p.Arm < 0 {
			continue
		}
		k := Cut{Piece: p, MayCount: t.Gates[c.ID].Counts, Shut: shutBy(t.Gates[c.ID]), Facts: factsOf(t, c),
			Account: yield.Settle(c.Weighings), Weighings: c.Weighings, Measured: c.Measured}
		if w := slices.IndexFunc(t.Divided, func(d evidence.Cut) bool { return d.ID == c.ParentID }); w >= 0 {
			k.Whole = t.Divided[w].Weighings
		}
		if _, pull, ok := c.Cooked(); ok {
			if _, lay := c.Lies(); lay {
				k.Cooked = true
				hours, work := c.OnFire(pull).Hours(), hands[c.ID]
				k.CookHours, k.HandsMin, k.NightMin = &hours, &work.Minutes, &work.Night
			}
		}
		out.Cuts = append(out.Cuts, k)
	}
	return out
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
			return row.Pairs[0].Widest().Word
		}
	}
	return ""
}

// shutBy is what keeps a cut out of the verdict.
func shutBy(r gate.Ruling) string {
	if stop, shut := r.Shut(); shut && !r.Counts {
		return stop.Words
	}
	return ""
}

// safetyLimits are what a verdict says of how the meat was handled.
func safetyLimits(t evidence.Trial) []string {
	out := slices.Clone(t.Notes)
	if !t.Ask.MeatConfirmed {
		out = append(out, "Nobody confirmed what meat it is.")
	}
	var late, reasoned []string
	for _, c := range t.Cuts {
		g := t.Gates[c.ID]
		if g.Range.Over {
			late = append(late, c.Name)
		}
		if g.Advisory {
			reasoned = append(reasoned, c.Name)
		}
	}
	if len(late) > 0 {
		out = append(out, "Over four hours from the fridge until {C:60} was passed: "+strings.Join(late, ", ")+".")
	}
	if len(reasoned) > 0 {
		out = append(out, "Served by the pitmaster's reason: "+strings.Join(reasoned, ", ")+".")
	}
	return out
}
