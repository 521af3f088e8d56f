package settle

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/design"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

// pairsTrial has n left/right pairs; the first arm is juicier by gain on every
// taster's ballot and keeps 60 % of its weight against 52.
func pairsTrial(n int, gain float64) Trial {
	t := Trial{Drawn: true, Ask: trial.Ask{Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms: []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}}, Held: []trial.Held{{Name: "pit"}},
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.CookTime, SmallestDifference: 0.75}, {Key: trial.Smoke}}},
		Scores: map[trial.OutcomeKey][]panel.Score{}}
	for i := range n {
		for arm, side := range []string{"L", "R"} {
			name := fmt.Sprintf("%d%s", i+1, side)
			kg, hours := 2.5+0.1*float64(i), 8+0.1*float64(i%3)+0.02*float64(arm*i)
			kept := []float64{0.60, 0.52}[arm] + 0.005*float64((i*7+arm)%3)
			t.Cuts = append(t.Cuts, Cut{Piece: design.Piece{Name: name, Root: name, Arm: arm, Block: fmt.Sprint(i + 1), Cook: "1", Pit: "Brick Pit", Kg: &kg}, MayCount: true, CookHours: &hours,
				Account: yield.Account{CookedYieldRested: &yield.Measure{Value: kept}}})
			for j, taster := range []string{"Ife", "Joren", "Marisol"} {
				score := 6 + 0.3*float64((i*5+j*3+arm)%4)
				if arm == 0 {
					score += gain
				}
				t.Scores[trial.Juiciness] = append(t.Scores[trial.Juiciness], panel.Score{Taster: taster, Cut: name, Flight: "1", Arm: arm, Value: score})
			}
		}
	}
	return t
}

func TestOfReadsEveryOutcome(t *testing.T) {
	got := Of(pairsTrial(6, 1.5))
	for i, want := range []verdict.Word{verdict.Clear, verdict.Clear, verdict.Same} {
		if p := got.Rows[i].Pairs[0].Cooks; p.Word != want {
			t.Errorf("%s is %q (%v %v), want %q", got.Rows[i].Outcome.Name, p.Word, *p.Estimate, p.CI90, want)
		}
	}
	if len(got.Rows[3].Pairs) != 0 || got.Rows[0].Pairs[0].Pieces == nil || got.Rows[0].Pairs[0].Pieces.Word != verdict.Clear || got.Rows[1].Pairs[0].Pieces != nil {
		t.Errorf("the panel's own level is %+v, want it beside tasted outcomes alone", got.Rows[0].Pairs[0].Pieces)
	}
	if want := "PAPER is the clear winner on juiciness and cooked yield in this cook. The same for our purposes on cook time in this cook."; got.Headline != want {
		t.Errorf("the headline is %q, want %q", got.Headline, want)
	}
	if want := "It does not cover other pits than Brick Pit, days other than this one cook and pieces outside {kg:2.5000} to {kg:3.0000}."; got.NotCovered != want {
		t.Errorf("not covered: %q, want %q", got.NotCovered, want)
	}
	if want := "12 cuts, 6 pairs, 1 cook, 3 tasters, 36 sealed samples."; got.RestsOn != want {
		t.Errorf("it rests on %q, want %q", got.RestsOn, want)
	}
}

// TestTwoCooksLeanForTheNextOneAtMost: what is clear in both is said beside it.
func TestTwoCooksLeanForTheNextOneAtMost(t *testing.T) {
	in := pairsTrial(8, 1.5)
	for i := range in.Cuts {
		in.Cuts[i].Cook = fmt.Sprint("day ", 1+i/8) // that agree to the point
	}
	got := Of(in)
	p := got.Rows[0].Pairs[0]
	if p.Cooks.Word != verdict.Clear || p.Next.Word != verdict.Leaning || p.Within != "" {
		t.Errorf("two cooks read %q here and %q for the next, within %q", p.Cooks.Word, p.Next.Word, p.Within)
	}
	if want := "Juiciness leans to PAPER (clear in these two cooks)."; !strings.Contains(got.Headline, want) {
		t.Errorf("the headline is %q, want %q in it", got.Headline, want)
	}
}

