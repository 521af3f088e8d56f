package design

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"whitebarn/core/trial"
)

func TestLeastMovesClearThePlaces(t *testing.T) {
	for n := 2; n <= 6; n++ {
		p := hangers(n)
		for i := range p {
			p[i].Position = PositionName(2*p[i].Arm+i%2, i/4)
		}
		if find(Review(Case{Ask: sound(), Pieces: p, Drawn: true}), "covariate:column") == nil {
			t.Fatalf("%d pairs at two ends of the grate pass", n)
		}
		moves := LeastMoves(2, p)
		if len(moves) == 0 || len(moves) > 2*n {
			t.Fatalf("%d pairs: the least moves are %v", n, moves)
		}
		taken := map[string]bool{}
		for _, m := range moves {
			p[m.CutID-1].Position = m.Position
		}
		for _, x := range p {
			if taken[x.Position] {
				t.Errorf("%d pairs: two cuts at %s", n, x.Position)
			}
			taken[x.Position] = true
		}
		for _, f := range Review(Case{Ask: sound(), Pieces: p, Drawn: true}) {
			t.Errorf("%d pairs, after %d moves: %s", n, len(moves), f.Text)
		}
	}
}

func TestDrawnPlacesAreEven(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 1))
	runs := []Run{{CookID: 1, Cook: "day 1", PitRunID: 11, Pit: "Brick Pit", Columns: 4, Rows: 3}, {CookID: 2, Cook: "day 2", PitRunID: 12,
		Pit: "Brick Pit", Columns: 4, Rows: 3}}
	for range 10 {
		p := hangers(8)
		places, ok := DrawPositions(2, p, runs, Dealing{}, r)
		if !ok || len(places) != 16 {
			t.Fatalf("16 cuts in 24 places: %v", places)
		}
		taken, cookOf := map[GratePosition]bool{}, map[string]int64{}
		for i, place := range places {
			if taken[GratePosition{0, place.PitRunID, place.Position}] {
				t.Errorf("two cuts at %v", place)
			}
			taken[GratePosition{0, place.PitRunID, place.Position}] = true
			if c, there := cookOf[p[i].Block]; there && c != place.PitRunID {
				t.Errorf("block %s is cooked on two days", p[i].Block)
			}
			cookOf[p[i].Block] = place.PitRunID
			p[i].PitRunID, p[i].Cook, p[i].Position = place.PitRunID, fmt.Sprint(place.PitRunID), place.Position
		}
		for _, f := range Review(Case{Ask: sound(), Pieces: p, Drawn: true}) {
			t.Errorf("drawn places have %s", f.Text)
		}
	}
	// Three arms, two of them in each of six blocks, over two days: two cuts of each arm a day.
	var three []Piece
	for i, block := range [][2]int{{0, 1}, {0, 2}, {1, 2}, {0, 1}, {0, 2}, {1, 2}} {
		for _, arm := range block {
			three = append(three, Piece{ID: int64(len(three) + 1), Block: fmt.Sprint(i), Arm: arm})
		}
	}
	places, _ := DrawPositions(3, three, runs, Dealing{}, r)
	each := map[[2]int64]int{}
	for i, p := range places {
		each[[2]int64{int64(three[i].Arm), p.PitRunID}]++
	}
	for key, n := range each {
		if n != 2 {
			t.Errorf("arm %d has %d cuts in run %d, want two", key[0], n, key[1])
		}
	}
	if _, ok := DrawPositions(2, hangers(20), runs, Dealing{}, r); ok {
		t.Error("40 cuts fit 24 places")
	}
	if _, ok := DrawPositions(2, hangers(2), nil, Dealing{}, r); ok {
		t.Error("cuts are placed without a cook")
	}
}

