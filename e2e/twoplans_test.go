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
