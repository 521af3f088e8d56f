// Package e2e walks the users' paths through the real interface.
package e2e

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http/httptest"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	coreplan "whitebarn/core/plan"
	"whitebarn/internal/auth"
	"whitebarn/internal/demo"
	"whitebarn/internal/server"
	"whitebarn/internal/services"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/browser"
	"whitebarn/internal/testkit/pgtest"
	"whitebarn/web"
)

var chromium *browser.Browser

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	gin.SetMode(gin.ReleaseMode)
	// What a server could not do is said beside the walk that met it.
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelError})))
	var err error
	if chromium, err = browser.Start(); err != nil {
		fmt.Fprintln(os.Stderr, "e2e:", err)
		return 1
	}
	defer chromium.Close()
	return pgtest.Main(m)
}

// serve starts White Barn on an empty database.
func serve(t testing.TB) (site string, s *store.Store) {
	t.Helper()
	s = pgtest.Store(t)
	return serveFrom(t, s), s
}

// plans is what is remembered of plans, for the barns of all walks.
var plans coreplan.Memory

// demoSeed is the demo barn; its clocks may lag by this much and no test minds.
var demoSeed = pgtest.Seed{Fresh: 4 * time.Minute, Fill: func(ctx context.Context, s *store.Store) error {
	return demo.Seed(ctx, s, auth.Cheap, time.Now())
}}

// serveDemo starts White Barn on the demo barn.
func serveDemo(t testing.TB) (site string, s *store.Store) {
	t.Helper()
	s = demoSeed.Store(t)
	return serveFrom(t, s), s
}

func serveFrom(t testing.TB, s *store.Store) (site string) {
	t.Helper()
	if f, err := web.Dist().Open("index.html"); err != nil {
		t.Fatal("the front end is not built: run make build first")
	} else {
		f.Close()
	}
	srv, handler := server.New(services.New(s, time.Now, auth.Cheap, &plans), server.Options{Dist: web.Dist()})
	h := httptest.NewServer(handler)
	t.Cleanup(func() { h.Close(); srv.Close() })
	return h.URL
}

// user is a page in somebody's hands. Every step fails the test by itself,
// with a picture of the page.
type user struct {
	t *testing.T
	*browser.Page
}

// patience is long: a laden machine is slow, and nothing waits that need not.
const patience = time.Minute

func open(t *testing.T, site, path string, width, height int) user {
	t.Helper()
	p, err := chromium.Page(site, path, width, height)
	return watched(t, path, p, err)
}

// openKeeping is open with a page that keeps what it needs while the barn is away.
func openKeeping(t *testing.T, site, path string, width, height int) user {
	t.Helper()
	p, err := chromium.Keeping(site, path, width, height)
	return watched(t, path, p, err)
}

// watched has what goes wrong on a page fail the test.
func watched(t *testing.T, path string, p *browser.Page, err error) user {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	u := user{t, p}
	t.Cleanup(func() {
		if t.Failed() {
			u.picture()
		}
		for _, trouble := range p.Trouble() {
			t.Errorf("the page %s: %s", path, trouble)
		}
		_ = p.Browser().Close()
	})
	return u
}

// picture keeps what the page shows, for a person to look at.
func (u user) picture() {
	png, err := u.Timeout(patience).Screenshot(false, nil)
	if err != nil {
		return
	}
	path := filepath.Join(os.TempDir(), strings.ReplaceAll(u.t.Name(), "/", "-")+fmt.Sprintf("-%d.png", time.Now().UnixNano()%1e6))
	if os.WriteFile(path, png, 0o644) == nil {
		u.t.Logf("what the page showed: %s", path)
	}
}

func (u user) fail(format string, v ...any) {
	u.t.Helper()
	u.t.Fatalf(format, v...)
}

// shows waits, in the page, until one of the elements says the words: no words are any. It is
// looked for when something on the page changed.
const shows = `(selector, words, start) => new Promise(done => {
	const bare = s => s.replace(/\s+/g, '').toLowerCase()
	const wanted = bare(words)
	const says = e => {
		if (!words) return true
		if (e.matches('input, textarea')) return (e.value || e.placeholder).includes(words)
		if (!bare(e.textContent).includes(wanted)) return false // innerText lays the page out
		const text = e.innerText ?? e.textContent
		return start ? text.trimStart().startsWith(words) : text.includes(words)
	}
	let waits = 0
	const look = () => {
		waits = 0
		const found = [...document.querySelectorAll(selector)].find(says)
		if (!found) return
		seen.disconnect()
		clearInterval(now)
		done(found)
	}
	const seen = new MutationObserver(() => { waits ||= setTimeout(look, 15) })
	const now = setInterval(look, 250) // what a hand typed is no mutation
	seen.observe(document, { subtree: true, childList: true, attributes: true, characterData: true })
	look()
})`

// shown waits for an element that says the words, over pages that come and go; nil after long.
func (u user) shown(selector, words string, start bool) *rod.Element {
	for end := time.Now().Add(patience); time.Now().Before(end); time.Sleep(10 * time.Millisecond) {
		p := u.Timeout(time.Until(end))
		el, err := p.Sleeper(rod.NotFoundSleeper).ElementByJS(rod.Eval(shows, selector, words, start).ByPromise())
		if err == nil {
			return el.CancelTimeout().Sleeper(rod.DefaultSleeper)
		}
	}
	return nil
}

// find waits for an element.
func (u user) find(selector string) *rod.Element {
	u.t.Helper()
	el := u.shown(selector, "", false)
	if el == nil {
		u.fail("there is no %s", selector)
	}
	return el
}

func (u user) click(selector string) {
	u.t.Helper()
	u.pressOf(selector, func() *rod.Element { return u.find(selector) })
}

