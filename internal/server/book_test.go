package server

import (
	"fmt"
	"math"
	"net/http"
	"strings"
	"testing"

	"whitebarn/core/practice"
	"whitebarn/core/process"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/book"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/demo"
	"whitebarn/internal/testkit/demobarn"
)

// demoBarn is a clone of the demo barn; Odalys, Bram and the crew's Tove are signed in.
func demoBarn(t *testing.T) (odalys, bram, tove hand) {
	t.Helper()
	b := listen(t, demobarn.Store(t))
	in := func(name string) hand {
		h := b.hand()
		h.must("POST", "/api/session", people.SignIn{SignIn: name, Password: demo.Password}, 200, nil)
		return h
	}
	return in("odalys"), in("bram"), in("tove")
}

func (h hand) card(id int64) (v book.CardView) {
	h.t.Helper()
	h.must("GET", fmt.Sprintf("/api/book/cards/%d", id), nil, 200, &v)
	return v
}

func (h hand) trialNo(id int64) (v trials.TrialView) {
	h.t.Helper()
	h.must("GET", fmt.Sprintf("/api/trials/%d", id), nil, 200, &v)
	return v
}

// TestACardIsWrittenFromWhatWasDelivered: name and arm are asked for; tolerances come from the
// record, not from what was typed.
func TestACardIsWrittenFromWhatWasDelivered(t *testing.T) {
	t.Parallel()
	odalys, _, tove := demoBarn(t)
	paper := odalys.trialNo(7).Ask.Arms[0].ID
	write := book.WriteInput{TrialID: 7, ArmID: paper}
	odalys.refused("POST", "/api/book/versions", write, 422, "the card has no name")
	write.Name = "Shoulder in paper"
	tove.refused("POST", "/api/book/versions", write, 403, "")
	odalys.refused("POST", "/api/book/versions", book.WriteInput{TrialID: 7, ArmID: 999999, Name: "x"}, 422, "there is no such arm")
	odalys.refused("POST", "/api/book/versions", book.WriteInput{TrialID: 1, ArmID: odalys.trialNo(1).Ask.Arms[0].ID, Name: "x"}, 409, "")
	var w book.Written
	odalys.must("POST", "/api/book/versions", write, 201, &w)
	c := odalys.card(w.ProcessID)
	if len(c.Versions) != 1 || c.State != "Version 1. Waits for 2 of 2 hands." || c.InForce != w.VersionID {
		t.Fatalf("the card reads %q with %d versions", c.State, len(c.Versions))
	}
	b := c.Versions[0].Body
	var pull *process.CardRange
	for _, s := range b.Steps {
		if s.EndC != nil {
			pull = s.EndC
		}
	}
	if pull == nil || math.Abs(pull.Middle-95) > 0.5 || pull.N < 4 || pull.Low >= pull.Middle || pull.High <= pull.Middle {
		t.Errorf("the pull is %+v C, want what nine shoulders were read at", pull)
	}
	if b.Hours == nil || math.Abs(b.Hours.Middle-9) > 0.4 || b.Hours.N < 4 {
		t.Errorf("it is expected to take %+v h, want near the nine that were cooked", b.Hours)
	}
	if b.Evidence.Cooks != 3 || b.Evidence.TrialID != 7 || !strings.HasPrefix(b.Evidence.Says, "Shown in 3 cooks.") {
		t.Errorf("it rests on %+v", b.Evidence)
	}
	safe := false
	for _, x := range b.Cautions {
		safe = safe || strings.Contains(x.Text, "62.8") && x.Source != ""
	}
	if !safe {
		t.Errorf("its cautions are %+v, want the usual minimum with its source", b.Cautions)
	}
}

