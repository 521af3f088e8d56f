package settle

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// Weighed is an outcome in a context: what it weighs, what each arm is worth in it, and where
// its weight would turn the answer.
type Weighed struct {
	Key     trial.OutcomeKey `json:"key"`
	Name    string           `json:"name"`
	Weight  float64          `json:"weight"` // as it was asked, 0 to 10
	Share   float64          `json:"share"`  // of all weights, 0 to 1
	Worth   []float64        `json:"worth"`  // of each arm, 0 to 1
	TurnsAt *float64         `json:"turns_at"`
	TurnsTo []int            `json:"turns_to"` // arms; none: it never turns
}

// Standing is what one context makes of the arms.
type Standing struct {
	Context   string    `json:"context"`
	Condition string    `json:"condition"` // when it is so; empty is always
	Weighs    []Weighed `json:"weighs"`
	Left      []string  `json:"left"`   // outcomes that weigh and have no value in every arm
	Scores    []float64 `json:"scores"` // of each arm, 0 to 100
	Winners   []int     `json:"winners"`
	Close     bool      `json:"close"` // the first two lie within what is not known
	Front     []int     `json:"front"` // arms that none beats on every outcome

	Answer  string `json:"answer"`
	Because string `json:"because"`
	Next    string `json:"next"`  // what is known of the next cook
	But     string `json:"but"`   // a limit that touches it
	Turns   string `json:"turns"` // how far a weight must move
}

// Weigh reads a verdict for a context. Only outcomes with a better direction and a mean in
// every arm are weighed; an empty standing says that none is.
func Weigh(ask trial.Ask, r Result, context trial.Context) Standing {
	out := Standing{Context: context.Name, Condition: context.Condition, Weighs: []Weighed{}, Left: []string{}, Scores: []float64{},
		Winners: []int{}, Front: []int{}}
	w := weighing{ask: ask, result: r}
	for _, row := range r.Rows {
		weight := context.Weights[row.Outcome.Key]
		switch {
		case row.Outcome.Better == trial.Description || len(row.Pairs) == 0:
		case slices.Contains(row.Means, nil):
			if weight > 0 {
				out.Left = append(out.Left, strings.ToLower(row.Outcome.Name))
			}
		default:
			w.add(row, weight)
		}
	}
	for a := range ask.Arms {
		w.in.Arms = append(w.in.Arms, fmt.Sprint(a))
	}
	told, err := verdict.Utilities(w.in)
	if err != nil { // nothing weighs, or there is nothing to weigh
		out.Answer = "Nothing that weighs here has a value yet."
		return out
	}
	for _, s := range told.Scores {
		out.Scores = append(out.Scores, 100*s)
	}
	out.Winners, out.Front = places(told.Winners), places(told.Front)
	for k, row := range w.rows {
		x := Weighed{Key: row.Outcome.Key, Name: row.Outcome.Name, Weight: w.in.Criteria[k].Weight, Share: told.Weights[k], TurnsTo: []int{}}
		for a := range ask.Arms {
			x.Worth = append(x.Worth, told.Utilities[a][k])
		}
		x.turn(told.Sensitivity[k], told.Winners)
		out.Weighs = append(out.Weighs, x)
	}
	w.say(&out)
	return out
}

// places are arms by their number as text.
func places(names []string) []int {
	out := []int{}
	for _, n := range names {
		a := 0
		_, _ = fmt.Sscan(n, &a)
		out = append(out, a)
	}
	return out
}

// turn finds the nearest weight at which others win.
func (x *Weighed) turn(s verdict.Sensitivity, winners []string) {
	for _, i := range s.Intervals {
		if slices.Equal(i.Winners, winners) || len(i.Winners) == 0 {
			continue
		}
		at := i.From
		if i.To <= s.Current {
			at = i.To
		}
		if x.TurnsAt == nil || math.Abs(at-s.Current) < math.Abs(*x.TurnsAt-s.Current) {
			x.TurnsAt, x.TurnsTo = &at, places(i.Winners)
		}
	}
}

// weighing is a verdict while it is weighed.
type weighing struct {
	ask    trial.Ask
	result Result
	rows   []Row
	in     verdict.UtilitiesInput
}

func (w *weighing) add(row Row, weight float64) {
	middle := 0.0
	for _, m := range row.Means {
		middle += *m / float64(len(row.Means))
	}
	zero, one := row.Outcome.Worth(middle, row.SmallestDifference)
	w.rows = append(w.rows, row)
	w.in.Criteria = append(w.in.Criteria, verdict.Criterion{Name: string(row.Outcome.Key), Weight: weight, Zero: zero, One: one})
	if w.in.Values == nil {
		w.in.Values = make([][]float64, len(row.Means))
	}
	for a, m := range row.Means {
		w.in.Values[a] = append(w.in.Values[a], *m)
	}
}

