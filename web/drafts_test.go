package web

import (
	"testing"

	"whitebarn/internal/testkit/script"
)

func TestWhatIsTypedComesBackUntilItIsKept(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/drafts")
	p.Run(`var kept = '{}', shelf = { get: () => JSON.parse(kept), set: v => { kept = JSON.stringify(v) } }, drafts = new m.Drafts(shelf)
		const base = JSON.stringify({ salt: 10 }), what = { base, name: 'Prep', path: '/trials/4/prep' }
		var typed = { salt: 12 }`)
	if !script.Ask[bool](p, "drafts.keep('doses 4', typed, what)") {
		t.Error("what differs is not kept")
	}
	p.Run("typed.salt = 99; drafts = new m.Drafts(shelf)") // the page goes on, and is loaded anew
	if got := script.Ask[float64](p, "drafts.find('doses 4', base).value.salt"); got != 12 {
		t.Errorf("it comes back as %v, want what was typed", got)
	}
	if script.Ask[bool](p, "drafts.find('doses 4', base).changed") || !script.Ask[bool](p, "drafts.find('doses 4', 'another').changed") {
		t.Error("whether what it began from is another since is told wrong")
	}
	p.Run("drafts.keep('more', {}, what); drafts.keep('ask new', {}, { base: '', name: 'Ask', path: '/ask' })")
	if n := script.Ask[int](p, "drafts.pages().length"); n != 2 {
		t.Errorf("of three drafts on two pages %d pages are named", n)
	}
	if script.Ask[bool](p, "drafts.keep('doses 4', { salt: 10 }, what)") || script.Ask[any](p, "drafts.find('doses 4', base)") != nil {
		t.Error("what says just what it began from is still kept")
	}
	if script.Ask[bool](p, "drafts.keep('ask new', null, what)") || script.Ask[any](p, "drafts.find('ask new', '')") != nil {
		t.Error("a form that was closed is still kept")
	}
	if p.Run("drafts.letGo('more')"); script.Ask[string](p, "kept") != "{}" {
		t.Errorf("after all was let go there is %s", script.Ask[string](p, "kept"))
	}
}
