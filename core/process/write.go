package process

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// Written is what a version is written from: a trial, the arm that is to be kept, what was
// planned for it, and its verdict as it stands.
type Written struct {
	Trial   evidence.Trial
	Settle  settle.Trial
	Arm     int
	Phases  []phase.Phase
	Doses   []prep.Dose
	Recipes map[int64][]prep.Line
	Result  settle.Result
	Setups  map[int64]string // of pit runs
	Fuel    string
	Lines   safety.Lines // of the barn
}

// spanOf is the spread of values that a next one may have: their middle, and two standard
// deviations either side, never closer than a least; nil without any.
func spanOf(values []float64, least float64) *CardRange {
	if len(values) == 0 {
		return nil
	}
	mean, sd := stat.MeanStdDev(values, nil)
	if len(values) == 1 {
		sd = 0
	}
	half := math.Max(2*sd, least)
	return &CardRange{mean, mean - half, mean + half, len(values)}
}

// meanOf is the mean of values with its 9-in-10 interval; nil without any.
func meanOf(values []float64) *CardRange {
	n := len(values)
	if n == 0 {
		return nil
	}
	mean, sd := stat.MeanStdDev(values, nil)
	if n == 1 {
		return &CardRange{mean, mean, mean, 1}
	}
	half := distuv.StudentsT{Sigma: 1, Nu: float64(n - 1)}.Quantile(0.95) * sd / math.Sqrt(float64(n))
	return &CardRange{mean, mean - half, mean + half, n}
}

// Write writes a version from what an arm delivered.
func Write(w Written) CardBody {
	ask := w.Trial.Ask
	arm := ask.Arms[w.Arm]
	b := CardBody{Product: ask.Product, ProductID: ask.ProductID, Family: ask.Family, Cut: ask.Cut, Doses: w.Doses, Fuel: w.Fuel,
		Takes: []CardAmount{}, Gives: []Gift{},
		For: []string{}, Not: []string{}, Cautions: []CardCaution{}, Held: ask.Held, Allergens: ask.Allergens, Steps: []CardStep{}}
	if b.Doses == nil {
		b.Doses = []prep.Dose{}
	}
	if wood := ask.Said(arm, trial.Wood); !wood.Nothing() {
		b.Wood = wood.Value
	}
	cuts := w.cuts()
	var kg []float64
	for _, c := range cuts {
		if v, ok := c.AtFire(); ok {
			kg = append(kg, v)
		}
		if lay, ok := c.Lies(); ok && b.Pit == "" {
			if run, ok := w.Trial.Run(lay.PitRunID); ok {
				b.Pit, b.PitID, b.SetUp = run.Pit, run.PitID, w.Setups[run.ID]
			}
		}
	}
	if len(kg) > 0 {
		b.Kg = &CardRange{stat.Mean(kg, nil), slices.Min(kg), slices.Max(kg), len(kg)}
	}
	for _, c := range w.Settle.Cuts {
		if c.Arm == w.Arm {
			b.Bone = cmp.Or(b.Bone, c.Traits[design.Bone])
		}
	}
	b.Steps = w.steps(cuts)
	b.Hours = spanOf(w.facts(settle.Smoked), 0.1)
	b.Gives = w.gives()
	b.Takes = w.takes(kg)
	if hands := w.settled(func(c settle.Cut) *float64 { return c.HandsMin }); len(hands) > 0 {
		mean := stat.Mean(hands, nil)
		b.HandsMin = &mean
	}
	b.CentsKg = meanOf(w.settled(func(c settle.Cut) *float64 { return c.CentsKg }))
	w.purpose(&b)
	b.Cautions = cautions(w.Lines, w.Trial.ArmMeat(arm), w.Phases)
	return b
}

// cuts are the arm's that count.
func (w Written) cuts() (out []evidence.Cut) {
	for _, c := range w.Trial.Cuts {
		if w.Trial.Arm(c.ArmID) == w.Arm && w.Trial.Gates[c.ID].Counts {
			out = append(out, c)
		}
	}
	return out
}

func (w Written) settled(of func(settle.Cut) *float64) (out []float64) {
	for _, c := range w.Settle.Cuts {
		if v := of(c); v != nil && c.Arm == w.Arm && c.MayCount {
			out = append(out, *v)
		}
	}
	return out
}

func (w Written) facts(f settle.Fact) []float64 {
	return w.settled(func(c settle.Cut) *float64 {
		if v, ok := c.Facts[f]; ok {
			return &v
		}
		return nil
	})
}

// Least tolerances, where cuts agree to more than hands can: 2 F, five minutes.
const (
	leastHeat = 2 / 1.8
	leastTime = 5.0 / 60
)

