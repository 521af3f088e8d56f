package e2e

import (
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
)

// press moves the mouse to the middle of an element that has come to rest, and
// clicks. What loads late moves what is below it: a click that met something
// else is tried again, unless it pressed that.
// (Rod's own Click takes a pseudo-element for a stranger in the way.)
func (u user) press(name string, el *rod.Element) {
	u.t.Helper()
	el = el.Timeout(patience)
	presses := time.Now().UnixNano() / 1e3 // by its number a press is told from those before
	for end := time.Now().Add(patience); ; {
		at, err := el.Evaluate(rod.Eval(atRest).ByPromise())
		if err != nil {
			u.fail("cannot reach %s: %v", name, err)
		}
		var middle proto.Point
		if err := at.Value.Unmarshal(&middle); err != nil {
			u.fail("%s is nowhere: %v", name, err)
		}
		if err := u.Mouse.MoveTo(middle); err != nil {
			u.fail("cannot move to %s: %v", name, err)
		}
		presses++
		there, err := el.Eval(listen, presses, middle.X, middle.Y)
		if err != nil {
			u.fail("%s went before it was clicked: %v", name, err)
		}
		if !there.Value.Bool() && time.Now().Before(end) {
			continue // it moved on while the mouse came
		}
		if err := u.Mouse.Click(proto.InputMouseButtonLeft, 1); err != nil {
			u.fail("cannot click %s: %v", name, err)
		}
		found, err := el.Evaluate(rod.Eval(met, presses).ByPromise())
		if err != nil {
			return // the page went with the click
		}
		switch found := found.Value.Str(); {
		case found == "it" || found == "":
			return
		case found == "another", time.Now().After(end):
			u.fail("the click on %s met something else", name)
		}
	}
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

// listen says whether the element is still there to be pressed, and notes what the next press of the mouse meets: the element, another control,
// or nothing of interest; and whether a click came of it, which what moved away does not get.
const listen = `(no, x, y) => {
	window.pressed = window.clicked = undefined
	window.pressNo = no
	const told = 'a, button, input, select, textarea, label, summary, [role]'
	const mine = e => this.contains(e.target) || document.elementsFromPoint(e.clientX, e.clientY).includes(this)
	document.addEventListener('pointerdown', e => {
		window.pressed = mine(e) ? 'it' : e.target.closest(told) ? 'another' : 'nothing'
	}, { capture: true, once: true })
	document.addEventListener('click', e => { window.clicked ||= mine(e) }, { capture: true, once: true })
	const r = this.getBoundingClientRect()
	return Math.abs(r.x + r.width / 2 - x) < 2 && Math.abs(r.y + r.height / 2 - y) < 2
}`

// met is what a press met, nothing if it has not come a second later, and empty if the page went with it.
const met = `function (no) {
	return new Promise(done => {
		const end = Date.now() + 1000
		const look = () => {
			if (window.pressNo !== no) return done('')
			if (window.pressed && (window.clicked || window.pressed !== 'it' || !this.isConnected)) return done(window.pressed)
			if (Date.now() > end) return done('nothing')
			setTimeout(look, 10)
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
	el := u.shown(selector, words, true)
	if el == nil {
		u.fail("there is no %s that says %q", selector, words)
	}
	u.press(words, el)
}
