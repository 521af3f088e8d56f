package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"whitebarn/internal/store"
)

// newIn tells what persons log in a trial from now on, once a press, in the
// order it is recorded.
func newIn(t *testing.T, s *store.Store, trial int64) (by func(person string) (acts []string, events []store.Event)) {
	t.Helper()
	before := map[int64]bool{}
	read := func() []store.Event {
		t.Helper()
		all, err := s.Events(t.Context(), trial)
		if err != nil {
			t.Fatal(err)
		}
		return all
	}
	for _, e := range read() {
		before[e.ID] = true
	}
	return func(person string) (acts []string, events []store.Event) {
		all := read()
		slices.SortStableFunc(all, func(a, b store.Event) int { return a.Recorded.Compare(b.Recorded) })
		seen := map[string]bool{}
		for _, e := range all {
			if e.By == person && !before[e.ID] && !seen[e.Press] {
				seen[e.Press] = true
				acts, events = append(acts, string(e.Act)), append(events, e)
			}
		}
		return acts, events
	}
}

func TestTenEventsAreLoggedByKeys(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "marisol", 1280, 900)
	loggedBy := newIn(t, s, 4)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	for _, k := range []struct {
		key  input.Key
		says string
	}{
		{input.KeyS, "Spritz 2L, 2R, 3L, 3R, 5L, 5R"}, {input.KeyA, "Wood Brick Pit"}, {input.KeyL, "Lid Brick Pit"}, {input.KeyV, "Vent Brick Pit"}, {input.KeyD, "Water Brick Pit"},
		{input.KeyB, "Bark 2L"}, {input.KeyM, "Move 2L"}, {input.KeyE, "Fuel Brick Pit"}, {input.KeyW, "Wrap 2L"}, {input.KeyZ, "Unwrap 2L"},
	} {
		u.key(k.key)
		u.see("[data-testid=last-entry]", k.says)
	}
	u.handedIn()
	acts, events := loggedBy("Marisol")
	if got := strings.Join(acts, " "); got != "spritz wood lid vent water bark move fuel wrap unwrap" {
		t.Errorf("ten keys logged %s", got)
	}
	for i := 1; i < len(events); i++ {
		if events[i].At.Before(events[i-1].At) {
			t.Errorf("%s is logged before %s", events[i].Act, events[i-1].Act)
		}
	}
	// Undo goes back press by press.
	u.key(input.KeyU)
	u.see("[data-testid=last-entry]", "Wrap")
	u.key(input.KeyU)
	u.see("[data-testid=last-entry]", "Fuel")
	u.handedIn()
	if acts, _ := loggedBy("Marisol"); len(acts) != 8 {
		t.Errorf("with two taken back there are %v", acts)
	}
	u.whole()
}

