package settle

import (
	"fmt"
	"math"
	"testing"

	"whitebarn/core/design"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// TestEachPairIsJudgedByItsOwnUnits has heat set on pit runs and wrap on cuts:
// the wraps within one pit are many units, the two heats only two runs each.
func TestEachPairIsJudgedByItsOwnUnits(t *testing.T) {
	tr := pairsTrial(0, 0)
	tr.Ask.Factors = append(tr.Ask.Factors, trial.Factor{Name: "heat", Kind: trial.Categorical, SetOn: trial.UnitPitRun})
	tr.Ask.Arms = []trial.Arm{{Tag: "BARELOW", Levels: trial.Levels("none", "low"), Control: true},
		{Tag: "PAPLOW", Levels: trial.Levels("paper", "low")}, {Tag: "BAREHOT", Levels: trial.Levels("none", "hot")}}
	for cook := range 2 {
		for i := range 4 {
			for arm := range 3 {
				name := fmt.Sprintf("%d%d%c", cook, i, 'a'+arm)
				run := fmt.Sprint("run ", cook, map[bool]string{true: "hot", false: "low"}[arm == 2])
				hours := 9 - 1.5*float64(arm/2) - 1.2*float64(arm%2) + 0.1*float64((i*3+arm)%4)
				tr.Cuts = append(tr.Cuts, Cut{Piece: design.Piece{Name: name, Root: name, Arm: arm, Block: fmt.Sprint(cook, i), Cook: fmt.Sprint(cook), Pit: "Brick Pit",
					Units: map[trial.UnitKind]string{trial.UnitPitRun: run}}, MayCount: true, CookHours: &hours})
			}
		}
	}
	r := Of(tr).Rows[2]
	for i, want := range []struct {
		unit   trial.UnitKind
		varied string
		units  int
	}{{trial.UnitCut, "wrap", 8}, {trial.UnitPitRun, "heat", 2}, {trial.UnitPitRun, "wrap and heat", 2}} {
		p := r.Pairs[i]
		if p.Unit != want.unit || p.Varied != want.varied || p.Cooks.Units[0] != want.units {
			t.Errorf("%s against %s: differ in %q, %v %ss; want %q, %d %ss", tr.Ask.Arms[p.A].Tag, tr.Ask.Arms[p.B].Tag, p.Varied,
				p.Cooks.Units, p.Unit, want.varied, want.units, want.unit)
		}
	}
	if w := r.Pairs[0].Cooks; w.Word != verdict.Clear || *w.Winner != 1 {
		t.Errorf("the wrap is %q on eight cuts, want clear for paper", w.Word)
	}
	if n := r.Pairs[1].Cooks; n.Word == verdict.Clear && n.Units[0] == 2 && n.CI90 == nil {
		t.Errorf("the heat is clear without an interval: %+v", n)
	}
	house := houseOf(tr.Pools(), trial.UnitHolderRun, false)
	if len(house) != 0 {
		t.Errorf("a trial without holder runs gives their spread: %v", house)
	}
	if h := houseOf(tr.Pools(), trial.UnitCut, true); h[trial.CookTime].DF != 12 {
		t.Errorf("the spread of cuts within blocks has %d degrees of freedom, want 12", h[trial.CookTime].DF)
	}
}

// TestTheHouseLendsTheSpreadOfUnitsThatStandAlike: within blocks to blocks, within cooks to
// cuts that stand by themselves.
func TestTheHouseLendsTheSpreadOfUnitsThatStandAlike(t *testing.T) {
	pools := []Pool{{Kind: trial.UnitCut, Key: trial.Juiciness, InBlocks: true, SS: 4, DF: 4}, {Kind: trial.UnitCut, Key: trial.Juiciness, SS: 36, DF: 4}}
	for inBlocks, sd := range map[bool]float64{true: 1, false: 3} {
		got := HousesOf(pools, pairsTrial(2, 1).Ask, inBlocks)[trial.UnitCut][trial.Juiciness]
		if math.Abs(got.SD-sd) > 1e-12 || got.DF != 4 {
			t.Errorf("in blocks %v the house lends %+v, want %v with 4 degrees of freedom", inBlocks, got, sd)
		}
	}
}
