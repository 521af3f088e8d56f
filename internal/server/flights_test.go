package server

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"sync"
	"testing"

	"whitebarn/core/panel"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// full is a score on every rule of the lamb's ballot.
func full(n int) map[string]int {
	return map[string]int{"juiciness": n, "bark": n, "tenderness": n, "overall": n}
}

func codesOf(p table.PlateView) (out []string) {
	for _, s := range p.Samples {
		out = append(out, s.Code)
	}
	return out
}

func TestASecondLookAndAChoiceWithItsReason(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	f.SecondLook, f.Choice, f.WarmUp = true, true, v.Cuts[0].ID
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	path := odalys.sit(v.Tasters[0])
	p := odalys.plate(v.Tasters[0])
	codes := codesOf(p.Plates[0])
	if len(codes) != 3 || !p.Plates[0].Samples[0].WarmUp || p.Plates[0].Samples[1].WarmUp {
		t.Fatalf("the plate is %+v; want a warm-up and two", p.Plates[0].Samples)
	}
	seal := func(code string, n int) {
		t.Helper()
		odalys.must("POST", path+"/samples/"+code+"/seal", table.SealInput{Flight: 1, Scores: full(n)}, 200, &p)
	}
	answer := table.AnswerInput{Flight: 1, Answer: panel.Answer{Picked: codes[2], Reason: "the crust"}}
	seal(codes[0], 9)
	odalys.refused("POST", path+"/answer", answer, 409, codes[1]+" is not sealed yet")
	seal(codes[1], 5)
	seal(codes[2], 6)
	if p.Plates[0].Ended {
		t.Error("the plate is over before it is said which to serve")
	}
	seal(codes[1], 7) // a second look
	wrong := answer
	wrong.Picked = codes[0] // the warm-up
	odalys.refused("POST", path+"/answer", wrong, 422, "is not one of them")
	odalys.must("POST", path+"/answer", answer, 200, &p)
	odalys.must("POST", path+"/answer", answer, 200, &p) // a resend
	odalys.refused("POST", path+"/answer", wrong, 422, "is not one of them")
	wrong.Picked = codes[1]
	odalys.refused("POST", path+"/answer", wrong, 409, "sealed with another answer")
	odalys.refused("POST", path+"/samples/"+codes[1]+"/seal", table.SealInput{Flight: 1, Scores: full(8)}, 409, "sealed with other scores")
	if !p.Plates[0].Ended {
		t.Errorf("the plate is %+v; want it over", p.Plates[0])
	}
	// Both values are kept, the first as what it was.
	var kept, was int
	err := odalys.store.Pool().QueryRow(t.Context(), `select x.value, o.value from scores x join scores o on o.id = x.supersedes join samples m on m.id = x.sample_id
		where m.code = $1 and x.attribute = 'overall' and x.voided_at is null and o.void_reason = 'second look'`, codes[1]).Scan(&kept, &was)
	if err != nil || kept != 7 || was != 5 {
		t.Errorf("of the second look %d and %d are kept (%v), want 7 over 5", kept, was, err)
	}
	scores, err := odalys.store.Scores(t.Context(), v.ID)
	if err != nil || len(scores[v.ID][trial.Overall]) != 2 {
		t.Errorf("%d overall scores count (%v), want two: the warm-up does not", len(scores[v.ID][trial.Overall]), err)
	}
}

