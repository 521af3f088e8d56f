package design

import (
	"fmt"
	"math"

	"whitebarn/core/trial"
)

// aliasSentences say, for factors of two levels, which of them cannot be told
// from two others acting together: their columns, coded -1 and +1, are one.
func aliasSentences(a trial.Ask) []string {
	type coded struct {
		name string
		sign []float64
	}
	var cols []coded
	for f, factor := range a.Factors {
		all := levels(a, f)
		if len(all) != 2 {
			continue
		}
		c := coded{name: factor.Name, sign: make([]float64, len(a.Arms))}
		for i, arm := range a.Arms {
			c.sign[i] = -1
			if factor.Same(arm.Levels[f], all[1]) {
				c.sign[i] = 1
			}
		}
		cols = append(cols, c)
	}
	var out []string
	for i := range cols {
		for j := range cols {
			for k := j + 1; k < len(cols); k++ {
				if i == j || i == k {
					continue
				}
				sum := 0.0
				for r := range a.Arms {
					sum += cols[i].sign[r] * cols[j].sign[r] * cols[k].sign[r]
				}
				if math.Abs(sum) == float64(len(a.Arms)) {
					out = append(out, fmt.Sprintf("%s cannot be told from %s and %s acting together", cols[i].name, cols[j].name, cols[k].name))
				}
			}
		}
	}
	return out
}
