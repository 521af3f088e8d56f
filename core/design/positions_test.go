package design

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
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
		moves := LeastMoves(sound(), p)
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
	for _, c := range []struct {
		name   string
		run    Run
		at     int
		day    int
		pits   int
		wanted int
	}{
		{"the first pit on the first day", Run{}, 0, 0, 2, 0}, {"the second pit", Run{}, 1, 0, 2, 1}, {"the first pit on the second day", Run{}, 0, 1, 2, 1},
		{"one pit, the first day", Run{}, 0, 0, 1, 0}, {"one pit, the second day", Run{}, 0, 1, 1, 1},
		{"a pit set to 275 F", Run{SetPoint: 135}, 0, 0, 2, 1}, {"a pit set to 225 F", Run{SetPoint: 107.2}, 1, 0, 2, 0},
	} {
		if got := DealingOf(a).levelOf(c.run, c.at, c.day, c.pits); got != c.wanted {
			t.Errorf("%s has level %d, want %d", c.name, got, c.wanted)
		}
	}
	if DealingOf(sound()).key != nil {
		t.Error("a wrap asks for a pit of its own")
	}
}

// TestNoMendMovesACutUnderAnotherLevel: water and sand stand on pits of their own on both
// days. The mend swaps the set-ups of a day; with one day there is none.
func TestNoMendMovesACutUnderAnotherLevel(t *testing.T) {
	water := leveled(varied(2, "pan"), "water", "sand")
	water.Factors[0].SetOn = trial.UnitPitRun
	for days := 1; days <= 2; days++ {
		p := hangers(2 * days)
		for i := range p {
			day := i / 4
			p[i].Cook, p[i].PitRunID = fmt.Sprint("day ", day+1), int64(10*day+p[i].Arm)
			p[i].Pit = []string{"Brick Pit", "North Drum"}[p[i].Arm]
			p[i].Position = PositionName(i%4, 0)
			p[i].Units = map[trial.UnitKind]string{trial.UnitPitRun: fmt.Sprint("pit run ", p[i].PitRunID)}
		}
		found := Review(Case{Ask: water, Pieces: p, Drawn: true})
		f := find(found, "trait:pit")
		if f == nil {
			t.Fatalf("%d days: pits that go with the pan pass: %+v", days, found)
		}
		for _, m := range f.Mends {
			if len(m.Positions) > 0 || m.Redraw == RedrawPositions {
				t.Errorf("%d days: a mend moves cuts: %+v", days, m)
			}
		}
		if days == 1 {
			if len(f.Mends) > 0 || !strings.Contains(f.Text, "Another cook day with the set-ups the other way round") {
				t.Errorf("one day has no crossing, and says %q with %+v", f.Text, f.Mends)
			}
			continue
		}
		if len(f.Mends) != 1 || len(f.Mends[0].Swap) != 2 {
			t.Fatalf("two days are mended by %+v, want a swap of set-ups", f.Mends)
		}
		for i := range p {
			if slices.Contains(f.Mends[0].Swap, p[i].PitRunID) {
				p[i].Pit = map[string]string{"Brick Pit": "North Drum", "North Drum": "Brick Pit"}[p[i].Pit]
			}
		}
		if f := find(Review(Case{Ask: water, Pieces: p, Drawn: true}), "trait:pit"); f != nil {
			t.Errorf("after the swap: %s", f.Text)
		}
	}
}

// TestLeastMovesStayInsideARun: both levels lie at one end of their own pit; a wrap may go
// from pit to pit, a level that is set on the pit not.
func TestLeastMovesStayInsideARun(t *testing.T) {
	water := leveled(varied(2, "pan"), "water", "sand")
	water.Factors[0].SetOn = trial.UnitPitRun
	for _, c := range []struct {
		ask   trial.Ask
		moves bool
	}{{sound(), true}, {water, false}} {
		p := hangers(4)
		for i := range p {
			p[i].Cook, p[i].PitRunID = "day 1", int64(p[i].Arm+1)
			p[i].Pit = []string{"Brick Pit", "North Drum"}[p[i].Arm]
			p[i].Position = PositionName(i/2, 0)
		}
		moves := LeastMoves(c.ask, p)
		if c.moves != (len(moves) > 0) {
			t.Errorf("%s: the least moves are %v", c.ask.Factors[0].Name, moves)
		}
		for _, m := range moves {
			if at := slices.IndexFunc(p, func(x Piece) bool { return x.ID == m.CutID }); !c.moves && p[at].PitRunID != m.PitRunID {
				t.Errorf("%s: %s goes under the other level", c.ask.Factors[0].Name, p[at].Name)
			}
		}
	}
}

// TestOnePitALevelADay deals levels of one pit to days of their own.
func TestOnePitALevelADay(t *testing.T) {
	water := leveled(varied(2, "pan"), "water", "sand")
	water.Factors[0].SetOn = trial.UnitPitRun
	var runs []Run
	for day := range 4 {
		runs = append(runs, Run{CookID: int64(day + 1), Cook: fmt.Sprint("day ", day+1), PitRunID: int64(day + 1), Pit: "Brick Pit", Columns: 4, Rows: 3})
	}
	p := hangers(8)
	places, ok := DrawPositions(2, p, runs, DealingOf(water), rand.New(rand.NewPCG(4, 4)))
	if !ok {
		t.Fatal("no room")
	}
	arm, cuts := map[int64]int{}, map[int64]int{}
	for i, x := range places {
		if was, there := arm[x.PitRunID]; there && was != p[i].Arm {
			t.Errorf("run %d holds cuts of two levels", x.PitRunID)
		}
		arm[x.PitRunID] = p[i].Arm
		cuts[x.PitRunID]++
	}
	for run, n := range cuts {
		if n != 4 {
			t.Errorf("run %d holds %d cuts, want 4", run, n)
		}
	}
}

