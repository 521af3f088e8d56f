package server

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/panel"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// tableOf readies a trial for tasting: every minimum is shown, three tasters
// sit, and Tove may carve.
func tableOf(t *testing.T, pairs int, day ...did) (odalys, tove hand, v trials.TrialView, f table.FlightInput) {
	t.Helper()
	b, odalys := newBarn(t)
	tove, carver := b.join(odalys, "Tove", store.Crew)
	v = odalys.trialOf(lambAsk(), pairs)
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	f = table.FlightInput{CarverID: &carver.ID, Bites: 2}
	for _, c := range v.Cuts {
		f.Pieces = append(f.Pieces, table.PieceInput{CutID: c.ID, Place: "blade"})
	}
	if day == nil {
		v = odalys.cooked(v, "203 F")
	} else {
		v = odalys.logDay(v, day)
	}
	for _, x := range v.Tasters {
		f.Tasters = append(f.Tasters, x.ID)
	}
	return odalys, tove, v, f
}

// sit opens a taster's page on this hand's phone, and says where it is.
func (h hand) sit(t table.Taster) (path string) {
	h.t.Helper()
	path = h.link(t)
	h.must("POST", path+"/open", nil, 200, nil)
	return path
}

// link is where a taster's page is.
func (h hand) link(t table.Taster) string {
	h.t.Helper()
	house, err := h.store.Barn(h.t.Context())
	if err != nil {
		h.t.Fatal(err)
	}
	return "/api" + trials.TastePath(house.Secret, t.ID)
}

func (h hand) plate(t table.Taster) (v table.TasteView) {
	h.t.Helper()
	h.must("GET", h.sit(t), nil, 200, &v)
	return v
}

// pieces are cuts from one place of each.
func pieces(place string, cuts ...int64) (out []table.PieceInput) {
	for _, id := range cuts {
		out = append(out, table.PieceInput{CutID: id, Place: place})
	}
	return out
}

func TestAFlightCanBeTakenBackUntilASampleIsSealed(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 2)
	flights := fmt.Sprintf("/api/trials/%d/flights", v.ID)
	odalys.must("POST", flights, f, 201, &v)
	first := v.Ballots[0].Codes
	odalys.must("POST", fmt.Sprintf("/api/flights/%d/void", v.Flights[0].ID), barn.Why{Why: "wrong plates"}, 200, &v)
	if len(v.Flights) != 0 || len(v.Ballots) != 0 {
		t.Errorf("after it was taken back %d flights and %d ballots stand", len(v.Flights), len(v.Ballots))
	}
	if p := odalys.plate(v.Tasters[0]); len(p.Plates) != 0 {
		t.Errorf("a taster still sees the plate %+v", p.Plates)
	}
	odalys.must("POST", flights, f, 201, &v)
	for _, code := range v.Ballots[0].Codes {
		if slices.Contains(first, code) {
			t.Errorf("code %s was used before in this trial", code)
		}
	}
	seal := odalys.sit(v.Tasters[0]) + "/samples/" + v.Ballots[0].Codes[0] + "/seal"
	odalys.must("POST", seal, table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 5, "bark": 5, "tenderness": 5, "overall": 5}}, 200, nil)
	odalys.refused("POST", fmt.Sprintf("/api/flights/%d/void", v.Flights[0].ID), barn.Why{Why: "too late"}, 409, "are sealed")
	odalys.refused("POST", fmt.Sprintf("/api/tasters/%d/void", v.Tasters[0].ID), barn.Why{Why: "left"}, 409, "has a plate")
	odalys.refused("POST", fmt.Sprintf("/api/cuts/%d/void", v.Cuts[0].ID), barn.Why{Why: "dropped"}, 409, "on the table")
}

func TestPlatesAreBalancedAndApart(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 3)
	flights := fmt.Sprintf("/api/trials/%d/flights", v.ID)
	for _, half := range [][]table.PieceInput{f.Pieces[:4], f.Pieces[2:]} {
		one := f
		one.Pieces = half
		odalys.must("POST", flights, one, 201, &v)
	}
	var all []string
	for _, fl := range v.Flights {
		number := map[string]int{}
		in := panel.OrdersInput{Samples: 4}
		for _, b := range v.Ballots {
			if b.FlightID != fl.ID {
				continue
			}
			var order []int
			for _, code := range b.Codes {
				if number[code] == 0 {
					number[code] = len(number) + 1
					all = append(all, code)
				}
				order = append(order, number[code])
			}
			in.Orders = append(in.Orders, order)
		}
		check, err := panel.CheckOrders(in)
		if err != nil || !check.EverySampleOnce || check.PositionSpread > 1 {
			t.Errorf("flight %d is served as %v: %+v %v", fl.Number, in.Orders, check, err)
		}
	}
	checked, err := panel.CheckCodes(panel.CodesInput{Codes: all})
	if err != nil || len(all) != 8 || !checked.AllAcceptable {
		t.Errorf("the codes of two flights are %v: %+v", all, checked)
	}
	p := odalys.plate(v.Tasters[1])
	if len(p.Plates) != 2 || len(p.Plates[0].Samples) != 4 {
		t.Fatalf("a taster sees %+v, want two plates of four", p.Plates)
	}
	// A code belongs to its own flight.
	odalys.refused("POST", odalys.sit(v.Tasters[1])+"/samples/"+p.Plates[0].Samples[0].Code+"/seal",
		table.SealInput{Flight: 2, Excused: true}, 404, "on your plate")
}

