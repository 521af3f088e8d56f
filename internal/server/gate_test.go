package server

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	coregate "whitebarn/core/gate"
	"whitebarn/core/logbook"
	coreprep "whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

func (h hand) gateOf(trialID int64) gate.GateView {
	h.t.Helper()
	var g gate.GateView
	h.must("GET", fmt.Sprintf("/api/trials/%d/gate", trialID), nil, 200, &g)
	return g
}

func meat(species safety.Species, handling safety.Handling) store.TrialMeat {
	return store.TrialMeat{Meat: safety.Meat{Species: species, Handling: handling}}
}

// TestWhatMeatItIsOnlyGetsStricterUnderTheFire walks through who may say what meat a
// trial is of, and when.
func TestWhatMeatItIsOnlyGetsStricterUnderTheFire(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, _ := b.join(odalys, "Tove", store.Crew)
	ask := lambAsk()
	ask.Species, ask.Handling = "", ""
	v := odalys.trialOf(ask, 1)
	path := fmt.Sprintf("/api/trials/%d/meat", v.ID)
	if g := odalys.gateOf(v.ID); g.Confirmed || g.Locked || g.Cuts[0].Stops[0].Key != "meat" {
		t.Errorf("with nothing chosen the gate says %+v", g)
	}
	tove.refused("PUT", path, gate.MeatInput{TrialMeat: meat("tofu", safety.Intact)}, 422, "not a kind of meat")
	tove.refused("PUT", path, gate.MeatInput{TrialMeat: store.TrialMeat{Meat: safety.Meat{Species: safety.RedMeat, Handling: safety.Intact},
		WholeBird: true}}, 422, "whole bird")
	tove.must("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Intact)}, 200, nil)
	tove.must("PUT", path, gate.MeatInput{TrialMeat: meat(safety.Poultry, safety.Intact)}, 200, nil)
	tove.refused("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Intact), Why: "it was a slip"}, 409, "Only the pitmaster")
	odalys.refused("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Intact), Why: "--"}, 422, "three letters")
	odalys.must("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Intact), Why: "it was a slip"}, 200, nil)
	// The ask itself changes nothing of it.
	ask = v.Ask
	ask.Species, ask.MeatConfirmed, ask.MeatWhy = safety.Fish, true, "because"
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/ask", v.ID), ask, 200, &v)
	if v.Ask.Species != safety.RedMeat || v.Ask.MeatWhy != "it was a slip" {
		t.Errorf("an ask makes the meat %s (%q)", v.Ask.Species, v.Ask.MeatWhy)
	}
	v = odalys.cooked(v, "203 F")
	tove.must("PUT", path, gate.MeatInput{TrialMeat: meat(safety.Poultry, safety.Minced)}, 200, nil)
	odalys.refused("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Minced), Why: "back again"}, 409, "only gets stricter")
	g := odalys.gateOf(v.ID)
	if len(g.Changes) != 4 || g.Changes[2].Why != "it was a slip" || g.Changes[2].By != "Odalys" || !g.Locked {
		t.Errorf("the changes are kept as %+v", g.Changes)
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/end", v.ID), barn.Why{Why: "weighed only"}, 200, nil)
	tove.refused("PUT", path, gate.MeatInput{TrialMeat: meat(safety.Poultry, safety.Stuffed)}, 409, "codes are open")
	var r struct{ Limits []struct{ Text string } }
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/settle", v.ID), nil, 200, &r)
	if !strings.Contains(fmt.Sprint(r.Limits), "from poultry, intact to red meat, intact: it was a slip.") {
		t.Errorf("the verdict does not name the change: %v", r.Limits)
	}
}

func TestWordsOfTheProductAskForThePitmaster(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, _ := b.join(odalys, "Tove", store.Crew)
	ask := lambAsk()
	ask.Product, ask.Cut = "chicken thighs", "thigh"
	v := odalys.trialOf(ask, 1)
	path := fmt.Sprintf("/api/trials/%d/meat", v.ID)
	g := odalys.gateOf(v.ID)
	if g.Confirmed || len(g.Asked) != 3 || g.Asked[0].Word != "chicken" || g.Asked[0].Species != safety.Poultry {
		t.Errorf("chicken thighs called red meat: %+v", g)
	}
	tove.refused("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Intact)}, 409, "Only the pitmaster")
	odalys.refused("PUT", path, gate.MeatInput{TrialMeat: meat(safety.RedMeat, safety.Intact)}, 422, "the product says “chicken”")
	tove.must("PUT", path, gate.MeatInput{TrialMeat: meat(safety.Poultry, safety.Intact)}, 200, nil)
	if g = odalys.gateOf(v.ID); !g.Confirmed || len(g.Asked) != 0 || g.Arms[0].Minimum.F != 165 {
		t.Errorf("once it is poultry: %+v", g)
	}
}

// TestANeedleMakesItsArmPierced: the gate goes by the arm's doses, and by what each cut
// went on the fire as, whatever is planned later.
func TestANeedleMakesItsArmPierced(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	o := v.Outline
	o.Arms[0].Doses = []coreprep.Dose{{Kind: coreprep.Injection, Name: "salt water", Share: 0.1, Strength: 0.05, SpacingCM: 3}}
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), o, 200, &v)
	g := odalys.gateOf(v.ID)
	if g.Arms[0].Meat.Handling != safety.Pierced || g.Arms[1].Meat.Handling != safety.Intact {
		t.Errorf("with a needle in one arm the arms are %+v", g.Arms)
	}
	v = odalys.cooked(v, "150 F")
	o.Arms[0].Doses = nil
	odalys.refused("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), o, 422, "no longer be injected")
	// What is planned for the other arm once its cut was pulled was never in it, and comes out again.
	late := v.Outline
	late.Arms = slices.Clone(late.Arms)
	late.Arms[1].Doses = []coreprep.Dose{{Kind: coreprep.Injection, Name: "salt water", Share: 0.1, Strength: 0.05, SpacingCM: 3}}
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), late, 200, &v)
	for _, c := range odalys.gateOf(v.ID).Cuts {
		i := slices.IndexFunc(v.Cuts, func(k trials.CutView) bool { return k.ID == c.CutID })
		if want := map[bool]safety.Handling{true: safety.Pierced, false: safety.Intact}[*v.Cuts[i].ArmID == v.Ask.Arms[0].ID]; c.Meat.Handling != want {
			t.Errorf("with a dose planned after the pull cut %d is %s, want %s", c.CutID, c.Meat.Handling, want)
		}
	}
	late.Arms[1].Doses = nil
	odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), late, 200, &v)
	injected := v.Cuts[slices.IndexFunc(v.Cuts, func(c trials.CutView) bool { return *c.ArmID == v.Ask.Arms[0].ID })]
	// Moved to the other arm it is still what went on the fire.
	odalys.must("PUT", fmt.Sprintf("/api/cuts/%d", injected.ID), match.CutInput{Name: injected.Name, Pair: "1", ArmID: &v.Ask.Arms[1].ID,
		Why: "the tags were swapped"}, 200, nil)
	for _, c := range odalys.gateOf(v.ID).Cuts {
		if c.CutID == injected.ID && (c.Meat.Handling != safety.Pierced || c.Finding != safety.Below) || c.CutID != injected.ID && c.Finding != safety.Met {
			t.Errorf("at 150 F cut %d is %+v", c.CutID, c.Ruling)
		}
	}
}

func TestAReadingThatNoMeatHasIsRefused(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	odalys.log(v, logbook.On, 60, logbook.Detail{}, v.Cuts[0].ID)
	events := fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID)
	for _, read := range []string{"203 C", "600 C", "900 F"} {
		press := fire.EventInput{Act: logbook.Probe, Detail: logbook.Detail{Read: read}, CutIDs: []int64{v.Cuts[0].ID}, Press: "4b4c2c1e-7f1a-4b56-9f19-0c5f2f4f2a01"}
		odalys.refused("POST", events, press, 422, "ask the thermometer again")
	}
	v = odalys.log(v, logbook.Probe, 5, logbook.Detail{Read: "150 F"}, v.Cuts[0].ID)
	last := v.Events[len(v.Events)-1]
	odalys.refused("PUT", "/api/presses/"+last.Press, fire.CorrectionInput{At: last.At, Detail: logbook.Detail{Read: "900 F"},
		Press: "4b4c2c1e-7f1a-4b56-9f19-0c5f2f4f2a02"}, 422, "hotter than meat gets")
}

// TestOneReadingIsOfThePieceItWasTakenOf: a number for several pieces is asked how many were read.
func TestOneReadingIsOfThePieceItWasTakenOf(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	var ids []int64
	for _, c := range v.Cuts {
		ids = append(ids, c.ID)
	}
	odalys.log(v, logbook.On, 60, logbook.Detail{}, ids...)
	events := fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID)
	press := fire.EventInput{Act: logbook.Probe, Detail: logbook.Detail{Read: "178 F"}, CutIDs: ids, Press: "4b4c2c1e-7f1a-4b56-9f19-0c5f2f4f2b01"}
	odalys.refused("POST", events, press, 422, "one reading for 4 pieces")
	press.Detail.ReadN = 2
	odalys.refused("POST", events, press, 422, "three or more of them")
	press.Detail.ReadN, press.Detail.Read = 3, "178-190 F"
	odalys.must("POST", events, press, 201, nil)
	for _, c := range odalys.gateOf(v.ID).Cuts {
		if p := c.Places[0]; !p.Passed || p.C > 81.2 {
			t.Errorf("the coldest of three, 178 F, shows %+v", p)
		}
	}
	press = fire.EventInput{Act: logbook.Probe, Detail: logbook.Detail{Feel: logbook.Tender}, CutIDs: ids, Press: "4b4c2c1e-7f1a-4b56-9f19-0c5f2f4f2b02"}
	odalys.must("POST", events, press, 201, nil) // a feel is no temperature
}