// TestAVersionSaysTheOneThingItChanges, keeps its parent, and stands in force until it fails; a
// failed one is not signed and not cooked.
func TestAVersionSaysTheOneThingItChanges(t *testing.T) {
	t.Parallel()
	odalys, bram, tove := demoBarn(t)
	paper := odalys.trialNo(7).Ask.Arms[0].ID
	again := book.WriteInput{TrialID: 7, ArmID: paper, ProcessID: 1}
	odalys.refused("POST", "/api/book/versions", again, 422, "a new version says what it changes")
	odalys.refused("POST", "/api/book/versions", again, 422, "a new version says why")
	again.Changed, again.Why = "Equal rest", "the rest was mixed up with the wrap"
	var w book.Written
	odalys.must("POST", "/api/book/versions", again, 201, &w)
	c := odalys.card(1)
	v := c.Versions[2]
	if w.Number != 3 || v.ParentID == nil || *v.ParentID != c.Versions[1].ID || c.InForce != w.VersionID || v.Changed != "Equal rest" {
		t.Fatalf("version %d of parent %v is in force: %v", w.Number, v.ParentID, c.InForce == w.VersionID)
	}
	if len(v.Signed) != 0 || len(c.Cooks) != 0 {
		t.Errorf("it takes over %d signatures and %d cooks, want none of the version before", len(v.Signed), len(c.Cooks))
	}
	path := fmt.Sprintf("/api/book/versions/%d", w.VersionID)
	for _, h := range []hand{odalys, bram} {
		h.must("POST", path+"/sign", nil, 200, nil)
	}
	odalys.refused("POST", path+"/sign", nil, 409, "Your hand is under it already")
	if got := odalys.card(1).State; got != "Version 3. Signed; not cooked since." {
		t.Errorf("signed by two it reads %q", got)
	}
	odalys.refused("POST", path+"/unsign", barn.Why{}, 422, "why")
	odalys.must("POST", path+"/unsign", barn.Why{Why: "the wood is wrong"}, 200, nil)
	odalys.refused("POST", path+"/unsign", barn.Why{Why: "again"}, 409, "Nobody has signed it")
	if got := odalys.card(1).State; got != "Version 3. Waits for 2 of 2 hands." {
		t.Errorf("opened again it reads %q", got)
	}
	tove.refused("POST", path+"/fail", book.FailInput{Fault: "dry", Why: "x"}, 403, "")
	odalys.must("POST", path+"/fail", book.FailInput{Fault: "dry", Why: "dry in two of three"}, 200, nil)
	odalys.refused("POST", path+"/fail", book.FailInput{Fault: "dry", Why: "again"}, 409, "written already")
	odalys.refused("POST", path+"/sign", nil, 409, "This version failed")
	odalys.refused("POST", path+"/cook", book.CookInput{}, 409, "This version failed")
	c = odalys.card(1)
	if failed := c.Versions[2]; failed.FailedAt == nil || failed.Lever == "" || failed.Fault != "dry" {
		t.Errorf("it is kept as %+v, want its fault and a lever", failed.ProcessVersion)
	}
	if c.InForce != c.Versions[1].ID {
		t.Error("the version before is not in force again")
	}
}

// TestACookByACardTakesItsPhases, and is checked against the card once it is over.
func TestACookByACardTakesItsPhases(t *testing.T) {
	t.Parallel()
	odalys, _, tove := demoBarn(t)
	c := odalys.card(1)
	in := c.Versions[1]
	path := fmt.Sprintf("/api/book/versions/%d/cook", in.ID)
	tove.refused("POST", path, book.CookInput{}, 403, "")
	var made book.Cooking
	odalys.must("POST", path, book.CookInput{Question: "For the harvest table"}, 201, &made)
	v := odalys.trialNo(made.TrialID)
	phases := v.Outline.Arms[0].Phases
	if v.Ask.Question != "For the harvest table" || len(v.Ask.Arms) != 1 || len(phases) != len(in.Body.Steps) {
		t.Fatalf("it asks %q with %d phases, want the %d of the card", v.Ask.Question, len(phases), len(in.Body.Steps))
	}
	for i, p := range phases {
		if got, want := process.Said(p), process.Said(in.Body.Steps[i].Phase); got != want {
			t.Errorf("phase %d is %q, want %q", i+1, got, want)
		}
	}
	now := odalys.card(1)
	if len(now.Open) != 1 || now.Open[0] != made.TrialID || len(now.Cooks) != len(c.Cooks) {
		t.Errorf("the card knows of the cooks %v under way and %d done", now.Open, len(now.Cooks))
	}
}

