package design

import (
	"fmt"
	"math"
	"slices"

	"whitebarn/core/fault"
)

// MatchPiece is a piece to be allotted, with what it is matched by.
type MatchPiece struct {
	ID          string   `json:"id"`
	Animal      string   `json:"animal,omitempty"`
	WeightG     *float64 `json:"weight_g,omitempty"`
	ThicknessMM *float64 `json:"thickness_mm,omitempty"`
}

// MatchInput asks how well pieces can be allotted to arms and put into sets.
type MatchInput struct {
	Pieces       []MatchPiece `json:"pieces"`
	ArmSizes     []int        `json:"arm_sizes"`
	SplitAnimals bool         `json:"split_animals_over_arms"` // no two of one animal in one arm
	SetSize      int          `json:"set_size"`
}

// Allocation is the best of all allotments. Optima count once for all namings
// of the arms.
type Allocation struct {
	SD        []float64  `json:"sd"`
	Tried     int        `json:"allocations_tried"`
	Least     float64    `json:"min_max_smd"`
	NOptimal  int        `json:"n_optimal"`
	Best      [][]string `json:"best"` // ids by arm, of one of the optima
	WorstSMD  float64    `json:"worst_max_smd"`
	Variables []string   `json:"variables"`
}

// MatchedSets are the sets of alike pieces with the least total distance.
type MatchedSets struct {
	SetSize  int        `json:"set_size"`
	LeftOut  int        `json:"left_out"`
	Distance string     `json:"distance"`
	Tried    int        `json:"partitions_tried"`
	Least    float64    `json:"min_total_distance"`
	NOptimal int        `json:"n_optimal"`
	Best     [][]string `json:"best"`
}

// MatchResult holds both.
type MatchResult struct {
	Allocation  Allocation  `json:"allocation"`
	MatchedSets MatchedSets `json:"matched_sets"`
}

// tie is how close two values count as the same optimum.
const tie = 1e-9

// Match finds, by looking at all of them, the allotment whose largest
// standardised mean difference is least, and the sets of pieces that lie
// closest together.
func Match(in MatchInput) (MatchResult, error) {
	if n := len(in.Pieces); n < 2 || n > MostEnumerated {
		return MatchResult{}, fault.New("pieces", fmt.Sprintf("%d pieces", n), fmt.Sprintf("give 2 to %d", MostEnumerated))
	}
	total := 0
	for i, s := range in.ArmSizes {
		if s < 1 || i > 0 && s > in.ArmSizes[i-1] {
			return MatchResult{}, fault.New(fmt.Sprintf("arm_sizes[%d]", i), fmt.Sprintf("%d", s), "give sizes of one or more, the largest first")
		}
		total += s
	}
	if total != len(in.Pieces) {
		return MatchResult{}, fault.New("arm_sizes", fmt.Sprintf("they hold %d of %d pieces", total, len(in.Pieces)), "let them add up to the pieces")
	}
	if in.SetSize < 2 || in.SetSize > len(in.Pieces) {
		return MatchResult{}, fault.New("set_size", fmt.Sprintf("%d", in.SetSize), "give 2 or more, up to the number of pieces")
	}
	weights, thicknesses := make([]*float64, len(in.Pieces)), make([]*float64, len(in.Pieces))
	animals := make([]string, len(in.Pieces))
	for i, p := range in.Pieces {
		weights[i], thicknesses[i], animals[i] = p.WeightG, p.ThicknessMM, p.Animal
	}
	var variables [][]*float64
	var names []string
	for _, v := range []struct {
		name   string
		values []*float64
	}{{"weight_g", weights}, {"thickness_mm", thicknesses}} {
		if slices.ContainsFunc(v.values, func(x *float64) bool { return x != nil }) {
			variables, names = append(variables, v.values), append(names, v.name)
		}
	}
	p := problem{block: blocksOf(nil, len(in.Pieces)), sizes: in.ArmSizes}
	var out MatchResult
	p.values, out.Allocation.SD = standardise(variables)
	if in.SplitAnimals {
		p.block = blocksOf(animals, len(in.Pieces))
		for _, s := range p.blockSizes() {
			if s > len(in.ArmSizes) {
				return MatchResult{}, fault.New("split_animals_over_arms", fmt.Sprintf("an animal has %d pieces for %d arms", s, len(in.ArmSizes)), "give more arms or let pieces of an animal share one")
			}
		}
	}
	out.Allocation.Variables = names
	out.Allocation.optimise(&p, in.Pieces)
	out.MatchedSets = setsOf(variables, in.SetSize, in.Pieces)
	return out, nil
}

// blocksOf numbers the blocks by name; an empty name, or no names, is none.
func blocksOf(names []string, n int) []int {
	out, seen := make([]int, n), map[string]int{}
	for i := range out {
		out[i] = -1
		if names == nil || names[i] == "" {
			continue
		}
		if _, ok := seen[names[i]]; !ok {
			seen[names[i]] = len(seen)
		}
		out[i] = seen[names[i]]
	}
	return out
}

