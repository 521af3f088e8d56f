package table

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/words"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// PanelResults are what the panel said, attribute by attribute.
type PanelResults struct {
	Named      bool                `json:"named"` // tasters are by name; otherwise by number
	Attributes []HeardOf           `json:"attributes"`
	Plates     []panel.HeardPlates `json:"plates"` // what was said of plates as one
	Faults     []store.FaultCount  `json:"faults"` // what tasters ticked, the most first
	Repeats    []panel.HeardRepeat `json:"repeats"`
	Open       []string            `json:"open"`     // who knew the codes, by name; how many where names are not shown
	BySight    []string            `json:"by_sight"` // arms that could be told by sight
	Shared     bool                `json:"shared"`   // tasters may read what they scored
	Sources    []string            `json:"sources"`
}

// HeardOf is an attribute and what was said of it: lines by taster of nine points, counts of
// what is just about right.
type HeardOf struct {
	Attribute panel.Attribute    `json:"attribute"`
	Heard     panel.Heard        `json:"heard"`
	Right     []panel.HeardRight `json:"right"`
}

// Results reads what the panel said once the codes are open. What a taster gave is theirs and
// the pitmaster's: to others tasters are numbers, another order in each attribute.
func Results(ctx context.Context, b *barn.Barn, who store.Person, trialID int64) (out PanelResults, err error) {
	t, err := b.Store.Trial(ctx, trialID)
	if err != nil {
		return out, err
	}
	if t.RevealedAt == nil {
		return out, barn.Refuse("The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	all, err := b.Store.Scores(ctx, trialID)
	if err != nil {
		return out, err
	}
	answers, err := b.Store.Answers(ctx, trialID)
	if err != nil {
		return out, err
	}
	out = PanelResults{Named: who.Role == store.Pitmaster, Attributes: []HeardOf{}, Open: []string{}, BySight: []string{},
		Sources: []string{panel.ConcordanceSource, panel.PositionSource}}
	tags := make([]string, len(t.Ask.Arms))
	for i, a := range t.Ask.Arms {
		tags[i] = a.Tag
	}
	mine := all[trialID]
	for _, a := range attributes(t.Ask) {
		scores := mine[trial.OutcomeKey(a.Key)]
		if len(scores) == 0 {
			continue
		}
		if !out.Named {
			scores = numbered(scores)
		}
		h := HeardOf{Attribute: a, Heard: panel.Hear(scores, tags), Right: []panel.HeardRight{}}
		if a.Scale == panel.Right {
			h.Right = panel.HearRight(a, mine[trial.OutcomeKey(a.Key)], mine[trial.Overall], tags)
		}
		out.Attributes = append(out.Attributes, h)
	}
	out.Plates = panel.HearPlates(platesOf(answers, out.Named), tags)
	out.Repeats = panel.HearRepeats(out.shown(mine[sumsUp(t.Ask)]))
	out.knew(mine, tags)
	if out.Shared, err = b.Store.Shared(ctx, trialID); err != nil {
		return out, err
	}
	out.Faults, err = b.Store.Faults(ctx, trialID)
	return out, err
}

// shown are scores as they may be shown: by number where names are not.
func (r PanelResults) shown(scores []panel.Score) []panel.Score {
	if r.Named {
		return scores
	}
	return numbered(scores)
}

// sumsUp is the attribute that sums up: overall liking, or the last that is tasted.
func sumsUp(a trial.Ask) trial.OutcomeKey {
	all := attributes(a)
	if len(all) == 0 {
		return ""
	}
	return trial.OutcomeKey(all[len(all)-1].Key)
}

// knew adds who knew the codes, and which arms could be told by sight.
func (r *PanelResults) knew(all map[trial.OutcomeKey][]panel.Score, tags []string) {
	arms := map[int]bool{}
	for _, scores := range all {
		for _, s := range scores {
			if s.Open && !slices.Contains(r.Open, s.Taster) {
				r.Open = append(r.Open, s.Taster)
			}
			arms[s.Arm] = arms[s.Arm] || s.BySight
		}
	}
	slices.Sort(r.Open)
	if n := len(r.Open); !r.Named && n > 0 { // their lines are numbered anew in each attribute
		r.Open = []string{words.Plural(n, "taster")}
	}
	for i, tag := range tags {
		if arms[i] {
			r.BySight = append(r.BySight, tag)
		}
	}
}

// platesOf puts the samples of each answered plate together.
func platesOf(rows []store.AnsweredSample, named bool) (out []panel.PlateAnswer) {
	last := int64(0)
	number := map[string]int{}
	for _, r := range rows {
		if r.BallotID != last {
			last = r.BallotID
			taster := r.Taster
			if !named {
				if number[taster] == 0 {
					number[taster] = len(number) + 1
				}
				taster = fmt.Sprintf("Taster %d", number[taster])
			}
			out = append(out, panel.PlateAnswer{Format: r.Format, Flight: fmt.Sprint(r.Flight), Taster: taster, Open: r.Open, Reason: r.Reason})
		}
		s := panel.AnsweredSample{Arm: r.Arm, Cut: r.Cut, Picked: r.Picked}
		if r.Rank != nil {
			s.Rank = *r.Rank
		}
		p := &out[len(out)-1]
		p.Samples = append(p.Samples, s)
	}
	return out
}

// numbered puts numbers for names, in the order of what they gave, so that one attribute does
// not tell who is who in another.
func numbered(scores []panel.Score) []panel.Score {
	sums := map[string]float64{}
	for _, s := range scores {
		sums[s.Taster] += s.Value
	}
	names := make([]string, 0, len(sums))
	for name := range sums {
		names = append(names, name)
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Or(cmp.Compare(sums[b], sums[a]), cmp.Compare(a, b)) })
	out := slices.Clone(scores)
	for i := range out {
		out[i].Taster = fmt.Sprintf("Taster %d", slices.Index(names, out[i].Taster)+1)
	}
	return out
}

// ShareInput lets tasters read what they scored against what it was, or no longer.
type ShareInput struct {
	Share bool `json:"share"`
}

// Share lets them, once the codes are open.
func Share(ctx context.Context, a *barn.Act, in *barn.With[ShareInput]) (barn.None, error) {
	t, err := a.Store.Trial(ctx, in.ID)
	if err != nil {
		return barn.None{}, err
	}
	if t.RevealedAt == nil {
		return barn.None{}, barn.Refuse("The codes are still closed.", "Share what was tasted once they are open.")
	}
	return barn.None{}, a.Store.Share(ctx, a.Who.ID, in.ID, in.Body.Share)
}

// TellsQuery asks what a flight would tell before it is served.
type TellsQuery struct {
	barn.ByID
	Format  panel.Format `form:"format"`
	Tasters int          `form:"tasters" binding:"min=0,max=200"`
	PerArm  int          `form:"per_arm" binding:"min=0,max=12"`
	Rounds  int          `form:"rounds" binding:"min=0,max=12"`
}

// TellsOf says what a flight would tell of the outcome that sums up.
func TellsOf(ctx context.Context, b *barn.Barn, in *TellsQuery) (panel.Tells, error) {
	t, err := b.Store.Trial(ctx, in.ID)
	if err != nil {
		return panel.Tells{}, err
	}
	ask := panel.TellsInput{Format: in.Format, Tasters: in.Tasters, PerArm: in.PerArm, Rounds: in.Rounds}
	key := sumsUp(t.Ask)
	for _, o := range t.Ask.Outcomes {
		if d, ok := o.Outcome(); ok && d.Key == key {
			ask.SD, ask.Smallest = d.SDTaster, o.SmallestDifference
		}
	}
	out := panel.TellsOf(ask)
	if out.Said == nil {
		out.Said = []string{}
	}
	return out, nil
}
