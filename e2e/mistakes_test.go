package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/store"
)

// gone waits until nothing matches.
func (u user) gone(selector string) {
	u.t.Helper()
	if err := u.Timeout(patience).Wait(rodCount(selector, 0)); err != nil {
		text := ""
		if el, err := u.Page.Sleeper(rod.NotFoundSleeper).Element(selector); err == nil {
			text, _ = el.Text()
		}
		u.fail("%s is still there: %q", selector, text)
	}
}

// mend presses a mend of a finding.
func (u user) mend(finding, words string) {
	u.t.Helper()
	el, err := u.Timeout(patience).ElementR("[data-testid="+finding+"] button", "^\\s*"+words)
	if err != nil {
		u.fail("%s offers no %q: %v", finding, words, err)
	}
	u.press(words, el.CancelTimeout())
}

// TestMistakesOfAnAskAreSaidAndMended sets up each flawed question by hand,
// reads the sentence, applies a mend with one tap and sees the sentence go.
func TestMistakesOfAnAskAreSaidAndMended(t *testing.T) {
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	for _, c := range []struct {
		name           string
		flaw           func()
		finding, words string
		mend           string
		then           func()
	}{
		{"two things at once", func() {
			u.click("[data-testid=add-factor]")
			u.fill("#factor1", "rub")
			u.fill("#level0-1", "herb")
			u.fill("#level1-1", "salt and pepper")
		}, "finding-together", "Wrap and rub change together in every arm. Whatever you find, you cannot say which did it.", "Hold rub equal", func() {
			u.gone("#factor1")
			u.find(`input[aria-label="Value of rub"]`)
		}},
		{"two things at once, crossed", func() {
			u.click("[data-testid=add-factor]")
			u.fill("#factor1", "rub")
			u.fill("#level0-1", "herb")
			u.fill("#level1-1", "salt and pepper")
		}, "finding-together", "Wrap and rub change together", "Cross them in 4 arms", func() {
			u.find("[data-testid=arm-3]")
			u.see("[data-testid=offer-crossed]", "whether wrap and rub act together")
		}},
		{"no control", func() { u.click("#control0") }, "finding-no-control", "No arm is today's practice", "BARE is today's practice", func() {
			u.see("[data-testid=can-answer]", "It can answer its question")
		}},
		{"a single arm", func() { u.click(`button[aria-label="Take PAPER out"]`) }, "finding-single-arm", "BARE is the only arm", "Add a second arm", func() { u.find("[data-testid=arm-1]") }},
		{"everything equal", func() { u.fill("#level1-0", "None") }, "finding-alike", "BARE and PAPER are the same in everything that is varied", "Give PAPER wrap", nil},
		{"one cut an arm", func() { u.fill("[data-testid=hand-blocks]", "1") }, "finding-one-unit", "Each level of wrap would stand on one cut", "Plan for 6 animals", func() {
			u.see("[data-testid=number-overall]", "pts")
		}},
		{"nothing held equal", func() {
			for range 6 {
				u.click(`button[aria-label$="equal no longer"]`)
			}
		}, "finding-nothing-held", "What is not named tends to drift", "Hold the usual things equal", nil},
	} {
		u.t = t
		u.visit(site, "/trials/new", "h2", "What is varied")
		u.click("[data-testid=template-wrap]")
		u.see("[data-testid=can-answer]", "It can answer its question")
		c.flaw()
		u.see("[data-testid="+c.finding+"]", c.words)
		u.mend(c.finding, c.mend)
		u.gone("[data-testid=" + c.finding + "]")
		if c.then != nil {
			c.then()
		}
		t.Logf("%s: said and mended", c.name)
	}

	// A flawed ask is recorded all the same, and says so on its bench.
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.click("[data-testid=template-wrap]")
	u.fill("#product", "duck leg")
	u.fill("#cut", "leg")
	u.click("#control0")
	u.see("[data-testid=finding-no-control]", "No arm is today's practice")
	u.click("[data-testid=keep-ask]")
	u.at("match")
	u.see("[data-testid=finding-no-control]", "No arm is today's practice")
	ids, err := s.TrialIDs(t.Context())
	if err != nil || len(ids) != 6 {
		t.Errorf("the record holds %v (%v), want the flawed trial beside the five", ids, err)
	}
}