func (w weighing) tag(a int) string { return w.ask.Arms[a].Tag }

// unsure is what is not known of the difference of two scores, 9 times in 10: the half
// intervals of the outcomes, each by its weight; ok is false where one has none.
func (w weighing) unsure(s Standing, a, b int) (half float64, ok bool) {
	sum := 0.0
	for k, row := range w.rows {
		if s.Weighs[k].Share == 0 {
			continue
		}
		ci := row.pair(a, b).Cooks.CI90
		if ci == nil {
			return 0, false
		}
		c := w.in.Criteria[k]
		part := 100 * s.Weighs[k].Share * (ci[1] - ci[0]) / 2 / math.Abs(c.One-c.Zero)
		sum += part * part
	}
	return math.Sqrt(sum), true
}

// pair is that of two arms, in either order.
func (r Row) pair(a, b int) Pair {
	for _, p := range r.Pairs {
		if p.A == min(a, b) && p.B == max(a, b) {
			return p
		}
	}
	return Pair{}
}

// say puts a standing into words.
func (w weighing) say(s *Standing) {
	order := make([]int, len(s.Scores))
	for a := range order {
		order[a] = a
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(s.Scores[b], s.Scores[a]) })
	first, against := order[0], w.against(order)
	if against < 0 {
		s.Answer = w.tag(first) + " alone: there is nothing to compare."
		return
	}
	half, known := w.unsure(*s, order[0], order[1])
	s.Close = !known || s.Scores[order[0]]-s.Scores[order[1]] < half
	s.But = w.but(*s, first, against)
	s.Next = w.next(*s, first, against)
	s.Turns = w.turns(*s)
	switch {
	case len(s.Winners) > 1:
		var tags []string
		for _, a := range s.Winners {
			tags = append(tags, w.tag(a))
		}
		s.Answer = words.And(tags) + " come out level."
	case s.Close:
		s.Answer = fmt.Sprintf("%s by a little: a close call with %s.", w.tag(first), w.tag(order[1]))
	default:
		s.Answer = w.answer(*s, first, against)
	}
	s.Because = w.because(*s, first, against)
}

// against is the arm that the first is held against: today's practice, else the second.
func (w weighing) against(order []int) int {
	if len(order) < 2 {
		return -1
	}
	if control := w.ask.GoOnWith(); w.ask.Arms[control].Control && control != order[0] {
		return control
	}
	return order[1]
}

// answer says which arm comes out first, as far as it is clear over the other on something that
// weighs; else that it leans, or comes out first by its means alone.
func (w weighing) answer(s Standing, first, against int) string {
	tag, leans, cooks := w.tag(first), false, false
	for k, row := range w.rows {
		if s.Weighs[k].Share == 0 {
			continue
		}
		p := row.pair(first, against)
		wins := func(side Side, word verdict.Word) bool {
			return side.Winner != nil && *side.Winner == first && side.Word == word
		}
		if wins(p.Next, verdict.Clear) {
			return tag + ", for the next cook."
		}
		cooks = cooks || wins(p.Cooks, verdict.Clear)
		leans = leans || wins(p.Next, verdict.Leaning) || wins(p.Cooks, verdict.Leaning)
	}
	switch {
	case cooks:
		return tag + ", " + inCooks(w.result.Cooks) + "."
	case leans:
		return "Leaning to " + tag + "."
	}
	return tag + ", by its means alone."
}

// difference is how an amount that is no score is said.
func difference(row Row, gap float64) string {
	amount := fmt.Sprintf("%.0f", math.Abs(gap))
	unit, _, _ := strings.Cut(row.Outcome.Unit, " of ")
	switch {
	case unit == "%":
		return fmt.Sprintf("%.1f points %s %s", math.Abs(gap), moreOrLess(gap), strings.ToLower(row.Outcome.Name))
	case unit == "h":
		amount = fmt.Sprintf("%.1f", math.Abs(gap))
	}
	return fmt.Sprintf("%s %s %s %s", amount, unit, moreOrLess(gap), strings.ToLower(row.Outcome.Name))
}

func moreOrLess(gap float64) string {
	if gap < 0 {
		return "less"
	}
	return "more"
}

