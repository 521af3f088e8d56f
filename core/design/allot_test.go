package design

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

// some are n random pieces; blocks of the given size, 1 for none.
func some(r *rand.Rand, n, blockSize int) []AllotPiece {
	out := make([]AllotPiece, n)
	for i := range out {
		kg, thick := 2.7+0.3*r.NormFloat64(), 0.075+0.006*r.NormFloat64()
		out[i] = AllotPiece{KG: &kg, ThicknessM: &thick, Traits: []string{fmt.Sprint(i % 2)}}
		if blockSize > 1 {
			out[i].Block = fmt.Sprint(i / blockSize)
		}
	}
	return out
}

// bruteForce looks at every way to write arms beside pieces: how many respect
// sizes and blocks, and how small the largest difference can be.
func bruteForce(p *problem) (ways int, least float64) {
	n, arms := len(p.block), len(p.sizes)
	least = math.Inf(1)
	arm := make([]int, n)
	for code := range int(math.Pow(float64(arms), float64(n))) {
		count := make([]int, arms)
		for i, c := 0, code; i < n; i++ {
			arm[i] = c % arms
			count[arm[i]]++
			c /= arms
		}
		ok := true
		for a := range count {
			ok = ok && count[a] == p.sizes[a]
		}
		in := map[[2]int]int{}
		for i, b := range p.block {
			if b >= 0 {
				in[[2]int{b, arm[i]}]++
			}
		}
		for b := range p.blockSizes() {
			low, high := n, 0
			for a := range arms {
				low, high = min(low, in[[2]int{b, a}]), max(high, in[[2]int{b, a}])
			}
			ok = ok && high-low <= 1
		}
		if ok && (!p.meet || p.meetSpread(arm) <= 1) {
			ways++
			least = math.Min(least, p.maxSMD(arm))
		}
	}
	return ways, least
}

func TestEveryAllotmentIsLookedAt(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 1))
	for _, c := range []struct{ pieces, arms, block int }{{6, 2, 1}, {7, 2, 1}, {8, 2, 2}, {9, 3, 3}, {7, 3, 1}, {8, 4, 2}, {6, 3, 2}, {8, 2, 4}, {5, 5, 1}} {
		p, _ := allotProblem(some(r, c.pieces, c.block), c.arms)
		looked, least := 0, math.Inf(1)
		p.allotments(func(arm []int) {
			looked++
			least = math.Min(least, p.maxSMD(arm))
		})
		ways, want := bruteForce(p)
		if looked*p.namings() != ways || math.Abs(least-want) > 1e-12 {
			t.Errorf("%+v: %d allotments of %d ways of naming, best %.4f; want %d in all, best %.4f", c, looked, p.namings(), least, ways, want)
		}
	}
}

// TestSearchComesCloseToTheBest compares the search for many pieces with all
// allotments, on cases still small enough for those.
func TestSearchComesCloseToTheBest(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 2))
	for _, c := range []struct{ pieces, arms, block int }{{14, 2, 1}, {16, 2, 1}, {24, 2, 2}, {13, 3, 1}, {15, 3, 3}, {12, 4, 2}, {12, 6, 1}, {12, 3, 2}} {
		for range 3 {
			p, _ := allotProblem(some(r, c.pieces, c.block), c.arms)
			best := math.Inf(1)
			p.allotments(func(arm []int) { best = math.Min(best, p.maxSMD(arm)) })
			if got := p.maxSMD(p.search(r)[0]); got-best > 0.02 {
				t.Errorf("%+v: the search finds %.4f, the best is %.4f", c, got, best)
			}
		}
	}
}

func TestDrawsRespectBlocksAndBound(t *testing.T) {
	r := rand.New(rand.NewPCG(25, 3))
	for _, c := range []struct{ pieces, arms, block int }{{12, 2, 2}, {16, 2, 2}, {12, 3, 2}, {30, 6, 2}, {36, 3, 3}, {24, 4, 1}, {40, 4, 2}, {13, 2, 1}, {3, 2, 1}} {
		for range 5 {
			pieces := some(r, c.pieces, c.block)
			d := Allot(pieces, c.arms, r)
			p, _ := allotProblem(pieces, c.arms)
			if d.Qualified >= p.fewest() && !p.qualifies(d.Arms) {
				t.Errorf("%+v: drawn at %.3f although %d qualify", c, d.MaxSMD, d.Qualified)
			}
			if d.Qualified >= p.fewest() && c.pieces >= 8 && d.MaxSMD > 0.25 {
				t.Errorf("%+v: drawn at %.3f standard deviations, want a quarter at most", c, d.MaxSMD)
			}
			if d.From*p.namings() < FewestToDraw && d.Looked*p.namings() >= FewestToDraw {
				t.Errorf("%+v: drawn from %d allotments, mirror images included", c, d.From*p.namings())
			}
			if math.Abs(d.MaxSMD-p.maxSMD(d.Arms)) > 1e-12 || d.BestSMD > d.MaxSMD+1e-12 {
				t.Errorf("%+v: it says %.4f (best %.4f), it is %.4f", c, d.MaxSMD, d.BestSMD, p.maxSMD(d.Arms))
			}
			counts, inBlock := make([]int, c.arms), map[string]bool{}
			for i, a := range d.Arms {
				counts[a]++
				key := fmt.Sprint(pieces[i].Block, "/", a)
				if pieces[i].Block != "" && inBlock[key] {
					t.Errorf("%+v: block %s is twice in arm %d", c, pieces[i].Block, a)
				}
				inBlock[key] = true
			}
			for _, n := range counts {
				if n < c.pieces/c.arms || n > c.pieces/c.arms+1 {
					t.Errorf("%+v: arms of %v pieces", c, counts)
				}
			}
			if p.meet && p.meetSpread(d.Arms) > 1 {
				t.Errorf("%+v: arms meet %v times", c, p.meets(d.Arms))
			}
		}
	}
}

