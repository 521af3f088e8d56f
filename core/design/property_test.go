package design

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// anyAsk is a random ask that can be recorded: up to three factors of two or
// three levels, one to six arms, any hand.
func anyAsk(r *rand.Rand) trial.Ask {
	a := sound()
	a.Factors, a.Arms = nil, nil
	for f := range 1 + r.IntN(3) {
		kind := []trial.FactorKind{trial.Categorical, trial.Ordered, trial.Numeric}[r.IntN(3)]
		a.Factors = append(a.Factors, trial.Factor{Name: string(rune('p' + f)), Kind: kind, Unit: map[bool]string{true: "F"}[kind == trial.Numeric],
			SetOn: []trial.UnitKind{trial.UnitCut, trial.UnitCut, trial.UnitPitRun, trial.UnitHolderRun, trial.UnitBatch}[r.IntN(5)]})
	}
	control := r.IntN(8)
	for i := range 1 + r.IntN(6) {
		arm := trial.Arm{Tag: "ARM" + string(rune('A'+i)), Control: i == control}
		for f := range a.Factors {
			arm.Levels = append(arm.Levels, trial.Level{Value: fmt.Sprint(200 + 25*r.IntN(2+f%2))})
		}
		a.Arms = append(a.Arms, arm)
	}
	a.Hand = trial.Hand{Blocks: r.IntN(12), BlockSize: r.IntN(5), Pits: r.IntN(4), Positions: r.IntN(13), CookDays: r.IntN(5), Tasters: r.IntN(9), CutCents: 1000 * r.IntN(3)}
	if r.IntN(4) == 0 {
		a.Held = []trial.Held{}
	}
	return a
}

// TestEveryMendMends reviews random asks and applies every mend of every
// finding: the finding goes, and the mended ask can be recorded.
func TestEveryMendMends(t *testing.T) {
	r := rand.New(rand.NewPCG(17, 3))
	applied := map[string]int{}
	for range 1500 {
		a := anyAsk(r)
		if err := a.Check(); err != nil {
			t.Fatalf("a random ask is refused: %v", err)
		}
		for _, f := range Review(Case{Ask: a}) {
			if f.Text == "" || strings.Contains(f.Text, "%!") {
				t.Fatalf("%s says %q", f.Key, f.Text)
			}
			for _, m := range f.Mends {
				applied[strings.SplitN(f.Key, ":", 2)[0]]++
				if err := m.Ask.Check(); err != nil {
					t.Errorf("%v: %q gives an ask that is refused: %v", a.Arms, m.Do, err)
				}
				if g := find(Review(Case{Ask: *m.Ask}), f.Key); g != nil && g.Key == f.Key {
					t.Errorf("%v: after %q it is still said: %s", a.Arms, m.Do, g.Text)
				}
			}
		}
	}
	for _, key := range []string{"together", "follows", "too-few-arms", "partly", "not-varied", "alike", "single-arm", "no-control", "nothing-held", "one-unit"} {
		if applied[key] == 0 {
			t.Errorf("no random ask had %q to mend", key)
		}
	}
}

// TestFittingOffersAreSound lays random asks out in every way offered as fitting.
func TestFittingOffersAreSound(t *testing.T) {
	r := rand.New(rand.NewPCG(29, 3))
	fitting := map[trial.LayoutKey]int{}
	for range 1500 {
		a := anyAsk(r)
		before := fmt.Sprintf("%+v", a)
		last := true
		for _, o := range Offers(a) {
			if o.Fits && !last {
				t.Errorf("%s fits and comes after one that does not", o.Key)
			}
			last = o.Fits
			if o.Fits != (o.Lacks == "") || o.Cuts < 0 || o.Cooks < 0 || o.CostCents != o.Cuts*a.Hand.CutCents {
				t.Errorf("%s of %s: %+v", o.Key, before, o)
			}
			if !o.Fits {
				continue
			}
			fitting[o.Key]++
			if o.Ask.Layout != o.Key || len(o.Ask.Arms) != o.Arms || o.Arms > trial.MostArms {
				t.Errorf("%s lays out %d arms as %q", o.Key, len(o.Ask.Arms), o.Ask.Layout)
			}
			if err := o.Ask.Check(); err != nil {
				t.Errorf("%s gives an ask that is refused: %v", o.Key, err)
			}
			if o.Key == Crossed || o.Key == Half {
				for _, f := range Review(Case{Ask: o.Ask}) {
					if f.Weight == Confound && !strings.HasPrefix(f.Key, "one-unit") {
						t.Errorf("%s of %s still has %s", o.Key, before, f.Text)
					}
				}
			}
		}
		if after := fmt.Sprintf("%+v", a); after != before {
			t.Fatalf("offers changed the ask\n%s\n%s", before, after)
		}
	}
	for _, key := range []trial.LayoutKey{Halves, Pairs, Blocks, Incomplete, Crossed, Half, Crossover, Latin} {
		if fitting[key] == 0 {
			t.Errorf("%s never fitted", key)
		}
	}
}

