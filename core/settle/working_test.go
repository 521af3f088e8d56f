package settle

import (
	"encoding/json"
	"math"
	"strconv"
	"strings"
	"testing"

	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// TestAWorkingComesToItsNumber: the rows of each reach give the estimate, by hand.
func TestAWorkingComesToItsNumber(t *testing.T) {
	in := pairsTrial(6, 1.5)
	p := Of(in).Rows[0].Pairs[0]
	mean := func(w Working, column int) float64 {
		t.Helper()
		sum := 0.0
		for _, row := range w.Rows {
			v, err := strconv.ParseFloat(row[column], 64)
			if err != nil {
				t.Fatalf("%q is no number: %v", row[column], err)
			}
			sum += v
		}
		return sum / float64(len(w.Rows))
	}
	pieces, ok := in.Work(trial.Juiciness, 0, 1, verdict.ThesePieces)
	if !ok || len(pieces.Rows) != 3 || pieces.Calculation != "verdict.paired" {
		t.Fatalf("these pieces are worked as %+v", pieces)
	}
	if got := mean(pieces, 3); math.Abs(got-*p.Pieces.Estimate) > 1e-5 {
		t.Errorf("three tasters differ by %v, it says %v", got, *p.Pieces.Estimate)
	}
	cooks, ok := in.Work(trial.Juiciness, 0, 1, verdict.TheseCooks)
	if !ok || len(cooks.Rows) != 12 || !strings.Contains(cooks.Method, "unit = arm + block") || cooks.Calculation != "verdict.paired" {
		t.Fatalf("these cooks are worked as %+v", cooks)
	}
	byArm := map[string][]float64{}
	for _, row := range cooks.Rows {
		v, _ := strconv.ParseFloat(row[4], 64)
		byArm[row[1]] = append(byArm[row[1]], v)
	}
	difference := 0.0
	for i, v := range byArm["PAPER"] {
		difference += (v - byArm["BARE"][i]) / 6
	}
	if math.Abs(difference-*p.Cooks.Estimate) > 1e-5 {
		t.Errorf("six pairs differ by %v, it says %v", difference, *p.Cooks.Estimate)
	}
	var again verdict.PairedInput
	if err := json.Unmarshal(cooks.Input, &again); err != nil || len(again.Pairs) != 6 {
		t.Fatalf("its input holds %d pairs (%v)", len(again.Pairs), err)
	}
	if said := strings.Join(cooks.Steps, " "); !strings.Contains(said, "What matters is 0.5: clear winner.") {
		t.Errorf("it ends with %q", said)
	}
	next, ok := in.Work(trial.Juiciness, 0, 1, verdict.NextCook)
	if !ok || len(next.Rows) != 1 || next.Rows[0][0] != "this trial, 1" {
		t.Errorf("the next cook is worked from %v", next.Rows)
	}
}

// TestTheMixedModelStandsBesideTheWord: it says whether it would say the same, and leaves the
// word alone; what is measured has none.
func TestTheMixedModelStandsBesideTheWord(t *testing.T) {
	in := pairsTrial(6, 1.5)
	w, _ := in.Work(trial.Juiciness, 0, 1, verdict.TheseCooks)
	if !strings.HasPrefix(w.Check, "A mixed model of 36 ballots says +1.") {
		t.Errorf("beside the word stands %q", w.Check)
	}
	if w.Side.Word != verdict.Clear {
		t.Errorf("the word is %q", w.Side.Word)
	}
	if measured, _ := in.Work(trial.CookedYield, 0, 1, verdict.TheseCooks); measured.Check != "" {
		t.Errorf("what was weighed is checked by %q", measured.Check)
	}
	many := pairsTrial(70, 1.5)
	if w, _ := many.Work(trial.Juiciness, 0, 1, verdict.TheseCooks); !strings.Contains(w.Check, "not fitted to more than") {
		t.Errorf("of 420 ballots it says %q", w.Check)
	}
}

func TestThereIsNoWorkingOfWhatIsNotThere(t *testing.T) {
	in := pairsTrial(3, 1)
	for name, of := range map[string]struct {
		key   trial.OutcomeKey
		a, b  int
		reach verdict.Reach
	}{
		"an outcome that was not chosen": {trial.Bark, 0, 1, verdict.TheseCooks}, "arms the other way": {trial.Juiciness, 1, 0, verdict.TheseCooks},
		"a third arm": {trial.Juiciness, 0, 2, verdict.TheseCooks}, "pieces of what was weighed": {trial.CookedYield, 0, 1, verdict.ThesePieces},
		"no reach": {trial.Juiciness, 0, 1, ""},
	} {
		if w, ok := in.Work(of.key, of.a, of.b, of.reach); ok {
			t.Errorf("%s is worked: %+v", name, w)
		}
	}
}

// TestSizesAreWhatTheHouseKeeps: one a pair of catalogued levels, with what it was shown in; what
// borrowed its spread, or was tasted in the open alone, is none.
func TestSizesAreWhatTheHouseKeeps(t *testing.T) {
	catalogued := func(in Trial) Trial {
		in.Ask.Factors[0].ID = 4
		in.Ask.Arms[0].Levels[0].ID, in.Ask.Arms[1].Levels[0].ID = 41, 40
		return in
	}
	in := catalogued(pairsTrial(6, 1.5))
	sizes := in.Sizes(Of(in))
	if len(sizes) == 0 || sizes[0].First != 41 || sizes[0].Second != 40 || sizes[0].Key != trial.Juiciness || sizes[0].DF != 5 || sizes[0].Setting.Cuts != 12 {
		t.Fatalf("it keeps %+v", sizes)
	}
	p := Of(in).Rows[0].Pairs[0]
	if s := sizes[0]; math.Abs(s.Estimate-*p.Cooks.Estimate) > 1e-12 || s.Word != verdict.Clear || s.Setting.Pits[0] != "Brick Pit" ||
		*s.Setting.Means[0] <= *s.Setting.Means[1] {
		t.Errorf("of juiciness it keeps %+v", s)
	}
	bare := pairsTrial(6, 1.5)
	if got := bare.Sizes(Of(bare)); len(got) != 0 {
		t.Errorf("levels of no catalogue are kept: %+v", got)
	}
	open := catalogued(pairsTrial(6, 1.5))
	for i := range open.Scores[trial.Juiciness] {
		open.Scores[trial.Juiciness][i].Open = true
	}
	for _, s := range open.Sizes(Of(open)) {
		if s.Key == trial.Juiciness {
			t.Error("what was tasted in the open alone is evidence")
		}
	}
}
