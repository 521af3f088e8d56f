package design

import (
	"math"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

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