// steps are the phases with what was delivered of each.
func (w Written) steps(cuts []evidence.Cut) (out []CardStep) {
	_, fire := phase.Fire(w.Phases)
	at := 0.0 // h since it went on, in the middle
	for i, p := range w.Phases {
		s := CardStep{Phase: p}
		switch {
		case p.Kind.InPit():
			s.Heat = spanOf(w.facts(settle.PitHeat), leastHeat)
			if i == fire-1 {
				s.EndC, s.EndsAt = spanOf(w.facts(settle.CoreAtPull), leastHeat), spanOf(w.facts(settle.Smoked), leastTime)
			} else {
				s.EndsAt = spanOf(changed(cuts, w.Phases[i+1]), leastTime)
			}
		case p.Kind == phase.Hold:
			s.Lasted = spanOf(w.facts(settle.HoldHours), leastTime)
		case p.Kind == phase.Rest:
			s.Lasted = spanOf(w.facts(settle.RestHours), leastTime)
		}
		if s.EndsAt != nil {
			at = s.EndsAt.Middle
		} else if s.Lasted != nil && at > 0 {
			at += s.Lasted.Middle
			s.EndsAt = &CardRange{at, at + s.Lasted.Low - s.Lasted.Middle, at + s.Lasted.High - s.Lasted.Middle, s.Lasted.N}
		}
		if seconds, fixed := p.Fixed(); fixed && s.EndsAt == nil && !p.Kind.Lead() && at > 0 {
			at += seconds / 3600
			s.EndsAt = &CardRange{at, at, at, 0}
		}
		out = append(out, s)
	}
	return out
}

// changed is when cuts went over to a phase: wrapped, or unwrapped again; h since on.
func changed(cuts []evidence.Cut, to phase.Phase) (out []float64) {
	act := logbook.Wrap
	if to.Bare() {
		act = logbook.Unwrap
	}
	for _, c := range cuts {
		on, ok := c.On()
		if !ok {
			continue
		}
		for _, a := range c.Acts {
			if a.Act == act {
				out = append(out, a.At.Sub(on).Hours())
				break
			}
		}
	}
	return out
}

// gives are the outcomes of the arm.
func (w Written) gives() []Gift {
	out := []Gift{}
	for _, row := range w.Result.Rows {
		values := w.Settle.ArmValues(row.Outcome.Key, w.Arm)
		r := meanOf(values)
		if r == nil {
			continue
		}
		out = append(out, Gift{Key: row.Outcome.Key, Name: row.Outcome.Name, Unit: row.Outcome.Unit, CardRange: *r, Tasted: row.Outcome.Kind == trial.FromPanel})
	}
	return out
}

// takes are the amounts by weight, for the mean cut, and what each cook took of wood.
func (w Written) takes(kg []float64) []CardAmount {
	out := []CardAmount{}
	if len(kg) > 0 {
		mean := stat.Mean(kg, nil)
		piece := prep.Piece{MeatG: 1000 * mean, ThicknessCM: w.thickness(), Shape: 1}
		if orders, err := prep.OrdersOf(w.Doses, piece, w.Recipes); err == nil {
			for _, o := range orders {
				if len(o.Numbers) > 0 && o.Numbers[0].Unit == "g" {
					out = append(out, CardAmount{Name: o.Name, GPer: o.Numbers[0].Value / mean})
				}
			}
		}
	}
	if liquid := w.facts(settle.WrapLiquid); len(liquid) > 0 && stat.Mean(liquid, nil) > 0 {
		out = append(out, CardAmount{Name: "into the wrap", Each: stat.Mean(liquid, nil), Of: w.Trial.Ask.Cut})
	}
	if wood := w.facts(settle.WoodPieces); len(wood) > 0 {
		out = append(out, CardAmount{Name: cmp.Or(w.Trial.Ask.Said(w.Trial.Ask.Arms[w.Arm], trial.Wood).Value, "wood"),
			Each: math.Round(stat.Mean(wood, nil)), Of: "cook", Count: true})
	}
	if spritz := w.facts(settle.Spritzes); len(spritz) > 0 && stat.Mean(spritz, nil) > 0 {
		out = append(out, CardAmount{Name: "spritz", Each: math.Round(stat.Mean(spritz, nil)), Of: w.Trial.Ask.Cut, Count: true})
	}
	return out
}

func (w Written) thickness() float64 {
	var all []float64
	for _, c := range w.cuts() {
		if v := c.Dimension("thickness"); v != nil {
			all = append(all, 100**v)
		}
	}
	if len(all) == 0 {
		return 10
	}
	return stat.Mean(all, nil)
}

