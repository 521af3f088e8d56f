package server

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	coregate "whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// overCooks is a trial with two pairs in each of some cooks, one a day, on the same pit.
func (h hand) overCooks(a trial.Ask, cooks int) trials.TrialView {
	h.t.Helper()
	var v trials.TrialView
	h.must("POST", "/api/trials", a, 201, &v)
	for i := range 2 * cooks {
		for side, letter := range "LR" {
			arm := v.Ask.Arms[(i+side)%2].ID
			h.must("POST", at("/trials/%d/cuts", v.ID), match.CutInput{Name: fmt.Sprintf("%d%c", i+1, letter), Pair: fmt.Sprint(i + 1), ArmID: &arm}, 201, &v)
		}
	}
	for _, c := range v.Cuts {
		h.weigh(c.ID, "trimmed", "6 lb")
	}
	var pit store.Pit
	h.must("POST", "/api/pits", barn.NamedInput{Name: fmt.Sprint("Kiln ", v.ID)}, 201, &pit)
	for k := range cooks {
		cook := plan.PlanInput{ServeAt: time.Now().Add(time.Duration(24*k-24*cooks) * time.Hour), Runs: []plan.RunInput{{PitID: pit.ID, SetPoint: "250 F"}}}
		for _, c := range v.Cuts[4*k : 4*k+4] {
			cook.Placements = append(cook.Placements, plan.PlacementInput{CutID: c.ID})
		}
		h.must("POST", at("/trials/%d/cooks", v.ID), cook, 201, &v)
	}
	for k, cook := range v.Cooks {
		for _, press := range []struct {
			act logbook.Act
			ago float64
			d   logbook.Detail
		}{{logbook.On, 190, logbook.Detail{}}, {logbook.Probe, 15,
			logbook.Detail{Read: "203 F", Place: coregate.ColdestFound}}, {logbook.Pull, 10, logbook.Detail{}}} {
			when := time.Now().Add(-time.Duration(press.ago * float64(time.Minute)))
			in := fire.EventInput{Act: press.act, At: &when, Detail: press.d, Press: uuid.NewString()}
			if press.act == logbook.Probe {
				in.Detail.ReadN = 4
			}
			for _, c := range v.Cuts[4*k : 4*k+4] {
				in.CutIDs = append(in.CutIDs, c.ID)
			}
			h.must("POST", at("/cooks/%d/events", cook.ID), in, 201, nil)
		}
	}
	return h.again(v)
}

// seated has three tasters sit down at a trial's table.
func (h hand) seated(v trials.TrialView) trials.TrialView {
	h.t.Helper()
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		h.must("POST", at("/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	return v
}

// serve puts the cuts of one cook before three tasters, who score the first arm well over
// the other.
func (h hand) serve(v trials.TrialView, carver hand, carverID int64, cook int) trials.TrialView {
	h.t.Helper()
	f := table.FlightInput{CarverID: &carverID, Bites: 2}
	for _, c := range v.Cuts[4*cook : 4*cook+4] {
		f.Pieces = append(f.Pieces, table.PieceInput{CutID: c.ID, Place: "blade"})
	}
	for _, x := range v.Tasters {
		f.Tasters = append(f.Tasters, x.ID)
	}
	h.must("POST", at("/trials/%d/flights", v.ID), f, 201, &v)
	flight := v.Flights[len(v.Flights)-1]
	var lines []store.KeyLine
	carver.must("GET", at("/flights/%d/key", flight.ID), nil, 200, &lines)
	good := map[string]int{}
	for _, l := range lines {
		for i, c := range v.Cuts {
			if c.ID == l.CutID && *c.ArmID == v.Ask.Arms[0].ID {
				good[l.Code] = 2 + i%2
			}
		}
	}
	for n, x := range v.Tasters {
		for _, b := range v.Ballots {
			if b.FlightID != flight.ID || b.TasterID != x.ID {
				continue
			}
			for _, code := range b.Codes {
				scores := map[string]int{"juiciness": 5 + good[code], "bark": 6, "tenderness": 6 + n%2, "overall": 6}
				h.must("POST", h.sit(x)+"/samples/"+code+"/seal", table.SealInput{Flight: flight.Number, Scores: scores}, 200, nil)
			}
		}
	}
	return h.again(v)
}

// TestTheCodesOfOneCookCanBeOpened names a look, opens a cook early, goes on, and reads the
// whole: it counts as read twice, and what the look said stays.
func TestTheCodesOfOneCookCanBeOpened(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.seated(odalys.overCooks(lambAsk(), 2))
	first, second := v.Cooks[0].ID, v.Cooks[1].ID
	looks, name := at("/trials/%d/looks", v.ID), at("/trials/%d/looks/name", v.ID)
	odalys.refused("POST", name, table.LookInput{CookID: 999}, 422, "not of this trial")
	odalys.refused("POST", looks, table.LookInput{CookID: first}, 409, "Nothing of this cook has been tasted")
	odalys.must("POST", name, table.LookInput{CookID: first}, 201, nil)
	odalys.refused("POST", name, table.LookInput{CookID: second}, 409, "Another look is named already")

	v = odalys.serve(v, tove, carver.ID, 0)
	key := at("/flights/%d/key", v.Flights[0].ID)
	odalys.refused("GET", key, nil, 403, "Only the carver")
	odalys.must("POST", looks, table.LookInput{CookID: first}, 201, nil)
	odalys.refused("POST", looks, table.LookInput{CookID: first}, 409, "open already")
	odalys.must("GET", key, nil, 200, nil)
	odalys.refused("GET", at("/trials/%d/settle", v.ID), nil, 409, "closed")
	odalys.refused("PUT", at("/trials/%d/ask", v.ID), v.Ask, 409, "codes of a cook")

	early := v.Ballots[0].Codes
	v = odalys.serve(v, tove, carver.ID, 1)
	for _, x := range v.Ballots {
		for _, code := range x.Codes {
			if x.FlightID == v.Flights[1].ID && strings.Contains(fmt.Sprint(early), code) {
				t.Errorf("code %s, which everybody knows, is served again", code)
			}
		}
	}
	odalys.refused("GET", at("/flights/%d/key", v.Flights[1].ID), nil, 403, "Only the carver")
	odalys.must("POST", at("/trials/%d/reveal", v.ID), table.RevealInput{}, 200, &v)
	var r settle.View
	odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, &r)
	if len(r.Looks) != 1 || r.Looks[0].CookID != first || !strings.Contains(r.Looks[0].Headline, "this cook") {
		t.Errorf("the looks read %+v", r.Looks)
	}
	if !strings.Contains(r.Read, "Read 2 times, as planned") {
		t.Errorf("a trial read twice says %q", r.Read)
	}
	if p := r.Rows[0].Pairs[0]; p.Next.Word != verdict.Leaning || p.Next.Why != "two cooks: it leans at most" {
		t.Errorf("juiciness, alike in both cooks: the next cook %+v, want leaning", p.Next)
	}
	for range 40 {
		odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, nil)
	}
	if n := b.count("select (select count(*) from verdicts) + (select count(*) from verdict_versions)"); n != 1 {
		t.Errorf("forty reads left %d verdicts, want 1", n)
	}
}