func TestOnePieceAnArmShowsThesePiecesOnly(t *testing.T) {
	one := pairsTrial(1, 3)
	r := Of(one).Rows[0].Pairs[0]
	if r.Pieces.Word != verdict.Clear || r.Cooks.Word != verdict.Leaning || !strings.HasPrefix(r.Cooks.Why, "these pieces only") {
		t.Errorf("pieces %q, process %q (%s); want clear, and leaning on these pieces only", r.Pieces.Word, r.Cooks.Word, r.Cooks.Why)
	}
	if y := Of(one).Rows[1].Pairs[0].Cooks; y.Word != verdict.CannotTell || y.Need == "" {
		t.Errorf("one weighed piece an arm is %q, need %q; want cannot tell and how many more", y.Word, y.Need)
	}
	house := houseOf(pairsTrial(6, 1).Pools(), trial.UnitCut, true)
	one.House = map[trial.UnitKind]House{trial.UnitCut: house}
	if s := house[trial.CookedYield]; s.DF != 5 || s.SD <= 0 {
		t.Fatalf("the house spread is %+v, want 5 degrees of freedom", s)
	}
	if y := Of(one).Rows[1].Pairs[0].Cooks; !y.Borrowed || y.Word != verdict.Leaning {
		t.Errorf("with a borrowed spread yield is %q (borrowed %v), want leaning", y.Word, y.Borrowed)
	}
}

func TestCutsThatFailedTheGateAreLeftOut(t *testing.T) {
	tr := pairsTrial(3, 1.5)
	for i := range tr.Cuts {
		if tr.Cuts[i].Arm == 1 {
			tr.Cuts[i].MayCount = false
		}
	}
	got := Of(tr)
	if r := got.Rows[0].Pairs[0].Cooks; r.Word != "" || r.Why == "" || r.Estimate != nil {
		t.Errorf("an arm with no cut left has the verdict %q", r.Word)
	}
	if !strings.Contains(fmt.Sprint(got.Limits), "1R, 2R, 3R") {
		t.Errorf("limits do not name the cuts left out: %v", got.Limits)
	}
}

// What was cooked to its end and kept from the table is weighed and timed all the same.
func TestWhatWasNotEatenIsWeighedAllTheSame(t *testing.T) {
	tr := pairsTrial(6, 1.5)
	want := Of(tr)
	tr.Cuts[1].MayCount, tr.Cuts[1].Cooked, tr.Cuts[1].Shut = false, true, "Under {C:60} for 4:10."
	got := Of(tr)
	for i, r := range got.Rows {
		if len(r.Pairs) != len(want.Rows[i].Pairs) {
			t.Fatalf("row %d has %d pairs, and %d while all were eaten", i, len(r.Pairs), len(want.Rows[i].Pairs))
		}
		if len(r.Pairs) == 0 {
			continue
		}
		was := want.Rows[i].Pairs[0].Cooks.Units
		if now := r.Pairs[0].Cooks.Units; slices.Equal(now, was) != (i > 0) {
			t.Errorf("row %d rests on %v units, and on %v while all were eaten", i, now, was)
		}
	}
	sentence := "Kept from the table, and its weights and times count: " + tr.Cuts[1].Name + ". Under {C:60} for 4:10."
	if said := fmt.Sprint(got.Limits); !strings.Contains(said, sentence) {
		t.Errorf("the limits do not say it: %v", said)
	}
}

func TestLevelSetOnThePitHasOneUnitAPit(t *testing.T) {
	tr := pairsTrial(6, 1.5)
	tr.Ask.Factors[0].SetOn = trial.UnitPitRun
	for i := range tr.Cuts {
		tr.Cuts[i].Units = map[trial.UnitKind]string{trial.UnitPitRun: fmt.Sprint("pit run ", tr.Cuts[i].Arm)}
	}
	r := Of(tr).Rows[1].Pairs[0].Cooks
	if r.Units[0] != 1 || r.Units[1] != 1 || r.Word != verdict.CannotTell {
		t.Errorf("six cuts in one pit are %v units and the word %q, want one and cannot tell", r.Units, r.Word)
	}
}

func TestQuickerIsBetter(t *testing.T) {
	tr := pairsTrial(6, 0)
	for i := range tr.Cuts {
		if h := *tr.Cuts[i].CookHours + 2; tr.Cuts[i].Arm == 1 {
			tr.Cuts[i].CookHours = &h
		}
	}
	if p := Of(tr).Rows[2].Pairs[0].Cooks; p.Word != verdict.Clear || *p.Winner != 0 || *p.Estimate > 0 {
		t.Errorf("the quicker arm: %q, winner %v, estimate %v; want the first arm clear on less time", p.Word, p.Winner, p.Estimate)
	}
}

