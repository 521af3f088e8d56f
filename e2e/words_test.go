package e2e

import (
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"

	"whitebarn/internal/auth"
	"whitebarn/internal/lan"
	"whitebarn/internal/server"
	"whitebarn/internal/services"
	"whitebarn/web"
)

// TestErrorsStandAtTheirField has a password too short and a zone that is none: the words
// stand at the field, which has the focus, and go as it is mended.
func TestErrorsStandAtTheirField(t *testing.T) {
	t.Parallel()
	site, _ := serve(t)
	u := open(t, site, "/", 1280, 800)
	u.Expect("/first-run answered 422")
	u.fill("#barn", "Hill")
	u.fill("#zone", "Nowhere/At all")
	u.fill("#name", "Odalys")
	u.enter("#password", "short")
	u.see(".field:has(#zone) [role=alert]", "is not a time zone")
	focused := func(id string) {
		t.Helper()
		if err := u.Timeout(patience).Wait(rod.Eval(`id => document.activeElement?.id === id`, id)); err != nil {
			t.Errorf("the focus is not on %s", id)
		}
	}
	focused("zone")
	if got := u.attribute(u.find("#zone"), "aria-invalid"); got != "true" {
		t.Errorf("the field says aria-invalid %q", got)
	}
	described := u.attribute(u.find("#zone"), "aria-describedby")
	u.see("#"+described, "Give a place like")
	u.fill("#zone", "UTC")
	u.gone("[data-testid=problem]")
	if has, _, _ := u.Has("#zone[aria-invalid]"); has {
		t.Error("mended, the field is still said to be wrong")
	}
	u.enter("#password", "short")
	u.see(".field:has(#password) [role=alert]", "too short")
	focused("password")
	u.enter("#password", "three words do well")
	u.see("[data-testid=ways-in]", "Ask a usual question")
}

// TestWordsAreOneTapAway asks for the words of a page, of a verdict and of a planning number,
// and walks the guide.
func TestWordsAreOneTapAway(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "tove", 1280, 800)
	u.open(site, "/trials/3/settle", "[data-testid=not-covered]")
	u.click("[data-testid=outcome-bark] button.word")
	u.see(".p-popover", "it points one way, and is not shown")
	u.key(input.Escape)
	u.MustEval(`() => window.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true }))`)
	u.see("[data-testid=words]", "Cannot tell")
	u.button("Guide to this page")
	u.at("/guide/settle")
	u.see("article h1", "Settle")
	u.button("On to The House Book")
	u.see("article h1", "The House Book")
	u.button("On to A practice evening")
	u.see("article h1", "A practice evening")
	u.button("On to Records")
	u.see("article h1", "Records")
	u.button("On to The crew")
	u.see("article h1", "The crew")
	u.button("On to The words")
	u.see("article", "Smit mark")
	u.open(site, "/trials/4/ask", "[data-testid=number-juiciness]")
	u.click(`[data-word="Cuts to prove same"]`)
	u.see(".p-popover", "when there is no difference")
}

// TestClocksAndMarksAreTheReadersOwn turns to twelve hours and the comma: what is shown
// follows, and what is typed so is understood.
func TestClocksAndMarksAreTheReadersOwn(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	u.open(site, "/you", "[data-testid=hours]")
	u.click("[data-testid=hours] button:nth-child(2)")
	u.click("[data-testid=mark] button:nth-child(2)")
	u.open(site, "/trials/3/settle", "[data-testid=not-covered]")
	u.find(`[data-testid=outcome-juiciness] svg[aria-label*="7,3"]`)
	u.open(site, "/trials/4/plan", "[data-testid=plan-rail]")
	u.see("[data-testid=plan-rail]", "3:00 pm")
	u.enter(`input[aria-label="On the table, clock"]`, "7:30 pm")
	u.see("[data-testid=unsaved]", "Not saved yet")
	u.click("[data-testid=keep-cook]")
	u.gone("[data-testid=unsaved]")
	var at time.Time
	if err := s.Pool().QueryRow(t.Context(), "select max(serve_at) from cooks where trial_id = 4").Scan(&at); err != nil {
		t.Fatal(err)
	}
	zone, err := s.Zone(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if got := at.In(zone).Format("15:04"); got != "19:30" {
		t.Errorf("half past seven in the evening is kept as %s", got)
	}
}

// TestGuestsOpenTheirBallotWithoutACertificate has the pitmaster let them in: the plain port
// then shows a taster's own plate, whole, and still nothing else.
func TestGuestsOpenTheirBallotWithoutACertificate(t *testing.T) {
	t.Parallel()
	s := demoSeed.Store(t)
	network := &lan.Info{Sites: []string{"https://barn.lan:8443"}, Names: []string{"barn.lan"}, Trust: []string{"http://barn.lan:8080"},
		Guests: []string{"http://barn.lan:8081"}}
	srv, all := server.New(services.New(s, time.Now, auth.Cheap, &plans), server.Options{Dist: web.Dist(), LAN: network})
	site, plain := httptest.NewServer(all), httptest.NewServer(srv.Guests(all))
	t.Cleanup(func() { site.Close(); plain.Close(); srv.Close() })
	u := open(t, site.URL, "/", 1280, 800)
	u.signIn("odalys")
	u.open(site.URL, "/trials/2/table", "[data-testid=taster-name]")
	link := u.attribute(u.find("[data-testid^=link-]"), "href")
	path := link[strings.Index(link, "/taste/"):]
	guest := open(t, plain.URL, path, 390, 844)
	guest.Expect("answered 403")
	guest.see("body", "has not let guests in this way")

	u.open(site.URL, "/crew", "[data-testid=guests]")
	u.fill("#barn-name", "Half a na") // typed, and not saved with it
	saved := u.MustWaitRequestIdle()
	u.click("[data-testid=guests] input")
	saved()
	u.see("[data-testid=lan]", "http://barn.lan:8081")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.querySelector('[data-testid=guests] input').checked`)); err != nil {
		t.Fatal("guests are not let in")
	}
	if house, err := s.Barn(t.Context()); err != nil || !house.Guests || house.Name != "White Barn" {
		t.Errorf("the barn is kept as %+v (%v), want guests let in and its name as it was", house, err)
	}
	guest = open(t, plain.URL, path, 390, 844)
	guest.see("h1", "Your plate is not served yet")
	guest.whole()
	other := open(t, plain.URL, "/trials/2/table", 390, 844)
	other.Expect("answered 404")
	other.see("body", "Only ballots are answered here")
}