// TestAServedCutIsStoppedAtOnce serves a flight, and then 98 F is read in one cut.
func TestAServedCutIsStoppedAtOnce(t *testing.T) {
	t.Parallel()
	odalys, tove, v, f := tableOf(t, 1)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
	var key []store.KeyLine
	tove.must("GET", fmt.Sprintf("/api/flights/%d/key", v.Flights[0].ID), nil, 200, &key)
	scores := map[string]int{"juiciness": 5, "bark": 5, "tenderness": 5, "overall": 5}
	path := odalys.sit(v.Tasters[0])
	sealed, other := key[0], key[1]
	odalys.must("POST", path+"/samples/"+other.Code+"/seal", table.SealInput{Flight: 1, Scores: scores}, 200, nil)
	odalys.log(v, logbook.Probe, 0, logbook.Detail{Read: "98 F"}, sealed.CutID)
	plate := odalys.plate(v.Tasters[0])
	for _, s := range plate.Plates[0].Samples {
		if s.Struck != (s.Code == sealed.Code) {
			t.Errorf("after 98 F in %s the sample is %+v", sealed.Code, s)
		}
	}
	odalys.refused("POST", path+"/samples/"+sealed.Code+"/seal", table.SealInput{Flight: 1, Scores: scores}, 409, "Do not eat "+sealed.Code)
	odalys.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &v)
	for _, ballot := range v.Ballots {
		if want := map[bool]int{true: 2, false: 1}[ballot.TasterID == v.Tasters[0].ID]; ballot.Closed != want || ballot.Locked != (want == 2) {
			t.Errorf("the ballot of taster %d is %+v", ballot.TasterID, ballot)
		}
	}
	g := tove.gateOf(v.ID)
	if len(g.Struck) != 1 || g.Struck[0].Code != sealed.Code {
		t.Errorf("the gate tells of %+v", g.Struck)
	}
	// Taking the reading back brings the code back to nobody.
	last := v.Events[len(v.Events)-1]
	odalys.must("POST", "/api/presses/"+last.Press+"/void", barn.Why{Why: "read in the wrong meat"}, 200, nil)
	if p := odalys.plate(v.Tasters[0]); !p.Plates[0].Samples[0].Struck && !p.Plates[0].Samples[1].Struck {
		t.Error("a struck code is served again")
	}
}

