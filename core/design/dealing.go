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
	SetPoint float64  // in degrees Celsius
	Alike    []string // places that its burns say are near set; they are dealt first
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
		near, far := []string{}, []string{}
		for _, place := range free {
			if slices.Contains(run.Alike, place) {
				near = append(near, place)
			} else {
				far = append(far, place)
			}
		}
		room[run.PitRunID] = append(near, far...)
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