// TestADriftAsksWhatChanged: the question is made with the card as today's practice; a card in
// order asks nothing.
func TestADriftAsksWhatChanged(t *testing.T) {
	t.Parallel()
	odalys, _, _ := demoBarn(t)
	var made book.Cooking
	odalys.must("POST", "/api/book/cards/1/reopen", nil, 201, &made)
	v := odalys.trialNo(made.TrialID)
	if !strings.HasPrefix(v.Ask.Question, "Why did the yield of") || !v.Ask.Arms[0].Control || v.Ask.Arms[0].Tag != "CARD" {
		t.Errorf("it asks %q of %+v", v.Ask.Question, v.Ask.Arms)
	}
	for i, arm := range v.Outline.Arms {
		if len(arm.Phases) != len(odalys.card(1).Versions[1].Body.Steps) {
			t.Errorf("arm %d is planned in %d phases, want the card's", i+1, len(arm.Phases))
		}
	}
	var w book.Written
	odalys.must("POST", "/api/book/versions", book.WriteInput{TrialID: 7, ArmID: odalys.trialNo(7).Ask.Arms[0].ID, Name: "New"}, 201, &w)
	odalys.refused("POST", fmt.Sprintf("/api/book/cards/%d/reopen", w.ProcessID), nil, 409, "Nothing of this card stands out")
	odalys.refused("POST", "/api/book/cards/999/reopen", nil, 404, "")
}

// TestSimulatedTastersTakeARehearsalToItsTruth: they fill a rehearsal's ballots and no other
// trial's; the truth is shown once its codes are open.
func TestSimulatedTastersTakeARehearsalToItsTruth(t *testing.T) {
	t.Parallel()
	odalys, tove, v, f := tableOf(t, 4)
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/simulated-tasters", v.ID), nil, 409, "This is no rehearsal")
	if _, err := odalys.store.Pool().Exec(t.Context(), "update trials set rehearses_id = id where id = $1", v.ID); err != nil {
		t.Fatal(err)
	}
	path := fmt.Sprintf("/api/trials/%d/simulated-tasters", v.ID)
	odalys.refused("POST", path, nil, 409, "No ballot is open")
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
	tove.must("POST", path, nil, 200, &v)
	for _, b := range v.Ballots {
		if !b.Locked {
			t.Errorf("a ballot of %d codes is not locked", len(b.Codes))
		}
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{}, 200, nil)
	var read settle.View
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &read)
	if len(read.Truths) == 0 {
		t.Fatal("no truth is shown beside what was concluded")
	}
	for _, x := range read.Truths {
		if len(x.Values) != 2 || x.Says == "" {
			t.Errorf("of %s it tells %+v", x.Name, x)
		}
	}
	odalys.refused("POST", path, nil, 409, "Its codes are open")
	if v.Ask.Kind == trial.OfMeat {
		odalys.refused("POST", "/api/book/versions", book.WriteInput{TrialID: v.ID, ArmID: v.Ask.Arms[0].ID, Name: "practice"}, 409, "This is a rehearsal")
	}
}

// TestALayoutIsTriedInBatches that add up, by one seed the same.
func TestALayoutIsTriedInBatches(t *testing.T) {
	t.Parallel()
	odalys, _, _ := demoBarn(t)
	run := func(in book.SimulateInput) (out practice.Trials) {
		odalys.must("POST", "/api/trials/7/simulate", in, 200, &out)
		return out
	}
	first := run(book.SimulateInput{Trials: 10, Seed: 3})
	again := run(book.SimulateInput{Trials: 10, Seed: 3})
	if fmt.Sprint(first) != fmt.Sprint(again) {
		t.Error("one seed gives two answers")
	}
	both := run(book.SimulateInput{Trials: 10, Seed: 4, SoFar: &first})
	if both.Trials != 20 || len(both.Shares) == 0 {
		t.Errorf("two batches of ten are %d trials", both.Trials)
	}
	odalys.refused("POST", "/api/trials/7/simulate", book.SimulateInput{Trials: 500}, 422, "trials")
	odalys.refused("POST", "/api/trials/7/simulate", book.SimulateInput{Trials: 5, SoFar: &practice.Trials{Trials: 5}}, 422, "begin again")
}

