package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// TestTwoPlanOneCook has two pitmasters change one plan: the second is shown both, and nothing
// typed is lost either way.
func TestTwoPlanOneCook(t *testing.T) {
	t.Parallel()
	site, s := serveDemo(t)
	if _, err := s.Pool().Exec(t.Context(), "update people set role = 'pitmaster' where name = 'Marisol'"); err != nil {
		t.Fatal(err)
	}
	clock := `input[aria-label="On the table, clock"]`
	plan := func(name string) user {
		u := open(t, site, "/", 1280, 800)
		u.signIn(name)
		u.visit(site, "/trials/2/plan", "aside", "Sun 27 Sept 13:00")
		return u
	}
	first, second := plan("odalys"), plan("marisol")
	second.Expect("answered 409")
	tableAt := func(want string) {
		t.Helper()
		cooks, err := s.Cooks(t.Context(), 2)
		if err != nil || len(cooks) != 1 || cooks[0].ServeAt.UTC().Format("15:04") != want {
			t.Errorf("the plan is kept as %+v (%v), want the table at %s UTC", cooks, err, want)
		}
	}

	second.fill(clock, "1915")
	second.key(input.Tab)
	second.see("[data-testid=unsaved]", "Not saved yet")
	first.fill(clock, "1830")
	first.click("[data-testid=keep-cook]")
	first.see("aside", "Sun 27 Sept 18:30")
	second.see("aside", "Sun 27 Sept 18:30")
	second.click("[data-testid=keep-cook]")
	second.see("[data-testid=two-plans]", "On the table\tSun 27 Sept 19:15\tSun 27 Sept 18:30")
	second.whole()
	tableAt("22:30")
	second.click("[data-testid=keep-mine]")
	second.see("aside", "Sun 27 Sept 19:15")
	second.gone("[data-testid=two-plans]")
	tableAt("23:15")

	first.see("aside", "Sun 27 Sept 19:15") // nothing was typed over it: it follows
	second.fill(clock, "2000")
	second.key(input.Tab)
	first.fill(clock, "1745")
	first.click("[data-testid=keep-cook]")
	second.see("aside", "Sun 27 Sept 17:45")
	second.click("[data-testid=keep-cook]")
	second.click("[data-testid=take-theirs]")
	second.gone("[data-testid=unsaved]")
	if got := second.find(clock).MustProperty("value").Str(); got != "17:45" {
		t.Errorf("with what stands taken the table is set at %q", got)
	}
	tableAt("21:45")
}

// TestTwoDoseOneTrial has two pitmasters change what arms get: the second is shown both, and what the first changed
// elsewhere in the plan stands.
func TestTwoDoseOneTrial(t *testing.T) {
	t.Parallel()
	site, s := serveDemo(t)
	if _, err := s.Pool().Exec(t.Context(), "update people set role = 'pitmaster' where name = 'Marisol'"); err != nil {
		t.Fatal(err)
	}
	name := ".dose input[aria-label=Name]"
	prep := func(who string) user {
		u := open(t, site, "/", 1280, 800)
		u.signIn(who)
		u.visit(site, "/trials/2/prep", "h2", "What each arm gets")
		u.find(name)
		return u
	}
	dosed := func() string {
		t.Helper()
		o, err := s.Outline(t.Context(), 2)
		if err != nil {
			t.Fatal(err)
		}
		return o.Arms[0].Doses[0].Name
	}
	first, second := prep("odalys"), prep("marisol")
	second.Expect("answered 409")
	second.fill(name, "salt of the hill")
	second.see("[data-testid=unsaved]", "Not saved yet")
	first.fill(name, "salt of the shore")
	first.click("[data-testid=keep-doses]")
	first.gone("[data-testid=unsaved]")
	second.click("[data-testid=keep-doses]")
	second.see("[data-testid=two-plans]", "salt of the hill")
	second.see("[data-testid=two-plans]", "salt of the shore")
	second.whole()
	if got := dosed(); got != "salt of the shore" {
		t.Errorf("while the two are compared %q stands", got)
	}
	second.click("[data-testid=keep-mine]")
	second.gone("[data-testid=two-plans]")
	second.gone("[data-testid=unsaved]")
	if got := dosed(); got != "salt of the hill" {
		t.Errorf("over it %q is kept", got)
	}

	// What changed elsewhere is no question: the doses go onto it.
	second.fill(name, "salt of the lake")
	o, err := s.Outline(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	o.SliceS = 1234
	if err := s.SetOutline(t.Context(), 1, 2, o); err != nil {
		t.Fatal(err)
	}
	second.click("[data-testid=keep-doses]")
	second.gone("[data-testid=unsaved]")
	if o, err = s.Outline(t.Context(), 2); err != nil || o.SliceS != 1234 || dosed() != "salt of the lake" {
		t.Errorf("the plan has %g s of slicing and %q (%v), want both changes", o.SliceS, dosed(), err)
	}
}