// fill puts text in place of what a field holds.
func (u user) fill(selector, text string) {
	u.t.Helper()
	el := u.find(selector).Timeout(patience)
	if _, err := el.Evaluate(rod.Eval(ready).ByPromise()); err != nil {
		u.fail("cannot select %s: %v", selector, err)
	}
	err := u.InsertText(text)
	if text == "" {
		err = u.Keyboard.Type(input.Backspace)
	}
	if err != nil {
		u.fail("cannot fill %s: %v", selector, err)
	}
}

// ready waits until a field can be typed into, and selects what it holds.
const ready = `() => new Promise((done, fail) => {
	const look = () => {
		if (!this.isConnected) return fail(new Error('it went'))
		if (this.disabled || this.readOnly || !this.getClientRects().length) return setTimeout(look, 10)
		this.focus()
		if (this.select) this.select()
		else getSelection().selectAllChildren(this)
		done(true)
	}
	look()
})`

// enter fills a field and presses Enter in it.
func (u user) enter(selector, text string) {
	u.t.Helper()
	u.fill(selector, text)
	if err := u.find(selector).Type(input.Enter); err != nil {
		u.fail("cannot press Enter in %s: %v", selector, err)
	}
}

// choose opens a select and picks an option by its label.
func (u user) choose(selector, option string) {
	u.t.Helper()
	box := u.find(selector)
	if inner, err := box.Sleeper(rod.NotFoundSleeper).Element(`[role="combobox"]`); err == nil {
		box = inner.Sleeper(rod.DefaultSleeper)
	}
	u.press(selector, box)
	list := u.attribute(box, "aria-controls")
	el, err := u.Timeout(patience).ElementR("#"+list+` [role="option"]`, "^"+regexp.QuoteMeta(option)+"$")
	if err != nil {
		u.fail("%s offers no %q: %v", selector, option, err)
	}
	if err := el.WaitStable(60 * time.Millisecond); err != nil { // the panel is still being placed
		u.fail("the option %q does not come to rest: %v", option, err)
	}
	u.press(option, el.CancelTimeout())
	if err := box.Timeout(patience).Wait(rod.Eval(`() => this.getAttribute('aria-expanded') === 'false'`)); err != nil {
		u.fail("%s stays open: %v", selector, err)
	}
}

func (u user) attribute(el *rod.Element, name string) string {
	u.t.Helper()
	if err := el.Timeout(patience).Wait(rod.Eval(`n => !!this.getAttribute(n)`, name)); err != nil {
		u.fail("the element gets no %s: %v", name, err)
	}
	v, err := el.Attribute(name)
	if err != nil || v == nil {
		u.fail("the element has no %s: %v", name, err)
	}
	return *v
}

// see waits until an element says the words.
func (u user) see(selector, words string) {
	u.t.Helper()
	if u.shown(selector, words, false) == nil {
		text := "nothing"
		if el, err := u.Page.Sleeper(rod.NotFoundSleeper).Element(selector); err == nil {
			text, _ = el.Text()
		}
		u.fail("%s says %q, want %q", selector, text, words)
	}
}

// at waits until the address ends so.
func (u user) at(path string) {
	u.t.Helper()
	if err := u.Timeout(patience).Wait(rod.Eval(`p => location.pathname.endsWith(p)`, path)); err != nil {
		u.fail("the address is not %s: %v", path, err)
	}
}

// key presses keys while no field has focus.
func (u user) key(keys ...input.Key) {
	u.t.Helper()
	u.MustEval(`() => { document.activeElement?.blur(); return true }`)
	for _, k := range keys {
		if err := u.Keyboard.Type(k); err != nil {
			u.fail("cannot press a key: %v", err)
		}
	}
}

// goTo goes to a step of the trial at hand: g, then its number.
func (u user) goTo(step int) {
	u.t.Helper()
	u.key(input.KeyG, []input.Key{input.Digit1, input.Digit2, input.Digit3, input.Digit4, input.Digit5, input.Digit6, input.Digit7, input.Digit8}[step-1])
	u.at([]string{"ask", "match", "plan", "prep", "fire", "rest", "table", "settle"}[step-1])
}

// file writes a file for an upload.
func file(t *testing.T, name string, write func(io.Writer)) string {
	t.Helper()
	f, err := os.Create(filepath.Join(t.TempDir(), name))
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	write(f)
	return f.Name()
}

// told is what a script finds on the page; one that finds something else fails the test.
func told[T any](u user, script string, v ...any) (out T) {
	u.t.Helper()
	if err := u.MustEval(script, v...).Unmarshal(&out); err != nil {
		u.fail("the page tells what is not as wanted: %v", err)
	}
	return out
}

// whole says that nothing on the page is wider than it.
func (u user) whole() {
	u.t.Helper()
	wide := u.MustEval(`() => {
		const wide = document.documentElement.scrollWidth - window.innerWidth
		return wide > 0 ? wide : 0
	}`).Int()
	if wide > 0 {
		u.t.Errorf("the page is %d px wider than its screen", wide)
		u.picture()
	}
}

// rodCount waits for so many elements.
func rodCount(selector string, n int) *rod.EvalOptions {
	return rod.Eval(`(s, n) => document.querySelectorAll(s).length === n`, selector, n)
}

// day types a day into its field, key by key, and leaves it.
func (u user) day(selector, date string) {
	u.t.Helper()
	u.fill(selector, "")
	for _, r := range date {
		if err := u.Keyboard.Type(input.Key(r)); err != nil {
			u.fail("cannot type %q into %s: %v", r, selector, err)
		}
	}
	if err := u.Keyboard.Type(input.Tab); err != nil {
		u.fail("cannot leave %s: %v", selector, err)
	}
}
