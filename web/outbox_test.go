package web

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"whitebarn/internal/testkit/script"
)

// barnAway is a device whose sends the test answers: calls are those that were made, told what
// came of them. A reload forgets all but what is on the shelves.
const barnAway = `
	var shelves = {}, calls = [], told = []
	function shelf(name, empty) {
		shelves[name] = shelves[name] || JSON.stringify(empty)
		return { get: () => JSON.parse(shelves[name]), set: v => { shelves[name] = JSON.stringify(v) } }
	}
	function send(e) { return new Promise((took, failed) => calls.push({ e, took, failed: (status, field) => failed({
		refused: { status, title: 'No.', remedy: 'Do.', errors: field ? [{ field, problem: 'is odd', remedy: 'say so' }] : [] } }) })) }
	const refusal = err => err.refused || null
	function answer(status, field) {
		const c = calls.shift()
		status === 200 ? c.took({ of: c.e }) : c.failed(status, field)
	}
	function load() {
		calls = []
		presses = new m.PressBox({ waiting: shelf('waiting', []), turned: shelf('turned', []), send, refusal,
			took: (e, v) => told.push(nameOf(e)), now: () => '2026-09-19T12:00:00.000Z', who: () => here })
	}
	var presses, here = { id: 1, name: 'Odalys' }
	const nameOf = e => e.body ? e.body.press : e.to ? e.to.press : 'undo ' + e.undo
	const press = (n, more) => ({ act: 'wood', at: null, cut_ids: [1], pit_run_ids: [], note: '', detail: {}, press: n, ...more })
	const waiting = () => JSON.parse(shelves.waiting).map(nameOf)
	load()`

func device(t *testing.T) *script.Page {
	p := script.Load(t, noon, "fire/pressBox", "taste/sealBox", "ui/outbox")
	p.Run(barnAway)
	return p
}

func TestWhatTheBarnAnswersDecidesWhetherAPressWaits(t *testing.T) {
	t.Parallel()
	for status, waits := range map[int]bool{0: true, 401: true, 408: true, 429: true, 500: true, 502: true, 503: true,
		400: false, 403: false, 404: false, 409: false, 413: false, 422: false} {
		p := device(t)
		p.Run("presses.log(3, press('a'), '2026-09-19T11:59:00Z')")
		p.Run(fmt.Sprintf("answer(%d)", status))
		kept := script.Ask[[]string](p, "waiting()")
		turned := script.Ask[[]map[string]any](p, "JSON.parse(shelves.turned)")
		if waits && (len(kept) != 1 || len(turned) != 0) {
			t.Errorf("after %d there wait %v and %v were turned away, want the press to wait", status, kept, turned)
		}
		if !waits && (len(kept) != 0 || len(turned) != 1) {
			t.Errorf("after %d there wait %v and %v were turned away, want it kept as turned away", status, kept, turned)
		}
	}
}

func TestPressesGoInTheirOrderAndAtTheirTime(t *testing.T) {
	t.Parallel()
	p := device(t)
	p.Run("presses.log(3, press('a'), '2026-09-19T11:59:00Z'); presses.log(3, press('b'), '2026-09-19T11:59:30Z')")
	if n := script.Ask[int](p, "calls.length"); n != 1 {
		t.Fatalf("%d are on their way at once, want one after the other", n)
	}
	// Not of when it arrives: then one that waits a moment would come before it.
	if at := script.Ask[any](p, "calls[0].e.body.at"); at != "2026-09-19T11:59:00Z" {
		t.Errorf("what goes at once is of %v, want the moment it was pressed", at)
	}
	p.Run("answer(503)")
	p.Run("load(); presses.handIn()") // the page was closed, and is opened again
	if at := script.Ask[string](p, "calls[0].e.body.at"); at != "2026-09-19T11:59:00Z" {
		t.Errorf("what waited is of %s, want the moment it was pressed", at)
	}
	p.Run("presses.handIn(); presses.log(3, press('c'), '2026-09-19T12:01:00Z')")
	p.Run("answer(200)")
	p.Run("answer(422, 'sure')") // b is not taken as it is, and lets c by
	p.Run("answer(200)")
	if got := script.Ask[[]string](p, "told"); !slices.Equal(got, []string{"a", "c"}) {
		t.Errorf("taken were %v, want a and c", got)
	}
	turned := script.Ask[[]struct {
		Text, Why, At string
		Asks          bool
	}](p, "JSON.parse(shelves.turned)")
	if len(turned) != 1 || !turned[0].Asks || turned[0].At != "2026-09-19T11:59:30Z" || turned[0].Text != "wood" || turned[0].Why != "No." {
		t.Errorf("b is turned away as %+v", turned)
	}
	if left := script.Ask[[]string](p, "waiting()"); len(left) != 0 {
		t.Errorf("%v still wait", left)
	}
}

