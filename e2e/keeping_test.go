package e2e

import (
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"whitebarn/internal/auth"
	"whitebarn/internal/demo"
	"whitebarn/internal/server"
	"whitebarn/internal/services"
	"whitebarn/internal/store"
	"whitebarn/web"
)

// TestWhatIsTypedWaitsUntilItIsKept leaves Plan, Prep, Pits and Pantry half typed, reloads,
// signs out and in, and finds all of it again.
func TestWhatIsTypedWaitsUntilItIsKept(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.Expect("answered 401")
	u.visit(site, "/trials/2/plan", "aside", "Sun 27 Sept 13:00")
	u.fill(`input[aria-label="On the table, clock"]`, "1830")
	u.key(input.Tab)
	u.see("[data-testid=unsaved]", "Not saved yet")
	u.visit(site, "/pantry", "h1", "Pantry")
	u.see("[data-testid=not-kept]", "Plan")
	u.button("Another ingredient")
	u.fill("#ing-name", "hill thyme")
	u.visit(site, "/pits", "h1", "Pits")
	u.see("[data-testid=not-kept]", "Pantry")
	u.click("button[aria-label='What it burns: Brick Pit']")
	u.fill(".pit.open input[placeholder='hornbeam splits']", "apricot splits")
	u.visit(site, "/trials/2/prep", "h2", "What each arm gets")
	u.fill(".dose input[aria-label=Name]", "salt of the hill")
	u.see("[data-testid=unsaved]", "Not saved yet")

	u.click("[data-testid=sign-out]")
	u.signIn("odalys")
	u.MustReload()
	u.visit(site, "/pits", ".pit.open", "Fuel")
	if got := u.find(".pit.open input[placeholder='hornbeam splits']").MustProperty("value").Str(); got != "apricot splits" {
		t.Errorf("the pit's fuel reads %q", got)
	}
	u.visit(site, "/pantry", "[data-testid=ingredient]", "Kind")
	if got := u.find("#ing-name").MustProperty("value").Str(); got != "hill thyme" {
		t.Errorf("the ingredient reads %q", got)
	}
	u.visit(site, "/trials/2/prep", "[data-testid=unsaved]", "here again")
	// What others keep meanwhile does not take it away.
	readAnew := u.reads("/parts")
	if err := s.NotifyChange(t.Context(), 2, "cooks", "cuts", "ask"); err != nil {
		t.Fatal(err)
	}
	readAnew()
	if got := u.find(".dose input[aria-label=Name]").MustProperty("value").Str(); got != "salt of the hill" {
		t.Errorf("read anew, the dose reads %q", got)
	}
	u.visit(site, "/trials/2/plan", "[data-testid=unsaved]", "here again")
	if got := u.find(`input[aria-label="On the table, clock"]`).MustProperty("value").Str(); got != "18:30" {
		t.Errorf("the serving time reads %q", got)
	}
	u.button("Put back")
	u.gone("[data-testid=unsaved]")
	u.visit(site, "/pantry", "[data-testid=not-kept]", "Prep")
	u.button("Leave it")
	u.gone("[data-testid=ingredient]")
	if text := u.find("[data-testid=not-kept]").MustText(); text == "" || strings.Contains(text, "Plan") || strings.Contains(text, "Pantry") {
		t.Errorf("let go, the header still says %q", text)
	}
}

// TestWhatIsTypedWhileAPlanIsKeptStays lets the answer come late, and types on meanwhile.
func TestWhatIsTypedWhileAPlanIsKeptStays(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.MustEvalOnNewDocument(`const now = window.fetch
		window.fetch = async (...a) => {
			const r = await now(...a)
			if (a[0].method === 'PUT') {
				await new Promise((go) => setTimeout(go, 2000))
				setTimeout(() => { window.late = true })
			}
			return r
		}`)
	clock := `input[aria-label="On the table, clock"]`
	u.visit(site, "/trials/2/plan", "aside", "Sun 27 Sept 13:00")
	u.fill(clock, "1830")
	u.click("[data-testid=keep-cook]")
	u.see("aside", "Sun 27 Sept 18:30") // heard before the answer
	u.fill(clock, "1915")
	u.key(input.Tab)
	if err := u.Timeout(patience).Wait(rod.Eval(`() => window.late`)); err != nil {
		t.Fatal("the plan is never kept: ", err)
	}
	if got := u.find(clock).MustProperty("value").Str(); got != "19:15" {
		t.Errorf("the serving time typed while the plan was kept reads %q", got)
	}
	u.click("[data-testid=keep-cook]")
	u.see("aside", "Sun 27 Sept 19:15")
	cooks, err := s.Cooks(t.Context(), 2)
	if err != nil || len(cooks) != 1 || cooks[0].ServeAt.UTC().Format("15:04") != "23:15" {
		t.Errorf("the plan is kept as %+v (%v)", cooks, err)
	}
}