// leastExchanges is the judge of LeastMoves for few cuts: the fewest cuts that
// have to change places, over every way to lay them.
func leastExchanges(pieces []Piece) int {
	best := math.MaxInt
	order := make([]int, len(pieces))
	used := make([]bool, len(pieces))
	var lay func(i, moved int)
	lay = func(i, moved int) {
		if moved >= best {
			return
		}
		if i == len(pieces) {
			now := slices.Clone(pieces)
			for k, at := range order {
				now[k].Position = pieces[at].Position
			}
			for _, f := range Review(Case{Ask: sound(), Pieces: now, Drawn: true}) {
				if strings.HasPrefix(f.Key, "covariate:") || strings.HasPrefix(f.Key, "trait:") {
					return
				}
			}
			best = moved
			return
		}
		for at := range pieces {
			if !used[at] {
				used[at], order[i] = true, at
				step := 1
				if at == i {
					step = 0
				}
				lay(i+1, moved+step)
				used[at] = false
			}
		}
	}
	lay(0, 0)
	return best
}

func TestLeastMovesAgainstEveryLaying(t *testing.T) {
	r := rand.New(rand.NewPCG(41, 3))
	for range 12 {
		p := hangers(3)
		spots := r.Perm(8)
		for i := range p {
			p[i].Position = PositionName(spots[i]%4, spots[i]/4)
		}
		want := leastExchanges(p)
		clear := true
		for _, f := range Review(Case{Ask: sound(), Pieces: p, Drawn: true}) {
			clear = clear && !strings.HasPrefix(f.Key, "covariate:") && !strings.HasPrefix(f.Key, "trait:")
		}
		got := len(LeastMoves(sound(), p))
		switch {
		case clear && got != 0:
			t.Errorf("%v is clear, and %d cuts are to move", spots[:6], got)
		case !clear && want == math.MaxInt && got != 0:
			t.Errorf("%v cannot be cleared, and %d cuts are to move", spots[:6], got)
		case !clear && want < math.MaxInt && (got == 0 || got > want+1):
			t.Errorf("%v: %d cuts are to move, %d would do", spots[:6], got, want)
		}
	}
}

// TestMoreOfAnythingPlansNoWorse checks the planning numbers' directions.
func TestMoreOfAnythingPlansNoWorse(t *testing.T) {
	r := rand.New(rand.NewPCG(53, 3))
	for range 60 {
		sd, d := 0.1+r.Float64(), 0.2+r.Float64()
		l := verdict.Layout{Arms: 2 + r.IntN(4)}
		l.BlockSize = r.IntN(l.Arms + 1)
		p := verdict.Planner{SD: sd, D: d, Layout: l}
		wider := verdict.Planner{SD: sd * 1.3, D: d, Layout: l}
		n := 6 + r.IntN(20)
		if l.BlockSize > 1 {
			n *= l.BlockSize
		}
		if a, b := p.Detects(n), wider.Detects(n); a == nil || b == nil || *a > *b+1e-3 || *a < d {
			t.Errorf("%+v finds %v, with more spread %v; want less, and no less than what matters", p, a, b)
		}
		if a, b := p.Clear(n, 2*d), p.Clear(n, 2.2*d); a > b+1e-9 {
			t.Errorf("%+v: a larger difference is clear less often, %v after %v", p, b, a)
		}
		if a, b := p.NeedOf(), wider.NeedOf(); a.Both() > 0 && b.Both() > 0 && a.Both() > b.Both() {
			t.Errorf("%+v needs %d units, with more spread %d", p, a.Both(), b.Both())
		}
	}
}

func TestPlannedUnitsCountWhatEachFactorIsSetOn(t *testing.T) {
	for _, c := range []struct {
		name     string
		change   func(*trial.Ask)
		cuts     int
		perLevel []int
		cooks    int
	}{
		{"six pairs", func(*trial.Ask) {}, 12, []int{6}, 1},
		{"halves of six cuts", func(a *trial.Ask) { a.Layout, a.Hand.BlockSize = Halves, 1 }, 6, []int{6}, 1},
		{"blocks of five for two arms", func(a *trial.Ask) { a.Hand.BlockSize = 5 }, 24, []int{12}, 2},
		{"set on pits", func(a *trial.Ask) { a.Factors[0].SetOn, a.Hand.Pits, a.Hand.CookDays = trial.UnitPitRun, 2, 3 }, 12, []int{3}, 1},
		{"set on a holder", func(a *trial.Ask) { a.Factors[0].SetOn = trial.UnitHolderRun }, 12, []int{2}, 1},
		{"no place known", func(a *trial.Ask) { a.Hand.Positions = 0 }, 12, []int{6}, 0},
		{"nothing at hand", func(a *trial.Ask) { a.Hand = trial.Hand{} }, 0, []int{0}, 0},
	} {
		a := sound()
		c.change(&a)
		if p := PlannedUnits(a); p.Cuts != c.cuts || !slices.Equal(p.PerLevel, c.perLevel) || p.Cooks != c.cooks {
			t.Errorf("%s: %+v, want %d cuts, %v a level, %d cooks", c.name, p, c.cuts, c.perLevel, c.cooks)
		}
	}
}
