package e2e

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	coretrial "whitebarn/core/trial"
)

// TestLayoutsAreFittedAndLaidOut lets the ask be laid out for three factors,
// reads what is lost and what it would take, and keeps it with its contexts.
func TestLayoutsAreFittedAndLaidOut(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.see("[data-testid=can-answer]", "Say what is varied")
	u.click("[data-testid=template-wrap]")
	u.fill("#product", "pork neck")
	u.fill("#cut", "neck")
	for f, name := range []string{"rub", "trim"} {
		u.click("[data-testid=add-factor]")
		u.fill([]string{"#factor1", "#factor2"}[f], name)
		u.fill([]string{"#level0-1", "#level0-2"}[f], "plain")
		u.fill([]string{"#level1-1", "#level1-2"}[f], "fancy")
	}
	u.see("[data-testid=finding-together]", "Wrap, rub and trim change together")
	u.see("[data-testid=offer-crossed]", "8 arms needed, six are the most of a trial.")
	u.fill("[data-testid=price]", "12,50")
	u.find("[data-testid=price]").MustBlur()
	half := u.find("[data-testid=offer-half]")
	u.see("[data-testid=offer-half]", "12 cuts, 1 cook, 4 arms, meat 150.00")
	u.press("half of the combinations", half.MustElementR("button", "Use this layout"))
	u.see("[data-testid=offer-half]", "laid out so")
	u.see("[data-testid=finding-alias]", "Wrap cannot be told from rub and trim acting together")
	u.gone("[data-testid=finding-together]")
	for i, tag := range []string{"", "", "ARM", "ARM"} {
		if i > 1 {
			u.fill([]string{"#tag0", "#tag1", "#tag2", "#tag3"}[i], tag+string(rune('A'+i)))
		}
	}

	// The numbers: a tap shows the curve; more tasters need fewer cuts.
	u.click("[data-testid=number-overall] button")
	u.see("figcaption", "With 3:")
	need := func() string { return u.find("[data-testid=number-overall] td:nth-child(3)").MustText() }
	was := need()
	u.fill("[data-testid=hand-tasters]", "40")
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('[data-testid=number-overall] td:nth-child(3)').innerText !== was`, was)); err != nil {
		t.Errorf("40 tasters need as many cuts as 5: %s", was)
	}

	// Who it is for, with weights; a weight past ten is refused by name.
	u.click("[data-testid=add-context]")
	u.fill(`input[aria-label="Who it is for, 4"]`, "wedding")
	// What is no number is not sent as none: it is asked about where it stands.
	weight := `input[aria-label="Weight of Tenderness for wedding"]`
	u.fill(weight, "7o")
	u.click("[data-testid=keep-ask]")
	u.see("[data-testid=no-number]", "“7o” is no number.")
	if !u.find(weight).MustEval(`() => this === document.activeElement && this.value === '7o'`).Bool() {
		t.Error("a mistyped weight is neither kept nor shown")
	}
	u.fill(weight, "70")
	u.gone("[data-testid=no-number]")
	u.Expect("/api/trials answered 422")
	u.click("[data-testid=keep-ask]")
	u.see("[data-testid=problem]", "70 is not a weight")
	u.fill(`input[aria-label="Weight of Tenderness for wedding"]`, "7")
	u.fill(`input[aria-label="Where the difference of Tenderness comes from"]`, "what guests noticed in May")
	u.click("[data-testid=keep-ask]")
	u.at("match")
	kept, err := s.Trial(t.Context(), 19)
	if err != nil {
		t.Fatal(err)
	}
	a := kept.Ask
	if a.Layout != "half" || len(a.Arms) != 4 || len(a.Factors) != 3 || a.Hand.CutCents != 1250 || a.Hand.Tasters != 40 || !strings.HasPrefix(a.Arms[0].Tag, "BARE") {
		t.Errorf("the record keeps %+v", a)
	}
	if c := a.Contexts[3]; c.Name != "wedding" || c.Weights["tenderness"] != 7 {
		t.Errorf("the contexts are %+v", a.Contexts)
	}
	if a.Outcomes[1].Source != "what guests noticed in May" {
		t.Errorf("the outcomes are %+v", a.Outcomes)
	}

	// An arm taken out later leaves the others as they are.
	u.goTo(1)
	u.click(`button[aria-label="Take ARMD out"]`)
	u.see("[data-testid=finding-too-few-arms]", "3 arms are too few for wrap, rub and trim")
	u.click("[data-testid=keep-ask]")
	u.see("[role=status]", "saved")
	again, err := s.Trial(t.Context(), 19)
	if err != nil || len(again.Ask.Arms) != 3 || again.Ask.Arms[0].ID != a.Arms[0].ID {
		t.Errorf("after one arm left: %+v (%v)", again.Ask.Arms, err)
	}
}

// TestPitsChangeOverByTheDay lays out a factor that is set on whole pits.
func TestPitsChangeOverByTheDay(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/1/ask", "h2", "What is varied")
	u.see("[data-testid=offer-crossover]", "12 cuts, 2 cooks, 2 arms, meat 258.00")
	u.button("who meets whom")
	u.see("[data-testid=offer-crossover]", "day 2: pit 1: HORN, pit 2: ALDER")
	u.fill("[data-testid=hand-pits]", "1")
	u.see("[data-testid=finding-one-unit]", "Each level of wood would stand on one pit run")
	u.see("[data-testid=offer-crossover]", "2 pits needed, 1 at hand")
	u.mend("finding-one-unit", "Plan for 4 cook days")
	u.gone("[data-testid=finding-one-unit]")
	// Switching what it is set on switches what counts.
	u.see("h3", "What 2 pit runs an arm can find")
	u.choose(`[aria-label="wood is set on"]`, "on each cut")
	u.see("h3", "What 6 cuts an arm can find")
}

// TestMatchOnAPhone works the bench of three arms by touch, in kilograms.
func TestMatchOnAPhone(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 390, 844)
	u.MustEval(`() => { localStorage.setItem('barn.units', 'C'); localStorage.setItem('barn.weights', 'kg') }`)
	u.visit(site, "/trials/4/match", "h1", "12 shoulders, 6 blocks, 3 arms.")
	u.see("[data-testid=alike-kg]", "kg")
	u.see("[data-testid=alike-thickness_m]", "mm")
	u.see("[data-testid=nothing]", "The arms are alike")
	u.whole()
	cuts, err := s.Cuts(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	before := *cuts[0].ArmID
	u.click(`button[aria-label^="Pick 1L"]`)
	trial, err := s.Trial(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	to := slices.IndexFunc(trial.Ask.Arms, func(a coretrial.Arm) bool { return a.ID != before })
	u.click(`button[aria-label="Put the picked cut into ` + trial.Ask.Arms[to].Tag + `"]`)
	// Its cook burns: what is compared changes only with a reason.
	u.see(".p-dialog", "A cut is on the fire")
	u.whole()
	u.fill("#layout-why", "the tags were swapped")
	u.click("[data-testid=layout-do]")
	u.see("[data-testid=finding-moved]", "1L")
	if cuts, err = s.Cuts(t.Context(), 4); err != nil || *cuts[0].ArmID != trial.Ask.Arms[to].ID {
		t.Errorf("1L is in arm %d (%v), want %d", *cuts[0].ArmID, err, trial.Ask.Arms[to].ID)
	}
	u.enter("#cut-trimmed", "2.8")
	u.see("h2", "shoulder 1R")
	weighed, err := s.WeighingsOf(t.Context(), cuts[0].ID)
	if err != nil || weighed[len(weighed)-1].Typed != "2.8 kg" {
		t.Errorf("the record keeps %+v (%v)", weighed, err)
	}
	u.whole()
}

// TestMeasuresOfTheirOwnAreTyped types what no scale or ballot gives.
func TestMeasuresOfTheirOwnAreTyped(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 800)
	u.visit(site, "/trials/4/rest", "th", "Hands-on time, min")
	u.enter(`input[aria-label="Hands-on time of 1L"]`, "a while")
	u.see("[data-testid=cut-1L]", "is no number. Give it in min.")
	u.enter(`input[aria-label="Hands-on time of 1L"]`, "85,5")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.querySelector('input[aria-label="Hands-on time of 1L"]').value === '85.5'`)); err != nil {
		t.Fatal("the value is not read back")
	}
	kept, err := s.Measures(t.Context(), 4)
	if err != nil || len(kept) != 1 || kept[0].Value != 85.5 || kept[0].Key != "hands_on" {
		t.Errorf("the record keeps %+v (%v)", kept, err)
	}
	cell := u.find(`input[aria-label="Hands-on time of 1L"]`)
	cell.MustSelectAllText().MustType(input.Backspace).MustType(input.Enter)
	for deadline := time.Now().Add(patience); ; time.Sleep(50 * time.Millisecond) {
		kept, err := s.Measures(t.Context(), 4)
		if err == nil && len(kept) == 0 {
			break
		}
		if time.Now().After(deadline) {
			t.Fatalf("a value taken back stays: %+v (%v)", kept, err)
		}
	}
}

