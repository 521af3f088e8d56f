package design

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// sound is a trial that can answer its question.
func sound() trial.Ask {
	return trial.Ask{
		Question: "Paper or bare?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact,
		Factors:  []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:     []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}},
		Held:     []trial.Held{{Name: "pit", Value: "250 F"}},
		Outcomes: []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}},
		Hand:     trial.UsualHand,
	}.Tidy()
}

func varied(arms int, factors ...string) trial.Ask {
	a := sound()
	a.Factors, a.Arms = nil, nil
	for _, f := range factors {
		a.Factors = append(a.Factors, trial.Factor{Name: f, Kind: trial.Categorical, SetOn: trial.UnitCut})
	}
	for i := range arms {
		a.Arms = append(a.Arms, trial.Arm{Tag: "ARM" + string(rune('A'+i)), Control: i == 0})
	}
	return a
}

func leveled(a trial.Ask, rows ...string) trial.Ask {
	for i, row := range rows {
		a.Arms[i].Levels = trial.Levels(strings.Fields(row)...)
	}
	return a
}

func find(all []Finding, key string) *Finding {
	at := slices.IndexFunc(all, func(f Finding) bool { return strings.HasPrefix(f.Key, key) })
	if at < 0 {
		return nil
	}
	return &all[at]
}

// TestFlawsOfAnAskAreSaidAndMended finds each flaw and applies each of its
// mends: the flaw is gone, the ask can be recorded, and no new confound came.
func TestFlawsOfAnAskAreSaidAndMended(t *testing.T) {
	known := Levels{0: trial.Levels("none", "paper", "foil")}
	if got := Review(Case{Ask: sound(), Known: known}); len(got) != 0 {
		t.Fatalf("a sound ask is found to have %v", got)
	}
	for _, c := range []struct {
		name, key, words string
		mends            int
		ask              trial.Ask
	}{
		{"two changes at once", "together:rub+wrap", "Rub and wrap change together in every arm. Whatever you find, you cannot say which did it.", 2, leveled(varied(2, "rub", "wrap"), "herb paper", "plain none")},
		{"three changes at once", "together:rub+wrap+trim", "Rub, wrap and trim change together", 2, leveled(varied(2, "rub", "wrap", "trim"), "a b c", "d e f")},
		{"one follows from the other", "follows:heat+wood", "Heat follows from wood", 2, leveled(varied(3, "wood", "heat"), "apricot low", "alder low", "hornbeam high")},
		{"too few arms", "too-few-arms", "3 arms are too few for a, b and c", 2, leveled(varied(3, "a", "b", "c"), "1 1 1", "1 2 2", "2 1 2")},
		{"together in part", "partly:a+b", "A and b change together in part", 1, leveled(varied(5, "a", "b"), "1 1", "1 1", "2 2", "2 2", "1 2")},
		{"aliased", "alias:", "A cannot be told from b and c acting together", 0, leveled(varied(4, "a", "b", "c"), "1 1 1", "2 2 1", "2 1 2", "1 2 2")},
		{"a factor that does not vary", "not-varied:rub", "Rub is the same in every arm", 1, leveled(varied(2, "wrap", "rub"), "paper plain", "none plain")},
		{"arms alike", "alike:", "ARMA and ARMB are the same in everything", 1, leveled(varied(2, "wrap"), "paper", "Paper")},
		{"two of three arms alike", "alike:", "ARMB and ARMC are the same", 2, leveled(varied(3, "wrap"), "none", "paper", "paper")},
		{"a single arm", "single-arm", "ARMA is the only arm", 1, leveled(varied(1, "wrap"), "paper")},
		{"no control", "no-control", "No arm is today's practice", 2, func() trial.Ask { a := sound(); a.Arms[1].Control = false; return a }()},
		{"nothing held", "nothing-held", "Nothing is named as held equal", 1, func() trial.Ask { a := sound(); a.Held = nil; return a }()},
		{"no outcome", "no-outcome", "No outcome decides", 1, func() trial.Ask { a := sound(); a.Outcomes = nil; return a }()},
		{"one cut an arm", "one-unit:wrap", "Each level of wrap would stand on one cut", 1, func() trial.Ask { a := sound(); a.Hand.Blocks = 1; return a }()},
		{"one pit run a level", "one-unit:heat", "Each level of heat would stand on one pit run", 1, func() trial.Ask {
			a := leveled(varied(2, "heat"), "low", "high")
			a.Factors[0].SetOn = trial.UnitPitRun
			return a
		}()},
	} {
		got := Review(Case{Ask: c.ask, Known: known})
		f := find(got, c.key)
		if f == nil || !strings.Contains(f.Text, c.words) {
			t.Errorf("%s: found %+v, want %q", c.name, got, c.words)
			continue
		}
		if len(f.Mends) != c.mends {
			t.Errorf("%s has %d mends, want %d: %+v", c.name, len(f.Mends), c.mends, f.Mends)
		}
		for _, m := range f.Mends {
			after := Review(Case{Ask: *m.Ask, Known: known})
			if g := find(after, f.Key); g != nil {
				t.Errorf("%s: after %q it is still said that %s", c.name, m.Do, g.Text)
			}
			if err := m.Ask.Check(); err != nil {
				t.Errorf("%s: after %q the ask is refused: %v", c.name, m.Do, err)
			}
			for _, g := range after {
				if g.Weight == Confound && find(got, g.Key) == nil {
					t.Errorf("%s: %q brings a new confound: %s", c.name, m.Do, g.Text)
				}
			}
		}
	}
}

