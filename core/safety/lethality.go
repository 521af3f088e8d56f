package safety

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// LethalitySource names the guidance behind the times at a temperature.
const LethalitySource = "USDA FSIS Cooking Guideline for Meat and Poultry Products (Revised Appendix A), 2021: red meat 6.5 log Salmonella, poultry 7 log (conservative line); pierced and minced: FDA Food Code 2022, 3-401.11. It assumes the guideline's humidity at the surface. Check the current edition and your local code."

// timed is a time at a temperature that is enough by itself.
type timed struct{ f, seconds float64 }

var redMeatTimes = minutesThenSeconds(130,
	[]float64{112, 89, 71, 56, 45, 36, 28, 23, 18, 15, 12, 9, 8, 6, 5, 4},
	[]float64{169, 134, 107, 85, 67, 54, 43, 34, 27, 22, 17, 14})

var poultryTimes = minutesThenSeconds(136,
	[]float64{82, 66, 54, 44, 36, 30, 25, 21, 17, 14, 12, 10, 8, 6.5, 5, 4, 3.1, 2.4, 1.8},
	[]float64{85, 70, 56, 44, 35, 27, 22, 18, 14, 12, 10})

// foodCodeTimes are the rows for meat that is no longer whole muscle.
var foodCodeTimes = []timed{{145, 180}, {150, 60}, {155, 17}}

func minutesThenSeconds(from float64, minutes, seconds []float64) []timed {
	var out []timed
	for _, m := range minutes {
		out = append(out, timed{from + float64(len(out)), 60 * m})
	}
	for _, s := range seconds {
		out = append(out, timed{from + float64(len(out)), s})
	}
	return out
}

// tableOf is the table of times of a meat; ok is false where there is none: whole
// fish, and whatever is stuffed.
func tableOf(m Meat) (table []timed, ok bool) {
	switch {
	case m.Handling == Stuffed:
		return nil, false
	case m.Species == Poultry:
		return poultryTimes, true
	case m.Handling == Pierced || m.Handling == Minced:
		return foodCodeTimes, true
	case m.Species == RedMeat:
		return redMeatTimes, true
	}
	return nil, false
}

// LethalRate is the share of the needed lethality one second at c gives: the
// logarithm of the time is linear between the rows; nothing below the lowest,
// the last row's time above it. Meat without a table gets none.
func LethalRate(m Meat, c float64) float64 {
	table, ok := tableOf(m)
	if !ok {
		return 0
	}
	f := units.CToF(c) + 1e-9
	last := len(table) - 1
	switch {
	case f < table[0].f:
		return 0
	case f >= table[last].f:
		return 1 / table[last].seconds
	}
	i := sort.Search(last, func(i int) bool { return table[i+1].f > f })
	u := (f - table[i].f) / (table[i+1].f - table[i].f)
	return math.Exp(-(math.Log(table[i].seconds) + u*(math.Log(table[i+1].seconds)-math.Log(table[i].seconds))))
}

// Sample is a reading of one place.
type Sample struct {
	Seconds float64 `json:"t_s"`
	C       float64 `json:"c"`
}

// LethalityInput is a trace of the coldest point, in order of time.
type LethalityInput struct {
	Species  Species  `json:"species"`
	Handling Handling `json:"handling,omitempty"` // empty is intact
	Trace    []Sample `json:"trace"`
	ByHand   bool     `json:"by_hand,omitempty"` // read now and then: the lower of two readings counts between them
}

// LethalityOutput is what the trace reached.
type LethalityOutput struct {
	Share   float64  `json:"share"` // of what is needed; 1 is enough, and is kept
	Reached *float64 `json:"reached_s"`
	HeldS   float64  `json:"held_s"` // in which it was earned
	FromC   float64  `json:"from_c"` // the lowest while it was earned; 0 while nothing was
	ToC     float64  `json:"to_c"`   // the highest
	Source  string   `json:"source"`
}