// threeHoursOut has two hands, and two birds on the fire that lay three hours on the bench and
// were read once; no reason opens the gate to them.
func threeHoursOut(t *testing.T, read string) (odalys, tove hand, v trials.TrialView, ids []int64) {
	t.Helper()
	b, odalys := newBarn(t)
	tove, _ = b.join(odalys, "Tove", store.Crew)
	ask := lambAsk()
	ask.Species = safety.Poultry
	v = odalys.trialOf(ask, 1)
	ids = []int64{v.Cuts[0].ID, v.Cuts[1].ID}
	odalys.log(v, logbook.On, 190, logbook.Detail{OutMin: 180}, ids...)
	return odalys, tove, odalys.log(v, logbook.Probe, 15, logbook.Detail{Read: read, Place: coregate.ColdestFound}, ids...), ids
}

// TestWhatIsShutOpensByTwo: a correction that opens the gate waits for a second hand.
func TestWhatIsShutOpensByTwo(t *testing.T) {
	t.Parallel()
	odalys, tove, v, ids := threeHoursOut(t, "175 F")
	// Before it is pulled nothing is shut yet: a slip of the key is set right by one.
	v = odalys.log(v, logbook.Spritz, 100, logbook.Detail{}, ids...)
	odalys.must("POST", "/api/presses/"+v.Events[2].Press+"/void", barn.Why{Why: "not done"}, 200, nil)
	v = odalys.again(v)
	v = odalys.log(v, logbook.Pull, 10, logbook.Detail{}, ids...)
	stops := odalys.gateOf(v.ID).Cuts[0].Stops
	if len(stops) != 1 || stops[0].Key != "out" || stops[0].Opens != coregate.ByVoiding {
		t.Fatalf("three hours on the bench stop %+v", stops)
	}
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), reasonFor("looks fine", ids[0]), 409, "No reason opens")
	on := v.Events[0]
	to := fire.CorrectionInput{At: on.At, Detail: logbook.Detail{OutMin: 18}, Press: "4b4c2c1e-7f1a-4b56-9f19-0c5f2f4f2a03"}
	var said fire.Logged
	odalys.must("PUT", "/api/presses/"+on.Press, to, 200, &said)
	if !said.Waits || len(said.Gone) > 0 || len(said.Events) == 0 || said.Events[0].Press != on.Press {
		t.Errorf("who asked is told %+v, want that it waits and the press stands", said)
	}
	g := tove.gateOf(v.ID)
	if len(g.Pending) != 1 || g.Pending[0].By != "Odalys" || g.Cuts[0].Open {
		t.Fatalf("the correction waits as %+v, the gate is open: %v", g.Pending, g.Cuts[0].Open)
	}
	sign := fmt.Sprintf("/api/pending-changes/%d/sign", g.Pending[0].ID)
	odalys.refused("POST", sign, gate.SignInput{Yes: true}, 409, "yourself")
	tove.must("POST", sign, gate.SignInput{Yes: true}, 200, nil)
	if g = tove.gateOf(v.ID); len(g.Pending) != 0 || !g.Cuts[0].Open || !g.Cuts[1].Open {
		t.Errorf("signed by two the gate says %+v", g)
	}
	tove.refused("POST", sign, gate.SignInput{Yes: true}, 404, "")
}

