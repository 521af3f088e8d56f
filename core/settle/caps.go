package settle

import (
	"math"
	"slices"
	"strings"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// slope is how far an outcome may move with one more of a fact: ours, where the house has
// not shown its own. The sign says which way, 0 that it may be either.
type slope struct {
	by   float64 // per unit of the fact, at least as far as it is known
	sign int     // of the move with more of it
}

// slopes is the table in code. Per degree are C.
var slopes = map[Fact]map[trial.OutcomeKey]slope{
	PitHeat: {trial.CookTime: {0.12, -1}, trial.CookedYield: {0.25, -1}, trial.EdibleYield: {0.2, -1}, trial.Bark: {0.08, 1}, trial.Tenderness: {0.05, 0},
		trial.Juiciness: {0.06, -1}, trial.Flavour: {0.03, 0}, trial.Overall: {0.05, 0}},
	CoreAtPull: {trial.CookTime: {0.15, 1}, trial.CookedYield: {0.5, -1}, trial.EdibleYield: {0.4, -1}, trial.Tenderness: {0.12, 1},
		trial.Juiciness: {0.1, -1}, trial.Overall: {0.08, 0}},
	Spritzes:   {trial.CookTime: {0.08, 1}, trial.Bark: {0.1, -1}, trial.CookedYield: {0.2, 0}, trial.HandsOn: {3, 1}},
	WrapLiquid: {trial.Bark: {0.005, -1}, trial.Juiciness: {0.003, 1}, trial.CookedYield: {0.01, 0}},
	HoldHours: {trial.Tenderness: {0.15, 1}, trial.Juiciness: {0.1, 0}, trial.Bark: {0.15, -1}, trial.CookedYield: {0.6, -1}, trial.EdibleYield: {0.5, -1},
		trial.Overall: {0.1, 0}},
	RestHours:  {trial.Juiciness: {0.3, 0}, trial.Bark: {0.2, -1}, trial.CookedYield: {0.8, -1}, trial.Overall: {0.2, 0}, trial.Tenderness: {0.15, 0}},
	ServingAge: {trial.Juiciness: {0.3, -1}, trial.Bark: {0.3, -1}, trial.Overall: {0.25, -1}, trial.Tenderness: {0.15, 0}, trial.Flavour: {0.15, -1}},
	WoodPieces: {trial.Flavour: {0.1, 0}, trial.Overall: {0.08, 0}, trial.Bark: {0.05, 1}, trial.Fuel: {3, 1}},
	WaterFills: {trial.Bark: {0.2, -1}, trial.CookTime: {0.15, 1}, trial.CookedYield: {0.3, 1}},
	// An opened lid costs a quarter of an hour at most in six openings.
	LidOpenings: {trial.CookTime: {0.05, 1}, trial.HandsOn: {1, 1}},
	FridgeToPit: {trial.CookTime: {0.006, -1}},
	Air:         {trial.CookTime: {0.02, -1}, trial.Fuel: {0.8, -1}},
}

// cap keeps a word from saying more than the trial allows: where something else that
// differs could have moved the outcome by half of what matters, clear becomes leaning and
// same becomes cannot tell. What works against the winner only makes it surer.
func (t Trial) cap(p *Pair, d trial.OutcomeDefault, smallest float64, limits []Limit, delivered []DeliveredFact) {
	sides := []*Side{&p.Cooks, &p.Next}
	doubt := t.doubt(d)
	if p.Pieces != nil && doubt != "" {
		sides = append(sides, p.Pieces)
	}
	for _, s := range sides {
		could := t.reasons(*p, *s, d, smallest, limits, delivered)
		if doubt != "" {
			could = append([]string{doubt}, could...)
		}
		if len(could) == 0 {
			continue
		}
		switch s.Word {
		case verdict.Clear:
			s.Word, s.But = verdict.Leaning, could[0]+" could be the reason"
		case verdict.Same:
			s.Word, s.TooSmall, s.Winner, s.But = verdict.CannotTell, false, nil, could[0]+" could hide a difference"
		}
	}
}

// reasons name what else could be behind a word on two arms.
func (t Trial) reasons(p Pair, s Side, d trial.OutcomeDefault, smallest float64, limits []Limit, delivered []DeliveredFact) (out []string) {
	if s.Word != verdict.Clear && s.Word != verdict.Same {
		return nil
	}
	for _, x := range delivered {
		row := rowOf(x.Fact)
		gap, ok := x.gap(p.A, p.B)
		by, moves := slopes[x.Fact][d.Key]
		if !ok || !moves || math.Abs(gap) <= row.tolerance || t.varied(p.A, p.B, row.roles) || math.Abs(gap)*by.by < smallest/2 {
			continue
		}
		if s.Winner != nil && by.sign != 0 && !helps(gap, by.sign, *s.Winner == p.A, d.Better) {
			continue // it worked against the winner
		}
		out = append(out, strings.ToLower(row.name[:1])+row.name[1:])
	}
	for _, l := range limits {
		if l.design && l.Confound && l.of(p.A, p.B) {
			out = append(out, "what moved with the arms")
			break
		}
	}
	return out
}

// helps says whether a gap of a fact, with more of it in the first arm, works for the winner.
func helps(gap float64, sign int, firstWon bool, better trial.Better) bool {
	up := (gap > 0) == (sign > 0) // the first arm's value is moved up
	if better == trial.Down {
		up = !up
	}
	return up == firstWon
}

// of says whether a limit is about two arms; one that names none is about all.
func (l Limit) of(a, b int) bool {
	return len(l.arms) == 0 || slices.Contains(l.arms, a) && slices.Contains(l.arms, b)
}

// Facts lists the facts of delivery in the order they are shown.
func Facts() []Fact {
	out := make([]Fact, len(facts))
	for i, r := range facts {
		out[i] = r.fact
	}
	return out
}

// FactName is what a fact is called, and how far arms may lie apart in it.
func FactName(f Fact) (name string, tolerance float64) {
	r := rowOf(f)
	if math.IsInf(r.tolerance, 1) {
		return r.name, 0
	}
	return r.name, r.tolerance
}

// Move is how far an outcome may move with one more of a fact, and which way: 1 up, -1 down,
// 0 either; ok is false where nothing is known.
func Move(f Fact, key trial.OutcomeKey) (by float64, sign int, ok bool) {
	s, ok := slopes[f][key]
	return s.by, s.sign, ok
}

// FactUnit is what a fact's value is in: C, h, min, g, or nothing for a count.
func FactUnit(f Fact) string {
	unit := rowOf(f).unit
	if shown, ok := shownUnit[unit]; ok {
		return shown
	}
	return unit
}