// TestARunOrBatchOfTwoLevelsIsSaid: what is set on it is set for all that is in it.
func TestARunOrBatchOfTwoLevelsIsSaid(t *testing.T) {
	for kind, text := range map[trial.UnitKind]string{trial.UnitPitRun: "Brick Pit on day 1 holds cuts of two levels of pan",
		trial.UnitBatch: "Batch one holds cuts of two levels of pan"} {
		ask := leveled(varied(2, "pan"), "water", "sand")
		ask.Factors[0].SetOn = kind
		p := hangers(2)
		for i := range p {
			p[i].Cook, p[i].Pit, p[i].PitRunID = "day 1", "Brick Pit", 1
			p[i].Units = map[trial.UnitKind]string{kind: map[trial.UnitKind]string{trial.UnitPitRun: "pit run 1", trial.UnitBatch: "batch one"}[kind]}
		}
		f := find(Review(Case{Ask: ask, Pieces: p, Drawn: true}), "mixed-run")
		if f == nil || f.Weight != Confound || !strings.Contains(f.Text, text) {
			t.Errorf("%s: found %+v, want %q", kind, f, text)
		}
	}
}

// TestOnePitOverManyDaysAnswersUnlessInOrder: a level a day, in turn, is said; one level after
// the other is tied to time; one day each cannot be told apart.
func TestOnePitOverManyDaysAnswersUnlessInOrder(t *testing.T) {
	water := leveled(varied(2, "pan"), "water", "sand")
	water.Factors[0].SetOn = trial.UnitPitRun
	for _, c := range []struct {
		order  string
		weight Weight
		text   string
	}{{"ABABAB", Weakens, "the days are part of the spread"}, {"AAABBB", Confound, "one after the other"}, {"AB", Confound, "cook days of its own"}} {
		var p []Piece
		for day, arm := range c.order {
			for i := range 2 {
				kg, name := 2.7, fmt.Sprint(day, " ", i)
				p = append(p, Piece{ID: int64(len(p) + 1), Name: name, Root: name, Arm: int(arm - 'A'), Kg: &kg,
					Cook: fmt.Sprint("day ", day+1), Pit: "Brick Pit", PitRunID: int64(day + 1)})
			}
		}
		f := find(Review(Case{Ask: water, Pieces: p, Drawn: true}), "trait:cook day")
		if f == nil || f.Weight != c.weight || !strings.Contains(f.Text, c.text) {
			t.Errorf("%s is found as %+v, want %s: %s", c.order, f, c.weight, c.text)
		}
	}
}

// TestAlikeIsJudgedBySize: 8 oz is alike on shoulders and far off on drumsticks.
func TestAlikeIsJudgedBySize(t *testing.T) {
	for _, c := range []struct {
		kg    float64
		alike bool
	}{{2.7, true}, {0.12, false}} {
		p := hangers(4)
		for i := range p {
			kg := c.kg
			if p[i].Arm == 0 {
				kg += min(0.2, 0.5*c.kg)
			}
			p[i].Kg = &kg
		}
		if got := BalanceOf(2, p).Covariates[0]; got.Alike != c.alike {
			t.Errorf("pieces of %.2f kg whose arms lie %.2f kg apart are alike: %v, gate %.3f", c.kg, got.Pairs[0].Difference, got.Alike, got.Gate)
		}
	}
}

// TestPartsAreAddedUpWhereArmsAreCompared: a cut cut in two for one arm weighs what both do.
func TestPartsAreAddedUpWhereArmsAreCompared(t *testing.T) {
	whole, half := 3.0, 1.5
	p := []Piece{{Name: "1", Root: "1", Arm: 0, Kg: &whole}, {Name: "2a", Root: "2", Arm: 1, Kg: &half}, {Name: "2b", Root: "2", Arm: 1, Kg: &half}}
	if got := BalanceOf(2, p).Covariates[0]; !got.Alike || got.Arms[1].Cuts != 1 {
		t.Errorf("a whole of 3 kg against two parts of 1.5 kg: %+v", got)
	}
}

// TestOneCutAnArmStillHasADayAndAPit: two cuts on two pits and days are one confound.
func TestOneCutAnArmStillHasADayAndAPit(t *testing.T) {
	kg := 2.7
	p := []Piece{{ID: 1, Name: "1", Root: "1", Arm: 0, Kg: &kg, Cook: "day 1", Pit: "Brick Pit", PitRunID: 1},
		{ID: 2, Name: "2", Root: "2", Arm: 1, Kg: &kg, Cook: "day 2", Pit: "North Drum", PitRunID: 2}}
	found := Review(Case{Ask: sound(), Pieces: p, Drawn: true})
	var traits []string
	for _, f := range found {
		if strings.HasPrefix(f.Key, "trait:") {
			traits = append(traits, f.Key)
		}
	}
	if len(traits) != 1 || traits[0] != "trait:cook day+pit" {
		t.Errorf("two cuts on two days and pits are reported as %v, want one finding", traits)
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
