package panel

import (
	"fmt"
	"math/rand/v2"

	"whitebarn/core/fault"
)

// Williams returns the serving orders of a Williams design for k samples,
// numbered from 0: k orders for even k, 2k for odd k. Each sample stands
// equally often in each position and follows each other sample equally often
// (Williams, E. J., 1949).
func Williams(k int) [][]int {
	first := make([]int, k)
	for i, low, high := 1, 1, k-1; i < k; i++ {
		if i%2 == 1 {
			first[i] = low
			low++
		} else {
			first[i] = high
			high--
		}
	}
	var orders [][]int
	for shift := range k {
		row := make([]int, k)
		for i, s := range first {
			row[i] = (s + shift) % k
		}
		orders = append(orders, row)
	}
	if k%2 == 1 && k > 1 {
		for _, row := range orders[:k:k] {
			mirror := make([]int, k)
			for i, s := range row {
				mirror[k-1-i] = s
			}
			orders = append(orders, mirror)
		}
	}
	return orders
}

// Orders gives each of the tasters an order of k samples: the rows of a Williams design
// under a random naming of the samples, square by square, each row used once before any is
// used again. For an odd k the design has two squares, so that k tasters have every sample
// once in every place.
func Orders(r *rand.Rand, k, tasters int) [][]int {
	design := Williams(k)
	name := r.Perm(k)
	out := make([][]int, 0, tasters)
	var turn []int
	for len(out) < tasters {
		if len(turn) == 0 {
			for _, square := range r.Perm(len(design) / k) {
				for _, row := range r.Perm(k) {
					turn = append(turn, square*k+row)
				}
			}
		}
		row := make([]int, k)
		for i, s := range design[turn[0]] {
			row[i] = name[s]
		}
		turn = turn[1:]
		out = append(out, row)
	}
	return out
}

// OrdersInput is a serving order for each taster, samples numbered from 1.
type OrdersInput struct {
	Samples int     `json:"samples"`
	Orders  [][]int `json:"orders"`
}

// OrdersResult counts how often each sample stands where, and what it follows.
type OrdersResult struct {
	EverySampleOnce   bool    `json:"each_taster_gets_every_sample_once"`
	PositionCounts    [][]int `json:"position_counts"`
	PositionSpread    int     `json:"position_spread"`
	NeighbourCounts   [][]int `json:"neighbour_counts"`
	NeighbourSpread   int     `json:"neighbour_spread"`
	SelfNeighbours    int     `json:"self_neighbours"`
	PositionBalanced  bool    `json:"position_balanced"`
	NeighbourBalanced bool    `json:"neighbour_balanced"`
}

// CheckOrders counts positions and neighbours. It refuses a sample number
// outside 1 to samples.
func CheckOrders(in OrdersInput) (OrdersResult, error) {
	k := in.Samples
	if k < 1 || k > 100 {
		return OrdersResult{}, fault.New("samples", fmt.Sprintf("%d samples", k), "give 1 to 100")
	}
	out := OrdersResult{EverySampleOnce: true, PositionCounts: table(k), NeighbourCounts: table(k)}
	for t, order := range in.Orders {
		seen := map[int]bool{}
		for i, s := range order {
			if s < 1 || s > k || i >= k {
				return OrdersResult{}, fault.New(fmt.Sprintf("orders[%d][%d]", t, i), fmt.Sprintf("sample %d", s), fmt.Sprintf("use samples 1 to %d, at most that many a taster", k))
			}
			seen[s] = true
			out.PositionCounts[s-1][i]++
			if i > 0 {
				out.NeighbourCounts[order[i-1]-1][s-1]++
			}
		}
		out.EverySampleOnce = out.EverySampleOnce && len(seen) == k && len(order) == k
	}
	out.PositionSpread = spread(out.PositionCounts, func(i, j int) bool { return true })
	out.NeighbourSpread = spread(out.NeighbourCounts, func(i, j int) bool { return i != j })
	for i := range k {
		out.SelfNeighbours += out.NeighbourCounts[i][i]
	}
	out.PositionBalanced = out.PositionSpread == 0
	out.NeighbourBalanced = out.NeighbourSpread == 0 && out.SelfNeighbours == 0
	return out, nil
}

func table(k int) [][]int {
	t := make([][]int, k)
	for i := range t {
		t[i] = make([]int, k)
	}
	return t
}

func spread(t [][]int, counts func(i, j int) bool) int {
	low, high, first := 0, 0, true
	for i := range t {
		for j, n := range t[i] {
			if !counts(i, j) {
				continue
			}
			if first {
				low, high, first = n, n, false
			}
			low, high = min(low, n), max(high, n)
		}
	}
	return high - low
}

// WilliamsInput asks for the designs of these numbers of samples.
type WilliamsInput struct {
	K []int `json:"k"`
}

// WilliamsDesign is one design, samples numbered from 1, with its balance.
type WilliamsDesign struct {
	K                int     `json:"k"`
	Orders           int     `json:"orders"`
	PerPosition      int     `json:"each_sample_per_position"`
	PerNeighbourPair int     `json:"each_ordered_neighbour_pair"`
	SelfNeighbours   int     `json:"self_neighbours"`
	Rows             [][]int `json:"rows"`
}

// WilliamsResult is a design for each number asked for.
type WilliamsResult struct {
	Designs []WilliamsDesign `json:"designs"`
}

// WilliamsProperties lists the designs and counts their balance anew.
func WilliamsProperties(in WilliamsInput) (WilliamsResult, error) {
	out := WilliamsResult{Designs: []WilliamsDesign{}}
	for i, k := range in.K {
		if k < 2 || k > 26 {
			return WilliamsResult{}, fault.New(fmt.Sprintf("k[%d]", i), fmt.Sprintf("%d samples", k), "give 2 to 26")
		}
		rows := Williams(k)
		for _, row := range rows {
			for j := range row {
				row[j]++
			}
		}
		check, err := CheckOrders(OrdersInput{Samples: k, Orders: rows})
		if err != nil {
			return WilliamsResult{}, err
		}
		out.Designs = append(out.Designs, WilliamsDesign{
			K: k, Orders: len(rows), PerPosition: check.PositionCounts[0][0],
			PerNeighbourPair: check.NeighbourCounts[0][1], SelfNeighbours: check.SelfNeighbours, Rows: rows,
		})
	}
	return out, nil
}
