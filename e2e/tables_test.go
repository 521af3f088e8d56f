package e2e

import (
	"fmt"
	"strings"
	"testing"
	"whitebarn/core/panel"
	"whitebarn/internal/store"

	"github.com/go-rod/rod/lib/input"
)

// TestTwoCooksTasteInTheOpen is marked, leans at most, and ends with paper typed in.
func TestTwoCooksTasteInTheOpen(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	roastTable(t, s)
	u.visit(site, "/trials/1/table", "h1", "Seats")
	u.enter("[data-testid=taster-name]", "bram k.")
	u.Expect("/tasters answered 422")
	u.see("[data-testid=who-is-it]", "Is this Bram of the crew?")
	u.click("[data-testid=is-crew]")
	u.find("[data-testid=seat-Bram]")
	u.enter("[data-testid=taster-name]", "Odalys")
	u.find("[data-testid=seat-Odalys]")
	u.click("[data-testid=prepare-flight]")
	u.choose("[data-testid=carver]", "nobody: all of us know, in the open")
	u.see("[data-testid=serve-form]", "In the open")
	u.click("[data-testid=serve]")
	u.see("[data-testid=row-Bram]", "open")
	phone := phoneOf(t, u, site, "Bram")
	phone.see(".is", "You know it is")
	u.click("[data-testid=pause]")
	phone.see("[data-testid=paused]", "A short pause")
	u.click("[data-testid=pause]")
	phone.see(".is", "You know it is")
	phone.score(8)
	phone.click("[data-testid=go-on]")
	phone.score(4)
	phone.see("[data-testid=thanks]", "All sealed")
	// Odalys wrote hers on paper: a sheet is printed, and typed in twice.
	u.click("[data-testid=print-ballots]")
	u.see("[data-testid=paper-of-Odalys]", "Overall liking")
	u.whole()
	u.button("Back to Table")
	u.click("[data-testid=type-paper]")
	u.choose("[data-testid=paper-taster]", "Odalys")
	plates, err := s.Plates(t.Context(), odalysTaster(t, s))
	if err != nil {
		t.Fatal(err)
	}
	one, two := plates[0].Servings[0].Code, plates[0].Servings[1].Code
	typed := func(keys ...input.Key) {
		u.find("[data-testid=paper-" + one + "-smoke]").MustFocus()
		for _, k := range keys { // one key a score: the next cell takes the next
			if err := u.Keyboard.Type(k); err != nil {
				t.Fatal(err)
			}
			u.MustEval(`() => new Promise(r => requestAnimationFrame(() => r(true)))`)
		}
		u.click("[data-testid=paper-keep]")
	}
	typed(input.Digit5, input.Digit7, input.Digit5)
	u.Expect("/paper answered 422")
	u.see("[data-testid=problem]", "Overall liking is unanswered")
	typed(input.Digit5, input.Digit7, input.Digit5, input.Digit4)
	u.see("[data-testid=paper-said]", "Odalys is kept")
	u.see("[data-testid=row-Odalys]", "paper")
	typed(input.Digit5, input.Digit7, input.Digit5, input.Digit3)
	u.see("[data-testid=paper-said]", two+" read otherwise the first time")
	typed(input.Digit5, input.Digit7, input.Digit5, input.Digit4)
	u.see("[data-testid=paper-said]", "the same as the first time")
	u.click("[data-testid=reveal]")
	u.click("[data-testid=reveal-sure]")
	u.at("settle")
	u.see("[data-testid=limit]", "The tasting was open")
	if text := u.find("[data-testid=headline]").MustText(); strings.Contains(text, "clear") {
		t.Errorf("an open tasting is read as %q; want no more than leaning", text)
	}
}

