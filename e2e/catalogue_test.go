package e2e

import (
	"slices"
	"testing"

	"whitebarn/core/trial"
	"whitebarn/internal/store"
)

// TestTheCatalogueIsKeptAndMended adds, merges and retires what can vary.
func TestTheCatalogueIsKeptAndMended(t *testing.T) {
	t.Parallel()
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
	u.see("[data-testid=factor-wrap] td:nth-child(3)", "5")
	// What the house calls a turn is foil to the rules, and two spellings of it are one.
	u.choose(`[data-testid="level-one turn"]`, "counts as: foil")
	u.button("Save")
	u.see("[data-testid=factor-wrap]", "counts as foil")
	u.choose(`[data-testid="level-two turns"]`, "the same as: one turn")
	u.button("Save")
	u.gone(`[data-testid="level-two turns"]`)
	u.choose(`[aria-label="What duck leg cooks like"]`, "Pork belly slab")
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
	products, err := s.Products(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if i := slices.IndexFunc(products, func(p store.Product) bool { return p.Name == "duck leg" }); i < 0 || products[i].Family != "belly" {
		t.Errorf("duck leg is kept among %+v, want it to cook like a belly", products)
	}
	// The trial keeps its words, now with what they count as; the next one is offered the measure again.
	asked, err := s.Trial(t.Context(), 19)
	if err == nil && (asked.Ask.Arms[0].Levels[0] != trial.Level{ID: asked.Ask.Arms[1].Levels[0].ID, Key: "foil",
		Value: "one turn"} || asked.Ask.Arms[1].Levels[0].Value != "two turns") {
		t.Errorf("the arms are kept as %+v", asked.Ask.Arms)
	}
	if err != nil || asked.Ask.Factors[0].Name != "paper coat" || asked.Ask.Outcomes[len(asked.Ask.Outcomes)-1].Own.Name != "Bone pull" {
		t.Errorf("the trial was asked with %+v (%v)", asked.Ask, err)
	}
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.button("Measure Bone pull again")
	u.see("[data-testid=own-0]", "cuts differ by")
}

// TestTrialsAreCopiedAndFollowedOn starts one trial from another.
func TestTrialsAreCopiedAndFollowedOn(t *testing.T) {
	t.Parallel()
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
	ids, err := s.TrialIDs(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	next, err := s.Trial(t.Context(), ids[0])
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

// TestUsualQuestionsCanBeAnswered opens every template: none has a confound, and
// each says what its layout could find.
func TestUsualQuestionsCanBeAnswered(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(site, "/trials/new", "h2", "What is varied")
	u.find("[data-testid=template-wrap]")
	for _, x := range trial.Templates {
		if x.Ask.Kind == trial.OfSetUps {
			u.button("Set-ups of a pit, without meat")
		}
		u.click("[data-testid=template-" + x.Key + "]")
		u.see("[data-testid=can-answer]", "It can answer")
		if x.Ask.Kind == trial.OfMeat {
			u.see("h3", string(x.Ask.Factors[0].SetOn)+"s an arm can find")
		}
		if got := u.find("#question").MustProperty("value").Str(); got != x.Ask.Question {
			t.Errorf("%s asks %q, want %q", x.Key, got, x.Ask.Question)
		}
		u.gone(".finding.confound")
	}
}
