package e2e

import (
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"

	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/demo"
)

// invite asks somebody to come, and returns the path of their link.
func invite(pitmaster user, name string) string {
	pitmaster.t.Helper()
	pitmaster.click("a[href='/crew']")
	pitmaster.fill("#ask-name", name)
	pitmaster.click("[data-testid=invite-go]")
	link := linkFor(pitmaster, name)
	pitmaster.button("Done")
	return link
}

// linkFor reads the path of the link that is shown for somebody.
func linkFor(u user, name string) string {
	u.t.Helper()
	u.see("[data-testid=entry-link]", name)
	to, err := url.Parse(strings.TrimSpace(u.find("[data-testid=entry-address]").MustText()))
	if err != nil || to.Path != "/enter" || len(to.Fragment) < 20 {
		u.fail("the link is %v (%v)", to, err)
	}
	u.find("[data-testid=entry-link] img[src^='data:image/png']")
	return to.RequestURI() + "#" + to.Fragment
}

// TestSomebodyComesForgetsAndLeaves: Sunniva is asked to come and chooses a password; she
// forgets it and the pitmaster makes a link; she leaves, is out at once, and her name stays.
func TestSomebodyComesForgetsAndLeaves(t *testing.T) {
	t.Parallel()
	odalys, site, _ := demoBarn(t, "odalys", 1280, 800)
	odalys.home(site)
	first := invite(odalys, "Sunniva")
	odalys.see("[data-testid=person-Sunniva]", "asked, their link waits until")
	sunniva := open(t, site, first, 390, 844)
	sunniva.see("h1", "Welcome to White Barn, Sunniva")
	sunniva.Expect("/enter answered 422")
	sunniva.enter("#password", "sunniva 1234")
	sunniva.see(".field:has(#password) [role=alert]", "little beside a name")
	sunniva.enter("#password", "alder smoke before noon")
	sunniva.see("h2", "Open questions")
	odalys.see("[data-testid=person-Sunniva]", "sunniva")

	// The link is used up.
	stranger := open(t, site, "/", 1280, 800)
	stranger.Expect("/enter/look answered 404")
	stranger.visit(site, first, "h1", "This link opens nothing")

	// A forgotten password: the pitmaster makes a link, and the old sessions end.
	sunniva.Expect("answered 401")
	odalys.click("[data-testid=change-Sunniva]")
	odalys.click("[data-testid=member-link]")
	reset := linkFor(odalys, "Sunniva")
	desk := open(t, site, reset, 1280, 800)
	desk.see("h1", "Sunniva, choose a new password")
	desk.enter("#password", "hornbeam after dusk")
	desk.see("[data-testid=you]", "Sunniva")
	sunniva.see("h1", "Sign in")

	// She leaves.
	desk.Expect("answered 401")
	odalys.click("[data-testid=member-left]")
	odalys.fill(".panel input[data-field=why]", "off to the coast")
	odalys.click("[data-testid=member-leave]")
	odalys.see("[data-testid=person-Sunniva]", "left")
	desk.see("h1", "Sign in")
	desk.Expect("/session answered 401")
	desk.knock("sunniva", "hornbeam after dusk")
	desk.see("[data-testid=problem]", "Wrong name or password")
	odalys.visit(site, "/history", "[data-testid=deed]", "off to the coast")
}

// TestAForgottenPasswordIsSetOnTheMachine: the keeper of the machine makes a link, and sets a
// password, as the command does; sessions of before end.
func TestAForgottenPasswordIsSetOnTheMachine(t *testing.T) {
	t.Parallel()
	tove, site, s := demoBarn(t, "tove", 1280, 800)
	tove.Expect("answered 401")
	keeper := people.New(&barn.Barn{Store: s, Now: time.Now}, auth.Cheap) // whitebarn user link Tove
	made, err := keeper.LinkFor(t.Context(), "Tove")
	if err != nil {
		t.Fatal(err)
	}
	link := "/enter#" + made.Token
	phone := open(t, site, link, 390, 844)
	phone.see("h1", "Tove, choose a new password")
	phone.enter("#password", "alder smoke before noon")
	phone.see("h2", "Open questions")
	tove.load(site, "/crew")
	tove.see("h1", "Sign in")

	phone.Expect("answered 401")
	if err := keeper.SetPassword(t.Context(), "tove", "hornbeam after dusk"); err != nil { // whitebarn user password tove
		t.Fatal(err)
	}
	tove.knock("tove", "hornbeam after dusk")
	tove.see("h1", "Crew")
	phone.load(site, "/crew")
	phone.see("h1", "Sign in")
}