func TestLimitsNameWhatMovesWithTheArms(t *testing.T) {
	tr := pairsTrial(2, 1)
	for i := range tr.Cuts {
		c := &tr.Cuts[i]
		pit, heat, kg := "Brick Pit", 121.0, 2.5
		if c.Arm == 1 {
			pit, heat, kg = "North Drum", 126, 3
		}
		c.Pit, c.Facts, c.Kg = pit, map[Fact]float64{PitHeat: heat}, &kg
	}
	tr.Ask.Arms[1].Control = false
	got := Of(tr)
	var text []string
	for _, l := range got.Limits {
		text = append(text, l.Text)
	}
	for _, want := range []string{"BARE is heavier than PAPER by {kg:0.5000}", "BARE's pit ran hotter by {dC:5.00}", "PAPER stands at Brick Pit, BARE stands at North Drum", "today's practice", "3 tasters"} {
		if !strings.Contains(strings.Join(text, "\n"), want) {
			t.Errorf("limits lack %q: %q", want, text)
		}
	}
	if !strings.Contains(got.NotCovered, "moved together") {
		t.Errorf("the sentence hides the confound: %q", got.NotCovered)
	}
}

func TestCutsWithoutPairsShareTheirCook(t *testing.T) {
	tr := pairsTrial(6, 1.5)
	for i := range tr.Cuts {
		tr.Cuts[i].Block = ""
	}
	got := Of(tr)
	if r := got.Rows[1].Pairs[0].Cooks; r.Word != verdict.Clear || r.Units[0] != 6 {
		t.Errorf("twelve cuts side by side in one cook: %q on %v units, want clear on six an arm", r.Word, r.Units)
	}
	if text := fmt.Sprint(got.Limits); !strings.Contains(text, "12 of 12 cuts stand without a pair") {
		t.Errorf("limits do not say that animals count as spread: %s", text)
	}
	for i := range tr.Cuts { // each arm had a cook of its own: nothing connects them
		tr.Cuts[i].Cook = fmt.Sprint(tr.Cuts[i].Arm)
	}
	if r := Of(tr).Rows[1].Pairs[0].Cooks; r.Word != verdict.CannotTell || !strings.Contains(r.Why, "no block holds both arms") {
		t.Errorf("arms cooked on different days are %q (%s)", r.Word, r.Why)
	}
}

func TestExactOutcomesStopAtLeaningBelowSixPairs(t *testing.T) {
	for _, c := range []struct {
		pairs int
		want  verdict.Word
	}{{4, verdict.Leaning}, {5, verdict.Leaning}, {6, verdict.Clear}, {8, verdict.Clear}} {
		tr := pairsTrial(c.pairs, 1.5)
		tr.Ask.Outcomes[1].Exact = true
		r := Of(tr).Rows[1].Pairs[0].Cooks
		if r.Word != c.want || !r.Exact {
			t.Errorf("%d pairs by sign flips are %q, want %q", c.pairs, r.Word, c.want)
		}
	}
}

func TestWhatWasNeverWeighedDropsOutOfItsOutcomeAlone(t *testing.T) {
	tr := pairsTrial(4, 1.5)
	tr.Cuts[0].Account, tr.Cuts[3].CookHours = yield.Account{}, nil
	got := Of(tr)
	if u := got.Rows[1].Pairs[0].Cooks.Units; u[0] != 3 || u[1] != 4 {
		t.Errorf("yield counts %v units, want three and four", u)
	}
	if u := got.Rows[2].Pairs[0].Cooks.Units; u[0] != 4 || u[1] != 3 {
		t.Errorf("cook time counts %v units, want four and three", u)
	}
	if u := got.Rows[0].Pairs[0].Cooks.Units; u[0] != 4 || u[1] != 4 {
		t.Errorf("juiciness counts %v units, want all", u)
	}
}

func TestYieldIsTakenAtOneStageForTheWholeTrial(t *testing.T) {
	tr := pairsTrial(3, 0)
	for i := range tr.Cuts {
		off := yield.Measure{Value: 0.7}
		tr.Cuts[i].Account.CookedYield = &off
	}
	if m := Of(tr).Rows[1].Means; *m[0] > 62 {
		t.Errorf("with weights after the rest the mean yield is %v, want theirs and not 70", *m[0])
	}
	for i := range tr.Cuts {
		tr.Cuts[i].Account.CookedYieldRested = nil
	}
	if m := Of(tr).Rows[1].Means; *m[0] < 69.9 {
		t.Errorf("with weights off the pit alone the mean yield is %v, want 70", *m[0])
	}
}