func TestAnAmendmentFollowsAPressThatIsOnItsWay(t *testing.T) {
	t.Parallel()
	p := device(t)
	p.Run("presses.log(3, press('a'), '2026-09-19T11:59:00Z')")
	p.Run("presses.amend(3, 'a', { note: 'alder', press: 'a2' })")
	p.Run("answer(200)")
	if got := script.Ask[[]string](p, "waiting()"); !slices.Equal(got, []string{"a2"}) {
		t.Fatalf("after the press %v wait, want what amends it", got)
	}
	if of := script.Ask[string](p, "calls[0].e.of"); of != "a" {
		t.Errorf("the amendment is of %q", of)
	}
	p.Run("answer(0); presses.amend(3, 'x', { note: 'y', press: 'x2' })")
	p.Run("presses.log(3, press('b'), '2026-09-19T12:00:00Z'); presses.amend(3, 'b', { note: 'oak', press: 'b2' })")
	if got := script.Ask[[]string](p, "waiting()"); !slices.Equal(got, []string{"a2", "x2", "b"}) {
		t.Errorf("a press that waits is not amended in its place: %v", got)
	}
	if note := script.Ask[string](p, "JSON.parse(shelves.waiting)[2].body.note"); note != "oak" {
		t.Errorf("the press that waits says %q, want its amendment", note)
	}
}

func TestAnAmendmentThatASecondHandSignsLeavesThePressAsItWas(t *testing.T) {
	t.Parallel()
	p := device(t)
	p.Run("var stood; presses.amend(3, 'a', { note: 'alder', press: 'a2' }).then(of => stood = of)")
	p.Run("calls.shift().took({ waits: true })")
	if got := script.Ask[string](p, "stood"); got != "a" || !script.Ask[bool](p, "presses.secondHand") {
		t.Errorf("what waits for a second hand stands as %q, want the press it would have amended", got)
	}
	p.Run("presses.amend(3, 'a', { note: 'oak', press: 'a3' }).then(of => stood = of)")
	p.Run("calls.shift().took({ waits: false })")
	if got := script.Ask[string](p, "stood"); got != "a3" || script.Ask[bool](p, "presses.secondHand") {
		t.Errorf("what was taken stands as %q, want its own press", got)
	}
}

func TestWhatWaitsIsTakenBackOnTheDevice(t *testing.T) {
	t.Parallel()
	p := device(t)
	undo := func(press string, want ...string) {
		t.Helper()
		p.Run("presses.undo(3, '" + press + "')")
		if got := script.Ask[[]string](p, "waiting()"); !slices.Equal(got, want) {
			t.Fatalf("with %s taken back there wait %v, want %v", press, got, want)
		}
	}
	p.Run("presses.log(3, press('a'), '2026-09-19T11:59:00Z'); presses.log(3, press('b'), '2026-09-19T11:59:00Z')")
	undo("b", "a") // it never left
	// a is on its way, and z was taken long ago: they are the barn's to take back, in their turn.
	undo("a", "a", "undo a")
	undo("z", "a", "undo a", "undo z")
	p.Run("answer(200)")
	p.Run("answer(0)")
	p.Run("presses.amend(3, 'c', { note: 'x', press: 'c2' })")
	undo("c2", "undo a", "undo z", "undo c") // what amends is dropped, what it amended is with the barn
}

