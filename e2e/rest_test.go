package e2e

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"whitebarn/core/logbook"
	"whitebarn/core/yield"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// more opens the pads behind More and taps one.
func (u user) more(act string) {
	u.t.Helper()
	u.click("[data-testid=more]")
	u.click("[data-testid=pad-" + act + "]")
}

// TestADayIsSteppedMovedWrappedHeldAndSeared logs by pads what a plain cook never has: a new
// set point, a move into another cooker, a wrap after the pull, a holder, a sear with its caution,
// and a spritz that does not fit.
func TestADayIsSteppedMovedWrappedHeldAndSeared(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	loggedBy := newIn(t, s, 4)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	detail := func(label string) string { return `[data-testid=detail] input[aria-label="` + label + `"]` }

	u.more("set")
	u.see("[data-testid=last-entry]", "Set to Brick Pit")
	u.enter(detail("Set to"), "275")
	u.see("[data-testid=event-log]", "275 F")
	u.see(".chart .heads", "set 275 F")

	u.key(input.Digit1, input.KeyM)
	u.see("[data-testid=last-entry]", "Move 3R, 5L")
	u.button("Another cooker")
	u.choose(`[aria-label="Another cooker"]`, "North Drum")
	u.enter(`input[aria-label="Set to"]`, "300")
	u.see(".who", "North Drum") // it is a pit of this cook now
	stay := func(cut string) (where []string) {
		t.Helper()
		known, err := reader.One(t.Context(), s, 4)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range known.Cuts {
			for _, lay := range c.Stays {
				if run, ok := known.Run(lay.PitRunID); ok && c.Name == cut {
					where = append(where, run.Pit)
				} else if c.Name == cut && !lay.From.IsZero() {
					where = append(where, "holder")
				}
			}
		}
		return where
	}
	until := func(what string, done func() bool) {
		t.Helper()
		for end := time.Now().Add(patience); !done(); time.Sleep(50 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("%s does not come about", what)
			}
		}
	}
	until("the move", func() bool { return slices.Equal(stay("3R"), []string{"Brick Pit", "North Drum"}) })

	u.Expect("/events answered 422") // it is hours early
	u.key(input.Digit1, input.KeyP)
	u.see("[data-testid=turned-away]", "It would end the cook of 2")
	u.click("[data-testid=sure]")
	u.see("[data-testid=last-entry]", "Pull 3R, 5L")
	u.key(input.KeyW)
	u.see("[data-testid=last-entry]", "Wrap 3R, 5L")
	u.key(input.KeyH)
	u.see("[data-testid=last-entry]", "Hold 3R, 5L")
	u.click("[data-testid=details]")
	u.button("Warm Box")
	until("the hold", func() bool { return slices.Equal(stay("5L"), []string{"Brick Pit", "North Drum", "holder"}) })

	u.more("sear")
	u.see("[data-testid=caution]", "carbon monoxide")
	u.see("[data-testid=caution]", "Your local fire rules come first")
	u.click("[data-testid=caution-read]")
	u.see("[data-testid=last-entry]", "Sear 3R, 5L")
	u.more("sear") // read once, it is not asked again
	u.see("[data-testid=last-entry]", "Sear 3R, 5L")

	u.Expect("answered 422")
	u.key(input.KeyS)
	u.see("[data-testid=turned-away]", "Is it so?")
	u.click("[data-testid=sure]")
	u.gone("[data-testid=turned-away]")
	u.see("[data-testid=last-entry]", "Spritz 3R, 5L")
	u.handedIn()
	acts, _ := loggedBy("Tove")
	if got := strings.Join(acts, " "); got != "set move pull wrap hold sear sear spritz" {
		t.Errorf("the day has %s", got)
	}
	u.whole()
}

// TestSixPiecesAreReadOnAPhone reads them one after the other with the keys on the screen.
func TestSixPiecesAreReadOnAPhone(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 390, 844)
	loggedBy := newIn(t, s, 4)
	u.visit(site, "/trials/4/rest", "h1", "6 of 6 still on")
	u.button("Read all")
	taps := 0
	tap := func(key string) {
		t.Helper()
		el, err := u.Timeout(patience).ElementR("[data-testid=group-read] .pad button", "^\\s*"+key+"\\s*$")
		if err != nil {
			t.Fatalf("there is no key %q: %v", key, err)
		}
		u.press(key, el.CancelTimeout())
		taps++
	}
	for n := range 6 {
		u.see("[data-testid=group-read]", fmt.Sprintf("%d of 6 read", n))
		for _, key := range []string{"1", "4", fmt.Sprint(n), "Next"} {
			tap(key)
		}
	}
	u.gone("[data-testid=group-read]")
	u.handedIn()
	acts, events := loggedBy("Tove")
	if len(acts) != 6 || taps > 8*6 {
		t.Errorf("%d taps logged %v", taps, acts)
	}
	for i, e := range events {
		if e.Act != logbook.Probe || e.Detail.Read != fmt.Sprintf("14%d F", i) || e.Detail.Place != "coldest found" {
			t.Errorf("piece %d is read as %+v", i+1, e.Detail)
		}
	}
	u.whole()
}