func TestNeedSaysHowManyMore(t *testing.T) {
	tr := pairsTrial(3, 0.2)
	for _, r := range Of(tr).Rows {
		for _, p := range r.Pairs {
			if open := p.Cooks.Word == verdict.CannotTell; open != (p.Cooks.Need != "") {
				t.Errorf("%s is %q and its need is %q", r.Outcome.Name, p.Cooks.Word, p.Cooks.Need)
			}
		}
	}
	tr = pairsTrial(1, 0.2)
	tr.Ask.Factors[0].SetOn = trial.UnitPitRun
	if n := Of(tr).Rows[2].Pairs[0].Cooks.Need; !strings.Contains(n, "pit runs an arm") || !strings.Contains(n, "usual spread") {
		t.Errorf("one pit run an arm needs %q, want pit runs at the barn's usual spread", n)
	}
}

func TestAnEmptyTrialSaysSo(t *testing.T) {
	got := Of(Trial{Ask: trial.Ask{Arms: []trial.Arm{{Tag: "PAPER"}, {Tag: "BARE"}}, Outcomes: []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}, {Key: "sparkle"}}}})
	if got.NotCovered != "Nothing is recorded yet, so it covers nothing." || len(got.Rows) != 1 || got.Rows[0].Pairs[0].Cooks.Word != "" {
		t.Errorf("an empty trial reads %q with %d rows", got.NotCovered, len(got.Rows))
	}
	if !strings.HasPrefix(got.Headline, "Cannot tell on overall liking") {
		t.Errorf("its headline is %q", got.Headline)
	}
}

// threeArms has three arms in six blocks; the second arm is a little juicier,
// the third much.
func threeArms() Trial {
	t := pairsTrial(6, 0)
	t.Ask.Arms = append(t.Ask.Arms, trial.Arm{Tag: "PAN", Levels: trial.Levels("covered pan")})
	for i := range 6 {
		name := fmt.Sprintf("%dM", i+1)
		kg, hours := 2.5+0.1*float64(i), 6+0.1*float64(i%3)
		t.Cuts = append(t.Cuts, Cut{Piece: design.Piece{Name: name, Root: name, Arm: 2, Block: fmt.Sprint(i + 1), Cook: "1", Pit: "Brick Pit", Kg: &kg}, MayCount: true, CookHours: &hours,
			Account: yield.Account{CookedYieldRested: &yield.Measure{Value: 0.66 + 0.005*float64(i%3)}}})
		for j, taster := range []string{"Ife", "Joren", "Marisol"} {
			t.Scores[trial.Juiciness] = append(t.Scores[trial.Juiciness], panel.Score{Taster: taster, Cut: name, Flight: "1", Arm: 2, Value: 8 + 0.3*float64((i*5+j*3)%4)})
		}
	}
	return t
}

func TestThreeArmsAreJudgedPairByPair(t *testing.T) {
	got := Of(threeArms())
	yields := got.Rows[1]
	if len(yields.Pairs) != 3 || yields.Pairs[1].A != 0 || yields.Pairs[1].B != 2 || *yields.Pairs[1].Cooks.Winner != 2 {
		t.Fatalf("yield is judged as %+v, want PAN over PAPER in the second pair", yields.Pairs)
	}
	if *yields.Means[2] < *yields.Means[0] {
		t.Errorf("the means are %v, want PAN highest", yields.Means)
	}
	for _, want := range []string{"PAN is the clear winner on juiciness, cooked yield and cook time in this cook."} {
		if !strings.Contains(got.Headline, want) {
			t.Errorf("the headline is %q, want %q in it", got.Headline, want)
		}
	}
	// Where nobody beats all others, pairs are named.
	part := threeArms()
	for i := range part.Cuts {
		if c := &part.Cuts[i]; c.Arm == 2 {
			c.Account = yield.Account{CookedYieldRested: &yield.Measure{Value: 0.60 + 0.005*float64(i%3)}}
		}
	}
	if h := Of(part).Headline; !strings.Contains(h, "PAPER clearly beats BARE on cooked yield in this cook.") ||
		!strings.Contains(h, "PAN clearly beats BARE on cooked yield in this cook.") {
		t.Errorf("with two arms level the headline is %q", h)
	}
	if want := "18 cuts, 6 blocks"; !strings.HasPrefix(got.RestsOn, want) {
		t.Errorf("it rests on %q, want %q", got.RestsOn, want)
	}
	lone := pairsTrial(2, 0)
	lone.Ask.Arms, lone.Cuts = lone.Ask.Arms[:1], lone.Cuts[:1]
	if h := Of(lone).Headline; !strings.HasPrefix(h, "One arm alone") {
		t.Errorf("one arm alone reads %q", h)
	}
}