// purpose says what the version is for, what not, and what it rests on.
func (w Written) purpose(b *CardBody) {
	ask := w.Trial.Ask
	for _, c := range ask.Contexts {
		s := settle.Weigh(ask, w.Result, c)
		switch {
		case len(s.Winners) == 0:
		case slices.Contains(s.Winners, w.Arm):
			b.For = append(b.For, c.Name)
			if b.Evidence.But == "" {
				b.Evidence.But = s.But
			}
		default:
			b.Not = append(b.Not, fmt.Sprintf("%s: %s comes out first there", c.Name, ask.Arms[s.Winners[0]].Tag))
		}
	}
	if w.Result.NotCovered != "" {
		b.Not = append(b.Not, "not tried: "+strings.TrimSuffix(strings.TrimPrefix(w.Result.NotCovered, "It does not cover "), "."))
	}
	b.Evidence.TrialID, b.Evidence.Trials = w.Trial.ID, 1
	cooks := map[string]bool{}
	for _, c := range w.Settle.Cuts {
		cooks[c.Cook] = true
	}
	b.Evidence.Cooks, b.Evidence.Cuts = len(cooks), len(w.Settle.Cuts)
	w.shown(b)
}

// shown finds the widest reach in which the arm is clearly better than another, else leans, and
// says it.
func (w Written) shown(b *CardBody) {
	e := &b.Evidence
	best := 0
	for _, row := range w.Result.Rows {
		e.Tasters = max(e.Tasters, row.Tasters)
		for _, p := range row.Pairs {
			if p.A != w.Arm && p.B != w.Arm {
				continue
			}
			for _, at := range []struct {
				rank  int
				side  *settle.Side
				word  verdict.Word
				reach verdict.Reach
			}{{4, &p.Next, verdict.Clear, verdict.NextCook}, {3, &p.Cooks, verdict.Clear, verdict.TheseCooks}, {2, &p.Next, verdict.Leaning, verdict.NextCook},
				{1, p.Pieces, verdict.Clear, verdict.ThesePieces}} {
				if at.side == nil || at.rank <= best || at.side.Word != at.word || at.side.Winner == nil || *at.side.Winner != w.Arm {
					continue
				}
				best, e.Reach = at.rank, at.reach
				e.Says = saysOf(at.rank, p, e.Cooks)
				e.Size = sizeOf(row, *at.side, w.Trial.Ask.Arms[p.A+p.B-w.Arm].Tag)
			}
		}
	}
	if best == 0 {
		e.Says = "Not shown to be better than another way; kept as it was cooked."
	}
}

// saysOf is what a card states of its reach.
func saysOf(rank int, p settle.Pair, cooks int) string {
	in := "one cook"
	if cooks != 1 {
		in = words.Plural(cooks, "cook")
	}
	switch rank {
	case 4:
		return "The next cook: clear."
	case 3:
		said := "Shown in " + in + "."
		if p.Next.Word == verdict.Leaning {
			said += " The next cook: leaning."
		}
		return said
	case 2:
		return "The next cook: leaning."
	}
	return "Shown on these pieces."
}

// sizeOf is by how much an arm is better than another, in the outcome's unit.
func sizeOf(row settle.Row, side settle.Side, other string) string {
	if side.Estimate == nil {
		return ""
	}
	said := fmt.Sprintf("%s better than %s by %.1f", row.Outcome.Name, other, math.Abs(*side.Estimate))
	if side.CI90 != nil {
		low, high := side.CI90[0], side.CI90[1]
		if *side.Estimate < 0 {
			low, high = -high, -low
		}
		said += fmt.Sprintf("; 9 times in 10 between %.1f and %.1f", low, high)
	}
	return said
}

// cautions are what can hurt somebody who follows the card, with their source, by the lines of the barn.
func cautions(lines safety.Lines, meat safety.Meat, phases []phase.Phase) []CardCaution {
	out := []CardCaution{}
	if m, err := lines.Minimum(meat); err == nil {
		text := fmt.Sprintf("%s, %s: {C:%.1f} at its coldest.", words.Capital(string(meat.Handling)), meat.Species, m.C)
		if m.Rest != "" {
			text += " " + words.Capital(m.Rest) + "."
		}
		out = append(out, CardCaution{text, m.Source})
	}
	for _, p := range phases {
		switch p.Kind {
		case phase.Hold:
			text := fmt.Sprintf("Held hot: not under {C:%.1f}. What fell under it for four hours is thrown away.", lines.HoldC)
			out = append(out, CardCaution{text, safety.HoldSource})
		case phase.Fry:
			out = append(out, CardCaution{"Hot oil: dry meat, a lid and a fire blanket at hand, nobody else within reach.", "Usual practice; local codes come first."})
		case phase.Coals, phase.Sear, phase.Broil:
			out = append(out, CardCaution{"Open heat: long tongs, gloves, nothing that burns near it.", "Usual practice; local codes come first."})
		}
	}
	out = append(out, CardCaution{"Fire gives off carbon monoxide: cook outdoors or under an open roof. Ash is put out with water and " +
		"kept in metal.", "CDC, carbon monoxide poisoning; your local fire code."})
	return slices.Compact(out)
}