// TestALookThatWasNotNamedCosts opens a cook that nobody named: nothing is said of it that
// would not hold at any number of looks.
func TestALookThatWasNotNamedCosts(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.seated(odalys.overCooks(lambAsk(), 2))
	v = odalys.serve(v, tove, carver.ID, 0)
	odalys.refused("POST", at("/trials/%d/looks/name", v.ID), table.LookInput{CookID: v.Cooks[0].ID}, 409, "too late to name")
	odalys.must("POST", at("/trials/%d/looks", v.ID), table.LookInput{CookID: v.Cooks[0].ID}, 201, nil)
	v = odalys.serve(v, tove, carver.ID, 1)
	odalys.must("POST", at("/trials/%d/reveal", v.ID), table.RevealInput{}, 200, &v)
	var r settle.View
	odalys.must("GET", at("/trials/%d/settle", v.ID), nil, 200, &r)
	if !strings.Contains(r.Read, "only what holds at any number of looks") {
		t.Errorf("a trial read twice unplanned says %q", r.Read)
	}
	if p := r.Rows[0].Pairs[0].Cooks; p.Word == verdict.Clear {
		t.Errorf("two pairs a cook after an unplanned look are %+v", p)
	}
}

// TestLaterTrialsStandBesideAVerdictNeverInstead settles one contrast three times: each
// reads with what the house knew then, and later ones stand beside.
func TestLaterTrialsStandBesideAVerdictNeverInstead(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	ask := lambAsk()
	ask.Outcomes = []trial.Chosen{{Key: trial.CookedYield, SmallestDifference: 2}}
	var all []trials.TrialView
	for n := range 3 {
		v := odalys.overCooks(ask, 1)
		for i, c := range v.Cuts {
			odalys.weigh(c.ID, "off", fmt.Sprintf("%d oz", 60+8*map[bool]int{true: 1}[*c.ArmID == v.Ask.Arms[0].ID]+(i*5+n)%4))
		}
		odalys.must("POST", at("/trials/%d/end", v.ID), barn.Why{Why: "weighed only"}, 200, nil)
		all = append(all, v)
	}
	for n, want := range []struct {
		cooks int
		word  verdict.Word
	}{{1, verdict.CannotTell}, {2, verdict.Leaning}, {3, verdict.Clear}} {
		var r settle.View
		odalys.must("GET", at("/trials/%d/settle", all[n].ID), nil, 200, &r)
		if next := r.Rows[0].Pairs[0].Next; next.Units[0] != want.cooks || next.Word != want.word {
			t.Errorf("trial %d reads the next cook as %q over %d cooks; want %d, %s", n+1, next.Word, next.Units[0], want.cooks, want.word)
		}
		switch {
		case n == 2 && r.Since != nil:
			t.Errorf("beside the last trial stands %q", r.Since.Result.Headline)
		case n < 2 && (r.Since == nil || r.Since.Because != "a later trial compared the same" || r.Since.Result.Rows[0].Pairs[0].Next.Word != verdict.Clear):
			t.Errorf("beside later trials trial %d reads %+v, want clear for the next cook", n+1, r.Since)
		}
	}
	// One for each later trial that changed the sentence, however often it is read.
	if n := b.count("select count(*) from verdict_versions"); n != 3 {
		t.Errorf("%d readings stand beside the first ones, want 3", n)
	}
}