// hangers are pairs of left and right, one in each arm.
func hangers(pairs int) []Piece {
	var out []Piece
	for i := range pairs {
		for side, name := range []string{"left", "right"} {
			kg := 2.7 + 0.05*float64(i)
			label := fmt.Sprint(i+1, strings.ToUpper(name[:1]))
			out = append(out, Piece{ID: int64(len(out) + 1), Name: label, Root: label, Block: fmt.Sprint(i + 1), Arm: (i + side) % 2, Kg: &kg,
				Traits: map[Trait]string{Side: name}, Cook: "day 1", Pit: "Brick Pit", PitRunID: 1, Position: PositionName(i%4, side+2*(i/4))})
		}
	}
	return out
}

func TestFlawsOfTheCutsAreSaid(t *testing.T) {
	arms := map[Redraw]bool{RedrawArms: true}
	for _, c := range []struct {
		name, key, words string
		weight           Weight
		mends            map[Redraw]bool
		spoil            func([]Piece) []Piece
	}{
		{"a cut without an arm", "no-arm", "1 cut without an arm", Lacks, arms, func(p []Piece) []Piece { p[0].Arm = -1; return p }},
		{"a cut without a weight", "no-weight", "1 cut without a weight", Lacks, nil, func(p []Piece) []Piece { p[0].Kg = nil; return p }},
		{"an empty arm", "empty:BARE", "BARE has no cut", Confound, arms, func(p []Piece) []Piece {
			for i := range p {
				p[i].Arm = 0
			}
			return p
		}},
		{"one cut an arm", "one-unit:wrap:PAPER", "PAPER stands on one cut", Weakens, nil, func(p []Piece) []Piece { return p[:2] }},
		{"parts of one cut", "one-unit:wrap:PAPER", "PAPER stands on one cut", Weakens, nil, func(p []Piece) []Piece {
			for i := range p {
				if p[i].Arm == 0 {
					p[i].Root = "whole"
				}
			}
			return p
		}},
		{"a pair in one arm", "one-arm:1", "Block 1 is all in PAPER", Weakens, arms, func(p []Piece) []Piece { p[1].Arm = 0; return p }},
		{"a pair of one", "alone:1", "Block 1 has 1 cut", Weakens, nil, func(p []Piece) []Piece { return p[1:] }},
		{"a heavier arm", "covariate:kg", "BARE is heavier than PAPER by {kg:0.4000} on average. Weight and wrap cannot be told apart.", Confound, arms, func(p []Piece) []Piece {
			for i := range p {
				kg := 2.5 + 0.4*float64(p[i].Arm)
				p[i].Kg = &kg
			}
			return p
		}},
		{"a thicker arm", "covariate:thickness_m", "PAPER is thicker than BARE by {m:0.0100}", Confound, arms, func(p []Piece) []Piece {
			for i := range p {
				m := 0.08 - 0.01*float64(p[i].Arm)
				p[i].ThicknessM = &m
			}
			return p
		}},
		{"lots that follow the arms", "trait:lot", "PAPER has hill, BARE has meadow. The lot and wrap cannot be told apart.", Confound, arms, func(p []Piece) []Piece {
			for i := range p {
				p[i].Traits[Lot] = []string{"hill", "meadow"}[p[i].Arm]
			}
			return p
		}},
		{"grades that lean", "trait:grade", "PAPER has 3 of the 3 cuts of grade prime", Weakens, arms, func(p []Piece) []Piece {
			for i := range p {
				p[i].Traits[Grade] = "good"
				if p[i].Arm == 0 && i < 6 {
					p[i].Traits[Grade] = "prime"
				}
			}
			return p
		}},
		{"a day for each arm", "trait:cook day", "Each arm has cook days of its own", Confound, map[Redraw]bool{RedrawPositions: true}, func(p []Piece) []Piece {
			for i := range p {
				p[i].Cook = fmt.Sprint("day ", p[i].Arm+1)
			}
			return p
		}},
		{"a pit for each arm", "trait:pit", "PAPER stands at Brick Pit, BARE stands at North Drum. The pit and wrap cannot be told apart.", Confound, map[Redraw]bool{RedrawPositions: true, RedrawNothing: true}, func(p []Piece) []Piece {
			for i := range p {
				p[i].Pit = []string{"Brick Pit", "North Drum"}[p[i].Arm]
			}
			return p
		}},
		{"an end of the grate for each arm", "covariate:column", "BARE is further across the grate than PAPER by 2.0 places", Confound, map[Redraw]bool{RedrawPositions: true, RedrawNothing: true}, func(p []Piece) []Piece {
			for i := range p {
				p[i].Position = PositionName(2*p[i].Arm+i%2, i/2%3)
			}
			return p
		}},
	} {
		p := hangers(4)
		if got := Review(Case{Ask: sound(), Pieces: p, Drawn: true}); len(got) != 0 {
			t.Fatalf("four matched pairs are found to have %+v", got)
		}
		pieces := c.spoil(p)
		f := find(Review(Case{Ask: sound(), Pieces: pieces, Drawn: true}), c.key)
		if f == nil || !strings.Contains(f.Text, c.words) || f.Weight != c.weight {
			t.Errorf("%s: found %+v, want %q, which %s", c.name, f, c.words, c.weight)
			continue
		}
		offered := map[Redraw]bool{}
		for _, m := range f.Mends {
			offered[m.Redraw] = true
		}
		if fmt.Sprint(offered) != fmt.Sprint(map[Redraw]bool(c.mends)) {
			t.Errorf("%s offers %v, want %v", c.name, offered, c.mends)
		}
	}
	hold := sound()
	hold.Factors[0].SetOn = trial.UnitHolderRun
	p := hangers(4)
	if f := find(Review(Case{Ask: hold, Pieces: p, Drawn: true}), "no-unit:wrap"); f == nil || !strings.HasPrefix(f.Text, "No holder run is recorded") {
		t.Errorf("holds without a holder run: %+v", f)
	}
	for i := range p {
		p[i].Units = map[trial.UnitKind]string{trial.UnitHolderRun: fmt.Sprint(p[i].Arm)}
	}
	if f := find(Review(Case{Ask: hold, Pieces: p, Drawn: true}), "one-unit:wrap:BARE"); f == nil || !strings.Contains(f.Text, "stands on one holder run") {
		t.Errorf("one holder run a level: %+v", f)
	}
	if f := find(Review(Case{Ask: sound(), Pieces: hangers(4)}), "not-drawn"); f == nil {
		t.Error("arms chosen by hand pass for drawn")
	}
	if f := find(Review(Case{Ask: sound(), Pieces: hangers(4), Drawn: true, Moved: []string{"1L", "1R"}}), "moved"); f == nil || !strings.HasPrefix(f.Text, "1L and 1R were moved by hand") {
		t.Errorf("cuts moved after the draw: %+v", f)
	}
}

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
	runs := []Run{{CookID: 1, Cook: "day 1", PitRunID: 11, Pit: "Brick Pit", Columns: 4, Rows: 3}, {CookID: 2, Cook: "day 2", PitRunID: 12, Pit: "Brick Pit", Columns: 4, Rows: 3}}
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