// TestADividedCutIsWeighedOutWithWhatIsThrown weighs one piece by the keys of the card.
func TestADividedCutIsWeighedOutWithWhatIsThrown(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	cuts := roast(t, s)
	u.visit(site, "/trials/1/rest", "[data-testid=weigh-card]", "Off the fire")
	on := func(weight string) {
		t.Helper()
		u.enter("[data-testid=weigh-now]", weight)
	}
	step := func(name string) {
		t.Helper()
		u.see("[data-testid=weigh-card] .now label", name)
	}
	on("4 0")
	step("After the rest")
	on("3 14")
	step("Lean, to eat")
	u.see("[data-testid=weigh-card]", "Rest took 2.0 oz")
	on("2 8")
	step("Bones")
	u.see("[data-testid=adds-up]", "still to weigh")
	on("0 14")
	u.see("[data-testid=weigh-card] h2", "HORN B") // the next piece
	u.click("[data-testid=track-A] .name")
	u.choose(`[aria-label="Another part"]`, "Edges, thrown")
	step("Edges, thrown")
	u.button("charred")
	on("0 8")
	u.see("[data-testid=weigh-card] h2", "HORN B")
	u.click("[data-testid=track-A] .name")
	u.see("[data-testid=adds-up]", "Adds up to 3 lb 14 oz")
	u.see("[data-testid=where-it-went]", "thrown")
	outs, err := s.WeighOutsOf(t.Context(), cuts[0].ID)
	if err != nil || len(outs) != 3 || !slices.ContainsFunc(outs,
		func(o store.WeighOut) bool { return o.Share == "edges" && o.Why == "charred" }) {
		t.Errorf("it came apart into %+v (%v)", outs, err)
	}
	weighed, err := s.WeighingsOf(t.Context(), cuts[0].ID)
	if err != nil || !slices.ContainsFunc(weighed, func(w store.Weighing) bool { return w.Stage == yield.Edible && w.Typed == "2 lb 8 oz" }) {
		t.Errorf("to eat are %+v (%v)", weighed, err)
	}
	u.whole()
}

// TestTheNightInTheBoxIsShown looks at the demo's hold: what is on, what is held, how warm
// the box gets at least, and the knife.
func TestTheNightInTheBoxIsShown(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/trials/5/rest", "h1", "2 of 4 still on.")
	u.see(".first", "Off next: FOUR")
	u.see("[data-testid=rest-board]", "low swing 14")
	u.see("[data-testid=track-1L]", "Rest")
	u.see("[data-testid=rest-board]", "tender")
	for _, name := range []string{"1L", "1R", "2L", "2R"} {
		u.see("[data-testid=track-"+name+"] .gate", "enough at")
	}
	// Pulled by a key at the fire, it rests here; sliced by its key, it is cut.
	u.click("[data-testid=track-1L] .name")
	u.Expect("/events answered 422")
	u.key(input.KeyC)
	u.see("[data-testid=turned-away]", "is planned for")
	u.click("[data-testid=sure]")
	u.see("[data-testid=track-1L] .door", "cut")
	u.see("[data-testid=track-1L] .right", "Rested")
	u.whole()
}

// TestUnevenRestsAreEvenedOut pulls one arm of the fire hours before the others.
func TestUnevenRestsAreEvenedOut(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	u.Expect("/events answered 422")
	u.key(input.Digit1, input.KeyP)
	u.see("[data-testid=turned-away]", "It would end the cook of 2")
	u.whole()
	u.click("[data-testid=slip]")
	u.gone("[data-testid=turned-away]")
	u.key(input.KeyP)
	u.see("[data-testid=turned-away]", "It would end the cook of 2")
	u.click("[data-testid=sure]")
	u.see("[data-testid=last-entry]", "Pull 3R, 5L")
	u.goTo(6)
	u.see("[data-testid=uneven]", "Rest grows uneven: PAPER")
	before, err := s.Cooks(t.Context(), 4)
	if err != nil {
		t.Fatal(err)
	}
	u.click("[data-testid=even]")
	later := func() bool {
		now, err := s.Cooks(t.Context(), 4)
		return err == nil && slices.ContainsFunc(now, func(k store.Cook) bool {
			return k.ID == before[0].ID &&
				k.ServeAt.After(before[0].ServeAt)
		})
	}
	for end := time.Now().Add(patience); !later(); time.Sleep(50 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("the table is not moved")
		}
	}
	if err := u.Timeout(patience).Wait(rod.Eval(`() => !document.querySelector('[data-testid=even]')?.disabled`)); err != nil {
		t.Fatal(err)
	}
}

// TestReadingsAreTypedFasterThanTheyAreTaken has each answer come two seconds late, and types
// reading after reading with Enter between.
func TestReadingsAreTypedFasterThanTheyAreTaken(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.MustEvalOnNewDocument(`const now = window.fetch
		window.fetch = async (...a) => {
			if (a[0].method === 'POST') await new Promise((go) => setTimeout(go, 2000))
			return now(...a)
		}`)
	u.visit(site, "/trials/5/rest", "h2", "All weights")
	before, err := s.Events(t.Context(), 5)
	if err != nil {
		t.Fatal(err)
	}
	u.find(`input[aria-label^="Reads, "]`).MustFocus()
	typed := []string{"171", "172", "173", "174"}
	for _, degrees := range typed {
		if err := u.InsertText(degrees); err != nil {
			t.Fatal(err)
		}
		if err := u.Keyboard.Type(input.Enter); err != nil {
			t.Fatal(err)
		}
	}
	u.see(".cell", "not yet handed in")
	var read []string
	for end := time.Now().Add(patience); len(read) < len(typed); time.Sleep(50 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("of %v the record keeps %v", typed, read)
		}
		all, err := s.Events(t.Context(), 5)
		if err != nil {
			t.Fatal(err)
		}
		read = nil
		for _, e := range all[len(before):] {
			read = append(read, e.Detail.Read)
		}
	}
	slices.Sort(read)
	if want := []string{"171 F", "172 F", "173 F", "174 F"}; !slices.Equal(read, want) {
		t.Errorf("the record keeps %v, want %v", read, want)
	}
	if err := u.Timeout(patience).Wait(rod.Eval(`() => !document.body.textContent.includes('not yet handed in')`)); err != nil {
		t.Error("what was handed in is still said to wait")
	}
}
