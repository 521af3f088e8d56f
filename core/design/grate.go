package design

import (
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"whitebarn/core/trial"
)

// Run is a pit of a cook with the places of its grate.
type Run struct {
	CookID   int64
	Cook     string
	PitRunID int64
	Pit      string
	Columns  int
	Rows     int
	SetPoint float64 // in degrees Celsius
}

// Dealing says what a layout asks of the places.
type Dealing struct {
	Latin bool // each arm as often in each place, over the cook days
	keys  []string
	key   []int // of each arm: which of the combinations set on pits it has; nil where none is
	ask   trial.Ask
}

// DealingOf is the dealing of an ask. A level set on pits belongs to the run: an arm goes
// to runs of its own level alone.
func DealingOf(a trial.Ask) Dealing {
	d := Dealing{Latin: a.Layout == Latin, ask: a}
	if !setOn(a, trial.UnitPitRun) {
		return d
	}
	for _, arm := range a.Arms {
		k := pitKey(a, arm)
		if !slices.Contains(d.keys, k) {
			d.keys = append(d.keys, k)
		}
		d.key = append(d.key, slices.Index(d.keys, k))
	}
	return d
}

// levelOf is which combination a run has: the one its set point says, else the pits of a day
// take turns, so that pits change levels from day to day, and days where a day has one pit.
func (d Dealing) levelOf(run Run, at, day, pits int) int {
	for arm := range d.ask.Arms {
		for f, factor := range d.ask.Factors {
			level, err := strconv.ParseFloat(d.ask.Arms[arm].Levels[f].Value, 64)
			if factor.SetOn != trial.UnitPitRun || factor.Kind != trial.Numeric || err != nil {
				continue
			}
			if factor.Unit == trial.Fahrenheit {
				level = (level - 32) / 1.8
			}
			if math.Abs(run.SetPoint-level) < 1 {
				return d.key[arm]
			}
		}
	}
	if pits >= len(d.keys) {
		return (at + day) % len(d.keys)
	}
	return (at + day*pits) % len(d.keys)
}

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
	columns, rows := withinPits(covariates[3], pieces), withinPits(covariates[4], pieces)
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

// DrawPositions deals pieces to the cooks' pits and places: blocks whole and even
// over the cooks, then the places by lot, improved by exchanges inside a pit
// until arms and places are as little tied as they can be. A Latin dealing puts the
// arms on squares instead, where every day has them equally often. ok is false where the pieces find no room.
func DrawPositions(arms int, pieces []Piece, runs []Run, d Dealing, r *rand.Rand) (places []GratePosition, ok bool) {
	var days []int64
	byDay := map[int64][]Run{}
	for _, run := range runs {
		if byDay[run.CookID] == nil {
			days = append(days, run.CookID)
		}
		byDay[run.CookID] = append(byDay[run.CookID], run)
	}
	if len(days) == 0 {
		return nil, false
	}
	room := map[int64][]string{} // free places by pit run
	for _, run := range runs {
		for c := range run.Columns {
			for row := range run.Rows {
				room[run.PitRunID] = append(room[run.PitRunID], PositionName(c, row))
			}
		}
		free := room[run.PitRunID]
		r.Shuffle(len(free), func(i, j int) { free[i], free[j] = free[j], free[i] })
	}
	now := slices.Clone(pieces)
	level, placed := map[int64]int{}, map[int64]int{}
	for day, id := range days {
		if d.key == nil {
			break
		}
		byPit := slices.SortedStableFunc(slices.Values(byDay[id]), func(a, b Run) int { return strings.Compare(a.Pit, b.Pit) })
		for at, run := range byPit {
			level[run.PitRunID] = d.levelOf(run, at, day, len(byPit))
		}
	}
	for n, block := range evenDeal(arms, now, len(days), r) {
		day := days[n%len(days)]
		turn := r.IntN(len(byDay[day]))
		for _, i := range block {
			all := byDay[day]
			order := slices.Concat(all[turn:], all[:turn]) // the next pit where the wanted one is full
			if d.key != nil {
				order = d.runsFor(now[i].Arm, day, runs, level, placed)
			}
			at := slices.IndexFunc(order, func(run Run) bool { return len(room[run.PitRunID]) > 0 })
			if at < 0 {
				return nil, false
			}
			run := order[at]
			now[i].Cook, now[i].Pit, now[i].PitRunID, now[i].Position = run.Cook, run.Pit, run.PitRunID, room[run.PitRunID][0]
			room[run.PitRunID] = room[run.PitRunID][1:]
			placed[run.PitRunID]++
		}
	}
	if d.Latin && latinSquares(arms, now, len(days), r) {
		for _, p := range now {
			places = append(places, GratePosition{CutID: p.ID, PitRunID: p.PitRunID, Position: p.Position})
		}
		return places, true
	}
	even := standingOf(arms, now)
	even.settle(now, r)
	for i, at := range even.place {
		places = append(places, GratePosition{CutID: now[i].ID, PitRunID: now[at].PitRunID, Position: now[at].Position})
	}
	return places, true
}

