package design

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"whitebarn/core/trial"
)

// Covariate is a number of each cut that is no factor, arm by arm.
type Covariate struct {
	Key   string      `json:"key"` // kg, thickness_m, fat_cap_m, column or row
	Name  string      `json:"name"`
	Gate  float64     `json:"gate"` // how far two arms' means may lie apart
	Arms  []ArmValues `json:"arms"`
	Pairs []PairGap   `json:"pairs"`
	Alike bool        `json:"alike"` // no pair beyond the gate, all of them known
}

// ArmValues are one arm's values.
type ArmValues struct {
	Cuts   int       `json:"cuts"`
	Mean   *float64  `json:"mean"`
	Values []float64 `json:"values"`
}

// PairGap is how far two arms lie apart: first minus second.
type PairGap struct {
	A          int     `json:"a"`
	B          int     `json:"b"`
	Difference float64 `json:"difference"`
	SMD        float64 `json:"smd"` // in standard deviations over all cuts; 0 without spread
}

// TraitTable counts the cuts of each arm by a trait.
type TraitTable struct {
	Trait    Trait    `json:"trait"`
	Values   []string `json:"values"`
	Counts   [][]int  `json:"counts"` // by arm, then value
	CramersV float64  `json:"cramers_v"`
}

// Balance is how alike the arms are.
type Balance struct {
	Covariates []Covariate  `json:"covariates"`
	Traits     []TraitTable `json:"traits"`
}

// The gates of alike: 8 oz of weight or a tenth of the mean weight, 0.2 in of thickness or
// an eighth of the mean, whichever is smaller, so that small pieces are judged as small;
// 1/8 in of fat cap, and half a place on the grate, within a pit.
var covariates = []covariate{
	{"kg", "Weight", "heavier", "Weight", 0.5 * 0.45359237, 1.0 / 10, func(p Piece) *float64 { return p.Kg }},
	{"thickness_m", "Thickness", "thicker", "Thickness", 0.2 * 0.0254, 1.0 / 8, func(p Piece) *float64 { return p.ThicknessM }},
	{"fat_cap_m", "Fat cap", "fatter", "Fat cap", 0.0254 / 8, 0, func(p Piece) *float64 { return p.FatCapM }},
	across, along,
}

var (
	across = covariate{"column", "Grate across", "further across the grate", "Place", halfAPlace, 0, func(p Piece) *float64 { c, _ := p.grid(); return c }}
	along  = covariate{"row", "Grate along", "further along the grate", "Place", halfAPlace, 0, func(p Piece) *float64 { _, r := p.grid(); return r }}
)

const halfAPlace = 0.5

// covariate is how a number of cuts is read and spoken of.
type covariate struct {
	key, name, more, what string  // more: what the arm that has more of it is
	gate                  float64 // in its own unit
	share                 float64 // of the mean, where smaller
	of                    func(Piece) *float64
}

func (c covariate) ofPlace() bool { return c.key == "column" || c.key == "row" }

// gateOf is how far two arms' means may lie apart, by the values of all pieces.
func gateOf(c covariate, values []float64) float64 {
	mean, _ := meanSD(values)
	if c.share > 0 && mean > 0 {
		return math.Min(c.gate, c.share*mean)
	}
	return c.gate
}

func known(values []*float64) []float64 {
	var out []float64
	for _, v := range values {
		if v != nil {
			out = append(out, *v)
		}
	}
	return out
}

// whole puts the parts of one cut in one arm together again: what they weigh is added up,
// of all else the first part speaks.
func whole(pieces []Piece) []Piece {
	var out []Piece
	at := map[string]int{}
	for _, p := range pieces {
		key := fmt.Sprint(p.Root, "/", p.Arm)
		i, ok := at[key]
		if !ok || p.Root == "" {
			at[key] = len(out)
			out = append(out, p)
			continue
		}
		if out[i].Kg != nil && p.Kg != nil {
			sum := *out[i].Kg + *p.Kg
			out[i].Kg = &sum
		} else {
			out[i].Kg = nil
		}
	}
	return out
}

// withinPits are the values of each piece as if all pits had the same mean, in the order
// given.
func withinPits(c covariate, pieces []Piece) []*float64 {
	sum, n := map[int64]float64{}, map[int64]float64{}
	all, lie := 0.0, 0.0
	for _, p := range pieces {
		if v := c.of(p); v != nil && p.Arm >= 0 {
			sum[p.PitRunID] += *v
			n[p.PitRunID]++
			all, lie = all+*v, lie+1
		}
	}
	out := make([]*float64, len(pieces))
	for i, p := range pieces {
		if v := c.of(p); v != nil && n[p.PitRunID] > 0 {
			d := *v - sum[p.PitRunID]/n[p.PitRunID] + all/lie
			out[i] = &d
		}
	}
	return out
}

// BalanceOf compares the arms. A covariate or trait that no cut has is left out.
func BalanceOf(arms int, pieces []Piece) Balance {
	out := Balance{Covariates: []Covariate{}, Traits: []TraitTable{}}
	parts, pieces := pieces, whole(pieces)
	for i, c := range covariates {
		if c.ofPlace() {
			if r, ok := balanceOf(c, arms, parts, withinPits(c, parts)); ok {
				out.Covariates = append(out.Covariates, r)
			}
			continue
		}
		values := make([]*float64, len(pieces))
		for j, p := range pieces {
			values[j] = c.of(p)
		}
		if r, ok := balanceOf(c, arms, pieces, values); ok || i == 0 {
			out.Covariates = append(out.Covariates, r)
		}
	}
	for _, t := range slices.Concat(Traits, []Trait{CookDay, Pit, Holder, Column}) {
		if table := tableOf(arms, parts, t); len(table.Values) > 1 {
			out.Traits = append(out.Traits, table)
		}
	}
	return out
}