// awayBarn is the demo at an address that can be taken away, with its parts kept by the
// service worker.
func awayBarn(t *testing.T, name, path string, width, height int) (u user, site string, s *store.Store, end func(), begin func() func()) {
	t.Helper()
	s = demoSeed.Store(t)
	addr, start := comingAndGoing(t, s)
	end = start()
	site = "http://" + addr
	u = openKeeping(t, site, path, width, height)
	u.Expect("net::ERR_")
	u.Expect("failed")
	u.Expect("answered 50")
	if name != "" {
		u.signIn(name)
	}
	u.MustEval(`() => navigator.serviceWorker.ready.then(() => true)`)
	u.MustReload() // everything goes through the worker once
	if err := u.Timeout(patience).Wait(rod.Eval(`async () => {
		const cache = await caches.open('barn-parts')
		const parts = await (await fetch('/parts.json')).json()
		return (await cache.keys()).filter((r) => r.url.includes('/assets/')).length >= parts.length
	}`).ByPromise()); err != nil {
		t.Fatal("the parts of the pages are not kept")
	}
	return u, site, s, end, start
}

// reads notes what was asked for, and then waits until an answer more has come in.
func (u user) reads(path string) (wait func()) {
	const asked = `p => performance.getEntriesByType('resource').filter(e => e.name.includes(p) && e.responseEnd > 0).length`
	before := u.MustEval(asked, path).Int()
	return func() {
		u.t.Helper()
		if err := u.Timeout(patience).Wait(rod.Eval(`(p, n) => (`+asked+`)(p) > n`, path, before)); err != nil {
			u.fail("%s is not read anew: %v", path, err)
		}
	}
}

// handedIn waits until the barn has what was pressed on this device.
func (u user) handedIn() {
	u.t.Helper()
	if err := u.Timeout(patience).Wait(rod.Eval(`() => (localStorage.getItem('barn.outbox') ?? '[]') === '[]'`)); err != nil {
		u.fail("what was pressed is not handed in: %v", err)
	}
}

// keptAnswers waits until those answers of the page that are to be are kept on the device.
func (u user) keptAnswers(cache, those string) {
	u.t.Helper()
	if err := u.Timeout(patience).Wait(rod.Eval(`async (name, those) => {
		const kept = new Set((await (await caches.open(name)).keys()).map(r => new URL(r.url).pathname))
		const asked = performance.getEntriesByType('resource').map(e => new URL(e.name).pathname)
		return asked.filter(p => new RegExp(those).test(p)).every(p => kept.has(p))
	}`, cache, those).ByPromise()); err != nil {
		u.fail("the last answers are not kept: %v", err)
	}
}

// TestEveryPageOpensWhileTheBarnIsAway with its last answers and their age.
func TestEveryPageOpensWhileTheBarnIsAway(t *testing.T) {
	t.Parallel()
	u, site, _, end, begin := awayBarn(t, "odalys", "/", 1280, 800)
	pages := []struct{ path, selector, words string }{
		{"/", "main", "Paper, pan or bare?"}, {"/pits", "h1", "Pits"}, {"/pantry", "h2", "Ingredients"}, {"/crew", "main", "Tove"},
		{"/trials/4/ask", "main", "What is varied"}, {"/trials/4/match", "main", "1L"}, {"/trials/4/plan", "main", "Brick Pit"},
		{"/trials/4/prep", "h2", "What each arm gets"}, {"/trials/4/rest", "main", "1L"}, {"/trials/4/table", "h1", "Seats"},
		{"/trials/3/settle", ".answer", "."},
	}
	for _, p := range pages {
		u.load(site, p.path)
		u.see(p.selector, p.words)
	}
	u.keptAnswers("barn-record", `^/api/(?!.*(live|parts|qr.png|session)$)`)
	end()
	for _, p := range pages {
		u.load(site, p.path)
		u.see(p.selector, p.words)
		u.see("[data-testid=away]", "The barn is away. What is shown is")
	}
	// What was never opened here says what it needs, and comes by itself.
	u.load(site, "/trials/1/match")
	u.see("[data-testid=never-here]", "it needs the barn")
	defer begin()()
	u.gone("[data-testid=away]")
	u.gone("[data-testid=never-here]")
	u.see("main", "Hang cuts as like as possible")
}

