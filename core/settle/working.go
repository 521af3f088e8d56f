package settle

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// Working is where a number of a verdict comes from: the values it was worked out of, how,
// and by which source; a calculation of the registry with its input, for who wants to do it
// again.
type Working struct {
	Title       string          `json:"title"`
	Reach       verdict.Reach   `json:"reach"`
	Columns     []string        `json:"columns"`
	Rows        [][]string      `json:"rows"`
	Method      string          `json:"method"`
	Steps       []string        `json:"steps"`
	Source      string          `json:"source"`
	Calculation string          `json:"calculation"` // empty where the registry has none
	Input       json.RawMessage `json:"input"`
	Side        Side            `json:"side"`  // as it comes out of the record of today
	Check       string          `json:"check"` // what the mixed model says beside it; empty is not asked
	Reference   string          `json:"reference"`
}

// sources of the methods.
const (
	pairedSource = "Student, 1908 (t); Schuirmann, 1987 (the same: two one-sided tests); Holm, 1979 (several pairs)"
	fitSource    = "Fisher, 1935 (blocks); least squares for what is missing; Holm, 1979; Satterthwaite, 1946 (tasters who part)"
)

// Work shows the working of two arms on an outcome in a reach; ok is false where there is no
// such number.
func (t Trial) Work(key trial.OutcomeKey, a, b int, reach verdict.Reach) (w Working, ok bool) {
	t.fitted = map[trial.OutcomeKey]map[string]panel.CutMean{}
	chosen, there := t.chosen(key)
	d, known := chosen.Outcome()
	if !there || !known || a < 0 || b <= a || b >= len(t.Ask.Arms) {
		return w, false
	}
	row := t.row(d, chosen, limits(t, t.delivered()), t.delivered())
	at := slices.IndexFunc(row.Pairs, func(p Pair) bool { return p.A == a && p.B == b })
	if at < 0 {
		return w, false
	}
	p := row.Pairs[at]
	w = Working{Title: fmt.Sprintf("%s: %s less %s", d.Name, t.Ask.Arms[a].Tag, t.Ask.Arms[b].Tag), Reach: reach, Rows: [][]string{},
		Input:     json.RawMessage("null"),
		Reference: "docs/verdict.md"}
	switch {
	case reach == verdict.ThesePieces && p.Pieces != nil:
		w.Side = *p.Pieces
		t.workPieces(&w, d, p)
	case reach == verdict.TheseCooks:
		w.Side = p.Cooks
		t.workCooks(&w, d, p)
		w.Check = t.mixedCheck(d, chosen, p)
	case reach == verdict.NextCook:
		w.Side = p.Next
		t.workNext(&w, d, p)
	default:
		return w, false
	}
	w.finish(row.SmallestDifference)
	return w, true
}

// paired adds rows of two values and their difference, and the calculation that takes them.
func (w *Working) paired(of string, tags [2]string, names []string, x, y []float64) {
	w.Columns = []string{of, tags[0], tags[1], "difference"}
	in := verdict.PairedInput{}
	for i, name := range names {
		w.Rows = append(w.Rows, []string{name, number(x[i]), number(y[i]), number(x[i] - y[i])})
		in.Pairs = append(in.Pairs, verdict.Pair{Block: name, A: &x[i], B: &y[i]})
	}
	w.Calculation = "verdict.paired"
	w.Input, _ = json.Marshal(in)
}

func number(v float64) string { return strconv.FormatFloat(math.Round(v*1e6)/1e6, 'f', -1, 64) }

func (t Trial) tags(p Pair) [2]string {
	return [2]string{t.Ask.Arms[p.A].Tag, t.Ask.Arms[p.B].Tag}
}

// besides are the values of two arms beside each other, by who or what had both, in order.
type besides struct {
	order []string
	of    map[string][2]*float64
}