func (a *Allocation) optimise(p *problem, pieces []MatchPiece) {
	a.Least = math.Inf(1)
	p.allotments(func(arm []int) {
		a.Tried++
		smd := p.maxSMD(arm)
		a.WorstSMD = math.Max(a.WorstSMD, smd)
		switch {
		case smd < a.Least-tie:
			a.Least, a.NOptimal, a.Best = smd, 1, make([][]string, len(p.sizes))
			for i, x := range arm {
				a.Best[x] = append(a.Best[x], pieces[i].ID)
			}
		case smd <= a.Least+tie:
			a.NOptimal++
		}
	})
	a.Tried *= p.namings()
}

// setsOf splits pieces into sets of a size with the least sum of distances
// within sets; what does not fill a set is left out where that costs least.
func setsOf(variables [][]*float64, size int, pieces []MatchPiece) MatchedSets {
	out := MatchedSets{SetSize: size, LeftOut: len(pieces) % size, Least: math.Inf(1)}
	var d func(i, j int) float64
	d, out.Distance = distances(variables)
	partitions(len(pieces), size, func(set []int) {
		out.Tried++
		sum := 0.0
		for i := range set {
			for j := range i {
				if set[i] >= 0 && set[i] == set[j] {
					sum += d(i, j)
				}
			}
		}
		switch {
		case sum < out.Least-tie:
			out.Least, out.NOptimal, out.Best = sum, 1, make([][]string, len(pieces)/size)
			for i, s := range set {
				if s >= 0 {
					out.Best[s] = append(out.Best[s], pieces[i].ID)
				}
			}
		case sum <= out.Least+tie:
			out.NOptimal++
		}
	})
	return out
}

// distances of pieces: with one variable its plain difference, else Euclid's
// over values divided by their standard deviations.
func distances(variables [][]*float64) (d func(i, j int) float64, name string) {
	if len(variables) == 1 {
		v := variables[0]
		return func(i, j int) float64 {
			if v[i] == nil || v[j] == nil {
				return 0
			}
			return math.Abs(*v[i] - *v[j])
		}, "absolute difference"
	}
	values, _ := standardise(variables)
	return func(i, j int) float64 {
		sum := 0.0
		for _, v := range values {
			sum += (v[i] - v[j]) * (v[i] - v[j])
		}
		return math.Sqrt(sum)
	}, "euclidean on values divided by their sd"
}

// partitions calls visit with every way to put n things into sets of a size,
// the rest (n modulo size) left out as -1; sets are unnamed.
func partitions(n, size int, visit func(set []int)) {
	set, sizes := make([]int, n), make([]int, n/size)
	var place func(i, opened, out int)
	place = func(i, opened, out int) {
		if i == n {
			visit(set)
			return
		}
		for s := range min(opened+1, len(sizes)) {
			if sizes[s] == size {
				continue
			}
			set[i] = s
			sizes[s]++
			place(i+1, max(opened, s+1), out)
			sizes[s]--
		}
		if out < n%size {
			set[i] = -1
			place(i+1, opened, out+1)
		}
	}
	place(0, 0, 0)
}

// PairUp suggests blocks of a size for pieces that have none: the closest
// together, exactly up to 12 pieces, by swaps from the order of weight above.
// Blocks are numbered from 0; what does not fill one is -1.
func PairUp(variables [][]*float64, n, size int) []int {
	best := make([]int, n)
	if size < 2 || n < size {
		for i := range best {
			best[i] = -1
		}
		return best
	}
	d, _ := distances(variables)
	total := func(set []int) float64 {
		sum := 0.0
		for i := range set {
			for j := range i {
				if set[i] >= 0 && set[i] == set[j] {
					sum += d(i, j)
				}
			}
		}
		return sum
	}
	if n <= MostEnumerated {
		least := math.Inf(1)
		partitions(n, size, func(set []int) {
			if sum := total(set); sum < least-tie {
				least = sum
				copy(best, set)
			}
		})
		return best
	}
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	key := func(i int) float64 {
		if len(variables) > 0 && variables[0][i] != nil {
			return *variables[0][i]
		}
		return 0
	}
	slices.SortStableFunc(order, func(a, b int) int {
		if key(a) < key(b) {
			return -1
		}
		return 1
	})
	for place, i := range order {
		if best[i] = place / size; best[i] >= n/size {
			best[i] = -1
		}
	}
	for now, better := total(best), true; better; {
		better = false
		for i := range best {
			for j := range i {
				best[i], best[j] = best[j], best[i]
				if then := total(best); then < now-tie {
					now, better = then, true
				} else {
					best[i], best[j] = best[j], best[i]
				}
			}
		}
	}
	return best
}
