package design

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/words"
)

// Weight says how much a finding takes from the answer.
type Weight string

// The weights of a finding.
const (
	Confound Weight = "confound" // moves with the arms, so the two cannot be told apart
	Weakens  Weight = "weakens"  // the answer will mean less
	Lacks    Weight = "lacks"    // something is still to be given
	Asks     Weight = "asks"     // a word that plan and forecast go by; the answer does not hang on it
)

// Values lists the weights.
func (Weight) Values() []string {
	return []string{string(Confound), string(Weakens), string(Lacks), string(Asks)}
}

// Finding is one thing that stands between a trial and its answer. Weights
// stand in the text as {kg:2.41} and lengths as {m:0.012}, for the reader's
// units. Key is the same for the same finding, so that it can be kept with a word.
type Finding struct {
	Key    string `json:"key"`
	Weight Weight `json:"weight"`
	Text   string `json:"text"`
	Mends  []Mend `json:"mends"`
}

// Mend is a change that makes a finding go: of the ask, of the cuts' arms, of
// their places, or a new draw.
type Mend struct {
	Do        string          `json:"do"` // the button: starts with a verb
	Ask       *trial.Ask      `json:"ask"`
	Moves     []Move          `json:"moves"`
	Positions []GratePosition `json:"positions"`
	Swap      []int64         `json:"swap"` // two pit runs whose set-ups change pits
	Redraw    Redraw          `json:"redraw"`
}

// Redraw says what a mend draws anew.
type Redraw string

// The redraws.
const (
	RedrawNothing   Redraw = ""
	RedrawArms      Redraw = "arms"
	RedrawPositions Redraw = "positions"
)

// Values lists the redraws.
func (Redraw) Values() []string {
	return []string{string(RedrawNothing), string(RedrawArms), string(RedrawPositions)}
}

// Move puts a cut into another arm.
type Move struct {
	CutID int64 `json:"cut_id"`
	ArmID int64 `json:"arm_id"`
}

// GratePosition is where a cut is to lie on the grate of a pit run.
type GratePosition struct {
	CutID    int64  `json:"cut_id"`
	PitRunID int64  `json:"pit_run_id"`
	Position string `json:"position"`
}

// Levels are the known levels of factors, by their number in the catalogue, for
// mends that need another level.
type Levels map[int64][]trial.Level

// Case is a trial to be reviewed. Pieces are empty while no cut hangs.
type Case struct {
	Ask    trial.Ask
	Pieces []Piece
	Known  Levels
	Drawn  bool            // the arms were drawn by lot
	Moved  []string        // cuts moved by hand after the draw
	BoilsC float64         // water, at the barn's height; 0 is not known
	Like   *thermal.Family // what the product may well cook like, to offer; nil: no idea
}

// reviewer collects findings on one trial.
type reviewer struct {
	Case
	out []Finding
}

// Review says what stands between a trial and its answer: what moves together,
// what is missing, what is not alike; confounds first. Nothing it says forbids a
// trial.
func Review(c Case) []Finding {
	r := &reviewer{Case: c, out: []Finding{}}
	if len(c.Ask.Arms) > 0 && len(c.Ask.Factors) > 0 {
		r.arms()
	}
	if c.Ask.Kind == trial.OfSetUps { // nothing hangs, and a burn is the unit of all of it
		return r.out
	}
	if len(c.Ask.Arms) > 0 && len(c.Ask.Factors) > 0 {
		r.factors()
	}
	r.boiling()
	r.lacking()
	if len(c.Ask.Arms) > 0 {
		if len(c.Pieces) == 0 {
			r.planned()
		} else {
			r.hung()
		}
	}
	order := []Weight{Confound, Weakens, Lacks, Asks}
	slices.SortStableFunc(r.out, func(a, b Finding) int { return slices.Index(order, a.Weight) - slices.Index(order, b.Weight) })
	return r.out
}

func (r *reviewer) say(key string, w Weight, mends []Mend, format string, v ...any) {
	if mends == nil {
		mends = []Mend{}
	}
	for i := range mends {
		if mends[i].Moves == nil {
			mends[i].Moves = []Move{}
		}
		if mends[i].Swap == nil {
			mends[i].Swap = []int64{}
		}
		if mends[i].Positions == nil {
			mends[i].Positions = []GratePosition{}
		}
	}
	r.out = append(r.out, Finding{Key: key, Weight: w, Text: fmt.Sprintf(format, v...), Mends: mends})
}

// nearBoilingC is how near the boiling point a core gets so slowly that it is said (ours).
const nearBoilingC = 1.0

// boiling says where a core is to be pulled at what is boiling water at the barn's height.
func (r *reviewer) boiling() {
	pulled := func(who, typed string) {
		t, err := units.ParseTemperature(typed)
		if err == nil && r.BoilsC != 0 && t.C >= r.BoilsC-nearBoilingC {
			r.say("boils:"+who, Asks, nil, "%s is pulled at {C:%.1f}. At the barn's height water boils at {C:%.1f}: a core comes there late, or never.",
				who, t.C, r.BoilsC)
		}
	}
	for i, f := range r.Ask.Factors {
		for _, a := range r.Ask.Arms {
			if f.Role == trial.PullTemperature && i < len(a.Levels) {
				pulled(a.Tag, strings.TrimSpace(a.Levels[i].Value+" "+f.Unit))
			}
		}
	}
	for _, h := range r.Ask.Held {
		if h.Role == trial.PullTemperature {
			pulled("Every arm", h.Value)
		}
	}
}

