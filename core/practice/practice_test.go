package practice

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/trial"
)

func supper(blocks int) trial.Ask {
	return trial.Ask{Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:     []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}},
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.Smoke}},
		Hand:     trial.Hand{Blocks: blocks, BlockSize: 2, CookDays: 2, Tasters: 5}}
}

func TestTheTruthFollowsTheCookModel(t *testing.T) {
	dry := TruthOf(plan.Foreseen{Tender: 1, Dryness: 0.45, Crust: 1.2, Loss: 0.5, PullS: 36000}, nil)
	juicy := TruthOf(plan.Foreseen{Tender: 1.4, Dryness: 0.3, Crust: 0.4, Loss: 0.38, PullS: 28800}, []prep.Dose{{Kind: prep.DrySalt, Share: 0.012}})
	for key, up := range map[trial.OutcomeKey]bool{trial.Juiciness: true, trial.Tenderness: true, trial.Bark: false,
		trial.CookedYield: true, trial.Flavour: true, trial.CookTime: false} {
		if (juicy[key] > dry[key]) != up {
			t.Errorf("on %s the wrapped one is %.2f and the bare one %.2f", key, juicy[key], dry[key])
		}
	}
	if juicy[trial.CookTime] != 8 || math.Abs(juicy[trial.CookedYield]-62) > 1e-9 {
		t.Errorf("it cooks %v h and keeps %v %%", juicy[trial.CookTime], juicy[trial.CookedYield])
	}
}

func TestALargeDifferenceIsFoundAndNoneIsNot(t *testing.T) {
	apart := []Truth{{trial.Juiciness: 7, trial.CookedYield: 60}, {trial.Juiciness: 5.2, trial.CookedYield: 60}}
	got, err := Run(t.Context(), supper(8), apart, 60, 1)
	if err != nil {
		t.Fatal(err)
	}
	juicy, cooked := got.Shares[0], got.Shares[1]
	if juicy.Clear < 45 || juicy.Wrong > 0 || math.Abs(juicy.Truth-1.8) > 1e-9 {
		t.Errorf("1.8 points are clear in %d of 60, wrongly in %d", juicy.Clear, juicy.Wrong)
	}
	if cooked.Clear > 6 || cooked.Clear != cooked.Wrong {
		t.Errorf("no difference is clear in %d of 60, wrongly in %d", cooked.Clear, cooked.Wrong)
	}
	if !strings.HasPrefix(got.Says, "With this layout you would have said clear on juiciness ") || !strings.HasSuffix(got.Says, "wrongly 0.") {
		t.Errorf("it says %q", got.Says)
	}
	few, err := Run(t.Context(), supper(2), apart, 60, 1)
	if err != nil || few.Shares[0].Clear >= juicy.Clear {
		t.Errorf("with two pairs it is clear in %d, with eight in %d (%v)", few.Shares[0].Clear, juicy.Clear, err)
	}
	both := few
	both.Shares = append([]Share{}, few.Shares...)
	both.Add(got, supper(8))
	if both.Trials != 120 || both.Shares[0].Clear != few.Shares[0].Clear+juicy.Clear {
		t.Errorf("put together they are %+v", both)
	}
}

func TestARunThatIsGivenUpEnds(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	stop()
	if _, err := Run(ctx, supper(4), []Truth{{}, {}}, 10, 1); !errors.Is(err, context.Canceled) {
		t.Errorf("given up, it answers %v", err)
	}
	if _, err := Run(t.Context(), supper(4), []Truth{{}}, 10, 1); err == nil {
		t.Error("one truth for two arms was taken")
	}
}

func TestScoresStayOnTheirScale(t *testing.T) {
	p := NewPanel(rand.New(rand.NewPCG(3, 3)), 4)
	nine, _ := trial.DefaultOf(trial.Juiciness)
	right, _ := trial.DefaultOf(trial.SaltRight)
	for i := range 400 {
		if s := p.Score(nine, i, 9); s < 1 || s > 9 {
			t.Fatalf("a score of %d on nine points", s)
		}
		if s := p.Score(right, i, 5); s < 1 || s > 5 {
			t.Fatalf("a score of %d on five", s)
		}
	}
}
