package settle

import (
	"math"
	"strings"
	"testing"

	"whitebarn/core/trial"
)

// evening weighs the outcomes of pairsTrial.
func evening(juicy, cooked, hours float64) trial.Context {
	return trial.Context{Name: "evening", Weights: map[trial.OutcomeKey]float64{trial.Juiciness: juicy, trial.CookedYield: cooked, trial.CookTime: hours}}
}

func TestAContextWeighsTheArms(t *testing.T) {
	in := pairsTrial(6, 1.5)
	s := Weigh(in.Ask, Of(in), evening(5, 3, 2))
	if len(s.Winners) != 1 || s.Winners[0] != 0 || s.Close || s.Answer != "PAPER, in this cook." {
		t.Errorf("the answer is %q of %v (close %v)", s.Answer, s.Winners, s.Close)
	}
	if want := "Better than BARE on juiciness; 8.0 points more cooked yield."; s.Because != want {
		t.Errorf("because %q, want %q", s.Because, want)
	}
	if got := s.Weighs[0].Share; math.Abs(got-0.5) > 1e-12 {
		t.Errorf("5 of 10 weighs %v", got)
	}
	if !strings.HasPrefix(s.Next, "The next cook: cannot be told yet on juiciness; going on") {
		t.Errorf("of the next cook it says %q", s.Next)
	}
}

// TestAWeightTurnsTheAnswer: the arm that is faster wins once time weighs enough, at the
// weight that was said.
func TestAWeightTurnsTheAnswer(t *testing.T) {
	in := pairsTrial(6, 1.5)
	for i := range in.Cuts {
		if in.Cuts[i].Arm == 0 {
			*in.Cuts[i].CookHours += 4
		}
	}
	r := Of(in)
	before := Weigh(in.Ask, r, evening(5, 3, 2))
	hours := before.Weighs[2]
	if before.Winners[0] != 0 || hours.TurnsAt == nil || hours.TurnsTo[0] != 1 {
		t.Fatalf("with little weight on time %v wins, and it turns at %v", before.Winners, hours.TurnsAt)
	}
	// The others keep their proportions of 5 to 3.
	at := func(share float64) Standing { return Weigh(in.Ask, r, evening(5*(1-share)/8, 3*(1-share)/8, share)) }
	if under, over := at(*hours.TurnsAt-0.01), at(*hours.TurnsAt+0.01); under.Winners[0] != 0 || over.Winners[0] != 1 {
		t.Errorf("about %v the winners are %v and %v, want it to turn there", *hours.TurnsAt, under.Winners, over.Winners)
	}
	if after := at(0.9); !strings.HasPrefix(after.Answer, "BARE") || after.Answer == before.Answer {
		t.Errorf("with time at 90 in 100 the answer is %q", after.Answer)
	}
	if len(before.Front) != 2 {
		t.Errorf("of two arms, each better in something, %v are on the front", before.Front)
	}
}

func TestACloseCallIsSaid(t *testing.T) {
	in := pairsTrial(6, 0)
	s := Weigh(in.Ask, Of(in), evening(1, 0, 0))
	if !s.Close || !strings.Contains(s.Answer, "close call") {
		t.Errorf("no difference is said as %q", s.Answer)
	}
}

func TestNothingIsWeighedWithoutAValue(t *testing.T) {
	in := pairsTrial(6, 1)
	for i := range in.Cuts {
		in.Cuts[i].CookHours = nil
	}
	s := Weigh(in.Ask, Of(in), evening(0, 0, 4))
	if len(s.Winners) != 0 || len(s.Left) != 1 || s.Left[0] != "cook time" {
		t.Errorf("weighed without a value: %+v", s)
	}
}

func TestCrossedFactorsHaveEffects(t *testing.T) {
	r := Of(crossedTrial())
	e := r.Rows[0].Effects
	if len(e) != 3 || len(e[0].Factors) != 1 || len(e[2].Factors) != 2 {
		t.Fatalf("the effects are %+v", e)
	}
	// wrap adds 1, heat adds 0.5, both together nothing.
	for i, want := range []float64{1, 0.5, 0} {
		if math.Abs(e[i].Estimate-want) > 0.15 {
			t.Errorf("%v does %v, want %v", e[i].Factors, e[i].Estimate, want)
		}
	}
	if e[0].First != "paper" || e[0].Second != "none" {
		t.Errorf("the first effect is of %q less %q", e[0].First, e[0].Second)
	}
	if r.Rows[0].Bar == nil || len(r.Rows[0].Ranks) != 4 || r.Rows[0].Ranks[0] != 1 {
		t.Errorf("the bar is %v and the ranks %v", r.Rows[0].Bar, r.Rows[0].Ranks)
	}
}