// with is a mend that changes the ask.
func with(do string, a trial.Ask) Mend { return Mend{Do: do, Ask: &a} }

// arms looks for a lone arm, for arms alike, and for today's practice.
func (r *reviewer) arms() {
	a := r.Ask
	if len(a.Arms) == 1 {
		r.say("single-arm", Confound, []Mend{with("Add a second arm", r.secondArm())},
			"%s is the only arm. Without another beside it on the same day nothing can be said of it.", a.Arms[0].Tag)
		return
	}
	t := tableOfAsk(a)
	for i := range a.Arms {
		for j := range i {
			if slices.Equal(t.Arms[i], t.Arms[j]) && !slices.Contains(t.Arms[i], "") {
				r.say("alike:"+a.Arms[j].Tag+"+"+a.Arms[i].Tag, Weakens, r.unlike(i),
					"%s and %s are the same in everything that is varied. Whatever differs between them is chance.", a.Arms[j].Tag, a.Arms[i].Tag)
			}
		}
	}
	if !slices.ContainsFunc(a.Arms, func(arm trial.Arm) bool { return arm.Control }) {
		var mends []Mend
		for i, arm := range a.Arms[:min(len(a.Arms), 3)] {
			next := clone(a)
			next.Arms[i].Control = true
			mends = append(mends, with(arm.Tag+" is today's practice", next))
		}
		r.say("no-control", Weakens, mends, "No arm is today's practice. You will learn which arm is better, not whether to change.")
	}
}

// another is a known level of a factor that no arm has; for numbers of which
// none is known, the next step up.
func (r *reviewer) another(f int) trial.Level {
	factor := r.Ask.Factors[f]
	has := func(level trial.Level) bool {
		return slices.ContainsFunc(r.Ask.Arms, func(arm trial.Arm) bool { return factor.Same(arm.Levels[f], level) })
	}
	for _, level := range slices.Concat(r.Known[factor.ID], []trial.Level{{Key: trial.None, Value: "none"}, {Value: "as today"}}) {
		if !has(level) && (factor.Kind != trial.Numeric || numberLike(level.Value)) {
			return level
		}
	}
	most := 0.0
	for _, arm := range r.Ask.Arms {
		if v, err := strconv.ParseFloat(arm.Levels[f].Value, 64); err == nil {
			most = max(most, v)
		}
	}
	step := 1.0
	if most >= 50 {
		step = 5 * math.Ceil(most/50)
	}
	return trial.Level{Value: strconv.FormatFloat(most+step, 'f', -1, 64)}
}

func numberLike(s string) bool { return s != "" && strings.Trim(s, "0123456789.") == "" }

// secondArm adds an arm that differs in the first factor.
func (r *reviewer) secondArm() trial.Ask {
	next := clone(r.Ask)
	arm := trial.Arm{Levels: slices.Clone(next.Arms[0].Levels), Control: !next.Arms[0].Control}
	arm.Levels[0] = r.another(0)
	arm.Tag = "NOW"
	if !arm.Control {
		arm.Tag = tagOf(arm.Levels[:1], map[string]bool{next.Arms[0].Tag: true})
	}
	next.Arms = append(next.Arms, arm)
	return next
}

// unlike gives an arm that repeats another a level of its own, or takes it out.
func (r *reviewer) unlike(i int) []Mend {
	other := clone(r.Ask)
	other.Arms[i].Levels[0] = r.another(0)
	mends := []Mend{with(fmt.Sprintf("Give %s %s: %s", other.Arms[i].Tag, other.Factors[0].Name, other.Arms[i].Levels[0].Value), other)}
	if len(r.Ask.Arms) > 2 {
		next := clone(r.Ask)
		next.Arms = slices.Delete(next.Arms, i, i+1)
		mends = append(mends, with("Take "+r.Ask.Arms[i].Tag+" out", next))
	}
	return mends
}