func (b *besides) add(name string, arm int, value float64, p Pair) {
	v, seen := b.of[name]
	if !seen {
		b.order = append(b.order, name)
	}
	switch arm {
	case p.A:
		v[0] = &value
	case p.B:
		v[1] = &value
	}
	b.of[name] = v
}

func (t Trial) workPieces(w *Working, d trial.OutcomeDefault, p Pair) {
	at := besides{of: map[string][2]*float64{}}
	for _, m := range panel.TasterMeans(t.counted(d)) {
		at.add(m.Taster, m.Arm, m.Value, p)
	}
	names := slices.DeleteFunc(at.order, func(n string) bool { return at.of[n][0] == nil || at.of[n][1] == nil })
	slices.Sort(names)
	var x, y []float64
	for _, n := range names {
		x, y = append(x, *at.of[n][0]), append(y, *at.of[n][1])
	}
	w.paired("taster", t.tags(p), names, x, y)
	w.Method, w.Source = "Each taster's own mean of either arm, equal weight a cut and place; the t over tasters.", pairedSource
}

func (t Trial) workNext(w *Working, d trial.OutcomeDefault, p Pair) {
	own, _ := t.cookDifferences(p, d)
	w.Columns = []string{"cook", "difference"}
	in := verdict.PairedInput{}
	zero := 0.0
	add := func(name string, v float64) {
		w.Rows = append(w.Rows, []string{name, number(v)})
		in.Pairs = append(in.Pairs, verdict.Pair{Block: name, A: &v, B: &zero})
	}
	for _, c := range own {
		add("this trial, "+c.Cook, c.Difference)
	}
	for i, v := range t.fromTheHouse(p, d.Key) {
		add(fmt.Sprintf("an earlier trial, cook %d", i+1), v)
	}
	w.Calculation = "verdict.paired"
	w.Input, _ = json.Marshal(in)
	w.Method, w.Source = "Each cook's own difference, of this trial and of the house's trials of the same two levels; the t over cooks.", pairedSource
	w.Steps = append(w.Steps, fmt.Sprintf("Read at %s: clear where p is %.2g or less.", words.Plural(len(w.Rows), "cook"),
		verdict.CookLevels(len(w.Rows), false).Alpha))
}

// methods are what units were compared within, in words.
var methods = map[verdict.Model]string{
	verdict.InBlocks: "unit = arm + block", verdict.InCooks: "unit = arm x cook + block, cooks weighing equal",
	verdict.InCooksAndPit: "run = arm + cook + pit", verdict.InDays: "run = arm + cook", verdict.InPits: "run = arm + pit", verdict.AsTheyAre: "run = arm, days and pits in the spread",
}

func (t Trial) workCooks(w *Working, d trial.OutcomeDefault, p Pair) {
	units := verdict.Units(t.observations(d, p.Unit))
	slices.SortStableFunc(units, func(x, y verdict.Observation) int {
		return cmp.Or(cmp.Compare(x.Cook, y.Cook), cmp.Compare(x.Block, y.Block), cmp.Compare(x.Arm, y.Arm))
	})
	w.Columns = []string{string(p.Unit), "arm", "block", "cook", strings.ToLower(d.Name)}
	byBlock := besides{of: map[string][2]*float64{}}
	for _, u := range units {
		if p.Unit != trial.UnitCut && u.Arm != p.A && u.Arm != p.B {
			continue
		}
		w.Rows = append(w.Rows, []string{u.Unit, t.Ask.Arms[u.Arm].Tag, u.Block, u.Cook, number(u.Value)})
		byBlock.add(u.Block, u.Arm, u.Value, p)
	}
	w.Method, w.Source = "Least squares, "+methods[p.Model]+"; everything inside a unit is averaged first.", fitSource
	if len(t.Ask.Arms) != 2 || p.Model != verdict.InBlocks {
		return
	}
	in := verdict.PairedInput{}
	for _, b := range byBlock.order {
		if v := byBlock.of[b]; v[0] != nil && v[1] != nil {
			in.Pairs = append(in.Pairs, verdict.Pair{Block: b, A: v[0], B: v[1]})
		}
	}
	if n := len(byBlock.order); len(in.Pairs) == n && len(units) == 2*n {
		w.Calculation = "verdict.paired"
		w.Input, _ = json.Marshal(in)
	}
}