// runsFor are the runs of an arm's level: those of a day first, then the emptiest.
func (d Dealing) runsFor(arm int, day int64, runs []Run, level, placed map[int64]int) []Run {
	var out []Run
	for _, run := range runs {
		if arm >= 0 && level[run.PitRunID] == d.key[arm] {
			out = append(out, run)
		}
	}
	slices.SortStableFunc(out, func(a, b Run) int {
		if (a.CookID == day) != (b.CookID == day) {
			if a.CookID == day {
				return -1
			}
			return 1
		}
		return placed[a.PitRunID] - placed[b.PitRunID]
	})
	return out
}

// latinSquares lays the pieces of each day out on Latin squares, a row of each
// square a day: of every set of as many places as arms, each arm comes once in
// each place. False where days and arms do not come out even, or a day has more
// pits than one.
func latinSquares(arms int, now []Piece, days int, r *rand.Rand) bool {
	byDay := map[int64][][]int{} // of a run, by arm
	var order []int64
	for i, p := range now {
		if p.Arm < 0 {
			return false
		}
		if byDay[p.PitRunID] == nil {
			byDay[p.PitRunID] = make([][]int, arms)
			order = append(order, p.PitRunID)
		}
		byDay[p.PitRunID][p.Arm] = append(byDay[p.PitRunID][p.Arm], i)
	}
	slices.Sort(order)
	sets := len(byDay[order[0]][0])
	for _, run := range byDay {
		for _, mine := range run {
			if len(mine) != sets {
				return false
			}
		}
	}
	if len(order) != arms || days != arms {
		return false
	}
	// The same places every day: those the first day's pieces were dealt.
	var spots []string
	for _, p := range now {
		if p.PitRunID == order[0] {
			spots = append(spots, p.Position)
		}
	}
	slices.Sort(spots)
	for set := range sets {
		square := LatinSquare(r, arms)
		for day, run := range order {
			for place, arm := range square[day] {
				now[byDay[run][arm][set]].Position = spots[set*arms+place]
			}
		}
	}
	return true
}

// evenDeal is an order of the blocks in which dealing them out day by day
// spreads every arm most evenly over the days: the best of 60 by lot.
func evenDeal(arms int, pieces []Piece, days int, r *rand.Rand) [][]int {
	var best [][]int
	least := math.Inf(1)
	for range 60 {
		order := shuffledBlocks(pieces, r)
		count := grid(arms, days)
		for n, block := range order {
			for _, i := range block {
				if pieces[i].Arm >= 0 {
					count[pieces[i].Arm][n%days]++
				}
			}
		}
		uneven := 0.0
		for _, byDay := range count {
			for _, n := range byDay {
				uneven += float64(n * n)
			}
		}
		if uneven < least {
			best, least = order, uneven
		}
	}
	return best
}

// shuffledBlocks are the pieces' numbers by block, in random order.
func shuffledBlocks(pieces []Piece, r *rand.Rand) [][]int {
	var out [][]int
	at := map[string]int{}
	for i, p := range pieces {
		if n, ok := at[p.Block]; ok && p.Block != "" {
			out[n] = append(out[n], i)
			continue
		}
		at[p.Block] = len(out)
		out = append(out, []int{i})
	}
	r.Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
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
