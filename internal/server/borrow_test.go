package server

import (
	"fmt"
	"testing"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/demo"
	"whitebarn/internal/testkit/demobarn"
)

// TestOnePairBorrowsTheHouseSpread weighs one pair of shoulders in a barn that
// has settled eight: it may lean on their spread, and the list says the same.
func TestOnePairBorrowsTheHouseSpread(t *testing.T) {
	t.Parallel()
	s := demobarn.Store(t)
	odalys := listen(t, s).hand()
	odalys.must("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: demo.Password}, 200, nil)
	ask := lambAsk()
	ask.Outcomes = []trial.Chosen{{Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.EdibleYield, SmallestDifference: 2}}
	var v trials.TrialView
	odalys.must("POST", "/api/trials", ask, 201, &v)
	for i, weights := range [][2]string{{"3 kg", "1.8 kg"}, {"3 kg", "1.2 kg"}} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/cuts", v.ID), match.CutInput{Name: fmt.Sprint("9", string("LR"[i])), Pair: "9",
			ArmID: &v.Ask.Arms[i].ID}, 201, &v)
		cut := v.Cuts[i].ID
		odalys.weigh(cut, "trimmed", weights[0])
		odalys.weigh(cut, "rested", weights[1])
	}
	v = odalys.cooked(odalys.laid(v), "203 F")
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/end", v.ID), barn.Why{Why: "weighed only"}, 200, &v)
	var r settle.Result
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &r)
	p := r.Rows[0].Pairs[0].Cooks
	if !p.Borrowed || p.Word != verdict.Leaning || *p.Winner != 0 || p.Why == "" {
		t.Errorf("20 points of yield apart on one pair: %+v, want leaning on a borrowed spread", p)
	}
	if e := r.Rows[1].Pairs[0].Cooks; e.Word != "" || e.Estimate != nil {
		t.Errorf("edible yield was never weighed and yet reads %+v", e)
	}
	var list []trials.TrialLine
	odalys.must("GET", "/api/trials", nil, 200, &list)
	if got := list[0].Settled; got == nil || got.Headline != r.Headline {
		t.Errorf("the list says %+v, the trial %q", got, r.Headline)
	}
}