func TestLateComersLeaversAndAClosedFlight(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 2)
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	flight := v.Flights[0].ID
	odalys.must("POST", at("/trials/%d/tasters", v.ID), table.SeatInput{Name: "Rue"}, 201, &v)
	late := table.PlateInput{TasterID: v.Tasters[3].ID}
	odalys.must("POST", at("/flights/%d/plates", flight), late, 201, &v)
	odalys.refused("POST", at("/flights/%d/plates", flight), late, 409, "has a plate of this flight")
	in := panel.OrdersInput{Samples: 4}
	number := map[string]int{}
	for i, code := range slices.Sorted(slices.Values(v.Ballots[0].Codes)) {
		number[code] = i + 1
	}
	for _, b := range v.Ballots {
		var order []int
		for _, code := range b.Codes {
			order = append(order, number[code])
		}
		in.Orders = append(in.Orders, order)
	}
	check, err := panel.CheckOrders(in)
	if err != nil || !check.EverySampleOnce || check.PositionSpread != 0 || check.NeighbourSpread != 0 {
		t.Errorf("with the late-comer the plates are %v: %+v (%v); want them even", in.Orders, check, err)
	}
	// One drops a cup, one goes home, and then it is closed.
	path, codes := odalys.sit(v.Tasters[0]), v.Ballots[0].Codes
	odalys.must("POST", path+"/samples/"+codes[0]+"/seal", table.SealInput{Flight: 1, Scores: full(6)}, 200, nil)
	out := at("/flights/%d/leave-out", flight)
	odalys.refused("POST", out, table.LeftOutInput{TasterID: &v.Tasters[0].ID, Code: codes[0], Why: "it was dropped"}, 409, "Nothing of that is still open")
	odalys.refused("POST", out, table.LeftOutInput{Why: "it was dropped"}, 422, "name a taster, a code, or both")
	odalys.must("POST", out, table.LeftOutInput{TasterID: &v.Tasters[0].ID, Code: codes[1], Why: "it was dropped"}, 200, &v)
	if v.Ballots[0].Closed != 2 || v.Ballots[0].Locked {
		t.Errorf("with one sealed and one dropped the ballot is %+v", v.Ballots[0])
	}
	odalys.must("POST", out, table.LeftOutInput{TasterID: &v.Tasters[1].ID, Why: "had to go home"}, 200, &v)
	if !v.Ballots[1].Locked || v.Ballots[2].Locked {
		t.Errorf("after one left the ballots are %+v", v.Ballots)
	}
	odalys.must("POST", at("/flights/%d/close", flight), barn.Why{Why: "the rain came"}, 200, &v)
	if !v.Flights[0].Closed || v.Flights[0].CloseReason != "the rain came" || slices.ContainsFunc(v.Ballots, func(b store.BallotState) bool { return !b.Locked }) {
		t.Errorf("closed, the flight is %+v and its ballots %+v", v.Flights[0], v.Ballots)
	}
	odalys.refused("POST", at("/flights/%d/close", flight), barn.Why{Why: "again so"}, 409, "Every ballot of this flight is locked")
	odalys.refused("POST", at("/flights/%d/plates", flight), table.PlateInput{TasterID: v.Tasters[3].ID}, 409, "This flight is closed")
	odalys.must("POST", at("/trials/%d/reveal", v.ID), table.RevealInput{}, 200, &v)
}

// TestPaperOfASecondLookIsEnded types a ballot whose flight allows one: with its end it locks.
func TestPaperOfASecondLookIsEnded(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	f.SecondLook = true
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	in := table.PaperInput{TasterID: v.Tasters[0].ID, Samples: map[string]table.PaperMarks{}}
	for _, code := range v.Ballots[0].Codes {
		in.Samples[code] = table.PaperMarks{Scores: full(6)}
	}
	paper := at("/flights/%d/paper", v.Flights[0].ID)
	odalys.refused("POST", paper, in, 422, "answer")
	in.Answer = &panel.Answer{}
	odalys.must("POST", paper, in, 200, nil)
	if v = odalys.again(v); !v.Ballots[0].Locked || !v.Ballots[0].Paper {
		t.Errorf("typed in whole, the ballot is %+v; want it locked", v.Ballots[0])
	}
}

// TestALateTriangleIsOneOfItsRows has a third taster come late: two of one piece and one of
// the other, whatever the codes.
func TestALateTriangleIsOneOfItsRows(t *testing.T) {
	t.Parallel()
	odalys, tove, v, f := tableOf(t, 1)
	f.Format, f.Tasters = panel.ByTriangle, f.Tasters[:2]
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	odalys.must("POST", at("/flights/%d/plates", v.Flights[0].ID), table.PlateInput{TasterID: v.Tasters[2].ID}, 201, &v)
	arms := armsByCode(tove, v)
	for _, b := range v.Ballots {
		n := 0
		for _, code := range b.Codes {
			n += arms[code]
		}
		if len(b.Codes) != 3 || n != 1 && n != 2 {
			t.Errorf("a triangle is served as %v, of arms %v", b.Codes, arms)
		}
	}
}

// TestRankingIsHeard has three tasters put two pairs in the same order.
func TestRankingIsHeard(t *testing.T) {
	t.Parallel()
	odalys, tove, v, f := tableOf(t, 2)
	f.Format = panel.ByRanks
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	arms := armsByCode(tove, v)
	for _, x := range v.Tasters {
		path := odalys.sit(x)
		p := odalys.plate(x)
		odalys.refused("POST", path+"/samples/"+p.Plates[0].Samples[0].Code+"/seal", table.SealInput{Flight: 1, Scores: full(5)}, 409, "answered as one")
		ranks := map[string]int{}
		for _, code := range codesOf(p.Plates[0]) {
			ranks[code] = 1 + arms[code]
		}
		short := maps.Clone(ranks)
		delete(short, p.Plates[0].Samples[0].Code)
		odalys.refused("POST", path+"/answer", table.AnswerInput{Flight: 1, Answer: panel.Answer{Ranks: short}}, 422, "has no rank")
		odalys.must("POST", path+"/answer", table.AnswerInput{Flight: 1, Answer: panel.Answer{Ranks: ranks}}, 200, &p)
		if !p.Plates[0].Ended {
			t.Errorf("%s's ranking leaves the plate open", x.Name)
		}
	}
	odalys.must("POST", at("/trials/%d/reveal", v.ID), table.RevealInput{}, 200, &v)
	var heard table.PanelResults
	odalys.must("GET", at("/trials/%d/panel", v.ID), nil, 200, &heard)
	if len(heard.Plates) != 1 || fmt.Sprint(heard.Plates[0].Sums) != "[3 6]" || heard.Plates[0].Counts[0] != 3 {
		t.Errorf("three rankings alike are heard as %+v; want PAPER first three times", heard.Plates)
	}
}