func TestOffersFitWhatIsAtHand(t *testing.T) {
	three := leveled(varied(3, "wrap"), "none", "paper", "pan")
	two2 := leveled(varied(2, "wrap", "rub"), "none plain", "paper herb")
	cube := leveled(varied(2, "a", "b", "c"), "1 1 1", "2 2 2")
	heat := leveled(varied(2, "heat"), "low", "high")
	heat.Factors[0].SetOn = trial.UnitPitRun
	heat.Hand.Pits = 2
	hand := func(a trial.Ask, blocks, size int) trial.Ask {
		a.Hand.Blocks, a.Hand.BlockSize, a.Hand.CutCents = blocks, size, 1250
		return a
	}
	for _, c := range []struct {
		name                     string
		ask                      trial.Ask
		key                      trial.LayoutKey
		fits                     bool
		arms, cuts, cooks, units int
		words                    string // in the scheme, the lacks, or what it cannot tell
	}{
		{"pairs", hand(sound(), 6, 2), Pairs, true, 2, 12, 1, 6, ""},
		{"pairs of single cuts", hand(sound(), 6, 1), Pairs, false, 2, 6, 1, 3, "two alike cuts"},
		{"halves", hand(sound(), 6, 1), Halves, true, 2, 6, 1, 6, "halves cook faster"},
		{"three arms in pairs", hand(three, 6, 2), Incomplete, true, 3, 12, 1, 4, "ARMA and ARMB, 2 times"},
		{"three arms in too few pairs", hand(three, 2, 2), Incomplete, false, 3, 6, 1, 2, "3 blocks needed, 2 at hand"},
		{"three arms in racks", hand(three, 4, 3), Blocks, true, 3, 12, 1, 4, ""},
		{"2x2", hand(two2, 4, 4), Crossed, true, 4, 16, 2, 4, ""},
		{"2x2x2", hand(cube, 4, 4), Crossed, false, 8, 16, 2, 8, "8 arms needed"},
		{"half of 2x2x2", hand(cube, 4, 4), Half, true, 4, 16, 2, 4, "a cannot be told from b and c acting together"},
		{"crossover", hand(heat, 6, 2), Crossover, true, 2, 12, 2, 2, "day 2: pit 1: ARMB, pit 2: ARMA"},
		{"Latin square", hand(sound(), 6, 2), Latin, true, 2, 12, 2, 6, "cook 2: A1: BARE, B1: PAPER"},
		{"Latin square of three", hand(three, 6, 3), Latin, false, 3, 18, 3, 6, "3 cook days needed, 2 at hand"},
	} {
		at := slices.IndexFunc(Offers(c.ask), func(o Offer) bool { return o.Key == c.key })
		if at < 0 {
			t.Errorf("%s is not offered", c.name)
			continue
		}
		o := Offers(c.ask)[at]
		text := strings.Join(slices.Concat(o.Scheme, o.Cannot, []string{o.Lacks}), "\n")
		if o.Fits != c.fits || o.Arms != c.arms || o.Cuts != c.cuts || o.Cooks != c.cooks || o.Units != c.units || !strings.Contains(text, c.words) {
			t.Errorf("%s: fits %v, %d arms, %d cuts, %d cooks, %d units, %q; want %+v", c.name, o.Fits, o.Arms, o.Cuts, o.Cooks, o.Units, text, c)
		}
		if o.CostCents != o.Cuts*1250 {
			t.Errorf("%s costs %d for %d cuts", c.name, o.CostCents, o.Cuts)
		}
		if o.Fits {
			for _, f := range Review(Case{Ask: o.Ask}) {
				if f.Weight == Confound {
					t.Errorf("%s, laid out, has %s", c.name, f.Text)
				}
			}
		}
	}
	if got := Offers(trial.Ask{}); len(got) != 0 {
		t.Errorf("an empty ask is offered %v", got)
	}
}