// bench records a trial of pairs with a cut in each arm and two cook days in
// one pit, spoiled by the test.
func bench(t *testing.T, s *store.Store, pairs int, spoil func(i int, c *store.Cut, kg *float64), place func(i int) (day int, position string)) (id int64, arms []int64) {
	t.Helper()
	check := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	a := trial.Start()
	a.Question, a.Product, a.Cut, a.Species = "Paper or bare?", "lamb shoulder", "shoulder", safety.RedMeat
	a.Factors = []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}}
	a.Arms = []trial.Arm{{Tag: "PAPER", Levels: []string{"paper"}}, {Tag: "BARE", Levels: []string{"none"}, Control: true}}
	a.Held = []trial.Held{{Name: "pit temperature", Value: "250 F"}}
	id, err := s.CreateTrial(t.Context(), 1, a.Tidy())
	check(err)
	made, err := s.Trial(t.Context(), id)
	check(err)
	for _, arm := range made.Ask.Arms {
		arms = append(arms, arm.ID)
	}
	pits, err := s.Pits(t.Context())
	check(err)
	plans := []store.CookPlan{{}, {}}
	step, err := units.ParseMass("5 g")
	check(err)
	for i := range 2 * pairs {
		c := store.Cut{Name: fmt.Sprintf("%d%c", i/2+1, "LR"[i%2]), Pair: fmt.Sprint(i/2 + 1), ArmID: &arms[(i/2+i)%2]}
		kg := 2.7 + 0.04*float64(i/2)
		spoil(i, &c, &kg)
		cut, err := s.AddCut(t.Context(), 1, id, c)
		check(err)
		check(s.Weigh(t.Context(), 1, store.Weighing{CutID: cut, Stage: yield.Trimmed, Kg: kg, Typed: fmt.Sprintf("%.3f kg", kg), ResolutionKg: step.Kg, ResolutionTyped: step.Typed, At: time.Now()}))
		if place != nil {
			day, position := place(i)
			plans[day].Placements = append(plans[day].Placements, store.PlannedPlacement{CutID: cut, Position: position})
		}
	}
	if place != nil {
		for day, p := range plans {
			p.ServeAt = time.Now().AddDate(0, 0, 7+day)
			p.Runs = []store.PitRun{{PitID: pits[0].ID, SetPointC: 121, SetPointTyped: "250 F"}}
			_, err := s.CreateCook(t.Context(), 1, id, p, trial.RealClock(time.Now()))
			check(err)
		}
	}
	return id, arms
}

// TestMistakesOnTheBenchAreSaidAndMended hangs flawed cuts, reads the sentence,
// applies the mend and sees it go.
func TestMistakesOnTheBenchAreSaidAndMended(t *testing.T) {
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	same := func(int, *store.Cut, *float64) {}
	armOf := func(i int) int { return (i/2 + i) % 2 }
	for _, c := range []struct {
		name           string
		spoil          func(i int, c *store.Cut, kg *float64)
		place          func(i int) (int, string)
		finding, words string
		mend           string
	}{
		{"pieces not matched", func(i int, c *store.Cut, kg *float64) {
			c.Pair = ""
			*kg = 2.5 + 0.5*float64(armOf(i)) + 0.02*float64(i)
		}, nil, "finding-covariate", "BARE is heavier than PAPER", "Draw the arms again"},
		{"a pair in one arm", func(i int, c *store.Cut, _ *float64) {
			if c.Name == "1R" {
				c.Pair = "2"
			}
			if c.Name == "2R" {
				c.Pair = "1"
			}
		}, nil, "finding-one-arm", "Block 1 is all in PAPER", "Draw the arms again"},
		{"lots that follow the arms", func(i int, c *store.Cut, _ *float64) { c.Pair, c.Lot = "", []string{"hill", "meadow"}[armOf(i)] }, nil,
			"finding-trait", "PAPER has hill, BARE has meadow. The lot and wrap cannot be told apart.", "Draw the arms again"},
		{"the hot end for one arm", same, func(i int) (int, string) {
			return i / 4 % 2, fmt.Sprintf("%c%d", "ABCD"[2*armOf(i)+i%2], i/8+1)
		}, "finding-covariate", "BARE is further across the grate than PAPER", "Move"},
		{"a cook day for each arm", same, func(i int) (int, string) { return armOf(i), fmt.Sprintf("%c%d", "ABCD"[i/2%4], i/8+1) }, "finding-trait",
			"Each arm has cook days of its own. The day and wrap cannot be told apart.", "Draw the places again"},
		{"arms chosen by hand", same, nil, "finding-not-drawn", "The arms were not drawn by lot", "Draw the arms"},
	} {
		id, _ := bench(t, s, 6, c.spoil, c.place)
		u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "12 shoulders")
		u.see("[data-testid="+c.finding+"]", c.words)
		u.mend(c.finding, c.mend)
		u.gone("[data-testid=" + c.finding + "]")
		t.Logf("%s: said and mended", c.name)
	}
}

