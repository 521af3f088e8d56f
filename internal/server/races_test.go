package server

import (
	"fmt"
	"slices"
	"sync"
	"testing"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/prep"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// atOnce runs calls side by side and returns their statuses.
func atOnce(calls ...func() int) []int {
	out := make([]int, len(calls))
	var wait sync.WaitGroup
	for i, call := range calls {
		wait.Go(func() { out[i] = call() })
	}
	wait.Wait()
	return out
}

var fives = map[string]int{"juiciness": 5, "bark": 5, "tenderness": 5, "overall": 5}

// TestTwoSamplesSealedAtOnceLockTheBallot seals the last two samples of every plate at the
// same moment.
func TestTwoSamplesSealedAtOnceLockTheBallot(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
	for round := range 3 {
		path := odalys.sit(v.Tasters[round])
		var calls []func() int
		for _, code := range v.Ballots[round].Codes {
			calls = append(calls, func() int {
				status, _ := odalys.do("POST", path+"/samples/"+code+"/seal", table.SealInput{Flight: 1, Scores: fives}, nil)
				return status
			})
		}
		if got := atOnce(calls...); slices.ContainsFunc(got, func(s int) bool { return s != 200 }) {
			t.Fatalf("two seals at once are answered %v", got)
		}
	}
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	for _, b := range v.Ballots {
		if !b.Locked || b.Closed != 2 {
			t.Errorf("with both samples sealed the ballot of taster %d is %+v", b.TasterID, b)
		}
	}
}

// TestAFlightTakenBackKeepsNoSealThatWasAcknowledged takes a flight back while a sample of
// it is sealed: one of the two is refused.
func TestAFlightTakenBackKeepsNoSealThatWasAcknowledged(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	for range 4 {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
		last := v.Flights[len(v.Flights)-1]
		code := ""
		for _, b := range v.Ballots {
			if b.FlightID == last.ID && b.TasterID == v.Tasters[0].ID {
				code = b.Codes[0]
			}
		}
		got := atOnce(func() int {
			status, _ := odalys.do("POST", fmt.Sprintf("/api/flights/%d/void", last.ID), barn.Why{Why: "wrong plates"}, nil)
			return status
		}, func() int {
			status, _ := odalys.do("POST", odalys.sit(v.Tasters[0])+"/samples/"+code+"/seal", table.SealInput{Flight: last.Number, Scores: fives}, nil)
			return status
		})
		if got[0] == 200 && got[1] == 200 {
			t.Fatal("a flight was taken back under a seal that was acknowledged")
		}
		odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	}
}

// TestFlightsAndSeatsAreNumberedOnce serves and seats many at the same moment.
func TestFlightsAndSeatsAreNumberedOnce(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	var serve, seat []func() int
	for i := range 4 {
		serve = append(serve, func() int {
			status, _ := odalys.do("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, nil)
			return status
		})
		seat = append(seat, func() int {
			status, _ := odalys.do("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), barn.NamedInput{Name: fmt.Sprint("Guest ", i)}, nil)
			return status
		})
	}
	atOnce(append(serve, seat...)...)
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	var numbers, seats []int
	for _, x := range v.Flights {
		numbers = append(numbers, x.Number)
	}
	for _, x := range v.Tasters {
		seats = append(seats, x.Seat)
	}
	slices.Sort(seats)
	if !slices.Equal(numbers, []int{1, 2, 3, 4}) || !slices.Equal(seats, []int{1, 2, 3, 4, 5, 6, 7}) {
		t.Errorf("flights are numbered %v and seats %v", numbers, seats)
	}
}

// TestAPressStaysInItsTrial logs in one trial under the number of a press of another, and
// takes it back there.
func TestAPressStaysInItsTrial(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	one, two := odalys.trialOf(lambAsk(), 1), odalys.trialOf(lambAsk(), 1)
	press := uuid.NewString()
	input := func(v trials.TrialView) fire.EventInput {
		return fire.EventInput{Act: logbook.On, CutIDs: []int64{v.Cuts[0].ID}, Press: press}
	}
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", one.Cooks[0].ID), input(one), 201, nil)
	odalys.refused("POST", fmt.Sprintf("/api/cooks/%d/events", two.Cooks[0].ID), input(two), 422, "of another trial")
	odalys.must("POST", fmt.Sprintf("/api/cooks/%d/events", one.Cooks[0].ID), input(one), 201, nil)
	one = odalys.again(one) // sent again
	if len(one.Events) != 1 {
		t.Errorf("a press sent twice is %d entries", len(one.Events))
	}
}

// TestAnAskIsNotKeptOverAnother keeps two asks that were made from the same one.
func TestAnAskIsNotKeptOverAnother(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/trials/%d/ask?version=%d", v.ID, v.AskVersion)
	one, two := v.Ask, v.Ask
	one.Question, two.Question = "Paper or bare, again?", "Bare or paper?"
	odalys.must("PUT", path, one, 200, &v)
	odalys.refused("PUT", path, two, 409, "Somebody kept another ask meanwhile")
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/ask?version=%d", v.ID, v.AskVersion), two, 200, &v)
	if v.Ask.Question != two.Question {
		t.Errorf("the ask kept over the newest is %q", v.Ask.Question)
	}
}

// TestListsAreCappedWhereTheyEnter sends far more of anything than a barn has.
func TestListsAreCappedWhereTheyEnter(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	many := make([]int64, 20_000)
	odalys.refused("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), fire.EventInput{Act: logbook.On, CutIDs: many,
		Press: uuid.NewString()}, 422, "cut_ids")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), table.FlightInput{Pieces: pieces("blade", many[:200]...)}, 422, "pieces")
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/cooks", v.ID), plan.PlanInput{ServeAt: odalys.clock("2026-09-19T22:00:00Z"),
		Runs: make([]plan.RunInput, 60)}, 422, "runs")
	ask := v.Ask
	ask.Allergens = make([]string, 1000)
	for i := range ask.Allergens {
		ask.Allergens[i] = fmt.Sprint("thing ", i)
	}
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/ask", v.ID), ask, 422, "1000 lines")
}