// because says what speaks for the first arm, what is the price, and what it takes.
func (w weighing) because(s Standing, first, against int) string {
	var better, worse, amounts, alike []string
	for k, row := range w.rows {
		if s.Weighs[k].Share == 0 {
			continue
		}
		name := strings.ToLower(row.Outcome.Name)
		side := row.pair(first, against).Widest()
		gap := *row.Means[first] - *row.Means[against]
		switch {
		case row.Outcome.Kind != trial.FromPanel:
			if math.Abs(gap) >= row.SmallestDifference/2 {
				amounts = append(amounts, difference(row, gap))
			}
		case side.Winner != nil && *side.Winner == first:
			better = append(better, name)
		case side.Winner != nil:
			worse = append(worse, name)
		case side.Word == verdict.Same:
			alike = append(alike, name)
		}
	}
	var parts []string
	if len(better) > 0 {
		parts = append(parts, "better than "+w.tag(against)+" on "+words.And(better))
	}
	if len(alike) > 0 {
		parts = append(parts, words.And(alike)+" as good")
	}
	if len(worse) > 0 {
		parts = append(parts, words.And(worse)+" "+verb(worse, "is", "are")+" the price")
	}
	parts = append(parts, amounts...)
	if len(parts) == 0 {
		return "Nothing that weighs tells it from " + w.tag(against) + "; it comes out first by its means alone."
	}
	return words.Capital(strings.Join(parts, "; ")) + "."
}

// next says what is known of the next cook, of what weighs most and the first arm is better in.
func (w weighing) next(s Standing, first, against int) string {
	k := w.heaviest(s, func(row Row) bool {
		side := row.pair(first, against).Widest()
		return side.Winner != nil && *side.Winner == first
	})
	if k < 0 {
		return ""
	}
	row := w.rows[k]
	p, name := row.pair(first, against), strings.ToLower(row.Outcome.Name)
	best, ok := Best(row.GoOn, p.A, p.B)
	cooks := 0
	if len(p.Next.Units) > 0 {
		cooks = p.Next.Units[0]
	}
	switch {
	case p.Next.Word == verdict.Clear:
		return fmt.Sprintf("The next cook: clear on %s, by %s.", name, words.Plural(cooks, "cook"))
	case p.Next.Winner != nil:
		said := fmt.Sprintf("The next cook: leans to %s on %s (%s", w.tag(*p.Next.Winner), name, words.Plural(cooks, "cook"))
		if ok {
			said += "; " + best.Said()
		}
		return said + ")."
	case ok:
		return fmt.Sprintf("The next cook: cannot be told yet on %s; %s.", name, best.Said())
	}
	return fmt.Sprintf("The next cook: %s.", p.Next.Why)
}

func (w weighing) heaviest(s Standing, of func(Row) bool) int {
	best := -1
	for k, row := range w.rows {
		if s.Weighs[k].Share > 0 && of(row) && (best < 0 || s.Weighs[k].Share > s.Weighs[best].Share) {
			best = k
		}
	}
	return best
}

// but is the limit that touches the answer: what could be the reason for a word it rests on,
// a broken promise before any other.
func (w weighing) but(s Standing, first, against int) string {
	k := w.heaviest(s, func(row Row) bool { p := row.pair(first, against); return p.Cooks.But != "" || p.Next.But != "" })
	broken := ""
	for _, l := range w.result.Limits {
		if l.Broken && l.of(first, against) {
			broken = l.Text
			break
		}
	}
	if k < 0 {
		return broken
	}
	p := w.rows[k].pair(first, against)
	said := "But on " + strings.ToLower(w.rows[k].Outcome.Name) + ", " + cmp.Or(p.Cooks.But, p.Next.But) + "."
	return strings.TrimSpace(broken + " " + said)
}

// turns says which weights are nearest to turning the answer.
func (w weighing) turns(s Standing) string {
	var near []Weighed
	for _, x := range s.Weighs {
		if x.TurnsAt != nil {
			near = append(near, x)
		}
	}
	if len(near) == 0 {
		return "No weight turns it."
	}
	distance := func(x Weighed) float64 { return math.Abs(*x.TurnsAt - x.Share) }
	slices.SortStableFunc(near, func(a, b Weighed) int { return cmp.Compare(distance(a), distance(b)) })
	var parts []string
	for _, x := range near[:min(2, len(near))] {
		var tags []string
		for _, a := range x.TurnsTo {
			tags = append(tags, w.tag(a))
		}
		parts = append(parts, fmt.Sprintf("%s from %.0f to %.0f in 100 gives %s", strings.ToLower(x.Name), 100*x.Share, 100**x.TurnsAt, words.And(tags)))
	}
	return "To change the answer: " + strings.Join(parts, ", or ") + "."
}