// TestAskIsWrittenByKeysAlone writes a question with the keyboard: every control
// is reached by Tab, picked by arrows, and kept with Enter.
func TestAskIsWrittenByKeysAlone(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.find("#factor0")
	u.find("#question").MustFocus()
	focus := func() string {
		return u.MustEval(`() => document.activeElement.id || document.activeElement.getAttribute('aria-label') || document.activeElement.innerText`).Str()
	}
	// to presses Tab until the control has focus.
	to := func(name string) {
		t.Helper()
		for range 80 {
			if strings.TrimSpace(focus()) == name {
				return
			}
			if err := u.Keyboard.Type(input.Tab); err != nil {
				t.Fatal(err)
			}
		}
		t.Fatalf("Tab does not reach %q, it stands at %q", name, focus())
	}
	write := func(name, text string) {
		t.Helper()
		to(name)
		if err := u.InsertText(text); err != nil {
			t.Fatal(err)
		}
	}
	write("question", "Rest an hour, or not?")
	write("product", "goose breast")
	write("cut", "breast")
	to("species")
	for _, k := range []input.Key{input.Space, input.ArrowDown, input.ArrowDown, input.Enter} {
		if err := u.Keyboard.Type(k); err != nil {
			t.Fatal(err)
		}
	}
	write("factor0", "rest time")
	write("tag0", "SHORT")
	write("level0-0", "10")
	write("tag1", "LONG")
	write("level1-0", "60")
	u.see("[data-testid=can-answer]", "It can answer, and could do so better")
	to("Hold the usual things equal")
	if err := u.Keyboard.Type(input.Enter); err != nil {
		t.Fatal(err)
	}
	u.see("[data-testid=can-answer]", "It can answer its question")
	to("Ask it, then match the cuts")
	if err := u.Keyboard.Type(input.Enter); err != nil {
		t.Fatal(err)
	}
	u.at("match")
	kept, err := s.Trial(t.Context(), 19)
	if err != nil {
		t.Fatal(err)
	}
	a := kept.Ask
	if a.Product != "goose breast" || a.Species != "poultry" || a.Factors[0].Kind != coretrial.Numeric || a.Factors[0].Unit != "min" || a.Arms[1].Levels[0].Value != "60" || len(a.Held) < 5 {
		t.Errorf("the record keeps %+v", a)
	}
}
