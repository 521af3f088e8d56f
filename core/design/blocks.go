package design

import "slices"

// IncompleteBlocks is a balanced incomplete block design of v arms in blocks of
// k: every two arms meet in the same number of blocks. It is the smallest known
// for up to six arms (Fisher and Yates, Statistical Tables, 1963, table XVII);
// nil where k is not between 2 and v - 1.
func IncompleteBlocks(v, k int) [][]int {
	if k < 2 || k >= v || v > 6 {
		return nil
	}
	if v == 6 && k == 3 { // half of the twenty triples are enough
		return [][]int{{0, 1, 2}, {0, 1, 3}, {0, 2, 4}, {0, 3, 5}, {0, 4, 5}, {1, 2, 5}, {1, 3, 4}, {1, 4, 5}, {2, 3, 4}, {2, 3, 5}}
	}
	var out [][]int
	var choose func(from int, picked []int)
	choose = func(from int, picked []int) {
		if len(picked) == k {
			out = append(out, slices.Clone(picked))
			return
		}
		for i := from; i < v; i++ {
			choose(i+1, append(picked, i))
		}
	}
	choose(0, nil)
	return out
}