// finish adds what every working ends with: the number with its interval, and the word.
func (w *Working) finish(smallest float64) {
	s := w.Side
	if s.Estimate != nil {
		step := fmt.Sprintf("Estimate %s", number(*s.Estimate))
		if s.CI90 != nil {
			step += fmt.Sprintf("; 9 times in 10 %s to %s", number(s.CI90[0]), number(s.CI90[1]))
		}
		w.Steps = append(w.Steps, step+".")
	}
	if s.Borrowed {
		w.Steps = append(w.Steps, "One unit an arm: the spread is pooled from the house's earlier trials of the same product.")
	}
	if s.Floored {
		w.Steps = append(w.Steps, "The spread is what the step of the scale leaves unsure: all agree to the point.")
	}
	if s.Exact {
		w.Steps = append(w.Steps, "By relabelling: every way the units could have been dealt.")
	}
	said := string(s.Word)
	if said == "" {
		said = "no verdict"
	}
	step := fmt.Sprintf("What matters is %s: %s.", number(smallest), said)
	if s.But != "" {
		step += " " + words.Capital(s.But) + "."
	}
	w.Steps = append(w.Steps, step)
}

// mixedCheck is what a mixed model of all ballots says of two arms; where its word is another,
// that is said. The word stands by the units.
func (t Trial) mixedCheck(d trial.OutcomeDefault, chosen trial.Chosen, p Pair) string {
	if d.Kind != trial.FromPanel || p.Unit != trial.UnitCut {
		return ""
	}
	block := map[string]string{}
	for _, c := range t.Cuts {
		block[c.Name] = cmp.Or(c.Block, c.Name)
	}
	in := verdict.MixedInput{Arms: []string{t.Ask.Arms[p.B].Tag, t.Ask.Arms[p.A].Tag}, Columns: []string{"arm", "taster", "cut", "score"}}
	text := func(s string) json.RawMessage { return json.RawMessage(strconv.Quote(s)) }
	for _, s := range t.counted(d) {
		if s.Arm == p.A || s.Arm == p.B {
			in.Rows = append(in.Rows, []json.RawMessage{text(t.Ask.Arms[s.Arm].Tag), text(s.Taster), text(block[s.Cut]), json.RawMessage(number(s.Value))})
		}
	}
	if len(in.Rows) > verdict.MostBallots {
		return fmt.Sprintf("A mixed model is not fitted to more than %d ballots.", verdict.MostBallots)
	}
	m, err := verdict.MixedOf(in)
	if err != nil {
		return ""
	}
	fit := m.Basic
	switch {
	case m.WithPiece != nil && !m.WithPiece.Singular:
		fit = *m.WithPiece
	case m.Reduced != nil:
		fit = *m.Reduced
	}
	e := fit.Fixed[1]
	said := fmt.Sprintf("A mixed model of %s says %+.2f, with an error of %.2f", words.Plural(m.Ballots, "ballot"), e.Estimate, e.SE)
	if e.DF == nil || *e.DF < 1 || !(e.SE > 0) {
		return said + "; a part of its spread is at zero, so it says no word."
	}
	judged, err := verdict.WordsOf(verdict.WordsInput{Pairs: []verdict.Comparison{{Estimate: e.Estimate, SE: e.SE, DF: int(*e.DF)}},
		SmallestDifference: chosen.SmallestDifference})
	if err != nil {
		return said + "."
	}
	if word := judged.Pairs[0].Word; word != p.Cooks.Word {
		return fmt.Sprintf("%s: it would say “%s”, where the units say “%s”. The word stands by the units.", said, word, cmp.Or(string(p.Cooks.Word), "no verdict"))
	}
	return said + ": the same word."
}