// TestDrawsAreUniform draws often among the allotments of six alike pairs: with
// no difference in weight all 2^6 namings are as likely.
func TestDrawsAreUniform(t *testing.T) {
	kg := 2.7
	pieces := make([]AllotPiece, 12)
	for i := range pieces {
		pieces[i] = AllotPiece{Block: fmt.Sprint(i / 2), KG: &kg}
	}
	r := rand.New(rand.NewPCG(64, 4))
	seen := map[string]int{}
	const draws = 6400
	for range draws {
		seen[fmt.Sprint(Allot(pieces, 2, r).Arms)]++
	}
	chi2 := 0.0
	for _, n := range seen {
		chi2 += (float64(n) - draws/64) * (float64(n) - draws/64) / (draws / 64)
	}
	// Of chi-squared with 63 degrees of freedom 1 in 1000 is over 103.4.
	if len(seen) != 64 || chi2 > 103.4 {
		t.Errorf("%d of 64 allotments came, chi-squared %.1f, want all and under 103.4", len(seen), chi2)
	}
}

func TestDrawsKeepTraitsFromFollowingTheArms(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 20 {
		pieces := some(r, 8, 1)
		for i := range pieces {
			pieces[i].Traits = []string{[]string{"hill", "meadow"}[i/4]}
		}
		d := Allot(pieces, 2, r)
		hill := [2]int{}
		for i, a := range d.Arms {
			if i < 4 {
				hill[a]++
			}
		}
		if d.Qualified >= 20 && (hill[0] == 0 || hill[1] == 0) {
			t.Errorf("all of one lot went to one arm: %v", d.Arms)
		}
	}
}

func TestPartsThatStayTogetherGoToOneArm(t *testing.T) {
	var pieces []Piece
	for i := range 6 {
		for _, part := range []string{" point", " flat"} {
			kg := 1 + 0.1*float64(i)
			pieces = append(pieces, Piece{ID: int64(len(pieces) + 1), Name: fmt.Sprint(i, part), Root: fmt.Sprint(i), Together: true, Kg: &kg})
		}
	}
	for seed := range int64(5) {
		d := DrawArms(pieces, 2, seed)
		for i := 0; i < len(d.Arms); i += 2 {
			if d.Arms[i] != d.Arms[i+1] {
				t.Errorf("seed %d parts a whole: %v", seed, d.Arms)
			}
		}
		if again := DrawArms(pieces, 2, seed); fmt.Sprint(again) != fmt.Sprint(d) {
			t.Errorf("seed %d gives %v, then %v", seed, d, again)
		}
	}
}

func TestPairUpFindsTheClosest(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	kg := make([]*float64, 10)
	var pieces []MatchPiece
	for i := range kg {
		v := 1000 + 100*r.Float64()
		kg[i] = &v
		pieces = append(pieces, MatchPiece{ID: fmt.Sprint(i), WeightG: &v})
	}
	best, err := Match(MatchInput{Pieces: pieces, ArmSizes: []int{5, 5}, SetSize: 2})
	if err != nil {
		t.Fatal(err)
	}
	sum := func(set []int) float64 {
		total := 0.0
		for i := range set {
			for j := range i {
				if set[i] == set[j] && set[i] >= 0 {
					total += math.Abs(*kg[i] - *kg[j])
				}
			}
		}
		return total
	}
	if got := sum(PairUp([][]*float64{kg}, 10, 2)); math.Abs(got-best.MatchedSets.Least) > 1e-9 {
		t.Errorf("pairs %.2f g apart in all, want %.2f", got, best.MatchedSets.Least)
	}
	many := make([]*float64, 21)
	for i := range many {
		v := float64((i * 8) % 21)
		many[i] = &v
	}
	counts := map[int]int{}
	for _, s := range PairUp([][]*float64{many}, 21, 2) {
		counts[s]++
	}
	if len(counts) != 11 || counts[-1] != 1 {
		t.Errorf("21 pieces in pairs give the sets %v, want ten and one left out", counts)
	}
	for _, bad := range []MatchInput{{}, {Pieces: pieces, ArmSizes: []int{5}, SetSize: 2}, {Pieces: pieces, ArmSizes: []int{4, 6}, SetSize: 2}, {Pieces: pieces, ArmSizes: []int{5, 5}, SetSize: 1}} {
		if _, err := Match(bad); err == nil {
			t.Errorf("%+v is matched", bad)
		}
	}
}

func BenchmarkAllot(b *testing.B) {
	for _, c := range []struct{ pieces, arms, block int }{{12, 6, 1}, {12, 6, 2}, {12, 3, 2}, {12, 4, 1}, {16, 2, 2}, {24, 4, 2}, {48, 6, 1}, {60, 6, 2}} {
		b.Run(fmt.Sprintf("%d to %d arms in blocks of %d", c.pieces, c.arms, c.block), func(b *testing.B) {
			r := rand.New(rand.NewPCG(1, 1))
			pieces := some(r, c.pieces, c.block)
			b.ReportAllocs()
			for b.Loop() {
				Allot(pieces, c.arms, r)
			}
		})
	}
}
