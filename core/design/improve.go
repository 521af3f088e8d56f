package design

import (
	"math/rand/v2"
	"slices"
)

// improve swaps pieces until no swap lessens the imbalance: two of a block, two
// that stand alone, or two blocks' arms whole. It returns how many allotments
// it looked at.
func (p *problem) improve(arm []int, budget int) (looked int) {
	now := p.imbalance(arm)
	members := make([][]int, len(p.blockSizes()))
	for i, b := range p.block {
		if b >= 0 {
			members[b] = append(members[b], i)
		}
	}
	keep := func(swap func()) bool {
		swap()
		looked++
		if then := p.imbalance(arm); then < now-1e-12 {
			now = then
			return true
		}
		swap()
		return false
	}
	for better := true; better && looked < budget; {
		better = false
		for i := range arm {
			for j := range i {
				if p.block[i] == p.block[j] && arm[i] != arm[j] {
					better = keep(func() { arm[i], arm[j] = arm[j], arm[i] }) || better
				}
			}
		}
		for b := range members {
			for c := range b {
				if len(members[b]) == len(members[c]) && len(members[b])%len(p.sizes) != 0 {
					better = keep(func() {
						for k, i := range members[b] {
							j := members[c][k]
							arm[i], arm[j] = arm[j], arm[i]
						}
					}) || better
				}
			}
		}
	}
	return looked
}

// imbalance is the largest standardised difference with a little of the sum of
// squares, which points the way where the largest alone stands still.
func (p *problem) imbalance(arm []int) float64 {
	arms := len(p.sizes)
	sums, counts := make([]float64, arms), make([]float64, arms)
	for _, a := range arm {
		counts[a]++
	}
	squares := 0.0
	for _, v := range p.values {
		clear(sums)
		for i, a := range arm {
			sums[a] += v[i]
		}
		for a, s := range sums {
			if counts[a] > 0 {
				squares += (s / counts[a]) * (s / counts[a])
			}
		}
	}
	return p.maxSMD(arm) + 0.05*squares
}

// heuristicBudget is how many allotments the search above 12 pieces may look at.
const heuristicBudget = 60_000

// search looks for well-balanced allotments where there are too many to look at
// all: descents by swaps from random starts, the ends kept. Best first.
func (p *problem) search(r *rand.Rand) [][]int {
	var found [][]int
	for looked := 0; looked < heuristicBudget; {
		arm := p.draw(r)
		looked += 1 + p.improve(arm, heuristicBudget-looked)
		// A small shake and another descent often leads deeper than a new start.
		for range 3 {
			shaken := slices.Clone(arm)
			p.shake(shaken, r)
			looked += 1 + p.improve(shaken, heuristicBudget-looked)
			if p.imbalance(shaken) < p.imbalance(arm) {
				arm = shaken
			}
		}
		if !slices.ContainsFunc(found, func(f []int) bool { return slices.Equal(f, arm) }) {
			found = append(found, arm)
		}
	}
	slices.SortStableFunc(found, func(a, b []int) int {
		switch x, y := p.maxSMD(a), p.maxSMD(b); {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return 0
	})
	return found
}

// shake swaps three random pairs that may be swapped.
func (p *problem) shake(arm []int, r *rand.Rand) {
	for done, tries := 0, 0; done < 3 && tries < 100; tries++ {
		i, j := r.IntN(len(arm)), r.IntN(len(arm))
		if p.block[i] == p.block[j] && arm[i] != arm[j] {
			arm[i], arm[j] = arm[j], arm[i]
			done++
		}
	}
}