// TestMatchIsWorkedByHandAndByKeys walks the bench: weights typed fast, cuts
// dragged and sent by keys, draws and their history, a finding kept with a word.
func TestMatchIsWorkedByHandAndByKeys(t *testing.T) {
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	id, arms := bench(t, s, 4, func(int, *store.Cut, *float64) {}, nil)
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "8 shoulders, 4 pairs, 2 arms.")

	// Draw, and the draw is on record; a hand that moves a cut after it is named.
	u.key(input.KeyD)
	u.see("[data-testid=last-draw]", "of 8 ways lie within a quarter of a standard deviation")
	cut := func(name string) store.Cut {
		cuts, err := s.Cuts(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range cuts {
			if c.Name == name {
				return c
			}
		}
		t.Fatalf("there is no cut %s", name)
		return store.Cut{}
	}
	was := *cut("1L").ArmID
	other := arms[0] + arms[1] - was
	number := map[int64]input.Key{arms[0]: input.Digit1, arms[1]: input.Digit2}
	u.click(`button[aria-label="Pick 1L"]`)
	u.key(number[other])
	u.see("[data-testid=finding-moved]", "1L and 1R were moved by hand after the draw")
	if got := *cut("1L").ArmID; got != other {
		t.Errorf("1L is in arm %d, want %d", got, other)
	}
	if a, b := *cut("1L").ArmID, *cut("1R").ArmID; a == b {
		t.Error("the pair is in one arm after a key")
	}

	// Drag the chip of 1L into the other lane: the pair goes back as drawn.
	tag := map[int64]string{arms[0]: "PAPER", arms[1]: "BARE"}
	chip, err := u.Timeout(patience).ElementR("[data-testid=lane-"+tag[other]+"] .chip", "^\\s*1L")
	if err != nil {
		t.Fatal(err)
	}
	u.drag(chip.CancelTimeout(), u.find("[data-testid=lane-"+tag[was]+"]"))
	u.gone("[data-testid=finding-moved]")

	// Typed fast: bare numbers take the unit shown, W and T jump to the field.
	u.click(`button[aria-label="Pick 1L"]`)
	u.key(input.KeyW)
	u.enter("#cut-trimmed", "6 2 1/4")
	u.see("h2", "shoulder 1R")
	u.fill("#cut-thickness", "2 7/8")
	u.enter("#cut-fat", "3/8")
	u.see("h2", "shoulder 2L")
	dims, err := s.Dimensions(t.Context(), id)
	if err != nil || len(dims) != 2 || dims[0].Typed != "2 7/8 in" || dims[1].Typed != "3/8 in" {
		t.Errorf("the record keeps the sizes %+v (%v)", dims, err)
	}
	weighed, err := s.WeighingsOf(t.Context(), cut("1L").ID)
	if err != nil || weighed[0].Typed != "6 lb 2 1/4 oz" {
		t.Errorf("the record keeps %+v (%v)", weighed, err)
	}
	u.Expect("/dimensions answered 422")
	u.enter("#cut-thickness", "thick")
	u.see("[data-testid=problem]", "is not a length")
	u.fill("#cut-thickness", "")

	// Trims: what went over no scale is said.
	u.click("[data-testid=more]")
	u.fill("#cut-bought", "7 lb")
	u.fill("#cut-trimmed", "6 lb 4 oz")
	u.fill("#trim-kept", "4 oz")
	u.enter("#trim-thrown", "5 oz")
	u.see("h2", "shoulder 2R")
	u.click(`button[aria-label="Pick 2L"]`)
	u.see("[data-testid=trim-missing]", "3.0 oz of the trim went over no scale")

	// A finding is kept with a word and stays on record; it can be taken back.
	u.click(`button[aria-label="Pick 3L"]`)
	u.key(number[*cut("3L").ArmID%2+arms[0]-arms[0]%2], input.KeyX)
	u.see("[data-testid=finding-moved]", "moved by hand")
	u.mend("finding-moved", "Keep, and say so")
	u.enter(`input[aria-label="Why it is kept"]`, "3L has a torn blade")
	u.see("[data-testid=finding-moved]", "Kept by Odalys: 3L has a torn blade")
	kept, err := s.KeptFindings(t.Context(), id)
	if err != nil || len(kept) != 1 || kept[0].Key != "moved" {
		t.Errorf("the record keeps %+v (%v)", kept, err)
	}
	u.mend("finding-moved", "Take that back")
	u.mend("finding-moved", "Keep, and say so")

	// A cook day, and every cut gets a place.
	u.click("[data-testid=new-day]")
	u.day(`input[aria-label="Cook day on the table, day"]`, time.Now().AddDate(0, 0, 9).Format("2006-01-02"))
	u.fill(`input[aria-label="Cook day on the table, clock"]`, "1800")
	u.fill("#day-pit", "Brick Pit")
	u.enter("#day-set", "250")
	u.click("[data-testid=draw-places]")
	u.see(`[data-testid="grate-1-Brick Pit"]`, "4R")
	u.gone("[data-testid=finding-trait]")
	u.click(`button[aria-label="Pick 4R"]`)
	placements, err := s.Placements(t.Context(), id)
	if err != nil || len(placements) != 8 {
		t.Fatalf("%d cuts have places (%v), want 8", len(placements), err)
	}
	free := u.find(`[aria-label^="Put the picked cut at"]`)
	position := strings.TrimPrefix(u.attribute(free, "aria-label"), "Put the picked cut at ")
	u.press("a free place", free)
	u.see(fmt.Sprintf(`[aria-label="4R at %s"]`, position), "4R")
}