// crossedTrial has wrap and spritz crossed over six lambs cut in four.
func crossedTrial() Trial {
	t := pairsTrial(6, 0)
	t.Ask.Factors = append(t.Ask.Factors, trial.Factor{Name: "spritz", Kind: trial.Categorical, SetOn: trial.UnitCut})
	t.Ask.Arms = []trial.Arm{{Tag: "PS", Levels: trial.Levels("paper", "hourly")}, {Tag: "PN", Levels: trial.Levels("paper", "none")},
		{Tag: "BS", Levels: trial.Levels("none", "hourly")}, {Tag: "BN", Levels: trial.Levels("none", "none"), Control: true}}
	two := t.Cuts
	t.Cuts = nil
	t.Scores = map[trial.OutcomeKey][]score{}
	for i, c := range two {
		for k := range 2 {
			x := c
			x.Name, x.Arm = c.Name+"ab"[k:k+1], 2*c.Arm+k
			x.Root = x.Name
			t.Cuts = append(t.Cuts, x)
			for j, taster := range []string{"Ife", "Joren", "Marisol"} {
				v := 5.0 + 0.2*float64((i*3+j*5+k)%4)
				if x.Arm < 2 {
					v++
				}
				if x.Arm%2 == 0 {
					v += 0.5
				}
				t.Scores[trial.Juiciness] = append(t.Scores[trial.Juiciness], score{Taster: taster, Cut: x.Name, Flight: "1", Arm: x.Arm, Value: v})
			}
		}
	}
	return t
}

// TestLossStandsBesideJuiciness: what was tasted and what was weighed may disagree, and both are
// said; where nothing was weighed, or of another outcome, nothing is.
func TestLossStandsBesideJuiciness(t *testing.T) {
	in := pairsTrial(6, 1.5)
	rows := Of(in).Rows
	if got := rows[0].Beside; !strings.HasPrefix(got, "As weighed PAPER lost 39.") || !strings.HasSuffix(got, "Here both speak for PAPER.") {
		t.Errorf("beside juiciness stands %q", got)
	}
	if rows[1].Beside != "" {
		t.Errorf("beside yield stands %q", rows[1].Beside)
	}
	if got := Of(pairsTrial(6, -1.5)).Rows[0].Beside; !strings.Contains(got, "BARE tastes juicier, PAPER kept more") {
		t.Errorf("where they disagree it says %q", got)
	}
	for i := range in.Cuts {
		in.Cuts[i].Account.CookedYieldRested = nil
	}
	if got := Of(in).Rows[0].Beside; got != "" {
		t.Errorf("of nothing weighed it says %q", got)
	}
}

func TestPlacesAreRowsOfTheirOwn(t *testing.T) {
	in := pairsTrial(6, 1.5)
	all := in.Scores[trial.Juiciness]
	for i := range all {
		all[i].Place = "flat"
		point := all[i]
		point.Place, point.Flight = "point", "2"
		point.Value = 6 + 0.3*float64(i%4)
		all = append(all, point)
	}
	in.Scores[trial.Juiciness] = all
	subs := Of(in).Rows[0].Subs
	if len(subs) != 2 || subs[0].Name != "flat" || subs[0].Word != "clear winner" || subs[0].Over[0] != 0 || subs[1].Word == "clear winner" {
		t.Errorf("by place it reads %+v", subs)
	}
}

func TestMoreCooksSettleMoreOften(t *testing.T) {
	none := Side{}
	one, four := settles([]float64{1.1, 0.9}, 1, 0.5, none), settles([]float64{1.1, 0.9}, 4, 0.5, none)
	if !(one < four) || four < 0.5 || four > 1 {
		t.Errorf("one more cook settles it in %v, four in %v", one, four)
	}
	if again := settles([]float64{1.1, 0.9}, 4, 0.5, none); again != four {
		t.Errorf("drawn again it is %v, not %v", again, four)
	}
	if c, ok := Best([]Chance{{0, 1, 1, 0.3}, {0, 1, 2, 0.72}, {0, 1, 3, 0.9}}, 0, 1); !ok || c.Cooks != 2 ||
		c.Said() != "going on 2 more cooks would settle it 7 times in 10" {
		t.Errorf("the best is %+v: %s", c, c.Said())
	}
}

func TestTheLeastDoseIsSaid(t *testing.T) {
	in := pairsTrial(0, 0)
	in.Ask.Factors = []trial.Factor{{Name: "hold time", Kind: trial.Numeric, Unit: "h", SetOn: trial.UnitCut}}
	in.Ask.Arms = []trial.Arm{{Tag: "TWO", Levels: trial.Levels("2")}, {Tag: "SIX", Levels: trial.Levels("6")}, {Tag: "NINE", Levels: trial.Levels("9")}}
	for b := range 6 {
		for a, gain := range []float64{0, 1.2, 1.25} {
			c := pairsTrial(1, 0).Cuts[0]
			c.Name, c.Arm, c.Block = string(rune('a'+b))+string(rune('0'+a)), a, string(rune('a'+b))
			c.Root = c.Name
			in.Cuts = append(in.Cuts, c)
			for j, taster := range []string{"Ife", "Joren", "Marisol"} {
				in.Scores[trial.Juiciness] = append(in.Scores[trial.Juiciness], score{Taster: taster, Cut: c.Name, Flight: "1", Arm: a,
					Value: 5 + gain + 0.1*float64((b*3+a*2+j)%4)})
			}
		}
	}
	trend := Of(in).Rows[0].Trend
	if trend == nil || trend.Least == nil || *trend.Least != 6 || !strings.HasPrefix(trend.Sentence, "6 h is the least that is as good as any on juiciness") {
		t.Errorf("the trend is %+v", trend)
	}
}
