package safety

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// LethalitySource names the guidance behind the times at a temperature.
const LethalitySource = "USDA FSIS Cooking Guideline for Meat and Poultry Products (Revised Appendix A), 2021: red meat 6.5 log Salmonella, poultry 7 log (conservative line). It assumes the guideline's humidity at the surface. Check the current edition and your local code."

// row is a time at a temperature that is enough by itself.
type row struct{ f, seconds float64 }

var redMeatTimes = minutesThenSeconds(130,
	[]float64{112, 89, 71, 56, 45, 36, 28, 23, 18, 15, 12, 9, 8, 6, 5, 4},
	[]float64{169, 134, 107, 85, 67, 54, 43, 34, 27, 22, 17, 14})

var poultryTimes = minutesThenSeconds(136,
	[]float64{82, 66, 54, 44, 36, 30, 25, 21, 17, 14, 12, 10, 8, 6.5, 5, 4, 3.1, 2.4, 1.8},
	[]float64{85, 70, 56, 44, 35, 27, 22, 18, 14, 12, 10})

func minutesThenSeconds(from float64, minutes, seconds []float64) []row {
	var out []row
	for _, m := range minutes {
		out = append(out, row{from + float64(len(out)), 60 * m})
	}
	for _, s := range seconds {
		out = append(out, row{from + float64(len(out)), s})
	}
	return out
}

// LethalRate is the share of the needed lethality one second at c gives: the
// logarithm of the time is linear between the rows; nothing below the lowest,
// the last row's time above it. Fish has no table and gets none.
func LethalRate(s Species, c float64) float64 {
	table := redMeatTimes
	switch s {
	case Poultry:
		table = poultryTimes
	case Fish:
		return 0
	}
	f := units.CToF(c)
	last := len(table) - 1
	switch {
	case f < table[0].f-1e-9:
		return 0
	case f >= table[last].f:
		return 1 / table[last].seconds
	}
	i := max(int(f-table[0].f), 0)
	u := f - table[i].f
	return math.Exp(-(math.Log(table[i].seconds) + u*(math.Log(table[i+1].seconds)-math.Log(table[i].seconds))))
}

// Sample is a reading of the coldest point.
type Sample struct {
	Seconds float64 `json:"t_s"`
	C       float64 `json:"c"`
}

// LethalityInput is a trace of the coldest point, in order of time.
type LethalityInput struct {
	Species Species  `json:"species"`
	Trace   []Sample `json:"trace"`
}

// LethalityOutput is what the trace reached.
type LethalityOutput struct {
	Share   float64  `json:"share"` // of what is needed; 1 is enough, and is kept
	Reached *float64 `json:"reached_s"`
	Source  string   `json:"source"`
}

// longestHole is the longest gap between readings that still counts.
const longestHole = 300.0 // s

// LethalityOf adds up time and temperature together. Each reading is the
// median of three, so that no spike counts; a gap over five minutes gives
// nothing.
func LethalityOf(in LethalityInput) (LethalityOutput, error) {
	out := LethalityOutput{Source: LethalitySource}
	if !slices.Contains([]Species{RedMeat, Poultry, Fish}, in.Species) {
		return out, fault.New("species", fmt.Sprintf("%q is not a kind of meat", in.Species), "use red meat, poultry or fish")
	}
	if in.Species == Fish {
		return out, fault.New("species", "there is no time-and-temperature table for fish", "use the minimum temperature")
	}
	for i := 1; i < len(in.Trace); i++ {
		step := in.Trace[i].Seconds - in.Trace[i-1].Seconds
		if !(step >= 0) {
			return out, fault.New(fmt.Sprintf("trace[%d]", i), "it is earlier than the reading before", "put the readings in order of time")
		}
		if step > longestHole {
			continue
		}
		rate := (LethalRate(in.Species, calm(in.Trace, i-1)) + LethalRate(in.Species, calm(in.Trace, i))) / 2
		if out.Reached == nil && out.Share+rate*step >= 1 {
			at := in.Trace[i-1].Seconds + (1-out.Share)/rate
			out.Reached = &at
		}
		out.Share = min(1, out.Share+rate*step)
	}
	return out, nil
}

// calm is the median of a reading and its neighbours.
func calm(trace []Sample, i int) float64 {
	if i == 0 || i == len(trace)-1 {
		return trace[i].C
	}
	v := []float64{trace[i-1].C, trace[i].C, trace[i+1].C}
	slices.Sort(v)
	return v[1]
}
