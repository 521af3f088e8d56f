package plan

import (
	"math"
	"slices"
)

// stay is a cut in a pit: when it wants to go on and how long it takes, in s.
type stay struct {
	want, takes float64
	place       string  // on the grate; empty is any
	set         float64 // C the pit must stand at
}

// waits says how long each cut has to wait until the pit can take it: a pit
// takes so many at once, one at a place, and stands at one temperature. They go
// on in the order they want to, and none overtakes. More or longer stays never
// make a wait shorter. A pit that takes none has everything wait for good.
func waits(stays []stay, positions int) []float64 {
	order := make([]int, len(stays))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case stays[a].want < stays[b].want:
			return -1
		case stays[a].want > stays[b].want:
			return 1
		}
		return 0
	})
	out := make([]float64, len(stays))
	ends := make([]float64, 0, len(stays)) // of those before, in their order
	from := math.Inf(-1)
	for n, i := range order {
		s := stays[i]
		from = max(from, s.want)
		if positions < 1 {
			from = math.Inf(1)
		}
		for m, j := range order[:n] {
			other := stays[j]
			if s.place != "" && s.place == other.place || s.set != other.set {
				from = max(from, ends[m])
			}
		}
		if n >= positions && positions > 0 {
			last := slices.Sorted(slices.Values(ends))
			from = max(from, last[n-positions])
		}
		out[i] = from - s.want
		ends = append(ends, from+s.takes)
	}
	return out
}
