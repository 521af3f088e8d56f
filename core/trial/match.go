package trial

import (
	"fmt"
	"math"
	"sort"
)

// GateKg is how far the mean weights of two arms may lie apart before the
// screen calls them apart: 8 oz.
const GateKg = 0.5 * 0.45359237

// Piece is a cut as matching sees it.
type Piece struct {
	Name string
	Pair string   // "" when it stands by itself
	Arm  int      // from 0, -1 while none is given
	Kg   *float64 // trimmed weight; nil when never weighed
}

// ArmWeights is the weight of the cuts in one arm, in kilograms.
type ArmWeights struct {
	Cuts    int       `json:"cuts"`
	Weighed int       `json:"weighed"`
	MeanKg  *float64  `json:"mean_kg"`
	Kg      []float64 `json:"kg"`
}

// Balance is how alike the arms are.
type Balance struct {
	Arms         []ArmWeights `json:"arms"`
	DifferenceKg *float64     `json:"difference_kg"` // first arm's mean minus second's
	GateKg       float64      `json:"gate_kg"`
	Alike        bool         `json:"alike"`
	Warnings     []string     `json:"warnings"`
}

// BalanceOf compares the arms' weights and says what is wrong with the pairs.
func BalanceOf(tags []string, pieces []Piece) Balance {
	b := Balance{Arms: make([]ArmWeights, len(tags)), GateKg: GateKg, Warnings: []string{}}
	pairs := map[string][]Piece{}
	unplaced, unweighed := 0, 0
	for i := range b.Arms {
		b.Arms[i].Kg = []float64{}
	}
	for _, p := range pieces {
		if p.Pair != "" {
			pairs[p.Pair] = append(pairs[p.Pair], p)
		}
		if p.Kg == nil {
			unweighed++
		}
		if p.Arm < 0 {
			unplaced++
			continue
		}
		arm := &b.Arms[p.Arm]
		arm.Cuts++
		if p.Kg != nil {
			arm.Kg = append(arm.Kg, *p.Kg)
			arm.Weighed++
		}
	}
	for i := range b.Arms {
		if n := len(b.Arms[i].Kg); n > 0 {
			sum := 0.0
			for _, kg := range b.Arms[i].Kg {
				sum += kg
			}
			mean := sum / float64(n)
			b.Arms[i].MeanKg = &mean
		}
	}
	warn := func(format string, v ...any) { b.Warnings = append(b.Warnings, fmt.Sprintf(format, v...)) }
	for i, tag := range tags {
		switch b.Arms[i].Cuts {
		case 0:
			warn("%s has no cut. Without one it cannot be compared.", tag)
		case 1:
			warn("%s has one cut. One piece cannot show what the next one would do.", tag)
		}
	}
	if len(b.Arms) == 2 && b.Arms[0].MeanKg != nil && b.Arms[1].MeanKg != nil {
		d := *b.Arms[0].MeanKg - *b.Arms[1].MeanKg
		b.DifferenceKg = &d
		b.Alike = math.Abs(d) <= GateKg
		if !b.Alike {
			heavier := tags[0]
			if d < 0 {
				heavier = tags[1]
			}
			warn("%s is heavier than the gate allows. Weight and %s could not be told apart.", heavier, heavier)
		}
	}
	if unplaced > 0 {
		warn("%s without an arm.", count(unplaced, "cut"))
	}
	if unweighed > 0 {
		warn("%s without a weight.", count(unweighed, "cut"))
	}
	var names []string
	for name := range pairs {
		names = append(names, name)
	}
	sort.Strings(names)
	for _, name := range names {
		switch p := pairs[name]; {
		case len(p) != 2:
			warn("Pair %s has %s. A pair is two.", name, count(len(p), "cut"))
		case p[0].Arm >= 0 && p[0].Arm == p[1].Arm:
			warn("Pair %s is in one arm. It tells nothing of the difference.", name)
		}
	}
	return b
}

func count(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}