func TestAPressThatIsOnItsWayIsTakenBackAfterIt(t *testing.T) {
	t.Parallel()
	for status, turned := range map[int]int{200: 0, 404: 0, 409: 1, 403: 1} {
		p := device(t)
		p.Run("var gone; presses.log(3, press('a'), '2026-09-19T11:59:00Z'); presses.undo(3, 'a')")
		if n := script.Ask[int](p, "calls.length"); n != 1 {
			t.Fatalf("%d calls are on their way at once", n)
		}
		p.Run("answer(200)")
		if of := script.Ask[string](p, "calls[0].e.undo"); of != "a" {
			t.Fatalf("after the press comes %q, want that it is taken back", of)
		}
		p.Run("answer(503)")
		p.Run("presses.handIn()")
		p.Run(fmt.Sprintf("answer(%d)", status))
		if kept, n := script.Ask[[]string](p, "waiting()"), script.Ask[int](p, "JSON.parse(shelves.turned).length"); len(kept) > 0 || n != turned {
			t.Errorf("an undo answered %d leaves %v waiting and %d turned away, want %d", status, kept, n, turned)
		}
	}
	p := device(t)
	for press, c := range map[string]struct {
		answer string
		gone   bool
	}{"k": {"answer(200)", true}, "l": {"answer(409)", false}, "m": {"answer(404)", true}, "n": {"answer(0)", true}} {
		p.Run("load(); shelves = {}; load(); presses.undo(3, '" + press + "').then(v => gone = v)")
		p.Run(c.answer)
		if got := script.Ask[bool](p, "gone"); got != c.gone {
			t.Errorf("%s taken back with %s is gone: %t, want %t", press, c.answer, got, c.gone)
		}
	}
}

func TestWhatOneDidGoesOutAsNobodyElse(t *testing.T) {
	t.Parallel()
	p := device(t)
	p.Run("presses.log(3, press('a'), '2026-09-19T11:59:00Z')")
	p.Run("answer(401)")
	p.Run("here = { id: 2, name: 'Tove' }; presses.handIn()")
	if n := script.Ask[int](p, "calls.length"); n != 0 {
		t.Fatalf("what another did goes out")
	}
	p.Run("presses.log(3, press('b'), '2026-09-19T12:01:00Z')") // and does not hold up what this one does
	if who := script.Ask[int](p, "calls[0].e.who.id"); who != 2 {
		t.Errorf("what was done by 2 goes out as %d", who)
	}
	p.Run("answer(200)")
	if got := script.Ask[[]string](p, "waiting()"); !slices.Equal(got, []string{"a"}) {
		t.Errorf("there wait %v, want what the other did", got)
	}
	p.Run("here = { id: 1, name: 'Odalys' }; presses.handIn()")
	p.Run("answer(200)")
	if got := script.Ask[[]string](p, "told"); !slices.Equal(got, []string{"b", "a"}) {
		t.Errorf("taken were %v, want b and then a", got)
	}
	p.Run("shelves.waiting = JSON.stringify([{ cook: 3, body: press('old') }]); presses.handIn()") // kept before it was known whose
	if n := script.Ask[int](p, "calls.length"); n != 1 {
		t.Errorf("what was kept before it was known whose it is does not go out")
	}
}

