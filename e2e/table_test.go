package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/internal/store"
)

// served puts the first two ducks before the first three tasters.
func served(t *testing.T, s *store.Store) []store.Taster {
	t.Helper()
	cuts, err := s.Cuts(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	tasters, err := s.Tasters(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	carver := int64(2)
	flight := store.NewFlight{TrialID: 2, Format: panel.ByScores, CarverID: &carver, Bites: 2, WaterS: 60, Samples: []store.NewSample{
		{CutID: cuts[0].ID, Place: "thigh", Code: "418"}, {CutID: cuts[1].ID, Place: "thigh", Code: "265"}}}
	for _, x := range tasters[:3] {
		flight.Ballots = append(flight.Ballots, store.NewBallot{TasterID: x.ID, Order: []int{0, 1}})
	}
	if _, err := s.Serve(t.Context(), 1, flight); err != nil {
		t.Fatal(err)
	}
	return tasters
}

func TestCodesOpenedEarlyAreMarkedForGood(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	tasters := served(t, s)
	u.visit(site, "/trials/2/table", "aside", "Nothing is sealed yet")
	if off := u.find("[data-testid=reveal]").MustProperty("disabled").Bool(); !off {
		t.Error("the codes can be opened with nothing tasted")
	}
	plates, err := s.Plates(t.Context(), tasters[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Seal(t.Context(), plates[0].BallotID, plates[0].Servings[0].SampleID, store.Sealed{Scores: map[string]int{"overall": 7}}); err != nil {
		t.Fatal(err)
	}
	if err := s.NotifyChange(t.Context(), 2, "table"); err != nil {
		t.Fatal(err)
	}
	u.fill("#reveal-why", "the supper was called off")
	u.click("[data-testid=reveal]")
	u.click("[data-testid=reveal-sure]")
	u.at("settle")
	u.see(".answer", "Codes opened early: the supper was called off.")
	u.visit(site, "/trials/2/table", "[data-testid=panel-results]", "Nobody tasted every arm.")
	trial, err := s.Trial(t.Context(), 2)
	if err != nil || trial.RevealReason != "the supper was called off" {
		t.Errorf("the record keeps the reason %q (%v)", trial.RevealReason, err)
	}
}

// TestThePanelIsHeardByNameAndByNumber reads what five tasters said of a settled trial, and
// works the means out by hand: each tasted every sample, so they are the means of all scores.
func TestThePanelIsHeardByNameAndByNumber(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	scores, err := s.Scores(t.Context(), 3)
	if err != nil {
		t.Fatal(err)
	}
	var sum, n [2]float64
	for _, x := range scores[3][trial.Overall] {
		if x.Open { // the kitchen's is not counted
			continue
		}
		sum[x.Arm], n[x.Arm] = sum[x.Arm]+x.Value, n[x.Arm]+1
	}
	u.visit(site, "/trials/3/table", "[data-testid=panel-results]", "All 5 put PAPER first.")
	for arm, tag := range []string{"PAPER", "BARE"} {
		u.see(fmt.Sprintf("[data-testid=heard-overall] [data-mean=%s]", tag), fmt.Sprintf("%.1f", sum[arm]/n[arm]))
	}
	u.see("[data-testid=heard-tenderness]", "BARE for Ife.")
	u.see("[data-testid=panel-trust]", "Flight 4")

	// The crew reads the same means, and nobody's name.
	tove := as(t, site, "tove", 390, 844)
	tove.visit(site, "/trials/3/table", "[data-testid=heard-overall]", "Taster 5")
	tove.see("[data-testid=heard-overall] [data-mean=PAPER]", fmt.Sprintf("%.1f", sum[0]/n[0]))
	if text := tove.find("[data-testid=panel-results]").MustText(); strings.Contains(text, "Ife") || strings.Contains(text, "Marisol") {
		t.Errorf("the crew reads who said what: %s", text)
	}
}

// TestTheCodesOfOneCookAreOpenedFirst names a look, tastes, and opens the cook by the page.
func TestTheCodesOfOneCookAreOpenedFirst(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	cooks, err := s.Cooks(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	again := store.CookPlan{ServeAt: cooks[0].ServeAt.AddDate(0, 0, 1), Runs: []store.PitRun{{PitID: 1, SetPointC: 135, SetPointTyped: "275 F"}}}
	if _, err := s.CreateCook(t.Context(), 1, 2, again, trial.Clock{Origin: again.ServeAt, Start: time.Now(), Rate: 1}); err != nil {
		t.Fatal(err)
	}
	u.visit(site, "/trials/2/table", "[data-testid=cook-looks]", "One cook early")
	u.click("[data-testid=name-look]")
	u.see("[data-testid=cook-looks]", "Named beforehand as the early look")
	u.gone("[data-testid=name-look]")
	for _, x := range served(t, s)[:3] {
		plates, err := s.Plates(t.Context(), x.ID)
		if err != nil {
			t.Fatal(err)
		}
		for i, sample := range plates[0].Servings {
			if err := s.Seal(t.Context(), plates[0].BallotID, sample.SampleID, store.Sealed{Scores: map[string]int{"overall": 6 + i}}); err != nil {
				t.Fatal(err)
			}
		}
	}
	if err := s.NotifyChange(t.Context(), 2, "table"); err != nil {
		t.Fatal(err)
	}
	u.see("[data-testid=flight]", "locked")
	u.gone("details")
	u.click("[data-testid=open-look]")
	u.see("[data-testid=cook-looks]", "for good")
	u.click("[data-testid=look-sure]")
	u.see("[data-testid=cook-looks]", "Its codes are open since")
	u.see("details", "The key")
	u.see("details", "DRY")
	u.see("nav", "not revealed")
}

// TestWhatWasDoneIsUndone: a taster is sent home, the trial is ended, and both are undone.
func TestWhatWasDoneIsUndone(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.Expect("qr.png answered 404") // of a card that is just going
	u.visit(site, "/trials/2/table", "h1", "Seats")
	tasters, err := s.Tasters(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	u.click("button[aria-label='Remove " + tasters[0].Name + " from the table']")
	u.see("[data-testid=undo-strip]", tasters[0].Name+" left the table")
	u.gone("[data-testid=link-" + tasters[0].Name + "]")
	u.click("[data-testid=undo-last]")
	u.gone("[data-testid=undo-strip]")
	u.find("[data-testid=link-" + tasters[0].Name + "]")

	u.fill("#end-why", "weighed only")
	u.click("[data-testid=end-trial]")
	u.at("settle")
	u.see(".answer", "Ended with nothing tasted: weighed only.")
	u.see("[data-testid=outcome-overall]", "No verdict")
	u.Expect("/settle answered 409") // the page may ask once more while it is being undone
	u.click("[data-testid=undo-last]")
	u.gone("[data-testid=undo-strip]")
	trial, err := s.Trial(t.Context(), 2)
	if err != nil || trial.RevealedAt != nil {
		t.Errorf("undone, the trial is shut since %v (%v)", trial.RevealedAt, err)
	}
}

func TestTasterCanExcuseASampleAndComeBack(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	tasters, err := s.Tasters(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	u.visit(site, "/trials/2/table", "h1", "Seats")
	href := u.attribute(u.find("[data-testid=link-"+tasters[0].Name+"]"), "href")
	phone := open(t, site, href[len(site):], 390, 844)
	phone.see("h1", "Your plate is not served yet")
	served(t, s)
	phone.see("h1", "Before you taste") // it opens by itself
	phone.click("[data-testid=begin]")
	phone.see("[data-testid=code]", "418")
	phone.button("Can't score")
	phone.button("Yes, leave it out")
	phone.see("h1", "Water and bread")
	phone.MustReload()
	phone.see("[data-testid=code]", "265")
	for _, rule := range phone.MustElements("[role=slider]") {
		rule.MustFocus()
		rule.MustType(input.ArrowRight)
	}
	phone.button("Bitter")
	phone.click("[data-testid=seal]")
	phone.click("[data-testid=seal-sure]")
	phone.see("h1", "All sealed. Thank you.")
	u.see("[data-testid=flight]", "2 of 2") // the table hears of it by itself
	u.see("[data-testid=flight]", "locked")

	lost := open(t, site, "/taste/1-forged", 390, 844)
	lost.Expect("answered 404")
	lost.see("[data-testid=problem]", "no plate")
}