// TestSignedOutEverywhere: one is signed in on two devices and ends the other from here; how
// numbers are shown goes with the person, and a new password ends the others too.
func TestSignedOutEverywhere(t *testing.T) {
	t.Parallel()
	tove, site, _ := demoBarn(t, "tove", 1280, 800)
	tove.open(site, "/you", "[data-testid=own-temperatures]")
	tove.click("[data-testid=own-temperatures] button:nth-child(2)")
	tove.click("[data-testid=mark] button:nth-child(2)")
	phone := as(t, site, "tove", 390, 844)
	phone.open(site, "/trials/4/plan", "[data-testid=plan-rail]")
	kept := phone.MustEval(`() => ['units', 'mark', 'weights'].map(k => localStorage.getItem('barn.' + k)).join(' ')`)
	if got := kept.Str(); got != "C , lb" {
		t.Errorf("on the phone Tove has %q, want C, a comma and lb", got)
	}
	phone.Expect("answered 401")
	tove.open(site, "/you", "[data-testid=devices]")
	tove.see("[data-testid=devices]", "Signed in on 2 devices")
	tove.click("[data-testid=sign-out-others]")
	tove.see("[data-testid=devices]", "Signed in on 1 device")
	phone.see("h1", "Sign in")
	phone.knock("tove", demo.Password)
	phone.find("[data-testid=plan-rail]")
	phone.Expect("answered 401")
	tove.Expect("/me/password answered 422")
	tove.fill("#old", "not the one at all")
	tove.enter("#password", "hornbeam after dusk")
	tove.see(".field:has(#old) [role=alert]", "not your password")
	tove.fill("#old", demo.Password)
	tove.enter("#password", "hornbeam after dusk")
	tove.see("[data-testid=password-form]", "All other devices are signed out")
	phone.see("h1", "Sign in")
	tove.visit(site, "/crew", "h1", "Crew")
}