// armsByCode is the arm, in order from 0, of each code, as the carver reads it.
func armsByCode(carver hand, v trials.TrialView) map[string]int {
	carver.t.Helper()
	var lines []table.KeyLine
	carver.must("GET", at("/flights/%d/key", v.Flights[0].ID), nil, 200, &lines)
	out := map[string]int{}
	for _, l := range lines {
		for _, c := range v.Cuts {
			if c.ID == l.CutID && *c.ArmID == v.Ask.Arms[1].ID {
				out[l.Code] = 1
			} else if c.ID == l.CutID {
				out[l.Code] = 0
			}
		}
	}
	return out
}

// TestJustRightAndRulesOfOnesOwnAreOnTheBallot asks for salt, smoke ring and a rule of the
// team's, with its own words to tick.
func TestJustRightAndRulesOfOnesOwnAreOnTheBallot(t *testing.T) {
	t.Parallel()
	ask := lambAsk()
	ask.Words = []string{"Ashy", " crumbly "}
	ask.Outcomes = append(ask.Outcomes, trial.Chosen{Key: trial.SaltRight, SmallestDifference: 0.5}, trial.Chosen{Key: "ring_seen"},
		trial.Chosen{SmallestDifference: 0.5, Own: &trial.OwnMeasure{Name: "Crackle", Better: trial.Up, SD: 0.5, Tasted: true, Low: "silent", High: "loud"}})
	_, odalys := newBarn(t)
	v := odalys.cooked(odalys.trialOf(ask, 1), "203 F")
	f := table.FlightInput{}
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", at("/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	for _, x := range v.Tasters {
		f.Tasters, f.Open = append(f.Tasters, x.ID), append(f.Open, x.ID)
	}
	for _, c := range v.Cuts {
		f.Pieces = append(f.Pieces, table.PieceInput{CutID: c.ID, Place: "blade", BySight: *c.ArmID == v.Ask.Arms[0].ID})
	}
	odalys.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	p := odalys.plate(v.Tasters[0]).Plates[0]
	var asked []string
	for _, a := range p.Sheet.Attributes {
		asked = append(asked, fmt.Sprintf("%s %d %v", a.Key, a.Most, a.Look))
	}
	want := []string{"ring_seen 9 true", "juiciness 9 false", "bark 9 false", "tenderness 9 false", "salt_right 5 false", "own tasted crackle 9 false", "overall 9 false"}
	if !slices.Equal(asked, want) || !slices.Equal(p.Sheet.Faults, []string{"ashy", "crumbly"}) {
		t.Errorf("the ballot asks %q and %q, want %q", asked, p.Sheet.Faults, want)
	}
	for _, x := range v.Tasters {
		path := odalys.sit(x)
		for i, code := range codesOf(p) {
			scores := full(5 + i)
			scores["salt_right"], scores["ring_seen"], scores["own tasted crackle"] = 2, 4, 7
			odalys.must("POST", path+"/samples/"+code+"/seal", table.SealInput{Flight: 1, Scores: scores, Faults: []string{"ashy"}}, 200, nil)
		}
	}
	odalys.must("POST", at("/trials/%d/reveal", v.ID), table.RevealInput{}, 200, &v)
	var r settle.Result
	odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, &r)
	for _, row := range r.Rows {
		if row.Outcome.Key == trial.SaltRight && (math.Abs(*row.Means[0]-1) > 1e-9 || math.Abs(*row.Means[1]-1) > 1e-9 || !row.Open) {
			t.Errorf("salt, just right reads as %v and %v, open %v; want one off in both arms, in the open", *row.Means[0], *row.Means[1], row.Open)
		}
	}
	words := fmt.Sprint(r.Limits)
	for _, want := range []string{"The tasting was open", "Samples of PAPER could be told by sight"} {
		if !strings.Contains(words, want) {
			t.Errorf("the limits are %s; want %q among them", words, want)
		}
	}
}

// Of several hands that serve the same table at once one does.
func TestFourWhoServeAtOnceMakeOneFlight(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 2)
	for served := range 2 {
		f.After = &served
		var wait sync.WaitGroup
		answers := make([]int, 4)
		for i := range answers {
			wait.Go(func() { answers[i], _ = odalys.do("POST", at("/trials/%d/flights", v.ID), f, nil) })
		}
		wait.Wait()
		slices.Sort(answers)
		if !slices.Equal(answers, []int{201, 409, 409, 409}) || len(odalys.again(v).Flights) != served+1 {
			t.Errorf("after %d flights four at once were answered %v, and %d stand", served, answers, len(odalys.again(v).Flights))
		}
	}
}