// drag moves the mouse from one element to another with the button down.
func (u user) drag(from, to *rod.Element) {
	u.t.Helper()
	middle := func(el *rod.Element) (x, y float64) {
		shape, err := el.Shape()
		if err != nil {
			u.fail("cannot find where to drag: %v", err)
		}
		b := shape.Box()
		return b.X + b.Width/2, b.Y + b.Height/2
	}
	x, y := middle(from)
	u.Mouse.MustMoveTo(x, y)
	u.Mouse.MustDown("left")
	tx, ty := middle(to)
	u.Mouse.MustMoveTo((x+tx)/2, (y+ty)/2)
	u.Mouse.MustMoveTo(tx, ty)
	u.Mouse.MustUp("left")
}

// TestDividedCutsKeepWhatTheyAre divides a shoulder into alike halves and
// another into point and flat that stay together, and prints the labels.
func TestDividedCutsKeepWhatTheyAre(t *testing.T) {
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	id, _ := bench(t, s, 2, func(i int, c *store.Cut, _ *float64) { c.Animal, c.Lot = "Lamb 7", "hill" }, nil)
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "4 shoulders")
	u.click(`button[aria-label="Pick 1L"]`)
	u.button("Divide it")
	u.click("[data-testid=divide]")
	u.see("h1", "5 shoulders")
	u.see(".divided", "1L was divided into 1La, 1Lb")
	u.click(`button[aria-label="Pick 2R"]`)
	u.button("Divide it")
	u.button("Point and flat")
	u.click("[data-testid=divide]")
	u.see("h1", "6 shoulders")
	u.key(input.KeyD)
	u.see("[data-testid=last-draw]", "Drawn by lot")
	cuts, err := s.Cuts(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	by := map[string]store.Cut{}
	for _, c := range cuts {
		by[c.Name] = c
	}
	if a, b := by["1La"], by["1Lb"]; a.Animal != "Lamb 7" || a.Lot != "hill" || a.Pair != "1L" || *a.ArmID == *b.ArmID {
		t.Errorf("the halves are %+v and %+v, want alike ones in different arms", a, b)
	}
	if p, f := by["2R point"], by["2R flat"]; p.Section != "point" || *p.ArmID != *f.ArmID {
		t.Errorf("point and flat are %+v and %+v, want both in one arm", p, f)
	}
	// Their weights add up to the whole again.
	u.goTo(6)
	for name, w := range map[string][2]string{"2R point": {"1 kg", "0.6 kg"}, "2R flat": {"1.74 kg", "1.1 kg"}} {
		id := by[name].ID
		for i, stage := range []yield.Stage{yield.Trimmed, yield.Off} {
			m, err := units.ParseMass(w[i])
			if err != nil {
				t.Fatal(err)
			}
			if err := s.Weigh(t.Context(), 1, store.Weighing{CutID: id, Stage: stage, Kg: m.Kg, Typed: m.Typed, ResolutionKg: 0.001, ResolutionTyped: "1 g", At: time.Now()}); err != nil {
				t.Fatal(err)
			}
		}
	}
	u.MustReload()
	u.click("[data-testid=switch]")
	u.see(`[data-testid="whole-2R"]`, "38.0") // 1.7 of 2.74 is left

	u.visit(site, fmt.Sprintf("/trials/%d/labels", id), "h1", "Labels to stick")
	u.see(`[data-testid="label-1La"]`, "Lamb 7")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => [...document.querySelectorAll('.sticker img')].every(i => i.naturalWidth > 100)`)); err != nil {
		t.Error("the labels' codes do not show")
	}
	u.find(".sticker .arm")
	// On paper the mark is 60 mm high and the buttons stay away.
	paper := func(media string) {
		if err := (proto.EmulationSetEmulatedMedia{Media: media}).Call(u.Page); err != nil {
			t.Fatal(err)
		}
	}
	paper("print")
	if mm := u.find(".sticker .arm .token").MustShape().Box().Height / 96 * 25.4; mm < 55 || mm > 65 {
		t.Errorf("the mark prints %.0f mm high, want 60", mm)
	}
	if shown := u.MustEval(`() => [...document.querySelectorAll('.no-print')].some(e => e.offsetParent)`).Bool(); shown {
		t.Error("buttons print with the labels")
	}
	u.see(".foot", "Printed")
	paper("")
	u.button("Blind, no arm")
	u.gone(".sticker .arm")
	if text := u.find(".sheet").MustText(); strings.Contains(text, "PAPER") || strings.Contains(text, "BARE") {
		t.Errorf("a blind label names its arm: %s", text)
	}
}

// TestTheCatalogueIsKeptAndMended adds, merges and retires what can vary.
func TestTheCatalogueIsKeptAndMended(t *testing.T) {
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	// Asked with a name and level of their own, both are offered to the next trial.
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.click("[data-testid=template-wrap]")
	u.fill("#product", "duck leg")
	u.fill("#cut", "leg")
	u.fill("#factor0", "paper coat")
	u.fill("#level0-0", "one turn")
	u.fill("#level1-0", "two turns")
	u.click("[data-testid=add-own]")
	u.fill(`input[aria-label="Own measure"]`, "Bone pull")
	u.fill(`input[aria-label="Its unit"]`, "mm")
	u.fill(`input[aria-label="Smallest difference of the own measure"]`, "3")
	u.fill(`input[aria-label="Spread of the own measure"]`, "4")
	u.click("[data-testid=keep-ask]")
	u.at("match")
	u.visit(site, "/catalogue", `[data-testid="factor-paper coat"]`, "two turns")
	u.choose(`[data-testid="into-paper coat"]`, "wrap")
	u.button("Merge")
	u.gone(`[data-testid="factor-paper coat"]`)
	u.see("[data-testid=factor-wrap]", "also paper coat")
	u.see("[data-testid=factor-wrap]", "two turns")
	u.see("[data-testid=factor-wrap] td:nth-child(3)", "3")
	u.fill(`input[aria-label="New factor"]`, "Wrap")
	u.Expect("/factors answered 422")
	u.click("[data-testid=add-own-factor]")
	u.see("[data-testid=problem]", "in the catalogue already")
	u.fill(`input[aria-label="New factor"]`, "smoke ring")
	u.click("[data-testid=add-own-factor]")
	u.see("[data-testid='factor-smoke ring']", "smoke ring")
	u.enter(`input[aria-label="New level of smoke ring"]`, "wet wood")
	u.see("[data-testid='factor-smoke ring']", "wet wood")
	row := u.find("[data-testid=factor-spritz]")
	u.press("Retire", row.MustElementR("button", "^Retire$"))
	u.see("[data-testid=factor-spritz]", "Bring back")
	factors, err := s.Catalogue(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range factors {
		if f.Name == "spritz" && !f.Retired || f.Name == "paper coat" && (f.MergedInto == nil || f.Used != 0) {
			t.Errorf("the catalogue keeps %+v", f)
		}
	}
	// The trial keeps its words; the next one is offered the measure again.
	asked, err := s.Trial(t.Context(), 6)
	if err != nil || asked.Ask.Factors[0].Name != "paper coat" || asked.Ask.Outcomes[len(asked.Ask.Outcomes)-1].Own.Name != "Bone pull" {
		t.Errorf("the trial was asked with %+v (%v)", asked.Ask, err)
	}
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.button("Measure Bone pull again")
	u.see("[data-testid=own-0]", "cuts differ by")
}

// TestTrialsAreCopiedAndFollowedOn starts one trial from another.
func TestTrialsAreCopiedAndFollowedOn(t *testing.T) {
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/3/settle", "aside", "Go on from here")
	u.button("Follow on with PAPER")
	u.find(`input[aria-label="Value of wrap"]`)
	if got := u.find(`input[aria-label="Value of wrap"]`).MustProperty("value").Str(); got != "paper" {
		t.Errorf("the wrap is held at %q, want paper", got)
	}
	u.see("section", "Follows from")
	u.fill("#question", "A drier cold night first?")
	u.fill("#factor0", "dry brine")
	u.fill("#level0-0", "none")
	u.fill("#tag1", "BRINE")
	u.fill("#level1-0", "1 %, 24 h")
	u.see("[data-testid=number-juiciness]", "house")
	u.click("[data-testid=keep-ask]")
	u.at("match")
	next, err := s.Trial(t.Context(), 6)
	if err != nil || next.Ask.FollowsID == nil || *next.Ask.FollowsID != 3 {
		t.Errorf("the next trial follows %v (%v), want trial 3", next.Ask.FollowsID, err)
	}
	u.visit(site, "/trials/4/ask", "aside", "Copy this trial")
	u.button("Copy this trial")
	u.at("/trials/new")
	u.see("aside", "Ask it, then match the cuts")
	u.see("[data-testid=offer-incomplete]", "12 cuts, 1 cook, 3 arms, meat 498.00")
	u.fill("#question", "Paper, pan or bare, again?")
	u.click("[data-testid=keep-ask]")
	u.at("match")
	u.see("h1", "Hang the first cut.")
}

// TestPlacesAreClearedByOneKeyAndChangedByHand mends a hot end with M, then
// drags one token onto another: the two change places.
func TestPlacesAreClearedByOneKeyAndChangedByHand(t *testing.T) {
	u, site, s := demoBarn(t, "bram", 1280, 1400)
	id, _ := bench(t, s, 4, func(int, *store.Cut, *float64) {}, func(i int) (int, string) {
		return i / 4, fmt.Sprintf("%c1", "ABCD"[2*((i/2+i)%2)+i%2])
	})
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "8 shoulders")
	u.see("[data-testid=finding-covariate]", "further across the grate")
	u.see("[data-testid=alike-column]", "apart, 2.0 places")
	u.key(input.KeyM)
	u.gone("[data-testid=finding-covariate]")
	u.see("[data-testid=alike-column]", "alike")
	where := func() map[int64]string {
		placements, err := s.Placements(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		out := map[int64]string{}
		for _, p := range placements {
			out[p.CutID] = fmt.Sprint(*p.PitRunID, " ", p.Position)
		}
		return out
	}
	before := where()
	cells := u.MustElements(`[data-testid^="grate-1"] .cell`)
	u.drag(cells[0], cells[3]) // A1 onto D1, both taken
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('[data-testid^="grate-1"] .cell').innerText !== was`, cells[0].MustText())); err != nil {
		t.Fatal("the token does not move")
	}
	after, changed := where(), 0
	seen := map[string]bool{}
	for cut, place := range after {
		seen[place] = true
		if before[cut] != place {
			changed++
		}
	}
	if changed != 2 || len(seen) != 8 {
		t.Errorf("%d cuts changed places and %d places are taken, want two and eight: %v, then %v", changed, len(seen), before, after)
	}
	u.whole()
}

// TestUsualQuestionsCanBeAnswered opens every template: none has a confound, and
// each says what its layout could find.
func TestUsualQuestionsCanBeAnswered(t *testing.T) {
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.find("[data-testid=template-wrap]")
	for _, x := range trial.Templates {
		u.click("[data-testid=template-" + x.Key + "]")
		u.see("[data-testid=can-answer]", "It can answer")
		unit := string(x.Ask.Factors[0].SetOn)
		u.see("h3", unit+"s an arm can find")
		if got := u.find("#question").MustProperty("value").Str(); got != x.Ask.Question {
			t.Errorf("%s asks %q, want %q", x.Key, got, x.Ask.Question)
		}
		u.gone(".finding.confound")
	}
}