// TestABallotIsSealedWhileTheBarnIsAway: it opens, seals on the phone, and goes by itself.
func TestABallotIsSealedWhileTheBarnIsAway(t *testing.T) {
	t.Parallel()
	odalys, site, s, end, begin := awayBarn(t, "odalys", "/", 1280, 800)
	tasters := served(t, s)
	odalys.visit(site, "/trials/2/table", "h1", "Seats")
	path := odalys.attribute(odalys.find("[data-testid=link-"+tasters[0].Name+"]"), "href")[len(site):]
	phone := openKeeping(t, site, path, 390, 844)
	phone.Expect("net::ERR_")
	phone.Expect("failed")
	phone.Expect("answered 50")
	phone.see("h1", "Before you taste")
	phone.MustEval(`() => navigator.serviceWorker.ready.then(() => true)`)
	phone.MustReload()
	phone.click("[data-testid=begin]")
	phone.see("[data-testid=code]", "418")
	phone.keptAnswers("barn-plates", `^/api/taste/[^/]+$`)
	end()
	phone.MustReload()
	phone.see("[data-testid=code]", "418")
	for _, rule := range phone.MustElements("[role=slider]") {
		rule.MustFocus()
		rule.MustType(input.ArrowRight)
	}
	phone.click("[data-testid=seal]")
	phone.click("[data-testid=seal-sure]")
	phone.see("[data-testid=seals-wait]", "1 sealed and kept on this phone")
	phone.click("[data-testid=go-on]")
	phone.see("[data-testid=code]", "265")
	phone.MustReload() // what was sealed stays sealed
	phone.see("[data-testid=code]", "265")
	defer begin()()
	phone.gone("[data-testid=seals-wait]")
	plates, err := s.Plates(t.Context(), tasters[0].ID)
	if err != nil || !plates[0].Servings[0].Sealed {
		t.Errorf("the plate stands as %+v (%v), want 418 sealed", plates, err)
	}
}

// TestThePageOpensWhileTheBarnIsAway loads the fire anew with the server gone, and
// logs; the press is handed in when it is back.
func TestThePageOpensWhileTheBarnIsAway(t *testing.T) {
	t.Parallel()
	s := demoSeed.Store(t)
	addr, begin := comingAndGoing(t, s)
	end := begin()
	u := openKeeping(t, "http://"+addr, "/", 1280, 800)
	u.Expect("net::ERR_")
	u.Expect("failed")
	u.signIn("tove")
	u.MustEval(`() => navigator.serviceWorker.ready.then(() => true)`)
	u.visit("http://"+addr, "/trials/4/fire", "[data-testid=wire]", "live")
	u.find("path.trace")
	u.MustReload() // everything goes through the worker once
	u.see("[data-testid=wire]", "live")
	u.find("path.trace")
	end()
	u.MustReload()
	u.see("[data-testid=wire]", "Connection lost")
	u.find("path.trace")
	u.key(input.KeyB)
	u.see("[data-testid=not-yet]:not(.sent)", "not yet handed in")
	u.see("[data-testid=outbox]", "1 entry")
	defer begin()()
	u.gone("[data-testid=outbox]")
	u.see("[data-testid=event-log]", "Bark")
}

// comingAndGoing is a barn that can be taken away and brought back at the same
// address.
func comingAndGoing(t *testing.T, s *store.Store) (addr string, begin func() (end func())) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	addr = l.Addr().String()
	return addr, func() (end func()) {
		if l == nil {
			if l, err = net.Listen("tcp", addr); err != nil {
				t.Fatal(err)
			}
		}
		srv, handler := server.New(services.New(s, time.Now, auth.Cheap, &plans), server.Options{Dist: web.Dist()})
		h := &http.Server{Handler: handler}
		mine := l
		l = nil
		go func() { _ = h.Serve(mine) }()
		return func() { _ = h.Close(); srv.Close() }
	}
}

