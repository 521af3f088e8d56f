// Package know answers what the house knows of two levels: its trials pooled, which of them
// stand apart, and what the next may show.
package know

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// ShownBy is what one trial showed, turned so that the better asked first level is first.
type ShownBy struct {
	TrialID  int64             `json:"trial_id"`
	Question string            `json:"question"`
	At       string            `json:"at"` // the day its codes opened
	Estimate float64           `json:"estimate"`
	SE       float64           `json:"se"`
	DF       int               `json:"df"`
	Units    float64           `json:"units"`
	CI90     *verdict.Interval `json:"ci90"`
	Word     verdict.Word      `json:"word"`
	Reach    verdict.Reach     `json:"reach"`
	Limited  string            `json:"limited"`
	Apart    bool              `json:"apart"` // stands apart from the others
	Setting  settle.Setting    `json:"setting"`
}

// KnowAnswer is what the house knows of two levels on an outcome.
type KnowAnswer struct {
	Sentence   string                 `json:"sentence"`
	Size       string                 `json:"size"`
	Word       verdict.Word           `json:"word"` // for the next cook; empty where nothing is known
	Winner     *int                   `json:"winner"`
	Trials     []ShownBy              `json:"trials"` // newest first
	Estimate   *float64               `json:"estimate"`
	CI90       *verdict.Interval      `json:"ci90"`
	Next80     *verdict.Interval      `json:"next80"` // what the next trial may show, 8 times in 10
	Cooks      int                    `json:"cooks"`
	Cuts       int                    `json:"cuts"`
	Method     string                 `json:"method"`
	P          *float64               `json:"p_apart"` // that the trials show the same
	Without    string                 `json:"without"` // the word without limited trials, where it differs
	Pooled     *verdict.PooledResult  `json:"pooled"`
	How        []Unlike               `json:"how"` // how the one apart differed
	Outcome    trial.OutcomeDefault   `json:"outcome"`
	Smallest   float64                `json:"smallest"`
	Levels     [2]string              `json:"levels"`
	Factor     string                 `json:"factor"`
	Product    string                 `json:"product"`
	Input      *verdict.PooledInput   `json:"input"` // what was pooled, for the working
	Trend      *settle.Trend          `json:"trend"`
	TrendOf    int64                  `json:"trend_of"`
	Others     []trial.OutcomeDefault `json:"others"` // other outcomes that are known of the two
	TrialCount int                    `json:"trial_count"`
}

// Unlike is one thing in which the trial apart differed from the others.
type Unlike struct {
	Name   string   `json:"name"`
	Unit   string   `json:"unit"` // C, h, kg, or nothing
	Others *float64 `json:"others"`
	Apart  *float64 `json:"apart"`
	Was    string   `json:"was"` // in words, of what is no number
	Is     string   `json:"is"`
}

// Pool pools the trials of two levels, newest first: one or two in one fit with trials as
// blocks, three or more by random effects. Cooks are the differences of all cooks, by which the
// word is found.
func Pool(shown []ShownBy, cooks []float64, d trial.OutcomeDefault, smallest float64) KnowAnswer {
	out := KnowAnswer{Trials: shown, Outcome: d, Smallest: smallest, Cooks: len(cooks), How: []Unlike{}, TrialCount: len(shown)}
	for i := range out.Trials {
		t := &out.Trials[i]
		half := quantile(0.95, float64(t.DF)) * t.SE
		t.CI90 = &verdict.Interval{t.Estimate - half, t.Estimate + half}
		out.Cuts += t.Setting.Cuts
	}
	if len(shown) == 0 {
		return out
	}
	out.pool()
	out.word(cooks)
	if limited := slices.DeleteFunc(slices.Clone(shown), func(s ShownBy) bool { return s.Limited != "" }); len(limited) > 0 && len(limited) < len(shown) {
		if without := Pool(limited, cooks, d, smallest); sameSide(without, out) != "" {
			out.Without = "Without the limited trials " + sameSide(without, out)
		}
	}
	out.apart()
	return out
}

// sameSide says what is other where limited trials are left out; empty: nothing.
func sameSide(without, with KnowAnswer) string {
	inside := func(a KnowAnswer) bool { return a.CI90 != nil && a.CI90[0] > -a.Smallest && a.CI90[1] < a.Smallest }
	off := func(a KnowAnswer) int {
		switch {
		case a.CI90 == nil || a.CI90[0] <= 0 && a.CI90[1] >= 0:
			return 0
		case a.CI90[0] > 0:
			return 1
		}
		return -1
	}
	switch {
	case inside(without) != inside(with):
		return map[bool]string{true: "they come out the same.", false: "they do not come out the same."}[inside(without)]
	case off(without) != off(with):
		return fmt.Sprintf("the size is %.1f, 9 times in 10 %.1f to %.1f.", *without.Estimate, without.CI90[0], without.CI90[1])
	}
	return ""
}

