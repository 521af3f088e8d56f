package process

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// Cooked is what the record has of one later cook of a process.
type Cooked struct {
	Values map[trial.OutcomeKey]float64 `json:"values"`
	Facts  map[settle.Fact]float64      `json:"facts"`
	Kg     float64                      `json:"kg"`     // mean of its cuts at the fire
	Things map[string]string            `json:"things"` // what has a name: pit, pit probe, lot, who
}

// Hold is the hold as a measure of its own on a chart, h.
const Hold trial.OutcomeKey = "hold_hours"

// Checked are what every later cook is checked in, in the order they are shown.
var Checked = []struct {
	Key        trial.OutcomeKey
	Name, Unit string
}{{trial.EdibleYield, "Yield", "% of bought"}, {trial.CookedYield, "Cooked yield", "% of trimmed"}, {trial.CookTime, "Length",
	"h"}, {trial.Overall, "Score", "1 to 9"},
	{Hold, "Hold", "h"}}

// Cause is something that was different in the cooks that stand apart, with how far it could
// have moved the measure.
type Cause struct {
	Name     string   `json:"name"`
	Text     string   `json:"text"`
	Could    *float64 `json:"could"` // nil: not measured
	Low      *float64 `json:"low"`
	High     *float64 `json:"high"`
	Measured bool     `json:"measured"` // by the house's own cooks, not by the usual slope
	Check    string   `json:"check"`    // the cheapest
	Minutes  int      `json:"minutes"`
}

// perKg is how far an outcome moves with a kilogram more of a cut (ours).
var perKg = map[trial.OutcomeKey]float64{trial.CookTime: 1.6, trial.CookedYield: 1.2, trial.EdibleYield: 1.2, trial.KnifeTime: 1.6}

// unitsOf are how facts are said.
var unitsOf = map[settle.Fact]string{
	settle.PitHeat: "{C:%.1f}", settle.CoreAtPull: "{C:%.1f}", settle.Air: "{C:%.1f}", settle.WetBulb: "{C:%.1f}", settle.HoldHours: "%.1f h", settle.RestHours: "%.1f h",
	settle.ServingAge: "%.1f h", settle.FridgeToPit: "%.0f min", settle.WrapLiquid: "%.0f g", settle.Smoked: "%.1f h",
}

// checks are the cheapest look at a thing, and how long it takes.
var checks = map[string]struct {
	text    string
	minutes int
}{
	"pit probe": {"Check the probe first: ice and boil", 10},
	"pit":       {"Put a second probe on the grate beside the first", 5},
	"lot":       {"Ask where these came from, and weigh one raw", 5},
	"who":       {"Read the card aloud together before the next cook", 5},
}

// Causes ranks what was different in some cooks from the first ones, by how much it could
// have moved a measure; what has a name and no measure stands before smaller known ones.
func Causes(base, apart []Cooked, key trial.OutcomeKey, seen float64) []Cause {
	out := []Cause{}
	for _, f := range settle.Facts() {
		if f == settle.Smoked { // how long it took is what is asked about, not a reason
			continue
		}
		if c, ok := ofFact(f, base, apart, key); ok {
			out = append(out, c)
		}
	}
	if c, ok := ofWeight(base, apart, key); ok {
		out = append(out, c)
	}
	out = append(out, ofThings(base, apart)...)
	rank := func(c Cause) float64 {
		if c.Could == nil {
			return math.Abs(seen) / 2 // it could be all of it, or none
		}
		if (*c.Could > 0) != (seen > 0) {
			return 0 // it works the other way
		}
		return math.Min(math.Abs(*c.Could), math.Abs(seen))
	}
	slices.SortStableFunc(out, func(a, b Cause) int { return cmp.Compare(rank(b), rank(a)) })
	return out
}

// of are the values of a fact over cooks.
func of(cooks []Cooked, f settle.Fact) (out []float64) {
	for _, c := range cooks {
		if v, ok := c.Facts[f]; ok {
			out = append(out, v)
		}
	}
	return out
}