// balanceOf compares the arms on one number of each piece, nil where it is not known. ok is
// false where no piece has it.
func balanceOf(c covariate, arms int, pieces []Piece, values []*float64) (r Covariate, ok bool) {
	r = Covariate{Key: c.key, Name: c.name, Gate: gateOf(c, known(values)), Arms: make([]ArmValues, arms), Pairs: []PairGap{}, Alike: true}
	for a := range r.Arms {
		r.Arms[a].Values = []float64{}
	}
	for i, p := range pieces {
		if p.Arm < 0 {
			continue
		}
		r.Arms[p.Arm].Cuts++
		if values[i] != nil {
			r.Arms[p.Arm].Values = append(r.Arms[p.Arm].Values, *values[i])
		}
	}
	_, sd := meanSD(known(values))
	for a := range r.Arms {
		if m, _ := meanSD(r.Arms[a].Values); len(r.Arms[a].Values) > 0 {
			r.Arms[a].Mean = &m
		} else {
			r.Alike = false
		}
	}
	for a := range arms {
		for b := a + 1; b < arms; b++ {
			if r.Arms[a].Mean == nil || r.Arms[b].Mean == nil {
				continue
			}
			g := PairGap{A: a, B: b, Difference: *r.Arms[a].Mean - *r.Arms[b].Mean}
			if sd > 0 {
				g.SMD = g.Difference / sd
			}
			r.Alike = r.Alike && math.Abs(g.Difference) <= r.Gate+1e-12
			r.Pairs = append(r.Pairs, g)
		}
	}
	return r, len(known(values)) > 0
}

func meanSD(v []float64) (mean, sd float64) {
	if len(v) == 0 {
		return 0, 0
	}
	for _, x := range v {
		mean += x
	}
	mean /= float64(len(v))
	for _, x := range v {
		sd += (x - mean) * (x - mean)
	}
	return mean, math.Sqrt(sd / math.Max(1, float64(len(v)-1)))
}

// tableOf counts the cuts that have an arm and the trait.
func tableOf(arms int, pieces []Piece, t Trait) TraitTable {
	out := TraitTable{Trait: t, Values: []string{}, Counts: make([][]int, arms)}
	var arm []int
	var values []string
	for _, p := range pieces {
		if v := p.value(t); p.Arm >= 0 && v != "" {
			arm, values = append(arm, p.Arm), append(values, v)
			if !slices.Contains(out.Values, v) {
				out.Values = append(out.Values, v)
			}
		}
	}
	sort.Strings(out.Values)
	for a := range out.Counts {
		out.Counts[a] = make([]int, len(out.Values))
	}
	for i, v := range values {
		out.Counts[arm[i]][slices.Index(out.Values, v)]++
	}
	code, levels := codes(values)
	present := 0
	for a := range arms {
		if slices.Contains(arm, a) {
			present++
		}
	}
	if present > 1 && levels > 1 {
		compact, n := recode(arm)
		out.CramersV = cramersV(compact, code, n, levels)
	}
	return out
}

// recode numbers what occurs from 0.
func recode(v []int) ([]int, int) {
	seen := map[int]int{}
	out := make([]int, len(v))
	for i, x := range v {
		if _, ok := seen[x]; !ok {
			seen[x] = len(seen)
		}
		out[i] = seen[x]
	}
	return out, len(seen)
}

// leans says whether a trait follows the arms.
func (t TraitTable) leans() bool {
	total := 0
	for v := range t.Values {
		total += t.sum(v)
	}
	return follow(t.Trait, t.CramersV, total, len(t.Values))
}

// follow says whether a trait follows the arms: wholly over two cuts or more of each
// value, or by half over four or more. Of fewer cuts each some always do; but a day, a pit
// or a holder that goes with the arms does so at any number of cuts, one an arm included.
func follow(t Trait, v float64, cuts, values int) bool {
	wholly := v > 1-1e-9
	switch t {
	case CookDay, Pit, Holder:
		return wholly || cuts >= 4*values && v >= MuchTogether
	}
	return cuts >= 2*values && wholly || cuts >= 4*values && v >= MuchTogether
}

// splits says whether a trait's values each belong to one arm only, and more
// than one arm is concerned: knowing the trait is knowing the arm.
func (t TraitTable) splits() bool {
	arms := map[int]bool{}
	for v := range t.Values {
		in := -1
		for a := range t.Counts {
			if t.Counts[a][v] == 0 {
				continue
			}
			if in >= 0 {
				return false
			}
			in = a
			arms[a] = true
		}
	}
	return len(arms) > 1
}

// unitsOf are the distinct units, of a kind, of the pieces whose arm a rule
// takes.
func unitsOf(ask trial.Ask, pieces []Piece, kind trial.UnitKind, in func(arm int) bool) int {
	seen := map[string]bool{}
	for _, p := range pieces {
		if p.Arm >= 0 && in(p.Arm) {
			seen[p.Unit(kind, ask.Arms[p.Arm].Tag)] = true
		}
	}
	return len(seen)
}

// UnitsAnArm is the least number of units of a kind that an arm has.
func UnitsAnArm(ask trial.Ask, pieces []Piece, kind trial.UnitKind) int {
	least := math.MaxInt
	for i := range ask.Arms {
		least = min(least, unitsOf(ask, pieces, kind, func(arm int) bool { return arm == i }))
	}
	return least
}