func quantile(p, df float64) float64 {
	return distuv.StudentsT{Sigma: 1, Nu: math.Max(1, df)}.Quantile(p)
}

func (a *KnowAnswer) pool() {
	if len(a.Trials) >= 3 {
		in := verdict.PooledInput{}
		for _, t := range a.Trials {
			in.Estimates, in.SEs = append(in.Estimates, t.Estimate), append(in.SEs, t.SE)
		}
		p, err := verdict.Pooled(in)
		if err != nil {
			return
		}
		a.Method, a.Pooled, a.Input = "Random effects over "+words.Plural(len(a.Trials), "trial")+", never surer than their own spreads leave it", &p, &in
		a.Estimate, a.P = &p.Estimate, &p.PQ
		// Trials of few units that happen to agree would look surer than they are; and what the next
		// one shows has the error of a trial on top of what is true on its days.
		precision, own := 0.0, 0.0
		for _, se := range in.SEs {
			precision += 1 / (se * se)
			own += se * se / float64(len(in.SEs))
		}
		squares := math.Max(p.SE*p.SE, 1/precision)
		within := func(level, variance float64) *verdict.Interval {
			half := quantile(0.5+level/2, float64(p.DF)) * math.Sqrt(variance)
			return &verdict.Interval{p.Estimate - half, p.Estimate + half}
		}
		a.CI90, a.Next80 = within(0.90, squares), within(0.80, squares+p.Tau2+own)
		return
	}
	// One fit with trials as blocks: each weighs by its units, the spread is one.
	a.Method = "One fit of " + words.Plural(len(a.Trials), "trial") + " as blocks"
	weight, sum, squares, df := 0.0, 0.0, 0.0, 0.0
	for _, t := range a.Trials {
		weight += t.Units
		sum += t.Units * t.Estimate
		squares += float64(t.DF) * t.SE * t.SE * t.Units / 2
		df += float64(t.DF)
	}
	if weight == 0 || df == 0 {
		return
	}
	spread := squares / df
	estimate, se := sum/weight, math.Sqrt(2*spread/weight)
	between := func(level float64) *verdict.Interval {
		half := quantile(0.5+level/2, df) * se
		return &verdict.Interval{estimate - half, estimate + half}
	}
	a.Estimate, a.CI90 = &estimate, between(0.90)
	// A next trial of the mean size, as unsure again by itself.
	again := quantile(0.90, df) * math.Sqrt(se*se+2*spread*float64(len(a.Trials))/weight)
	a.Next80 = &verdict.Interval{estimate - again, estimate + again}
	if len(a.Trials) == 2 {
		x, y := a.Trials[0], a.Trials[1]
		f := (x.Estimate - y.Estimate) * (x.Estimate - y.Estimate) / (2 * spread * (1/x.Units + 1/y.Units))
		p := distuv.F{D1: 1, D2: df}.Survival(f)
		a.P = &p
	}
}

// word is that of the next cook, over all cooks of the house.
func (a *KnowAnswer) word(cooks []float64) {
	c, _ := verdict.PairedBy(cooks, 0, false)
	a.Word = verdict.CannotTell
	if c != nil && len(cooks) >= 2 {
		a.Word = verdict.Judge([]verdict.Comparison{*c}, a.Smallest, verdict.CookLevels(len(cooks), false))[0].Word
	}
	if a.Estimate == nil || a.Word != verdict.Clear && a.Word != verdict.Leaning {
		return
	}
	winner := 0
	if (*a.Estimate < 0) != (a.Outcome.Better == trial.Down) {
		winner = 1
	}
	a.Winner = &winner
}

