package design

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/safety"
	"whitebarn/core/trial"
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

func TestPlacesThatBurnHotterAreSaid(t *testing.T) {
	pieces := hangers(4)
	for i := range pieces {
		off := []float64{4, -1}[pieces[i].Arm]
		pieces[i].OffC = &off
	}
	f := find(Review(Case{Ask: sound(), Pieces: pieces, Drawn: true}), "hot-places:"+sound().Arms[0].Tag+"+"+sound().Arms[1].Tag)
	if f == nil || f.Weight != Confound || !strings.Contains(f.Text, "{dC:5.0} hotter") {
		t.Errorf("arms 9 F apart by their places: %+v", f)
	}
	for i := range pieces {
		*pieces[i].OffC = []float64{1, -1}[pieces[i].Arm]
	}
	for _, g := range Review(Case{Ask: sound(), Pieces: pieces, Drawn: true}) {
		t.Errorf("places 3.6 F apart: %s", g.Text)
	}
}

func TestPlacesNearSetAreDealtFirst(t *testing.T) {
	run := Run{CookID: 1, Cook: "day 1", PitRunID: 1, Pit: "Brick Pit", Columns: 4, Rows: 3,
		Alike: []string{"B1", "B2", "C1", "C2", "C3", "D1"}}
	for seed := range uint64(20) {
		got, ok := DrawPositions(2, hangers(3), []Run{run}, DealingOf(sound()), rand.New(rand.NewPCG(seed, 1)))
		if !ok || len(got) != 6 {
			t.Fatalf("six cuts get %d places", len(got))
		}
		for _, p := range got {
			if !slices.Contains(run.Alike, p.Position) {
				t.Errorf("seed %d: with six places near set a cut lies at %s", seed, p.Position)
			}
		}
	}
}