// TestWhoCarvesKnows has the carver taste: their ballot is open, whatever they are called.
func TestWhoCarvesKnows(t *testing.T) {
	t.Parallel()
	odalys, tove, v, f := tableOf(t, 1)
	seats := fmt.Sprintf("/api/trials/%d/tasters", v.ID)
	odalys.refused("POST", seats, table.SeatInput{Name: "tove K."}, 422, "may be Tove of the crew")
	odalys.must("POST", seats, table.SeatInput{PersonID: f.CarverID}, 201, &v)
	odalys.refused("POST", seats, table.SeatInput{PersonID: f.CarverID}, 422, "sits at the table already")
	f.Tasters = append(f.Tasters, v.Tasters[3].ID)
	flights := fmt.Sprintf("/api/trials/%d/flights", v.ID)
	for _, c := range []struct {
		spoil func(*table.FlightInput)
		words string
	}{
		{func(f *table.FlightInput) { f.Pieces = f.Pieces[:1] }, "1 samples"},
		{func(f *table.FlightInput) { f.Pieces = append(f.Pieces[:1:1], f.Pieces[0]) }, "is there twice"},
		{func(f *table.FlightInput) { f.Pieces = append(f.Pieces[:1:1], pieces("blade", 999)...) }, "not of this trial"},
		{func(f *table.FlightInput) { f.Tasters = append(f.Tasters[:2:2], 999) }, "not at this table"},
		{func(f *table.FlightInput) { f.Tasters = append(f.Tasters[:2:2], f.Tasters[0]) }, "is there twice"},
		{func(f *table.FlightInput) { f.Tasters = nil }, "nobody tastes"},
		{func(f *table.FlightInput) { f.Pieces = pieces("", f.Pieces[0].CutID, f.Pieces[1].CutID) }, "place"},
		{func(f *table.FlightInput) { f.Format = "stars" }, "is no format"},
		{func(f *table.FlightInput) { f.Duplicate, f.Format = true, panel.ByTriangle }, "only scores take"},
		{func(f *table.FlightInput) { f.CarverID = nil }, "nobody carves"},
		{func(f *table.FlightInput) { f.Shuffled = true }, "a carver is named"},
		{func(f *table.FlightInput) { f.CarverID, f.Shuffled = nil, true }, "for one taster who is alone"},
		{func(f *table.FlightInput) { f.WaterS = 4000 }, "seconds of water"},
		{func(f *table.FlightInput) { f.Rounds = 2 }, "one flight at a time"},
		{func(f *table.FlightInput) { f.Repeats = 4 }, "repeats are for a taster who is alone"},
		{func(f *table.FlightInput) { f.Open = []int64{999} }, "does not taste in this flight"},
	} {
		bad := f
		c.spoil(&bad)
		odalys.refused("POST", flights, bad, 422, c.words)
	}
	odalys.must("POST", flights, f, 201, &v)
	for i, b := range v.Ballots {
		if b.Open != (i == 3) {
			t.Errorf("ballot %d is open %v; the carver's alone is", i, b.Open)
		}
	}
	// She opens no plate of those she carves for, on any phone she is signed in on.
	tove.refused("POST", tove.link(v.Tasters[0])+"/open", nil, 403, "You carve for Ife")
	if p := tove.plate(v.Tasters[3]); !p.Plates[0].Open || p.Plates[0].Samples[0].Is == "" {
		t.Errorf("the carver's own plate is %+v; want it open, with what each is", p.Plates[0])
	}
}

func TestASealNeedsEveryAnswerOrAnExcuse(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
	full := map[string]int{"juiciness": 5, "bark": 5, "tenderness": 5, "overall": 5}
	code := v.Ballots[0].Codes[0]
	seal := odalys.sit(v.Tasters[0]) + "/samples/" + code + "/seal"
	for _, c := range []struct {
		in    table.SealInput
		words string
	}{
		{table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 5}}, "Bark or skin is unanswered"},
		{table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 0, "bark": 5, "tenderness": 5, "overall": 5}}, "0 is not on the rule"},
		{table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 5, "bark": 5, "tenderness": 5, "overall": 5, "sparkle": 9}}, "not asked"},
		{table.SealInput{Flight: 1, Scores: full, Excused: true}, "excused sample has scores"},
		{table.SealInput{Flight: 1, Scores: full, Faults: []string{"boring"}}, "not on the list"},
	} {
		odalys.refused("POST", seal, c.in, 422, c.words)
	}
	var p table.TasteView
	odalys.must("POST", seal, table.SealInput{Flight: 1, Excused: true}, 200, &p)
	odalys.must("POST", strings.Replace(seal, code, v.Ballots[0].Codes[1], 1), table.SealInput{Flight: 1, Scores: full, Faults: []string{"bitter"}}, 200, &p)
	if x := p.Plates[0].Samples; !x[0].Excused || x[0].Sealed || !x[1].Sealed {
		t.Errorf("the plate is %+v, want the first excused and the second sealed", x)
	}
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	if !v.Ballots[0].Locked || v.Ballots[1].Locked {
		t.Errorf("ballots are %+v, want the first locked alone", v.Ballots)
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/reveal", v.ID), table.RevealInput{Reason: "two tasters left"}, 200, &v)
	if v.RevealReason != "two tasters left" || v.RevealedAt == nil {
		t.Errorf("the trial keeps the reason %q", v.RevealReason)
	}
}