// apart finds the trial that stands apart from the mean of the others, if one does, and how it
// differed from them.
func (a *KnowAnswer) apart() {
	if len(a.Trials) < 2 {
		return
	}
	// The furthest of several is looked for: each at its share of one in ten. The error of their
	// difference has the degrees of freedom of Satterthwaite, 1946.
	least, at := 0.1/float64(len(a.Trials)), -1
	for i, t := range a.Trials {
		sum, variance, units, parts := 0.0, 0.0, 0.0, 0.0
		for j, o := range a.Trials {
			if j != i {
				units += o.Units
				sum += o.Units * o.Estimate
			}
		}
		for j, o := range a.Trials {
			v := o.SE * o.SE
			if j != i {
				v *= o.Units / units * o.Units / units
			}
			variance += v
			parts += v * v / math.Max(1, float64(o.DF))
		}
		far := math.Abs(t.Estimate-sum/units) / math.Sqrt(variance)
		if p := 2 * (distuv.StudentsT{Sigma: 1, Nu: variance * variance / parts}).Survival(far); p < least {
			least, at = p, i
		}
	}
	if at < 0 || len(a.Trials) == 2 && (a.P == nil || *a.P > 0.1) {
		return
	}
	a.Trials[at].Apart = true
	a.differs(at)
}

// differs compares the setting of one trial with those of the others.
func (a *KnowAnswer) differs(at int) {
	is := a.Trials[at].Setting
	var others []settle.Setting
	for i, t := range a.Trials {
		if i != at {
			others = append(others, t.Setting)
		}
	}
	var pits []string
	for _, o := range others {
		pits = append(pits, o.Pits...)
	}
	slices.Sort(pits)
	pits = slices.Compact(pits)
	if was, now := words.And(pits), words.And(is.Pits); was != now {
		a.How = append(a.How, Unlike{Name: "Pit", Was: was, Is: now})
	}
	number := func(name, unit string, of func(settle.Setting) (float64, bool), least float64) {
		v, ok := of(is)
		sum, n := 0.0, 0.0
		for _, o := range others {
			if w, there := of(o); there {
				sum, n = sum+w, n+1
			}
		}
		if !ok || n == 0 || math.Abs(v-sum/n) <= least {
			return
		}
		mean := sum / n
		a.How = append(a.How, Unlike{Name: name, Unit: unit, Others: &mean, Apart: &v})
	}
	number("Mean cut", "kg", func(s settle.Setting) (float64, bool) { return s.Kg, s.Kg > 0 }, 0.1)
	for _, f := range settle.Facts() {
		name, tolerance := settle.FactName(f)
		number(name, settle.FactUnit(f), func(s settle.Setting) (float64, bool) { v, ok := s.Facts[f]; return v, ok }, math.Max(tolerance/2, 0.2))
	}
	number(a.Trials[at].Setting.Tags[1]+", "+strings.ToLower(a.Outcome.Name), "", func(s settle.Setting) (float64, bool) {
		if s.Means[1] == nil {
			return 0, false
		}
		return *s.Means[1], true
	}, a.Smallest/2)
}

// Say puts the answer into words.
func (a *KnowAnswer) Say() {
	name := strings.ToLower(a.Outcome.Name)
	about := name + " of " + a.Product
	switch {
	case len(a.Trials) == 0:
		a.Sentence = fmt.Sprintf("Nothing is known yet of %s: %s or %s.", about, a.Levels[0], a.Levels[1])
		return
	case a.Winner != nil && a.Word == verdict.Clear:
		a.Sentence = fmt.Sprintf("%s is better than %s on %s.", words.Capital(a.Levels[*a.Winner]), a.Levels[1-*a.Winner], about)
	case a.Winner != nil:
		a.Sentence = fmt.Sprintf("%s leans to %s over %s.", words.Capital(about), a.Levels[*a.Winner], a.Levels[1-*a.Winner])
	case a.Word == verdict.Same:
		a.Sentence = fmt.Sprintf("%s and %s are the same for our purposes on %s.", words.Capital(a.Levels[0]), a.Levels[1], about)
	default:
		a.Sentence = fmt.Sprintf("%s or %s on %s: cannot be told for the next cook yet.", words.Capital(a.Levels[0]), a.Levels[1], about)
	}
	reach := map[verdict.Word]string{verdict.Clear: "Clear for the next cook.", verdict.Leaning: "Leaning for the next cook.",
		verdict.Same: "Same for the next cook."}[a.Word]
	if reach == "" {
		reach = fmt.Sprintf("%s so far.", words.Capital(words.Plural(a.Cooks, "cook")))
	}
	if a.Estimate == nil {
		a.Size = reach
		return
	}
	a.Size = fmt.Sprintf("%s %s less %s: %+.1f (%s); %.1f to %.1f, 9 times in 10.", reach, words.Capital(a.Levels[0]), a.Levels[1],
		*a.Estimate, a.Outcome.Unit, a.CI90[0], a.CI90[1])
	if a.Next80 != nil {
		a.Size += fmt.Sprintf(" The next trial: %.1f to %.1f, 8 times in 10.", a.Next80[0], a.Next80[1])
	}
}
