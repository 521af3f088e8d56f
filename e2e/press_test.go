package e2e

import (
	"errors"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
)

// press moves the mouse to the middle of an element that has come to rest, and
// clicks. What loads late moves what is below it: a click that would meet
// something else is kept from it, and tried again.
// (Rod's own Click takes a pseudo-element for a stranger in the way.)
func (u user) press(name string, el *rod.Element) {
	u.t.Helper()
	u.pressed(name, func() *rod.Element { return el }, true)
}

// pressOf presses what find finds, and finds it anew when the page drew it anew meanwhile.
func (u user) pressOf(name string, find func() *rod.Element) {
	u.t.Helper()
	u.pressed(name, find, false)
}

// pressed presses what find finds; gone says that it may go as the mouse goes down on it.
func (u user) pressed(name string, find func() *rod.Element, gone bool) {
	u.t.Helper()
	presses := time.Now().UnixNano() / 1e3 // by its number a press is told from those before
	for end := time.Now().Add(patience); ; {
		presses++
		found, err := u.pressOnce(find(), presses, gone)
		switch {
		case found == "it" || found == "" && err == nil:
			return
		case time.Now().Before(end):
			time.Sleep(20 * time.Millisecond)
		case err != nil:
			u.fail("cannot click %s: %v", name, err)
		default:
			u.fail("the click on %s met %s", name, found)
		}
	}
}

// pressOnce says what a press of an element met; nothing if the page went with it.
func (u user) pressOnce(el *rod.Element, no int64, gone bool) (string, error) {
	if el == nil {
		return "", errors.New("it is not there")
	}
	el = el.Timeout(patience)
	at, err := el.Evaluate(rod.Eval(atRest).ByPromise())
	if err != nil {
		return "", err
	}
	var middle proto.Point
	if err := at.Value.Unmarshal(&middle); err != nil {
		return "", err
	}
	if err := u.Mouse.MoveTo(middle); err != nil {
		return "", err
	}
	there, err := el.Eval(listen, no, middle.X, middle.Y)
	if err != nil {
		return "", err
	}
	if !there.Value.Bool() {
		return "nothing: it moves", nil
	}
	if err := u.Mouse.Click(proto.InputMouseButtonLeft, 1); err != nil {
		return "", err
	}
	found, err := el.Evaluate(rod.Eval(met, no, gone).ByPromise())
	if err != nil {
		return "", nil // the page went with the click
	}
	return found.Value.Str(), nil
}

// atRest waits until an element is seen, can be used and keeps its place, and answers with its middle.
const atRest = `() => new Promise((done, fail) => {
	let was = '', same = 0
	const look = () => {
		if (!this.isConnected) return fail(new Error('it went'))
		const r = this.getBoundingClientRect(), now = [r.x, r.y, r.width, r.height].join()
		const there = r.width > 0 && r.height > 0 && getComputedStyle(this).visibility !== 'hidden' && !this.disabled
		same = there && now === was ? same + 1 : 0
		was = now
		if (there && same === 0) this.scrollIntoViewIfNeeded() // to the middle
		if (same < 3) return setTimeout(look, 25) // a frame or two each
		done({ x: r.x + r.width / 2, y: r.y + r.height / 2 })
	}
	look()
})`

// listen says whether the element is still there to be pressed, and notes what the next press of the mouse meets: the element, or another,
// which hears nothing of it; and whether a click came of it, which what moved away does not get.
const listen = `(no, x, y) => {
	window.listening?.abort()
	const listening = window.listening = new AbortController()
	window.pressed = window.clicked = undefined
	window.pressNo = no
	const mine = e => this.contains(e.target) || document.elementsFromPoint(e.clientX, e.clientY).includes(this)
	const on = (type, hear) => document.addEventListener(type, hear, { capture: true, signal: listening.signal })
	on('pointerdown', e => {
		const name = e.target.getAttribute?.('aria-label') || e.target.textContent?.trim().slice(0, 40)
		window.pressed = mine(e) ? 'it' : 'a ' + e.target.nodeName.toLowerCase() + ' "' + name + '"'
	})
	for (const type of ['pointerdown', 'mousedown', 'pointerup', 'mouseup', 'click']) {
		on(type, e => {
			if (window.pressed === 'it' || !window.pressed) return
			e.preventDefault()
			e.stopImmediatePropagation()
		})
	}
	on('click', e => { window.clicked ||= mine(e) })
	const r = this.getBoundingClientRect()
	return Math.abs(r.x + r.width / 2 - x) < 2 && Math.abs(r.y + r.height / 2 - y) < 2
}`

// met is what a press met, nothing if its click has not come a second later, and empty if the page went with it.
const met = `function (no, gone) {
	return new Promise(done => {
		const end = Date.now() + 1000
		const look = () => {
			if (window.pressNo !== no) return done('')
			const over = window.pressed && (window.clicked || window.pressed !== 'it' || gone && !this.isConnected)
			if (!over && Date.now() < end) return setTimeout(look, 10)
			window.listening.abort()
			done(over ? window.pressed : 'nothing')
		}
		look()
	})
}`

// button clicks the button, link or summary that says the words.
func (u user) button(words string) {
	u.t.Helper()
	u.pressIn("button, a, summary, label", words)
}

// inDialog clicks the button of the open dialog that says the words.
func (u user) inDialog(words string) {
	u.t.Helper()
	u.pressIn("[role=dialog] button", words)
}

func (u user) pressIn(selector, words string) {
	u.t.Helper()
	u.pressOf(words, func() *rod.Element {
		el := u.shown(selector, words, true)
		if el == nil {
			u.fail("there is no %s that says %q", selector, words)
		}
		return el
	})
}