// Whatever is pressed, answered and reloaded, each press is once with the barn, waits, or was
// turned away in words, in the order it was pressed.
func TestNoPressIsLostOnItsWay(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(33, 3))
	for run := range 150 {
		p := device(t)
		made, calls := 0, 0
		var barn []string // what it has, as it came
		for range 40 {
			switch {
			case random.IntN(3) == 0:
				p.Run(fmt.Sprintf("presses.log(3, press('%03d'), '2026-09-19T11:59:00Z')", made))
				made++
			case random.IntN(12) == 0:
				p.Run("load()")
			case random.IntN(3) == 0:
				p.Run("presses.handIn()")
			default:
				if calls = script.Ask[int](p, "calls.length"); calls == 0 {
					continue
				}
				status := []int{200, 200, 200, 0, 401, 409, 422, 503}[random.IntN(8)]
				key := script.Ask[string](p, "calls[0].e.body.press")
				lost := status == 0 && random.IntN(2) == 0 // it was taken, and the answer lost
				if (status == 200 || lost) && !slices.Contains(barn, key) {
					barn = append(barn, key)
				}
				p.Run(fmt.Sprintf("answer(%d)", status))
			}
		}
		waits := script.Ask[[]string](p, "waiting()")
		turned := script.Ask[[]string](p, "JSON.parse(shelves.turned).map(t => t.body.press)")
		for i := range made {
			key := fmt.Sprintf("%03d", i)
			if !slices.Contains(barn, key) && !slices.Contains(waits, key) && !slices.Contains(turned, key) {
				t.Fatalf("run %d: press %s is nowhere: the barn has %v, %v wait, %v were turned away", run, key, barn, waits, turned)
			}
		}
		if !slices.IsSorted(barn) || !slices.IsSorted(waits) {
			t.Fatalf("run %d: out of order: the barn has %v, %v wait", run, barn, waits)
		}
	}
}

func TestSealsAreHandedInInTheirOrder(t *testing.T) {
	t.Parallel()
	p := device(t)
	p.Run(`var shown = [], seals = new m.SealBox({ queue: shelf('queue', []), drafts: shelf('drafts', {}), send, refusal,
		took: v => { shown.push(v.of.code || 'answer'); if (waits(v.of)) return; throw new Error('it left the queue before its answer is shown') }, refused: r => shown.push(r.status) })
		const waits = w => JSON.parse(shelves.queue).some(q => q.code === w.code)
		const drafts = () => JSON.parse(shelves.drafts), tap = (code, n) => seals.put(2, code, { scores: { bark: n }, faults: [] })
		tap('418', 7); seals.seal(2, '418', false, false)`)
	if got := script.Ask[map[string]any](p, "drafts()"); len(got) != 0 {
		t.Errorf("what is sealed stays to be tapped: %v", got)
	}
	p.Run("answer(0)")
	p.Run("tap('507', 3); seals.seal(2, '507', false, true)") // a second look keeps what was tapped
	if got := script.Ask[float64](p, "drafts()['2 507'].scores.bark"); got != 3 {
		t.Errorf("a second look begins at %v, want what was sealed", got)
	}
	p.Run("answer(200)")
	p.Run("tap('507', 5); seals.seal(2, '507', false, true); seals.answer({ flight: 2 })")
	p.Run("answer(200)")
	if got := script.Ask[float64](p, "calls[0].e.scores.bark"); got != 5 {
		t.Errorf("the second look is sealed with %v, want 5", got)
	}
	p.Run("answer(422)")
	p.Run("answer(200)")
	if got := script.Ask[[]any](p, "shown"); fmt.Sprint(got) != "[418 507 422 answer]" {
		t.Errorf("it went as %v", got)
	}
	if got := script.Ask[float64](p, "drafts()['2 507'].scores.bark"); got != 5 {
		t.Errorf("what was refused is open again with %v, want 5", got)
	}
	p.Run("tap('622', 9); seals.seal(2, '622', true, false)")
	if got := script.Ask[string](p, "JSON.stringify(calls[0].e.scores)"); got != "{}" {
		t.Errorf("a sample that is left out is sealed with %s", got)
	}
}