func TestNumbersUseTheHouseWhereItHasASpread(t *testing.T) {
	a := sound()
	a.Outcomes = append(a.Outcomes, trial.Chosen{Key: trial.Smoke}, trial.Chosen{Key: trial.CookedYield, SmallestDifference: 2})
	house := func(trial.UnitKind) map[trial.OutcomeKey]verdict.Spread {
		return map[trial.OutcomeKey]verdict.Spread{trial.CookedYield: {SD: 1, DF: 7}, trial.Overall: {SD: 9, DF: 2}}
	}
	got := Numbers(a, house, nil)
	if len(got) != 2 || got[0].SpreadDF != 0 || math.Abs(got[0].SD-math.Sqrt(0.25+1.44/5)) > 1e-12 || got[1].SpreadDF != 7 || got[1].SD != 1 {
		t.Fatalf("the numbers are %+v, want the table's spread for liking and the house's for yield", got)
	}
	if n := got[0]; n.Units != 6 || n.Both() != verdict.UnitsToSettle(n.SD, 0.5, verdict.InPairs) || *n.Detects < 0.5 {
		t.Errorf("liking: %+v", n)
	}
	last := CurvePoint{}
	for _, p := range got[0].Curve {
		if p.Clear < last.Clear-1e-9 || p.Units > 6 && p.Same < last.Same-1e-9 || last.Detects != nil && *p.Detects > *last.Detects+1e-9 {
			t.Errorf("more units tell less: %+v after %+v", p, last)
		}
		last = p
	}
	a.Hand.Tasters = 20
	if more := Numbers(a, house, nil)[0]; more.Both() >= got[0].Both() {
		t.Errorf("20 tasters need %d units, 5 need %d; want fewer", more.Both(), got[0].Both())
	}
	a.Factors = append(a.Factors, trial.Factor{Name: "heat", Kind: trial.Categorical, SetOn: trial.UnitPitRun})
	a.Arms[0].Levels, a.Arms[1].Levels = trial.Levels("paper", "low"), trial.Levels("none", "high")
	kinds := map[trial.UnitKind]int{}
	for _, n := range Numbers(a, house, func(k trial.UnitKind) int { return map[trial.UnitKind]int{trial.UnitCut: 9, trial.UnitPitRun: 3}[k] }) {
		kinds[n.Unit] = n.Units
	}
	if kinds[trial.UnitCut] != 9 || kinds[trial.UnitPitRun] != 3 {
		t.Errorf("units by kind are %v, want what hangs", kinds)
	}
}