// TestWhatOnlyVoidingOpensIsTakenAwayByTwo: the three hours on the bench are corrected while
// the bird is on the fire and still cold, so that the gate stays shut; it waits all the same.
func TestWhatOnlyVoidingOpensIsTakenAwayByTwo(t *testing.T) {
	t.Parallel()
	odalys, tove, v, _ := threeHoursOut(t, "120 F")
	keys := func() (out []string) {
		for _, s := range tove.gateOf(v.ID).Cuts[0].Stops {
			out = append(out, s.Key)
		}
		return out
	}
	on := v.Events[0]
	to := fire.CorrectionInput{At: on.At, Detail: logbook.Detail{OutMin: 18}, Press: "4b4c2c1e-7f1a-4b56-9f19-0c5f2f4f2a04"}
	odalys.must("PUT", "/api/presses/"+on.Press, to, 200, nil)
	g := tove.gateOf(v.ID)
	if len(g.Pending) != 1 || !slices.Contains(keys(), "out") {
		t.Fatalf("the correction waits as %+v, the stops are %v", g.Pending, keys())
	}
	tove.must("POST", fmt.Sprintf("/api/pending-changes/%d/sign", g.Pending[0].ID), gate.SignInput{Yes: true}, 200, nil)
	if slices.Contains(keys(), "out") {
		t.Errorf("signed by two the stops are %v", keys())
	}
}