// LongestGapS is the longest gap between readings that still counts, s.
const LongestGapS = 300.0

// LethalityOf adds up time and temperature together over a trace as it was read.
func LethalityOf(in LethalityInput) (LethalityOutput, error) {
	m := Meat{in.Species, in.Handling}
	if m.Handling == "" {
		m.Handling = Intact
	}
	if !m.Said() {
		_, err := MinimumOf(m)
		return LethalityOutput{}, err
	}
	if _, ok := tableOf(m); !ok {
		return LethalityOutput{}, fault.New("species", fmt.Sprintf("there is no table of times for %s %s", m.Handling, m.Species), "use the minimum temperature")
	}
	for i := 1; i < len(in.Trace); i++ {
		if !(in.Trace[i].Seconds >= in.Trace[i-1].Seconds) {
			return LethalityOutput{}, fault.New(fmt.Sprintf("trace[%d]", i), "it is earlier than the reading before", "put the readings in order of time")
		}
	}
	return Earned(m, Stretches(in.Trace), in.ByHand), nil
}

// Stretches cuts a trace at its gaps of over five minutes.
func Stretches(trace []Sample) [][]Sample {
	var out [][]Sample
	from := 0
	for i := 1; i <= len(trace); i++ {
		if i == len(trace) || trace[i].Seconds-trace[i-1].Seconds > LongestGapS {
			out = append(out, trace[from:i])
			from = i
		}
	}
	return out
}

// Earned is the lethality of stretches without gaps. A probe's readings are calmed,
// and between two the rate runs log-linear, so that the credit is
// (r2 - r1) dt / ln(r2 / r1); with one of them under the table there is none. Of hand
// readings the lower of two counts.
func Earned(m Meat, stretches [][]Sample, byHand bool) LethalityOutput {
	out := LethalityOutput{Source: LethalitySource}
	for _, s := range stretches {
		c := make([]float64, len(s))
		for i := range s {
			c[i] = s[i].C
		}
		if !byHand {
			c = Calm(c)
		}
		for i := 1; i < len(s) && out.Share < 1; i++ {
			out.add(s[i-1].Seconds, s[i].Seconds-s[i-1].Seconds, c[i-1], c[i], LethalRate(m, c[i-1]), LethalRate(m, c[i]), byHand)
		}
	}
	return out
}

func (o *LethalityOutput) add(at, dt, c1, c2, r1, r2 float64, lower bool) {
	if lower {
		r1 = min(r1, r2)
		r2 = r1
	}
	if r1 <= 0 || r2 <= 0 || dt <= 0 {
		return
	}
	growth := math.Log(r2/r1) / dt
	credit := r1 * dt
	if math.Abs(growth*dt) > 1e-9 {
		credit = (r2 - r1) / growth
	}
	if low := min(c1, c2); o.FromC == 0 || low < o.FromC {
		o.FromC = low
	}
	o.ToC = max(o.ToC, c1, c2)
	if o.Share+credit < 1 {
		o.Share, o.HeldS = o.Share+credit, o.HeldS+dt
		return
	}
	needs := (1 - o.Share) / r1
	if math.Abs(growth*dt) > 1e-9 {
		needs = math.Log1p(needs*growth) / growth
	}
	needs = min(needs, dt)
	reached := at + needs
	o.Share, o.HeldS, o.Reached = 1, o.HeldS+needs, &reached
}

// Calm is the running median over three values, so that no single spike counts; the
// first and the last share their neighbour's window. Of two the lower is sure.
func Calm(v []float64) []float64 {
	out := make([]float64, len(v))
	if len(v) < 3 {
		for i := range v {
			out[i] = slices.Min(v)
		}
		return out
	}
	for i := range v {
		from := min(max(i-1, 0), len(v)-3)
		w := [3]float64{v[from], v[from+1], v[from+2]}
		slices.Sort(w[:])
		out[i] = w[1]
	}
	return out
}