func odalysTaster(t *testing.T, s *store.Store) int64 {
	t.Helper()
	all, err := s.Tasters(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range all {
		if x.Name == "Odalys" {
			return x.ID
		}
	}
	t.Fatal("Odalys does not sit")
	return 0
}

// TestAPlateIsRankedAndAPairPreferred answers two plates as one on one phone: an order with
// a level place, then neither of two; what is tapped is sealed for good.
func TestAPlateIsRankedAndAPairPreferred(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	cuts := roastTable(t, s)
	seatGuests(t, s, "Ana", "Bo", "Cai")
	all, err := s.Tasters(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	carver := int64(3)
	for format, codes := range map[panel.Format][]string{panel.ByRanks: {"418", "265", "903", "571"}, panel.ByPreference: {"386", "742"}} {
		f := store.NewFlight{TrialID: 1, Format: format, CarverID: &carver, Bites: 1}
		order := []int{}
		for i, code := range codes {
			f.Samples = append(f.Samples, store.NewSample{CutID: cuts[i%2].ID, Place: []string{"middle", "end"}[i/2], Code: code})
			order = append(order, i)
		}
		f.Ballots = []store.NewBallot{{TasterID: all[0].ID, Order: order}}
		if _, err := s.Serve(t.Context(), 1, f); err != nil {
			t.Fatal(err)
		}
	}
	u.visit(site, "/trials/1/table", "[data-testid=table-lead]", "0 of 2 ballots locked")
	phone := phoneOf(t, u, site, "Ana")
	for range 2 {
		if has, _, _ := phone.Has("[data-testid=rank-418-1]"); has {
			for code, rank := range map[string]int{"418": 1, "265": 2, "903": 2, "571": 4} {
				phone.click(fmt.Sprintf("[data-testid=rank-%s-%d]", code, rank))
			}
		} else {
			phone.see("h1", "Which of the two do you like better?")
			phone.click("[data-testid=pick-none]")
		}
		phone.whole()
		phone.click("[data-testid=answer]")
		phone.click("[data-testid=answer-sure]")
		phone.gone("[data-testid=answer-question]")
	}
	phone.see("[data-testid=thanks]", "All sealed")
	u.see("[data-testid=table-lead]", "All 2 ballots are locked")
	answers, err := s.Answers(t.Context(), 1)
	if err != nil || len(answers) != 6 {
		t.Fatalf("the record keeps %+v (%v), want six samples of two plates", answers, err)
	}
	for _, a := range answers {
		if a.Picked || a.Format == panel.ByRanks && *a.Rank != map[string]int{"418": 1, "265": 2, "903": 2, "571": 4}[a.Code] {
			t.Errorf("%s is kept as %+v", a.Code, a)
		}
	}
}

// TestGuestsSeatThemselvesAndSolveATriangle lets them in by a code; Tove carves on her phone.
func TestGuestsSeatThemselvesAndSolveATriangle(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	roastTable(t, s)
	u.visit(site, "/trials/1/table", "h1", "Seats")
	u.click("[data-testid=open-door]")
	code := u.find("[data-testid=door] .code").MustText()
	guest := func(name string) user {
		p := open(t, site, "/join", 390, 844)
		p.fill("[data-testid=door-code]", strings.ToLower(code))
		p.click("[data-testid=knock]")
		p.fill("[data-testid=guest-name]", name)
		p.click("[data-testid=consent]")
		p.click("[data-testid=remember]")
		p.click("[data-testid=sit]")
		p.see("h1", "Your plate is not served yet")
		return p
	}
	pell, rue, wyn := guest("Pell"), guest("Rue"), guest("Wyn")
	u.see("[data-testid=seat-Pell]", "open on their phone")
	// Pell is known again on that phone.
	plate := pell.MustInfo().URL[len(site):]
	pell.open(site, "/join/"+strings.ReplaceAll(code, " ", ""), "[data-testid=guest-name]")
	if got := pell.find("[data-testid=guest-name]").MustProperty("value").Str(); got != "Pell" {
		t.Errorf("a guest who wished to be known again is greeted as %q", got)
	}
	u.see("[data-testid=seat-Wyn]", "open on their phone") // the flight is for those who sit by then
	u.click("[data-testid=prepare-flight]")
	u.click("[data-testid=format-triangle]")
	u.see("[data-testid=tells]", "3 of 3 right shows")
	u.choose("[data-testid=carver]", "Tove")
	u.click("[data-testid=serve]")
	u.see("[data-testid=flight]", "Triangle, 4 samples")

	tove := as(t, site, "tove", 390, 844)
	flight, key := roastFlight(t, s)
	tove.visit(site, fmt.Sprintf("/trials/1/carve/%d", flight), "[data-testid=carve-left]", "4 to plate")
	for c := range key {
		tove.see("[data-testid=cup-"+c+"]", key[c])
		tove.click("[data-testid=plated-" + c + "]")
	}
	tove.see("[data-testid=carve-left]", "All plated")
	tove.whole()

	pell.open(site, plate, "[data-testid=begin]")
	for _, p := range []user{pell, rue, wyn} {
		p.click("[data-testid=begin]")
		p.see("h1", "Which is the odd one?")
		p.whole()
		odd := ""
		n := map[string]int{}
		codes := p.MustElements(".picks .code")
		for _, el := range codes {
			n[key[el.MustText()]]++
		}
		for _, el := range codes {
			if n[key[el.MustText()]] == 1 {
				odd = el.MustText()
			}
		}
		p.click("[data-testid=pick-" + odd + "]")
		p.click("[data-testid=answer]")
		p.click("[data-testid=answer-sure]")
		p.see("[data-testid=thanks]", "All sealed")
	}
	u.see("[data-testid=table-lead]", "All 3 ballots are locked")
	u.click("[data-testid=reveal]")
	u.click("[data-testid=reveal-sure]")
	u.at("settle")
	u.visit(site, "/trials/1/table", "[data-testid=plates-triangle]", "can be told apart: 3 of 3 were right")
	// A link opened on one phone opens on no other, until it is freed.
	tasters, err := s.Tasters(t.Context(), 1)
	if err != nil || !tasters[0].Bound {
		t.Fatalf("the table is %+v (%v)", tasters, err)
	}
	stranger := open(t, site, plate, 390, 844)
	stranger.Expect("answered 403")
	stranger.see("[data-testid=problem]", "open on another phone")
}