// TestEachSeesWhatTheyMay: what one may not do is not offered, what one is trusted with is,
// as soon as one is; who is not of the crew sees the door, and a guest their ballot alone.
func TestEachSeesWhatTheyMay(t *testing.T) {
	t.Parallel()
	odalys, site, _ := demoBarn(t, "odalys", 1280, 800)
	ife := as(t, site, "ife", 1280, 800)
	bram := as(t, site, "bram", 1280, 800)
	offers := func(u user, path, ready string, yes, no []string) {
		t.Helper()
		u.open(site, path, ready)
		u.MustWaitRequestIdle()()
		for _, selector := range yes {
			u.find(selector)
		}
		for _, selector := range no {
			if has, el, _ := u.Has(selector); has && el.MustVisible() {
				t.Errorf("%s offers %s", path, selector)
			}
		}
	}
	draw, divide, keepCut := "[data-testid=draw-arms]", "form.slip", "[data-testid=keep-cut]"
	newPit, newRecipe, asks := "#pit-name", "main button.p-button-outlined", "[data-testid=invite]"
	offers(odalys, "/trials/4/match", divide, []string{draw, keepCut}, nil)
	offers(odalys, "/crew", "table", []string{asks, "[data-testid=guest-list]", "#barn-name", "[data-testid=change-Ife]"}, nil)
	offers(ife, "/trials/4/match", divide, []string{keepCut}, []string{draw, "[data-testid=draw-places]", "[data-testid=new-day]"})
	ife.see("[data-testid=match-how]", "theirs whom he trusts with arms")
	offers(ife, "/pits", "h1", nil, []string{newPit, "#device-name"})
	offers(ife, "/pantry", "[data-testid=ingredients]", nil, []string{newRecipe})
	offers(ife, "/crew", "table", []string{"[data-testid=record-Ife]"}, []string{
		asks, "#barn-name", "[data-testid=guest-list]", "[data-testid=change-Ife]", "[data-testid=record-Tove]",
	})
	offers(ife, "/records", "[data-testid=records-head]", nil, []string{"[data-testid=barn-zip]", "[data-testid=to-notebook]"})
	offers(bram, "/trials/4/match", divide, []string{draw, keepCut}, []string{"[data-testid=new-day]"})
	offers(bram, "/pits", "h1", []string{newPit}, nil)
	offers(bram, "/pantry", "[data-testid=ingredients]", nil, []string{newRecipe})

	// Trust takes hold on the page that is open.
	ife.open(site, "/pantry", "[data-testid=ingredients]")
	odalys.open(site, "/crew", "table")
	odalys.click("[data-testid=change-Ife]")
	odalys.click("[data-testid=member-Ife] [data-testid=trust-pantry]")
	odalys.click("[data-testid=member-save]")
	odalys.see("[data-testid=person-Ife]", "trusted with pantry")
	ife.find(newRecipe)

	// A taster's phone opens the ballot of its link, and nothing else.
	odalys.open(site, "/trials/2/table", "[data-testid=taster-name]")
	link := odalys.attribute(odalys.find("[data-testid^=link-]"), "href")
	guest := open(t, site, link[strings.Index(link, "/taste/"):], 390, 844)
	guest.find("main h1")
	guest.Expect("answered 401")
	for path, want := range map[string]float64{"/api/trials/2": 401, "/api/trials": 401, "/api/history": 401, "/api/people": 401} {
		got := guest.MustEval(`path => fetch(path).then(r => r.status)`, path).Num()
		if got != want {
			t.Errorf("a taster's phone is answered %v by %s, want %v", got, path, want)
		}
	}
	guest.load(site, "/trials/2/table")
	guest.see("h1", "Sign in")

	// A stranger sees the door whatever they ask for; a made-up link of a ballot opens nothing.
	stranger := open(t, site, "/", 390, 844)
	for _, path := range []string{"/crew", "/trials/4/match", "/records", "/history", "/you"} {
		stranger.visit(site, path, "h1", "Sign in")
		stranger.MustWaitRequestIdle()() // parts of the page behind the door still come
	}
	stranger.Expect("answered 404")
	stranger.open(site, "/taste/abc-defghjkmnpqrstuvwxyz2345", "main, [data-testid=problem]")
	if body := stranger.find("body").MustText(); strings.Contains(body, "Paper") || strings.Contains(body, "shoulder") {
		t.Errorf("a made-up link tells a stranger: %.300s", body)
	}
}

// TestAPasskeyLetsIn: where the page has a name, a device's key is made with the password and
// lets its owner in without.
func TestAPasskeyLetsIn(t *testing.T) {
	t.Parallel()
	site, _ := serveDemo(t)
	site = strings.Replace(site, "127.0.0.1", "localhost", 1)
	u := open(t, site, "/", 1280, 800)
	if err := (proto.WebAuthnEnable{}).Call(u.Page.Page); err != nil {
		t.Fatal(err)
	}
	_, err := proto.WebAuthnAddVirtualAuthenticator{Options: &proto.WebAuthnVirtualAuthenticatorOptions{
		Protocol: proto.WebAuthnAuthenticatorProtocolCtap2, Transport: proto.WebAuthnAuthenticatorTransportInternal,
		HasResidentKey: true, HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true}}.Call(u.Page.Page)
	if err != nil {
		t.Fatal(err)
	}
	u.signIn("ife")
	u.open(site, "/you", "[data-testid=passkeys]")
	u.fill("#key-name", "Ife's phone")
	u.fill("#key-pass", demo.Password)
	u.click("[data-testid=make-passkey]")
	u.see("[data-testid=passkeys] li", "Ife's phone")
	u.click("[data-testid=sign-out]")
	u.click("[data-testid=by-passkey]")
	u.see("[data-testid=you]", "Ife")
	u.open(site, "/you", "[data-testid=passkeys] li")
	u.see("[data-testid=passkeys] li", "used")
	u.button("End")
	u.gone("[data-testid=passkeys] li")
	u.click("[data-testid=sign-out]")
	u.Expect("answered 401")
	u.click("[data-testid=by-passkey]")
	u.see("[data-testid=problem]", "does not fit")
}
