package e2e

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"whitebarn/core/logbook"
)

// late has every answer to what a page sends come so late; window.late changes it.
const late = `const now = window.fetch
	window.fetch = async (...a) => {
		if (a[0].method && a[0].method !== 'GET') await new Promise((go) => setTimeout(go, window.late ?? 0))
		return now(...a)
	}`

// thumb presses as one in a glove does: it lies for six tenths of a second, and rolls twelve pixels.
func (u user) thumb(selector string) {
	u.t.Helper()
	u.settled()
	box, err := u.find(selector).Shape()
	if err != nil || box.Box() == nil {
		u.fail("%s is nowhere on the page: %v", selector, err)
	}
	at := proto.Point{X: box.Box().X + box.Box().Width/2, Y: box.Box().Y + box.Box().Height/2}
	touch := func(kind proto.InputDispatchTouchEventType, points ...*proto.InputTouchPoint) {
		if err := (proto.InputDispatchTouchEvent{Type: kind, TouchPoints: append([]*proto.InputTouchPoint{}, points...)}).Call(u); err != nil {
			u.fail("no touch of %s: %v", selector, err)
		}
	}
	touch(proto.InputDispatchTouchEventTypeTouchStart, &proto.InputTouchPoint{X: at.X, Y: at.Y})
	time.Sleep(600 * time.Millisecond)
	touch(proto.InputDispatchTouchEventTypeTouchMove, &proto.InputTouchPoint{X: at.X + 3, Y: at.Y - 12})
	touch(proto.InputDispatchTouchEventTypeTouchEnd)
}

// TestAThumbInAGlove cooks on a phone: slow presses, a pad that was not meant, a round with a slip of the key, with answers
// that come late. The pads stand where they stood.
func TestAThumbInAGlove(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 390, 844)
	if err := (proto.EmulationSetTouchEmulationEnabled{Enabled: true}).Call(u); err != nil {
		t.Fatal(err)
	}
	loggedBy := newIn(t, s, 4)
	u.MustEvalOnNewDocument(late)
	u.load(site, "/trials/4/fire")
	u.see("[data-testid=pad-spritz]", "Spritz")
	pads := func() string {
		return u.MustEval(`() => [...document.querySelectorAll('.verbs [data-testid^=pad-]')].map((p) => p.dataset.testid + ' ' +
			Math.round(p.getBoundingClientRect().x)).join()`).Str()
	}
	stood := pads()
	acts := func(n int) (out []string) {
		for end := time.Now().Add(patience); len(out) < n && time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
			out, _ = loggedBy("Tove")
		}
		return out
	}
	u.Expect("/events answered 422")
	logged := 0
	for _, ms := range []int{400, 2000} {
		u.MustEval(`ms => { window.late = ms; return true }`, ms)
		u.thumb("[data-testid=pad-spritz]")
		logged++
		if got := acts(logged); len(got) != logged || got[len(got)-1] != string(logbook.Spritz) {
			t.Fatalf("with answers %d ms late a press of Spritz logged %v", ms, got)
		}
		u.thumb("[data-testid=pad-pull]")
		u.see("[data-testid=turned-away]", "It would end the cook of 6")
		u.thumb("[data-testid=slip]")
		u.gone("[data-testid=turned-away]")
		if got := pads(); got != stood {
			t.Errorf("the pads stood as %s, and stand as %s", stood, got)
		}
	}
	if got := acts(logged); len(got) != logged {
		t.Errorf("a pull that was a slip is logged: %v", got)
	}
	// A phone that takes a long touch for something else makes no click of it.
	u.find("[data-testid=pad-wood]").MustEval(`async function () {
		const of = { pointerId: 7, pointerType: 'touch', bubbles: true, clientX: 100, clientY: 500 }
		this.dispatchEvent(new PointerEvent('pointerdown', of))
		await new Promise((go) => setTimeout(go, 600))
		this.dispatchEvent(new PointerEvent('pointerup', { ...of, clientY: 512 }))
	}`)
	logged++
	if got := acts(logged); len(got) != logged || got[len(got)-1] != string(logbook.Wood) {
		t.Errorf("a touch of Wood that was no click logged %v", got)
	}
	u.thumb("[data-testid=pad-probe]")
	u.see("[data-testid=group-read]", "0 of 6 read")
	for _, f := range []int{171, 172, 173, 4, 175} {
		if err := u.InsertText(fmt.Sprint(f)); err != nil {
			t.Fatal(err)
		}
		if err := u.Keyboard.Type(input.Enter); err != nil {
			t.Fatal(err)
		}
	}
	u.see("[data-testid=group-read] [data-testid=doubt]", "4 F")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.activeElement?.hasAttribute('data-now')`)); err != nil {
		u.fail("the question took the focus: %v", err)
	}
	u.whole()
	u.thumb("[data-testid=group-read] [data-testid=doubt] button")
	u.gone("[data-testid=doubt]")
	u.handedIn()
	_, events := loggedBy("Tove")
	var read []string
	for _, e := range events {
		if e.Act == logbook.Probe {
			read = append(read, e.Detail.Read)
		}
	}
	if want := []string{"171 F", "172 F", "173 F", "175 F"}; !slices.Equal(read, want) {
		t.Errorf("the log has %v, want %v", read, want)
	}
}