func TestTheBarnsOwnLinesAreSetWithAReason(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, _ := b.join(odalys, "Tove", store.Crew)
	v := odalys.cooked(odalys.trialOf(lambAsk(), 1), "150 F")
	lines := safety.Usual
	lines.IntactC = 68.3333
	tove.refused("POST", "/api/safety-lines", gate.LinesInput{Lines: lines, Why: "the county asks for it"}, 403, "")
	odalys.refused("POST", "/api/safety-lines", gate.LinesInput{Lines: lines, Why: "."}, 422, "three letters")
	looser := safety.Usual
	looser.PoultryC = 70
	odalys.refused("POST", "/api/safety-lines", gate.LinesInput{Lines: looser, Why: "we always did"}, 422, "looser than the guidance")
	if !odalys.gateOf(v.ID).Cuts[0].Open {
		t.Error("150 F does not do by the usual line of 145 F")
	}
	var set store.BarnLines
	odalys.must("POST", "/api/safety-lines", gate.LinesInput{Lines: lines, Why: "the county asks for it"}, 201, &set)
	if set.By != "Odalys" || set.Why != "the county asks for it" || set.At == nil {
		t.Errorf("the lines are kept as %+v", set)
	}
	if g := odalys.gateOf(v.ID); g.Cuts[0].Open || g.Cuts[0].Minimum.Timed {
		t.Errorf("150 F does by the barn's own line of 155 F: %+v", g.Cuts[0])
	}
}

func reasonFor(why string, cuts ...int64) gate.ReasonInput {
	return gate.ReasonInput{CutsInput: gate.CutsInput{Cuts: cuts}, Why: why}
}

// TestOneReasonOpensTheGateToManyCuts gives a reason for all cuts at once, and takes it back.
func TestOneReasonOpensTheGateToManyCuts(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.cooked(odalys.trialOf(lambAsk(), 1), "135 F")
	var ids []int64
	for _, c := range v.Cuts {
		ids = append(ids, c.ID)
	}
	path := fmt.Sprintf("/api/trials/%d/gate-reason", v.ID)
	open := func() (n int) {
		for _, c := range odalys.gateOf(v.ID).Cuts {
			if c.Open {
				n++
			}
		}
		return n
	}
	odalys.refused("POST", path, reasonFor("eaters chose it pink", append(ids, 999)...), 404, "no such thing")
	if open() != 0 {
		t.Fatal("a reason for a cut that is not there opens others")
	}
	odalys.must("POST", path, reasonFor("eaters chose it pink", append(ids, ids...)...), 201, nil)
	if open() != len(ids) {
		t.Fatalf("one reason opens the gate to %d of %d cuts", open(), len(ids))
	}
	odalys.must("POST", path+"/undo", gate.CutsInput{Cuts: ids[:1]}, 200, nil)
	if open() != len(ids)-1 {
		t.Fatalf("taken back for one, it stands for %d of %d", open(), len(ids))
	}
	odalys.refused("POST", path+"/undo", gate.CutsInput{Cuts: ids[:1]}, 409, "No reason was given for it")
	odalys.refused("POST", path+"/undo", gate.CutsInput{Cuts: []int64{999}}, 404, "no such thing")
}

func TestASusceptibleTasterLeavesItOut(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	_, carver := b.join(odalys, "Tove", store.Crew)
	v := odalys.cooked(odalys.trialOf(lambAsk(), 1), "135 F")
	f := table.FlightInput{CarverID: &carver.ID, Bites: 2}
	for _, n := range []string{"Ife", "Joren", "Marisol"} {
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
	}
	for _, x := range v.Tasters {
		f.Tasters = append(f.Tasters, x.ID)
	}
	for _, c := range v.Cuts {
		f.Pieces = append(f.Pieces, table.PieceInput{CutID: c.ID, Place: "blade"})
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/gate-reason", v.ID), reasonFor("eaters chose it pink", c.ID), 201, nil)
	}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
	path := odalys.sit(v.Tasters[0])
	var plate table.TasteView
	odalys.must("POST", path+"/told", table.ToldInput{Flight: 1, Susceptible: true}, 200, &plate)
	odalys.must("POST", path+"/told", table.ToldInput{Flight: 1}, 200, &plate) // said once it stays
	seal := path + "/samples/" + plate.Plates[0].Samples[0].Code + "/seal"
	odalys.refused("POST", seal, table.SealInput{Flight: 1, Scores: map[string]int{"juiciness": 5, "bark": 5, "tenderness": 5, "overall": 5}}, 409,
		"leave the sample out")
	odalys.must("POST", seal, table.SealInput{Flight: 1, Excused: true}, 200, &plate)
	if !plate.Plates[0].Samples[0].Excused || !plate.Plates[0].Susceptible {
		t.Errorf("left out it is %+v", plate.Plates[0])
	}
}