// TestAWeightIsTriedAndNotKept.
func TestAWeightIsTriedAndNotKept(t *testing.T) {
	t.Parallel()
	odalys, _, _ := demoBarn(t)
	weigh := func(w map[trial.OutcomeKey]float64) (s struct {
		Winners []int  `json:"winners"`
		Answer  string `json:"answer"`
	}) {
		odalys.must("POST", "/api/trials/3/weigh", settle.WeighBody{Context: "home table", Weights: w}, 200, &s)
		return s
	}
	juicy, bark := weigh(map[trial.OutcomeKey]float64{trial.Juiciness: 9, trial.Bark: 1}), weigh(map[trial.OutcomeKey]float64{trial.Juiciness: 1, trial.Bark: 9})
	if len(juicy.Winners) != 1 || len(bark.Winners) != 1 || juicy.Winners[0] == bark.Winners[0] {
		t.Errorf("by juiciness %q, by bark %q", juicy.Answer, bark.Answer)
	}
	var v settle.View
	odalys.must("GET", "/api/trials/3/settle", nil, 200, &v)
	if v.Standings[0].Answer == bark.Answer {
		t.Error("what was tried was kept")
	}
	odalys.refused("POST", "/api/trials/1/weigh", settle.WeighBody{}, 409, "")
}

// TestAProposalIsStartedWithWhatItHolds, and only what was proposed.
func TestAProposalIsStartedWithWhatItHolds(t *testing.T) {
	t.Parallel()
	odalys, _, tove := demoBarn(t)
	var p book.Proposed
	odalys.must("GET", "/api/trials/7/next", nil, 200, &p)
	if len(p.Proposals) == 0 {
		t.Fatal("nothing is proposed of a settled trial")
	}
	for _, x := range p.Proposals {
		var made book.Cooking
		tove.refused("POST", "/api/trials/7/next", book.StartInput{Kind: x.Kind}, 403, "")
		odalys.must("POST", "/api/trials/7/next", book.StartInput{Kind: x.Kind}, 201, &made)
		v := odalys.trialNo(made.TrialID)
		if v.Ask.Question != x.Ask.Question || len(v.Ask.Held) != len(x.Ask.Held) || len(v.Ask.Arms) != len(x.Ask.Arms) {
			t.Errorf("%s is started as %q", x.Kind, v.Ask.Question)
		}
		for i, phases := range x.Phases {
			if len(phases) > 0 && len(v.Outline.Arms[i].Phases) != len(phases) {
				t.Errorf("%s: arm %d is planned in %d phases, want %d", x.Kind, i+1, len(v.Outline.Arms[i].Phases), len(phases))
			}
		}
	}
	odalys.refused("POST", "/api/trials/7/next", book.StartInput{Kind: process.NextDose}, 409, "")
}

// TestACookIsLaidOverAnother: only those whose codes are open, each with its arms' traces and
// yields.
func TestACookIsLaidOverAnother(t *testing.T) {
	t.Parallel()
	odalys, _, _ := demoBarn(t)
	var g book.Ghosts
	odalys.must("GET", "/api/trials/3/ghosts", nil, 200, &g)
	burning := odalys.trialNo(4)
	own := map[int64]bool{}
	for _, k := range odalys.trialNo(3).Cooks {
		own[k.ID] = true
	}
	found := 0
	for _, c := range g.Cooks {
		if c.TrialID == burning.ID {
			t.Errorf("cook %d, whose codes are closed, can be laid over another", c.CookID)
		}
		if !own[c.CookID] {
			continue
		}
		found++
		var s book.Shape
		odalys.must("GET", fmt.Sprintf("/api/cooks/%d/shape", c.CookID), nil, 200, &s)
		if len(s.Arms) != 2 {
			t.Fatalf("cook %d has the shapes of %d arms", c.CookID, len(s.Arms))
		}
		paper, bare := s.Arms[0], s.Arms[1]
		if len(paper.Points) < 10 || paper.Hours == nil || *paper.Hours >= *bare.Hours || *paper.Kept <= *bare.Kept {
			t.Errorf("paper is drawn in %d points, took %v h and kept %v, bare %v and %v", len(paper.Points), paper.Hours, paper.Kept, bare.Hours, bare.Kept)
		}
		for i := 1; i < len(paper.Points); i++ {
			if paper.Points[i][0] <= paper.Points[i-1][0] {
				t.Errorf("the trace goes back from %v h to %v", paper.Points[i-1][0], paper.Points[i][0])
			}
		}
	}
	if found != 2 {
		t.Errorf("%d of the trial's own two cooks can be laid over", found)
	}
	odalys.refused("GET", fmt.Sprintf("/api/cooks/%d/shape", burning.Cooks[0].ID), nil, 409, "codes of that cook are closed")
	odalys.refused("GET", "/api/cooks/9999/shape", nil, 404, "")
}