// TestTapsAreKeptWhileTheBarnIsAway takes the network away with three presses
// in between: all are there once, in their order and with their times.
func TestTapsAreKeptWhileTheBarnIsAway(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	loggedBy := newIn(t, s, 4)
	logged := func() (acts []string, at []time.Time) {
		acts, events := loggedBy("Tove")
		for _, e := range events {
			at = append(at, e.At)
		}
		return acts, at
	}
	u.key(input.KeyS)
	u.see("[data-testid=last-entry]", "Spritz")
	offline := func(away bool) {
		err := proto.NetworkEmulateNetworkConditions{Offline: away, Latency: 0, DownloadThroughput: -1, UploadThroughput: -1}.Call(u)
		if err != nil {
			t.Fatal(err)
		}
	}
	u.Expect("ERR_INTERNET_DISCONNECTED") // while it is away
	u.Expect("failed")
	u.see("[data-testid=due-first]", "Wood")
	u.handedIn()
	offline(true)
	u.key(input.KeyA)
	u.see("[data-testid=outbox]", "1 entry")
	// What is due hears of it, though the barn does not.
	if err := u.Timeout(patience).Wait(rod.Eval(`() => !document.querySelector('[data-testid=due-first]')?.textContent.includes('Wood')`)); err != nil {
		t.Error("what is due does not hear what was done on this device")
	}
	u.see("[data-testid=pad-wood]", "in")
	u.see("[data-testid=log-here]", "Wood\tBrick Pit\tnot yet handed in")
	u.key(input.KeyL)
	u.see("[data-testid=outbox]", "2 entries")
	u.key(input.KeyW)
	u.see("[data-testid=outbox]", "3 entries")
	u.key(input.KeyV)
	u.see("[data-testid=outbox]", "4 entries")
	u.key(input.KeyU) // a slip, taken back before it was sent
	u.see("[data-testid=outbox]", "3 entries")
	if acts, _ := logged(); len(acts) != 1 {
		t.Errorf("while the barn is away %v are logged", acts)
	}
	offline(false)
	u.gone("[data-testid=outbox]")
	acts, at := logged()
	if strings.Join(acts, " ") != "spritz wood lid wrap" {
		t.Errorf("logged are %v, want spritz, wood, lid and wrap, once each and in order", acts)
	}
	for i := 1; i < len(at); i++ {
		if at[i].Before(at[i-1]) {
			t.Errorf("%s is logged at %s, before the %s", acts[i], at[i], acts[i-1])
		}
	}
	u.see("[data-testid=event-log]", "Wrap")
	u.gone("[data-testid=log-here]")
	// What was handed in is taken back without the barn, too.
	offline(true)
	u.key(input.KeyU)
	u.see("[data-testid=outbox]", "1 entry")
	u.see("[data-testid=last-entry]", "Lid")
	offline(false)
	u.gone("[data-testid=outbox]")
	if acts, _ := logged(); strings.Join(acts, " ") != "spritz wood lid" {
		t.Errorf("with the wrap taken back %v are logged", acts)
	}
}

// TestWhatOneDidOnADeviceIsNobodyElses presses while signed out, and another signs in.
func TestWhatOneDidOnADeviceIsNobodyElses(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "tove", 1280, 900)
	loggedBy := newIn(t, s, 4)
	u.visit(site, "/trials/4/fire", "[data-testid=wire]", "live")
	u.Expect("answered 401")
	if _, err := s.Pool().Exec(t.Context(), "delete from sessions"); err != nil {
		t.Fatal(err)
	}
	u.key(input.KeyL)
	u.knock("odalys", demo.Password) // the door is there by itself
	u.see("[data-testid=outbox-of-others]", "Tove")
	u.key(input.KeyV)
	u.gone("[data-testid=outbox]")
	u.see("[data-testid=event-log]", "Vent")
	u.click("[data-testid=sign-out]")
	u.signIn("tove")
	u.visit(site, "/trials/4/fire", "[data-testid=event-log]", "Lid")
	u.gone("[data-testid=outbox-of-others]")
	u.handedIn()
	for person, want := range map[string]string{"Tove": "lid", "Odalys": "vent"} {
		if acts, _ := loggedBy(person); strings.Join(acts, " ") != want {
			t.Errorf("%s logged %v, want %s", person, acts, want)
		}
	}
}
