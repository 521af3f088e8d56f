package e2e

import (
	"slices"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/store"
)

// burn has the cuts of a trial, by name, in a pit for three hours until ten minutes ago,
// by the clock of their cook.
func burn(t *testing.T, s *store.Store, k store.Cook, cuts []store.Cut) {
	t.Helper()
	now := k.Clock.Now(time.Now())
	for act, ago := range map[logbook.Act]time.Duration{logbook.On: 190 * time.Minute, logbook.Pull: 10 * time.Minute} {
		var events []store.Event
		press := uuid.NewString()
		for _, c := range cuts {
			events = append(events, store.Event{Act: act, At: now.Add(-ago), CutID: &c.ID, Press: press})
		}
		if err := s.Log(t.Context(), 1, events); err != nil {
			t.Fatal(err)
		}
	}
}

// roast hangs a roast in each arm of the demo's first trial, cooks them and returns them.
func roast(t *testing.T, s *store.Store) []store.Cut {
	t.Helper()
	asked, err := s.Trial(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	pits, err := s.Pits(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	plan := store.CookPlan{ServeAt: time.Now().Add(time.Hour), Runs: []store.PitRun{{PitID: pits[0].ID, SetPointC: units.FToC(250), SetPointTyped: "250 F"}}}
	for i, name := range []string{"A", "B"} {
		id, err := s.AddCut(t.Context(), 1, 1, store.Cut{Name: name, ArmID: &asked.Ask.Arms[i].ID})
		if err != nil {
			t.Fatal(err)
		}
		plan.Placements = append(plan.Placements, store.PlannedPlacement{CutID: id})
	}
	id, err := s.CreateCook(t.Context(), 1, 1, plan, trial.RealClock(time.Now()))
	if err != nil {
		t.Fatal(err)
	}
	cuts, err := s.Cuts(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	k, err := s.Cook(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	burn(t, s, k, cuts)
	return cuts
}

func TestGateOpensWithTheRecordedReasonOnly(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	// The ducks are poultry: no reason helps them.
	u.visit(site, "/trials/2/rest", "[data-testid=gate]", "No reason opens the table below it")
	u.see("[data-testid=cut-1L] .gate", "It was never on the fire.")
	if has, _, _ := u.HasR("button", "Serve anyway, with a reason"); has {
		t.Error("a reason is offered for poultry")
	}
	u.visit(site, "/trials/2/table", "h2", "Flights")
	u.click("[data-testid=prepare-flight]")
	u.choose("[data-testid=carver]", "Bram")
	for _, cut := range []string{"1L", "1R"} {
		u.click("#serve-" + cut)
	}
	u.Expect("/flights answered 422")
	u.click("[data-testid=serve]")
	u.see("[data-testid=problem]", "1L: It was never on the fire.")

	// The roast is whole red meat: the pitmaster's reason is asked for and kept.
	cuts := roast(t, s)
	u.visit(site, "/trials/1/rest", "[data-testid=gate]", "To be read: A, B")
	u.Expect("/events answered 422")
	u.enter(`input[aria-label="Reads, A"]`, "900 F")
	u.see("[data-testid=cut-A]", "ask the thermometer again")
	if got := u.find(`input[aria-label="Reads, A"]`).MustProperty("value").Str(); got != "900 F" {
		t.Errorf("what was refused reads %q, want it back to be mended", got)
	}
	u.enter(`input[aria-label="Reads, A"]`, "140 F")
	u.see("[data-testid=cut-A]", "It reached 140 F (coldest found) of 145 F")
	row := u.find("[data-testid=cut-A]")
	u.press("the reason", row.MustElementR("button", "Serve anyway, with a reason"))
	u.see("[role=dialog]", "B") // the other is like it
	u.Expect("/gate-reason answered 422")
	u.enter("#why", "-")
	u.see("[data-testid=problem]", "three letters or more")
	u.enter("#why", "the eaters chose it rare")
	for _, name := range []string{"A", "B"} {
		u.see("[data-testid=cut-"+name+"]", "the eaters chose it rare")
		u.see("[data-testid=cut-"+name+"]", "open")
	}
	reasons, err := s.GateReasons(t.Context(), 1)
	if err != nil || len(reasons) != 2 || reasons[0].By != "Odalys" || reasons[0].CutID != cuts[0].ID {
		t.Errorf("the record keeps %+v (%v)", reasons, err)
	}
	// Who eats of it is told first.
	for _, name := range []string{"Ife", "Joren", "Marisol"} {
		if _, err := s.AddTaster(t.Context(), 1, store.NewTaster{TrialID: 1, Name: name}); err != nil {
			t.Fatal(err)
		}
	}
	u.load(site, "/trials/1/table")
	u.click("[data-testid=prepare-flight]")
	u.choose("[data-testid=carver]", "Tove")
	u.see("form", "served by a reason: the eaters are told")
	u.click("[data-testid=serve]")
	href := u.attribute(u.find("[data-testid=link-Ife]"), "href")
	phone := open(t, site, href[len(site):], 390, 844)
	phone.click("[data-testid=begin]")
	phone.see("[data-testid=advice]", "below the usual minimum")
	phone.whole()
	phone.click("[data-testid=accept-advice]")
	phone.find("[data-testid=code]")
	other := u.attribute(u.find("[data-testid=link-Joren]"), "href")
	careful := open(t, site, other[len(site):], 390, 844)
	careful.click("[data-testid=begin]")
	careful.button("It is not for me")
	careful.click("[data-testid=leave-out]")
	careful.click("[data-testid=leave-out]")
	careful.see("h1", "All sealed")
}

// ducksCooked has the cuts of the ducks' cook on the fire and off it.
func ducksCooked(t *testing.T, s *store.Store) []store.Cut {
	t.Helper()
	cooks, err := s.Cooks(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	cuts, err := s.Cuts(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	burn(t, s, cooks[0], cuts)
	return cuts
}

// TestAStoppedCodeIsStruckEverywhere serves a flight, reads 98 F in one cut, and looks
// at a taster's phone, the carver's key and the pitmaster's table.
func TestAStoppedCodeIsStruckEverywhere(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	cuts := ducksCooked(t, s)
	u.visit(site, "/trials/2/rest", "[data-testid=cut-1L] .gate", "No temperature was read in it")
	for _, c := range cuts {
		u.enter(`input[aria-label="Reads, `+c.Name+`"]`, "175")
		u.see("[data-testid=cut-"+c.Name+"] .gate", "open")
	}
	u.whole()
	u.visit(site, "/trials/2/table", "h2", "Flights")
	u.click("[data-testid=prepare-flight]")
	u.choose("[data-testid=carver]", "Tove")
	u.click("[data-testid=serve]")
	u.see("[data-testid=flight]", "6 samples, carved by Tove")
	href := u.attribute(u.find("[data-testid=link-Ife]"), "href")
	phone := open(t, site, href[len(site):], 390, 844)
	phone.click("[data-testid=begin]")
	phone.find("[data-testid=code]")
	tove := as(t, site, "tove", 1280, 800)
	tove.visit(site, "/trials/2/table", "h2", "Flights")
	tove.button("The carver's key")
	code := ""
	for _, row := range tove.find("details.key tbody").MustElements("tr") {
		if cells := row.MustElements("td"); cells[1].MustText() == "1L" {
			code = cells[0].MustText()
		}
	}
	if len(code) != 3 {
		t.Fatalf("the carver's key has %q for 1L", code)
	}

	u.visit(site, "/trials/2/rest", "[data-testid=cut-1L] .gate", "open")
	u.enter(`input[aria-label="Reads, 1L"]`, "98")
	u.see("[data-testid=struck]", "Do not eat "+code)
	phone.see("[data-testid=do-not-eat]", "Do not eat "+code)
	phone.whole()
	tove.see("details.key", code+" do not eat")
	tove.see("[data-testid=struck]", "Do not eat "+code)
	u.visit(site, "/trials/2/table", "[data-testid=struck]", "Do not eat "+code)
	u.find("[data-testid=flight] s")
	u.whole()
}

// TestWhatMeatItIsIsAskedOnce finds a trial of before, whose meat was filled in by itself.
func TestWhatMeatItIsIsAskedOnce(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 800)
	if _, err := s.Pool().Exec(t.Context(), "update trials set meat_confirmed_at = null, meat_confirmed_by = null where id = 2"); err != nil {
		t.Fatal(err)
	}
	u.visit(site, "/trials/2/rest", "[data-testid=meat]", "poultry, whole muscle: is that so?")
	u.click("[data-testid=change-meat]")
	u.choose(".p-dialog [data-testid=species]", "red meat")
	u.Expect("/meat answered 409")
	u.click("[data-testid=save-meat]")
	u.see(".p-dialog", "Only the pitmaster can say so")
	u.key(input.Escape)
	u.click("[data-testid=confirm-meat]")
	u.see("[data-testid=meat]", "The meat: poultry, whole muscle")
	kept, err := s.Trial(t.Context(), 2)
	if err != nil || !kept.Ask.MeatConfirmed || kept.Ask.Meat() != (safety.Meat{Species: safety.Poultry, Handling: safety.Intact}) {
		t.Errorf("the record keeps %+v (%v)", kept.Ask.Meat(), err)
	}
}

// TestASecondHandSignsWhatOpensTheGate has Odalys ask for a change that would open the
// gate, and Tove sign it on her screen.
func TestASecondHandSignsWhatOpensTheGate(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	ducksCooked(t, s)
	u.visit(site, "/trials/2/rest", "[data-testid=cut-1L] .gate", "No temperature was read in it")
	u.enter(`input[aria-label="Reads, 1L"]`, "175")
	u.see("[data-testid=cut-1L] .gate", "open")
	u.enter(`input[aria-label="Reads, 1L"]`, "130")
	u.see("[data-testid=cut-1L] .gate", "130 F was read by hand (coldest found), lower than what passed it.")
	events, err := s.Events(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	wrong := events[len(events)-1]
	u.visit(site, "/trials/2/fire", "[data-testid=event-log]", "130 F")
	if _, err := u.Eval(`(press) => fetch('/api/presses/' + press + '/void', {method: 'POST', headers: {'Content-Type': 'application/json'}, body: '{"why":"read in the pan"}'})`, wrong.Press); err != nil {
		t.Fatal(err)
	}
	u.visit(site, "/trials/2/fire", "[data-testid=pending]", "Odalys asks to take back “probe")
	if has, _, _ := u.Has("[data-testid=sign]"); has {
		t.Error("who asks may sign")
	}
	tove := as(t, site, "tove", 1280, 800)
	tove.visit(site, "/trials/2/rest", "[data-testid=pending]", "read in the pan")
	tove.whole()
	tove.click("[data-testid=sign]")
	tove.see("[data-testid=cut-1L] .gate", "open")
	u.visit(site, "/trials/2/rest", "[data-testid=cut-1L] .gate", "open")
}

// TestTheBarnsLinesAreSetOnTheCrewPage makes the line for poultry stricter.
func TestTheBarnsLinesAreSetOnTheCrewPage(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/crew", "[data-testid=safety-lines]", "As the guidance has them")
	u.fill("#line-poultry_c", "160")
	u.fill("#line-why", "the county asks for more")
	u.Expect("/safety-lines answered 422")
	u.click("[data-testid=save-lines]")
	u.see("[data-testid=safety-lines]", "looser than the guidance")
	u.fill("#line-poultry_c", "170")
	u.click("[data-testid=save-lines]")
	u.see("[data-testid=safety-lines]", "Set by Odalys")
	u.whole()
	u.visit(site, "/trials/2/rest", "[data-testid=gate]", "170 F in every place that is read")
}

// TestTheKeyOfADrawAsksUnderTheFire presses D over a burning cook: nothing moves until the
// pitmaster gave a reason, and a second ask over the same is shown, not lost.
func TestTheKeyOfADrawAsksUnderTheFire(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	arms := func() (out []int64) {
		cuts, err := s.Cuts(t.Context(), 4)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range cuts {
			out = append(out, *c.ArmID)
		}
		return out
	}
	u.visit(site, "/trials/4/match", "h1", "12 shoulders")
	before := arms()
	u.key(input.KeyD)
	u.see(".p-dialog", "Drawing the arms anew now changes what is compared")
	u.button("Leave it")
	u.gone(".p-dialog")
	if !slices.Equal(before, arms()) {
		t.Error("a key moved cuts of a burning cook")
	}

	u.visit(site, "/trials/4/ask", "[data-testid=keep-ask]", "Save")
	u.fill("#question", "Paper, pan or nothing?")
	u.see("[data-testid=unsaved]", "Not saved yet")
	if _, err := u.Eval(`async () => {
		const t = await fetch('/api/trials/4').then(r => r.json())
		await fetch('/api/trials/4/ask', {method: 'PUT', headers: {'Content-Type': 'application/json'}, body: JSON.stringify({...t.ask, question: 'Whose words?'})})
	}`); err != nil {
		t.Fatal(err)
	}
	u.Expect("answered 409")
	u.click("[data-testid=keep-ask]")
	u.see("[data-testid=theirs]", "Whose words?")
	u.button("Go on with mine")
	u.click("[data-testid=keep-ask]")
	u.see("[role=status]", "saved")
	kept, err := s.Trial(t.Context(), 4)
	if err != nil || kept.Ask.Question != "Paper, pan or nothing?" {
		t.Errorf("the record keeps %q (%v)", kept.Ask.Question, err)
	}
	// What is typed is here again after the page was loaded anew.
	u.fill("#question", "Typed, and not kept")
	u.see("[data-testid=unsaved]", "Not saved yet")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => (localStorage.getItem('barn.drafts') ?? '').includes('Typed, and not kept')`)); err != nil {
		t.Fatal("what was typed is not kept on the device")
	}
	u.MustReload()
	u.see("[data-testid=unsaved]", "What you typed before is here again")
	u.button("Let it go")
	u.gone("[data-testid=unsaved]")
}