// slopeOf is how far a measure moves with a fact: by the house's own cooks where they tell it,
// else by the usual slope.
func slopeOf(f settle.Fact, cooks []Cooked, key trial.OutcomeKey) (slope, unsure float64, measured, ok bool) {
	var x, y []float64
	for _, c := range cooks {
		v, has := c.Facts[f]
		m, there := c.Values[key]
		if has && there {
			x, y = append(x, v), append(y, m)
		}
	}
	if n := len(x); n >= Base && stat.StdDev(x, nil) > 1e-9 {
		alpha, beta := stat.LinearRegression(x, y, nil, false)
		rss := 0.0
		for i := range x {
			r := y[i] - alpha - beta*x[i]
			rss += r * r
		}
		se := math.Sqrt(rss/float64(n-2)) / (stat.StdDev(x, nil) * math.Sqrt(float64(n-1)))
		if math.Abs(beta) > 2*se {
			return beta, se, true, true
		}
	}
	by, sign, known := settle.Move(f, key)
	if !known || sign == 0 {
		return 0, 0, false, false
	}
	// The table's slopes are bounds: half of one is as likely.
	return float64(sign) * 0.75 * by, 0.25 * by, false, true
}

func ofFact(f settle.Fact, base, apart []Cooked, key trial.OutcomeKey) (c Cause, ok bool) {
	was, is := of(base, f), of(apart, f)
	if len(was) == 0 || len(is) == 0 {
		return c, false
	}
	name, tolerance := settle.FactName(f)
	gap := stat.Mean(is, nil) - stat.Mean(was, nil)
	if math.Abs(gap) <= tolerance/2 {
		return c, false
	}
	slope, unsure, measured, ok := slopeOf(f, base, key)
	if !ok {
		return c, false
	}
	form := cmp.Or(unitsOf[f], "%.1f")
	c = Cause{Name: name, Text: fmt.Sprintf(form+" against "+form, stat.Mean(is, nil), stat.Mean(was, nil)), Measured: measured}
	could, low, high := slope*gap, (slope-2*unsure)*gap, (slope+2*unsure)*gap
	c.Could, c.Low, c.High = &could, ptr(math.Min(low, high)), ptr(math.Max(low, high))
	c.Check, c.Minutes = "Hold "+words.Lower(name)+" to the card in the next cook", 0
	return c, true
}

func ofWeight(base, apart []Cooked, key trial.OutcomeKey) (c Cause, ok bool) {
	kg := func(cooks []Cooked) (out []float64) {
		for _, c := range cooks {
			if c.Kg > 0 {
				out = append(out, c.Kg)
			}
		}
		return out
	}
	was, is := kg(base), kg(apart)
	by, known := perKg[key]
	if len(was) == 0 || len(is) == 0 || !known {
		return c, false
	}
	gap := stat.Mean(is, nil) - stat.Mean(was, nil)
	if math.Abs(gap) < 0.1 {
		return c, false
	}
	name := "Lighter cuts"
	if gap > 0 {
		name = "Heavier cuts"
	}
	could := by * gap
	return Cause{Name: name, Text: fmt.Sprintf("{kg:%.4f} against {kg:%.4f}, the mean of a cook", stat.Mean(is, nil), stat.Mean(was, nil)), Could: &could,
		Low: ptr(math.Min(could/2, 1.5*could)), High: ptr(math.Max(could/2, 1.5*could)), Check: "Weigh what comes next at the fire", Minutes: 2}, true
}

// ofThings are named things that none of the first cooks had and all that stand apart do.
func ofThings(base, apart []Cooked) (out []Cause) {
	kinds := map[string]bool{}
	for _, c := range apart {
		for kind := range c.Things {
			kinds[kind] = true
		}
	}
	for _, kind := range []string{"pit probe", "pit", "lot", "who"} {
		if !kinds[kind] {
			continue
		}
		was := map[string]bool{}
		for _, c := range base {
			was[c.Things[kind]] = true
		}
		is := map[string]bool{}
		fresh := true
		for _, c := range apart {
			is[c.Things[kind]] = true
			fresh = fresh && c.Things[kind] != "" && !was[c.Things[kind]]
		}
		if !fresh || len(was) == 0 {
			continue
		}
		check := checks[kind]
		out = append(out, Cause{Name: "Another " + kind, Text: words.And(keys(is)) + " since; before, " + words.And(keys(was)) + ". Not checked against it.",
			Check: check.text, Minutes: check.minutes})
	}
	return out
}

func keys(set map[string]bool) []string {
	var out []string
	for k := range set {
		if k == "" {
			k = "not noted"
		}
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

func ptr[T any](v T) *T { return &v }
