package design

import (
	"math"
	"math/rand/v2"

	"whitebarn/core/trial"
)

// standing is pieces and places in numbers, for scoring many exchanges.
type standing struct {
	arms  int
	arm   []int
	place []int // of each piece, in spots
	spots []spot
	kinds [3]int // days, pits, columns
}

type spot struct {
	kind        [3]int  // day, pit and column of a pit, -1 for none
	column, row float64 // from the middle of what lies in the pit
	onGrid      bool
}

func standingOf(arms int, pieces []Piece) *standing {
	s := &standing{arms: arms}
	seen := [3]map[string]int{{}, {}, {}}
	columns, rows := withinPits(across, pieces), withinPits(along, pieces)
	for i, p := range pieces {
		x := spot{kind: [3]int{-1, -1, -1}}
		for k, t := range kindsOfPlace {
			if v := p.value(t); v != "" {
				if _, ok := seen[k][v]; !ok {
					seen[k][v] = len(seen[k])
				}
				x.kind[k] = seen[k][v]
			}
		}
		if columns[i] != nil {
			x.column, x.row, x.onGrid = *columns[i], *rows[i], true
		}
		s.arm, s.place, s.spots = append(s.arm, p.Arm), append(s.place, i), append(s.spots, x)
	}
	for k := range seen {
		s.kinds[k] = len(seen[k])
	}
	return s
}

var kindsOfPlace = [3]Trait{CookDay, Pit, Column}

// broken is what a gate that is not kept adds to the score: more than all else.
const broken = 1e6

// score is how far arms and places are tied: over days, pits and columns the
// squares by which each arm's counts miss an even share, the squares of the
// gaps of mean column and row, and broken for each rule of Review not kept.
func (s *standing) score() float64 {
	sum := 0.0
	for k, values := range s.kinds {
		if values > 1 {
			sum += s.ties(k, values)
		}
	}
	var total [2][]float64
	count := make([]float64, s.arms)
	for axis := range total {
		total[axis] = make([]float64, s.arms)
	}
	for i, a := range s.arm {
		if x := s.spots[s.place[i]]; a >= 0 && x.onGrid {
			count[a]++
			total[0][a] += x.column
			total[1][a] += x.row
		}
	}
	for _, t := range total {
		for a := range s.arms {
			for b := range a {
				if count[a] == 0 || count[b] == 0 {
					continue
				}
				d := t[a]/count[a] - t[b]/count[b]
				sum += d * d
				if math.Abs(d) > halfAPlace+1e-12 {
					sum += broken
				}
			}
		}
	}
	return sum
}

// ties scores one kind of place.
func (s *standing) ties(k, values int) float64 {
	counts := make([]float64, s.arms*values)
	perArm, perValue, all := make([]float64, s.arms), make([]float64, values), 0.0
	for i, a := range s.arm {
		if v := s.spots[s.place[i]].kind[k]; a >= 0 && v >= 0 {
			counts[a*values+v]++
			perArm[a]++
			perValue[v]++
			all++
		}
	}
	sum, chi2 := 0.0, 0.0
	present := 0
	for a := range s.arms {
		if perArm[a] > 0 {
			present++
		}
		for v := range values {
			if expected := perArm[a] * perValue[v] / all; expected > 0 {
				miss := counts[a*values+v] - expected
				sum += miss * miss
				chi2 += miss * miss / expected
			}
		}
	}
	if smaller := min(present, values) - 1; smaller > 0 && follow(kindsOfPlace[k], math.Sqrt(chi2/(all*float64(smaller))), int(all), values) {
		sum += broken
	}
	return sum
}

// exchange lets two pieces change places.
func (s *standing) exchange(i, j int) { s.place[i], s.place[j] = s.place[j], s.place[i] }

// LeastMoves are the fewest changes of place, found one exchange at a time,
// after which no place follows an arm: two cuts of a cook change places, inside a run where
// something is set on runs. Nil where that cannot clear it.
func LeastMoves(ask trial.Ask, pieces []Piece) []GratePosition {
	now, runsDiffer := standingOf(len(ask.Arms), pieces), setOn(ask, trial.UnitPitRun)
	var swaps [][2]int
	for i, p := range pieces {
		for j, q := range pieces[:i] {
			if p.Arm != q.Arm && p.Cook == q.Cook && p.Position != "" && q.Position != "" && (!runsDiffer || p.PitRunID == q.PitRunID) {
				swaps = append(swaps, [2]int{i, j})
			}
		}
	}
	score := now.score()
	for range len(pieces) {
		if score < broken {
			break // every gate is kept
		}
		best, do := now.bestSwap(swaps, score)
		if do == nil { // one exchange does not help: two together may
			for _, first := range swaps {
				now.exchange(first[0], first[1])
				if s, second := now.bestSwap(swaps, best); second != nil {
					best, do = s, [][2]int{first, second[0]}
				}
				now.exchange(first[0], first[1])
			}
		}
		if do == nil {
			break
		}
		for _, x := range do {
			now.exchange(x[0], x[1])
		}
		score = best
	}
	if score >= broken {
		return nil
	}
	var out []GratePosition
	for i, at := range now.place {
		if at != i {
			out = append(out, GratePosition{CutID: pieces[i].ID, PitRunID: pieces[at].PitRunID, Position: pieces[at].Position})
		}
	}
	return out
}

// bestSwap is the exchange that brings the score furthest below where it is;
// none when it is nil.
func (s *standing) bestSwap(swaps [][2]int, below float64) (score float64, swap [][2]int) {
	score = below
	for _, x := range swaps {
		s.exchange(x[0], x[1])
		if then := s.score(); then < score-1e-9 {
			score, swap = then, [][2]int{x}
		}
		s.exchange(x[0], x[1])
	}
	return score, swap
}

// settle exchanges places inside a pit run while that lessens the ties.
func (s *standing) settle(pieces []Piece, r *rand.Rand) {
	score := s.score()
	order := r.Perm(len(pieces))
	for better := true; better; {
		better = false
		for _, i := range order {
			for _, j := range order {
				if i == j || pieces[i].PitRunID != pieces[j].PitRunID || s.arm[i] == s.arm[j] {
					continue
				}
				s.exchange(i, j)
				if then := s.score(); then < score-1e-9 {
					score, better = then, true
				} else {
					s.exchange(i, j)
				}
			}
		}
	}
}