// factors reports what moves together in the table of arms.
func (r *reviewer) factors() {
	a := r.Ask
	if len(a.Arms) < 2 {
		return
	}
	table := tableOfAsk(a)
	for _, row := range table.Arms {
		if slices.Contains(row, "") {
			return // still being written
		}
	}
	c, err := ConfoundingOf(table)
	if err != nil {
		return
	}
	index := map[string]int{}
	varied := 0
	for f, reading := range c.Factors {
		index[reading.Factor] = f
		if reading.Levels > 1 {
			varied++
		}
	}
	if varied == 0 {
		return // the arms are alike, which is said already
	}
	told := map[string]bool{}
	for f, reading := range c.Factors {
		if reading.Levels == 1 {
			r.say("not-varied:"+reading.Factor, Weakens, []Mend{with("Hold "+reading.Factor+" equal", HoldEqual(a, f))},
				"%s is the same in every arm: it is held equal, not varied.", words.Capital(reading.Factor))
			told[reading.Factor] = true
		}
	}
	for _, group := range groups(c.Completely) {
		var others []int
		for _, name := range group {
			told[name] = true
			if name != group[0] {
				others = append(others, index[name])
			}
		}
		r.say("together:"+strings.Join(group, "+"), Confound, r.apart(others),
			"%s change together in every arm. Whatever you find, you cannot say which did it.", words.Capital(words.And(group)))
	}
	for _, d := range c.Determined {
		if told[d.Factor] && told[d.DeterminedBy] {
			continue
		}
		told[d.Factor], told[d.DeterminedBy] = true, true
		r.say("follows:"+d.Factor+"+"+d.DeterminedBy, Confound, r.apart([]int{index[d.Factor]}),
			"%s follows from %s: to know the %s is to know the %s. What one does cannot be told from the other.", words.Capital(d.Factor), d.DeterminedBy, d.DeterminedBy, d.Factor)
	}
	var lost []string
	for _, reading := range c.Factors {
		if reading.Levels > 1 && reading.Estimable != Full && !told[reading.Factor] {
			lost = append(lost, reading.Factor)
		}
	}
	if len(lost) > 0 {
		r.say("too-few-arms:"+strings.Join(lost, "+"), Confound, r.apart([]int{index[lost[len(lost)-1]]}),
			"%s are too few for %s: what each of them does cannot be told apart.", words.Plural(len(a.Arms), "arm"), words.And(lost))
		return
	}
	for _, p := range c.Partly {
		if p.CramersV >= MuchTogether && !told[p.Pair[0]] && !told[p.Pair[1]] {
			r.say("partly:"+p.Pair[0]+"+"+p.Pair[1], Weakens, r.apart([]int{index[p.Pair[1]]}),
				"%s and %s change together in part (%.0f of 10). What you find for one leans on the other.", words.Capital(p.Pair[0]), p.Pair[1], 10*p.CramersV)
		}
	}
	if len(told) == 0 {
		for _, s := range aliasSentences(a) {
			r.say("alias:"+s, Weakens, r.crossed(), "%s.", words.Capital(s))
		}
	}
}

// groups joins pairs that share a name.
func groups(pairs [][2]string) [][]string {
	var out [][]string
	for _, p := range pairs {
		at := slices.IndexFunc(out, func(g []string) bool { return slices.Contains(g, p[0]) || slices.Contains(g, p[1]) })
		if at < 0 {
			out = append(out, []string{p[0], p[1]})
			continue
		}
		for _, name := range p {
			if !slices.Contains(out[at], name) {
				out[at] = append(out[at], name)
			}
		}
	}
	return out
}

// apart offers to hold factors equal, or to cross all of them.
func (r *reviewer) apart(factors []int) []Mend {
	next := r.Ask
	var names []string
	slices.Sort(factors)
	for i := len(factors) - 1; i >= 0; i-- { // from the last, so that places stay true
		names = append([]string{next.Factors[factors[i]].Name}, names...)
		next = HoldEqual(next, factors[i])
	}
	mends := []Mend{with("Hold "+words.And(names)+" equal", next)}
	if half, ok := HalfFraction(r.Ask); ok && len(r.Ask.Arms) < 4 {
		mends = append(mends, with("Use 4 arms, half of the combinations", half))
	}
	return append(mends, r.crossed()...)
}

func (r *reviewer) crossed() []Mend {
	if crossed, n, ok := Cross(r.Ask); ok && n > len(r.Ask.Arms) {
		return []Mend{with(fmt.Sprintf("Cross them in %d arms", n), crossed)}
	}
	return nil
}

// planned looks at the numbers at hand while no cut hangs.
func (r *reviewer) planned() {
	if len(r.Ask.Arms) < 2 {
		return
	}
	p := PlannedUnits(r.Ask)
	for f, factor := range r.Ask.Factors {
		if f >= len(p.PerLevel) || len(levels(r.Ask, f)) < 2 || p.PerLevel[f] > 1 {
			continue
		}
		next := clone(r.Ask)
		do := ""
		switch {
		case factor.SetOn == trial.UnitCut:
			next.Hand.Blocks = 6 * max(1, len(r.Ask.Arms)/max(1, r.Ask.Hand.BlockSize))
			do = fmt.Sprintf("Plan for %d animals or racks", next.Hand.Blocks)
		default:
			next.Hand.CookDays, next.Hand.Pits = max(2*len(levels(r.Ask, f)), next.Hand.CookDays), max(1, next.Hand.Pits)
			do = fmt.Sprintf("Plan for %s", words.Plural(next.Hand.CookDays, "cook day"))
		}
		r.say("one-unit:"+factor.Name, Weakens, []Mend{with(do, next)},
			"Each level of %s would stand on %s. One cannot show what the next one would do.", factor.Name, atMost(p.PerLevel[f], string(factor.SetOn)))
	}
}

func atMost(n int, what string) string {
	if n == 0 {
		return "less than one " + what
	}
	return "one " + what
}