// TestTheLastPressSaysWhatItUsed taps and types what a wrap, a vent and a
// reading were; each is in the log, and a wrong amount is refused by name.
func TestTheLastPressSaysWhatItUsed(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	loggedBy := newIn(t, s, 4)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	u.firstDue() // what is planned is known
	u.key(input.Digit2, input.KeyW)
	u.see("[data-testid=last-entry]", "Wrap 2L, 5R")
	detail := func(label string) string { return `[data-testid=detail] input[aria-label="` + label + `"]` }
	u.see("[data-testid=event-log]", "covered pan") // as planned
	u.click("[data-testid=details]")
	u.button("butcher paper")
	u.see("[data-testid=event-log]", "butcher paper")
	u.button("covered pan")
	u.see("[data-testid=event-log]", "covered pan")
	u.button("Put something in")
	u.enter(detail("Thing 1 in the wrap"), "whey")
	u.see("[data-testid=event-log]", "with whey")
	u.Expect("answered 422")
	u.enter(detail("How much of thing 1"), "3")
	u.see(".pads", "is no amount")
	u.enter(detail("How much of thing 1"), "1/2 cup")
	u.see("[data-testid=event-log]", "covered pan, with 1/2 cup whey")
	u.handedIn()
	_, events := loggedBy("Tove")
	u.click("[data-testid=earlier]")
	earlier := func() bool {
		_, now := loggedBy("Tove")
		return len(now) == 1 && now[0].At.Sub(events[0].At.Add(-5*time.Minute)).Abs() < time.Second && len(now[0].Detail.Parcel) == 1 &&
			now[0].Detail.Parcel[0].ML > 118
	}
	for end := time.Now().Add(patience); !earlier(); time.Sleep(50 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("five minutes earlier is not kept")
		}
	}

	u.key(input.KeyV)
	u.see("[data-testid=last-entry]", "Vent Brick Pit")
	u.click("[data-testid=details]")
	u.button("chimney")
	u.button("25")
	u.see("[data-testid=event-log]", "chimney 25 %")

	// A reading is ready to be typed at once; a bare number is in the unit on the screen.
	u.key(input.Digit1, input.KeyR)
	u.see("[data-testid=group-read]", "0 of 2 read")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.activeElement?.getAttribute('aria-label') === 'Reads, 3R'`)); err != nil {
		t.Fatal("the reading cannot be typed at once")
	}
	u.click("[data-testid=place]")
	u.button("near bone")
	u.button("tight")
	u.button("bends")
	u.enter(`input[aria-label="Reads, 3R"]`, "151")
	u.see("[data-testid=event-log]", "151 F, tight, near bone, bends")
	u.see("[data-testid=group-read]", "1 of 2 read")
	u.click("[data-testid=skip]") // what was left out is there still
	u.pressIn("[data-testid=group-read] button", "Close")
	u.gone("[data-testid=group-read]")
	u.find("[data-testid=by-hand]")
	u.whole()
}

// TestTwoBrowsersAgree has two people log the same, put a task off and take a
// photo; both see it, and pick which of the two stands.
func TestTwoBrowsersAgree(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	loggedBy := newIn(t, s, 4)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	other := as(t, site, "bram", 390, 844)
	other.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")

	u.key(input.Digit1, input.KeyW)
	other.see("[data-testid=event-log]", "Tove")
	other.key(input.Digit1, input.KeyW)
	u.see("[data-testid=clashes]", "Two hands logged wrap of 3R, 5L")
	other.find("[data-testid=clashes]")
	other.whole()
	keep, err := u.Timeout(patience).ElementR("[data-testid=clashes] button", "^\\s*Tove")
	if err != nil {
		t.Fatal("nobody's wrap can be picked")
	}
	u.press("Tove's", keep.CancelTimeout())
	u.gone("[data-testid=clashes]")
	other.gone("[data-testid=clashes]")
	if acts, _ := loggedBy("Bram"); len(acts) != 0 {
		t.Errorf("of Bram there stands %v", acts)
	}

	task := `[data-task="` + u.firstDue() + `"]`
	u.button("10 min later")
	u.see(task, "put off by Tove")
	other.see(task, "put off by Tove")

	var picture bytes.Buffer
	if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 2400, 1200)), nil); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "bark.jpg")
	if err := os.WriteFile(file, picture.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	camera, err := other.Timeout(patience).Sleeper(rod.DefaultSleeper).Element(`input[aria-label="Take a photo"]`)
	if err != nil {
		t.Fatal(err)
	}
	camera.MustSetFiles(file)
	u.find("[data-testid=event-log] .thumb")
	if _, events := loggedBy("Bram"); len(events) != 1 || events[0].Detail.PhotoID == 0 {
		t.Errorf("the photo is logged as %+v", events)
	} else if p, err := s.Photo(t.Context(), events[0].Detail.PhotoID); err != nil {
		t.Error(err)
	} else if size, _, err := image.DecodeConfig(bytes.NewReader(p.Bytes)); err != nil || size.Width != 1600 || size.Height != 800 {
		t.Errorf("a photo of 2400 x 1200 is kept as %d x %d (%v)", size.Width, size.Height, err)
	}
}

func TestWaysOutAreTriedSideBySide(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	u.see("[data-testid=so-far]", "PAPER")
	u.see("[data-testid=so-far]", "min")
	u.see("[data-testid=safety]", "It passed 140 F in time.")
	u.see("[data-testid=safety]", "Lethality")
	u.find("[data-testid=open-ways]")
	u.key(input.KeyX)
	u.see("[data-testid=ways]", "Leave it as it is")
	u.see("[data-testid=ways]", "Wrap in foil now")
	u.see("[data-testid=ways]", "Brick Pit to 275 F")
	u.see("[data-testid=ways]", "The wrap is what is tried")
	u.whole()
}

// TestAFinishedCookIsPlayedAgain plays it, lays its lanes side by side on the
// wrap, and saves it as pictures.
func TestAFinishedCookIsPlayedAgain(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.visit(site, "/trials/3/fire", ".door", "204")
	rows := func() int { return len(u.MustElements("[data-testid=event-log] tr")) }
	all := rows()
	u.key(input.Space)
	u.see("[data-testid=replay]", "Pause")
	u.button("3600×")
	u.see(".door .now", "06:") // by and by
	u.key(input.Space)
	u.see("[data-testid=replay]", "Play")
	at := u.find("[data-testid=replay-at]").MustText()
	if n := rows(); n == 0 || n >= all {
		t.Errorf("at %s the log has %d of %d entries", at, n, all)
	}
	if lead := u.find(".door .lead").MustText(); strings.HasPrefix(lead, "2") {
		t.Errorf("at %s a core is at %s", at, lead)
	}
	u.button("Show all of it")
	u.gone("[data-testid=replay]")
	if n := rows(); n != all {
		t.Errorf("all of it has %d entries, want %d", n, all)
	}

	u.button("From wrap")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.querySelector('svg.rail').textContent.includes('−2:00')`)); err != nil {
		t.Fatal("the rail does not count from the wrap")
	}
	u.see(".heads", "no wrap: on the clock")
	// The wrap of PAPER stands at nought.
	off := u.MustEval(`() => {
		const zero = [...document.querySelectorAll('svg.rail text')].find(t => t.textContent.trim() === '0:00')
		const flag = [...document.querySelectorAll('svg.lane .flag')].find(f => f.querySelector('text').textContent === 'W')
		return Math.abs(zero.getBoundingClientRect().x + zero.getBoundingClientRect().width / 2 - flag.querySelector('path').getBoundingClientRect().x)
	}`).Num()
	if off > 2 {
		t.Errorf("the wrap stands %.1f px beside nought", off)
	}
	u.whole()

	u.MustEval(`() => {
		window.saved = []
		URL.createObjectURL = (b => of => (window.saved.push(of), b.call(URL, of)))(URL.createObjectURL)
		HTMLAnchorElement.prototype.click = () => {}
	}`)
	u.button("Save SVG")
	text := u.MustEvaluate(rod.Eval(`() => window.saved[0].text()`).ByPromise()).Value.Str()
	for _, want := range []string{"<svg", "PAPER", "BARE", "Brick Pit", "Paper or bare?", `stroke="rgb(27, 63, 155)"`} {
		if !strings.Contains(text, want) {
			t.Errorf("the drawing has no %s", want)
		}
	}
	if strings.Contains(text, "var(--") && !strings.Contains(text, `fill="rgb`) {
		t.Error("the drawing hangs on the page's colours")
	}
	u.button("Save PNG")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => window.saved.some(b => b.type === 'image/png' && b.size > 20000)`)); err != nil {
		t.Error("no picture is saved")
	}
}

// TestHomeSaysWhatComesAndWhomItWaitsOn also shows the air as somebody noted it
// at the fire.
func TestHomeSaysWhatComesAndWhomItWaitsOn(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 900)
	u.home(site)
	u.see("[data-testid=coming]", "Paper, pan or bare?")
	u.see("[data-testid=next-table]", "Next table")
	u.see("[data-testid=waits]", "waits on")
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	u.key(input.KeyN)
	u.see("[data-testid=last-entry]", "Note")
	u.enter(`[data-testid=detail] input[aria-label="Air"]`, "41")
	u.button("breeze")
	u.button("sun on the lid")
	u.see("[data-testid=event-log]", "air 41 F, breeze, sun on the lid")
	u.click(".home")
	u.see("[data-testid=air]", "41 F breeze")
	u.whole()
}

// TestReadingsTypedFastAreAllKept types a round as fast as a keyboard can while each answer takes long, and takes it back.
func TestReadingsTypedFastAreAllKept(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	loggedBy := newIn(t, s, 4)
	u.MustEvalOnNewDocument(late)
	u.load(site, "/trials/4/fire")
	u.see("[data-testid=wire]", "live")
	slow := func(ms int) { u.MustEval(`ms => { window.late = ms; return true }`, ms) }
	for _, latency := range []int{400, 2000} {
		u.key(input.Digit0, input.KeyR)
		u.see("[data-testid=group-read]", "0 of 6 read")
		slow(latency)
		for i := range 6 {
			if err := u.InsertText(fmt.Sprint(171 + i)); err != nil {
				t.Fatal(err)
			}
			if err := u.Keyboard.Type(input.Enter); err != nil {
				t.Fatal(err)
			}
		}
		u.gone("[data-testid=group-read]") // this device has them all
		u.see("[data-testid=last-entry]", "Undo all 6")
		kept := func() (out []string) {
			_, events := loggedBy("Tove")
			for _, e := range events {
				out = append(out, e.Detail.Read)
			}
			return out
		}
		for end := time.Now().Add(patience); len(kept()) < 6 && time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		}
		if got, want := kept(), []string{"171 F", "172 F", "173 F", "174 F", "175 F", "176 F"}; !slices.Equal(got, want) {
			t.Errorf("with answers %v ms late the log has %v, want %v", latency, got, want)
		}
		slow(0)
		if err := u.Timeout(patience).Wait(rod.Eval(`() => document.querySelector('[data-testid=not-yet]')?.classList.contains('sent')`)); err != nil {
			u.fail("what was handed in is still said to wait: %v", err)
		}
		u.key(input.KeyU)
		if err := u.Timeout(patience).Wait(rod.Eval(`() => !document.querySelector('[data-testid=last-entry]')`)); err != nil {
			u.fail("the round is not taken back: %v", err)
		}
		u.handedIn()
		if acts, _ := loggedBy("Tove"); len(acts) != 0 {
			t.Errorf("taken back, the log has %v", acts)
		}
	}
}