// TestWhatIsClosedIsNotConcludedFrom: no working, proposal, weighing or report of a trial whose
// codes are closed, for anybody.
func TestWhatIsClosedIsNotConcludedFrom(t *testing.T) {
	t.Parallel()
	odalys, _, tove := demoBarn(t)
	for _, h := range []hand{odalys, tove} {
		for _, path := range []string{"/working?outcome=juiciness&a=0&b=1&reach=cooks", "/next", "/report.json", "/report.html"} {
			h.refused("GET", "/api/trials/4"+path, nil, 409, "")
		}
		h.refused("POST", "/api/trials/4/weigh", settle.WeighBody{}, 409, "")
	}
}

// TestTheReportIsOnePage that may load nothing, and the same as JSON.
func TestTheReportIsOnePage(t *testing.T) {
	t.Parallel()
	odalys, _, _ := demoBarn(t)
	req, err := http.NewRequest("GET", odalys.url+"/api/trials/3/report.html", nil)
	if err != nil {
		t.Fatal(err)
	}
	res, err := odalys.client.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	if policy := res.Header.Get("Content-Security-Policy"); res.StatusCode != 200 || !strings.Contains(policy,
		"default-src 'none'") || strings.Contains(policy, "script-src") {
		t.Errorf("it answers %d and may load %q", res.StatusCode, policy)
	}
	var r struct {
		Result struct {
			Headline string `json:"headline"`
		} `json:"result"`
		Standings []struct {
			Answer string `json:"answer"`
		} `json:"standings"`
	}
	odalys.must("GET", "/api/trials/3/report.json", nil, 200, &r)
	var read settle.View
	odalys.must("GET", "/api/trials/3/settle", nil, 200, &read)
	if r.Result.Headline != read.Headline || len(r.Standings) != len(read.Standings) || r.Standings[0].Answer != read.Standings[0].Answer {
		t.Errorf("the report says %q, Settle %q", r.Result.Headline, read.Headline)
	}
}

// TestWhatIsKnownFollowsTheLastReading: a trial that is undone, or that rehearses, is no evidence.
func TestWhatIsKnownFollowsTheLastReading(t *testing.T) {
	t.Parallel()
	odalys, _, _ := demoBarn(t)
	trialsOf := func() (n int, apart int64) {
		var k book.Known
		odalys.must("GET", "/api/book/know?text=paper+lamb+juiciness", nil, 200, &k)
		for _, s := range k.Answer.Trials {
			if s.Apart {
				apart = s.TrialID
			}
		}
		return len(k.Answer.Trials), apart
	}
	if n, apart := trialsOf(); n != 3 || apart != 8 {
		t.Errorf("paper rests on %d trials, %d stands apart; want three, and the Drum's", n, apart)
	}
	if _, err := odalys.store.Pool().Exec(t.Context(), "update trials set rehearses_id = 3 where id = 8"); err != nil {
		t.Fatal(err)
	}
	if n, apart := trialsOf(); n != 2 || apart != 0 {
		t.Errorf("without the Drum's it rests on %d trials, %d stands apart", n, apart)
	}
	var m book.MapView
	odalys.must("GET", "/api/book/map", nil, 200, &m)
	for _, c := range m.Cells {
		for _, s := range c.Series {
			if s.TrialID == 8 || s.TrialID > 9 {
				t.Errorf("the map shows trial %d, a rehearsal or a cook by a card", s.TrialID)
			}
		}
	}
}