func TestPartsOfOneCutAddUpAgain(t *testing.T) {
	tr := pairsTrial(4, 0)
	w := func(stage yield.Stage, kg float64) yield.Weighing { return yield.Weighing{Stage: stage, Kg: kg} }
	// Cut 1L was divided into point and flat, both in PAPER: one unit, its weights added.
	part := tr.Cuts[0]
	part.Root, part.Account, part.Whole = "1L", yield.Account{}, []yield.Weighing{w(yield.Bought, 3)}
	point, flat := part, part
	point.Name, point.Weighings = "1L point", []yield.Weighing{w(yield.Trimmed, 1), w(yield.Rested, 0.5)}
	flat.Name, flat.Weighings = "1L flat", []yield.Weighing{w(yield.Trimmed, 2), w(yield.Rested, 1.3)}
	tr.Cuts = append([]Cut{point, flat}, tr.Cuts[1:]...)
	r := Of(tr).Rows[1]
	if u := r.Pairs[0].Cooks.Units; u[0] != 4 {
		t.Errorf("%d units in PAPER, want four: parts in one arm are one", u[0])
	}
	if a := tr.account(point); math.Abs(a.CookedYieldRested.Value-0.6) > 1e-12 {
		t.Errorf("the parts' yield is %v, want 1.8 of 3", a.CookedYieldRested.Value)
	}
}

func TestKeptFlawsAreCarriedToTheVerdict(t *testing.T) {
	tr := pairsTrial(3, 1)
	tr.Drawn, tr.Accepted = false, map[string]string{"not-drawn": "the butcher had sorted them"}
	text := fmt.Sprint(Of(tr).Limits)
	if !strings.Contains(text, "not drawn by lot") || !strings.Contains(text, "Known before the fire: the butcher had sorted them.") {
		t.Errorf("the limits are %s", text)
	}
	if Of(pairsTrial(3, 1)).Limits[0].Confound {
		t.Error("a sound trial has a confound")
	}
}

// TestEveryOutcomeHasAReader finds an outcome that would silently have no value.
func TestEveryOutcomeHasAReader(t *testing.T) {
	for _, d := range trial.Catalogue {
		switch d.Kind {
		case trial.FromPanel, trial.FromHand: // scored, or typed
		default:
			if readers[d.Key] == nil {
				t.Errorf("nothing reads %s, which comes from %s", d.Key, d.Kind)
			}
		}
	}
	for key := range readers {
		if _, ok := trial.DefaultOf(key); !ok {
			t.Errorf("%s is read and is no outcome", key)
		}
	}
}

// TestOneTasterAloneIsToldApartOnlyByAClearParting works 4 against 4 out by hand, and has a
// guesser taste a thousand times.
func TestOneTasterAloneIsToldApartOnlyByAClearParting(t *testing.T) {
	plate := func(values [8]float64) []panel.Score {
		var out []panel.Score
		for i, v := range values {
			out = append(out, panel.Score{Taster: "Odalys", Cut: fmt.Sprint(i % 2), Flight: "1", Arm: i % 2, Value: v, Position: i + 1})
		}
		return out
	}
	clear := ownRepeats(plate([8]float64{7, 4, 8, 5, 7, 3, 6, 4}), 0, 1)
	if p := clear.Evidence.P; p == nil || math.Abs(*p-2.0/70) > 1e-12 || clear.Evidence.Estimate != 3 {
		t.Errorf("every one of four over every other is %+v; want 3 points at p 2/70", clear.Evidence)
	}
	if few := ownRepeats(plate([8]float64{7, 4, 8, 5, 7, 3, 6, 4})[:6], 0, 1); few.Evidence != nil ||
		few.Why != "one taster alone: it takes 4 samples of each arm" {
		t.Errorf("three of each say %+v, %q; want nothing, and why", few.Evidence, few.Why)
	}
	r := rand.New(rand.NewPCG(4, 4))
	told := 0
	for range 1000 {
		var values [8]float64
		for i := range values {
			values[i] = float64(1 + r.IntN(9))
		}
		if e := ownRepeats(plate(values), 0, 1).Evidence; e != nil && e.P != nil && *e.P <= 0.05 {
			told++
		}
	}
	if told > 60 {
		t.Errorf("a guesser alone is told apart in %d of 1000, want 60 at most", told)
	}
}