func BenchmarkReviewOfAThreeArmTrial(b *testing.B) {
	a := leveled(varied(3, "wrap"), "none", "paper", "pan")
	pieces := hangers(12)
	for i := range pieces {
		pieces[i].Arm = i % 3
	}
	for b.Loop() {
		Review(Case{Ask: a, Pieces: pieces})
	}
}

func BenchmarkNumbers(b *testing.B) {
	a := sound()
	a.Outcomes = nil
	for _, d := range trial.Catalogue {
		a.Outcomes = append(a.Outcomes, trial.Chosen{Key: d.Key, SmallestDifference: d.SmallestDifference})
	}
	for b.Loop() {
		Numbers(a, func(trial.UnitKind) map[trial.OutcomeKey]verdict.Spread { return nil }, nil)
	}
}

// TestWordsOfTheirOwnAreAskedAbout gives the rules' own factors levels they have no
// key for: each is asked about once, and a tap says what it counts as.
func TestWordsOfTheirOwnAreAskedAbout(t *testing.T) {
	a := sound()
	a.Factors[0].Role = trial.Wrap
	a.Arms[0].Levels = trial.Levels("two leaves")
	a.Arms[1].Levels = []trial.Level{{Key: trial.None, Value: "none"}}
	find := func(c Case, key string) *Finding {
		for _, f := range Review(c) {
			if f.Key == key {
				return &f
			}
		}
		return nil
	}
	f := find(Case{Ask: a}, "level:wrap:two leaves")
	if f == nil || f.Weight != Asks || len(f.Mends) != len(trial.LevelKeys(trial.Wrap)) {
		t.Fatalf("leaves of their own are said to be %+v", f)
	}
	if kept := f.Mends[1].Ask.Arms[0].Levels[0]; kept.Key != "paper" || kept.Value != "two leaves" {
		t.Errorf("a tap on %q makes it %+v", f.Mends[1].Do, kept)
	}
	if f := find(Case{Ask: *f.Mends[1].Ask}, "level:wrap:two leaves"); f != nil {
		t.Errorf("mended, it is still said: %s", f.Text)
	}
	a.Factors[0].Role = ""
	if f := find(Case{Ask: a}, "level:wrap:two leaves"); f != nil {
		t.Errorf("a factor of their own needs no key: %s", f.Text)
	}
	a.Family = ""
	lamb, _ := thermal.FamilyOf("lambshoulder")
	if f := find(Case{Ask: a, Like: &lamb}, "family"); f == nil || len(f.Mends) != 1 || f.Mends[0].Ask.Family != "lambshoulder" {
		t.Errorf("what it cooks like is asked as %+v", f)
	}
}

func TestWhatWasFoundSaysWhetherItCanAnswer(t *testing.T) {
	open := sound()
	open.Arms[1].Levels = trial.Levels("")
	for want, c := range map[string]struct {
		ask   trial.Ask
		found []Weight
	}{
		"Say what is varied, and its level in each arm": {open, []Weight{Confound}},
		"It cannot answer its question yet":             {sound(), []Weight{Weakens, Confound}},
		"It can answer, and could do so better":         {sound(), []Weight{Lacks}},
		"It can answer its question":                    {sound(), []Weight{Asks}},
	} {
		var found []Finding
		for _, w := range c.found {
			found = append(found, Finding{Weight: w})
		}
		if got := CanAnswer(c.ask, found); got != want {
			t.Errorf("with %v found it says %q, want %q", c.found, got, want)
		}
	}
}