// TestPitsArePartOfTheDeal deals cuts to two pits over two days: a wrap stands
// in both pits, a heat changes them from day to day.
func TestPitsArePartOfTheDeal(t *testing.T) {
	heat := leveled(varied(2, "heat"), "low", "high")
	heat.Factors[0].SetOn = trial.UnitPitRun
	var runs []Run
	for day := range 2 {
		for pit, name := range []string{"Brick Pit", "North Drum"} {
			runs = append(runs, Run{CookID: int64(day + 1), Cook: fmt.Sprint("day ", day+1), PitRunID: int64(10*day + pit), Pit: name, Columns: 4, Rows: 3})
		}
	}
	for _, c := range []struct {
		name string
		ask  trial.Ask
		each int // cuts of an arm in each run, -1 where one arm has the pit of a day
	}{{"wrap", sound(), 2}, {"heat", heat, -1}} {
		pieces := hangers(8)
		places, ok := DrawPositions(2, pieces, runs, DealingOf(c.ask), rand.New(rand.NewPCG(8, 8)))
		if !ok {
			t.Fatalf("%s: no room", c.name)
		}
		in := map[int64][2]int{}
		for i, p := range places {
			n := in[p.PitRunID]
			n[pieces[i].Arm]++
			in[p.PitRunID] = n
		}
		for run, n := range in {
			if c.each < 0 && n[0] > 0 && n[1] > 0 {
				t.Errorf("%s: run %d holds both arms, %v", c.name, run, n)
			}
		}
		if c.each < 0 && (in[0][0] > 0) == (in[10][0] > 0) {
			t.Errorf("%s: an arm has the same pit on both days: %v", c.name, in)
		}
		if c.each > 0 {
			for i := range pieces {
				pieces[i].Pit = map[int64]string{0: "Brick Pit", 1: "North Drum"}[places[i].PitRunID%10]
			}
			if f := find(Review(Case{Ask: c.ask, Pieces: pieces, Drawn: true}), "trait:pit"); f != nil {
				t.Errorf("%s: %s", c.name, f.Text)
			}
		}
	}
}

func TestArmsSetOnPitsChangeOver(t *testing.T) {
	a := leveled(varied(2, "pit temperature"), "225", "275")
	a.Factors[0] = trial.Factor{Name: "pit temperature", Kind: trial.Numeric, Unit: "F", SetOn: trial.UnitPitRun}
	pits := []Run{{Pit: "Brick Pit"}, {Pit: "North Drum"}}
	turn := DealingOf(a).runFor
	if turn(0, 0, pits) == turn(1, 0, pits) || turn(0, 0, pits) == turn(0, 1, pits) {
		t.Error("the arms do not change pits from day to day")
	}
	set := []Run{{SetPoint: 135}, {SetPoint: 107.2}}
	if turn(0, 0, set) != 1 || turn(1, 0, set) != 0 || turn(0, 1, set) != 1 {
		t.Error("an arm does not go to the pit that is set to its level")
	}
	if DealingOf(sound()).runFor != nil {
		t.Error("a wrap asks for a pit of its own")
	}
}

func TestLatinLayoutPutsEachArmOnceInEachPlace(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for k := 2; k <= 5; k++ {
		for sets := 1; sets <= 2; sets++ {
			var pieces []Piece
			var runs []Run
			for day := range k {
				runs = append(runs, Run{CookID: int64(day + 1), PitRunID: int64(day + 1), Cook: fmt.Sprint("day ", day+1), Pit: "Brick Pit", Columns: 5, Rows: 2})
				for set := range sets {
					for arm := range k {
						pieces = append(pieces, Piece{ID: int64(len(pieces) + 1), Arm: arm, Block: fmt.Sprint(day, " ", set)})
					}
				}
			}
			places, ok := DrawPositions(k, pieces, runs, Dealing{Latin: true}, r)
			if !ok {
				t.Fatalf("%d arms find no room", k)
			}
			times := map[string]int{}
			for i, p := range places {
				times[fmt.Sprint(pieces[i].Arm, " ", p.Position)]++
			}
			if len(times) != k*k*sets {
				t.Errorf("%d arms, %d sets: %d meetings of arm and place, want each of %d once: %v", k, sets, len(times), k*k*sets, times)
			}
		}
	}
}