// TestTimesAreBoundedAtEveryDoor sends times of other ages to all that takes one.
func TestTimesAreBoundedAtEveryDoor(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	events := fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID)
	for _, text := range []string{"0001-01-01T00:00:00Z", "1999-12-31T23:00:00Z", "2100-01-01T00:00:00Z", "9999-01-01T00:00:00Z"} {
		at := odalys.clock(text)
		odalys.refused("POST", events, fire.EventInput{Act: logbook.On, At: &at, CutIDs: []int64{v.Cuts[0].ID}, Press: uuid.NewString()}, 422, "no time of a cook")
		if !at.IsZero() {
			odalys.refused("POST", fmt.Sprintf("/api/trials/%d/cooks", v.ID), plan.PlanInput{ServeAt: at,
				Runs: []plan.RunInput{{PitID: v.Cooks[0].Runs[0].PitID, SetPoint: "250 F"}}}, 422, "no time of a cook")
		}
		odalys.refused("POST", fmt.Sprintf("/api/trials/%d/prep-marks", v.ID), prep.MarkInput{CutIDs: []int64{v.Cuts[0].ID}, Dose: "rub", Done: true,
			At: &at}, 422, "no time of a cook")
	}
	ahead := odalys.clock("2026-07-01T00:00:00Z")
	odalys.refused("POST", events, fire.EventInput{Act: logbook.On, At: &ahead, CutIDs: []int64{v.Cuts[0].ID}, Press: uuid.NewString()},
		422, "long before this cook")
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	if len(v.Events) != 0 {
		t.Errorf("of times that are refused %d are on record", len(v.Events))
	}
}

// TestAVoidIsOfWhoVoidedFirst: what was taken back once stays with its first hand and reason.
func TestAVoidIsOfWhoVoidedFirst(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, _ := b.join(odalys, "Tove", store.Crew)
	v := odalys.trialOf(lambAsk(), 1)
	v = odalys.log(v, logbook.On, 60, logbook.Detail{}, v.Cuts[0].ID)
	path := "/api/presses/" + v.Events[0].Press + "/void"
	odalys.must("POST", path, barn.Why{Why: "the wrong cut"}, 200, nil)
	tove.refused("POST", path, barn.Why{Why: "mine now"}, 404, "")
	var who int64
	var why string
	if err := b.store.Pool().QueryRow(t.Context(), "select voided_by, void_reason from events where press = $1", v.Events[0].Press).Scan(&who,
		&why); err != nil || who != b.id || why != "the wrong cut" {
		t.Errorf("it was taken back by %d: %q (%v), want the first", who, why, err)
	}
	odalys.weigh(v.Cuts[0].ID, "off", "3 lb")
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	last := v.Cuts[0].Weighings[len(v.Cuts[0].Weighings)-1]
	odalys.must("POST", fmt.Sprintf("/api/weighings/%d/void", last.ID), barn.Why{Why: "wrong tag"}, 200, nil)
	tove.refused("POST", fmt.Sprintf("/api/weighings/%d/void", last.ID), barn.Why{Why: "mine now"}, 404, "")
}

// TestASampleLeftOutStaysOut: an excuse is sent twice and changed never.
func TestASampleLeftOutStaysOut(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
	seal := odalys.sit(v.Tasters[0]) + "/samples/" + v.Ballots[0].Codes[0] + "/seal"
	odalys.refused("POST", seal, table.SealInput{Flight: 1, Excused: true, Scores: fives}, 422, "excused sample has scores")
	for range 2 {
		var plate table.TasteView
		odalys.must("POST", seal, table.SealInput{Flight: 1, Excused: true}, 200, &plate)
		if !plate.Plates[0].Samples[0].Excused || plate.Plates[0].Samples[0].Sealed {
			t.Errorf("left out it is %+v", plate.Plates[0].Samples[0])
		}
	}
	odalys.refused("POST", seal, table.SealInput{Flight: 1, Scores: fives}, 409, "sealed with other scores")
}

// TestHandsThatDrawAtOnceTakeTurns: whatever the order, the arms are those of
// the last draw on record, and no draw is lost.
func TestHandsThatDrawAtOnceTakeTurns(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 6)
	var wait sync.WaitGroup
	const hands = 8
	statuses := make([]int, hands)
	for i := range hands {
		wait.Go(func() { statuses[i], _ = odalys.do("POST", at("/trials/%d/allotment", v.ID), match.DrawInput{}, nil) })
	}
	wait.Wait()
	for i, status := range statuses {
		if status != 201 {
			t.Errorf("hand %d was answered %d", i, status)
		}
	}
	odalys.must("GET", at("/trials/%d", v.ID), nil, 200, &v)
	if len(v.Draws) != hands || len(v.Moved) != 0 {
		t.Errorf("%d draws on record, and %v stand elsewhere; want %d and none", len(v.Draws), v.Moved, hands)
	}
}
